"""Devices that came in by the passphrase. All SQL about them is in this file.

They stand in a database of their own: a backup holds gardens, and nobody's way in.
"""

import hashlib
import secrets
import sqlite3
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from euhydra.records import database

FILE_NAME = "sessions.db"

LASTS = timedelta(days=90)
"""After which a device is asked again."""

SEEN_EVERY = timedelta(minutes=10)
"""A visit is written down no more often."""

TABLE = """
    CREATE TABLE IF NOT EXISTS session (
        id INTEGER PRIMARY KEY,
        token_digest TEXT NOT NULL UNIQUE,
        device TEXT NOT NULL,
        began_at TEXT NOT NULL,
        seen_at TEXT NOT NULL
    ) STRICT
"""

BEGIN = """
    INSERT INTO session (token_digest, device, began_at, seen_at)
    VALUES (:digest, :device, :now, :now)
"""

BY_TOKEN = "SELECT id, device, began_at, seen_at FROM session WHERE token_digest = :digest"

ALL = "SELECT id, device, began_at, seen_at FROM session ORDER BY seen_at DESC"


@dataclass(frozen=True)
class Session:
    """A device that may come in: what it is, since when, and when it was last here."""

    id: int
    device: str
    began_at: datetime
    seen_at: datetime


def begin(data: Path, device: str, now: datetime) -> str:
    """Let a device in; returns the token that it shows from now on. Only its digest is kept."""
    token = secrets.token_urlsafe(32)
    with _connected(data) as conn:
        forget_before = (now - LASTS).isoformat()
        conn.execute("DELETE FROM session WHERE began_at < ?", (forget_before,))
        row = {"digest": _digest(token), "device": device, "now": now.isoformat()}
        conn.execute(BEGIN, row)
    return token


def find(data: Path, token: str, now: datetime) -> Session | None:
    """The session that a token is of; None if there is none, or none any more.

    A clock that was set back since makes no session end.
    """
    if not token:
        return None
    with _connected(data) as conn:
        row = conn.execute(BY_TOKEN, {"digest": _digest(token)}).fetchone()
        if row is None:
            return None
        session = _session(row)
        if now - session.began_at > LASTS:
            return None
        if abs(now - session.seen_at) > SEEN_EVERY:
            seen = {"id": session.id, "now": now.isoformat()}
            conn.execute("UPDATE session SET seen_at = :now WHERE id = :id", seen)
    return session


def every(data: Path) -> list[Session]:
    """Every device, the one that was here last first."""
    with _connected(data) as conn:
        return [_session(row) for row in conn.execute(ALL)]


def end(data: Path, session_id: int) -> None:
    """Let a device in no more."""
    with _connected(data) as conn:
        conn.execute("DELETE FROM session WHERE id = ?", (session_id,))


def end_all(data: Path) -> None:
    """Let nobody in any more who came in before."""
    with _connected(data) as conn:
        conn.execute("DELETE FROM session")


def _connected(data: Path) -> "closing[sqlite3.Connection]":
    conn = database.connect(data / FILE_NAME)
    conn.execute(TABLE)
    return closing(conn)


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def _session(row: sqlite3.Row) -> Session:
    began, seen = (datetime.fromisoformat(row[name]) for name in ("began_at", "seen_at"))
    return Session(row["id"], row["device"], began, seen)


def moment() -> datetime:
    """Now, as sessions are dated."""
    return datetime.now(UTC)
