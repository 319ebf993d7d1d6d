"""The Head station by hand: turning by drag, keys, numbers and views; chin, what is drawn, export."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from orthomet.app import ask
from orthomet.app.stations.head.stage import PER_PIXEL, PITCH, YAW
from orthomet.app.stations.head.tiles import VIEWS
from orthomet.core.landmarks.turn import Turn
from orthomet.core.project.store import read
from tests.saving import save

from .conftest import at, drag, pick, pixels


@pytest.fixture
def station(demo: Any) -> Any:
    demo.desk.go_named("Head")
    demo.desk.flush()
    return demo.desk.station


def test_the_head_turns_with_the_hand(demo: Any, station: Any) -> None:
    stage = station.stage
    station.look_from(Turn())
    before = pixels(stage)
    a = QPointF(stage.width() / 2, stage.height() / 2)
    drag(stage, a, a + QPointF(80, -40), steps=6)
    t = station.turn
    assert t.yaw == pytest.approx(80 * PER_PIXEL, abs=1) and t.pitch == pytest.approx(-40 * PER_PIXEL, abs=1)
    assert pixels(stage) != before and station.page.yaw.value() == pytest.approx(t.yaw, abs=0.1)
    drag(stage, a, a + QPointF(2000, 2000), steps=3)
    assert (station.turn.yaw, station.turn.pitch) == (YAW, PITCH)
    QTest.mouseDClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(a))
    assert station.turn == Turn() and not demo.desk.document.dirty  # looking is no edit
    QTest.mousePress(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(a))
    QTest.mouseMove(stage, at(a + QPointF(50, 0)))
    QTest.keyClick(stage, Qt.Key.Key_Escape)
    assert station.turn == Turn()


def test_what_moves_is_drawn_quickly_and_in_full_where_the_hand_rests(qtbot: Any, station: Any) -> None:
    stage = station.stage
    a = QPointF(stage.width() / 2, stage.height() / 2)
    none, left = Qt.KeyboardModifier.NoModifier, Qt.MouseButton.LeftButton
    station.look_from(Turn(yaw=30))
    full = pixels(stage)
    QTest.mousePress(stage, left, none, at(a))
    QTest.mouseMove(stage, at(a + QPointF(60, 0)))
    QTest.mouseMove(stage, at(a))
    assert station.turn == Turn(yaw=30)
    held = pixels(stage)
    changed = sum(x != y for x, y in zip(full, held, strict=True)) / len(full)
    assert 0 < changed < 0.03  # quicker, and next to the same
    qtbot.waitUntil(lambda: pixels(stage) == full, timeout=4000)  # the hand rests
    QTest.mouseMove(stage, at(a + QPointF(-60, 0)))
    QTest.mouseMove(stage, at(a))
    assert pixels(stage) == held
    QTest.mouseRelease(stage, left, none, at(a))
    assert pixels(stage) == full


def test_keys_numbers_and_views_turn_it_too(demo: Any, station: Any) -> None:
    station.look_from(Turn())
    for key, mod, want in (
        (Qt.Key.Key_Right, Qt.KeyboardModifier.NoModifier, (5, 0, 0)), (Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier, (5, 15, 0)),
        (Qt.Key.Key_PageDown, Qt.KeyboardModifier.NoModifier, (5, 15, 5)),
    ):  # fmt: skip
        QTest.keyClick(station.stage, key, mod)
        assert (station.turn.yaw, station.turn.pitch, station.turn.roll) == want
    station.page.pitch.setValue(-20)
    assert station.turn.pitch == -20
    strip = station.strip
    pixels(strip)
    for k, (_, turn) in enumerate(VIEWS):
        QTest.mouseClick(strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(strip.tile(k).center()))
        assert station.turn == turn
    pick(demo, "Next view")
    assert station.turn == VIEWS[0][1]
    strip.setFocus()
    QTest.keyClick(strip, Qt.Key.Key_Left)
    QTest.keyClick(strip, Qt.Key.Key_Return)
    assert station.turn == VIEWS[len(VIEWS) - 2][1]
    old = station.stage.head_px()
    station.stage.zoomed = 2.0
    assert station.stage.head_px() == pytest.approx(2 * old)
    QTest.keyClick(station.stage, Qt.Key.Key_F)
    assert station.stage.head_px() == pytest.approx(old)


def test_what_the_turn_does_is_told(station: Any) -> None:
    station.look_from(Turn())
    assert all(c.share == pytest.approx(1) for c in station.page.shares.rows)
    station.look_from(Turn(yaw=30))
    left, gap, right, mouth, _ = (c.share for c in station.page.shares.rows)
    assert right < 0.8 < left and gap < 1 and mouth < 1
    station.look_from(Turn(yaw=90))
    assert station.page.shares.rows[2].share is None and pixels(station.page)
    assert station.reading_note()[1] == "+90°, +0°" and station.hint() and station.actions_here()


def test_the_chin_is_a_decision_and_undone(demo: Any, station: Any, tmp_path: Path) -> None:
    d = demo.desk.document
    station.look_from(Turn(yaw=90))
    before = pixels(station.stage)
    slider = station.page.chin.slider
    slider.setFocus()
    QTest.keyClick(slider, Qt.Key.Key_PageUp)
    demo.desk.flush()
    assert (
        d.character.decisions.chin_forward == pytest.approx(station.page.chin.value(), abs=1e-3) != 0
        and pixels(station.stage) != before
    )
    assert d.undo_label == "Chin back or forward" and save(d, tmp_path / "c.orthomet")
    assert read(tmp_path / "c.orthomet").project.characters[0].decisions.chin_forward == d.character.decisions.chin_forward
    d.undo()
    demo.desk.flush()
    assert station.page.chin.value() == 0 and pixels(station.stage) == before


def test_lines_are_shown_and_hidden_and_the_plan_is_followed(demo: Any, station: Any) -> None:
    from orthomet.core.project.edits import set_emphasis

    d = demo.desk.document
    hairy = pixels(station.stage)
    station.page.hair.click()
    everything = pixels(station.stage)
    assert everything != hairy
    station.page.guides.click()
    fewer = pixels(station.stage)
    station.page.hidden.click()
    fewest = pixels(station.stage)
    assert len({everything, fewer, fewest}) == 3
    body = station.body_now()
    d.do("x", set_emphasis("berta", "nose_length_hh", 3.0))
    demo.desk.flush()
    assert station.body_now() is not body and pixels(station.stage) != fewest
    d.choose_character("wick")
    demo.desk.flush()
    assert station.who.text().startswith("Wick")


@pytest.mark.parametrize("ending", ["svg", "pdf", "png", "ora"])
def test_the_view_goes_to_paper(
    demo: Any, station: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, ending: str
) -> None:
    target = tmp_path / f"head.{ending}"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    station.page.height_mm.setValue(60)
    with qtbot.waitSignal(station.exported, timeout=20_000):
        pick(demo, "Export this view…")
    assert target.stat().st_size > 1000 and "Written" in demo.ledge.sentence
    one = target.stat().st_size
    monkeypatch.setattr(ask, "may_replace", lambda *_: True)
    with qtbot.waitSignal(station.exported, timeout=20_000):
        pick(demo, "Export a turnaround…")
    assert target.stat().st_size > 1.5 * one
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("/nowhere/h.svg", ""))
    with qtbot.waitSignal(station.exported, timeout=20_000):
        pick(demo, "Export this view…")
    assert demo.ledge.bad
