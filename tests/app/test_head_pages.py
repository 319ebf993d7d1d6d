"""Head's pages by hand: guides step by step, features and their variants, marks, expression, light; undo, save, export."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QPushButton

from orthomet.app.stations.dials import Choice, Dial
from orthomet.app.stations.head.features_page import MARKS
from orthomet.app.stations.head.light_page import SIZE
from orthomet.app.stations.head.station import FACE, FEATURES, GUIDES, LIGHT, TURN
from orthomet.core.features.choices import MAX_MARKS, FaceMark
from orthomet.core.features.expression import NEUTRAL, expressions
from orthomet.core.features.table import feature, features
from orthomet.core.landmarks.turn import Turn
from orthomet.core.project.store import read
from tests.saving import save

from .conftest import at, drag, pick, pixels


@pytest.fixture
def station(demo: Any) -> Any:
    demo.desk.go_named("Head")
    demo.desk.flush()
    return demo.desk.station


def page(demo: Any, station: Any, k: int) -> None:
    QTest.mouseClick(station.switch.group.button(k), Qt.MouseButton.LeftButton)
    demo.desk.flush()


def click(w: Any, at_: Any = None) -> None:
    QTest.mouseClick(w, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, *([at_] if at_ is not None else []))


def slide(dial: Dial, share: float) -> None:
    """Drag a dial's handle to a share of its way, as a hand does."""
    s = dial.slider
    start = QPointF(8 + (s.width() - 16) * (s.value() - s.minimum()) / max(s.maximum() - s.minimum(), 1), s.height() / 2)
    drag(s, start, QPointF(8 + (s.width() - 16) * share, s.height() / 2), steps=5)


def test_every_feature_has_its_page_and_its_variants(demo: Any, station: Any) -> None:
    page(demo, station, FEATURES)
    for k, key in enumerate(features()):
        station.features.box.setCurrentIndex(k)
        station.features.feature_chosen.emit(key)
        assert set(station.features.widgets) == {p.key for p in feature(key).parameters}
        assert [t.words for t in station.strip.tiles] == [v.name for v in feature(key).variants]
        assert pixels(station.strip)
    station.features.feature_chosen.emit(MARKS)
    assert station.strip.tiles[0].words == "profile"  # marks have no variants: the views stay


def test_a_variant_is_taken_by_a_click_and_undone(demo: Any, station: Any, tmp_path: Path) -> None:
    d = demo.desk.document
    page(demo, station, FEATURES)
    before, drawn = d.character.features, pixels(station.stage)
    k = next(i for i, t in enumerate(station.strip.tiles) if t.words == "lashed")
    click(station.strip, at(station.strip.tile(k).center()))
    demo.desk.flush()
    assert d.character.features.variant_of("eyes") == "lashed" and pixels(station.stage) != drawn
    assert d.undo_label == "Eyes, lashed" and station.strip.here == "lashed"
    assert save(d, tmp_path / "f.orthomet") and read(tmp_path / "f.orthomet").project == d.project
    d.undo()
    demo.desk.flush()
    assert d.character.features == before and pixels(station.stage) == drawn


def test_a_dial_is_one_undo_step_and_a_double_click_resets_it(demo: Any, station: Any) -> None:
    d = demo.desk.document
    page(demo, station, FEATURES)
    dial = station.features.widgets["pupil"]
    project, before = d.project, pixels(station.stage)
    slide(dial, 0.9)
    demo.desk.flush()
    assert d.character.features.of("eyes")["pupil"] > 0.6
    assert pixels(station.stage) != before and d.undo_label == "Pupil in the iris"
    d.undo()
    assert d.project == project  # one step
    d.redo()
    QTest.mouseDClick(dial.slider, Qt.MouseButton.LeftButton)
    demo.desk.flush()
    assert "pupil" not in d.character.features.values["eyes"]  # what stands at its default is not kept
    QTest.keyClick(dial.slider, Qt.Key.Key_Right)
    assert (
        d.character.features.of("eyes")["pupil"] == pytest.approx(dial.value(), abs=1e-3) != feature("eyes").defaults()["pupil"]
    )


def test_choices_absence_and_unevenness(demo: Any, station: Any) -> None:
    d = demo.desk.document
    page(demo, station, FEATURES)
    station.features.feature_chosen.emit("nose")
    choice = station.features.widgets["kind"]
    assert isinstance(choice, Choice)
    choice.box.setCurrentIndex(5)
    choice.chosen.emit(5)
    assert d.character.features.of("nose")["kind"] == 5
    station.features.feature_chosen.emit("brows")
    station.features.drawn.click()
    demo.desk.flush()
    assert not d.character.features.drawn("brows") and not station.features.widgets["thick"].isEnabled()
    assert d.undo_label == "Brows left out"
    station.features.drawn.click()
    assert d.character.features.drawn("brows")
    plan = d.plan().points
    slide(station.features.uneven["level_brow_peak_hh"], 0.9)
    assert d.character.decisions.uneven["level_brow_peak_hh"] > 0.03 and (d.plan().points != plan).any()
    dial = station.features.uneven["level_brow_peak_hh"]
    QTest.mouseDClick(dial.slider, Qt.MouseButton.LeftButton)
    assert d.character.decisions.uneven == {}


def test_marks_are_added_changed_and_taken_away(demo: Any, station: Any) -> None:
    d = demo.desk.document
    page(demo, station, FEATURES)
    station.features.feature_chosen.emit(MARKS)
    n = len(d.character.features.marks)
    click(next(b for b in station.features.findChildren(QPushButton) if b.text() == "Add a scar"))
    demo.desk.flush()
    assert [m.kind for m in d.character.features.marks][n:] == ["scar"]
    dials = [w for w in station.features.findChildren(Dial) if w.name.text() == "How many"]
    dials[0].slider.setValue(20)
    assert d.character.features.marks[0].count == 21 and d.undo_label == "Change freckles"
    click(next(b for b in station.features.findChildren(QPushButton) if b.text() == "Remove freckles"))
    demo.desk.flush()
    assert [m.kind for m in d.character.features.marks] == ["scar"]


def test_an_expression_is_worn_and_never_moves_the_plan(demo: Any, station: Any) -> None:
    d = demo.desk.document
    page(demo, station, FACE)
    plan, drawn = d.plan().traits.copy(), pixels(station.stage)
    assert [t.words for t in station.strip.tiles] == list(expressions()) and station.strip.here == "neutral"
    click(station.strip, at(station.strip.tile(4).center()))
    demo.desk.flush()
    assert d.character.expression == expressions()["surprised"] and pixels(station.stage) != drawn
    assert (d.plan().traits == plan).all()
    slide(station.face.dials["mouth_corner"], 0.9)
    demo.desk.flush()
    assert d.character.expression.mouth_corner > 0.5 and d.undo_label == "Mouth corners" and station.strip.here == ""
    station.look_from(Turn(yaw=16, pitch=-8))
    click(next(b for b in station.face.findChildren(QPushButton) if b.text() == "Look at the viewer"))
    assert d.character.expression.gaze_x == pytest.approx(-0.5) and d.character.expression.gaze_y == pytest.approx(-0.25)
    click(next(b for b in station.face.findChildren(QPushButton) if b.text() == "At rest"))
    assert d.character.expression == NEUTRAL


def test_guides_of_a_school_singly_together_and_played(
    demo: Any, station: Any, qtbot: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    d = demo.desk.document
    page(demo, station, GUIDES)
    own = pixels(station.stage)
    i = station.guides.box.findData("circle-and-cross")
    station.guides.box.setCurrentIndex(i)
    station.guides.box.activated.emit(i)
    demo.desk.flush()
    assert d.character.decisions.school == "circle-and-cross" and station.guides.player.list.count() == 8
    everything = pixels(station.stage)
    assert everything != own and "above the plan" in station.guides.apart.text() and "Triangle" in station.guides.triangle.text()
    station.guides.player.mode.box.setCurrentIndex(2)
    station.guides.player.mode.chosen.emit(2)
    station.guides.player.list.setCurrentRow(3)
    assert station.guides.player.steps() == range(3, 4)
    one = pixels(station.stage)
    station.guides.player.mode.box.setCurrentIndex(1)
    station.guides.player.mode.chosen.emit(1)
    assert station.guides.player.steps() == range(4) and len({own, everything, one, pixels(station.stage)}) == 4
    station.guides.player.clock.setInterval(20)
    click(station.guides.player.play)
    assert station.guides.player.list.currentRow() == 0
    qtbot.waitUntil(lambda: station.guides.player.play.text() == "Play the steps", timeout=3000)
    assert station.guides.player.list.currentRow() == 7
    slide(station.guides.lines.dials["D"], 0.1)
    assert d.character.decisions.school_settings["D"] == pytest.approx(0.68, abs=0.02)
    station.guides.box.activated.emit(0)
    assert station.guides.player.steps() is None and not station.guides.player.list.isVisibleTo(station.guides)
    QTest.keyClick(station.stage, Qt.Key.Key_P)
    assert station.schooled and station.guides.player.play.text() != "Play the steps"
    station.guides.player.toggle_play()


def test_the_light_is_dragged_over_the_ball(demo: Any, station: Any) -> None:
    page(demo, station, LIGHT)
    before = pixels(station.stage)
    ball = station.light.ball
    drag(ball, QPointF(SIZE / 2, SIZE / 2), QPointF(SIZE * 0.85, SIZE * 0.35), steps=4)
    demo.desk.flush()
    assert station.light.on.isChecked() and ball.light.azimuth > 30 and ball.light.height > 5
    lit = pixels(station.stage)
    assert lit != before and "right" in station.light.words.text()
    QTest.keyClick(ball, Qt.Key.Key_Left)
    assert pixels(station.stage) != lit
    QTest.keyClick(station.stage, Qt.Key.Key_L)
    assert not station.light.on.isChecked() and pixels(station.stage) == before and not demo.desk.document.dirty


def test_perspective_hair_and_skull_are_ways_of_looking(demo: Any, station: Any) -> None:
    page(demo, station, TURN)
    shown = {pixels(station.stage)}
    station.page.near.click()
    assert station.page.distance == 6
    shown.add(pixels(station.stage))
    station.page.far.setValue(2.5)
    shown.add(pixels(station.stage))
    QTest.keyClick(station.stage, Qt.Key.Key_K)
    shown.add(pixels(station.stage))
    assert station.page.skull.isEnabled() and not station.page.hidden.isEnabled()
    station.page.hair.click()
    shown.add(pixels(station.stage))
    assert station.page.hidden.isEnabled() and not station.page.skull.isEnabled()
    assert len(shown) == 5 and not demo.desk.document.dirty


def test_the_expression_sheet_goes_to_paper(
    demo: Any, station: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    target = tmp_path / "faces.svg"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    with qtbot.waitSignal(station.exported, timeout=20_000):
        pick(demo, "Export an expression sheet…")
    text = target.read_text()
    assert all(f">{name}<" in text for name in expressions()) and "sad: mouth line" in text


def test_a_light_over_the_same_view_asks_for_nothing_else(demo: Any, station: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    """The view is laid once; dragging the light, or a dial of what the strip does not show, makes no picture anew."""
    from orthomet.app.stations.head import station as module

    page(demo, station, LIGHT)
    station.light.on.setChecked(True)
    asked: list[int] = []
    plain = module.scene_of

    def counted(*a: Any) -> Any:
        asked.append(1)
        return plain(*a)

    monkeypatch.setattr(module, "scene_of", counted)
    ball = station.light.ball
    drag(ball, QPointF(40, 60), QPointF(110, 100), steps=6)
    assert asked == []
    station.look_from(Turn(yaw=11))
    assert asked == [1]
    page(demo, station, FEATURES)
    before = station.strip.tiles_key
    slide(station.features.widgets["pupil"], 0.8)
    assert station.strip.tiles_key == before  # variants look the same whatever the feature is now
    station.features.feature_chosen.emit("nose")
    assert station.strip.tiles_key != before


def test_more_marks_than_a_file_may_hold_are_refused_at_once(demo: Any, station: Any, tmp_path: Path) -> None:
    """What the model refuses never comes into the project, or its file would not open again."""
    d = demo.desk.document
    before = d.project
    many = tuple(FaceMark(name=f"m{n}") for n in range(MAX_MARKS + 1))
    station.features.marks_changed.emit("Many marks", many)
    assert d.project is before and "not possible" in demo.ledge.sentence
    station.features.marks_changed.emit("As many as go", many[:-1])
    assert len(d.character.features.marks) == MAX_MARKS
    assert save(d, tmp_path / "m.orthomet") and read(tmp_path / "m.orthomet").project == d.project
