"""Head and body as they are, and the cures beside them: little figures with the actual head on top. A click takes one."""

from __future__ import annotations

from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.picture import Picture
from ...looks import screen_looks
from ...render import paint
from ...stage.draw import sheet_edge
from ...theme.paint import CENTRE, arrow, hline, outline, painting, text
from ...theme.tokens import theme

FOOT = 84


@dataclass(frozen=True)
class Stand:
    """One figure on the floor: the cure it is (empty: as it is), what it is called and what is said of it."""

    key: str
    title: str
    note: str
    numbers: str
    picture: Picture | None
    height: float
    """Of the figure, heads of the shared scale."""


class CureBoard(QWidget):
    chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Head and body, and the cures")
        self.stands: list[Stand] = []
        self.focus, self.hot = 0, -1

    def show_stands(self, stands: list[Stand]) -> None:
        self.stands = stands
        self.focus = min(self.focus, max(len(stands) - 1, 0))
        self.setAccessibleDescription("; ".join(f"{s.title}: {s.note}" for s in stands))
        self.update()

    def sheet(self) -> QRectF:
        return QRectF(12, 0, max(50, self.width() - 24), max(50, self.height() - 12))

    def place(self, k: int) -> QRectF:
        """The stretch of floor one figure stands on."""
        r = self.sheet().adjusted(10, 10, -10, -10)
        w = r.width() / max(len(self.stands), 1)
        return QRectF(r.left() + k * w, r.top(), w, r.height())

    def _hit(self, q: QPointF) -> int:
        return next((k for k in range(len(self.stands)) if self.place(k).contains(q)), -1)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        if k != self.hot:
            self.hot = k
            self.update()
        takes = k >= 0 and bool(self.stands[k].key)
        self.setCursor(Qt.CursorShape.PointingHandCursor if takes else Qt.CursorShape.ArrowCursor)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        k = self._hit(e.position())
        if k >= 0 and e.button() == Qt.MouseButton.LeftButton:
            self.focus = k
            self._take(k)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = (arrow(e) or (0, 0))[0]
        if step and self.stands:
            self.focus = max(0, min(len(self.stands) - 1, self.focus + step))
            self.update()
        elif e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.stands:
            self._take(self.focus)
        else:
            super().keyPressEvent(e)

    def _take(self, k: int) -> None:
        if self.stands[k].key:
            self.chosen.emit(self.stands[k].key)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, r = theme.t, self.sheet()
            p.fillRect(self.rect(), t.c("board"))
            p.fillRect(r, t.c("sheet"))
            floor = r.bottom() - FOOT - 12
            hline(p, r.left() + 14, r.right() - 14, floor, t.c("rule_strong"))
            size = self._head_px(floor)
            for k, s in enumerate(self.stands):
                self._paint_stand(p, k, s, floor, size)
            sheet_edge(p, r)

    def _head_px(self, floor: float) -> float:
        """Pixels a head is drawn at: the same for all, for it is the same head."""
        boxes = [(s.picture.box, s.height) for s in self.stands if s.picture is not None]
        place = self.place(0)
        return min((min((floor - place.top() - 8) / (h - y), place.width() * 1.02 / w) for (_, y, w, _), h in boxes), default=1.0)

    def _paint_stand(self, p: QPainter, k: int, s: Stand, floor: float, size: float) -> None:
        t, place = theme.t, self.place(k)
        if s.picture is None:
            text(p, (place.left(), floor - 120, place.width(), 20), "Drawing…", "small", t.c("soft"), CENTRE)
        else:
            x, _, w, _ = s.picture.box
            p.save()
            p.translate(place.center().x() - (x + w / 2) * size, floor - s.height * size)
            paint(p, s.picture, size, screen_looks(t), 0.6)
            p.restore()
        box = QRectF(place.left() + 6, floor + 6, place.width() - 12, FOOT)
        lit = k == self.hot and bool(s.key)
        text(p, (box.left(), box.top(), box.width(), 22), s.title, "strong", t.c("plan" if lit else "ink"), CENTRE)
        text(p, (box.left(), box.top() + 22, box.width(), 18), s.note, "small_m", t.c("ink"), CENTRE)
        text(p, (box.left(), box.top() + 40, box.width(), 18), s.numbers, "small", t.c("soft"), CENTRE)
        if s.key:
            text(
                p,
                (box.left(), box.top() + 60, box.width(), 18),
                "Click to take it" if lit else "",
                "small_m",
                t.c("plan"),
                CENTRE,
            )
        if lit or (self.hasFocus() and k == self.focus):
            outline(p, t.c("plan"), 2 if lit else 1, None if lit else (2, 2))
            p.drawRect(place.adjusted(3, 3, -3, -3))
