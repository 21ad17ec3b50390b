"""Settings of the owner's timer, month by month, and the error they leave."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from euhydra.core.delivery import DrainCurve
from euhydra.core.programme import waits_until_dry
from euhydra.core.schedule import Setting
from euhydra.core.tried_days import Gives
from euhydra.garden.catalogue import TimerKind
from euhydra.garden.drinker import Drinker
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Mark, PlanError, Verdict
from euhydra.planner.dates import MONTH_NAMES, in_season
from euhydra.planner.need.daily import Need
from euhydra.planner.time import (
    evening,
    figures,
    outcomes,
    positions,
    programme,
    running_off,
    settings,
)
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.time.outcomes import BedOutcome, MonthChoice
from euhydra.planner.time.programme import MONTHS, DayRuns, Programme
from euhydra.planner.water.solving import ZoneState
from euhydra.planner.water.zones import Zone

HARDLY_MISSED = 0.05
"""Share of what a crop drinks that it may miss in a month without harm worth a word. [-] Our choice."""

BADLY_MISSED = 0.25
"""Share from which on a setting does not work. [-] Our choice."""

WASTED = 0.75
"""Share of the need that a setting may give too much before it is said. [-] Our choice."""

SMALL_MONTH = 0.25
"""Share of the thirstiest month's need under which a month's surplus is told in litres: in percent
of next to nothing it says nothing. [-] Our choice."""

WORTH_A_WORD = 0.25
"""Part of the hardest month's need that such a surplus has to come to. [-] Our choice."""


@dataclass(frozen=True)
class MonthSetting:
    """One month on the settings card.

    choice : None where nothing grows or nothing is needed.
    growing_days : Days of the season in this month. [d]
    need, run, day, error : Litres needed a day, given a run and a day, and over the need a week,
        with their working; None where nothing is set.
    """

    month: int
    choice: MonthChoice | None
    growing_days: float
    need: Figure | None = None
    run: Figure | None = None
    day: Figure | None = None
    error: Figure | None = None

    @property
    def setting(self) -> Setting | None:
        """What is set; None where the timer is off."""
        return self.choice.setting if self.choice else None

    @property
    def need_l_day(self) -> float:
        """Gross litres of a day in season. [L d⁻¹]"""
        return self.choice.gross if self.choice else 0.0

    @property
    def over_l_week(self) -> float:
        """Litres over (plus) or under (minus) the need. [L per week]"""
        if self.choice is None:
            return 0.0
        return (self.choice.setting.litres_a_day - self.choice.gross) * figures.DAYS_PER_WEEK


@dataclass(frozen=True)
class LivedBed:
    """How a bed or pots fared through all years, water running short or not.

    days, dry_days : Days in season of a mean year, and those on which it is too dry. [d a⁻¹]
    """

    part: Drinker
    days: float
    dry_days: float

    @property
    def dry_share(self) -> float:
        """Share of its days on which it is too dry. [-]"""
        return self.dry_days / self.days if self.days > 0 else 0.0


@dataclass(frozen=True)
class TimeAnswer:
    """Twelve months of settings, and how well they fit.

    design, chosen_on : The zone through the record, which tells how the settings do; and through
        the years on which they were chosen.
    stands_by : Whether all its beds are watered by another zone first: then it is off.
    lived : Its beds through the season as it is run with all stores and sources; none before that.
    as_set : How each month does as the timer is set now; None where that is not known.
    """

    design: Design
    chosen_on: Design
    programme: Programme
    months: tuple[MonthSetting, ...]
    verdict: Verdict
    stands_by: bool = False
    lived: tuple[LivedBed, ...] = ()
    as_set: tuple[MonthChoice | None, ...] | None = None

    @property
    def zone(self) -> Zone:
        """What the timer waters."""
        return self.design.zone

    @property
    def timer(self) -> TimerKind:
        """The owner's timer."""
        return self.design.timer

    @property
    def beds(self) -> tuple[BedShare, ...]:
        """Its beds and pots."""
        return self.design.beds

    def share_of(self, part_id: str) -> BedShare:
        """What one bed has of the zone."""
        return next(bed for bed in self.beds if bed.need.part.id == part_id)

    @cached_property
    def fills(self) -> tuple[Figure, ...]:
        """How long empty reserves under pots take to fill."""
        found = (figures.fill_figure(self.design, bed) for bed in self.beds)
        return tuple(figure for figure in found if figure)

    @cached_property
    def while_new(self) -> tuple[Amount, Amount] | None:
        """What is given a day while something is new, and what that asks on nearly any; None where nothing is."""
        new, design = self.programme.new, self.design
        if new is None:
            return None
        run = design.litres(new.run_minutes, design.lowest_while_new)
        given = run * new.runs_a_day / new.mean_days
        return Amount.litres(given), Amount.litres(settings.wanted_while_new(design))

    @cached_property
    def day_runs(self) -> DayRuns:
        """What the timer does on each day of the record; a moisture switch leaves runs out."""
        needs = [bed.need for bed in self.beds]
        record = needs[0].record
        daily = programme.runs_of(self.programme, record, needs)
        if self.timer.gives is not Gives.WHEN_DRY:
            return daily
        litres = self.design.litres_each(daily.minutes, record.month)
        sinks = self.design.sinks_in_each
        nets = [
            litres * bed.depth_per_litre * sinks(bed, daily.minutes / daily.runs, record.month)
            for bed in self.beds
        ]
        opens = waits_until_dry(
            np.array(nets),
            np.array([need.rain for need in needs]),
            np.array([need.crop_et for need in needs]),
            np.array([need.total for need in needs]),
            np.array([need.ready for need in needs]),
            np.array([need.is_growing for need in needs]),
        )
        return DayRuns(np.where(opens, daily.minutes, 0.0), np.where(opens, daily.runs, 1))

    @property
    def driest(self) -> BedShare:
        """The bed or pots that are too dry most often."""
        return max(self.beds, key=lambda bed: self.dry_share_of(bed.need.part.id))

    @property
    def dry_share(self) -> float:
        """Share of its days on which the driest bed is too dry while there is water, in the record's years. [-]"""
        return self.dry_share_of(self.driest.need.part.id)

    @property
    def promised(self) -> float:
        """The same as it is lived, where that is known. [-]"""
        return max((bed.dry_share for bed in self.lived), default=self.dry_share)

    def dry_share_of(self, part_id: str) -> float:
        """Share of the days of one of its beds, over the months that have a setting. [-]"""
        days = dry = 0.0
        for month in self.months:
            for bed in month.choice.beds if month.choice else ():
                if bed.need.part.id == part_id:
                    settled = float(bed.need.settled_days[month.month - 1])
                    days += settled
                    dry += bed.stressed * settled
        return dry / days if days > 0 else 0.0

    @property
    def season_months(self) -> list[MonthSetting]:
        """Months in which something grows, in the order of the season."""
        return [self.months[n] for n in in_season([m.growing_days > 0 for m in self.months])]

    @property
    def set_months(self) -> list[MonthSetting]:
        """Months with a setting of their own."""
        return [m for m in self.months if m.choice and not m.choice.is_carried]

    @property
    def worst(self) -> dict[str, tuple[int, BedOutcome]]:
        """For each bed the month in which it misses most, by id."""
        found: dict[str, tuple[int, BedOutcome]] = {}
        for month in self.months:
            for bed in month.choice.beds if month.choice else ():
                part = bed.need.part.id
                if part not in found or bed.missed > found[part][1].missed:
                    found[part] = (month.month, bed)
        return found


def answer_time(
    zone: Zone,
    curve: DrainCurve,
    state: ZoneState,
    needs: Sequence[Need],
    chosen_on: Sequence[Need] | None = None,
    levels: Sequence[float] = (),
) -> TimeAnswer:
    """Settings under which no bed goes dry, with least water, on the timer of the zone.

    Parameters
    ----------
    state : The zone solved at its usual level.
    needs : Of the beds and pots that it waters, through the record: how the settings do is told
        from its years.
    chosen_on : The same through other years, on which the settings are chosen; None for these.
    levels : Store volume from which a run begins, in each month; half drawn down without. [L]

    Raises
    ------
    PlanError : if the zone has no timer, gives nothing, or waters no bed whose need is known.
    """
    if zone.timer is None:
        raise PlanError(
            say(
                "time-no-timer",
                "“{zone}” has no timer: choose the one you own.",
                zone=zone.name,
            )
        )
    if state.flow <= 0:
        raise PlanError(
            say(
                "time-no-water-comes",
                "No water comes out of the line: Push says why, and what would cure it.",
            )
        )
    if not needs:
        raise PlanError(
            say(
                "time-waters-bed-whose",
                "“{zone}” waters no bed whose need is known.",
                zone=zone.name,
            )
        )
    design = Design.of(zone, zone.timer, curve, state, needs, levels)
    wide = Design.of(zone, zone.timer, curve, state, chosen_on or needs, levels)
    chosen = settings.choose_year(wide)
    now = positions.set_now(zone)
    choices, *as_set = outcomes.as_told(chosen, design, [[now] * MONTHS] if now else ())
    months = tuple(_month(n, choice, design) for n, choice in enumerate(choices, 1))
    plan = settings.programme_of(wide, chosen)
    unjudged = Verdict(Mark.WORKS, say("time-not-judged", ""))
    answer = TimeAnswer(design, wide, plan, months, unjudged, as_set=as_set[0] if as_set else None)
    return replace(answer, verdict=_verdict(answer))


def _month(month: int, choice: MonthChoice | None, design: Design) -> MonthSetting:
    growing = max(float(bed.need.growing_days[month - 1]) for bed in design.beds)
    is_for_dry_years = choice is not None and (choice.gross <= 0 or design.counts_on_rain(month))
    if choice is None or choice.is_carried or is_for_dry_years:
        return MonthSetting(month, choice, growing)
    return MonthSetting(
        month,
        choice,
        growing,
        need=figures.need_figure(month, design, choice.gross),
        run=figures.run_figure(design, choice),
        day=figures.day_figure(choice.setting, choice.gross),
        error=figures.error_figure(choice.setting, choice.gross),
    )


def _verdict(answer: TimeAnswer) -> Verdict:
    set_months = answer.set_months
    if not set_months:
        return Verdict(
            Mark.BUT,
            say(
                "time-nothing-to-set",
                "Nothing to set: rain and soil carry the crop, or nothing grows.",
            ),
        )
    month, bed = max(answer.worst.values(), key=lambda pair: pair[1].missed)
    if bed.missed > HARDLY_MISSED:
        return _dry(answer, month, bed)
    return _wet(answer, set_months)


def _dry(answer: TimeAnswer, month: int, bed: BedOutcome) -> Verdict:
    """A bed that misses water whatever the timer is set to."""
    choice = answer.months[month - 1].choice
    assert choice is not None
    reasons = []
    shortest = answer.timer.positions.run_minutes[0]
    if shortest > answer.design.most_minutes:
        reasons.append(
            say(
                "time-shortest-run-longer",
                "Its shortest run is {run}, longer than the time you allow a day: allow more, or take "
                "another timer.",
                run=Amount.minutes(shortest),
            )
        )
    unlike = evening.uneven(answer.design, choice)
    if unlike:
        reasons.append(unlike.sentence)
    runoff = running_off.running_off(answer.chosen_on, [choice])
    reasons += runoff
    return Verdict(
        Mark.FAILS if bed.missed > BADLY_MISSED else Mark.BUT,
        say(
            "time-bed-too-dry",
            "In {month} the best setting leaves “{part}” short of {missed} of what it drinks, dry "
            "on {dry} of its days.",
            month=MONTH_NAMES[month - 1],
            part=bed.need.part.name,
            missed=Amount(bed.missed, "share"),
            dry=Amount(bed.stressed, "share"),
        ),
        tuple(reasons),
    )


def _wet(answer: TimeAnswer, set_months: list[MonthSetting]) -> Verdict:
    """No bed misses much: what runs off, what is given for nothing, or that all is well."""
    runoff = running_off.running_off(answer.chosen_on, [m.choice for m in set_months if m.choice])
    hardest = max(set_months, key=lambda m: m.need_l_day)
    assert hardest.choice is not None
    unlike = evening.uneven(answer.design, hardest.choice)
    reasons = (unlike.sentence,) if unlike else ()
    if runoff:
        return Verdict(Mark.BUT, runoff[0], (*runoff[1:], *reasons))
    wasted = most_wasted(set_months)
    if wasted is not None:
        return Verdict(Mark.BUT, wasted, (*reasons, _nothing_between(answer)))
    return Verdict(
        Mark.BUT if reasons else Mark.WORKS,
        say(
            "time-no-bed-too-dry",
            "Set so, “{part}” is too dry on {dry} of its days, and no bed oftener; the aim is one in"
            " twenty at most.",
            part=answer.driest.need.part.name,
            dry=Amount(answer.dry_share, "share"),
        ),
        reasons,
    )


def most_wasted(set_months: Sequence[MonthSetting]) -> Sentence | None:
    """What is said of the month in which most is given over the need; None where little is."""
    month = max(set_months, key=lambda m: m.over_l_week)
    over = month.setting.share_of_need - 1 if month.setting else 0.0
    peak = max(m.need_l_day for m in set_months) * figures.DAYS_PER_WEEK
    if over <= WASTED or month.over_l_week <= WORTH_A_WORD * peak:
        return None
    return more_than_need(month, over, peak / figures.DAYS_PER_WEEK)


def _nothing_between(answer: TimeAnswer) -> Sentence:
    """Why so much is given."""
    if answer.timer.gives is Gives.LACKING:
        return say(
            "time-fills-ground-up",
            "It fills the ground up each time, so that the next rain finds no room; a setting that waits longer"
            " leaves some.",
        )
    if answer.programme.rain_plan:
        return say("time-no-position-between", "The timer has no position between.")
    return say(
        "time-no-position-or-pause",
        "The timer has no position between, or cannot be paused after rain.",
    )


def more_than_need(month: MonthSetting, over: float, peak: float) -> Sentence:
    """That a month is given more than its mean need; in one that needs little, why.

    Parameters
    ----------
    over : Share of its need. [-]
    peak : Need of the thirstiest month. [L d⁻¹]
    """
    name, litres = MONTH_NAMES[month.month - 1], Amount.litres(month.over_l_week)
    if month.need_l_day < SMALL_MONTH * peak:
        return say(
            "time-more-in-small-month",
            "{month} gets {litres} a week more than its mean need: a dry year asks for it, and the next month"
            " begins with what it leaves. Pause the timer while it rains.",
            month=name,
            litres=litres,
        )
    return say(
        "time-more-than-need",
        "{month} gets {over} more than the mean need, {litres} a week: between dry years that sinks past the"
        " roots.",
        over=Amount(over, "share"),
        month=name,
        litres=litres,
    )
