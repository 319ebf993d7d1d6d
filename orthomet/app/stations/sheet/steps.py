"""The steps of a guide school, each a layer of the page to switch on and off, and where the school departs from the plan."""

from __future__ import annotations

from collections.abc import Set
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QLabel, QScrollArea, QWidget

from ....core.styles.schools import Departure, School
from ...parts import down, put_in, quiet, soft, tick
from ...theme.tokens import PAD
from ..pages import show_in

LAYERS = (
    ("plan-lines", "Plan lines", "Where your plan puts each line"),
    ("outline", "Head outline", "Outline, ears, neck, hairline"),
    ("features", "Features", "Eyes, brows, nose, mouth"),
)


class StepsList(QScrollArea):
    """Boxes stay as long as the school does: ticking one changes what is on the page and nothing in this list."""

    toggled = Signal(str, bool)
    """A layer's id, and whether it is to be seen."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("scroll")
        self.setWidgetResizable(True)
        self.boxes: dict[str, QCheckBox] = {}
        self._school = ""
        self._departures: list[QLabel] = []
        self._end = down(spacing=None)

    def set_content(self, s: School, hidden: Set[str], departures: list[Departure]) -> None:
        if s.name != self._school:
            self._school = s.name
            self._build(s)
        for key, box in self.boxes.items():
            with quiet(box):
                box.setChecked(key not in hidden)
        self._show_departures(departures)

    def _build(self, s: School) -> None:
        inner = QWidget()
        inner.setObjectName("inner")
        column = down(_heading("Steps"), owner=inner, margins=(PAD, 0, PAD, 10), spacing=5)
        self.boxes = {}
        steps = [(f"{s.name}-{k}", f"{k}  {st.name}", st.say) for k, st in enumerate(s.steps, 1)]
        for key, words, say in (*steps, *LAYERS):
            self.boxes[key] = tick(words, say, partial(self.toggled.emit, key))
            note = soft(say, wrap=True)
            note.setContentsMargins(21, 0, 0, 2)
            put_in(column, self.boxes[key], note)
        self._departures, self._end = [], down(spacing=None)
        put_in(column, 6, _heading("Where the school departs from your plan"), self._end, ...)
        show_in(self, inner)

    def _show_departures(self, departures: list[Departure]) -> None:
        while len(self._departures) < len(departures):
            label = QLabel()
            label.setWordWrap(True)
            self._departures.append(label)
            self._end.addWidget(label)
        for k, label in enumerate(self._departures):
            label.setVisible(k < len(departures))
            if k < len(departures):
                label.setText(_words(departures[k]))


def _words(d: Departure) -> str:
    name = d.reading.removesuffix("_station").replace("_", " ")
    side = "agrees" if abs(d.heads) < 0.004 else f"{abs(d.heads):.3f} heads {'lower' if d.heads > 0 else 'higher'}"
    return f"{name[0].upper()}{name[1:]}: school {d.school:.3f}, plan {d.other:.3f}, {side}"


def _heading(words: str) -> QLabel:
    q = QLabel(words)
    q.setProperty("lettering", "group")
    return q
