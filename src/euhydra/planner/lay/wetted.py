"""What the drippers of a bed wet: the width of each, dry gaps, waste beside the bed."""

from collections.abc import Sequence
from dataclasses import dataclass

from shapely import MultiPoint
from shapely import Point as Dot

from euhydra.core import wetting
from euhydra.garden import shapes
from euhydra.garden.beds import Bed
from euhydra.garden.patches import Patch
from euhydra.garden.sentences import Amount, say
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.same import Asked, kept
from euhydra.planner.water import wetted_ground
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.wetted_ground import Spread

WELL_WETTED = 0.5
"""Share of a bed with lines that should be wetted. [-] Common practice: half and more."""

PLANTS_WETTED = 0.25
"""As above, where each plant has a dripper of its own. [-] Common practice: a quarter to a third."""

MUCH_WASTE = 0.15
"""Share of the wetted ground beside the bed that is worth a word. [-] Our choice. Not where each
plant has a dripper: that drips where the plant stands."""

SHORT = 0.8
"""Distance of a bed's edge from the nearest outlet from which its lines end short of it. [m] Our choice:
more than any spacing of rows and outlets leaves."""

PAST = 0.3
"""Distance beyond a bed's edge from which on an outlet was not laid for this bed as it is. [m] Our choice: a
row along an edge may lie just outside."""

EDGE_STEP = 0.2
"""Steps in which a bed's edge is looked along. [m]"""

WETTINGS_KEPT = 64
"""Beds of which it is kept how far their water spreads, so that an edit looks again at those it changes."""


@dataclass(frozen=True)
class Wetting:
    """A bed and the ground that its outlets wet in one run.

    width : Of the ground that one outlet wets. [m]
    wetted, waste : Shares: of the bed that is wetted, and of the wetted ground beside the bed.
    is_thin : Whether too little of the bed is wetted.
    """

    bed: Bed
    width: float
    wetted: float
    waste: float
    is_thin: bool
    figures: tuple[Figure, ...]
    verdict: Verdict


def answer_wetting(bed: Bed, state: ZoneState, paths: Sequence[Patch] = ()) -> Wetting | None:
    """How far the water of a usual run spreads in a bed; None if nothing waters it.

    Parameters
    ----------
    paths : Ground on which water is wasted in any case.
    """
    the_same = (bed, state.solved, *paths)
    return _wetting(Asked((bed, state, paths), the_same, (state.flow > 0,)))


@kept(WETTINGS_KEPT)
def _wetting(asked: Asked[tuple[Bed, ZoneState, Sequence[Patch]]]) -> Wetting | None:
    bed, state, paths = asked.what
    spread = wetted_ground.spread_of(bed, state, paths)
    if spread is None:
        return None
    is_thin = spread.wetted < (PLANTS_WETTED if spread.to_plants else WELL_WETTED)
    own = MultiPoint([(o.x, o.y) for o in state.zone.outlets if o.waters == bed.id])
    is_wasted = spread.waste > MUCH_WASTE and not spread.to_plants
    return Wetting(
        bed,
        spread.width,
        spread.wetted,
        spread.waste,
        is_thin,
        _figures(spread),
        _verdict(spread, is_thin, is_wasted, _ends_short(bed, own), _runs_past(bed, own)),
    )


def _ends_short(bed: Bed, own: MultiPoint) -> float:
    """How far the edge of a bed lies from the nearest outlet at most: a strip that no line reaches. [m]"""
    edge = shapes.of_bed(bed).exterior.segmentize(EDGE_STEP)
    return max(own.distance(Dot(place)) for place in edge.coords)


def _runs_past(bed: Bed, own: MultiPoint) -> float:
    """How far beyond the edge of a bed its farthest outlet lies. [m]"""
    outline = shapes.of_bed(bed)
    return max(outline.distance(outlet) for outlet in own.geoms)


def _figures(spread: Spread) -> tuple[Figure, ...]:
    soil = spread.bed.ground
    inputs = {
        "one run gives each outlet": Amount(spread.volume, "volume"),
        "rate of one outlet": Amount(spread.rate, "flow"),
        "soil takes in": Amount(soil.intake_m_s, "intake"),
    }
    areas = {
        "bed": Amount(spread.area, "area"),
        "wetted in the bed": Amount(spread.inside, "area"),
        "wetted beside it": Amount(spread.outside, "area"),
        "wetted on paths": Amount(spread.on_paths, "area"),
    }
    source = "Schwartzman and Zur (1986), from memory; a run of 12 mm: common practice"
    circles = "circles of that width round every outlet, cut with the bed's outline"
    return (
        Figure(
            "One outlet wets, across",
            Amount(spread.width, "height"),
            Working("w = 1.82 V^0.22 (Ks ÷ q)^−0.17, in SI units", inputs, source),
        ),
        Figure(
            "and down",
            Amount(wetting.wetted_depth(spread.volume, spread.rate, soil.intake_m_s), "height"),
            Working("z = 2.54 V^0.63 (Ks ÷ q)^0.45, in SI units", inputs, source),
        ),
        Figure(
            "Dry gaps",
            Amount(spread.area - spread.inside, "area"),
            Working(f"bed − {circles}", inputs | areas, source),
        ),
        Figure(
            "of the bed",
            Amount(1 - spread.wetted, "share"),
            Working("1 − wetted ÷ bed", areas, source),
        ),
        Figure(
            "Wet beside it",
            Amount(spread.outside, "area"),
            Working(circles, inputs | areas, source),
        ),
        Figure(
            "of all that is wetted",
            Amount(spread.waste, "share"),
            Working("wetted outside ÷ all wetted ground", areas, source),
        ),
        Figure(
            "of it on paths",
            Amount(spread.on_paths, "area"),
            Working("the same circles, cut with the paths", areas, source),
        ),
    )


def _verdict(spread: Spread, is_thin: bool, is_wasted: bool, short: float, past: float) -> Verdict:
    name = spread.bed.name
    amounts = {"wetted": Amount(spread.wetted, "share"), "waste": Amount(spread.waste, "share")}
    if is_thin and short > SHORT:
        return Verdict(
            Mark.BUT,
            say(
                "lay-lines-end-short",
                "The lines of “{bed}” end {short} before its edge, and {wetted} of the ground is wetted: lay them"
                " anew, or draw them on.",
                bed=name,
                short=Amount(short, "length"),
                **amounts,
            ),
        )
    if past > PAST and not spread.to_plants and (is_thin or is_wasted):
        return Verdict(
            Mark.BUT,
            say(
                "lay-lines-run-past",
                "The lines of “{bed}” run {past} past its edge, and {wetted} of its ground is wetted: lay them"
                " anew, or cut them back.",
                bed=name,
                past=Amount(past, "length"),
                **amounts,
            ),
        )
    if is_thin:
        return Verdict(
            Mark.BUT,
            say(
                "lay-bed-wetted-in-part",
                "In “{bed}” only {wetted} of the ground is wetted: set outlets or rows closer, or take a"
                " line whose outlets give more.",
                bed=name,
                **amounts,
            ),
        )
    if is_wasted:
        return Verdict(
            Mark.BUT,
            say(
                "lay-wetted-beside-bed",
                "In “{bed}” {waste} of the wetted ground lies beside the bed: move the rows in.",
                bed=name,
                **amounts,
            ),
        )
    return Verdict(
        Mark.WORKS,
        say(
            "lay-bed-wetted",
            "In “{bed}” {wetted} of the ground is wetted.",
            bed=name,
            **amounts,
        ),
    )
