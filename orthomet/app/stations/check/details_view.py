"""Counted details and attachment lines of a drawing: declared once, asked on each."""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QComboBox, QLabel, QSpinBox, QWidget

from ....core.check.details import AttachedSeen, CountSeen
from ....core.landmarks.views import SCHEMAS
from ...parts import across, button, choices, down, entry, soft
from ...theme.tokens import PAD
from ..pages import fill, number_box, put

SIDES = [("", "any side"), ("left", "left"), ("right", "right"), ("both", "each side")]


@dataclass(frozen=True)
class Details:
    """What is shown: details, attachments, and the view whose landmarks an attachment may lie between."""

    counts: tuple[CountSeen, ...] = ()
    attached: tuple[AttachedSeen, ...] = ()
    view: str = "front"


class DetailsView(QWidget):
    counted = Signal(str, int)
    count_wanted = Signal(str)
    """Count a detail's dark spots in a zone that is to be clicked."""
    place_wanted = Signal(str)
    """Click where an attachment sits."""
    detail_added = Signal(str, int, str, str)
    """Name, count, where, side."""
    line_added = Signal(str, str, str, float)
    """Name, from, to, share."""
    forgotten = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("inner")
        self.boxes: dict[str, QSpinBox] = {}
        self.lay = down(owner=self, margins=(0, 0, 0, 6))
        title = QLabel("Details")
        title.setProperty("lettering", "group")
        self.add = button(
            "Add…", self._toggle_form, "Declare a detail to be counted, or where a hem, belt or strap sits", bare=True
        )
        self.lay.addLayout(across((title, 1), self.add, margins=(PAD, 6, PAD, 2), spacing=None))
        self.rows: list[QWidget] = []
        self.place = down()
        self.lay.addLayout(self.place)
        self.form = self._form()
        self.lay.addWidget(self.form)
        self.form.hide()
        self._shown: Details | None = None

    def _form(self) -> QWidget:
        w = QWidget()
        self.name = entry("Name of the detail", "freckles, buttons, belt…", 60)
        self.count = QSpinBox()
        self.count.setRange(0, 500)
        self.count.setValue(3)
        self.count.setAccessibleName("How many")
        self.where = entry("On which part", "left lid, coat…", 60)
        self.side = choices("On which side")
        fill(self.side, [(words, key) for key, words in SIDES], "")
        count = button("Count it", self._add_detail, "Asked on every drawing", strong=True)
        self.start, self.end = choices("From"), choices("To")
        for box, wide in ((self.side, 98), (self.start, 132), (self.end, 132)):
            box.setMinimumContentsLength(6)
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            box.setFixedWidth(wide)
        self.count.setFixedWidth(58)
        self.share = number_box(-50, 150, 1, 0, " %", "How far along it sits", lambda v: None)
        put(self.share, 50)
        line = button("It sits there", self._add_line, "A hem, belt or strap, as a share of the way from one point to another")
        rows = (
            across((self.name, 1), self.count, self.side, spacing=6),
            across((self.where, 1), count, spacing=6),
            across(soft("or from"), self.start, soft("to"), self.end, ..., spacing=6),
            across(self.share, ..., line, spacing=6),
        )
        down(*rows, owner=w, margins=(PAD, 2, PAD, 6), spacing=5)
        return w

    def _toggle_form(self) -> None:
        self.form.setVisible(not self.form.isVisible())
        if self.form.isVisible():
            self.name.setFocus()

    def _add_detail(self) -> None:
        name = self.name.text().strip()
        if name:
            self.detail_added.emit(name, self.count.value(), self.where.text().strip(), self.side.currentData())
            self._done()

    def _add_line(self) -> None:
        name = self.name.text().strip()
        if name and self.start.currentData() != self.end.currentData():
            self.line_added.emit(name, self.start.currentData(), self.end.currentData(), self.share.value() / 100)
            self._done()

    def _done(self) -> None:
        self.name.clear()
        self.where.clear()
        self.form.hide()

    def show_details(self, d: Details) -> None:
        if d == self._shown:
            return
        if self._shown is None or self._shown.view != d.view:
            names = [(m.words, m.name) for m in SCHEMAS[d.view].landmarks]
            fill(self.start, names, names[0][1])
            fill(self.end, names, names[-1][1])
        self._shown = d
        for w in self.rows:
            self.place.removeWidget(w)
            w.hide()
            w.deleteLater()
        self.boxes = {}
        self.rows = [self._count_row(x) for x in d.counts] + [self._line_row(x) for x in d.attached]
        for w in self.rows:
            self.place.addWidget(w)

    def _count_row(self, x: CountSeen) -> QWidget:
        box = self.boxes[x.detail.id] = QSpinBox()
        box.setRange(-1, 500)
        box.setSpecialValueText("?")
        box.setValue(-1 if x.seen is None else x.seen)
        box.setAccessibleName(f"How many {x.detail.name} are drawn")
        box.setToolTip("How many are drawn; a number key answers at once")
        box.setKeyboardTracking(False)
        box.valueChanged.connect(partial(self._counted, x.detail.id))
        spots = button(
            "Spots…",
            partial(self.count_wanted.emit, x.detail.id),
            "Click two corners of the zone: its dark spots are counted",
            bare=True,
        )
        return self._row(x.words, x.off, x.detail.id, spots, box)

    def _counted(self, key: str, value: int) -> None:
        if value >= 0:
            self.counted.emit(key, value)

    def _line_row(self, x: AttachedSeen) -> QWidget:
        b = button("Click it…", partial(self.place_wanted.emit, x.line.id), "Click where it sits on the drawing", bare=True)
        return self._row(x.words, x.off, x.line.id, b)

    def _row(self, words: str, off: bool, key: str, *more: QWidget) -> QWidget:
        w = QWidget()
        label = QLabel(f"◆ {words}" if off else words)
        label.setWordWrap(True)
        if off:
            label.setProperty("look", True)
        forget = button("×", partial(self.forgotten.emit, key), "Ask for it no more", bare=True)
        forget.setAccessibleName(f"Forget {words}")
        across((label, 1), *more, forget, owner=w, margins=(PAD, 2, PAD, 2), spacing=6)
        return w
