"""A climate of twelve months, fitted to a record or put together from twelve usual months."""

from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray

from euhydra.core import swings
from euhydra.core.swings import Lasting
from euhydra.core.weather import MONTHS, DailyWeather

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]

RAIN_PER_WET_DAY = 7.0
"""Mean rain of a wet day where the number of wet days is not known. [mm d⁻¹] Our assumption."""

WET_AFTER_DRY = 0.75
"""Chance of rain after a dry day, as a share of the wet-day frequency. [-] Geng et al. (1986)."""

MONTH_LENGTH = np.array([31, 28.25, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
"""Mean days of each month. [d]"""

MIDDLES = (np.arange(MONTHS) + 0.5) * 365.25 / MONTHS
"""Middle of each month. [d of the year]"""

WET_DAY = 0.2
"""Rain from which a day counts as wet. [mm] Common practice: the drop that a gauge can show."""

FEWEST_DAYS = 8
"""Wet or dry days of a month that are needed to fit what they are like. [d] Our choice."""

LEAST_RANGE = 0.5
"""Least difference between a day's extremes. [°C] Our choice."""

YEARS_TO_FIT = 15.0
"""Years of record from which on its lasting swings are fitted, and not taken from a kind. [a] Our choice."""

WETTER = np.linspace(0.0, 1.0, 101)
"""What of the lasting rain may be in how much falls on a wet day. [-]"""

SEASONS = ("winter", "summer")
"""The coldest and the warmest month, between which a kind of climate changes with the temperature."""


@dataclass(frozen=True)
class MonthlyNormals:
    """Twelve usual months. Arrays of 12.

    precip : Rain of the month. [mm]
    temp_min, temp_max : Mean daily extremes. [°C]
    wet_days : Days with rain; NaN where not known. [d]
    """

    precip: Floats
    temp_min: Floats
    temp_max: Floats
    wet_days: Floats


@dataclass(frozen=True)
class Course:
    """What a quantity is like on dry and on wet days of each month. Arrays of 2 by 12, dry first.

    mean, spread : Of the days; in the unit of the quantity.
    """

    mean: Floats
    spread: Floats


@dataclass(frozen=True)
class Memory:
    """How days remember the days and weeks before.

    lasting : What lasts for weeks, in warmth, range and rain together.
    warmth, root_range : Correlation of the rest with the day before. [-]
    link : Correlation of the two rests on one day. [-]
    wetter : What a standard swing of the lasting rain adds to the logarithm of a wet day's rain. [-]
    """

    lasting: Lasting
    warmth: float
    root_range: float
    link: float
    wetter: float


@dataclass(frozen=True)
class Climate:
    """What days are made up from, month by month. Arrays of 12 where not said otherwise.

    precip : Rain of a mean month. [mm]
    wet_after : Chance that a day is wet: after two dry days, after a first dry one, after a wet
        one. 3 by 12. [-]
    shape, scale : Of the gamma law of what falls on a wet day over `WET_DAY`. [-], [mm]
    temp_min, temp_max : Mean daily extremes. [°C]
    warmth : Middle of a day's extremes. [°C]
    root_range : Square root of their difference, which spreads evenly. [°C^½]
    memory : How the days remember.
    """

    precip: Floats
    wet_after: Floats
    shape: Floats
    scale: Floats
    temp_min: Floats
    temp_max: Floats
    warmth: Course
    root_range: Course
    memory: Memory


@dataclass(frozen=True)
class ClimateKind:
    """How the weather of a kind of climate swings: what twelve usual months do not say.

    Pairs are of the coldest and the warmest month.

    first_dry : Chance of rain after a first dry day, over that after any dry day. [-]
    warmer_dry : How much warmer dry days are than wet ones. [°C]
    spread_dry, spread_wet : Standard deviation of a day's mean temperature. [°C]
    range_wet : Root of the range on wet days over that on dry ones. [-]
    range_spread_dry, range_spread_wet : Standard deviation of the root of the range, over its mean. [-]
    """

    first_dry: float
    warmer_dry: tuple[float, float]
    spread_dry: tuple[float, float]
    spread_wet: tuple[float, float]
    range_wet: tuple[float, float]
    range_spread_dry: tuple[float, float]
    range_spread_wet: tuple[float, float]
    memory: Memory


def climate_of_normals(normals: MonthlyNormals, kind: ClimateKind) -> Climate:
    """A climate from twelve usual months, and from a kind of climate what they do not say.

    References
    ----------
    Geng, Penning de Vries and Supit (1986), A simple method for generating daily rainfall data,
    Agricultural and Forest Meteorology 36. From memory.
    """
    guessed = np.clip(normals.precip / RAIN_PER_WET_DAY, 0, 0.9 * MONTH_LENGTH)
    guessed = np.where(normals.precip > 0, np.maximum(guessed, 0.5), 0.0)
    wet_days = np.where(np.isnan(normals.wet_days), guessed, normals.wet_days)
    frequency = np.clip(wet_days / MONTH_LENGTH, 0, 1)
    after_dry = WET_AFTER_DRY * frequency
    after_wet = np.where(frequency > 0, after_dry + (1 - WET_AFTER_DRY), 0.0)
    # As many wet days as before: what comes sooner after a first dry day comes later after more.
    after_first = np.minimum(kind.first_dry * after_dry, 1.0)
    first = frequency * (1 - after_wet)
    others = np.maximum(1 - frequency - first, 1e-9)
    after_more = np.clip(first * (1 - after_first) / others, 0.0, 1.0)

    a_wet_day = normals.precip / np.maximum(wet_days, 1e-9)
    scale = np.maximum(1.83 * a_wet_day - 2.16, 0.5 * a_wet_day)  # Geng's β, kept positive
    shape = np.maximum(a_wet_day - WET_DAY, 0.01) / np.maximum(scale, 1e-9)
    warmth, root_range = _courses(normals, kind, frequency)
    return Climate(
        normals.precip,
        np.array([after_more, after_first, after_wet]),
        np.where(scale > 0, shape, 1.0),
        scale,
        normals.temp_min,
        normals.temp_max,
        warmth,
        root_range,
        kind.memory,
    )


def _courses(
    normals: MonthlyNormals, kind: ClimateKind, frequency: Floats
) -> tuple[Course, Course]:
    """Temperature of dry and wet days whose means together are the months'."""
    mean = (normals.temp_min + normals.temp_max) / 2
    summer = summer_of(mean)

    def through_the_year(pair: tuple[float, float]) -> Floats:
        return np.asarray(pair[0] + summer * (pair[1] - pair[0]))

    warmer = through_the_year(kind.warmer_dry)
    warmth = Course(
        np.array([mean + frequency * warmer, mean - (1 - frequency) * warmer]),
        np.array([through_the_year(kind.spread_dry), through_the_year(kind.spread_wet)]),
    )
    spread = np.array(
        [through_the_year(kind.range_spread_dry), through_the_year(kind.range_spread_wet)]
    )
    ratio = through_the_year(kind.range_wet)
    # A mean of squares: (mean root)² (1 + relative spread²), weighed by how many days are which.
    squares = (1 - frequency) * (1 + spread[0] ** 2) + frequency * ratio**2 * (1 + spread[1] ** 2)
    dry_root = np.sqrt(np.maximum(normals.temp_max - normals.temp_min, LEAST_RANGE) / squares)
    roots = np.array([dry_root, ratio * dry_root])
    return warmth, Course(roots, spread * roots)


def climate_of_record(record: DailyWeather, kind: ClimateKind) -> Climate:
    """A climate fitted to a record of at least a year.

    Rain: for each month the chances of a wet day after a dry and after a wet one, counted, and a
    gamma law of a wet day's rain by the method of moments; then as much of what lasts as makes
    the counts of wet days in months, and the rain of years, spread as they do. Temperature: mean
    and spread of each month's dry and wet days, and how the days' distances from them remember.

    Parameters
    ----------
    kind : Lends a record of less than fifteen years its lasting swings.

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
    if record.years < YEARS_TO_FIT:
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


def against(course: Course, series: Floats, wet: Flags, record: DailyWeather) -> Floats:
    """Each day's distance from its course, in spreads. [-]

    Parameters
    ----------
    series : Of each day; in the unit of the course. [-]
    """
    mean, spread = on_days(course, wet, record)
    return np.asarray((series - mean) / spread)


def on_days(course: Course, wet: Flags, calendar: DailyWeather) -> tuple[Floats, Floats]:
    """Mean and spread of a course on each day, wet or dry."""
    means, spreads = (
        np.where(wet, through(values[1], calendar), through(values[0], calendar))
        for values in (course.mean, course.spread)
    )
    return means, spreads


def through(monthly: Floats, calendar: DailyWeather) -> Floats:
    """Values of days between the middles of the months, whose means are the months' own.

    Parameters
    ----------
    monthly : Twelve; days come in their unit. [-]
    """
    knots = np.linalg.solve(_shares_of_knots(), monthly)
    return np.asarray(np.interp(calendar.day_of_year - 0.5, MIDDLES, knots, period=365.25))


@cache
def _shares_of_knots() -> Floats:
    """How much each knot, at the middle of a month, has of the mean of each month. [-]"""
    ends = np.cumsum(MONTH_LENGTH)
    day = np.arange(0.5, 365.25)
    month = np.minimum(np.searchsorted(ends, day), MONTHS - 1)
    weights = np.array([np.interp(day, MIDDLES, knot, period=365.25) for knot in np.eye(MONTHS)])
    return np.array([weights[:, month == m].mean(axis=1) for m in range(MONTHS)])


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
        float(np.mean(response(climate.wet_after)[is_warm])),
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


def summer_of(monthly: Floats) -> Floats:
    """How far each month is from the coldest to the warmest. [-]

    Parameters
    ----------
    monthly : Temperatures. [°C]
    """
    return np.asarray((monthly - monthly.min()) / max(float(np.ptp(monthly)), 1e-9))


def wet_share(wet_after: Floats) -> Floats:
    """Share of days that are wet in the long run, by month. [-]

    Parameters
    ----------
    wet_after : As of a `Climate`. [-]
    """
    after_more, after_first, after_wet = wet_after
    to_first = 1 - after_wet
    to_more = to_first * (1 - after_first) / np.maximum(after_more, 1e-9)
    return np.asarray(1 / (1 + to_first + to_more))


def response(wet_after: Floats) -> Floats:
    """More wet days, for each day, when the logarithm of the odds grows by 1. [-]

    Parameters
    ----------
    wet_after : As of a `Climate`. [-]
    """
    step = 1e-4
    return np.asarray((wet_share(with_odds(wet_after, np.exp(step))) - wet_share(wet_after)) / step)


def with_odds(chance: Floats, odds: Floats | float) -> Floats:
    """Chances whose odds are so many times as great; none and certainty stay. [-]

    Parameters
    ----------
    chance : [-]
    odds : Times. [-]
    """
    return np.asarray(chance * odds / (1 - chance + chance * odds))


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
    whole = np.bincount(years) >= 365
    return float(np.bincount(years, record.precip)[whole].var(ddof=1))
