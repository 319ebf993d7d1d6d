"""The page of what holds between parts: found, declared, taken away; and a silhouette taken apart into shapes."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QListWidget, QListWidgetItem

from ....core.datafiles import first_words
from ....core.shapes.holding import said
from ....core.shapes.model import Relation, Shapes
from ....core.shapes.relations import words
from ....core.shapes.scene import Scene
from ...parts import across, button, choices, quiet
from ..pages import Page, fill, number_box

SAY = (
    ("touches", "touches"), ("overlaps", "overlaps"), ("is inside", "inside"), ("is level with", "level"), ("is centred on", "centred"), ("mirrors", "mirrored"),
    ("is as long as", "same length"), ("is so many times", "times"), ("is midway between", "midway"), ("is between", "between"), ("is aimed at", "aimed"),
    ("is in a row with", "row"), ("is the middle of a ring of", "ring"),
)  # fmt: skip
THREE = ("midway", "between", "row", "ring")
VALUED = {"times": 2.0, "between": 0.5}


class HoldsPage(Page):
    related = Signal(object)
    unrelated = Signal(int)
    wanted = Signal(str)
    apart_wanted = Signal(int)
    trouble = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.section("What holds")
        self.note("It goes on holding while a part is moved, pushed or swapped for another shape.")
        self.list = QListWidget()
        self.list.setAccessibleName("What holds between parts")
        self.list.setMinimumHeight(150)
        self.list.setWordWrap(True)
        self.rows.addWidget(self.list)
        self.remove = button("Take it away", self._remove, "It need not hold any more (Del)")
        find = button("Find what holds", lambda: self.wanted.emit("find"), "As the parts stand now")
        clear = button("Nothing", lambda: self.wanted.emit("clear"), "Declare nothing: what holds is found as it goes")
        self.rows.addLayout(across((find, 1), 6, (self.remove, 1), 6, (clear, 1)))
        self.broken = self.note()
        self.section("Say what is to hold")
        self.a, self.b, self.c = (choices(f"{n} part", "") for n in ("First", "Second", "Third"))
        self.kind = choices("What holds", "")
        fill(self.kind, list(SAY), "touches")
        self.kind.activated.connect(lambda _: self._fit())
        self.value = number_box(0.02, 50, 0.25, 2, "", "How many times as large, or the share of the way", lambda v: None)
        self.rows.addLayout(across((self.a, 1), 6, (self.kind, 1)))
        self.rows.addLayout(across((self.value, 0), 6, (self.b, 1), 6, (self.c, 1)))
        self.rows.addLayout(across(..., button("Let it hold", self._say)))
        self.section("Take apart")
        self.many = number_box(2, 10, 1, 0, " shapes at most", "How many shapes it is taken apart into", lambda v: None)
        self.many.setValue(8)
        go = button(
            "Take the figure apart",
            lambda: self.apart_wanted.emit(int(self.many.value())),
            "The figure that stands out on the picture, as a start for the hand",
        )
        self.rows.addLayout(across((self.many, 1), 6, (go, 1)))
        merge = button(
            "Merge with what it hangs on", lambda: self.wanted.emit("merge"), "The chosen part and the one it hangs on become one"
        )
        split = button("Split in two", lambda: self.wanted.emit("split"), "The chosen part as two shapes")
        self.rows.addLayout(across((merge, 1), 6, (split, 1)))
        self.note("What the outline hides is not found: put arms before a body by hand.")
        self.end()
        self._parts: list[tuple[str, str]] = []
        self._fit()

    def _fit(self) -> None:
        kind = str(self.kind.currentData())
        self.c.setVisible(kind in THREE)
        self.value.setVisible(kind in VALUED)
        if kind in VALUED:
            self.value.setValue(VALUED[kind])

    def _remove(self) -> None:
        k = self.list.currentRow()
        if k >= 0:
            self.unrelated.emit(k)

    def _say(self) -> None:
        kind = str(self.kind.currentData())
        parts = [
            str(w.currentData()) for w in ((self.a, self.b, self.c) if kind in THREE else (self.a, self.b)) if w.currentData()
        ]
        try:
            self.related.emit(Relation(kind=kind, parts=tuple(parts), value=self.value.value() if kind in VALUED else 0.0))
        except ValueError as e:
            self.trouble.emit(f"That cannot hold: {first_words(e)}.")

    def set_content(self, shapes: Shapes, scene: Scene | None) -> None:
        names = {p.id: p.name for p in shapes.parts}
        found = scene is not None and not shapes.relations
        relations = shapes.relations or (scene.relations if scene is not None else ())
        rows = [words(r, names) for r in relations]
        with quiet(self.list):
            if [self.list.item(k).text() for k in range(self.list.count())] != rows or self.list.property("found") != found:
                at = self.list.currentRow()
                self.list.clear()
                for text in rows:
                    item = QListWidgetItem(text)
                    if found:
                        item.setForeground(self.palette().placeholderText())
                        item.setToolTip("Found as the parts stand; “Find what holds” declares it")
                    self.list.addItem(item)
                self.list.setCurrentRow(min(at, len(rows) - 1))
                self.list.setProperty("found", found)
        self.remove.setEnabled(bool(shapes.relations))
        told = said(scene.solved, names) if scene is not None and scene.solved is not None else []
        self.broken.setText(" ".join(told))
        self.broken.setVisible(bool(told))
        parts = [(p.name, p.id) for p in shapes.parts]
        if parts != self._parts:
            self._parts = parts
            for k, w in enumerate((self.a, self.b, self.c)):
                fill(
                    w,
                    parts,
                    w.currentData()
                    if w.currentData() in dict((i, n) for n, i in parts)
                    else parts[min(k, len(parts) - 1)][1]
                    if parts
                    else None,
                )
