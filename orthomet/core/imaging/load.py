"""Load any common picture: bounded in size, turned upright, in sRGB, 8 bits, with alpha where it has one."""

from __future__ import annotations

import io
import warnings
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms, ImageOps, UnidentifiedImageError

from ..errors import PictureError

MAX_BYTES = 256 * 1024 * 1024
MAX_PIXELS = 120_000_000
MAX_SIDE = 30_000
FORMATS = ("PNG", "JPEG", "WEBP", "TIFF", "BMP", "GIF")
SUFFIXES = {"PNG": "png", "JPEG": "jpg", "WEBP": "webp", "TIFF": "tif", "BMP": "bmp", "GIF": "gif"}
Image.MAX_IMAGE_PIXELS = MAX_PIXELS


@dataclass(frozen=True)
class Loaded:
    """Pixels ``(h, w, 4)`` as uint8 RGBA, upright; the file's own format and size before turning."""

    pixels: NDArray[np.uint8]
    format: str

    @property
    def size(self) -> tuple[int, int]:
        return int(self.pixels.shape[1]), int(self.pixels.shape[0])


def peek(data: bytes, name: str = "The picture") -> tuple[str, tuple[int, int]]:
    """Format and size from the header alone, refused when it is no picture or too large.

    Raises
    ------
    PictureError
    """
    if len(data) > MAX_BYTES:
        raise PictureError(f"{name} is {len(data) >> 20} MB large; up to {MAX_BYTES >> 20} MB can be opened.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(data), formats=FORMATS) as im:
                fmt, size = im.format or "", im.size
    except Image.DecompressionBombError:
        raise PictureError(f"{name} is too large to open: it would have over {MAX_PIXELS // 1_000_000} million pixels.") from None
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError, TypeError, KeyError, IndexError, OverflowError):
        raise PictureError(f"{name} is not a picture that can be opened (PNG, JPEG, WebP, TIFF, BMP or GIF).") from None
    if size[0] * size[1] > MAX_PIXELS or max(size) > MAX_SIDE:
        raise PictureError(
            f"{name} is too large to open: {size[0]} × {size[1]} pixels, up to {MAX_PIXELS // 1_000_000} million can be."
        )
    if min(size) < 2:
        raise PictureError(f"{name} is only {size[0]} × {size[1]} pixels; there is nothing to measure on it.")
    return fmt, size


def load(data: bytes, name: str = "The picture") -> Loaded:
    """Decode picture bytes.

    Raises
    ------
    PictureError
        Not a picture, cut off, or too large.
    """
    fmt, _ = peek(data, name)
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(data), formats=FORMATS) as im:
                im.load()
                upright = ImageOps.exif_transpose(im) or im
                rgba = _to_rgba(upright)
    except Image.DecompressionBombError:
        raise PictureError(f"{name} is too large to open.") from None
    except (OSError, SyntaxError, ValueError, TypeError, KeyError, IndexError, EOFError, OverflowError, MemoryError):
        raise PictureError(f"{name} is damaged or cut off: its end is missing or does not fit its beginning.") from None
    return Loaded(np.ascontiguousarray(rgba), fmt)


def _to_rgba(im: Image.Image) -> NDArray[np.uint8]:
    if im.mode.startswith("I;16") or im.mode in ("I", "F"):
        a = np.asarray(im).astype(float)
        top = (
            65535.0
            if im.mode != "F" and a.max(initial=0) > 255
            else max(float(a.max(initial=0)), 1.0)
            if im.mode == "F"
            else 255.0
        )
        g = np.clip(a / top * 255, 0, 255).astype(np.uint8)
        return np.dstack([g, g, g, np.full_like(g, 255)])
    profile = im.info.get("icc_profile")
    has_alpha = im.mode in ("RGBA", "LA", "PA") or "transparency" in im.info
    alpha = im.convert("RGBA").getchannel("A") if has_alpha else None
    rgb: Image.Image | None = None
    if profile and im.mode in ("RGB", "RGBA", "CMYK", "L"):
        try:
            source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
            base = im.convert("RGB") if im.mode == "RGBA" else im
            rgb = ImageCms.profileToProfile(base, source, ImageCms.createProfile("sRGB"), outputMode="RGB")
        except (ImageCms.PyCMSError, OSError, ValueError):
            rgb = None  # an unreadable profile: the plain numbers are the best guess
    out = (rgb or im).convert("RGB").convert("RGBA")
    if alpha is not None:
        out.putalpha(alpha)
    return np.asarray(out)


def read_bytes(path: str) -> bytes:
    """A picture file as it is, refused where it is too large.

    Raises
    ------
    PictureError
    """
    p = Path(path)
    try:
        if p.stat().st_size > MAX_BYTES:
            raise PictureError(f"{p.name} is too large to open; up to {MAX_BYTES >> 20} MB can be.")
        return p.read_bytes()
    except OSError as e:
        raise PictureError(f"{p.name} cannot be read: {e.strerror or e}.") from None


def load_file(path: str) -> tuple[bytes, Loaded]:
    """Read and decode a picture file.

    Raises
    ------
    PictureError
    """
    data = read_bytes(path)
    return data, load(data, Path(path).name)
