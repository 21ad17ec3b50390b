"""Several beds and groups of pots on one head: a pipe past all of them, and a branch to each."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import combinations

from shapely import Point as Dot
from shapely.ops import nearest_points

from euhydra.garden import edits, plumbing
from euhydra.garden.drinker import Drinker
from euhydra.garden.joints import Joinable
from euhydra.garden.kinds import outlines_of
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.plumbing import PipeKind
from euhydra.garden.sentences import say
from euhydra.planner.answers import PlanError
from euhydra.planner.lay import detours, drum_pumps, heads, proposed_lines, rows, well_wetted
from euhydra.planner.lay.layer import LINES_BEGIN, Layer
from euhydra.planner.lay.wishes import Wish, target_of
from euhydra.planner.push import shortfalls
from euhydra.planner.water import solving, zones

SHORTER = 1e-6
"""By so much a way has to be shorter to count as such. [m]"""

APART = 0.15
"""Least distance between two branches on the pipe. [m] Room for a tee."""


def lay_together(garden: Garden, wishes: Sequence[Wish]) -> Garden:
    """The garden with lines laid for several, on one timer and one pipe.

    The pipe is the narrowest of the plain ones with which every outlet gets its due, or the widest.

    Parameters
    ----------
    wishes : One for each, all from one beginning and with one timer.

    Raises
    ------
    PlanError : if what is wished cannot be laid.
    pydantic.ValidationError : if the garden would no longer hold together.
    """
    return well_wetted.lay_closer(garden, wishes, _lay, lambda laid: _gives_all(laid, wishes[0]))


def _lay(garden: Garden, wishes: Sequence[Wish]) -> Garden:
    laid = _on_one_pipe(garden, wishes)
    pump = drum_pumps.new_pump(laid, garden)
    return drum_pumps.fitted(laid, pump.id) if pump else laid


def _on_one_pipe(garden: Garden, wishes: Sequence[Wish]) -> Garden:
    if len(wishes) == 1:
        return proposed_lines.lay(garden, wishes[0])
    garden, start, at = proposed_lines.start_of(garden, wishes[0])
    way = _way_of(garden, wishes, start, at)
    for kind in sorted(_trunks(garden), key=lambda kind: kind.bore_m):
        laid = _laid(garden, way, kind.id)
        if _gives_all(laid, wishes[0]):
            return laid
    return laid


def _trunks(garden: Garden) -> list[PipeKind]:
    """Hoses, and wider ones by their nominal size as they are sold where the garden is."""
    plain = [kind for kind in plumbing.pipe_kinds().values() if kind.family == "plain"]
    widest = max(kind.bore_m for kind in plain if not kind.sizes)
    return [k for k in plain if not k.sizes or (k.sizes == garden.units and k.bore_m > widest)]


@dataclass(frozen=True)
class _Way:
    """The way of the pipe: what it begins at, its bends, and its stops, each so far along. [m]"""

    head: Layer
    feed: str
    path: list[Point]
    stops: list["Stop"]
    alongs: list[float]


def _way_of(garden: Garden, wishes: Sequence[Wish], start: Joinable, at: Point) -> _Way:
    targets = [target_of(garden, wish) for wish in wishes]
    if len({target.id for target in targets}) < len(targets):
        raise PlanError(say("lay-named-twice", "One of them is named twice: choose each once."))
    head = Layer(garden, wishes[0], targets[0])
    feed, at = heads.put_before(head, start, at)
    stops = _stops(at, list(zip(wishes, targets, strict=True)))
    planted = [outline for part in garden.planted for outline in outlines_of(part)]
    path, alongs = [at], []
    for stop, _, _ in stops:
        path += detours.way_round(path[-1], stop, planted)[1:]
        alongs.append(rows.length_of(path))
    return _Way(head, feed, path, stops, alongs)


def _laid(garden: Garden, way: _Way, pipe_kind: str) -> Garden:
    head = replace(way.head, parts=list(way.head.parts))
    head.taken |= {part.id for _, part in head.parts}
    words = f"pipe for {len(way.stops)}"
    trunk = head.pipe("pipe", words, way.path, way.feed, kind=pipe_kind)
    parts = head.parts
    for (stop, wish, target), along in zip(way.stops, [*way.alongs[:-1], None], strict=True):
        branch = Layer(garden, wish, target, trunk.id, along)
        branch.taken |= {part.id for _, part in parts}
        feed = branch.valve(stop) if wish.has_valve else trunk.id
        proposed_lines.lay_lines(branch, feed, stop)
        parts += branch.parts
    return edits.put_all(garden, parts)


Stop = tuple[Point, Wish, Drinker]
"""Where the pipe comes past one of them."""


def _stops(start: Point, left: list[tuple[Wish, Drinker]]) -> list[Stop]:
    """Where the pipe comes past each of them: always to the next that is nearest, then untangled."""
    stops: list[Stop] = []
    at = start
    while left:
        found = min(left, key=lambda each: rows.distance(at, _beside(each[1], at)))
        left.remove(found)
        at = _apart(_beside(found[1], at), at)
        stops.append((at, *found))
    return _untangled(start, stops)


def _untangled(start: Point, stops: list[Stop]) -> list[Stop]:
    """In an order that no turning round of a stretch makes shorter; such a way never crosses itself.

    Croes (1958), A method for solving traveling-salesman problems (2-opt).
    """

    def length(order: Sequence[Stop]) -> float:
        return rows.length_of([start, *(stop[0] for stop in order)])

    is_better = True
    while is_better:
        is_better = False
        for first, last in combinations(range(len(stops) + 1), 2):
            turned = [*stops[:first], *stops[first:last][::-1], *stops[last:]]
            if length(turned) < length(stops) - SHORTER:
                stops, is_better = turned, True
    return stops


def _beside(target: Drinker, near: Point) -> Point:
    """The place beside a bed that is nearest."""
    beside = outlines_of(target)[0].buffer(LINES_BEGIN, join_style="mitre").exterior
    on_it, _ = nearest_points(beside, Dot(near.x_m, near.y_m))
    return Point(x_m=round(on_it.x, 3), y_m=round(on_it.y, 3))


def _apart(stop: Point, before: Point) -> Point:
    """A stop that is not at the one before it, so that both have a tee of their own."""
    if rows.distance(stop, before) >= APART:
        return stop
    return Point(x_m=round(before.x_m + APART, 3), y_m=before.y_m)


def _gives_all(garden: Garden, wish: Wish) -> bool:
    try:
        zone = zones.zone_named(garden, wish.waters)
        state = solving.solve_zone(zone, zone.levels[zone.usual_level])
    except PlanError:
        return False
    return state.lowest_share >= shortfalls.EVEN
