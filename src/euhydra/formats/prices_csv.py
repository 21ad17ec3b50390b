"""The owner's price table as CSV: good, name, pack, unit, price. Names are for people, and not read."""

import csv
import io
from collections.abc import Iterable
from dataclasses import dataclass
from math import isfinite

from euhydra.formats import cells
from euhydra.garden import quantities
from euhydra.garden.quantities import QuantityError

COLUMNS = ("good", "name", "pack", "unit", "price")

COUNTED = ""
"""Unit of what comes by the piece."""

MOST_ROWS = 5000


class PriceFileError(ValueError):
    """The file is no price table; the message says in which line and what to do."""


@dataclass(frozen=True)
class PriceRow:
    """One good: what a pack holds, and what the pack costs.

    unit : Of the pack, such as `m` or `ft`; `COUNTED` for pieces.
    """

    good: str
    name: str
    pack: float
    unit: str
    price: float

    @property
    def holds(self) -> float:
        """The pack as it is kept: pieces, or metres."""
        if self.unit == COUNTED:
            return self.pack
        return quantities.to_si(self.pack, self.unit, "length")


def write(rows: Iterable[PriceRow]) -> str:
    """The table as text."""
    return cells.table(
        COLUMNS, ((r.good, r.name, f"{r.pack:.4g}", r.unit, f"{r.price:.2f}") for r in rows)
    )


def read(text: str) -> list[PriceRow]:
    """The rows of a table.

    Raises
    ------
    PriceFileError : naming the line and the remedy; nothing of the file is to be taken then.
    """
    try:
        return _read(text)
    except csv.Error as error:
        raise PriceFileError(
            f"This is not a table: {error}. Save it as CSV, and bring it again."
        ) from None


def _read(text: str) -> list[PriceRow]:
    reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    missing = [c for c in ("good", "pack", "price") if c not in (reader.fieldnames or [])]
    if missing:
        raise PriceFileError(
            f"There is no column “{missing[0]}”: begin with a line “{','.join(COLUMNS)}”, as in the table you can save here."
        )
    rows = []
    for row in reader:
        rows.append(_row(row, reader.line_num))
        if len(rows) > MOST_ROWS:
            raise PriceFileError(f"More than {MOST_ROWS} lines: keep what is on your list only.")
    return rows


def _row(row: dict[str, str], line: int) -> PriceRow:
    good = (row["good"] or "").strip()
    if not good:
        raise PriceFileError(f"Line {line}: the good has no name in the first column.")
    pack, price = _number(row, "pack", line), _number(row, "price", line)
    if pack <= 0:
        raise PriceFileError(f"Line {line}: a pack of {pack:g} holds nothing: give 1 or more.")
    if price < 0:
        raise PriceFileError(f"Line {line}: a price of {price:g} is below nothing: give 0 or more.")
    unit = (row.get("unit") or COUNTED).strip()
    if not _is_unit(unit):
        raise PriceFileError(
            f"Line {line}: “{unit}” is no length: give m or ft for what comes by length, and nothing for pieces."
        )
    return PriceRow(good, (row.get("name") or "").strip(), pack, unit, price)


def _is_unit(unit: str) -> bool:
    try:
        return unit == COUNTED or quantities.to_si(1.0, unit, "length") > 0
    except QuantityError:
        return False


def _number(row: dict[str, str], column: str, line: int) -> float:
    try:
        value = float((row[column] or "").strip().replace(",", "."))
    except ValueError:
        raise PriceFileError(
            f"Line {line}: “{row[column]}” in the column “{column}” is no number: type such as 4.50."
        ) from None
    if not isfinite(value):
        raise PriceFileError(f"Line {line}: “{row[column]}” is no price.")
    return value
