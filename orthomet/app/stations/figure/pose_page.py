"""The page of the pose: dials of the trunk, what is pinned, what the pose says, and what the story needs of this body."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QLabel, QWidget

from ....core.figure.build import Build
from ....core.pose.actions import ACTIONS, Outcome
from ....core.pose.model import ENDS, Pose, Posing
from ...parts import across, button, choices, down, quiet, soft, tick
from ...theme.paint import painting, pen
from ...theme.tokens import theme
from ..dials import Dial
from ..pages import Page, number_box

DIALS: tuple[tuple[str, str, int, float, float, str, tuple[str, str]], ...] = (
    ("Hips tilt", "pelvis", 1, -20, 20, "The side that carries the weight rises", ("left up", "right up")),
    ("Shoulders tilt", "spine", 1, -35, 35, "Against the hips: the weight is felt", ("left up", "right up")),
    ("Hips turn", "pelvis", 2, -60, 60, "About the plumb line", ("right", "left")),
    ("Shoulders turn", "spine", 2, -50, 50, "Against the hips", ("right", "left")),
    ("Hips lean", "pelvis", 0, -30, 90, "The pelvis tipped", ("back", "forward")),
    ("Back bends", "spine", 0, -30, 80, "The spine bent", ("back", "forward")),
    ("Head turns", "head", 2, -45, 45, "On the neck", ("right", "left")),
    ("Head tilts", "neck", 1, -35, 35, "To a shoulder", ("right", "left")),
)
"""Words, joint, which of its angles, lowest, highest, what it is, its ends."""
PIN_WORDS = {"wrist_l": "Left hand", "wrist_r": "Right hand", "ankle_l": "Left foot", "ankle_r": "Right foot"}


class _Mark(QWidget):
    """Done: a filled ring; not: an open one with a bar through it."""

    def __init__(self, ok: bool):
        super().__init__()
        self.ok = ok
        self.setFixedSize(QSize(16, 18))

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            colour = t.c("plan" if self.ok else "draw")
            p.setPen(pen(colour, 1.6))
            p.setBrush(QColor(colour) if self.ok else Qt.BrushStyle.NoBrush)
            p.drawEllipse(3, 5, 9, 9)
            if not self.ok:
                self._bar(p)

    @staticmethod
    def _bar(p: QPainter) -> None:
        p.drawLine(2, 15, 13, 4)


class PosePage(Page):
    began = Signal(str)
    moved = Signal(str, int, float)
    settled = Signal()
    pinned = Signal(str, bool)
    waived = Signal(bool)
    wanted = Signal(str)
    """Mirror, stand, keep, forget, open, save, photo, sheet."""
    given = Signal(str)
    shown = Signal(object)
    """The pose of something the story needs."""
    asked = Signal(str)
    """Something more the story needs."""
    side_told = Signal(str)
    """A limb of the picture goes to the other side of it."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Pose")
        self.words = soft("", wrap=True)
        self.rows.addWidget(self.words)
        self.row(
            button("Mirror", partial(self.wanted.emit, "mirror"), "Left and right changed over (X)"),
            button("Stand", partial(self.wanted.emit, "stand"), "Upright again"),
            button("Keep", partial(self.wanted.emit, "keep"), "Among the alternatives under the stage (K)"),
            button("Forget", partial(self.wanted.emit, "forget"), "Out of the alternatives"),
        )
        self.section("Trunk and head")
        self.dials: list[Dial] = []
        for words, joint, k, low, high, tip, ends in DIALS:
            dial = Dial(words, low, high, 0.0, tip, ends, unit="°")
            dial.began.connect(partial(self.began.emit, words))
            dial.moved.connect(partial(self.moved.emit, joint, k))
            dial.settled.connect(self.settled)
            self.dials.append(dial)
            self.rows.addWidget(dial)
        self.section("Stay where they are")
        self.pins = {
            e: tick(PIN_WORDS[e], "Stays in its place while something else is dragged", partial(self.pinned.emit, e))
            for e in ENDS
        }
        self.row(self.pins["wrist_r"], self.pins["wrist_l"])
        self.row(self.pins["ankle_r"], self.pins["ankle_l"])
        self.limits = tick("Joints may go past their limits", "For rubber, dolls and accidents", self.waived.emit)
        self.row(self.limits)
        self.section("What the story needs")
        self.needs = QWidget()
        self.need_rows = down(owner=self.needs, spacing=3)
        self.rows.addWidget(self.needs)
        self.action = choices("An action to try", "Tried on this body as it is planned", self._chosen)
        for a in ACTIONS.values():
            self.action.addItem(a.name, a.name)
        self.amount = number_box(0.05, 40, 0.1, 2, " heads", "How high", lambda _: None)
        self.add = button("Add", self._add, "One more line of what the story needs; it is tried whenever the plan changes")
        self.row(self.action, self.amount, self.add)
        self.section("From elsewhere, and to")
        self.photo = button(
            "From the figure’s picture",
            partial(self.wanted.emit, "photo"),
            "The reference figure’s landmarks, lifted to these lengths",
        )
        self.row(self.photo)
        self.sides = QWidget()
        self.side_rows = down(owner=self.sides, spacing=3)
        self.rows.addWidget(self.sides)
        self.others = choices("Give the pose to", "The same pose at that character’s own proportions", self._give)
        self.row("Give to", self.others)
        self.row(
            button("Open…", partial(self.wanted.emit, "open"), "A pose out of a file"),
            button("Save…", partial(self.wanted.emit, "save"), "This pose as a file of its own"),
            button(
                "Pose sheet…",
                partial(self.wanted.emit, "sheet"),
                "Alternatives, the chosen one large, line of action and balance",
                strong=True,
            ),
        )
        self.end()
        self._build: Build | None = None
        self._told: object = None

    # ---- what it shows

    def set_content(
        self, posing: Posing, words: Sequence[str], build: Build | None, others: Sequence[tuple[str, str]], picture: bool
    ) -> None:
        self._build = build
        self.words.setText(
            "\n".join(
                ((posing.pose.name or ("Upright" if posing.pose.plain else "A pose of its own")).capitalize() + ".", *words)
            )
        )
        for dial, (_, joint, k, *_) in zip(self.dials, DIALS, strict=True):
            dial.show_value(posing.pose.angles.get(joint, (0.0, 0.0, 0.0))[k])
        with quiet(*self.pins.values(), self.limits, self.others):
            for end, box in self.pins.items():
                box.setChecked(end in posing.pins)
            self.limits.setChecked(bool(posing.pose.waived))
            if [self.others.itemData(k) for k in range(1, self.others.count())] != [cid for cid, _ in others]:
                self.others.clear()
                self.others.addItem("…", "")
                for cid, name in others:
                    self.others.addItem(name, cid)
            self.others.setCurrentIndex(0)
        self.others.setEnabled(bool(others))
        self.photo.setEnabled(picture)
        self._usual()

    def show_needs(self, found: Sequence[tuple[str, Outcome]]) -> None:
        key = tuple((line, o.words, tuple(c.words for c in o.changes)) for line, o in found)
        if key == self._told:
            return
        self._told = key
        while self.need_rows.count():
            item = self.need_rows.takeAt(0)
            if item is not None and (w := item.widget()) is not None:
                w.hide()
                w.deleteLater()
        if not found:
            self.need_rows.addWidget(
                soft("Nothing yet that can be tried: “reach a shelf at 9 heads”, “cross arms”, “sit at 2 heads”.", wrap=True)
            )
        for line, o in found:
            row = QWidget()
            label = QLabel(o.words)
            label.setWordWrap(True)
            label.setToolTip(line)
            show = button("Show", partial(self.shown.emit, o.pose), "As a pose of this figure", bare=True)
            show.setAccessibleName(f"Show: {o.words}")
            across(_Mark(o.reachable), (label, 1), show, owner=row, spacing=6)
            self.need_rows.addWidget(row)
            for c in o.changes:
                self.need_rows.addWidget(soft(f"      With {c.words} it could.", wrap=True))

    def show_sides(self, names: Sequence[str]) -> None:
        """Limbs of the picture of which nobody knows whether they point toward the viewer."""
        while self.side_rows.count():
            item = self.side_rows.takeAt(0)
            if item is not None and (w := item.widget()) is not None:
                w.hide()
                w.deleteLater()
        if names:
            self.side_rows.addWidget(soft("Toward the viewer, or away? One click turns it over:", wrap=True))
        for n in names:
            kind, _, side = n.rpartition("_")
            words = f"{'left' if side == 'l' else 'right'} {kind.replace('_', ' ')}" if kind and side in "lr" else n
            self.side_rows.addWidget(
                button(words.capitalize(), partial(self.side_told.emit, n), "To the other side of the picture’s plane")
            )

    # ---- hand

    def _chosen(self, _: object) -> None:
        self._usual()

    def _usual(self) -> None:
        action = ACTIONS[str(self.action.currentData())]
        self.amount.setVisible(bool(action.asks))
        self.amount.setToolTip(action.asks)
        if action.usual is not None and self._build is not None and self.amount.property("for") != action.name:
            with quiet(self.amount):
                self.amount.setValue(action.usual(self._build))
            self.amount.setProperty("for", action.name)

    def _add(self) -> None:
        action = ACTIONS[str(self.action.currentData())]
        words = {"sit": "sit on a seat", "step": "step up", "look over rail": "look over a rail"}.get(action.name, action.name)
        self.asked.emit(f"{words} at {self.amount.value():g} heads" if action.asks else words)

    def _give(self, cid: object) -> None:
        if cid:
            self.given.emit(str(cid))


def dialled(pose: Pose, joint: str, k: int, value: float) -> Pose:
    """A pose with one angle of the trunk set."""
    v = list(pose.angles.get(joint, (0.0, 0.0, 0.0)))
    v[k] = value
    return pose.with_angles({joint: v})
