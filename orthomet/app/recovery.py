"""Work a crash left behind, offered where it is seen and not in the way."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QLabel, QWidget

from ..core.project.compare import kept_words
from ..core.project.journal import Recoverable, against_file, recoverable
from .parts import across, button


def look_for_kept_work() -> Recoverable | None:
    """The newest work a window that ended badly left behind, held against the file it belongs to."""
    kept = next(recoverable(), None)
    return against_file(kept) if kept is not None else None


class RecoveryBar(QWidget):
    """A bar over the stations: bring it back, or throw it away. Where the file was saved again since, both are told."""

    wanted = Signal(object)
    unwanted = Signal(object)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.kept: Recoverable | None = None
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.keep, self.drop = button("Bring it back", self._keep, strong=True), button("Throw it away", self._drop)
        across((self.words, 1), self.keep, self.drop, owner=self, margins=(16, 6, 16, 6), spacing=None)
        self.hide()

    def offer(self, kept: Recoverable) -> None:
        self.kept = kept
        self.keep.setText("Bring it back as a copy" if kept.file_changed else "Bring it back")
        self.keep.setToolTip("Opens beside the file, which stays as it is" if kept.file_changed else "")
        self.words.setText(kept_words(kept))
        self.show()

    def _keep(self) -> None:
        if self.kept is not None:
            self.wanted.emit(self.kept)

    def _drop(self) -> None:
        if self.kept is not None:
            self.unwanted.emit(self.kept)
        self.hide()
