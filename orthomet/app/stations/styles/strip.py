"""The sample drawings of a style, as a strip of faces under the board."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPaintEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from ....core.project.model import Drawing
from ...stage.crops import paint_face
from ...stage.images import ImageStore
from ...theme.paint import CENTRE, arrow, hline, outline, painting, pen, text
from ...theme.tokens import theme

TILE_W, TILE_H, GAP, LEFT = 74, 88, 10, 12


def state_words(d: Drawing) -> str:
    """How far a sample has come, in a word or two."""
    if not d.marks.points:
        return "no points"
    open_points = len(d.marks.estimated)
    return f"{open_points} to confirm" if open_points else "measured"


class SampleStrip(QWidget):
    opened = Signal(str)
    add_wanted = Signal()
    menu_wanted = Signal(str, QPointF)

    def __init__(self, images: ImageStore, parent: QWidget | None = None):
        super().__init__(parent)
        self.images = images
        self.samples: tuple[Drawing, ...] = ()
        self.current = ""
        self.shift = 0.0
        self.focus = 0
        self.setFixedHeight(TILE_H + 40)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)

    def set_content(self, samples: tuple[Drawing, ...], current: str) -> None:
        self.samples, self.current = samples, current
        self.focus = min(self.focus, len(samples))
        self.setAccessibleName("Sample drawings: " + (", ".join(d.name for d in samples) or "none yet"))
        self.update()

    def tile(self, k: int) -> QRectF:
        return QRectF(LEFT + k * (TILE_W + GAP) - self.shift, 10, TILE_W, TILE_H)

    def _hit(self, q: QPointF) -> int:
        return next((k for k in range(len(self.samples) + 1) if self.tile(k).adjusted(0, 0, 0, 24).contains(q)), -1)

    def _choose(self, k: int) -> None:
        if k == len(self.samples):
            self.add_wanted.emit()
        elif k >= 0:
            self.opened.emit(self.samples[k].id)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        if e.button() == Qt.MouseButton.LeftButton:
            self._choose(self._hit(e.position()))

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if k >= 0 else Qt.CursorShape.ArrowCursor)
        self.setToolTip(self.samples[k].name if 0 <= k < len(self.samples) else "Add drawings by this hand" if k >= 0 else "")

    def contextMenuEvent(self, e: QContextMenuEvent) -> None:
        k = self._hit(QPointF(e.pos()))
        if 0 <= k < len(self.samples):
            self.menu_wanted.emit(self.samples[k].id, QPointF(e.globalPos()))

    def wheelEvent(self, e: QWheelEvent) -> None:
        self._slide(-(e.angleDelta().y() or e.angleDelta().x()) / 120 * (TILE_W + GAP))

    def _slide(self, by: float) -> None:
        whole = LEFT * 2 + (len(self.samples) + 1) * (TILE_W + GAP)
        self.shift = max(0.0, min(self.shift + by, whole - self.width()))
        self.update()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = (arrow(e) or (0, 0))[0]
        if step:
            self.focus = max(0, min(len(self.samples), self.focus + step))
            r = self.tile(self.focus)
            self._slide(min(0.0, r.left() - LEFT) + max(0.0, r.right() + LEFT - self.width()))
        elif e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space):
            self._choose(self.focus)
        else:
            super().keyPressEvent(e)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("paper"))
            hline(p, 0, self.width(), 0, t.c("rule_strong"))
            for k, d in enumerate(self.samples):
                r = self.tile(k)
                if r.right() < 0 or r.left() > self.width():
                    continue
                paint_face(p, r, self.images.get(d.image.hash), d.marks, d.image.size, self.devicePixelRatioF())
                if d.id == self.current:
                    outline(p, t.c("ink"), 3)
                    p.drawRect(r.adjusted(-2, -2, 2, 2))
                words = state_words(d)
                p.setPen(t.c("ink"))
                text(
                    p,
                    (r.left() - 5, r.bottom() + 3, r.width() + 10, 18),
                    words,
                    "small",
                    t.c("soft" if words == "measured" else "look"),
                    CENTRE,
                )
                if self.hasFocus() and k == self.focus:
                    self._paint_focus(p, r)
            r = self.tile(len(self.samples))
            outline(p, t.c("rule_strong"), 1.2, (4, 4))
            p.drawRect(r)
            text(p, QRectF(r.left(), r.top(), r.width(), r.height() - 8), "+", "figure", t.c("ink"), CENTRE)
            text(p, (r.left() - 5, r.bottom() + 3, r.width() + 10, 18), "add drawings", "small", t.c("soft"), CENTRE)
            if self.hasFocus() and self.focus == len(self.samples):
                self._paint_focus(p, r)

    @staticmethod
    def _paint_focus(p: object, r: QRectF) -> None:
        p.setPen(pen(theme.t.c("plan"), 2))  # type: ignore[attr-defined]
        p.drawRect(r.adjusted(-4, -4, 4, 4))  # type: ignore[attr-defined]
