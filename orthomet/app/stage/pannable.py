"""A widget whose content the wheel zooms, the middle button or a held space drags about, and F fits again."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

LEAST_ZOOM, MOST_ZOOM = 0.4, 12.0


class Pannable(QWidget):
    """Subclasses draw their content by :attr:`zoomed` and :attr:`shift`, and ask these first in their mouse events."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.zoomed, self.shift = 1.0, QPointF(0, 0)
        self._pan: QPointF | None = None
        self._space = False

    def begins_pan(self, e: QMouseEvent) -> bool:
        """Whether a press takes hold of the content."""
        if e.button() == Qt.MouseButton.MiddleButton or (self._space and e.button() == Qt.MouseButton.LeftButton):
            self._pan = e.position()
        return self._pan is not None

    def pans(self, e: QMouseEvent) -> bool:
        """Whether a move drags the content along."""
        if self._pan is None:
            return False
        self.shift += e.position() - self._pan
        self._pan = e.position()
        self.update()
        return True

    def middle(self, at: QPointF) -> QPointF:
        """What stays in place while unmoved content grows; where there are two panes, that of the one under ``at``."""
        return QRectF(self.rect()).center()

    def wheelEvent(self, e: QWheelEvent) -> None:
        """What lies under the hand stays there."""
        before, far = self.zoomed, e.position() - self.middle(e.position()) - self.shift
        self.zoomed = max(LEAST_ZOOM, min(MOST_ZOOM, before * 1.2 ** (e.angleDelta().y() / 120)))
        self.shift -= far * (self.zoomed / before - 1)
        self.update()

    def ends_pan(self) -> None:
        self._pan = None

    def fit(self) -> None:
        self.zoomed, self.shift = 1.0, QPointF(0, 0)
        self.update()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_F:
            self.fit()
        elif e.key() == Qt.Key.Key_Space:
            self._space = True
        else:
            super().keyPressEvent(e)

    def keyReleaseEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_Space and not e.isAutoRepeat():
            self._space = False
        super().keyReleaseEvent(e)
