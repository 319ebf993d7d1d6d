"""The log of a drawing's checks as a line through time."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QWidget

from ....core.project.checked import Noted
from ...theme.paint import arrow, focus_ring, hline, painting, pen, text
from ...theme.tokens import PAD, PANEL, theme

TALL = 62
MOST = 120
"""Checks that are shown; the log itself keeps more."""


class LogView(QWidget):
    """A dot a check, as high as it had findings; days apart by a line. Point at one to read it, click it to keep it said."""

    told = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._whole: tuple[Noted, ...] = ()
        self.log: tuple[Noted, ...] = ()
        """What of it is shown."""
        self._most = 0
        self.at = -1
        self.setFixedHeight(TALL)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Log of this drawing's checks")
        self.hide()

    def sizeHint(self) -> QSize:
        return QSize(PANEL, TALL)

    def show_log(self, log: tuple[Noted, ...]) -> None:
        if log is not self._whole:
            self._whole, self.log, self.at = log, log[-MOST:], -1
            self._most = max((len(e.findings) for e in self.log), default=0)
            self.setVisible(len(log) > 1)
            self.update()

    def place(self, k: int) -> QPointF:
        n, most = len(self.log), self._most
        x = PAD + 8 + (self.width() - 2 * PAD - 16) * (k / max(n - 1, 1))
        return QPointF(x, TALL - 10 - (TALL - 34) * len(self.log[k].findings) / max(most, 1))

    def words(self, k: int) -> str:
        e = self.log[k]
        n = len(e.findings)
        why = {"saved": "at a save", "kept": "kept", "closed": "as the project was saved"}[e.why]
        found = "; ".join(f.say for f in e.findings[:3]) + (" …" if n > 3 else "") if n else f"nothing to move, {e.passed} pass"
        return f"{e.when[:10]} {e.when[11:16]}, {why}: {found}"

    def _point(self, k: int) -> None:
        if k != self.at:
            self.at = k
            self.setToolTip(self.words(k) if k >= 0 else "")
            self.setAccessibleDescription(self.words(k) if k >= 0 else "")
            self.update()

    def _near(self, x: float) -> int:
        return min(range(len(self.log)), key=lambda k: abs(self.place(k).x() - x)) if self.log else -1

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        self._point(self._near(e.position().x()))

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        self._point(self._near(e.position().x()))
        if self.at >= 0:
            self.told.emit(self.words(self.at))

    def leaveEvent(self, e: QEvent) -> None:
        self._point(-1)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = arrow(e)
        if step is None or not step[0] or not self.log:
            return super().keyPressEvent(e)
        self._point(max(0, min(len(self.log) - 1, (self.at if self.at >= 0 else len(self.log)) + step[0])))
        self.told.emit(self.words(self.at))
        return None

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w = theme.t, self.width()
            hline(p, PAD, w - PAD, 0, t.c("rule"))
            last = len(self.log) - 1
            text(p, (PAD, 2, 120, 20), "Its checks", "small_m", t.c("ink"))
            said = self.words(self.at).partition(":")[0] if self.at >= 0 else f"{len(self.log)} kept"
            text(p, (PAD + 120, 2, w - 2 * PAD - 120, 20), said, "small", t.c("soft"), Qt.AlignmentFlag.AlignRight)
            for k in range(1, last + 1):
                if self.log[k].when[:10] != self.log[k - 1].when[:10]:
                    x = (self.place(k).x() + self.place(k - 1).x()) / 2
                    p.setPen(pen(t.c("rule_strong"), 1, (2, 2)))
                    p.drawLine(QPointF(x, 24), QPointF(x, TALL - 4))
            p.setPen(pen(t.c("draw"), 1.4))
            p.drawPolyline(QPolygonF([self.place(k) for k in range(last + 1)]))
            for k in range(last + 1):
                good = not self.log[k].findings
                p.setPen(pen(t.c("plan" if good else "draw"), 1.4))
                p.setBrush(t.c("plan" if good else "paper" if k != self.at else "draw"))
                r = 4.5 if k == self.at else 3.2
                p.drawEllipse(self.place(k), r, r)
            focus_ring(p, self)
