"""Freed memory handed back to the system: pictures and plans come and go, and what they leave behind is scattered and kept."""

from __future__ import annotations

import ctypes

from PySide6.QtCore import QObject, QTimer

EVERY_MS = 30_000


def give_back() -> None:
    """Return what is free to the system, where the C library can (glibc): some milliseconds at most."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)
    if trim is not None:
        trim(0)


class GivesBack(QTimer):
    """Does so now and then, when the event loop has nothing better to do."""

    def __init__(self, parent: QObject):
        super().__init__(parent)
        self.timeout.connect(give_back)
        self.start(EVERY_MS)
