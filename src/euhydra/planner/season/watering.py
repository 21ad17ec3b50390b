"""How water comes to one bed or group of pots: its need, its line, its timer."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.programme import DayRuns

Floats = NDArray[np.float64]

HAND_EFFICIENCY = 0.90
"""Share of hand-given water that the roots keep. [-] Common practice: can or hose at the foot."""


DAYS_A_WEEK = 7


@dataclass(frozen=True)
class Watered:
    """A bed with its need, and its line and timer so far as they are there.

    evenness : Share that the worst-fed quarter keeps, where it is known otherwise than solved. [-]
    """

    need: Need
    push: PushAnswer | None
    time: TimeAnswer | None
    evenness: float | None = None

    @property
    def keeps_level(self) -> bool:
        """Whether a float gives it what it drinks."""
        return self.push is not None and self.push.zone.keeps_level

    @property
    def efficiency(self) -> float:
        """Share of the water given that the worst-fed quarter keeps. [-]"""
        if self.keeps_level:
            return 1.0
        if self.evenness is not None:
            return self.evenness
        if self.push:
            kept = self.push.usual.state.kept_in(self.need.part.id)
            if kept > 0:
                return kept
        return HAND_EFFICIENCY

    @property
    def asked_a_week(self) -> Floats:
        """What it asks its line, or a hand, for in a week of each month. [L]"""
        return self.need.net_a_day * self.need.area_m2 / self.efficiency * DAYS_A_WEEK

    @cached_property
    def kept(self) -> Floats:
        """The same of each day's water, without what runs off a run that is too long. [-]"""
        days = len(self.need.record.days)
        if self.time is None:
            return np.full(days, self.efficiency)
        runs = self.day_runs
        share = self.time.share_of(self.need.part.id)
        return self.efficiency * self.time.design.sinks_in_each(
            share, runs.minutes / runs.runs, self.need.record.month
        )

    @cached_property
    def day_runs(self) -> DayRuns:
        """What its timer does on each day; nothing without one."""
        if self.time is None:
            length = len(self.need.record.days)
            return DayRuns(np.zeros(length), np.ones(length, dtype=np.intp))
        return self.time.day_runs

    @property
    def flow_share(self) -> float:
        """Share of its zone's water that comes to the bed. [-]"""
        return self.push.usual.state.share_to(self.need.part.id) if self.push else 1.0
