"""The figure on its sheet: drag to turn the body, with Shift the head on it; the ladder of heads beside it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.landmarks.turn import Turn
from ....core.picture import Picture
from ...looks import screen_looks
from ...render import paint
from ...stage.draw import sheet_edge
from ...stage.pannable import Pannable
from ...theme.paint import CENTRE, RIGHT, painting, text
from ...theme.tokens import theme

PER_PIXEL = 0.5
HEAD_MOST = 75.0
"""How far a head is turned against its body, degrees."""


def wrapped(yaw: float) -> Turn:
    """A turn about the plumb."""
    return Turn(yaw=round((yaw + 180) % 360 - 180, 2))


def head_held(yaw: float, pitch: float) -> Turn:
    """A head's turn against its body, as far as necks go."""
    return Turn(yaw=round(max(-HEAD_MOST, min(HEAD_MOST, yaw)), 2), pitch=round(max(-35.0, min(35.0, pitch)), 2))


class FigureStage(Pannable):
    turned = Signal(object)
    head_began = Signal()
    head_turned = Signal(object)
    head_dropped = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Figure, drag to turn")
        self.picture: Picture | None = None
        self.nobody = False
        """Whether there is no character whose figure it could be."""
        self.words = ""
        self.turn, self.head_turn = Turn(), Turn()
        self.turns = True
        """Whether a drag turns: not where several views stand side by side."""
        self._from: tuple[QPointF, Turn, Turn] | None = None
        self._head = False

    def show_figure(self, picture: Picture | None, turn: Turn, head_turn: Turn, turns: bool, words: str) -> None:
        self.picture, self.turn, self.head_turn, self.turns, self.words = picture, turn, head_turn, turns, words
        self.setAccessibleDescription(words)
        self.update()

    # ---- geometry

    def sheet(self) -> QRectF:
        return QRectF(12, 0, max(50, self.width() - 24), max(50, self.height() - 12))

    def head_px(self) -> float:
        """Pixels a head is drawn at."""
        r = self.sheet()
        if self.picture is None:
            return 1.0
        _, _, w, h = self.picture.box
        return float(min((r.height() - 12) / h, (r.width() - 24) / w) * self.zoomed)

    def origin(self) -> QPointF:
        """Where the crown stands."""
        r, k = self.sheet(), self.head_px()
        x, y, w, h = self.picture.box if self.picture is not None else (0.0, 0.0, 0.0, 0.0)
        return QPointF(r.center().x() - (x + w / 2) * k, r.center().y() - (y + h / 2) * k) + self.shift

    def middle(self, at: QPointF) -> QPointF:
        return self.sheet().center()

    # ---- hand

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        if self.begins_pan(e) or e.button() != Qt.MouseButton.LeftButton or not self.turns:
            return
        self._from = (e.position(), self.turn, self.head_turn)
        self._head = bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self._head:
            self.head_began.emit()
        self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self.pans(e) or self._from is None:
            return
        start, body, head = self._from
        d = (e.position() - start) * PER_PIXEL
        if self._head:
            self.head_turned.emit(head_held(head.yaw + d.x(), head.pitch + d.y()))
        else:
            self.turned.emit(wrapped(body.yaw + d.x()))

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        self.ends_pan()
        if self._from is not None:
            self._from = None
            if self._head:
                self.head_dropped.emit()
            else:
                self.turned.emit(self.turn)
        self.setCursor(Qt.CursorShape.OpenHandCursor if self.turns else Qt.CursorShape.ArrowCursor)

    @property
    def held(self) -> bool:
        """Whether the hand is turning it."""
        return self._from is not None

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        if self.turns:
            self.turned.emit(Turn())

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = 15.0 if e.modifiers() & Qt.KeyboardModifier.ShiftModifier else 5.0
        way = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(e.key()))
        if way is not None and self.turns:
            self.turned.emit(wrapped(self.turn.yaw + way * step))
        elif e.key() == Qt.Key.Key_Escape and self._from is not None and not self._head:
            self.turned.emit(self._from[1])
            self._from = None
        else:
            super().keyPressEvent(e)

    # ---- paint

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, r = theme.t, self.sheet()
            p.fillRect(self.rect(), t.c("board"))
            p.save()
            p.setClipRect(r)
            p.fillRect(r, t.c("sheet"))
            if self.picture is None:
                words = "Add a character, or drop a picture: its figure stands here." if self.nobody else "Drawing the figure…"
                text(p, r, words, "instruct", t.c("soft"), CENTRE)
            else:
                p.translate(self.origin())
                k = self.head_px()
                paint(p, self.picture, k, screen_looks(t), max(0.55, min(1.0, k / 90)))
                p.translate(-self.origin())
            p.restore()
            sheet_edge(p, r)
            text(p, (r.right() - 260, r.top() + 8, 248, 18), self.words, "small_m", t.c("soft"), RIGHT)
