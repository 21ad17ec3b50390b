"""Stages that go by warmth: a crop's age in usual days, counted by the degree-days it has had."""

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def degree_days(temp_min: Floats, temp_max: Floats, base: float) -> Floats:
    """Growing-degree days of each day: its mean temperature over the base. [°C d]

    Parameters
    ----------
    temp_min, temp_max : Extremes of the day. [°C]
    base : Temperature below which the crop stands still. [°C]

    Examples
    --------
    >>> degree_days(np.array([10.0]), np.array([24.0]), 10.0).tolist()
    [7.0]

    References
    ----------
    McMaster and Wilhelm (1997), Growing degree-days: one equation, two interpretations,
    Agricultural and Forest Meteorology 87, method 1. From memory.
    """
    return np.maximum((temp_min + temp_max) / 2 - base, 0.0)


def age_by_warmth(age: Floats, warmth: Floats) -> Floats:
    """Age that a crop would have in a usual year when it has had as much warmth. [d]

    The usual year is the mean of the record, from planting on. In the part of a record before its
    first planting the calendar is kept.

    Parameters
    ----------
    age : Days since planting, of each day. [d]
    warmth : Degree-days of each day. [°C d]
    """
    whole = age.astype(int)
    planted = np.arange(len(age)) - whole
    had = np.cumsum(warmth)
    known = planted >= 0
    before = np.where(planted > 0, had[np.maximum(planted - 1, 0)], 0.0)
    since = np.where(known, had - before, np.nan)
    counts = np.bincount(whole[known])
    if not len(counts):
        return age
    sums = np.bincount(whole[known], since[known])
    usual = np.divide(sums, counts, out=np.zeros_like(sums), where=counts > 0)
    # Rising for sure, so that a cold spell in which nothing grows has one age, its first day.
    usual = np.maximum.accumulate(usual) + 1e-6 * np.arange(len(usual))
    counted = np.interp(since, usual, np.arange(len(usual), dtype=float))
    return np.where(known, counted, age)
