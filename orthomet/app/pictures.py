"""Bringing pictures in: files dropped, pasted or chosen, read and decoded off the interface thread."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMimeData
from PySide6.QtGui import QImage

from ..core.files import shown_name
from ..core.hashing import content_hash
from ..core.project.model import Image

PICTURE_SUFFIXES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".bmp", ".gif")


class Read(NamedTuple):
    """A picture that was read: its record, the bytes to keep, what to paint."""

    record: Image
    data: bytes
    image: QImage
    name: str


def read_picture(source: str | bytes, name: str) -> Read:
    """Read and decode a picture, on any thread.

    Raises
    ------
    PictureError
        It cannot be read, or is none.
    """
    from ..core.imaging.load import SUFFIXES, read_bytes
    from .stage.decode import decode

    data = read_bytes(source) if isinstance(source, str) else source
    with ThreadPoolExecutor(1) as beside:
        named = beside.submit(content_hash, data)
        image, fmt = decode(data, name)
    record = Image(hash=named.result(), suffix=SUFFIXES[fmt], size=(image.width(), image.height()))
    return Read(record, data, image, Path(shown_name(name)).stem)


def picture_sources(mime: QMimeData | None) -> list[tuple[str | bytes, str]]:
    """Pictures in dropped or pasted data: files first, else the image itself."""
    if mime is None:
        return []
    files = [u.toLocalFile() for u in mime.urls() if u.isLocalFile()]
    found: list[tuple[str | bytes, str]] = [(f, Path(f).name) for f in files if f.lower().endswith(PICTURE_SUFFIXES)]
    if found or files:
        return found or [(f, Path(f).name) for f in files if not f.lower().endswith((".orthomet", ".json", ".pts"))]
    if mime.hasImage():
        image = QImage(mime.imageData())
        data = QByteArray()
        buffer = QBuffer(data)
        buffer.open(QIODevice.OpenModeFlag.WriteOnly)
        image.save(buffer, "PNG")  # type: ignore[call-overload]
        return [(bytes(data.data()), "Pasted picture.png")]
    return []
