"""The Styles station by hand: samples, learning, values set on gauges, comparing, my hand, files."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog

from orthomet.app.stations.styles.station import ABOUT, HAND, READINGS
from orthomet.core.gauges.hand import change_words
from orthomet.core.landmarks.points import State
from orthomet.core.project.model import Drawing, Image
from orthomet.core.studies import style_of_study, two_periods_in
from orthomet.demo.painting.paint import OUT
from tests.saving import save

from .conftest import at, drag, pick, picture_file, pixels


@pytest.fixture
def styles(demo: Any) -> Any:
    demo.desk.go_named("Styles")
    demo.desk.flush()
    return demo.desk.station


def test_library_styles_are_compared_on_the_same_gauges(demo: Any, styles: Any) -> None:
    s, d = styles, demo.desk.document
    assert s.library.study is None and not s.strip.isVisible() and s.library.shown == d.character.decisions.style
    s.which.setCurrentIndex(s.which.findData("low-lantern"))
    s.which.activated.emit(s.which.currentIndex())
    row = s.list.rows["eye_width_fw"]
    assert row.item.style > row.item.other and not row.item.free
    plain = pixels(s.board)
    row.hovered.emit("eye_width_fw", True)
    assert pixels(s.board) != plain and s.reading_note()[0] == "Eye width"
    row.hovered.emit("eye_width_fw", False)
    before = row.item.other
    s.beside.setCurrentIndex(s.beside.findData("study:lamp-room"))
    s.beside.activated.emit(s.beside.currentIndex())
    assert s.list.rows["eye_width_fw"].item.other != before
    drag(row, QPointF(row.x_of(row.item.style), 12), QPointF(row.x_of(row.item.style) - 30, 12))
    assert d.project.studies[0].rows == {} and not d.dirty  # a library style is not changed
    s.bar.toward.click()
    assert d.character.decisions.style == "low-lantern" and d.undo_label == "Style"


def test_a_value_is_dragged_and_follows_the_samples_again(demo: Any, styles: Any) -> None:
    s, d = styles, demo.desk.document
    s.show_style("study:lamp-room")
    demo.desk.flush()
    row = s.list.rows["eye_gap_ew"]
    learned = row.item.style
    assert row.item.own_sd and s.strip.isVisible() and len(s.strip.samples) == 8
    a = QPointF(row.x_of(learned), 12)
    drag(row, a, a + QPointF(18, 0))
    demo.desk.flush()
    assert row.item.style > learned and row.item.by_hand and d.undo_label == "Style, gap between"
    assert style_of_study(s.library.study).readings["eye_gap_ew"].mean == pytest.approx(row.item.style)
    QTest.keyClick(row, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
    demo.desk.flush()
    QTest.mouseDClick(row, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(QPointF(row.x_of(row.item.style), 12)))
    demo.desk.flush()
    assert row.item.style == pytest.approx(learned) and not row.item.by_hand and s.library.study.rows == {}
    signature = s.list.rows["eye_width_fw"]
    assert signature.item.signature and pixels(signature)


def test_a_style_is_learned_from_drawings_that_are_dropped_and_marked(demo: Any, styles: Any, qtbot: Any, tmp_path: Path) -> None:
    s, d = styles, demo.desk.document
    s.library.new()
    assert s.library.study is not None and s.library.study.samples == () and "Add drawings" in s.learned.text()
    demo.desk.open_path(picture_file(tmp_path))
    qtbot.waitUntil(lambda: len(s.library.study.samples) == 1, timeout=8000)
    demo.desk.flush()
    stage = s.sample_stage
    assert s.stack.currentWidget() is stage and stage.placing == {}
    qtbot.waitUntil(lambda: stage.image is not None, timeout=5000)
    for x, y in ((150, 40), (150, 320), (208, 175)):
        QTest.mouseClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(stage.to_screen(x, y)))
    demo.desk.flush()
    (sample,) = s.library.study.samples
    assert (
        len(sample.marks.points) > 40
        and State.ESTIMATED in sample.marks.states.values()
        and style_of_study(s.library.study).readings == {}
    )
    q = stage.to_screen(*sample.marks.points["stomion"])
    drag(stage, q, q + QPointF(0, 9))
    demo.desk.flush()
    assert s.library.study.samples[0].marks.points["stomion"][1] > sample.marks.points["stomion"][1]
    s.bar.confirm_all.click()
    demo.desk.flush()
    assert style_of_study(s.library.study).readings["mouth_station"].n == 1 and not s.bar.confirm_all.isVisible()
    QTest.keyClick(stage, Qt.Key.Key_Escape)
    QTest.keyClick(stage, Qt.Key.Key_Escape)
    demo.desk.flush()
    assert s.stack.currentWidget() is s.board and "1 of 1 measured, no spread" in s.learned.text()
    for _ in range(3):
        d.undo()
    demo.desk.flush()
    assert s.library.study is not None and s.library.study.samples[0].marks.points == {}


def test_samples_are_walked_and_taken_out(demo: Any, styles: Any, qtbot: Any) -> None:
    s, d = styles, demo.desk.document
    s.show_style("study:lamp-room")
    demo.desk.flush()
    QTest.mouseClick(s.strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(s.strip.tile(2).center()))
    assert s.samples.open_id == "sketch-3" and s.bar.counts.text().startswith("59 placed")
    QTest.keyClick(s, Qt.Key.Key_PageDown)
    assert s.samples.open_id == "sketch-4"
    s.samples.step(-1)
    s.samples.step(-1)
    assert s.samples.open_id == "sketch-2"
    s.bar.view.activated.emit(s.bar.view.findData("profile"))
    demo.desk.flush()
    assert len(style_of_study(s.library.study).readings) and s.samples.current.marks.view == "profile"
    d.undo()
    s.samples.remove("sketch-2")
    demo.desk.flush()
    assert len(s.library.study.samples) == 7 and s.samples.current is None and s.stack.currentWidget() is s.board
    s.strip.setFocus()
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Return):
        QTest.keyClick(s.strip, key)
    assert s.samples.open_id == s.library.study.samples[2].id


def test_find_face_lays_points_on_a_drawing(demo: Any, styles: Any, qtbot: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    s, d = styles, demo.desk.document
    s.library.new()
    image = next(r.image for r in d.project.characters[1].references)
    s.samples.add(image, "As drawn")
    demo.desk.flush()
    qtbot.waitUntil(lambda: demo.desk.images.get(image.hash) is not None, timeout=8000)
    s.bar.find_face.click()
    qtbot.waitUntil(lambda: bool(s.samples.current.marks.points), timeout=20000)
    assert set(s.samples.current.marks.states.values()) == {State.ESTIMATED} and "photographs better" in demo.ledge.sentence
    monkeypatch.setattr("orthomet.app.stations.marking.available", lambda: False)
    s.bar.find_face.click()
    assert demo.ledge.bad and "Three clicks" in demo.ledge.sentence


def test_two_periods_are_told(demo: Any, styles: Any) -> None:
    from orthomet.core.project.edits import set_study

    s, d = styles, demo.desk.document
    s.show_style("study:lamp-room")
    demo.desk.flush()
    assert not s.periods.isVisible()
    late = []
    for k, sample in enumerate(s.library.study.samples):
        p = {
            n: (x, y + 45 if n.startswith(("stomion", "cheilion", "labiale", "alare", "subnasale")) else y)
            for n, (x, y) in sample.marks.points.items()
        }
        late.append(Drawing(id=f"late-{k}", name="Late", image=sample.image, marks=sample.marks.model_copy(update={"points": p})))
    d.do("More", set_study("lamp-room", samples=(*s.library.study.samples, *late)))
    demo.desk.flush()
    assert two_periods_in(s.library.study) and s.periods.isVisible()


def test_my_hand_is_read_off_the_pairs(demo: Any, styles: Any, qtbot: Any) -> None:
    s, d = styles, demo.desk.document
    s.show_style("study:lamp-room")
    s.pages.show_page(HAND)
    demo.desk.flush()
    board = s.pair_board
    assert s.stack.currentWidget() is board and len(board.pairs) == 6 and s.hand_page.summary.text() == "Learned from 6 pairs."
    assert len(s.hand_page.changes.changes) == 5 and pixels(s.hand_page) and pixels(board)
    title, what = change_words(s.hand_page.changes.changes[0])
    assert title and what.startswith("you draw") and "the style" in what
    QTest.mouseClick(board, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(board.tick(0).center()))
    demo.desk.flush()
    assert d.project.hand_left_out == (board.pairs[0].key,) and s.hand_page.summary.text() == "Learned from 5 pairs."
    board.setFocus()
    QTest.keyClick(board, Qt.Key.Key_Right)
    QTest.keyClick(board, Qt.Key.Key_Space)
    demo.desk.flush()
    assert "From 5 pairs on" in s.hand_page.summary.text() and len(d.project.hand_left_out) == 2
    d.undo()
    d.undo()
    demo.desk.flush()
    assert d.project.hand_left_out == ()
    QTest.mouseDClick(board, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(board.card(3).center()))
    assert demo.desk.station.name == "Check" and d.character.id == "lorn"


def test_what_no_ruler_sees_is_written_down(demo: Any, styles: Any) -> None:
    s = styles
    s.show_style("study:lamp-room")
    s.pages.show_page(ABOUT)
    demo.desk.flush()
    page = s.about
    page.title.setText("Lamp room, second winter")
    page.title.editingFinished.emit()
    question, line = next(iter(page.asks.items()))
    line.setText("thin, tapering")
    line.editingFinished.emit()
    page.remark.setPlainText("Owl-eyed")
    page.remark.settle()
    page.source.setText("own sketchbooks")
    page.source.editingFinished.emit()
    study = s.library.study
    assert (study.title, study.note, study.source) == ("Lamp room, second winter", "Owl-eyed", "own sketchbooks")
    assert study.checklist[question] == "thin, tapering"
    demo.desk.flush()
    line.setText("")
    line.editingFinished.emit()
    page.title.setText("  ")
    page.title.editingFinished.emit()
    assert question not in s.library.study.checklist and s.library.study.title == "Lamp room, second winter" == page.title.text()
    s.show_style("low-lantern")
    assert not page.title.isEnabled() and page.shipped.isVisible() and page.title.text() == "Low lantern"
    s.pages.show_page(READINGS)


def test_styles_are_copied_saved_opened_and_removed(
    demo: Any, styles: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, d = styles, demo.desk.document
    s.show_style("low-lantern")
    s.bar.copy.click()
    assert s.library.study.title == "Low lantern, mine" and s.list.rows["eye_width_fw"].item.free
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "mine.json"), ""))
    pick(demo, "Save this style as…")
    body = json.loads((tmp_path / "mine.json").read_text())
    assert body["name"] == "low-lantern-mine" and body["readings"]["eye_width_fw"]["mean"] == 0.3
    demo.desk.go_named("Plan")
    assert demo.desk.open_path(str(tmp_path / "mine.json"))
    assert demo.desk.station is s and len(d.project.studies) == 3
    s.bar.toward.click()
    name = s.library.shown
    assert d.character.decisions.style == name
    pick(demo, "Remove this style")
    demo.desk.flush()
    assert len(d.project.studies) == 2 and d.character.decisions.style != name and s.library.shown != name
    (tmp_path / "bad.json").write_text('{"name": "x", "title": "X", "readings": {"nonsense": {"mean": 1}}}')
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "bad.json"), ""))
    pick(demo, "Open a style file…")
    assert demo.ledge.bad and "nonsense" in demo.ledge.sentence and len(d.project.studies) == 2
    s.library.new()
    pick(demo, "Save this style as…")
    assert demo.ledge.bad and "says nothing yet" in demo.ledge.sentence
    assert save(d, tmp_path / "p.orthomet")
    from orthomet.core.project.store import read

    assert read(tmp_path / "p.orthomet").project.studies == d.project.studies


def test_landmark_files_go_to_the_open_sample(demo: Any, styles: Any) -> None:
    s, d = styles, demo.desk.document
    s.show_style("study:lamp-room")
    s.samples.open("sketch-1")
    before = d.character.reference
    assert demo.desk.open_path(str(OUT / "sketch-5.json"))
    assert (
        s.samples.current.marks.points["stomion"] == s.library.study.samples[4].marks.points["stomion"]
        and d.character.reference == before
    )
    assert s.landmarks_here().points == s.samples.current.marks.points
    s.samples.close()
    assert s.landmarks_here() is None and s.take_landmarks(s.library.study.samples[0].marks.landmarks()) is None
    assert not s.take_picture("nothing", "x") and isinstance(s.library.study.samples[0].image, Image)


@pytest.mark.parametrize("name", ["day", "night"])
def test_every_page_paints(demo: Any, styles: Any, qtbot: Any, name: str) -> None:
    from orthomet.app.theme.tokens import theme

    theme.use(name)
    s = styles
    s.show_style("study:lamp-room")
    shots = []
    for page in (READINGS, HAND, ABOUT):
        s.pages.show_page(page)
        demo.desk.flush()
        shots.append(pixels(demo))
    assert len(set(shots)) == 3 and s.hint() and s.actions_here()
    theme.use("day")
