"""The signature gesture: drag from either side; picture, row and meters follow at once; one undo restores all."""

from __future__ import annotations

from typing import Any

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from orthomet.core.landmarks.points import State

from .conftest import drag


def grabbed(w: Any) -> bytes:
    image = w.grab().toImage()
    return bytes(image.constBits())


def test_dragging_a_landmark_changes_picture_row_and_badges(demo: Any) -> None:
    d = demo.desk.document
    station = demo.desk.stations.named("Reference")
    stage, rows = station.stage, station.list.rows
    before = d.project
    picture, value, plan = grabbed(stage), rows["mouth_station"].item.reference, d.plan().likeness.score
    a = stage.to_screen(*stage.marks.points["stomion"])
    seen = {}

    def during() -> None:
        seen.update(picture=grabbed(stage), value=rows["mouth_station"].item.reference, dragging=d.dragging)

    drag(stage, a, a + QPointF(0, 30), during)
    assert seen["dragging"] and seen["picture"] != picture and seen["value"] > value + 0.01
    assert not d.dragging and d.undo_label == "Move mouth line"
    assert d.plan().likeness.score != plan
    d.undo()
    demo.desk.flush()
    assert d.project is before and rows["mouth_station"].item.reference == value and d.undo_label == ""
    d.redo()
    assert d.measured().value("mouth_station") > value + 0.01


@pytest.mark.parametrize("key", ["mouth_width_fw", "eye_station"])
def test_dragging_a_gauges_plan_mark(demo: Any, key: str) -> None:
    demo.desk.go_named("Plan")
    QTest.qWait(30)
    d, station = demo.desk.document, demo.desk.station
    row = station.list.rows[key]
    before, plan, picture = d.project, d.plan().table[key], grabbed(station.board)
    meters = (d.plan().likeness.score, d.plan().style)
    tip = QPointF(row.x_of(row.item.plan), 20)
    seen: dict[str, Any] = {}

    def during() -> None:
        demo.desk.flush()
        seen.update(plan=row.item.plan, picture=grabbed(station.board), meters=(d.plan().likeness.score, d.plan().style))

    drag(row, tip, tip + QPointF(-26, 0), during)
    assert seen["plan"] < plan and seen["picture"] != picture and seen["meters"] != meters
    assert key in d.character.decisions.offsets
    d.undo()
    demo.desk.flush()
    assert d.project is before and d.plan().table[key] == plan and row.item.plan == pytest.approx(plan)


def test_dragging_a_line_on_the_plan_drawing(demo: Any) -> None:
    demo.desk.go_named("Plan")
    QTest.qWait(30)
    d, station = demo.desk.document, demo.desk.station
    board = station.board
    before, plan = d.project, d.plan().table["mouth_station"]
    row, style = station.list.rows["mouth_station"], d.plan().style
    a = board.at(board.panes()[1], 0.12, plan)
    seen: dict[str, Any] = {}

    def during() -> None:
        demo.desk.flush()
        seen.update(plan=d.plan().table["mouth_station"], row=row.item.plan, style=d.plan().style)

    drag(board, a, a + QPointF(0, 12), during)
    wanted = plan + 12 / board.head_px()
    assert (
        seen["plan"] == pytest.approx(wanted, abs=0.004) and seen["row"] == pytest.approx(seen["plan"]) and seen["style"] != style
    )
    d.undo()
    assert d.project is before


def test_escape_puts_back_what_is_in_the_hand(demo: Any) -> None:
    stage, d = demo.desk.stations.named("Reference").stage, demo.desk.document
    before = d.project
    a = stage.to_screen(*stage.marks.points["gnathion"])

    def during() -> None:
        QTest.keyClick(stage, Qt.Key.Key_Escape)
        assert d.project is before

    drag(stage, a, a + QPointF(0, 40), during)
    assert d.project is before and d.undo_label == ""


def test_style_weight_drags_as_one_step(demo: Any) -> None:
    demo.desk.go_named("Plan")
    QTest.qWait(30)
    d, bar = demo.desk.document, demo.desk.station.master
    w = bar.wedge()
    style = d.plan().style
    drag(bar, QPointF(w.left() + 0.4 * w.width(), w.center().y()), QPointF(w.left() + 0.9 * w.width(), w.center().y()))
    assert d.character.decisions.style_weight == pytest.approx(0.9, abs=0.02) and d.plan().style > style
    d.undo()
    assert d.character.decisions.style_weight == 0.4
    head = demo.desk.station.list.heads["Mouth"]
    w = head.wedge()
    drag(head, QPointF(w.left() + 0.25 * w.width(), w.center().y()), QPointF(w.left() + 0.8 * w.width(), w.center().y()))
    assert d.character.decisions.group_weights["Mouth"] == pytest.approx(0.8, abs=0.02)
    QTest.mouseDClick(head, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, w.center().toPoint())
    d.commit()
    assert "Mouth" not in d.character.decisions.group_weights


def test_dragging_a_ring_cures_its_finding(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    qtbot.waitUntil(lambda: demo.desk.station.stage.image is not None, timeout=5000)
    d, stage = demo.desk.document, demo.desk.station.stage
    assert sorted(f.reading for f in d.check().findings) == ["eye_width_l_fw", "mouth_station"]
    (mouth,) = [f for f in d.check().findings if f.reading == "mouth_station"]
    for name in ("stomion", "labiale_superius", "labiale_inferius", "sublabiale", "cheilion_l", "cheilion_r"):
        a = stage.to_screen(*stage.marks.points[name])
        drag(stage, a, a - QPointF(0, mouth.difference_px * stage.scale), steps=2)
        stage.active = ""
    demo.desk.flush()
    assert [f.reading for f in d.check().findings] == ["eye_width_l_fw"]
    assert demo.desk.station.panel.title.text() == "1 finding"


def test_estimated_points_follow_the_placed_ones(demo: Any) -> None:
    d = demo.desk.document
    d.choose_character("lorn")
    demo.desk.flush()
    QTest.qWait(200)
    stage = demo.desk.stations.named("Reference").stage
    assert stage.marks.states["gonion_r"] is State.ESTIMATED
    before = dict(stage.marks.points)
    a = stage.to_screen(*before["gonion_l"])
    drag(stage, a, a + QPointF(15, 5))
    after = d.character.reference.marks
    assert after.points["gonion_r"][0] < before["gonion_r"][0] - 5 and after.states["gonion_r"] is State.ESTIMATED
    assert "gonion_l" not in after.states


def test_another_character_ends_the_drag_that_is_under_way(demo: Any) -> None:
    """Ctrl+Tab with a point still in the hand: what was moved stays with its owner, and the hand moves nobody else's."""
    d, stage = demo.desk.document, demo.desk.stations.named("Reference").stage
    lorn = d.project.character("lorn")
    a = stage.to_screen(*stage.marks.points["stomion"])
    QTest.mousePress(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, a.toPoint())
    QTest.mouseMove(stage, (a + QPointF(0, 20)).toPoint())
    moved = d.character.reference.marks.points["stomion"]
    d.choose_character("lorn")
    demo.desk.flush()
    QTest.mouseMove(stage, (a + QPointF(5, 40)).toPoint())
    QTest.mouseRelease(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, (a + QPointF(5, 40)).toPoint())
    demo.desk.flush()
    assert d.project.character("lorn") == lorn and d.project.character("berta").reference.marks.points["stomion"] == moved
    assert d.undo_label == "Move mouth line" and not d.dragging


def test_after_a_drag_the_whole_answer_stands_and_the_badge_with_it(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    s = demo.desk.station
    qtbot.waitUntil(lambda: s.stage.image is not None and bool(s.curer.cures), timeout=8000)
    before = len(s.stage.findings)
    a = s.stage.to_screen(*s.stage.marks.points["subnasale"])
    drag(s.stage, a, a + QPointF(0, 30))
    QTest.qWait(30)
    assert len(s.stage.findings) > before and s._last.check.fix.rivals, "the exhaustive answer, with its rivals"
    qtbot.waitUntil(lambda: len(s.curer.cures) > 1 and len(s.curer.cures[0].cure.moves) == len(s.stage.findings), timeout=8000)
    assert demo.desk.rail.badges["Check"][0] == str(len(s.stage.findings))
