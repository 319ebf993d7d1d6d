"""From an empty window to a checked drawing, by hand and by keys; files in and out; every kind of trouble said."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDropEvent, QGuiApplication, QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QAbstractSpinBox, QLineEdit, QPlainTextEdit, QWidget

from orthomet.app.document import Document
from orthomet.app.stations.pages import PageSwitch
from orthomet.app.theme.tokens import PALETTES, Palette, theme
from orthomet.core.landmarks.points import State
from orthomet.core.project.edits import rename_project
from orthomet.core.project.journal import Journal
from orthomet.core.project.store import read
from orthomet.demo.project import demo_project
from tests.saving import save

from .conftest import at, pick, picture_file


def drop(window: Any, *paths: str) -> None:
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(p) for p in paths])
    e = QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    window.dropEvent(e)


def click(stage: Any, xy: tuple[float, float]) -> None:
    QTest.mouseClick(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, at(stage.to_screen(*xy)))


def test_a_strangers_picture_from_drop_to_checked_drawing(window: Any, qtbot: Any, tmp_path: Path) -> None:
    """The whole pipeline on a picture this project did not paint."""
    d = window.desk.document
    drop(window, picture_file(tmp_path))
    qtbot.waitUntil(lambda: d.character is not None and d.character.reference is not None, timeout=5000)
    window.desk.flush()
    stage = window.desk.stations.named("Reference").stage
    assert "crown" in stage.anchor_wanted() and d.character.reference.name == "face"
    for xy in ((150, 42), (150, 318), (208, 175)):
        click(stage, xy)
    window.desk.flush()
    marks = d.character.reference.marks
    assert len(marks.points) > 50 and marks.states["stomion"] is State.ESTIMATED
    assert d.plan().noticed == ()  # nothing is noticed from seeds
    QTest.keyClick(stage, Qt.Key.Key_Return)  # confirms the crown and walks on
    assert "vertex" not in d.character.reference.marks.states
    name = stage.active
    x = d.character.reference.marks.points[name][0]
    QTest.keyClick(stage, Qt.Key.Key_Right)
    QTest.keyClick(stage, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert d.character.reference.marks.points[name][0] == pytest.approx(x + 11)
    QTest.keyClick(stage, Qt.Key.Key_Tab)
    assert stage.active != name
    QTest.keyClick(stage, Qt.Key.Key_H)
    assert d.character.reference.marks.states[stage.active] is State.HIDDEN
    window.desk.station.confirm_all.click()
    assert State.ESTIMATED not in d.character.reference.marks.states.values()
    assert len(d.plan().noticed) == 5
    out = tmp_path / "guides.svg"
    window.desk.go_named("Sheet")
    with qtbot.waitSignal(window.desk.station.exported, timeout=10_000):
        window.desk.station.export(str(out))
    assert out.read_text().count("<g ") > 5
    window.desk.go_named("Check")
    drop(window, picture_file(tmp_path, "drawing.png"))
    qtbot.waitUntil(lambda: d.drawing is not None, timeout=5000)
    window.desk.flush()
    stage = window.desk.station.stage
    for xy in ((150, 42), (150, 318), (92, 175)):
        click(stage, xy)
    window.desk.flush()
    assert d.check().findings == () and "stomion" in d.drawing.marks.points
    window.desk.station.confirm_all.click()
    window.desk.flush()
    assert not isinstance(d.check(), str)
    for _ in range(20):
        if not d.undo_label:
            break
        d.undo()
    assert d.project.characters == ()


def test_meant_and_ask_again(demo: Any, qtbot: Any) -> None:
    demo.desk.go_named("Check")
    QTest.qWait(50)
    panel, d = demo.desk.station.panel, demo.desk.document
    card = next(c for c in panel.cards if c.f.reading == "mouth_station")
    card.setFocus()
    QTest.keyClick(card, Qt.Key.Key_M)
    demo.desk.flush()
    assert d.drawing.meant == ("mouth_station",) and [f.reading for f in d.check().findings] == ["eye_width_l_fw"]
    panel.ask_again.emit("mouth_station")
    demo.desk.flush()
    assert d.drawing.meant == () and len(d.check().findings) == 2


def test_hover_lights_both_ways(demo: Any) -> None:
    station = demo.desk.stations.named("Reference")
    row, stage = station.list.rows["eye_gap_ew"], station.stage
    QTest.mouseMove(row, QPoint(40, 10))
    row.hovered.emit("eye_gap_ew", True)
    assert row.lit and stage.lit_keys == {"eye_gap_ew"} and demo.ledge.reading[0] == "Gap between"
    row.hovered.emit("eye_gap_ew", False)
    assert not row.lit and stage.lit_keys == set()
    q = stage.to_screen(*stage.marks.points["alare_l"])
    QTest.mouseMove(stage, at(q + QPointF(60, 60)))
    QTest.mouseMove(stage, at(q))
    assert station.list.rows["nose_width_fw"].lit and not station.list.rows["eye_gap_ew"].lit


def test_emphasis_by_keys_words_and_clicks(demo: Any) -> None:
    demo.desk.go_named("Plan")
    QTest.qWait(30)
    d, row = demo.desk.document, demo.desk.station.list.rows["nose_width_fw"]
    QTest.keyClick(row, Qt.Key.Key_4)
    assert d.character.decisions.emphasis["nose_width_fw"] == 1.5
    QTest.keyClick(row, Qt.Key.Key_Return)
    assert row.open
    x, w, _, v = row.stop_cells()[0]
    QTest.mouseClick(row, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(round(x + w / 2), 36))
    assert v == 0 and d.character.decisions.emphasis["nose_width_fw"] == 0
    plan = d.plan().table["nose_width_fw"]
    QTest.keyClick(row, Qt.Key.Key_Right)
    assert d.plan().table["nose_width_fw"] > plan
    demo.desk.station.reset.click()
    assert d.character.decisions.offsets == {}


def test_filter_sort_and_fold(demo: Any) -> None:
    lists = demo.desk.stations.named("Reference").list
    lists.filter.setText("gap")
    shown = [k for k, r in lists.rows.items() if r.isVisibleTo(lists)]
    assert set(shown) == {"eye_gap_ew", "brow_gap_ew"}
    lists.filter.setText("")
    lists.by_unusual.click()
    order = [lists.column.itemAt(i).widget() for i in range(3)]
    z = [abs(r.item.z(r.item.reference)) for r in order]
    assert z == sorted(z, reverse=True) and z[0] > 2
    lists.by_place.click()
    lists.heads["Nose"].folded.emit("Nose")
    assert not lists.rows["nose_width_fw"].isVisibleTo(lists)


def test_noticed_first_takes_words_and_readings(demo: Any) -> None:
    box, d = demo.desk.stations.named("Reference").panel.noticed, demo.desk.document
    d.choose_character("wick")
    demo.desk.flush()
    assert not box.shows_ruler()
    box.edit_row(1)
    box.entry.setText("Nose length")
    QTest.keyClick(box.entry, Qt.Key.Key_Return)
    box.edit_row(2)
    box.entry.setText("Ink on the fingers")
    QTest.keyClick(box.entry, Qt.Key.Key_Return)
    assert d.character.noticed == ("eye_station", "nose_length_hh", "Ink on the fingers")


def test_missing_reading_asks_for_its_point(demo: Any) -> None:
    station, d = demo.desk.stations.named("Reference"), demo.desk.document
    station.stage.active = "subnasale"
    QTest.keyClick(station.stage, Qt.Key.Key_Delete)
    demo.desk.flush()
    row = station.list.rows["nose_base_station"]
    assert row.item.missing == "nose base"
    QTest.mouseClick(row, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(300, 12))
    assert station.stage.place_next == "subnasale"
    click(station.stage, (750, 870))
    assert d.character.reference.marks.points["subnasale"] == pytest.approx((750, 870), abs=2)


def test_zoom_pan_fit_mirror_and_level(demo: Any) -> None:
    stage = demo.desk.stations.named("Reference").stage
    q = QPointF(500, 300)
    xy, scale = stage.to_picture(q), stage.scale
    stage.zoom(2.0, q)
    assert stage.to_picture(q) == pytest.approx(xy) and stage.scale == pytest.approx(2 * scale)
    QTest.keyPress(stage, Qt.Key.Key_Space)
    QTest.mousePress(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(400, 300))
    QTest.mouseMove(stage, QPoint(440, 330))
    QTest.mouseRelease(stage, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(440, 330))
    QTest.keyRelease(stage, Qt.Key.Key_Space)
    assert stage.to_picture(q + QPointF(40, 30)) == pytest.approx(xy)
    QTest.keyClick(stage, Qt.Key.Key_F)
    assert stage.scale == pytest.approx(scale)
    pick(demo, "Mirror view")
    x, y = stage.marks.points["exocanthion_l"]
    assert stage.to_picture(stage.to_screen(x, y)) == pytest.approx((x, y))
    assert stage.to_screen(x, y).x() < stage.to_screen(*stage.marks.points["exocanthion_r"]).x()
    pick(demo, "Level by the eyes")
    assert demo.desk.document.character.reference.level_by == "eyes"


def test_save_reopen_lock_and_changed_on_disk(demo: Any, tmp_path: Path) -> None:
    d = demo.desk.document
    path = tmp_path / "ferry.orthomet"
    assert save(d, path) and not d.dirty and d.path == path
    assert read(path).project == d.project
    told: list[str] = []
    other = Document(keep_journal=False)
    other.trouble.connect(told.append)
    other.open_stored(read(path), path)
    assert other.read_only and "another window" in told[-1]
    other.do("Rename", rename_project("Other"))
    assert not save(other) and not save(other, path) and "another" in told[-1]
    assert save(other, tmp_path / "copy.orthomet") and read(tmp_path / "copy.orthomet").project.title == "Other"
    other.close()
    d.do("Rename", rename_project("Again"))
    path.write_bytes(path.read_bytes() + b" ")
    said: list[str] = []
    d.trouble.connect(said.append)
    assert not save(d) and "changed on disk" in said[-1] and d.dirty
    path.unlink()
    assert save(d)


def test_crash_recovery_is_offered_and_kept(window: Any, qtbot: Any) -> None:
    s = demo_project()
    j = Journal()
    j.record(rename_project("Nearly lost")(s.project), s.pictures, "")
    state = json.loads((j.folder / "state.json").read_text())
    (j.folder / "state.json").write_text(json.dumps({**state, "started": "gone"}))
    window.desk.offer_recovery()
    assert window.desk.recovery.isVisible() and "Nearly lost" in window.desk.recovery.words.text()
    window.desk.recovery.keep.click()
    assert (
        window.desk.document.project.title == "Nearly lost"
        and window.desk.document.dirty
        and not window.desk.recovery.isVisible()
    )
    assert not j.folder.exists()
    assert window.desk.document.journal.folder.exists()


def test_changes_are_in_the_journal_and_a_clean_end_removes_it(demo: Any, qtbot: Any) -> None:
    d = demo.desk.document
    d.do("Rename", rename_project("Kept"))
    qtbot.waitUntil(lambda: (d.journal.folder / "project.json").exists(), timeout=3000)
    assert "Kept" in (d.journal.folder / "project.json").read_text()
    d.close()
    assert not d.journal.folder.exists()


@pytest.mark.parametrize(("name", "data", "words"), [
    ("x.png", b"no picture", "not a picture"),
    ("x.jpg", b"", "not a picture"),
    ("x.txt", b"words", "not a picture"),
    ("x.orthomet", b"junk", "not an Orthomet project"),
    ("x.json", b"{", "does not read|not proper JSON|JSON"),
])  # fmt: skip
def test_bad_drops_are_said_and_nothing_is_lost(
    demo: Any, qtbot: Any, tmp_path: Path, name: str, data: bytes, words: str
) -> None:
    import re

    before = demo.desk.document.project
    (tmp_path / name).write_bytes(data)
    drop(demo, str(tmp_path / name))
    qtbot.waitUntil(lambda: demo.ledge.bad, timeout=8000)
    assert re.search(words, demo.ledge.sentence), demo.ledge.sentence
    assert demo.desk.document.project is before


def test_paste_and_several_references(demo: Any, qtbot: Any) -> None:
    image = QImage(60, 70, QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.darkCyan)
    QGuiApplication.clipboard().setImage(image)
    demo.desk.paste()
    d = demo.desk.document
    qtbot.waitUntil(lambda: len(d.character.references) == 3, timeout=5000)
    demo.desk.flush()
    assert d.character.reference.image.size == (60, 70) and demo.desk.stations.named("Reference").which.isVisibleTo(
        demo.desk.stations.named("Reference")
    )
    demo.desk.station.which.activated.emit(0)
    assert d.character.reference.id == "berta-portrait"
    QGuiApplication.clipboard().clear()
    demo.desk.paste()
    assert "neither a picture" in demo.ledge.sentence


def test_landmark_trouble_is_shown_where_it_happens(demo: Any) -> None:
    stage = demo.desk.stations.named("Reference").stage
    top = stage.marks.points["vertex"]
    stage.edit_made.emit("Move", lambda m: m.model_copy(update={"points": {**m.points, "gnathion": (top[0], top[1] - 50)}}))
    demo.desk.flush()
    assert "above the crown" in demo.ledge.sentence
    assert demo.desk.document.measured().table == {}
    demo.desk.document.undo()
    demo.desk.flush()
    assert demo.desk.document.measured().table


def test_cast_credit_and_school(demo: Any) -> None:
    d, station = demo.desk.document, demo.desk.stations.named("Reference")
    demo.desk.cast.step(1)
    assert d.character.id == "lorn"
    demo.desk.flush()
    station.credit.setText("someone else")
    station.credit.editingFinished.emit()
    assert d.character.reference.credit == "someone else"
    demo.desk.go_named("Plan")
    demo.desk.station.school.activated.emit(demo.desk.station.school.findData("equal-thirds"))
    assert d.character.decisions.school == "equal-thirds"
    demo.desk.go_named("Sheet")
    assert demo.desk.station.sheet().layer("equal-thirds-2").title.startswith("Equal thirds 2")
    demo.desk.station.head_mm.setValue(2000)
    assert "does not fit" in demo.desk.station.view.sentence
    demo.desk.station.head_mm.setValue(120)
    demo.desk.station.steps.boxes["features"].click()
    assert all(ly.id != "features" for ly in demo.desk.station.sheet().layers)


def test_everything_has_a_name_and_a_way_by_keys(demo: Any) -> None:
    demo.apply_theme()
    for k in range(4):
        demo.desk.go(k)
        QTest.qWait(20)
        nameless = [
            w for w in demo.desk.station.findChildren(QWidget)
            if w.focusPolicy() != Qt.FocusPolicy.NoFocus and w.isVisible() and not (w.accessibleName() or getattr(w, "text", lambda: "")())
            and type(w).__name__ not in ("QScrollArea", "QSpinBoxPrivate", "QLineEdit", "QComboBoxListView")
        ]  # fmt: skip
        assert not nameless, nameless
    actions = [a for m in demo.shelf.menu.actions() for a in m.menu().actions() if not a.isSeparator() and a.menu() is None]
    assert len(actions) > 20 and all(a.text() for a in actions)


def contrast(a: str, b: str) -> float:
    """WCAG 2 contrast ratio."""
    from PySide6.QtGui import QColor

    def luminance(h: str) -> float:
        q = QColor(h)
        f = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in (q.redF(), q.greenF(), q.blueF())]
        return 0.2126 * f[0] + 0.7152 * f[1] + 0.0722 * f[2]

    x, y = sorted((luminance(a), luminance(b)), reverse=True)
    return (x + 0.05) / (y + 0.05)


@pytest.mark.parametrize("t", PALETTES.values(), ids=lambda p: p.name)
def test_text_and_marks_are_readable(t: Palette) -> None:
    """WCAG 2: text at least 4.5 : 1, marks at least 3 : 1 on every ground they meet."""
    for text, grounds in {
        "ink": ("board", "ledge", "paper", "sheet", "field", "look_wash"),
        "soft": ("board", "ledge", "paper", "look_wash"),
        "plan": ("paper", "look_wash"),
        "draw": ("paper",),
        "look": ("paper",),
    }.items():
        assert all(contrast(getattr(t, text), getattr(t, g)) >= 4.5 for g in grounds), text
    for mark in ("ref", "plan", "draw"):
        assert all(contrast(getattr(t, mark), getattr(t, g)) >= 3 for g in ("paper", "band_wide", "band")), mark


def test_night_is_another_picture(demo: Any) -> None:
    day = demo.grab().toImage()
    theme.use("night")
    QTest.qWait(30)
    night = demo.grab().toImage()
    assert day.pixelColor(60, 500).lightness() > 180 and night.pixelColor(60, 500).lightness() < 60
    theme.use("day")


@pytest.mark.parametrize("name", ["day", "night"])
def test_every_field_one_writes_in_can_be_read(demo: Any, name: str) -> None:
    """The story’s field was white under white letters by night."""
    theme.use(name)
    read = set()
    for row in demo.desk.stations.table:
        demo.desk.go_named(row.name)
        for page in [b for s in demo.desk.station.findChildren(PageSwitch) for b in s.group.buttons()] or [None]:
            if page is not None:
                QTest.mouseClick(page, Qt.MouseButton.LeftButton)
            for w in _written_in(demo.desk.station):
                assert _contrast(w) > 120, (row.name, w.accessibleName())
                read.add(type(w).__name__)
    theme.use("day")
    assert {"Words", "QLineEdit", "QDoubleSpinBox"} <= read


def _written_in(station: QWidget) -> list[QWidget]:
    """Fields that are seen, can be used, and have something in them."""
    kinds = (QLineEdit, QPlainTextEdit, QAbstractSpinBox)
    found = [w for kind in kinds for w in station.findChildren(kind) if w.isVisible() and w.isEnabled()]
    return [w for w in found if (w.toPlainText() if isinstance(w, QPlainTextEdit) else w.text())]


def _contrast(w: QWidget) -> int:
    image = w.grab().toImage()
    inside = [image.pixelColor(x, y).lightness() for x in range(6, image.width() - 6) for y in range(5, image.height() - 5)]
    return max(inside) - min(inside)
