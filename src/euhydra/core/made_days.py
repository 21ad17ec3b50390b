"""Days made up from a climate: with its means, spells, heat and years, and from chance."""

import numpy as np
from numpy.typing import NDArray

from euhydra.core import climate as climates
from euhydra.core import swings
from euhydra.core.climate import LEAST_RANGE, WET_DAY, Climate
from euhydra.core.weather import MONTHS, DailyWeather

Floats = NDArray[np.float64]
Flags = NDArray[np.bool_]


def generate(
    climate: Climate, first_year: int, years: int, rng: np.random.Generator
) -> DailyWeather:
    """Days that follow a climate: made up, but with its means, spells and spread.

    Rain: a two-state Markov chain says which days are wet, a gamma law how much falls over the
    limit of a wet day; a swing that lasts for weeks makes both likelier or less. Each month's
    rain is then scaled so that its mean over all years is the climate's. Temperature: the course
    of dry and of wet days, and about it two linked swings, of the middle of the day's extremes
    and of the root of their range; then the months' means are made the climate's.

    What is missing: storms of a day are those of one gamma law, the wettest or driest month of
    a lifetime is no stranger than a normal swing makes it, and there is no trend.

    Parameters
    ----------
    climate : The twelve months.
    first_year : Calendar year of the first of January to begin with.
    years : How many.
    rng : Source of chance; the same seed gives the same days.
    """
    days = np.arange(f"{first_year}-01-01", f"{first_year + years}-01-01", dtype="datetime64[D]")
    calendar = DailyWeather.of(days)
    lasting = climate.memory.lasting.made(len(days), rng)
    precip = _rain(climate, calendar, lasting[2], rng)
    temp_min, temp_max = _temperatures(climate, calendar, precip > 0, lasting[:2], rng)
    return DailyWeather.of(days, precip=precip, temp_min=temp_min, temp_max=temp_max)


def _rain(
    climate: Climate, calendar: DailyWeather, lasting: Floats, rng: np.random.Generator
) -> Floats:
    month = calendar.month - 1
    odds = np.exp(lasting)
    wet = _wet_days(climates.with_odds(climate.wet_after[:, month], odds), rng)
    over = wet * rng.gamma(climate.shape[month], climate.scale[month])
    over *= np.exp(climate.memory.wetter / climate.memory.lasting.spread.rain * lasting)
    fallen, least = (np.bincount(month, each, MONTHS) for each in (over, WET_DAY * wet))
    wanted = climate.precip * len(np.unique(calendar.year))
    # What is over the limit is scaled; where the limits alone are more than the month's rain, all is.
    factor = np.divide(
        np.maximum(wanted - least, 0.0), fallen, out=np.zeros(MONTHS), where=fallen > 0
    )
    shrink = np.minimum(1.0, np.divide(wanted, least, out=np.ones(MONTHS), where=least > 0))
    return np.asarray(over * factor[month] + WET_DAY * wet * shrink[month])


def _wet_days(wet_after: Floats, rng: np.random.Generator) -> Floats:
    """1 on wet days, from the chances after two dry days, after a first one, after a wet one."""
    after_more, after_first, after_wet = wet_after.tolist()
    rolls = rng.random(len(after_wet)).tolist()
    wet, before = [], 0
    for roll, *chances in zip(rolls, after_more, after_first, after_wet, strict=True):
        rains = roll < chances[before]
        wet.append(rains)
        before = 2 if rains else 1 if before == 2 else 0
    return np.array(wet, dtype=float)


def _temperatures(
    climate: Climate,
    calendar: DailyWeather,
    wet: Flags,
    lasting: Floats,
    rng: np.random.Generator,
) -> tuple[Floats, Floats]:
    """Lowest and highest of each day. [°C]"""
    memory, shocks = climate.memory, rng.standard_normal((2, len(wet)))
    linked = memory.link * shocks[0] + np.sqrt(1 - memory.link**2) * shocks[1]
    lasts = memory.lasting.spread
    warm = _swing(memory.warmth, lasts.warmth, shocks[0], lasting[0])
    wide = _swing(memory.root_range, lasts.root_range, linked, lasting[1])
    mean, spread = climates.on_days(climate.warmth, wet, calendar)
    middle = mean + spread * warm
    mean, spread = climates.on_days(climate.root_range, wet, calendar)
    root = np.maximum(mean + spread * wide, np.sqrt(LEAST_RANGE))
    low = _with_means(middle - root**2 / 2, climate.temp_min, calendar)
    high = _with_means(middle + root**2 / 2, climate.temp_max, calendar)
    return np.minimum(low, high - LEAST_RANGE), high


def _swing(persistence: float, lasting_spread: float, shocks: Floats, lasting: Floats) -> Floats:
    """What is quick and what lasts, together of variance 1. [-]"""
    quick = swings.remembering(persistence, shocks)
    return np.asarray(np.sqrt(1 - lasting_spread**2) * quick + lasting)


def _with_means(series: Floats, wanted: Floats, calendar: DailyWeather) -> Floats:
    """The series with the months' own means over all years."""
    month = calendar.month - 1
    have = np.bincount(month, series, MONTHS) / np.bincount(month, minlength=MONTHS)
    return series + climates.through(wanted - have, calendar)
