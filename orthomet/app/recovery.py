"""Work a crash left behind, offered where it is seen and not in the way."""

from __future__ import annotations

import time

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QWidget

from ..core.project.journal import Recoverable
from .stations.base import button


class RecoveryBar(QWidget):
    """A bar over the stations: bring it back, or throw it away."""

    wanted = Signal(object)
    unwanted = Signal(object)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.kept: Recoverable | None = None
        self.words = QLabel()
        self.keep, self.drop = button("Bring it back", self._keep, strong=True), button("Throw it away", self._drop)
        row = QHBoxLayout(self)
        row.setContentsMargins(16, 6, 16, 6)
        row.addWidget(self.words, 1)
        row.addWidget(self.keep)
        row.addWidget(self.drop)
        self.hide()

    def offer(self, kept: Recoverable) -> None:
        self.kept = kept
        when = time.strftime("%d %b, %H:%M", time.localtime(kept.when))
        self.words.setText(f"“{kept.stored.project.title}” was not saved when the window ended on {when}.")
        self.show()

    def _keep(self) -> None:
        if self.kept is not None:
            self.wanted.emit(self.kept)

    def _drop(self) -> None:
        if self.kept is not None:
            self.unwanted.emit(self.kept)
        self.hide()
