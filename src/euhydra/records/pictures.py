"""Pictures to trace over and photos of the log, kept as files under the digest of their bytes."""

import hashlib
import io
import re
from dataclasses import dataclass
from pathlib import Path
from threading import Lock

from PIL import Image, ImageOps, UnidentifiedImageError

from euhydra.records import atomic

FOLDER = "pictures"

MOST_SIDE = 3000
"""Longest side kept; larger pictures are made smaller. [px]"""

MOST_PIXELS, MOST_OPENED_SIDE = 30_000_000, 20_000
"""Most picture elements, and longest side, that are opened at all. [px]"""

FORMATS = ("JPEG", "PNG", "WEBP", "GIF")

_ONE_AT_A_TIME = Lock()
"""A large picture takes a hundred megabytes for a second."""

PHOTO_SIDE = 1600
"""Longest side kept of a photo in the log. [px]"""

SUFFIXES = ("png", "jpg")

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
    return _put(data, _opened(content, MOST_SIDE), "png")


def keep_photo(data: Path, content: bytes) -> Picture:
    """Keep a photo, made anew as JPEG: upright, smaller, without place, time and other notes.

    Raises
    ------
    PictureError : if it is no picture, or too large to be opened.
    """
    return _put(data, _opened(content, PHOTO_SIDE), "jpg")


def _opened(content: bytes, most_side: int) -> Image.Image:
    try:
        with _ONE_AT_A_TIME, Image.open(io.BytesIO(content), formats=FORMATS) as opened:
            pixels, side = opened.width * opened.height, max(opened.size)
            if pixels > MOST_PIXELS or side > MOST_OPENED_SIDE:
                raise PictureError(
                    f"The picture is too large, {opened.width} by {opened.height}: send one of at most "
                    f"{MOST_PIXELS // 1_000_000} megapixels."
                )
            # Made smaller first: turning it would copy all of it.
            small: Image.Image = opened
            if opened.mode not in ("L", "RGB"):
                small = opened.convert("RGB")
            small.thumbnail((most_side, most_side))
            picture = ImageOps.exif_transpose(small).convert("RGB")
    except PictureError:
        raise
    except (
        UnidentifiedImageError,
        OSError,
        SyntaxError,
        ValueError,
        Image.DecompressionBombError,
    ):
        raise PictureError("This is not a picture: send a JPEG, PNG, WebP or GIF file.") from None
    picture.info.clear()  # comments, place and time would go with it
    return picture


def _put(data: Path, picture: Image.Image, suffix: str) -> Picture:
    buffer = io.BytesIO()
    picture.save(buffer, Image.registered_extensions()[f".{suffix}"], quality=82)
    made = buffer.getvalue()
    digest = hashlib.sha256(made).hexdigest()
    folder = data / FOLDER
    folder.mkdir(exist_ok=True)
    atomic.write(folder / f"{digest}.{suffix}", made)
    return Picture(digest, picture.width, picture.height)


def find(data: Path, digest: str) -> Path | None:
    """The file of a picture; None if there is none."""
    if not DIGEST.fullmatch(digest):
        return None
    paths = (data / FOLDER / f"{digest}.{suffix}" for suffix in SUFFIXES)
    return next((path for path in paths if path.is_file()), None)


def is_name(name: str) -> bool:
    """Whether a picture may be kept under this file name."""
    stem, _, suffix = name.partition(".")
    return suffix in SUFFIXES and DIGEST.fullmatch(stem) is not None


def all_files(data: Path) -> list[Path]:
    """Every picture that is kept."""
    folder = data / FOLDER
    return sorted(p for p in folder.iterdir() if is_name(p.name)) if folder.is_dir() else []
