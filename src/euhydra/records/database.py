"""Opening the database, and bringing its schema up to date."""

import os
import shutil
import sqlite3
import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from importlib.resources import files
from pathlib import Path

SCHEMA_FILES = (
    "001_gardens.sql",
    "002_weather.sql",
    "003_build.sql",
    "004_log.sql",
    "005_file_shapes.sql",
    "006_forecast.sql",
)
"""Migrations in order. Each runs once, in a transaction of its own."""

MIGRATION_TABLE = """
    CREATE TABLE migration (
        name TEXT PRIMARY KEY,
        applied_at TEXT NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ', 'now'))
    ) STRICT
"""

FILE_NAME = "euhydra.db"

BUSY_FOR = 10.0
"""How long a connection waits for another that writes. [s]"""


class DatabaseError(RuntimeError):
    """The data folder cannot be used; the message says why and what to do."""


def connect(path: Path | str) -> sqlite3.Connection:
    """A connection that commits nothing by itself: see `transaction`.

    One connection belongs to one request; SQLite lets them wait for each other.
    """
    conn = sqlite3.connect(path, isolation_level=None, timeout=BUSY_FOR, check_same_thread=False)
    conn.row_factory = sqlite3.Row
    conn.execute("PRAGMA foreign_keys = ON")
    conn.execute("PRAGMA journal_mode = WAL")
    conn.execute("PRAGMA synchronous = FULL")
    return conn


@contextmanager
def transaction(conn: sqlite3.Connection) -> Iterator[None]:
    """All of it, or nothing. Takes the write lock at once, so that what is read still holds."""
    conn.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        if conn.in_transaction:  # a full disk has ended it already
            conn.execute("ROLLBACK")
        raise
    conn.execute("COMMIT")


def prepare(folder: Path) -> Path:
    """The database of a data folder, made or brought up to date; returns its path.

    Before the first migration of an existing database a copy is laid beside it. What is not a
    database of this program is left as it is.

    Raises
    ------
    DatabaseError : if the folder cannot be used, or holds a database that is not ours or newer.
    """
    path = folder / FILE_NAME
    try:
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        if path.exists():
            _check_ours(path)
        else:
            _make(path)
        path.chmod(0o600)
        with closing(connect(path)) as conn:
            pending = _pending(conn)
            if pending:
                conn.execute("PRAGMA wal_checkpoint(TRUNCATE)")
                shutil.copy2(path, path.with_suffix(f".before-{pending[0].split('_')[0]}.db"))
            for name in pending:
                migrate(conn, name)
    except (OSError, sqlite3.Error) as error:
        raise DatabaseError(f"The data folder {folder} cannot be used: {error}.") from None
    return path


def _make(path: Path) -> None:
    """A new database, under its name only once it is whole: a start that is cut short leaves none."""
    with tempfile.TemporaryDirectory(dir=path.parent) as aside:
        new = Path(aside) / path.name
        with closing(connect(new)) as conn:
            conn.execute(MIGRATION_TABLE)
            for name in SCHEMA_FILES:
                migrate(conn, name)
        with suppress(FileExistsError):  # another start was quicker
            os.link(new, path)


def _check_ours(path: Path) -> None:
    """Look into a file without writing to it.

    Raises
    ------
    DatabaseError : if this program did not make it.
    """
    left = "It was left as it is: move it away, or use another folder (--data)."
    if path.stat().st_size == 0:
        raise DatabaseError(
            f"{path} is empty, which no database of this program ever is. {left} "
            "If there is a backup, bring it back with “euhydra restore”."
        )
    query = "SELECT count(*) FROM sqlite_master WHERE type = 'table' AND name IN ('migration', 'garden')"
    try:
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as conn:
            is_ours = conn.execute(query).fetchone()[0] == 2
    except sqlite3.DatabaseError as error:
        raise DatabaseError(f"{path} is not a database of this program: {error}. {left}") from None
    if not is_ours:
        raise DatabaseError(f"{path} is another program's database. {left}")


def _pending(conn: sqlite3.Connection) -> list[str]:
    applied = {row["name"] for row in conn.execute("SELECT name FROM migration")}
    unknown = applied - set(SCHEMA_FILES)
    if unknown:
        raise DatabaseError(
            f"This data folder was written by a newer program ({', '.join(sorted(unknown))}): "
            "update the program, or use another folder."
        )
    return [name for name in SCHEMA_FILES if name not in applied]


def migrate(conn: sqlite3.Connection, name: str) -> None:
    """Apply one migration and record it, both or neither."""
    script = files("euhydra.records").joinpath("schema", name).read_text("utf-8")
    with transaction(conn):
        for statement in script.split(";\n"):
            if statement.strip():
                conn.execute(statement)
        conn.execute("INSERT INTO migration (name) VALUES (?)", (name,))
