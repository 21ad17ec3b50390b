"""Heights of the ground anywhere in a garden, from what is known about some places."""

from dataclasses import dataclass
from functools import cached_property
from math import hypot
from typing import Any

from shapely import Point as Dot
from shapely import Polygon, prepare

from euhydra.garden import kinds, shapes
from euhydra.garden.model import Garden
from euhydra.garden.part import Point

NEAR = 1e-6
"""Distance at which a known height is taken as it is. [m]"""


@dataclass(frozen=True)
class LieOfLand:
    """The lie of the land: level terraces where they are drawn, between known heights elsewhere."""

    garden: Garden

    @cached_property
    def _terraces(self) -> list[tuple[Polygon, float]]:
        found = [
            (shapes.of_patch(patch), patch.ground_m)
            for patch in self.garden.patches
            if patch.ground_m is not None
        ]
        for outline, _ in found:
            prepare(outline)
        return sorted(found, key=lambda pair: pair[0].area)

    @cached_property
    def _known(self) -> list[tuple[float, float, float]]:
        """Places whose height is known: x, y, height. [m]"""
        return [
            (*_place_of(part), part.ground_m)
            for kind in kinds.PART_KINDS
            if kind.is_level
            for part in getattr(self.garden, kind.collection)
        ]

    def height_at(self, x: float, y: float) -> float:
        """Height of the ground there. [m]

        In a terrace it is the terrace's (the smallest, where one lies in another); elsewhere the
        mean of the known heights, each weighted by one over its distance squared (Shepard 1968).
        """
        for outline, height in self._terraces:
            if outline.covers(Dot(x, y)):
                return height
        weights, heights = 0.0, 0.0
        for kx, ky, height in self._known:
            distance = hypot(kx - x, ky - y)
            if distance < NEAR:
                return height
            weights += distance**-2
            heights += height * distance**-2
        return heights / weights if weights else 0.0

    def at(self, point: Point) -> float:
        """Height of the ground at a place. [m]"""
        return self.height_at(point.x_m, point.y_m)


def _place_of(part: Any) -> tuple[float, float]:
    """Of a single outline its middle, else where the part is set down. [m]"""
    outlines = kinds.outlines_of(part) if kinds.kind_of(part).drinks else []
    if len(outlines) == 1:
        middle = outlines[0].centroid
        return middle.x, middle.y
    return part.at.x_m, part.at.y_m
