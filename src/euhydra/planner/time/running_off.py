"""Runs under which water stands and runs off: where, and how much."""

from collections.abc import Sequence

import numpy as np

from euhydra.garden.sentences import Amount, Sentence, say
from euhydra.planner.dates import MONTH_NAMES
from euhydra.planner.time.design import Design
from euhydra.planner.time.outcomes import MonthChoice

WORTH_SAYING = 0.02
"""Share of a run that has to run off to be told. [-] Our choice."""


def running_off(design: Design, choices: Sequence[MonthChoice]) -> tuple[Sentence, ...]:
    """What is said of the month in which most runs off; nothing where all sinks in."""
    choices = [choice for choice in choices if choice.runs_off]
    if not choices:
        return ()
    worst = max(choices, key=lambda choice: lost_share(design, choice))
    lost = lost_share(design, worst)
    if lost < WORTH_SAYING:
        return ()
    return (_reason(design, worst, lost),)


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
