"""The text of a weather file as a table: from bytes to rows of cells, from the header on."""

import csv
import io
import re
from collections.abc import Iterator, Mapping, Sequence

from euhydra.formats.weather_columns import DATE_ORDER, WeatherFileError, is_header, taken_for

MOST_BYTES = 8_000_000
"""Largest file taken. [bytes]"""

MISSING = {"", "na", "nan", "null", "none", "-", "m", "-9999", "-9999.0", "-999", "-999.0"}
"""Cells that stand for no value in the common archives."""

DAY_CELL = re.compile(r"\d{4}([-/.])\d{1,2}\1\d{1,2}([T ].*)?|\d{8}|\d{1,2}([./-])\d{1,2}\3\d{4}.*")
"""A cell that is a day."""

SHOWN_ROWS = 5
"""Rows that are shown of a file."""


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


def rows_of(text: str) -> Iterator[tuple[int, list[str]]]:
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


def _decimal(cell: str, delimiter: str) -> str:
    cell = cell.strip()
    return cell.replace(",", ".") if delimiter != "," and re.fullmatch(r"-?\d+,\d+", cell) else cell


def with_its_days(
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
