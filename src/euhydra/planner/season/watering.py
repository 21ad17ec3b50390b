"""How water comes to one bed or group of pots: its need, its line, its timer."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from euhydra.planner.need.daily import Need
from euhydra.planner.push.answer import PushAnswer
from euhydra.planner.time import programme
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.programme import DayRuns

HAND_EFFICIENCY = 0.90
"""Share of hand-given water that the roots keep. [-] Common practice: can or hose at the foot."""


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
            even = self.push.usual.state.low_quarter_in(self.need.part.id)
            if even > 0:
                return even
        return HAND_EFFICIENCY

    @cached_property
    def day_runs(self) -> DayRuns:
        """What its timer does on each day; nothing without one."""
        if self.time is None:
            length = len(self.need.record.days)
            return DayRuns(np.zeros(length), np.ones(length, dtype=np.intp))
        needs = [share.need for share in self.time.beds]
        return programme.runs_of(self.time.programme, self.need.record, needs)

    @property
    def flow_share(self) -> float:
        """Share of its zone's water that comes to the bed. [-]"""
        return self.push.usual.state.share_to(self.need.part.id) if self.push else 1.0
