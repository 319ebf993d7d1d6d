"""Bringing pictures in: files dropped, pasted or chosen, read and decoded off the interface thread."""

from __future__ import annotations

import logging
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMimeData, QObject, QRunnable, QThreadPool, Signal
from PySide6.QtGui import QImage

from ..core.errors import OrthometError
from ..core.hashing import content_hash
from ..core.project.model import Image

log = logging.getLogger(__name__)
PICTURE_SUFFIXES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".bmp", ".gif")


class _Job(QRunnable):
    def __init__(self, owner: PictureReader, ticket: int, source: str | bytes, name: str):
        super().__init__()
        self.owner, self.ticket, self.source, self.name = owner, ticket, source, name

    def run(self) -> None:
        from ..core.imaging.load import SUFFIXES, read_bytes
        from .stage.decode import decode

        try:
            data = read_bytes(self.source) if isinstance(self.source, str) else self.source
            image, fmt = decode(data, self.name)
            record = Image(hash=content_hash(data), suffix=SUFFIXES[fmt], size=(image.width(), image.height()))  # type: ignore[arg-type]
            self.owner.came.emit(self.ticket, record, data, image, self.name, "")
        except OrthometError as e:
            self.owner.came.emit(self.ticket, None, b"", QImage(), self.name, str(e))
        except Exception:
            log.exception("a picture could not be opened")
            words = f"{self.name} could not be opened; the log holds the details."
            self.owner.came.emit(self.ticket, None, b"", QImage(), self.name, words)


class PictureReader(QObject):
    """Reads pictures one ticket each; a cancelled ticket's result is dropped."""

    came = Signal(int, object, bytes, QImage, str, str)
    done = Signal(object, bytes, QImage, str)
    failed = Signal(str)
    busy = Signal(str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._next, self._open = 0, set[int]()
        self.came.connect(self._take)

    def read(self, source: str | bytes, name: str) -> None:
        self._next += 1
        self._open.add(self._next)
        self.busy.emit(f"Opening {name}…")
        QThreadPool.globalInstance().start(_Job(self, self._next, source, name))

    def cancel(self) -> None:
        self._open.clear()
        self.busy.emit("")

    def _take(self, ticket: int, record: Image | None, data: bytes, image: QImage, name: str, sentence: str) -> None:
        if ticket not in self._open:
            return
        self._open.discard(ticket)
        if not self._open:
            self.busy.emit("")
        if record is None:
            self.failed.emit(sentence)
        else:
            self.done.emit(record, data, image, Path(name).stem)


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
