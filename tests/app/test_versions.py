"""Versions at Plan and Check by hand; handles on the plan's drawing; likeness held; starting from a feature at Sheet."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from orthomet.app.gauges.list import NOTICED_HEAD
from orthomet.core.head.handles import SETTING
from orthomet.core.plan.start import heads_of
from orthomet.core.project.edits import decide
from orthomet.core.project.store import read
from tests.saving import save

from .conftest import drag, pixels


@pytest.fixture
def station(demo: Any) -> Any:
    demo.desk.go_named("Plan")
    demo.desk.flush()
    return demo.desk.station


def act(menu: Any, words: str) -> Any:
    found = [a for a in menu.actions() if a.text().startswith(words)]
    assert found, [a.text() for a in menu.actions()]
    return found[0]


def test_a_version_is_derived_changed_and_taken_away(demo: Any, station: Any, tmp_path: Path) -> None:
    d, bar = demo.desk.document, station.versions
    base = dict(d.plan().table)
    n = len(d.character.versions)
    act(bar.new_menu(), "Older by 20").trigger()
    demo.desk.flush()
    v = d.character.versions[-1]
    assert len(d.character.versions) == n + 1 and d.version_id == v.id and bar.which.currentText() == "older"
    assert bar.title.isVisibleTo(bar) and bar.amount.suffix() == " years older"
    older = dict(d.plan().table)
    assert older["upper_lip_hh"] < base["upper_lip_hh"] and d.plan_of("").table == base
    bar.amount.setValue(60)
    demo.desk.flush()
    assert d.plan().table["upper_lip_hh"] < older["upper_lip_hh"]
    bar.title.setText("As a grandmother")
    bar.title.editingFinished.emit()
    assert d.character.versions[-1].title == "As a grandmother"
    station.list.emphasis_chosen.emit("nose_length_hh", 2.25)
    assert (
        d.character.versions[-1].emphasis == {"nose_length_hh": 2.25}
        and d.character.decisions.emphasis.get("nose_length_hh") != 2.25
    )
    act(bar.fixed_menu(), "Eye line").trigger()
    assert d.character.versions[-1].forbidden == ("eye_station",)
    assert d.plan().raw[d.plan().space.index["eye_station"]] == pytest.approx(
        d.plan_of("").raw[d.plan().space.index["eye_station"]]
    )
    assert save(d, tmp_path / "v.orthomet") and read(tmp_path / "v.orthomet").project == d.project
    act(bar.new_menu(), "Remove").trigger()
    demo.desk.flush()
    assert len(d.character.versions) == n and d.version_id == "" and dict(d.plan().table) == base
    d.undo()
    assert len(d.character.versions) == n + 1


def test_marks_moved_in_a_version_are_its_own(demo: Any, station: Any) -> None:
    d = demo.desk.document
    d.choose_version("berta-young")
    demo.desk.flush()
    row = station.list.rows["mouth_station"]
    assert row.item.offset == 0  # what an age moves is not called moved by hand
    station.list.mark_began.emit("mouth_station")
    station.list.mark_moved.emit("mouth_station", 0.86)
    d.commit()
    demo.desk.flush()
    assert d.plan().raw[d.plan().space.index["mouth_station"]] == pytest.approx(0.86, abs=1e-6)
    assert (
        set(d.character.version("berta-young").offsets) == {"mouth_station"}
        and "mouth_station" not in d.character.decisions.offsets
    )
    assert station.reset.isVisibleTo(station)
    station.reset.click()
    assert d.character.version("berta-young").offsets == {}


def test_versions_stand_side_by_side(demo: Any, station: Any) -> None:
    d = demo.desk.document
    d.choose_character("wick")
    demo.desk.flush()
    board = pixels(station.stages)
    station.versions.compare.click()
    demo.desk.flush()
    assert station.compare.ids == ["", "wick-grown", "wick-poster"] and pixels(station.stages) != board
    assert station.compare.words[0] == ["as planned"] and any("heads higher" in w for w in station.compare.words[1])
    QTest.mouseClick(
        station.compare, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, station.compare.place(1).center().toPoint()
    )
    assert d.version_id == "wick-grown"
    d.choose_character("berta")
    assert d.version_id == ""


def test_jaw_chin_and_circle_are_handles(demo: Any, station: Any) -> None:
    d, board = demo.desk.document, station.board
    for key, trait in (("jaw_width_fw", "jaw_width_fw"), ("chin_width_fw", "chin_width_fw")):
        before = d.plan().table[trait]
        place = next(q for h, q in board.handle_places() if h.key == key and h.x > 0)
        drag(board, place, place + QPointF(-12, 0), steps=4)
        demo.desk.flush()
        assert d.plan().table[trait] < before and trait in d.character.decisions.offsets
        d.undo()
    demo.desk.flush()
    i = station.school.findData("circle-and-cross")
    station.school.setCurrentIndex(i)
    station.school.activated.emit(i)
    demo.desk.flush()
    place = next(q for h, q in board.handle_places() if h.key == f"{SETTING}D")
    drag(board, place, place - QPointF(0, 0.05 * board.head_px()), steps=4)
    assert d.character.decisions.school_settings["D"] == pytest.approx(0.70, abs=0.01)
    assert d.undo_label == "A line of the guide school"
    i = station.school.findData("oval-and-axes")
    station.school.setCurrentIndex(i)
    station.school.activated.emit(i)
    demo.desk.flush()
    shown = {h.key: q for h, q in board.handle_places()}
    assert {f"{SETTING}eye", f"{SETTING}tip", f"{SETTING}lips"} <= set(shown)
    drag(board, shown[f"{SETTING}tip"], shown[f"{SETTING}tip"] + QPointF(0, 0.04 * board.head_px()), steps=4)
    assert d.character.decisions.school_settings["tip"] == pytest.approx(0.71, abs=0.01)
    QTest.mouseMove(board, shown[f"{SETTING}lips"].toPoint())
    assert pixels(board)


def test_the_noticed_stand_on_top(demo: Any, station: Any) -> None:
    d = demo.desk.document
    shown = [station.list.column.itemAt(k).widget() for k in range(station.list.column.count())]
    keys = [w.item.key for w in shown if hasattr(w, "item")]
    mine = [k for k in d.character.noticed if k in station.list.rows]
    assert keys[: len(mine)] == mine and NOTICED_HEAD in station.list.heads
    assert keys.count(mine[0]) == 1


def test_the_likeness_is_held_while_the_style_grows(demo: Any, station: Any) -> None:
    d = demo.desk.document
    d.do("x", decide(d.character.id, emphasis_all=0.6, emphasis={}, style_weight=0.2))
    demo.desk.flush()
    score = d.plan().likeness.score
    station.hold.click()
    demo.desk.flush()
    assert d.character.decisions.hold == pytest.approx(score, abs=0.06) and station.hold.text() == f"Held at {score:.0f}"
    d.do("x", decide(d.character.id, style_weight=0.4))
    held = d.plan().likeness.score
    station.hold.click()
    demo.desk.flush()
    assert d.character.decisions.hold is None and d.plan().likeness.score < held


def test_a_drawing_is_checked_against_its_own_version(demo: Any) -> None:
    d = demo.desk.document
    demo.desk.go_named("Check")
    demo.desk.flush()
    station = demo.desk.station
    before = [f.say for f in d.check().findings]
    assert station.version.count() == 2
    station.version.setCurrentIndex(1)
    station.version.activated.emit(1)
    demo.desk.flush()
    assert d.drawing.version == "berta-young" and [f.say for f in d.check().findings] != before
    d.undo()
    demo.desk.flush()
    assert [f.say for f in d.check().findings] == before and station.version.currentIndex() == 0


def test_the_sheet_starts_from_any_feature(demo: Any) -> None:
    demo.desk.go_named("Sheet")
    demo.desk.flush()
    station, d = demo.desk.station, demo.desk.document
    whole = station.head_height()
    i = station.start.findData("eye")
    station.start.setCurrentIndex(i)
    station.start.activated.emit(i)
    heads = heads_of("eye", d.plan().points)
    assert station.head_mm.value() == pytest.approx(whole * heads, abs=0.06) and station.head_height() == pytest.approx(
        whole, rel=0.01
    )
    station.head_mm.setValue(20)
    assert station.head_height() == pytest.approx(20 / heads)
    station.head_mm.setValue(1900)
    demo.desk.flush()
    assert station.view.page is None and "runs from 10 to 2000 mm" in station.view.sentence


def test_own_spans_are_planned_like_any_trait(demo: Any, station: Any, tmp_path: Path) -> None:
    d = demo.desk.document
    d.choose_character("klinker")
    demo.desk.flush()
    rows = station.list.rows
    assert rows["own_funnel"].item.plan == pytest.approx(rows["own_funnel"].item.reference) and rows["own_eye"].item.bare
    station.list.emphasis_chosen.emit("own_funnel", 2.0)
    demo.desk.flush()
    item = rows["own_funnel"].item
    assert item.plan == pytest.approx(item.reference**2 / 1.2) and d.undo_label == "Emphasis, Funnel height"
    row = rows["own_arm"]
    x, before = row.x_of(row.item.plan), row.item.plan
    drag(row, QPointF(x, 12), QPointF(x + 18, 12), steps=4)
    demo.desk.flush()
    assert row.item.plan > before and set(d.character.decisions.offsets) == {"own_arm"}
    assert not station.verdict.measured  # a creature has no face to be like
    assert save(d, tmp_path / "k.orthomet") and read(tmp_path / "k.orthomet").project == d.project
