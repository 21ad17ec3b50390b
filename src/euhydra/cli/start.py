"""The command: everything is brought in, then run."""

import gc
from collections.abc import Iterator
from contextlib import contextmanager


@contextmanager
def bringing_in() -> Iterator[None]:
    """While modules are brought in, which stay: to look through them for waste again and again takes
    a tenth of the time.
    """
    gc.disable()
    try:
        yield
    finally:
        gc.freeze()
        gc.enable()


def main() -> None:
    """Bring the commands in and run the one that is asked for."""
    with bringing_in():
        from euhydra.cli import commands
    commands.main()
