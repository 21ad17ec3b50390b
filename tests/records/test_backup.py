"""Everything in one file and back; whatever is not whole is refused, and changes nothing."""

import io
import json
import sqlite3
import zipfile
from contextlib import closing
from datetime import datetime

import pytest
from PIL import Image

from euhydra.garden.logbook import LogEntry
from euhydra.records import backup, database, log, pictures
from euhydra.records.backup import BackupError
from served import lay_demo


@pytest.fixture
def data(tmp_path):
    folder = tmp_path / "data"
    lay_demo(folder)
    photo = io.BytesIO()
    Image.new("RGB", (40, 30), "green").save(photo, "JPEG")
    digest = pictures.keep_photo(folder, photo.getvalue()).digest
    entry = LogEntry("note", datetime(2026, 6, 1, 8), None, (), "", "first leaf", digest)
    with closing(database.connect(folder / database.FILE_NAME)) as conn:
        log.add(conn, 1, "a", entry)
    return folder


@pytest.fixture
def saved(data, tmp_path):
    target = tmp_path / "saved.zip"
    backup.make(data, target)
    return target


def notes(folder):
    with closing(database.connect(folder / database.FILE_NAME)) as conn:
        return [kept.entry.note for kept in log.find(conn, 1, log.Search())]


def test_it_comes_back_whole_into_an_empty_folder(saved, tmp_path):
    elsewhere = tmp_path / "elsewhere"
    found = backup.restore(elsewhere, saved)
    assert (found.gardens, found.entries, found.pictures) == (("Pilchard Steps",), 1, 1)
    assert notes(elsewhere) == ["first leaf"]
    assert len(pictures.all_files(elsewhere)) == 1


def test_what_was_there_is_saved_first_and_can_come_back(data, saved):
    with closing(database.connect(data / database.FILE_NAME)) as conn:
        log.add(conn, 1, "b", LogEntry("note", datetime(2026, 6, 2, 8), note="second leaf"))
        backup.restore(data, saved)  # while a connection is open
        assert notes(data) == ["first leaf"]
    (before,) = (data / "backups").glob("*.zip")
    backup.restore(data, before)
    assert notes(data) == ["second leaf", "first leaf"]


def rewritten(saved, change):
    """The backup with its files changed by `change(files)`."""
    with zipfile.ZipFile(saved) as archive:
        files = {name: archive.read(name) for name in archive.namelist()}
    change(files)
    with zipfile.ZipFile(saved, "w") as archive:
        for name, content in files.items():
            archive.writestr(name, content)


def with_manifest(**changes):
    def change(files):
        files["manifest.json"] = json.dumps(json.loads(files["manifest.json"]) | changes)

    return change


def a_strange_file(files):
    manifest = json.loads(files["manifest.json"])
    manifest["files"]["../../evil"] = {"sha256": "0"}
    files["manifest.json"] = json.dumps(manifest)
    files["../../evil"] = b"evil"


def a_changed_byte(files):
    files["euhydra.db"] = files["euhydra.db"][:-1] + b"\x01"


def a_missing_file(files):
    del files[next(name for name in files if name.startswith("pictures/"))]


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (with_manifest(version=99), "newer program"),
        (with_manifest(format="other"), "no backup of this program"),
        (a_strange_file, "does not belong"),
        (a_changed_byte, "not what was saved"),
        (a_missing_file, "missing"),
        (lambda files: files.pop("manifest.json"), "no backup of this program"),
    ],
)
def test_what_is_not_whole_is_refused(data, saved, change, said):
    rewritten(saved, change)
    with pytest.raises(BackupError, match=said):
        backup.restore(data, saved)
    assert notes(data) == ["first leaf"]
    assert not (data / "backups").exists()


@pytest.mark.parametrize("share", [0.0, 0.3, 0.9, 0.999])
def test_a_file_cut_short_is_refused(data, saved, share):
    content = saved.read_bytes()
    saved.write_bytes(content[: int(share * len(content))])
    with pytest.raises(BackupError, match="cut short"):
        backup.restore(data, saved)
    assert notes(data) == ["first leaf"]


def damaged(saved):
    """Bytes flipped inside the packed database: a flaw that shows only while it is unpacked."""
    content = bytearray(saved.read_bytes())
    with zipfile.ZipFile(saved) as archive:
        start = archive.getinfo("euhydra.db").header_offset + 200
    content[start : start + 40] = bytes(255 - b for b in content[start : start + 40])
    saved.write_bytes(content)


def listed_wrongly(saved):
    rewritten(saved, with_manifest(files={"euhydra.db": "none"}))


@pytest.mark.parametrize("spoil", [damaged, listed_wrongly])
def test_a_spoilt_file_is_refused_in_words(data, saved, spoil):
    spoil(saved)
    with pytest.raises(BackupError):
        backup.restore(data, saved)
    assert notes(data) == ["first leaf"]


def test_a_database_with_a_trigger_of_somebody_elses_is_refused(data, tmp_path):
    with closing(sqlite3.connect(data / database.FILE_NAME)) as conn:
        conn.execute(
            "CREATE TRIGGER thief AFTER INSERT ON log_entry BEGIN DELETE FROM log_entry; END"
        )
        conn.commit()
    target = tmp_path / "trigger.zip"
    backup.make(data, target)
    with pytest.raises(BackupError, match="not one that this program made"):
        backup.check(target)


def test_a_database_of_a_newer_program_is_refused(data, tmp_path):
    with closing(sqlite3.connect(data / database.FILE_NAME)) as conn:
        conn.execute("INSERT INTO migration (name) VALUES ('999_future.sql')")
        conn.commit()
    target = tmp_path / "newer.zip"
    backup.make(data, target)
    with pytest.raises(BackupError, match="newer program"):
        backup.check(target)
