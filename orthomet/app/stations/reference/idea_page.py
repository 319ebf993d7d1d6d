"""Who this is meant to be: the idea in a word and which way it pushes, what the story asks."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QGridLayout, QLabel, QPushButton, QWidget

from ....core.project.model import Character
from ....core.proportions.registry import Role, front_registry
from ...parts import button, choices, entry
from ..fields import Words, put_words
from ..pages import Page, put_away


class IdeaPage(Page):
    changed = Signal(str, object)
    """Label, fields of the character."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.character: Character | None = None
        self.section("The idea in a word")
        self.idea = entry("The idea in a word", "slow, sly, stout-hearted…", 80, self._idea)
        self.rows.addWidget(self.idea)
        self.section("Which way it pushes")
        self.note("For each trait the idea speaks of: more, or less. The plan shows whether it goes that way.")
        self.turns: dict[str, QPushButton] = {}
        self.grid = QGridLayout()
        self.grid.setSpacing(6)
        self.rows.addLayout(self.grid)
        self.more = choices("Add a trait")
        self.more.addItem("Add a trait…", "")
        for r in front_registry().of_role(Role.INDEPENDENT):
            self.more.addItem(f"{r.label}: {r.low} – {r.high}", r.key)
        self.more.activated.connect(self._add)
        self.row(self.more)
        self.section("What the story asks")
        self.needs = Words("Has to reach the bell rope; sits a lot; is seen from behind…", "What the story asks", 5)
        self.needs.settled.connect(lambda t: self.changed.emit("What the story asks", {"needs": t[:2000]}))
        self.rows.addWidget(self.needs)
        self.end()

    def set_content(self, c: Character | None) -> None:
        self.setEnabled(c is not None)
        before = self.character.directions if self.character else None
        self.character = c
        if c is None:
            return
        put_words(self.idea, c.id, c.idea)
        self.needs.show_text(c.id, c.needs)
        if c.directions != before:
            self._show(c)

    def _show(self, c: Character) -> None:
        told = [key for key in c.directions if key in front_registry().index]
        if list(self.turns) != told:
            self._rebuild(told)
        for key, turn in self.turns.items():
            r = front_registry()[key]
            turn.setText(r.high if c.directions[key] > 0 else r.low)

    def _rebuild(self, told: list[str]) -> None:
        while self.grid.count():
            item = self.grid.takeAt(0)
            w = item.widget() if item is not None else None
            if w is not None:
                put_away(w, self.idea)
        self.turns = {}
        for k, key in enumerate(told):
            r = front_registry()[key]
            self.grid.addWidget(QLabel(r.label), k, 0)
            turn = self.turns[key] = button(
                "",
                partial(self._turn, key),
                f"{r.label}: {r.low} or {r.high}; click to turn it round",
            )
            self.grid.addWidget(turn, k, 1)
            self.grid.addWidget(
                button("Take away", partial(self._set, key, 0), f"The idea says nothing on {r.label.lower()}", bare=True),
                k,
                2,
            )

    def _idea(self) -> None:
        if self.character is not None and self.idea.text().strip() != self.character.idea:
            self.changed.emit("The idea", {"idea": self.idea.text().strip()})

    def _add(self, k: int) -> None:
        key = self.more.itemData(k)
        self.more.setCurrentIndex(0)
        if key:
            self._set(key, 1)

    def _turn(self, key: str) -> None:
        if self.character is not None and key in self.character.directions:
            self._set(key, -self.character.directions[key])

    def _set(self, key: str, way: int) -> None:
        if self.character is not None:
            rest = {k: v for k, v in self.character.directions.items() if k != key or way}
            self.changed.emit("Which way it pushes", {"directions": {**rest, key: way} if way else rest})
