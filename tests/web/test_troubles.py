"""When the computer refuses: told as what it is, nothing lost, reading goes on, and it mends by itself."""

import errno
import io
import os
import re
import sqlite3
import subprocess
import tempfile
from collections.abc import Iterator
from contextlib import closing, suppress
from pathlib import Path

import pytest
from fastapi.testclient import TestClient
from PIL import Image

from euhydra.records import database, log, pictures
from euhydra.web import server
from euhydra.web.app import create_app
from euhydra.web.troubles import BUSY, DISK_FULL, READ_ONLY, trouble_of
from served import client_of, lay_demo

NOTE = {"kind": "note", "at": "2026-06-01T08:00", "note": "n" * 900}
AS_JSON = {"accept": "application/json"}


@pytest.fixture
def small_disk(tmp_path: Path) -> Iterator[Path]:
    """A disk of its own, of twelve megabytes; skipped where the machine lets nobody make one."""
    disk = tmp_path / "disk"
    disk.mkdir()
    mount = ["mount", "-t", "tmpfs", "-o", "size=12M", "tmpfs", str(disk)]
    if subprocess.run(mount, capture_output=True, check=False).returncode:
        pytest.skip("no disk can be made here")
    yield disk
    subprocess.run(["umount", "-l", str(disk)], check=True)


@pytest.fixture
def client(small_disk: Path) -> Iterator[TestClient]:
    lay_demo(small_disk / "data")
    app = create_app(small_disk / "data")
    with client_of(app, follow_redirects=False) as client:
        yield client


def fill(disk: Path) -> Path:
    """Take all of its room."""
    filler = disk / "filler"
    file = os.open(filler, os.O_WRONLY | os.O_CREAT)
    with suppress(OSError):
        while True:
            os.write(file, b"x" * 4096)
    os.close(file)
    return filler


def notes(client: TestClient) -> int:
    with closing(database.connect(client.app.state.database)) as conn:
        return log.count(conn, 1)


def test_a_full_disk_is_told_loses_nothing_and_mends_by_itself(client, small_disk):
    assert client.post("/gardens/1/log", data=NOTE, headers=AS_JSON).status_code == 200
    filler = fill(small_disk)
    refused = client.post("/gardens/1/log", data=NOTE, headers=AS_JSON)
    assert (refused.status_code, refused.json()["message"]) == (507, DISK_FULL.message)
    photo = io.BytesIO()
    Image.effect_noise((900, 900), 80).save(photo, "PNG")
    files = {"photo": ("a.png", photo.getvalue(), "image/png")}
    assert client.post("/gardens/1/log", data=NOTE, files=files).status_code == 507
    assert pictures.all_files(small_disk / "data") == []
    assert list((small_disk / "data" / pictures.FOLDER).iterdir()) == []  # no piece of one either
    page = client.get("/gardens/1/keep")  # reading goes on
    assert page.status_code == 200
    filler.unlink()
    assert client.post("/gardens/1/log", data=NOTE, files=files).status_code == 303
    assert notes(client) == 2


@pytest.fixture
def as_nobody() -> Iterator[int]:
    """Without the powers of root, to whom no folder is read-only."""
    nobody = 65534 if os.geteuid() == 0 else os.geteuid()
    was = os.geteuid()
    os.seteuid(nobody)
    yield nobody
    os.seteuid(was)


def test_a_folder_that_cannot_be_written_is_told_and_read_on(as_nobody):
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as folder:
        data = Path(folder) / "data"
        server.seed_demo(data)
        with client_of(create_app(data)) as client:
            _let_write(data, False)
            refused = client.post("/gardens/1/log", data=NOTE, headers=AS_JSON)
            assert (refused.status_code, refused.json()["message"]) == (503, READ_ONLY.message)
            assert client.get("/gardens/1/keep").status_code == 200
            _let_write(data, True)
            assert client.post("/gardens/1/log", data=NOTE, headers=AS_JSON).status_code == 200


def _let_write(folder: Path, may: bool) -> None:
    for path in folder.iterdir():
        path.chmod(0o600 if may else 0o400)
    folder.chmod(0o700 if may else 0o500)


def test_a_database_that_another_program_holds_is_told(tmp_path, monkeypatch):
    monkeypatch.setattr(database, "BUSY_FOR", 0.05)
    lay_demo(tmp_path)
    with client_of(create_app(tmp_path)) as client:
        page = client.get("/gardens/1/keep").text
        revision = re.search(r'name="based_on" value="(\d+)"', page)
        with closing(sqlite3.connect(tmp_path / database.FILE_NAME, isolation_level=None)) as other:
            other.execute("BEGIN EXCLUSIVE")
            refused = client.post("/gardens/1/units", data={"based_on": revision[1]})
            assert refused.status_code == 503
            assert "Another program holds the database" in refused.text
            assert client.get("/gardens/1/keep").status_code == 200
        assert client.post("/gardens/1/units", data={"based_on": revision[1]}).status_code == 200


@pytest.mark.parametrize(
    ("number", "trouble"),
    [(errno.ENOSPC, DISK_FULL), (errno.EROFS, READ_ONLY), (errno.EMFILE, BUSY), (0, None)],
)
def test_what_the_system_refuses_is_known_by_its_number(number, trouble):
    assert trouble_of(OSError(number, "refused")) is trouble


def test_a_fault_of_the_program_is_no_trouble_of_the_computer():
    assert trouble_of(ZeroDivisionError()) is None
    assert trouble_of(sqlite3.IntegrityError()) is None
