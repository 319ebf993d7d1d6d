"""The page of the construction: its steps one by one, one upon the other, or played; and what is drawn."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from ....core.figure.construct import STEPS
from ...parts import tick
from ..pages import Page
from ..step_player import StepPlayer

SAY = (
    "Head: the unit everything else is counted in",
    "Shoulder line: found early, it decides the rest",
    "Rib cage and pelvis, as volumes beside the head’s",
    "Where the feet stand",
    "An envelope for each limb",
    "The limb in it",
    "Joints, hands, feet",
    "Centre line and plumb line",
)


class StepsPage(Page):
    shown = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Construction")
        self.player = StepPlayer("Steps of the construction", len(STEPS) * 22 + 8)
        self.player.set_steps(SAY)
        self.player.shown.connect(self.shown)
        self.rows.addWidget(self.player)
        self.section("Drawn")
        self.guides = tick("Construction lines", "The steps’ lines over the figure (G)", lambda _: self.shown.emit())
        self.body = tick("The figure itself", "Its own lines and tones (B)", lambda _: self.shown.emit())
        self.tones = tick("Suit, skin and hair toned", "Flat tones under the lines (T)", lambda _: self.shown.emit())
        self.colours = tick(
            "In their own colours", "Swatches that belong to suit, skin, hair and eyes", lambda _: self.shown.emit()
        )
        for box in (self.body, self.tones):
            box.setChecked(True)
        self.player.began.connect(partial(self.guides.setChecked, True))
        for box in (self.guides, self.body, self.tones, self.colours):
            self.row(box)
        self.end()

    def steps(self) -> range:
        """The steps that are shown."""
        return self.player.steps() or range(len(STEPS))
