"""Decoded pictures, off the interface thread: ask by hash, paint when they come."""

from __future__ import annotations

from collections import OrderedDict
from functools import partial
from typing import Protocol

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QImage

from ..work import Work

BUDGET = 320 * 1024 * 1024
THREADS = 2


class HasPictures(Protocol):
    """Whoever holds the pictures' bytes by their hash."""

    pictures: dict[str, bytes]


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
