"""Work kept against a crash: how soon, against which file, and nothing where nothing is unsaved."""

from __future__ import annotations

import json
import os
import time
from pathlib import Path

import pytest

from orthomet.core.project.compare import differences, in_one_line
from orthomet.core.project.edits import rename_project, set_character
from orthomet.core.project.journal import Journal, Origin, against_file, recoverable
from orthomet.core.project.keeper import Keeper, Work
from orthomet.core.project.model import Project
from orthomet.core.project.store import Stored, read, write

from .test_project import stored


def keeper(tmp_path: Path) -> Keeper:
    return Keeper(Journal(tmp_path / "journal"), lambda words: None)


def died(j: Journal) -> None:
    state = json.loads((j.folder / "state.json").read_text())
    (j.folder / "state.json").write_text(json.dumps({**state, "started": "gone"}))


def kept_title(k: Keeper) -> str:
    path = k.journal.folder / "project.json"
    return json.loads(path.read_text())["title"] if path.exists() else ""


def test_steady_edits_do_not_starve_the_journal(tmp_path: Path) -> None:
    k, s = keeper(tmp_path), stored()
    start, newest = time.monotonic(), 0
    lags = []
    while time.monotonic() - start < 3.2:
        newest += 1
        k.offer(Work(rename_project(f"{newest}")(s.project), s.pictures, Origin(), s.project))
        time.sleep(0.02)
        if time.monotonic() - start > 1.6:
            lags.append(newest - int(kept_title(k) or 0))
    k.close()
    assert max(lags) * 0.02 < 2.0 and not k.journal.folder.exists()


def test_flush_waits_and_a_tree_like_the_saved_one_leaves_nothing(tmp_path: Path) -> None:
    k, s = keeper(tmp_path), stored()
    changed = rename_project("Changed")(s.project)
    k.offer(Work(changed, s.pictures, Origin("/x"), s.project))
    k.flush()
    assert kept_title(k) == "Changed"
    k.offer(Work(s.project, s.pictures, Origin("/x"), s.project))  # undone to what is on disk
    k.flush()
    assert not k.journal.folder.exists()
    k.close()


def test_a_journal_that_cannot_be_written_is_told(tmp_path: Path) -> None:
    (tmp_path / "journal").write_text("a file where a folder should be")
    told: list[str] = []
    k = Keeper(Journal(tmp_path / "journal"), told.append)
    k.offer(Work(rename_project("X")(stored().project), {}, Origin(), Project()))
    k.flush()
    k.close()
    assert told and "Save often" in told[0]


@pytest.mark.parametrize("later", ["nothing", "saved again", "the same work", "gone", "damaged", "touched"])
def test_kept_work_is_held_against_its_file(tmp_path: Path, later: str) -> None:
    path, s = tmp_path / "a.orthomet", stored()
    digest = write(path, s)
    kept = Stored(set_character("c", name="Edited")(s.project), s.pictures)
    j = Journal(tmp_path / "journal")
    j.record(kept.project, kept.pictures, Origin(str(path), None, digest))
    died(j)
    time.sleep(0.02)
    if later == "saved again":
        write(path, Stored(rename_project("Newer")(s.project), s.pictures))
    elif later == "the same work":
        write(path, kept)
    elif later == "gone":
        path.unlink()
    elif later == "damaged":
        path.write_bytes(b"no zip")
    elif later == "touched":
        os.utime(path)
    (found,) = recoverable(tmp_path / "journal")
    held = against_file(found)
    assert held.file_changed is (later in ("saved again", "damaged"))
    if later == "saved again":
        assert held.newer is not None and held.newer.project.title == "Newer" and held.newer_when > 0
        told = differences(held.newer.project, kept.project)
        assert told == ("the title is “Fähre”", "Edited: name")
    assert found.stored.project == kept.project


def test_an_older_versions_journal_goes_by_the_clock(tmp_path: Path) -> None:
    path, s = tmp_path / "a.orthomet", stored()
    write(path, s)
    j = Journal(tmp_path / "journal")
    j.record(rename_project("Kept")(s.project), s.pictures, str(path))
    died(j)
    (found,) = recoverable(tmp_path / "journal")
    assert not against_file(found).file_changed
    os.utime(path, (time.time() + 60, time.time() + 60))
    assert against_file(found).file_changed and read(path).project == s.project


def test_what_differs_is_told_in_few_words() -> None:
    s = stored().project
    assert differences(s, s) == ()
    gone = s.model_copy(update={"characters": ()})
    assert differences(s, gone) == ("Ösk “the” Tall is gone",) and differences(gone, s) == ("Ösk “the” Tall is new",)
    assert in_one_line(tuple("abcde")) == "a; b; c and 2 more"
