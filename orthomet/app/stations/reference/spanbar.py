"""Naming an own span once its two ends are marked: what it is called, what it is divided by."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDoubleSpinBox, QLabel, QWidget

from ....core.landmarks.own import DIVISORS, OwnSpan
from ...parts import across, button, choices, entry


class SpanBar(QWidget):
    """A line under the stage; shown while a span waits for its name."""

    kept = Signal(str, str, float)
    """Name, divisor, what is usual for it (0: not said)."""
    dropped = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        row = across(QLabel("Own span"), owner=self, margins=(52, 0, 12, 10), spacing=None)
        self.name = entry("Name of the span", "What is it? Bun, shell, quiff…", 60)
        self.name.returnPressed.connect(self._keep)
        row.addWidget(self.name, 1)
        row.addWidget(QLabel("in"))
        self.by = choices("What the span is divided by")
        row.addWidget(self.by)
        self.usual = QDoubleSpinBox()
        self.usual.setRange(0, 1000)
        self.usual.setDecimals(2)
        self.usual.setSingleStep(0.1)
        self.usual.setSpecialValueText("usual: not said")
        self.usual.setPrefix("usual ")
        self.usual.setAccessibleName("What is usual for it")
        self.usual.setToolTip(
            "What such a part usually measures: the plan exaggerates about it. Leave it out where nothing is usual"
        )
        row.addWidget(self.usual)
        self.keep = button("Keep", self._keep, "Keep the span as a reading of this character", strong=True)
        row.addWidget(self.keep)
        row.addWidget(button("Drop", self.dropped.emit, "Forget the span (Esc)"))
        self.hide()

    def ask(self, view: str, spans: tuple[OwnSpan, ...], stick: bool = False) -> None:
        self.by.clear()
        for key, words in DIVISORS.items():
            if view == "front" or key == "hh":
                self.by.addItem(words, key)
        for s in spans:
            if s.view == view:
                self.by.addItem(f"lengths of “{s.name}”", f"own:{s.id}")
        if stick:
            self.by.addItem("lengths of the stick", "stick")
        self.by.setCurrentIndex(max(0, self.by.findData("stick" if stick else "hh")))
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
