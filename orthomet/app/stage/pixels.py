"""Pictures as pixels, Qt's and NumPy's, and a picture's smaller copies, so that drawing a large one stays inside a frame."""

from __future__ import annotations

from collections import OrderedDict
from typing import TYPE_CHECKING

import cv2
import numpy as np
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QPixmap

from ...core.kinds import Array

if TYPE_CHECKING:
    from ...core.imaging.load import Loaded


def to_qimage(loaded: Loaded) -> QImage:
    """Decoded pixels as an image of their own (no shared memory)."""
    h, w = loaded.pixels.shape[:2]
    image = QImage(loaded.pixels.data, w, h, 4 * w, QImage.Format.Format_RGBA8888)
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


def to_rgb(image: QImage) -> Array:
    """Pixels ``(h, w, 3)`` uint8 of an image, on white where it is transparent; safe off the interface thread."""
    plain = _on_white(image, QImage.Format.Format_RGB888)
    return _rows(plain, 3).reshape(plain.height(), plain.width(), 3)


def to_grey(image: QImage) -> Array:
    """Grey levels ``(h, w)`` uint8 of an image, likewise."""
    plain = _on_white(image, QImage.Format.Format_RGB32)
    plain = plain if plain.format() == QImage.Format.Format_RGB32 else plain.convertToFormat(QImage.Format.Format_RGB32)
    flat = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine() // 4, 4)
    return np.asarray(cv2.cvtColor(flat[:, : plain.width()], cv2.COLOR_BGRA2GRAY))


def _on_white(image: QImage, kind: QImage.Format) -> QImage:
    """An image without transparency: in a format without, or as it is where it has none and is to be converted on."""
    if not image.hasAlphaChannel():
        return image if kind == QImage.Format.Format_RGB32 else image.convertToFormat(kind)
    plain = QImage(image.size(), kind)
    plain.fill(Qt.GlobalColor.white)
    p = QPainter(plain)
    p.drawImage(0, 0, image)
    p.end()
    return plain


def _rows(plain: QImage, channels: int) -> Array:
    flat = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
    return flat[:, : channels * plain.width()].copy()


def from_rgb(pixels: Array) -> QImage:
    """An image of pixels ``(h, w, 3)`` uint8, with memory of its own."""
    h, w = pixels.shape[:2]
    data = np.ascontiguousarray(pixels)
    return QImage(data.data, w, h, 3 * w, QImage.Format.Format_RGB888).convertToFormat(QImage.Format.Format_RGB32)


def seen_as(pixmap: QPixmap, look: str, tall: float) -> QPixmap:
    """What is on the screen looked at another way; ``tall`` is the picture's height there, device pixels."""
    from ...core.imaging.looks import looked_at

    image = pixmap.toImage()
    alpha = image.convertToFormat(QImage.Format.Format_Alpha8)
    out = from_rgb(looked_at(to_rgb(image), look, tall)).convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)
    out.setAlphaChannel(alpha)
    new = QPixmap.fromImage(out)
    new.setDevicePixelRatio(pixmap.devicePixelRatio())
    return new


def moved_image(image: QImage, target: Array, source: Array, step: int, halved: float = 1.0) -> QImage:
    """An image with what lies at ``source`` brought to ``target``, pixels ``(n, 2)`` each; safe off the
    interface thread. ``halved`` where the image is a smaller copy of the one they lie on.

    Raises
    ------
    LandmarkError
    """
    from ...core.imaging.warp import warped

    plain = image.convertToFormat(QImage.Format.Format_RGB32)
    flat = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine() // 4, 4)
    out = np.ascontiguousarray(warped(flat[:, : plain.width()], target, source, step, halved))
    return QImage(out.data, plain.width(), plain.height(), 4 * plain.width(), QImage.Format.Format_RGB32).copy()


_LEVELS: OrderedDict[int, list[QImage]] = OrderedDict()
LEVELS_BUDGET = 128 * 1024 * 1024


def keep_levels(image: QImage) -> None:
    """Halve a picture down to a small one, so that the first paint of a large one has nothing left to do."""
    levels, best = [], image
    while min(best.width(), best.height()) > 600:
        best = _half(best)
        levels.append(best)
    _put(image.cacheKey(), levels)


def _half(image: QImage) -> QImage:
    size = (max(1, image.width() // 2), max(1, image.height() // 2))
    if image.format() not in AVERAGED or image.width() % 2 or image.height() % 2:  # an odd ratio is slow with OpenCV
        return image.scaled(*size, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)
    out = QImage(*size, image.format())
    out.setColorSpace(image.colorSpace())
    whole = np.frombuffer(image.constBits(), np.uint8).reshape(image.height(), image.width(), 4)
    part = np.frombuffer(out.bits(), np.uint8).reshape(out.height(), out.width(), 4)
    cv2.resize(whole, size, dst=part, interpolation=cv2.INTER_AREA)
    return out


AVERAGED = (QImage.Format.Format_RGB32, QImage.Format.Format_ARGB32_Premultiplied)
"""Four bytes a pixel that may be averaged each by itself."""


def _put(key: int, levels: list[QImage]) -> list[QImage]:
    _LEVELS[key] = levels
    _LEVELS.move_to_end(key)
    while len(_LEVELS) > 1 and sum(i.sizeInBytes() for kept in _LEVELS.values() for i in kept) > LEVELS_BUDGET:
        _LEVELS.popitem(last=False)
    return levels


def reduced(image: QImage, scale: float) -> tuple[QImage, float]:
    """The picture halved as often as ``scale`` allows, and by how much: drawing a small copy is fast and does not alias.

    Halves are kept per picture, so that zooming and panning a large one stays inside a frame.
    """
    levels = _put(image.cacheKey(), _LEVELS.get(image.cacheKey(), []))
    best, factor, k = image, 1.0, 0
    while scale < 0.5 and min(best.width(), best.height()) >= 8:
        if k == len(levels):
            levels.append(_half(best))
        best, factor, scale, k = levels[k], factor * 2, scale * 2, k + 1
    return best, factor


def draw_part(p: QPainter, image: QImage, part: QRectF, into: QRectF, scale: float) -> QRectF:
    """A part of a picture in a frame, by the copy that fits ``scale`` (device pixels a picture pixel); where it was drawn.

    ``part`` may reach beyond the picture: what is not there is left as it is.
    """
    source = part.intersected(QRectF(image.rect()))
    if source.isEmpty():
        return QRectF()
    small, _ = reduced(image, scale)
    kx, ky = into.width() / part.width(), into.height() / part.height()
    target = QRectF(
        into.x() + (source.x() - part.x()) * kx,
        into.y() + (source.y() - part.y()) * ky,
        source.width() * kx,
        source.height() * ky,
    )
    fx, fy = small.width() / image.width(), small.height() / image.height()
    p.drawImage(target, small, QRectF(source.x() * fx, source.y() * fy, source.width() * fx, source.height() * fy))
    return target
