"""Whether a picture file is whole: what a paint program is still writing is not read as a picture.

PNG says it by the checksum of every chunk up to IEND (ISO/IEC 15948), JPEG by its end mark (ITU-T T.81), WebP by the length in
its RIFF header (RFC 9649), TIFF by its directory and strips (TIFF 6.0), OpenRaster by its archive and the checksum of the merged
image (OpenRaster baseline).
"""

from __future__ import annotations

import io
import struct
import zipfile
import zlib

from ..errors import PictureError

MERGED = "mergedimage.png"
"""The picture of all layers in an OpenRaster file."""
MOST_MERGED = 256 * 1024 * 1024
_STRIPS = ((273, 279), (324, 325))
"""TIFF tags of places and lengths: of strips, of tiles."""


def lacking(data: bytes) -> str:
    """What a picture file lacks to be whole, in words; empty where it is whole."""
    if data.startswith(b"\x89PNG\r\n\x1a\n"):
        return _png(data)
    if data.startswith(b"\xff\xd8"):
        return "" if data.rstrip(b"\0").endswith(b"\xff\xd9") else "its end mark"
    if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
        return "" if len(data) >= 8 + struct.unpack_from("<I", data, 4)[0] else "a part of its length"
    if data[:4] in (b"II*\0", b"MM\0*"):
        try:
            return _tiff(data)
        except struct.error:
            return "a part of its tables"
    if data[:2] == b"PK":
        try:
            merged_image(data)
        except PictureError:
            return "its merged image"
        return ""
    return "its beginning" if len(data) < 16 else "the form of a picture that can be followed"


def is_archive(data: bytes) -> bool:
    """Whether a file may be OpenRaster."""
    return data[:2] == b"PK"


def merged_image(data: bytes) -> bytes:
    """The PNG of all layers from an OpenRaster file.

    Raises
    ------
    PictureError
        No such archive, no merged image in it, or a damaged or too large one.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as z:
            info = z.getinfo(MERGED)
            if info.file_size > MOST_MERGED:
                raise PictureError(
                    f"Its merged image is {info.file_size >> 20} MB large; up to {MOST_MERGED >> 20} MB can be opened."
                )
            with z.open(info) as f:
                out = f.read(MOST_MERGED + 1)
    except (KeyError, OSError, ValueError, RuntimeError, NotImplementedError, zipfile.BadZipFile, zlib.error, EOFError):
        raise PictureError("It is no OpenRaster file with a merged image in it.") from None
    if len(out) > MOST_MERGED:
        raise PictureError("Its merged image is larger than it says.")
    return out


def _png(data: bytes) -> str:
    at, n = 8, len(data)
    view = memoryview(data)
    while at + 12 <= n:
        (long,) = struct.unpack_from(">I", data, at)
        if at + 12 + long > n:
            return "a part of its data"
        if zlib.crc32(view[at + 4 : at + 8 + long]) != struct.unpack_from(">I", data, at + 8 + long)[0]:
            return "data whose checksum is right"
        if data[at + 4 : at + 8] == b"IEND":
            return ""
        at += 12 + long
    return "its end"


def _tiff(data: bytes) -> str:
    n, e = len(data), "<" if data[:2] == b"II" else ">"
    (start,) = struct.unpack_from(e + "I", data, 4)
    if start < 8 or start + 2 > n:
        return "its directory"
    (count,) = struct.unpack_from(e + "H", data, start)
    if start + 2 + 12 * count > n:
        return "a part of its directory"
    rows: dict[int, tuple[int, ...]] = {}
    for k in range(count):
        tag, kind, many = struct.unpack_from(e + "HHI", data, start + 2 + 12 * k)
        size = {3: 2, 4: 4}.get(kind, 0)
        if size and any(tag in pair for pair in _STRIPS):
            at = start + 10 + 12 * k
            if many * size > 4:
                (at,) = struct.unpack_from(e + "I", data, at)
            if at + many * size > n:
                return "a part of its tables"
            rows[tag] = struct.unpack_from(f"{e}{many}{'H' if size == 2 else 'I'}", data, at)
    for places, lengths in _STRIPS:
        if places in rows and lengths in rows:
            return "" if all(a + b <= n for a, b in zip(rows[places], rows[lengths], strict=False)) else "a part of its strips"
    return "its strips"
