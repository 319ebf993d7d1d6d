"""Pictures: turned alike everywhere, bounded in memory, and never refused for what is written beside the pixels."""

from __future__ import annotations

import io
import subprocess
import sys
import zlib
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageOps

from orthomet.app.stage.decode import decode
from orthomet.app.stage.pixels import to_rgb
from orthomet.core.errors import PictureError
from orthomet.core.imaging.load import load, orientation

PATCHES = np.zeros((40, 60, 3), np.uint8)
PATCHES[:20, :30], PATCHES[:20, 30:], PATCHES[20:, :30], PATCHES[20:, 30:] = (255, 0, 0), (0, 255, 0), (0, 0, 255), (200, 200, 0)


def encoded(fmt: str, turned: int, **more: object) -> bytes:
    exif = Image.Exif()
    exif[274] = turned
    out = io.BytesIO()
    kw = {"JPEG": {"quality": 100, "subsampling": 0}, "WEBP": {"lossless": True}}.get(fmt, {})
    Image.fromarray(PATCHES).save(out, fmt, exif=exif, **kw, **more)
    return out.getvalue()


@pytest.mark.parametrize("fmt", ["PNG", "JPEG", "WEBP", "TIFF"])
def test_window_and_core_turn_a_picture_alike(qapp: object, fmt: str) -> None:
    """The reference library's own upright copy is the truth (TIFF: it turns those while decoding)."""
    for turned in range(1, 9):
        data = encoded(fmt, turned)
        core, window = load(data).pixels[..., :3].astype(int), to_rgb(decode(data)[0]).astype(int)
        truth = np.asarray(ImageOps.exif_transpose(Image.open(io.BytesIO(data))).convert("RGB")).astype(int)
        assert core.shape == window.shape == truth.shape, (fmt, turned)
        assert np.abs(core - truth).max() <= 2 and np.abs(window - truth).max() <= 2, (fmt, turned)


def test_a_turn_said_behind_the_pixels_counts(qapp: object) -> None:
    data = encoded("PNG", 6)
    i, end = data.index(b"eXIf") - 4, data.index(b"IEND") - 4
    size = 12 + int.from_bytes(data[i : i + 4], "big")
    late = data[:i] + data[i + size : end] + data[i : i + size] + data[end:]
    assert orientation(late) == 6 and load(late).size == (40, 60)
    assert (decode(late)[0].width(), decode(late)[0].height()) == (40, 60)


def chunk(kind: bytes, body: bytes) -> bytes:
    return len(body).to_bytes(4, "big") + kind + body + zlib.crc32(kind + body).to_bytes(4, "big")


@pytest.mark.parametrize("kind, body", [
    (b"zTXt", b"k\0\0" + zlib.compress(b"x" * 70_000_000)), (b"iCCP", b"p\0\0" + b"no zlib"), (b"eXIf", b"II*\0rubbish"),
    (b"iTXt", b"XML:com.adobe.xmp\0\0\0\0\0<broken"), (b"tEXt", b""), (b"pHYs", b"1"),
])  # fmt: skip
def test_damaged_metadata_refuse_no_picture(qapp: object, kind: bytes, body: bytes) -> None:
    plain = encoded("PNG", 1)
    bad = plain[:33] + chunk(kind, body) + plain[33:]
    np.testing.assert_array_equal(load(bad).pixels[..., :3], PATCHES)
    assert decode(bad)[0].width() == 60
    jpeg = encoded("JPEG", 1)
    i = jpeg.index(b"Exif\0\0")
    broken = jpeg[: i + 6] + b"\xff" * 20 + jpeg[i + 26 :]
    assert load(broken).size == (60, 40)


def test_what_is_cut_off_is_still_refused() -> None:
    for fmt in ("PNG", "JPEG", "WEBP"):
        data = encoded(fmt, 1)
        with pytest.raises(PictureError):
            load(data[: len(data) // 2])


@pytest.mark.parametrize("mode", ["RGB", "RGBA", "P", "LA", "CMYK", "I;16", "F", "1"])
def test_strips_are_the_whole_picture(mode: str, monkeypatch: pytest.MonkeyPatch) -> None:
    from orthomet.core.imaging import load as module

    rng = np.random.default_rng(0)
    a = rng.integers(0, 255, (53, 31, 4), dtype=np.uint8)
    if mode == "I;16":
        im = Image.fromarray(a[..., 0].astype(np.uint16) * 257)
    elif mode == "F":
        im = Image.fromarray(a[..., 0].astype(np.float32))
    else:
        im = Image.fromarray(a).convert("L" if mode == "LA" else mode)
        if mode == "LA":
            im.putalpha(Image.fromarray(a[..., 3]))
    whole = module.to_rgba(im)
    monkeypatch.setattr(module, "STRIP", 31 * 5)
    np.testing.assert_array_equal(module.to_rgba(im), whole)
    assert whole.shape == (53, 31, 4)
    if mode in ("RGB", "RGBA", "CMYK"):
        np.testing.assert_array_equal(whole[..., :3], np.asarray(im.convert("RGB")))


def test_a_large_picture_holds_little_more_than_itself(tmp_path: Path) -> None:
    """48 megapixels are 192 MB decoded; four times that is the bound, for all the process holds beyond its libraries."""
    path = tmp_path / "large.jpg"
    exif = Image.Exif()
    exif[274] = 6
    Image.effect_noise((8000, 6000), 40).convert("RGB").save(path, quality=40, exif=exif)
    code = """
import resource, sys
from orthomet.core.imaging.load import load, load_file
import io
from PIL import Image
out = io.BytesIO(); Image.new("RGB", (9, 9)).save(out, "JPEG"); load(out.getvalue())
before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
pixels = load_file(sys.argv[1])[1].pixels
print((resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) * 1024 / pixels.nbytes, pixels.shape)
"""
    p = subprocess.run([sys.executable, "-c", code, str(path)], capture_output=True, text=True, timeout=120)
    times, shape = p.stdout.split(maxsplit=1)
    assert float(times) < 4 and shape.strip() == "(8000, 6000, 4)", p.stderr
