"""The seasons of a record in which something grows: one after another, or side by side.

Each season begins anew, since one plants into watered ground; so what happens in one does not depend
on the one before.
"""

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

Season = tuple[int, int]
"""Its first day, and the first after it, as positions in the record."""

LONGEST = 366
"""Days of the longest season that is lived through beside others. [d]"""

FEWEST = 12
"""Seasons from which on they are quicker side by side than one after another. Measured."""

Day = Callable[[Any, tuple[Any, ...], Any, Any], tuple[Any, Any]]
"""A rule of a day: from the depletion of last evening, what holds on the day, and the larger and the
smaller of two, what is given and the depletion of the evening."""


def seasons_of(is_growing: Flags) -> list[Season]:
    """First day of each season, and the first after it.

    Examples
    --------
    >>> seasons_of(np.array([False, True, True, False, True]))
    [(1, 3), (4, 5)]
    """
    edges = np.flatnonzero(np.diff(is_growing.astype(np.int8), prepend=0, append=0))
    return [(int(first), int(end)) for first, end in edges.reshape(-1, 2)]


def are_short(seasons: Sequence[Season]) -> bool:
    """Whether they can be lived through beside others."""
    return all(end - first <= LONGEST for first, end in seasons)


def given_through(is_growing: Flags, daily: Sequence[NDArray[np.generic]], a_day: Day) -> Floats:
    """What a rule gives on each day of all seasons; nothing on other days. [mm]

    Parameters
    ----------
    daily : What holds on each day, as the rule takes it.
    """
    given = np.zeros(len(is_growing))
    seasons = seasons_of(is_growing)
    gone: Any
    if len(seasons) >= FEWEST and are_short(seasons):
        days = days_by_step(seasons, max(end - first for first, end in seasons))
        gone, beside = np.zeros(len(seasons)), [each[days] for each in daily]
        found = np.zeros(days.shape)
        for step, today in enumerate(zip(*beside, strict=True)):
            found[step], gone = a_day(gone, today, np.maximum, np.minimum)
        for lane, (first, end) in enumerate(seasons):
            given[first:end] = found[: end - first, lane]
        return given
    for first, end in seasons:
        gone, each_day = 0.0, []
        for today in zip(*(each[first:end].tolist() for each in daily), strict=True):
            litres, gone = a_day(gone, today, max, min)
            each_day.append(litres)
        given[first:end] = each_day
    return given


def days_by_step(seasons: Sequence[Season], longest: int) -> NDArray[np.intp]:
    """Day of the record on each step of each season; its last day where it is over. [step, season]

    Parameters
    ----------
    longest : Steps.
    """
    first, end = np.array(seasons).T
    return np.asarray(np.minimum(first + np.arange(longest)[:, None], end - 1))
