"""The passphrase of the home network: its argon2 hash, and the key that signs sessions."""

import os
import secrets
from pathlib import Path

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError

FILE, KEY_FILE = "passphrase", "session-key"

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
    _write(data / FILE, PasswordHasher().hash(phrase.strip()))
    _write(data / KEY_FILE, secrets.token_hex(32))


def is_set(data: Path) -> bool:
    """Whether there is one."""
    return (data / FILE).is_file() and (data / KEY_FILE).is_file()


def session_key(data: Path) -> str:
    """What sessions are signed with."""
    return (data / KEY_FILE).read_text("ascii")


def is_right(data: Path, phrase: str) -> bool:
    """Whether this is it. Slow on purpose."""
    try:
        return PasswordHasher().verify((data / FILE).read_text("ascii"), phrase.strip())
    except (Argon2Error, InvalidHashError, OSError):
        return False


def _write(path: Path, text: str) -> None:
    """Readable to its owner alone, and there whole or not at all."""
    new = path.with_suffix(".new")
    descriptor = os.open(new, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(descriptor, "w", encoding="ascii") as file:
        file.write(text)
    new.replace(path)
