"""One sample drawing of a style while its points are placed."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter

from ...stage.empty import empty_words
from ...stage.marks import MarksStage


class SampleStage(MarksStage):
    left = Signal()
    """Esc with nothing in the hand: back to the style."""

    def keyPressEvent(self, e: QKeyEvent) -> None:
        idle = not (self.active or self.placing or self.place_next or self.tools.busy or self._drag)
        if e.key() == Qt.Key.Key_Escape and idle:
            self.left.emit()
        else:
            super().keyPressEvent(e)

    def paint_under(self, p: QPainter, frame: QRectF) -> None:
        super().paint_under(p, frame)
        if self.size_px is not None and self.image is None:
            empty_words(p, frame, "Opening the drawing…", [])
