"""The shortest way of a pipe from one place to another, round the beds and not across them."""

from collections.abc import Sequence
from itertools import combinations

import numpy as np
from scipy.sparse.csgraph import dijkstra
from shapely import LineString, Polygon, prepare, unary_union
from shapely import Point as Dot

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
    if not LineString(ends).intersects(blocked):
        return [start, end]
    places = ends + [corner for each in outlines for corner in each.exterior.coords[:-1]]
    steps = np.zeros((len(places), len(places)))
    for i, j in combinations(range(len(places)), 2):
        step = LineString([places[i], places[j]])
        if not step.intersects(blocked):
            steps[i, j] = step.length
    _, before = dijkstra(steps, directed=False, indices=0, return_predecessors=True)
    if before[1] < 0:
        return [start, end]
    way, here = [1], 1
    while here := int(before[here]):
        way.append(here)
    bends = [Point(x_m=round(places[i][0], 3), y_m=round(places[i][1], 3)) for i in way[:0:-1]]
    return [start, *bends, end]
