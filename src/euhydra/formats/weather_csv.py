"""Daily weather from CSV files: our own header, and those of the common public archives.

Numbers that are no weather are reported with their line; gaps are reported by date and filled
only when asked.
"""

import csv
import io
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from math import isfinite, isnan, nan

import numpy as np
from numpy.typing import NDArray

from euhydra.core.weather import DailyWeather
from euhydra.formats.weather_columns import (
    DATE_ORDER,
    FACTORS,
    NEEDED,
    OURS,
    Column,
    DateOrderNeededError,
    WeatherFileError,
    WeatherValueError,
    is_header,
    stated_unit,
    taken_for,
    understand,
)

Floats = NDArray[np.float64]

MOST_BYTES = 8_000_000
"""Largest file taken. [bytes]"""

MOST_ROWS = 60_000
"""Most days taken: some 160 years."""

MOST_NAMED = 5
"""Faults that are listed one by one before the rest are counted."""

MISSING = {"", "na", "nan", "null", "none", "-", "m", "-9999", "-9999.0", "-999", "-999.0"}
"""Cells that stand for no value in the common archives."""


YEAR_LAST = re.compile(r"(\d{1,2})([./-])(\d{1,2})\2(\d{4})\b")
"""A date that ends with its year."""

MONTHS = 12

DAY_CELL = re.compile(r"\d{4}([-/.])\d{1,2}\1\d{1,2}([T ].*)?|\d{8}|\d{1,2}([./-])\d{1,2}\3\d{4}.*")
"""A cell that is a day."""

SHOWN_ROWS = 5
"""Rows that are shown of a file."""

DAYS_A_YEAR = 365.25

DRIEST_MM, WETTEST_MM = 130.0, 6000.0
"""Rain of a year: less is most likely inches, more tenths of a millimetre. [mm] Our choice."""

HOTTEST_C, HOTTEST_F, LEAST_KELVIN = 57.0, 135.0, 180.0
"""Hotter in a column of temperatures is Fahrenheit, tenths of a degree, or kelvin. World records,
from memory."""

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
    rows = _table(text)
    header = next(rows)[1]
    body = list(rows)
    names = _with_its_days(header, [row for _, row in body], said or {})
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


def decode(raw: bytes) -> str:
    """Text of an uploaded file.

    Raises
    ------
    WeatherFileError : if it is too large or no text.
    """
    if len(raw) > MOST_BYTES:
        raise WeatherFileError(
            f"The file has {len(raw) / 1e6:.0f} MB; {MOST_BYTES // 1_000_000} MB are taken. "
            "Cut it to the years you need."
        )
    if raw[:8].startswith((b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"%PDF", b"PK\x03\x04")):
        raise WeatherFileError(
            "This is a picture, a document or an archive, not a text file: save the table as CSV."
        )
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = raw.decode("cp1252", errors="replace")
    if "\0" in text:
        raise WeatherFileError("This is not a text file: save the table as CSV.")
    return text


def _table(text: str) -> Iterator[tuple[int, list[str]]]:
    """Rows with their line numbers, from the header on."""
    lines = text.splitlines()
    start = next((i for i, line in enumerate(lines) if is_header(line)), None)
    is_named = start is not None
    if start is None:
        start, is_named = _first_line(lines)
    delimiter = _delimiter(lines[start])
    if not is_named:
        count = len(next(csv.reader([lines[start]], delimiter=delimiter)))
        yield 0, [f"column {n}" for n in range(1, count + 1)]
    body = "\n".join(lines[start:])
    reader = csv.reader(io.StringIO(body), delimiter=delimiter, skipinitialspace=True)
    try:
        for row in reader:
            if any(cell.strip() for cell in row):
                yield start + reader.line_num, [_decimal(c, delimiter) for c in row]
    except csv.Error as error:
        line = start + reader.line_num
        raise WeatherFileError(f"Line {line}: this is not a table: {error}.") from None


def _delimiter(line: str) -> str:
    """What parts the cells: that which there is most of; of two alike not the comma, which numbers have too."""
    return max(";\t,", key=line.count)


def _first_line(lines: Sequence[str]) -> tuple[int, bool]:
    """Line at which a table begins that has no known name for its date, and whether it names the columns.

    It does if it stands before the days and has as many cells as they; else columns are called by their
    place, and the table begins with the first day.

    Raises
    ------
    WeatherFileError : if no line begins with a day.
    """
    cells = [line.split(_delimiter(line)) for line in lines]
    for i, row in enumerate(cells):
        if len(row) > 1 and any(DAY_CELL.fullmatch(cell.strip(' "')) for cell in row):
            before = next((j for j in range(i - 1, -1, -1) if lines[j].strip()), i)
            is_named = before < i and len(cells[before]) == len(row)
            return (before, True) if is_named else (i, False)
    raise WeatherFileError(
        "No days were found: a line a day, with its date, such as 2026-05-31, and columns parted "
        "by commas, semicolons or tabs."
    )


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
    rows = _table(text)
    header = [cell.strip() for cell in next(rows)[1]]
    body = [row for _, row in rows]
    names = taken_for(header, _with_its_days(header, body, said or {}))
    units = tuple(
        "" if stated_unit(header[i]) else _likely_unit(name, body, i)
        for i, name in enumerate(names)
    )
    shown = tuple(tuple(row[: len(header)]) for row in body[:SHOWN_ROWS])
    return Sheet(tuple(header), shown, tuple(names), units)


def _with_its_days(
    header: Sequence[str], body: Sequence[Sequence[str]], said: Mapping[str, str]
) -> Mapping[str, str]:
    """What columns are by their owner's word; the first that holds days is the date where none is said."""
    if DATE_ORDER in taken_for(header, said):
        return said
    dated = (text.strip() for i, text in enumerate(header) if _looks_like_days(body, i))
    first = next(dated, None)
    return said if first is None else {**said, first: DATE_ORDER}


def _looks_like_days(body: Sequence[Sequence[str]], index: int) -> bool:
    return bool(body) and all(
        len(row) > index and DAY_CELL.fullmatch(row[index].strip()) for row in body[:SHOWN_ROWS]
    )


def _likely_unit(name: str, body: Sequence[Sequence[str]], index: int) -> str:
    """By the size of the values; "" where nothing tells."""
    numbers = [n for row in body if index < len(row) and (n := _number(row[index])) is not None]
    if not numbers or name not in ("precip", "tmin", "tmax"):
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


def _number(cell: str) -> float | None:
    try:
        number = float(cell)
    except ValueError:
        return None
    is_there = cell.strip().lower() not in MISSING and isfinite(number)
    return number if is_there else None


def _decimal(cell: str, delimiter: str) -> str:
    cell = cell.strip()
    return cell.replace(",", ".") if delimiter != "," and re.fullmatch(r"-?\d+,\d+", cell) else cell


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
    if text.strip().lower() in MISSING:
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
