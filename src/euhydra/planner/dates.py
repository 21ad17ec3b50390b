"""Months, weekdays, days and hours in words, and how often a timer waters."""

from collections.abc import Collection, Sequence
from datetime import date

from euhydra.core.schedule import Position

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

WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")


def day_in_words(day: date) -> str:
    """A day without its year, such as `8 July`."""
    return f"{day.day} {MONTH_NAMES[day.month - 1]}"


def months_in_words(months: Collection[int]) -> str:
    """Months of the year, January being 1, such as `May to September, December`."""
    wanted = set(months)
    if not wanted or len(wanted) == len(MONTH_NAMES):
        return "all year"
    runs: list[list[int]] = []
    first = next(m for m in range(1, 13) if m in wanted and (m - 2) % 12 + 1 not in wanted)
    for month in ((first + i - 1) % 12 + 1 for i in range(12)):
        if month not in wanted:
            continue
        if runs and runs[-1][-1] % 12 + 1 == month:
            runs[-1].append(month)
        else:
            runs.append([month])
    return ", ".join(
        MONTH_NAMES[run[0] - 1]
        if len(run) == 1
        else f"{MONTH_NAMES[run[0] - 1]} to {MONTH_NAMES[run[-1] - 1]}"
        for run in runs
    )


def in_season(grows: Sequence[bool]) -> list[int]:
    """Places of the months in which something grows, from the first after those in which nothing does.

    Parameters
    ----------
    grows : Of January to December.
    """
    first = next((n for n, each in enumerate(grows) if each and not grows[n - 1]), 0)
    return [n % len(grows) for n in range(first, first + len(grows)) if grows[n % len(grows)]]


def hour_in_words(seconds: float) -> str:
    """An hour of the day, such as `5:30`."""
    minutes = round(seconds / 60)
    return f"{minutes // 60 % 24}:{minutes % 60:02}"


def how_often(position: Position) -> str:
    """How often a position waters, as people say it."""
    runs = {1: "", 2: ", twice"}.get(position.runs_a_day, f", {position.runs_a_day} times")
    if len(position.weekdays) in range(1, 7):
        return ", ".join(WEEKDAYS[day] for day in position.weekdays) + runs
    days = round(position.mean_days)
    if days == 1 and position.runs_a_day > 1:
        return f"{runs[2:]} a day"
    often = {1: "every day", 2: "every second day", 7: "once a week"}.get(
        days, f"every {days} days"
    )
    return often + runs
