"""Dials, choices, panning and tiles by hand."""

from __future__ import annotations

from typing import Any

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QWidget

from orthomet.app.stage.pannable import Pannable
from orthomet.app.stations.dials import Choice, Dial
from orthomet.app.stations.tile_strip import Tile, TileStrip
from orthomet.core.picture import Ink, Layer, Picture, line

from .conftest import at, drag, pixels


def heard(dial: Dial) -> list[object]:
    out: list[object] = []
    dial.began.connect(lambda: out.append("began"))
    dial.moved.connect(out.append)
    dial.settled.connect(lambda: out.append("settled"))
    return out


def shown(w: QWidget, qtbot: Any, width: int = 340) -> Any:
    qtbot.addWidget(w)
    w.resize(width, w.sizeHint().height())
    w.show()
    return w


def test_a_key_is_a_step_of_its_own_and_a_drag_one_step(qtbot: Any) -> None:
    dial = shown(Dial("Width", 0.0, 2.0, 1.0), qtbot)
    told = heard(dial)
    QTest.keyClick(dial.slider, Qt.Key.Key_Right)
    assert told[0] == "began" and told[-1] == "settled" and told[1] == pytest.approx(1.01)
    told.clear()
    s = dial.slider
    drag(s, QPointF(s.width() / 2, s.height() / 2), QPointF(s.width() - 8, s.height() / 2), steps=5)
    assert told.count("began") == told.count("settled") == 1 and told[-2] > 1.6
    told.clear()
    QTest.mouseDClick(s, Qt.MouseButton.LeftButton)
    assert dial.value() == pytest.approx(1.0) and told[-1] == "settled" and 1.0 in told


def test_showing_a_value_tells_nothing_and_a_held_dial_is_left_alone(qtbot: Any) -> None:
    dial = shown(Dial("Gaze", -1.0, 1.0, 0.0, ends=("left", "right")), qtbot)
    told = heard(dial)
    dial.show_value(-0.5)
    assert told == [] and dial.value() == pytest.approx(-0.5) and dial.value_words.text() == "50 % left"
    dial.show_value(0.0)
    assert dial.value_words.text() == "–"
    dial.slider.setSliderDown(True)
    dial.show_value(0.8)
    assert dial.value() == pytest.approx(0.0) and dial.value_words.text() == "80 % right"
    dial.slider.setSliderDown(False)


@pytest.mark.parametrize("low, high, value, words", [(0, 24, 7, "7"), (0, 12, 12, "12")])
def test_what_is_counted_goes_by_ones(qtbot: Any, low: float, high: float, value: float, words: str) -> None:
    dial = shown(Dial("Lashes", low, high, 0, whole=True), qtbot)
    dial.show_value(value)
    assert dial.value() == value and dial.value_words.text() == words
    QTest.keyClick(dial.slider, Qt.Key.Key_PageDown)
    assert dial.value() == value - 1


def test_a_choice_is_told_by_its_place(qtbot: Any) -> None:
    told: list[int] = []
    choice = shown(Choice("Drawn as", ["full", "wedge", "none"], "tip", told.append), qtbot)
    choice.show_choice(9)
    assert choice.box.currentIndex() == 2 and told == []
    QTest.keyClick(choice.box, Qt.Key.Key_Up)
    assert told == [1] and choice.box.accessibleName() == "Drawn as"


class Sheet(Pannable):
    """The least that can be panned."""

    def mousePressEvent(self, e: Any) -> None:
        self.begins_pan(e)

    def mouseMoveEvent(self, e: Any) -> None:
        self.pans(e)

    def mouseReleaseEvent(self, e: Any) -> None:
        self.ends_pan()


@pytest.mark.parametrize("button, space", [(Qt.MouseButton.MiddleButton, False), (Qt.MouseButton.LeftButton, True)])
def test_the_content_is_dragged_about_and_fitted_again(qtbot: Any, button: Qt.MouseButton, space: bool) -> None:
    sheet = shown(Sheet(), qtbot)
    sheet.resize(200, 200)
    none = Qt.KeyboardModifier.NoModifier
    if space:
        QTest.keyPress(sheet, Qt.Key.Key_Space)
    QTest.mousePress(sheet, button, none, QPoint(50, 50))
    QTest.mouseMove(sheet, QPoint(80, 40))
    QTest.mouseRelease(sheet, button, none, QPoint(80, 40))
    if space:
        QTest.keyRelease(sheet, Qt.Key.Key_Space)
    assert (sheet.shift.x(), sheet.shift.y()) == (30, -10)
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, none, QPoint(50, 50))
    QTest.mouseMove(sheet, QPoint(99, 99))
    assert (sheet.shift.x(), sheet.shift.y()) == (30, -10)  # the left button alone leaves it
    sheet.zoomed = 3.0
    QTest.keyClick(sheet, Qt.Key.Key_F)
    assert sheet.zoomed == 1.0 and sheet.shift == QPointF(0, 0)


def square(size: float) -> Picture:
    points = [(-size, -size), (size, -size), (size, size), (-size, size)]
    return Picture((Layer("a", "A", (line(points, Ink.DARK, closed=True, filled=True),)),), (-1, -1, 2, 2))


def test_tiles_are_chosen_by_click_and_key_and_drawn_once(qtbot: Any) -> None:
    drawn: list[str] = []

    def tile(name: str, size: float) -> Tile:
        def draw() -> Picture:
            drawn.append(name)
            return square(size)

        return Tile(name, name, draw, (-1, -1, 2, 2))

    strip = shown(TileStrip(), qtbot, 700)
    told: list[object] = []
    strip.chosen.connect(told.append)
    tiles = [tile("small", 0.2), tile("large", 0.9)]
    strip.set_tiles("Sizes", lambda: tiles, "small", "first", True)
    qtbot.waitUntil(lambda: strip.complete, timeout=3000)
    first = pixels(strip)
    assert drawn == ["small", "large"] and strip.accessibleDescription() == "small, large"
    QTest.mouseClick(strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(strip.tile(1).center()))
    strip.set_tiles("Sizes", lambda: tiles, "large", "first", True)
    assert told == ["large"] and pixels(strip) != first and len(drawn) == 2  # the mark moved, the pictures stayed
    QTest.keyClick(strip, Qt.Key.Key_Left)
    QTest.keyClick(strip, Qt.Key.Key_Return)
    assert told == ["large", "small"]
    strip.set_tiles("Sizes", lambda: tiles, "large", "second", False)
    pixels(strip)
    assert len(drawn) == 2  # during a drag they wait
    qtbot.waitUntil(lambda: strip.complete and len(drawn) == 4, timeout=3000)


def test_a_value_is_typed_in_its_place(qtbot: Any) -> None:
    """A share in per cent with its ends' signs; out of reach goes to the end; what is no number is asked for again; Esc leaves it."""
    dial = shown(Dial("Gaze", -1.0, 1.0, 0.0, ends=("left", "right")), qtbot)
    told = heard(dial)
    QTest.mouseClick(dial.value_words, Qt.MouseButton.LeftButton)
    assert dial.entry.isVisible() and not dial.value_words.isVisible() and dial.entry.text() == "0 %"
    assert "minus is left" in dial.entry.toolTip()
    dial.entry.setText("−37,5")  # as it is pasted
    QTest.keyClick(dial.entry, Qt.Key.Key_Return)
    assert told == ["began", pytest.approx(-0.375), "settled"] and dial.value_words.text() == "38 % left"
    assert dial.value_words.isVisible() and not dial.entry.isVisible()
    QTest.keyClick(dial.slider, Qt.Key.Key_Return)
    QTest.keyClicks(dial.entry, "wide")
    QTest.keyClick(dial.entry, Qt.Key.Key_Return)
    assert dial.entry.isVisible() and dial.entry.placeholderText() == "a number" and len(told) == 3
    QTest.keyClicks(dial.entry, "900")
    QTest.keyClick(dial.entry, Qt.Key.Key_Return)
    assert told[-2] == 1.0
    QTest.mouseClick(dial.value_words, Qt.MouseButton.LeftButton)
    QTest.keyClick(dial.entry, Qt.Key.Key_Escape)
    assert len(told) == 6 and dial.value_words.isVisible()


def test_counts_and_plain_numbers_are_typed_as_they_are(qtbot: Any) -> None:
    lashes, width = shown(Dial("Lashes", 0, 24, 0, whole=True), qtbot), shown(Dial("Width", 0.5, 2.0, 1.0), qtbot)
    for dial, typed, value in ((lashes, "7.4", 7), (width, "1.234", 1.234)):
        told = heard(dial)
        dial.type_in()
        QTest.keyClicks(dial.entry, typed)
        QTest.keyClick(dial.entry, Qt.Key.Key_Return)
        assert told == ["began", value, "settled"]
