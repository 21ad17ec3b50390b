"""The shortest way of a pipe from one place to another, round the beds and not across them."""

from collections.abc import Sequence

import numpy as np
import scipy
from shapely import LineString, Polygon, intersects, length, linestrings, prepare, unary_union
from shapely import Point as Dot
from shapely.geometry.base import BaseGeometry

from euhydra.garden.part import Point

CLEAR = 0.1
"""Room that is left between a pipe and a bed. [m]"""

SMOOTH = 0.03
"""By so much the outline of a round bed may be cut. [m]"""

TOUCH = 1e-6
"""By so much a way along an outline may seem to lie in it. [m]"""


def way_round(start: Point, end: Point, beds: Sequence[Polygon]) -> list[Point]:
    """Every bend of it, from one end to the other; straight where there is no other way.

    A bed that either end lies in or close by is no hindrance: the pipe has to get there.

    Method: Dijkstra (1959) over the corners that see one another.
    """
    ends = [(start.x_m, start.y_m), (end.x_m, end.y_m)]
    grown = (bed.buffer(CLEAR, join_style="mitre").simplify(SMOOTH) for bed in beds)
    outlines = [
        each
        for each in grown
        if isinstance(each, Polygon) and not any(each.contains(Dot(*place)) for place in ends)
    ]
    blocked = unary_union([each.buffer(-TOUCH) for each in outlines])
    prepare(blocked)
    straight = LineString(ends)
    if not straight.intersects(blocked):
        return [start, end]
    in_the_way = [each for each in outlines if each.intersects(straight)]
    bends = _bends(ends, in_the_way, blocked) or _bends(ends, outlines, blocked)
    return [start, *(Point(x_m=round(x, 3), y_m=round(y, 3)) for x, y in bends), end]


Place = tuple[float, ...]
"""East and north. [m]"""


def _bends(
    ends: Sequence[Place], round_these: Sequence[Polygon], blocked: BaseGeometry
) -> list[Place]:
    """Corners of these, in the order of the shortest way that crosses nothing; none if there is none."""
    places = [*ends, *(corner for each in round_these for corner in each.exterior.coords[:-1])]
    corners = np.array(places)
    i, j = np.triu_indices(len(places), 1)
    lines = np.asarray(linestrings(np.stack([corners[i], corners[j]], axis=1)))
    is_free = ~intersects(blocked, lines)
    steps = np.zeros((len(places), len(places)))
    steps[i[is_free], j[is_free]] = length(lines[is_free])
    _, before = scipy.sparse.csgraph.dijkstra(
        steps, directed=False, indices=0, return_predecessors=True
    )
    if before[1] < 0:
        return []
    way, here = [], 1
    while here := int(before[here]):
        way.append(places[here])
    return way[::-1]
