"""The page of the expression: what lids, brows, mouth, jaw and gaze do; never the plan."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from ....core.features.expression import WORDS, Expression
from ...parts import button
from ..dials import Dial
from ..pages import Page


class ExpressionPage(Page):
    began = Signal(str)
    moved = Signal(str, float)
    dropped = Signal()
    rest_wanted = Signal()
    viewer_wanted = Signal()
    sheet_wanted = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Expression")
        self.note("The face wears it; the plan, its gauges and its guides stay as they are. Presets stand below the head.")
        self.dials: dict[str, Dial] = {}
        for key, (words, low, high) in WORDS.items():
            bounds = Expression.model_fields[key].metadata
            bottom = next(m.ge for m in bounds if hasattr(m, "ge"))
            tip = f"{words}: {low or 'at rest'} to {high}"
            dial = Dial(words, float(bottom), 1.0, 0.0, tip, (low, high))
            dial.began.connect(lambda w=words: self.began.emit(w))
            dial.moved.connect(lambda v, key=key: self.moved.emit(key, v))
            dial.settled.connect(self.dropped)
            self.rows.addWidget(dial)
            self.dials[key] = dial
        self.row(
            button("At rest", self.rest_wanted.emit, "Every dial back to nothing"),
            button("Look at the viewer", self.viewer_wanted.emit, "Turn the eyes toward whoever looks at the page"),
        )
        self.section("On paper")
        self.row(button("Expression sheet…", self.sheet_wanted.emit, "This head with all six expressions, at this turn"))
        self.end()

    def set_content(self, e: Expression) -> None:
        for key, dial in self.dials.items():
            dial.show_value(getattr(e, key))
