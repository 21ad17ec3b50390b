"""The passphrase of the home network: its argon2 hash, and the key that signs sessions."""

import secrets
from pathlib import Path

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError

from euhydra.records import atomic

FILE, KEY_FILE = "passphrase", "session-key"

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
    atomic.write(data / KEY_FILE, secrets.token_hex(32).encode("ascii"))


def is_set(data: Path) -> bool:
    """Whether there is one."""
    return (data / FILE).is_file() and (data / KEY_FILE).is_file()


def session_key(data: Path) -> str:
    """What sessions are signed with."""
    return (data / KEY_FILE).read_text("ascii")


def is_right(data: Path, phrase: str) -> bool:
    """Whether this is it. Slow on purpose."""
    try:
        return HASHER.verify((data / FILE).read_text("ascii"), phrase.strip())
    except (Argon2Error, InvalidHashError, OSError):
        return False
