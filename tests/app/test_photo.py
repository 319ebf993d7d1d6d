"""A photograph this project did not make, from the points found on it to a dressed head and its versions.

The picture is scikit-image's own sample (public domain); nothing of it is kept.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from PySide6.QtWidgets import QFileDialog

from orthomet.core.auto import auto_landmarks
from orthomet.core.imaging.faces import available
from orthomet.core.landmarks.points import State
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn
from orthomet.core.project.edits import change_reference, set_states
from orthomet.core.project.store import read
from tests.saving import save

from .conftest import pick, pixels

data = pytest.importorskip("skimage.data")
pytestmark = pytest.mark.skipif(not available(), reason="the networks that find a face are not installed")


@pytest.fixture(scope="module")
def photo(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("photo") / "sitter.png"
    Image.fromarray(data.astronaut()).save(path)
    return path


@pytest.fixture
def desk(window: Any, photo: Path, qtbot: Any) -> Any:
    """The photograph dropped into an empty window, its points found and confirmed."""
    desk = window.desk
    desk.open_path(str(photo))
    qtbot.waitUntil(lambda: desk.document.character is not None and desk.document.character.reference is not None, timeout=5000)
    desk.flush()
    found = auto_landmarks(np.asarray(Image.open(photo)))
    assert abs(found.turn.yaw) < 12 and len(found.marks.points) > 50
    assert desk.station.take_landmarks(found.marks) is not None
    c = desk.document.character
    sure = set_states(c.reference.marks, list(c.reference.marks.points), State.PLACED)
    desk.document.do("Confirm", change_reference(c.id, c.reference.id, marks=sure))
    desk.flush()
    return desk


def test_a_photograph_becomes_a_plan_a_head_and_a_version(
    desk: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    d = desk.document
    plan = d.plan()
    assert plan.measured and plan.likeness.score > 60 and not set(plan.assumed) & {"eye_station", "mouth_width_fw"}
    desk.go_named("Plan")
    desk.flush()
    station = desk.station
    before = pixels(station.board)
    station.see_moved.click()
    assert pixels(station.board) != before
    station.versions.make("younger", 15, "a child of it")
    desk.flush()
    assert d.version_id and d.plan().table["eye_width_fw"] > plan.table["eye_width_fw"]
    d.choose_version("")
    desk.go_named("Head")
    desk.flush()
    head = desk.station
    head.look_from(Turn())
    body = head.body_now()
    known = np.isfinite(plan.points).all(1)
    np.testing.assert_allclose(body.front[known], plan.points[known])
    head.switch.show_page(2)
    head.features.feature_chosen.emit("hair")
    head.strip.chosen.emit("soft bob")
    head.light.on.setChecked(True)
    target = tmp_path / "sitter.ora"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(target), ""))
    with qtbot.waitSignal(head.exported, timeout=20_000):
        pick(desk.window, "Export this view…")
    assert target.stat().st_size > 5000
    assert save(d, tmp_path / "sitter.orthomet") and read(tmp_path / "sitter.orthomet").project == d.project


def test_its_own_points_stay_on_the_moved_picture(desk: Any) -> None:
    """At s = 0 and e = 1 the plan is the reference: the picture moves by next to nothing."""
    from orthomet.core.project.edits import decide

    c = desk.document.character
    desk.document.do("as it is", decide(c.id, style_weight=0.0, emphasis_all=1.0, balance=1.0))
    desk.go_named("Plan")
    desk.flush()
    board = desk.station.board
    places, marks = board.planned_places(), c.reference.marks.points
    hh = marks["gnathion"][1] - marks["vertex"][1]
    off = {
        n: np.hypot(*(places[FRONT.index[n]] - marks[n])) / hh
        for n in ("exocanthion_l", "endocanthion_r", "subnasale", "stomion")
    }
    assert max(off.values()) < 0.03, off
