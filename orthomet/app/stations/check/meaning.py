"""What is meant: on this drawing, on every one of a character or a version, in a style."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, QPoint
from PySide6.QtWidgets import QMenu

from ....core.project.edits import Edit, all_of, change_drawing, change_version, set_character, set_study
from ....core.project.model import Character, Drawing
from ....core.proportions.views import every_reading
from ..base import Station, pop_up


class Meaning(QObject):
    """A station's hand on what is left alone."""

    def __init__(self, station: Station):
        super().__init__(station)
        self.station, self.document = station, station.document

    def _here(self) -> tuple[Character, Drawing] | None:
        c, d = self.document.character, self.document.drawing
        return (c, d) if c is not None and d is not None else None

    def _label(self, key: str) -> str:
        own = {o.reading: o.span.name for o in self.document.check_own()}
        known = every_reading()
        return f"Meant: {(own.get(key) or (known[key].label if key in known else key)).lower()}"

    def here(self, key: str) -> None:
        """A reading is left alone on this drawing."""
        at = self._here()
        if at is not None and key not in at[1].meant:
            c, d = at
            self.document.do(self._label(key), change_drawing(c.id, d.id, meant=(*d.meant, key)))

    def ask(self, key: str, where: QPoint) -> None:
        """Meant for what: this drawing, every one of the character, of the version, of the style."""
        at = self._here()
        if at is None:
            return
        c, d = at
        menu = QMenu(self.station)

        def offer(words: str, edit: Callable[[], Edit]) -> None:
            menu.addAction(words, lambda: self.document.do(self._label(key), edit()))

        menu.addAction("Meant on this drawing", lambda: self.here(key))
        offer(f"Meant on every drawing of {c.name}", lambda: set_character(c.id, meant=(*c.meant, key)))
        v = c.version(d.version)
        if v is not None:
            offer(f"Meant on every drawing “{v.title}”", lambda: change_version(c.id, v.id, meant=(*v.meant, key)))
        study = self.document.study_toward(d.version)
        if study is not None:
            offer(f"Meant in the style “{study.title}”", lambda: set_study(study.id, meant=(*study.meant, key)))
        pop_up(menu, where)

    def ask_again(self, key: str) -> None:
        """Judge a reading again, wherever it was said to be meant."""
        at = self._here()
        if at is None:
            return
        c, d = at

        def rest(some: tuple[str, ...]) -> tuple[str, ...]:
            return tuple(k for k in some if k != key)

        edits: list[Edit] = []
        if key in d.meant:
            edits.append(change_drawing(c.id, d.id, meant=rest(d.meant)))
        if key in c.meant:
            edits.append(set_character(c.id, meant=rest(c.meant)))
        v, study = c.version(d.version), self.document.study_toward(d.version)
        if v is not None and key in v.meant:
            edits.append(change_version(c.id, v.id, meant=rest(v.meant)))
        if study is not None and key in study.meant:
            edits.append(set_study(study.id, meant=rest(study.meant)))
        if edits:
            self.document.do("Ask again", all_of(*edits))
