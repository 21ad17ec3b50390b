"""The passphrase of the home network: its argon2 hash."""

from pathlib import Path
from threading import BoundedSemaphore

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError

from euhydra.records import atomic, sessions

FILE = "passphrase"

_TWO_AT_ONCE = BoundedSemaphore(2)

HASHER = PasswordHasher(time_cost=2, memory_cost=19 * 1024, parallelism=1)
"""19 MiB a hash, twice over: the least that OWASP's cheat sheet on storing passwords asks of
argon2id (from memory), so that a small computer can bear several."""

LEAST_LENGTH = 10
"""[characters]"""


class PassphraseError(ValueError):
    """This cannot be a passphrase; the message says what to choose."""


def put(data: Path, phrase: str) -> None:
    """Take a passphrase, and end every session that began under another.

    Raises
    ------
    PassphraseError : if it is too short.
    """
    if len(phrase.strip()) < LEAST_LENGTH:
        raise PassphraseError(
            f"At least {LEAST_LENGTH} characters: four words that do not belong together are easy to keep."
        )
    data.mkdir(parents=True, exist_ok=True)
    atomic.write(data / FILE, HASHER.hash(phrase.strip()).encode("ascii"))
    sessions.end_all(data)


def is_set(data: Path) -> bool:
    """Whether there is one."""
    return (data / FILE).is_file()


def is_right(data: Path, phrase: str) -> bool:
    """Whether this is it; slow on purpose, and no more than two at once. False if there is none."""
    try:
        with _TWO_AT_ONCE:
            return HASHER.verify((data / FILE).read_text("ascii"), phrase.strip())
    except (Argon2Error, InvalidHashError, OSError):
        return False
