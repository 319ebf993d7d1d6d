"""Posing by hand: joints dragged on the stage, keys, dials, pins, presets, alternatives, needs, files; undone, saved and reopened."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QPushButton

from orthomet.app import ask
from orthomet.app.stations.figure.station import POSE
from orthomet.core.figure.mannequin import mannequin
from orthomet.core.figure.skeleton import BONES
from orthomet.core.landmarks.turn import Turn, rotation
from orthomet.core.pose.bones import posed
from orthomet.core.pose.library import poses
from orthomet.core.pose.marked import marked
from orthomet.core.pose.model import STANDING, read_pose
from orthomet.core.project.model import Marks
from orthomet.core.project.places import DrawingPlace, edit_marks
from orthomet.core.project.store import read
from tests.saving import save

from .conftest import at, pick, pixels

LEFT, NONE = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier


@pytest.fixture
def station(demo: Any, qtbot: Any) -> Any:
    demo.desk.go_named("Figure")
    station = demo.desk.station
    station.switch.show_page(POSE)
    demo.desk.flush()
    qtbot.waitUntil(lambda: station.settled and bool(station.stage.joints), timeout=30_000)
    return station


def pose_of(station: Any) -> Any:
    return station.document.character.posing.pose


def pull(stage: Any, joint: str, dx: float, dy: float, drop: bool = True, steps: int = 5) -> QPointF:
    """A joint dragged by pixels."""
    q = stage.place(joint)
    QTest.mousePress(stage, LEFT, NONE, at(q))
    for k in range(1, steps + 1):
        QTest.mouseMove(stage, at(q + QPointF(dx, dy) * k / steps))
    if drop:
        QTest.mouseRelease(stage, LEFT, NONE, at(q + QPointF(dx, dy)))
    return q


def test_a_hand_is_dragged_and_undone(qtbot: Any, demo: Any, station: Any) -> None:
    stage, d = station.stage, station.document
    before = pixels(stage)
    q = pull(stage, "wrist_l", 60, -90, drop=False)
    assert stage.joint == "wrist_l" and d.dragging
    demo.desk.flush()
    there = stage.place("wrist_l")
    assert abs(there.x() - q.x() - 60) < 12 and abs(there.y() - q.y() + 90) < 12  # the hand follows at once
    QTest.mouseRelease(stage, LEFT, NONE, at(q + QPointF(60, -90)))
    assert not d.dragging and d.undo_label == "Pose, left hand" and not pose_of(station).plain
    p = posed(station.posing.skeleton(), pose_of(station))
    assert all(abs(np.linalg.norm(p.joints[a] - p.joints[b]) - p.rest.bones[n]) < 1e-9 for n, (a, b) in BONES.items())
    qtbot.waitUntil(lambda: station.settled, timeout=30_000)
    assert pixels(stage) != before
    d.undo()
    demo.desk.flush()
    assert pose_of(station) == STANDING
    qtbot.waitUntil(lambda: station.settled, timeout=30_000)
    d.redo()
    assert not pose_of(station).plain


def test_in_the_middle_of_a_drag_escape_leaves_no_trace_and_undo_ends_it(demo: Any, station: Any) -> None:
    stage, d = station.stage, station.document
    q = pull(stage, "knee_r", -40, -30, drop=False)
    assert not pose_of(station).plain
    QTest.keyClick(stage, Qt.Key.Key_Escape)
    QTest.mouseMove(stage, at(q + QPointF(-90, -50)))
    QTest.mouseRelease(stage, LEFT, NONE, at(q + QPointF(-90, -50)))
    assert pose_of(station) == STANDING and not d.dragging and not d.undo_label
    pull(stage, "knee_r", -40, -30, drop=False)
    QTest.keyClick(stage, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)  # greyed while the hand holds something
    assert d.dragging
    d.undo()  # as another window's menu would
    demo.desk.flush()
    QTest.mouseMove(stage, at(q + QPointF(-60, -40)))
    QTest.mouseRelease(stage, LEFT, NONE, at(q + QPointF(-60, -40)))
    demo.desk.flush()
    assert not d.dragging and pose_of(station) == STANDING


def test_a_page_turned_or_a_character_changed_under_the_hand_leaves_nothing_held(demo: Any, station: Any) -> None:
    stage, d = station.stage, station.document
    pull(stage, "wrist_r", -30, -40, drop=False)
    station.switch.show_page(0)
    demo.desk.flush()
    assert not d.dragging and not stage.joint and not pose_of(station).plain and d.undo_label == "Pose, right hand"
    station.switch.show_page(POSE)
    demo.desk.flush()
    q = pull(stage, "wrist_l", 30, -40, drop=False)
    mine = d.character.id
    d.choose_character("wick")
    demo.desk.flush()
    QTest.mouseMove(stage, at(q + QPointF(60, -60)))
    QTest.mouseRelease(stage, LEFT, NONE, at(q + QPointF(60, -60)))
    assert not d.dragging and pose_of(station) == STANDING and not d.project.character(mine).posing.pose.plain


def test_beside_the_joints_a_drag_turns_the_figure(station: Any) -> None:
    stage, turn = station.stage, station.turn
    a = QPointF(stage.width() * 0.2, stage.height() * 0.3)
    assert not stage.joint_at(a)
    QTest.mousePress(stage, LEFT, NONE, at(a))
    QTest.mouseMove(stage, at(a + QPointF(40, 0)))
    QTest.mouseRelease(stage, LEFT, NONE, at(a + QPointF(40, 0)))
    assert station.turn.yaw == pytest.approx(turn.yaw + 20) and pose_of(station) == STANDING


def test_a_key_turns_a_limb_to_the_other_side_of_the_picture(station: Any) -> None:
    stage = station.stage
    pull(stage, "wrist_l", -8, -100)
    s = station.posing.skeleton()

    def depth() -> float:
        p = posed(s, pose_of(station))
        return float((rotation(station.turn) @ (p.joints["wrist_l"] - p.joints["elbow_l"]))[2])

    first = depth()
    QTest.mouseMove(stage, at(stage.place("wrist_l")))
    assert stage.hot == "wrist_l"
    seen = stage.place("wrist_l")
    QTest.keyClick(stage, Qt.Key.Key_D)
    assert station.document.undo_label == "The other side of the picture" and abs(depth() - first) > 0.2
    assert abs(stage.place("wrist_l").x() - seen.x()) < 40


def test_a_preset_is_taken_mirrored_kept_and_forgotten(qtbot: Any, demo: Any, station: Any) -> None:
    strip = station.strip
    pixels(strip)
    names = [t.words for t in strip.tiles]
    assert names == list(poses())
    k = names.index("hands on hips")
    QTest.mouseClick(strip, LEFT, NONE, at(strip.tile(k).center()))
    assert pose_of(station) == poses()["hands on hips"]
    demo.desk.flush()
    assert "Hands on hips" in station.posing.page.words.text() and "Stands" in station.posing.page.words.text()
    QTest.mouseClick(strip, LEFT, NONE, at(strip.tile(names.index("weight on one leg")).center()))
    pick(demo, "Mirror the pose")
    assert pose_of(station).angles["pelvis"][1] == -poses()["weight on one leg"].angles["pelvis"][1]
    pick(demo, "Keep the pose as an alternative")
    assert [p.name for p in station.document.character.posing.kept] == ["weight on one leg"]
    pick(demo, "Keep the pose as an alternative")
    assert len(station.document.character.posing.kept) == 1
    demo.desk.flush()
    qtbot.waitUntil(lambda: len(strip.tiles) == len(poses()) + 1, timeout=10_000)
    pick(demo, "Stand upright")
    QTest.mouseClick(strip, LEFT, NONE, at(strip.tile(0).center()))
    assert pose_of(station) == station.document.character.posing.kept[0]
    next(b for b in station.posing.page.findChildren(QPushButton) if b.text() == "Forget").click()
    assert station.document.character.posing.kept == () and not pose_of(station).plain


def test_dials_pins_and_limits(demo: Any, station: Any) -> None:
    page, stage = station.posing.page, station.stage
    tilt = page.dials[1]
    tilt.slider.setFocus()
    QTest.keyClick(tilt.slider, Qt.Key.Key_PageUp)
    demo.desk.flush()
    assert (
        pose_of(station).angles["spine"][1] > 3
        and "fall" in page.words.text()
        and station.document.undo_label == "Shoulders tilt"
    )
    page.pins["ankle_r"].click()
    assert station.document.character.posing.pins == ("ankle_r",)
    was = posed(station.posing.skeleton(), pose_of(station)).joints["ankle_r"]
    pull(stage, "pelvis", 25, 20)
    p = posed(station.posing.skeleton(), pose_of(station))
    assert p.joints["ankle_r"] == pytest.approx(was, abs=0.05) and p.joints["pelvis"][0] > 0.1
    page.limits.click()
    assert pose_of(station).waived
    page.limits.click()
    assert not pose_of(station).waived


def test_what_the_story_needs_is_tried_and_shown(qtbot: Any, demo: Any, station: Any) -> None:
    page = station.posing.page
    page.action.setCurrentIndex(page.action.findData("look over rail"))
    page.action.activated.emit(page.action.currentIndex())
    page.amount.setValue(9.0)
    page.add.click()
    assert station.document.character.needs.endswith("look over a rail at 9 heads")
    demo.desk.flush()
    qtbot.waitUntil(
        lambda: station.posing.tester.latest is not None and len(station.posing.tester.latest.found) == 1, timeout=30_000
    )
    demo.desk.flush()
    _, outcome = station.posing.tester.latest.found[0]
    assert not outcome.reachable and outcome.changes
    show = next(b for b in page.findChildren(QPushButton) if b.accessibleName().startswith("Show: Look over rail"))
    QTest.mouseClick(show, LEFT)
    assert pose_of(station).name == "Look over rail at 9 heads"


def test_a_pose_goes_to_others_to_files_and_comes_back(demo: Any, station: Any, tmp_path: Path, monkeypatch: Any) -> None:
    page, d = station.posing.page, station.document
    station.posing.edits.take(poses()["walking"])
    demo.desk.flush()
    page.others.setCurrentIndex(1)
    page.others.activated.emit(1)
    cid = page.others.itemData(1)
    assert d.project.character(cid).posing.pose == poses()["walking"]
    monkeypatch.setattr(ask.QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "w.json"), ""))
    next(b for b in page.findChildren(QPushButton) if b.text() == "Save…").click()
    assert read_pose(tmp_path / "w.json") == poses()["walking"]
    pick(demo, "Stand upright")
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(tmp_path / "w.json"), ""))
    opens = next(b for b in page.findChildren(QPushButton) if b.text() == "Open…")
    opens.click()
    assert pose_of(station) == poses()["walking"]
    pick(demo, "Stand upright")
    demo.desk.go_named("Plan")
    assert demo.desk.open_path(str(tmp_path / "w.json"))  # as when it is dropped on the window
    assert demo.desk.station is station and pose_of(station) == poses()["walking"]
    (tmp_path / "w.json").write_text('{"angles": {"tail": [1]}}')
    said: list[str] = []
    station.say.connect(lambda words, bad: said.append(words) if bad else None)
    opens.click()
    assert "tail" in said[-1] and pose_of(station) == poses()["walking"]
    assert save(d, tmp_path / "c.orthomet")
    assert read(tmp_path / "c.orthomet").project.characters[0].posing.pose == poses()["walking"]


def test_a_pose_sheet_is_written_and_other_pages_stand(
    qtbot: Any, demo: Any, station: Any, tmp_path: Path, monkeypatch: Any
) -> None:
    station.posing.edits.take(poses()["sitting"])
    station.posing.keep()
    path = tmp_path / "poses.svg"
    monkeypatch.setattr(ask.QFileDialog, "getSaveFileName", lambda *a, **k: (str(path), ""))
    pick(demo, "Export a pose sheet…")
    qtbot.waitUntil(lambda: path.exists() and path.stat().st_size > 2000, timeout=30_000)
    text = path.read_text()
    assert "sitting" in text.casefold() and "alternatives" in text
    station.switch.show_page(0)
    demo.desk.flush()
    assert not station.stage.joints and station._shown()[0].pose == STANDING
    station.posed.click()
    assert station._shown()[0].pose == poses()["sitting"]


def test_a_figure_of_a_picture_is_lifted(qtbot: Any, demo: Any, station: Any) -> None:
    desk = demo.desk
    lorn = next(c for c in station.document.project.characters if any(r.marks.view == "figure" for r in c.references))
    desk.document.choose_character(lorn.id)
    desk.flush()
    qtbot.waitUntil(lambda: station.settled and bool(station.stage.joints), timeout=30_000)
    assert station.posing.page.photo.isEnabled()
    QTest.mouseClick(station.posing.page.photo, LEFT)
    assert pose_of(station).name == "from the picture"
    desk.flush()
    sides = [b for b in station.posing.page.sides.findChildren(QPushButton) if not b.isHidden()]
    if sides:
        was = pose_of(station)
        sides[0].click()
        assert pose_of(station) != was


def test_a_drawn_figure_is_checked_by_hand(qtbot: Any, demo: Any, station: Any, tmp_path: Path) -> None:
    """A picture dropped at Check, told to be a figure, its forearm drawn too long: found, lit, and meant."""
    desk, d = demo.desk, station.document
    s = mannequin(d.figure_plan().build, False).skeleton
    at_ = marked(posed(s, STANDING), Turn())
    for name in ("stylion_r", "dactylion_r"):
        at_[name] = at_[name] + 0.09 * (at_["stylion_r"] - at_["radiale_r"])
    points = {k: (float(v[0]) * 100 + 300, float(v[1]) * 100 + 40) for k, v in at_.items()}
    image = QImage(600, 900, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    image.save(str(tmp_path / "drawn.png"))
    desk.go_named("Check")
    assert desk.open_path(str(tmp_path / "drawn.png"))
    qtbot.waitUntil(lambda: d.drawing is not None and d.drawing.name == "drawn", timeout=10_000)
    check = desk.station
    check.view.setCurrentIndex(check.view.findData("figure"))
    check.view.activated.emit(check.view.currentIndex())
    assert d.drawing.marks.view == "figure"
    d.do("Points", edit_marks(DrawingPlace(d.character.id, d.drawing.id), lambda _: Marks(view="figure", points=points)))
    desk.flush()
    card = check.panel.cards[0]
    assert "right forearm" in card.f.say and "shorter" in card.f.say and check.panel.title.text() == "1 finding"
    assert card.f.moved == {"stylion_r", "dactylion_r"}
    card.setFocus()
    assert check.stage.lit_points() >= card.f.moved and check.reading_note()[0] == "Forearm"
    QTest.keyClick(card, Qt.Key.Key_M)
    desk.flush()
    assert not check.panel.cards and d.drawing.meant == ("forearm_hh",) and d.undo_label == "Meant: forearm"
    check.view.activated.emit(check.view.findData("front"))
    desk.flush()
    assert d.drawing.marks.view == "front"


def test_the_whole_cast_takes_the_pose_and_shows_it_on_demand(qtbot: Any, demo: Any, station: Any) -> None:
    desk, page = demo.desk, station.posing.page
    qtbot.waitUntil(lambda: desk.figures.settled and len(desk.figures.figures) == 4, timeout=60_000)
    standing = dict(desk.figures.figures)
    station.posing.edits.take(poses()["cheering"])
    desk.flush()
    last = page.others.count() - 1
    page.others.setCurrentIndex(last)
    page.others.activated.emit(last)
    assert all(c.posing.pose == poses()["cheering"] for c in station.document.project.characters)
    assert station.document.undo_label == "Pose for everybody"
    pick(demo, "Cast in their poses")
    qtbot.waitUntil(
        lambda: desk.figures.settled and all(desk.figures.figures[k] is not standing[k] for k in standing), timeout=60_000
    )
    for k, f in desk.figures.figures.items():
        assert float(np.ptp(np.concatenate(f.outlines)[:, 0])) > float(np.ptp(np.concatenate(standing[k].outlines)[:, 0]))
    pick(demo, "Cast in their poses")
    qtbot.waitUntil(lambda: desk.figures.settled, timeout=60_000)
