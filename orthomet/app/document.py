"""The open project: what is looked at, where it is saved, and who is told when it changes.

Every change is an edit (``Project -> Project``); its past is a :class:`~orthomet.core.project.history.History`.
"""

from __future__ import annotations

import logging
from abc import ABCMeta
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QSettings, Signal

from ..core.datafiles import first_words
from ..core.derived import Derived
from ..core.errors import ProjectError
from ..core.project.edits import Edit
from ..core.project.history import History
from ..core.project.journal import Journal, Origin
from ..core.project.keeper import Keeper, Work
from ..core.project.lock import FileLock
from ..core.project.model import Character, Drawing, Project
from ..core.project.store import SUFFIX, Stored, write
from ..core.resolve import with_known_names

RECENT = 8
log = logging.getLogger(__name__)


@dataclass
class Saving:
    """A save under way: where to, what, and the lock taken for it when the file is another than before."""

    target: Path
    lock: FileLock | None
    stored: Stored
    opened: int
    """Which opened project it belongs to."""
    digest: str = ""
    """Hash of what was written, once it is."""


def written(saving: Saving) -> str:
    """Write a save to disk, on any thread; the sentence when it could not be, or nothing."""
    try:
        saving.digest = write(saving.target, saving.stored)
    except ProjectError as e:
        return str(e)
    except Exception:
        log.exception("saving failed")
        return f"{saving.target.name} could not be saved; the log holds the details. The file on disk is as it was."
    return ""


class _Both(type(QObject), ABCMeta):  # type: ignore[misc]
    """Qt's objects and abstract ones have metaclasses of their own."""


class Document(QObject, Derived, metaclass=_Both):
    changed = Signal()
    """The tree, or which part of it is looked at, has changed: ask, draw, forget."""
    leaving = Signal()
    """Before an edit, another selection, a save: whoever holds words that are not taken yet gives them now."""
    opened = Signal()
    """Another project is open."""
    saving = Signal()
    """The project is about to be saved: what is to be kept with it is added now."""
    _journal_trouble = Signal(str)
    trouble = Signal(str)
    """A sentence for the artist."""

    def __init__(self, parent: QObject | None = None, keep_journal: bool = True):
        super().__init__(parent)
        self._history = History(Project())
        self.pictures: dict[str, bytes] = {}
        self.path: Path | None = None
        self.read_only = False
        self._saved: Project = self.project
        self._character_id = ""
        self._drawing_id = self._version_id = ""
        self._lock: FileLock | None = None
        self._disk: tuple[int, int] | None = None
        self._opened = 0
        self._origin = Origin()
        self._leaving = False
        self._journal_trouble.connect(self.trouble)
        self.keeper = Keeper(Journal(), self._journal_trouble.emit) if keep_journal else None

    # ---- what is looked at

    @property
    def character(self) -> Character | None:
        return self.project.character(self._character_id) or (self.project.characters[0] if self.project.characters else None)

    def choose_character(self, cid: str) -> None:
        if cid != self._character_id:
            self.settle()
            self._character_id, self._version_id = cid, ""
            self.changed.emit()

    @property
    def drawing(self) -> Drawing | None:
        c = self.character
        if c is None or not c.drawings:
            return None
        return c.drawing(self._drawing_id) or max(reversed(c.drawings), key=lambda d: d.made)

    @property
    def version_id(self) -> str:
        """Id of the version that is worked on; empty for the character itself."""
        c = self.character
        return self._version_id if c is not None and c.version(self._version_id) is not None else ""

    def choose_version(self, vid: str) -> None:
        if vid != self._version_id:
            self.settle()
            self._version_id = vid
            self.changed.emit()

    def choose_drawing(self, did: str) -> None:
        if did != self._drawing_id:
            self.settle()
            self._drawing_id = did
            self.changed.emit()

    def leave(self) -> None:
        """Let fields give what they hold, while their owners are still the ones at hand."""
        if not self._leaving:
            self._leaving = True
            try:
                self.leaving.emit()
            finally:
                self._leaving = False

    # ---- edits

    @property
    def project(self) -> Project:  # type: ignore[override]
        return self._history.project

    def do(self, label: str, edit: Edit) -> bool:
        """Apply an edit as one undo step. An edit the model refuses leaves everything as it was."""
        self.settle()
        try:
            return self._told(self._history.do(label, edit))
        except ValueError as e:
            self.trouble.emit(_first_sentence(e))
            return False

    def amend(self, label: str, edit: Edit, pictures: dict[str, bytes], unless_used: str = "") -> bool:
        """Apply an edit that comes with pictures, one step with the like ones before it. A picture that nothing leads to any more,
        named in ``unless_used``, is let go."""
        self.settle()
        self.pictures.update(pictures)
        try:
            changed = self._history.amend(label, edit)
        except ValueError as e:
            self.trouble.emit(_first_sentence(e))
            return False
        if unless_used and not self._history.uses(unless_used):
            self.pictures.pop(unless_used, None)
        return self._told(changed)

    def note(self, edit: Edit) -> bool:
        """Apply an edit that only keeps a record; it is no undo step of its own."""
        return self._told(self._history.note(edit))

    def settle(self) -> None:
        """Take what fields hold, and end the drag that is under way."""
        self.leave()
        self.commit()

    def begin(self, label: str) -> None:
        self.settle()
        self._history.begin(label)

    def preview(self, edit: Edit) -> None:
        """Show an edit of the tree the drag began with; nothing is recorded yet."""
        self._told(self._history.preview(edit))

    def commit(self) -> None:
        """The hand lets go: what waited for it goes on."""
        self._told(self._history.commit())

    def cancel(self) -> None:
        self._told(self._history.cancel())

    def undo(self) -> None:
        self.settle()
        self._told(self._history.undo())

    def redo(self) -> None:
        self.settle()
        self._told(self._history.redo())

    @property
    def dragging(self) -> bool:
        return self._history.dragging

    @property
    def undo_label(self) -> str:
        return self._history.undo_label

    @property
    def redo_label(self) -> str:
        return self._history.redo_label

    def _told(self, changed: bool) -> bool:
        if changed:
            self._keep()
            self.changed.emit()
        return changed

    # ---- file

    @property
    def dirty(self) -> bool:
        return self.project != self._saved

    def open_stored(self, stored: Stored, path: Path | None, saved: bool = True) -> None:
        self._forget_journal()
        self._release()
        self._opened += 1
        project, strange = with_known_names(stored.project)
        self._history, self.pictures, self.path = History(project), dict(stored.pictures), path
        self._saved = stored.project if saved else Project()
        self._character_id = self._drawing_id = self._version_id = ""
        self.read_only = False
        self._origin, self._disk = Origin(), None
        if path is not None:
            self._lock = FileLock(path)
            self.read_only = not self._lock.acquire()
            self._disk = _stamp(path)
            self._origin = Origin(str(path.absolute()), self._disk, stored.digest)
            remember_recent(path)
            if self.read_only:
                self.trouble.emit(
                    f"{path.name} is open in another window. You can look and try; save under another name to keep changes."
                )
        told = (*stored.told, *strange)
        for sentence in told:
            log.warning("%s", sentence)
        if told:
            more = f" And {len(told) - 2} more, which the log lists." if len(told) > 2 else ""
            self.trouble.emit(" ".join(told[:2]) + more)
        self._keep()
        self.changed.emit()
        self.opened.emit()

    def begin_save(self, path: str | Path | None = None) -> Saving | None:
        """What is to be written, here or under another name; ``None``, with a sentence told, when it may not be.

        Edits may go on while it is written (:func:`written`, on any thread); :meth:`end_save` takes the outcome.
        """
        self.settle()
        target = Path(path) if path else self.path
        if target is None:
            return None
        self.saving.emit()
        if not target.name.endswith(SUFFIX):
            target = target.with_name(target.name + SUFFIX)
        same = self.path is not None and target.resolve() == self.path.resolve()
        lock = None if same else FileLock(target)
        if same and self.read_only:
            self.trouble.emit(f"{target.name} is open in another window; save under another name.")
        elif same and self._disk is not None and _stamp(target) not in (self._disk, None):
            self.trouble.emit(f"{target.name} was changed on disk by something else; save under another name, then compare.")
        elif lock is not None and not lock.acquire():
            self.trouble.emit(f"{target.name} is open in another window; choose another name.")
        else:
            return Saving(target, lock, Stored(self.project, dict(self.pictures)), self._opened)
        return None

    def end_save(self, saving: Saving, sentence: str = "") -> bool:
        """Take what became of a save: a sentence when it failed."""
        if sentence or saving.opened != self._opened:
            if saving.lock is not None:
                saving.lock.release()
            if sentence:
                self.trouble.emit(sentence)
            return not sentence
        if saving.lock is not None:
            self._release()
            self._lock = saving.lock
        self.path, self._saved, self.read_only = saving.target, saving.stored.project, False
        self._disk = _stamp(saving.target)
        self._origin = Origin(str(saving.target.absolute()), self._disk, saving.digest)
        remember_recent(saving.target)
        self._keep()  # of what was edited meanwhile; nothing, when that is nothing
        self.changed.emit()
        return True

    def _release(self) -> None:
        if self._lock is not None:
            self._lock.release()
            self._lock = None

    def _keep(self) -> None:
        """Hand the tree as it is now to the journal, which keeps up on a thread of its own."""
        if self.keeper is not None:
            self.keeper.offer(Work(self.project, dict(self.pictures), self._origin, self._saved))

    @property
    def journal(self) -> Journal | None:
        return self.keeper.journal if self.keeper is not None else None

    def flush_journal(self) -> None:
        """Until the tree as it is now is in the journal."""
        if self.keeper is not None:
            self.keeper.flush()

    def close(self) -> None:
        """A clean end: nothing to recover."""
        if self.keeper is not None:
            self.keeper.close()
        self._release()

    def _forget_journal(self) -> None:
        if self.keeper is not None:
            self.keeper.clear()


def _stamp(path: Path) -> tuple[int, int] | None:
    try:
        s = path.stat()
    except OSError:
        return None
    return s.st_mtime_ns, s.st_size


def _first_sentence(e: ValueError) -> str:
    return f"That is not possible: {first_words(e)}."


def recent_files() -> list[str]:
    value: Any = QSettings().value("recent", [])
    items = [value] if isinstance(value, str) else list(value or [])
    return [str(v) for v in items if Path(str(v)).exists()][:RECENT]


def remember_recent(path: Path) -> None:
    items = [str(path.resolve()), *(r for r in recent_files() if r != str(path.resolve()))]
    QSettings().setValue("recent", items[:RECENT])
