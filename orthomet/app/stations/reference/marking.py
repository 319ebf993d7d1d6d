"""Edits of a reference's landmarks."""

from __future__ import annotations

from ....core.landmarks.points import State
from ....core.project.edits import change_reference
from ....core.project.model import Marks, Project
from ...stage.marks import MarksEdit


def with_own(old: Marks, points: dict[str, tuple[float, float]]) -> dict[str, tuple[float, float]]:
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
