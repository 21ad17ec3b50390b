"""Finds each month's setting: the positions of the owner's timer tried on the zone's root zones."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import ceil, inf, isfinite

import numpy as np
from numpy.typing import NDArray

from euhydra.core import programme, schedule
from euhydra.core.delivery import DrainCurve
from euhydra.core.programme import Ground, Trial
from euhydra.core.schedule import MINUTES_PER_HOUR, Position, Setting
from euhydra.garden.beds import Bed
from euhydra.garden.catalogue import TimerKind
from euhydra.planner.need import Need
from euhydra.planner.programmes import MONTHS, Programme, weekday_of
from euhydra.planner.solving import ZoneState
from euhydra.planner.zones import Zone

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]

LOOKED_AT = (0.35, 0.5, 0.7, 0.85, 1.0, 1.15, 1.3, 1.6, 2.0, 2.6)
"""Multiples of the mean need near which runs are tried. [-] Our choice."""

FEW_DAYS = 7.0
"""Days of a month in season under which its timer is left as in the month beside it. [d] Our choice."""

LONGER = 2.0
"""Intervals that are tried, over the days that the thriftiest bed lasts without rain. [-] Our choice."""

WETTED_SHARE = 0.5
"""Part of a bed that its outlets wet. [-] Common practice."""

DESIGN_SHARE = 0.5
"""Share of the drawable water at which a run is set: the barrel stands above it in some weeks and
below it in others. [-] Our choice."""

HOT = 0.95
"""Share of a month's days that drink less than a day of a heat wave. [-] Our choice."""

NEW_COVERED = 0.9
"""Share of the days on which something is new that its setting covers. [-] Our choice."""

SEEDLING_RUNS = 2
"""Runs a day while something comes up. Common practice: two or three short ones."""


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
class BedOutcome:
    """How one bed fares under a setting.

    stressed : Share of its days drier than the refill point. [-]
    missed : Share of its drinking that it misses. [-]
    drained_l_day : Litres lost past its roots. [L d⁻¹]
    """

    need: Need
    stressed: float
    missed: float
    drained_l_day: float


@dataclass(frozen=True)
class MonthChoice:
    """The setting of one month.

    gross : Litres needed on a day in season. [L d⁻¹]
    exact_minutes : Minutes that would give the mean need exactly at the interval chosen. [min]
    heat_minutes : Of each run in a heat wave: longer, not more often. [min]
    runs_off : Whether water will stand and run off for want of starts.
    is_carried : Whether it is only left as in the month before, since next to nothing grows.
    """

    month: int
    setting: Setting
    gross: float
    exact_minutes: float
    heat_minutes: float
    runs_off: bool
    beds: tuple[BedOutcome, ...]
    is_carried: bool = False


@dataclass(frozen=True)
class Design:
    """What a zone's settings are made from."""

    zone: Zone
    timer: TimerKind
    curve: DrainCurve
    beds: tuple[BedShare, ...]

    @classmethod
    def of(
        cls, zone: Zone, timer: TimerKind, curve: DrainCurve, state: ZoneState,
        needs: Sequence[Need],
    ) -> "Design":  # fmt: skip
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
            part = bed.need.part
            if isinstance(part, Bed):
                rate = flow * bed.flow_share / (bed.need.area_m2 * WETTED_SHARE)
                intake = bed.need.soil.intake_m_s * 1000 * 3600
                longest = min(longest, schedule.minutes_before_runoff(rate, intake, part.slope))
        return longest


def choose_year(
    design: Design, only: Sequence[Position | None] | None = None
) -> list[MonthChoice | None]:
    """The setting of each month; one in which next to nothing grows takes its neighbour's.

    Months follow one another through the season: each takes over the root zones as the one before
    left them, so that none lives on borrowed water.

    Parameters
    ----------
    only : Positions of the twelve months, to see how they do; else the best are found.
    """
    found: list[MonthChoice | None] = [None] * MONTHS
    zones = [_Zones.of(bed) for bed in design.beds]
    for month in _in_order(design):
        days = design.settled_days(month)
        fixed = only[month - 1] if only else None
        if days <= 0 or (only and fixed is None):
            continue
        before = found[month - 2]
        if only is None and days < FEW_DAYS and before:
            choice = _choose(month, design, zones, before.setting.position)
            found[month - 1] = replace(choice, is_carried=True) if choice else None
        else:
            found[month - 1] = _choose(month, design, zones, fixed)
    return found


def _in_order(design: Design) -> list[int]:
    """Months from the one in which a season begins; of what stands all year, from the wettest."""
    days = [design.settled_days(month) for month in range(1, MONTHS + 1)]
    begins = [i for i in range(MONTHS) if days[i] > 0 and days[i - 1] <= 0]
    net = [design.gross(month) for month in range(1, MONTHS + 1)]
    first = begins[0] if begins else int(np.argmin(net))
    return [(first + i) % MONTHS + 1 for i in range(MONTHS)]


def choose_month(month: int, design: Design) -> MonthChoice | None:
    """The setting of one month by itself, from watered ground; None where nothing is needed."""
    return _choose(month, design, [_Zones.of(bed) for bed in design.beds], None)


def _choose(
    month: int, design: Design, zones: Sequence["_Zones"], only: Position | None
) -> MonthChoice | None:
    gross = design.gross(month)
    if gross <= 0 and only is None:
        return None
    before_runoff = design.minutes_before_runoff()
    positions = [only] if only else _worth_trying(month, design, gross, before_runoff)
    fitting = [p for p in positions if p.run_minutes <= before_runoff] or positions
    trials = _trials(month, design, zones, fitting)
    best = programme.choose(trials, np.array([p.mean_days for p in fitting]), gross)
    for zone, trial in zip(zones, trials, strict=True):
        zone.leave(month, trial.depletion[best])
    position = fitting[best]
    given = float(max(trial.given[best] for trial in trials))
    share = given / gross if gross > 0 else inf
    setting = Setting(position, design.litres(position.run_minutes), given, share)
    exact = schedule.exact_minutes(design.curve, design.level, gross * position.mean_days)
    return MonthChoice(
        month, setting, gross, exact / position.runs_a_day, _heat_minutes(month, design, position),
        position.run_minutes > before_runoff,
        tuple(
            BedOutcome(
                bed.need, float(trial.stressed[best]), float(trial.missed[best]),
                float(trial.drained[best]) * bed.need.area_m2
                + given * bed.flow_share * (1 - bed.efficiency),
            )
            for bed, trial in zip(design.beds, trials, strict=True)
        ),
    )  # fmt: skip


def _worth_trying(month: int, design: Design, gross: float, before_runoff: float) -> list[Position]:
    """Positions near the need that keep to as few runs a day as soil and pots ask for, and to
    intervals that the soil can last, with room for rain.
    """
    wanted = min(schedule.exact_minutes(design.curve, design.level, gross), design.most_minutes)
    runs = {1, schedule.cycles_for(min(2 * wanted, design.most_minutes), before_runoff)}
    lasts = 1.0
    for bed in design.beds:
        ready, drinks = (
            float(series[month - 1]) for series in (bed.need.ready_by_month, bed.need.crop_et_a_day)
        )
        if 0 < ready < drinks:
            runs.add(ceil(drinks / ready))
        lasts = max(lasts, schedule.longest_interval(ready, drinks)) if drinks > 0 else lasts
    every = list(schedule.positions_of(design.timer.positions, design.most_minutes))
    most = max(p.runs_a_day for p in every)
    allowed = {min(count, most) for count in runs}
    good = [p for p in every if p.runs_a_day in allowed and p.mean_days <= LONGER * lasts]
    return schedule.near_need(good or every, wanted, LOOKED_AT)


def _trials(
    month: int, design: Design, zones: Sequence["_Zones"], positions: Sequence[Position]
) -> list[Trial]:
    """What each position does to each bed of the zone, over that month of every year."""
    index = zones[0].days(month)
    litres = _litres(month, design, positions, index)
    runs = np.array([p.runs_a_day for p in positions])
    adjusts = Programme(design.timer, (), None, design.drinks).adjusts
    return [
        programme.try_on(zone.ground(index), litres, runs, zone.start(month), adjusts)
        for zone in zones
    ]


@dataclass
class _Zones:
    """The root zones of one bed, a lane a year, handed on from month to month.

    ends : Days after which a month ended, and the depletion then. [d], [mm]
    """

    bed: BedShare
    months: Integers
    ends: tuple[Integers, Floats] | None = None

    @classmethod
    def of(cls, bed: BedShare) -> "_Zones":
        return cls(bed, bed.need.record.month)

    def days(self, month: int) -> Integers:
        """Positions of a month's days in the record; [day, year]."""
        months = self.months
        firsts = np.flatnonzero((months == month) & (np.r_[0, months[:-1]] != month))
        length = {2: 28, 4: 30, 6: 30, 9: 30, 11: 30}.get(month, 31)
        whole = firsts[firsts + length <= len(months)]
        index = (whole if len(whole) else firsts)[None, :] + np.arange(length)[:, None]
        return np.asarray(np.minimum(index, len(months) - 1))

    def ground(self, index: Integers) -> Ground:
        """The bed over those days, but for those on which something in it is new."""
        need = self.bed.need
        return Ground(
            need.rain[index], need.crop_et[index], need.total[index], need.ready[index],
            need.is_growing[index] & ~need.is_new[index], self.bed.depth_per_litre, need.steps,
        )  # fmt: skip

    def start(self, month: int) -> Floats:
        """Depletion on the evening before each year's month; nothing where that is not known."""
        firsts = self.days(month)[0]
        if self.ends is None:
            return np.zeros(len(firsts))
        ended, depletion = self.ends
        at = np.clip(np.searchsorted(ended, firsts, side="right") - 1, 0, None)
        is_next = (firsts - ended[at] >= 0) & (firsts - ended[at] <= 2)
        return np.where(is_next, depletion[at], 0.0)

    def leave(self, month: int, depletion: Floats) -> None:
        """Hand the root zones on as this month left them."""
        self.ends = self.days(month)[-1] + 1, depletion


def _litres(month: int, design: Design, positions: Sequence[Position], index: Integers) -> Floats:
    """Litres into the zone, [day, candidate, year]; none on days paused after rain."""
    record = design.beds[0].need.record
    since = np.broadcast_to(np.arange(len(index))[:, None], index.shape)
    weekday = weekday_of(record.days[index])
    steps = design.timer.delay_days
    paused = programme.paused_by_rain(record.precip[index], design.drinks[month - 1], steps)
    litres = np.zeros((len(index), len(positions), index.shape[1]))
    for i, position in enumerate(positions):
        on = position.waters_on(since, weekday) & ~paused
        litres[:, i] = np.where(on, design.litres(position.minutes_a_day), 0.0)
    return litres


def _heat_minutes(month: int, design: Design, position: Position) -> float:
    """Minutes of a run in a heat wave: the same days, but longer. [min]"""
    ratio = 1.0
    for bed in design.beds:
        need = bed.need
        here = need.is_growing & (need.record.month == month)
        if here.any() and need.crop_et[here].mean() > 0:
            hot = float(np.quantile(need.crop_et[here], HOT) / need.crop_et[here].mean())
            ratio = max(ratio, hot)
    wanted = position.run_minutes * ratio
    most = design.most_minutes / position.runs_a_day
    longer = [m for m in design.timer.positions.run_minutes if position.run_minutes <= m <= most]
    enough = [m for m in longer if m >= wanted - 0.5]
    return min(enough) if enough else max(longer, default=position.run_minutes)


def choose_for_new(design: Design) -> Position | None:
    """Setting while something roots in or comes up: every day, seedlings more than once."""
    wanted = 0.0
    for bed in design.beds:
        new = bed.need.is_new
        if new.any() and bed.efficiency > 0 and bed.flow_share > 0:
            thirsty = float(np.quantile(bed.need.crop_et[new], NEW_COVERED))
            daily = thirsty * bed.need.area_m2 / bed.efficiency
            wanted = max(wanted, daily / bed.flow_share)
    if wanted <= 0:
        return None
    minutes = schedule.exact_minutes(design.curve, design.level, wanted)
    minutes = minutes if isfinite(minutes) else design.most_minutes
    sown = any(_is_sown(bed.need) for bed in design.beds)
    every = list(schedule.positions_of(design.timer.positions, design.most_minutes))
    shortest = min(p.mean_days for p in every)
    daily_ones = [p for p in every if p.mean_days == shortest]
    runs = min(SEEDLING_RUNS if sown else 1, max(p.runs_a_day for p in daily_ones))
    fitting = [p for p in daily_ones if p.runs_a_day >= runs]
    enough = [p for p in fitting if p.minutes_a_day / p.mean_days >= minutes - 0.5]
    if not enough:
        return max(fitting, key=lambda p: p.minutes_a_day)
    return min(enough, key=lambda p: (p.runs_a_day, p.minutes_a_day))


def _is_sown(need: Need) -> bool:
    return isinstance(need.part, Bed) and need.part.started == "sown"


def programme_of(design: Design, months: Sequence[MonthChoice | None]) -> Programme:
    """The whole year's programme."""
    return Programme(
        design.timer,
        tuple(choice.setting.position if choice else None for choice in months),
        choose_for_new(design),
        design.drinks,
    )
