"""Hair at the Head station by hand: its decisions, handles on the drawing, the scrolling strip, pens, colours, plain lines."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QFileDialog

from orthomet.app.stations.head.station import FEATURES, LIGHT
from orthomet.core.features.pens import USUAL_PENS
from orthomet.core.features.table import feature
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Ink
from orthomet.core.project.edits import set_character
from orthomet.core.project.store import read
from tests.saving import save

from .conftest import at, drag, pick, pixels
from .test_head_pages import page, slide

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def station(demo: Any) -> Any:
    demo.desk.document.choose_character("wick")
    demo.desk.go_named("Head")
    demo.desk.flush()
    page(demo, demo.desk.station, FEATURES)
    demo.desk.station.features.feature_chosen.emit("hair")
    demo.desk.flush()
    return demo.desk.station


def hair(demo: Any) -> Any:
    return demo.desk.document.character.features.of("hair")


def handle(station: Any, key: str) -> Any:
    return next(h for h in station.stage.handles if h.key == key)


def test_a_handle_is_dragged_on_the_drawing_and_is_one_undo_step(demo: Any, station: Any, tmp_path: Path) -> None:
    """The crown's lozenge up by a twentieth of a head: the lift grows by as much, the mass follows, and undo takes it all back."""
    d, stage = demo.desk.document, station.stage
    project, before = d.project, pixels(stage)
    start = stage.place(handle(station, "lift"))
    lift, up = hair(demo)["lift"], 0.05 * stage.head_px()
    QTest.mouseMove(stage, at(start))
    assert stage.hot == "lift" and stage.cursor().shape() == Qt.CursorShape.SizeAllCursor
    drag(stage, start, start - QPointF(0, up), steps=6)
    demo.desk.flush()
    assert hair(demo)["lift"] == pytest.approx(lift + 0.05, abs=0.004) and d.undo_label == "Lift over the crown"
    assert station.turn == Turn(yaw=35) and pixels(stage) != before  # the head was not turned
    assert handle(station, "lift").at[1] < (start - stage.origin()).y() / stage.head_px() - 0.03
    assert save(d, tmp_path / "h.orthomet") and read(tmp_path / "h.orthomet").project == d.project
    d.undo()
    demo.desk.flush()
    assert d.project == project and stage.place(handle(station, "lift")) == start


def test_lengths_follow_their_handles_at_other_turns(demo: Any, station: Any) -> None:
    for yaw, key, by in ((0.0, "fringe", -0.06), (-60.0, "sides", 0.08), (-150.0, "back", 0.10)):
        station.look_from(Turn(yaw=yaw))
        demo.desk.flush()
        h = handle(station, key)
        place, value = station.stage.place(h), hair(demo)[key]
        drag(station.stage, place, place + QPointF(0, by * station.stage.head_px()), steps=4)
        demo.desk.flush()
        assert np.sign(hair(demo)[key] - value) == np.sign(by), key


def test_only_what_matters_for_the_big_shape_is_asked(demo: Any, station: Any) -> None:
    widgets, groups = station.features.widgets, station.features.groups

    def shown() -> set[str]:
        return {k for k, w in widgets.items() if not w.isHidden()}

    assert {"fringe", "clumps"} <= shown() and not {"curl", "tie", "high"} & shown() and groups["Tied"].isHidden()
    widgets["kind"].box.setCurrentIndex(3)
    widgets["kind"].box.activated.emit(3)
    demo.desk.flush()
    assert hair(demo)["kind"] == 3 and {"tie", "high", "back"} <= shown() and not {"fringe", "curl"} & shown()
    assert not groups["Tied"].isHidden() and groups["Ends"].isHidden()
    assert {h.key for h in station.stage.handles} >= {"high", "lift"} and "fringe" not in {h.key for h in station.stage.handles}
    demo.desk.document.undo()
    demo.desk.flush()
    assert hair(demo)["kind"] == 1 and "fringe" in shown()


def test_hair_is_made_elsewhere_while_a_dial_is_held(demo: Any, station: Any, qtbot: Any) -> None:
    """Every frame shows hair made before; the newest wish comes, and when the hand lets go the drawing is exact."""
    d = demo.desk.document
    dial = station.features.widgets["volume"]
    dial.began.emit()
    for v in (0.05, 0.06, 0.12):
        dial.moved.emit(v)
        demo.desk.flush()
    assert d.dragging and station._body_shown().hair.style.volume != 0.12
    qtbot.waitUntil(lambda: station.barber.latest is not None and not station.barber.work.active, timeout=20_000)
    demo.desk.flush()
    assert station._body_shown().hair.style.volume == pytest.approx(0.12)
    dial.settled.emit()
    demo.desk.flush()
    assert station.body_now().hair.style.volume == pytest.approx(0.12) and d.undo_label == "Volume at the sides"
    d.undo()
    assert hair(demo)["volume"] == pytest.approx(0.08)


def test_the_strip_scrolls_to_every_style_on_this_head(demo: Any, station: Any, qtbot: Any) -> None:
    strip = station.strip
    assert [t.words for t in strip.tiles] == [v.name for v in feature("hair").variants]
    last = len(strip.tiles) - 1
    assert strip.tile(last).left() > strip.width()
    middle = QPointF(strip.width() / 2, 40)
    for _ in range(30):
        wheel = QWheelEvent(
            middle,
            strip.mapToGlobal(middle),
            QPoint(),
            QPoint(0, -120),
            Qt.MouseButton.NoButton,
            Qt.KeyboardModifier.NoModifier,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(strip, wheel)
    assert strip.tile(last).right() <= strip.width()
    strip.setFocus()
    strip.focus = 0
    QTest.keyClick(strip, Qt.Key.Key_Right)
    assert strip.tile(1).left() >= 0  # what has the keys is seen
    qtbot.waitUntil(lambda: strip.complete, timeout=60_000)
    shown = {pixels(strip)}
    strip.scrolled = 1e9
    shown.add(pixels(strip))
    assert len(shown) == 2 and len(strip._shown) == len(strip.tiles)
    k = next(i for i, t in enumerate(strip.tiles) if t.words == "two braids")
    strip._reveal(k)
    QTest.mouseClick(strip, LEFT, Qt.KeyboardModifier.NoModifier, at(strip.tile(k).center()))
    demo.desk.flush()
    assert (
        demo.desk.document.character.features.variant_of("hair") == "two braids"
        and demo.desk.document.undo_label == "Hair, two braids"
    )


def test_pens_are_the_characters_own_and_saved(demo: Any, station: Any, tmp_path: Path) -> None:
    d = demo.desk.document
    page(demo, station, LIGHT)
    before = pixels(station.stage)
    slide(station.light.pens["outer"], 0.95)
    demo.desk.flush()
    assert d.character.pens.outer > 2.5 and d.undo_label == "Outline" and pixels(station.stage) != before
    heavy = max(float(p.widths.max()) for p in station.stage.picture.paths() if p.widths is not None)
    assert heavy == pytest.approx(d.character.pens.outer / 120, rel=0.03)
    many = sum(p.name == "strand" for p in station.stage.picture.paths())
    slide(station.light.pens["lines"], 0.0)
    demo.desk.flush()
    few = [p.name for p in station.stage.picture.paths()]
    assert few.count("strand") < many and not any(n.startswith(("sternomastoid", "ear fold")) for n in few)
    station.light.true.click()
    assert d.character.pens.true_mm and d.project.character("berta").pens == USUAL_PENS
    assert save(d, tmp_path / "p.orthomet") and read(tmp_path / "p.orthomet").project.character("wick").pens == d.character.pens
    for _ in range(3):
        d.undo()
    demo.desk.flush()
    assert d.character.pens == USUAL_PENS and pixels(station.stage) == before


def test_colours_by_part_are_a_way_of_looking(demo: Any, station: Any) -> None:
    d = demo.desk.document
    page(demo, station, LIGHT)
    paper = pixels(station.stage)
    QTest.keyClick(station.stage, Qt.Key.Key_T)
    assert station.light.colours.isChecked() and pixels(station.stage) != paper and not d.dirty
    tints = dict(station.stage.picture.tints)
    hair_of = next(s for s in d.character.swatches if s.parts == ("hair",))
    assert tints[Ink.HAIR] == hair_of.colour and tints[Ink.INSIDE] == hair_of.edge and Ink.SKIN in tints
    assert station.stage.picture.layers[0].id == "skin"
    QTest.keyClick(station.stage, Qt.Key.Key_T)
    assert pixels(station.stage) == paper
    d.do("No colours", set_character("wick", swatches=()))
    demo.desk.flush()
    assert not station.light.colours.isEnabled() and "name parts" in station.light.tone_words.text()
    QTest.keyClick(station.stage, Qt.Key.Key_T)
    assert not station.light.colours.isChecked()


def test_plain_lines_and_colours_go_to_paper(
    demo: Any, station: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def written(name: str) -> str:
        target = tmp_path / name
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
        with qtbot.waitSignal(station.exported, timeout=30_000):
            pick(demo, "Export this view…")
        return target.read_text()

    inked = written("ink.svg")
    assert 'fill-rule="nonzero"' in inked and inked.count('data-name="strand"') > 3
    station.page.plain.setChecked(True)
    plain = written("plain.svg")
    assert 'fill-rule="nonzero"' not in plain and 'data-name="hair"' not in plain and plain.count("stroke-width") > 30
    station.page.plain.setChecked(False)
    station.light.colours.setChecked(True)
    colour = next(s.colour for s in demo.desk.document.character.swatches if s.parts == ("hair",))
    assert f'fill="{colour}"' in written("colour.svg") and f'fill="{colour}"' not in inked


def test_a_drag_that_is_undone_in_the_middle_leaves_nothing_behind(demo: Any, station: Any) -> None:
    d, stage = demo.desk.document, station.stage
    project = d.project
    start = stage.place(handle(station, "volume"))
    QTest.mousePress(stage, LEFT, Qt.KeyboardModifier.NoModifier, at(start))
    QTest.mouseMove(stage, at(start + QPointF(20, 0)))
    demo.desk.flush()
    d.choose_character("lorn")  # somebody else is chosen while the handle is held
    demo.desk.flush()
    QTest.mouseMove(stage, at(start + QPointF(40, 0)))
    QTest.mouseRelease(stage, LEFT, Qt.KeyboardModifier.NoModifier, at(start + QPointF(40, 0)))
    demo.desk.flush()
    assert d.project.character("lorn") == project.character("lorn")
    while d.undo_label:
        d.undo()
    assert d.project == project


def test_what_the_side_shows_is_planned_and_the_head_is_built_so(demo: Any) -> None:
    """Berta's profile is marked: its readings stand at Plan, a dragged tip moves the chin, and the turned head follows."""
    desk, d = demo.desk, demo.desk.document
    d.choose_character("berta")
    desk.go_named("Head")
    desk.flush()
    desk.station.look_from(Turn(yaw=90))
    desk.flush()
    before = pixels(desk.station.stage)
    desk.go_named("Plan")
    desk.flush()
    station = desk.station
    rows = station.list.rows
    assert {"nose_depth_hh", "chin_out_hh", "head_depth_hh"} <= set(rows)
    front = d.plan().table
    row, was = rows["chin_out_hh"], next(p.plan for p in d.side_plans() if p.key == "chin_out_hh")
    tip = QPointF(row.x_of(was), 18)
    assert row.on_tip(tip.x(), tip.y())
    drag(row, tip, tip + QPointF(14, 0), steps=4)
    desk.flush()
    now = next(p.plan for p in d.side_plans() if p.key == "chin_out_hh")
    assert now == pytest.approx(row.value_at(tip.x() + 14), abs=0.003) and now > was + 0.004
    assert d.plan().table == front and d.undo_label == "Plan, chin forward"
    QTest.keyClick(rows["nose_depth_hh"], Qt.Key.Key_4)
    desk.flush()
    assert d.undo_label == "Emphasis, nose out"
    desk.go_named("Head")
    desk.flush()
    assert pixels(desk.station.stage) != before
    while d.undo_label:
        d.undo()
    desk.flush()
    assert pixels(desk.station.stage) == before
    d.choose_character("lorn")
    assert d.side_plans() == ()
