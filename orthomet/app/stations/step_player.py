"""The steps of a construction: all of them, up to one, one alone, or played one after the other."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QListView, QListWidget, QWidget

from ..parts import across, button, down, quiet
from .dials import Choice

ALL, UP_TO, ONLY = range(3)
PLAY_MS = 1100
"""How long each step stands while they are played."""


class StepPlayer(QWidget):
    shown = Signal()
    """Other steps are to be shown."""
    began = Signal()
    """They are about to be played."""

    def __init__(self, name: str, height: int, parent: QWidget | None = None):
        super().__init__(parent)
        self.mode = Choice(
            "Show",
            ["all steps", "up to the chosen one", "the chosen one alone"],
            "Singly or one upon the other",
            lambda _: self.shown.emit(),
        )
        self.list = QListWidget()
        self.list.setAccessibleName(name)
        self.list.setWordWrap(True)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setFixedHeight(height)
        self.list.currentRowChanged.connect(self._chosen)
        self.play = button("Play the steps", self.toggle_play, "One step after the other (P)")
        self.play.setCheckable(True)
        down(self.mode, self.list, across(self.play, ...), owner=self, spacing=6)
        self.clock = QTimer(self)
        self.clock.setInterval(PLAY_MS)
        self.clock.timeout.connect(self._next)

    def set_steps(self, says: Sequence[str]) -> None:
        """Other steps, in words; none of them is played on."""
        self.stop()
        with quiet(self.list):
            self.list.clear()
            self.list.addItems([f"{n}  {say}" for n, say in enumerate(says, 1)])
            self.list.setCurrentRow(0)

    def steps(self) -> range | None:
        """The steps that are shown; ``None`` for all."""
        k, mode = max(self.list.currentRow(), 0), self.mode.box.currentIndex()
        if mode == ALL or not self.list.count():
            return None
        return range(k + 1) if mode == UP_TO else range(k, k + 1)

    def toggle_play(self) -> None:
        if self.clock.isActive() or not self.list.count():
            self.stop()
            return
        self.mode.show_choice(UP_TO)
        self.list.setCurrentRow(0)
        self.clock.start()
        self.play.setChecked(True)
        self.play.setText("Stop")
        self.began.emit()
        self.shown.emit()

    def stop(self) -> None:
        self.clock.stop()
        self.play.setChecked(False)
        self.play.setText("Play the steps")

    def _chosen(self, _: int) -> None:
        if self.mode.box.currentIndex() != ALL:
            self.shown.emit()

    def _next(self) -> None:
        if self.list.currentRow() + 1 >= self.list.count() or not self.isVisible():
            self.stop()
        else:
            self.list.setCurrentRow(self.list.currentRow() + 1)
