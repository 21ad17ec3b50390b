"""What the settings leave dry or soggy: as the timer is set now, and at its best."""

from collections.abc import Iterable, Iterator

from euhydra.core.programme import STRESSED_DAYS
from euhydra.garden.sentences import Amount, say
from euhydra.planner.chain import Chain, ZoneChain
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.judgement import supply
from euhydra.planner.judgement.finding import Finding, Severity
from euhydra.planner.time import answer as time_answer
from euhydra.planner.time import dayplan, evening, present_setting, running_off
from euhydra.planner.time.answer import TimeAnswer

SLACK = 0.02
"""Share of the days by which chance leads away from what is promised. [-] Our choice."""


def time_findings(chain: Chain) -> Iterator[Finding]:
    """Of every zone with a timer, and of those that want one."""
    for each in chain.zones:
        if isinstance(each.time, TimeAnswer):
            if not each.time.stands_by:
                yield from _of_zone(each, each.time)
        elif each.time.sentence.code in ("time-no-timer",):
            yield Finding.of(each.time.sentence, each.zone.source.id, about=each.zone.id)
    yield from _day_too_full(chain)


def _day_too_full(chain: Chain) -> Iterator[Finding]:
    """Timers that do not end in their time, and taps that run longer in all than they may; a hand goes by turns."""
    timed = [z.running for z in chain.zones if z.running and not z.running.timer.wants_somebody]
    if not timed:
        return
    plan = dayplan.busiest_day(timed)
    if plan.late:
        worst = max(plan.late, key=lambda late: late.over)
        heads = [late.zone.head.id for late in plan.late if late.zone.head is not None]
        yield Finding.of(plan.does_not_fit[0], *heads, about=worst.zone.id)
    for each, sentence in zip(
        plan.too_long_open, plan.does_not_fit[bool(plan.late) :], strict=True
    ):
        last = next(a.zone for a in reversed(timed) if a.zone.source.id == each.tap.id)
        yield Finding.of(sentence, each.tap.id, about=last.id)


def _of_zone(each: ZoneChain, answer: TimeAnswer) -> Iterator[Finding]:
    about, head = each.zone.id, each.zone.head
    timer = head.id if head else each.zone.source.id
    judged = present_setting.judge(answer)
    wrong = [m for m in judged.months if m.judged != "about right"] if judged else []
    if judged and wrong:
        worst = max(
            wrong, key=lambda m: (m.judged == "too little", abs(m.given_l_day - m.planned_l_day))
        )
        is_dry = worst.judged == "too little"
        yield Finding.of(
            say(
                "time-set-too-little" if is_dry else "time-set-too-much",
                "As “{timer}” is set now it gives too {much} in {months}: {given} a day where {planned} would do.",
                timer=head.name if head else each.zone.name,
                much="little" if is_dry else "much",
                months=_months(m.month for m in wrong if m.judged == worst.judged),
                given=Amount.litres(worst.given_l_day),
                planned=Amount.litres(worst.planned_l_day),
            ),
            timer,
            about=about,
            symptoms=(worst.reason,),
        )
    choices = [m.choice for m in answer.set_months if m.choice]
    if not choices:
        return
    runoff = running_off.running_off(answer.chosen_on, choices)
    weight = _weight(answer) if any(map(supply.is_too_dry, answer.lived)) else None
    for sentence in runoff:
        yield Finding.of(sentence, timer, about=about, severity=weight)
    hardest = max(choices, key=lambda choice: choice.gross)
    unlike = evening.uneven(answer.design, hardest)
    if unlike:
        yield Finding.of(unlike.sentence, unlike.soggy[0][0].need.part.id, timer, about=about)
    yield from _source_too_short(each, answer)
    dry = _too_dry(each, answer)
    if dry and not runoff:
        yield dry
    elif not runoff and not unlike:
        yield from _too_much(each, answer, timer)


def _months(months: Iterable[int]) -> str:
    return ", ".join(MONTH_NAMES[month - 1] for month in months)


def _source_too_short(each: ZoneChain, answer: TimeAnswer) -> Iterator[Finding]:
    """A tap or a drum that gives less than the settings ask; of a store, Store tells it."""
    if each.zone.group is not None or not answer.lived:
        return
    worst = max(answer.lived, key=lambda bed: bed.dry_share)
    by_setting = answer.dry_share_of(worst.part.id)
    if worst.dry_share > STRESSED_DAYS + SLACK and worst.dry_share - by_setting > SLACK:
        yield Finding.of(
            say(
                "time-source-gives-too-little",
                "“{part}” is too dry on {lived} of its days, and would be on {set} by its setting: “{source}” gives no"
                " more.",
                part=worst.part.name,
                source=each.zone.source.name,
                lived=Amount(worst.dry_share, "share"),
                set=Amount(by_setting, "share"),
            ),
            each.zone.source.id,
            worst.part.id,
            about=each.zone.id,
            severity=_weight(answer),
        )


def _weight(answer: TimeAnswer) -> Severity:
    """How much it weighs that the driest bed of a zone is as dry as it is."""
    return supply.weight_of_dry(max((bed.dry_days for bed in answer.lived), default=0.0))


def _too_dry(each: ZoneChain, answer: TimeAnswer) -> Finding | None:
    """A bed that misses water whatever the timer is set to, while there is water."""
    month, bed = max(answer.worst.values(), key=lambda pair: pair[1].missed)
    if bed.missed <= time_answer.HARDLY_MISSED:
        return None
    head, shortest = each.zone.head, answer.timer.positions.run_minutes[0]
    name = answer.timer.name if head is None else head.name
    missed = say(
        "time-misses",
        "In {month} it misses {missed} of what it drinks, and is dry on {dry} of its days.",
        month=MONTH_NAMES[month - 1],
        missed=Amount(bed.missed, "share"),
        dry=Amount(bed.stressed, "share"),
    )
    if shortest > answer.design.most_minutes:
        cause = say(
            "time-run-over-window",
            "The shortest run of “{timer}” is {run}, longer than the {window} you allow a day.",
            timer=name,
            run=Amount.minutes(shortest),
            window=Amount(each.zone.window_s, "hours"),
        )
    else:
        cause = say(
            "time-no-setting-does",
            "No setting of “{timer}” keeps “{part}” from drying.",
            timer=name,
            part=bed.need.part.name,
        )
    parts = (head.id if head else each.zone.source.id, bed.need.part.id)
    weight = _weight(answer)
    return Finding.of(cause, *parts, about=each.zone.id, symptoms=(missed,), severity=weight)


def _too_much(each: ZoneChain, answer: TimeAnswer, timer: str) -> Iterator[Finding]:
    """A timer too coarse for what is needed: much is given for nothing."""
    wasted = time_answer.most_wasted(answer.set_months)
    if wasted is not None:
        yield Finding.of(wasted, timer, about=each.zone.id)
