"""Months and years of weather records side by side."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from euhydra.core import weather
from euhydra.core.climate import WET_DAY
from euhydra.core.weather import DailyWeather
from euhydra.garden import quantities
from euhydra.garden.model import Garden
from euhydra.garden.quantities import KINDS, System
from euhydra.records.weather import RecordInfo

Floats = NDArray[np.float64]

FEWEST_DAYS = 25
"""Days of a month that are needed to count it. [d] Our choice."""

DEPTHS = 6
"""Shades in which a month's rain is drawn."""


@dataclass(frozen=True)
class MonthCell:
    """A month of a year: its rain as shown, its shade from 0, whether days of it are made up."""

    text: str
    shade: int
    is_made_up: bool


@dataclass(frozen=True)
class YearRow:
    """A year: its months and its sum."""

    year: int
    months: tuple[MonthCell, ...]
    total: str


@dataclass(frozen=True)
class Years:
    """Every year of a record, month by month, in the garden's unit."""

    unit: str
    rows: tuple[YearRow, ...]


@dataclass(frozen=True)
class Compared:
    """One record beside the others: means of a year."""

    name: str
    span: str
    in_use: bool
    rain: str
    driest: str
    wet_days: str
    et0: str
    hottest: str


def monthly_rain(record: DailyWeather) -> Floats:
    """Rain of each month of each year; NaN where the record has too little of it. [mm]"""
    years = record.year - record.year[0]
    place = years * 12 + record.month - 1
    count = (int(years[-1]) + 1) * 12
    rain = np.bincount(place, record.precip, count)
    days = np.bincount(place, minlength=count)
    return np.where(days >= FEWEST_DAYS, rain, np.nan).reshape(-1, 12)


def years_of(record: DailyWeather, info: RecordInfo, system: System) -> Years:
    """Every month of every year, shaded by its rain."""
    rain = monthly_rain(record)
    most = float(np.nanmax(rain)) if not np.isnan(rain).all() else 1.0
    made_up = {
        month
        for first, last in info.made_up
        for month in np.arange(
            first[:7], np.datetime64(last[:7]) + 1, dtype="datetime64[M]"
        ).astype(str)
    }
    rows = []
    for number, months in enumerate(rain):
        year = int(record.year[0]) + number
        cells = tuple(
            _cell(float(mm), most, system, f"{year}-{m:02}" in made_up)
            for m, mm in enumerate(months, 1)
        )
        total = float(record.precip[record.year == year].sum())
        rows.append(YearRow(year, cells, quantities.show_number(total / 1000, "rain", system)))
    return Years(KINDS["rain"].display(system).sign, tuple(rows))


def _cell(millimetres: float, most: float, system: System, is_made_up: bool) -> MonthCell:
    if np.isnan(millimetres):
        return MonthCell("", 0, is_made_up)
    shade = min(DEPTHS - 1, int(DEPTHS * millimetres / max(most, 1e-9)))
    return MonthCell(
        quantities.show_number(millimetres / 1000, "rain", system, 2), shade, is_made_up
    )


def compare(records: Sequence[tuple[RecordInfo, DailyWeather]], garden: Garden) -> list[Compared]:
    """Every record of the garden by its means."""
    return [_compared(info, record, garden) for info, record in records]


def _compared(info: RecordInfo, record: DailyWeather, garden: Garden) -> Compared:
    et0 = weather.reference_et(record, garden.place.latitude_deg, garden.place.elevation_m)
    whole = [
        float(record.precip[record.year == year].sum())
        for year in np.unique(record.year)
        if (record.year == year).sum() >= 360
    ]
    system = garden.units

    def rain(millimetres: float) -> str:
        return quantities.show(millimetres / 1000, "rain", system)

    return Compared(
        info.name,
        f"{info.first_day[:4]} to {info.last_day[:4]}",
        info.in_use,
        rain(float(record.precip.sum()) / record.years),
        rain(min(whole)) if whole else "",
        f"{float((record.precip >= WET_DAY).sum()) / record.years:.0f}",
        rain(float(et0.sum()) / record.years),
        quantities.show(float(record.temp_max.max()), "temperature", system),
    )
