"""The newest forecast of each garden. All SQL about it is in this file."""

import sqlite3
from dataclasses import dataclass
from datetime import datetime

from euhydra.records.database import transaction

KEEP = """
    INSERT INTO forecast (garden_id, told_by, days, told_at)
    VALUES (:garden_id, :told_by, :days, :told_at)
    ON CONFLICT (garden_id) DO UPDATE
    SET told_by = excluded.told_by, days = excluded.days, told_at = excluded.told_at
"""

NEWEST = "SELECT told_by, days, told_at FROM forecast WHERE garden_id = :garden_id"

FORGET = "DELETE FROM forecast WHERE garden_id = :garden_id"


@dataclass(frozen=True)
class KeptForecast:
    """Days ahead as the program's own CSV, who told them, and when."""

    told_by: str
    days: str
    told_at: datetime


def keep(conn: sqlite3.Connection, garden_id: int, forecast: KeptForecast) -> None:
    """Keep a garden's newest forecast, and only that."""
    row = {
        "garden_id": garden_id,
        "told_by": forecast.told_by,
        "days": forecast.days,
        "told_at": forecast.told_at.strftime("%Y-%m-%dT%H:%M"),
    }
    with transaction(conn):
        conn.execute(KEEP, row)


def newest(conn: sqlite3.Connection, garden_id: int) -> KeptForecast | None:
    """The one that is kept; None where there is none. Reads only."""
    row = conn.execute(NEWEST, {"garden_id": garden_id}).fetchone()
    if row is None:
        return None
    return KeptForecast(row["told_by"], row["days"], datetime.fromisoformat(row["told_at"]))


def forget(conn: sqlite3.Connection, garden_id: int) -> None:
    """Go without one again."""
    with transaction(conn):
        conn.execute(FORGET, {"garden_id": garden_id})
