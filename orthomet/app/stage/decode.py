"""Picture bytes to an image that paints at once: Qt's own decoders where they are as careful as the core's, which is slower.

What is refused, turned upright and brought to sRGB is the same either way. Halved copies are made here too, off the
interface thread, so that the first paint has nothing left to do.
"""

from __future__ import annotations

import tempfile

import cv2
import numpy as np
from PySide6.QtCore import QByteArray
from PySide6.QtGui import QColorSpace, QImage, QImageReader, QTransform

from ...core.imaging.load import MAX_PIXELS, load, orientation, peek, plain_jpeg
from .pixels import keep_levels, to_qimage

PLAIN = (QImage.Format.Format_RGB32, QImage.Format.Format_ARGB32, QImage.Format.Format_RGB888, QImage.Format.Format_RGBA8888)
TAIL = 4096
TURNS = {
    2: (-1, 0, 0, 1, 0, 0), 3: (-1, 0, 0, -1, 0, 0), 4: (1, 0, 0, -1, 0, 0), 5: (0, 1, 1, 0, 0, 0),
    6: (0, 1, -1, 0, 0, 0), 7: (0, -1, -1, 0, 0, 0), 8: (0, -1, 1, 0, 0, 0),
}  # fmt: skip
"""Each EXIF orientation as a transform: a picture turned by it stands upright (CIPA DC-008)."""


def decode(data: bytes, name: str = "The picture") -> tuple[QImage, str]:
    """An image, upright and in sRGB, and the file's format as the core names it.

    Raises
    ------
    PictureError
        Not a picture, cut off, or too large.
    """
    fmt, _ = peek(data, name)
    image = _jpeg(data, fmt) or _by_qt(data, fmt)
    if image is None:
        image = to_qimage(load(data, name))
    keep_levels(image)
    return image, fmt


def _whole(data: bytes, fmt: str) -> bool:
    """Whether the file's end is there: Qt shows half a picture where the core says that it is cut off."""
    end = data[-TAIL:]
    return (fmt == "JPEG" and b"\xff\xd9" in end) or (fmt == "PNG" and b"IEND" in end)


def _jpeg(data: bytes, fmt: str) -> QImage | None:
    """A plain JPEG by OpenCV, which takes a third of the time."""
    if fmt != "JPEG" or not _whole(data, fmt) or not plain_jpeg(data):
        return None
    try:
        pixels = cv2.imdecode(np.frombuffer(data, np.uint8), cv2.IMREAD_COLOR | cv2.IMREAD_IGNORE_ORIENTATION)
    except cv2.error:
        return None
    if pixels is None:
        return None
    h, w = pixels.shape[:2]
    whole = cv2.cvtColor(pixels, cv2.COLOR_BGR2BGRA)
    return _upright(QImage(whole.data, w, h, 4 * w, QImage.Format.Format_RGB32).copy(), data)


def _upright(image: QImage, data: bytes) -> QImage:
    how = TURNS.get(orientation(data))
    return image if how is None else image.transformed(QTransform(*how))


def _by_qt(data: bytes, fmt: str) -> QImage | None:
    if not _whole(data, fmt):
        return None
    QImageReader.setAllocationLimit(8 * MAX_PIXELS // (1024 * 1024) + 1)
    # by file, not by a buffer of ours: Qt asks the device while it holds its own lock, and a buffer made in Python would
    # then wait for the interpreter, which the interface thread may hold while it waits for that same lock
    try:
        with tempfile.NamedTemporaryFile(prefix="orthomet-", suffix=f".{fmt.lower()}") as held:
            held.write(data)
            held.flush()
            reader = QImageReader(held.name, QByteArray(fmt.lower().encode()))
            reader.setAutoTransform(False)  # Qt turns some formats only; the core says for all
            image = reader.read()
    except OSError:
        return None  # no room for it: the core decodes in memory
    if image.isNull() or image.format() not in PLAIN:
        return None
    image = _upright(image, data)
    space, standard = image.colorSpace(), QColorSpace(QColorSpace.NamedColorSpace.SRgb)
    if space.isValid() and space != standard:
        image.convertToColorSpace(standard)
    wanted = QImage.Format.Format_ARGB32_Premultiplied if image.hasAlphaChannel() else QImage.Format.Format_RGB32
    return image if image.format() == wanted else image.convertToFormat(wanted)
