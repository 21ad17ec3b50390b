"""The log. All SQL about it is in this file."""

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

from euhydra.garden.logbook import LogEntry, MeterNeighbours
from euhydra.records.database import transaction

HALF_A_DAY = timedelta(hours=12)

AS_MUCH_M = 0.00015
"""How far two readings of one rain lie apart at the most. [m] Our choice: what two pairs of eyes differ by."""

COLUMNS = "id, sent_id, kind, at, part_id, amounts, word, note, photo, created_at"

ADD = """
    INSERT INTO log_entry (garden_id, sent_id, kind, at, part_id, amounts, word, note, photo)
    VALUES (:garden_id, :sent_id, :kind, :at, :part_id, :amounts, :word, :note, :photo)
    ON CONFLICT (garden_id, sent_id) DO NOTHING
"""

BY_SENT_ID = "SELECT id FROM log_entry WHERE garden_id = :garden_id AND sent_id = :sent_id"

ONE = f"""
    SELECT {COLUMNS}, is_removed
      FROM log_entry
     WHERE garden_id = :garden_id AND id = :entry_id
"""

FOUND = f"""
    SELECT {COLUMNS}, is_removed
      FROM log_entry
     WHERE garden_id = :garden_id AND is_removed = 0
       AND (:kind = '' OR kind = :kind)
       AND (:part_id = '' OR part_id = :part_id)
       AND (:text = '' OR note LIKE :like ESCAPE '\\' OR part_id IN (SELECT value FROM json_each(:parts)))
     ORDER BY at DESC, id DESC
     LIMIT :most OFFSET :skip
"""

IN_ORDER = f"""
    SELECT {COLUMNS}, is_removed
      FROM log_entry
     WHERE garden_id = :garden_id AND is_removed = 0
       AND at >= :since
       AND (:kinds = '[]' OR kind IN (SELECT value FROM json_each(:kinds)))
     ORDER BY at, id
"""

SET = """
    UPDATE log_entry
       SET kind = :kind, at = :at, part_id = :part_id, amounts = :amounts, word = :word,
           note = :note, photo = :photo
     WHERE id = :entry_id
"""

METER_BEFORE = """
    SELECT json_extract(amounts, '$[0]') AS reading
      FROM log_entry
     WHERE garden_id = :garden_id AND is_removed = 0 AND kind = 'meter'
       AND part_id IS :part_id AND at < :at AND id <> :besides
     ORDER BY at DESC, id DESC
     LIMIT 1
"""

METER_AFTER = """
    SELECT json_extract(amounts, '$[0]') AS reading, word
      FROM log_entry
     WHERE garden_id = :garden_id AND is_removed = 0 AND kind = 'meter'
       AND part_id IS :part_id AND at > :at AND id <> :besides
     ORDER BY at, id
     LIMIT 1
"""

SAME_RAIN = """
    SELECT at
      FROM log_entry
     WHERE garden_id = :garden_id AND is_removed = 0 AND kind = 'rain'
       AND at BETWEEN :first AND :last AND sent_id <> :sent_id
       AND abs(json_extract(amounts, '$[0]') - :depth) < :like
     ORDER BY at DESC
     LIMIT 1
"""

HISTORY = "SELECT was, changed_at FROM log_change WHERE entry_id = :entry_id ORDER BY id DESC"


# A photo that an entry had before it was changed is in its history.
HAS_PHOTO = """
    SELECT EXISTS (
        SELECT 1
          FROM log_entry
          LEFT JOIN log_change ON log_change.entry_id = log_entry.id
         WHERE log_entry.garden_id = :garden_id
           AND :digest IN (log_entry.photo, json_extract(log_change.was, '$.photo'))
    )
"""


class NoSuchEntryError(LookupError):
    """There is no entry with this number in this garden's log."""


@dataclass(frozen=True)
class KeptEntry:
    """An entry as it is kept."""

    id: int
    sent_id: str
    entry: LogEntry
    created_at: str
    is_removed: bool = False


@dataclass(frozen=True)
class Search:
    """What is looked for: all of the given ones hold.

    text : In the note; `parts` are ids of parts whose names hold it.
    """

    kind: str = ""
    part_id: str = ""
    text: str = ""
    parts: tuple[str, ...] = ()


def add(
    conn: sqlite3.Connection, garden_id: int, sent_id: str, entry: LogEntry
) -> tuple[int, bool]:
    """Keep an entry; returns its number, and False if one with the same `sent_id` was kept before."""
    with transaction(conn):
        return insert(conn, garden_id, sent_id, entry)


def insert(
    conn: sqlite3.Connection, garden_id: int, sent_id: str, entry: LogEntry
) -> tuple[int, bool]:
    """As `add`, within a transaction that somebody else has begun."""
    key = {"garden_id": garden_id, "sent_id": sent_id}
    is_new = conn.execute(ADD, _row(entry) | key).rowcount > 0
    return conn.execute(BY_SENT_ID, key).fetchone()["id"], is_new


def add_all(
    conn: sqlite3.Connection, garden_id: int, entries: Iterable[tuple[str, LogEntry]]
) -> tuple[int, int]:
    """Keep many, all or none; returns how many are new, and how many were there before."""
    with transaction(conn):
        new = [insert(conn, garden_id, sent_id, entry)[1] for sent_id, entry in entries]
    return sum(new), len(new) - sum(new)


def find(
    conn: sqlite3.Connection, garden_id: int, search: Search, most: int = 50, skip: int = 0
) -> list[KeptEntry]:
    """Entries, newest first. Reads only."""
    like = search.text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    row = {
        "garden_id": garden_id,
        "kind": search.kind,
        "part_id": search.part_id,
        "text": search.text,
        "like": f"%{like}%",
        "parts": json.dumps(search.parts),
        "most": most,
        "skip": skip,
    }
    return [_kept(found) for found in conn.execute(FOUND, row)]


def in_order(
    conn: sqlite3.Connection, garden_id: int, since: datetime | None = None, *kinds: str
) -> list[LogEntry]:
    """Entries from a time on, oldest first. Reads only."""
    row = {
        "garden_id": garden_id,
        "kinds": json.dumps(kinds),
        "since": since.isoformat() if since else "",
    }
    return [_kept(found).entry for found in conn.execute(IN_ORDER, row)]


def newest(conn: sqlite3.Connection, garden_id: int, kind: str, part_id: str) -> LogEntry | None:
    """The latest entry of a kind about a part; None if there is none. Reads only."""
    found = find(conn, garden_id, Search(kind, part_id), 1)
    return found[0].entry if found else None


def one(conn: sqlite3.Connection, garden_id: int, entry_id: int) -> KeptEntry:
    """An entry, a removed one too. Reads only.

    Raises
    ------
    NoSuchEntryError : if there is none.
    """
    row = conn.execute(ONE, {"garden_id": garden_id, "entry_id": entry_id}).fetchone()
    if row is None:
        raise NoSuchEntryError(f"There is no entry number {entry_id} in this garden's log.")
    return _kept(row)


def change(conn: sqlite3.Connection, garden_id: int, entry_id: int, entry: LogEntry) -> None:
    """Put another entry in its place; the former one stays in its history.

    Raises
    ------
    NoSuchEntryError : if there is none.
    """
    with transaction(conn):
        before = one(conn, garden_id, entry_id)
        if before.entry == entry:
            return
        was = json.dumps(_row(before.entry))
        conn.execute("INSERT INTO log_change (entry_id, was) VALUES (?, ?)", (entry_id, was))
        conn.execute(SET, _row(entry) | {"entry_id": entry_id})


def mark_removed(conn: sqlite3.Connection, entry_id: int, removed: bool) -> None:
    """As `set_removed`, within a transaction that somebody else has begun."""
    conn.execute("UPDATE log_entry SET is_removed = ? WHERE id = ?", (int(removed), entry_id))


def set_removed(conn: sqlite3.Connection, garden_id: int, entry_id: int, removed: bool) -> None:
    """Take an entry out of the log, or bring it back.

    Raises
    ------
    NoSuchEntryError : if there is none.
    """
    with transaction(conn):
        one(conn, garden_id, entry_id)
        mark_removed(conn, entry_id, removed)


def history(conn: sqlite3.Connection, entry_id: int) -> list[tuple[LogEntry, str]]:
    """What an entry was before each change, with when it was changed; newest first. Reads only."""
    rows = conn.execute(HISTORY, {"entry_id": entry_id})
    return [(_entry(json.loads(row["was"])), row["changed_at"]) for row in rows]


def has_photo(conn: sqlite3.Connection, garden_id: int, digest: str) -> bool:
    """Whether a photo belongs to this garden's log, or did before a change. Reads only."""
    row = {"garden_id": garden_id, "digest": digest}
    return bool(conn.execute(HAS_PHOTO, row).fetchone()[0])


def meter_around(
    conn: sqlite3.Connection, garden_id: int, entry: LogEntry, besides: int = 0
) -> MeterNeighbours:
    """Readings of the same meter before and after an entry. Reads only."""
    row = {
        "garden_id": garden_id,
        "part_id": entry.part_id,
        "at": entry.at.isoformat(timespec="minutes"),
        "besides": besides,
    }
    before = conn.execute(METER_BEFORE, row).fetchone()
    after = conn.execute(METER_AFTER, row).fetchone()
    return MeterNeighbours(
        before["reading"] if before else None,
        after["reading"] if after and after["word"] != "new" else None,
    )


def same_rain(
    conn: sqlite3.Connection, garden_id: int, entry: LogEntry, sent_id: str
) -> datetime | None:
    """When as much rain was read within half a day of an entry of rain, itself left out; None if it was not. Reads only."""
    row = {
        "garden_id": garden_id,
        "first": (entry.at - HALF_A_DAY).isoformat(timespec="minutes"),
        "last": (entry.at + HALF_A_DAY).isoformat(timespec="minutes"),
        "depth": entry.amounts[0],
        "like": AS_MUCH_M,
        "sent_id": sent_id,
    }
    found = conn.execute(SAME_RAIN, row).fetchone()
    return datetime.fromisoformat(found["at"]) if found else None


def count(conn: sqlite3.Connection, garden_id: int) -> int:
    """How many entries there are. Reads only."""
    query = "SELECT count(*) FROM log_entry WHERE garden_id = ? AND is_removed = 0"
    found: int = conn.execute(query, (garden_id,)).fetchone()[0]
    return found


def span(conn: sqlite3.Connection, garden_id: int) -> tuple[date, date] | None:
    """First and last day of the log; None while it is empty. Reads only."""
    # One end at a time, for which the index by time is looked into and not read.
    query = """
        SELECT (SELECT min(at) FROM log_entry WHERE garden_id = :garden AND is_removed = 0),
               (SELECT max(at) FROM log_entry WHERE garden_id = :garden AND is_removed = 0)
    """
    first, last = conn.execute(query, {"garden": garden_id}).fetchone()
    if first is None:
        return None
    return datetime.fromisoformat(first).date(), datetime.fromisoformat(last).date()


def state(conn: sqlite3.Connection, garden_id: int) -> str:
    """Names the log as it stands: another after each entry, change and removal. Reads only."""
    query = """
        SELECT (SELECT coalesce(max(id), 0) FROM log_entry),
               (SELECT coalesce(max(id), 0) FROM log_change),
               count(*), coalesce(sum(id), 0)
          FROM log_entry WHERE garden_id = ? AND is_removed = 1
    """
    return "-".join(str(value) for value in conn.execute(query, (garden_id,)).fetchone())


def _row(entry: LogEntry) -> dict[str, Any]:
    return {
        "kind": entry.kind,
        "at": entry.at.isoformat(timespec="minutes"),
        "part_id": entry.part_id,
        "amounts": json.dumps(entry.amounts),
        "word": entry.word,
        "note": entry.note,
        "photo": entry.photo,
    }


def _entry(row: dict[str, Any] | sqlite3.Row) -> LogEntry:
    return LogEntry(
        row["kind"],
        datetime.fromisoformat(row["at"]),
        row["part_id"],
        tuple(json.loads(row["amounts"])),
        row["word"],
        row["note"],
        row["photo"],
    )


def _kept(row: sqlite3.Row) -> KeptEntry:
    return KeptEntry(
        row["id"], row["sent_id"], _entry(row), row["created_at"], bool(row["is_removed"])
    )
