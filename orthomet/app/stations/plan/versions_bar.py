"""The version chooser: the character itself and its versions, how far each goes, what may not change in it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, Qt, Signal
from PySide6.QtWidgets import QGridLayout, QMenu, QWidget

from ....core.plan.versions import Version
from ....core.project.edits import add_version, change_version, new_id, remove_version
from ....core.project.model import Character
from ....core.proportions.registry import front_registry
from ...document import Document
from ...parts import button, choices, entry, quiet
from ..base import pop_up
from ..fields import put_words
from ..pages import fill, number_box, put

NEW = (
    ("Younger by 10 years", "younger", 10.0, "younger"), ("Older by 20 years", "older", 20.0, "older"),
    ("Milder", "milder", 0.6, "milder"), ("Stronger", "stronger", 1.5, "stronger"),
)  # fmt: skip
AMOUNTS = {
    "younger": (" years younger", 1.0, 100.0, 1.0), "older": (" years older", 1.0, 100.0, 1.0),
    "milder": (" × milder", 0.05, 1.0, 0.05), "stronger": (" × stronger", 1.0, 5.0, 0.1), "edition": ("", 1.0, 1.0, 1.0),
}  # fmt: skip
"""Words, ends and step of how far a version goes."""


class VersionsBar(QWidget):
    """Two lines over the gauges: which version; and, for one, its name, reach and fixed traits."""

    compare_wanted = Signal(bool)

    def __init__(self, document: Document, parent: QWidget | None = None):
        super().__init__(parent)
        self.document = document
        self.which = choices(
            "Version", "The character itself, or one of its versions: each keeps the person and moves the centre"
        )
        self.which.activated.connect(lambda i: document.choose_version(self.which.itemData(i)))
        self.add = button("Versions…", self._offer, "Derive a younger, older, milder or stronger one; fix traits; take one away")
        self.compare = button("Compare", lambda: None, "All versions side by side on common level lines (Ctrl+Shift+V)")
        self.compare.setCheckable(True)
        self.compare.toggled.connect(self.compare_wanted)
        self.title = entry("Name of the version", most=60, slot=self._rename)
        self.amount = number_box(0.05, 100, 1, 2, "", "How far this version goes", self._set_amount)
        grid = QGridLayout(self)
        grid.setContentsMargins(16, 0, 16, 4)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        for k, w in enumerate((self.which, self.add, self.compare)):
            grid.addWidget(w, 0, k)
        grid.addWidget(self.title, 1, 0)
        grid.addWidget(self.amount, 1, 1, 1, 2)
        grid.setColumnStretch(0, 1)

    def _here(self) -> tuple[Character, Version] | None:
        c = self.document.character
        v = c.version(self.document.version_id) if c else None
        return (c, v) if c and v else None

    def refresh(self) -> None:
        c = self.document.character
        if c is None:
            return
        fill(self.which, [(c.name, ""), *((v.title, v.id) for v in c.versions)], self.document.version_id)
        for k, v in enumerate(c.versions, 1):
            self.which.setItemData(k, v.note, Qt.ItemDataRole.ToolTipRole)
        self.which.setCurrentIndex(max(0, self.which.findData(self.document.version_id)))
        self.compare.setEnabled(bool(c.versions))
        here = self._here()
        self.title.setVisible(here is not None)
        self.amount.setVisible(here is not None and here[1].kind != "edition")
        if here is None:
            return
        v = here[1]
        put_words(self.title, (c.id, v.id), v.title)
        words, low, high, step = AMOUNTS[v.kind]
        with quiet(self.amount):
            self.amount.setRange(low, high)
            self.amount.setSingleStep(step)
            self.amount.setDecimals(0 if v.kind in ("younger", "older") else 2)
            self.amount.setSuffix(words)
        put(self.amount, v.amount)

    # ---- edits

    def _offer(self) -> None:
        menu = self.new_menu()
        pop_up(menu, self.add.mapToGlobal(QPoint(0, self.add.height())))

    def new_menu(self) -> QMenu:
        menu = QMenu(self)
        for words, kind, amount, title in NEW:
            menu.addAction(words, partial(self.make, kind, amount, title))
        editions = menu.addMenu("Another edition, in the style of")
        for s in self.document.styles():
            editions.addAction(s.title, partial(self.make, "edition", 1.0, s.title, s.name))
        here = self._here()
        if here is not None:
            menu.addSeparator()
            n = len(here[1].forbidden)
            menu.addMenu(self.fixed_menu(menu)).setText(f"Traits fixed to the character’s own ({n})")
            menu.addAction(f"Remove “{here[1].title}”", self._remove)
        return menu

    def make(self, kind: str, amount: float, title: str, style: str = "") -> None:
        c = self.document.character
        if c is None:
            return
        taken = {v.title for v in c.versions}
        name = title if title not in taken else next(f"{title} {n}" for n in range(2, 99) if f"{title} {n}" not in taken)
        v = Version.model_validate({"id": new_id(), "title": name[:60], "kind": kind, "amount": amount, "style": style})
        if self.document.do(f"New version, {name}", add_version(c.id, v)):
            self.document.choose_version(v.id)

    def _rename(self) -> None:
        here, words = self._here(), self.title.text().strip()
        if here and words and words != here[1].title:
            self.document.do("Name of the version", change_version(here[0].id, here[1].id, title=words))

    def _set_amount(self, value: float) -> None:
        here = self._here()
        if here and abs(value - here[1].amount) > 1e-9:
            self.document.do("How far the version goes", change_version(here[0].id, here[1].id, amount=round(value, 3)))

    def fixed_menu(self, parent: QWidget | None = None) -> QMenu:
        """Every trait, checked where it is fixed."""
        menu = QMenu(parent or self)
        here = self._here()
        reg = front_registry()
        for key in self.document.plan().space.keys if here else ():
            a = menu.addAction(reg[key].label)
            a.setCheckable(True)
            a.setChecked(key in here[1].forbidden)  # type: ignore[index]
            a.toggled.connect(lambda on, k=key: self._fix(k, on))
        return menu

    def _fix(self, key: str, on: bool) -> None:
        here = self._here()
        if here:
            rest = tuple(k for k in here[1].forbidden if k != key)
            label = f"{'Fix' if on else 'Free'} {front_registry()[key].label.lower()}"
            self.document.do(label, change_version(here[0].id, here[1].id, forbidden=(*rest, key) if on else rest))

    def _remove(self) -> None:
        here = self._here()
        if here:
            self.document.do(f"Remove {here[1].title}", remove_version(here[0].id, here[1].id))
