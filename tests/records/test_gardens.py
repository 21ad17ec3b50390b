import os
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import numpy as np
import pytest

from euhydra.core.weather import SERIES
from euhydra.formats import weather_csv
from euhydra.garden import demo, edits, normals
from euhydra.records import database, gardens, weather
from euhydra.records.database import DatabaseError
from euhydra.records.gardens import StaleWriteError
from euhydra.web.desk import key_of
from gardens import one_barrel


@pytest.fixture
def folder(tmp_path) -> Path:
    database.prepare(tmp_path)
    return tmp_path


def open_in(folder: Path) -> sqlite3.Connection:
    return database.connect(folder / database.FILE_NAME)


def renamed(garden, name):
    return edits.replace(garden, name=name)


def test_undo_and_redo_survive_a_restart(folder, demo_garden):
    conn = open_in(folder)
    garden_id = gardens.create(conn, demo_garden)
    for name in ("One", "Two"):
        now = gardens.current(conn, garden_id)
        gardens.save(conn, garden_id, now.id, renamed(now.garden, name), f"Name: {name}")
    assert gardens.undo(conn, garden_id)
    conn.close()

    conn = open_in(folder)
    now = gardens.current(conn, garden_id)
    assert (now.garden.name, now.can_undo, now.can_redo) == ("One", True, True)
    assert gardens.redo(conn, garden_id)
    assert gardens.current(conn, garden_id).garden.name == "Two"
    assert not gardens.redo(conn, garden_id)
    while gardens.undo(conn, garden_id):
        pass
    assert gardens.current(conn, garden_id).garden == demo_garden


def test_a_change_after_undo_leaves_the_other_branch_in_the_history(folder, demo_garden):
    conn = open_in(folder)
    garden_id = gardens.create(conn, demo_garden)
    first = gardens.current(conn, garden_id)
    gardens.save(conn, garden_id, first.id, renamed(demo_garden, "One"), "One")
    gardens.undo(conn, garden_id)
    gardens.save(conn, garden_id, first.id, renamed(demo_garden, "Other"), "Other")
    assert not gardens.current(conn, garden_id).can_redo
    assert [e.change for e in gardens.history(conn, garden_id)] == ["Other", "One", "Begun"]


def test_a_stale_write_is_refused_and_changes_nothing(folder, demo_garden):
    conn = open_in(folder)
    garden_id = gardens.create(conn, demo_garden)
    first = gardens.current(conn, garden_id)
    gardens.save(conn, garden_id, first.id, renamed(demo_garden, "Mine"), "Mine")
    with pytest.raises(StaleWriteError):
        gardens.save(conn, garden_id, first.id, renamed(demo_garden, "Late"), "Late")
    assert gardens.current(conn, garden_id).garden.name == "Mine"


def test_weather_that_was_replaced_can_be_used_again(folder, demo_garden):
    from euhydra.garden import demo, normals

    conn = open_in(folder)
    garden_id = gardens.create(conn, demo_garden)
    months = demo.normals()
    first = weather.add(conn, garden_id, normals.make_days(months, 1), "First", months)
    second = weather.add(conn, garden_id, normals.make_days(months, 2), "Second", months)
    assert weather.in_use(conn, garden_id).id == second
    assert weather.use(conn, garden_id, first)
    assert weather.in_use(conn, garden_id).name == "First"
    assert len(weather.days(conn, first).days) == 365
    assert not weather.use(conn, garden_id, 999)


def test_all_series_of_a_file_are_kept(folder, demo_garden):
    conn = open_in(folder)
    garden_id = gardens.create(conn, demo_garden)
    text = "date,precip_mm,tmin_c,tmax_c,et0_mm,rhmin_pct,rhmax_pct,wind_m_s,solar_mj_m2\n"
    file = weather_csv.read(text + "2020-06-01,1,12,25,4.5,40,90,2.1,24\n2020-06-02,0,12,25,,,,,\n")
    kept = weather.days(conn, weather.add(conn, garden_id, file.record(), "Station"))
    assert [getattr(kept, name)[0] for name in SERIES] == [1, 12, 25, 4.5, 40, 90, 2.1, 24]
    assert all(np.isnan(getattr(kept, name)[1]) for name in SERIES[3:])


KILLED = """
import os, sys
from pathlib import Path
from euhydra.garden import demo, edits
from euhydra.records import database, gardens
conn = database.connect(Path(sys.argv[1]) / database.FILE_NAME)
garden_id = gardens.create(conn, demo.garden())
first = gardens.current(conn, garden_id)
gardens.save(conn, garden_id, first.id, edits.replace(first.garden, name="Kept"), "Kept")
conn.execute("BEGIN IMMEDIATE")
conn.execute("UPDATE garden SET current_id = NULL")
conn.execute("DELETE FROM revision")
os.kill(os.getpid(), 9)
"""


def test_a_killed_process_loses_only_what_was_under_way(folder):
    done = subprocess.run([sys.executable, "-c", KILLED, str(folder)], env=os.environ, check=False)
    assert done.returncode == -9
    conn = open_in(folder)
    assert conn.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    assert [entry.name for entry in gardens.all_gardens(conn)] == ["Kept"]


def test_a_folder_of_a_newer_program_is_refused(folder):
    conn = open_in(folder)
    conn.execute("INSERT INTO migration (name) VALUES ('999_future.sql')")
    conn.close()
    with pytest.raises(DatabaseError, match="newer program"):
        database.prepare(folder)


def test_a_file_that_is_no_database_is_refused(tmp_path):
    (tmp_path / database.FILE_NAME).write_bytes(b"not a database at all" * 100)
    with pytest.raises(DatabaseError):
        database.prepare(tmp_path)


def test_before_a_migration_a_copy_is_laid_aside(tmp_path, monkeypatch):
    monkeypatch.setattr(database, "SCHEMA_FILES", database.SCHEMA_FILES[:1])
    database.prepare(tmp_path)
    monkeypatch.undo()
    database.prepare(tmp_path)
    assert (tmp_path / "euhydra.before-002.db").exists()
    assert open_in(tmp_path).execute("SELECT count(*) FROM weather_record").fetchone()[0] == 0


def test_a_record_with_a_removed_ones_number_is_told_from_it(folder):
    conn = open_in(folder)
    garden_id = gardens.create(conn, one_barrel())
    days = normals.make_days(demo.normals(), 1)
    weather.add(conn, garden_id, days, "First")
    weather.add(conn, garden_id, days, "Second")
    first, second = sorted(weather.records(conn, garden_id), key=lambda r: r.id)
    weather.use(conn, garden_id, first.id)
    assert weather.remove(conn, garden_id, second.id)
    weather.add(conn, garden_id, days, "Third")
    third = weather.in_use(conn, garden_id)
    assert third.id == second.id
    assert third.created_at != second.created_at
    revision = gardens.current(conn, garden_id)
    assert key_of(revision, third) != key_of(revision, second)
    assert key_of(revision, None) != key_of(revision, third)


def test_an_empty_file_is_refused_and_left_empty(tmp_path):
    path = tmp_path / database.FILE_NAME
    path.touch()
    with pytest.raises(DatabaseError, match="is empty"):
        database.prepare(tmp_path)
    assert path.stat().st_size == 0


def test_another_programs_database_is_refused_and_left_as_it_is(tmp_path):
    path = tmp_path / database.FILE_NAME
    with closing(sqlite3.connect(path)) as conn:
        conn.execute("CREATE TABLE migration (version INTEGER)")
    before = path.read_bytes()
    with pytest.raises(DatabaseError, match="another program's"):
        database.prepare(tmp_path)
    assert path.read_bytes() == before
    assert [p.name for p in tmp_path.iterdir()] == [path.name]


def test_the_database_is_its_owners_alone(tmp_path):
    folder = tmp_path / "new"
    path = database.prepare(folder)
    assert (folder.stat().st_mode & 0o777, path.stat().st_mode & 0o777) == (0o700, 0o600)
