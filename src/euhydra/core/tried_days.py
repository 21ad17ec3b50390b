"""The days of a month on root zones under many settings at once, by the rules of the root zone.

Candidates and years are lanes that run side by side, day by day, by the rules of
`rootzone.advance`.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import NDArray

from euhydra.core.rootzone import gives_in, least_drunk

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

PROBE_OPENS = 0.5
"""Share of the ready water from whose loss on a moisture switch lets a run begin. [-] Our choice: early
enough for the days until its next turn."""


class Gives(StrEnum):
    """What a timer gives of the run that it is set to.

    LACKING : No more than the roots lack.
    WHEN_DRY : All of it where the ground at its probe is dry enough, else nothing.
    """

    ALL = "all"
    LACKING = "lacking"
    WHEN_DRY = "when-dry"


@dataclass(frozen=True)
class TriedGround:
    """A bed or pots over one month of many years.

    rain, crop_et, total, ready : As in `rootzone.advance`; [day, year]. [mm]
    is_growing : [day, year].
    depth_per_litre : Net depth that a litre into the zone brings. [mm L⁻¹]
    steps : Into which a day is cut, as in `rootzone.advance_in_steps`.
    """

    rain: Floats
    crop_et: Floats
    total: Floats
    ready: Floats
    is_growing: Flags
    depth_per_litre: float
    steps: int = 1


class TriedDays:
    """Several grounds that are watered together, under each candidate, in each year.

    What holds for a day is [day, ground, 1, year]; what is kept is [ground, candidate, year], and is
    worked on in place, without an array made anew: it is run some hundred times for each zone.

    depletion : On the last evening lived through. [mm]
    drunk : What the crops had, over the days in season. [mm]
    short_days : Days in season on which they had less than they wanted.
    drained : Lost past the roots, over the days in season. [mm]
    watered : Come to the roots, over the days in season, of what a timer lets in that looks at the ground; of
        other timers all does. [mm]
    depth_per_litre : Net depth that a litre into the zone brings, [ground, candidate]. [mm L⁻¹]
    """

    def __init__(
        self,
        grounds: Sequence[TriedGround],
        litres: Floats,
        runs: NDArray[np.intp],
        sinks_in: Sequence[Floats],
        starts: Sequence[Floats],
        gives: Gives,
    ) -> None:
        def beside(name: str) -> NDArray[Any]:
            return np.stack([getattr(ground, name) for ground in grounds], axis=1)[:, :, None, :]

        self._litres, self._gives = litres, gives
        self._total, self._ready, self._rain = beside("total"), beside("ready"), beside("rain")
        self._is_growing, crop_et = beside("is_growing"), beside("crop_et")
        self._all_grow = list(np.asarray(self._is_growing.all(axis=(1, 2, 3))))
        steps = grounds[0].steps
        self._wish = crop_et / steps
        # Roots drink all they wish until what is left falls under the last of it, then ever less.
        self._wish_per_left = self._wish / np.maximum(self._total - self._ready, 1e-9)
        counts = self._is_growing & (crop_et > 0)
        self._least = np.where(counts, least_drunk(crop_et), -np.inf)
        self._shares = _shares_of_runs(runs, steps)
        self._gives_in = [bool(share.any()) for share in self._shares]
        self._gives_on = list(np.asarray(litres.any(axis=(1, 2))))
        self.depth_per_litre = np.array(
            [g.depth_per_litre * share for g, share in zip(grounds, sinks_in, strict=True)]
        )
        lanes = len(grounds), *litres.shape[1:]
        begins = np.array(starts)
        begins = begins if begins.ndim == len(lanes) else begins[:, None, :]
        self.depletion = np.broadcast_to(begins, lanes).copy()
        self.drunk, self.drained, self.watered, self._none = np.zeros((4, *lanes))
        self.short_days = np.zeros(lanes, dtype=np.int16)
        self._water, self._got, self._over, self._scratch = np.empty((4, *lanes))
        self._is_short = np.empty(lanes, dtype=np.bool_)
        self._may_want = bool(
            (self._wish_per_left > 1).any()
            or (np.diff(self._total, axis=0) < 0).any()
            or (self.depletion > self._total[0]).any()
        )

    def live_through(self, day: int) -> None:
        """One day: its runs, what is drunk after each, its rain in the evening."""
        growing = None if self._all_grow[day] else self._is_growing[day]
        if growing is not None:
            self.depletion *= growing
        water = self._poured(day) if self._gives_on[day] else None
        last = len(self._shares) - 1
        for step, (share, gives) in enumerate(zip(self._shares, self._gives_in, strict=True)):
            if water is not None and gives:
                self.depletion -= water if last == 0 else water * share[:, None]
            got = self._drunk(day, self._got if step == 0 else self._scratch)
            if step == last:
                self.depletion -= self._rain[day]
            self._run_over(day, got, growing)
            if step > 0:
                self._got += got
        got = self._got
        self.short_days += np.less(got, self._least[day], out=self._is_short)
        self.drunk += got if growing is None else np.multiply(got, growing, out=got)
        if water is not None and self._gives is not Gives.ALL:
            self.watered += water if growing is None else np.multiply(water, growing, out=water)

    def _poured(self, day: int) -> Floats:
        """What the timer gives on a day. [mm]"""
        water: Floats = self._water
        np.multiply(self._litres[day], self.depth_per_litre[:, :, None], out=water)
        if self._gives is Gives.LACKING:
            np.minimum(water, self.depletion, out=water)
        elif self._gives is Gives.WHEN_DRY:
            water *= self.depletion >= PROBE_OPENS * self._ready[day]
        return water

    def _drunk(self, day: int, drunk: Floats) -> Floats:
        """What the crops drink of what is left, in one step of a day; written into what is given. [mm]"""
        np.maximum(self.depletion, self._none, out=drunk)
        np.subtract(self._total[day], drunk, out=drunk)
        if self._may_want:
            np.maximum(drunk, self._none, out=drunk)
        drunk *= self._wish_per_left[day]
        np.minimum(drunk, self._wish[day], out=drunk)
        self.depletion += drunk
        return drunk

    def _run_over(self, day: int, got: Floats, growing: Flags | None) -> None:
        """What the ground does not hold sinks past the roots; what it did not have was not drunk."""
        depletion, over = self.depletion, self._over
        np.minimum(depletion, self._none, out=over)
        depletion -= over
        self.drained -= over if growing is None else np.multiply(over, growing, out=over)
        if self._may_want:
            np.subtract(depletion, self._total[day], out=over)
            np.maximum(over, self._none, out=over)
            depletion -= over
            got -= over


def _shares_of_runs(runs: NDArray[np.intp], steps: int) -> list[Floats]:
    """Share of the day's water that falls in each step, by candidate."""
    if steps <= 1:
        return [np.ones(len(runs))]
    return [
        np.array([gives_in(step, steps, int(n)) / n for n in np.minimum(runs, steps)])
        for step in range(steps)
    ]
