"""The cast as it is asked for from shelf and menus: added, named, walked, taken away."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QObject, QPoint, QPointF
from PySide6.QtWidgets import QMenu, QWidget

from ..core.project.edits import add_character, new_id, remove_character, set_character
from ..core.project.model import Character
from .character_dialog import CharacterDialog, asked
from .document import Document
from .stations.base import pop_up


class Cast(QObject):
    def __init__(self, document: Document, window: QWidget):
        super().__init__(window)
        self.document, self.window = document, window

    def step(self, by: int) -> None:
        """The next character, or the one before."""
        ids = [c.id for c in self.document.project.characters]
        c = self.document.character
        if c and ids:
            self.document.choose_character(ids[(ids.index(c.id) + by) % len(ids)])

    def add(self) -> None:
        fields = asked(CharacterDialog("Add character", parent=self.window))
        if fields is not None:
            c = Character(id=new_id(), **fields)
            if self.document.do("Add character", add_character(c)):
                self.document.choose_character(c.id)

    def edit(self, cid: str = "") -> None:
        """Name, part, height and age; of the open character with an empty id."""
        c = self.document.project.character(cid) if cid else self.document.character
        fields = asked(CharacterDialog(c.name, c.name, c.role, c.height_m, c.age, self.window)) if c is not None else None
        if c is not None and fields is not None:
            self.document.do("Name and height", set_character(c.id, **fields))

    def remove(self, cid: str = "") -> None:
        c = self.document.project.character(cid) if cid else self.document.character
        if c is not None:
            self.document.do(f"Remove {c.name}", remove_character(c.id))

    def menu(self, cid: str, at: QPointF) -> None:
        menu = QMenu(self.window)
        menu.addAction("Name, part, height, age…", partial(self.edit, cid))
        menu.addAction("Remove character", partial(self.remove, cid))
        pop_up(menu, QPoint(round(at.x()), round(at.y())))
