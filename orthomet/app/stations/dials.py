"""A dial: one value in words with a slider, told while it moves and once it is settled; or a choice among words."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QMouseEvent
from PySide6.QtWidgets import QComboBox, QGridLayout, QLabel, QSlider, QWidget

STEPS = 200


class _Slider(QSlider):
    reset = Signal()

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        self.reset.emit()


class Dial(QWidget):
    """Name, slider and value on one line; double-click puts it back."""

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
    ):
        super().__init__()
        self.low, self.high, self.default, self.whole, self.ends = low, high, default, whole, ends
        self.name = QLabel(words)
        self.name.setToolTip(tip)
        self.slider = _Slider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, round(high - low) if whole else STEPS)
        self.slider.setPageStep(1 if whole else STEPS // 10)
        self.slider.setAccessibleName(words)
        self.slider.setToolTip(f"{tip}\nDouble-click: back to its usual value".strip())
        self.value_words = QLabel()
        self.value_words.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        for column, (w, width) in enumerate(((self.name, 132), (self.slider, 0), (self.value_words, 78))):
            grid.addWidget(w, 0, column)
            if width:
                w.setFixedWidth(width)
        grid.setColumnStretch(1, 1)
        self.slider.sliderPressed.connect(self.began)
        self.slider.sliderReleased.connect(self.settled)
        self.slider.valueChanged.connect(self._changed)
        self.slider.reset.connect(self._reset)
        self.show_value(default)

    def value(self) -> float:
        v = self.slider.value()
        return self.low + v if self.whole else self.low + (self.high - self.low) * v / STEPS

    def show_value(self, value: float) -> None:
        """Show a value without telling of it; while it is held the hand knows better."""
        if not self.slider.isSliderDown():
            v = round(value - self.low) if self.whole else round((value - self.low) / (self.high - self.low) * STEPS)
            self.slider.blockSignals(True)
            self.slider.setValue(v)
            self.slider.blockSignals(False)
        self._say(value)

    def _say(self, value: float) -> None:
        low, high = self.ends
        span = max(abs(self.high - self.default), abs(self.default - self.low))
        if self.whole:
            words = f"{value:.0f}"
        elif low or high:
            share = (value - self.default) / span
            words = "–" if abs(share) < 0.02 else f"{abs(share):.0%} {high if share > 0 else low}".replace("%", " %")
        else:
            words = f"{value:.2f}" if span < 10 else f"{value:.0f}"
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

    def _reset(self) -> None:
        self.slider.setSliderDown(False)
        self.show_value(self.default)
        self._step(self.default)


class Choice(QWidget):
    """A name and a list to choose from, by position."""

    chosen = Signal(int)

    def __init__(self, words: str, options: list[str], tip: str = "", slot: Callable[[int], object] | None = None):
        super().__init__()
        self.box = QComboBox()
        self.box.addItems(options)
        self.box.setAccessibleName(words)
        self.box.setToolTip(tip)
        self.box.activated.connect(self.chosen)
        if slot is not None:
            self.chosen.connect(slot)
        name = QLabel(words)
        name.setToolTip(tip)
        name.setFixedWidth(132)
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(8)
        grid.addWidget(name, 0, 0)
        grid.addWidget(self.box, 0, 1)
        grid.setColumnStretch(1, 1)

    def show_choice(self, index: int) -> None:
        self.box.setCurrentIndex(max(0, min(index, self.box.count() - 1)))
