"""Daily weather from CSV files: our own header, and those of the common public archives.

Numbers that are no weather are reported with their line; gaps are reported by date and filled
only when asked.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from math import isfinite, isnan, nan

import numpy as np
from numpy.typing import NDArray

from euhydra.core.weather import DailyWeather
from euhydra.formats import weather_table
from euhydra.formats.weather_columns import (
    DATE_ORDER,
    FACTORS,
    NEEDED,
    OURS,
    Column,
    DateOrderNeededError,
    WeatherValueError,
    understand,
)

Floats = NDArray[np.float64]

MOST_ROWS = 60_000
"""Most days taken: some 160 years."""

MOST_NAMED = 5
"""Faults that are listed one by one before the rest are counted."""

YEAR_LAST = re.compile(r"(\d{1,2})([./-])(\d{1,2})\2(\d{4})\b")
"""A date that ends with its year."""

MONTHS = 12

SERIES_OF = {
    "precip": "precip",
    "tmin": "temp_min",
    "tmax": "temp_max",
    "et0": "et0",
    "rhmin": "humidity_min",
    "rhmax": "humidity_max",
    "wind": "wind",
    "solar": "solar",
}
"""Column of a file → series of a record."""


@dataclass(frozen=True)
class WeatherFile:
    """A file that was read: its record, and what was noticed on the way.

    left_out : Headers that were not understood.
    gaps : Dates that are missing or lack a value, with what they lack.
    columns : Columns understood, with their units.
    """

    days: tuple[date, ...]
    values: dict[str, tuple[float, ...]]
    columns: tuple[Column, ...]
    left_out: tuple[str, ...]
    gaps: dict[date, tuple[str, ...]] = field(default_factory=dict)

    def record(self) -> DailyWeather:
        """The record, gaps and all: NaN where a value is missing."""
        series = {ours: np.array(self.values[name]) for name, ours in SERIES_OF.items()}
        return DailyWeather.of(np.array(self.days, dtype="datetime64[D]"), **series)


def read(
    text: str,
    units: Mapping[str, str] | None = None,
    needed: tuple[str, ...] = tuple(NEEDED),
    said: Mapping[str, str] | None = None,
) -> WeatherFile:
    """A weather file from its text.

    Parameters
    ----------
    text : The file.
    units : Units of columns that do not say theirs, by our name (`precip`, `tmin`, `tmax` …) or
        `temp` for both temperatures.
    needed : Columns that the file has to have; gaps are reported in these.
    said : What columns are by their owner's word, see ``weather_columns.understand``.

    Raises
    ------
    UnitsNeededError : if a column's unit has to be asked for.
    WeatherFileError : with line and remedy for everything else.
    """
    rows = weather_table.rows_of(text)
    header = next(rows)[1]
    body = list(rows)
    names = weather_table.with_its_days(header, [row for _, row in body], said or {})
    columns, date_index, left_out = understand(header, units or {}, needed, names)
    cells: dict[date, dict[str, float]] = {}
    faults: list[str] = []
    order = _date_order(
        [row[date_index[0]] for _, row in body if date_index[0] < len(row)],
        units or {},
        header[date_index[0]],
    )
    for line, row in body:
        _read_row(line, row, date_index, order, columns, cells, faults)
        if len(cells) > MOST_ROWS:
            raise WeatherValueError(
                f"Line {line}: more than {MOST_ROWS:,} days. Cut the file to the years you need."
            )
    if not cells and not faults:
        raise WeatherValueError("The file has a header and no days.")
    faults = _swapped(cells) or faults + _crossed(cells)
    if faults:
        raise WeatherValueError(_listed(faults))
    return _assemble(cells, columns, left_out, needed)


def _read_row(
    line: int,
    row: list[str],
    date_index: list[int],
    order: str,
    columns: tuple[Column, ...],
    cells: dict[date, dict[str, float]],
    faults: list[str],
) -> None:
    try:
        day = _day([row[i].strip() for i in date_index], order)
    except (ValueError, IndexError):
        what = row[date_index[0]] if date_index[0] < len(row) else ""
        faults.append(f"Line {line}: “{what}” is not a date: write 2026-05-31.")
        return
    if day in cells:
        faults.append(f"Line {line}: {day} stands there twice: keep one of them.")
        return
    values = {}
    for column in columns:
        text = row[column.index] if column.index < len(row) else ""
        try:
            values[column.name] = _value(text, column)
        except ValueError as error:
            faults.append(f"Line {line}, column “{column.header}”: {error}")
    cells[day] = values


def _date_order(texts: Sequence[str], said: Mapping[str, str], header: str) -> str:
    """`dm` or `md` for dates that do not begin with their year; "" for those that do.

    With dots the day stands first everywhere; else some day over twelve tells, or the owner does.

    Raises
    ------
    DateOrderNeededError : where nothing tells.
    """
    found = [match for text in texts if (match := YEAR_LAST.match(text.strip()))]
    if not found:
        return ""
    if all(match[2] == "." for match in found) or any(int(match[1]) > MONTHS for match in found):
        return "dm"
    if any(int(match[3]) > MONTHS for match in found):
        return "md"
    if said.get(DATE_ORDER) in ("dm", "md"):
        return said[DATE_ORDER]
    raise DateOrderNeededError(header.strip(), found[0][0])


def _day(texts: list[str], order: str) -> date:
    if len(texts) == 2:
        year, number = int(texts[0]), int(float(texts[1]))
        if not 1 <= number <= 366:
            raise ValueError(texts[1])
        return date(year, 1, 1) + timedelta(days=number - 1)
    turned = YEAR_LAST.match(texts[0]) if order else None
    if turned:
        first, second, year = int(turned[1]), int(turned[3]), int(turned[4])
        return date(year, second, first) if order == "dm" else date(year, first, second)
    text = texts[0].replace("/", "-")[:10]
    if re.fullmatch(r"\d{8}", text):
        text = f"{text[:4]}-{text[4:6]}-{text[6:]}"
    return date.fromisoformat(text)


def _value(text: str, column: Column) -> float:
    """A cell in the unit we keep; NaN where the archive has none."""
    if text.strip().lower() in weather_table.MISSING:
        return nan
    if column.name == "precip" and text.strip().lower() == "t":
        return 0.0  # a trace
    try:
        number = float(text)
    except ValueError:
        raise ValueError(
            f"“{text}” is not a number; units belong in the header, one for the whole column."
        ) from None
    known = OURS[column.name]
    factor, offset = FACTORS[column.unit or known.unit]
    value = number * factor + offset
    if not isfinite(value) or not known.lowest <= value <= known.highest:
        raise ValueError(
            f"{text} in {column.unit or known.unit} is no weather on Earth: is the unit right, "
            "and the same in every row?"
        )
    return value


def _crossed(cells: dict[date, dict[str, float]]) -> list[str]:
    return [
        f"{day}: the lowest temperature, {v['tmin']:g} °C, is above the highest, {v['tmax']:g} °C: "
        "correct that day."
        for day, v in cells.items()
        if v.get("tmin", nan) > v.get("tmax", nan)
    ]


def _swapped(cells: dict[date, dict[str, float]]) -> list[str]:
    """One fault if the temperature columns have been swapped, which shows on most days."""
    both = [(v["tmin"], v["tmax"]) for v in cells.values() if "tmin" in v and "tmax" in v]
    known = [(low, high) for low, high in both if isfinite(low) and isfinite(high)]
    crossed = sum(low > high for low, high in known)
    if known and crossed > len(known) / 2:
        return [
            f"The lowest temperature is above the highest on {crossed} of {len(known)} days: the "
            "two columns are swapped. Swap their headers."
        ]
    return []


def _assemble(
    cells: dict[date, dict[str, float]],
    columns: tuple[Column, ...],
    left_out: tuple[str, ...],
    needed: tuple[str, ...],
) -> WeatherFile:
    first, last = min(cells), max(cells)
    count = (last - first).days + 1
    if count > MOST_ROWS:
        raise WeatherValueError(
            f"The dates run from {first} to {last}, over {MOST_ROWS:,} days: is a year mistyped?"
        )
    days = tuple(first + timedelta(days=i) for i in range(count))
    values = {name: tuple(cells.get(day, {}).get(name, nan) for day in days) for name in OURS}
    gaps = {}
    for i, day in enumerate(days):
        lacking = tuple(n for n in needed if isnan(values[n][i]))
        if lacking:
            gaps[day] = lacking
    return WeatherFile(days, values, columns, left_out, gaps)


def _listed(faults: list[str]) -> str:
    more = len(faults) - MOST_NAMED
    return "\n".join(
        [*faults[:MOST_NAMED], *([f"… and {more} more like these."] if more > 0 else [])]
    )


def fill_gaps(file: WeatherFile) -> DailyWeather:
    """The record with its gaps filled: no rain, temperatures straight across the gap.

    Only on the owner's word: a gap filled dry makes the roof look poorer than it may be.
    """
    record = file.record()
    axis = np.arange(len(record.days), dtype=float)

    def across(series: Floats) -> Floats:
        known = ~np.isnan(series)
        if not known.any():
            return series  # the column is not in the file, and was not asked for
        return np.asarray(np.interp(axis, axis[known], series[known]))

    return replace(
        record,
        precip=np.nan_to_num(record.precip, nan=0.0),
        temp_min=across(record.temp_min),
        temp_max=across(record.temp_max),
    )
