"""The turned head on its sheet: drag anywhere to turn it, the ball shows how it stands."""

from __future__ import annotations

import math
from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from PySide6.QtCore import QEvent, QLineF, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.hair.handles import HairHandle
from ....core.head.scene import BOX
from ....core.kinds import Array
from ....core.landmarks.turn import Turn, rotation
from ....core.picture import Picture
from ...looks import screen_looks
from ...render import paint, polygon
from ...stage.draw import sheet_edge
from ...stage.pannable import Pannable
from ...theme.paint import CENTRE, painting, pen, solid, text
from ...theme.tokens import theme

YAW, PITCH = 100.0, 60.0
"""How far a head is turned here, degrees."""
PER_PIXEL = 0.4
BALL = 46.0


def held(yaw: float, pitch: float, roll: float) -> Turn:
    """A turn within what is drawn."""
    return Turn(yaw=max(-YAW, min(YAW, yaw)), pitch=max(-PITCH, min(PITCH, pitch)), roll=(roll + 180) % 360 - 180)


HOLD = 9.0
"""Pixels around a handle that still take hold of it."""


class HeadStage(Pannable):
    turned = Signal(object)
    turning = Signal(object)
    """The same under the hand, until it lets go."""
    let_go = Signal()
    handle_began = Signal(str)
    handle_moved = Signal(str, float)
    handle_dropped = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Head, drag to turn")
        self.setMouseTracking(True)
        self.picture: Picture | None = None
        self.turn = Turn()
        self.handles: list[HairHandle] = []
        self.hot = ""
        self._held: HairHandle | None = None
        self._from: tuple[QPointF, Turn] | None = None

    def show_head(self, picture: Picture | None, turn: Turn, handles: Sequence[HairHandle] = ()) -> None:
        self.picture, self.turn, self.handles = picture, turn, list(handles)
        self.setAccessibleDescription(f"yaw {turn.yaw:.0f}, pitch {turn.pitch:.0f}, roll {turn.roll:.0f} degrees")
        self.update()

    # ---- geometry

    def sheet(self) -> QRectF:
        return QRectF(12, 0, max(50, self.width() - 24), max(50, self.height() - 12))

    def head_px(self) -> float:
        r = self.sheet()
        return float(min(r.height() / (BOX[3] * 0.93), r.width() / (BOX[2] * 0.93)) * self.zoomed)

    def origin(self) -> QPointF:
        """Where the head's centre lies."""
        r, k = self.sheet(), self.head_px()
        return QPointF(r.center().x(), r.center().y() - (BOX[1] + BOX[3] / 2) * k) + self.shift

    def middle(self, at: QPointF) -> QPointF:
        return self.sheet().center()

    def ball(self) -> QPointF:
        r = self.sheet()
        return QPointF(r.left() + BALL + 18, r.bottom() - BALL - 18)

    def place(self, h: HairHandle) -> QPointF:
        """Where a handle lies."""
        return self.origin() + QPointF(*h.at) * self.head_px()

    def handle_at(self, q: QPointF) -> HairHandle | None:
        near = [(d, h) for h in self.handles if (d := QLineF(q, self.place(h)).length()) <= HOLD]
        return min(near, key=lambda found: found[0])[1] if near else None

    # ---- hand

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        if self.begins_pan(e):
            return
        if e.button() == Qt.MouseButton.LeftButton:
            self._held = self.handle_at(e.position())
            if self._held is not None:
                self.handle_began.emit(self._held.words)
                return
            self._from = (e.position(), self.turn)
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self.pans(e):
            return
        if self._held is not None:
            q = (e.position() - self.origin()) / self.head_px()
            self.handle_moved.emit(self._held.key, self._held.value_at(q.x(), q.y()))
        elif self._from is not None:
            start, t = self._from
            d = (e.position() - start) * PER_PIXEL
            if e.modifiers() & Qt.KeyboardModifier.ShiftModifier:
                self.turning.emit(held(t.yaw, t.pitch, t.roll + d.x()))
            else:
                self.turning.emit(held(t.yaw + d.x(), t.pitch + d.y(), t.roll))
        else:
            over = self.handle_at(e.position())
            if (over.key if over else "") != self.hot:
                self.hot = over.key if over else ""
                self.update()
            free = Qt.CursorShape.OpenHandCursor if self.sheet().contains(e.position()) else Qt.CursorShape.ArrowCursor
            self.setCursor(Qt.CursorShape.SizeAllCursor if over else free)

    def leaveEvent(self, e: QEvent) -> None:
        self.hot = ""
        self.update()

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        self.ends_pan()
        if self._held is not None:
            self._held = None
            self.handle_dropped.emit()
        if self._from is not None:
            self._from = None
            self.let_go.emit()
        self.setCursor(Qt.CursorShape.OpenHandCursor)

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        if self.handle_at(e.position()) is None:
            self.turned.emit(Turn())

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = 15.0 if e.modifiers() & Qt.KeyboardModifier.ShiftModifier else 5.0
        t, key = self.turn, Qt.Key(e.key())
        move = {Qt.Key.Key_Left: (-1, 0, 0), Qt.Key.Key_Right: (1, 0, 0), Qt.Key.Key_Up: (0, -1, 0), Qt.Key.Key_Down: (0, 1, 0),
                Qt.Key.Key_PageUp: (0, 0, -1), Qt.Key.Key_PageDown: (0, 0, 1)}.get(key)  # fmt: skip
        if move is not None:
            self.turned.emit(held(t.yaw + move[0] * step, t.pitch + move[1] * step, t.roll + move[2] * step))
        elif key == Qt.Key.Key_Escape and self._from is not None:
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
            if self.picture is not None:
                p.translate(self.origin())
                paint(p, self.picture, self.head_px(), screen_looks(t), 1.0)
                p.translate(-self.origin())
                self._paint_handles(p)
            p.restore()
            sheet_edge(p, r)
            self._paint_ball(p)

    def _paint_handles(self, p: QPainter) -> None:
        """A lozenge at each place, with a tick along the way it moves; the one under the hand says what it is."""
        t = theme.t
        for h in self.handles:
            q, hot = self.place(h), h.key == (self._held.key if self._held else self.hot)
            far = math.hypot(*h.way)
            way = QPointF(h.way[0] / far, h.way[1] / far)
            p.setPen(pen(t.c("plan"), 1.4))
            p.drawLine(q - way * 13, q + way * 13)
            p.setBrush(t.c("plan") if hot else t.c("sheet"))
            size = 6.5 if hot else 5.0
            p.drawPolygon([q + QPointF(0, -size), q + QPointF(size, 0), q + QPointF(0, size), q + QPointF(-size, 0)])
            if hot:
                text(p, (q.x() + 12, q.y() - 22, 180, 18), h.words, "small_m", t.c("ink"))

    def _paint_ball(self, p: QPainter) -> None:
        """A globe that stands as the head does: its near half drawn, the face's own meridian and equator in pencil."""
        t, c = theme.t, self.ball()
        p.setPen(pen(t.c("rule_strong"), 1))
        p.setBrush(t.c("paper"))
        p.drawEllipse(c, BALL, BALL)
        m = rotation(self.turn)
        p.setBrush(Qt.BrushStyle.NoBrush)
        for k, curve in enumerate(_globe()):
            q = curve @ m.T
            strong = k in (0, 3)
            p.setPen(pen(t.c("plan") if strong else t.c("rule"), 1.8 if strong else 1))
            near = q[:, 2] > 0
            edges = np.flatnonzero(np.diff(near.astype(int))) + 1
            for part in np.split(np.arange(len(q)), edges):
                if near[part[0]] and len(part) > 1:
                    p.drawPolyline(polygon(q[part, :2] * BALL).translated(c))
        nose = m @ np.array([0.0, 0.0, 1.0])
        solid(p, t.c("plan") if nose[2] >= 0 else t.c("rule_strong"))
        p.drawEllipse(c + QPointF(nose[0], nose[1]) * BALL, 4, 4)
        words = f"{self.turn.yaw:+.0f}°  {self.turn.pitch:+.0f}°".replace("-", "−")
        text(p, (c.x() - 60, c.y() - BALL - 22, 120, 18), words, "small_m", t.c("ink"), CENTRE)


@lru_cache(maxsize=1)
def _globe() -> tuple[Array, ...]:
    """Meridians and parallels of a unit ball; the first is the face's centre line, the fourth its equator."""
    a = np.linspace(-np.pi, np.pi, 73)
    c, s, o = np.cos(a), np.sin(a), np.zeros_like(a)
    meridians = [np.column_stack([s * np.sin(w), c, s * np.cos(w)]) for w in (0.0, np.pi / 3, 2 * np.pi / 3)]
    parallels = [
        np.column_stack([s * np.cos(h), o + np.sin(h), c * np.cos(h)])
        for h in (0.0, np.pi / 6, -np.pi / 6, np.pi / 3, -np.pi / 3)
    ]
    return (*meridians, *parallels)
