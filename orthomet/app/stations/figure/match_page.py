"""The page of the match: how young face, widths and length read, the verdict and why, and the cures."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Signal
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QLabel, QWidget

from ....core.figure.choices import FEWEST, MOST
from ....core.figure.match import GOOD, TITLES, TOLERANCE, Match, wanted
from ....core.plan.cures import CURES
from ...parts import button, down
from ...theme.paint import CENTRE, LEFT, RIGHT, painting, pen, solid, text
from ...theme.tokens import theme
from ..pages import Page, number_box, put

YOUNGEST, OLDEST = 2.2, -1.0
SPAN = 150.0
"""Degrees the dial's scale sweeps."""
MARKS = ((-0.8, "larger than life"), (0.0, "grown up"), (0.4, "ten"), (0.75, "five"), (1.0, "small child"), (2.0, "doll"))
NEEDLES = (("face", "Face", "plan", 1.0), ("width", "Widths", "draw", 0.82), ("length", "Length", "ref", 0.64))
SUMS = {
    "compact": "every trait at the face’s own age", "slender": "widths let down, the length in the legs", "head": "taller face, bigger chin, smaller eyes",
}  # fmt: skip


class YouthDial(QWidget):
    """Three needles on one scale of youth: face, widths, length; the band is where the widths ought to be."""

    def __init__(self) -> None:
        super().__init__()
        self.match: Match | None = None
        self.setFixedHeight(214)
        self.setAccessibleName("Youth of face, widths and length")

    def show_match(self, m: Match) -> None:
        self.match = m
        y = m.youth
        self.setAccessibleDescription(f"face {y.face:.2f}, widths {y.width:.2f}, length {y.length:.2f}")
        self.update()

    def hub(self) -> tuple[QPointF, float]:
        r = min(self.width() / 2 - 26, self.height() - 62)
        return QPointF(self.width() / 2, 26 + r), r

    @staticmethod
    def angle(j: float) -> float:
        """Radians from upright, the grown to the left."""
        share = (min(max(j, OLDEST), YOUNGEST) - OLDEST) / (YOUNGEST - OLDEST)
        return math.radians(-SPAN / 2 + SPAN * share)

    def _at(self, j: float, r: float) -> QPointF:
        c, _ = self.hub()
        a = self.angle(j)
        return c + QPointF(math.sin(a), -math.cos(a)) * r

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            if self.match is None:
                return
            t, (c, r), y = theme.t, self.hub(), self.match.youth
            want = wanted(y.face, y.length)
            self._arc(p, c, r - 6, want - TOLERANCE, max(want, 0.0) + TOLERANCE, 9, "band")
            self._arc(p, c, r, OLDEST, YOUNGEST, 1.2, "rule_strong")
            for j, words in MARKS:
                a, b = self._at(j, r - 7), self._at(j, r + 5)
                p.setPen(pen(t.c("rule_strong"), 1.4))
                p.drawLine(a, b)
                at = self._at(j, r + 10)
                align = CENTRE if abs(self.angle(j)) < 0.25 else RIGHT if self.angle(j) < 0 else LEFT
                x, y_ = at.x() - (60 if align == CENTRE else 118 if align == RIGHT else 2), at.y() - 15
                if j == MARKS[0][0]:  # at the dial's foot there is no room outside of it
                    x, y_, align = at.x() - 18, at.y() + 8, LEFT
                text(p, (x, y_, 120, 16), words, "small", t.c("soft"), align)
            for key, _, colour, far in NEEDLES:
                j = getattr(y, key)
                tip = self._at(j, (r - 12) * far)
                p.setPen(pen(t.c(colour), 3))
                p.drawLine(c, tip)
                solid(p, t.c(colour))
                p.drawEllipse(tip, 4.5, 4.5)
            solid(p, t.c("ink"))
            p.drawEllipse(c, 4, 4)
            self._legend(p)

    def _arc(self, p: QPainter, c: QPointF, r: float, a: float, b: float, width: float, colour: str) -> None:
        q = pen(theme.t.c(colour), width)
        p.setPen(q)
        start, end = 90 - math.degrees(self.angle(a)), 90 - math.degrees(self.angle(b))
        p.drawArc(QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r), round(16 * end), round(16 * (start - end)))

    def _legend(self, p: QPainter) -> None:
        assert self.match is not None
        t, w = theme.t, self.width() / 3
        for k, (key, words, colour, _) in enumerate(NEEDLES):
            x, y = k * w, self.height() - 24.0
            solid(p, t.c(colour))
            p.drawRect(QRectF(x + 4, y + 7, 14, 4))
            text(
                p,
                (x + 24, y, w - 26, 18),
                f"{words} {getattr(self.match.youth, key):.2f}".replace("-", "−"),
                "small_m",
                t.c("ink"),
            )


class MatchPage(Page):
    cure_chosen = Signal(str)
    height_chosen = Signal(object)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("How young each reads")
        self.dial = YouthDial()
        self.rows.addWidget(self.dial)
        self.verdict = QLabel()
        self.verdict.setProperty("lettering", "section")
        self.verdict.setWordWrap(True)
        self.rows.addWidget(self.verdict)
        self.says = QLabel()
        self.says.setWordWrap(True)
        self.rows.addWidget(self.says)
        self.hair = self.note()
        self.section("Cures")
        self.tall = number_box(FEWEST, MOST, 0.25, 2, " heads", "How tall the slender body shall be", self._height)
        self.row("Slender at", self.tall)
        self.buttons = {}
        self.notes = {}
        for key, title in CURES.items():
            take = button(
                f"{title}: take it",
                partial(self.cure_chosen.emit, key),
                f"{title}: {SUMS[key]}. One step, undone with Ctrl+Z",
                strong=key == "compact",
            )
            note = QLabel()
            note.setWordWrap(True)
            note.setProperty("soft", True)
            self.buttons[key], self.notes[key] = take, note
            holder = QWidget()
            down(note, take, owner=holder, spacing=3)
            self.rows.addWidget(holder)
        self.end()

    def _height(self, v: float) -> None:
        self.height_chosen.emit(v)

    def set_content(self, m: Match, with_hair: tuple[float, Match] | None, slender: float) -> None:
        self.dial.show_match(m)
        self.verdict.setText(TITLES[m.verdict])
        self.says.setText(m.says)
        put(self.tall, slender)
        words = ""
        if with_hair is not None:
            heads, other = with_hair
            same = other.verdict == m.verdict
            words = f"Counted with its hair ({heads:.2f} heads) " + (
                "it is the same." if same else f"it reads otherwise: {TITLES[other.verdict].lower()}."
            )
        self.hair.setText(words)
        self.hair.setVisible(bool(words))
        for key, note in self.notes.items():
            v = m.cures[key]
            body = (
                f"{v['heads_tall']:.1f} heads, shoulders {v['shoulder_hw']:.2f} and rib cage {v['ribcage_hw']:.2f} head widths"
                if "heads_tall" in v
                else SUMS[key]
            )
            note.setText(f"{CURES[key]}: {body}. Then: {TITLES[m.after[key]].lower()}.")
            self.buttons[key].setEnabled(key != "head" or m.verdict not in GOOD)
