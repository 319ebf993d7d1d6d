"""The document: previews, one step per drag, refusals, derived values kept while their source is the same."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from orthomet.app.document import Document, recent_files, remember_recent
from orthomet.core.landmarks.points import State
from orthomet.core.project.edits import (
    add_character,
    change_reference,
    decide,
    place,
    rename_project,
    set_character,
    set_emphasis,
    set_offset,
)
from orthomet.core.project.model import Character
from orthomet.core.project.store import Stored
from orthomet.core.resolve import with_known_names
from orthomet.demo.project import demo_project
from tests.saving import save


@pytest.fixture
def doc(qapp: Any) -> Document:
    d = Document(keep_journal=False)
    d.open_stored(demo_project(), None)
    return d


def test_a_drag_is_previews_of_one_start_and_one_step(doc: Document, qtbot: Any) -> None:
    start = doc.project
    doc.begin("Drag")
    for k in range(5):
        doc.preview(set_character("berta", role=f"pilot {k}"))
    assert doc.dragging and doc.character is not None and doc.character.role == "pilot 4" and doc.undo_label == ""
    doc.commit()
    assert doc.undo_label == "Drag"
    doc.undo()
    assert doc.project is start and doc.redo_label == "Drag"
    doc.redo()
    assert doc.character is not None and doc.character.role == "pilot 4"


def test_a_drag_that_comes_back_leaves_no_step(doc: Document) -> None:
    doc.begin("Drag")
    doc.preview(rename_project("x"))
    doc.preview(lambda p: p)
    doc.cancel()
    assert doc.undo_label == "" and not doc.dirty
    doc.begin("Nothing")
    doc.commit()
    assert doc.undo_label == ""


def test_what_the_model_refuses_changes_nothing_and_is_said(doc: Document, qtbot: Any) -> None:
    before, said = doc.project, []
    doc.trouble.connect(said.append)
    assert not doc.do("Too tall", set_character("berta", height_m=900))
    assert not doc.do("Twice", add_character(Character(id="berta", name="again")))
    assert not doc.do("Too much", set_emphasis("berta", "nose_length_hh", 99))
    assert doc.project is before and len(said) == 3 and all(s.startswith("That is not possible") for s in said)
    assert "two characters share one id" in said[1]
    doc.begin("Drag")
    doc.preview(set_character("berta", height_m=-1))
    assert doc.project is before
    doc.commit()


def test_a_new_step_forgets_what_was_undone(doc: Document) -> None:
    doc.do("A", rename_project("A"))
    doc.undo()
    doc.do("B", rename_project("B"))
    assert doc.redo_label == "" and doc.undo_label == "B"
    assert not doc.do("Same", rename_project("B"))


def test_derived_values_are_kept_until_their_source_changes(doc: Document) -> None:
    measured, plan, check = doc.measured(), doc.plan(), doc.check()
    doc.do("Rename", rename_project("New"))
    doc.do("Role", set_character("berta", role="captain"))
    assert doc.measured() is measured and doc.plan() is plan and doc.check() is check
    doc.do("Style", decide("berta", style_weight=0.9))
    assert doc.measured() is measured and doc.plan() is not plan and doc.check() is not check
    ref = doc.character.reference  # type: ignore[union-attr]
    doc.do("Move", change_reference("berta", ref.id, marks=place(ref.marks, {"stomion": (750.0, 960.0)})))
    assert doc.measured() is not measured
    doc.choose_character("klinker")
    assert doc.drawing is None and doc.check() == "There is no drawing yet."
    doc.choose_character("nobody")
    assert doc.character is not None and doc.character.id == "berta"


def test_an_unmeasurable_face_leaves_the_plan_at_the_centre(doc: Document) -> None:
    ref = doc.character.reference  # type: ignore[union-attr]
    doc.do("Upside down", change_reference("berta", ref.id, marks=place(ref.marks, {"gnathion": (750.0, 5.0)})))
    assert "above the crown" in doc.landmark_problem()
    assert doc.measured().table == {} and len(doc.plan().assumed) == len(doc.plan().space.keys)


def test_crown_confirmed_under_hair_widens_what_rests_on_it(doc: Document) -> None:
    doc.choose_character("lorn")
    m = doc.measured()
    assert m.noise[m.registry.index["mouth_station"]] > 0.001 and m.sure("mouth_station")
    assert m.state("jaw_width_fw") is State.ESTIMATED and not m.sure("jaw_width_fw")
    ref = doc.character.reference  # type: ignore[union-attr]
    assert "vertex" not in place(ref.marks, {"vertex": (750.0, 190.0)}).spread  # placed by hand: no longer uncertain


def test_recent_files_are_few_and_there(qapp: Any, tmp_path: Path) -> None:
    paths = [tmp_path / f"{k}.orthomet" for k in range(12)]
    for p in paths:
        p.write_text("x")
        remember_recent(p)
    assert recent_files()[0] == str(paths[-1]) and len(recent_files()) == 8
    paths[-1].unlink()
    assert str(paths[-1]) not in recent_files()


def test_saving_adds_the_ending_and_needs_a_place(doc: Document, tmp_path: Path) -> None:
    assert not save(doc)
    assert save(doc, tmp_path / "named") and doc.path == tmp_path / "named.orthomet"
    said: list[str] = []
    doc.trouble.connect(said.append)
    doc.do("A", rename_project("A"))
    assert not save(doc, tmp_path / "no" / "such" / "folder") and "could not be saved" in said[-1] and doc.dirty
    doc.open_stored(Stored(doc.project), None, saved=False)
    assert doc.dirty
    doc.close()


def test_a_project_from_a_richer_library_opens_with_stand_ins(qapp: Any) -> None:
    s = demo_project()
    strange = s.project.characters[0].decisions.model_copy(
        update={"style": "elsewhere", "school": "unheard-of", "school_settings": {"D": 9.0}}
    )
    p = s.project.model_copy(
        update={"characters": (s.project.characters[0].model_copy(update={"decisions": strange}), *s.project.characters[1:])}
    )
    d, said = Document(keep_journal=False), []
    d.trouble.connect(said.append)
    d.open_stored(Stored(p, s.pictures), None)
    (words,) = said  # one sentence after the other: the ledge shows what was said last
    assert "The style “elsewhere”" in words and "The school “unheard-of”" in words
    assert d.character is not None and d.character.decisions.school_settings == {} and d.plan().limits is not None
    assert d.character.decisions.emphasis == strange.emphasis and d.dirty  # what is known is kept; saving is up to the artist
    assert not d.do("Wild", set_offset("berta", "mouth_station", 1e9))
    plain, told = with_known_names(s.project)
    assert plain == s.project and told == ()


def test_only_so_many_steps_are_kept(qapp: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    """The latest can be undone, the oldest trees are let go."""
    monkeypatch.setattr("orthomet.core.project.history.UNDO_MOST", 5)
    d = Document(keep_journal=False)
    for k in range(12):
        d.do(f"Title {k}", rename_project(f"Title {k}"))
    steps = 0
    while d.undo_label:
        d.undo()
        steps += 1
    assert steps == 5 and d.project.title == "Title 6"


def test_what_follows_depends_on_what_it_takes_and_on_nothing_else(doc: Document) -> None:
    """Names, pictures of others, words: the plan stays the very object it was. A norm over the cast follows the cast."""
    plan, norm, seen = doc.plan(), doc.norm(), doc.seen()
    doc.do("x", set_character("berta", name="Berta S.", idea="sly", needs="sits"))
    doc.do("x", set_character("lorn", age=40.0))
    doc.do("x", rename_project("Other"))
    assert doc.plan() is plan and doc.norm() is norm and doc.seen() is seen
    doc.do("x", decide("berta", norm="cast"))
    of_cast = doc.norm()
    assert of_cast is not norm
    ref = doc.project.character("lorn").face
    moved = {n: (x * 1.1, y) for n, (x, y) in ref.marks.points.items()}
    doc.do("x", change_reference("lorn", ref.id, marks=ref.marks.model_copy(update={"points": moved})))
    assert doc.norm() is not of_cast and doc.norm().mean.tolist() != of_cast.mean.tolist()
