"""The Figure station by hand: turned, its canon and dials, traits, the match and its cures, steps, exports, the cast's silhouettes."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QPushButton

from orthomet.app.stations.figure.station import BODY, MATCH, PAPER, STEPS_PAGE, TRAITS
from orthomet.core.figure.match import GOOD
from orthomet.core.landmarks.turn import Turn
from orthomet.core.project.edits import add_character, set_figure
from orthomet.core.project.model import Character
from orthomet.core.project.store import read
from tests.saving import save

from .conftest import at, drag, pick, pixels
from .test_head_pages import page, slide

LEFT = Qt.MouseButton.LeftButton


def wait(qtbot: Any, s: Any) -> None:
    """Until what is drawn is what is decided."""
    qtbot.waitUntil(lambda: s.settled and not s.curer.work.active, timeout=30_000)


@pytest.fixture
def station(demo: Any, qtbot: Any) -> Any:
    demo.desk.document.choose_character("wick")
    demo.desk.go_named("Figure")
    demo.desk.flush()
    wait(qtbot, demo.desk.station)
    return demo.desk.station


def heads(demo: Any) -> float:
    return float(demo.desk.document.figure_plan().heads)


def test_a_drag_turns_the_figure_and_decides_nothing(demo: Any, station: Any, qtbot: Any) -> None:
    d, stage = demo.desk.document, station.stage
    project, before = d.project, pixels(stage)
    c = stage.sheet().center()
    drag(stage, c, c + QPointF(120, 0), steps=5)
    wait(qtbot, station)
    assert station.turn.yaw == pytest.approx(25 + 60) and d.project is project and pixels(stage) != before
    QTest.keyClick(stage, Qt.Key.Key_Left)
    QTest.keyClick(stage, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert station.turn.yaw == pytest.approx(85 - 5 + 15)
    for _ in range(30):  # all the way round, and on
        QTest.keyClick(stage, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert -180 <= station.turn.yaw <= 180
    QTest.mouseDClick(stage, LEFT, Qt.KeyboardModifier.NoModifier, at(c))
    assert station.turn == Turn()
    QTest.keyClick(station, Qt.Key.Key_BracketRight)
    assert station.turn.yaw == 35


def test_shift_drag_turns_the_head_as_one_step(demo: Any, station: Any, qtbot: Any, tmp_path: Path) -> None:
    d, stage = demo.desk.document, station.stage
    c = stage.sheet().center()
    QTest.mousePress(stage, LEFT, Qt.KeyboardModifier.ShiftModifier, at(c))
    QTest.mouseMove(stage, at(c + QPointF(20, 0)))
    QTest.mouseMove(stage, at(c + QPointF(60, 10)))
    QTest.mouseRelease(stage, LEFT, Qt.KeyboardModifier.ShiftModifier, at(c + QPointF(60, 10)))
    demo.desk.flush()
    wait(qtbot, station)
    turn = d.character.figure.head_turn
    assert turn.yaw == pytest.approx(30) and turn.pitch == pytest.approx(5) and d.undo_label == "Turn of the head"
    assert save(d, tmp_path / "f.orthomet") and read(tmp_path / "f.orthomet").project == d.project
    d.undo()
    assert d.character.figure.head_turn == Turn()


def test_a_canon_is_taken_from_the_strip_and_from_the_list(demo: Any, station: Any, qtbot: Any) -> None:
    d, strip = demo.desk.document, station.strip
    qtbot.waitUntil(lambda: strip.complete, timeout=60_000)
    k = next(k for k, t in enumerate(strip.tiles) if t.value == "heroic")
    QTest.mouseClick(strip, LEFT, Qt.KeyboardModifier.NoModifier, at(strip.tile(k).center()))
    demo.desk.flush()
    assert d.character.figure.canon == "heroic" and d.undo_label == "Canon"
    wide = d.figure_plan().readings["shoulder_hh"]
    box = station.body.canon
    box.setCurrentIndex(box.findData("slender"))
    box.activated.emit(box.currentIndex())
    demo.desk.flush()
    wait(qtbot, station)
    assert d.character.figure.canon == "slender" and d.figure_plan().readings["shoulder_hh"] < 0.7 * wide
    assert "Slender" in station.who.text()
    d.undo(), d.undo()
    assert d.character.figure.canon == "age"


def test_dials_change_the_body_live_and_are_one_step_each(demo: Any, station: Any, qtbot: Any) -> None:
    d, body = demo.desk.document, station.body
    tall = heads(demo)
    slide(body.heads, 0.35)
    demo.desk.flush()
    assert heads(demo) != pytest.approx(tall) and d.undo_label == "Heads tall"
    shoulders = d.figure_plan().readings["shoulder_hh"]
    d.undo()
    demo.desk.flush()
    assert heads(demo) == pytest.approx(tall) and d.figure_plan().readings["shoulder_hh"] != pytest.approx(shoulders)
    slide(body.age, 0.9)
    demo.desk.flush()
    assert d.character.figure.canon.startswith("age:") and heads(demo) > tall
    slide(body.dials["softness"], 0.1)
    demo.desk.flush()
    assert d.character.figure.form["softness"] < 0.3 and d.undo_label == "Softness"
    wait(qtbot, station)
    before = pixels(station.stage)
    slide(body.dials["belly"], 0.9)
    demo.desk.flush()
    wait(qtbot, station)
    assert pixels(station.stage) != before and d.character.figure.form["belly"] > 1.8


@pytest.mark.parametrize("who", ["lorn", "berta"])
def test_a_canon_taken_after_the_heads_dial_is_the_canon_itself(demo: Any, station: Any, qtbot: Any, who: str) -> None:
    """Nothing of the dial stays behind, whether a reference or only the style adds to the height."""
    d = demo.desk.document
    d.choose_character(who)
    demo.desk.flush()
    page(demo, station, BODY)
    station.edits.canon("heroic")
    demo.desk.flush()
    before = heads(demo)
    slide(station.body.heads, 0.3)
    assert heads(demo) == pytest.approx(station.body.heads.value(), abs=0.01) != before
    station.edits.canon("heroic")
    demo.desk.flush()
    assert heads(demo) == before and "heads_tall" not in d.character.decisions.offsets


def test_a_trait_is_dragged_pushed_and_held_by_a_limit_that_can_be_meant(demo: Any, station: Any, qtbot: Any) -> None:
    d = demo.desk.document
    d.do("Canon", set_figure("wick", lambda f: f.model_copy(update={"canon": "measured"})))
    page(demo, station, TRAITS)
    row = station.list.rows["thigh_girth_hh"]
    station.list.mark_began.emit("thigh_girth_hh")
    station.list.mark_moved.emit("thigh_girth_hh", 1.05)
    station.list.mark_dropped.emit("thigh_girth_hh")
    demo.desk.flush()
    plan = d.figure_plan()
    assert (
        plan.by_key["thigh_girth_hh"].asked == pytest.approx(1.05, abs=1e-6) and plan.limits and row.item.key == "thigh_girth_hh"
    )
    assert d.undo_label == "Plan, thigh, thickness" and "limits of the body" in station.badge()[1]
    page(demo, station, BODY)
    (meant,) = [b for b in station.body.limits.findChildren(QPushButton) if b.text() == "Meant"][:1]
    QTest.mouseClick(meant, LEFT)
    demo.desk.flush()
    assert d.character.figure.meant and d.figure_plan().readings["thigh_girth_hh"] > plan.readings["thigh_girth_hh"] + 0.01
    (again,) = [b for b in station.body.limits.findChildren(QPushButton) if b.text() == "Ask again"][:1]
    QTest.mouseClick(again, LEFT)
    demo.desk.flush()
    assert not d.character.figure.meant
    pick(demo, "Forget body marks")
    assert "thigh_girth_hh" not in d.decisions().offsets


def test_neck_and_skull_are_the_heads_own_plan(demo: Any, station: Any) -> None:
    d = demo.desk.document
    page(demo, station, TRAITS)
    station.list.mark_began.emit("neck_width_hw")
    station.list.mark_moved.emit("neck_width_hw", 0.45)
    station.list.mark_dropped.emit("neck_width_hw")
    demo.desk.flush()
    assert d.plan().table["neck_width_hw"] == pytest.approx(0.45, abs=1e-3) and d.figure_plan().readings[
        "neck_hw"
    ] == pytest.approx(0.45, abs=1e-3)


@pytest.mark.parametrize("which", [1, 2, 3])
def test_a_cure_is_one_click_on_its_figure_and_one_undo(demo: Any, station: Any, qtbot: Any, which: int) -> None:
    d = demo.desk.document
    d.do("Canon", set_figure("wick", lambda f: f.model_copy(update={"canon": "masculine", "heads": 7.5})))
    demo.desk.flush()
    project = d.project
    assert d.match().verdict not in GOOD and "heavy" in station.badge()[1]
    page(demo, station, MATCH)
    wait(qtbot, station)
    board = station.board
    assert board.isVisible() and len(board.stands) == 4 and all(s.picture is not None for s in board.stands)
    promised = d.match().after[board.stands[which].key]
    place = board.place(which).center()
    QTest.mouseMove(board, at(place))
    QTest.mouseClick(board, LEFT, Qt.KeyboardModifier.NoModifier, at(place))
    demo.desk.flush()
    assert (d.match().verdict is promised and promised in GOOD and station.badge() == ("", "")) or d.figure_plan().limits
    d.undo()
    demo.desk.flush()
    assert d.project == project
    QTest.mouseClick(board, LEFT, Qt.KeyboardModifier.NoModifier, at(board.place(0).center()))
    assert d.project == project  # as it is: nothing to take


def test_the_slender_bodys_height_is_chosen(demo: Any, station: Any, qtbot: Any) -> None:
    d = demo.desk.document
    page(demo, station, MATCH)
    station.match.tall.setValue(6.5)
    demo.desk.flush()
    QTest.mouseClick(station.match.buttons["slender"], LEFT)
    demo.desk.flush()
    assert heads(demo) == pytest.approx(6.5, abs=0.05) and d.undo_label == "Slender body"
    wait(qtbot, station)


def test_plan_speaks_up_when_the_head_no_longer_suits_the_body(demo: Any, station: Any) -> None:
    d = demo.desk.document
    d.do("Canon", set_figure("wick", lambda f: f.model_copy(update={"canon": "masculine", "heads": 7.5})))
    demo.desk.go_named("Plan")
    demo.desk.flush()
    verdict = demo.desk.station.verdict
    pixels(verdict)
    assert "heavy for this head" in verdict.accessibleName() and verdict._body_at.height() > 0
    QTest.mouseClick(verdict, LEFT, Qt.KeyboardModifier.NoModifier, at(verdict._body_at.center()))
    assert demo.desk.station.name == "Figure"


def test_steps_are_shown_singly_together_and_played(demo: Any, station: Any, qtbot: Any) -> None:
    page(demo, station, STEPS_PAGE)
    wait(qtbot, station)
    steps = station.steps

    def visible() -> list[str]:
        return [ly.id for ly in station.stage.picture.layers if ly.id.startswith("step-") and ly.items]

    assert len(visible()) == 8
    steps.player.mode.box.setCurrentIndex(2)
    steps.player.mode.box.activated.emit(2)
    steps.player.list.setCurrentRow(2)
    demo.desk.flush()
    wait(qtbot, station)
    assert visible() == ["step-3"]
    steps.body.setChecked(False)
    wait(qtbot, station)
    assert not any(ly.items for ly in station.stage.picture.layers if ly.id in ("body", "head"))
    QTest.keyClick(station, Qt.Key.Key_P)
    assert steps.player.clock.isActive() and steps.player.list.currentRow() == 0
    steps.player.clock.setInterval(30)
    qtbot.waitUntil(lambda: not steps.player.clock.isActive(), timeout=10_000)
    assert steps.player.list.currentRow() == 7


def test_what_is_written_is_the_figure_at_true_size(
    demo: Any, station: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    page(demo, station, PAPER)
    for key, name in (("view", "one.svg"), ("views", "four.png"), ("steps", "steps.pdf")):
        path = tmp_path / name
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, path=path, **__: (str(path), ""))
        with qtbot.waitSignal(station.exported, timeout=60_000) as told:
            station.paper.export_wanted.emit(key)
        assert told.args == [str(path), ""] and path.stat().st_size > 4000


def test_keys_reach_one_view_tones_and_the_match(demo: Any, station: Any, qtbot: Any) -> None:
    wide = station.stage.picture.box[2]
    QTest.keyClick(station, Qt.Key.Key_V)
    wait(qtbot, station)
    assert station.stage.picture.box[2] < wide / 3
    QTest.keyClick(station, Qt.Key.Key_T)
    wait(qtbot, station)
    assert not station.stage.picture.layer("tones").visible
    QTest.keyClick(station, Qt.Key.Key_M)
    assert station.board.isVisible()


def test_the_shelf_shows_the_casts_own_figures(demo: Any, qtbot: Any) -> None:
    d, figures = demo.desk.document, demo.desk.figures
    plain = pixels(demo.shelf.cast)
    qtbot.waitUntil(lambda: figures.settled and set(figures.figures) == {"berta", "lorn", "wick", "klinker"}, timeout=60_000)
    own = pixels(demo.shelf.cast)
    assert own != plain
    kept = figures.figures["berta"]
    d.do("Canon", set_figure("wick", lambda f: f.model_copy(update={"canon": "two-heads"})))
    demo.desk.flush()
    qtbot.waitUntil(lambda: figures.settled and figures.figures["wick"].heads < 3.5, timeout=60_000)
    assert pixels(demo.shelf.cast) != own and figures.figures["berta"] is kept


def test_without_anybody_it_says_so_and_a_new_character_gets_a_figure(demo: Any, qtbot: Any) -> None:
    desk = demo.desk
    desk.new_project()
    desk.go_named("Figure")
    desk.flush()
    s = desk.station
    assert s.stage.nobody and s.stage.picture is None and not s.strip.tiles
    desk.document.do("Add character", add_character(Character(id="one", name="One")))
    desk.document.choose_character("one")
    desk.flush()
    QTest.mouseClick(s.stage, LEFT)
    QTest.keyClick(s, Qt.Key.Key_M)
    wait(qtbot, s)
    assert not s.stage.nobody and s.board.isVisible() and s.board.stands and s.strip.tiles
    desk.document.undo()
    desk.flush()
    assert s.stage.nobody and s.stage.picture is None and s.stage.isVisible() and not s.strip.tiles


def test_switching_people_and_undo_while_it_is_drawn(demo: Any, station: Any, qtbot: Any) -> None:
    """Wrong order: another character, a canon, undo and another page before any drawing has come."""
    d = demo.desk.document
    for who in ("berta", "lorn", "klinker", "wick"):
        d.choose_character(who)
        demo.desk.flush()
        station.edits.canon("two-circles")
        d.undo()
        station.switch.show_page(MATCH)
        demo.desk.flush()
        station.switch.show_page(BODY)
    station.look_from(Turn(yaw=-120))
    wait(qtbot, station)
    assert station.maker.latest.key.plan == d.figure_plan() and np.isfinite(station.stage.head_px())
    demo.desk.new_project()
    demo.desk.flush()
    assert not station.isEnabled()
