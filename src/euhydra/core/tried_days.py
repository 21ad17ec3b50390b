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
    watered : Come to the roots, over the days in season. [mm]
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
        self._all_grow: list[bool] = [bool(each.all()) for each in self._is_growing]
        steps = grounds[0].steps
        self._wish = crop_et / steps
        # Roots drink all they wish until what is left falls under the last of it, then ever less.
        self._wish_per_left = self._wish / np.maximum(self._total - self._ready, 1e-9)
        counts = self._is_growing & (crop_et > 0)
        self._least = np.where(counts, least_drunk(crop_et), -np.inf)
        self._shares = _shares_of_runs(runs, steps)
        self._gives_in = [bool(share.any()) for share in self._shares]
        self._gives_on = [bool(each.any()) for each in litres]
        self.depth_per_litre = np.array(
            [g.depth_per_litre * share for g, share in zip(grounds, sinks_in, strict=True)]
        )
        lanes = len(grounds), *litres.shape[1:]
        self.depletion = np.broadcast_to(np.array(starts)[:, None, :], lanes).copy()
        self.drunk, self.drained, self.watered, self._none = np.zeros((4, *lanes))
        self.short_days = np.zeros(lanes, dtype=np.intp)
        self._water, self._got, self._lost, self._scratch = np.empty((4, *lanes))
        self._is_short = np.empty(lanes, dtype=np.bool_)
        self._may_want = bool(
            (self._wish_per_left > 1).any()
            or (np.diff(self._total, axis=0) < 0).any()
            or (self.depletion > self._total[0]).any()
        )

    def live_through(self, day: int) -> None:
        """One day: its runs, what is drunk after each, its rain in the evening."""
        got, lost = self._got, self._lost
        got[:] = lost[:] = 0.0
        if not self._all_grow[day]:
            self.depletion *= self._is_growing[day]
        is_watered = self._pour(day)
        for step, (share, gives) in enumerate(
            zip(self._shares, self._gives_in, strict=True), start=1
        ):
            if is_watered and gives:
                a_run = self._water if len(self._shares) == 1 else self._water * share[:, None]
                self.depletion -= a_run
            self._drink(day)
            if step == len(self._shares):
                self.depletion -= self._rain[day]
            self._run_over(day)
        self.short_days += np.less(got, self._least[day], out=self._is_short)
        if not self._all_grow[day]:
            for each in (got, lost, self._water):
                each *= self._is_growing[day]
        self.drunk += got
        self.drained += lost
        self.watered += self._water

    def _pour(self, day: int) -> bool:
        """What the timer gives on a day; whether it gives anything."""
        water = np.multiply(self._litres[day], self.depth_per_litre[:, :, None], out=self._water)
        if self._gives is Gives.LACKING:
            np.minimum(water, self.depletion, out=water)
        elif self._gives is Gives.WHEN_DRY:
            water *= self.depletion >= PROBE_OPENS * self._ready[day]
        return self._gives_on[day]

    def _drink(self, day: int) -> None:
        """What the crops drink of what is left, in one step of a day."""
        drunk = np.maximum(self.depletion, self._none, out=self._scratch)
        np.subtract(self._total[day], drunk, out=drunk)
        if self._may_want:
            np.maximum(drunk, self._none, out=drunk)
        drunk *= self._wish_per_left[day]
        np.minimum(drunk, self._wish[day], out=drunk)
        self.depletion += drunk
        self._got += drunk

    def _run_over(self, day: int) -> None:
        """What the ground does not hold sinks past the roots; what it did not have was not drunk."""
        depletion, over = self.depletion, self._scratch
        self._lost -= np.minimum(depletion, self._none, out=over)
        np.maximum(depletion, self._none, out=depletion)
        if self._may_want:
            np.subtract(depletion, self._total[day], out=over)
            np.maximum(over, self._none, out=over)
            depletion -= over
            self._got -= over


def _shares_of_runs(runs: NDArray[np.intp], steps: int) -> list[Floats]:
    """Share of the day's water that falls in each step, by candidate."""
    if steps <= 1:
        return [np.ones(len(runs))]
    return [
        np.array([gives_in(step, steps, int(n)) / n for n in np.minimum(runs, steps)])
        for step in range(steps)
    ]
