"""What stands right of the station's name: the library's buttons, or those of the sample drawing that is open."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QStackedWidget, QWidget

from ....core.landmarks.views import VIEW_WORDS
from ....core.project.model import Character, Drawing
from ..base import button
from ..marking import counts_words, estimated

if TYPE_CHECKING:
    from .station import StylesStation


class StylesBar(QStackedWidget):
    def __init__(self, station: StylesStation):
        super().__init__()
        self.setFixedHeight(34)
        s = station
        library, row = _row()
        self.toward = button(
            "Plan toward it", s.plan_toward, "Plan this character toward the shown style (Ctrl+Return)", strong=True
        )
        self.copy = button("Edit a copy", s.copy_style, "Take this style into the project and change it there")
        for w in (
            button("New…", s.new_study, "A new style, learned from drawings you add (Ctrl+Shift+Y)"), self.copy,
            button("Open…", s.import_style, "Open a style file"), button("Save as…", s.export_style, "Save this style as a file"), self.toward,
        ):  # fmt: skip
            row.addWidget(w)
        sample, row = _row()
        self.view, self.counts = QComboBox(), QLabel()
        for key, words in VIEW_WORDS.items():
            self.view.addItem(words, key)
        self.view.setAccessibleName("What the drawing shows")
        self.view.activated.connect(lambda i: s.samples.show_view(str(self.view.itemData(i))))
        self.find = button("Find face", s.samples.find, "Lay points by the face network (Ctrl+J)")
        self.confirm_all = button(
            "Confirm", s.samples.confirm_all, "Say that all estimated points are right (Ctrl+Return)", strong=True
        )
        for w in (
            self.counts, self.view, self.find, button("Three clicks…", s.samples.seed, "Click three points; the rest is laid out (Ctrl+L)"),
            self.confirm_all, button("Done", s.samples.close, "Back to the style (Esc)"),
        ):  # fmt: skip
            row.addWidget(w)
        self.addWidget(library)
        self.addWidget(sample)

    def show_sample(self, sample: Drawing) -> None:
        self.setCurrentIndex(1)
        loose = len(estimated(sample.marks))
        self.view.setCurrentIndex(self.view.findData(sample.marks.view))
        self.counts.setText(counts_words(sample.marks))
        self.find.setVisible(sample.marks.view == "front")
        self.confirm_all.setVisible(loose > 0)
        self.confirm_all.setText(f"Confirm {loose}")

    def show_library(self, c: Character | None, shown: str) -> None:
        self.setCurrentIndex(0)
        self.toward.setEnabled(c is not None and c.decisions.style != shown)
        self.toward.setText(f"Plan {c.name.split()[0]} toward it"[:28] if c else "Plan toward it")


def _row() -> tuple[QWidget, QHBoxLayout]:
    w = QWidget()
    row = QHBoxLayout(w)
    row.setContentsMargins(0, 0, 0, 0)
    row.addStretch(1)
    return w, row
