"""The two honest meters under the plan, what cost likeness, and the limits that were reached."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QHelpEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QToolTip, QWidget

from ....core.gauges.verdict import likeness_notes, style_note
from ....core.plan.decisions import Decisions
from ....core.plan.plan import Plan, costs
from ....core.plan.scores import NOTCH
from ....core.proportions.registry import front_registry
from ...gauges.marks import mark_look, mark_plan, mark_reference
from ...theme.paint import RIGHT, crisp, hline, outline, painting, text, vline
from ...theme.tokens import theme

LIKENESS_SAYS = "Likeness: 100 is the face itself, 0 what the median stranger would keep of it. Each mark on the scale is a change an eye just sees."


class Verdict(QWidget):
    figure_wanted = Signal()
    """What is said of the body was clicked."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFixedHeight(148)
        self.plan: Plan | None = None
        self.decisions = Decisions()
        self.style_title = ""
        self.named = 0
        self.measured = False
        self.body = ""
        self._body_at = QRectF()
        self.setMouseTracking(True)

    def set_content(self, plan: Plan, decisions: Decisions, named: int, measured: bool, style_title: str, body: str = "") -> None:
        """``body``: what is to be said of the body under this head, where the two are not of one age."""
        self.style_title, self.body = style_title, body
        self.plan, self.decisions, self.named, self.measured = plan, decisions, named, measured
        toward = "n/a" if plan.style is None else f"{plan.style:.0f}"
        self.setAccessibleName(
            f"Likeness {plan.likeness.score:.0f}, style {toward}, {len(plan.limits)} limits reached{f'. {body}' if body else ''}"
        )
        self.update()

    def mousePressEvent(self, e: QMouseEvent) -> None:
        if self._body_at.contains(e.position()):
            self.figure_wanted.emit()

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        over = self._body_at.contains(e.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if over else Qt.CursorShape.ArrowCursor)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w, h = theme.t, self.width(), self.height()
            p.fillRect(self.rect(), t.c("paper"))
            hline(p, 0, w, 0, t.c("rule_strong"))
            if self.plan is None:
                return
            self._meters(p)
            vline(p, 298, 12, h - 12, t.c("rule"))
            self._costs(p, 314)
            vline(p, 548, 12, h - 12, t.c("rule"))
            self._limits(p, 564, w - 564 - 12)

    def _meters(self, p: QPainter) -> None:
        t, plan = theme.t, self.plan
        assert plan is not None
        likeness = plan.likeness.score if self.measured else None
        rows = (
            ("Likeness", likeness, "ref", likeness_notes(plan, self.measured)),
            ("Style", plan.style, "plan", (style_note(plan, self.style_title),)),
        )
        y = 10.0
        for name, v, colour, notes in rows:
            text(p, (16, y, 70, 20), name, "strong", t.c("ink"))
            self._meter(p, QRectF(84, y + 1, 130, 18), v, colour)
            words, role = ("n/a", "section") if v is None else (f"{v:.0f}", "figure")
            text(p, (218, y - 5, 66, 38), words, role, t.c("ink"), RIGHT)
            for line, note in enumerate(notes):
                text(p, (16, y + 29 + 16 * line, 272, 18), note, "small", t.c("soft"))
            y += 70

    def event(self, e: QEvent) -> bool:
        if isinstance(e, QHelpEvent) and e.type() == QEvent.Type.ToolTip:
            QToolTip.showText(e.globalPos(), LIKENESS_SAYS if e.pos().x() < 298 and e.pos().y() < 74 else "", self)
            return True
        return super().event(e)

    def _meter(self, p: QPainter, r: QRectF, v: float | None, colour: str) -> None:
        t = theme.t
        y = crisp(r.center().y())
        hline(p, r.left(), r.right(), y - 0.5, t.c("rule_strong"))
        step = NOTCH if colour == "ref" else 10.0
        for k in range(int(100 // step) + 1):
            tick = round(r.left() + (r.width() - 1) * (1 - k * step / 100 if colour == "ref" else k * step / 100))
            n = 5 if k % 5 == 0 else 3
            p.fillRect(QRectF(tick, y - n, 1, 2 * n), t.c("rule_strong"))
        if v is not None:
            x = r.left() + r.width() * v / 100
            p.fillRect(QRectF(r.left(), y - 2, x - r.left(), 4), t.c(colour))
            (mark_reference if colour == "ref" else mark_plan)(p, x, y, t)

    def _costs(self, p: QPainter, x: float) -> None:
        t = theme.t
        assert self.plan is not None
        text(p, (x, 9, 220, 20), "What cost you likeness", "strong", t.c("ink"))
        found = costs(self.plan, self.decisions) if self.measured else []
        if not found:
            text(p, (x, 36, 220, 20), "Nothing yet.", "small", t.c("soft"))
            return
        reg = front_registry()
        most = max(c.lost for c in found)
        for k, c in enumerate(found):
            y = 36.0 + k * 25
            words = f"{reg[c.key].label}, {c.why}" if c.key else "The style’s pull as a whole"
            text(p, (x, y, 158, 20), words, "body", t.c("ink"))
            n = 34 * c.lost / most
            p.fillRect(QRectF(x + 196 - n, y + 6, n, 9), t.c("soft"))
            text(p, (x + 190, y, 34, 20), f"−{c.lost:.0f}" if c.lost >= 1 else "−½", "value_b", t.c("ink"), RIGHT)

    def _limits(self, p: QPainter, x: float, width: float) -> None:
        t, reg = theme.t, front_registry()
        assert self.plan is not None
        text(p, (x, 9, width, 20), "Limits reached", "strong", t.c("ink"))
        self._body_at = QRectF()
        if self.body:
            self._body_at = QRectF(x, self.height() - 40, width, 36)
            hline(p, x, x + width, self.height() - 43, t.c("rule"))
            mark_look(p, x + 6, self.height() - 30, t, "", 6)
            text(p, (x + 20, self.height() - 39, width - 20, 18), self.body, "small_m", t.c("ink"))
            text(p, (x + 20, self.height() - 22, width - 20, 18), "Figure shows why, and three cures", "small", t.c("plan"))
        if not self.plan.limits:
            text(p, (x, 36, width, 20), "None: everything you asked for fits.", "small", t.c("soft"))
            return
        y = 34.0
        for li in self.plan.limits:
            if y > self.height() - (84 if self.body else 40):
                text(p, (x + 20, y, width - 20, 18), "and more", "small", t.c("soft"))
                break
            mark_look(p, x + 6, y + 9, t, "", 6)
            r = reg[li.pays]
            text(p, (x + 20, y, width - 20, 18), li.words, "small_m", t.c("ink"))
            note = f"{r.label} stops at {li.got:.3f}, you asked {li.asked:.3f}."
            used = text(p, (x + 20, y + 17, width - 20, 40), note, "small", t.c("soft"), wrap=True)
            y += 17 + used + 6
        missing = self.plan.assumed
        if missing and y < self.height() - (66 if self.body else 24):
            outline(p, t.c("look"), 1.3)
            c = QPointF(x + 6, y + 9)
            p.drawPolygon(QPolygonF([c + QPointF(0, -5), c + QPointF(5, 0), c + QPointF(0, 5), c + QPointF(-5, 0)]))
            text(p, (x + 20, y, width - 20, 18), f"{len(missing)} traits assumed, not measured", "small", t.c("soft"))
