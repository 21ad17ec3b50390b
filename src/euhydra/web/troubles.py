"""When the computer refuses: a full disk, a busy database, a folder that cannot be written."""

import errno
import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True)
class Trouble:
    """What is the matter, and what to do; the status is HTTP's."""

    status: int
    message: str


DISK_FULL = Trouble(
    507,
    "The disk of the computer that keeps your gardens is full. What you just sent was not saved; "
    "everything before it is safe, and can be read. Free some space there, and send it again.",
)
BUSY = Trouble(
    503,
    "Another program holds the database, or a backup is being brought back. What you just sent was "
    "not saved; everything before it is safe. Wait a minute, and send it again.",
)
READ_ONLY = Trouble(
    503,
    "The folder that keeps your gardens cannot be written. What you just sent was not saved; "
    "everything before it is safe, and can be read. Let the program write there again (is the disk "
    "write-protected, or does the folder belong to somebody else?), and send it again.",
)
OUT_OF_REACH = Trouble(
    503,
    "The folder that keeps your gardens cannot be read just now. Is its disk connected? Nothing was "
    "changed; load the page again once it is back.",
)
DAMAGED = Trouble(
    503,
    "The database is damaged, so nothing is read from it or written to it. Stop the program and bring "
    "back your last backup, with the command “euhydra restore”; keep the damaged folder until then.",
)

OF_SQLITE = (
    ("SQLITE_FULL", DISK_FULL),
    ("SQLITE_BUSY", BUSY),
    ("SQLITE_LOCKED", BUSY),
    ("SQLITE_READONLY", READ_ONLY),
    ("SQLITE_CANTOPEN", OUT_OF_REACH),
    ("SQLITE_IOERR", OUT_OF_REACH),
    ("SQLITE_PERM", READ_ONLY),
    ("SQLITE_CORRUPT", DAMAGED),
    ("SQLITE_NOTADB", DAMAGED),
)
"""By the beginning of the name that SQLite gives its error, see sqlite.org/rescode.html."""

OF_THE_SYSTEM = {
    errno.ENOSPC: DISK_FULL,
    errno.EDQUOT: DISK_FULL,
    errno.EFBIG: DISK_FULL,
    errno.EROFS: READ_ONLY,
    errno.EACCES: READ_ONLY,
    errno.EPERM: READ_ONLY,
    errno.EIO: OUT_OF_REACH,
    errno.ENOENT: OUT_OF_REACH,
    errno.EMFILE: BUSY,
    errno.ENFILE: BUSY,
}


def trouble_of(error: BaseException) -> Trouble | None:
    """What the computer refused; None where the fault is the program's own."""
    match error:
        case sqlite3.Error():
            name = getattr(error, "sqlite_errorname", "")
            return next((trouble for sign, trouble in OF_SQLITE if name.startswith(sign)), None)
        case OSError():
            return OF_THE_SYSTEM.get(error.errno or 0)
        case _:
            return None
