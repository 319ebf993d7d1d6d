"""Decoded pictures, off the interface thread: ask by hash, paint when they come."""

from __future__ import annotations

from collections import OrderedDict
from functools import partial
from typing import TYPE_CHECKING, Protocol

import numpy as np
from PySide6.QtCore import QObject, Qt, Signal
from PySide6.QtGui import QImage, QPainter

from ...core.kinds import Array
from ..work import Work

if TYPE_CHECKING:
    from ...core.imaging.load import Loaded

BUDGET = 320 * 1024 * 1024
THREADS = 2


class HasPictures(Protocol):
    """Whoever holds the pictures' bytes by their hash."""

    pictures: dict[str, bytes]


def to_qimage(loaded: Loaded) -> QImage:
    """Decoded pixels as an image of their own (no shared memory)."""
    h, w = loaded.pixels.shape[:2]
    image = QImage(loaded.pixels.data, w, h, 4 * w, QImage.Format.Format_RGBA8888)
    return image.convertToFormat(QImage.Format.Format_ARGB32_Premultiplied)


def to_rgb(image: QImage) -> Array:
    """Pixels ``(h, w, 3)`` uint8 of an image, on white where it is transparent; safe off the interface thread."""
    plain = QImage(image.size(), QImage.Format.Format_RGB888)
    if image.hasAlphaChannel():
        plain.fill(Qt.GlobalColor.white)
        p = QPainter(plain)
        p.drawImage(0, 0, image)
        p.end()
    else:
        plain = image.convertToFormat(QImage.Format.Format_RGB888)
    flat = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
    return flat[:, : 3 * plain.width()].reshape(plain.height(), plain.width(), 3).copy()


def moved_image(image: QImage, target: Array, source: Array, step: int) -> QImage:
    """An image with what lies at ``source`` brought to ``target``, pixels ``(n, 2)`` each; safe off the interface thread.

    Raises
    ------
    LandmarkError
    """
    from ...core.imaging.warp import warped

    plain = image.convertToFormat(QImage.Format.Format_RGB32)
    flat = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine() // 4, 4)
    out = np.ascontiguousarray(warped(flat[:, : plain.width()], target, source, step))
    return QImage(out.data, plain.width(), plain.height(), 4 * plain.width(), QImage.Format.Format_RGB32).copy()


class ImageStore(QObject):
    """Holds decoded pictures up to a budget, oldest use out first."""

    ready = Signal(str)
    trouble = Signal(str)

    def __init__(self, document: HasPictures, parent: QObject | None = None):
        super().__init__(parent)
        self.document = document
        self._images: OrderedDict[str, QImage] = OrderedDict()
        self._asked: set[str] = set()
        self._work = Work(self, THREADS)

    def get(self, key: str) -> QImage | None:
        """The picture, or None while it is being decoded (``ready`` follows)."""
        image = self._images.get(key)
        if image is not None:
            self._images.move_to_end(key)
            return image
        if key not in self._asked and key in self.document.pictures:
            self._asked.add(key)
            data = self.document.pictures[key]
            take = partial(self._take, key)
            self._work.start("", lambda say: _decoded(data), take, failed=partial(self._failed, key), what="Showing a picture")
        return None

    def put(self, key: str, image: QImage) -> None:
        self._images[key] = image
        while sum(i.sizeInBytes() for i in self._images.values()) > BUDGET and len(self._images) > 1:
            self._images.popitem(last=False)

    def wait(self) -> None:
        self._work.cancel()
        self._work.wait()

    def _take(self, key: str, image: QImage) -> None:
        self._asked.discard(key)
        self.put(key, image)
        self.ready.emit(key)

    def _failed(self, key: str, sentence: str) -> None:
        self.trouble.emit(sentence)
        self._take(key, QImage(1, 1, QImage.Format.Format_ARGB32_Premultiplied))


def _decoded(data: bytes) -> QImage:
    from .decode import decode

    return decode(data)[0]


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
    return image.scaled(*size, Qt.AspectRatioMode.IgnoreAspectRatio, Qt.TransformationMode.SmoothTransformation)


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
