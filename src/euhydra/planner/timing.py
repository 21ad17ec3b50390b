"""Settings of the owner's timer, month by month, and the error they leave."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import isfinite

from euhydra.core import schedule
from euhydra.core.constants import LITRES_PER_CUBIC_METRE
from euhydra.core.delivery import DrainCurve
from euhydra.core.schedule import Setting
from euhydra.garden.catalogue import TimerKind
from euhydra.planner.answers import (
    Amount,
    Cure,
    Figure,
    Mark,
    PlanError,
    Sentence,
    Verdict,
    Working,
    say,
)
from euhydra.planner.need import Need
from euhydra.planner.solving import ZoneState
from euhydra.planner.zones import Zone

SECONDS_PER_MINUTE = 60.0
SECONDS_PER_DAY = 86400.0
DAYS_PER_WEEK = 7.0

WELL_SET = 0.10
"""Error of a setting that still counts as right. [-] Our choice."""

DESIGN_SHARE = 0.5
"""Share of the drawable water at which a run is set: the barrel stands above it in some weeks and
below it in others. [-] Our choice."""


@dataclass(frozen=True)
class MonthSetting:
    """One month on the settings card.

    setting : None where nothing grows or nothing is needed.
    need_l_day : Gross litres of a day in season. [L d⁻¹]
    growing_days : Days of the season in this month. [d]
    exact_minutes : Minutes that would fit exactly at the interval chosen. [min]
    need, run, day, error : Litres needed a day, given a run and a day, and over the need a week,
        with their working; None where nothing is set.
    """

    month: int
    setting: Setting | None
    need_l_day: float
    growing_days: float
    exact_minutes: float
    need: Figure | None = None
    run: Figure | None = None
    day: Figure | None = None
    error: Figure | None = None

    @property
    def error_l_week(self) -> float:
        """Litres over (plus) or under (minus) the need. [L per week]"""
        return self.error.amount.value * LITRES_PER_CUBIC_METRE if self.error else 0.0


@dataclass(frozen=True)
class TimeAnswer:
    """Twelve months of settings, and how well they fit."""

    zone: Zone
    timer: TimerKind
    months: tuple[MonthSetting, ...]
    efficiency: float
    beds: tuple["BedShare", ...]
    verdict: Verdict

    def share_of(self, bed_id: str) -> "BedShare":
        """What one bed has of the zone."""
        return next(bed for bed in self.beds if bed.need.bed.id == bed_id)


@dataclass(frozen=True)
class BedShare:
    """A bed's part in its zone.

    flow_share : Of the zone's water, what comes to it. [-]
    efficiency : Low-quarter uniformity within it. [-]
    """

    need: Need
    flow_share: float
    efficiency: float

    def gross(self, month: int) -> float:
        """Litres that it should be given a day. [L d⁻¹]"""
        net = float(self.need.net_a_day[month - 1])
        return net * self.need.bed.area_m2 / self.efficiency if self.efficiency > 0 else 0.0


@dataclass(frozen=True)
class _Design:
    """What every month's setting is made from.

    level : Store volume from which a run is set. [L]
    """

    zone: Zone
    timer: TimerKind
    curve: DrainCurve
    beds: tuple[BedShare, ...]

    @property
    def area_m2(self) -> float:
        """Of all its beds. [m²]"""
        return sum(bed.need.bed.area_m2 for bed in self.beds)

    def mean(self, daily: str, month: int) -> float:
        """A depth of a day of a month, mean over the area of its beds. [mm d⁻¹]"""
        depths = (
            float(getattr(bed.need, daily)[month - 1]) * bed.need.bed.area_m2 for bed in self.beds
        )
        return sum(depths) / self.area_m2

    @property
    def level(self) -> float:
        """Store volume from which a run is set. [L]"""
        return self.curve.dead + DESIGN_SHARE * (self.curve.full - self.curve.dead)


def answer_time(
    zone: Zone, curve: DrainCurve, state: ZoneState, needs: Sequence[Need]
) -> TimeAnswer:
    """Settings that come nearest to each month's need, on the timer of the zone.

    Parameters
    ----------
    state : The zone solved at the level at which times are reckoned.
    needs : Of the beds that it waters.

    Raises
    ------
    PlanError : if the zone has no timer, gives nothing, or waters no bed whose need is known.
    """
    if zone.timer is None:
        raise PlanError(f"“{zone.name}” has no timer: choose the one you own.")
    if state.flow <= 0:
        raise PlanError("No water comes out of the line: Push says why, and what would cure it.")
    if not needs:
        raise PlanError(f"“{zone.name}” waters no bed whose need is known.")
    beds = tuple(
        BedShare(need, state.share_to(need.bed.id), state.low_quarter_in(need.bed.id))
        for need in needs
    )
    design = _Design(zone, zone.timer, curve, beds)
    months = tuple(_month(month, design) for month in range(1, 13))
    return TimeAnswer(
        zone, zone.timer, months, state.low_quarter, beds, _verdict(zone, months, beds)
    )


def _month(month: int, design: _Design) -> MonthSetting:
    gross = sum(bed.gross(month) for bed in design.beds)
    growing = max(float(bed.need.growing_days[month - 1]) for bed in design.beds)
    if gross <= 0:
        return MonthSetting(month, None, 0.0, growing, 0.0)
    thirsty = [bed.need for bed in design.beds if float(bed.need.net_a_day[month - 1]) > 0]
    most_days = min(
        schedule.longest_interval(
            float(need.ready_by_month[month - 1]), float(need.crop_et_a_day[month - 1])
        )
        for need in thirsty
    )
    most_minutes = design.zone.window_s / SECONDS_PER_MINUTE
    setting = schedule.best_setting(
        design.timer.positions, design.curve, design.level, gross, most_days, most_minutes
    )
    exact = schedule.exact_minutes(design.curve, design.level, gross * setting.interval_days)
    return MonthSetting(
        month,
        setting,
        gross,
        growing,
        exact,
        need=_need_figure(month, design, gross),
        run=_run_figure(design, setting, most_days),
        day=_day_figure(setting, gross),
        error=_error_figure(setting, gross),
    )


def _need_figure(month: int, design: _Design, gross: float) -> Figure:
    net = design.mean("net_a_day", month)
    efficiency = net * design.area_m2 / gross
    return Figure(
        "Litres a day",
        Amount(gross / LITRES_PER_CUBIC_METRE, "volume"),
        Working(
            "net watering a day × bed area ÷ uniformity of the line",
            {
                "crop's drinking ETc": Amount(design.mean("crop_et_a_day", month) / 1000, "rain"),
                "net watering, after rain": Amount(net / 1000, "rain"),
                "bed area": Amount(design.area_m2, "area"),
                "low-quarter uniformity": Amount(efficiency, "share"),
            },
            "FAO-56 ch. 6 and 8; low-quarter uniformity as Merriam and Keller (1978)",
            ("Mean of the days in season of this month, over the whole record.",),
        ),
    )


def _run_figure(design: _Design, setting: Setting, most_days: float) -> Figure:
    return Figure(
        "Litres a run",
        Amount(setting.litres_a_run / LITRES_PER_CUBIC_METRE, "volume"),
        Working(
            "flow of the solved line, added up while the store's level falls",
            {
                "run": Amount(setting.run_minutes * SECONDS_PER_MINUTE, "minutes"),
                "water there when the run begins": Amount(
                    design.level / LITRES_PER_CUBIC_METRE, "volume"
                ),
                "longest the soil lasts": Amount(most_days * SECONDS_PER_DAY, "days"),
                "longest you allow": Amount(design.zone.window_s, "hours"),
            },
            "Solved network; interval at most RAW ÷ ETc (FAO-56 ch. 8)",
            (
                f"Positions of the “{design.timer.name}” only.",
                f"Set for a {design.zone.noun} that is half drawn down.",
            ),
        ),
    )


def _day_figure(setting: Setting, gross: float) -> Figure:
    return Figure(
        "Litres a day, given",
        Amount(setting.litres_a_day / LITRES_PER_CUBIC_METRE, "volume"),
        Working(
            "litres a run ÷ days from one run to the next",
            {
                "litres a run": Amount(setting.litres_a_run / LITRES_PER_CUBIC_METRE, "volume"),
                "from one run to the next": Amount(setting.interval_days * SECONDS_PER_DAY, "days"),
                "share of the need": Amount(setting.litres_a_day / gross, "share"),
            },
            "Arithmetic",
        ),
    )


def _error_figure(setting: Setting, gross: float) -> Figure:
    over = (setting.litres_a_day - gross) * DAYS_PER_WEEK
    return Figure(
        "Over the need, a week",
        Amount(over / LITRES_PER_CUBIC_METRE, "volume"),
        Working(
            "(litres given − litres needed a day) × 7",
            {
                "given a day": Amount(setting.litres_a_day / LITRES_PER_CUBIC_METRE, "volume"),
                "needed a day": Amount(gross / LITRES_PER_CUBIC_METRE, "volume"),
            },
            "Arithmetic",
            ("Plus is too much, minus too little. The timer has no position between.",),
        ),
    )


def _verdict(zone: Zone, months: tuple[MonthSetting, ...], beds: tuple[BedShare, ...]) -> Verdict:
    set_months = [m for m in months if m.setting]
    if not set_months:
        return Verdict(
            Mark.BUT,
            Sentence("Nothing to set: rain and soil carry the crop, or nothing grows."),
        )
    starved = _starved(set_months, beds)
    if starved:
        return starved
    worst = max(set_months, key=lambda m: abs(_off(m)))
    off = _off(worst)
    amounts = {
        "off": (abs(off), "share"),
        "litres": (abs(worst.error_l_week) / LITRES_PER_CUBIC_METRE, "volume"),
    }
    if abs(off) <= WELL_SET:
        return Verdict(
            Mark.WORKS,
            say("This timer can be set to within {off} of the need in every month.", **amounts),
        )
    month = MONTH_NAMES[worst.month - 1]
    if off > 0:
        return Verdict(
            Mark.BUT,
            say(
                f"In {month} the nearest setting gives {{off}} too much, {{litres}} a week.",
                **amounts,
            ),
        )
    return Verdict(
        Mark.FAILS if off < -0.3 else Mark.BUT,
        say(
            f"In {month} the nearest setting leaves {{off}} of the need unmet, {{litres}} a week.",
            **amounts,
        ),
        cures=_window_cure(zone, worst),
    )


UNFAIR = 0.25
"""Part of its due that a bed may miss because it shares a timer. [-] Our choice."""


def _starved(months: list[MonthSetting], beds: tuple[BedShare, ...]) -> Verdict | None:
    """A bed that gets too little because the zone's water is not shared as the beds need it."""
    if len(beds) < 2:
        return None
    hardest = max(months, key=lambda m: m.need_l_day)
    assert hardest.setting is not None
    given = hardest.setting.litres_a_day
    thirsty = [bed for bed in beds if bed.gross(hardest.month) > 0]
    met, bed = min(
        ((b.flow_share * given / b.gross(hardest.month), b) for b in thirsty),
        key=lambda pair: pair[0],
    )
    if met >= 1 - UNFAIR:
        return None
    return Verdict(
        Mark.BUT,
        say(
            f"On one timer, “{bed.need.bed.name}” gets {{met}} of what it needs in {MONTH_NAMES[hardest.month - 1]}.",
            met=(met, "share"),
        ),
        (Sentence("Beds that drink unlike belong on timers of their own, or their branches want throttling."),),
    )  # fmt: skip


def _window_cure(zone: Zone, worst: MonthSetting) -> tuple[Cure, ...]:
    if not isfinite(worst.exact_minutes):
        return ()
    wanted = worst.exact_minutes * SECONDS_PER_MINUTE
    if wanted <= zone.window_s:
        return ()
    return (
        Cure(
            say("Allow {hours} of watering on a day.", hours=(wanted, "hours")),
            say("Then one run of {minutes} covers it.", minutes=(wanted, "minutes")),
        ),
    )


def _off(month: MonthSetting) -> float:
    return month.setting.share_of_need - 1 if month.setting else 0.0


MONTH_NAMES = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
