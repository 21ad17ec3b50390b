"""Pictures: bounded before they are opened, made anew without their notes, there whole or not at all."""

import io
import struct
import zlib

import pytest
from PIL import Image

from euhydra.records import atomic, pictures
from euhydra.records.pictures import PictureError


def made(kind: str, size=(40, 30), mode="RGB", **notes) -> bytes:
    out = io.BytesIO()
    Image.new(mode, size).save(out, kind, **notes)
    return out.getvalue()


def only_a_header(width: int, height: int) -> bytes:
    """A PNG of 57 bytes that says it is so large, and has nothing in it."""

    def chunk(name: bytes, data: bytes) -> bytes:
        crc = struct.pack(">I", zlib.crc32(name + data))
        return struct.pack(">I", len(data)) + name + data + crc

    header = struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", header) + chunk(b"IDAT", b"") + chunk(b"IEND", b"")


@pytest.mark.parametrize("size", [(1, 60_000_000), (7700, 7700), (20_001, 1), (30_001, 1000)])
def test_what_is_too_large_is_never_opened(tmp_path, size):
    with pytest.raises(PictureError, match="too large"):
        pictures.keep(tmp_path, only_a_header(*size))


@pytest.mark.parametrize("kind", ["BMP", "TIFF", "ICO", "PPM"])
def test_other_formats_are_refused(tmp_path, kind):
    with pytest.raises(PictureError, match="JPEG, PNG, WebP or GIF"):
        pictures.keep(tmp_path, made(kind))


@pytest.mark.parametrize("mode", ["1", "L", "P", "RGBA", "CMYK"])
def test_every_sort_of_colour_is_kept(tmp_path, mode):
    kind = "JPEG" if mode == "CMYK" else "PNG"
    kept = pictures.keep(tmp_path, made(kind, (4000, 1000), mode))
    assert (kept.width, kept.height) == (pictures.MOST_SIDE, 750)


def test_a_turned_photo_is_made_upright_and_smaller(tmp_path):
    exif = Image.Exif()
    exif[0x0112] = 6  # turned by a quarter
    photo = made("JPEG", (4000, 2000), exif=exif, comment=b"taken at home")
    kept = pictures.keep_photo(tmp_path, photo)
    assert (kept.width, kept.height) == (pictures.PHOTO_SIDE // 2, pictures.PHOTO_SIDE)
    content = pictures.find(tmp_path, kept.digest).read_bytes()
    assert b"taken at home" in photo
    assert b"taken at home" not in content
    with Image.open(io.BytesIO(content)) as again:
        assert dict(again.getexif()) == {}


def test_what_is_cut_short_leaves_nothing_behind(tmp_path, monkeypatch):
    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(atomic.os, "fsync", full)
    with pytest.raises(OSError, match="No space"):
        pictures.keep(tmp_path, made("PNG"))
    assert list((tmp_path / pictures.FOLDER).iterdir()) == []
