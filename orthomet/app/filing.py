"""Opening and saving projects: asked on the interface thread, read and written off it."""

from __future__ import annotations

import logging
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QEventLoop, QObject, QThreadPool, Signal
from PySide6.QtWidgets import QMessageBox

from ..core.errors import OrthometError
from ..core.project.store import SUFFIX, Stored, read
from .ask import ask_where
from .document import Saving, written

if TYPE_CHECKING:
    from .desk import Desk

FILTER = f"Orthomet projects (*{SUFFIX})"
log = logging.getLogger(__name__)


class Filing(QObject):
    """One save or one opening at a time; a save that has begun is never given up half-way."""

    ended = Signal()
    _was_written = Signal(str)
    _was_read = Signal(int, object, str)

    def __init__(self, desk: Desk):
        super().__init__(desk)
        self.desk, self.document, self.ledge = desk, desk.document, desk.ledge
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._saving: tuple[Saving, str] | None = None
        self._reading: tuple[Path, object] | None = None
        self._ticket = 0
        self._was_written.connect(self._end_save)
        self._was_read.connect(self._take)

    # ---- saving

    def save(self) -> bool:
        """Begin to save where the project lies; False when it may not be, or is not wanted after all."""
        if self.document.path is None or self.document.read_only:
            return self.save_as()
        return self.begin(None, "Saved.")

    def save_as(self) -> bool:
        start = str(Path(self.folder()) / f"{self.document.project.title}{SUFFIX}")
        path = ask_where(self.desk.window, "Save the project", start, {SUFFIX: "Orthomet projects"})
        return bool(path) and self.begin(path, f"Saved as {Path(path).name}.")

    def begin(self, path: str | None, words: str = "Saved.") -> bool:
        if self._saving is not None:
            self.ledge.say("The last save is still being written.", bad=True)
            return False
        saving = self.document.begin_save(path)
        if saving is None:
            return False
        self._saving = saving, words
        self.ledge.busy("saving", "Saving…")
        self._pool.start(lambda: self._was_written.emit(written(saving)))
        return True

    def _end_save(self, sentence: str) -> None:
        if self._saving is not None:
            (saving, words), self._saving = self._saving, None
            self.ledge.busy("saving", "")
            if self.document.end_save(saving, sentence):
                self.ledge.say(words)
        self.ended.emit()

    # ---- opening

    def open(self, path: str | Path) -> bool:
        """Begin to open a project; False when unsaved work is not to be left."""
        if not self.desk.may_leave():
            return False
        p = Path(path)
        self._ticket += 1
        ticket = self._ticket
        self._reading = p, self.document.project
        self.ledge.busy("opening", f"Opening {p.name}…")

        def job() -> None:
            try:
                stored, sentence = read(p, lambda: ticket != self._ticket), ""
            except OrthometError as e:
                stored, sentence = None, str(e)
            except Exception:
                log.exception("opening failed")
                stored, sentence = None, f"{p.name} could not be opened; the log holds the details."
            self._was_read.emit(ticket, stored, sentence)

        self._pool.start(job)
        return True

    def stop(self) -> None:
        """Give up an opening; what is open stays."""
        if self._reading is not None:
            self._reading = None
            self._ticket += 1
            self.ledge.busy("opening", "")
            self.ended.emit()

    def _take(self, ticket: int, stored: Stored | None, sentence: str) -> None:
        if ticket != self._ticket or self._reading is None:
            return
        (path, before), self._reading = self._reading, None
        self.ledge.busy("opening", "")
        if stored is None:
            self.ledge.say(sentence, bad=True)
        elif self.document.project is before or self.desk.may_leave():  # work went on meanwhile: ask again
            self.document.open_stored(stored, path)
        self.ended.emit()

    # ---- both

    def wait(self) -> None:
        """Until what has begun has ended; the window goes on painting, but takes no keys and clicks."""
        while self._saving is not None or self._reading is not None:
            loop = QEventLoop(self)
            self.ended.connect(loop.quit)
            loop.exec(QEventLoop.ProcessEventsFlag.ExcludeUserInputEvents)

    def may_leave(self) -> bool:
        """Ask about unsaved work; True when it may be left. A save that has begun ends first."""
        if self._saving is not None:
            self.wait()
        self.document.leave()
        self.document.commit()
        if not self.document.dirty:
            return True
        box = QMessageBox(self.desk.window)
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
