"""The head from seven sides under the stage; click one to turn it so."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent, QPixmap
from PySide6.QtWidgets import QWidget

from ....core.head.scene import BOX, Body, picture, scene_of
from ....core.landmarks.turn import Turn
from ...looks import screen_looks
from ...render import paint
from ...theme.paint import CENTRE, hline, painting, pen, text
from ...theme.tokens import theme

VIEWS = (
    ("profile", Turn(yaw=-90)), ("three-quarter", Turn(yaw=-40)), ("front", Turn()), ("three-quarter", Turn(yaw=40)),
    ("profile", Turn(yaw=90)), ("from below", Turn(pitch=-28)), ("from above", Turn(pitch=28)),
)  # fmt: skip
HEIGHT, GAP, LEFT = 96, 8, 12


class ViewStrip(QWidget):
    chosen = Signal(object)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFixedHeight(HEIGHT + 34)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("The head from seven sides")
        self.body: Body | None = None
        self.turn = Turn()
        self.focus = 2
        self._drawn: tuple[object, list[QPixmap]] | None = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(120)
        self._later.timeout.connect(self.update)

    def set_body(self, body: Body | None, turn: Turn, at_once: bool) -> None:
        """``at_once`` is False during a drag: the pictures follow when it rests."""
        changed, self.body, self.turn = body is not self.body, body, turn
        if at_once or not changed:
            self.update()
        else:
            self._later.start()

    def tile(self, k: int) -> QRectF:
        w = (self.width() - 2 * LEFT + GAP) / len(VIEWS) - GAP
        return QRectF(LEFT + k * (w + GAP), 8, w, HEIGHT)

    def _hit(self, q: QPointF) -> int:
        return next((k for k in range(len(VIEWS)) if self.tile(k).adjusted(0, 0, 0, 22).contains(q)), -1)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        if k >= 0:
            self.focus = k
            self.chosen.emit(VIEWS[k][1])

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        self.setCursor(Qt.CursorShape.PointingHandCursor if self._hit(e.position()) >= 0 else Qt.CursorShape.ArrowCursor)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(e.key()))
        if step:
            self.focus = max(0, min(len(VIEWS) - 1, self.focus + step))
            self.update()
        elif e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space):
            self.chosen.emit(VIEWS[self.focus][1])
        else:
            super().keyPressEvent(e)

    def _pictures(self) -> list[QPixmap]:
        """Drawn once a head and theme."""
        ratio, r = self.devicePixelRatioF(), self.tile(0)
        key = (id(self.body), theme.t.name, ratio, r.width())
        if self._drawn is None or self._drawn[0] != key:
            out = []
            for _, turn in VIEWS:
                pixmap = QPixmap(round(r.width() * ratio), round(r.height() * ratio))
                pixmap.setDevicePixelRatio(ratio)
                pixmap.fill(theme.t.c("sheet"))
                if self.body is not None:
                    with painting(pixmap) as p:
                        k = min(r.height() / BOX[3], r.width() / BOX[2])
                        p.translate(r.width() / 2, r.height() / 2 - (BOX[1] + BOX[3] / 2) * k)
                        p.scale(0.5, 0.5)  # pens thin with the picture
                        paint(
                            p, picture(scene_of(self.body, turn), guides=False, hidden=False), 2 * k, screen_looks(theme.t), 1.0
                        )
                out.append(pixmap)
            self._drawn = (key, out)
        return self._drawn[1]

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("paper"))
            hline(p, 0, self.width(), 0, t.c("rule_strong"))
            for k, (words, turn) in enumerate(VIEWS):
                r = self.tile(k)
                p.drawPixmap(r.topLeft(), self._pictures()[k])
                here = turn == self.turn
                p.setPen(pen(t.c("plan") if here else t.c("rule_strong"), 2.4 if here else 1))
                p.setBrush(Qt.BrushStyle.NoBrush)
                p.drawRect(r)
                if self.hasFocus() and k == self.focus:
                    p.setPen(pen(t.c("plan"), 1, (2, 2)))
                    p.drawRect(r.adjusted(-3, -3, 3, 3))
                text(
                    p,
                    (r.left() - 4, r.bottom() + 2, r.width() + 8, 18),
                    words,
                    "small_m" if here else "small",
                    t.c("ink" if here else "soft"),
                    CENTRE,
                )
