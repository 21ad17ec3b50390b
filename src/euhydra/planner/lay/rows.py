"""Rows along a bed: how many the soil asks for, and where each lies within the bed's outline."""

import itertools
from collections.abc import Sequence
from math import hypot

from shapely import LineString
from shapely.affinity import rotate
from shapely.geometry.base import BaseGeometry

from euhydra.garden import shapes
from euhydra.garden.beds import Bed
from euhydra.garden.part import Point
from euhydra.garden.sentences import counted, say
from euhydra.planner.answers import PlanError

ROW_GAPS = {"sand": 0.3, "loamy-sand": 0.3, "sandy-loam": 0.38}
"""Distance between rows by soil. [m] Common practice: sand close, loam 0.45, clay 0.6."""

LOAM_GAP, CLAY_GAP = 0.45, 0.6
"""[m] Common practice, as above."""


def gap_in(soil: str) -> float:
    """Distance between rows in a soil. [m]"""
    if soil in ROW_GAPS:
        return ROW_GAPS[soil]
    return CLAY_GAP if "clay" in soil else LOAM_GAP


def within(bed: Bed, count: int, near: Point) -> list[list[Point]]:
    """So many rows along the bed, each from its end nearer to `near`, the nearest row first.

    Raises
    ------
    PlanError : if the bed is too odd in shape for so many.
    """
    outline = shapes.of_bed(bed)
    middle = outline.centroid
    level = rotate(outline, -bed.turned_deg, origin=middle)
    left, low, right, high = level.bounds
    gap = (high - low) / count
    lines: list[list[Point]] = []
    for row in range(count):
        y = low + gap * (row + 0.5)
        piece = _longest(level.intersection(LineString([(left - 1, y), (right + 1, y)])))
        if piece is None:
            raise PlanError(
                say(
                    "lay-rows-fit-ask",
                    "“{bed}” has no room for {rows}: ask for fewer.",
                    rows=counted(count, "row"),
                    bed=bed.name,
                )
            )
        back = rotate(piece, bed.turned_deg, origin=middle)
        lines.append([Point(x_m=round(x, 4), y_m=round(y, 4)) for x, y in back.coords])
    flip = sum(distance(near, line[0]) - distance(near, line[-1]) for line in lines) > 0
    lines = [line[::-1] if flip else line for line in lines]
    if distance(near, lines[-1][0]) < distance(near, lines[0][0]):
        lines.reverse()
    return lines


def _longest(cut: BaseGeometry) -> LineString | None:
    pieces = [
        g for g in getattr(cut, "geoms", [cut]) if isinstance(g, LineString) and g.length > 0.05
    ]
    return max(pieces, key=lambda g: float(g.length), default=None)


def across(bed: Bed) -> float:
    """Width of the bed across its rows. [m]"""
    outline = shapes.of_bed(bed)
    level = rotate(outline, -bed.turned_deg, origin=outline.centroid)
    return float(level.bounds[3] - level.bounds[1])


def length_of(line: Sequence[Point]) -> float:
    """Along its points. [m]"""
    return sum(distance(a, b) for a, b in itertools.pairwise(line))


def distance(a: Point, b: Point) -> float:
    """Between two places. [m]"""
    return hypot(a.x_m - b.x_m, a.y_m - b.y_m)
