"""Kinds of climate: how days swing about twelve usual months, which the months do not say."""

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from euhydra.core.climate import ClimateKind, Memory
from euhydra.core.swings import Lasting, Three
from euhydra.core.weather import MONTHS, DailyWeather
from euhydra.garden.catalogue import ReferenceRow, entry, rows

Floats = NDArray[np.float64]

WARM_ALL_YEAR = 15.0
"""Mean of the coldest month from which a place is warm all year. [°C] Our choice."""

CONTINENTAL = 20.0
"""Warmest month over the coldest from which a climate is continental. [°C] Our choice."""

HOT_SUMMER = 22.0
"""Mean of the warmest month from which a dry summer is hot. [°C] Common practice: Köppen's limit."""

DRY_SUMMER = 0.35
"""Share of the year's rain in its warmer half under which summers are dry. [-] Our choice."""


@dataclass(frozen=True)
class NamedClimate(ReferenceRow):
    """A kind of climate as the table has it."""

    swings: ClimateKind


@cache
def climate_kinds() -> dict[str, NamedClimate]:
    """Kinds of climate by id."""
    return rows("climate_kinds.csv", lambda row: NamedClimate(*entry(row), _swings(row)))


def _swings(row: dict[str, str]) -> ClimateKind:
    def pair(column: str) -> tuple[float, float]:
        coldest, warmest = row[column].split()
        return float(coldest), float(warmest)

    def number(column: str) -> float:
        return float(row[column])

    spread = Three(number("lasting_warmth"), number("lasting_range"), number("lasting_rain"))
    links = (number(column) for column in ("warm_wide", "warm_wet", "wide_wet"))
    quick = (number(column) for column in ("quick_warmth", "quick_range", "link", "wetter"))
    return ClimateKind(
        number("first_dry"),
        pair("warmer_dry_c"),
        pair("spread_dry_c"),
        pair("spread_wet_c"),
        pair("range_wet"),
        pair("range_spread_dry"),
        pair("range_spread_wet"),
        Memory(Lasting(number("fades_d"), spread, *links), *quick),
    )


def kind_of_months(precip: Floats, temperature: Floats) -> NamedClimate:
    """The kind of climate that twelve months look like.

    Parameters
    ----------
    precip : Rain of each. [mm]
    temperature : Mean of each. [°C]
    """
    kinds = climate_kinds()
    if temperature.min() >= WARM_ALL_YEAR:
        return kinds["tropical"]
    if np.ptp(temperature) >= CONTINENTAL:
        return kinds["continental"]
    warmer = temperature >= np.median(temperature)
    if precip[warmer].sum() >= DRY_SUMMER * precip.sum():
        return kinds["maritime"]
    return kinds["dry-summer" if temperature.max() >= HOT_SUMMER else "fair-summer"]


def kind_of_record(record: DailyWeather) -> NamedClimate:
    """The kind of climate that a record looks like; every month has to be in it."""
    month = record.month - 1
    days = np.maximum(np.bincount(month, minlength=MONTHS), 1)
    mean = (record.temp_min + record.temp_max) / 2
    precip, temperature = (
        np.bincount(month, series, MONTHS) / days for series in (record.precip, mean)
    )
    return kind_of_months(precip, temperature)
