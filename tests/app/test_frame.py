"""Shelf, rail, ledge and the small painted parts, by hand and by keys."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest

from orthomet.app.ledge import Ledge
from orthomet.app.rail import Rail
from orthomet.core.project.edits import add_character, set_character
from orthomet.core.project.model import Character

from .conftest import pixels


def click(w: Any, p: QPointF) -> None:
    QTest.mouseClick(w, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, p.toPoint())


def test_the_cast_is_chosen_by_hand_and_keys(demo: Any, qtbot: Any) -> None:
    strip, d = demo.shelf.cast, demo.desk.document
    pixels(strip)
    place = {cid: r.center() for r, cid in strip.places}
    assert list(place) == ["berta", "lorn", "wick", "klinker", "+"]
    click(strip, place["klinker"])
    assert d.character.id == "klinker"
    demo.desk.flush()
    QTest.keyClick(strip, Qt.Key.Key_Right)
    assert d.character.id == "berta"
    wanted: list[str] = []
    strip.add_wanted.disconnect()
    strip.rename_wanted.disconnect()
    strip.add_wanted.connect(lambda: wanted.append("+"))
    strip.rename_wanted.connect(wanted.append)
    click(strip, place["+"])
    demo.desk.flush()
    QTest.mouseDClick(strip, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, place["berta"].toPoint())
    assert wanted == ["+", "berta"]


def test_silhouettes_keep_their_relative_heights_and_many_do_not_spill(demo: Any) -> None:
    d, strip = demo.desk.document, demo.shelf.cast
    before = pixels(strip)
    d.do("Grow", set_character("wick", height_m=4.0))
    demo.desk.flush()
    assert pixels(strip) != before
    for k in range(12):
        d.do("Add", add_character(Character(id=f"x{k}", name=f"Passenger number {k}")))
    demo.desk.flush()
    pixels(strip)
    assert len(strip.places) < 16 and all(r.right() <= strip.width() for r, _ in strip.places)


def test_the_rail_goes_where_it_is_told(qapp: Any, qtbot: Any) -> None:
    rail = Rail([("One", "Alt+1"), ("Two", "Alt+2"), ("Three", "Alt+3")])
    qtbot.addWidget(rail)
    rail.resize(rail.width(), 400)
    went: list[int] = []
    rail.chosen.connect(went.append)
    click(rail, QPointF(50, 22 + 62))
    QTest.keyClick(rail, Qt.Key.Key_Up)
    click(rail, QPointF(50, 390))
    assert went == [1, 2]
    plain = pixels(rail)
    rail.set_badges({"Two": ("3", "three things")})
    badged = pixels(rail)
    rail.set_current(2)
    assert len({plain, badged, pixels(rail)}) == 3
    rail.show()
    QTest.mouseMove(rail, QPoint(20, 10))
    QTest.mouseMove(rail, QPoint(50, 22 + 62))
    QTest.qWait(20)
    assert "three things" in rail.toolTip() and "Alt+2" in rail.toolTip()


def test_the_ledge_tells_and_forgets(qapp: Any, qtbot: Any) -> None:
    ledge = Ledge()
    qtbot.addWidget(ledge)
    ledge.resize(1280, ledge.height())
    ledge.set_hint([("Drag", "a point"), ("Tab", "next")])
    hint = pixels(ledge)
    ledge.say("The chin lies above the crown.", bad=True)
    trouble = pixels(ledge)
    assert trouble != hint and ledge.accessibleDescription().startswith("The chin")
    ledge.say("Saved.", seconds=0.05)
    qtbot.waitUntil(lambda: ledge.sentence == "", timeout=2000)
    assert pixels(ledge) == hint
    ledge.say("x", bad=True)
    click(ledge, QPointF(40, 20))
    assert ledge.sentence == ""
    ledge.set_reading("Mouth line", "0.790", "usual 0.79 ± 0.02")
    assert pixels(ledge) != hint
    ledge.busy("pictures", "Opening…")
    ledge.busy("work", "Looking…")
    assert ledge.progress.isVisibleTo(ledge)
    ledge.busy("pictures", "")
    assert ledge.progress.isVisibleTo(ledge)  # somebody else is still busy
    ledge.busy("work", "")
    assert not ledge.progress.isVisibleTo(ledge)


def test_noticed_first_uncovers_adopts_and_lights(demo: Any) -> None:
    d, box = demo.desk.document, demo.desk.stations.named("Reference").panel.noticed
    d.choose_character("wick")
    demo.desk.flush()
    covered = pixels(box)
    click(box, QPointF(300, 45))
    assert box.uncovered and pixels(box) != covered
    first = box.ruler[0] if box.ruler[0] not in d.character.noticed else box.ruler[1]
    click(box, QPointF(300, 30 + 22 * box.ruler.index(first) + 8))
    assert d.character.noticed[-1] == first
    demo.desk.flush()
    QTest.mouseMove(box, QPoint(300, 30 + 22 * box.ruler.index(first) + 8))
    assert box.key_at(QPointF(300, 30 + 22 * box.ruler.index(first) + 8)) == first
    box.edit_row(0)
    box.entry.setText("")
    QTest.keyClick(box.entry, Qt.Key.Key_Return)
    assert d.character.noticed == (first,)


def test_verdict_paints_what_the_plan_says(demo: Any) -> None:
    demo.desk.go_named("Plan")
    QTest.qWait(20)
    verdict, d = demo.desk.station.verdict, demo.desk.document
    assert verdict.accessibleName().startswith(f"Likeness {d.plan().likeness.score:.0f}, style {d.plan().style:.0f}")
    now = pixels(verdict)
    box = demo.desk.station.style_box
    box.activated.emit(box.findData("measured-adult"))
    demo.desk.flush()
    assert "n/a" in verdict.accessibleName() and pixels(verdict) != now
    d.undo()
    demo.desk.flush()
    assert pixels(verdict) == now


DUMMY = """
from PySide6.QtWidgets import QLabel
from orthomet.app.stations.base import Panel, Station

class DummyStation(Station):
    name = "Dummy"

    def __init__(self, document, images, parent=None):
        super().__init__(document, images, parent)
        self.stage = QLabel("")
        self.build(self.stage, Panel("Nothing"))
        self._actions = [self.action("Do nothing", "Ctrl+Alt+N", self.refresh)]

    def refresh(self):
        c = self.document.character
        self.stage.setText(c.name if c else "nobody")

    def actions_here(self):
        return self._actions
"""


def test_a_station_is_one_folder_and_one_row(qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A dummy plugged in: on the rail, by its keys, with its menu, and standing still while what it needs is missing."""
    from orthomet.app import stations
    from orthomet.app.shell import Window
    from orthomet.app.stations import table

    (tmp_path / "dummy").mkdir()
    (tmp_path / "dummy" / "__init__.py").write_text(DUMMY)
    monkeypatch.setattr(stations, "__path__", [*stations.__path__, str(tmp_path)])
    row = table.Entry("Dummy", "Alt+9", "dummy", "DummyStation", "character")
    for where in ("orthomet.app.stations.table", "orthomet.app.shell", "orthomet.app.desk"):
        monkeypatch.setattr(f"{where}.TABLE", (*table.TABLE, row))
    w = Window()
    desk = w.furnish(keep_journal=False)
    w.show()
    qtbot.waitExposed(w)
    place = QPoint(50, 22 + 62 * len(table.TABLE))
    QTest.mouseClick(w.rail, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, place)
    station = desk.station
    assert (
        station.name == "Dummy" and w.rail.names[-1] == "Dummy" and station.stage.text() == "nobody" and not station.isEnabled()
    )
    desk.open_demo()
    desk.flush()
    assert station.stage.text() == desk.document.character.name and station.isEnabled()
    assert [a.text() for a in w.menus.stage.actions()] == ["Do nothing"]
    desk.go_named("Reference")
    assert next(a for a in w.actions() if a.text() == "Dummy").shortcut().toString() == "Alt+9"
    monkeypatch.setattr(desk, "may_leave", lambda: True)
    w.close()
    w.deleteLater()
