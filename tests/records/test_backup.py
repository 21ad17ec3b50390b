"""Everything in one file and back; whatever is not whole is refused, and changes nothing."""

import io
import json
import sqlite3
import threading
import time
import zipfile
from contextlib import closing
from datetime import datetime

import pytest
from PIL import Image

from euhydra.garden.logbook import LogEntry
from euhydra.records import backup, database, gardens, log, pictures
from euhydra.records.backup import BackupError
from euhydra.records.gardens import StaleWriteError
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
        return [kept.entry.note for kept in log.find(conn, 1, log.Search(), most=-1)]


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


def test_what_is_written_while_a_backup_comes_back_is_here_or_in_the_copy(data, saved):
    """Every acknowledged entry: written before the copy it is in it, written after it is here."""
    acknowledged, stop = [], threading.Event()

    def write(writer):
        number = 0
        while not stop.is_set():
            note = f"{writer}-{number}"
            with closing(database.connect(data / database.FILE_NAME)) as conn:
                log.add(conn, 1, note, LogEntry("note", datetime(2026, 6, 3, 8), note=note))
            acknowledged.append(note)
            number += 1

    writers = [threading.Thread(target=write, args=(n,)) for n in range(3)]
    for writer in writers:
        writer.start()
    while len(acknowledged) < 10:
        time.sleep(0.005)
    for _ in range(3):
        backup.restore(data, saved)
        time.sleep(0.02)
    stop.set()
    for writer in writers:
        writer.join()
    kept = set(notes(data))
    for number, copy in enumerate(sorted((data / "backups").glob("*.zip"))):
        elsewhere = data.parent / f"elsewhere-{number}"
        backup.restore(elsewhere, copy)
        kept |= set(notes(elsewhere))
    assert len(acknowledged) > 20
    assert set(acknowledged) - kept == set()


def test_numbers_that_come_back_were_never_given_before(data, saved):
    """So that a page of the former garden cannot be saved over what came back."""
    with closing(database.connect(data / database.FILE_NAME)) as conn:
        before = gardens.current(conn, 1)
        backup.restore(data, saved)
        after = gardens.current(conn, 1)
        assert after.garden == before.garden
        assert after.id > before.id
        with pytest.raises(StaleWriteError):
            gardens.save(conn, 1, before.id, before.garden, "of an old page")
        gardens.save(conn, 1, after.id, after.garden, "of a new one")
        assert gardens.undo(conn, 1)


def test_a_database_that_cannot_be_used_is_kept_under_another_name(data, saved):
    (data / database.FILE_NAME).write_bytes(b"not a database at all" * 100)
    backup.restore(data, saved)
    assert notes(data) == ["first leaf"]
    assert len(list(data.glob("unusable-*"))) >= 1


@pytest.mark.parametrize("name", ["manifest.json", "euhydra.db", f"pictures/{'0' * 64}.jpg"])
def test_no_member_unpacks_to_more_than_it_may(saved, tmp_path, name, monkeypatch):
    """A small file that unpacks to much; the bounds are lowered, so that the test is small too."""
    for bound in ("MOST_OF_LIST", "MOST_OF_DATABASE", "MOST_OF_PICTURE"):
        monkeypatch.setattr(backup, bound, 100_000)
    bomb = tmp_path / "bomb.zip"
    with zipfile.ZipFile(bomb, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(name, b" " * 200_000)
    with pytest.raises(BackupError, match="larger than any"):
        backup.check(bomb)
