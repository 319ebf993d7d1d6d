"""The page of paper: how tall the figure is on the page, and what is written."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from ...parts import button, tick
from ..pages import Page, number_box


class PaperPage(Page):
    export_wanted = Signal(str)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("On paper")
        self.height_mm = number_box(20, 3000, 10, 0, " mm", "Height of the figure on the page, crown to floor", lambda _: None)
        self.height_mm.setValue(200)
        self.row("Figure", self.height_mm)
        self.plain = tick("Plain lines without widths", "Centre lines, to be plotted or inked over; tones are left out")
        self.row(self.plain)
        self.section("Write")
        for key, words, tip in (
            ("view", "This view…", "The figure as it stands on the stage (Ctrl+E)"),
            ("views", "Four views…", "Front, three-quarter, side and back on one floor, with the ladder (Ctrl+Shift+E)"),
            ("poses", "The poses…", "Alternatives, the chosen one large with its line of action and balance"),
            ("steps", "The steps…", "The construction, each step with those before it"),
        ):
            self.row(
                button(
                    words,
                    partial(self.export_wanted.emit, key),
                    f"{tip}. SVG, PDF, PNG or layers at true size",
                    strong=key == "view",
                )
            )
        self.end()
