"""Pictures to trace over, kept as files in the data folder under the digest of their bytes."""

import hashlib
import io
import re
from dataclasses import dataclass
from pathlib import Path

from PIL import Image, ImageOps, UnidentifiedImageError

FOLDER = "pictures"

MOST_SIDE = 3000
"""Longest side kept; larger pictures are made smaller. [px]"""

MOST_PIXELS = 60_000_000
"""Most picture elements that are opened at all."""

DIGEST = re.compile(r"[0-9a-f]{64}")


class PictureError(ValueError):
    """What was sent is no picture that can be used; the message says what to send."""


@dataclass(frozen=True)
class Picture:
    """A picture that was kept: what names it, and its size. [px]"""

    digest: str
    width: int
    height: int


def keep(data: Path, content: bytes) -> Picture:
    """Keep a picture, made anew as PNG: turned upright, made smaller, its notes left out.

    Raises
    ------
    PictureError : if it is no picture, or too large to be opened.
    """
    try:
        with Image.open(io.BytesIO(content)) as opened:
            if opened.width * opened.height > MOST_PIXELS:
                raise PictureError("The picture is too large: send one of at most 60 megapixels.")
            picture = ImageOps.exif_transpose(opened).convert("RGB")
    except (
        UnidentifiedImageError,
        OSError,
        SyntaxError,
        ValueError,
        Image.DecompressionBombError,
    ) as error:
        if isinstance(error, PictureError):
            raise
        raise PictureError("This is not a picture: send a JPEG, PNG, WebP or GIF file.") from None
    picture.thumbnail((MOST_SIDE, MOST_SIDE))
    buffer = io.BytesIO()
    picture.save(buffer, "PNG", optimize=False)
    png = buffer.getvalue()
    digest = hashlib.sha256(png).hexdigest()
    folder = data / FOLDER
    folder.mkdir(exist_ok=True)
    (folder / f"{digest}.png").write_bytes(png)
    return Picture(digest, picture.width, picture.height)


def find(data: Path, digest: str) -> Path | None:
    """The file of a picture; None if there is none."""
    if not DIGEST.fullmatch(digest):
        return None
    path = data / FOLDER / f"{digest}.png"
    return path if path.is_file() else None
