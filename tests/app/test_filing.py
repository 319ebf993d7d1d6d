"""Projects opened and saved while the window goes on: edits meanwhile, stops, failures, a second save."""

from __future__ import annotations

import os
import threading
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from PySide6.QtWidgets import QFileDialog, QMessageBox

from orthomet.app import filing
from orthomet.app.document import written
from orthomet.core.project.edits import rename_project
from orthomet.core.project.store import read, write
from orthomet.demo.project import demo_project
from tests.saving import save


@pytest.fixture
def gate(monkeypatch: pytest.MonkeyPatch) -> threading.Event:
    """Reading and writing wait until it is set."""
    event = threading.Event()

    def held(work: Any) -> Any:
        def run(*what: Any) -> Any:
            assert threading.current_thread() is not threading.main_thread()
            event.wait(5)
            return work(*what)

        return run

    monkeypatch.setattr(filing, "written", held(written))
    monkeypatch.setattr(filing, "read", held(read))
    return event


def test_edits_go_on_while_a_save_is_written(demo: Any, tmp_path: Path, gate: threading.Event) -> None:
    d, f, path = demo.desk.document, demo.desk.filing, tmp_path / "a.orthomet"
    d.do("Rename", rename_project("Before"))
    assert f.begin(str(path), "Saved.") and demo.ledge.progress.isVisible()
    assert not f.begin(str(path), "Saved.")  # one at a time
    d.do("Rename", rename_project("After"))
    gate.set()
    f.wait()
    assert read(path).project.title == "Before" and d.project.title == "After" and d.dirty and d.path == path
    assert not demo.ledge.progress.isVisible() and demo.ledge.sentence == "Saved."
    assert f.save()
    f.wait()
    assert read(path).project.title == "After" and not d.dirty


def test_a_save_that_fails_leaves_the_work_unsaved(demo: Any, tmp_path: Path) -> None:
    d, f = demo.desk.document, demo.desk.filing
    d.do("Rename", rename_project("Kept"))
    assert f.begin(str(tmp_path / "no" / "where.orthomet"), "Saved.")
    f.wait()
    assert "could not be saved" in demo.ledge.sentence and d.dirty and d.path is None
    assert f.begin(str(tmp_path / "here.orthomet"), "Saved.")  # and the next one is free to go
    f.wait()
    assert not d.dirty


def test_opening_can_be_stopped_and_asks_again_when_work_went_on(
    demo: Any, tmp_path: Path, gate: threading.Event, monkeypatch: pytest.MonkeyPatch
) -> None:
    d, f, path = demo.desk.document, demo.desk.filing, tmp_path / "a.orthomet"
    stored = demo_project()
    write(path, type(stored)(rename_project("Other")(stored.project), stored.pictures))
    here = d.project
    assert demo.desk.open_path(str(path))
    demo.desk.stop()
    gate.set()
    f.wait()
    assert d.project is here
    gate.clear()
    assert demo.desk.open_path(str(path))
    asked: list[bool] = []
    monkeypatch.setattr(demo.desk, "may_leave", lambda: asked.append(True) or False)
    d.do("Rename", rename_project("Meanwhile"))
    gate.set()
    f.wait()
    assert asked and d.project.title == "Meanwhile"
    monkeypatch.setattr(demo.desk, "may_leave", lambda: True)
    assert demo.desk.open_path(str(path))
    f.wait()
    assert d.project.title == "Other" and d.path == path and not d.dirty


def test_what_cannot_be_opened_is_said_and_nothing_lost(demo: Any, tmp_path: Path) -> None:
    bad = tmp_path / "bad.orthomet"
    bad.write_bytes(b"no zip")
    here = demo.desk.document.project
    assert demo.desk.open_path(str(bad))
    demo.desk.filing.wait()
    assert "bad.orthomet" in demo.ledge.sentence and demo.ledge.bad and demo.desk.document.project is here


def test_leaving_waits_for_the_save_it_asked_for(demo: Any, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    d, f, path = demo.desk.document, demo.desk.filing, tmp_path / "a.orthomet"
    monkeypatch.setattr(QMessageBox, "exec", lambda self: QMessageBox.StandardButton.Save)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(path), ""))
    d.do("Rename", rename_project("Leaving"))
    assert f.may_leave() and read(path).project.title == "Leaving"
    d.do("Rename", rename_project("Again"))
    monkeypatch.setattr(filing, "written", lambda saving: "The disk is full.")
    assert not f.may_leave() and d.dirty and demo.ledge.sentence == "The disk is full."


def test_a_picture_whose_name_is_no_letters_is_taken_and_saved(demo: Any, qtbot: Any, tmp_path: Path) -> None:
    """Its name went into the project as halves of letters, which nothing could save."""
    desk = demo.desk
    odd = tmp_path / os.fsdecode(b"Ren\xe9.png")
    Image.fromarray(np.full((300, 200, 3), 200, np.uint8)).save(odd)
    before = len(desk.document.character.references)
    desk.open_path(str(odd))
    qtbot.waitUntil(lambda: len(desk.document.character.references) == before + 1, timeout=5000)
    assert desk.document.character.references[-1].name == "Ren\ufffd"
    target = tmp_path / os.fsdecode(b"\xfe.orthomet")
    assert save(desk.document, target)
    assert read(target).project == desk.document.project
