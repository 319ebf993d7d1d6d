"""The figure on its sheet: drag to turn the body, with Shift the head on it; the ladder of heads beside it."""

from __future__ import annotations

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.kinds import Array
from ....core.landmarks.turn import Turn
from ....core.picture import Picture
from ...looks import screen_looks
from ...render import paint, polygon
from ...stage.draw import sheet_edge
from ...stage.pannable import Pannable
from ...theme.paint import CENTRE, RIGHT, painting, pen, text
from ...theme.tokens import theme

PER_PIXEL = 0.5
GRIP = 10.0
"""Pixels around a joint that still take hold of it."""
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
    joint_began = Signal(str)
    joint_moved = Signal(str, float, float)
    """A joint dragged to a place of the picture, heads."""
    joint_dropped = Signal()
    joint_left = Signal()
    """Let go without leaving a trace."""
    flip_wanted = Signal(str)
    """A limb goes to the other side of the picture's plane."""

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
        self.bones: list[Array] = []
        self.joints: dict[str, tuple[float, float]] = {}
        """Joints that can be dragged, heads on the picture; none where the figure is not being posed."""
        self.pins: tuple[str, ...] = ()
        self.hot = self.joint = ""
        self._grip = QPointF()
        self._frozen: tuple[float, QPointF] | None = None
        """While a joint is dragged the sheet stays as it is, whatever room the figure takes."""
        self.setMouseTracking(True)

    def show_joints(self, joints: dict[str, tuple[float, float]], bones: list[Array], pins: tuple[str, ...]) -> None:
        self.joints, self.bones, self.pins = joints, bones, pins
        if not joints:
            self.hot = self.joint = ""
            self._frozen = None
        self.update()

    def show_figure(self, picture: Picture | None, turn: Turn, head_turn: Turn, turns: bool, words: str) -> None:
        self.picture, self.turn, self.head_turn, self.turns, self.words = picture, turn, head_turn, turns, words
        self.setAccessibleDescription(words)
        self.update()

    # ---- geometry

    def sheet(self) -> QRectF:
        return QRectF(12, 0, max(50, self.width() - 24), max(50, self.height() - 12))

    def head_px(self) -> float:
        """Pixels a head is drawn at."""
        if self._frozen is not None:
            return self._frozen[0]
        r = self.sheet()
        if self.picture is None:
            return 1.0
        _, _, w, h = self.picture.box
        return float(min((r.height() - 12) / h, (r.width() - 24) / w) * self.zoomed)

    def origin(self) -> QPointF:
        """Where the crown stands."""
        if self._frozen is not None:
            return self._frozen[1]
        r, k = self.sheet(), self.head_px()
        x, y, w, h = self.picture.box if self.picture is not None else (0.0, 0.0, 0.0, 0.0)
        return QPointF(r.center().x() - (x + w / 2) * k, r.center().y() - (y + h / 2) * k) + self.shift

    def middle(self, at: QPointF) -> QPointF:
        return self.sheet().center()

    def place(self, joint: str) -> QPointF:
        """Where a joint lies."""
        return self.origin() + QPointF(*self.joints[joint]) * self.head_px()

    def joint_at(self, q: QPointF) -> str:
        near = [(QLineF(q, self.place(j)).length(), j) for j in self.joints]
        far, joint = min(near, default=(99.0, ""))
        return joint if far <= GRIP else ""

    # ---- hand

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        if self.begins_pan(e) or e.button() != Qt.MouseButton.LeftButton or not self.turns:
            return
        at = self.joint_at(e.position())
        if at:
            self.joint, self._frozen = at, (self.head_px(), self.origin())
            self._grip = self.place(at) - e.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            self.joint_began.emit(at)
            return
        self._from = (e.position(), self.turn, self.head_turn)
        self._head = bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self._head:
            self.head_began.emit()
        self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self.pans(e):
            return
        if self.joint:
            q = (e.position() + self._grip - self.origin()) / self.head_px()
            self.joint_moved.emit(self.joint, q.x(), q.y())
            return
        if self._from is None:
            over = self.joint_at(e.position())
            if over != self.hot:
                self.hot = over
                self.setCursor(Qt.CursorShape.SizeAllCursor if over else Qt.CursorShape.OpenHandCursor)
                self.update()
            return
        start, body, head = self._from
        d = (e.position() - start) * PER_PIXEL
        if self._head:
            self.head_turned.emit(head_held(head.yaw + d.x(), head.pitch + d.y()))
        else:
            self.turned.emit(wrapped(body.yaw + d.x()))

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        self.ends_pan()
        if self.joint:
            self.joint, self._frozen = "", None
            self.joint_dropped.emit()
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
        elif e.key() == Qt.Key.Key_D and (self.joint or self.hot):
            self.flip_wanted.emit(self.joint or self.hot)
        elif e.key() == Qt.Key.Key_Escape and self.joint:
            self.joint, self._frozen = "", None
            self.joint_left.emit()
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
                self._paint_joints(p, k)
                p.translate(-self.origin())
            p.restore()
            sheet_edge(p, r)
            text(p, (r.right() - 260, r.top() + 8, 248, 18), self.words, "small_m", t.c("soft"), RIGHT)

    def _paint_joints(self, p: QPainter, k: float) -> None:
        """Bones as thin lines, a ring at each joint, a square where it is pinned; the one under the hand says what it is."""
        if not self.joints:
            return
        t = theme.t
        p.setPen(pen(t.c("plan"), 1.4))
        for bone in self.bones:
            p.drawPolyline(polygon(bone * k))
        for name, (x, y) in self.joints.items():
            at, hot = QPointF(x * k, y * k), name == (self.joint or self.hot)
            size = 6.5 if hot else 4.5
            p.setPen(pen(t.c("plan"), 1.6))
            p.setBrush(t.c("plan") if hot else t.c("sheet"))
            if name in self.pins:
                p.drawRect(QRectF(at.x() - size, at.y() - size, 2 * size, 2 * size))
            else:
                p.drawEllipse(at, size, size)
            if hot:
                text(p, (at.x() + 11, at.y() - 22, 160, 18), joint_name(name), "small_m", t.c("ink"))


def joint_name(joint: str) -> str:
    """A joint as the hand on it is told."""
    kind, _, side = joint.partition("_")
    words = {"wrist": "hand", "ankle": "foot", "pelvis": "hips", "neck": "chest", "crown": "head"}.get(kind, kind)
    return f"{'left' if side == 'l' else 'right'} {words}" if side else words
