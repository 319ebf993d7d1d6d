"""The open project through time: the tree as it is, steps back and forward, and the drag that is under way.

A drag is ``begin`` … ``preview`` … ``commit``: previews replace each other on the tree the drag began with, and the whole drag
is one step.
"""

from __future__ import annotations

from .edits import Edit
from .model import Character, Project, Study

UNDO_MOST = 500
"""Steps that can be undone; older trees are let go (own: hours of work, and memory that levels off)."""
Step = tuple[str, Project]


class History:
    """Every method that says so with True has changed the tree."""

    def __init__(self, project: Project):
        self.project = project
        self._undo: list[Step] = []
        self._redo: list[Step] = []
        self._drag: Step | None = None

    @property
    def dragging(self) -> bool:
        return self._drag is not None

    @property
    def undo_label(self) -> str:
        return self._undo[-1][0] if self._undo else ""

    @property
    def redo_label(self) -> str:
        return self._redo[-1][0] if self._redo else ""

    def do(self, label: str, edit: Edit) -> bool:
        """Apply an edit as one step.

        Raises
        ------
        ValueError
            The model refuses it; everything is as it was.
        """
        return self._step(label, self.project, edit(self.project))

    def amend(self, label: str, edit: Edit) -> bool:
        """Apply an edit as one more of a row of like ones, which are one step together.

        Raises
        ------
        ValueError
            The model refuses it; everything is as it was.
        """
        if self._undo and self._undo[-1][0] == label and not self._redo:
            before, self.project = self.project, edit(self.project)
            return before != self.project
        return self.do(label, edit)

    def note(self, edit: Edit) -> bool:
        """Apply an edit that is no step of its own: it is undone with the step before it.

        Raises
        ------
        ValueError
            The model refuses it; everything is as it was.
        """
        before, self.project = self.project, edit(self.project)
        return before != self.project

    def uses(self, picture: str) -> bool:
        """Whether any tree there is a way back or on to has a picture, by its hash."""
        seen: set[int] = set()
        for p in (self.project, *(t for _, t in self._undo), *(t for _, t in self._redo)):
            holders: tuple[Character | Study, ...] = (*p.characters, *p.studies)
            for holder in holders:  # most are the same from tree to tree
                if id(holder) not in seen:
                    seen.add(id(holder))
                    if any(i.hash == picture for i in holder.images()):
                        return True
        return False

    def begin(self, label: str) -> None:
        self._drag = (label, self.project)

    def preview(self, edit: Edit) -> bool:
        """Show an edit of the tree the drag began with; nothing is recorded yet."""
        if self._drag is None:
            return False
        try:
            new = edit(self._drag[1])
        except ValueError:
            return False  # the hand went where nothing can be: the last good picture stays
        if new == self.project:
            return False  # the same tree goes on: what follows from it is remembered
        self.project = new
        return True

    def commit(self) -> bool:
        """End a drag; whether it changed anything."""
        if self._drag is None:
            return False
        (label, before), self._drag = self._drag, None
        self._step(label, before, self.project)
        return before is not self.project

    def cancel(self) -> bool:
        if self._drag is None:
            return False
        before, self._drag = self._drag[1], None
        self.project = before
        return True

    def undo(self) -> bool:
        return self._go(self._undo, self._redo)

    def redo(self) -> bool:
        return self._go(self._redo, self._undo)

    def _step(self, label: str, before: Project, after: Project) -> bool:
        if before == after:
            return False
        self._undo.append((label, before))
        del self._undo[:-UNDO_MOST]
        self._redo.clear()
        self.project = after
        return True

    def _go(self, back: list[Step], on: list[Step]) -> bool:
        if not back:
            return False
        label, other = back.pop()
        on.append((label, self.project))
        self.project = other
        return True
