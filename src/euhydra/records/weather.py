"""Weather records of gardens. All SQL about them is in this file."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import repeat
from math import isnan

import numpy as np

from euhydra.core.weather import SERIES, DailyWeather
from euhydra.records.database import transaction

RECORDS_OF_GARDEN = """
    SELECT record.id, record.origin, record.name, record.normals, record.notes, record.made_up, record.in_use,
           record.created_at,
           (SELECT min(day) FROM weather_day WHERE record_id = record.id) AS first_day,
           (SELECT max(day) FROM weather_day WHERE record_id = record.id) AS last_day
      FROM weather_record AS record
     WHERE record.garden_id = :garden_id
     ORDER BY record.id DESC
"""

IN_USE_ELSEWHERE = """
    SELECT record.id, record.garden_id, record.name
      FROM weather_record AS record
     WHERE record.garden_id <> :garden_id
       AND record.in_use = 1
     ORDER BY record.garden_id DESC
"""

COPY_RECORD = """
    INSERT INTO weather_record (garden_id, origin, name, normals, notes, made_up, in_use)
    SELECT :garden_id, origin, name, normals, notes, made_up, 1
      FROM weather_record
     WHERE id = :record_id
"""

COPY_DAYS = """
    INSERT INTO weather_day (record_id, day, precip_mm, tmin_c, tmax_c, et0_mm,
                             rhmin_pct, rhmax_pct, wind_m_s, solar_mj_m2)
    SELECT :copy_id, day, precip_mm, tmin_c, tmax_c, et0_mm, rhmin_pct, rhmax_pct, wind_m_s, solar_mj_m2
      FROM weather_day
     WHERE record_id = :record_id
"""

SET_ASIDE = "UPDATE weather_record SET in_use = 0 WHERE garden_id = :garden_id"

TAKE_UP = """
    UPDATE weather_record SET in_use = 1 WHERE garden_id = :garden_id AND id = :record_id
"""

DAYS_OF_RECORD = """
    SELECT day, precip_mm, tmin_c, tmax_c, et0_mm, rhmin_pct, rhmax_pct, wind_m_s, solar_mj_m2
      FROM weather_day
     WHERE record_id = :record_id
     ORDER BY day
"""

ADD_RECORD = """
    INSERT INTO weather_record (garden_id, origin, name, normals, notes, made_up, in_use)
    VALUES (:garden_id, :origin, :name, :normals, :notes, :made_up, 1)
"""

REMOVE_RECORD = """
    DELETE FROM weather_record WHERE garden_id = :garden_id AND id = :record_id AND in_use = 0
"""

ADD_DAY = """
    INSERT INTO weather_day (record_id, day, precip_mm, tmin_c, tmax_c, et0_mm,
                             rhmin_pct, rhmax_pct, wind_m_s, solar_mj_m2)
    VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
"""


@dataclass(frozen=True)
class RecordInfo:
    """Where a garden's weather comes from.

    origin : `file`, `normals`, `joined` or `generated`.
    normals : Twelve months as typed, by column, where origin is `normals`.
    notes : What was done on the way in, for the owner to read.
    made_up : First and last day of each span that no record had.
    created_at : Tells it from an earlier one whose number it has, for that one was removed.
    """

    id: int
    origin: str
    name: str
    normals: dict[str, list[float | None]] | None
    notes: str
    made_up: tuple[tuple[str, str], ...]
    in_use: bool
    created_at: str
    first_day: str
    last_day: str


def records(conn: sqlite3.Connection, garden_id: int) -> list[RecordInfo]:
    """The garden's weather records without their days, newest first. Reads only."""
    return [
        RecordInfo(
            row["id"],
            row["origin"],
            row["name"],
            json.loads(row["normals"]) if row["normals"] else None,
            row["notes"],
            tuple((first, last) for first, last in json.loads(row["made_up"])),
            bool(row["in_use"]),
            row["created_at"],
            row["first_day"],
            row["last_day"],
        )
        for row in conn.execute(RECORDS_OF_GARDEN, {"garden_id": garden_id})
    ]


@dataclass(frozen=True)
class RecordElsewhere:
    """A record with which another garden is planned."""

    id: int
    garden_id: int
    name: str


def elsewhere(conn: sqlite3.Connection, garden_id: int) -> list[RecordElsewhere]:
    """What the other gardens are planned with, of the newest garden first. Reads only."""
    rows = conn.execute(IN_USE_ELSEWHERE, {"garden_id": garden_id})
    return [RecordElsewhere(row["id"], row["garden_id"], row["name"]) for row in rows]


def take(conn: sqlite3.Connection, garden_id: int, record_id: int) -> bool:
    """Plan with a copy of what another garden is planned with; False if no other is planned with it."""
    with transaction(conn):
        if not any(record.id == record_id for record in elsewhere(conn, garden_id)):
            return False
        row = {"garden_id": garden_id, "record_id": record_id}
        conn.execute(SET_ASIDE, row)
        copy_id = conn.execute(COPY_RECORD, row).lastrowid
        conn.execute(COPY_DAYS, {"copy_id": copy_id, "record_id": record_id})
    return True


def in_use(conn: sqlite3.Connection, garden_id: int) -> RecordInfo | None:
    """The record the garden is planned with; None if it has none. Reads only."""
    return next((record for record in records(conn, garden_id) if record.in_use), None)


def use(conn: sqlite3.Connection, garden_id: int, record_id: int) -> bool:
    """Plan with another of the garden's records; False if it is not the garden's."""
    row = {"garden_id": garden_id, "record_id": record_id}
    with transaction(conn):
        if not any(record.id == record_id for record in records(conn, garden_id)):
            return False
        conn.execute(SET_ASIDE, row)
        conn.execute(TAKE_UP, row)
    return True


def remove(conn: sqlite3.Connection, garden_id: int, record_id: int) -> bool:
    """Forget a record that is not in use; False if there is none such."""
    with transaction(conn):
        row = {"garden_id": garden_id, "record_id": record_id}
        return conn.execute(REMOVE_RECORD, row).rowcount > 0


def days(conn: sqlite3.Connection, record_id: int) -> DailyWeather:
    """The days of a record. Reads only."""
    rows = conn.execute(DAYS_OF_RECORD, {"record_id": record_id}).fetchall()
    day, *columns = zip(*rows, strict=True)
    series = (np.array(column, dtype=float) for column in columns)  # None becomes NaN
    return DailyWeather(np.array(day, dtype="datetime64[D]"), *series)


def add(
    conn: sqlite3.Connection,
    garden_id: int,
    record: DailyWeather,
    name: str,
    normals: dict[str, list[float | None]] | None = None,
    notes: str = "",
    origin: str = "file",
    made_up: Sequence[tuple[str, str]] = (),
) -> int:
    """Give the garden another weather record and plan with it; the others stay. Returns its number."""
    with transaction(conn):
        conn.execute(SET_ASIDE, {"garden_id": garden_id})
        row = {
            "garden_id": garden_id,
            "origin": "normals" if normals else origin,
            "name": name,
            "normals": json.dumps(normals) if normals else None,
            "notes": notes,
            "made_up": json.dumps(list(made_up)),
        }
        record_id = conn.execute(ADD_RECORD, row).lastrowid
        assert record_id is not None
        series = (getattr(record, name).tolist() for name in SERIES)
        columns = ([None if isnan(v) else v for v in values] for values in series)
        days_text = record.days.astype(str).tolist()
        conn.executemany(ADD_DAY, zip(repeat(record_id), days_text, *columns, strict=False))
    return record_id
