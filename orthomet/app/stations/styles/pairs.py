"""References beside the drawings made of them: what the artist's own hand is learned from."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from ....core.hands import Pair
from ...gauges.marks import mark_drawing, mark_reference
from ...stage.crops import paint_face
from ...stage.empty import empty_words
from ...stage.images import ImageStore
from ...theme.paint import RIGHT, outline, painting, pen, text
from ...theme.tokens import theme

CARD_W, CARD_H, FACE_W, FACE_H, GAP, EDGE = 236, 206, 106, 128, 12, 12


class PairBoard(QWidget):
    toggled = Signal(str, bool)
    """Pair, and whether it counts from now on."""
    opened = Signal(str, str)
    """Character and drawing."""

    def __init__(self, images: ImageStore, parent: QWidget | None = None):
        super().__init__(parent)
        self.images = images
        self.pairs: tuple[Pair, ...] = ()
        self.focus, self.shift = 0, 0.0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)

    def set_content(self, pairs: tuple[Pair, ...]) -> None:
        self.pairs = pairs
        self.focus = min(self.focus, max(0, len(pairs) - 1))
        self.setAccessibleName(f"{len(pairs)} pairs of reference and drawing, {sum(x.counts for x in pairs)} count")
        self.update()

    def columns(self) -> int:
        return max(1, int((self.width() - 2 * EDGE + GAP) // (CARD_W + GAP)))

    def card(self, k: int) -> QRectF:
        row, col = divmod(k, self.columns())
        return QRectF(EDGE + col * (CARD_W + GAP), row * (CARD_H + GAP) - self.shift, CARD_W, CARD_H)

    def tick(self, k: int) -> QRectF:
        c = self.card(k)
        return QRectF(c.left() + 10, c.bottom() - 27, 15, 15)

    def _hit(self, q: QPointF) -> int:
        return next((k for k in range(len(self.pairs)) if self.card(k).contains(q)), -1)

    def _turn(self, k: int) -> None:
        pair = self.pairs[k]
        if not pair.trouble:
            self.toggled.emit(pair.key, pair.left_out)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        if k < 0 or e.button() != Qt.MouseButton.LeftButton:
            return
        self.focus = k
        if e.position().y() > self.card(k).bottom() - 36:
            self._turn(k)
        self.update()

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        if k >= 0 and e.position().y() <= self.card(k).bottom() - 36:
            self.opened.emit(self.pairs[k].character.id, self.pairs[k].drawing.id)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if k >= 0 else Qt.CursorShape.ArrowCursor)
        self.setToolTip("Click the tick to leave a pair out; double-click opens it at Check." if k >= 0 else "")

    def wheelEvent(self, e: QWheelEvent) -> None:
        rows = -(-len(self.pairs) // self.columns())
        most = max(0.0, rows * (CARD_H + GAP) - self.height())
        self.shift = max(0.0, min(most, self.shift - e.angleDelta().y() / 2))
        self.update()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = {
            Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -self.columns(), Qt.Key.Key_Down: self.columns(),
        }.get(Qt.Key(e.key()))  # fmt: skip
        if step and self.pairs:
            self.focus = max(0, min(len(self.pairs) - 1, self.focus + step))
            self.update()
        elif e.key() == Qt.Key.Key_Space and self.pairs:
            self._turn(self.focus)
        elif e.key() == Qt.Key.Key_Return and self.pairs:
            self.opened.emit(self.pairs[self.focus].character.id, self.pairs[self.focus].drawing.id)
        else:
            super().keyPressEvent(e)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            p.fillRect(self.rect(), theme.t.c("board"))
            if not self.pairs:
                empty_words(p, QRectF(self.rect()), "No pairs yet", [
                    "A pair is a measured reference and a measured drawing of it.",
                    "Give a character a reference, then add your drawing at Check.",
                ])  # fmt: skip
            for k, pair in enumerate(self.pairs):
                self._paint_card(p, k, pair)

    def _paint_card(self, p: QPainter, k: int, pair: Pair) -> None:
        t, c = theme.t, self.card(k)
        if c.bottom() < 0 or c.top() > self.height():
            return
        p.fillRect(c, t.c("paper"))
        here = self.hasFocus() and k == self.focus
        outline(p, t.c("plan" if here else "rule_strong"), 2 if here else 1)
        p.drawRect(c.adjusted(0.5, 0.5, -0.5, -0.5))
        left = QRectF(c.left() + 8, c.top() + 28, FACE_W, FACE_H)
        right = QRectF(c.right() - 8 - FACE_W, c.top() + 28, FACE_W, FACE_H)
        text(p, (c.left() + 9, c.top() + 3, c.width() - 18, 22), pair.character.name, "strong", t.c("ink"))
        for r, source in ((left, pair.reference), (right, pair.drawing)):
            paint_face(p, r, self.images.get(source.image.hash), source.marks, source.image.size, self.devicePixelRatioF())
        mark_reference(p, left.left() + 10, left.top() + 15, t)
        mark_drawing(p, right.left() + 11, right.top() + 11, t)
        if pair.left_out or pair.trouble:
            p.fillRect(QRectF(left.left(), left.top(), right.right() - left.left(), FACE_H), t.c("paper", 0.55))
        box = self.tick(k)
        if pair.trouble:
            words = pair.trouble[:1].upper() + pair.trouble[1:]
            text(p, (c.left() + 9, box.top() - 2, c.width() - 18, 20), words, "small_m", t.c("look"))
            return
        p.setPen(pen(t.c("rule_strong"), 1))
        p.setBrush(t.c("plan") if pair.counts else t.c("field"))
        p.drawRoundedRect(box, 2, 2)
        if pair.counts:
            p.setPen(pen(t.c("paper"), 2))
            p.drawPolyline([box.topLeft() + QPointF(3, 8), box.topLeft() + QPointF(6.5, 11.5), box.topLeft() + QPointF(12, 4)])
        words, tone = ("counts", "ink") if pair.counts else ("left out", "soft")
        text(p, (box.right() + 8, box.top() - 2, 80, 20), words, "small", t.c(tone))
        text(p, (c.left() + 90, box.top() - 2, c.width() - 99, 20), pair.drawing.name, "small", t.c("soft"), RIGHT)
