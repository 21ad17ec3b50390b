"""Days made up: a climate of twelve months, from normals or fitted to a record, and its days."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core.weather import MONTHS, DailyWeather

Floats = NDArray[np.float64]

RAIN_PER_WET_DAY = 7.0
"""Mean rain of a wet day where the number of wet days is not known. [mm d⁻¹] Our assumption."""

WET_AFTER_DRY = 0.75
"""Chance of rain after a dry day, as a share of the wet-day frequency. [-] Geng et al. (1986)."""

PERSISTENCE = 0.65
"""Correlation of a day's temperature with the day before. [-] Richardson (1981), from memory."""

TEMPERATURE_SPREAD = 2.5
"""Standard deviation of daily temperature about its normal. [°C] Our assumption."""

MONTH_LENGTH = np.array([31, 28.25, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
"""Mean days of each month. [d]"""

WET_DAY = 0.2
"""Rain from which a day counts as wet. [mm] Common practice: the drop that a gauge can show."""

FEWEST_WET_DAYS = 5
"""Wet days of a month that are needed to fit how much falls on one. [d] Our choice."""


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
class Climate:
    """What days are made up from, month by month. Arrays of 12.

    precip : Rain of a mean month. [mm]
    wet_after_dry, wet_after_wet : Chance that a day is wet. [-]
    shape, scale : Of the gamma law of a wet day's rain. [-], [mm]
    temp_min, temp_max : Mean daily extremes. [°C]
    spread : Standard deviation of a day's temperature about its month. [°C]
    persistence : Correlation of that swing with the day before. [-]
    """

    precip: Floats
    wet_after_dry: Floats
    wet_after_wet: Floats
    shape: Floats
    scale: Floats
    temp_min: Floats
    temp_max: Floats
    spread: float
    persistence: float


def climate_of_normals(normals: MonthlyNormals) -> Climate:
    """A climate from twelve usual months, where spells and spread are not known.

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

    a_wet_day = normals.precip / np.maximum(wet_days, 1e-9)
    scale = np.maximum(1.83 * a_wet_day - 2.16, 0.5 * a_wet_day)  # Geng's β, kept positive
    shape = np.where(scale > 0, a_wet_day / np.maximum(scale, 1e-9), 1.0)
    return Climate(
        normals.precip,
        after_dry,
        after_wet,
        shape,
        scale,
        normals.temp_min,
        normals.temp_max,
        TEMPERATURE_SPREAD,
        PERSISTENCE,
    )


def climate_of_record(record: DailyWeather) -> Climate:
    """A climate fitted to a record of at least a year.

    Rain: for each month the chances of a wet day after a dry and after a wet one, counted, and a
    gamma law of a wet day's rain by the method of moments. Temperature: mean extremes of each
    month, the spread of a day about them, and its correlation with the day before.

    Raises
    ------
    ValueError : if some month has no day in the record.

    References
    ----------
    Richardson (1981), Stochastic simulation of daily precipitation, temperature and solar
    radiation, Water Resources Research 17: chain and gamma law. From memory.
    """
    month = record.month - 1
    days = np.bincount(month, minlength=MONTHS).astype(float)
    if (days == 0).any():
        raise ValueError("a record has to hold every month of the year to be fitted")
    wet = record.precip >= WET_DAY
    before = np.r_[False, wet[:-1]]
    after_dry = _share(wet & ~before, ~before, month)
    after_wet = _share(wet & before, before, month)
    shape, scale = _gamma_by_month(record.precip, wet, month)
    temp_min, temp_max = (
        np.bincount(month, series, MONTHS) / days for series in (record.temp_min, record.temp_max)
    )
    mean = (record.temp_min + record.temp_max) / 2
    swing = mean - (_smooth(temp_min, record) + _smooth(temp_max, record)) / 2
    spread = float(swing.std())
    persistence = float(np.mean(swing[1:] * swing[:-1])) / spread**2 if spread > 0 else 0.0
    precip = np.bincount(month, record.precip, MONTHS) / days * MONTH_LENGTH
    return Climate(
        precip,
        after_dry,
        after_wet,
        shape,
        scale,
        temp_min,
        temp_max,
        spread,
        min(max(persistence, 0.0), 0.99),
    )


def _share(part: NDArray[np.bool_], whole: NDArray[np.bool_], month: NDArray[np.intp]) -> Floats:
    """Share of `whole` that is `part`, by month; 0 where there is none."""
    counts = (np.bincount(month, flags, MONTHS) for flags in (part, whole))
    some, all_of_them = counts
    return np.divide(some, all_of_them, out=np.zeros(MONTHS), where=all_of_them > 0)


def _gamma_by_month(
    precip: Floats, wet: NDArray[np.bool_], month: NDArray[np.intp]
) -> tuple[Floats, Floats]:
    """Shape and scale of a wet day's rain; of the whole year where a month has too few. [-], [mm]"""
    shape, scale = np.ones(MONTHS), np.zeros(MONTHS)
    for m in range(MONTHS):
        here = precip[wet & (month == m)]
        sample = here if len(here) >= FEWEST_WET_DAYS else precip[wet]
        if len(sample) < 2 or sample.var() == 0:
            scale[m] = float(sample.mean()) if len(sample) else 0.0
            continue
        scale[m] = sample.var() / sample.mean()
        shape[m] = sample.mean() / scale[m]
    return shape, scale


def generate(
    climate: Climate, first_year: int, years: int, rng: np.random.Generator
) -> DailyWeather:
    """Days that follow a climate: made up, but with its means, spells and spread.

    Rain: a two-state Markov chain says which days are wet, a gamma law how much falls. Each
    month's rain is then scaled so that its mean over all years is the climate's; single years
    stay wetter or drier. Temperature: the means, smoothed through the middles of the months, plus
    a daily swing that remembers the day before.

    Parameters
    ----------
    climate : The twelve months.
    first_year : Calendar year of the first of January to begin with.
    years : How many.
    rng : Source of chance; the same seed gives the same days.
    """
    days = np.arange(f"{first_year}-01-01", f"{first_year + years}-01-01", dtype="datetime64[D]")
    calendar = DailyWeather.of(days)
    precip = _rain(climate, calendar, rng)
    swing = _remembering_noise(len(days), climate.persistence, rng) * climate.spread
    temp_min = _smooth(climate.temp_min, calendar) + swing
    temp_max = _smooth(climate.temp_max, calendar) + swing
    return DailyWeather.of(days, precip=precip, temp_min=temp_min, temp_max=temp_max)


def _rain(climate: Climate, calendar: DailyWeather, rng: np.random.Generator) -> Floats:
    month = calendar.month - 1
    wet = _wet_days(climate.wet_after_dry[month], climate.wet_after_wet[month], rng)
    depth = wet * rng.gamma(climate.shape[month], climate.scale[month])
    fallen = np.bincount(month, depth, MONTHS)
    wanted = climate.precip * len(np.unique(calendar.year))
    factor = np.divide(wanted, fallen, out=np.zeros(MONTHS), where=fallen > 0)
    return np.asarray(depth * factor[month])


def _wet_days(after_dry: Floats, after_wet: Floats, rng: np.random.Generator) -> Floats:
    chance = rng.random(len(after_dry)).tolist()
    wet, state = [], False
    for roll, dry, rainy in zip(chance, after_dry.tolist(), after_wet.tolist(), strict=True):
        state = roll < (rainy if state else dry)
        wet.append(state)
    return np.array(wet, dtype=float)


def _remembering_noise(count: int, persistence: float, rng: np.random.Generator) -> Floats:
    shock = rng.standard_normal(count) * np.sqrt(1 - persistence**2)
    noise, state = [], 0.0
    for push in shock.tolist():
        state = persistence * state + push
        noise.append(state)
    return np.array(noise)


def _smooth(monthly: Floats, calendar: DailyWeather) -> Floats:
    middle = (np.arange(MONTHS) + 0.5) * 365.25 / MONTHS
    return np.interp(calendar.day_of_year, middle, monthly, period=365.25)
