"""The marks of a station's gauges, once, at the foot of the panel."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF
from PySide6.QtGui import QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ..theme.paint import hline, painting, solid, text, text_width
from ..theme.tokens import PAD, Palette, theme

Entry = tuple[str, float, Callable[[QPainter, float, float, Palette], object]]
"""Words, how much room the mark takes beyond a plain one, and what paints it at x, y."""


class Legend(QWidget):
    def __init__(self, entries: tuple[Entry, ...]) -> None:
        super().__init__()
        self.entries = entries
        self.setFixedHeight(28)
        self.setAccessibleName("Marks: " + ", ".join(words for words, *_ in entries))

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            hline(p, PAD, self.width() - PAD, 0, theme.t.c("rule"))
            x = PAD + 5.0
            for words, room, mark in self.entries:
                mark(p, x, 15.0, theme.t)
                x += room
                w = text_width("small", words)
                text(p, (x + 9, 5, w + 2, 20), words, "small", theme.t.c("soft"))
                x += w + 28


def usual(p: QPainter, x: float, y: float, t: Palette) -> None:
    """The norm's band, one and two spreads."""
    solid(p, t.c("band_wide"))
    p.drawRoundedRect(QRectF(x - 5, y - 5, 26, 10), 2, 2)
    p.setBrush(t.c("band"))
    p.drawRoundedRect(QRectF(x + 1, y - 5, 14, 10), 2, 2)
