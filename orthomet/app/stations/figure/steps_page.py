"""The page of the construction: its steps one by one, one upon the other, or played; and what is drawn."""

from __future__ import annotations

from PySide6.QtCore import QTimer, Signal
from PySide6.QtWidgets import QListWidget, QWidget

from ....core.figure.construct import STEPS
from ...parts import button, tick
from ..dials import Choice
from ..pages import Page

ALL, UP_TO, ONLY = range(3)
PLAY_MS = 1100
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
        self.mode = Choice(
            "Show",
            ["all steps", "up to the chosen one", "the chosen one alone"],
            "Singly or one upon the other",
            lambda _: self.shown.emit(),
        )
        self.rows.addWidget(self.mode)
        self.list = QListWidget()
        self.list.setAccessibleName("Steps of the construction")
        self.list.setWordWrap(True)
        for n, say in enumerate(SAY, 1):
            self.list.addItem(f"{n}  {say}")
        self.list.setCurrentRow(0)
        self.list.setFixedHeight(len(STEPS) * 30 + 8)
        self.list.currentRowChanged.connect(self._chosen)
        self.rows.addWidget(self.list)
        self.play = button("Play the steps", self.toggle_play, "One step after the other (P)")
        self.play.setCheckable(True)
        self.row(self.play)
        self.section("Drawn")
        self.guides = tick("Construction lines", "The steps’ lines over the figure (G)", lambda _: self.shown.emit())
        self.body = tick("The figure itself", "Its own lines and tones (B)", lambda _: self.shown.emit())
        self.tones = tick("Suit, skin and hair toned", "Flat tones under the lines (T)", lambda _: self.shown.emit())
        self.colours = tick(
            "In their own colours", "Swatches that belong to suit, skin, hair and eyes", lambda _: self.shown.emit()
        )
        for box in (self.body, self.tones):
            box.setChecked(True)
        for box in (self.guides, self.body, self.tones, self.colours):
            self.row(box)
        self.end()
        self._clock = QTimer(self)
        self._clock.timeout.connect(self._next)

    def steps(self) -> range:
        """The steps that are shown."""
        k, mode = max(self.list.currentRow(), 0), self.mode.box.currentIndex()
        return range(len(STEPS)) if mode == ALL else range(k + 1) if mode == UP_TO else range(k, k + 1)

    def _chosen(self, _: int) -> None:
        if self.mode.box.currentIndex() != ALL:
            self.shown.emit()

    def toggle_play(self) -> None:
        if self._clock.isActive():
            self._stop()
            return
        self.mode.show_choice(UP_TO)
        self.guides.setChecked(True)
        self.list.setCurrentRow(0)
        self._clock.start(PLAY_MS)
        self.play.setChecked(True)
        self.play.setText("Stop")
        self.shown.emit()

    def _next(self) -> None:
        if self.list.currentRow() + 1 >= self.list.count() or not self.isVisible():
            self._stop()
        else:
            self.list.setCurrentRow(self.list.currentRow() + 1)

    def _stop(self) -> None:
        self._clock.stop()
        self.play.setChecked(False)
        self.play.setText("Play the steps")
