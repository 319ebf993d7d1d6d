"""What the last save brought: which findings came nearer, which went off, which lines were lost."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from ....core.check.since import Change, Course, summary
from ...parts import across, button, down, soft
from ...theme.paint import hline, painting, pen, text
from ...theme.tokens import PAD, PANEL, theme
from .live import Since

MOST = 6
REACH = 3.0
"""Tolerances from the middle of a course row to its ends (own)."""


class CourseRow(QWidget):
    """One reading between two saves: open ring before, filled now, the band is what is let pass."""

    def __init__(self, change: Change):
        super().__init__()
        self.change = change
        self.setFixedHeight(40)
        self.setAccessibleName(f"{change.label}: {change.words}")
        self.setToolTip(f"{change.label}: {change.words}")

    def sizeHint(self) -> QSize:
        return QSize(PANEL, 40)

    def _x(self, v: float) -> float:
        a, b = PAD + 2, self.width() - PAD - 2
        u = max(-1.0, min(1.0, v / (REACH * self.change.tolerance)))
        return (a + b) / 2 + u * (b - a) / 2

    def paintEvent(self, e: QPaintEvent) -> None:
        c = self.change
        with painting(self) as p:
            t, w = theme.t, self.width()
            course = t.c({Course.BETTER: "plan", Course.WORSE: "draw", Course.NEW: "draw", Course.SAME: "soft"}[c.course])
            told = course if not c.passes else t.c("plan")
            text(p, (PAD, 0, 150, 20), c.label, "body_m", t.c("ink"))
            text(p, (PAD + 150, 0, w - 2 * PAD - 150, 20), c.words, "small", told, Qt.AlignmentFlag.AlignRight)
            y = 29.0
            p.fillRect(QRectF(self._x(-c.tolerance), y - 4, self._x(c.tolerance) - self._x(-c.tolerance), 8), t.c("band"))
            hline(p, PAD, w - PAD, y, t.c("rule_strong"))
            p.setPen(pen(t.c("rule_strong"), 1))
            p.drawLine(QPointF(w / 2, y - 6), QPointF(w / 2, y + 6))
            if c.before is not None and c.now is not None and abs(self._x(c.before) - self._x(c.now)) > 6:
                a, b = self._x(c.before), self._x(c.now)
                way = 1 if b > a else -1
                p.setPen(pen(course, 2))
                p.drawLine(QPointF(a + way * 5, y), QPointF(b - way * 5, y))
                p.drawLine(QPointF(b - way * 6, y), QPointF(b - way * 10, y - 3.5))
                p.drawLine(QPointF(b - way * 6, y), QPointF(b - way * 10, y + 3.5))
            if c.before is not None:
                p.setPen(pen(course, 1.6))
                p.setBrush(t.c("paper"))
                p.drawEllipse(QPointF(self._x(c.before), y), 4.5, 4.5)
            if c.now is not None:
                p.setPen(Qt.PenStyle.NoPen)
                p.setBrush(course)
                p.drawEllipse(QPointF(self._x(c.now), y), 5, 5)


class LiveStrip(QWidget):
    """The followed file at the panel's head: its name, what it waits for, what the last save brought."""

    stop_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("inner")
        self.lay: QVBoxLayout = down(owner=self, margins=(0, 0, 0, 4))
        self.title, self.state = QLabel(), soft()
        self.title.setProperty("lettering", "group")
        self.stop = button("Stop", self.stop_wanted.emit, "Follow the file no more; the drawing stays as it is")
        head = across((down(self.title, self.state), 1), self.stop, margins=(PAD, 6, PAD, 4))
        self.lay.addLayout(head)
        self.rows: list[QWidget] = []
        self._shown: tuple[object, ...] = ()
        self.lines = down()
        self.lay.addLayout(self.lines)
        self.hide()

    def show_live(self, name: str, note: str, since: Since | None, here: bool) -> None:
        """``here``: whether it is the drawing at hand that follows."""
        self.setVisible(bool(name))
        if not name or (name, note, since, here) == self._shown:
            return
        self._shown = (name, note, since, here)
        self.title.setText(f"Following {name}")
        words = note or ("Waiting for the next save." if since is None else f"Saved {since.at}: {summary(since.rows)}")
        if not here:
            words = f"For another drawing. {words}"
        self.state.setText(words)
        self.state.setToolTip(words)
        for w in self.rows:
            self.lines.removeWidget(w)
            w.hide()
            w.deleteLater()
        self.rows = []
        if since is not None and here:
            self.rows += [CourseRow(c) for c in since.rows[:MOST]]
            more = [since.words[:1].upper() + since.words[1:] + "."] if since.words else []
            if since.lost:
                more.append(f"Lost on this save: {', '.join(g.lower() for g in since.lost)}. Their points are only estimated.")
            for line in more:
                label = soft(line, wrap=True)
                label.setContentsMargins(PAD, 2, PAD, 2)
                self.rows.append(label)
            for w in self.rows:
                self.lines.addWidget(w)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            p.fillRect(self.rect(), theme.t.c("plan_wash"))
            hline(p, 0, self.width(), self.height() - 1, theme.t.c("rule"))
