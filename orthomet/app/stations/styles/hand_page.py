"""The artist's own hand: what it adds to every face, how much of a subject comes through, what a style would have it change."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.gauges.hand import HabitRow, change_words, habit_rows
from ....core.proportions.norms import norm
from ....core.proportions.registry import front_registry
from ....core.styles.habits import Change, habits_to_change
from ....core.styles.hand import FEWEST_FOR_PUSH, Hand
from ....core.styles.library import Style
from ...gauges.marks import mark_look
from ...gauges.scale import squash
from ...theme.paint import RIGHT, hline, painting, pen, text
from ...theme.tokens import PAD, ROW, theme
from ..pages import Page

NAME_W, WORD_W = 112, 112


class Changes(QWidget):
    """“Change these habits”: a numbered line each, with what to do."""

    def __init__(self) -> None:
        super().__init__()
        self.changes: list[Change] = []
        self.setFixedHeight(0)

    def set_changes(self, changes: list[Change]) -> None:
        self.changes = changes
        self.setFixedHeight(40 * len(changes))
        self.setAccessibleName(". ".join(f"{a}: {b}" for a, b in map(change_words, changes)))
        self.update()

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            for k, c in enumerate(self.changes):
                y = 40 * k
                title, what = change_words(c)
                mark_look(p, 10, y + 19, t, str(k + 1), 10)
                text(p, (28, y + 1, self.width() - 110, 20), title, "strong", t.c("ink"))
                text(p, (28, y + 18, self.width() - 28, 20), what, "small", t.c("soft"))
                sign = "+" if c.spreads > 0 else "−"
                text(p, (self.width() - 96, y + 1, 96, 20), f"{sign}{abs(c.spreads):.1f} spreads", "small_m", t.c("ink"), RIGHT)


class HandRows(QWidget):
    """Every trait of the hand: its habit as a bar from the norm, and what its push says."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[HabitRow] = []

    def set_hand(self, hand: Hand | None) -> None:
        self.rows = habit_rows(hand)
        self.setFixedHeight(ROW * len(self.rows) + 4)
        self.setAccessibleName(f"{len(self.rows)} habits")
        self.update()

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            for k, row in enumerate(self.rows):
                self._paint_row(p, k * ROW, row)

    def _paint_row(self, p: QPainter, y: float, r: HabitRow) -> None:
        t, w = theme.t, self.width()
        a, b = NAME_W + 4.0, w - WORD_W - 10.0
        mid, line = (a + b) / 2, y + ROW / 2
        text(p, (0, y, NAME_W, ROW), r.label, "body", t.c("ink"))
        hline(p, a, b, line, t.c("rule_strong"))
        p.fillRect(QRectF(round(mid), line - 5, 1, 10), t.c("rule_strong"))
        x = mid + squash(r.spreads) * (b - a) / 2
        hline(p, min(mid, x), max(mid, x), line - 1.5, t.c("draw"), 4)
        p.setPen(pen(t.c("draw"), 2))
        p.setBrush(t.c("paper"))
        p.drawEllipse(QPointF(x, line + 0.5), 3.4, 3.4)
        role, colour = ("small_m", "ink") if r.loud else ("small", "soft")
        text(p, (w - WORD_W, y, WORD_W, ROW), r.words, role, t.c(colour), RIGHT)


class HandPage(Page):
    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("My hand")
        self.summary = self.note()
        self.to_change = self.section("To reach this style")
        self.changes_note = self.note()
        self.changes = Changes()
        self.rows.addWidget(self.changes)
        self.section("What this hand adds to every face")
        self.note("Bar: habit, from an average subject. ×: how much of your subjects’ own difference comes through.")
        self.habits = HandRows()
        self.rows.addWidget(self.habits)
        self.rows.setContentsMargins(PAD, 2, PAD, 12)
        self.end()
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)

    def set_content(self, hand: Hand | None, toward: Style) -> None:
        n = hand.pairs if hand else 0
        words = f"Learned from {n} pair{'s' if n != 1 else ''}."
        if n < FEWEST_FOR_PUSH:
            words += f" From {FEWEST_FOR_PUSH} pairs on it also tells how far your subjects come through."
        self.summary.setText(words if n else "No pair counts yet. A pair is a measured reference and a measured drawing of it.")
        self.to_change.setText(f"To draw in “{toward.title}”")
        changes = habits_to_change(hand, toward, norm(), front_registry()) if hand else []
        self.changes.set_changes(changes)
        self.changes_note.setText(
            "Change these habits, the strongest first:"
            if changes
            else "Your hand already draws this way."
            if hand
            else "Nothing to compare yet."
        )
        self.habits.set_hand(hand)
