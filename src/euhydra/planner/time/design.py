"""What a zone's settings are made from: its timer, its delivery, the part of each bed in it."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import inf

import numpy as np
from numpy.typing import NDArray

from euhydra.core import schedule
from euhydra.core.constants import MINUTES_PER_DAY, MM_PER_M, SECONDS_PER_HOUR
from euhydra.core.delivery import DrainCurve
from euhydra.core.schedule import MINUTES_PER_HOUR
from euhydra.core.tried_days import Gives
from euhydra.garden.catalogue import TimerKind
from euhydra.planner.need.daily import TRIFLE, Need
from euhydra.planner.time.programme import MONTHS
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]

HALF_DRAWN = 0.5
"""Share of the drawable water from which a run begins, where nothing tells how full the store stands.
[-] Our choice."""


@dataclass(frozen=True)
class BedShare:
    """The part of a bed or of pots in their zone.

    flow_share : Of the zone's water, what comes to it. [-]
    efficiency : Share that the worst-fed quarter of its plants keeps. [-]
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
    """What a zone's settings are made from.

    levels : Store volume from which a run begins, in each month; half drawn down where nothing is
        known. [L]
    """

    zone: Zone
    timer: TimerKind
    curve: DrainCurve
    beds: tuple[BedShare, ...]
    levels: tuple[float, ...] = field(default=())

    def __post_init__(self) -> None:
        if not self.levels:
            half = self.curve.dead + HALF_DRAWN * (self.curve.full - self.curve.dead)
            object.__setattr__(self, "levels", (half,) * MONTHS)

    @classmethod
    def of(
        cls,
        zone: Zone,
        timer: TimerKind,
        curve: DrainCurve,
        state: ZoneState,
        needs: Sequence[Need],
        levels: Sequence[float] = (),
    ) -> "Design":
        """From the zone solved at its usual level.

        Parameters
        ----------
        levels : As the attribute. [L]
        """
        shares = (
            BedShare(need, state.share_to(need.part.id), state.kept_in(need.part.id))
            for need in needs
        )
        return cls(zone, timer, curve, tuple(shares), tuple(levels))

    @property
    def area_m2(self) -> float:
        """Of all its beds and pots. [m²]"""
        return sum(bed.need.area_m2 for bed in self.beds)

    def level_in(self, month: int) -> float:
        """Store volume from which a run begins in a month. [L]"""
        return self.levels[month - 1]

    @property
    def head_at_valve(self) -> float:
        """Head that stands at the timer's valve while its store is lowest of all months that water. [m]"""
        lowest = min(self.levels[month - 1] for month in self.months_that_ask)
        return self.zone.head_at_valve(
            (lowest - self.curve.dead) / (self.curve.full - self.curve.dead)
        )

    @property
    def lowest_while_new(self) -> int:
        """Month with something new in it in which the store stands lowest; January where nothing is."""
        new = (bed.need.record.month[bed.need.is_new] for bed in self.beds)
        months = {int(month) for each in new for month in np.unique(each)}
        return min(sorted(months), key=self.level_in, default=1)

    @property
    def months_that_ask(self) -> tuple[int, ...]:
        """In which something has to be given; all, where nothing has."""
        every = tuple(range(1, MONTHS + 1))
        return tuple(month for month in every if self.gross(month) > 0) or every

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

    @cached_property
    def rain_a_day(self) -> tuple[float, ...]:
        """Rain that stands in for a mean day of each month, where least of it comes to the roots. [mm d⁻¹]

        Leaves keep most of it from pots: they are watered in all but a deluge.
        """
        comes = min((bed.need.share_of_rain for bed in self.beds), default=1.0)
        return tuple(drinks / max(comes, 1e-6) for drinks in self.drinks)

    def settled_days(self, month: int) -> float:
        """Days of a month on which something grows that is not new. [d]"""
        return max(float(bed.need.settled_days[month - 1]) for bed in self.beds)

    def gross(self, month: int) -> float:
        """Litres that the zone should be given on a day in season. [L d⁻¹]"""
        return sum(bed.gross(month) for bed in self.beds)

    def is_young(self, month: int) -> bool:
        """Whether something in it was planted within the last weeks, on some day of a month."""
        return any(month in bed.need.young_months for bed in self.beds)

    def counts_on_rain(self, month: int) -> bool:
        """Whether what is young is carried by rain in a mean year, and watered in a month for dry ones alone."""
        return self.is_young(month) and self.gross(month) <= TRIFLE * self.area_m2

    def litres(self, minutes: float, month: int) -> float:
        """Litres that a run gives from the level of its month. [L]"""
        return self.curve.delivered(self.level_in(month), minutes / MINUTES_PER_HOUR)

    def litres_each(self, minutes: Floats, months: Integers) -> Floats:
        """As `litres`, of many runs. [L]"""
        # Runs of one length in one month give alike: of all of them but a few are worked out.
        alike = months * MINUTES_PER_DAY + minutes
        _, first, which = np.unique(alike, return_index=True, return_inverse=True)
        pairs = zip(minutes[first].tolist(), months[first].tolist(), strict=True)
        return np.array([self.litres(length, month) for length, month in pairs])[which]

    def exact_minutes(self, litres: float, month: int) -> float:
        """Minutes that would give so many litres from the level of a month; infinite if they are not there. [min]"""
        return schedule.exact_minutes(self.curve, self.level_in(month), litres)

    @cached_property
    def pauses(self) -> tuple[int, ...]:
        """Steps of its rain delay that the gardener may use: the ground has to last as long. [d]

        In the month that drinks most the driest-rooted bed still has what it needs within easy reach.
        """
        if self.timer.gives is not Gives.ALL:
            return ()
        most = int(np.argmax(self.drinks)) if max(self.drinks) > 0 else 0
        lasts = min(
            (
                float(bed.need.ready_by_month[most] / bed.need.crop_et_a_day[most])
                for bed in self.beds
                if bed.need.crop_et_a_day[most] > 0
            ),
            default=inf,
        )
        return tuple(days for days in self.timer.delay_days if days <= max(1.0, lasts))

    def minutes_before_runoff(self, month: int) -> float:
        """Longest run before water stands on one of the beds and runs off. [min]"""
        return min((self._rates(bed, month)[0] for bed in self.beds), default=inf)

    def sinks_in(self, bed: BedShare, minutes: Floats, month: int) -> Floats:
        """Share of runs of so many minutes that does not run off from a bed in a month. [-]"""
        return schedule.sinks_in(minutes, *self._rates(bed, month))

    def sinks_in_each(self, bed: BedShare, minutes: Floats, months: Integers) -> Floats:
        """As `sinks_in`, of many runs. [-]"""
        shares = np.ones(len(minutes))
        for month in np.unique(months).tolist():
            here = months == month
            shares[here] = self.sinks_in(bed, minutes[here], month)
        return shares

    def _rates(self, bed: BedShare, month: int) -> tuple[float, float, float]:
        """Longest run before water stands, what comes, what the soil takes. [min], [mm h⁻¹]"""
        slope = bed.need.part.runoff_slope
        rate = self.litres(MINUTES_PER_HOUR, month) * bed.flow_share
        rate /= bed.need.area_m2 * bed.need.wetted
        intake = bed.need.soil.intake_m_s * MM_PER_M * SECONDS_PER_HOUR
        if slope is None:
            return inf, rate, intake
        return schedule.minutes_before_runoff(rate, intake, slope), rate, intake
