"""What stands right of the station's name: the library's buttons, or those of the sample drawing that is open."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QStackedWidget, QWidget

from ....core.landmarks.views import VIEW_WORDS
from ....core.project.model import Character, Drawing
from ...parts import across, button, choices, put_in
from ..marking import Marking, counts_words
from ..pages import fill


class StylesBar(QStackedWidget):
    plan_toward, copied, new, opened, saved, done = Signal(), Signal(), Signal(), Signal(), Signal(), Signal()

    def __init__(self, marking: Marking):
        super().__init__()
        self.setFixedHeight(34)
        library, row = _row()
        self.toward = button(
            "Plan toward it", self.plan_toward.emit, "Plan this character toward the shown style (Ctrl+Return)", strong=True
        )
        self.copy = button("Edit a copy", self.copied.emit, "Take this style into the project and change it there")
        put_in(
            row, button("New…", self.new.emit, "A new style, learned from drawings you add (Ctrl+Shift+Y)"), self.copy,
            button("Open…", self.opened.emit, "Open a style file"), button("Save as…", self.saved.emit, "Save this style as a file"), self.toward,
        )  # fmt: skip
        sample, row = _row()
        self.counts, self.view = QLabel(), choices("What the drawing shows", slot=marking.show_view)
        fill(self.view, [(words, key) for key, words in VIEW_WORDS.items()], "front")
        self.find_face = button("Find face", marking.find, "Lay points by the face network (Ctrl+J)")
        self.confirm_all = button(
            "Confirm", marking.confirm_all, "Say that all estimated points are right (Ctrl+Return)", strong=True
        )
        put_in(
            row, self.counts, self.view, self.find_face, button("Three clicks…", marking.seed, "Click three points; the rest is laid out (Ctrl+L)"),
            self.confirm_all, button("Done", self.done.emit, "Back to the style (Esc)"),
        )  # fmt: skip
        self.addWidget(library)
        self.addWidget(sample)

    def show_sample(self, sample: Drawing) -> None:
        self.setCurrentIndex(1)
        loose = len(sample.marks.estimated)
        self.view.setCurrentIndex(self.view.findData(sample.marks.view))
        self.counts.setText(counts_words(sample.marks))
        self.find_face.setVisible(sample.marks.view == "front")
        self.confirm_all.setVisible(loose > 0)
        self.confirm_all.setText(f"Confirm {loose}")

    def show_library(self, c: Character | None, shown: str) -> None:
        self.setCurrentIndex(0)
        self.toward.setEnabled(c is not None and c.decisions.style != shown)
        self.toward.setText(f"Plan {c.name.split()[0]} toward it"[:28] if c else "Plan toward it")


def _row() -> tuple[QWidget, QHBoxLayout]:
    w = QWidget()
    row = across(..., owner=w, spacing=None)
    return w, row
