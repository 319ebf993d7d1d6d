"""The page of the guides: whose lines, their dials, and the steps one by one, together, or played."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLabel, QWidget

from ....core.gauges.schooled import apart_words, triangle_words
from ....core.styles.schools import School, schools
from ...parts import choices
from ..dials import SchoolDials
from ..pages import Page
from ..step_player import StepPlayer

OWN = ""
"""The plan's own lines instead of a school's."""


class GuidesPage(Page):
    school_chosen = Signal(str)
    setting_began = Signal(str)
    setting_moved = Signal(str, float)
    setting_dropped = Signal()
    shown = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Whose lines")
        self.box = choices("Guide lines", slot=self.school_chosen.emit)
        self.box.addItem("The plan’s own lines", OWN)
        for s in schools().values():
            self.box.addItem(s.title, s.name)
        self.rows.addWidget(self.box)
        self.about = self.note("")
        self.lines = SchoolDials(self.box)
        self.lines.began.connect(self.setting_began)
        self.lines.moved.connect(self.setting_moved)
        self.lines.settled.connect(self.setting_dropped)
        self.rows.addWidget(self.lines)
        self.steps_title = self.section("Steps")
        self.player = StepPlayer("Steps of the school", 212)
        self.player.shown.connect(self.shown)
        self.rows.addWidget(self.player)
        self.section("Apart from plan and norm, in heads")
        self.apart = QLabel()
        self.apart.setWordWrap(True)
        self.rows.addWidget(self.apart)
        self.triangle = self.note("")
        self.end()
        self._school = ""

    # ---- content

    def set_content(
        self,
        shown: School | None,
        settings: Mapping[str, float],
        table: Mapping[str, float],
        usual: Mapping[str, float],
        triangle: tuple[float, float, float],
    ) -> None:
        """``usual``: the norm's readings; ``triangle``: the plan's, and the band of its style."""
        name = shown.name if shown else OWN
        self.box.setCurrentIndex(max(0, self.box.findData(name)))
        if name != self._school or not self.about.text():
            self._school = name
            self._rebuild(shown)
        self.lines.show_school(shown, settings)
        self.apart.setText(apart_words(shown, settings, table, usual))
        self.triangle.setText(triangle_words(*triangle))

    def _rebuild(self, shown: School | None) -> None:
        self.about.setText(
            f"{shown.note} Source: {shown.source}."
            if shown
            else "Brow, eye, nose and mouth where the plan puts them, as sections round the head, with the centre line and the hairline."
        )
        self.player.set_steps([step.say for step in shown.steps] if shown else [])
        for w in (self.steps_title, self.player):
            w.setVisible(shown is not None)
