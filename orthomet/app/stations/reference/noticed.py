"""Noticed first: the five the artist names, the five the ruler finds, and a line where they are the same trait."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QCompleter, QLineEdit, QWidget

from ....core.gauges.item import GaugeItem
from ....core.proportions.registry import Role, front_registry
from ...gauges.marks import mark_look
from ...theme.paint import CENTRE, focus_ring, hline, painting, pen, text
from ...theme.tokens import PAD, theme

FIVE, ROW_H, TOP = 5, 22, 30
SPLIT_A, SPLIT_B = 168, 214


class NoticedFirst(QWidget):
    changed = Signal(tuple)
    hovered = Signal(str, bool)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFixedHeight(TOP + FIVE * ROW_H + 8)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.named: tuple[str, ...] = ()
        self.ruler: tuple[str, ...] = ()
        self.items: dict[str, GaugeItem] = {}
        self.uncovered = False
        self.lit: set[str] = set()
        self._row = 0
        self.entry = QLineEdit(self)
        self.entry.hide()
        self.entry.setAccessibleName("What you notice")
        self.entry.returnPressed.connect(self._take)
        self.entry.editingFinished.connect(self._take)
        labels = [r.label for r in front_registry().readings if r.role is not Role.BALANCE]
        self._completer = QCompleter(labels, self)
        self._completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self._completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self.entry.setCompleter(self._completer)
        self.setAccessibleName("Noticed first")

    def set_content(self, named: tuple[str, ...], ruler: tuple[str, ...], items: dict[str, GaugeItem]) -> None:
        self.named, self.ruler, self.items = named, ruler, items
        self.update()

    def _words(self, key: str) -> str:
        item = self.items.get(key)
        if item is None:
            return key
        if item.reference is None or not item.has_scale:
            return item.label
        word = item.describe(item.reference).removeprefix("very ")
        return f"{item.label}, {word}"

    # ---- hand

    def _hit(self, q: QPointF) -> tuple[int, bool]:
        k = int((q.y() - TOP) // ROW_H)
        return (k if q.y() >= TOP and k < FIVE else -1), q.x() < (SPLIT_A + SPLIT_B) / 2

    def key_at(self, q: QPointF) -> str:
        k, mine = self._hit(q)
        rows = self.named if mine else (self.ruler if self.shows_ruler() else ())
        return rows[k] if 0 <= k < len(rows) else ""

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        key = self.key_at(e.position())
        lit = {key} if key in self.items else set()
        if lit != self.lit:
            for old in self.lit:
                self.hovered.emit(old, False)
            for new in lit:
                self.hovered.emit(new, True)
        self.setCursor(Qt.CursorShape.PointingHandCursor if self._hit(e.position())[0] >= 0 else Qt.CursorShape.ArrowCursor)

    def leaveEvent(self, e: QEvent) -> None:
        for old in set(self.lit):
            self.hovered.emit(old, False)

    def light(self, keys: set[str]) -> None:
        if keys != self.lit:
            self.lit = set(keys)
            self.update()

    def mousePressEvent(self, e: QMouseEvent) -> None:
        k, mine = self._hit(e.position())
        if k < 0:
            return
        if mine:
            self.edit_row(k)
        elif not self.shows_ruler():
            self.uncovered = True
            self.update()
        elif k < len(self.ruler) and self.ruler[k] not in self.named and len(self.named) < FIVE:
            self.changed.emit((*self.named, self.ruler[k]))

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space):
            self.edit_row(min(len(self.named), FIVE - 1))
        else:
            super().keyPressEvent(e)

    def edit_row(self, k: int) -> None:
        self._row = min(k, len(self.named))
        self.entry.setGeometry(PAD + 12, TOP + self._row * ROW_H - 2, SPLIT_A - PAD + 8, ROW_H + 4)
        have = self.named[self._row] if self._row < len(self.named) else ""
        self.entry.setText(self.items[have].label if have in self.items else have)
        self.entry.show()
        self.entry.setFocus()
        self.entry.selectAll()

    def _take(self) -> None:
        if self.entry.isHidden():
            return
        words = self.entry.text().strip()[:60]
        self.entry.hide()
        by_label = {r.label.casefold(): r.key for r in front_registry().readings}
        value = by_label.get(words.casefold(), words)
        rows = list(self.named)
        if self._row < len(rows):
            rows[self._row : self._row + 1] = [value] if value else []
        elif value:
            rows.append(value)
        new = tuple(dict.fromkeys(rows))
        if new != self.named:
            self.named = new
            self.changed.emit(new)

    def shows_ruler(self) -> bool:
        return self.uncovered or len(self.named) >= FIVE

    # ---- paint

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w = theme.t, self.width()
            hline(p, PAD, w - PAD, 0, t.c("rule"))
            text(p, (PAD, 3, 110, 26), "Noticed first", "group", t.c("ink"))
            text(p, (PAD + 96, 3, 60, 26), "by you", "small", t.c("soft"))
            text(p, (SPLIT_B + 10, 3, w - PAD - SPLIT_B, 26), "by the ruler", "small", t.c("soft"))
            show = self.shows_ruler()
            same = {k: self.ruler.index(k) for k in self.named if k in self.ruler} if show else {}
            for i in range(FIVE):
                y = TOP + i * ROW_H
                key = self.named[i] if i < len(self.named) else ""
                if key and key in self.lit:
                    p.fillRect(QRectF(0, y, SPLIT_A, ROW_H), t.c("look_wash"))
                text(p, (PAD, y, 14, ROW_H), str(i + 1), "note", t.c("soft"))
                words = self._words(key) if key else ("what strikes you?" if i == len(self.named) else "…")
                role, tone = "body_m" if key in same else "body", "ink" if key else "soft"
                text(p, (PAD + 16, y, SPLIT_A - PAD - 22, ROW_H), words, role, t.c(tone))
                if key and key not in self.items:
                    text(p, (SPLIT_A - 10, y, 50, ROW_H), "by eye", "note_s", t.c("soft"), CENTRE)
                self._paint_ruler_row(p, i, y, show, same)
            for i, key in enumerate(self.named):
                if key in same:
                    a = QPointF(SPLIT_A, TOP + (i + 0.5) * ROW_H)
                    b = QPointF(SPLIT_B, TOP + (same[key] + 0.5) * ROW_H)
                    p.setPen(pen(t.c("ref"), 2.6 if key in self.lit else 1.5))
                    p.drawLine(a, b)
                    p.setBrush(t.c("ref"))
                    p.setPen(Qt.PenStyle.NoPen)
                    p.drawEllipse(a, 3, 3)
                    p.drawEllipse(b, 3, 3)
            focus_ring(p, self)

    def _paint_ruler_row(self, p: QPainter, i: int, y: float, show: bool, same: dict[str, int]) -> None:
        t, w = theme.t, self.width()
        x = SPLIT_B + 10
        if not show or i >= len(self.ruler):
            words = "Nothing sure is measured yet." if show else "Covered until you have named yours. Click to look."
            if i == 0:
                text(p, (x, y, w - PAD - x, 3 * ROW_H), words, "small", t.c("soft"), wrap=True)
            return
        key = self.ruler[i]
        if key in self.lit:
            p.fillRect(QRectF(SPLIT_B + 4, y, w - SPLIT_B - 4, ROW_H), t.c("look_wash"))
        if key not in same:
            mark_look(p, SPLIT_B, y + ROW_H / 2, t, "", 5)
        text(
            p, (SPLIT_B + 10, y, w - PAD - SPLIT_B - 10, ROW_H), self._words(key), "body_m" if key in same else "body", t.c("ink")
        )
