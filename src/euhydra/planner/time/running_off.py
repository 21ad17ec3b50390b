"""Runs under which water stands and runs off: where, how much, and what would cure it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from euhydra.garden import catalogue
from euhydra.garden.sentences import Amount, Sentence, lowered, say
from euhydra.planner.answers import Cure
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.time import settings
from euhydra.planner.time.design import Design
from euhydra.planner.time.settings import MonthChoice

WORTH_A_TIMER = 0.02
"""Share of a run that another timer has to save to be told. [-] Our choice."""


@dataclass(frozen=True)
class RunOff:
    """What is said of it; nothing where all sinks in."""

    reasons: tuple[Sentence, ...] = ()
    cures: tuple[Cure, ...] = ()


def running_off(design: Design, choices: Sequence[MonthChoice]) -> RunOff:
    """Of the month in which most runs off."""
    choices = [choice for choice in choices if choice.runs_off]
    if not choices:
        return RunOff()
    worst = max(choices, key=lambda choice: lost_share(design, choice))
    lost = lost_share(design, worst)
    return RunOff((_reason(design, worst, lost),), _cure(design, worst, lost))


def lost_share(design: Design, choice: MonthChoice) -> float:
    """Share of a run that runs off, where most does. [-]"""
    minutes = np.array([choice.setting.position.run_minutes])
    return 1 - min(float(design.sinks_in(bed, minutes, choice.month)[0]) for bed in design.beds)


def _reason(design: Design, choice: MonthChoice, lost: float) -> Sentence:
    minutes = np.array([choice.setting.position.run_minutes])
    bed = min(design.beds, key=lambda b: float(design.sinks_in(b, minutes, choice.month)[0]))
    return say(
        "time-water-stand-run",
        "On “{bed}” water stands after {longest}, and {lost} of a run of {run} in {month} runs off: open it"
        " {times} times for {each} instead, an hour between.",
        bed=bed.need.part.name,
        longest=Amount.minutes(design.minutes_before_runoff(choice.month)),
        run=Amount.minutes(choice.setting.position.run_minutes),
        each=Amount.minutes(choice.cycle_minutes),
        month=MONTH_NAMES[choice.month - 1],
        times=choice.cycles,
        lost=Amount(lost, "share"),
    )


def _cure(design: Design, choice: MonthChoice, lost: float) -> tuple[Cure, ...]:
    """The kind of timer with more starts under which least runs off, tried on the month."""
    head = design.head_at_valve
    best, least = None, lost - WORTH_A_TIMER
    for timer in catalogue.timers().values():
        has_more = timer.positions.starts > design.timer.positions.starts
        if timer.wants_somebody or not has_more or timer.least_opening_head_m > head:
            continue
        other = settings.choose_month(choice.month, replace(design, timer=timer))
        if other is not None and lost_share(design, other) < least:
            best, least = (timer, other.setting.position), lost_share(design, other)
    if best is None:
        return ()
    timer, position = best
    return (
        Cure(
            say(
                "time-timer-with-starts",
                "A timer with several starts: {timer}.",
                timer=lowered(timer.name),
            ),
            say(
                "time-starts-lose-less",
                "Then {times} runs of {each} a day in {month}, and {lost} of them runs off.",
                times=position.runs_a_day,
                each=Amount.minutes(position.run_minutes),
                month=MONTH_NAMES[choice.month - 1],
                lost=Amount(max(least, 0.0), "share"),
            ),
        ),
    )
