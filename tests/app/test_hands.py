"""Wheel, middle button, page and board under the hand; files dropped on the window; text files of strangers."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
from PySide6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PySide6.QtGui import QDragEnterEvent, QDropEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QWidget

from orthomet.core.datafiles import read_text
from orthomet.core.errors import FormatError
from orthomet.core.landmarks.files import landmarks_to_text
from orthomet.core.project.store import write
from orthomet.demo.project import demo_project
from tests.faces import marks_of


def wheel(w: QWidget, at: QPointF, steps: int) -> None:
    e = QWheelEvent(
        at,
        w.mapToGlobal(at),
        QPoint(),
        QPoint(0, 120 * steps),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(w, e)


def drop_on(window: Any, *paths: str) -> bool:
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(p) for p in paths])
    enter = QDragEnterEvent(
        QPoint(400, 300), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    window.dragEnterEvent(enter)
    e = QDropEvent(QPointF(400, 300), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    window.dropEvent(e)
    return enter.isAccepted()


def test_the_wheel_zooms_at_the_pointer_everywhere(demo: Any) -> None:
    stage = demo.desk.stations.named("Reference").stage
    q = QPointF(300, 200)
    xy, scale = stage.to_picture(q), stage.scale
    wheel(stage, q, 2)
    assert stage.scale == pytest.approx(scale * 1.44) and stage.to_picture(q) == pytest.approx(xy)
    demo.desk.go_named("Plan")
    QTest.qWait(20)
    board = demo.desk.station.board
    q = board.at(board.panes()[1], 0.1, 0.4)
    head = board.head_px()
    wheel(board, q, 1)
    after = board.at(board.panes()[1], 0.1, 0.4)
    assert board.head_px() == pytest.approx(1.2 * head) and (after - q).manhattanLength() < 0.01
    demo.desk.go_named("Head")
    QTest.qWait(20)
    head_stage = demo.desk.station.stage
    q = QPointF(210, 120)
    on_head = (q - head_stage.origin()) / head_stage.head_px()
    wheel(head_stage, q, 2)
    wheel(head_stage, q, -1)
    assert (head_stage.origin() + on_head * head_stage.head_px() - q).manhattanLength() < 0.01 and head_stage.zoomed > 1
    demo.desk.go_named("Sheet")
    QTest.qWait(20)
    view = demo.desk.station.view
    r, k = view.place()
    q = r.center() + QPointF(40, 30)
    on_page = (q - r.topLeft()) / k
    wheel(view, q, 3)
    r, bigger = view.place()
    assert bigger == pytest.approx(k * 1.2**3) and ((r.topLeft() + on_page * bigger) - q).manhattanLength() < 0.01
    QTest.mousePress(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(200, 200))
    QTest.mouseMove(view, QPoint(230, 190))
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, QPoint(230, 190))
    moved, _ = view.place()
    assert (moved.topLeft() - r.topLeft() - QPointF(30, -10)).manhattanLength() < 0.01
    QTest.keyClick(view, Qt.Key.Key_F)
    assert view.place()[1] == pytest.approx(k)


def test_the_middle_button_pans(demo: Any) -> None:
    stage = demo.desk.stations.named("Reference").stage
    at = QPointF(stage.offset)
    QTest.mousePress(stage, Qt.MouseButton.MiddleButton, Qt.KeyboardModifier.NoModifier, QPoint(300, 300))
    QTest.mouseMove(stage, QPoint(320, 340))
    QTest.mouseRelease(stage, Qt.MouseButton.MiddleButton, Qt.KeyboardModifier.NoModifier, QPoint(320, 340))
    assert stage.offset - at == QPointF(20, 40) and demo.desk.document.undo_label == ""
    demo.desk.go_named("Plan")
    board = demo.desk.station.board
    QTest.mousePress(board, Qt.MouseButton.MiddleButton, Qt.KeyboardModifier.NoModifier, QPoint(300, 300))
    QTest.mouseMove(board, QPoint(310, 305))
    QTest.mouseRelease(board, Qt.MouseButton.MiddleButton, Qt.KeyboardModifier.NoModifier, QPoint(310, 305))
    assert board.shift == QPointF(10, 5)


def test_projects_and_landmark_files_can_be_dropped(window: Any, tmp_path: Path) -> None:
    face = tmp_path / "face.json"
    face.write_text(landmarks_to_text(marks_of()))
    assert drop_on(window, str(face))
    assert "add the reference first" in window.ledge.sentence
    project = tmp_path / "ferry.orthomet"
    write(project, demo_project())
    assert drop_on(window, str(project))
    window.desk.filing.wait()
    assert window.desk.document.project.title == "The Night Ferry at Quillmere"
    before = window.desk.document.project
    assert drop_on(window, str(face))
    assert window.desk.document.character.reference.marks.points == dict(marks_of().points)
    window.desk.document.undo()
    assert window.desk.document.project is before


def test_nothing_that_can_be_used_is_said(window: Any) -> None:
    mime = QMimeData()
    mime.setText("just words")
    e = QDropEvent(QPointF(1, 1), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    window.dropEvent(e)
    assert "can be dropped here" in window.ledge.sentence


def test_text_files_of_strangers_are_bounded(tmp_path: Path) -> None:
    path = tmp_path / "a.json"
    path.write_text("x" * 100)
    assert read_text(path, 100, "a style") == "x" * 100
    with pytest.raises(FormatError, match="too large to be a style"):
        read_text(path, 99, "a style")
    path.write_bytes(b"\xff\xfe\x80")
    with pytest.raises(FormatError, match="not a text file"):
        read_text(path, 99, "a style")
    with pytest.raises(FormatError, match="cannot be read"):
        read_text(tmp_path, 10**9, "a style")
    with pytest.raises(FormatError, match="cannot be read"):
        read_text(tmp_path / "gone", 9, "a style")
