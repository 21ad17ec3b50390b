"""The owner's present setting against the plan: over- or under-watering, explained from the roots."""

from dataclasses import dataclass

from euhydra.core.schedule import Position
from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.answers import Figure, Mark, Verdict, Working
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.time import positions
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.time.design import BedShare, Design
from euhydra.planner.time.outcomes import MonthChoice

TOO_DRY = 0.10
"""Share of a month's days too dry from which on a setting is called too little. [-] Our choice."""

TOO_WET = 0.30
"""Share of what is given that sinks past the roots from which on it is called too much. [-]
Our choice."""


@dataclass(frozen=True)
class MonthJudgement:
    """One month under the present setting: `too little`, `too much` or `about right`, and why."""

    month: int
    judged: str
    reason: Sentence
    given_l_day: float
    planned_l_day: float


@dataclass(frozen=True)
class SettingJudgement:
    """The present setting through the season, beside the plan."""

    position: Position
    months: tuple[MonthJudgement, ...]
    figures: tuple[Figure, ...]
    verdict: Verdict


def judge(answer: TimeAnswer) -> SettingJudgement | None:
    """The setting that the timer has now; None where the owner has not said."""
    design, now = answer.design, answer.as_set
    position = positions.set_now(answer.zone)
    if position is None or now is None:
        return None
    plan = [m.choice for m in answer.months]
    pairs = [(n, p) for n, p in zip(now, plan, strict=True) if n is not None]
    months = tuple(_month(design, n, p) for n, p in pairs)
    figures = _figures(design, pairs)
    return SettingJudgement(position, months, figures, _verdict(months, figures))


def _month(design: Design, now: MonthChoice, plan: MonthChoice | None) -> MonthJudgement:
    given = now.setting.litres_a_day
    planned = plan.setting.litres_a_day if plan else 0.0
    driest = max(now.beds, key=lambda bed: bed.stressed)
    lost = sum(bed.drained_l_day for bed in now.beds)
    share = next(s for s in design.beds if s.need is driest.need)
    if driest.stressed > TOO_DRY:
        judged, reason = "too little", _why_dry(now, share, driest.stressed)
    elif given > 0 and lost / given > TOO_WET and given > 1.1 * planned:
        wettest = max(now.beds, key=lambda bed: bed.drained_l_day)
        share = next(s for s in design.beds if s.need is wettest.need)
        judged, reason = "too much", _why_wet(now, share, lost / given)
    else:
        judged, reason = (
            "about right",
            say("time-stays-between-refill", "It stays between refill point and full."),
        )
    return MonthJudgement(now.month, judged, reason, given, planned)


def _why_dry(now: MonthChoice, share: BedShare, stressed: float) -> Sentence:
    position, need = now.setting.position, share.need
    drunk = float(need.crop_et_a_day[now.month - 1]) * position.mean_days
    return say(
        "time-dry-days-watering",
        "“{part}” is too dry on {dry} of the days: from one watering to the next it drinks "
        "{drunk}, a watering brings {brings}, and {ready} are within easy reach.",
        part=need.part.name,
        dry=Amount(stressed, "share"),
        drunk=Amount.millimetres(drunk),
        brings=Amount.millimetres(_net_depth(now, share)),
        ready=Amount.millimetres(float(need.ready_by_month[now.month - 1])),
    )


def _why_wet(now: MonthChoice, share: BedShare, lost: float) -> Sentence:
    position, need = now.setting.position, share.need
    drunk = float(need.crop_et_a_day[now.month - 1]) * position.mean_days
    return say(
        "time-sinks-past-roots",
        "{lost} of it sinks past the roots: a watering brings {brings} to “{part}”, which has "
        "drunk {drunk} since the last.",
        part=need.part.name,
        lost=Amount(lost, "share"),
        brings=Amount.millimetres(_net_depth(now, share)),
        drunk=Amount.millimetres(drunk),
    )


def _net_depth(now: MonthChoice, share: BedShare) -> float:
    """Depth that a watering day brings. [mm]"""
    setting = now.setting
    return setting.litres_a_run * setting.position.runs_a_day * share.depth_per_litre


def _figures(
    design: Design, pairs: list[tuple[MonthChoice, MonthChoice | None]]
) -> tuple[Figure, ...]:
    days = {n.month: design.settled_days(n.month) for n, _ in pairs}

    def litres(choices: list[MonthChoice]) -> float:
        return sum(c.setting.litres_a_day * days[c.month] for c in choices)

    def lost(choices: list[MonthChoice]) -> float:
        return sum(sum(b.drained_l_day for b in c.beds) * days[c.month] for c in choices)

    def dry(choices: list[MonthChoice]) -> float:
        return sum(max(b.stressed for b in c.beds) * days[c.month] for c in choices)

    now, plan = [n for n, _ in pairs], [p for _, p in pairs if p is not None]
    return (
        _both("Water a season", Amount.litres(litres(now)), Amount.litres(litres(plan))),
        _both("Lost past the roots", Amount.litres(lost(now)), Amount.litres(lost(plan))),
        _both("Days too dry, driest bed", Amount.days(dry(now)), Amount.days(dry(plan))),
    )


def _both(label: str, now: Amount, plan: Amount) -> Figure:
    return Figure(
        f"{label}, as set now",
        now,
        Working(
            "the present setting, and the plan, tried on the root zones of every year",
            {"as set now": now, "by the plan": plan},
            "FAO-56 ch. 8, root-zone balance",
            (
                "Mean of all years, days on which nothing is new; the store as full as it usually stands in each month.",
            ),
        ),
    )


def _verdict(months: tuple[MonthJudgement, ...], figures: tuple[Figure, ...]) -> Verdict:
    inputs = figures[0].working.inputs
    now, plan = inputs["as set now"].value, inputs["by the plan"].value
    wrong = {
        judged: [MONTH_NAMES[m.month - 1] for m in months if m.judged == judged]
        for judged in ("too little", "too much")
    }
    amounts = {"more": Amount(abs(now - plan), "volume")}
    than = "more" if now > plan else "less"
    if not any(wrong.values()):
        return Verdict(
            Mark.WORKS,
            say(
                "time-set-now-well",
                "Set as it is now it does about as well: {more} {than} than the plan a season.",
                than=than,
                **amounts,
            ),
        )
    said = "; ".join(f"{judged} in {', '.join(names)}" for judged, names in wrong.items() if names)
    return Verdict(
        Mark.FAILS if wrong["too little"] else Mark.BUT,
        say(
            "time-set-now-plan",
            "Set as it is now: {said}. {more} {than} than the plan a season.",
            said=said,
            than=than,
            **amounts,
        ),
    )
