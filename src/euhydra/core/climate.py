"""A climate of twelve months, from which days are made up; put together from twelve usual months."""

from dataclasses import dataclass, replace
from functools import cache

import numpy as np
from numpy.typing import NDArray

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

LEAST_RANGE = 0.5
"""Least difference between a day's extremes. [°C] Our choice."""


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


def with_summers(kind: ClimateKind, times: float) -> ClimateKind:
    """A kind whose warm months spread so many times as far about their means, in warmth and in range.

    Parameters
    ----------
    times : 1 leaves it as it is. [-]
    """

    def spread(pair: tuple[float, float]) -> tuple[float, float]:
        return pair[0], pair[1] * times

    return replace(
        kind,
        spread_dry=spread(kind.spread_dry),
        spread_wet=spread(kind.spread_wet),
        range_spread_dry=spread(kind.range_spread_dry),
        range_spread_wet=spread(kind.range_spread_wet),
    )


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
