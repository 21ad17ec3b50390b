"""Whether the ground bears the full store, and the wind leaves the empty one alone."""

from dataclasses import dataclass

from euhydra.core import standing
from euhydra.core.constants import WATER_DENSITY
from euhydra.core.standing import Face, StandingMass
from euhydra.garden import catalogue
from euhydra.garden.catalogue import StoreKind
from euhydra.garden.sentences import Amount, say
from euhydra.garden.stores import Hold, Store
from euhydra.planner.answers import Figure, Mark, Verdict, Working

MOST_BLOCKS = 2
"""Loose blocks that may be stacked. [-] Common practice: more want mortar or a frame."""

TERRACE_MARGIN = 0.3
"""Level ground to leave round a row of stores, to stand and work on. [m] Common practice."""

OUT_OF_THE_WIND = {"buried", "built", "under-deck", "pond"}
"""Ways of standing in which neither wind nor tipping is worth a sum."""

BURIED = say(
    "store-soil-crushes-tank",
    "Soil crushes a tank that was not made for burying, and groundwater lifts an empty one "
    "out. This program makes no claim about its walls: ask its maker, and have the hole's "
    "sides looked at.",
)
"""Said of what lies in the ground."""

STEADY_ANGLE = 15.0
"""Lean that a store has to stand before it tips. [°] Our choice, for uneven ground and a push."""


@dataclass(frozen=True)
class StandingAnswer:
    """Mass, pressure, tipping and ballast, with one verdict."""

    figures: tuple[Figure, ...]
    verdict: Verdict


FRAME = 60.0
"""Timber of a stand, a cubic metre of the space it fills. [kg m⁻³] Our choice: some ten percent of it
is wood."""

SAFETY = 1.5
"""Times a gust's moment that the standing mass has to hold. [-] Common practice: building codes ask for
1.5 against overturning, from memory."""


@dataclass(frozen=True)
class _Body:
    """Store and stand as one body on the feet of the stand.

    width, breadth : Of the store, the narrower way across and the other. [m]
    water, shell, frame : Masses of what is in it, of the empty store, of its stand. [kg]
    """

    store: Store
    kind: StoreKind
    width: float
    breadth: float
    water: float
    shell: float
    frame: float

    @property
    def stand(self) -> float:
        """Height of the stand. [m]"""
        return self.store.stand_m

    @property
    def base(self) -> float:
        """Least width between the outer edges of what it stands on. [m]"""
        return self.store.feet_across_m or self.width

    @property
    def contact(self) -> float:
        """What touches the ground. [m²]"""
        return self.store.feet_m2 or self.store.plan_m2

    @property
    def full(self) -> float:
        """Water and store, without its stand. [kg]"""
        return self.water + self.shell

    @property
    def on_ground(self) -> float:
        """All that presses on the ground. [kg]"""
        return self.full + self.frame

    @property
    def pressure(self) -> float:
        """Of the full store on its stand. [Pa]"""
        return standing.footing_pressure(self.on_ground, self.contact)

    def tipping(self, water_share: float) -> float:
        """Lean at which it falls, stand and barrel as one. [°]"""
        height = self.store.height_m
        centre = standing.centre_of_gravity(
            [
                StandingMass(self.water * water_share, self.stand + height * water_share / 2),
                StandingMass(self.shell, self.stand + height / 2),
                StandingMass(self.frame, self.stand / 2),
            ]
        )
        return standing.tipping_angle(self.base, centre)

    @property
    def moment(self) -> float:
        """Of the gust about the ground; a stand counts as closed. [N m]"""
        faces = [
            Face(self.store.height_m, self.breadth, self.stand),
            Face(self.stand, self.breadth, 0.0),
        ]
        return standing.overturning(self.store.gust_m_s, faces)

    @property
    def ballast(self) -> float:
        """Water against the gust, in the empty store on its stand. [kg]"""
        return standing.ballast_against_gust(
            self.moment, self.base, self.shell + self.frame, SAFETY
        )


def answer_standing(store: Store) -> StandingAnswer:
    """What the store weighs, presses, leans and needs in a gust."""
    body = _body_of(store)
    figures = [_mass(body), _pressure(body)]
    if not _lies_in_the_ground(body):
        figures += [_tipping(body, 1.0), _tipping(body, 0.0), _ballast(body)]
    if store.count > 1:
        figures.append(_terrace(body))
    return StandingAnswer(tuple(figures), _verdict(body))


def full_mass(store: Store) -> float:
    """One store, full, without its stand. [kg]"""
    return _body_of(store).full


def _body_of(store: Store) -> _Body:
    kind = catalogue.find(catalogue.store_kinds(), store.kind)
    water = store.holds_m3 * WATER_DENSITY
    shell = store.shell_kg if store.shell_kg is not None else kind.shell_share * water
    sides = sides_of(store)
    space = store.stand_m * store.plan_m2
    frame = store.stand_kg if store.stand_kg is not None else FRAME * space
    return _Body(store, kind, min(sides), max(sides), water, shell, frame)


def sides_of(store: Store) -> tuple[float, float]:
    """Length and width of its plan; those of a round one of this volume where not said. [m]"""
    if store.across_m is not None:
        return store.across_m, store.width_m if store.width_m is not None else store.across_m
    width = standing.round_width(store.holds_m3, store.height_m)
    return width, width


def _lies_in_the_ground(body: _Body) -> bool:
    return body.kind.stands in OUT_OF_THE_WIND or body.store.sunk_m > 0


def _mass(body: _Body) -> Figure:
    return Figure(
        "Weighs when full",
        Amount(body.full, "mass"),
        Working(
            "water by its density + empty store",
            {"water": Amount(body.water, "mass"), "empty store": Amount(body.shell, "mass")},
            f"Density of water at 20 °C; empty: {body.kind.source}",
            (f"One {body.kind.noun}. The stand's own weight comes on top.",),
        ),
    )


def _pressure(body: _Body) -> Figure:
    footing = catalogue.find(catalogue.footings(), body.store.footing)
    return Figure(
        "Presses on the ground",
        Amount(body.pressure, "pressure"),
        Working(
            "(weight + stand) ÷ contact area",
            {
                "weight": Amount(body.full, "mass"),
                "stand": Amount(body.frame, "mass"),
                "contact area": Amount(body.contact, "area"),
                "such ground takes": Amount(footing.bearing_pa, "pressure"),
            },
            f"Ground: {footing.source}",
            (
                "Its own legs where you say how large they are, else as much as its floor: legs or loose "
                "blocks touch less and press more.",
                "What such ground takes has its own margin in it: it is far under what would sink at once.",
            ),
        ),
    )


def _tipping(body: _Body, share: float) -> Figure:
    return Figure(
        f"Tips at a lean of, {'full' if share else 'empty'}",
        Amount(body.tipping(share), "angle"),
        Working(
            "arctan (half the base ÷ height of the centre of gravity)",
            {
                "base": Amount(body.base, "height"),
                "stand": Amount(body.stand, "height"),
                "stand weighs": Amount(body.frame, "mass"),
                "water depth": Amount(body.store.height_m * share, "height"),
            },
            "Statics",
            (
                "Store and stand as one body, fixed to each other, over the outer edges of its legs.",
                f"It has to stand a lean of {STEADY_ANGLE:g}° when full.",
            ),
        ),
    )


def _ballast(body: _Body) -> Figure:
    return Figure(
        "Water to leave in for the wind",
        Amount(body.ballast / WATER_DENSITY, "volume"),
        Working(
            "safety × Σ ½ ρ v² C_d · height · width · height of its middle ÷ (g · ½ base) − empty store − stand",
            {
                "safety factor": Amount(SAFETY, "plain"),
                "gust": Amount(body.store.gust_m_s, "wind"),
                "height": Amount(body.store.height_m, "height"),
                "stand": Amount(body.stand, "height"),
                "width to the wind": Amount(body.breadth, "height"),
                "base across it": Amount(body.base, "height"),
                "empty store": Amount(body.shell, "mass"),
                "stand weighs": Amount(body.frame, "mass"),
            },
            "Drag coefficient 1.2, cautious for a round barrel; air at 15 °C; safety 1.5 against overturning: "
            "building codes; from memory",
            (
                "Before the first rain, and whenever it stands empty in the open.",
                "The store has to be fixed to its stand for this.",
            ),
        ),
    )


def _terrace(body: _Body) -> Figure:
    """Level ground for a row of them."""
    length = body.store.count * body.breadth + 2 * TERRACE_MARGIN
    depth = body.width + 2 * TERRACE_MARGIN
    return Figure(
        "Level terrace for the row",
        Amount(length * depth, "area"),
        Working(
            "(number × length + two margins) × (width + two margins)",
            {
                "number": Amount(body.store.count, "plain"),
                "length of one": Amount(body.breadth, "height"),
                "width": Amount(body.width, "height"),
                "margin": Amount(TERRACE_MARGIN, "height"),
                "weight on it, full": Amount(body.store.count * body.full, "mass"),
            },
            "Common practice",
            ("Cut into the slope, not filled up: fresh fill settles under such weight.",),
        ),
    )


def _verdict(body: _Body) -> Verdict:
    footing = catalogue.find(catalogue.footings(), body.store.footing)
    amounts = {
        "mass": Amount(body.full, "mass"),
        "pressure": Amount(body.pressure, "pressure"),
        "bearing": Amount(footing.bearing_pa, "pressure"),
        "lean": Amount(body.tipping(1.0), "angle"),
        "ballast": Amount(body.ballast / WATER_DENSITY, "volume"),
    }
    if body.pressure > footing.bearing_pa:
        return Verdict(
            Mark.FAILS,
            say(
                "store-too-heavy",
                "Too heavy for this ground: {mass} press with {pressure}, it takes {bearing}.",
                **amounts,
            ),
            (
                say(
                    "store-spread-load-slab",
                    "Spread the load on a slab or compacted gravel, or choose a lower, wider store.",
                ),
            ),
        )
    if _lies_in_the_ground(body):
        said = (BURIED,) if body.kind.stands == "buried" or body.store.sunk_m > 0 else ()
        return Verdict(
            Mark.BUT if said else Mark.WORKS,
            say("store-ground-bears", "{mass} on ground that bears it.", **amounts),
            said,
        )
    if body.store.blocks > MOST_BLOCKS:
        return Verdict(
            Mark.FAILS,
            say(
                "store-loose-blocks",
                "{blocks} loose blocks under {mass}: such a stack walks and falls.",
                blocks=Amount(body.store.blocks, "plain"),
                **amounts,
            ),
            (
                say(
                    "store-lay-most-build",
                    "Lay at most {most}, or build a frame or a mortared plinth.",
                    most=Amount(MOST_BLOCKS, "plain"),
                ),
            ),
        )
    if body.store.held_by is Hold.WALL:
        return Verdict(
            Mark.WORKS,
            say(
                "store-stands-ground-bears-strapped",
                "It stands: {mass} on ground that bears it, strapped to the wall.",
                **amounts,
            ),
            (
                say(
                    "store-strap-holds-well",
                    "The strap holds only as well as its anchors and the wall: try both by hand.",
                ),
            ),
        )
    if body.tipping(1.0) < STEADY_ANGLE:
        return Verdict(
            Mark.FAILS,
            say("store-top-heavy-full", "Top-heavy: full, it tips at a lean of {lean}.", **amounts),
            (
                say(
                    "store-lower-stand-wider",
                    "A lower stand, a wider base, or a strap to a sound wall.",
                ),
            ),
        )
    if body.ballast > 0:
        return Verdict(
            Mark.BUT,
            say(
                "store-stands-but-keep",
                "It stands, but keep at least {ballast} in it, or strap it, when it blows.",
                **amounts,
            ),
        )
    return Verdict(
        Mark.WORKS,
        say("store-stands-ground-bears", "It stands: {mass} on ground that bears it.", **amounts),
    )
