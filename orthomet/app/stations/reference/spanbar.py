"""Naming an own span once its two ends are marked: what it is called, what it is divided by."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLabel, QWidget

from ....core.landmarks.own import DIVISORS, OwnSpan
from ...parts import across, button, choices, entry
from ..pages import fill, number_box


class SpanBar(QWidget):
    """A line under the stage; shown while a span waits for its name."""

    kept = Signal(str, str, float)
    """Name, divisor, what is usual for it (0: not said)."""
    dropped = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.name = entry("Name of the span", "What is it? Bun, shell, quiff…", 60)
        self.name.returnPressed.connect(self._keep)
        self.by = choices("What the span is divided by")
        tip = "What such a part usually measures: the plan exaggerates about it. Leave it out where nothing is usual"
        self.usual = number_box(0, 1000, 0.1, 2, "", tip, lambda _: None)
        self.usual.setSpecialValueText("usual: not said")
        self.usual.setPrefix("usual ")
        self.usual.setAccessibleName("What is usual for it")
        self.keep = button("Keep", self._keep, "Keep the span as a reading of this character", strong=True)
        drop = button("Drop", self.dropped.emit, "Forget the span (Esc)")
        items = (QLabel("Own span"), (self.name, 1), QLabel("in"), self.by, self.usual, self.keep, drop)
        across(*items, owner=self, margins=(52, 0, 12, 10), spacing=None)
        self.hide()

    def ask(self, view: str, spans: tuple[OwnSpan, ...], stick: bool = False) -> None:
        rows = [(words, key) for key, words in DIVISORS.items() if view == "front" or key == "hh"]
        rows += [(f"lengths of “{s.name}”", f"own:{s.id}") for s in spans if s.view == view]
        fill(self.by, [*rows, ("lengths of the stick", "stick")] if stick else rows, "stick" if stick else "hh")
        self.name.clear()
        self.usual.setValue(0)
        self.show()
        self.name.setFocus()

    def _keep(self) -> None:
        words = self.name.text().strip()
        if words:
            self.kept.emit(words, str(self.by.currentData()), self.usual.value())
        else:
            self.name.setFocus()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_Escape:
            self.dropped.emit()
        else:
            super().keyPressEvent(e)
