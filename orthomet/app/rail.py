"""The stations as graduations of a rule, in working order. A lozenge says that one of them has something to say."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent
from PySide6.QtWidgets import QWidget

from .gauges.marks import mark_look
from .theme.paint import CENTRE, focus_ring, hline, painting, text, vline
from .theme.tokens import RAIL, theme

PITCH, TOP = 62, 22


class Rail(QWidget):
    chosen = Signal(int)

    def __init__(self, rows: Sequence[tuple[str, str]], parent: QWidget | None = None):
        """``rows``: name and keys of every station."""
        super().__init__(parent)
        self.names, self.keys, self.current = [n for n, _ in rows], [k for _, k in rows], 0
        self.badges: dict[str, tuple[str, str]] = {}
        """By station: what its lozenge says, and the words behind it."""
        self.setFixedWidth(RAIL)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self._name()

    def _name(self) -> None:
        self.setAccessibleName(f"Stations, at {self.names[self.current]}")

    def set_current(self, k: int) -> None:
        self.current = k
        self._name()
        self.update()

    def set_badges(self, badges: dict[str, tuple[str, str]]) -> None:
        if badges != self.badges:
            self.badges = badges
            self.update()

    def _at(self, q: QPointF) -> int:
        k = int((q.y() - TOP + PITCH / 2) // PITCH)
        return k if 0 <= k < len(self.names) else -1

    def mousePressEvent(self, e: QMouseEvent) -> None:
        k = self._at(e.position())
        if k >= 0:
            self.chosen.emit(k)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        k = self._at(e.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if k >= 0 else Qt.CursorShape.ArrowCursor)
        self.setToolTip(
            f"{self.names[k]} ({self.keys[k]}). {self.badges.get(self.names[k], ('', ''))[1]}".strip() if k >= 0 else ""
        )

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(e.key()))
        if step:
            self.chosen.emit((self.current + step) % len(self.names))
        else:
            super().keyPressEvent(e)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w, h = theme.t, self.width(), self.height()
            p.fillRect(self.rect(), t.c("ledge"))
            vline(p, w - 1, 0, h, t.c("rule_strong"))
            for k in range(int(h / (PITCH / 10)) + 1):
                y = TOP + k * PITCH / 10
                n = 9 if k % 10 == 0 else 6 if k % 5 == 0 else 4
                if 4 < y < h - 4:
                    hline(p, w - 1 - n, w - 1, y, t.c("rule_strong"))
            for k, name in enumerate(self.names):
                y, on = TOP + k * PITCH, k == self.current
                if on:
                    p.fillRect(QRectF(0, y - 22, w, 44), t.c("board"))
                    if k:
                        hline(p, 0, w, y - 22, t.c("rule_strong"))
                    hline(p, 0, w, y + 21, t.c("rule_strong"))
                    p.fillRect(QRectF(0, y - 22, 4, 44), t.c("ink"))
                text(p, (9, y - 12, 22, 24), str(k + 1), "numeral", t.c("ink" if on else "soft"), CENTRE)
                text(p, (34, y - 12, 66, 24), name, "bold" if on else "body", t.c("ink"))
                number, _ = self.badges.get(name, ("", ""))
                if number:
                    mark_look(p, w - 11, y, t, number, 10)
            focus_ring(p, self, (1, 1, 2, 1))
