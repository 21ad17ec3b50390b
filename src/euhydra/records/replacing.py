"""Everything in a database replaced by what another holds, in one transaction that others wait for."""

import sqlite3
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from euhydra.records import database

TABLES = """
    SELECT name FROM main.sqlite_master
     WHERE type = 'table' AND name NOT LIKE 'sqlite_%' AND name <> 'migration'
"""

LAST_REVISION = "SELECT coalesce(max(id), 0) FROM main.revision"

# Numbers that were never given before: no page that is still open, and nothing that was worked
# out, can take a revision that is brought back for one that was there.
RENUMBERED = {
    "garden": """
        INSERT INTO main.garden (id, current_id, tip_id, is_demo, created_at)
        SELECT id, current_id + :last, tip_id + :last, is_demo, created_at FROM restored.garden
    """,
    "revision": """
        INSERT INTO main.revision (id, garden_id, parent_id, document, change, created_at)
        SELECT id + :last, garden_id, parent_id + :last, document, change, created_at
          FROM restored.revision
    """,
}


def replace_all(path: Path, source: Path, first: Callable[[], None]) -> None:
    """Put what `source` holds in the place of everything in the database at `path`.

    Whoever writes meanwhile waits until it is done, in this program or in another; whoever reads
    sees all of the old or all of the new.

    Parameters
    ----------
    source : A database of the same schema, proved before.
    first : Called when nobody can write any more, and before anything is replaced.
    """
    with closing(database.connect(path)) as conn:
        # Rows go and come table by table; that they hang together was proved.
        conn.execute("PRAGMA foreign_keys = OFF")
        conn.execute("ATTACH ? AS restored", (str(source),))
        with database.transaction(conn):
            first()
            _replace(conn)


def _replace(conn: sqlite3.Connection) -> None:
    last = conn.execute(LAST_REVISION).fetchone()[0]
    for (table,) in conn.execute(TABLES).fetchall():
        conn.execute(f"DELETE FROM main.{table}")
        if table in RENUMBERED:
            conn.execute(RENUMBERED[table], {"last": last})
        else:
            conn.execute(f"INSERT INTO main.{table} SELECT * FROM restored.{table}")
