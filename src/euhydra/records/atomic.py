"""A file that is there whole, or not at all."""

import os
import tempfile
from pathlib import Path


def write(path: Path, content: bytes) -> None:
    """Write a file, readable to its owner alone; what a full disk cuts short leaves nothing behind."""
    descriptor, name = tempfile.mkstemp(dir=path.parent, prefix=f".{path.name}.")
    try:
        with os.fdopen(descriptor, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        os.replace(name, path)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
