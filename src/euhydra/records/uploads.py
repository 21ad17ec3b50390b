"""Files that wait for an answer before they are taken in. All SQL about them is in this file."""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, field

from euhydra.records.database import transaction

FIND = "SELECT id, name, text FROM upload WHERE garden_id = :garden_id AND id = :upload_id"

KEEP = "INSERT INTO upload (garden_id, name, text) VALUES (:garden_id, :name, :text)"

FORGET_OTHERS = "DELETE FROM upload WHERE garden_id = :garden_id"


SHAPE = "SELECT said FROM file_shape WHERE header = ?"

REMEMBER = """
INSERT INTO file_shape (header, said) VALUES (:header, :said)
ON CONFLICT (header) DO UPDATE SET said = excluded.said
"""


@dataclass(frozen=True)
class SaidOfFile:
    """What an owner says of a file: what its columns are, by header, and their units, by our name."""

    columns: Mapping[str, str] = field(default_factory=dict)
    units: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Upload:
    """A file's text under the name it came with."""

    id: int
    name: str
    text: str


def keep(conn: sqlite3.Connection, garden_id: int, name: str, text: str) -> int:
    """Keep a garden's latest file, and only that; returns its number."""
    with transaction(conn):
        conn.execute(FORGET_OTHERS, {"garden_id": garden_id})
        row = {"garden_id": garden_id, "name": name, "text": text}
        upload_id = conn.execute(KEEP, row).lastrowid
    assert upload_id is not None
    return upload_id


def find(conn: sqlite3.Connection, garden_id: int, upload_id: int) -> Upload | None:
    """A file that waits; None if it is no longer there. Reads only."""
    row = conn.execute(FIND, {"garden_id": garden_id, "upload_id": upload_id}).fetchone()
    return Upload(**row) if row else None


def forget(conn: sqlite3.Connection, upload_id: int) -> None:
    """Drop a file that has been taken in."""
    with transaction(conn):
        conn.execute("DELETE FROM upload WHERE id = ?", (upload_id,))


def remembered(conn: sqlite3.Connection, header: str) -> SaidOfFile:
    """What was said of the last file with that header; nothing where there was none. Reads only."""
    row = conn.execute(SHAPE, (header,)).fetchone()
    return SaidOfFile(**json.loads(row["said"])) if row else SaidOfFile()


def remember(conn: sqlite3.Connection, header: str, said: SaidOfFile) -> None:
    """Keep what was said for the next file of that shape."""
    told = json.dumps({"columns": dict(said.columns), "units": dict(said.units)})
    with transaction(conn):
        conn.execute(REMEMBER, {"header": header, "said": told})
