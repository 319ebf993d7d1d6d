"""One sample drawing of a style while its points are placed."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter

from ...stage.empty import empty_words
from ...stage.marks import MarksStage


class SampleStage(MarksStage):
    def paint_under(self, p: QPainter, frame: QRectF) -> None:
        super().paint_under(p, frame)
        if self.size_px is not None and self.image is None:
            empty_words(p, frame, "Opening the drawing…", [])
