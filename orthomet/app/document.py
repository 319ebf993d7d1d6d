"""The open project: the current tree, undo, where it is saved, and what follows from it.

Every change is an edit (``Project -> Project``). A drag is ``begin`` … ``preview`` … ``commit``: previews replace each
other on the tree the drag began with, and the whole drag is one undo step.
"""

from __future__ import annotations

import logging
from dataclasses import dataclass
from pathlib import Path

from PySide6.QtCore import QObject, QSettings, Signal

from ..core.errors import ProjectError
from ..core.project.edits import Edit
from ..core.project.journal import Journal, Origin
from ..core.project.keeper import Keeper, Work
from ..core.project.lock import FileLock
from ..core.project.model import Character, Drawing, Project
from ..core.project.store import SUFFIX, Stored, write
from ..core.resolve import with_known_names
from .derived import Derived

RECENT = 8
UNDO_MOST = 500
"""Steps that can be undone; older trees are let go (own: hours of work, and memory that levels off)."""
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


class Document(QObject, Derived):
    changed = Signal()
    """The tree, or which part of it is looked at, has changed: ask, draw, forget."""
    leaving = Signal()
    """Before an edit, another selection, a save: whoever holds words that are not taken yet gives them now."""
    _journal_trouble = Signal(str)
    trouble = Signal(str)
    """A sentence for the artist."""

    def __init__(self, parent: QObject | None = None, keep_journal: bool = True):
        super().__init__(parent)
        self.project = Project()
        self.pictures: dict[str, bytes] = {}
        self.path: Path | None = None
        self.read_only = False
        self._saved: Project = self.project
        self._undo: list[tuple[str, Project]] = []
        self._redo: list[tuple[str, Project]] = []
        self._drag: tuple[str, Project] | None = None
        self._character_id = ""
        self._drawing_id = self._version_id = ""
        self._lock: FileLock | None = None
        self._disk: tuple[int, int] | None = None
        self._opened = 0
        self._origin = Origin()
        self._cache = {}
        self._leaving = False
        self._journal_trouble.connect(self.trouble)
        self.keeper = Keeper(Journal(), self._journal_trouble.emit) if keep_journal else None

    # ---- what is looked at

    @property
    def character(self) -> Character | None:
        return self.project.character(self._character_id) or (self.project.characters[0] if self.project.characters else None)

    def choose_character(self, cid: str) -> None:
        if cid != self._character_id:
            self.leave()
            self._character_id, self._version_id = cid, ""
            self.changed.emit()

    @property
    def drawing(self) -> Drawing | None:
        c = self.character
        if c is None or not c.drawings:
            return None
        return c.drawing(self._drawing_id) or c.drawings[-1]

    @property
    def version_id(self) -> str:
        """Id of the version that is worked on; empty for the character itself."""
        c = self.character
        return self._version_id if c is not None and c.version(self._version_id) is not None else ""

    def choose_version(self, vid: str) -> None:
        if vid != self._version_id:
            self.leave()
            self._version_id = vid
            self.changed.emit()

    def choose_drawing(self, did: str) -> None:
        if did != self._drawing_id:
            self.leave()
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

    def do(self, label: str, edit: Edit) -> bool:
        """Apply an edit as one undo step. An edit the model refuses leaves everything as it was."""
        self.leave()
        self.commit()
        try:
            new = edit(self.project)
        except ValueError as e:
            self.trouble.emit(_first_sentence(e))
            return False
        if new == self.project:
            return False
        self._push(label, self.project)
        self._set(new)
        return True

    def begin(self, label: str) -> None:
        self.leave()
        self.commit()
        self._drag = (label, self.project)

    def preview(self, edit: Edit) -> None:
        """Show an edit of the tree the drag began with; nothing is recorded yet."""
        if self._drag is None:
            return
        try:
            new = edit(self._drag[1])
        except ValueError:
            return  # the hand went where nothing can be: the last good picture stays
        if new != self.project:
            self._set(new)

    def commit(self) -> None:
        if self._drag is not None:
            (label, before), self._drag = self._drag, None
            if before != self.project:
                self._push(label, before)

    def cancel(self) -> None:
        if self._drag is not None:
            before, self._drag = self._drag[1], None
            self._set(before)

    @property
    def dragging(self) -> bool:
        return self._drag is not None

    def _push(self, label: str, before: Project) -> None:
        self._undo.append((label, before))
        del self._undo[:-UNDO_MOST]
        self._redo.clear()

    def _set(self, project: Project) -> None:
        self.project = project
        self._keep()
        self.changed.emit()

    @property
    def undo_label(self) -> str:
        return self._undo[-1][0] if self._undo else ""

    @property
    def redo_label(self) -> str:
        return self._redo[-1][0] if self._redo else ""

    def undo(self) -> None:
        self.leave()
        self.commit()
        if self._undo:
            label, before = self._undo.pop()
            self._redo.append((label, self.project))
            self._set(before)

    def redo(self) -> None:
        self.leave()
        self.commit()
        if self._redo:
            label, after = self._redo.pop()
            self._undo.append((label, self.project))
            self._set(after)

    # ---- file

    @property
    def dirty(self) -> bool:
        return self.project != self._saved

    def open_stored(self, stored: Stored, path: Path | None, saved: bool = True) -> None:
        self._forget_journal()
        self._release()
        self._opened += 1
        project, strange = with_known_names(stored.project)
        self.project, self.pictures, self.path = project, dict(stored.pictures), path
        self._saved = stored.project if saved else Project()
        self._undo, self._redo, self._drag, self._cache = [], [], None, {}
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
        for sentence in strange:
            self.trouble.emit(sentence)
        self._keep()
        self.changed.emit()

    def begin_save(self, path: str | Path | None = None) -> Saving | None:
        """What is to be written, here or under another name; ``None``, with a sentence told, when it may not be.

        Edits may go on while it is written (:func:`written`, on any thread); :meth:`end_save` takes the outcome.
        """
        self.leave()
        self.commit()
        target = Path(path) if path else self.path
        if target is None:
            return None
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
    text = str(e).strip().splitlines()
    body = text[2].split(" [")[0].strip() if len(text) > 2 else text[0]
    return f"That is not possible: {body.removeprefix('Value error, ')}."


def recent_files() -> list[str]:
    value = QSettings().value("recent", [])
    items = [value] if isinstance(value, str) else list(value or [])
    return [str(v) for v in items if Path(str(v)).exists()][:RECENT]


def remember_recent(path: Path) -> None:
    items = [str(path.resolve()), *(r for r in recent_files() if r != str(path.resolve()))]
    QSettings().setValue("recent", items[:RECENT])
