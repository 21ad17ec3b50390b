"""The fall: the way of the water from the side, from its source to one outlet, to scale."""

import itertools
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from euhydra.core.constants import METRES_PER_FOOT
from euhydra.garden.kinds import kind_of
from euhydra.garden.pipes import Pipe, Pump
from euhydra.garden.quantities import System
from euhydra.garden.stores import Store
from euhydra.planner.push.answer import LevelFigures, PushAnswer
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.way import Joined, Outlet, Stop
from euhydra.planner.water.zones import Zone
from euhydra.web.drawing.lettering import fitted, width_px

WIDTH, HEIGHT = 720.0, 320.0
MARGIN_TOP, MARGIN_BOTTOM = 34.0, 44.0
SOURCE_X, SOURCE_WIDTH = 60.0, 84.0
WAY_X, WAY_END = 150.0, 690.0

LEAST_BAR = 28.0
"""Least length of the scale bar on paper."""

MOST_HEAD_DRAWN = 12.0
"""Head over the highest thing beyond which the line of head leaves the paper. [m]"""

LABEL_ROOM = 130.0
"""Least distance between two names of losses on paper."""

MOST_LABELS = 4

ROW, LARGE_LETTERS = 19.0, 19.0
"""Height of a row of words, and of its letters on a phone. On paper."""

LOWEST_WORDS = 306.0
"""Lowest line of words on paper."""

RIGHT_EDGE = 726.0
"""Of the paper that is shown."""

ROOM_FOR_LOSS, ROOM_FOR_END = 205.0, 330.0
"""Widths on paper for the name of a loss, and for those of the source and of the way's end."""

LEFT_EDGE = -30.0
"""Where words may begin on paper."""

LEAST_LOSS = 0.02
"""Loss over a piece that is worth a name. [m]"""

TICKS = {
    System.METRIC: (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50),
    System.US: tuple(METRES_PER_FOOT * feet for feet in (0.5, 1, 2, 5, 10, 20, 50, 100)),
}
"""Round lengths a scale bar may stand for. [m]"""


@dataclass(frozen=True)
class WaterLevel:
    """One level of the store: the height on paper, and the line of head that falls from it.

    word_y : Middle of the word beside it, moved off the words of other levels.
    """

    name: str
    slug: str
    y: float
    word_y: float
    head_m: float
    head_line: str


@dataclass(frozen=True)
class Loss:
    """Head lost in one piece or pipe on the way: its name, where on paper, how much.

    label_y : Where its words stand, under it.
    label_end : Whether they end there, for want of room to begin there.
    """

    name: str
    x: float
    y: float
    loss_m: float
    label_y: float = 0.0
    label_end: bool = False


@dataclass(frozen=True)
class VesselDrawn:
    """The store on its stand, on paper: base, full water, ground, tap. None for a tap."""

    part_id: str
    base: float
    top: float
    ground: float
    tap: float
    stand_m: float
    can_move: bool


@dataclass(frozen=True)
class Handle:
    """Something that can be dragged up and down: its height is a field of a part.

    collection, part_id, field : Which field of which part, in metres.
    x, y, width, height : Where it is taken hold of, on paper.
    """

    collection: str
    part_id: str
    field: str
    value: float
    least: float
    most: float
    label: str
    x: float
    y: float
    width: float
    height: float


@dataclass(frozen=True)
class Fall:
    """Everything on paper; y downwards. `metre` is how long a metre of height is on it.

    source_words, end_words : Names of the source and of the way's end as far as there is room.
    source_x : Middle of the former.
    head_y, end_name_y : Where the words of the head and the name of the way's end stand.
    """

    ground_line: str
    ground_y: float
    pipe_line: str
    vessel: VesselDrawn | None
    source_name: str
    source_words: str
    source_x: float
    source_y: float
    end_x: float
    end_y: float
    end_name: str
    end_words: str
    end_name_y: float
    head_y: float
    levels: tuple[WaterLevel, ...]
    losses: tuple[Loss, ...]
    labels: tuple[Loss, ...]
    scale_bar: float
    tick_m: float
    metre: float
    handles: tuple["Handle", ...]


@dataclass(frozen=True)
class _Paper:
    """Where metres come to lie."""

    lowest: float
    scale: float
    length: float
    ceiling: float

    def y(self, height: float) -> float:
        shown = min(height, self.ceiling)
        return round(HEIGHT - MARGIN_BOTTOM - (shown - self.lowest) * self.scale, 1)

    def x(self, distance: float) -> float:
        return round(WAY_X + (WAY_END - WAY_X) * distance / self.length, 1)


def draw(push: PushAnswer, system: System, outlet: Outlet | None = None) -> Fall:
    """The side view of a zone, to its weakest outlet or to the one that is asked for."""
    zone, usual = push.zone, push.usual.state
    end = outlet or usual.weakest
    route = zone.way.route_to(end.node)
    distances = _distances(route)
    paper = _paper(zone, push, route, distances[-1])
    shown = [level for level in push.levels if level.name in zone.levels]
    surfaces = [paper.y(zone.surface_at(level.state.share)) for level in shown]
    levels = tuple(
        _level(level, route, distances, paper, y)
        for level, y in zip(shown, _words_apart(surfaces), strict=True)
    )
    head_y, end_name_y = _beside_the_head(levels[0].y, paper.y(end.height))
    source = zone.source
    tick = next((t for t in TICKS[system] if t * paper.scale >= LEAST_BAR), TICKS[system][-1])
    ground = [(stop.height, d) for stop, d in zip(route, distances, strict=True)]
    vessel = _vessel(zone.vessel, paper) if zone.vessel is not None else None
    first_ground = source.ground_m
    points = [(0.0, paper.y(first_ground)), (WAY_X - 4, paper.y(first_ground))]
    points += [
        (paper.x(d), paper.y(min(h, _ground_of(zone, stop))))
        for (h, d), stop in zip(ground[1:], route[1:], strict=True)
    ]
    points.append((WIDTH + 6, points[-1][1]))
    losses = _losses(zone, usual, route, distances, paper)
    source_words = fitted(source.name, ROOM_FOR_END, LARGE_LETTERS)
    return Fall(
        _line(points),
        paper.y(first_ground),
        _line(
            [(WAY_X - 6, paper.y(source.tap_m)), *((paper.x(d), paper.y(h)) for h, d in ground[1:])]
        ),
        vessel,
        source.name,
        source_words,
        max(SOURCE_X + SOURCE_WIDTH / 2, LEFT_EDGE + width_px(source_words, LARGE_LETTERS) / 2),
        paper.y(source.tap_m),
        paper.x(distances[-1]),
        paper.y(end.height),
        end.pipe.name,
        fitted(end.pipe.name, ROOM_FOR_END, LARGE_LETTERS),
        end_name_y,
        head_y,
        levels,
        losses,
        _labels(losses),
        round(tick * paper.scale, 1),
        tick,
        paper.scale,
        tuple(_handles(zone, route, distances, paper)),
    )


def _handles(
    zone: Zone, route: list[Stop], distances: list[float], paper: _Paper
) -> Iterator[Handle]:
    """The stand of the store, the terrace at the way's end, a pump on the way."""
    store = zone.vessel
    if store is not None and store.sunk_m == 0:
        top, base = paper.y(store.overflow_m), paper.y(store.base_m)
        yield Handle(
            kind_of(zone.source).collection,
            store.id,
            "stand_m",
            store.stand_m,
            0.0,
            2.0,
            f"Stand of {store.name}",
            SOURCE_X - 4,
            top - 4,
            SOURCE_WIDTH + 8,
            max(base - top, 1) + 8,
        )
    pipe = next(p for p in zone.way.parts if p.id == route[-1].part_id)
    watered = next(
        (p for p in zone.watered if isinstance(pipe, Pipe) and p.id == pipe.waters), None
    )
    if watered is not None:
        y = paper.y(watered.ground_m)
        yield Handle(
            kind_of(watered).collection,
            watered.id,
            "ground_m",
            watered.ground_m,
            -20.0,
            20.0,
            f"Ground of {watered.name}",
            WAY_END - 120,
            y - 8,
            126,
            26,
        )
    for pump in zone.pumps:
        place = next(
            (d for stop, d in zip(route, distances, strict=True) if stop.node == pump.id), None
        )
        if place is not None:
            ground = zone.way.stops[pump.id].height
            yield Handle(
                "pumps",
                pump.id,
                "height_m",
                pump.height_m,
                -5.0,
                8.0,
                f"Height of {pump.name}",
                paper.x(place) - 14,
                paper.y(ground + pump.height_m) - 14,
                28,
                28,
            )


def _distances(route: list[Stop]) -> list[float]:
    found = [0.0]
    for stop in route[1:]:
        # A piece has no length, but wants room for its step of head.
        found.append(found[-1] + max(stop.length, 0.25))
    return found


def _paper(zone: Zone, push: PushAnswer, route: list[Stop], length: float) -> _Paper:
    source = zone.source
    things = [source.tap_m, source.ground_m, *(stop.height for stop in route)]
    things += [_ground_of(zone, stop) for stop in route[1:]]
    if zone.vessel is not None:
        things += [zone.vessel.overflow_m, zone.vessel.base_m]
    heads = [push.levels[0].state.heads[stop.node] for stop in route]
    ceiling = min(max([*things, *heads]), max(things) + MOST_HEAD_DRAWN)
    lowest = min(things)
    scale = (HEIGHT - MARGIN_TOP - MARGIN_BOTTOM) / max(ceiling - lowest, 0.1)
    return _Paper(lowest, scale, max(length, 0.1), ceiling)


def _ground_of(zone: Zone, stop: Stop) -> float:
    """Ground under a stop: a raised bed's foot, where the pipe lies in one. [m]

    A piece on a store's tap hangs over the ground that the store stands on.
    """
    if stop.length == 0:
        return min(stop.height, zone.source.ground_m)
    pipe = next((p for p in zone.way.parts if p.id == stop.part_id), None)
    if isinstance(pipe, Pipe) and pipe.waters:
        part = next((p for p in zone.watered if p.id == pipe.waters), None)
        if part is not None:
            return part.ground_m
    return stop.height


def _words_apart(ys: Sequence[float]) -> list[float]:
    """Places of words from above to below, each at least a row under the one before, near where they belong."""
    apart: list[float] = []
    for y in ys:
        apart.append(max([y, *(above + ROW for above in apart[-1:])]))
    moved = (apart[-1] - ys[-1]) / 2 if apart else 0.0
    return [round(max(y - moved, ROW), 1) for y in apart]


def _beside_the_head(top: float, end: float) -> tuple[float, float]:
    """Where the head is said and the way's end is named: over its mark each, if there is room for two rows."""
    if abs(end - top) >= 3 * ROW:
        return top - 8, end - 10
    over, under = min(top, end) - 8, max(top, end) + ROW + 4
    # At the foot of the paper stand the names of losses.
    return (over, under) if under < LOWEST_WORDS - 2 * ROW else (over - ROW, over)


def _level(
    level: LevelFigures,
    route: list[Stop],
    distances: list[float],
    paper: _Paper,
    word_y: float,
) -> WaterLevel:
    zone = level.state.zone
    surface = zone.surface_at(level.state.share)
    points = [
        (SOURCE_X + SOURCE_WIDTH, paper.y(surface)),
        (WAY_X, paper.y(level.state.heads[route[0].node])),
    ]
    points += [
        (paper.x(d), paper.y(level.state.heads[stop.node]))
        for stop, d in zip(route[1:], distances[1:], strict=True)
    ]
    return WaterLevel(
        level.name,
        level.name.split()[0],
        paper.y(surface),
        word_y,
        zone.head_at(level.state.share),
        _line(points),
    )


def ends_of(zone: Zone) -> list[tuple[str, str]]:
    """Name and last outlet of every line in a zone that has outlets."""
    last = {outlet.pipe.id: outlet for outlet in zone.outlets}
    return [(outlet.pipe.name, outlet.node) for outlet in last.values()]


def losses_to(state: ZoneState, outlet: Outlet) -> list[tuple[Joined, float]]:
    """Every piece and pipe on the way to an outlet, and the head that it takes. [m]"""
    route = state.zone.way.route_to(outlet.node)
    parts = {part.id: part for part in state.zone.way.parts}
    totals: dict[str, float] = {}
    for before, stop in itertools.pairwise(route):
        lost = state.heads[before.node] - state.heads[stop.node]
        totals[stop.part_id] = totals.get(stop.part_id, 0.0) + lost
    return [(parts[part_id], lost) for part_id, lost in totals.items()]


def _losses(
    zone: Zone, state: ZoneState, route: list[Stop], distances: list[float], paper: _Paper
) -> tuple[Loss, ...]:
    """What each piece and pipe on the way takes, the larger ones; a pump's is a gain."""
    end = next(o for o in zone.outlets if o.node == route[-1].node)
    places = {
        stop.part_id: (paper.x(d), paper.y(state.heads[stop.node]))
        for stop, d in zip(route, distances, strict=True)
    }
    return tuple(
        Loss(part.name, *places[part.id], lost)
        for part, lost in losses_to(state, end)
        if lost >= LEAST_LOSS or isinstance(part, Pump)
    )


def _labels(losses: tuple[Loss, ...]) -> tuple[Loss, ...]:
    """The largest losses whose names have room beside each other."""
    kept: list[Loss] = []
    for loss in sorted(losses, key=lambda loss: -abs(loss.loss_m)):
        if len(kept) < MOST_LABELS and all(abs(loss.x - other.x) >= LABEL_ROOM for other in kept):
            kept.append(loss)
    named = [replace(k, name=fitted(k.name, ROOM_FOR_LOSS, LARGE_LETTERS)) for k in kept]
    return tuple(
        replace(
            loss,
            label_y=LOWEST_WORDS - (place % 2) * ROW,
            label_end=loss.x + _label_width(loss) > RIGHT_EDGE,
        )
        for place, loss in enumerate(sorted(named, key=lambda loss: loss.x))
    )


def _label_width(loss: Loss) -> float:
    """Of a name with its figure in large letters, on paper."""
    return width_px(f"{loss.name} −0.000 m", LARGE_LETTERS)


def _vessel(store: Store, paper: _Paper) -> VesselDrawn:
    return VesselDrawn(
        store.id,
        paper.y(store.base_m),
        paper.y(store.overflow_m),
        paper.y(store.ground_m),
        paper.y(store.tap_m),
        store.stand_m,
        store.sunk_m == 0,
    )


def _line(points: list[tuple[float, float]]) -> str:
    return " ".join(f"{x:.1f},{y:.1f}" for x, y in points)
