"""Opening and saving projects: asked on the interface thread, read and written off it."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QEventLoop, QObject, Signal
from PySide6.QtWidgets import QMessageBox, QWidget

from ..core.project.store import SUFFIX, Stored, read
from .ask import ask_where
from .document import Document, Saving, written
from .work import Say, Work

FILTER = f"Orthomet projects (*{SUFFIX})"


class Filing(QObject):
    """One save or one opening at a time; a save that has begun is never given up half-way."""

    ended = Signal()
    said = Signal(str, bool)
    """A sentence, and whether it is about trouble."""
    busy = Signal(str)

    def __init__(self, document: Document, window: QWidget, parent: QObject, may_leave: Callable[[], bool]):
        super().__init__(parent)
        self.document, self.window, self._may_leave = document, window, may_leave
        self._work = Work(self)
        self._work.busy.connect(self.busy)
        self._saving: Saving | None = None
        self._opening: int | None = None

    # ---- saving

    def save(self) -> bool:
        """Begin to save where the project lies; False when it may not be, or is not wanted after all."""
        if self.document.path is None or self.document.read_only:
            return self.save_as()
        return self.begin(None, "Saved.")

    def save_as(self) -> bool:
        start = str(Path(self.folder()) / f"{self.document.project.title}{SUFFIX}")
        path = ask_where(self.window, "Save the project", start, {SUFFIX: "Orthomet projects"})
        return bool(path) and self.begin(path, f"Saved as {Path(path).name}.")

    def begin(self, path: str | None, words: str = "Saved.") -> bool:
        if self._saving is not None:
            self.said.emit("The last save is still being written.", True)
            return False
        saving = self._saving = self.document.begin_save(path)
        if saving is None:
            return False

        def end(sentence: str) -> None:
            self._saving = None
            if self.document.end_save(saving, sentence):
                self.said.emit(words, False)
            self.ended.emit()

        self._work.start("Saving…", lambda say: written(saving), end, failed=end)
        return True

    # ---- opening

    def open(self, path: str | Path) -> bool:
        """Begin to open a project; False when unsaved work is not to be left."""
        if not self._may_leave():
            return False
        self.stop()
        p, before = Path(path), self.document.project

        def job(say: Say) -> Stored:
            return read(p, lambda: not say(""))

        def done(stored: Stored) -> None:
            self._opening = None
            if self.document.project is before or self._may_leave():  # work went on meanwhile: ask again
                self.document.open_stored(stored, p)
            self.ended.emit()

        def failed(sentence: str) -> None:
            self._opening = None
            self.said.emit(sentence, True)
            self.ended.emit()

        self._opening = self._work.start(f"Opening {p.name}…", job, done, failed=failed, what=f"Opening {p.name}")
        return True

    def stop(self) -> None:
        """Give up an opening; what is open stays."""
        if self._opening is not None:
            self._work.cancel(self._opening)
            self._opening = None
            self.ended.emit()

    # ---- both

    def wait(self) -> None:
        """Until what has begun has ended; the window goes on painting, but takes no keys and clicks."""
        while self._saving is not None or self._opening is not None:
            loop = QEventLoop(self)
            self.ended.connect(loop.quit)
            loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)

    def may_leave(self) -> bool:
        """Ask about unsaved work; True when it may be left. A save that has begun ends first."""
        if self._saving is not None:
            self.wait()
        self.document.settle()
        if not self.document.dirty:
            return True
        box = QMessageBox(self.window)
        box.setWindowTitle("Orthomet")
        box.setText(f"“{self.document.project.title}” has changes that are not saved.")
        box.setStandardButtons(
            QMessageBox.StandardButton.Save | QMessageBox.StandardButton.Discard | QMessageBox.StandardButton.Cancel
        )
        answer = box.exec()
        box.deleteLater()
        if answer == QMessageBox.StandardButton.Save:
            if self.save():
                self.wait()
            return not self.document.dirty
        return answer == QMessageBox.StandardButton.Discard

    def folder(self) -> str:
        """Where dialogs start."""
        return str(self.document.path.parent if self.document.path else Path.home())
