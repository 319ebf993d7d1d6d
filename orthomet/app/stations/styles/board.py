"""Two styles side by side as heads of one height, and the lines that carry each feature from one to the other."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.head.construct import head_layers
from ....core.picture import Picture
from ....core.plan.plan import Plan
from ....core.proportions.lines import spans
from ....core.proportions.registry import front_registry
from ...gauges.marks import mark_other, mark_shown
from ...looks import screen_looks
from ...render import paint
from ...stage.draw import Sign, dimension, pane_tag, sheet_edge
from ...theme.paint import CENTRE, painting, pen, text
from ...theme.tokens import theme

GUTTER = 76
LINES = (
    ("hairline_station", "hairline"), ("brow_station", "brow"), ("eye_station", "eyes"), ("nose_base_station", "nose"),
    ("mouth_station", "mouth"),
)  # fmt: skip


_SIGNS: tuple[Sign, Sign] = (
    lambda p, x, y, t: mark_shown(p, x, y - 7, t), lambda p, x, y, t: mark_other(p, x, y + 6.5, t),
)  # fmt: skip


class StyleBoard(QWidget):
    """The shown style left, the one it is compared with right: pure styles on an average subject."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Two styles side by side")
        self.plans: tuple[Plan, Plan] | None = None
        self.titles = ("", "")
        self.lit: set[str] = set()
        self.words: dict[str, tuple[str, str]] = {}
        self._pictures: tuple[Picture, ...] = ()

    def set_content(self, plans: tuple[Plan, Plan], titles: tuple[str, str]) -> None:
        if self.plans is None or any(a is not b for a, b in zip(plans, self.plans, strict=True)):
            self._pictures = tuple(_face(x) for x in plans)
        self.plans, self.titles = plans, titles
        self.update()

    def panes(self) -> tuple[QRectF, QRectF]:
        w, h = (self.width() - 24 - GUTTER) / 2, self.height() - 10
        return QRectF(12, 0, w, h), QRectF(12 + w + GUTTER, 0, w, h)

    def head_px(self) -> float:
        pane = self.panes()[0]
        return float(min((pane.height() - 30) / 1.24, pane.width() / 0.98))

    def at(self, pane: QRectF, x: float, t: float) -> QPointF:
        top = pane.top() + 30 + (pane.height() - 30 - self.head_px() * 1.24) / 2 + 0.06 * self.head_px()
        return QPointF(pane.center().x() + x * self.head_px(), top + t * self.head_px())

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            p.fillRect(self.rect(), theme.t.c("board"))
            if self.plans is None:
                return
            for k, pane in enumerate(self.panes()):
                self._paint_head(p, pane, self._pictures[k])
            self._carry(p)
            for k, pane in enumerate(self.panes()):
                self._paint_lit(p, pane, k)
                pane_tag(p, pane, self.titles[k], _SIGNS[k])

    def _paint_head(self, p: QPainter, pane: QRectF, picture: Picture) -> None:
        t = theme.t
        p.fillRect(pane, t.c("sheet"))
        p.save()
        p.setClipRect(pane)
        p.translate(self.at(pane, 0, 0))
        looks = {role: replace(look, colour=_ink(look.colour), fill=_ink(look.fill)) for role, look in screen_looks(t).items()}
        paint(p, picture, self.head_px(), looks, 1.0)
        p.restore()
        sheet_edge(p, pane)

    def _carry(self, p: QPainter) -> None:
        """Across the gutter: from where the one puts each feature to where the other does."""
        assert self.plans is not None
        t, (left, right) = theme.t, self.panes()
        a, b = (x.table for x in self.plans)
        used = -99.0
        for key, name in LINES:
            y0, y1 = self.at(left, 0, a[key]).y(), self.at(right, 0, b[key]).y()
            lit = key in self.lit
            for pane, y in ((left, y0), (right, y1)):
                p.setPen(pen(t.c("look") if lit else t.c("rule_strong"), 1.6 if lit else 1, None if lit else (2, 3)))
                p.drawLine(QPointF(pane.left(), y), QPointF(pane.right(), y))
            p.setPen(pen(t.c("look") if lit else t.c("ink"), 2.0 if lit else 1.2))
            p.drawLine(QPointF(left.right() + 1, y0), QPointF(right.left() - 1, y1))
            y = max((y0 + y1) / 2 - 9, used + 14)
            used = y
            text(p, (left.right() + 3, y - 8, GUTTER - 6, 14), name, "note_s", t.c("ink"), CENTRE)
        for station, words in ((0.0, "crown"), (1.0, "chin")):
            y = self.at(left, 0, station).y()
            p.setPen(pen(t.c("soft"), 1, (2, 2)))
            p.drawLine(QPointF(left.right(), y), QPointF(right.left(), y))
            text(p, (left.right() + 3, y - 16, GUTTER - 6, 14), words, "note_s", t.c("soft"), CENTRE)

    def _paint_lit(self, p: QPainter, pane: QRectF, k: int) -> None:
        assert self.plans is not None
        reg = front_registry()
        p.save()
        p.setClipRect(pane)
        for key in self.lit & set(reg.index):
            for n, s in enumerate(spans(reg[key], self.plans[k].points)):
                words = self.words.get(key, ("", ""))[k] if n == 0 else ""
                a, b = self.at(pane, *s.a), self.at(pane, *s.b)
                off = 30.0 if s.across else pane.center().x() + 0.34 * self.head_px() - a.x()
                dimension(p, a, b, words, s.across, off)
        p.restore()


def _ink(colour: str) -> str:
    """A style is nobody's plan yet: it is drawn in ink, not in the plan's blue."""
    t = theme.t
    return {t.plan: t.ink, t.plan_guide: t.soft}.get(colour, colour)


def _face(plan: Plan) -> Picture:
    return Picture(head_layers(plan.table, plan.points), (-0.6, -0.1, 1.2, 1.3)).wordless()
