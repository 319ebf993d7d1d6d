"""Load any common picture: bounded in size, turned upright, in sRGB, 8 bits, with alpha where it has one."""

from __future__ import annotations

import io
import struct
import warnings
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageCms, UnidentifiedImageError

from ..errors import PictureError
from ..files import read_file

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
        try:
            fmt, size = _header(data)
        except Image.DecompressionBombError:
            raise
        except (UnidentifiedImageError, *DAMAGE):
            bare = without_metadata(data, _by_magic(data))
            if bare is None:
                raise
            fmt, size = _header(bare)
    except Image.DecompressionBombError:
        raise PictureError(f"{name} is too large to open: it would have over {MAX_PIXELS // 1_000_000} million pixels.") from None
    except (UnidentifiedImageError, *DAMAGE):
        raise PictureError(f"{name} is not a picture that can be opened (PNG, JPEG, WebP, TIFF, BMP or GIF).") from None
    if size[0] * size[1] > MAX_PIXELS or max(size) > MAX_SIDE:
        raise PictureError(
            f"{name} is too large to open: {size[0]} × {size[1]} pixels, up to {MAX_PIXELS // 1_000_000} million can be."
        )
    if min(size) < 2:
        raise PictureError(f"{name} is only {size[0]} × {size[1]} pixels; there is nothing to measure on it.")
    return fmt, size


def _header(data: bytes) -> tuple[str, tuple[int, int]]:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with Image.open(io.BytesIO(data), formats=FORMATS) as im:
            return im.format or "", im.size


def _by_magic(data: bytes) -> str:
    """The format its first bytes say, of those whose metadata can be left out."""
    if data.startswith(b"\x89PNG\r\n\x1a\n"):
        return "PNG"
    if data.startswith(b"\xff\xd8"):
        return "JPEG"
    return "WEBP" if data[:4] == b"RIFF" and data[8:12] == b"WEBP" else ""


def load(data: bytes, name: str = "The picture") -> Loaded:
    """Decode picture bytes. Damaged metadata (turn, profile, comments) never refuse an intact picture: it is read without.

    At most about twice the decoded size (four bytes a pixel) is held at once, half as much again for one to be turned.

    Raises
    ------
    PictureError
        Not a picture, cut off, or too large.
    """
    fmt, _ = peek(data, name)
    try:
        try:
            pixels = _decoded(data, orientation(data))
        except Image.DecompressionBombError:
            raise
        except DAMAGE:
            bare = without_metadata(data, fmt)
            if bare is None:
                raise
            pixels = _decoded(bare, orientation(data))
    except Image.DecompressionBombError:
        raise PictureError(f"{name} is too large to open.") from None
    except DAMAGE:
        raise PictureError(f"{name} is damaged or cut off: its end is missing or does not fit its beginning.") from None
    return Loaded(pixels, fmt)


DAMAGE = (
    OSError,
    SyntaxError,
    ValueError,
    TypeError,
    LookupError,
    EOFError,
    OverflowError,
    MemoryError,
    struct.error,
    zlib.error,
)
"""What the decoders raise over bytes that make no sense."""


def _decoded(data: bytes, turned: int) -> NDArray[np.uint8]:
    with warnings.catch_warnings():
        warnings.simplefilter("ignore")
        with Image.open(io.BytesIO(data), formats=FORMATS) as im:
            im.load()
            how = None if im.format == "TIFF" else TURNS.get(turned)  # the library turns these itself
            return to_rgba(im.transpose(how) if how is not None else im)


TURNS = {
    2: Image.Transpose.FLIP_LEFT_RIGHT, 3: Image.Transpose.ROTATE_180, 4: Image.Transpose.FLIP_TOP_BOTTOM,
    5: Image.Transpose.TRANSPOSE, 6: Image.Transpose.ROTATE_270, 7: Image.Transpose.TRANSVERSE, 8: Image.Transpose.ROTATE_90,
}  # fmt: skip
"""What brings a picture of each EXIF orientation upright (CIPA DC-008, tag 274)."""


def plain_jpeg(data: bytes) -> bool:
    """Whether it is a JPEG of ordinary colours, with no profile that would have to be undone."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(data), formats=("JPEG",)) as im:
                return im.mode == "RGB" and "icc_profile" not in im.info
    except (UnidentifiedImageError, *DAMAGE):
        return False


def orientation(data: bytes) -> int:
    """EXIF orientation, 1 to 8, of a picture in any format; 1 where none is said or it cannot be read."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            with Image.open(io.BytesIO(data), formats=FORMATS) as im:
                if im.format == "PNG" and "exif" not in im.info:
                    # the chunk may follow the pixels, where the library looks only after decoding all of them
                    raw = _late_exif(data)
                    if raw is None:
                        return 1
                    exif = Image.Exif()
                    exif.load(raw)
                    value = exif.get(ORIENTATION, 1)
                else:
                    value = im.getexif().get(ORIENTATION, 1)
    except (*DAMAGE, Image.DecompressionBombError):
        return 1
    return value if isinstance(value, int) and value in TURNS else 1


ORIENTATION = 274


def _chunks(data: bytes) -> Iterator[tuple[bytes, int, int]]:
    """A PNG's chunks: kind, start and end within the bytes; ends where they make no sense."""
    at = 8
    while at + 12 <= len(data):
        size = int.from_bytes(data[at : at + 4], "big")
        end = at + 12 + size
        if end > len(data):
            return
        yield data[at + 4 : at + 8], at, end
        at = end


def _late_exif(data: bytes) -> bytes | None:
    return next((data[a + 8 : b - 4] for kind, a, b in _chunks(data) if kind == b"eXIf"), None)


def without_metadata(data: bytes, fmt: str) -> bytes | None:
    """A PNG, JPEG or WebP with nothing but what its pixels need; ``None`` for a format where that cannot be told apart."""
    if fmt == "PNG":
        keep = (b"IHDR", b"PLTE", b"tRNS", b"IDAT", b"IEND")
        return data[:8] + b"".join(data[a:b] for kind, a, b in _chunks(data) if kind in keep)
    if fmt == "JPEG":
        return _bare_jpeg(data)
    if fmt == "WEBP":
        return _bare_webp(data)
    return None


def _bare_jpeg(data: bytes) -> bytes:
    """Application segments and comments left out, but for the one that says how the colours are meant (Adobe's, APP14)."""
    out, at = [data[:2]], 2
    while at + 4 <= len(data) and data[at] == 0xFF:
        marker = data[at + 1]
        if marker == 0xDA:
            break
        end = at + 2 + int.from_bytes(data[at + 2 : at + 4], "big")
        if not (0xE0 <= marker <= 0xEF and marker != 0xEE) and marker != 0xFE:
            out.append(data[at:end])
        at = end
    return b"".join([*out, data[at:]])


def _bare_webp(data: bytes) -> bytes:
    out, at = [], 12
    while at + 8 <= len(data):
        kind, size = data[at : at + 4], int.from_bytes(data[at + 4 : at + 8], "little")
        end = at + 8 + size + size % 2
        if kind not in (b"EXIF", b"XMP ", b"ICCP"):
            out.append(data[at:end])
        at = end
    body = b"WEBP" + b"".join(out)
    return b"RIFF" + len(body).to_bytes(4, "little") + body


STRIP = 1 << 22
"""Pixels converted at once."""


def to_rgba(im: Image.Image) -> NDArray[np.uint8]:
    """Pixels as RGBA in sRGB, strip by strip, so that hardly more than source and result is held."""
    w, h = im.size
    out = np.empty((h, w, 4), np.uint8)
    deep = _range(im) if im.mode.startswith("I;16") or im.mode in ("I", "F") else 0.0
    has_alpha = im.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in im.info
    to_srgb = None if deep else _profile(im)
    rows = max(1, STRIP // w)
    for top in range(0, h, rows):
        end = min(h, top + rows)
        part = im.crop((0, top, w, end))
        if deep:
            grey = np.clip(np.asarray(part, np.float32) / deep * 255, 0, 255)
            out[top:end, :, :3], out[top:end, :, 3] = np.nan_to_num(grey).astype(np.uint8)[..., None], 255
            continue
        part.info = im.info
        rgba = part.convert("RGBA")
        out[top:end] = np.asarray(rgba)
        if not has_alpha:
            out[top:end, :, 3] = 255
        if to_srgb is not None:
            source = part if part.mode == to_srgb[1] else part.convert(to_srgb[1])
            out[top:end, :, :3] = np.asarray(ImageCms.applyTransform(source, to_srgb[0]))
    return out


def _range(im: Image.Image) -> float:
    """The value that is white in a picture of more than 8 bits."""
    w, h = im.size
    rows = max(1, STRIP // w)
    top = max(float(np.nanmax(np.asarray(im.crop((0, y, w, min(h, y + rows)))), initial=0)) for y in range(0, h, rows))
    if im.mode == "F":
        return max(top, 1.0) if np.isfinite(top) else 1.0
    return 65535.0 if top > 255 else 255.0


def _profile(im: Image.Image) -> tuple[ImageCms.ImageCmsTransform, str] | None:
    """The way from the picture's own colour profile to sRGB, and the mode it starts from; ``None`` without a usable one."""
    profile = im.info.get("icc_profile")
    if not profile or im.mode not in ("RGB", "RGBA", "CMYK", "L"):
        return None
    mode = "RGB" if im.mode == "RGBA" else im.mode
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        return ImageCms.buildTransform(source, ImageCms.createProfile("sRGB"), mode, "RGB"), mode
    except (ImageCms.PyCMSError, *DAMAGE):
        return None  # an unreadable profile: the plain numbers are the best guess


def read_bytes(path: str) -> bytes:
    """A picture file as it is, refused where it is no ordinary file or too large.

    Raises
    ------
    PictureError
    """
    return read_file(path, MAX_BYTES, "a picture that can be opened", PictureError)


def load_file(path: str) -> tuple[bytes, Loaded]:
    """Read and decode a picture file.

    Raises
    ------
    PictureError
    """
    data = read_bytes(path)
    return data, load(data, Path(path).name)
