"""Addresses under which calendars read a garden's tasks without the passphrase. All SQL about them is in this file.

They stand beside the sessions, in a database that no backup holds: whoever knows such an address reads.
"""

import secrets
import sqlite3
from contextlib import closing
from pathlib import Path

from euhydra.records import database, sessions

TABLE = """
    CREATE TABLE IF NOT EXISTS feed (
        garden_id INTEGER PRIMARY KEY,
        token TEXT NOT NULL UNIQUE
    ) STRICT
"""

FIRST = "INSERT INTO feed (garden_id, token) VALUES (:garden_id, :token) ON CONFLICT DO NOTHING"

ANEW = """
    INSERT INTO feed (garden_id, token) VALUES (:garden_id, :token)
    ON CONFLICT (garden_id) DO UPDATE SET token = excluded.token
"""

OF_GARDEN = "SELECT token FROM feed WHERE garden_id = :garden_id"

OF_TOKEN = "SELECT garden_id FROM feed WHERE token = :token"


def token_of(data: Path, garden_id: int) -> str:
    """The token of a garden's address, made when it is first asked for."""
    with _connected(data) as conn:
        conn.execute(FIRST, {"garden_id": garden_id, "token": secrets.token_urlsafe(32)})
        token: str = conn.execute(OF_GARDEN, {"garden_id": garden_id}).fetchone()["token"]
    return token


def renew(data: Path, garden_id: int) -> None:
    """Give a garden another address: the old one leads nowhere from now on."""
    with _connected(data) as conn:
        conn.execute(ANEW, {"garden_id": garden_id, "token": secrets.token_urlsafe(32)})


def garden_of(data: Path, token: str) -> int | None:
    """The garden that an address is of; None if it is of none, or of none any more."""
    with _connected(data) as conn:
        row = conn.execute(OF_TOKEN, {"token": token}).fetchone()
    return None if row is None else int(row["garden_id"])


def _connected(data: Path) -> "closing[sqlite3.Connection]":
    conn = database.connect(data / sessions.FILE_NAME)
    conn.execute(TABLE)
    return closing(conn)
