"""The drawing under check: its rings, the plan over it, arrows from what is to what should be."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainter, QPolygonF, QTransform
from PySide6.QtWidgets import QPushButton

from ....core.check.check import Check, Finding
from ....core.landmarks.points import State
from ....core.picture import Picture
from ...gauges.marks import mark_look
from ...looks import overlay_looks
from ...render import paint
from ...stage.asking import AskingStage
from ...stage.draw import cased, chip, ring_mark
from ...stage.marked import MINOR
from ...theme.paint import pen
from ...theme.tokens import CASING, ON_PICTURE_DRAW, ON_PICTURE_LOOK, theme

NOWHERE = (0.3, 0.5)
"""Where a finding of no one place is told, heads on the plan."""


class CheckStage(AskingStage):
    def __init__(self, choose: QPushButton):
        lines = ("Print or export the guides at Sheet, draw over them,", "then drop the scan or photo of your drawing here.")
        super().__init__("drawing", "No drawing yet", lines, (choose,))
        self.check: Check | None = None
        self.findings: tuple[Finding, ...] = ()
        self.overlay: Picture | None = None
        self.show_plan = True
        self.held = False
        self.lit_finding = -1
        self.dim = True
        self.colour = ON_PICTURE_DRAW
        self.back = QTransform()
        """From the flat page to the picture."""

    def set_check(self, check: Check | None, overlay: Picture | None, findings: tuple[Finding, ...] = ()) -> None:
        """What is found of a face with its place on the plan, or of a figure, which has none."""
        self.check, self.overlay = check, overlay
        self.findings = check.findings if check is not None else findings
        self.update()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_O and not e.isAutoRepeat():
            self.held = True
            self.update()
        else:
            super().keyPressEvent(e)

    def keyReleaseEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_O and not e.isAutoRepeat():
            self.held = False
            self.update()
        else:
            super().keyReleaseEvent(e)

    def plan_to_screen(self) -> QTransform | None:
        """Plan heads → screen, through the registration and the page's own perspective."""
        if self.check is None:
            return None
        back = self.check.to_plan.inverse()
        m, s = back.matrix, back.shift
        t = QTransform(m[0, 0], m[1, 0], m[0, 1], m[1, 1], s[0], s[1])
        view = QTransform()
        if self.mirrored:
            view.translate(2 * self.frame().center().x(), 0)
            view.scale(-1, 1)
        view.translate(self.offset.x(), self.offset.y())
        view.scale(self.scale, self.scale)
        return t * self.back * view

    def paint_between(self, p: QPainter, frame: QRectF) -> None:
        t = self.plan_to_screen()
        if t is None or self.overlay is None or not self.show_plan or self.held:
            return
        p.save()
        scale = (t.m11() ** 2 + t.m12() ** 2) ** 0.5
        p.setTransform(QTransform.fromScale(1 / scale, 1 / scale) * t, True)
        paint(p, self.overlay, scale, overlay_looks(theme.t), 1.0)
        p.restore()

    def paint_point(self, p: QPainter, name: str, q: QPointF, lit: bool) -> None:
        ring_mark(
            p,
            q,
            self._state(name) is State.PLACED,
            ON_PICTURE_DRAW,
            big=lit or (name in self._off_points() and name not in MINOR),
            minor=name in MINOR,
        )

    def _off_points(self) -> set[str]:
        out = {n for f in self.findings for n in f.moved}
        return out if len(out) < 0.6 * len(self.marks.points) else set()

    def lit_points(self) -> set[str]:
        here = 0 <= self.lit_finding < len(self.findings)
        return super().lit_points() | (self.findings[self.lit_finding].moved if here else frozenset())

    def paint_over(self, p: QPainter, frame: QRectF) -> None:
        super().paint_over(p, frame)
        t = self.plan_to_screen()
        if t is None or self.check is None or self.active:
            return
        p.save()
        p.setClipRect(frame)
        used: list[float] = []
        for k, f in enumerate(self.check.findings):
            self._paint_finding(p, t, k, f, frame, used)
        p.restore()

    def _paint_finding(self, p: QPainter, t: QTransform, k: int, f: Finding, frame: QRectF, used: list[float]) -> None:
        assert self.check is not None
        if f.move is not None and f.arrow is None:
            return
        a, b = (t.map(QPointF(*end)) for end in f.arrow or (NOWHERE, NOWHERE))
        right = t.map(QPointF(self.check.right_edge + 0.04, 0.5)).x()
        left = min(right, frame.right() - 150)
        y = a.y()
        while any(abs(y - v) < 26 for v in used):
            y += 26
        used.append(y)
        lit = k == self.lit_finding
        p.setPen(pen(CASING, 1, (2, 2)))
        p.drawLine(QPointF(a.x() + 9, a.y()), QPointF(left + 2, y))
        self._arrow(p, a, b)
        mark_look(p, left + 14, y, theme.t, str(k + 1), 12 if lit else 11)
        chip(p, left + 30, y, f.short, ON_PICTURE_LOOK, align=Qt.AlignmentFlag.AlignLeft)

    @staticmethod
    def _arrow(p: QPainter, a: QPointF, b: QPointF) -> None:
        d = b - a
        n = (d.x() ** 2 + d.y() ** 2) ** 0.5
        if n < 1:
            return
        u = d / n
        v = QPointF(-u.y(), u.x())
        start = a - u * max(0.0, 12 - n)
        cased(p, [(start, b - u * 5)], ON_PICTURE_LOOK, 2)
        p.setPen(pen(CASING, 1))
        p.setBrush(ON_PICTURE_LOOK)
        p.drawPolygon(QPolygonF([b, b - u * 8 + v * 4.5, b - u * 8 - v * 4.5]))
