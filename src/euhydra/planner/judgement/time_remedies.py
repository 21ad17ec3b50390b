"""What may cure the settings: what the plan would set, a timer that can be set finer, a branch throttled."""

from collections.abc import Iterator

from euhydra.garden import catalogue, edits
from euhydra.garden.sentences import Amount, lowered, say
from euhydra.garden.timers import Timer
from euhydra.planner.chain import ZoneChain
from euhydra.planner.judgement import push_remedies
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.time import evening
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.water import throttling


def _timed(case: Case) -> tuple[ZoneChain, TimeAnswer, Timer] | None:
    each = case.zone
    if (
        each is None
        or not isinstance(each.time, TimeAnswer)
        or not isinstance(each.zone.head, Timer)
    ):
        return None
    return each, each.time, each.zone.head


def set_as_planned(case: Case) -> Iterator[Remedy]:
    """The plan's setting of the thirstiest month; or month by month, as the card has it."""
    found = _timed(case)
    if found is None:
        return
    _, answer, timer = found
    by_need = sorted(answer.set_months, key=lambda m: -m.need_l_day)
    seen = set()
    for month in by_need:
        assert month.setting is not None
        position = month.setting.position
        key = (position.run_minutes, position.interval_days, position.starts)
        if key in seen or position.interval_days != int(position.interval_days):
            continue
        seen.add(key)
        set_so = timer.model_copy(
            update={
                "set_minutes": position.run_minutes * 60.0,
                "set_every_d": int(position.interval_days),
                "set_starts": position.starts,
            }
        )
        yield Remedy(
            say(
                "cure-set-it",
                "Set “{timer}” to {minutes}, every {days}.",
                timer=timer.name,
                minutes=Amount.minutes(position.run_minutes),
                days=Amount.days(position.interval_days),
            ),
            edits.put(case.garden, "timers", set_so),
        )
    yield Remedy(
        say(
            "cure-set-by-card",
            "Set “{timer}” anew each month, as the card has it.",
            timer=timer.name,
        ),
        edits.put(case.garden, "timers", timer.model_copy(update={"set_minutes": None})),
    )


def other_timer(case: Case) -> Iterator[Remedy]:
    """Another kind of timer that opens there, those that can be set finer first."""
    found = _timed(case)
    if found is None:
        return
    _, answer, timer = found
    now = answer.timer
    kinds = [
        kind
        for kind in catalogue.timers().values()
        if kind.id != now.id
        and not kind.wants_somebody
        and kind.least_opening_head_m <= answer.design.head_at_valve
    ]
    kinds.sort(
        key=lambda kind: (
            kind.positions.starts < now.positions.starts,
            kind.positions.run_minutes[0],
        )
    )
    for kind in kinds:
        yield Remedy(
            say("cure-other-timer", "Another timer: {timer}.", timer=lowered(kind.name)),
            edits.put(case.garden, "timers", timer.model_copy(update={"kind": kind.id})),
        )


def throttle(case: Case) -> Iterator[Remedy]:
    """The branch that gets too much, throttled by what its bed asks."""
    found = _timed(case)
    if found is None:
        return
    each, answer, _ = found
    asks = evening.asks_of(answer.design)
    set_right = throttling.throttle(each.zone, asks) if asks else None
    if set_right is not None:
        yield Remedy(
            say(
                "cure-throttle",
                "Throttle what gets too much, by cup and stopwatch: First run has the cups.",
            ),
            set_right.zone.garden,
        )


def give_less(case: Case) -> Iterator[Remedy]:
    """Timers on the store that give much more than is needed."""
    for each in case.chain.zones:
        timed = isinstance(each.time, TimeAnswer) and isinstance(each.zone.head, Timer)
        on_it = each.zone.group is not None and each.zone.group.id == case.finding.about
        if (
            timed
            and on_it
            and isinstance(each.zone.head, Timer)
            and each.zone.head.set_minutes is not None
        ):
            timer = each.zone.head
            yield Remedy(
                say(
                    "cure-set-by-card",
                    "Set “{timer}” anew each month, as the card has it.",
                    timer=timer.name,
                ),
                edits.put(case.garden, "timers", timer.model_copy(update={"set_minutes": None})),
            )


TIME_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "time-set-too-little": (set_as_planned,),
    "time-set-too-much": (set_as_planned,),
    "time-water-stand-run": (other_timer,),
    "time-bed-soggy": (throttle, push_remedies.one_after_another),
    "time-no-setting-does": (
        other_timer,
        push_remedies.allow_longer,
        push_remedies.one_after_another,
    ),
    "time-run-over-window": (push_remedies.allow_longer, other_timer),
    "time-more-than-need": (other_timer,),
}
