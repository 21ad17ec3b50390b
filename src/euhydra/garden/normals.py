"""Twelve usual months, as typed or shipped, and the days made up from them."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from math import isfinite

import numpy as np
from numpy.typing import NDArray

from euhydra.core import climate, climate_fit, made_days
from euhydra.core.climate import ClimateKind, MonthlyNormals
from euhydra.core.weather import MONTHS, DailyWeather
from euhydra.garden import climate_kinds
from euhydra.garden.sentences import Amount, Sentence, say

FIRST_YEAR = 2001
"""First calendar year of made-up days: they are no forecast, so they lie in the past."""

YEARS = 10
"""Years of made-up days."""

SEED = 20010101
"""Seed of the made-up days: the same months give the same days everywhere."""


HOTTEST = "hottest_c"
"""Column of what the hottest day of a usual year reaches, beside those of the months."""

CALMEST, WILDEST = 0.25, 1.8
"""Times that summer days may spread as far about their means as is usual for their kind. [-] Our choice."""

MOST_A_YEAR = 13000.0
"""Rain of a year that falls nowhere. [mm] The wettest places have some 11,900, from memory."""

LEAST_ON_A_WET_DAY = 0.5
"""Rain of a mean wet day that is none anywhere. [mm] Our choice: a day counts as wet from 0.2 to 1 mm on."""


class NormalsError(ValueError):
    """Months that are no climate; `faults` names each by (column, month 1 to 12)."""

    def __init__(self, faults: dict[tuple[str, int], Sentence]) -> None:
        self.faults = faults
        super().__init__("; ".join(f"month {m}: {text}" for (_, m), text in faults.items()))


DAYS_A_YEAR = 365.25
"""[d]"""


def check(columns: Mapping[str, Sequence[float | None]]) -> None:
    """Refuse months that cannot be.

    Parameters
    ----------
    columns : `precip_mm`, `tmin_c`, `tmax_c` and `wet_days`, twelve each; wet days may be None.

    Raises
    ------
    NormalsError : with each fault, its column and month.
    """
    faults: dict[tuple[str, int], Sentence] = {}
    for i in range(12):
        rain, low, high = (columns[c][i] for c in ("precip_mm", "tmin_c", "tmax_c"))
        wet = columns["wet_days"][i]
        if rain is None or not 0 <= rain <= 2500:
            faults["precip_mm", i + 1] = say(
                "months-rain", "rain of a month lies between 0 and {2500 mm|rain}."
            )
        for name, value in (("tmin_c", low), ("tmax_c", high)):
            if value is None or not -70 <= value <= 55:
                faults[name, i + 1] = say(
                    "months-temperature",
                    "a month's mean extreme lies between {-70 °C|temperature} and "
                    "{55 °C|temperature}.",
                )
        if low is not None and high is not None and isfinite(low + high) and low >= high:
            faults["tmin_c", i + 1] = say(
                "months-swapped", "the lowest has to be below the highest: are they swapped?"
            )
        if wet is not None and not 0 <= wet <= 31:
            faults["wet_days", i + 1] = say("months-wet-days", "a month has 0 to 31 wet days.")
        if wet == 0 and rain:
            faults["wet_days", i + 1] = say(
                "months-no-wet-day", "rain needs at least one wet day; leave it empty if unknown."
            )
    faults = faults or _wrong_unit(columns)
    if faults:
        raise NormalsError(faults)


def _wrong_unit(columns: Mapping[str, Sequence[float | None]]) -> dict[tuple[str, int], Sentence]:
    """Rain that each month might have but no year: typed in another unit, as it seems."""
    year = sum(rain or 0.0 for rain in columns["precip_mm"])
    wet = [days for days in columns["wet_days"] if days is not None]
    if year > MOST_A_YEAR:
        return {
            ("precip_mm", 1): say(
                "months-too-much-for-a-year",
                "together that is {year} a year, more than falls anywhere: are they in another "
                "unit? Type the unit with each, such as 70 mm or 2.8 in.",
                year=Amount(year / 1000, "rain"),
            )
        }
    if len(wet) == len(columns["precip_mm"]) and 0 < year < LEAST_ON_A_WET_DAY * sum(wet):
        return {
            ("precip_mm", 1): say(
                "months-too-little-on-wet-days",
                "on so many wet days that is {day} a wet day, less than makes one: is it another unit? Type the unit "
                "with each, such as 70 mm or 2.8 in.",
                day=Amount(year / sum(wet) / 1000, "rain"),
            )
        }
    return {}


def make_days(columns: Mapping[str, Sequence[float | None]], years: int = YEARS) -> DailyWeather:
    """Years of days that follow the months; see ``core.made_days.generate``.

    Parameters
    ----------
    columns : As `check` has them; `hottest_c` too, of one value, where somebody knows what the hottest
        day of a usual year reaches: the months keep their means, and summer days spread to it.

    Raises
    ------
    NormalsError : as in `check`, or if days of these months never get so hot, or always do.
    """
    check(columns)
    normals = MonthlyNormals(
        *(np.array(columns[c], dtype=float) for c in ("precip_mm", "tmin_c", "tmax_c", "wet_days"))
    )
    middle = (normals.temp_min + normals.temp_max) / 2
    swings = climate_kinds.kind_of_months(normals.precip, middle).swings
    told = columns.get(HOTTEST, (None,))[0]
    if told is not None:
        swings = _as_hot(normals, swings, told)
    return _days_of(normals, swings, years)


def _days_of(normals: MonthlyNormals, swings: ClimateKind, years: int = YEARS) -> DailyWeather:
    usual = climate.climate_of_normals(normals, swings)
    return made_days.generate(usual, FIRST_YEAR, years, np.random.default_rng(SEED))


def hottest_of(record: DailyWeather) -> float:
    """What the hottest day of a usual year reaches: the mean over its years. [°C]"""
    each = (record.temp_max[record.year == year].max() for year in np.unique(record.year))
    return float(np.mean(list(each)))


def _as_hot(normals: MonthlyNormals, swings: ClimateKind, told: float) -> ClimateKind:
    """The kind of climate whose summer days spread until the hottest of a usual year is as told. [°C]"""

    def over(times: float) -> float:
        return hottest_of(_days_of(normals, climate.with_summers(swings, times))) - told

    least, most = over(CALMEST), over(WILDEST)
    if least > 0 or most < 0:
        raise NormalsError(
            {
                (HOTTEST, 1): say(
                    "months-hottest",
                    "with these months the hottest day of a usual year reaches {least} to {most}: check both.",
                    least=Amount(told + least, "temperature"),
                    most=Amount(told + most, "temperature"),
                )
            }
        )
    # Half a second of loading, that a program which is not told of hot days does without.
    from scipy.optimize import brentq

    return climate.with_summers(swings, float(brentq(over, CALMEST, WILDEST, xtol=0.005)))


def with_temperatures_of(
    record: DailyWeather, columns: Mapping[str, Sequence[float | None]]
) -> DailyWeather:
    """A record of rain alone with the temperatures of usual months, straight across from middle to middle."""
    middles = (np.arange(MONTHS) + 0.5) / MONTHS
    places = np.r_[middles - 1, middles, middles + 1]
    day = (record.day_of_year - 0.5) / DAYS_A_YEAR

    def across(column: str) -> NDArray[np.float64]:
        months = np.array(columns[column], dtype=float)
        return np.asarray(np.interp(day, places, np.tile(months, 3)))

    return replace(record, temp_min=across("tmin_c"), temp_max=across("tmax_c"))


def make_years_like(record: DailyWeather, years: int, seed: int = SEED) -> DailyWeather:
    """Years of days made up from the climate of a record; other ones for another seed.

    Raises
    ------
    ValueError : if the record lacks a whole month of the year.
    """
    kind = climate_kinds.kind_of_record(record)
    fitted = climate_fit.climate_of_record(record, kind.swings)
    return made_days.generate(fitted, FIRST_YEAR, years, np.random.default_rng(seed))
