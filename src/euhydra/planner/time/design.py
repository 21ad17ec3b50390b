"""What a zone's settings are made from: its timer, its delivery, the part of each bed in it."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import inf

import numpy as np
from numpy.typing import NDArray

from euhydra.core import schedule
from euhydra.core.delivery import DrainCurve
from euhydra.core.schedule import MINUTES_PER_HOUR
from euhydra.garden.catalogue import TimerKind
from euhydra.planner.need.daily import Need
from euhydra.planner.time.programme import MONTHS
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

Floats = NDArray[np.float64]

WETTED_SHARE = 0.5
"""Part of a bed that its outlets wet. [-] Common practice."""

DESIGN_SHARE = 0.5
"""Share of the drawable water at which a run is set: the barrel stands above it in some weeks and
below it in others. [-] Our choice."""


@dataclass(frozen=True)
class BedShare:
    """The part of a bed or of pots in their zone.

    flow_share : Of the zone's water, what comes to it. [-]
    efficiency : Low-quarter uniformity within it. [-]
    """

    need: Need
    flow_share: float
    efficiency: float

    def gross(self, month: int) -> float:
        """Litres that it should be given a day, once nothing in it is new. [L d⁻¹]"""
        net = float(self.need.settled_a_day[month - 1])
        return net * self.need.area_m2 / self.efficiency if self.efficiency > 0 else 0.0

    @property
    def depth_per_litre(self) -> float:
        """Net depth that a litre into the zone brings. [mm L⁻¹]"""
        return self.flow_share * self.efficiency / self.need.area_m2


@dataclass(frozen=True)
class Design:
    """What a zone's settings are made from."""

    zone: Zone
    timer: TimerKind
    curve: DrainCurve
    beds: tuple[BedShare, ...]

    @classmethod
    def of(
        cls,
        zone: Zone,
        timer: TimerKind,
        curve: DrainCurve,
        state: ZoneState,
        needs: Sequence[Need],
    ) -> "Design":
        """From the zone solved at the level at which times are reckoned."""
        shares = (
            BedShare(need, state.share_to(need.part.id), state.low_quarter_in(need.part.id))
            for need in needs
        )
        return cls(zone, timer, curve, tuple(shares))

    @property
    def area_m2(self) -> float:
        """Of all its beds and pots. [m²]"""
        return sum(bed.need.area_m2 for bed in self.beds)

    @property
    def level(self) -> float:
        """Store volume from which a run is set. [L]"""
        return self.curve.dead + DESIGN_SHARE * (self.curve.full - self.curve.dead)

    @property
    def most_minutes(self) -> float:
        """Longest it may run in a day. [min]"""
        return self.zone.window_s / 60.0

    def mean(self, daily: str, month: int) -> float:
        """A depth of a day of a month, mean over the area of its beds. [mm d⁻¹]"""
        depths = (float(getattr(b.need, daily)[month - 1]) * b.need.area_m2 for b in self.beds)
        return sum(depths) / self.area_m2

    @cached_property
    def drinks(self) -> tuple[float, ...]:
        """What its crops drink on a mean day of each month. [mm d⁻¹]"""
        return tuple(self.mean("crop_et_a_day", month) for month in range(1, MONTHS + 1))

    def settled_days(self, month: int) -> float:
        """Days of a month on which something grows that is not new. [d]"""
        return max(float(bed.need.settled_days[month - 1]) for bed in self.beds)

    def gross(self, month: int) -> float:
        """Litres that the zone should be given on a day in season. [L d⁻¹]"""
        return sum(bed.gross(month) for bed in self.beds)

    def litres(self, minutes: float) -> float:
        """Litres that a run gives from the level at which it is set. [L]"""
        return self.curve.delivered(self.level, minutes / MINUTES_PER_HOUR)

    def litres_each(self, minutes: Floats) -> Floats:
        """As `litres`, of many runs. [L]"""
        lengths, which = np.unique(minutes, return_inverse=True)
        return np.array([self.litres(m) for m in lengths.tolist()])[which]

    def minutes_before_runoff(self) -> float:
        """Longest run before water stands on one of the beds and runs off. [min]"""
        flow = self.litres(MINUTES_PER_HOUR)
        longest = inf
        for bed in self.beds:
            slope = bed.need.part.runoff_slope
            if slope is not None:
                rate = flow * bed.flow_share / (bed.need.area_m2 * WETTED_SHARE)
                intake = bed.need.soil.intake_m_s * 1000 * 3600
                longest = min(longest, schedule.minutes_before_runoff(rate, intake, slope))
        return longest
