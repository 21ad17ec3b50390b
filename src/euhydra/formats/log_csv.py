"""The log as CSV, out and in. An entry keeps its `id`, so that what comes back is not doubled."""

import csv
import io
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import datetime

from euhydra.formats import cells
from euhydra.garden import logbook, quantities
from euhydra.garden.logbook import EntryError, LogEntry
from euhydra.garden.model import Garden
from euhydra.garden.quantities import System

COLUMNS = ("id", "when", "kind", "about", "about_id", "word", "amounts", "note")

NEEDED = ("when", "kind")

MOST_ID = 64
"""Longest id that a device may give its entry. [characters]"""

MOST_ROWS = 50_000

MOST_FAULTS = 10

DIGITS = 9
"""Figures of an amount, so that what comes back is what went out."""


class LogFileError(ValueError):
    """The file is no log; the message says in which line and what to do."""


@dataclass(frozen=True)
class LogRow:
    """An entry with the id that it keeps; empty where the file gives none."""

    id: str
    entry: LogEntry


def write(rows: Iterable[LogRow], garden: Garden) -> str:
    """The log as text, in the garden's units."""
    names = {part.id: part.name for part in garden.parts}
    return cells.table(COLUMNS, (_row(row.id, row.entry, names, garden.units) for row in rows))


def _row(entry_id: str, e: LogEntry, names: Mapping[str, str], units: System) -> tuple[str, ...]:
    return (
        entry_id,
        e.at.isoformat(timespec="minutes"),
        e.kind,
        names.get(e.part_id or "", ""),
        e.part_id or "",
        e.word,
        "; ".join(_amounts_out(e, units)),
        e.note,
    )


def read(text: str, garden: Garden, now: datetime) -> list[LogRow]:
    """The entries of a log.

    Raises
    ------
    LogFileError : naming lines and remedies; nothing of the file is to be taken then.
    """
    try:
        return _read(text, garden, now)
    except csv.Error as error:
        raise LogFileError(
            f"This is not a table: {error}. Save it as CSV, and bring it again."
        ) from None


def _read(text: str, garden: Garden, now: datetime) -> list[LogRow]:
    reader = csv.DictReader(io.StringIO(text.lstrip("\ufeff")))
    missing = [c for c in NEEDED if c not in (reader.fieldnames or [])]
    if missing:
        raise LogFileError(
            f"There is no column “{missing[0]}”: begin with a line “{','.join(COLUMNS)}”, as in the log you can save here."
        )
    found, faults = [], []
    for row in reader:
        try:
            entry = logbook.read(_typed(row), garden, now, is_old=True)
            entry_id = cells.plain((row.get("id") or "").strip())
            if len(entry_id) > MOST_ID:
                raise EntryError({"id": f"The id is longer than {MOST_ID} characters: shorten it."})
            found.append(LogRow(entry_id, entry))
        except EntryError as error:
            faults.append(f"Line {reader.line_num}: {error}")
        if len(found) > MOST_ROWS:
            raise LogFileError(f"More than {MOST_ROWS} lines: bring it in parts.")
    if faults:
        more = f"\nand {len(faults) - MOST_FAULTS} more" if len(faults) > MOST_FAULTS else ""
        raise LogFileError("\n".join(faults[:MOST_FAULTS]) + more)
    return found


def _typed(row: dict[str, str]) -> dict[str, str]:
    typed = {
        "kind": (row["kind"] or "").strip(),
        "at": row["when"] or "",
        "part": (row.get("about_id") or "").strip(),
        "word": (row.get("word") or "").strip(),
        "note": cells.plain(row.get("note") or ""),
    }
    if not typed["at"].strip():
        raise EntryError({"at": "There is no time: type such as 2026-06-21T07:30."})
    for pair in (row.get("amounts") or "").split("; "):
        name, equals, value = pair.partition("=")
        if equals:
            name = name.strip()
            typed[name] = f"{typed[name]}, {value}" if name in typed else value
    return typed


def _amounts_out(entry: LogEntry, system: System) -> Iterator[str]:
    kinds = logbook.entry_kinds()[entry.kind].amounts
    for i, value in enumerate(entry.amounts):
        amount = kinds[min(i, len(kinds) - 1)]
        if value is not None:
            yield f"{amount.name}={quantities.show(value, amount.kind, system, DIGITS).replace(',', '')}"
