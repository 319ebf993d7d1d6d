"""Qt's decoders give what the core gives: upright, in sRGB, with alpha, and nothing that is cut off."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import pytest
from PIL import Image, ImageCms
from PySide6.QtGui import QImage

from orthomet.app.stage.decode import decode
from orthomet.app.stage.pixels import reduced, to_rgb
from orthomet.core.errors import PictureError
from orthomet.core.imaging.load import load


def encoded(im: Image.Image, fmt: str, **how: Any) -> bytes:
    out = io.BytesIO()
    im.save(out, fmt, **how)
    return out.getvalue()


def scene(mode: str = "RGB") -> Image.Image:
    y, x = np.mgrid[0:90, 0:140]
    rgb = np.stack([x * 1.7, y * 2.6, 255 - x], -1).clip(0, 255).astype(np.uint8)
    return Image.fromarray(rgb).convert(mode)


@pytest.mark.parametrize("fmt, mode", [("PNG", "RGB"), ("PNG", "L"), ("PNG", "P"), ("PNG", "RGBA"), ("JPEG", "RGB"), ("JPEG", "L"), ("JPEG", "CMYK"), ("WEBP", "RGB"), ("TIFF", "RGB"), ("BMP", "RGB"), ("GIF", "P")])  # fmt: skip
def test_every_format_shows_the_cores_pixels(qapp: Any, fmt: str, mode: str) -> None:
    data = encoded(scene(mode), fmt)
    image, told = decode(data)
    assert told == fmt and (image.width(), image.height()) == (140, 90)
    core = load(data).pixels[..., :3].astype(int)
    assert np.abs(to_rgb(image).astype(int) - core).max() <= 6


def test_it_is_turned_upright_and_brought_to_srgb(qapp: Any) -> None:
    exif = Image.Exif()
    exif[0x0112] = 6
    data = encoded(scene(), "JPEG", exif=exif, quality=95)
    image, _ = decode(data)
    assert (image.width(), image.height()) == (90, 140)
    assert np.abs(to_rgb(image).astype(int) - load(data).pixels[..., :3]).mean() < 2
    lab = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    image, _ = decode(encoded(scene(), "PNG", icc_profile=lab))
    assert np.abs(to_rgb(image).astype(int) - np.asarray(scene())).max() <= 2


def test_alpha_stays_and_half_a_file_is_refused(qapp: Any) -> None:
    im = scene("RGBA")
    im.putalpha(Image.fromarray(np.tile(np.linspace(0, 255, 140).astype(np.uint8), (90, 1))))
    image, _ = decode(encoded(im, "PNG"))
    assert image.hasAlphaChannel() and image.pixelColor(0, 50).alpha() == 0 and image.pixelColor(139, 50).alpha() == 255
    for fmt in ("PNG", "JPEG"):
        data = encoded(Image.fromarray(np.random.default_rng(0).integers(0, 255, (200, 200, 3), dtype=np.uint8)), fmt)
        with pytest.raises(PictureError, match="cut off"):
            decode(data[: len(data) // 2], "half")
    with pytest.raises(PictureError, match="not a picture"):
        decode(b"\x89PNG IEND")


def test_a_large_picture_comes_with_its_halves(qapp: Any) -> None:
    image, _ = decode(encoded(scene().resize((2800, 1800)), "JPEG"))
    small, factor = reduced(image, 0.2)
    assert factor == 4 and small.width() == 700
    again, _ = reduced(image, 0.2)
    assert isinstance(small, QImage) and again.cacheKey() == small.cacheKey()


def test_halves_are_the_mean_of_four_pixels_and_of_an_odd_picture_too() -> None:
    rng = np.random.default_rng(8)
    for w, h, alpha in ((1400, 1300, False), (1400, 1300, True), (1401, 1301, False)):
        pixels = rng.integers(0, 256, (h, w, 4), np.uint8)
        kind = QImage.Format.Format_ARGB32 if alpha else QImage.Format.Format_RGB32
        whole = QImage(pixels.data, w, h, 4 * w, kind).convertToFormat(
            QImage.Format.Format_ARGB32_Premultiplied if alpha else kind
        )
        small, by = reduced(whole, 0.5 - 1e-9)
        assert (small.width(), small.height()) == (w // 2, h // 2) and by == 2 and small.hasAlphaChannel() == alpha
        a, b = (
            np.frombuffer(i.constBits(), np.uint8).reshape(i.height(), i.width(), 4)[..., : 4 if alpha else 3].astype(float)
            for i in (whole, small)
        )
        assert abs(a.mean() - b.mean()) < 0.6
        if not w % 2:
            mean = a.reshape(h // 2, 2, w // 2, 2, -1).mean((1, 3))
            assert np.abs(mean - b).max() <= 1
