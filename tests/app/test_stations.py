"""Check and Sheet: rings, overlay, what passes; dials, steps, export; render to image and PDF."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QInputDialog, QPushButton

from orthomet.app.character_dialog import CharacterDialog
from orthomet.app.render import to_image, to_pdf, write_page
from orthomet.core.errors import ProjectError
from orthomet.core.export.page import page
from orthomet.core.picture import Ink, Layer, Picture, Text, line
from orthomet.core.project.edits import add_drawing
from orthomet.core.project.model import Drawing, Marks
from orthomet.core.project.store import read

from .conftest import pick, pixels


def page_of(*items: Any, head: float = 50.0) -> Picture:
    return page(Picture((Layer("a", "A", tuple(items)),), (-0.5, 0, 1, 1), "Test"), head)


def test_paths_fills_and_words_reach_the_paper(qapp: Any) -> None:
    square = [(-0.2, 0.4), (0.2, 0.4), (0.2, 0.8), (-0.2, 0.8)]
    blank = to_image(page_of())
    filled = to_image(page_of(line(square, Ink.DARK, closed=True, filled=True)))
    outlined = to_image(page_of(line(square, Ink.CONTOUR, closed=True)))
    worded = to_image(page_of(Text((0.0, 0.5), "eyes", align=0, size=0.1)))
    sheet = page_of()
    k = filled.width() / sheet.box[2]
    x, y = sheet.box[2] / 2, 12 + 0.6 * 50
    at = (round(x * k), round(y * k))
    assert blank.pixelColor(*at).lightness() == 255 and filled.pixelColor(*at).lightness() < 190
    assert outlined.pixelColor(*at).lightness() == 255 and outlined != blank and worded != blank
    assert outlined.pixelColor(round((x - 10) * k), round(y * k)).lightness() < 230  # the square's left edge
    assert to_image(page_of(line(square, Ink.GUIDE)), "sanguine") != to_image(page_of(line(square, Ink.GUIDE)), "graphite")


def test_files_are_whole_or_not_there(qapp: Any, tmp_path: Path) -> None:
    sheet = page_of(line([(0, 0), (0, 1)], Ink.GUIDE))
    assert to_pdf(sheet).startswith(b"%PDF")
    for bad in ("x.gif", "x", "no/folder/x.svg"):
        with pytest.raises(ProjectError):
            write_page(sheet, tmp_path / bad)
    with pytest.raises(ProjectError, match="smaller head"):
        to_image(page(Picture((), (-0.5, 0, 1, 1), "T"), 1900.0))
    assert list(tmp_path.iterdir()) == []
    write_page(sheet, tmp_path / "x.PNG")
    assert (tmp_path / "x.PNG").read_bytes().startswith(b"\x89PNG")


def test_overlay_shows_and_hides(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    stage = demo.desk.station.stage
    qtbot.waitUntil(lambda: stage.image is not None, timeout=5000)
    with_plan = pixels(stage)
    QTest.keyPress(stage, Qt.Key.Key_O)
    without = pixels(stage)
    QTest.keyRelease(stage, Qt.Key.Key_O)
    assert without != with_plan and pixels(stage) == with_plan
    demo.desk.station.overlay.click()
    assert not stage.show_plan and pixels(stage) == without
    pick(demo, "Plan over the drawing")
    assert stage.show_plan


def test_plan_lies_on_the_drawing_where_it_registers(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    stage = demo.desk.station.stage
    qtbot.waitUntil(lambda: stage.image is not None, timeout=5000)
    t = stage.overlay_map * stage.flat_to_screen()
    crown = t.map(QPointF(0, 0)) - stage.to_screen(*stage.marks.points["vertex"])
    assert abs(crown.x()) < 1 and abs(crown.y()) < 1
    pick(demo, "Mirror view")
    mirrored = stage.overlay_map * stage.flat_to_screen()
    crown = mirrored.map(QPointF(0, 0)) - stage.to_screen(*stage.marks.points["vertex"])
    assert abs(crown.x()) < 1 and abs(crown.y()) < 1


def test_findings_say_and_light(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    station = demo.desk.station
    qtbot.waitUntil(lambda: station.stage.image is not None, timeout=5000)
    assert station.panel.title.text() == "2 findings" and station.badge() == ("2", "2 things differ from the plan.")
    card = next(c for c in station.panel.cards if c.f.reading == "mouth_station")
    assert (
        card.row is not None
        and card.row.item.tolerance == pytest.approx(0.02, rel=0.05)
        and card.row.item.drawing == pytest.approx(0.851, abs=0.005)
    )
    station.stage.lit_finding = -1  # wherever the pointer happens to be
    plain = station.stage.lit_points()
    card.hovered.emit(card.k, True)
    assert {"stomion", "cheilion_l"} <= station.stage.lit_points() - plain
    assert station.reading_note()[1] == "+0.040 heads" and demo.ledge.reading[0] == "Mouth line"
    card.hovered.emit(card.k, False)
    assert station.stage.lit_points() == plain
    words = [c.f.say for c in station.panel.cards]
    assert any(w.startswith("Raise the mouth by 0.040 heads (34 px)") for w in words) and any("left eye" in w for w in words)


def test_an_unsure_drawing_is_not_judged_until_confirmed(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    station, d = demo.desk.station, demo.desk.document
    qtbot.waitUntil(lambda: station.stage.image is not None, timeout=5000)
    truth = dict(d.drawing.marks.points)
    station.seed.click()
    for n in ("vertex", "gnathion", "exocanthion_r"):
        QTest.mouseClick(
            station.stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, station.stage.to_screen(*truth[n]).toPoint()
        )
    demo.desk.flush()
    assert (
        d.check().findings == () and station.panel.title.text() == "Not judged yet" and station.confirm_all.isVisibleTo(station)
    )
    mouth = d.drawing.marks.points["stomion"]
    assert np.hypot(mouth[0] - truth["stomion"][0], mouth[1] - truth["stomion"][1]) > 20  # the plan's place, not the drawing's
    station.confirm_all.click()
    demo.desk.flush()
    assert d.check().findings == ()
    d.undo()
    d.undo()
    demo.desk.flush()
    assert len(d.check().findings) == 2


def test_removing_and_choosing_drawings(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    station, d = demo.desk.station, demo.desk.document
    image, before = d.drawing.image, len(d.character.drawings)
    station.take_picture(image, "Second")
    demo.desk.flush()
    assert d.drawing.name == "Second" and station.which.count() == before + 1 and station.stage.placing == {}
    station.which.activated.emit(0)
    demo.desk.flush()
    assert d.drawing.name == "Rough, first night"
    pick(demo, "Remove this drawing")
    demo.desk.flush()
    assert "Rough, first night" not in [x.name for x in d.character.drawings] and d.drawing.name == "Second", "the newest"
    for _ in range(before):
        pick(demo, "Remove this drawing")
        demo.desk.flush()
    assert d.drawing is None and station.stage.size_px is None and station.badge() == ("", "")


def test_school_dials_and_departures(demo: Any) -> None:
    demo.desk.go_named("Sheet")
    QTest.qWait(20)
    station, d = demo.desk.station, demo.desk.document
    from PySide6.QtWidgets import QLabel, QSlider

    slider = next(s for s in station.findChildren(QSlider) if "diameter" in s.accessibleName())
    dial = station.lines.dials["D"]
    usual = slider.value()
    QTest.mouseClick(dial.value_words, Qt.MouseButton.LeftButton)
    QTest.keyClicks(dial.entry, "0.70")
    QTest.keyClick(dial.entry, Qt.Key.Key_Return)
    demo.desk.flush()
    assert d.character.decisions.school_settings == {"D": 0.70} and "diameter" in d.undo_label
    told = [q.text() for q in station.steps.findChildren(QLabel) if q.text().startswith("Nose base")]
    assert told and "school 0.700" in told[0] and "higher" in told[0]
    assert slider.value() != usual
    d.undo()
    demo.desk.flush()
    assert d.character.decisions.school_settings == {} and slider.value() == usual and slider.isVisible()


def test_export_by_dialog_and_its_troubles(demo: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    demo.desk.go_named("Sheet")
    station = demo.desk.station
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "sheet"), "PDF (*.pdf)"))
    with qtbot.waitSignal(station.exported, timeout=10_000):
        station.export()
    assert (tmp_path / "sheet.pdf").read_bytes().startswith(b"%PDF") and "true size" in demo.ledge.sentence
    with qtbot.waitSignal(station.exported, timeout=10_000):
        station.export(str(tmp_path / "nowhere" / "x.svg"))
    assert "cannot be written" in demo.ledge.sentence and demo.ledge.bad
    station.head_mm.setValue(1500)
    station.export(str(tmp_path / "y.svg"))
    assert "does not fit" in demo.ledge.sentence and not (tmp_path / "y.svg").exists()


def test_menus_save_open_and_rename(demo: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    desk = demo.desk
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "a.orthomet"), ""))
    monkeypatch.setattr(QInputDialog, "getText", lambda *a, **k: ("Ferry two", True))
    desk.rename()
    assert desk.save()
    desk.filing.wait()
    assert read(tmp_path / "a.orthomet").project.title == "Ferry two"
    entered = [
        {"name": "Stoker", "role": "below", "height_m": 1.9, "age": 40.0},
        {"name": "Stoker", "role": "below", "height_m": 1.5, "age": 9.0},
        {"name": ""},
    ]
    monkeypatch.setattr(CharacterDialog, "exec", lambda self: 1)
    monkeypatch.setattr(CharacterDialog, "fields", lambda self: entered[0])
    desk.cast.add()
    assert desk.document.character.name == "Stoker" and desk.document.character.age == 40
    entered.pop(0)
    desk.cast.edit(desk.document.character.id)
    assert desk.document.character.height_m == 1.5
    entered.pop(0)
    desk.cast.edit(desk.document.character.id)
    assert desk.document.character.name == "Stoker"  # a name is needed
    desk.cast.remove()
    assert len(desk.document.project.characters) == 4
    assert desk.save()
    desk.new_project()  # a save that has begun ends first
    assert desk.document.project.characters == () and desk.document.path is None
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a, **k: (str(tmp_path / "a.orthomet"), ""))
    desk.open_dialog()
    desk.filing.wait()
    assert len(desk.document.project.characters) == 4
    demo.menus.fill_recent()
    assert demo.menus.recent.actions()[0].text() == "a.orthomet"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "marks.json"), ""))
    desk.save_landmarks()
    before = desk.document.character.reference.marks
    assert desk.landmarks.open(str(tmp_path / "marks.json")) is False  # the same points: nothing changes
    assert desk.document.character.reference.marks == before
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a, **k: ([], ""))
    desk.add_picture_dialog()


def test_leaving_with_unsaved_work_asks(window: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    from PySide6.QtWidgets import QMessageBox

    from orthomet.app.desk import Desk
    from orthomet.core.project.edits import rename_project

    answers = [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Discard]
    monkeypatch.setattr(QMessageBox, "exec", lambda self: answers.pop(0))
    desk = window.desk
    assert Desk.may_leave(desk)
    desk.document.do("Rename", rename_project("Changed"))
    assert not Desk.may_leave(desk) and Desk.may_leave(desk)


def test_the_character_form_holds_what_was_there(qapp: Any, qtbot: Any) -> None:
    form = CharacterDialog("Wick", "Wick", "deckhand, 10", 1.36, 10)
    qtbot.addWidget(form)
    assert form.fields() == {"name": "Wick", "role": "deckhand, 10", "height_m": 1.36, "age": 10.0}
    form.name.setText("  Wick the Elder ")
    form.height_m.setValue(99)
    assert form.fields()["name"] == "Wick the Elder" and form.fields()["height_m"] == 30.0


def test_a_creature_is_checked_by_its_own_parts(demo: Any) -> None:
    """The reference itself as the drawing, its grate too wide; the arm's ends are placed by two clicks."""
    d, desk = demo.desk.document, demo.desk
    d.choose_character("klinker")
    c = d.character
    ends = {s.name: s.ends for s in c.spans}
    points = dict(c.reference.marks.points)
    _, b = ends["Grate across"]
    points[b] = (points[b][0] + 70, points[b][1])
    arm = [points.pop(n) for n in ends["Arm, root to claw"]]
    drawing = Drawing(id="k", name="k", image=c.reference.image, marks=Marks(points=points))
    d.do("Add", add_drawing("klinker", drawing))
    desk.go_named("Check")
    desk.flush()
    QTest.qWait(200)
    s = desk.station
    assert [card.f.reading for card in s.panel.cards] == [next(p.key for p in c.spans if p.name == "Grate across")]
    assert "Make grate across" in s.panel.cards[0].f.say and s.badge()[0] == "1" and s.stage.placing is None
    s.panel.own_hovered.emit(s.panel.cards[0].f.reading, True)
    assert s.reading_note()[0] == "Grate across" and s.stage.lit_points() >= set(ends["Grate across"])
    place = next(w for w in s.panel.findChildren(QPushButton) if w.text() == "Place its ends")
    place.click()
    for xy in arm:
        QTest.mouseClick(s.stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, s.stage.to_screen(*xy).toPoint())
        desk.flush()
    assert s.stage.place_next == "" and all(o.judged for o in d.check_own()) and sum(o.off for o in d.check_own()) == 1
    s.panel.cards[0].meant.emit(s.panel.cards[0].f.reading)
    desk.flush()
    assert not s.panel.cards and d.undo_label == "Meant: grate across"
    d.undo()
    desk.flush()
    assert len(s.panel.cards) == 1
