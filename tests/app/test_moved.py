"""The reference's picture moved to its plan: shown behind a wipe, following the plan, saved at full size."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPointF
from PySide6.QtWidgets import QFileDialog

from orthomet.core.landmarks.schema import FRONT
from orthomet.core.project.edits import decide

from .conftest import drag, pick, pixels


@pytest.fixture
def plan(demo: Any, qtbot: Any) -> Any:
    demo.desk.go_named("Plan")
    demo.desk.flush()
    s = demo.desk.station
    qtbot.waitUntil(lambda: s.board.image is not None, timeout=8000)
    return s


def test_a_wipe_goes_from_the_picture_as_it_is_to_the_plan(demo: Any, plan: Any) -> None:
    board = plan.board
    before = pixels(board)
    plan.see_moved.click()
    half = pixels(board)
    assert half != before
    x, y = board.moved.wipe_x(board.panes()[0]), board.height() / 2
    drag(board, QPointF(x, y), QPointF(x + 90, y))
    assert board.moved.wipe > 0.7 and pixels(board) not in (before, half)
    drag(board, QPointF(board.moved.wipe_x(board.panes()[0]), y), QPointF(9999, y))
    assert board.moved.wipe == 1.0
    board.moved.wipe = 0.0
    whole = pixels(board)
    c = demo.desk.document.character
    demo.desk.document.do("Style", decide(c.id, style_weight=1.0, group_weights={}))
    demo.desk.flush()
    assert pixels(board) != whole  # it follows the plan
    plan.see_moved.click()
    assert not board.moved.on and not demo.desk.document.character.decisions.offsets


def test_what_the_plan_keeps_stays_and_what_it_moves_is_moved(plan: Any) -> None:
    board = plan.board
    plan.see_moved.click()
    places = board.planned_places()
    marks = board.reference.marks.points
    for name in ("vertex", "gnathion"):
        np.testing.assert_allclose(places[FRONT.index[name]], marks[name], atol=1.0)
    eye = FRONT.index["exocanthion_l"]
    assert np.linalg.norm(places[eye] - marks["exocanthion_l"]) > 5
    frame = board.reference_frame()
    image, factor = board.moved.at_plan(board.image, board.reference, places, abs(frame.m11()))
    pupil = places[FRONT.index["pupil_l"]] / factor
    tone = image.pixelColor(round(pupil[0]), round(pupil[1])).lightness()
    assert tone < 90  # the painted pupil lies where the plan has it


def test_the_moved_picture_is_saved_at_full_size(
    demo: Any, plan: Any, qtbot: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    for name in ("m.png", "m.jpg"):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, name=name: (str(tmp_path / name), ""))
        pick(demo, "Save the moved picture…")
        qtbot.waitUntil(lambda name=name: (tmp_path / name).exists(), timeout=15000)
        qtbot.waitUntil(lambda: not demo.desk.work.active, timeout=5000)
        assert Image.open(tmp_path / name).size == plan.board.reference.image.size
    assert "Written" in demo.ledge.sentence and sorted(f.name for f in tmp_path.iterdir()) == ["m.jpg", "m.png"]
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("/nowhere/m.png", ""))
    pick(demo, "Save the moved picture…")
    qtbot.waitUntil(lambda: demo.ledge.bad, timeout=15000)
    demo.desk.document.choose_character("klinker")
    demo.desk.flush()
    pick(demo, "Save the moved picture…")
    assert demo.ledge.bad and "crown and chin" in demo.ledge.sentence
    assert pixels(plan.board)
