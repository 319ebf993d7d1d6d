"""Picture bytes to an image that paints at once: Qt's own decoders where they are as careful as the core's, which is slower.

What is refused, turned upright and brought to sRGB is the same either way. Halved copies are made here too, off the
interface thread, so that the first paint has nothing left to do.
"""

from __future__ import annotations

from PySide6.QtCore import QBuffer, QByteArray, QIODevice
from PySide6.QtGui import QColorSpace, QImage, QImageReader

from ...core.imaging.load import MAX_PIXELS, load, peek
from .images import keep_levels, to_qimage

PLAIN = (QImage.Format.Format_RGB32, QImage.Format.Format_ARGB32, QImage.Format.Format_RGB888, QImage.Format.Format_RGBA8888)
TAIL = 4096


def decode(data: bytes, name: str = "The picture") -> tuple[QImage, str]:
    """An image, upright and in sRGB, and the file's format as the core names it.

    Raises
    ------
    PictureError
        Not a picture, cut off, or too large.
    """
    fmt, _ = peek(data, name)
    image = _by_qt(data, fmt)
    if image is None:
        image = to_qimage(load(data, name))
    keep_levels(image)
    return image, fmt


def _whole(data: bytes, fmt: str) -> bool:
    """Whether the file's end is there: Qt shows half a picture where the core says that it is cut off."""
    end = data[-TAIL:]
    return (fmt == "JPEG" and b"\xff\xd9" in end) or (fmt == "PNG" and b"IEND" in end)


def _by_qt(data: bytes, fmt: str) -> QImage | None:
    if not _whole(data, fmt):
        return None
    held = QByteArray(data)
    buffer = QBuffer(held)
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    QImageReader.setAllocationLimit(8 * MAX_PIXELS // (1024 * 1024) + 1)
    reader = QImageReader(buffer, QByteArray(fmt.lower().encode()))
    reader.setAutoTransform(True)
    image = reader.read()
    if image.isNull() or image.format() not in PLAIN:
        return None
    space, standard = image.colorSpace(), QColorSpace(QColorSpace.NamedColorSpace.SRgb)
    if space.isValid() and space != standard:
        image.convertToColorSpace(standard)
    wanted = QImage.Format.Format_ARGB32_Premultiplied if image.hasAlphaChannel() else QImage.Format.Format_RGB32
    return image if image.format() == wanted else image.convertToFormat(wanted)
