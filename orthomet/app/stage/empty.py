"""What an empty stage says: what to do first."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPainter
from PySide6.QtWidgets import QPushButton, QWidget

from ..parts import across
from ..theme.paint import outline, text
from ..theme.tokens import theme


def empty_box(frame: QRectF) -> QRectF:
    """Where an empty stage speaks."""
    box = QRectF(0, 0, min(480, frame.width() - 40), 190)
    box.moveCenter(frame.center())
    return box


class FirstSteps(QWidget):
    """Buttons in an empty stage's box: what to do first, by one click."""

    def __init__(self, stage: QWidget, *buttons: QPushButton):
        super().__init__(stage)
        row = across(owner=self, spacing=12)
        for b in buttons:
            row.addWidget(b)

    def settle(self, frame: QRectF, empty: bool) -> None:
        """Show in the box of an empty stage, or not at all."""
        self.setVisible(empty)
        box = empty_box(frame)
        self.adjustSize()
        self.move(round(box.center().x() - self.width() / 2), round(box.bottom() - 62))


def empty_words(p: QPainter, frame: QRectF, title: str, lines: list[str]) -> None:
    """An empty stage says what to do first."""
    t, box = theme.t, empty_box(frame)
    outline(p, t.c("rule_strong"), 1.4, (6, 5))
    p.drawRoundedRect(box, 6, 6)
    text(p, QRectF(box.left(), box.top() + 22, box.width(), 36), title, "title", t.c("ink"), Qt.AlignmentFlag.AlignHCenter)
    for k, line in enumerate(lines):
        at = QRectF(box.left() + 10, box.top() + 66 + 24 * k, box.width() - 20, 22)
        text(p, at, line, "body", t.c("soft"), Qt.AlignmentFlag.AlignHCenter)
