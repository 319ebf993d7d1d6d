"""Freed memory handed back to the system: pictures and plans come and go, and what they leave behind is scattered and kept."""

from __future__ import annotations

import ctypes

from PySide6.QtCore import QObject, Qt, QTimer
from PySide6.QtGui import QGuiApplication

EVERY_MS = 30_000


def give_back() -> None:
    """Return what is free to the system, where the C library can (glibc); not while something is dragged."""
    if QGuiApplication.mouseButtons() != Qt.MouseButton.NoButton:
        return
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)


class GivesBack(QTimer):
    """Does so now and then."""

    def __init__(self, parent: QObject):
        super().__init__(parent)
        self.timeout.connect(give_back)
        self.start(EVERY_MS)
