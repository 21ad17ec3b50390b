"""What a run of the timer delivers while the store's level, and so its head, falls."""

from bisect import bisect_right
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import accumulate, pairwise
from math import expm1, inf, log1p

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

TINY = 1e-12
"""Change of flow over a piece that counts as none, so that nothing is divided by zero. [-]"""

STILL_SHARE = 1e-6
"""Share of the full flow that counts as standing still, so that emptying ends. [-]"""

DRY_SHARE = 0.05
"""Share of the full flow at which nobody would say that water still comes. [-] Our choice."""


@dataclass(frozen=True)
class DrainCurve:
    """Store volume against the time an open line takes to empty it from there.

    Between the levels that were solved the flow is taken as straight in the volume, for which
    the emptying time has a closed form.

    volume : Rising, from the dead water to full. [L]
    flow : Into the line at each volume. [L h⁻¹]
    time_left : Time from that volume to the dead water. [h]
    """

    volume: tuple[float, ...]
    flow: tuple[float, ...]
    time_left: tuple[float, ...]

    @classmethod
    def of(cls, volume: Sequence[float], flow: Sequence[float]) -> "DrainCurve":
        """From flows solved at rising volumes. Flow must not fall as volume rises.

        Parameters
        ----------
        volume : Rising. [L]
        flow : Into the line at each. [L h⁻¹]

        Raises
        ------
        ValueError : if volumes do not rise, or a flow is negative or falls.
        """
        if any(b <= a for a, b in pairwise(volume)):
            raise ValueError("volumes of a drain curve must rise")
        # Solved flows agree to about a millionth, so a dip of that size is none.
        slack = STILL_SHARE * max(flow)
        if min(flow) < 0 or any(b < a - slack for a, b in pairwise(flow)):
            raise ValueError("flows of a drain curve must be positive and rise with volume")
        still = max(STILL_SHARE * flow[-1], 1e-12)
        moving = list(accumulate((max(q, still) for q in flow), max))
        steps = [
            _hours_between(a, b, qa, qb)
            for (a, b), (qa, qb) in zip(pairwise(volume), pairwise(moving), strict=True)
        ]
        return cls(tuple(volume), tuple(moving), tuple(accumulate(steps, initial=0.0)))

    @property
    def full(self) -> float:
        """Volume of the full store. [L]"""
        return self.volume[-1]

    @property
    def dead(self) -> float:
        """Volume that the line cannot draw. [L]"""
        return self.volume[0]

    @property
    def runs_dry_at(self) -> float:
        """Volume at which next to nothing flows any more: over the dead water where the line
        ends higher than its outlet. [L]
        """
        least = DRY_SHARE * self.flow[-1]
        return (
            float(np.interp(least, self.flow, self.volume)) if self.flow[0] < least else self.dead
        )

    def shared(self, share: float) -> "DrainCurve":
        """The curve of one branch that takes a share of the flow.

        That the others empty the store meanwhile is left out: they have their own draw.

        Parameters
        ----------
        share : [-]
        """
        if share >= 1:
            return self
        return DrainCurve.of(list(self.volume), [share * q for q in self.flow])

    def delivered(self, volume: float, hours: float) -> float:
        """Litres that flow in `hours` from a store that begins at `volume`. [L]

        Parameters
        ----------
        volume : At the start; over full counts as full, under the dead water gives none. [L]
        hours : Length of the run. [h]
        """
        if hours <= 0:
            return 0.0  # and not what rounding leaves of a large store
        start = min(max(volume, self.dead), self.full)
        left = self._time_at(start) - hours
        return max(0.0, start - (self._volume_at(left) if left > 0 else self.dead))

    def delivered_each(self, volume: Floats, hours: Floats, width: Floats | float) -> Floats:
        """As `delivered`, from many stores at once that differ in width alone. [L]

        A store `width` times as wide takes that many times as long to fall by as much.

        Parameters
        ----------
        volume : At the start, of each. [L]
        hours : Length of the run, of each. [h]
        width : Of each, over the store that the curve was made for. [-]
        """
        if isinstance(width, float) and width == 1.0:  # as all are in a plain record
            return self._delivered_each(volume, hours)
        return np.asarray(width * self._delivered_each(volume / width, hours / width))

    def _delivered_each(self, volume: Floats, hours: Floats) -> Floats:
        start: Floats = np.minimum(volume, self.full)
        pieces = self._pieces
        fell: Floats = start - pieces.volume_at(pieces.time_at(start) - hours)
        np.maximum(fell, 0.0, out=fell)
        fell *= hours > 0  # where it is not opened rounding leaves no drop
        return fell

    def hours_for(self, volume: float, litres: float) -> float:
        """Hours a run takes to give `litres` from `volume`; infinite if they are not there. [h]

        Parameters
        ----------
        volume : At the start. [L]
        litres : Wanted. [L]
        """
        end = volume - litres
        return self._time_at(volume) - self._time_at(end) if end >= self.dead else inf

    def _time_at(self, volume: float) -> float:
        i = self._piece(self.volume, volume)
        low, q0 = self.volume[i], self.flow[i]
        share = (volume - low) / (self.volume[i + 1] - low)
        q1 = q0 + (self.flow[i + 1] - q0) * share
        return self.time_left[i] + _hours_between(low, volume, q0, q1)

    def _volume_at(self, time_left: float) -> float:
        i = self._piece(self.time_left, time_left)
        low, q0 = self.volume[i], self.flow[i]
        slope = (self.flow[i + 1] - q0) / (self.volume[i + 1] - low)
        hours = time_left - self.time_left[i]
        return low + (q0 * expm1(slope * hours) / slope if slope * hours > 1e-9 else q0 * hours)

    @cached_property
    def _pieces(self) -> "_Pieces":
        volume, flow, time = (np.array(knots) for knots in (self.volume, self.flow, self.time_left))
        step = np.diff(volume)
        rise = np.maximum(np.diff(flow) / step, TINY * flow[:-1] / step)
        fills = volume[:-1], time[:-1], rise, rise / flow[:-1]
        empties = volume[:-1], time[:-1], rise, flow[:-1] / rise
        under = [self.dead], [0.0], [1.0], [0.0]
        return _Pieces(volume[:-1], time[:-1], np.c_[under, fills], np.c_[under, empties])

    def _piece(self, rising: tuple[float, ...], value: float) -> int:
        return min(max(bisect_right(rising, value) - 1, 0), len(rising) - 2)


@dataclass(frozen=True)
class _Pieces:
    """A drain curve as arrays, the first piece being what lies under the dead water, where all stands.

    volumes, times : Where one piece ends and the next begins. [L], [h]
    fills : Volume and time that each piece begins with, how its flow rises with volume, and that
        over the flow that it begins with. [L], [h], [h⁻¹], [L⁻¹]
    empties : The same, but the last the other way about. [L], [h], [h⁻¹], [L]
    """

    volumes: Floats
    times: Floats
    fills: Floats
    empties: Floats

    def time_at(self, volume: Floats) -> Floats:
        """Time from each volume to the dead water. [h]"""
        at = self.volumes.searchsorted(volume, "right")
        # None is beyond the last; looking for some would take most of the time.
        low, time, rise, steep = self.fills.take(at, axis=1, mode="clip")
        steep *= volume - low
        np.log1p(steep, out=steep)
        steep /= rise
        steep += time
        return np.asarray(steep)

    def volume_at(self, time: Floats) -> Floats:
        """Volume from which the dead water is reached in each time. [L]"""
        at = self.times.searchsorted(time, "right")
        low, begun, rise, gentle = self.empties.take(at, axis=1, mode="clip")
        rise *= time - begun
        np.expm1(rise, out=rise)
        gentle *= rise
        gentle += low
        return np.asarray(gentle)


def _hours_between(low: float, high: float, q_low: float, q_high: float) -> float:
    # dt = dV / q(V) with q straight in V: t = ΔV ln(q1/q0) / (q1 − q0)
    gain = q_high / q_low - 1
    return (high - low) / q_low * (log1p(gain) / gain if gain > 1e-9 else 1.0)
