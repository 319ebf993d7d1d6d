"""A dial: one value in words with a slider, told while it moves and once it is settled, or typed; or a choice among words."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QLabel, QLineEdit, QSlider, QWidget

from ...core.styles.schools import School
from ..parts import across, choices, down, quiet
from .pages import put_away

STEPS = 200
NAMES, VALUES = 132, 78
"""Widths of the columns of names and values, so that dials and choices line up."""


class _Slider(QSlider):
    reset = Signal()
    typed = Signal()

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        self.reset.emit()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.typed.emit()
        else:
            super().keyPressEvent(e)


class _Value(QLabel):
    clicked = Signal()

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.clicked.emit()


class _Entry(QLineEdit):
    """A number typed in a value's place; Esc or leaving it gives it up."""

    left = Signal()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_Escape:
            self.left.emit()
        else:
            super().keyPressEvent(e)

    def focusOutEvent(self, e: QFocusEvent) -> None:
        super().focusOutEvent(e)
        self.left.emit()


class Dial(QWidget):
    """Name, slider and value on one line; double-click puts it back, a click on the value (or Enter) lets one type it."""

    began = Signal()
    moved = Signal(float)
    settled = Signal()

    def __init__(
        self,
        words: str,
        low: float,
        high: float,
        default: float,
        tip: str = "",
        ends: tuple[str, str] = ("", ""),
        whole: bool = False,
        unit: str = "",
    ):
        super().__init__()
        self.unit = unit
        self.low, self.high, self.default, self.whole, self.ends = low, high, default, whole, ends
        self.name = QLabel(words)
        self.name.setToolTip(tip)
        self.slider = _Slider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, round(high - low) if whole else STEPS)
        self.slider.setPageStep(1 if whole else STEPS // 10)
        self.slider.setAccessibleName(words)
        self.slider.setToolTip(f"{tip}\nDouble-click: back to its usual value".strip())
        self.value_words = _Value()
        self.value_words.setCursor(Qt.CursorShape.IBeamCursor)
        self.value_words.setToolTip("Click to type it")
        self.entry = _Entry()
        self.entry.setAccessibleName(f"{words}, as a number")
        self.entry.hide()
        self.value_words.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        self.name.setFixedWidth(NAMES)
        self.value_words.setFixedWidth(VALUES)
        self.entry.setFixedSize(VALUES, 22)
        across(self.name, (self.slider, 1), self.value_words, self.entry, owner=self, spacing=8)
        self.slider.sliderPressed.connect(self.began)
        self.slider.sliderReleased.connect(self.settled)
        self.slider.valueChanged.connect(self._changed)
        self.slider.reset.connect(self._reset)
        self.slider.typed.connect(self.type_in)
        self.value_words.clicked.connect(self.type_in)
        self.entry.returnPressed.connect(self._take_typed)
        self.entry.left.connect(self._leave_typing)
        self.show_value(default)

    def value(self) -> float:
        v = self.slider.value()
        return self.low + v if self.whole else self.low + (self.high - self.low) * v / STEPS

    def show_value(self, value: float) -> None:
        """Show a value without telling of it; while it is held the hand knows better."""
        if not self.slider.isSliderDown():
            v = round(value - self.low) if self.whole else round((value - self.low) / (self.high - self.low) * STEPS)
            with quiet(self.slider):
                self.slider.setValue(v)
        self._shown = value
        self._say(value)

    @property
    def _in_shares(self) -> bool:
        """Told in per cent of its span rather than as it is."""
        return any(self.ends) and not self.whole and not self.unit

    @property
    def _span(self) -> float:
        return max(abs(self.high - self.default), abs(self.default - self.low))

    def _say(self, value: float) -> None:
        low, high = self.ends
        span = self._span
        if self.whole:
            words = f"{value:.0f}"
        elif self.unit:
            words = "–" if abs(value) < 0.5 else f"{abs(value):.0f}{self.unit} {high if value > 0 else low}".strip()
        elif low or high:
            share = (value - self.default) / span
            words = "–" if abs(share) < 0.02 else f"{abs(share):.0%} {high if share > 0 else low}".replace("%", " %")
        else:
            words = f"{value:.3f}" if span < 0.3 else f"{value:.2f}" if span < 10 else f"{value:.0f}"
        self.value_words.setText(words)

    def _changed(self, _: int) -> None:
        if self.slider.isSliderDown():
            self.moved.emit(self.value())
        else:  # keys and clicks are a step of their own
            self._step(self.value())

    def _step(self, value: float) -> None:
        self.began.emit()
        self.moved.emit(value)
        self.settled.emit()

    # ---- typing

    def type_in(self) -> None:
        """Put a line in the value's place: its number, or its share in per cent where it is told as one."""
        v = self._shown
        shares = self._in_shares
        self.entry.setText(
            f"{100 * (v - self.default) / self._span:.0f} %" if shares else f"{v:.0f}" if self.whole else f"{v:.3g}"
        )
        self.entry.setToolTip(self._may_be())
        self.value_words.hide()
        self.entry.show()
        self.entry.selectAll()
        self.entry.setFocus()

    def _may_be(self) -> str:
        if self._in_shares:
            a, b = (100 * (v - self.default) / self._span for v in (self.low, self.high))
            return f"Per cent, {a:.0f} to {b:.0f}: minus is {self.ends[0] or 'less'}, plus {self.ends[1] or 'more'}"
        return f"A number from {self.low:g} to {self.high:g}"

    def _take_typed(self) -> None:
        text = self.entry.text().replace("−", "-").replace(",", ".").replace("%", "").strip()
        try:
            v = float(text)
        except ValueError:
            v = float("nan")
        if not math.isfinite(v):
            self.entry.setText("")
            self.entry.setPlaceholderText("a number")
            return
        if self._in_shares:
            v = self.default + v / 100 * self._span
        v = min(max(round(v) if self.whole else v, self.low), self.high)
        self._leave_typing()
        self.show_value(v)
        self._step(v)
        self.slider.setFocus()

    def _leave_typing(self) -> None:
        self.entry.hide()
        self.entry.setPlaceholderText("")
        self.value_words.show()

    def _reset(self) -> None:
        self.slider.setSliderDown(False)
        self.show_value(self.default)
        self._step(self.default)


class Choice(QWidget):
    """A name and a list to choose from, by position."""

    chosen = Signal(int)

    def __init__(self, words: str, options: list[str], tip: str = "", slot: Callable[[int], object] | None = None):
        super().__init__()
        self.box = choices(words, tip)
        self.box.addItems(options)
        self.box.activated.connect(self.chosen)
        if slot is not None:
            self.chosen.connect(slot)
        name = QLabel(words)
        name.setToolTip(tip)
        name.setFixedWidth(NAMES)
        across(name, (self.box, 1), owner=self, spacing=8)

    def show_choice(self, index: int) -> None:
        self.box.setCurrentIndex(max(0, min(index, self.box.count() - 1)))


class SchoolDials(QWidget):
    """A dial for every line a guide school lets one choose; none where it lets none."""

    began = Signal(str)
    moved = Signal(str, float)
    settled = Signal()

    def __init__(self, heir: QWidget, spacing: int = 7):
        """``heir`` gets the keys when dials that hold them go."""
        super().__init__()
        self.heir, self.dials = heir, dict[str, Dial]()
        self._school: School | None = None
        self._rows = down(owner=self, spacing=spacing)

    def show_school(self, school: School | None, settings: Mapping[str, float]) -> None:
        if school is not self._school:
            self._school = school
            self._build(school)
        for key, dial in self.dials.items():
            if school is not None:
                dial.show_value(settings.get(key, school.settings[key].default))

    def _build(self, school: School | None) -> None:
        for dial in self.dials.values():
            self._rows.removeWidget(dial)
            put_away(dial, self.heir)
        self.dials = {}
        for key, s in school.settings.items() if school is not None else ():
            words = s.words.removeprefix("The ")
            dial = self.dials[key] = Dial(words[:1].upper() + words[1:], s.low, s.high, s.default, s.words)
            dial.began.connect(partial(self.began.emit, s.words))
            dial.moved.connect(partial(self.moved.emit, key))
            dial.settled.connect(self.settled)
            self._rows.addWidget(dial)
        self.setVisible(bool(self.dials))
