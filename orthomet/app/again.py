"""“Look again tomorrow”: drawings that ask to be seen with fresh eyes greet at the next start."""

from __future__ import annotations

import shutil
from datetime import date

from PySide6.QtCore import QProcess, Qt, Signal
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QLabel, QWidget

from ..core.check.again import Due, due, due_words
from ..core.project.model import Project
from .parts import across, button


class AgainBar(QWidget):
    """A bar over the stations with the drawings that asked for it."""

    wanted = Signal(object)
    """A drawing to be looked at now: a :class:`~orthomet.core.check.again.Due`."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setObjectName("bar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.rows: tuple[Due, ...] = ()
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.look, self.later = (
            button("Look now", self._look, strong=True),
            button("Later", self.hide, "It asks again at the next start"),
        )
        across((self.words, 1), self.look, self.later, owner=self, margins=(16, 6, 16, 6), spacing=None)
        self.hide()

    def greet(self, project: Project) -> None:
        """A project was opened."""
        self.rows = due(project, date.today().isoformat())
        self.setVisible(bool(self.rows))
        if self.rows:
            self.words.setText(due_words(self.rows))
            notify(self.words.text())

    def _look(self) -> None:
        self.hide()
        if self.rows:
            self.wanted.emit(self.rows[0])


def notify(words: str) -> None:
    """A notification of the desktop's own, where there is one; never waits, never fails."""
    tool = shutil.which("notify-send")
    if tool and QGuiApplication.platformName() in ("xcb", "wayland"):
        QProcess.startDetached(tool, ["--app-name=Orthomet", "Orthomet", words])
