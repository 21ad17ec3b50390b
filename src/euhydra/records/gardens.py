"""Gardens and their revisions. All SQL about them is in this file."""

import sqlite3
from dataclasses import dataclass
from datetime import datetime
from functools import lru_cache
from uuid import uuid4

from euhydra.garden import document, timer_settings
from euhydra.garden.model import Garden
from euhydra.records import log
from euhydra.records.database import transaction

OWN_ENTRY = "setting-"
"""How the `sent_id` begins of entries that a change of the plan writes into the log."""

LONGEST_CHANGE = 120
"""Letters that are kept of what is said of a change."""

ALL_GARDENS = """
    SELECT garden.id, garden.is_demo, revision.document
      FROM garden
      JOIN revision ON revision.id = garden.current_id
     ORDER BY garden.id
"""

CURRENT = """
    SELECT garden.id AS garden_id, revision.id, revision.document, revision.change,
           revision.parent_id IS NOT NULL AS can_undo,
           garden.tip_id <> garden.current_id AS can_redo
      FROM garden
      JOIN revision ON revision.id = garden.current_id
     WHERE garden.id = :garden_id
"""

HISTORY = """
    SELECT id, parent_id, change, created_at
      FROM revision
     WHERE garden_id = :garden_id
     ORDER BY id DESC
"""

AT_REVISION = """
    SELECT document
      FROM revision
     WHERE garden_id = :garden_id AND id = :revision_id
"""

HAS_PICTURE = """
    SELECT EXISTS (
        SELECT 1
          FROM revision
         WHERE garden_id = :garden_id AND instr(document, :digest) > 0
    )
"""

ADD_REVISION = """
    INSERT INTO revision (garden_id, parent_id, document, change)
    VALUES (:garden_id, :parent_id, :document, :change)
"""

STEP_TO = """
    UPDATE garden SET current_id = :current_id, tip_id = :tip_id WHERE id = :garden_id
"""

PARENT_OF_CURRENT = """
    SELECT revision.parent_id
      FROM garden
      JOIN revision ON revision.id = garden.current_id
     WHERE garden.id = :garden_id
"""

# Up from the tip to the current revision; the step before it is the one to redo.
CHILD_TOWARDS_TIP = """
    WITH RECURSIVE path (id, parent_id) AS (
        SELECT revision.id, revision.parent_id
          FROM garden
          JOIN revision ON revision.id = garden.tip_id
         WHERE garden.id = :garden_id
        UNION ALL
        SELECT revision.id, revision.parent_id
          FROM path
          JOIN revision ON revision.id = path.parent_id
    )
    SELECT path.id
      FROM path
      JOIN garden ON garden.id = :garden_id
     WHERE path.parent_id = garden.current_id
"""


class NoSuchGardenError(LookupError):
    """There is no garden with this number."""


class StaleWriteError(RuntimeError):
    """The garden has moved on since the page was read; nothing was written."""

    def __init__(self) -> None:
        super().__init__(
            "This garden was changed elsewhere since you opened this page. Nothing of yours was "
            "saved over it: what you typed is still here; look at the newer values and save again."
        )


@dataclass(frozen=True)
class Revision:
    """A garden as it stands, and the steps that lead from it."""

    garden_id: int
    id: int
    garden: Garden
    change: str
    can_undo: bool
    can_redo: bool


@dataclass(frozen=True)
class GardenEntry:
    """A garden in the list of all."""

    id: int
    name: str
    is_demo: bool


@dataclass(frozen=True)
class HistoryEntry:
    """One revision in a garden's history."""

    id: int
    parent_id: int | None
    change: str
    created_at: str


@lru_cache(maxsize=16)
def _parsed(text: str) -> Garden:
    """A revision's document, read once: revisions never change."""
    return document.loads(text)


def all_gardens(conn: sqlite3.Connection) -> list[GardenEntry]:
    """Every garden, oldest first. Reads only."""
    return [
        GardenEntry(row["id"], _parsed(row["document"]).name, bool(row["is_demo"]))
        for row in conn.execute(ALL_GARDENS)
    ]


def current(conn: sqlite3.Connection, garden_id: int) -> Revision:
    """The garden as it stands. Reads only.

    Raises
    ------
    NoSuchGardenError : if there is none.
    """
    row = conn.execute(CURRENT, {"garden_id": garden_id}).fetchone()
    if row is None:
        raise NoSuchGardenError(f"There is no garden number {garden_id}.")
    return Revision(
        row["garden_id"],
        row["id"],
        _parsed(row["document"]),
        row["change"],
        bool(row["can_undo"]),
        bool(row["can_redo"]),
    )


def history(conn: sqlite3.Connection, garden_id: int) -> list[HistoryEntry]:
    """Every revision, newest first. Reads only."""
    return [HistoryEntry(**row) for row in conn.execute(HISTORY, {"garden_id": garden_id})]


def at_revision(conn: sqlite3.Connection, garden_id: int, revision_id: int) -> Garden | None:
    """The garden as it was at a revision; None if it has no such revision. Reads only."""
    key = {"garden_id": garden_id, "revision_id": revision_id}
    row = conn.execute(AT_REVISION, key).fetchone()
    return None if row is None else _parsed(row["document"])


def has_picture(conn: sqlite3.Connection, garden_id: int, digest: str) -> bool:
    """Whether a picture belongs to this garden's plan, at any revision. Reads only."""
    row = {"garden_id": garden_id, "digest": digest}
    return bool(conn.execute(HAS_PICTURE, row).fetchone()[0])


def create(conn: sqlite3.Connection, garden: Garden, is_demo: bool = False) -> int:
    """A new garden; returns its number."""
    with transaction(conn):
        cursor = conn.execute("INSERT INTO garden (is_demo) VALUES (?)", (int(is_demo),))
        garden_id = cursor.lastrowid
        assert garden_id is not None
        _add(conn, garden_id, None, garden, "Begun")
    return garden_id


def save(
    conn: sqlite3.Connection, garden_id: int, based_on: int, garden: Garden, change: str
) -> int:
    """A new revision on top of `based_on`; returns its number. What could be redone is left aside.

    What it sets timers to is written into the log too, so that both say the same.

    Raises
    ------
    StaleWriteError : if the garden no longer stands at `based_on`; nothing is written.
    """
    with transaction(conn):
        before = current(conn, garden_id)
        if before.id != based_on:
            raise StaleWriteError
        _log_settings(conn, garden_id, before.garden, garden)
        return _add(conn, garden_id, based_on, garden, change)


def undo(conn: sqlite3.Connection, garden_id: int) -> bool:
    """Step back one revision; False if there is none.

    What it had written into the log of timers goes out of it again.
    """
    with transaction(conn):
        row = conn.execute(PARENT_OF_CURRENT, {"garden_id": garden_id}).fetchone()
        if row is None or row["parent_id"] is None:
            return False
        before = current(conn, garden_id).garden
        after = at_revision(conn, garden_id, row["parent_id"])
        assert after is not None  # a revision's parent is never removed
        _unlog_settings(conn, garden_id, before, after)
        return _move(conn, garden_id, row["parent_id"])


def redo(conn: sqlite3.Connection, garden_id: int) -> bool:
    """Step forward to the revision last undone; False if there is none."""
    with transaction(conn):
        row = conn.execute(CHILD_TOWARDS_TIP, {"garden_id": garden_id}).fetchone()
        return _move(conn, garden_id, row["id"] if row else None)


def delete_demo(conn: sqlite3.Connection) -> None:
    """Remove the demo garden with all that belongs to it, so that it can be laid out anew."""
    with transaction(conn):
        conn.execute("UPDATE garden SET current_id = NULL, tip_id = NULL WHERE is_demo = 1")
        conn.execute("DELETE FROM garden WHERE is_demo = 1")


def _add(
    conn: sqlite3.Connection, garden_id: int, parent_id: int | None, garden: Garden, change: str
) -> int:
    row = {
        "garden_id": garden_id,
        "parent_id": parent_id,
        "document": document.dumps(garden, indent=None),
        "change": change[:LONGEST_CHANGE],
    }
    revision_id = conn.execute(ADD_REVISION, row).lastrowid
    assert revision_id is not None
    step = {"garden_id": garden_id, "current_id": revision_id, "tip_id": revision_id}
    conn.execute(STEP_TO, step)
    return revision_id


def _move(conn: sqlite3.Connection, garden_id: int, revision_id: int | None) -> bool:
    if revision_id is None:
        return False
    before = current(conn, garden_id).garden
    conn.execute("UPDATE garden SET current_id = ? WHERE id = ?", (revision_id, garden_id))
    _log_settings(conn, garden_id, before, current(conn, garden_id).garden)
    return True


def _log_settings(conn: sqlite3.Connection, garden_id: int, before: Garden, after: Garden) -> None:
    now = datetime.now().replace(second=0, microsecond=0)
    timers = {timer.id: timer for timer in after.timers}
    for entry in timer_settings.changed(before, after, now):
        newest = log.newest(conn, garden_id, entry.kind, entry.part_id or "")
        timer = timers[entry.part_id or ""]
        # What the plan took from the log is there already, though it may be told more finely there.
        if newest is None or timer_settings.planned_as(timer, newest) != timer:
            log.insert(conn, garden_id, f"{OWN_ENTRY}{uuid4().hex}", entry)


def _unlog_settings(
    conn: sqlite3.Connection, garden_id: int, before: Garden, after: Garden
) -> None:
    now = datetime.now()
    then = {timer.id: timer_settings.said_of(timer, now) for timer in after.timers}
    for timer in before.timers:
        if timer_settings.said_of(timer, now) == then.get(timer.id):
            continue
        for kept in log.find(conn, garden_id, log.Search(timer_settings.KIND, timer.id), 1):
            is_own = kept.sent_id.startswith(OWN_ENTRY)
            if is_own and timer_settings.planned_as(timer, kept.entry) == timer:
                log.mark_removed(conn, kept.id, True)
