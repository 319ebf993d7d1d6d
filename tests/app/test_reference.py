"""The Reference station by hand: faces found, own spans, stick, views, what is known of the picture, idea, colours, files."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image as Pillow
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QGuiApplication
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QFileDialog

from orthomet.core.imaging import faces
from orthomet.core.landmarks.files import landmarks_to_text
from orthomet.core.landmarks.frame import frame_of
from orthomet.core.landmarks.points import State
from orthomet.core.landmarks.pts import to_pts
from orthomet.core.landmarks.templates import template
from orthomet.core.landmarks.views import FIGURE
from orthomet.core.project.edits import change_reference, place, set_character, set_states
from orthomet.core.project.places import ReferencePlace, edit_marks
from orthomet.core.project.store import read
from tests.faces import marks_of
from tests.portraits import portrait
from tests.saving import save

from .conftest import at, drag, pick, pixels


def station_of(w: Any) -> Any:
    w.desk.go_named("Reference")
    return w.desk.station


def point(stage: Any, x: float, y: float) -> QPointF:
    return stage.to_screen(x, y)


def click(stage: Any, x: float, y: float) -> None:
    QTest.mouseClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(point(stage, x, y)))


def opened(w: Any, qtbot: Any, path: Path) -> Any:
    """Open a picture as a person would and wait until it shows."""
    s = station_of(w)
    w.desk.open_path(str(path))
    qtbot.waitUntil(lambda: w.desk.document.character is not None and s.reference is not None, timeout=8000)
    qtbot.waitUntil(lambda: w.desk.images.get(s.reference.image.hash) is not None, timeout=8000)
    w.desk.flush()
    return s


@pytest.fixture
def strangers(tmp_path: Path) -> Path:
    """Two painted strangers on one sheet."""
    a, b = portrait(0.21, 3)[0], portrait(0.25, 4)[0]
    path = tmp_path / "two.png"
    Pillow.fromarray(np.hstack([a, b])).save(path)
    return path


def test_a_face_is_found_confirmed_by_groups_and_read(window: Any, qtbot: Any, tmp_path: Path) -> None:
    picture, truth, traits = portrait(0.22, 5)
    Pillow.fromarray(picture).save(tmp_path / "one.png")
    s, d = opened(window, qtbot, tmp_path / "one.png"), window.desk.document
    assert s.stage.placing == {} and faces.available()
    QTest.keyClick(s.stage, Qt.Key.Key_J, Qt.KeyboardModifier.ControlModifier)
    qtbot.waitUntil(lambda: bool(s.reference.marks.points), timeout=20000)
    window.desk.flush()
    marks = s.reference.marks
    assert set(marks.states.values()) == {State.ESTIMATED} and s.counts.text().startswith("0 of")
    hh = truth["gnathion"][1] - truth["vertex"][1]
    assert abs(marks.points["stomion"][1] - truth["stomion"][1]) < 0.03 * hh
    assert not d.seen().sure("eye_width_fw") and d.plan().reference.size  # seen, and no judgement yet
    names = s.stage.walk_order()
    groups = []
    s.stage.setFocus()
    while any(v is State.ESTIMATED for v in s.reference.marks.states.values()):
        groups.append(s.stage.open_in_group()[0])
        QTest.keyClick(s.stage, Qt.Key.Key_Return, Qt.KeyboardModifier.ShiftModifier)
        window.desk.flush()
        assert len(groups) < 20
    assert len(groups) == len(set(groups)) >= 4 and len(names) > 40
    assert d.seen().sure("eye_width_fw") and d.seen().value("eye_width_fw") == pytest.approx(traits["eye_width_fw"], abs=0.04)
    assert "vertex" in s.reference.marks.spread  # found under the hair: it stays uncertain
    for _ in groups:
        d.undo()
    assert s.reference.marks == marks
    d.undo()
    assert s.reference.marks.points == {}


def test_of_several_faces_the_one_that_is_clicked_is_taken(window: Any, qtbot: Any, strangers: Path) -> None:
    s = opened(window, qtbot, strangers)
    s.find_face.click()
    qtbot.waitUntil(lambda: len(s.stage.faces) == 2, timeout=20000)
    assert "2 faces" in window.ledge.sentence and s.stage.asking() and pixels(s.stage)
    x, y, w, h = max(s.stage.faces, key=lambda f: f.box[0]).box
    click(s.stage, 5, 5)
    assert len(s.stage.faces) == 2  # beside both: still asked
    click(s.stage, x + w / 2, y + h / 2)
    qtbot.waitUntil(lambda: bool(s.reference.marks.points), timeout=20000)
    half = s.reference.image.size[0] / 2
    assert all(px > half for n, (px, _) in s.reference.marks.points.items() if n.startswith(("exo", "endo", "stom")))


def test_no_face_and_no_network_are_said(window: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    Pillow.new("RGB", (300, 300), (120, 130, 140)).save(tmp_path / "blank.png")
    s = opened(window, qtbot, tmp_path / "blank.png")
    s.find_face.click()
    qtbot.waitUntil(lambda: window.ledge.bad and "No face" in window.ledge.sentence, timeout=20000)
    monkeypatch.setattr("orthomet.app.stations.marking.available", lambda: False)
    s.find_face.click()
    assert "not installed" in window.ledge.sentence and s.reference.marks.points == {}
    assert any("Three clicks" in b.text() for b in (s.start_over,))


def test_an_own_span_is_marked_named_read_and_forgotten(demo: Any) -> None:
    s, d = station_of(demo), demo.desk.document
    p = d.character.reference.marks.points
    hh = p["gnathion"][1] - p["vertex"][1]
    QTest.keyClick(s.stage, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    click(s.stage, *p["vertex"])
    click(s.stage, p["vertex"][0], p["vertex"][1] + hh / 4)
    assert s.span_bar.isVisible()
    QTest.keyClicks(s.span_bar.name, "Quiff")
    QTest.keyClick(s.span_bar.name, Qt.Key.Key_Return)
    demo.desk.flush()
    (span,) = d.character.spans
    assert span.name == "Quiff" and d.seen().value(span.key) == pytest.approx(0.25, abs=0.01)
    assert s.list.rows[span.key].isVisible() and s.list.rows[span.key].item.label == "Quiff"
    pick(demo, "Forget the last own span")
    assert d.character.spans == () and not any(n.startswith("own_") for n in s.reference.marks.points)
    d.undo()
    demo.desk.flush()
    assert d.character.spans == (span,) and d.seen().value(span.key) is not None
    QTest.keyClick(s.stage, Qt.Key.Key_T, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(s.stage, Qt.Key.Key_Escape)
    assert s.stage.marking is None


def test_the_stick_measures_without_a_landmark_and_becomes_a_span(demo: Any) -> None:
    demo.desk.document.choose_character("klinker")
    s, d = station_of(demo), demo.desk.document
    demo.desk.flush()
    stage, tools = s.stage, s.stage.tools
    before = len(d.character.spans)
    QTest.keyClick(stage, Qt.Key.Key_D, Qt.KeyboardModifier.ControlModifier)
    drag(stage, point(stage, 300, 300), point(stage, 300, 400))
    assert tools.stick.length == pytest.approx(100, abs=3)
    for key, n in ((Qt.Key.Key_Period, 2), (Qt.Key.Key_Period, 3), (Qt.Key.Key_Comma, 2)):
        QTest.keyClick(stage, key)
        assert tools.stick.times == n
    QTest.keyClick(stage, Qt.Key.Key_Slash)
    assert tools.stick.parts == 2 and pixels(stage)
    drag(stage, point(stage, 300, 350), point(stage, 420, 350))
    assert tools.stick.a[0] == pytest.approx(420, abs=3) and tools.stick.length == pytest.approx(100, abs=3)
    QTest.keyClick(stage, Qt.Key.Key_R, Qt.KeyboardModifier.ControlModifier)
    drag(stage, point(stage, 500, 250), point(stage, 500, 500))
    assert tools.stick.fits(*tools.other) == pytest.approx(2.5, abs=0.1)
    QTest.keyClick(stage, Qt.Key.Key_K, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClicks(s.span_bar.name, "Rivet row")
    QTest.keyClick(s.span_bar.name, Qt.Key.Key_Return)
    demo.desk.flush()
    assert len(d.character.spans) == before + 2 and d.seen().value(d.character.spans[-1].key) == pytest.approx(2.5, abs=0.1)
    for key, level in ((Qt.Key.Key_L, True), (Qt.Key.Key_P, False)):
        QTest.keyClick(stage, key, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
        click(stage, 200, 600)
        assert tools.lines[-1].level is level
    for _ in range(4):
        QTest.keyClick(stage, Qt.Key.Key_Escape)
    assert not tools.busy


def test_a_figure_and_a_profile_are_read_in_their_own_view(demo: Any, qtbot: Any) -> None:
    s, d = station_of(demo), demo.desk.document
    d.choose_character("lorn")
    demo.desk.flush()
    s.which.activated.emit(1)
    demo.desk.flush()
    assert (
        s.view.currentData() == "figure"
        and not s.find_face.isVisible()
        and d.seen().value("heads_tall") == pytest.approx(8.1, abs=0.02)
    )
    assert "heads_tall" in s.list.rows and not s.panel.noticed.isVisible()
    assert d.measured().value("eye_width_fw") is not None  # the plan still follows the portrait
    qtbot.waitUntil(lambda: s.stage.image is not None, timeout=8000)
    s.start_over.click()
    size = s.reference.image.size
    xy = template(FIGURE)
    k = size[1] * 0.86 / xy[FIGURE.index["floor"], 1]
    for name in ("vertex", "gnathion", "floor"):
        x, y = xy[FIGURE.index[name]]
        click(s.stage, size[0] / 2 + x * k, 40 + y * k)
    demo.desk.flush()
    assert len(s.reference.marks.points) == len(FIGURE.names) and s.reference.marks.states["patella_l"] is State.ESTIMATED
    s.view.setCurrentIndex(s.view.findData("profile"))
    s.view.activated.emit(s.view.currentIndex())
    demo.desk.flush()
    assert s.reference.marks.view == "profile" and set(s.reference.marks.points) <= {"vertex", "gnathion"}
    d.undo()
    assert s.reference.marks.view == "figure"


def test_a_part_can_be_absent_by_design(demo: Any) -> None:
    s, d = station_of(demo), demo.desk.document
    s.stage.active = "pronasale"
    QTest.keyClick(s.stage, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier)
    demo.desk.flush()
    marks = s.reference.marks
    assert marks.states["pronasale"] is State.ABSENT and "pronasale" not in marks.points and s.badge() == ("", "")
    d.undo()
    assert "pronasale" in s.reference.marks.points


def test_what_is_known_of_the_picture_changes_what_is_read(demo: Any) -> None:
    s, d = station_of(demo), demo.desk.document
    page = s.panel.picture
    s.panel.pages.show_page(1)
    straight = d.seen().value("face_width_hh")
    assert page.shape.text().startswith("Face shape: ") and "eyes" in page.canon.text()
    page.undo.click()
    demo.desk.flush()
    page.yaw.setValue(25)
    demo.desk.flush()
    assert s.reference.turn.yaw == 25 and d.seen().value("face_width_hh") != pytest.approx(straight, rel=0.01)
    page.yaw.setValue(55)
    demo.desk.flush()
    assert "Too vague at this turn" in page.trust.text() and "face width" in page.trust.text()
    page.undo.click()
    demo.desk.flush()
    assert s.reference.turn is None and d.seen().value("face_width_hh") == pytest.approx(straight)
    eyes = d.seen().value("eye_width_fw")
    page.near.click()
    page.distance.setValue(1.0)
    demo.desk.flush()
    assert s.reference.distance_m == 1.0 and d.seen().value("eye_width_fw") == pytest.approx(
        0.96 * eyes, rel=0.015
    )  # cheeks read wider
    page.near.click()
    page.rights.setText("Ask first")
    page.rights.editingFinished.emit()
    next(b for b in page.findChildren(QCheckBox) if b.text() == "Hair").click()
    demo.desk.flush()
    assert s.reference.rights == "Ask first" and "Hair" not in s.reference.feeds and "Eyes" in s.reference.feeds
    next(b for b in page.findChildren(QCheckBox) if b.text() == "Hair").click()
    demo.desk.flush()
    assert s.reference.feeds == ()


def test_a_page_is_flattened_by_its_corners(demo: Any) -> None:
    s, d = station_of(demo), demo.desk.document
    s.panel.pages.show_page(1)
    s.panel.picture.corners.click()
    w, h = s.reference.image.size
    corners = [(10, 10), (w - 10, 30), (w - 40, h - 20), (20, h - 10)]
    for c in corners:
        click(s.stage, *c)
    demo.desk.flush()
    assert s.reference.sheet is not None and s.reference.sheet.mm == (210.0, 297.0)
    np.testing.assert_allclose(s.reference.sheet.corners, corners, atol=3)
    assert "mm tall" in s.panel.picture.sheet_note.text()
    s.panel.picture.height_mm.setValue(400)
    assert s.reference.sheet.mm[1] == 400
    drag(s.stage, point(s.stage, *s.reference.sheet.corners[0]), point(s.stage, 40, 60))
    assert s.reference.sheet.corners[0][0] == pytest.approx(40, abs=4)
    before = s.reference.sheet
    s.stage.corners_set.emit((corners[1], corners[0], corners[2], corners[3]))
    assert s.reference.sheet is before and "cross" in demo.ledge.sentence
    s.panel.picture.flat.click()
    assert s.reference.sheet is None
    d.undo()
    assert s.reference.sheet == before
    s.panel.picture.corners.click()
    QTest.keyClick(s.stage, Qt.Key.Key_Escape)
    assert s.stage.page.clicking is None


def test_two_photographs_are_taken_together(demo: Any) -> None:
    s, d = station_of(demo), demo.desk.document
    from orthomet.core.project.edits import add_reference

    ref = d.character.reference
    moved = ref.marks.model_copy(
        update={
            "points": {
                **ref.marks.points,
                "labiale_inferius": (ref.marks.points["labiale_inferius"][0], ref.marks.points["labiale_inferius"][1] + 40),
            }
        }
    )
    d.do("Add", add_reference("berta", ref.model_copy(update={"id": "again", "name": "Again", "marks": moved})))
    s.panel.pages.show_page(1)
    demo.desk.flush()
    assert s.panel.picture.pooled.isVisible()
    alone = d.measured().value("lower_lip_hh")
    s.panel.picture.pooled.click()
    demo.desk.flush()
    assert d.character.pooled and "lower lip" in s.panel.picture.worn.text()
    assert d.measured().value("lower_lip_hh") < alone


def test_the_idea_its_directions_and_what_the_story_asks(demo: Any) -> None:
    s, d = station_of(demo), demo.desk.document
    s.panel.pages.show_page(2)
    page = s.panel.idea
    page.idea.setText("sly")
    page.idea.editingFinished.emit()
    page.more.activated.emit(page.more.findData("eye_gap_ew"))
    demo.desk.flush()
    assert d.character.idea == "sly" and d.character.directions["eye_gap_ew"] == 1
    page.turns["eye_gap_ew"].click()
    assert d.character.directions["eye_gap_ew"] == -1
    demo.desk.flush()
    row = list(page.turns).index("eye_gap_ew")
    page.grid.itemAtPosition(row, 2).widget().click()
    assert "eye_gap_ew" not in d.character.directions
    page.needs.setPlainText("Hangs upside down")
    page.needs.settle()
    assert d.character.needs == "Hangs upside down"
    for _ in range(4):
        d.undo()
    assert d.character.idea in ("sly", "steady")


def test_colours_are_taken_named_and_saved(demo: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    s, d = station_of(demo), demo.desk.document
    d.do("No colours", set_character("berta", swatches=()))
    demo.desk.flush()
    s.panel.pages.show_page(3)
    s.panel.colours.take.click()
    qtbot.waitUntil(lambda: len(d.character.swatches) > 3, timeout=20000)
    demo.desk.flush()
    card = s.panel.colours.cards[0]
    card.name.setText("River")
    card.name.editingFinished.emit()
    demo.desk.flush()
    s.panel.colours.cards[0].parts.setText("ground, coat , coat")
    s.panel.colours.cards[0].parts.editingFinished.emit()
    demo.desk.flush()
    assert d.character.swatches[0].name == "River" and d.character.swatches[0].parts == ("ground", "coat")
    n = len(d.character.swatches)
    s.panel.colours.take.click()
    qtbot.waitUntil(lambda: not demo.desk.work.active, timeout=20000)
    demo.desk.flush()
    assert d.character.swatches[0].name == "River" and len(d.character.swatches) == n  # what was named stays named
    shown = pixels(s.panel.colours.bar)
    s.panel.colours.dial.setValue(0)
    assert pixels(s.panel.colours.bar) != shown
    for name, words in (("c.css", "--river-edge"), ("c.json", '"River"')):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, name=name: (str(tmp_path / name), ""))
        s.panel.colours.export.click()
        assert words in (tmp_path / name).read_text()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("/nowhere/c.css", ""))
    s.panel.colours.export.click()
    assert demo.ledge.bad
    s.panel.colours.cards[0].gone.emit(0)
    assert len(d.character.swatches) == n - 1


def test_the_norm_is_chosen_and_readings_leave_as_a_table(demo: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    s, d = station_of(demo), demo.desk.document
    d.choose_character("wick")
    demo.desk.flush()
    z = s.list.rows["eye_station"].item.z(d.seen().value("eye_station"))
    names = [s.panel.against.itemData(i) for i in range(s.panel.against.count())]
    assert "age:10" in names and "cast" in names and "style:study:lamp-room" in names
    for name in ("age:10", "cast", "style:study:lamp-room"):
        s.panel.against.activated.emit(names.index(name))
        demo.desk.flush()
        assert d.character.decisions.norm == name
        if name == "age:10":
            assert abs(s.list.rows["eye_station"].item.z(d.seen().value("eye_station"))) < abs(z)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "r.csv"), ""))
    pick(demo, "Save readings as CSV…")
    assert (tmp_path / "r.csv").read_text().startswith("reading,label,value")


def test_landmarks_come_by_file_and_clipboard_and_go_as_68_points(
    demo: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, d = station_of(demo), demo.desk.document
    before = s.reference.marks
    (tmp_path / "f.pts").write_text(to_pts(marks_of()))
    assert demo.desk.open_path(str(tmp_path / "f.pts")) and "vertex" not in s.reference.marks.points
    assert s.reference.marks.points["stomion"] == pytest.approx(marks_of().points["stomion"], abs=1e-3)
    d.undo()
    turned = {**json.loads(landmarks_to_text(marks_of())), "turn": {"yaw": 20, "pitch": 0, "roll": 0}}
    (tmp_path / "t.json").write_text(json.dumps(turned))
    assert demo.desk.open_path(str(tmp_path / "t.json")) and s.reference.turn.yaw == 20  # the turn comes with the points
    assert s.landmarks_here().turn.yaw == 20
    d.undo()
    spans = [{"id": "tail", "name": "Tail", "view": "front", "ends": ["own_tail_a", "own_tail_b"], "by": "hh"}]
    points = {n: list(xy) for n, xy in marks_of().points.items()} | {"own_tail_a": [0, 0], "own_tail_b": [0, 400]}
    QGuiApplication.clipboard().setText(json.dumps({"view": "front", "points": points, "spans": spans}))
    demo.desk.paste()
    demo.desk.flush()
    assert d.character.spans[0].name == "Tail" and d.seen().value("own_tail") == pytest.approx(0.5)
    QGuiApplication.clipboard().setText('{"points": {"vertex": [0, "x"]}}')
    demo.desk.paste()
    assert demo.ledge.bad and d.character.spans
    for name in ("out.pts", "out.json"):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, name=name: (str(tmp_path / name), ""))
        demo.desk.save_landmarks()
    assert (tmp_path / "out.pts").read_text().startswith("version: 1")
    assert json.loads((tmp_path / "out.json").read_text())["spans"][0]["name"] == "Tail"
    d.undo()
    assert s.reference.marks == before and d.character.spans == ()
    QGuiApplication.clipboard().clear()


def test_everything_new_survives_saving_and_opening(demo: Any, tmp_path: Path) -> None:
    from orthomet.app.document import Document
    from orthomet.core.landmarks.turn import Turn
    from orthomet.core.project.edits import change_reference, set_character
    from orthomet.core.project.model import Sheet, Swatch

    d = demo.desk.document
    ref = d.character.reference
    sheet = Sheet(corners=((0, 0), (900, 10), (910, 1200), (5, 1190)), mm=(200, 280))
    d.do("x", change_reference("berta", ref.id, turn=Turn(yaw=12), distance_m=1.5, sheet=sheet, feeds=("Eyes",), rights="free"))
    d.do(
        "y",
        set_character(
            "berta", swatches=(Swatch(name="A", colour="#112233", edge="#000000", centre="#ffffff", parts=("hat",)),), needs="n"
        ),
    )
    assert save(d, tmp_path / "all.orthomet")
    other = Document(keep_journal=False)
    kept = d.project
    d.close()
    other.open_stored(read(tmp_path / "all.orthomet"), tmp_path / "all.orthomet")
    assert other.project == kept
    assert set(other.pictures) == set(kept.images())
    other.close()


def test_only_a_creature_with_its_own_parts_marked_owes_no_face(demo: Any) -> None:
    from orthomet.core.project.edits import change_reference
    from orthomet.core.project.model import Marks

    s, d = station_of(demo), demo.desk.document
    d.choose_character("klinker")
    demo.desk.flush()
    assert {k for k, row in s.list.rows.items() if row.isVisible()} == {p.key for p in d.character.spans}
    d.do("Clear", change_reference("klinker", d.character.reference.id, marks=Marks()))
    demo.desk.flush()
    assert s.list.rows["eye_width_fw"].isVisible()  # nothing is marked yet: it may still become a face


def test_the_sure_side_is_mirrored_to_the_other(demo: Any) -> None:
    """By the key, at every station that marks: the other side lies symmetrical about the midline, estimated, one step."""
    s, d = station_of(demo), demo.desk.document
    before = d.project
    sided = [n for n in s.reference.marks.points if n.endswith("_r") and n[:-1] + "l" in s.reference.marks.points]
    d.do("x", change_reference("berta", s.reference.id, marks=set_states(s.reference.marks, sided, State.ESTIMATED)))
    demo.desk.flush()
    QTest.keyClick(s.stage, Qt.Key.Key_M, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    marks = s.reference.marks
    assert d.undo_label == "Mirror the sure side" and all(marks.states[n] is State.ESTIMATED for n in sided)
    frame = frame_of(marks.landmarks(), s.reference.level_by)
    heads = {
        n: frame.to_heads(np.array(marks.points[n]))
        for n in ("cheilion_l", "cheilion_r", "exocanthion_l", "exocanthion_r", "stomion")
    }
    for base in ("cheilion", "exocanthion"):
        assert heads[f"{base}_l"][1] == pytest.approx(heads[f"{base}_r"][1], abs=1e-6)
    middles = [heads[f"{b}_l"][0] + heads[f"{b}_r"][0] for b in ("cheilion", "exocanthion")]
    assert middles[0] == pytest.approx(middles[1], abs=1e-6)
    d.undo()
    d.undo()
    assert d.project == before
    pick(demo, "Mirror the sure side")
    assert d.project == before and "Nothing to mirror" in demo.ledge.sentence


def test_a_face_found_too_late_is_not_laid_on_another_picture(demo: Any, qtbot: Any) -> None:
    """The question changed while the networks ran: their answer is dropped, and nothing is busy any more."""
    s, d = station_of(demo), demo.desk.document
    qtbot.waitUntil(lambda: s.stage.image is not None, timeout=8000)
    before = d.project
    s.find_face.click()
    d.choose_character("lorn")
    demo.desk.flush()
    qtbot.waitUntil(lambda: not demo.desk.work.active, timeout=20000)
    assert d.project == before and not demo.ledge.progress.isVisible()


def test_sides_are_laid_on_a_figures_outline_and_stay_to_be_confirmed(demo: Any, qtbot: Any) -> None:
    """The demo's figure with its sides put elsewhere, as three clicks would: one button, one step, estimates that land where they were painted."""
    d, station = demo.desk.document, demo.desk.stations.named("Reference")
    d.choose_character("lorn")
    demo.desk.flush()
    station.which.activated.emit(1)
    demo.desk.flush()
    ref = station.reference
    assert ref.marks.view == "figure"
    truth = {n: ref.marks.points[n] for n in ("hip_side_l", "waist_side_r", "thigh_outer_l", "calf_outer_r")}
    off = {n: (x + (9 if n.endswith("l") else -9), y) for n, (x, y) in truth.items()}
    at = ReferencePlace("lorn", ref.id)
    d.do("Seeds", edit_marks(at, lambda m: place(m, off, State.ESTIMATED)))
    placed = dict(station.reference.marks.points)
    demo.desk.flush()
    qtbot.waitUntil(lambda: demo.desk.images.get(ref.image.hash) is not None, timeout=10_000)
    demo.desk.refresh()
    assert station.lay_sides.isVisible()
    QTest.mouseClick(station.lay_sides, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: d.undo_label.startswith("Lay "), timeout=20_000)
    marks = station.reference.marks
    head = ref.marks.points["gnathion"][1] - ref.marks.points["vertex"][1]
    for n, (x, y) in truth.items():
        assert (
            abs(marks.points[n][0] - x) < 0.05 * head and abs(marks.points[n][1] - y) < 1 and marks.states[n] is State.ESTIMATED
        )
    assert all(marks.points[n] == p for n, p in placed.items() if n not in truth)  # what a person placed stays
    d.undo()
    assert dict(station.reference.marks.points) == placed
