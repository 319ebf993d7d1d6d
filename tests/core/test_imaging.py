"""Pictures of every honest kind, and of several dishonest ones."""

from __future__ import annotations

import io
import struct
import zlib

import numpy as np
import pytest
from PIL import Image, ImageCms

from orthomet.core.errors import PictureError
from orthomet.core.imaging.load import load, load_file


def encoded(im: Image.Image, fmt: str, **kw: object) -> bytes:
    out = io.BytesIO()
    im.save(out, fmt, **kw)
    return out.getvalue()


RGB = Image.fromarray(np.dstack([np.tile(np.arange(64, dtype=np.uint8) * 4, (48, 1))] * 3))


@pytest.mark.parametrize(("fmt", "how"), [("PNG", {}), ("JPEG", {"quality": 95}), ("WEBP", {"lossless": True}), ("TIFF", {})])
def test_common_formats(fmt: str, how: dict[str, object]) -> None:
    got = load(encoded(RGB, fmt, **how))
    assert got.size == (64, 48) and got.format == fmt and got.pixels.dtype == np.uint8
    assert np.abs(got.pixels[..., :3].astype(int) - np.asarray(RGB)).max() <= 6
    assert (got.pixels[..., 3] == 255).all()


def test_orientation_is_undone() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6
    got = load(encoded(RGB, "JPEG", quality=95, exif=exif))
    assert got.size == (48, 64)
    assert got.pixels[0].mean() < got.pixels[-1].mean()  # dark left edge is on top after the turn


def test_alpha_cmyk_sixteen_bit_palette_and_profile() -> None:
    rgba = RGB.convert("RGBA")
    rgba.putalpha(100)
    assert (load(encoded(rgba, "PNG")).pixels[..., 3] == 100).all()
    cmyk = load(encoded(RGB.convert("CMYK"), "JPEG", quality=95)).pixels
    assert np.abs(cmyk[..., :3].astype(int) - np.asarray(RGB)).mean() < 12
    deep = Image.fromarray(np.asarray(RGB)[..., 0].astype(np.uint16) * 257)
    got = load(encoded(deep, "PNG")).pixels
    assert np.abs(got[..., 0].astype(int) - np.asarray(RGB)[..., 0]).max() <= 1
    palette = load(encoded(RGB.convert("P"), "GIF")).pixels
    assert palette.shape == (48, 64, 4)
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    tagged = load(encoded(RGB, "PNG", icc_profile=profile)).pixels
    assert np.abs(tagged[..., :3].astype(int) - np.asarray(RGB)).max() <= 2
    nonsense = load(encoded(RGB, "PNG", icc_profile=b"not a profile")).pixels
    assert (nonsense[..., :3] == np.asarray(RGB)).all()


def huge_png(w: int, h: int) -> bytes:
    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    head = struct.pack(">IIBBBBB", w, h, 8, 2, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"")) + chunk(b"IEND", b"")


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "not a picture"),
        (b"hello, I am a text", "not a picture"),
        (encoded(RGB, "PNG")[:60], "damaged or cut off|not a picture"),
        (encoded(RGB, "JPEG")[:400], "damaged or cut off|not a picture"),
        (huge_png(30_000, 30_000), "too large"),
        (huge_png(200_000, 3), "too large"),
        (encoded(Image.new("RGB", (1, 1)), "PNG"), "nothing to measure"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'/>", "not a picture"),
    ],
)
def test_bad_pictures_get_a_sentence(data: bytes, words: str) -> None:
    with pytest.raises(PictureError, match=words):
        load(data, "x.png")


def test_files_that_are_not_there() -> None:
    with pytest.raises(PictureError, match="cannot be read"):
        load_file("/nowhere/x.png")
