"""The stage: mapping, seeding clicks, walking, lens, plan board, pictures of any size."""

from __future__ import annotations

import io
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest

from orthomet.app.document import Document
from orthomet.app.pictures import Read, picture_sources, read_picture
from orthomet.app.stage.images import ImageStore
from orthomet.app.stage.lens import LENS, lens_place
from orthomet.app.stage.marks import MarksStage
from orthomet.app.stage.pixels import reduced
from orthomet.app.stage.view import ZOOM_MOST
from orthomet.app.work import Work
from orthomet.core.landmarks.points import State
from orthomet.core.landmarks.templates import ANCHORS as ALL_ANCHORS
from orthomet.core.project.edits import confirm, place
from orthomet.core.project.model import Marks
from orthomet.core.resolve import plan_of_style
from tests.faces import marks_of

from .conftest import at, drag, pixels

ANCHORS = ALL_ANCHORS["front"]


@pytest.fixture
def stage(qapp: Any, qtbot: Any) -> MarksStage:
    s = MarksStage()
    qtbot.addWidget(s)
    s.resize(700, 600)
    image = QImage(1200, 1000, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.lightGray)
    s.set_picture(image, (1200, 1000))
    s.show()
    return s


def with_face(stage: MarksStage) -> Marks:
    marks = Marks(points=dict(marks_of(px=600.0, shift=(600.0, 200.0)).points))
    stage.set_marks(marks)
    stage.fit()
    return marks


def test_fit_shows_the_head_and_stays_on_the_picture(stage: MarksStage) -> None:
    whole = stage.scale
    marks = with_face(stage)
    assert stage.scale > whole
    f = stage.frame()
    for n in ("vertex", "gnathion", "euryon_l", "euryon_r"):
        assert f.contains(stage.to_screen(*marks.points[n])), n
    box = stage.focus_box()
    assert box is not None and QRectF(0, 0, 1200, 1000).contains(box)
    stage.zoom(1e9)
    assert stage.scale == ZOOM_MOST
    stage.resize(400, 300)
    assert not stage.fitted


def test_three_clicks_in_order_know_the_side(stage: MarksStage, qtbot: Any) -> None:
    stage.begin_seeding()
    asked = [stage.anchor_wanted()]
    got: list[dict[str, Any]] = []
    stage.anchors_clicked.connect(got.append)
    for xy in ((600, 150), (600, 800), (500, 450)):
        QTest.mouseClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(stage.to_screen(*xy)))
        asked.append(stage.anchor_wanted())
    assert ["crown" in asked[0], "chin" in asked[1], "eye" in asked[2], asked[3]] == [True, True, True, ""]
    assert set(got[0]) == {"vertex", "gnathion", "exocanthion_r"} and len(ANCHORS) == 3
    stage.begin_seeding()
    QTest.mouseClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(stage.to_screen(600, 150)))
    QTest.keyClick(stage, Qt.Key.Key_Escape)
    assert stage.placing == {}


def test_clicks_beside_the_picture_frame_place_nothing(stage: MarksStage) -> None:
    stage.begin_seeding()
    QTest.mouseClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(QPointF(20, 300)))
    assert stage.placing == {}


def test_walking_goes_in_placing_order_and_estimated_ones_first(stage: MarksStage) -> None:
    marks = with_face(stage)
    QTest.keyClick(stage, Qt.Key.Key_Tab)
    assert stage.active == "vertex"
    QTest.keyClick(stage, Qt.Key.Key_Tab)
    assert stage.active == "gnathion"
    QTest.keyClick(stage, Qt.Key.Key_Tab, Qt.KeyboardModifier.ShiftModifier)
    QTest.keyClick(stage, Qt.Key.Key_Tab, Qt.KeyboardModifier.ShiftModifier)
    assert stage.active == [n for n in stage.marks.landmarks().schema.names if n in marks.points][-1]
    stage.set_marks(marks.model_copy(update={"states": {"alare_l": State.ESTIMATED, "pupil_r": State.ESTIMATED}}))
    stage.active = "vertex"
    edits: list[Any] = []
    stage.edit_made.connect(lambda label, edit: edits.append(edit))
    QTest.keyClick(stage, Qt.Key.Key_Return)
    assert stage.active == "alare_l" and edits == []  # the crown was sure already
    QTest.keyClick(stage, Qt.Key.Key_Return)
    assert stage.active == "pupil_r" and "alare_l" not in edits[0](stage.marks).states


def test_the_lens_never_covers_its_point(stage: MarksStage) -> None:
    f = stage.frame()
    for x in np.linspace(f.left() + 5, f.right() - 5, 9):
        for y in np.linspace(f.top() + 5, f.bottom() - 5, 9):
            c = lens_place(f, QPointF(float(x), float(y)), LENS / 2)
            assert np.hypot(c.x() - x, c.y() - y) > LENS / 2 + 20


def test_moving_one_point_relays_the_estimated_ones_only(stage: MarksStage) -> None:
    marks = with_face(stage)
    loose = {n: State.ESTIMATED for n in marks.points if n.startswith("gonion") or n.startswith("chin_side")}
    stage.set_marks(marks.model_copy(update={"states": loose}))
    stage.template = plan_of_style("measured-adult").points
    edits: list[Any] = []
    stage.drag_moved.connect(edits.append)
    a = stage.to_screen(*marks.points["zygion_l"])
    drag(stage, a, a + QPointF(24, 0))
    after = edits[-1](stage.marks)
    assert after.points["zygion_l"][0] > marks.points["zygion_l"][0] + 15
    assert after.points["gonion_l"][0] > marks.points["gonion_l"][0] + 0.3 and after.states["gonion_l"] is State.ESTIMATED
    assert after.points["nasion"] == marks.points["nasion"]


def test_taking_away_and_hiding(stage: MarksStage) -> None:
    with_face(stage)
    edits: list[tuple[str, Any]] = []
    stage.edit_made.connect(lambda label, edit: edits.append((label, edit)))
    stage.active = "hair_top" if "hair_top" in stage.marks.points else "nasion"
    name = stage.active
    QTest.keyClick(stage, Qt.Key.Key_H)
    assert edits[-1][1](stage.marks).states[name] is State.HIDDEN
    QTest.keyClick(stage, Qt.Key.Key_Delete)
    assert name not in edits[-1][1](stage.marks).points and edits[-1][0].startswith("Take away")


def test_lit_readings_paint_their_dimension(stage: MarksStage) -> None:
    with_face(stage)
    plain = pixels(stage)
    pictures = {plain}
    for key in ("eye_gap_ew", "nose_length_hh", "eye_width_fw", "mouth_station"):
        stage.lit_keys, stage.lit_words = {key}, {key: "0.79"}
        stage.lit_station = 0.79 if key == "mouth_station" else None
        pictures.add(pixels(stage))
    assert len(pictures) == 5
    stage.lit_keys, stage.lit_station = {"no_such_reading"}, None
    assert pixels(stage) == plain


def test_uncertainty_is_drawn(stage: MarksStage) -> None:
    marks = with_face(stage)
    plain = pixels(stage)
    stage.set_marks(marks.model_copy(update={"spread": {"vertex": 30.0}}))
    assert pixels(stage) != plain
    assert confirm(marks, ["vertex"]).spread["vertex"] == pytest.approx(9.0)
    assert "vertex" not in place(stage.marks, {"vertex": (1.0, 2.0)}).spread


def big_png(w: int, h: int) -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.random.default_rng(0).integers(0, 255, (h, w), dtype=np.uint8)).save(out, "PNG", compress_level=1)
    return out.getvalue()


def test_halved_copies_match_and_are_kept(qapp: Any) -> None:
    image = QImage(1600, 1200, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.darkGreen)
    small, k = reduced(image, 0.11)
    assert k == 8 and small.width() == 200 and small.pixelColor(100, 80) == image.pixelColor(0, 0)
    again, _ = reduced(image, 0.11)
    assert again.cacheKey() == small.cacheKey()
    assert reduced(image, 0.9)[0].cacheKey() == image.cacheKey()


def test_reading_is_off_the_thread_and_can_be_stopped(qapp: Any, qtbot: Any, tmp_path: Path) -> None:
    reading = Work(threads=2)
    path = tmp_path / "big.png"
    path.write_bytes(big_png(2400, 1800))
    got: list[Read] = []

    def read(name: str) -> None:
        reading.start(f"Opening {name}…", lambda say: read_picture(str(tmp_path / name), name), got.append)

    with qtbot.waitSignal(reading.busy):
        read("big.png")
    assert got == []
    reading.cancel()
    QTest.qWait(700)
    assert got == []
    read("big.png")
    qtbot.waitUntil(lambda: bool(got), timeout=8000)
    record, data, image, name = got[0]
    assert record.size == (2400, 1800) == (image.width(), image.height()) and name == "big" and data == path.read_bytes()
    with qtbot.waitSignal(reading.failed) as said:
        read("gone.png")
    assert "cannot be read" in said.args[0]
    assert picture_sources(None) == []


def test_a_damaged_picture_in_a_project_is_said_once(qapp: Any, qtbot: Any) -> None:
    d = Document(keep_journal=False)
    store = ImageStore(d)
    d.pictures["k"] = b"broken"
    with qtbot.waitSignal(store.trouble, timeout=3000) as said:
        assert store.get("k") is None
    assert "not a picture" in said.args[0]
    assert store.get("k") is not None and store.get("nothing") is None


def test_board_shares_one_scale_and_maps_the_reference_level(demo: Any) -> None:
    demo.desk.go_named("Plan")
    QTest.qWait(30)
    board = demo.desk.station.board
    left, right = board.panes()
    assert board.at(left, 0, 0.5).y() == board.at(right, 0, 0.5).y()
    frame = board.reference_frame()
    ref = demo.desk.document.character.reference
    assert frame is not None
    assert frame.map(QPointF(*ref.marks.points["vertex"])).y() == pytest.approx(board.crown_y(), abs=0.01)
    assert frame.map(QPointF(*ref.marks.points["gnathion"])).y() == pytest.approx(board.crown_y() + board.head_px(), abs=0.01)
    assert board.station_at(board.at(right, 0, 0.3).y()) == pytest.approx(0.3)
    assert board.line_at(board.at(right, 0.1, board.plan["eye_station"])) == "eye_station"
    assert board.line_at(board.at(right, 0.1, 0.1)) == "" and board.line_at(board.at(left, 0.1, board.plan["eye_station"])) == ""
    head = board.head_px()
    board.zoomed = 2.0
    assert board.head_px() == pytest.approx(2 * head)
    QTest.keyClick(board, Qt.Key.Key_F)
    assert board.head_px() == pytest.approx(head)


def test_a_line_dragged_out_of_the_face_stops_at_what_fits(demo: Any) -> None:
    demo.desk.go_named("Plan")
    QTest.qWait(30)
    d, board = demo.desk.document, demo.desk.station.board
    a = board.at(board.panes()[1], 0.2, board.plan["mouth_station"])
    drag(board, a, a + QPointF(0, 500))
    t = d.plan().table
    assert t["nose_base_station"] < t["mouth_station"] < 1 and d.plan().limits
    demo.desk.flush()
    assert demo.desk.station.badge()[0] == str(len(d.plan().limits))
    d.undo()


def test_plan_without_a_reference_says_so(window: Any) -> None:
    from orthomet.core.project.edits import add_character
    from orthomet.core.project.model import Character

    d = window.desk.document
    window.desk.go_named("Plan")
    assert not window.desk.station.isEnabled()
    d.do("Add", add_character(Character(id="n", name="Nobody yet")))
    window.desk.flush()
    station = window.desk.station
    assert station.isEnabled() and station.board.reference_frame() is None
    assert station.verdict.measured is False and all(r.item.reference is None for r in station.list.rows.values())
    row = station.list.rows["eye_station"]
    tip = QPointF(row.x_of(row.item.plan), 18)
    drag(row, tip, tip + QPointF(20, 0))
    assert d.plan().table["eye_station"] > 0.54


def test_seeding_and_panning_by_keys_alone(stage: MarksStage) -> None:
    stage.begin_seeding()
    got: list[dict[str, Any]] = []
    stage.anchors_clicked.connect(got.append)
    for key, times in ((Qt.Key.Key_Up, 5), (Qt.Key.Key_Down, 9), (Qt.Key.Key_Right, 2)):
        for _ in range(times):
            QTest.keyClick(stage, key, Qt.KeyboardModifier.ShiftModifier)
        QTest.keyClick(stage, key)
        pixels(stage)
        QTest.keyClick(stage, Qt.Key.Key_Return)
    assert set(got[0]) == {"vertex", "gnathion", "exocanthion_l"}
    assert got[0]["vertex"][1] < got[0]["gnathion"][1] and got[0]["exocanthion_l"][0] > got[0]["vertex"][0]
    x = stage.offset.x()
    QTest.keyClick(stage, Qt.Key.Key_Left)
    assert stage.offset.x() == x + 40 and not stage.fitted
