"""Marking a picture, the same at every station: a stage's signals wired to edits, seeds laid, points confirmed."""

from __future__ import annotations

from collections.abc import Callable

from ...core.kinds import Array
from ...core.landmarks.points import State
from ...core.landmarks.seed import seed_from_plan
from ...core.landmarks.templates import lay
from ...core.project.edits import change_reference
from ...core.project.model import Marks, Project
from ..document import Document
from ..stage.marks import MarksEdit, MarksStage

Clicked = dict[str, tuple[float, float]]
EditMarks = Callable[[str | None, MarksEdit], None]


def follow(
    stage: MarksStage, document: Document, edit: EditMarks, lay_seeds: Callable[[Clicked], None], hint: Callable[[], object]
) -> None:
    """Turn what a hand does on the stage into the document's edits: a drag is one step, previewed as it goes."""
    stage.drag_began.connect(document.begin)
    stage.drag_moved.connect(lambda change: edit(None, change))
    stage.drag_ended.connect(document.commit)
    stage.drag_cancelled.connect(document.cancel)
    stage.edit_made.connect(edit)
    stage.anchors_clicked.connect(lay_seeds)
    stage.hint_changed.connect(lambda: hint())


def seeded(old: Marks, clicked: Clicked, front: Array) -> Marks:
    """Estimated points laid through three clicked ones; ``front`` is the template of a front face, head units."""
    if old.view == "front":
        seeds = seed_from_plan(front, clicked)
        points, states = dict(seeds.points), {**seeds.states, "vertex": State.ESTIMATED}
    else:
        points = lay(old.view, clicked)
        states = {n: State.ESTIMATED for n in points if n not in clicked}
    return Marks(view=old.view, points=with_own(old, points), states=states)


def estimated(marks: Marks) -> list[str]:
    """Points still to be confirmed."""
    return [n for n, s in marks.states.items() if s is State.ESTIMATED]


def counts_words(marks: Marks) -> str:
    """How many points are there, and how many of them are sure."""
    n, loose = len(marks.points), len(estimated(marks))
    return f"{n - loose} of {n} sure" if loose else f"{n} placed"


def with_own(old: Marks, points: Clicked) -> Clicked:
    """New points, the artist's own ones kept."""
    return {**{n: xy for n, xy in old.points.items() if n.startswith("own_")}, **points}


def without(m: Marks, name: str) -> Marks:
    states = {**m.states, name: State.ABSENT}
    points = {n: xy for n, xy in m.points.items() if n != name}
    return m.model_copy(update={"points": points, "states": states})


def edit_reference(p: Project, cid: str, rid: str, edit: MarksEdit) -> Project:
    c = p.character(cid)
    ref = next((r for r in c.references if r.id == rid), None) if c else None
    return change_reference(cid, rid, marks=edit(ref.marks))(p) if ref else p
