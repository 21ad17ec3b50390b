"""What a timer is set to, as the plan has it and as the log says it: one and the same."""

from collections.abc import Iterator
from datetime import datetime

from euhydra.core.constants import SECONDS_PER_DAY
from euhydra.garden.logbook import LogEntry
from euhydra.garden.model import Garden
from euhydra.garden.timers import Timer

KIND = "setting"

LONGEST_INTERVAL_D = 14
"""Longest that a timer's plan holds. [d]"""

MOST_STARTS = 8


def said_of(timer: Timer, at: datetime) -> LogEntry | None:
    """The log's entry of what the plan has a timer set to; None where that is not told."""
    if timer.set_minutes is None:
        return None
    every = timer.set_every_d * SECONDS_PER_DAY / timer.set_starts
    return LogEntry(KIND, at, timer.id, (timer.set_minutes, every))


def planned_as(timer: Timer, entry: LogEntry) -> Timer:
    """The timer set as the log's entry says; off is not set."""
    run, every = entry.amounts[0] or 0.0, entry.amounts[1] or SECONDS_PER_DAY
    days = min(max(round(every / SECONDS_PER_DAY), 1), LONGEST_INTERVAL_D)
    starts = min(max(round(SECONDS_PER_DAY / every), 1), MOST_STARTS)
    fields = {
        "set_minutes": run if run >= 60 else None,
        "set_every_d": days,
        "set_starts": starts,
    }
    return Timer.model_validate(timer.model_dump() | fields)


def changed(before: Garden, after: Garden, at: datetime) -> Iterator[LogEntry]:
    """An entry of each timer that a change of the plan sets otherwise; of a new one too."""
    was = {timer.id: said_of(timer, at) for timer in before.timers}
    for timer in after.timers:
        entry = said_of(timer, at)
        if entry is not None and entry != was.get(timer.id):
            yield entry
