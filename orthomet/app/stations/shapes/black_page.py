"""The page of the silhouette: what it reads, what it speaks, which part it is known by."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Signal
from PySide6.QtGui import QPainter, QPaintEvent, QPolygonF
from PySide6.QtWidgets import QLabel, QWidget

from ....core.shapes.language import WORDS
from ...parts import toggle
from ...theme.paint import outline, painting, solid, text
from ...theme.tokens import theme
from ..pages import Page
from .making import Silhouette

READ = (
    ("roundness", "Roundness", "4πA/P²: a circle 1, a square .79"), ("convexity", "Convexity", "its area over that of a band stretched round it"),
    ("angularity", "Corners", "share of all turning in the tightest tenth"), ("straight_share", "Straight", "share of its outline"), ("aspect", "Height : width", ""),
)  # fmt: skip


class LanguageStrip(QWidget):
    """Round, square and pointed shares as a strip, told apart by their signs and by grey."""

    def __init__(self, words: str) -> None:
        super().__init__()
        self.words, self.shares = words, (1.0, 0.0, 0.0)
        self.setFixedHeight(38)

    def show_shares(self, shares: tuple[float, float, float]) -> None:
        self.shares = shares
        told = ", ".join(f"{w} {s:.0%}" for w, s in zip(WORDS, shares, strict=True))
        self.setAccessibleName(f"{self.words}: {told}")
        self.setToolTip(told)
        self.update()

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            text(p, (0, 0, self.width(), 15), self.words, "small", t.c("soft"))
            x, wide = 0.5, self.width() - 1.0
            for k, (share, grey) in enumerate(zip(self.shares, ("band_wide", "band", "soft"), strict=True)):
                w = share * wide
                p.fillRect(QRectF(x, 17, w, 17), t.c(grey))
                if w > 16:
                    _sign(p, k, QPointF(x + w / 2, 25.5), "paper" if k == 2 else "ink")
                x += w
            outline(p, t.c("rule_strong"), 1)
            p.drawRect(QRectF(0.5, 17.5, wide, 16))


def _sign(p: QPainter, k: int, q: QPointF, colour: str) -> None:
    solid(p, theme.t.c(colour))
    if k == 0:
        p.drawEllipse(q, 4, 4)
    elif k == 1:
        p.drawRect(QRectF(q.x() - 3.5, q.y() - 3.5, 7, 7))
    else:
        p.drawPolygon(QPolygonF([q + QPointF(-4.5, 3.5), q + QPointF(4.5, 3.5), q + QPointF(0, -4.5)]))


class BlackPage(Page):
    alone_wanted = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.alone = toggle(
            "Head alone", lambda: self.alone_wanted.emit(self.alone.isChecked()), "The head’s parts only, or the whole (H)"
        )
        self.section("Filled black")
        self.row(self.alone)
        self.sentence = self.note()
        self.area, self.line = LanguageStrip("by what is seen of it"), LanguageStrip("along its outline")
        self.rows.addWidget(self.area)
        self.rows.addWidget(self.line)
        self.section("It reads")
        self.readings = {}
        for key, words, tip in READ:
            value = QLabel()
            value.setToolTip(tip)
            name = QLabel(words)
            name.setFixedWidth(150)
            name.setToolTip(tip)
            self.row(name, value)
            self.readings[key] = value
        self.section("What sticks out")
        self.bumps = self.note()
        self.section("What it is known by")
        self.known = self.note()
        self.note("Shares are how much nearer it comes to the rest of the cast without the part; they change with the cast.")
        self.end()

    def show_silhouette(self, s: Silhouette | None) -> None:
        if s is None:
            self.sentence.setText(
                "No parts yet." if not self.alone.isChecked() else "No part of a head: say which part is one (Parts, It is the…)."
            )
            self.bumps.setText("")
            self.known.setText("")
            for row in self.readings.values():
                row.setText("–")
            return
        self.sentence.setText(s.sentence)
        self.area.show_shares(s.spoken.by_area)
        self.line.show_shares(s.spoken.by_line)
        for key, label in self.readings.items():
            v = s.readings[key]
            label.setText(f"{v:.0%}".replace("%", " %") if key == "straight_share" else f"{v:.2f}")
        self.bumps.setText("\n".join(b.words[:1].upper() + b.words[1:] for b in s.bumps[:6]) or "Nothing: it is compact.")
        k = s.known
        if k is None:
            self.known.setText("One part alone is known by itself.")
            return
        near = (
            f"Nearest to {k.nearest}, {1 - k.apart:.0%} alike.\n".replace("%", " %")
            if k.nearest
            else "Nobody else in the cast to be told from.\n"
        )
        rows = [
            f"{n}: {share:.0%} of the difference, the outline changes by {k.changes.get(n, 0):.0%} without it"
            for n, share in list(k.shares.items())[:5]
        ]
        self.known.setText(near + "\n".join(r.replace("%", " %") for r in rows))
