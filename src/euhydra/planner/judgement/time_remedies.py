"""What may cure the settings: what the plan would set, a timer that can be set finer, a branch throttled."""

from collections.abc import Iterator
from math import ceil

from euhydra.core.constants import SECONDS_PER_DAY, SECONDS_PER_HOUR
from euhydra.garden import catalogue, edits
from euhydra.garden.sentences import Amount, lowered, quoted, say
from euhydra.garden.sources import Tap
from euhydra.garden.timers import Timer
from euhydra.planner.chain import ZoneChain
from euhydra.planner.dates import hour_in_words
from euhydra.planner.judgement import push_remedies
from euhydra.planner.judgement.remedy import Case, Remedies, Remedy
from euhydra.planner.time import dayplan, evening
from euhydra.planner.time.answer import TimeAnswer
from euhydra.planner.water import throttling
from euhydra.planner.water.zones import Zone

ROUND_S = 300.0
"""To which times of day are told. [s] Nobody sets a timer nearer."""

QUARTER_S = 900.0
"""To which an allowance is told. [s]"""

SPARE = (1.0, 1.5, 2.0)
"""Times what is run for now that a tap is tried with. [-]"""


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


def begin_by_turns(case: Case) -> Iterator[Remedy]:
    """Each timer begins when its turn comes, the first before dawn where that is needed."""
    plan = _busiest_day(case)
    last = max((slot.end for slot in plan.slots), default=0.0)
    first = min((slot.start for slot in plan.slots), default=0.0)
    sooner = min(max(0.0, last - dayplan.LAST_HOUR), first)
    begins = {
        zone.head.id: ROUND_S * round((start - sooner) / ROUND_S)
        for zone, start in _turns(plan)
        if isinstance(zone.head, Timer)
    }
    changed = [
        ("timers", timer.model_copy(update={"starts_s": at}))
        for timer in case.garden.timers
        if (at := begins.get(timer.id)) is not None
    ]
    yield Remedy(
        say(
            "cure-begin-by-turns",
            "Let the timers begin one after another, from {first} to {last}.",
            first=hour_in_words(min(begins.values())),
            last=hour_in_words(max(begins.values())),
        ),
        edits.put_all(case.garden, changed),
    )


def _busiest_day(case: Case) -> dayplan.DayPlan:
    """Of all timers; what a hand opens goes by turns."""
    running = (zone.running for zone in case.chain.zones)
    return dayplan.busiest_day([a for a in running if a and not a.timer.wants_somebody])


def _turns(plan: dayplan.DayPlan) -> Iterator[tuple[Zone, float]]:
    """Zones with when they run, the first run last, which is the one that counts. [s]"""
    for slot in reversed(plan.slots):
        if slot.zone is not None:
            yield slot.zone, slot.start


def allow_a_longer_day(case: Case) -> Iterator[Remedy]:
    """As long in a day as it takes: of each timer that does not end in its time."""
    plan = _busiest_day(case)
    changed = []
    for late in plan.late:
        head = late.zone.head
        if isinstance(head, Timer):
            hours = ceil((head.window_s + late.over) / SECONDS_PER_HOUR)
            longer = min(hours * SECONDS_PER_HOUR, SECONDS_PER_DAY)
            changed.append(("timers", head.model_copy(update={"window_s": longer})))
    if changed:
        yield Remedy(
            say(
                "cure-allow-a-longer-day",
                "Allow {timers} up to {longest} in a day.",
                timers=quoted(timer.name for _, timer in changed),
                longest=Amount(max(timer.window_s for _, timer in changed), "hours"),
            ),
            edits.put_all(case.garden, changed),
        )


def open_longer(case: Case) -> Iterator[Remedy]:
    """The tap allowed to run for as long as its lines take, where its owner can: they may take more when they may."""
    tap = case.part(Tap)
    for each in _busiest_day(case).too_long_open:
        if not isinstance(tap, Tap) or each.tap.id != tap.id:
            continue
        for spare in SPARE:
            longer = QUARTER_S * ceil(each.seconds * spare / QUARTER_S)
            yield Remedy(
                say(
                    "cure-open-longer",
                    "Let “{tap}” run for {longer} a day.",
                    tap=tap.name,
                    longer=Amount(longer, "hours"),
                ),
                edits.put(case.garden, "taps", tap.model_copy(update={"window_s": longer})),
            )


TIME_REMEDIES: dict[str, tuple[Remedies, ...]] = {
    "time-set-too-little": (set_as_planned,),
    "time-set-too-much": (set_as_planned,),
    "season-day-all-run": (begin_by_turns, allow_a_longer_day),
    "time-tap-open-too-long": (open_longer,),
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
