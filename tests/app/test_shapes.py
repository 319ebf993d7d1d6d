"""The Shapes station driven by hand: parts traced, boxed and put down, dialled, pushed, dragged with what holds, kept, written, reopened."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QPushButton

from orthomet.app import ask
from orthomet.app.stations.shapes.station import BLACK, BOARD, HOLDS, PARTS, PUSH
from orthomet.app.theme.tokens import theme
from orthomet.core.project.store import read
from orthomet.core.shapes.contour import area, overlap, simple
from tests.saving import save

from .conftest import at, drag, pick, pixels

LEFT, NONE, SHIFT = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def station(demo: Any, qtbot: Any) -> Any:
    demo.desk.go_named("Shapes")
    found = demo.desk.station
    settle(found, qtbot)
    return found


def settle(station: Any, qtbot: Any) -> None:
    station.document.commit()
    qtbot.waitUntil(lambda: station.settled, timeout=30_000)
    QTest.qWait(20)


def shapes(station: Any) -> Any:
    return station.document.character.shapes


def part(station: Any, name: str) -> Any:
    return next(p for p in shapes(station).parts if p.name == name)


def part_ids(station: Any) -> set[str]:
    return {p.id for p in shapes(station).parts}


def seen(station: Any, name: str) -> Any:
    return station.scene().part(part(station, name).id)


def choose(station: Any, name: str) -> None:
    """Click it in the list."""
    item = next(
        station.parts_page.list.item(k)
        for k in range(station.parts_page.list.count())
        if station.parts_page.list.item(k).text().strip() == name
    )
    QTest.mouseClick(station.parts_page.list.viewport(), LEFT, NONE, station.parts_page.list.visualItemRect(item).center())


def slide(dial: Any, to: float) -> None:
    """A dial dragged by its handle, as far as told (0…1 of its way)."""
    s = dial.slider
    s.setSliderDown(True)
    s.setValue(round(s.maximum() * to))
    s.setSliderDown(False)


def test_the_demos_people_come_down_to_plain_shapes(station: Any) -> None:
    names = {p.name for p in shapes(station).parts}
    assert {"hair", "head", "nose", "mouth", "eye, left", "eye, right"} <= names
    assert station.part == part(station, "head").id
    head = seen(station, "head")
    assert head.plain is not None and head.fits is not None and head.fits.best.overlap > 0.9
    assert "covers" in station.parts_page.told.text() and "As a head" in station.parts_page.told.text()
    assert [t.value for t in station.strip.tiles][:2] and len(station.strip.tiles) == 10


def test_a_part_is_traced_freehand_and_undone(station: Any, qtbot: Any) -> None:
    before = len(shapes(station).parts)
    station.parts_page.new_role.setCurrentIndex(station.parts_page.new_role.findData("ear"))
    QTest.mouseClick(station.parts_page.tools["trace"], LEFT)
    assert station.stage.tool == "trace"
    c = station.stage.place((0.0, 0.75), True)
    t = np.linspace(0, 2 * np.pi, 60)
    way = [c + QPointF(40 * float(np.cos(a)), 60 * float(np.sin(a))) for a in t]
    QTest.mousePress(station.stage, LEFT, NONE, at(way[0]))
    for q in way[1:]:
        QTest.mouseMove(station.stage, at(q))
    QTest.mouseRelease(station.stage, LEFT, NONE, at(way[-1]))
    settle(station, qtbot)
    p = shapes(station).parts[-1]
    assert len(shapes(station).parts) == before + 1 and p.role == "ear" and p.source == "traced" and station.part == p.id
    found = station.scene().part(p.id)
    assert found.fits.best.kind in ("ellipse", "egg") and found.shape.height / found.shape.width == pytest.approx(1.5, abs=0.12)
    station.document.undo()
    assert len(shapes(station).parts) == before


def test_a_part_is_traced_by_clicks_and_closed_with_enter(station: Any, qtbot: Any) -> None:
    station.parts_page.new_role.setCurrentIndex(station.parts_page.new_role.findData("other"))
    station.use("trace")
    c = station.stage.place((0.0, 0.5), True)
    for dx, dy in ((-60, -40), (60, -40), (60, 40), (-60, 40)):
        QTest.mouseClick(station.stage, LEFT, NONE, at(c + QPointF(dx, dy)))
    QTest.keyClick(station.stage, Qt.Key.Key_Return)
    settle(station, qtbot)
    p = shapes(station).parts[-1] if shapes(station).parts[-1].source == "traced" else shapes(station).parts[0]
    assert p.source == "traced" and len(p.corners) == 4
    assert station.scene().part(p.id).fits.best.kind in ("rectangle", "rounded-rectangle")


def test_two_clicks_are_no_part(station: Any) -> None:
    before = shapes(station)
    station.use("trace")
    c = station.stage.place((0.0, 0.5), True)
    QTest.mouseClick(station.stage, LEFT, NONE, at(c))
    QTest.mouseClick(station.stage, LEFT, NONE, at(c + QPointF(40, 0)))
    QTest.keyClick(station.stage, Qt.Key.Key_Return)
    assert shapes(station) == before
    QTest.keyClick(station.stage, Qt.Key.Key_Escape)
    assert station.stage.tool == ""


def test_a_line_that_crosses_itself_is_refused_where_it_happened(station: Any) -> None:
    said: list[tuple[str, bool]] = []
    station.say.connect(lambda words, bad: said.append((words, bad)))
    before = shapes(station)
    station.taking.traced(np.array([[0, 0], [100, 100], [100, 0], [0, 100]], float))
    assert said and "crosses itself" in said[0][0] and said[0][1] and shapes(station) == before


def test_a_box_tells_the_creature_from_its_ground_and_a_stroke_takes_away(demo: Any, station: Any, qtbot: Any) -> None:
    station.document.choose_character("klinker")
    settle(station, qtbot)
    station.parts_page.new_role.setCurrentIndex(station.parts_page.new_role.findData("other"))
    station.use("box")
    a, b = (station.stage.frame.to_heads(np.array(q)) for q in ((40.0, 20.0), (860.0, 930.0)))
    drag(
        station.stage,
        station.stage.place((float(a[0]), float(a[1])), True),
        station.stage.place((float(b[0]), float(b[1])), True),
    )
    qtbot.waitUntil(lambda: shapes(station).parts[-1].source == "mask", timeout=20_000)
    settle(station, qtbot)
    p = shapes(station).parts[-1]
    whole = area(p.contour)
    assert whole > 0.1 * 900 * 1000 and p.reference == "klinker-portrait"
    station.use("no")
    foot = station.stage.frame.to_heads(np.array([[325.0, 850.0], [325.0, 800.0]]))
    drag(station.stage, *(station.stage.place((float(x), float(y)), True) for x, y in foot))
    qtbot.waitUntil(lambda: shapes(station).parts[-1].points != p.points, timeout=20_000)
    assert shapes(station).parts[-1].id == p.id


def test_strokes_need_a_box_first(station: Any) -> None:
    said: list[str] = []
    station.say.connect(lambda words, bad: said.append(words))
    station.use("yes")
    c = station.stage.place((0.0, 0.5), True)
    drag(station.stage, c, c + QPointF(30, 10))
    assert said and "box" in said[0]


def test_detail_goes_from_the_shape_to_the_contour_under_the_hand(station: Any, qtbot: Any) -> None:
    station.switch.show_page(PUSH)
    dial = station.push.dials["detail"]
    off = []
    for to in (0.0, 0.4, 0.8, 1.0):
        slide(dial, to)
        settle(station, qtbot)
        v = seen(station, "head")
        off.append(float(np.hypot(*(v.outline - v.contour).T).max()) if to else np.inf)
    assert off[1] > off[2] > off[3] == 0
    assert station.document.undo_label.startswith("Detail") and "contour" in station.push.told.text()


def test_a_trait_is_pushed_by_its_mark_and_by_a_word(station: Any, qtbot: Any) -> None:
    station.switch.show_page(PUSH)
    before = seen(station, "head").readings["plan aspect"]
    row = station.push.gauge["aspect"]
    row.emphasis_chosen.emit("aspect", 2.0)
    settle(station, qtbot)
    after = seen(station, "head").readings["plan aspect"]
    norm, ref = (seen(station, "head").readings[k] for k in ("norm aspect", "aspect"))
    assert (after - before) * (ref - norm) > 0 and part(station, "head").emphasis == {"aspect": 2.0}
    assert "angularity" not in station.push.gauge or not station.push.gauge["angularity"].isVisible()
    station.document.undo()
    assert part(station, "head").emphasis == {}


def test_a_pushed_outline_moves_the_plan_and_lets_it_go(station: Any, qtbot: Any) -> None:
    d = station.document
    before = d.plan().table["face_width_hh"]
    station.switch.show_page(PUSH)
    station.push.feeds.click()
    station.push.emphasis_chosen.emit("aspect", 2.5)
    settle(station, qtbot)
    assert d.plan().table["face_width_hh"] > before + 0.01
    d.undo()
    d.undo()
    assert d.plan().table["face_width_hh"] == pytest.approx(before)


def test_the_heads_outline_follows_the_plan(station: Any, qtbot: Any) -> None:
    from orthomet.core.project.edits import set_offset

    before = seen(station, "head").contour
    station.document.do("Plan", set_offset("berta", "jaw_width_fw", 0.3))
    station.refresh()
    settle(station, qtbot)
    now = seen(station, "head").contour
    assert np.ptp(now[:, 0]) != pytest.approx(np.ptp(before[:, 0]), abs=1e-6) or np.abs(now - before).max() > 0.01


def test_another_shape_is_chosen_from_the_strip(station: Any, qtbot: Any) -> None:
    k = next(k for k, t in enumerate(station.strip.tiles) if t.value == "rounded-rectangle")
    QTest.mouseClick(station.strip, LEFT, NONE, at(station.strip.tile(k).center()))
    settle(station, qtbot)
    assert part(station, "head").kind == "rounded-rectangle" and seen(station, "head").shape.kind == "rounded-rectangle"


def test_a_dragged_boiler_takes_along_what_holds(demo: Any, station: Any, qtbot: Any) -> None:
    station.document.choose_character("klinker")
    settle(station, qtbot)
    station.show_mode("alone")
    before = {v.part.name: v.outline.mean(0) for v in station.scene().parts}
    q = station.stage.place(tuple(float(x) for x in before["boiler"] + [0.75, -0.6]))
    assert station.stage.part_at(q) == part(station, "boiler").id
    drag(station.stage, q, q + QPointF(40, -25))
    settle(station, qtbot)
    after = {v.part.name: v.outline.mean(0) for v in station.scene().parts}
    by = after["boiler"] - before["boiler"]
    assert by[0] > 0.05
    assert np.hypot(*(after["eye"] - before["eye"] - by)) < 0.05 and np.hypot(*(after["bar 3"] - before["bar 3"] - by)) < 0.08
    assert station.document.undo_label == "Move, boiler"
    station.document.undo()
    settle(station, qtbot)
    assert np.allclose(seen(station, "boiler").outline.mean(0), before["boiler"])


def test_escape_in_the_middle_of_a_drag_leaves_no_trace(demo: Any, station: Any, qtbot: Any) -> None:
    station.document.choose_character("klinker")
    settle(station, qtbot)
    station.show_mode("alone")
    before, label = shapes(station), station.document.undo_label
    q = station.stage.place(tuple(float(x) for x in seen(station, "boiler").outline.mean(0) + [0.75, -0.6]))
    QTest.mousePress(station.stage, LEFT, NONE, at(q))
    QTest.mouseMove(station.stage, at(q + QPointF(30, 30)))
    QTest.mouseMove(station.stage, at(q + QPointF(60, 30)))
    assert station.document.dragging
    QTest.keyClick(station.stage, Qt.Key.Key_Escape)
    assert shapes(station) == before and station.document.undo_label == label


def test_a_swapped_body_keeps_its_arms(demo: Any, station: Any, qtbot: Any) -> None:
    station.document.choose_character("klinker")
    settle(station, qtbot)
    choose(station, "boiler")
    station.parts_page.kind_chosen.emit("triangle")
    settle(station, qtbot)
    s = station.scene()
    assert seen(station, "boiler").body.kind == "triangle" and s.solved is not None and s.solved.reversed == 0
    assert overlap(seen(station, "eye").outline, seen(station, "glow").outline) > 0.5


def test_handles_size_and_turn_a_plain_shape(demo: Any, station: Any, qtbot: Any) -> None:
    station.document.choose_character("klinker")
    settle(station, qtbot)
    station.show_mode("alone")
    choose(station, "funnel")
    before = part(station, "funnel").shape
    h = station.stage.handles()
    drag(station.stage, h["width"], h["width"] + QPointF(20, 0))
    settle(station, qtbot)
    assert part(station, "funnel").shape.width > before.width * 1.1
    h = station.stage.handles()
    drag(station.stage, h["turn"], h["turn"] + QPointF(40, 10))
    settle(station, qtbot)
    assert part(station, "funnel").shape.turn > 3


def test_a_contours_points_are_bent_softly(station: Any, qtbot: Any) -> None:
    choose(station, "hair")
    station.use("points")
    v = seen(station, "hair")
    before = v.contour.copy()
    q = station.stage.place(tuple(float(x) for x in v.contour[20]), True)
    drag(station.stage, q, q + QPointF(-14, -10))
    settle(station, qtbot)
    moved = np.hypot(*(seen(station, "hair").contour - before).T)
    assert moved.argmax() in range(14, 27) and moved.max() > 0.01 and (moved < 1e-3).mean() > 0.5
    assert simple(seen(station, "hair").contour)


def test_nine_variants_one_is_taken_and_one_kept(station: Any, qtbot: Any) -> None:
    station.switch.show_page(BOARD)
    settle(station, qtbot)
    assert len(station.board.board.tiles) == 9
    QTest.mouseClick(station.board, LEFT, SHIFT, at(station.board.tile(8).center()))
    settle(station, qtbot)
    assert [v.name for v in shapes(station).kept] == ["contours, pushed"] and part(station, "head").detail == 0
    QTest.mouseClick(station.board, LEFT, NONE, at(station.board.tile(3).center()))
    settle(station, qtbot)
    assert part(station, "head").detail == pytest.approx(0.4) and part(station, "nose").emphasis["size"] == 0.5
    QTest.mouseClick(station.strip, LEFT, NONE, at(station.strip.tile(0).center()))
    settle(station, qtbot)
    assert part(station, "head").detail == 1 and part(station, "nose").emphasis["size"] == 1.8


def test_filled_black_and_what_it_is_known_by(demo: Any, station: Any, qtbot: Any) -> None:
    station.document.choose_character("klinker")
    station.switch.show_page(BLACK)
    settle(station, qtbot)
    qtbot.waitUntil(lambda: station.black_board.made is not None, timeout=20_000)
    assert "round" in station.black.sentence.text().lower() or "square" in station.black.sentence.text().lower()
    assert "of the difference" in station.black.known.text()
    before = pixels(station.black_board)
    QTest.mouseClick(station.black.alone, LEFT)
    settle(station, qtbot)
    qtbot.waitUntil(lambda: pixels(station.black_board) != before, timeout=20_000)


def test_relations_are_found_declared_and_taken_away(demo: Any, station: Any, qtbot: Any) -> None:
    station.switch.show_page(HOLDS)
    settle(station, qtbot)
    assert station.holds.list.count() > 4 and not shapes(station).relations
    QTest.mouseClick(next(b for b in station.holds.findChildren(QPushButton) if b.text() == "Find what holds"), LEFT)
    settle(station, qtbot)
    n = len(shapes(station).relations)
    assert n == station.holds.list.count() > 4
    station.holds.list.setCurrentRow(0)
    QTest.mouseClick(station.holds.remove, LEFT)
    settle(station, qtbot)
    assert len(shapes(station).relations) == n - 1
    said: list[str] = []
    station.say.connect(lambda words, bad: said.append(words))
    station.holds.a.setCurrentIndex(0)
    station.holds.b.setCurrentIndex(0)
    QTest.mouseClick(next(b for b in station.holds.findChildren(QPushButton) if b.text() == "Let it hold"), LEFT)
    assert said and "itself" in said[0] and len(shapes(station).relations) == n - 1


def test_a_figure_is_taken_apart_and_a_part_split(demo: Any, station: Any, qtbot: Any) -> None:
    station.document.choose_character("klinker")
    settle(station, qtbot)
    before = len(shapes(station).parts)
    station.switch.show_page(HOLDS)
    QTest.mouseClick(next(b for b in station.holds.findChildren(QPushButton) if b.text() == "Take the figure apart"), LEFT)
    qtbot.waitUntil(lambda: len(shapes(station).parts) > before, timeout=30_000)
    settle(station, qtbot)
    made = shapes(station).parts[before:]
    assert 2 <= len(made) <= 8 and station.document.undo_label == "Take the figure apart"
    n = len(shapes(station).parts)
    station.choose(made[0].id)
    QTest.mouseClick(next(b for b in station.holds.findChildren(QPushButton) if b.text() == "Split in two"), LEFT)
    qtbot.waitUntil(lambda: len(shapes(station).parts) == n + 1, timeout=20_000)
    assert part_ids(station).isdisjoint({made[0].id}) and station.document.undo_label == "One part as two"
    station.document.undo()  # one step
    assert len(shapes(station).parts) == n and made[0].id in part_ids(station)


@pytest.mark.parametrize("words", ["Figure from the plan", "Split in two"])
def test_what_is_made_for_one_character_never_lands_on_another(station: Any, qtbot: Any, words: str) -> None:
    first = station.document.character.id
    if words.startswith("Split"):
        station.choose(part(station, "head").id)
        station.switch.show_page(HOLDS)
    page = station.holds if words.startswith("Split") else station.parts_page
    QTest.mouseClick(next(b for b in page.findChildren(QPushButton) if b.text() == words), LEFT)
    other = next(c for c in station.document.project.characters if c.id != first)
    station.document.choose_character(other.id)
    qtbot.waitUntil(lambda: station.document.character.id == other.id and station.settled, timeout=30_000)
    qtbot.wait(2500)
    now = {c.id: c.shapes for c in station.document.project.characters}
    assert now[other.id] == other.shapes and not station.document.undo_label


def test_parts_are_mirrored_reordered_renamed_and_removed(station: Any, qtbot: Any) -> None:
    choose(station, "eye, left")
    n = len(shapes(station).parts)
    QTest.mouseClick(station.parts_page.acts["mirror"], LEFT)
    settle(station, qtbot)
    assert len(shapes(station).parts) == n + 1 and shapes(station).parts[-1].source == "mirrored"
    choose(station, "hair")
    QTest.mouseClick(station.parts_page.acts["nearer"], LEFT)
    assert [p.name for p in shapes(station).parts][1] == "hair"
    station.parts_page.name.setFocus()
    station.parts_page.name.setText("mop")
    QTest.keyClick(station.parts_page.name, Qt.Key.Key_Return)
    settle(station, qtbot)
    assert part(station, "mop").role == "hair"
    QTest.mouseClick(station.parts_page.acts["remove"], LEFT)
    assert all(p.name != "mop" for p in shapes(station).parts)
    station.document.undo()
    assert part(station, "mop").role == "hair"


def test_shapes_are_written_and_reopened(station: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    station.document.choose_character("klinker")
    settle(station, qtbot)
    for words, name, holds in (
        ("Export the shapes…", "a.svg", "<circle"),
        ("Export the final lines…", "b.svg", "<path"),
        ("Export the steps…", "c.svg", "Step 1"),
    ):
        target = tmp_path / name
        monkeypatch.setattr(ask.QFileDialog, "getSaveFileName", lambda *a, t=target, **k: (str(t), ""))
        with qtbot.waitSignal(station.exported, timeout=20_000):
            station.export({"a.svg": "shapes", "b.svg": "lines", "c.svg": "steps"}[name])
        text = target.read_text()
        assert holds in text and text.count("<g id=") > 3, words
    svg = (tmp_path / "a.svg").read_text()
    assert all(f"<{tag} " in svg for tag in ("circle", "ellipse", "rect", "path")) and "<title>boiler</title>" in svg
    path = tmp_path / "cast.orthomet"
    save(station.document, path)
    again = read(path).project.character("klinker")
    assert again is not None and again.shapes == shapes(station)


def test_an_idea_is_pushed_through_the_shapes(station: Any, qtbot: Any) -> None:
    station.switch.show_page(PUSH)
    QTest.mouseClick(next(b for b in station.push.findChildren(QPushButton) if b.text() == "Push the idea"), LEFT)
    settle(station, qtbot)
    assert part(station, "head").emphasis.get("taper") in (1.7, 0.4) and part(station, "eye, left").emphasis.get("aspect") in (
        1.7,
        0.4,
    )
    QTest.mouseClick(next(b for b in station.push.findChildren(QPushButton) if b.text() == "Push nothing"), LEFT)
    assert all(not p.emphasis for p in shapes(station).parts)


def test_nobody_and_no_picture_are_told_what_to_do(window: Any, qtbot: Any) -> None:
    from orthomet.core.project.edits import add_character
    from orthomet.core.project.model import Character

    window.desk.document.do("Add", add_character(Character(id="x", name="X")))
    window.desk.go_named("Shapes")
    station = window.desk.station
    settle(station, qtbot)
    said: list[str] = []
    station.say.connect(lambda words, bad: said.append(words))
    station.use("trace")
    assert said and "reference" in said[0] and station.stage.tool == ""
    station.taking.plain("circle")
    settle(station, qtbot)
    assert shapes(station).parts[0].kind == "circle"
    station.taking.head()
    settle(station, qtbot)
    assert any(p.role == "head" for p in shapes(station).parts)


@pytest.mark.parametrize("name", ["day", "night"])
def test_every_page_shows_in_both_themes(station: Any, qtbot: Any, name: str) -> None:
    theme.use(name)
    for k in (PARTS, PUSH, HOLDS, BOARD, BLACK):
        station.switch.show_page(k)
        settle(station, qtbot)
        assert len(set(pixels(station)[::4001])) > 3
    theme.use("day")


def test_menu_entries_do_what_they_say(demo: Any, station: Any, qtbot: Any) -> None:
    pick(demo, "Alone on paper")
    assert station.stage.mode == "alone"
    pick(demo, "Filled black")
    assert station.switch.group.checkedId() == BLACK
    pick(demo, "Variants")
    assert station.switch.group.checkedId() == BOARD
    pick(demo, "Over the picture")
    assert station.stage.mode == "over" and station.switch.group.checkedId() == PARTS
    pick(demo, "Keep these shapes as a variant")
    assert len(shapes(station).kept) == 1
    assert json.loads(shapes(station).model_dump_json())["kept"][0]["name"] == "variant"


def test_the_sheet_shows_the_shapes_step_by_step(demo: Any, qtbot: Any, tmp_path: Path) -> None:
    demo.desk.document.choose_character("klinker")
    demo.desk.go_named("Sheet")
    sheet = demo.desk.station
    sheet.school.setCurrentIndex(sheet.school.count() - 1)
    sheet.school.activated.emit(sheet.school.count() - 1)
    qtbot.waitUntil(lambda: sheet.view.page is not None and bool(sheet.told.text()), timeout=20_000)
    assert (
        sheet.told.text().startswith("1. a rounded rectangle for the boiler")
        and "two trapezoids for the feet" in sheet.told.text()
    )
    target = tmp_path / "steps.svg"
    with qtbot.waitSignal(sheet.exported, timeout=20_000):
        sheet.export(str(target))
    assert "Step 12" in target.read_text()
    sheet.school.setCurrentIndex(0)
    sheet.school.activated.emit(0)
    assert not sheet.told.isVisible() and sheet.steps.isVisible()


def test_a_drawings_shapes_are_told_at_check(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    demo.desk.flush()
    found = demo.desk.document.check_shapes()
    assert any(f.part == "head" for f in found)
    from PySide6.QtWidgets import QLabel

    assert any("By shape" in w.text() for w in demo.desk.station.panel.findChildren(QLabel))


def test_a_style_pulls_the_parts_toward_its_own_shapes(station: Any, qtbot: Any) -> None:
    from orthomet.core.project.edits import decide

    station.document.do("Style", decide("berta", style="study:lamp-room"))
    station.switch.show_page(PUSH)
    settle(station, qtbot)
    row = station.push.gauge["aspect"].item
    assert row.style is not None
    before = seen(station, "head").readings["plan aspect"]
    slide(station.push.all["style"], 1.0)
    station.refresh()
    settle(station, qtbot)
    after = seen(station, "head").readings["plan aspect"]
    assert (after - before) * (row.style - row.norm) > 0.01


def test_parts_outlive_the_picture_they_were_taken_from(station: Any, qtbot: Any) -> None:
    from orthomet.core.project.edits import remove_reference

    before = seen(station, "hair").outline
    station.document.do("Remove reference", remove_reference("berta", "berta-portrait"))
    settle(station, qtbot)
    assert part(station, "hair").reference == "" and np.abs(seen(station, "hair").outline - before).max() < 0.02
    station.document.undo()
    settle(station, qtbot)
    assert part(station, "hair").reference == "berta-portrait" and np.abs(seen(station, "hair").outline - before).max() < 1e-9


def test_undo_in_the_middle_of_a_drag_and_another_character_end_it(demo: Any, station: Any, qtbot: Any) -> None:
    station.document.choose_character("klinker")
    settle(station, qtbot)
    station.show_mode("alone")
    before = shapes(station)
    q = station.stage.place(tuple(float(x) for x in seen(station, "boiler").outline.mean(0) + [0.75, -0.6]))
    QTest.mousePress(station.stage, LEFT, NONE, at(q))
    QTest.mouseMove(station.stage, at(q + QPointF(30, 30)))
    station.document.undo()
    QTest.mouseMove(station.stage, at(q + QPointF(60, 60)))
    QTest.mouseRelease(station.stage, LEFT, NONE, at(q + QPointF(60, 60)))
    assert shapes(station) == before
    QTest.mousePress(station.stage, LEFT, NONE, at(q))
    QTest.mouseMove(station.stage, at(q + QPointF(30, 30)))
    station.document.choose_character("berta")
    QTest.mouseMove(station.stage, at(q + QPointF(60, 60)))
    QTest.mouseRelease(station.stage, LEFT, NONE, at(q + QPointF(60, 60)))
    settle(station, qtbot)
    assert {p.name for p in shapes(station).parts} >= {"head", "hair"}
    station.document.choose_character("klinker")
    assert shapes(station) != before and station.document.undo_label == "Move, boiler"  # what it did so far stands
