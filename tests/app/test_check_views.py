"""Check in the real window: other ways to see a drawing, what lies beside it, cures, the record; all by hand and key."""

from __future__ import annotations

import csv
import json
import xml.etree.ElementTree as ET
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QPushButton

from orthomet.core.check.again import due
from orthomet.core.imaging.looks import LOOKS, looked_at
from orthomet.core.project.edits import add_drawing
from tests.app.conftest import at, drag, pick, pixels

K = Qt.Key


@pytest.fixture
def checked(demo: Any, qtbot: Any) -> Any:
    demo.desk.go_named("Check")
    s = demo.desk.station
    qtbot.waitUntil(lambda: s.stage.image is not None and bool(s.curer.cures), timeout=8000)
    demo.desk.flush()
    s.stage.setFocus()
    return s


def key(s: Any, k: Qt.Key, mod: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    QTest.keyClick(s.stage, k, mod)


def click(s: Any, words: str) -> None:
    QTest.qWait(20)
    found = [b for b in s.findChildren(QPushButton) if b.text().startswith(words) and b.isVisible()]
    assert found, words
    QTest.mouseClick(found[0], Qt.MouseButton.LeftButton)


def choose(box: Any, data: object) -> None:
    box.setCurrentIndex(box.findData(data))
    box.activated.emit(box.currentIndex())


# ---- ways to see it


@pytest.mark.parametrize(
    ("k", "name"),
    [
        (K.Key_M, "mirror"),
        (K.Key_U, "upside"),
        (K.Key_S, "small"),
        (K.Key_G, "grey"),
        (K.Key_B, "blur"),
        (K.Key_L, "lines"),
        (K.Key_X, "axes"),
    ],
)
def test_every_look_has_one_key_and_goes_again(checked: Any, k: Qt.Key, name: str) -> None:
    plain = pixels(checked.stage)
    key(checked, k)
    assert checked.stage.looks_on() == {name} and checked.bar.toggles[name].isChecked() and pixels(checked.stage) != plain
    key(checked, k)
    assert not checked.stage.looks_on() and pixels(checked.stage) == plain
    QTest.mouseClick(checked.bar.toggles[name], Qt.MouseButton.LeftButton)
    assert checked.stage.looks_on() == {name}


def test_upside_down_a_ring_goes_where_the_hand_goes(checked: Any) -> None:
    key(checked, K.Key_U)
    stage, doc = checked.stage, checked.document
    for flips in ((-1, -1), (1, -1)):
        assert stage.flips() == flips
        q = stage.to_screen(*doc.drawing.marks.points["pronasale"])
        assert stage.to_picture(q) == pytest.approx(doc.drawing.marks.points["pronasale"])
        drag(stage, q, q + QPointF(20, 10))
        moved = stage.to_screen(*doc.drawing.marks.points["pronasale"])
        assert abs(moved.x() - q.x() - 20) < 1.5 and abs(moved.y() - q.y() - 10) < 1.5
        key(checked, K.Key_M)
    key(checked, K.Key_M)
    stage.zoom(1.4, QPointF(300, 300))
    assert stage.view_transform().map(QPointF(100, 50)) == stage.to_screen(100, 50)


def test_looks_are_what_they_say() -> None:
    rng = np.random.default_rng(1)
    page = np.full((300, 300, 3), (240, 200, 180), np.uint8)
    page[100:160, 60:240] = (120, 160, 90)
    page[148:151, 20:280] = 20
    page = np.clip(page + rng.normal(0, 2, page.shape), 0, 255).astype(np.uint8)
    grey = looked_at(page, "grey", 300)
    assert (
        np.ptp(grey, axis=2).max() == 0 and np.array_equal(grey[..., 0], np.array(Image.fromarray(page).convert("L")))
    ) or np.abs(grey[..., 0].astype(int) - np.array(Image.fromarray(page).convert("L"))).max() <= 1
    assert looked_at(page, "blur", 300).std() < page.std() and set(LOOKS) == {"grey", "blur", "lines"}
    lines = looked_at(page, "lines", 300)[..., 0]
    assert lines[149, 150] < 120 and lines[120, 150] > 220 and lines[50, 50] > 220, "fills go, lines stay"
    with pytest.raises(KeyError):
        looked_at(page, "sepia", 300)


# ---- cures beside the drawing


def test_the_cure_is_laid_over_and_wiped(checked: Any) -> None:
    stage = checked.stage
    plain = pixels(stage)
    key(checked, K.Key_C)
    assert (
        stage.beside is not None and stage.beside.title == "cured" and checked.panel.cures.tiles[0].on and pixels(stage) != plain
    )
    f = stage.frame()
    middle = QPointF(f.left() + stage.wipe_at * f.width(), f.center().y() + 150)
    drag(stage, middle, middle - QPointF(200, 0))
    assert stage.wipe_at == pytest.approx(0.5 - 200 / f.width(), abs=0.01) and not checked.document.dragging
    key(checked, K.Key_I)
    assert str(stage.way) == "onion"
    key(checked, K.Key_K)
    shown = pixels(stage)
    QTest.qWait(520)
    assert pixels(stage) != shown, "it flickers by itself"
    key(checked, K.Key_C)
    assert stage.beside is None and pixels(stage) == plain
    QTest.mouseClick(checked.panel.cures.tiles[0], Qt.MouseButton.LeftButton)
    assert checked.sight.beside == "cure:0"


def test_the_preview_moves_the_mouth_and_leaves_the_nose(checked: Any) -> None:
    made = checked.curer.cures[0]
    x0, y0 = made.at
    points = checked.document.drawing.marks.points
    from orthomet.app.stage.pixels import to_rgb

    before, after = to_rgb(checked.stage.image).astype(int), to_rgb(made.patch).astype(int)
    before = before[y0 : y0 + after.shape[0], x0 : x0 + after.shape[1]]

    def change(name: str, r: int = 14) -> float:
        x, y = (round(v) for v in points[name])
        return float(np.abs(before - after)[y - y0 - r : y - y0 + r, x - x0 - r : x - x0 + r].mean())

    assert change("stomion") > 6 * change("nasion") + 1 and "Raise the mouth" in made.cure.title


def test_plan_reference_and_earlier_are_offered_where_they_are(checked: Any) -> None:
    keys = [checked.bar.beside.itemData(k) for k in range(checked.bar.beside.count())]
    assert keys[:2] == ["", "cure:0"] and {"plan", "reference"} <= set(keys) and not any(k.startswith("earlier") for k in keys)
    for what in ("plan", "reference"):
        choose(checked.bar.beside, what)
        assert checked.stage.beside is not None, what
    b = checked.stage.beside
    ref = next(r for r in checked.document.character.references if r.marks.view == "front")
    q = b.to_drawing.map(QPointF(*ref.marks.points["exocanthion_l"]))
    x, y = checked.document.drawing.marks.points["exocanthion_l"]
    assert abs(q.x() - x) + abs(q.y() - y) < 100
    choose(checked.bar.beside, "")
    assert checked.stage.beside is None


def test_the_redline_is_seen_and_written(
    checked: Any, demo: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    plain = pixels(checked.stage)
    key(checked, K.Key_R, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert checked.stage.redline is not None and pixels(checked.stage) != plain
    for name in ("r.png", "r.svg"):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, name=name, **k: (str(tmp_path / name), ""))
        with qtbot.waitSignal(checked.exported, timeout=8000):
            pick(demo, "Write the redline")
    image = Image.open(tmp_path / "r.png")
    assert image.size == checked.document.drawing.image.size and image.mode == "RGBA"
    a = np.array(image)
    assert a[..., 3].max() > 200 and (a[..., 3] == 0).mean() > 0.8, "a transparent layer"
    x, y = (round(v) for v in checked.document.drawing.marks.points["stomion"])
    assert a[y - 60 : y + 10, x - 60 : x + 60, 3].max() > 150
    assert "Raise the mouth" in "".join(ET.parse(tmp_path / "r.svg").getroot().itertext())
    bad = tmp_path / "no" / "where.png"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(bad), ""))
    with qtbot.waitSignal(checked.exported, timeout=8000) as told:
        pick(demo, "Write the redline")
    assert told.args[1] and not bad.exists()


@pytest.mark.parametrize(
    ("who", "did", "name", "by", "says"),
    [
        ("lorn", "lorn-drawn", "dactylion_r", (0, 20), "right hand"),
        ("berta", "berta-side", "pronasale", (30, 0), "Take the nose back"),
    ],
)
def test_a_figure_and_a_profile_are_cured_redlined_and_dragged(
    checked: Any,
    demo: Any,
    qtbot: Any,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    who: str,
    did: str,
    name: str,
    by: tuple[int, int],
    says: str,
) -> None:
    d, stage = demo.desk.document, checked.stage
    d.choose_character(who)
    d.choose_drawing(did)
    demo.desk.flush()
    qtbot.waitUntil(lambda: bool(checked.curer.cures) and checked.curer._told.schema.view == d.drawing.marks.view, timeout=15_000)
    qtbot.waitUntil(lambda: stage.overlay is not None, timeout=15_000)
    (first,) = stage.findings
    assert first.move is not None and checked.curer.cures[0].cure.words == (first.say,) and stage.pointers[0] is not None
    assert {"plan", "cure:0"} <= {checked.bar.beside.itemData(k) for k in range(checked.bar.beside.count())}
    plain = pixels(stage)
    stage.setFocus()
    key(checked, K.Key_O)
    QTest.keyPress(stage, K.Key_O)
    assert pixels(stage) != plain, "the plan lay over it"
    QTest.keyRelease(stage, K.Key_O)
    key(checked, K.Key_C)
    assert stage.beside is not None and stage.beside.title == "cured"
    key(checked, K.Key_C)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "r.png"), ""))
    with qtbot.waitSignal(checked.exported, timeout=8000):
        pick(demo, "Write the redline")
    a = np.array(Image.open(tmp_path / "r.png"))
    assert a.shape[1::-1] == d.drawing.image.size and 0.001 < (a[..., 3] > 0).mean() < 0.3
    q = stage.to_screen(*stage.marks.points[name])
    drag(stage, q, q + QPointF(*by))
    demo.desk.flush()
    assert len(stage.findings) == 2 and any(says in f.say for f in stage.findings), [f.say for f in stage.findings]
    qtbot.waitUntil(lambda: not checked.curer.work.active and len(checked.curer.cures[0].cure.moves) == 2, timeout=15_000)
    d.undo()
    demo.desk.flush()
    assert [f.say for f in stage.findings] == [first.say]


# ---- how it is looked at


def test_another_basis_another_answer_and_undo(checked: Any, demo: Any) -> None:
    was = checked.panel.title.text()
    for basis in ("self", "norm", "style:low-lantern", "school:equal-thirds", "drawing:young-1"):
        choose(checked.panel.basis.basis, basis)
        demo.desk.flush()
        assert checked.document.drawing.basis == basis and checked.panel.cards
    checked.document.undo()
    assert checked.document.drawing.basis == "school:equal-thirds"
    choose(checked.panel.basis.basis, "")
    demo.desk.flush()
    assert checked.panel.title.text() == was


def test_a_turned_head_is_found_set_by_the_ball_and_found_again(checked: Any, demo: Any) -> None:
    doc = checked.document
    doc.choose_drawing("berta-turned")
    demo.desk.flush()
    assert [c.f.reading for c in checked.panel.cards] == ["eye_station"] and checked.panel.basis.ball.isVisible()
    ball = checked.panel.basis.ball
    assert ball.turn.yaw == pytest.approx(33, abs=0.5)
    c = QPointF(ball.width() / 2, ball.height() / 2)
    drag(ball, c, c - QPointF(8, 0))
    demo.desk.flush()
    assert doc.drawing.turn is not None and doc.drawing.turn.yaw < 20 and doc.undo_label == "How the head is turned"
    QTest.mouseDClick(ball, Qt.MouseButton.LeftButton, pos=QPoint(20, 20))
    demo.desk.flush()
    assert doc.drawing.turn is None and ball.turn.yaw == pytest.approx(33, abs=0.5)
    QTest.keyClick(ball, K.Key_Right)
    assert doc.drawing.turn.yaw == pytest.approx(35, abs=0.6)
    choose(checked.panel.basis.head, "front")
    demo.desk.flush()
    assert not doc.drawing.turned and len(checked.stage.findings) > 1, "as if it looked ahead, nearly everything is off"


def test_a_face_is_declared_or_read(checked: Any, demo: Any, qtbot: Any) -> None:
    doc = checked.document
    choose(checked.panel.basis.face, "glad")
    demo.desk.flush()
    assert doc.drawing.expression == "glad" and any("glad" in w for w in checked._shown[5])
    click(checked, "fully")
    assert doc.drawing.degree == 0.6
    choose(checked.panel.basis.face, "read")
    qtbot.waitUntil(lambda: doc.drawing.expression == "", timeout=20000)
    assert doc.undo_label == "The face it makes"


def test_while_a_ring_is_dragged_the_answer_follows_and_the_whole_one_comes_at_rest(checked: Any, demo: Any, qtbot: Any) -> None:
    stage, doc = checked.stage, checked.document
    q = stage.to_screen(*doc.drawing.marks.points["stomion"])
    QTest.mousePress(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(q))
    for k in range(1, 5):
        QTest.mouseMove(stage, at(q + QPointF(0, 6 * k)))
        demo.desk.flush()
    assert doc.dragging and not checked._last.check.fix.rivals
    qtbot.waitUntil(lambda: bool(checked._last.check.fix.rivals), timeout=3000)
    QTest.keyClick(stage, K.Key_Escape)
    assert not doc.dragging


# ---- what is kept


def test_meant_for_what(checked: Any, demo: Any) -> None:
    card = next(c for c in checked.panel.cards if c.f.reading == "mouth_station")
    more = next(b for b in card.findChildren(QPushButton) if b.accessibleName() == "Meant for what")
    QTest.mouseClick(more, Qt.MouseButton.LeftButton)
    from PySide6.QtWidgets import QApplication

    menu = QApplication.activePopupWidget()
    menu.actions()[1].trigger()
    menu.close()
    demo.desk.flush()
    c = checked.document.character
    assert c.meant == ("mouth_station",) and not checked.document.drawing.meant
    assert "mouth_station" not in [x.f.reading for x in checked.panel.cards]
    click(checked, "Ask again")
    assert checked.document.character.meant == ()


def test_a_check_is_kept_pointed_at_and_written(checked: Any, demo: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    doc = checked.document
    pick(demo, "Keep this check")
    pick(demo, "Keep this check")
    assert len(doc.drawing.log) == 1, "the very same is kept once"
    checked._meant = checked.meaning.here("mouth_station")
    demo.desk.flush()
    pick(demo, "Keep this check")
    demo.desk.flush()
    log = checked.panel.log
    assert len(doc.drawing.log) == 2 and log.isVisible() and "2 kept" not in log.words(0)
    said: list[str] = []
    log.told.connect(said.append)
    QTest.mouseClick(log, Qt.MouseButton.LeftButton, pos=at(log.place(0)))
    assert said and "Raise the mouth" in said[0]
    QTest.keyClick(log, K.Key_Right)
    assert log.at == 1
    for name in ("l.csv", "l.json"):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, name=name, **k: (str(tmp_path / name), ""))
        pick(demo, "Write the log")
    rows = list(csv.DictReader((tmp_path / "l.csv").open()))
    assert rows[0]["reading"] == "mouth_station" and float(rows[0]["off_heads"]) == pytest.approx(0.04, abs=0.003)
    assert len(json.loads((tmp_path / "l.json").read_text())["checks"]) == 2


def test_a_thousand_checks_are_shown_at_once(checked: Any, demo: Any) -> None:
    from orthomet.core.project.edits import change_drawing

    pick(demo, "Keep this check")
    doc = checked.document
    entry = doc.drawing.log[0]
    many = tuple(
        entry.model_copy(update={"when": f"2026-{1 + k // 100:02d}-{1 + k % 28:02d}T10:00:00+00:00"}) for k in range(1000)
    )
    doc.do("Many", change_drawing("berta", doc.drawing.id, log=many))
    demo.desk.flush()
    assert len(checked.panel.log.log) == 120 and checked.panel.log.isVisible()
    assert pixels(checked.panel.log)


def test_details_are_declared_counted_and_told(checked: Any, demo: Any, qtbot: Any) -> None:
    doc, view = checked.document, checked.panel.details
    click(checked, "Add…")
    QTest.keyClicks(view.name, "freckles")
    view.count.setValue(9)
    click(checked, "Count it")
    demo.desk.flush()
    (detail,) = doc.character.counted
    assert detail.name == "freckles" and detail.count == 9
    view.boxes[detail.id].setValue(7)
    demo.desk.flush()
    assert doc.drawing.counts == {detail.id: 7} and any(r.key == "counted" and r.open for r in checked.panel.gate._shown[0])
    click(checked, "Spots…")
    assert checked.stage.asking() == "two corners of the zone to count in"
    x, y = doc.drawing.marks.points["pupil_l"]
    for dx, dy in ((-60, -45), (60, 45)):
        QTest.mouseClick(checked.stage, Qt.MouseButton.LeftButton, pos=at(checked.stage.to_screen(x + dx, y + dy)))
    assert doc.drawing.counts[detail.id] >= 1 and doc.undo_label == "Count"
    doc.undo()
    assert doc.drawing.counts == {detail.id: 7}


def test_where_a_belt_sits_is_clicked(checked: Any, demo: Any) -> None:
    doc, view = checked.document, checked.panel.details
    click(checked, "Add…")
    QTest.keyClicks(view.name, "cap brim")
    choose(view.start, "vertex")
    choose(view.end, "gnathion")
    view.share.setValue(20)
    click(checked, "It sits there")
    demo.desk.flush()
    click(checked, "Click it…")
    m = doc.drawing.marks.points
    q = checked.stage.to_screen(*(np.array(m["vertex"]) + 0.3 * (np.array(m["gnathion"]) - np.array(m["vertex"]))))
    QTest.mouseClick(checked.stage, Qt.MouseButton.LeftButton, pos=at(q))
    demo.desk.flush()
    (share,) = doc.drawing.attached.values()
    assert (
        share == pytest.approx(0.3, abs=0.01)
        and any("drawn at 30 %" in w.text() for w in view.findChildren(type(view.add).__mro__[-4]) if hasattr(w, "text"))
    ) or share


def test_the_list_before_ink_is_overruled_and_looked_at_again(checked: Any, demo: Any) -> None:
    doc = checked.document
    assert checked.panel.gate.title.text().endswith("open")
    click(checked, "Overrule")
    demo.desk.flush()
    assert list(doc.drawing.gate.values()) == ["overruled"]
    click(checked, "Look again tomorrow")
    assert doc.drawing.again and due(doc.project, "2999-01-01")
    from orthomet.core.project.edits import change_drawing

    doc.do("Yesterday", change_drawing("berta", doc.drawing.id, again="2020-01-01"))
    demo.desk.go_named("Plan")
    demo.desk.again.greet(doc.project)
    assert demo.desk.again.isVisible() and "Rough, first night" in demo.desk.again.words.text()
    QTest.mouseClick(demo.desk.again.look, Qt.MouseButton.LeftButton)
    assert demo.desk.station.name == "Check" and not doc.drawing.again and not demo.desk.again.isVisible()


def test_the_whole_set_is_seen_opened_and_written(
    checked: Any, demo: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    doc = checked.document
    doc.choose_drawing("young-2")
    demo.desk.flush()
    QTest.mouseClick(checked.whole_set, Qt.MouseButton.LeftButton)
    chart = checked.drift.chart
    assert chart.isVisible() and len(chart.drawn) == 8 and chart.rows[0].creeps
    dot = next(q for q, k, i in chart.dots() if k == 0 and i == 6)
    QTest.mouseMove(chart, at(dot))
    QTest.mouseClick(chart, Qt.MouseButton.LeftButton, pos=at(dot))
    assert doc.drawing.id == "young-7" and checked.stage.isVisible() and not checked.whole_set.isChecked()
    doc.choose_drawing("berta-rough")
    for name in ("d.csv", "d.pdf", "d.svg"):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, name=name, **k: (str(tmp_path / name), ""))
        doc.choose_drawing("young-2")
        demo.desk.flush()
        pick(demo, "Write the set")
        qtbot.waitUntil(lambda name=name: (tmp_path / name).exists(), timeout=8000)
    assert (tmp_path / "d.pdf").read_bytes().startswith(b"%PDF") and "has crept up" in (tmp_path / "d.csv").read_text()


def test_figures_and_profiles_have_a_set_of_their_own(
    checked: Any, demo: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    doc = checked.document
    who = next(c for c in doc.project.characters if c.id == "lorn")
    page = who.drawing("lorn-drawn")
    for k in range(3):
        points = {n: (x, y + 6 * k * n.startswith("vertex")) for n, (x, y) in page.marks.points.items()}
        new = page.model_copy(
            update={"id": f"f{k}", "name": f"Figure {k}", "marks": page.marks.model_copy(update={"points": points})}
        )
        doc.do("Add drawing", add_drawing("lorn", new))
    doc.choose_character("lorn")
    doc.choose_drawing("f1")
    demo.desk.flush()
    QTest.mouseClick(checked.whole_set, Qt.MouseButton.LeftButton)
    chart = checked.drift.chart
    qtbot.waitUntil(lambda: len(chart.drawn) == 4, timeout=8000)
    assert chart.isVisible() and {"heads_tall", "forearm_hh"} <= {r.key for r in chart.rows}
    row = next(k for k, r in enumerate(chart.rows) if r.key == "forearm_hh")
    assert abs(chart.rows[row].off) > 1, "the demo's long forearm, on every page"
    shown = pixels(chart)
    dot = next(q for q, k, i in chart.dots() if k == row and i == 3)
    QTest.mouseClick(chart, Qt.MouseButton.LeftButton, pos=at(dot))
    assert doc.drawing.id == chart.drawn[3].id and checked.stage.isVisible()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "f.csv"), ""))
    pick(demo, "Write the set")
    qtbot.waitUntil(lambda: (tmp_path / "f.csv").exists(), timeout=8000)
    assert 'forearm_hh,"Forearm: ' in (tmp_path / "f.csv").read_text()
    doc.choose_character("berta")
    doc.choose_drawing("berta-side")
    demo.desk.flush()
    QTest.mouseClick(checked.whole_set, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: chart.view == "profile" and not chart.waiting, timeout=8000)
    assert not chart.rows and pixels(chart) != shown, "one profile is no set: that is said"
    QTest.mouseMove(chart, QPoint(90, 90))
    QTest.mouseClick(chart, Qt.MouseButton.LeftButton, pos=QPoint(90, 90))
    pick(demo, "Write the set")
    qtbot.waitUntil(lambda: "Two profiles" in demo.ledge.toolTip(), timeout=8000)
    doc.choose_character("klinker")
    demo.desk.flush()
    assert checked.stage.isVisible() and checked.choose.isVisible(), "who has no set is not shut in with one"
    doc.choose_character("lorn")
    demo.desk.flush()
    assert chart.isVisible()
    QTest.mouseClick(checked.whole_set, Qt.MouseButton.LeftButton)
    doc.choose_character("klinker")
    demo.desk.flush()
    QTest.keyClick(demo, K.Key_W, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier)
    assert checked.stage.isVisible() and "Two drawings" in demo.ledge.toolTip() and not checked.whole_set.isChecked()


def test_saving_keeps_the_check_at_hand(checked: Any, demo: Any, tmp_path: Path) -> None:
    assert demo.desk.filing.begin(str(tmp_path / "a.orthomet"))
    demo.desk.filing.wait()
    assert [e.why for e in checked.document.drawing.log] == ["closed"] and not checked.document.dirty
    assert demo.desk.filing.begin(None)
    demo.desk.filing.wait()
    assert len(checked.document.drawing.log) == 1, "nothing new, nothing kept"
