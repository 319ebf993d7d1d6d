"""The bar under the drawing: ways to see it anew, and what to lay beside it."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QPushButton, QWidget

from ...parts import across, choices, put_in, soft, toggle
from ...theme.paint import hline, painting
from ...theme.tokens import theme
from ..pages import fill
from .beside import Way

WAYS = {Way.WIPE: ("wipe", "W"), Way.ONION: ("over it", "I"), Way.FLICKER: ("flicker", "K")}
TOGGLES = (
    ("mirror", "Mirror", "M", "As in a mirror: what is askew shows at once"),
    ("upside", "Turned", "U", "Upside down: shapes instead of a face"),
    ("small", "Small", "S", "As small as a stamp: does it still read?"),
    ("grey", "Grey", "G", "Without colour: values alone"),
    ("blur", "Blur", "B", "Out of focus: masses alone"),
    ("lines", "Lines", "L", "Lines alone, without fills and paper"),
    ("axes", "Axes", "X", "A centre line and the triangle of eyes and mouth"),
)  # fmt: skip
"""Key, words, keyboard key, tip."""


class LookBar(QWidget):
    looked = Signal(str, bool)
    beside_chosen = Signal(str)
    way_chosen = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(40)
        self.toggles: dict[str, QPushButton] = {}
        row = across(owner=self, margins=(14, 4, 12, 4), spacing=5)
        for key, words, letter, tip in TOGGLES:
            b = self.toggles[key] = toggle(words, self._clicked(key), f"{tip} ({letter})")
            b.setFocusPolicy(Qt.FocusPolicy.TabFocus)
            b.setStyleSheet("padding: 3px 7px")
            row.addWidget(b)
        self.beside = choices(
            "What to lay beside the drawing",
            "Lay its cure, its plan, its reference or an earlier save beside it",
            self.beside_chosen.emit,
        )
        self.beside.setMinimumContentsLength(10)
        self.way = choices("How to lay it", "Wipe (W), half transparent over it (I), or in turns (K)", self.way_chosen.emit)
        fill(self.way, [(words, str(w)) for w, (words, _) in WAYS.items()], str(Way.WIPE))
        put_in(row, ..., soft("Beside"), self.beside, self.way)

    def _clicked(self, key: str):  # type: ignore[no-untyped-def]
        return lambda: self.looked.emit(key, self.toggles[key].isChecked())

    def show_state(self, on: set[str], offered: Sequence[tuple[str, str]], chosen: str, way: Way) -> None:
        for key, b in self.toggles.items():
            b.setChecked(key in on)
        fill(self.beside, [("nothing", ""), *((words, key) for key, words in offered)], chosen)
        self.way.setCurrentIndex(self.way.findData(str(way)))
        self.way.setEnabled(bool(chosen))

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            p.fillRect(self.rect(), theme.t.c("ledge"))
            hline(p, 0, self.width(), 0, theme.t.c("rule"))
