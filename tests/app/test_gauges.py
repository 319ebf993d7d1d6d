"""The gauge: geometry, every state a different picture, hands and keys."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from orthomet.app.gauges.list import GaugeList, WeightBar
from orthomet.app.gauges.row import GaugeRow
from orthomet.app.gauges.scale import REACH, squash, unsquash
from orthomet.app.theme.tokens import NIGHT, PANEL, ROW, ROW_OPEN, theme
from orthomet.core.gauges.item import GaugeItem, base_item
from orthomet.core.gauges.words import told
from orthomet.core.kinds import Kind

from .conftest import drag, pixels

SIZE = GaugeItem("nose_length_hh", "Nose length", "Nose", Kind.SIZE, 0.230, 0.015, "short", "long")
STATION = GaugeItem("mouth_station", "Mouth line", "Mouth", Kind.STATION, 0.79, 0.02, "high", "low")
SIGNED = GaugeItem("eye_gap_ew", "Gap between", "Eyes", Kind.SIGNED, 1.14, 0.10, "close", "wide")


@given(st.floats(-50, 50), st.floats(-50, 50))
def test_the_scale_keeps_order_and_never_leaves_its_ends(a: float, b: float) -> None:
    assert -1 <= squash(a) <= 1
    if a < b:
        assert squash(a) <= squash(b)
    if abs(a) < REACH:
        assert unsquash(squash(a)) == pytest.approx(a, abs=1e-9)


@pytest.mark.parametrize("item", [SIZE, STATION, SIGNED], ids=lambda i: str(i.kind))
def test_values_and_spreads_convert_both_ways(item: GaugeItem) -> None:
    assert item.norm is not None
    assert item.z(item.norm) == pytest.approx(0)
    for z in (-3, -0.5, 0.2, 4):
        assert item.z(item.at_z(z)) == pytest.approx(z)


def test_words_and_numbers() -> None:
    assert SIZE.describe(0.231) == "as usual" and SIZE.describe(0.25) == "long" and SIZE.describe(0.30) == "very long"
    assert SIZE.describe(0.21) == "short" and STATION.describe(0.74) == "very high"
    assert SIZE.show(0.2684) == "0.268" and SIGNED.show(1.3333) == "1.33" and SIGNED.show(-0.05) == "−0.050"
    assert replace(SIGNED, angle=True).show(-2.6) == "−2.6°"
    assert SIZE.z(-1.0) == -99.0 and replace(SIZE, norm=None).z(0.2) == 0.0
    assert replace(SIZE, noise=0.02).band == pytest.approx(0.025)
    assert base_item("lid_visible_eo").has_scale is False and base_item("eye_gap_ew").norm == 1.14


def shot(row: GaugeRow) -> bytes:
    row.resize(PANEL, row.height())
    return pixels(row)


def test_every_state_is_its_own_picture(qapp: Any, qtbot: Any) -> None:
    theme.use("day")
    measured = replace(SIZE, reference=0.268)
    planned = replace(measured, plan=0.28, asked=0.28, style=0.16)
    checked = replace(planned, drawing=0.281, tolerance=0.01)
    states = [
        ("reference", measured), ("reference", replace(measured, sure=False)), ("reference", replace(SIZE, missing="nose root")),
        ("reference", replace(measured, rank=2)), ("reference", replace(measured, noise=0.03)), ("reference", replace(measured, reference=0.9)),
        ("plan", planned), ("plan", replace(planned, asked=0.33)), ("plan", replace(planned, emphasis=2.5)), ("plan", replace(planned, offset=0.1)),
        ("plan", replace(planned, missing="nose root", reference=None)), ("check", checked), ("check", replace(checked, drawing=0.31)),
        ("check", replace(checked, drawing=0.31, meant=True)), ("check", replace(checked, drawing=None)),
    ]  # fmt: skip
    seen = set()
    for mode, item in states:
        row = GaugeRow(item, mode)  # type: ignore[arg-type]
        qtbot.addWidget(row)
        seen.add(shot(row))
        assert item.label in row.accessibleName()
    assert len(seen) == len(states)
    row = GaugeRow(planned, "plan")
    qtbot.addWidget(row)
    plain = shot(row)
    row.set_lit(True)
    lit = shot(row)
    row.set_lit(False)
    row.set_open(True)
    assert row.height() == ROW_OPEN and lit != plain and shot(row) not in (lit, plain)
    row.set_open(False)
    assert row.height() == ROW and shot(row) == plain
    theme.use("night")
    assert shot(row) != plain and theme.t is NIGHT
    theme.use("day")


def test_a_tip_is_taken_where_it_stands_and_nowhere_else(qapp: Any, qtbot: Any) -> None:
    row = GaugeRow(replace(SIZE, reference=0.25, plan=0.24, asked=0.24), "plan")
    qtbot.addWidget(row)
    row.resize(PANEL, ROW)
    row.show()
    moved: list[float] = []
    row.mark_moved.connect(lambda key, v: moved.append(v))
    tip = QPointF(row.x_of(0.24), 18)
    drag(row, tip + QPointF(30, 0), tip + QPointF(60, 0))
    assert moved == [] and row.open  # a click beside the tip opens the row instead
    row.set_open(False)
    with qtbot.waitSignals([row.mark_began, row.mark_dropped]):
        drag(row, tip, tip + QPointF(20, 0))
    assert moved == sorted(moved) and moved[-1] == pytest.approx(row.value_at(tip.x() + 20), abs=0.002)
    drag(row, tip, tip + QPointF(2000, 0))
    assert moved[-1] == pytest.approx(row.item.at_z(REACH))
    reference = GaugeRow(replace(SIZE, reference=0.25, plan=0.24), "reference")
    qtbot.addWidget(reference)
    assert not reference.on_tip(reference.x_of(0.24), 18)


def test_keys_on_a_row(qapp: Any, qtbot: Any) -> None:
    row = GaugeRow(replace(SIZE, reference=0.25, plan=0.24, asked=0.24), "plan")
    qtbot.addWidget(row)
    chosen: list[float] = []
    moved: list[float] = []
    row.emphasis_chosen.connect(lambda key, e: chosen.append(e))
    row.mark_moved.connect(lambda key, v: moved.append(v))
    for key in (Qt.Key.Key_1, Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4):
        QTest.keyClick(row, key)
    assert chosen == [0, 0.5, 1, 1.5]
    QTest.keyClick(row, Qt.Key.Key_Left)
    QTest.keyClick(row, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert moved[0] < 0.24 < moved[1]
    missing = GaugeRow(replace(SIZE, missing="nose root"), "reference")
    qtbot.addWidget(missing)
    with qtbot.waitSignal(missing.missing_clicked):
        QTest.keyClick(missing, Qt.Key.Key_Return)


def test_a_weight_bar_by_hand_and_keys(qapp: Any, qtbot: Any) -> None:
    bar = WeightBar("Eyes", "Eyes")
    qtbot.addWidget(bar)
    bar.resize(PANEL, bar.height())
    bar.set_value(0.4)
    got: list[float] = []
    bar.moved.connect(lambda name, v: got.append(v))
    QTest.keyClick(bar, Qt.Key.Key_Right)
    QTest.keyClick(bar, Qt.Key.Key_Left)
    assert got == pytest.approx([0.45, 0.35])
    w = bar.wedge()
    drag(bar, w.center(), QPointF(w.right() + 300, w.center().y()))
    assert got[-1] == 1.0 and bar.accessibleName() == "Eyes, 40 percent"


def test_a_list_keeps_its_rows_and_finds_them(qapp: Any, qtbot: Any) -> None:
    lists = GaugeList("reference")
    qtbot.addWidget(lists)
    lists.resize(PANEL, 500)
    lists.show()
    items = [replace(SIZE, reference=0.24), replace(STATION, reference=0.85), replace(SIGNED, reference=1.2)]
    lists.set_items(items)
    first = lists.rows["nose_length_hh"]
    lists.set_items([replace(items[0], reference=0.30), *items[1:]])
    assert lists.rows["nose_length_hh"] is first and first.item.reference == 0.30
    assert lists.heads["Nose"].note == "1 unusual" and lists.heads["Mouth"].note == "1 unusual" and lists.heads["Eyes"].note == ""
    lists.heads["Nose"].folded.emit("Nose")
    assert first.isHidden() and lists.heads["Nose"].note.startswith("1 readings")
    lists.heads["Nose"].folded.emit("Nose")
    assert not first.isHidden()
    lists.light({"mouth_station"})
    assert lists.rows["mouth_station"].lit and not first.lit
    lists.set_items(items[:1])
    assert lists.rows["mouth_station"].isHidden()
    lists.filter.setText("nothing like it")
    assert first.isHidden()
    QTest.mouseClick(lists.heads["Nose"], Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(20, 10))


def test_the_check_tells_an_amount_once() -> None:
    level = replace(SIGNED, norm=0.0, sd=0.01, low="right low", high="left low", plan=0.0, drawing=0.031, tolerance=0.012)
    assert told(level, "check").word == "left low" and told(level, "check").value.endswith("0.031")
    assert told(replace(level, drawing=0.004), "check").word == "agrees"
    off = replace(STATION, plan=0.811, drawing=0.851, tolerance=0.02)
    assert told(off, "check").word == "0.040 low" and told(replace(off, meant=True), "check").word == "meant"
