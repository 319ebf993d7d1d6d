"""What the audits found at the window, by the very clicks and keys that led there."""

from __future__ import annotations

import json
import os
import time
from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QCheckBox, QFileDialog, QMessageBox, QScrollArea, QWidget

from orthomet.app import ask
from orthomet.app.stations.fields import Words
from orthomet.app.stations.table import TABLE, Entry, Stations
from orthomet.core.landmarks.points import State
from orthomet.core.project.edits import (
    change_reference,
    choose_school,
    rename_project,
    set_character,
    set_features,
    set_states,
)
from orthomet.core.project.journal import Journal, Origin
from orthomet.core.project.model import Marks
from orthomet.core.project.store import Stored, read, write
from orthomet.core.styles.schools import schools
from orthomet.demo.project import demo_project
from tests.saving import save

from .conftest import pick

LEFT, CTRL = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier


# ---- widgets that ask for a change outlive the asking


@pytest.mark.parametrize("how", ["mouse", "space"])
def test_switching_steps_off_at_sheet(demo: Any, how: str) -> None:
    demo.desk.go_named("Sheet")
    QTest.qWait(30)
    station = demo.desk.station
    for key, box in list(station.steps.boxes.items()):
        station.steps.ensureWidgetVisible(box)
        for on in (False, True, False):
            if how == "mouse":
                QTest.mouseClick(box, LEFT, Qt.KeyboardModifier.NoModifier, QPoint(8, box.height() // 2))
            else:
                box.setFocus()
                QTest.keyClick(box, Qt.Key.Key_Space)
            QTest.qWait(2)
            assert box.isChecked() is on and station.steps.boxes[key] is box
            assert any(ly.id == key for ly in station.sheet().layers) is on
    assert not {ly.id for ly in station.sheet().layers} & set(station.steps.boxes)


def test_every_box_of_every_station_can_be_clicked(demo: Any) -> None:
    clicked = 0
    for k in range(len(TABLE)):
        demo.desk.go(k)
        QTest.qWait(30)
        for page in range(5):
            switch = getattr(demo.desk.station, "switch", None) or getattr(
                getattr(demo.desk.station, "panel", None), "pages", None
            )
            if switch is not None and hasattr(switch, "group") and page < len(switch.group.buttons()):
                switch.group.button(page).click()
            for box in demo.desk.station.findChildren(QCheckBox):
                if box.isVisible() and box.isEnabled():
                    box.click()
                    QTest.qWait(1)
                    clicked += 1
    assert clicked > 20


# ---- recovery never overwrites newer work


def left_behind(path: Path, kept: Stored, digest: str) -> Journal:
    j = Journal()
    j.record(kept.project, kept.pictures, Origin(str(path), None, digest))
    state = json.loads((j.folder / "state.json").read_text())
    (j.folder / "state.json").write_text(json.dumps({**state, "started": "gone"}))
    return j


def test_kept_work_beside_a_newer_save_opens_as_a_copy(
    window: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    s, path = demo_project(), tmp_path / "ferry.orthomet"
    digest = write(path, s)
    left_behind(path, Stored(rename_project("Edits of the dead window")(s.project), s.pictures), digest)
    write(path, Stored(rename_project("Saved since")(s.project), s.pictures))  # opened again, edited, saved
    window.desk.offer_recovery()
    bar = window.desk.recovery
    assert bar.isVisible() and "saved again since" in bar.words.text() and "the title" in bar.words.text()
    assert bar.keep.text() == "Bring it back as a copy"
    QTest.mouseClick(bar.keep, LEFT)
    d = window.desk.document
    assert d.path is None and d.dirty and d.project.title == "Edits of the dead window (brought back)"
    asked: list[str] = []
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: asked.append(a[2]) or ("", ""))
    QTest.keyClick(window, Qt.Key.Key_S, CTRL)
    assert asked and read(path).project.title == "Saved since"


def test_kept_work_whose_file_is_as_it_was_goes_back_into_it(window: Any, tmp_path: Path) -> None:
    s, path = demo_project(), tmp_path / "ferry.orthomet"
    left_behind(path, Stored(rename_project("Kept")(s.project), s.pictures), write(path, s))
    window.desk.offer_recovery()
    assert window.desk.recovery.keep.text() == "Bring it back"
    window.desk.recovery.keep.click()
    assert window.desk.document.path == path and window.desk.save()
    window.desk.filing.wait()
    assert read(path).project.title == "Kept"


def test_undone_to_the_saved_state_nothing_is_left_to_recover(demo: Any, tmp_path: Path) -> None:
    d = demo.desk.document
    assert save(d, tmp_path / "a.orthomet")
    d.do("Rename", rename_project("X"))
    d.flush_journal()
    assert d.journal.folder.exists()
    d.undo()
    d.flush_journal()
    assert not d.dirty and not d.journal.folder.exists()


def test_a_blocked_interface_does_not_starve_the_journal(demo: Any) -> None:
    d = demo.desk.document
    d.begin("Drag")
    d.preview(rename_project("In the hand"))
    time.sleep(1.8)  # a layout that takes its time: no event is handled
    assert "In the hand" in (d.journal.folder / "project.json").read_text()
    d.cancel()


# ---- endings come before the question


def test_the_ending_is_added_before_asking_whether_to_replace(demo: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    victim = tmp_path / "victim.orthomet"
    write(victim, demo_project())
    before = victim.read_bytes()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "victim"), ""))
    asked: list[str] = []

    def cancel(box: QMessageBox) -> int:
        asked.append(box.text())
        return 0

    monkeypatch.setattr(QMessageBox, "exec", cancel)
    demo.desk.document.do("Rename", rename_project("Would overwrite"))
    assert not demo.desk.filing.save_as()
    assert asked == ["victim.orthomet is there already."] and victim.read_bytes() == before
    demo.desk.go_named("Sheet")
    (tmp_path / "victim.pdf").write_bytes(b"mine")
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "victim"), "PDF (*.pdf)"))
    demo.desk.station.export()
    assert asked[1:] == ["victim.pdf is there already."] and (tmp_path / "victim.pdf").read_bytes() == b"mine"


def test_endings() -> None:
    kinds = {".svg": "SVG", ".pdf": "PDF"}
    assert ask.with_ending("a", kinds) == "a.svg" and ask.with_ending("a.PDF", kinds) == "a.PDF"
    assert ask.with_ending("a.v2", kinds, "PDF (*.pdf)") == "a.v2.pdf" and ask.with_ending("", kinds) == ""


# ---- words stay with whom they are about


def test_words_typed_and_not_yet_taken_stay_with_their_character(demo: Any) -> None:
    desk, d = demo.desk, demo.desk.document
    demo.activateWindow()
    desk.station.panel.pages.show_page(2)
    QTest.qWait(30)
    needs = desk.station.panel.idea.needs
    first, second = d.project.characters[:2]
    needs.setFocus()
    needs.selectAll()
    QTest.keyClicks(needs, "rings the bell")
    QTest.keyClick(needs, Qt.Key.Key_Tab, CTRL)  # the next character, the caret still in the words
    desk.cast.step(1) if d.character.id == first.id else None
    desk.flush()
    assert d.character.id == second.id
    assert d.project.characters[0].needs == "rings the bell" and d.project.characters[1].needs == second.needs
    assert needs.toPlainText() == second.needs
    needs.settle()
    assert d.project.characters[1].needs == second.needs


@pytest.mark.parametrize("leave", ["character", "reference", "save", "undo"])
def test_a_credit_in_the_hand_is_taken_before_anything_else(demo: Any, tmp_path: Path, leave: str) -> None:
    desk, d = demo.desk, demo.desk.document
    demo.activateWindow()
    credit = desk.station.credit
    credit.setFocus()
    credit.selectAll()
    QTest.keyClicks(credit, "by nobody")
    if not credit.hasFocus():
        pytest.skip("this platform gives no focus")
    if leave == "character":
        d.choose_character("lorn")
    elif leave == "reference":
        d.do("Choose", lambda p: change_reference("berta", "none")(p).model_copy(update={"title": "other"}))
    elif leave == "save":
        assert save(d, tmp_path / "a.orthomet")
        assert read(tmp_path / "a.orthomet").project.characters[0].references[0].credit == "by nobody"
    else:
        d.undo()
    desk.flush()
    assert d.undo_label == "Credit" or d.redo_label == "Credit" or leave == "reference"
    if leave != "undo":
        assert d.project.characters[0].references[0].credit == "by nobody"
    assert all(r.credit != "by nobody" for c in d.project.characters[1:] for r in c.references)


def test_point_keys_live_on_the_stage(demo: Any) -> None:
    desk, d = demo.desk, demo.desk.document
    ref = d.character.reference
    d.do("Loosen", change_reference("berta", ref.id, marks=set_states(ref.marks, ["stomion", "nasion"], State.ESTIMATED)))
    desk.flush()
    demo.activateWindow()
    for field in (desk.station.credit, desk.station.panel.idea.needs):
        desk.station.panel.pages.show_page(2 if isinstance(field, Words) else 0)
        field.setFocus()
        QTest.keyClick(field, Qt.Key.Key_Return, CTRL)
        desk.flush()
        assert d.character.reference.marks.states.get("stomion") is State.ESTIMATED
    desk.station.stage.setFocus()
    QTest.keyClick(desk.station.stage, Qt.Key.Key_Return, CTRL)
    desk.flush()
    assert "stomion" not in d.character.reference.marks.states


# ---- exports go on by themselves


def test_an_export_does_not_hold_the_window_and_can_be_stopped(
    demo: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    demo.desk.go_named("Head")
    station, target = demo.desk.station, tmp_path / "t.ora"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(target), ""))
    start = time.monotonic()
    pick(demo, "Export a turnaround…")
    assert time.monotonic() - start < 0.5 and demo.ledge.progress.isVisible()
    demo.desk.stop()
    demo.desk.work.wait(30_000)
    QTest.qWait(20)
    assert not target.exists() and not demo.ledge.progress.isVisible() and list(tmp_path.iterdir()) == []
    with qtbot.waitSignal(station.exported, timeout=60_000):
        pick(demo, "Export a turnaround…")
    assert target.read_bytes()[:2] == b"PK"


# ---- what a newcomer meets


def test_an_empty_check_offers_to_choose_a_file(window: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    window.desk.go_named("Check")
    QTest.qWait(20)
    opened: list[str] = []
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a: opened.append(a[1]) or ([], ""))
    stage = window.desk.station.stage
    assert window.desk.station.choose.isVisible() and stage.rect().contains(stage.first.geometry())
    QTest.mouseClick(window.desk.station.choose, LEFT)
    assert opened == ["Add pictures"]
    window.desk.open_demo()
    window.desk.flush()
    assert not window.desk.station.choose.isVisible()


def test_the_hair_on_the_picture_is_offered_and_never_imposed(demo: Any, qtbot: Any) -> None:
    """The style is found by its overlap with the picture's hair; lift, volume and parting are what was measured."""
    d = demo.desk.document
    d.do("Bald", set_features("berta", lambda f: f.with_values("hair", {"kind": 0.0})))
    demo.desk.go_named("Head")
    demo.desk.flush()
    station = demo.desk.station
    assert station.hair_offer.isVisible() and d.character.features.of("hair")["kind"] == 0
    QTest.mouseClick(station.hair_offer, LEFT)
    qtbot.waitUntil(lambda: d.character.features.of("hair")["kind"] > 0, timeout=60_000)
    demo.desk.flush()
    hair, table = d.character.features.of("hair"), d.measured().table
    assert hair["kind"] == 2 and not station.hair_offer.isVisible()  # short and combed, as she is painted
    assert hair["volume"] == pytest.approx((table["hair_width_hw"] - 1) * table["head_width_hh"] / 2, abs=1e-3)
    assert hair["lift"] == pytest.approx(table["hair_height_hh"], abs=1e-3)
    assert hair["parting"] * table["parting_offset_hw"] > 0
    d.undo()
    demo.desk.flush()
    assert station.hair_offer.isVisible()


@pytest.mark.parametrize("size", [(1040, 640), (1280, 760)])
def test_no_word_of_a_head_line_is_cut(demo: Any, size: tuple[int, int]) -> None:
    from PySide6.QtWidgets import QLabel, QPushButton

    def cut() -> list[tuple[str, str, int]]:
        line = demo.desk.station.top_line
        shown = [w for w in line.findChildren(QWidget) if w.isVisible() and w.maximumWidth() > 0 and w.parent() is line]
        worded = [w for w in shown if isinstance(w, QPushButton | QLabel)]
        return [
            (demo.desk.station.name, w.text(), w.width())
            for w in worded
            if w.width() < w.fontMetrics().horizontalAdvance(w.text())
        ]

    demo.resize(*size)
    for k in range(len(TABLE)):
        demo.desk.go(k)
        QTest.qWait(200)
        for _ in range(20):  # a slow machine lays the line out later
            if not cut():
                break
            QTest.qWait(100)
        assert cut() == []


def test_hints_that_do_not_fit_are_not_silent(demo: Any) -> None:
    demo.resize(1040, 640)
    QTest.qWait(30)
    told = demo.ledge.toolTip()
    assert all(key in told for key, _ in demo.desk.station.hint())
    demo.ledge.say("A sentence " * 20, bad=True)
    assert demo.ledge.toolTip() == "A sentence " * 20
    demo.grab()


def test_marking_noise_is_chosen_at_check_undone_and_saved(demo: Any, tmp_path: Path) -> None:
    demo.desk.go_named("Check")
    demo.desk.flush()
    d, panel = demo.desk.document, demo.desk.station.panel
    found = len(d.check().findings)
    assert found == 2 and "0.30 %" in panel.noise.specialValueText() and panel.noise.value() == 0
    panel.noise.setValue(2.0)
    demo.desk.flush()
    assert d.drawing.noise == 0.02 and len(d.check().findings) < found and d.undo_label == "How well it is marked"
    assert save(d, tmp_path / "n.orthomet") and read(tmp_path / "n.orthomet").project == d.project
    d.undo()
    demo.desk.flush()
    assert d.drawing.noise is None and len(d.check().findings) == found


# ---- stations


def test_a_station_is_built_when_it_is_first_looked_at(window: Any) -> None:
    assert [s.name for s in window.desk.stations.built()] == ["Reference"]
    window.desk.open_demo()
    window.desk.flush()
    assert window.rail.badges["Check"][0] == "2"  # told before Check is built
    assert [s.name for s in window.desk.stations.built()] == ["Reference"]
    window.desk.go_named("Plan")
    assert [s.name for s in window.desk.stations.built()] == ["Reference", "Plan"]


def test_a_row_is_all_a_station_needs() -> None:
    made: list[str] = []

    def build(entry: Entry) -> Any:
        made.append(entry.name)
        return entry.name.upper()

    table = Stations((*TABLE, Entry("Dummy", "Alt+9", "dummy", "DummyStation")), build)
    assert len(table) == len(TABLE) + 1 and table.named("Dummy") == "DUMMY" and table[-1] == "DUMMY" and made == ["Dummy"]


def test_scrolled_contents_are_changed_in_no_widgets_own_signal() -> None:
    """Only the helper that lets the old contents live on for a turn may put others into a scroll area that is in use."""
    import ast

    app = Path(ask.__file__).parent
    bad = []
    for path in app.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
            if isinstance(node, ast.FunctionDef) and node.name not in ("__init__", "show_in", "_readings"):
                bad += [
                    f"{path.name}:{n.lineno}" for n in ast.walk(node) if isinstance(n, ast.Attribute) and n.attr == "setWidget"
                ]
    assert bad == [] and QScrollArea.setWidget and os.name


def test_the_keyboard_stays_where_it_was_when_rows_change(demo: Any) -> None:
    """A turned trait, a renamed colour, an undone school: the focus stays in the panel, on the row it was on."""
    desk, d = demo.desk, demo.desk.document
    desk.go_named("Reference")
    desk.station.panel.pages.show_page(2)
    idea = desk.station.panel.idea
    d.do("Which way it pushes", set_character(d.character.id, directions={"eye_width_fw": 1, "jaw_width_fw": -1}))
    desk.flush()
    QTest.qWait(20)
    turn = idea.turns["jaw_width_fw"]
    turn.setFocus()
    before = turn.text()
    QTest.keyClick(turn, Qt.Key.Key_Space)
    desk.flush()
    assert d.character.directions == {"eye_width_fw": 1, "jaw_width_fw": 1}
    assert idea.turns["jaw_width_fw"] is turn and turn.text() != before and turn.hasFocus()
    desk.go_named("Sheet")
    desk.flush()
    station = desk.station
    other = next(s.name for s in schools().values() if s.settings and s.name != d.character.decisions.school)
    d.do("Guide school", choose_school(d.character.id, other))
    desk.flush()
    QTest.qWait(20)
    slider = next(iter(station.lines.dials.values())).slider
    slider.setFocus()
    d.undo()
    QTest.qWait(20)
    desk.flush()
    assert station.school.hasFocus()


def test_findings_put_aside_by_keys_one_after_the_other(demo: Any) -> None:
    """M on a card puts it aside; the keyboard is then on the card that took its place."""
    demo.desk.go_named("Check")
    demo.desk.flush()
    QTest.qWait(400)
    cards = demo.desk.station.panel.cards
    assert len(cards) > 1
    second = cards[1].f.say
    cards[0].setFocus()
    QTest.keyClick(cards[0], Qt.Key.Key_M)
    QTest.qWait(400)
    demo.desk.flush()
    now = demo.desk.station.panel.cards
    assert len(now) == len(cards) - 1 and now[0].hasFocus() and now[0].f.say == second


def test_renaming_a_colour_keeps_the_keyboard_on_its_card(demo: Any, qtbot: Any) -> None:
    desk, d = demo.desk, demo.desk.document
    d.do("No colours", set_character("berta", swatches=()))
    desk.go_named("Reference")
    desk.station.panel.pages.show_page(3)
    colours = desk.station.panel.colours
    QTest.mouseClick(colours.take, LEFT)
    qtbot.waitUntil(lambda: len(colours.cards) > 3, timeout=20_000)
    QTest.qWait(50)
    card = colours.cards[1]
    card.name.setFocus()
    card.name.selectAll()
    QTest.keyClicks(card.name, "River")
    QTest.keyClick(card.name, Qt.Key.Key_Tab)
    desk.flush()
    assert d.character.swatches[1].name == "River" and colours.cards[1] is card and card.parts.hasFocus()
    QTest.keyClicks(card.parts, "coat")
    QTest.keyClick(card.parts, Qt.Key.Key_Return)
    desk.flush()
    assert d.character.swatches[1].parts == ("coat",)
    d.undo()
    d.undo()
    desk.flush()
    assert card.name.text() == d.character.swatches[1].name != "River" and card.parts.text() == ""


def test_a_point_asked_for_belongs_to_its_view(demo: Any) -> None:
    """The prompt for a point of the face is dropped when the picture is looked at as a figure: painting it used to fail."""
    desk = demo.desk
    desk.go_named("Reference")
    desk.flush()
    stage = desk.station.stage
    stage.place_next = "endocanthion_l"
    assert "eye" in stage.anchor_wanted()
    stage.set_marks(Marks(view="figure"))
    assert stage.place_next == "" and stage.anchor_wanted() == ""
    desk.station.refresh()
    stage.place_next = "own_zz_a"
    desk.cast.step(1)
    desk.flush()
    assert stage.place_next == ""
