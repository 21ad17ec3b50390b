"""Stores that share one level: what they hold at any height of the water."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Vessel:
    """An upright vessel of one width.

    base : Height of its bottom. [m]
    depth : Water in it when full, to its overflow. [m]
    plan : Area of its section. [m²]
    """

    base: float
    depth: float
    plan: float

    @property
    def top(self) -> float:
        """Height of its overflow. [m]"""
        return self.base + self.depth


class NeverMeetError(ValueError):
    """Linked vessels of which one overflows before the water reaches another's bottom."""


@dataclass(frozen=True)
class LinkedLevel:
    """Volume against the height of the one level. Straight between the knots, hence exact.

    level : Rising heights, from the lowest bottom to the lowest overflow. [m]
    volume : Water in all vessels at each. [m³]
    """

    level: Floats
    volume: Floats

    @classmethod
    def of(cls, vessels: Sequence[Vessel]) -> "LinkedLevel":
        """Vessels joined at the bottom or by siphon, so that water stands equally high in all.

        It cannot stand higher than the lowest overflow.

        Raises
        ------
        NeverMeetError : if one vessel's bottom is not below the lowest overflow.
        """
        full = min(vessel.top for vessel in vessels)
        highest = max(vessel.base for vessel in vessels)
        if highest >= full:
            raise NeverMeetError(
                f"a bottom at {highest:g} m is not below an overflow at {full:g} m"
            )
        level = np.array(sorted({*(vessel.base for vessel in vessels), full}))
        volume = sum(v.plan * np.clip(level - v.base, 0.0, v.depth) for v in vessels)
        return cls(level, np.asarray(volume))

    @property
    def capacity(self) -> float:
        """Water when the lowest overflow runs. [m³]"""
        return float(self.volume[-1])

    @property
    def full(self) -> float:
        """Height of the lowest overflow. [m]"""
        return float(self.level[-1])

    def volume_at(self, level: float) -> float:
        """Water in all of them when it stands so high. [m³]

        Parameters
        ----------
        level : [m]
        """
        return float(np.interp(level, self.level, self.volume))

    def level_at(self, volume: float) -> float:
        """Height of the water when they hold so much. [m]

        Parameters
        ----------
        volume : [m³]
        """
        return float(np.interp(volume, self.volume, self.level))
