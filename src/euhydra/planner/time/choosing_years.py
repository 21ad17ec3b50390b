"""The years on which settings are chosen: many, like the record, which itself then tells how they do.

A setting chosen on few years keeps its promise in those few and in no others; so no year that tells
how often a bed is too dry has a say in what the timer is set to.
"""

import numpy as np

from euhydra.core import weather
from euhydra.core.weather import MONTHS, DailyWeather
from euhydra.garden import normals
from euhydra.garden.model import Place
from euhydra.planner.same import Asked, by_itself, kept

YEARS = 60
"""Years on which settings are chosen. [a] Our choice: one day in twenty of a month is ninety days of them."""

SEED = 19700101
"""Seed of those years: the same record gives the same settings."""

RECORDS_KEPT = 4
"""Records whose years are kept."""


def years_like(record: DailyWeather, place: Place) -> DailyWeather:
    """Sixty years made up from the record's climate; the record itself where it lacks a month.

    Their ET0 is as much over or under that of their temperatures, month by month, as the record's.
    """
    return _years_like(by_itself(record), place.latitude_deg, place.elevation_m)


def forget() -> None:
    """Keep no years that were made up."""
    _years_like.cache_clear()


@kept(RECORDS_KEPT)
def _years_like(asked: Asked[DailyWeather], latitude: float, elevation: float) -> DailyWeather:
    record = asked.what
    try:
        made = normals.make_years_like(record, YEARS, SEED)
    except ValueError:
        return record
    real = weather.reference_et(record, latitude, elevation)
    by_warmth = weather.hargreaves(record, latitude)
    sums = (np.bincount(record.month - 1, each, MONTHS) for each in (real, by_warmth))
    own, usual = sums
    ratio = np.divide(own, usual, out=np.ones(MONTHS), where=usual > 0)
    et0 = weather.hargreaves(made, latitude) * ratio[made.month - 1]
    return DailyWeather.of(
        made.days, precip=made.precip, temp_min=made.temp_min, temp_max=made.temp_max, et0=et0
    )
