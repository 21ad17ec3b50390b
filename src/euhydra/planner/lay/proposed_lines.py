"""Lines proposed for a bed or a group of pots: ordinary pipes and pieces, to be changed at will."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from math import ceil, copysign, cos, hypot, radians, sin

from shapely import LineString
from shapely import Point as Dot
from shapely.ops import nearest_points

from euhydra.garden import edits, joints, plumbing, shapes
from euhydra.garden.beds import Bed
from euhydra.garden.drinker import Drinker
from euhydra.garden.joints import Joinable
from euhydra.garden.kinds import Collection, outlines_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Part, Point
from euhydra.garden.pipes import EndKind, Fitting, Piece, Pipe, Pump
from euhydra.garden.plumbing import FittingKind, FittingRole
from euhydra.garden.pots import Pots
from euhydra.garden.sentences import Amount, say
from euhydra.garden.sources import DrumOutlet, Greywater, Tap, TapKind
from euhydra.garden.timers import Timer
from euhydra.planner.answers import PlanError
from euhydra.planner.lay import drum_pumps, making_room, rows, self_running
from euhydra.planner.water import laws

PASS_GAP = 0.4
"""Distance between passes of a soaker. [m] Common practice: two or three passes a metre of bed."""

OUTLET_GAP = 0.3
"""Distance between outlets on a line. [m] As most lines are sold."""

STEM_GAP = 0.4
"""Distance between plants with a dripper each. [m] Common practice: tomatoes and peppers."""

TUBE_REACH = 0.15
"""Tube from the line to a plant. [m]"""

PIECE_STEP = 0.4
"""Distance at which pieces of a head assembly are drawn apart. [m]"""

LINES_BEGIN = 0.2
"""How far before what is watered its lines begin, or leave the pipe that they share. [m]"""

BESIDE_POT = 0.05
"""Room between a pot and the line past it. [m]"""

LEAST_ROOM = 0.1
"""Room in which a head can be drawn before what is watered. [m] With less it lies over it."""

TUBES_APART = 0.01
"""Distance between the tubes to one pot on their line. [m] A hair, so that each has a place of its own."""

FLOAT_BOX = "float-box"
"""Kind of float valve before a chain of planters."""

LEAST_HOSE = 0.3
"""Shortest hose to a float box. [m]"""

BOX_GAP = 0.4
"""Distance along a box that one dripper waters. [m] Common practice: one to each plant."""

SMALL_POT, MIDDLE_POT, LARGE_POT = 0.25, 0.45, 0.6
"""Widths up to which a pot takes one, two, three drippers. [m] Common practice."""


class Method(StrEnum):
    """How a bed or pots are watered."""

    ROWS = "rows"
    SOAKER = "soaker"
    STEMS = "stems"
    POTS = "pots"


@dataclass(frozen=True)
class Wish:
    """What to lay, and how.

    waters : Bed or group of pots.
    begins_at : Source, or anything else that water can be taken from.
    line : Kind of line with outlets, or for stems and pots the kind of dripper.
    spacing_m : Between outlets; None for as usual. [m]
    rows : None for as many as the soil asks for.
    timer : Kind of timer at the beginning; None for none.
    has_valve : Whether its branch of a shared pipe has a valve of its own, to throttle it.
    hose_m : Hose to where the lines begin, as it lies; None as it is drawn. [m]
    """

    waters: str
    begins_at: str
    method: Method
    line: str
    spacing_m: float | None = None
    rows: int | None = None
    timer: str | None = None
    has_valve: bool = False
    hose_m: float | None = None


def drippers_for(across: float, along: float = 0.0) -> int:
    """Drippers that a pot of this width takes: one to four; a box as many as its length asks for too. [m]"""
    limits = (SMALL_POT, MIDDLE_POT, LARGE_POT)
    by_width = next((n for n, limit in enumerate(limits, 1) if across <= limit + 1e-9), 4)
    return max(by_width, ceil(along / BOX_GAP - 1e-9))


def lay(garden: Garden, wish: Wish) -> Garden:
    """The garden with the lines laid.

    Raises
    ------
    PlanError : if what is wished cannot be laid.
    pydantic.ValidationError : if the garden would no longer hold together.
    """
    garden, start, at = start_of(garden, wish)
    layer = Layer(garden, wish, target_of(garden, wish))
    layer.lines(*layer.assembly(start, at))
    return edits.put_all(garden, layer.parts)


def rows_for(wish: Wish, bed: Bed) -> int:
    """Rows, passes or lines of plants in a bed: as many as wished, or as is usual there."""
    if wish.rows is not None:
        return wish.rows
    gaps = {Method.SOAKER: PASS_GAP, Method.STEMS: STEM_GAP}
    return max(1, round(rows.across(bed) / gaps.get(wish.method, rows.gap_in(bed.soil))))


def spacing_for(wish: Wish) -> float:
    """From outlet to outlet, or from plant to plant. [m]"""
    return wish.spacing_m or (STEM_GAP if wish.method is Method.STEMS else OUTLET_GAP)


def target_of(garden: Garden, wish: Wish) -> Drinker:
    """What a wish is for.

    Raises
    ------
    PlanError : if it is not there.
    """
    target = next((p for p in garden.planted if p.id == wish.waters), None)
    if target is None:
        raise PlanError(say("lay-say-bed-pots", "Say which bed or pots the line is for."))
    return target


def starts_of(garden: Garden) -> list[Joinable]:
    """Where lines may begin: sources, pieces and plain pipes with room for one more, and every tap."""
    free = {part.id for part in joints.with_room(garden.joinable)}
    return [
        part
        for part in garden.joinable
        if part.id in free or isinstance(part, Tap)
        if not isinstance(part, Pipe) or laws.kind_of(part).family == "plain"
    ]


def start_of(garden: Garden, wish: Wish) -> tuple[Garden, Joinable, Point]:
    """Where its water comes from, with room made there, and the place where that ends.

    Raises
    ------
    PlanError : if it is not there.
    """
    start = next((p for p in garden.joinable if p.id == wish.begins_at), None)
    if start is None:
        raise PlanError(
            say(
                "lay-say-water-comes",
                "Say where its water comes from: a store, a tap, or a pipe that is there.",
            )
        )
    garden, start = making_room.with_room_at(garden, start)
    return garden, start, start.path[-1] if isinstance(start, Pipe) else start.at


@dataclass
class Layer:
    """Collects the parts that are laid for one bed or group of pots, each with an id of its own.

    trunk, along : A pipe that others branch from too, and how far along it this one does. [m]
    """

    garden: Garden
    wish: Wish
    target: Drinker
    trunk: str = ""
    along: float | None = None
    parts: list[tuple[Collection, Part]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.taken = {part.id for part in self.garden.parts}

    def _id(self, stem: str) -> str:
        stem = f"{self.target.id}-{stem}"[:36]
        number = 1
        while (name := stem if number == 1 else f"{stem}-{number}") in self.taken:
            number += 1
        self.taken.add(name)
        return name

    def _name(self, what: str) -> str:
        return f"{self.target.name}, {what}"[:60]

    def pipe(
        self, stem: str, what: str, path: Sequence[Point], begins_at: str, **more: object
    ) -> Pipe:
        """Add a pipe."""
        if begins_at == self.trunk:
            more = more | {"begins_along_m": self.along}
        pipe = Pipe.model_validate(
            {
                "id": self._id(stem),
                "name": self._name(what),
                "path": tuple(path),
                "begins_at": begins_at,
            }
            | more
        )
        self.parts.append(("pipes", pipe))
        return pipe

    def valve(self, at: Point) -> str:
        """A valve where the branch leaves the shared pipe."""
        kinds = plumbing.fitting_kinds().values()
        kind = next(kind for kind in kinds if kind.role is FittingRole.THROTTLES)
        fitting = Fitting(
            id=self._id("valve"),
            name=self._name("valve"),
            at=at,
            begins_at=self.trunk,
            begins_along_m=self.along,
            kind=kind.id,
        )
        self.parts.append(("fittings", fitting))
        return fitting.id

    @property
    def _dripper(self) -> str:
        """The kind of dripper; before a chain of planters a float valve, whatever was wished."""
        wished = plumbing.drippers().get(self.wish.line)
        is_joined = isinstance(self.target, Pots) and self.target.is_joined
        if is_joined and (wished is None or not wished.keeps_level):
            return FLOAT_BOX
        return self.wish.line

    @property
    def _keeps_level(self) -> bool:
        """Whether floats let the water out: they want a screen, and no timer."""
        kind = plumbing.drippers().get(self._dripper)
        return isinstance(self.target, Pots) and kind is not None and kind.keeps_level

    def lines(self, feed: str, at: Point) -> None:
        """Lay them as wished, from what feeds them and the place where it ends."""
        match self.target, self.wish.method:
            case Pots() as pots, _ if pots.is_joined:
                self.to_box(feed, at, pots)
            case Pots() as pots, _:
                self.to_pots(feed, at, pots)
            case Bed() as bed, Method.STEMS:
                self.to_stems(feed, at, bed)
            case Bed() as bed, Method.SOAKER:
                self.soaker(feed, at, bed)
            case Bed() as bed, _:
                self.rows(feed, at, bed)
            case _:
                raise PlanError(
                    say(
                        "lay-draw-lines-yourself",
                        "Draw the lines of “{target}” yourself: none are laid for it.",
                        target=self.target.name,
                    )
                )

    def assembly(self, start: Part, at: Point) -> tuple[str, Point]:
        """Timer, and what belongs between the source and a drip line; the last one and its place."""
        feed = start.id
        source, there = self._upstream(start)
        if isinstance(source, Greywater):
            feed, at = self._emptied(source, feed, at, there)
        elif self.wish.timer and not self._keeps_level:
            at = self._next_place(at)
            timer = Timer(
                id=self._id("timer"),
                name=self._name("timer"),
                at=at,
                begins_at=feed,
                kind=self.wish.timer,
            )
            self.parts.append(("timers", timer))
            feed = timer.id
        for row in self._wanted(source):
            if row.id in there:
                continue
            at = self._next_place(at)
            fitting = Fitting(
                id=self._id(row.noun.split()[0]),
                name=self._name(row.noun),
                at=at,
                begins_at=feed,
                kind=row.id,
            )
            self.parts.append(("fittings", fitting))
            feed = fitting.id
        return feed, at

    def _emptied(self, drum: Greywater, feed: str, at: Point, there: set[str]) -> tuple[str, Point]:
        """A pump in the drum where it is said to have one; no timer, for its water must not wait."""
        kinds = [kind.id for kind in drum_pumps.sunk_kinds()]
        if drum.outlet is not DrumOutlet.PUMP or there & set(kinds):
            return feed, at
        pump = Pump(
            id=self._id("pump"), name=self._name("pump"), at=at, begins_at=feed, kind=kinds[0]
        )
        self.parts.append(("pumps", pump))
        return pump.id, at

    def _wanted(self, source: Part) -> list[FittingKind]:
        """What belongs between a source and its lines, in order."""
        kinds = list(plumbing.fitting_kinds().values())

        def first(role: FittingRole) -> FittingKind:
            return next(kind for kind in kinds if kind.role is role)

        if isinstance(source, Greywater) or (self._keeps_level and not isinstance(source, Tap)):
            # Against lint, and against grit in a float, whatever the line.
            return [first(FittingRole.FILTERS), *self._air_release()]
        if not isinstance(source, Tap):
            name = self.wish.line
            line = plumbing.pipe_kinds().get(name) or plumbing.drippers().get(name)
            return [first(FittingRole.FILTERS)] if line is not None and line.is_narrow else []
        regulators = [kind for kind in kinds if kind.role is FittingRole.REGULATES]
        is_soft = self.wish.method is Method.SOAKER or self.wish.line == "tape"
        choose = min if is_soft else max
        is_mains = source.kind is TapKind.MAINS
        return [
            *([first(FittingRole.STOPS_BACKFLOW)] if is_mains else []),
            first(FittingRole.FILTERS),
            choose(regulators, key=lambda kind: kind.setting_m),
            first(FittingRole.ADAPTS),
        ]

    def _air_release(self) -> list[FittingKind]:
        """Before many small floats: at so little head a bubble stops the water."""
        pots = self.target
        if not isinstance(pots, Pots) or pots.is_joined or pots.plants <= self_running.FEW_FLOATS:
            return []
        kinds = plumbing.fitting_kinds().values()
        return [kind for kind in kinds if kind.role is FittingRole.LETS_AIR_OUT][:1]

    def _next_place(self, at: Point) -> Point:
        """A step on towards what is watered, so small that the whole head hangs before it."""
        here, outline = Dot(at.x_m, at.y_m), outlines_of(self.target)[0]
        _, edge = nearest_points(here, outline)
        room = here.distance(outline) - LINES_BEGIN
        to, part = outline.centroid, PIECE_STEP
        if room > LEAST_ROOM:
            to, part = edge, room / 6
        dx, dy = to.x - at.x_m, to.y - at.y_m
        away = max(hypot(dx, dy), 1e-6)
        step = min(PIECE_STEP, part, away / 8)
        return Point(
            x_m=round(at.x_m + step * dx / away, 3), y_m=round(at.y_m + step * dy / away, 3)
        )

    def _upstream(self, start: Part) -> tuple[Part, set[str]]:
        """The source that `start` is fed by, and the kinds of piece on the way."""
        by_id = {part.id: part for part in self.garden.joinable}
        here, kinds = start, set()
        while isinstance(here, Piece | Pipe) and here.begins_at is not None:
            kinds.add(here.kind)
            here = by_id[here.begins_at]
        return here, kinds

    def feed(self, begins_at: str, at: Point, to: Point) -> str:
        """Plain pipe to where the lines begin; the id of what they are fed by."""
        if rows.distance(at, to) < 0.02:
            return begins_at
        hose = self.wish.hose_m
        pipe = self.pipe("hose", "hose", (at, to), begins_at, fittings_loss=3.0, length_m=hose)
        return pipe.id

    def rows(self, feed: str, at: Point, bed: Bed) -> None:
        """Rows along the bed from a header across its near end."""
        lines = rows.within(bed, rows_for(self.wish, bed), at)
        starts = [line[0] for line in lines]
        feed = self.feed(feed, at, starts[0])
        if len(lines) > 1:
            header = self.pipe(
                "header", "header", starts, feed, bore_m=0.0136, waters=bed.id, end=EndKind.SHUT
            )
            along = 0.0
            for i, line in enumerate(lines):
                if i:
                    along += rows.distance(starts[i - 1], starts[i])
                self._row(line, header.id, bed, i + 1, begins_along_m=along)
        else:
            self._row(lines[0], feed, bed, 1)

    def _row(self, line: Sequence[Point], feed: str, bed: Bed, number: int, **more: object) -> None:
        usual = min(OUTLET_GAP, rows.length_of(line))
        spacing = usual if self.wish.spacing_m is None else self.wish.spacing_m
        if spacing > rows.length_of(line) + 1e-9:
            raise PlanError(
                say(
                    "lay-outlets-m-fit",
                    "Outlets every {spacing} do not fit a row of {row} in “{bed}”: set them closer.",
                    spacing=Amount(spacing, "height"),
                    row=Amount(rows.length_of(line), "length"),
                    bed=bed.name,
                )
            )
        self.pipe(
            "row",
            f"row {number}",
            line,
            feed,
            kind=self.wish.line,
            waters=bed.id,
            spacing_m=spacing,
            **more,
        )

    def soaker(self, feed: str, at: Point, bed: Bed) -> None:
        """One soaker in an S through the bed, so many passes as its width asks for."""
        lines = rows.within(bed, rows_for(self.wish, bed), at)
        path: list[Point] = []
        for i, line in enumerate(lines):
            path += line if i % 2 == 0 else line[::-1]
        feed = self.feed(feed, at, path[0])
        self.pipe("soaker", "soaker", path, feed, kind=self.wish.line, waters=bed.id)

    def to_stems(self, feed: str, at: Point, bed: Bed) -> None:
        """A plain line along each row of plants, and a tube with a dripper to each plant."""
        gap = spacing_for(self.wish)
        lines = rows.within(bed, rows_for(self.wish, bed), at)
        feed = self.feed(feed, at, lines[0][0])
        before, along = feed, None
        for number, line in enumerate(lines, 1):
            row = self.pipe(
                "line",
                f"line {number}",
                line,
                before,
                kind="hose-13",
                waters=bed.id,
                begins_along_m=along,
            )
            length = rows.length_of(line)
            plants = max(1, int(length / gap + 0.5 + 1e-9))
            for plant in range(plants):
                place = min(gap * (plant + 0.5), length)
                self._tube(row, place, bed.id, TUBE_REACH, plant + 1)
            if number < len(lines):
                across = self.pipe(
                    "across",
                    f"across {number}",
                    (line[0], lines[number][0]),
                    row.id if number > 1 else before,
                    kind="hose-13",
                    waters=bed.id,
                    begins_along_m=0.0 if number > 1 else along,
                )
                before, along = across.id, None

    def to_box(self, feed: str, at: Point, pots: Pots) -> None:
        """A hose to the float at the near end of a chain or a trough."""
        places = shapes.pot_places(pots)
        x, y = min((places[0], places[-1]), key=lambda p: hypot(p[0] - at.x_m, p[1] - at.y_m))
        aside = max(pots.across_m, pots.along_m) / 2 + 0.15
        away = max(hypot(at.x_m - x, at.y_m - y), 1e-6)
        box = Point(
            x_m=round(x + aside * (at.x_m - x) / away, 3),
            y_m=round(y + aside * (at.y_m - y) / away, 3),
        )
        if rows.distance(at, box) < LEAST_HOSE:
            box = Point(x_m=box.x_m, y_m=round(box.y_m + LEAST_HOSE, 3))
        self.pipe(
            "hose",
            "hose to its float",
            (at, box),
            feed,
            waters=pots.id,
            dripper=self._dripper,
            length_m=self.wish.hose_m,
        )

    def to_pots(self, feed: str, at: Point, pots: Pots) -> None:
        """A plain line past each row of pots, and a tube with a dripper for each dripper."""
        places, each = shapes.pot_places(pots), 1  # a float each
        if not self._keeps_level:
            each = drippers_for(pots.across_m, 0.0 if pots.is_round else pots.along_m)
        before, where, tube_number = feed, at, 1
        way: list[Point] = []
        in_rows = [places[i : i + pots.columns] for i in range(0, len(places), pots.columns)]
        (ax, ay), (bx, by) = places[0], places[-1]
        ux, uy = -sin(radians(pots.turned_deg)), cos(radians(pots.turned_deg))  # from row to row
        comes_from = (at.x_m - (ax + bx) / 2) * ux + (at.y_m - (ay + by) / 2) * uy
        out = copysign(pots.across_m / 2 + BESIDE_POT, comes_from)
        if comes_from > 0:
            in_rows.reverse()
        gap = 0.25 * pots.across_m
        if not pots.is_round:  # a dripper wherever along a box one is due
            gap = pots.along_m / each
            steps = [gap * (i - (each - 1) / 2) for i in range(each)]
            in_rows = [[(x + b * uy, y - b * ux) for x, y in row for b in steps] for row in in_rows]
            each = 1
        for row, middle in enumerate(in_rows):
            beside = [Point(x_m=x + out * ux, y_m=y + out * uy) for x, y in middle]
            if rows.distance(where, beside[0]) > rows.distance(where, beside[-1]):
                beside.reverse()
                middle.reverse()
            way = [where, *_to_the_row(way, where, beside[0], pots), *beside]
            line = self.pipe("line", f"line {row + 1}", way, before, kind="hose-13")
            drawn = LineString([(p.x_m, p.y_m) for p in line.path])
            several = each * pots.tiers
            room = pots.pitch_m if pots.is_round else gap
            apart = min(TUBES_APART, 0.8 * room / several, 0.5 * line.drawn_m / several)
            free = 0.0
            for x, y in middle:
                # The end of the line is left to what goes on from there.
                beside_it = min(drawn.project(Dot(x, y)), line.drawn_m - apart * several)
                first = max(beside_it, free)
                free = first + apart * several
                for i in range(several):
                    spread = gap * ((i % each) - (each - 1) / 2)
                    to = Point(x_m=x + spread * uy, y_m=y - spread * ux)
                    self._tube_to(line, first + apart * i, to, pots, i // each, tube_number)
                    tube_number += 1
            before, where = line.id, line.path[-1]

    def _tube_to(
        self, line: Pipe, along: float, to: Point, pots: Pots, tier: int, count: int
    ) -> None:
        rise = tier * pots.tier_m
        start = line.point_at(along)
        drawn = rows.distance(start, to)
        self.pipe(
            "tube",
            f"tube {count}",
            (start, to),
            line.id,
            kind="micro-4",
            waters=pots.id,
            begins_along_m=along,
            dripper=self._dripper,
            rise_m=rise,
            length_m=drawn + pots.height_m + rise + 0.1,
        )

    def _tube(self, row: Pipe, place: float, waters: str, reach: float, number: int) -> None:
        start, ahead = row.point_at(place), row.point_at(min(place + 0.01, row.drawn_m))
        back = row.point_at(max(place - 0.01, 0.0))
        dx, dy = ahead.x_m - back.x_m, ahead.y_m - back.y_m
        size = hypot(dx, dy) or 1.0
        side = 1 if number % 2 else -1
        to = Point(
            x_m=start.x_m - side * dy / size * reach, y_m=start.y_m + side * dx / size * reach
        )
        self.pipe(
            "tube",
            f"tube {number}",
            (start, to),
            row.id,
            kind="micro-4",
            waters=waters,
            begins_along_m=place,
            dripper=self.wish.line,
        )


def _to_the_row(way: Sequence[Point], where: Point, to: Point, pots: Pots) -> list[Point]:
    """Bends before a row of pots: round the last one of the row before, and along its own."""
    out, turned = pots.along_m / 2 + BESIDE_POT, radians(pots.turned_deg)
    rx, ry = out * cos(turned), out * sin(turned)
    if not way and pots.columns > 1:
        return []
    # On to the far side, and not back over where the last row was come along.
    near, far = way[-2:] if way else (to, where)
    on = (far.x_m - near.x_m) * rx + (far.y_m - near.y_m) * ry
    dx, dy = copysign(1.0, on) * rx, copysign(1.0, on) * ry
    bends = [where, to] if way else [to]
    return [Point(x_m=at.x_m + dx, y_m=at.y_m + dy) for at in bends]
