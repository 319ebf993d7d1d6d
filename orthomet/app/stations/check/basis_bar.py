"""How a drawing is looked at: against what, how its head is turned, what face it makes."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from PySide6.QtCore import QPointF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QWidget

from ....core.check.turned import MOST_PITCH, MOST_YAW
from ....core.features.expression import expressions
from ....core.landmarks.turn import Turn, rotation
from ....core.project.model import Drawing
from ...parts import across, button, choices, down, soft
from ...theme.paint import arrow, focus_ring, painting, pen
from ...theme.tokens import PAD, theme
from ..pages import fill

READ = "read"
AT_REST = "at rest"
BALL = 46


class PoseBall(QWidget):
    """The head's turn as a ball with its centre line and eye line; dragged, it sets the turn."""

    turned = Signal(object, bool)
    """The turn, and whether the drag has ended."""

    def __init__(self) -> None:
        super().__init__()
        self.turn = Turn()
        self.setFixedSize(BALL, BALL)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setAccessibleName("How the head is turned")
        self._from: tuple[QPointF, Turn] | None = None

    def sizeHint(self) -> QSize:
        return QSize(BALL, BALL)

    def show_turn(self, turn: Turn) -> None:
        if self._from is None:
            self.turn = turn
            side = "right" if turn.yaw > 0 else "left"
            nod = "down" if turn.pitch > 0 else "up"
            words = f"{abs(turn.yaw):.0f}° to the {side}, {abs(turn.pitch):.0f}° {nod}"
            self.setToolTip(f"{words}. Drag the ball to set it by hand; double click to have it found again")
            self.setAccessibleDescription(words)
            self.update()

    def _at(self, q: QPointF) -> Turn:
        assert self._from is not None
        start, was = self._from
        d = (q - start) / (BALL / 2 - 3)
        yaw = max(-MOST_YAW, min(MOST_YAW, was.yaw + math.degrees(d.x())))
        pitch = max(-MOST_PITCH, min(MOST_PITCH, was.pitch + math.degrees(d.y())))
        return Turn(yaw=round(yaw, 1), pitch=round(pitch, 1), roll=was.roll, spread=1.0)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        self._from = e.position(), self.turn

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self._from is not None:
            self.turn = self._at(e.position())
            self.update()
            self.turned.emit(self.turn, False)

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        if self._from is not None:
            moved, self._from = self._at(e.position()) != self._from[1], None
            if moved:
                self.turned.emit(self.turn, True)

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        self._from = None
        self.turned.emit(None, True)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = arrow(e)
        if step is None:
            return super().keyPressEvent(e)
        yaw = max(-MOST_YAW, min(MOST_YAW, self.turn.yaw + 2 * step[0]))
        pitch = max(-MOST_PITCH, min(MOST_PITCH, self.turn.pitch + 2 * step[1]))
        self.turn = Turn(yaw=yaw, pitch=pitch, roll=self.turn.roll, spread=1.0)
        self.turned.emit(self.turn, True)
        return None

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            r, c = BALL / 2 - 3, QPointF(BALL / 2, BALL / 2)
            p.setPen(pen(t.c("plan"), 1.4))
            p.setBrush(t.c("sheet"))
            p.drawEllipse(c, r, r)
            p.setBrush(Qt.BrushStyle.NoBrush)
            m, a = rotation(self.turn), np.linspace(0, 2 * np.pi, 73)
            middle = np.column_stack([np.zeros_like(a), np.cos(a), np.sin(a)]) @ m.T
            eyes = np.column_stack([np.cos(a), np.zeros_like(a), np.sin(a)]) @ m.T
            for ring in (middle, eyes):
                front = ring[:, 2] >= 0
                k = int(np.argmax(~front & np.roll(front, -1))) + 1 if not front.all() else 0
                run = np.roll(ring, -k, axis=0)[: int(front.sum())]
                p.setPen(pen(t.c("plan"), 1.6))
                p.drawPolyline(QPolygonF([c + QPointF(float(x) * r, float(y) * r) for x, y, _ in run]))
            focus_ring(p, self)


class BasisBar(QWidget):
    basis_chosen = Signal(str)
    view_chosen = Signal(bool)
    """Whether the head is turned away."""
    face_chosen = Signal(str)
    degree_wanted = Signal()
    """It makes that face only a little, or fully again."""

    def __init__(self) -> None:
        super().__init__()
        tip = "What the drawing is checked against"
        self.basis = choices("Against", tip, self.basis_chosen.emit)
        self.head = choices(
            "How the head looks",
            "A head turned away: its pose is found, and the plan is turned along",
            lambda v: self.view_chosen.emit(v == "turned"),
        )
        fill(self.head, [("looks ahead", "front"), ("is turned", "turned")], "front")
        self.face = choices(
            "The face it makes", "What it makes of its face is taken off before anything is judged", self.face_chosen.emit
        )
        names = [(AT_REST, ""), ("read it…", READ), *((n, n) for n in expressions() if n != "neutral")]
        fill(self.face, names, "")
        self.less = button("less", self.degree_wanted.emit, "It makes that face only a little", bare=True)
        self.ball = PoseBall()
        for box, wide in ((self.basis, 16), (self.head, 8), (self.face, 8)):
            box.setMinimumContentsLength(wide)
            box.setMaximumWidth(240)
        first = across(soft("Against"), (self.basis, 1), spacing=8)
        second = across(soft("Head"), (self.head, 1), soft("Face"), (self.face, 1), self.less, spacing=6)
        across((down(first, second, spacing=4), 1), self.ball, owner=self, margins=(PAD, 2, PAD, 6), spacing=8)

    def show_drawing(self, d: Drawing | None, offered: Sequence[tuple[str, str]], turn: Turn | None, figure: bool) -> None:
        self.setVisible(d is not None and not figure)
        if d is None:
            return
        fill(self.basis, [(words, key) for key, words in offered], d.basis)
        self.head.setCurrentIndex(self.head.findData("turned" if d.turned else "front"))
        self.face.setCurrentIndex(max(0, self.face.findData(d.expression)))
        self.less.setVisible(bool(d.expression))
        self.less.setText("a little" if d.degree < 1 else "fully")
        self.less.setToolTip("It makes that face fully" if d.degree < 1 else "It makes that face only a little")
        self.ball.setVisible(d.turned)
        self.ball.show_turn(turn or d.turn or Turn())
