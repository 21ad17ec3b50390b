"""A daily weather record, and the reference evapotranspiration of its days."""

from dataclasses import dataclass, fields
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from euhydra.core import evapotranspiration, radiation

Floats = NDArray[np.float64]
Integers = NDArray[np.intp]
Days = NDArray[np.datetime64]

MONTHS = 12


@dataclass(frozen=True)
class DailyWeather:
    """Consecutive days of weather, without gaps.

    days : datetime64[D], one a day.
    precip : Rain and melted snow. [mm]
    temp_min, temp_max : Air temperature. [°C]
    et0 : Reference evapotranspiration where it was measured or published. [mm]
    humidity_min, humidity_max : Relative humidity. [%]
    wind : Mean wind speed at 2 m. [m s⁻¹]
    solar : Sunshine energy on the ground. [MJ m⁻²]

    From et0 on, NaN where the record has none.
    """

    days: Days
    precip: Floats
    temp_min: Floats
    temp_max: Floats
    et0: Floats
    humidity_min: Floats
    humidity_max: Floats
    wind: Floats
    solar: Floats

    @classmethod
    def of(cls, days: Days, **series: Floats) -> "DailyWeather":
        """A record from the series there are; the others are NaN."""
        unknown = np.full(len(days), np.nan)
        return cls(days, **{name: series.get(name, unknown) for name in SERIES})

    @cached_property
    def month(self) -> Integers:
        """Month of each day, 1 to 12."""
        return (self.days.astype("datetime64[M]").astype(np.intp) % MONTHS) + 1

    @cached_property
    def year(self) -> Integers:
        """Calendar year of each day."""
        return self.days.astype("datetime64[Y]").astype(np.intp) + 1970

    @cached_property
    def day_of_year(self) -> Integers:
        """Day of the year, 1 to 366."""
        since_new_year = self.days - self.days.astype("datetime64[Y]").astype("datetime64[D]")
        return np.asarray(since_new_year.astype(np.intp) + 1)

    @property
    def years(self) -> float:
        """Length of the record. [a]"""
        return len(self.days) / 365.25

    def last_years(self, years: int) -> "DailyWeather":
        """The newest days of the record, so many years of them; all where there are fewer."""
        newest = round(years * 365.25)
        own = {field.name: getattr(self, field.name)[-newest:] for field in fields(self)}
        return DailyWeather(**own)


SERIES = tuple(f.name for f in fields(DailyWeather) if f.name != "days")
"""Names of the daily series of a record."""


def extraterrestrial(weather: DailyWeather, latitude: float) -> Floats:
    """Radiation above the air on each day of the record. [MJ m⁻² d⁻¹]

    Parameters
    ----------
    latitude : North positive. [°]
    """
    return radiation.extraterrestrial_radiation(latitude, weather.day_of_year.astype(float))


def hargreaves(weather: DailyWeather, latitude: float) -> Floats:
    """ET0 of each day from its temperatures alone. [mm d⁻¹]

    Parameters
    ----------
    latitude : North positive. [°]
    """
    ra = extraterrestrial(weather, latitude)
    return evapotranspiration.hargreaves_samani(weather.temp_max, weather.temp_min, ra)


def penman_monteith(weather: DailyWeather, latitude: float, elevation: float) -> Floats:
    """ET0 of each day from sun, wind and humidity too; NaN where any is not known. [mm d⁻¹]

    Parameters
    ----------
    latitude : North positive. [°]
    elevation : Above the sea. [m]
    """
    if np.isnan(weather.solar).all() or np.isnan(weather.wind).all():
        return np.full(len(weather.days), np.nan)  # as of most records: then nothing is worked out
    return evapotranspiration.penman_monteith(
        weather.temp_max,
        weather.temp_min,
        weather.humidity_max,
        weather.humidity_min,
        weather.wind,
        weather.solar,
        extraterrestrial(weather, latitude),
        elevation,
    )


def reference_et(weather: DailyWeather, latitude: float, elevation: float) -> Floats:
    """ET0 of each day, by the best that the record allows. [mm d⁻¹]

    The record's own where it has one; else Penman–Monteith where sun, wind and humidity are
    known; else Hargreaves–Samani.

    Parameters
    ----------
    latitude : North positive. [°]
    elevation : Above the sea. [m]
    """
    found = weather.et0
    for estimate in (penman_monteith(weather, latitude, elevation), hargreaves(weather, latitude)):
        found = np.where(np.isnan(found), estimate, found)
    return found
