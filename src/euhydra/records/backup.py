"""Everything in one file, and back: a zip of the database, the pictures, and a list that proves them."""

import hashlib
import json
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from euhydra.garden.document import GardenError
from euhydra.records import database, gardens, pictures, replacing
from euhydra.records.database import FILE_NAME, DatabaseError

FORMAT, VERSION = "euhydra-backup", 1

MANIFEST = "manifest.json"

MOST_OF_LIST = 8_000_000
MOST_OF_DATABASE = 2_000_000_000
MOST_OF_PICTURE = 30_000_000
MOST_FILES = 20_000
"""What a backup may unpack to, member by member. [bytes] What grows beyond is none of ours."""

CHUNK = 1 << 20


UNREADABLE = (zipfile.BadZipFile, zlib.error, EOFError, OSError, RuntimeError)
"""What reading a zip raises that is damaged, locked, or packed in a way of other programs."""


class BackupError(ValueError):
    """The file is no backup that can be restored; the message says why. Nothing was changed."""


@dataclass(frozen=True)
class Contents:
    """What a backup, or a data folder, holds."""

    made_at: str
    gardens: tuple[str, ...]
    entries: int
    pictures: int


def make(data: Path, target: Path) -> Contents:
    """Write everything of a data folder into one file; it is there whole, or not at all.

    Raises
    ------
    DatabaseError : if the folder cannot be read.
    """
    target.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        copy = Path(folder) / FILE_NAME
        _copy_database(data / FILE_NAME, copy)
        packed = Path(folder) / "packed.zip"
        files = {FILE_NAME: copy} | {
            f"{pictures.FOLDER}/{path.name}": path for path in pictures.all_files(data)
        }
        made_at = datetime.now(UTC).isoformat(timespec="seconds")
        listed = {
            name: {"bytes": path.stat().st_size, "sha256": _digest(path)}
            for name, path in files.items()
        }
        manifest = {"format": FORMAT, "version": VERSION, "made_at": made_at, "files": listed}
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED, compresslevel=4) as archive:
            archive.writestr(MANIFEST, json.dumps(manifest, indent=1))
            for name, path in files.items():
                is_packed = path.suffix in (".png", ".jpg")
                archive.write(path, name, zipfile.ZIP_STORED if is_packed else zipfile.ZIP_DEFLATED)
        contents = _contents(copy, len(files) - 1, made_at)
        packed.replace(target)
    return contents


def contents_of(data: Path) -> Contents:
    """What a data folder holds now."""
    found = pictures.all_files(data)
    return _contents(data / FILE_NAME, len(found), "")


def check(source: Path) -> Contents:
    """Unpack a backup aside, and prove it.

    Raises
    ------
    BackupError : if it is not whole, not ours, or of a newer program.
    """
    with _unpacked(source) as (_, contents):
        return contents


def restore(data: Path, source: Path) -> Contents:
    """Put a backup in the place of everything in a data folder.

    It is unpacked and proved first. Then nobody can write; what is there is saved beside it, under
    `backups`, and only then replaced: what was acknowledged before is in that copy, and what is
    written after is written on top of what came back.

    Raises
    ------
    BackupError : with nothing changed.
    DatabaseError : if the folder cannot be used.
    """
    with _unpacked(source) as (folder, contents):
        stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S-%f")
        has_former = _make_room(data, stamp)
        (data / pictures.FOLDER).mkdir(exist_ok=True)
        for path in pictures.all_files(folder):
            shutil.copy2(path, data / pictures.FOLDER / path.name)

        def save_first() -> None:
            if has_former:
                make(data, data / "backups" / f"before-restore-{stamp}.zip")

        replacing.replace_all(data / FILE_NAME, folder / FILE_NAME, save_first)
    return contents


def _make_room(data: Path, stamp: str) -> bool:
    """A database to put it into, and whether there was one before.

    One that cannot be used is kept under another name.
    """
    was_there = (data / FILE_NAME).exists()
    try:
        database.prepare(data)
    except DatabaseError:
        for path in data.glob(f"{FILE_NAME}*"):
            path.rename(data / f"unusable-{stamp}-{path.name}")
        database.prepare(data)
        return False
    return was_there


@contextmanager
def _unpacked(source: Path) -> Iterator[tuple[Path, Contents]]:
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        manifest = _unpack(source, folder)
        try:
            path = database.prepare(folder)  # brings an older one up to date, refuses a newer one
            contents = _prove(path, manifest["made_at"], len(manifest["files"]) - 1)
        except (DatabaseError, sqlite3.Error) as error:
            raise BackupError(f"The database in this backup cannot be used: {error}") from None
        yield folder, contents


def _unpack(source: Path, folder: Path) -> dict[str, Any]:
    try:
        with zipfile.ZipFile(source) as archive:
            for info in archive.infolist():
                if len(archive.infolist()) > MOST_FILES or info.file_size > _most_of(info.filename):
                    raise BackupError("This backup is larger than any that this program makes.")
            manifest = _manifest(archive)
            for name, listed in manifest["files"].items():
                _take(archive, name, listed, folder)
    except UNREADABLE as error:
        raise BackupError(
            "This file is no whole backup: it may have been cut short on its way. "
            "Fetch it again from where it was saved."
        ) from error
    return manifest


def _most_of(name: str) -> int:
    """Bytes that a member may unpack to."""
    return {MANIFEST: MOST_OF_LIST, FILE_NAME: MOST_OF_DATABASE}.get(name, MOST_OF_PICTURE)


def _manifest(archive: zipfile.ZipFile) -> dict[str, Any]:
    try:
        manifest = json.loads(archive.read(MANIFEST))
        known = manifest["format"] == FORMAT and all(
            isinstance(listed, dict) for listed in manifest["files"].values()
        )
        version, _ = int(manifest["version"]), str(manifest["made_at"])
    except (AttributeError, KeyError, ValueError, TypeError, RecursionError):
        known, version = False, 0
    if not known:
        raise BackupError("This is no backup of this program: choose the file that it saved.")
    if version > VERSION:
        raise BackupError(
            f"This backup was made by a newer program (version {version}; this one knows {VERSION}): "
            "update the program first."
        )
    if FILE_NAME not in manifest["files"]:
        raise BackupError("This backup holds no gardens: choose another.")
    return dict(manifest)


def _take(archive: zipfile.ZipFile, name: str, listed: dict[str, Any], folder: Path) -> None:
    """Unpack one file under its own name, and compare it with what the list says."""
    is_picture = name.startswith(f"{pictures.FOLDER}/") and pictures.is_name(Path(name).name)
    if name != FILE_NAME and not (is_picture and name.count("/") == 1):
        raise BackupError(f"“{name}” does not belong into a backup: nothing was taken from it.")
    target = folder / name
    target.parent.mkdir(exist_ok=True)
    digest = hashlib.sha256()
    try:
        packed = archive.open(name)
    except KeyError:
        raise BackupError(f"“{name}” is missing: this backup is not whole.") from None
    with packed, target.open("wb") as out:
        while chunk := packed.read(CHUNK):
            digest.update(chunk)
            out.write(chunk)
    if digest.hexdigest() != listed.get("sha256"):
        raise BackupError(f"“{name}” is not what was saved: this backup is damaged.")


def _prove(path: Path, made_at: str, pictures_count: int) -> Contents:
    with closing(database.connect(path)) as conn:
        told = [row[0] for row in conn.execute("PRAGMA integrity_check")]
        if told != ["ok"]:
            raise BackupError(f"The database in this backup is damaged: {told[0]}")
        if _schema(conn) != _own_schema():
            raise BackupError("The database in this backup is not one that this program made.")
        if conn.execute("PRAGMA foreign_key_check").fetchone() is not None:
            raise BackupError("The database in this backup does not hang together.")
    try:
        return _contents(path, pictures_count, made_at)
    except GardenError as error:
        raise BackupError(f"A garden in this backup cannot be read: {error}") from None


def _schema(conn: sqlite3.Connection) -> set[tuple[str, str, str]]:
    """Tables, indexes and whatever else; a trigger from elsewhere would act in the owner's name."""
    query = "SELECT type, name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite_%'"
    return {tuple(row) for row in conn.execute(query)}


def _own_schema() -> set[tuple[str, str, str]]:
    with (
        tempfile.TemporaryDirectory() as folder,
        closing(database.connect(database.prepare(Path(folder)))) as conn,
    ):
        return _schema(conn)


def _contents(path: Path, pictures_count: int, made_at: str) -> Contents:
    with closing(database.connect(path)) as conn:
        names = tuple(entry.name for entry in gardens.all_gardens(conn))
        entries = conn.execute("SELECT count(*) FROM log_entry WHERE is_removed = 0").fetchone()[0]
    return Contents(made_at, names, entries, pictures_count)


def _copy_database(source: Path, target: Path) -> None:
    """A whole copy while others read and write, by SQLite's own means."""
    with closing(database.connect(source)) as origin, closing(database.connect(target)) as copy:
        origin.backup(copy)
        copy.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def _digest(path: Path) -> str:
    with path.open("rb") as file:
        return hashlib.file_digest(file, "sha256").hexdigest()
