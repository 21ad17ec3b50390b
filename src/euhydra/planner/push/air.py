"""Air in the pipes: places above the line of head, and humps from which slow water carries no bubble away."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import pi

import numpy as np
from shapely import LineString
from shapely import Point as Dot

from euhydra.garden.heights import LieOfLand
from euhydra.garden.pipes import Fitting, Pipe
from euhydra.garden.plumbing import FittingRole
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import PlanError
from euhydra.planner.water import laws, solving, zones
from euhydra.planner.water.ground import ground_of
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

HUMP = 0.1
"""Rise before and fall after a place from which on air stays there. [m] Our choice: a bubble in a
pipe of that width stands as high."""

SWEPT_AWAY = 0.6
"""Speed that carries bubbles down again. [m s⁻¹] Kalinske and Bliss (1943), for small pipes, from memory."""

OVER = 0.02
"""Height over the line of head that counts. [m] Our choice: drawn heights are no truer."""


@dataclass(frozen=True)
class _Place:
    """A place along a pipe. [m]

    along : As drawn, from its beginning.
    height, head : Of the pipe, and to which the water would rise there.
    """

    along: float
    height: float
    head: float


def air_in(zone: Zone) -> tuple[Sentence, ...]:
    """Every pipe of a zone in which air is drawn in or stays, with what to do; none if it cannot be solved.

    Judged when the store is nearly empty, which is when it happens first. Not where floats let so little in
    that the line of head lies level: their air release is Lay's.
    """
    if zone.keeps_level:
        return ()
    share = zones.NEARLY_EMPTY if zone.group is not None else 1.0
    try:
        state = solving.solve_zone(zone, share)
    except PlanError:
        return ()
    if state.flow <= 0:
        return ()
    return tuple(_found(zone, state))


def _found(zone: Zone, state: ZoneState) -> Iterator[Sentence]:
    ground, lowest_after = ground_of(zone.garden), _lowest_after(zone)
    for pipe in zone.pipes:
        places = _profile(zone, state, pipe, ground)
        if not places:
            continue
        lowest = _lowest_before(zone, pipe)
        rises = [
            place
            for place in places
            if place.height - min(lowest, *(p.height for p in places if p.along <= place.along))
            > HUMP
        ]
        over = max(rises, key=lambda place: place.height - place.head, default=places[0])
        if rises and over.height - over.head > OVER:
            yield say(
                "push-over-line-of-head",
                "“{pipe}” lies {over} above where the water still stands at {along} from its beginning: it "
                "draws air there and gives in gulps. Lay it lower, or raise the {noun}.",
                pipe=pipe.name,
                over=Amount(over.height - over.head, "height"),
                along=Amount(over.along, "length"),
                noun=zone.noun,
            )
            continue
        yield from _hump(zone, state, pipe, places, lowest_after)


def _hump(
    zone: Zone,
    state: ZoneState,
    pipe: Pipe,
    places: Sequence[_Place],
    lowest_after: dict[str, float],
) -> Iterator[Sentence]:
    """The highest place of a pipe, if water goes up to it and down again too slowly to carry air along."""
    begins = _lowest_before(zone, pipe)
    ends = lowest_after[zone.way.segments[pipe.id][-1].end]

    def stands_over(top: _Place) -> float:
        """Its height over the lowest place before it or after it, the higher of the two."""
        before = min(begins, *(p.height for p in places if p.along <= top.along))
        after = min(ends, *(p.height for p in places if p.along >= top.along))
        return top.height - max(before, after)

    top = max(places, key=stands_over)
    if stands_over(top) < HUMP:
        return
    if _speed(zone, state, pipe) >= SWEPT_AWAY or _lets_air_out(zone, pipe, top):
        return
    yield say(
        "push-air-stays",
        "“{pipe}” goes over a hump {high} high, {along} from its beginning, and so slow a flow leaves the air "
        "there: put an air release at that place, or lay the pipe lower.",
        pipe=pipe.name,
        high=Amount(stands_over(top), "height"),
        along=Amount(top.along, "length"),
    )


def _profile(zone: Zone, state: ZoneState, pipe: Pipe, ground: LieOfLand) -> list[_Place]:
    """Height and head where a pipe is cut and where it bends, from its beginning on."""
    segments = zone.way.segments[pipe.id]
    if not segments or pipe.waters is not None:
        return []
    begins = zone.way.stops[segments[0].start]
    line = LineString([(p.x_m, p.y_m) for p in pipe.path])
    known = [(0.0, state.heads[segments[0].start])]
    for segment in segments:
        stop = zone.way.stops[segment.end]
        known.append((line.project(Dot(stop.x, stop.y)), state.heads[segment.end]))
    known.sort()
    alongs = [along for along, _ in known]
    heads = [head for _, head in known]
    found = [_Place(0.0, begins.height, heads[0])]
    for along in _bends(pipe):
        ((x, y),) = pipe.places_at([along])
        height = ground.height_at(x, y) + pipe.rise_m
        found.append(_Place(along, height, float(np.interp(along, alongs, heads))))
    return found


def _bends(pipe: Pipe) -> list[float]:
    """Bends and end of a pipe, as drawn from its beginning. [m]"""
    xy = np.array([(p.x_m, p.y_m) for p in pipe.path])
    return [float(along) for along in np.cumsum(np.hypot(*np.diff(xy, axis=0).T))]


def _lowest_before(zone: Zone, pipe: Pipe) -> float:
    """Lowest place on the water's way to a pipe. [m]"""
    route = zone.way.route_to(zone.way.segments[pipe.id][0].start)
    return min(stop.height for stop in route)


def _lowest_after(zone: Zone) -> dict[str, float]:
    """Lowest place to which water goes on from each node, itself among them. [m]"""
    lowest = {stop.node: stop.height for stop in zone.way.stops.values()}
    for stop in reversed(list(zone.way.stops.values())):
        if stop.before is not None:
            lowest[stop.before] = min(lowest[stop.before], lowest[stop.node])
    return lowest


def _speed(zone: Zone, state: ZoneState, pipe: Pipe) -> float:
    """At the beginning of a pipe. [m s⁻¹]"""
    flow = abs(state.flows[zone.way.segments[pipe.id][0].link])
    return float(flow / (pi / 4 * laws.bore_of(pipe) ** 2))


def _lets_air_out(zone: Zone, pipe: Pipe, top: _Place) -> bool:
    """Whether an air release sits on the pipe, or an outlet as high as the place."""
    releases = (
        part
        for part in zone.way.parts
        if isinstance(part, Fitting) and part.role is FittingRole.LETS_AIR_OUT
    )
    if any(release.begins_at == pipe.id for release in releases):
        return True
    return any(o.height >= top.height - OVER and o.pipe.id == pipe.id for o in zone.outlets)
