"""A climate fitted to a daily record: its rain, its heat, and what of both lasts for weeks."""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from euhydra.core import swings
from euhydra.core.climate import (
    LEAST_RANGE,
    MONTH_LENGTH,
    WET_DAY,
    Climate,
    ClimateKind,
    Course,
    Memory,
    against,
    response,
    through,
    wet_share,
)
from euhydra.core.swings import Lasting
from euhydra.core.weather import MONTHS, DailyWeather

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

FEWEST_DAYS = 8
"""Wet or dry days of a month that are needed to fit what they are like. [d] Our choice."""

YEARS_TO_FIT = 15
"""Whole years of record from which on its lasting swings are fitted, and not taken from a kind. [a] Our choice."""

LEAST_ANSWER = 1e-3
"""Least that the chance of rain answers to its odds, where it next to never rains. [-]"""

WETTER = np.linspace(0.0, 1.0, 101)
"""What of the lasting rain may be in how much falls on a wet day. [-]"""


def climate_of_record(record: DailyWeather, kind: ClimateKind) -> Climate:
    """A climate fitted to a record of at least a year.

    Rain: for each month the chances of a wet day after a dry and after a wet one, counted, and a
    gamma law of a wet day's rain by the method of moments; then as much of what lasts as makes
    the counts of wet days in months, and the rain of years, spread as they do. Temperature: mean
    and spread of each month's dry and wet days, and how the days' distances from them remember.

    Parameters
    ----------
    kind : Lends a record of less than fifteen whole years its lasting swings.

    Raises
    ------
    ValueError : if some month has no day in the record.

    References
    ----------
    Richardson (1981), Stochastic simulation of daily precipitation, temperature and solar
    radiation, Water Resources Research 17: chain, gamma law, temperature of dry and wet days.
    Wilks (1999), Agricultural and Forest Meteorology 93: what lasts. Both from memory.
    """
    month = record.month - 1
    days = np.bincount(month, minlength=MONTHS).astype(float)
    if (days == 0).any():
        raise ValueError("a record has to hold every month of the year to be fitted")
    wet = record.precip >= WET_DAY
    before = np.r_[False, wet[:-1]]
    day_before_that = np.r_[False, False, wet[:-2]]
    states = (~before & ~day_before_that, ~before & day_before_that, before)
    shape, scale = _gamma_by_month(record.precip - WET_DAY, wet, month)
    temp_min, temp_max = (
        np.bincount(month, series, MONTHS) / days for series in (record.temp_min, record.temp_max)
    )
    mean = (record.temp_min + record.temp_max) / 2
    root = np.sqrt(np.maximum(record.temp_max - record.temp_min, LEAST_RANGE))
    warmth, root_range = _course(mean, wet, record), _course(root, wet, record)
    distance, range_distance = (
        against(warmth, mean, wet, record),
        against(root_range, root, wet, record),
    )
    plain = Climate(
        np.bincount(month, record.precip, MONTHS) / days * MONTH_LENGTH,
        np.array([_share(wet & state, state, month) for state in states]),
        shape,
        scale,
        temp_min,
        temp_max,
        warmth,
        root_range,
        kind.memory,
    )
    if _whole_years(record).sum() < YEARS_TO_FIT:
        return plain
    return replace(plain, memory=_memory(plain, record, wet, distance, range_distance))


def _share(part: Flags, whole: Flags, month: NDArray[np.intp]) -> Floats:
    """Share of `whole` that is `part`, by month; 0 where there is none."""
    counts = (np.bincount(month, flags, MONTHS) for flags in (part, whole))
    some, all_of_them = counts
    return np.divide(some, all_of_them, out=np.zeros(MONTHS), where=all_of_them > 0)


def _gamma_by_month(over: Floats, wet: Flags, month: NDArray[np.intp]) -> tuple[Floats, Floats]:
    """Shape and scale of a wet day's rain; of the whole year where a month has too few. [-], [mm]"""
    shape, scale = np.ones(MONTHS), np.zeros(MONTHS)
    for m in range(MONTHS):
        here = over[wet & (month == m)]
        sample = here if len(here) >= FEWEST_DAYS else over[wet]
        if len(sample) < 2 or sample.var() == 0 or sample.mean() <= 0:
            scale[m] = max(float(sample.mean()), 0.0) if len(sample) else 0.0
            continue
        scale[m] = sample.var() / sample.mean()
        shape[m] = sample.mean() / scale[m]
    return shape, scale


def _course(series: Floats, wet: Flags, record: DailyWeather) -> Course:
    """Mean and spread on dry and wet days of each month; of all days where there are too few."""
    month = record.month - 1
    means, spreads = np.empty((2, MONTHS)), np.empty((2, MONTHS))
    for m in range(MONTHS):
        for i, state in enumerate((~wet, wet)):
            here = series[state & (month == m)]
            sample = here if len(here) >= FEWEST_DAYS else series[month == m]
            means[i, m], spreads[i, m] = sample.mean(), max(float(sample.std()), 1e-6)
    # Through a month the usual course goes on, which is no swing.
    days_off = series - np.where(wet, *(through(means[i], record) for i in (1, 0)))
    for m in range(MONTHS):
        for i, state in enumerate((~wet, wet)):
            here = days_off[state & (month == m)]
            if len(here) >= FEWEST_DAYS:
                spreads[i, m] = max(float(here.std()), 1e-6)
    return Course(means, spreads)


def _memory(
    climate: Climate, record: DailyWeather, wet: Flags, warm: Floats, wide: Floats
) -> Memory:
    """How the days of a long record remember, in its warmer half: that is when gardens drink."""
    month = record.month - 1
    unusual = wet - wet_share(climate.wet_after)[month]
    means = climate.temp_min + climate.temp_max
    is_warm = means >= np.median(means)
    chance = [_variance_by_chance(climate.wet_after[:, m], m) for m in range(MONTHS)]
    number = np.where(is_warm[month], _season(record, int(means.argmax())), -1)
    lasting = swings.lasting_of(
        np.array([warm, wide, unusual]),
        number,
        float(np.mean((chance / MONTH_LENGTH)[is_warm])),
        max(float(np.mean(response(climate.wet_after)[is_warm])), LEAST_ANSWER),
    )
    spread = lasting.spread
    quick_warm = swings.quick_of(warm, spread.warmth**2, lasting.slow)
    quick_wide = swings.quick_of(wide, spread.root_range**2, lasting.slow)
    covariance = lasting.covariance
    rest = np.sqrt((1 - covariance[0, 0]) * (1 - covariance[1, 1]))
    link = (float(np.mean(warm * wide)) - covariance[0, 1]) / rest
    return Memory(
        lasting,
        quick_warm,
        quick_wide,
        swings.quick_link(quick_warm, quick_wide, link),
        _wetter(climate, record, lasting),
    )


def _season(record: DailyWeather, warmest: int) -> NDArray[np.intp]:
    """Number of the year round its warmest month that each day is in, from 0."""
    shifted = record.year * MONTHS + record.month - 1 + (6 - warmest)
    years = shifted // MONTHS
    return np.asarray(years - years[0])


def _wetter(climate: Climate, record: DailyWeather, lasting: Lasting) -> float:
    """What of the lasting rain is in how much falls, so that years spread as the record's. [-]"""
    share, a_day = wet_share(climate.wet_after), climate.shape * climate.scale
    by_chance = np.array([_variance_by_chance(climate.wet_after[:, m], m) for m in range(MONTHS)])
    fallen = MONTH_LENGTH * share * a_day
    within = float(np.sum(fallen * climate.scale + a_day**2 * by_chance))
    apart = np.abs(np.subtract.outer(np.arange(MONTHS), np.arange(MONTHS)))
    kept = swings.variance_of_mean(lasting.slow, 30)
    together = np.where(apart == 0, kept, lasting.slow ** (30 * apart))
    relative = lasting.spread.rain * response(climate.wet_after) / np.maximum(share, 1e-9)
    wanted = _variance_of_years(record)
    misses = []
    for wider in np.exp(WETTER**2):  # what a factor of mean 1 does to a variance
        whole = fallen * (relative + np.sqrt(wider - 1))
        misses.append(abs(float(wider * within + whole @ together @ whole) - wanted))
    return float(WETTER[int(np.argmin(misses))])


def _variance_by_chance(wet_after: Floats, month: int) -> float:
    """Variance of a month's wet days if each depends on the two before alone. [d²]"""
    days = int(MONTH_LENGTH[month])
    more, first, after_wet = np.maximum(wet_after, 1e-9)
    step = np.array([[1 - more, 0, more], [1 - first, 0, first], [0, 1 - after_wet, after_wet]])
    share = float(wet_share(np.array([[more], [first], [after_wet]]))[0])
    state, total = np.array([0.0, 0.0, 1.0]), 0.0
    for lag in range(1, days):
        state = state @ step
        total += (days - lag) * share * (float(state[2]) - share)
    return days * share * (1 - share) + 2 * total


def _variance_of_years(record: DailyWeather) -> float:
    """Variance of the rain of whole years. [mm²]"""
    years = record.year - record.year[0]
    rain = np.bincount(years, record.precip)[_whole_years(record)]
    return float(rain.var(ddof=1))


def _whole_years(record: DailyWeather) -> Flags:
    """Which calendar years, from the first, have all their days."""
    return np.asarray(np.bincount(record.year - record.year[0]) >= 365)
