"""A forecast as CSV: a line a day with its rain, and if known its chance and temperatures."""

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import date
from math import isfinite

COLUMNS = ("date", "rain_mm", "chance", "tmin_c", "tmax_c")

MOST_DAYS = 60


class ForecastFileError(ValueError):
    """A forecast that cannot be read, with line and remedy."""


@dataclass(frozen=True)
class ForecastRow:
    """One day. [mm], [-], [°C]; chance 1 and temperatures None where they are not told."""

    day: date
    rain: float
    chance: float
    lowest: float | None
    highest: float | None


def read(text: str) -> list[ForecastRow]:
    """The days of a forecast.

    Raises
    ------
    ForecastFileError : naming the line.
    """
    reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    if not {"date", "rain_mm"} <= set(reader.fieldnames or []):
        raise ForecastFileError(
            f"Begin with a line “{','.join(COLUMNS)}”; the last three may be left out."
        )
    found = []
    for row in reader:
        try:
            found.append(_row(row))
        except ValueError as error:
            raise ForecastFileError(f"Line {reader.line_num}: {error}") from None
        if len(found) > MOST_DAYS:
            raise ForecastFileError(f"More than {MOST_DAYS} days: no forecast tells of so many.")
    return found


def write(rows: Iterable[ForecastRow]) -> str:
    """The days of a forecast as text."""
    cells = ((row.day.isoformat(), row.rain, row.chance, row.lowest, row.highest) for row in rows)
    lines = (",".join("" if cell is None else str(cell) for cell in line) for line in cells)
    return "\n".join([",".join(COLUMNS), *lines]) + "\n"


def _row(row: Mapping[str, str | None]) -> ForecastRow:
    text = (row["date"] or "").strip()
    try:
        day = date.fromisoformat(text)
    except ValueError:
        raise ValueError(f"“{text}” is no day: type such as 2026-07-12.") from None
    chance = _number(row, "chance")
    rain = _number(row, "rain_mm")
    return ForecastRow(
        day,
        0.0 if rain is None else rain,
        1.0 if chance is None else chance,
        _number(row, "tmin_c"),
        _number(row, "tmax_c"),
    )


def _number(row: Mapping[str, str | None], name: str) -> float | None:
    text = (row.get(name) or "").strip()
    if not text:
        return None
    try:
        value = float(text)
    except ValueError:
        raise ValueError(f"“{text}” is no number for {name}.") from None
    if not isfinite(value):
        raise ValueError(f"“{text}” is no number for {name}.")
    return value
