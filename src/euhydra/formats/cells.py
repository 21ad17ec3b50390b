"""Tables that go out as CSV: what a spreadsheet would run as a formula is marked as text."""

import csv
import io
from collections.abc import Iterable, Sequence

BEGINS_FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""What a spreadsheet takes for the beginning of a formula."""

MARK = "'"
"""Before a cell it says: this is text."""


def table(columns: Sequence[str], rows: Iterable[Iterable[object]]) -> str:
    """A table as text, its header first."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows(
        [cell if not isinstance(cell, str) else guarded(cell) for cell in row] for row in rows
    )
    return out.getvalue()


def guarded(text: str) -> str:
    """A cell that no spreadsheet runs; `plain` gives back what it was.

    Examples
    --------
    >>> guarded("=2+2"), guarded("-2.5"), guarded("leaf")
    ("'=2+2", '-2.5', 'leaf')
    """
    return (
        MARK + text
        if text.lstrip(MARK).startswith(BEGINS_FORMULA) and not _is_number(text)
        else text
    )


def plain(text: str) -> str:
    """A cell as it was before it was guarded."""
    return (
        text[1:] if text.startswith(MARK) and text.lstrip(MARK).startswith(BEGINS_FORMULA) else text
    )


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True
