"""The page of parts: what there is, from the front; how a part is taken; what the chosen one is."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QHBoxLayout, QListWidget, QListWidgetItem

from ....core.shapes.model import Shapes, roles
from ....core.shapes.plain import KINDS
from ....core.shapes.seen import Seen
from ...parts import across, button, choices, entry, quiet, toggle
from ..dials import Dial
from ..pages import Page, fill, number_box

TAKE = (
    ("trace", "Trace", "Draw round the part on the picture, or set points with clicks; Enter, a double-click or the first point closes it (T)"),
    ("box", "Box", "Draw a box round it: the part is told from its ground by their colours (B)"),
    ("yes", "Add", "Stroke over what belongs to the part"),
    ("no", "Take away", "Stroke over what does not belong to it"),
    ("colour", "Colour", "Click a colour: what has it and hangs together (C)"),
    ("points", "Points", "Drag the contour’s points; Shift takes more of it along (E)"),
)  # fmt: skip
AS_IT_FITS = "as it fits best"


class PartsPage(Page):
    chosen = Signal(str)
    tool_wanted = Signal(str)
    wanted = Signal(str)
    plain_wanted = Signal(str)
    renamed = Signal(str)
    role_chosen = Signal(str)
    on_chosen = Signal(str)
    kind_chosen = Signal(str)
    began = Signal(str)
    moved = Signal(str, float)
    settled = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.section("Take a part")
        self.new_role = choices("What is taken", "What the next part is; it is read against its usual shape")
        fill(self.new_role, [(r.words, k) for k, r in roles().items()], "head")
        self.row("It is the", self.new_role, stretch=1)
        self.tools = {k: toggle(words, partial(self.tool_wanted.emit, k), tip) for k, words, tip in TAKE}
        row: QHBoxLayout | None = None
        for n, b in enumerate(self.tools.values()):
            if n % 3 == 0:
                row = across(spacing=6)
                self.rows.addLayout(row)
            assert row is not None
            row.addWidget(b, 1)
        self.tolerance = number_box(
            2, 80, 2, 0, "", "How far a picked colour reaches, in steps the eye tells apart", lambda v: None
        )
        self.tolerance.setValue(14)
        self.row("Colours alike within", self.tolerance)
        ground = button(
            "Plain ground",
            lambda: self.wanted.emit("ground"),
            "What stands out from the colour at the picture’s edge, or is not transparent",
        )
        plan = button(
            "Head from the plan", lambda: self.wanted.emit("plan"), "The planned head’s outline with brows, eyes, nose and mouth"
        )
        figure = button("Figure from the plan", lambda: self.wanted.emit("figure"), "The planned figure’s outline")
        self.rows.addLayout(across((ground, 1), 6, (plan, 1)))
        self.plain = choices("A plain shape", "Put a plain shape down, to be moved and sized by hand", self.plain_wanted.emit)
        fill(self.plain, [("a plain shape…", ""), *((k.replace("-", " "), k) for k in KINDS)], "")
        self.rows.addLayout(across((figure, 1), 6, (self.plain, 1)))
        self.section("Parts, the nearest first")
        self.list = QListWidget()
        self.list.setAccessibleName("Parts, the nearest first")
        self.list.setMinimumHeight(112)
        self.list.setMaximumHeight(170)
        self.list.currentItemChanged.connect(self._picked)
        self.rows.addWidget(self.list)
        acts = (
            ("Nearer", "nearer", "In front of the next one (Ctrl+])"), ("Further", "further", "Behind the one before (Ctrl+[)"),
            ("Mirror", "mirror", "The same on the other side of the middle"), ("Remove", "remove", "Take the part away (Del)"),
        )  # fmt: skip
        self.acts = {k: button(words, partial(self.wanted.emit, k), tip) for words, k, tip in acts}
        self.rows.addLayout(across(*((b, 1) for b in self.acts.values()), spacing=6))
        self.title = self.section("This part")
        self.told = self.note()
        self.name = entry("Name of the part", "name", 60, lambda: self.renamed.emit(self.name.text()))
        self.role = choices("What it is", "It is read against the usual shape of such a part", self.role_chosen.emit)
        self.rows.addLayout(across((self.name, 1), 6, (self.role, 1)))
        self.on = choices("What it hangs on", "The part it is joined to; where that goes, it goes", self.on_chosen.emit)
        self.kind = choices("Its plain shape", "The shape it is reduced to", self.kind_chosen.emit)
        self.row("on the", self.on, stretch=1)
        self.row("drawn as", self.kind, stretch=1)
        self.dials = {
            "tone": Dial("Tone", 0, 1, 0.3, "How dark it is filled"),
            "gap": Dial("Left open", 0, 0.6, 0, "Share of its outline that is left open"),
            "gap_at": Dial("Where it is open", 0, 1, 0, "Once round its outline"),
        }
        for key, dial in self.dials.items():
            dial.began.connect(partial(self.began.emit, dial.name.text()))
            dial.moved.connect(partial(self.moved.emit, key))
            dial.settled.connect(self.settled)
            self.rows.addWidget(dial)
        self.end()

    def _picked(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self.chosen.emit(str(item.data(Qt.ItemDataRole.UserRole)))

    def show_tool(self, tool: str) -> None:
        for k, b in self.tools.items():
            b.setChecked(k == tool)

    def set_content(self, shapes: Shapes, part: str, seen: Seen | None, has_picture: bool) -> None:
        for k in self.tools:
            self.tools[k].setEnabled(has_picture or k == "points")
        depth = _depths(shapes)
        rows = [("    " * depth[p.id] + p.name, p.id) for p in reversed(shapes.parts)]
        with quiet(self.list):
            if [
                (self.list.item(k).text(), self.list.item(k).data(Qt.ItemDataRole.UserRole)) for k in range(self.list.count())
            ] != rows:
                self.list.clear()
                for words, pid in rows:
                    item = QListWidgetItem(words)
                    item.setData(Qt.ItemDataRole.UserRole, pid)
                    self.list.addItem(item)
            self.list.setCurrentRow(next((k for k, (_, pid) in enumerate(rows) if pid == part), -1))
        p = shapes.part(part)
        for b in (*self.acts.values(), self.name, self.role, self.on, self.kind, *self.dials.values()):
            b.setEnabled(p is not None)
        self.told.setText(_told(seen) if seen is not None else "Choose a part on the paper or in the list.")
        if p is None:
            self.name.setText("")
            return
        if not self.name.hasFocus():
            self.name.setText(p.name)
        fill(self.role, [(r.words, k) for k, r in roles().items()], p.role)
        others = [("nothing but what it touches", ""), *((q.name, q.id) for q in shapes.parts if q.id != p.id)]
        fill(self.on, others, p.on)
        fits = [(AS_IT_FITS, "")] if p.points else []
        fill(
            self.kind,
            [*fits, *((k.replace("-", " "), k) for k in KINDS)],
            p.kind or ("" if p.points else p.shape.kind if p.shape else ""),
        )
        self.dials["tone"].show_value(p.tone)
        self.dials["gap"].show_value(p.gap)
        self.dials["gap_at"].show_value(p.gap_at)
        self.dials["gap_at"].setVisible(p.gap > 0)


def _depths(shapes: Shapes) -> dict[str, int]:
    on = {p.id: p.on for p in shapes.parts}

    def depth(n: str) -> int:
        k, seen = 0, {n}
        while on.get(n) in on and on[n] not in seen:
            n, k = on[n], k + 1
            seen.add(n)
        return k

    return {n: depth(n) for n in on}


def _told(v: Seen) -> str:
    if v.fits is None:
        words = f"A plain {v.shape.kind.replace('-', ' ')}, put down by hand."
    else:
        best, other = v.fits.best, v.fits.other
        if other is not None:
            words = f"Between {other.kind} and {best.kind}: the {best.kind} covers {best.overlap:.0%} of it."
        else:
            words = f"{_a(best.kind).capitalize()} covers {best.overlap:.0%} of it."
        words = words.replace("-", " ").replace("%", " %")
    if v.head is not None:
        words += f" As a head: {v.head.words}."
    return words


def _a(words: str) -> str:
    return f"{'an' if words[0] in 'aeiou' else 'a'} {words}"
