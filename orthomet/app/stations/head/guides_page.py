"""The page of the guides: whose lines, their dials, and the steps one by one, together, or played."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QLabel, QListView, QListWidget, QListWidgetItem, QWidget

from ....core.gauges.schooled import apart_words, triangle_words
from ....core.styles.schools import School, schools
from ...parts import button, choices, quiet
from ..dials import Choice, SchoolDials
from ..pages import Page

OWN = ""
"""The plan's own lines instead of a school's."""
PLAY_MS = 1100
"""How long each step stands while they are played."""
ALL, UP_TO, ONLY = range(3)


class GuidesPage(Page):
    school_chosen = Signal(str)
    setting_began = Signal(str)
    setting_moved = Signal(str, float)
    setting_dropped = Signal()
    shown = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Whose lines")
        self.box = choices("Guide lines", slot=self.school_chosen.emit)
        self.box.addItem("The plan’s own lines", OWN)
        for s in schools().values():
            self.box.addItem(s.title, s.name)
        self.rows.addWidget(self.box)
        self.about = self.note("")
        self.lines = SchoolDials(self.box)
        self.lines.began.connect(self.setting_began)
        self.lines.moved.connect(self.setting_moved)
        self.lines.settled.connect(self.setting_dropped)
        self.rows.addWidget(self.lines)
        self.steps_title = self.section("Steps")
        self.mode = Choice("Show", ["all steps", "up to the chosen one", "the chosen one alone"], "Singly or one upon the other")
        self.mode.chosen.connect(lambda _: self.shown.emit())
        self.rows.addWidget(self.mode)
        self.list = QListWidget()
        self.list.setAccessibleName("Steps of the school")
        self.list.setWordWrap(True)
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setTextElideMode(Qt.TextElideMode.ElideNone)
        self.list.setFixedHeight(212)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentRowChanged.connect(self._step_chosen)
        self.rows.addWidget(self.list)
        self.play = button("Play the steps", self.toggle_play, "One step after the other (P)")
        self.play.setCheckable(True)
        self.row(self.play)
        self.section("Apart from plan and norm, in heads")
        self.apart = QLabel()
        self.apart.setWordWrap(True)
        self.rows.addWidget(self.apart)
        self.triangle = self.note("")
        self.end()
        self._clock = QTimer(self)
        self._clock.timeout.connect(self._next)
        self._school = ""

    # ---- which steps

    def steps(self) -> range | None:
        """The steps that are shown; ``None`` for all."""
        k, mode = max(self.list.currentRow(), 0), self.mode.box.currentIndex()
        if mode == ALL or not self._school:
            return None
        return range(k + 1) if mode == UP_TO else range(k, k + 1)

    def _step_chosen(self, _: int) -> None:
        if self.mode.box.currentIndex() != ALL:
            self.shown.emit()

    def toggle_play(self) -> None:
        if self._clock.isActive() or not self._school:
            self._stop()
            return
        self.mode.show_choice(UP_TO)
        self.list.setCurrentRow(0)
        self._clock.start(PLAY_MS)
        self.play.setChecked(True)
        self.play.setText("Stop")
        self.shown.emit()

    def _next(self) -> None:
        if self.list.currentRow() + 1 >= self.list.count() or not self.isVisible():
            self._stop()
        else:
            self.list.setCurrentRow(self.list.currentRow() + 1)

    def _stop(self) -> None:
        self._clock.stop()
        self.play.setChecked(False)
        self.play.setText("Play the steps")

    # ---- content

    def set_content(
        self,
        shown: School | None,
        settings: Mapping[str, float],
        table: Mapping[str, float],
        usual: Mapping[str, float],
        triangle: tuple[float, float, float],
    ) -> None:
        """``usual``: the norm's readings; ``triangle``: the plan's, and the band of its style."""
        name = shown.name if shown else OWN
        self.box.setCurrentIndex(max(0, self.box.findData(name)))
        if name != self._school or not self.about.text():
            self._school = name
            self._stop()
            self._rebuild(shown)
        self.lines.show_school(shown, settings)
        self.apart.setText(apart_words(shown, settings, table, usual))
        self.triangle.setText(triangle_words(*triangle))

    def _rebuild(self, shown: School | None) -> None:
        self.about.setText(
            f"{shown.note} Source: {shown.source}."
            if shown
            else "Brow, eye, nose and mouth where the plan puts them, as sections round the head, with the centre line and the hairline."
        )
        with quiet(self.list):
            self.list.clear()
            for n, step in enumerate(shown.steps if shown else (), 1):
                self.list.addItem(QListWidgetItem(f"{n}  {step.say}"))
            self.list.setCurrentRow(0)
        for w in (self.steps_title, self.mode, self.list, self.play):
            w.setVisible(shown is not None)
