"""Heights of the ground anywhere in a garden, from what is known about some places."""

from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon, intersects_xy, prepare

from euhydra.garden import kinds, shapes
from euhydra.garden.model import Garden
from euhydra.garden.part import Point
from euhydra.garden.patches import Patch

Floats = NDArray[np.float64]

NEAR = 1e-6
"""Distance at which a known height is taken as it is. [m]"""

PLACES_KEPT = 1024
"""Parts whose places are kept: those of some dozens of gardens."""

Heights = tuple[tuple[float, float, float, float, float], ...]


@dataclass(frozen=True)
class LieOfLand:
    """The lie of the land: level terraces where they are drawn, between known heights elsewhere.

    terraces : Patches of which it is known how high they lie.
    known : Other rows whose height is known: x and y of the first place and of the last, height. [m]
    """

    terraces: tuple[Patch, ...]
    known: Heights

    @classmethod
    def of(cls, garden: Garden) -> "LieOfLand":
        """What a garden tells of its ground."""
        terraces = tuple(patch for patch in garden.patches if patch.ground_m is not None)
        known = tuple(
            (*_row_of(part), part.ground_m)
            for kind in kinds.PART_KINDS
            if kind.is_level
            for part in getattr(garden, kind.collection)
        )
        return cls(terraces, known)

    @cached_property
    def _terraces(self) -> list[tuple[Polygon, float]]:
        found = [(shapes.of_patch(patch), patch.ground_m or 0.0) for patch in self.terraces]
        for outline, _ in found:
            prepare(outline)
        return sorted(found, key=lambda pair: pair[0].area)

    @cached_property
    def _known(self) -> Floats:
        """[part, 5]. [m]"""
        return np.array(self.known, dtype=np.float64).reshape(-1, 5)

    def height_at(self, x: float, y: float) -> float:
        """Height of the ground there. [m]

        In a terrace it is the terrace's (the smallest, where one lies in another); elsewhere the
        mean of the known heights, each weighted by one over its distance squared (Shepard 1968).
        """
        return float(self.heights_at(np.array([[x, y]]))[0])

    def heights_at(self, places: Floats) -> Floats:
        """As `height_at`, of many places at once. [m]

        Parameters
        ----------
        places : [place, 2]. [m]
        """
        found = self._between(places)
        for outline, height in reversed(self._terraces):
            found[intersects_xy(outline, places)] = height  # as covers, for a point
        return found

    def _between(self, places: Floats) -> Floats:
        """The mean of the known heights, each by one over its distance squared. [m]"""
        known = self._known
        if not len(known):
            return np.zeros(len(places))
        distance = _apart(places, known[:, :2], known[:, 2:4])
        weight = np.maximum(distance, NEAR) ** -2
        mean = (weight @ known[:, 4]) / weight.sum(axis=1)
        nearest = distance.argmin(axis=1)
        is_known = distance[np.arange(len(places)), nearest] < NEAR
        return np.asarray(np.where(is_known, known[nearest, 4], mean))

    def at(self, point: Point) -> float:
        """Height of the ground at a place. [m]"""
        return self.height_at(point.x_m, point.y_m)


def _apart(places: Floats, first: Floats, last: Floats) -> Floats:
    """Distance of each place from each row, straight from its first place to its last. [m]

    Parameters
    ----------
    places : [place, 2]. [m]
    first, last : [row, 2]. [m]
    """
    along = last - first
    squared = np.maximum((along**2).sum(axis=1), NEAR**2)
    off = places[:, None, :] - first
    share = np.clip((off * along).sum(axis=2) / squared, 0.0, 1.0)
    return np.asarray(np.hypot(*(off - share[:, :, None] * along).transpose(2, 0, 1)))


@lru_cache(maxsize=PLACES_KEPT)
def _row_of(part: Any) -> tuple[float, float, float, float]:
    """Of what is planted the middles of its first outline and of its last, else where it is set down. [m]"""
    outlines = kinds.outlines_of(part) if kinds.kind_of(part).drinks else []
    if not outlines:
        return part.at.x_m, part.at.y_m, part.at.x_m, part.at.y_m
    first, last = outlines[0].centroid, outlines[-1].centroid
    return first.x, first.y, last.x, last.y
