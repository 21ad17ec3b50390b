"""The first rows of a weather file, and what its columns are most likely: for its owner to set right."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from math import isfinite

from euhydra.formats import weather_table
from euhydra.formats.weather_columns import stated_unit, taken_for

DAYS_A_YEAR = 365.25

DRIEST_MM, WETTEST_MM = 130.0, 6000.0
"""Rain of a year: less is most likely inches, more tenths of a millimetre. [mm] Our choice."""

HOTTEST_C, HOTTEST_F, LEAST_KELVIN = 57.0, 135.0, 180.0
"""Hotter in a column of temperatures is Fahrenheit, tenths of a degree, or kelvin. World records,
from memory."""

TEMPERATURES = ("tmin", "tmax")


@dataclass(frozen=True)
class Sheet:
    """The first rows of a file, and what its columns are taken for.

    names : Our name of each column, `date`, or "" for one that is left out.
    units : Likely unit of each by its values, proposed and never taken; "" where the header says it.
    """

    header: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    names: tuple[str, ...]
    units: tuple[str, ...]

    @property
    def shape(self) -> str:
        """What files of one sort have in common: their header."""
        return "\t".join(self.header)


def sheet(text: str, said: Mapping[str, str] | None = None) -> Sheet:
    """How a file is read, for its owner to set right.

    Raises
    ------
    WeatherFileError : if it is no table of days.
    """
    rows = weather_table.rows_of(text)
    header = [cell.strip() for cell in next(rows)[1]]
    body = [row for _, row in rows]
    names = taken_for(header, weather_table.with_its_days(header, body, said or {}))
    numbers = {i: _numbers(body, i) for i in range(len(names))}
    # One station writes its highest and its lowest in one unit: both are told by the hotter days.
    warmth = [n for i, name in enumerate(names) if name in TEMPERATURES for n in numbers[i]]
    units = tuple(
        ""
        if stated_unit(header[i])
        else _likely_unit(name, warmth if name in TEMPERATURES else numbers[i])
        for i, name in enumerate(names)
    )
    shown = tuple(tuple(row[: len(header)]) for row in body[: weather_table.SHOWN_ROWS])
    return Sheet(tuple(header), shown, tuple(names), units)


def _likely_unit(name: str, numbers: Sequence[float]) -> str:
    """By the size of the values; "" where nothing tells."""
    if not numbers or name not in ("precip", *TEMPERATURES):
        return ""
    if name == "precip":
        a_year = sum(numbers) / len(numbers) * DAYS_A_YEAR
        return "in" if a_year < DRIEST_MM else "mm" if a_year < WETTEST_MM else "tenth_mm"
    highest, lowest = max(numbers), min(numbers)
    if lowest > LEAST_KELVIN:
        return "k"
    if highest > HOTTEST_F:
        return "tenth_c"
    return "f" if highest > HOTTEST_C else "c"


def _numbers(body: Sequence[Sequence[str]], index: int) -> list[float]:
    """The values of a column, those that are missing left out."""
    return [n for row in body if index < len(row) and (n := _number(row[index])) is not None]


def _number(cell: str) -> float | None:
    try:
        number = float(cell)
    except ValueError:
        return None
    is_there = cell.strip().lower() not in weather_table.MISSING and isfinite(number)
    return number if is_there else None
