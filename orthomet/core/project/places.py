"""Where a marked picture lies in the project: found again, and changed, by the same few words whatever it is.

A new kind of marked picture (a figure, a shape, a photographed page) is one more place here.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Protocol

from ..landmarks.level import LevelBy
from ..landmarks.mirror import mirrored
from ..landmarks.own import OwnSpan
from ..landmarks.points import Landmarks, State
from ..landmarks.turn import Turn
from ..landmarks.views import OWN
from .edits import Edit, change_drawing, change_reference, change_sample, marks_of, place, take_landmarks
from .model import Drawing, Marks, Project, Reference

Held = Reference | Drawing
MarksEdit = Callable[[Marks], Marks]


class Place(Protocol):
    """What a station needs to know of what it marks."""

    @property
    def undoes_turn(self) -> bool:
        """Whether a turn of the head is kept with it, and undone before it is measured."""
        ...

    def held(self, p: Project) -> Held | None:
        """What lies there now."""
        ...

    def change(self, **fields: Any) -> Edit:
        """Set fields of it."""
        ...

    def take(self, found: Landmarks) -> Edit:
        """Landmarks from a file for it."""
        ...

    def spans(self, p: Project) -> tuple[OwnSpan, ...]:
        """The artist's own spans that may be marked on it."""
        ...


def _spans(p: Project, cid: str) -> tuple[OwnSpan, ...]:
    c = p.character(cid)
    return c.spans if c is not None else ()


@dataclass(frozen=True)
class ReferencePlace:
    character: str
    reference: str
    undoes_turn: bool = True

    def held(self, p: Project) -> Reference | None:
        c = p.character(self.character)
        return next((r for r in c.references if r.id == self.reference), None) if c is not None else None

    def change(self, **fields: Any) -> Edit:
        return change_reference(self.character, self.reference, **fields)

    def take(self, found: Landmarks) -> Edit:
        return take_landmarks(self.character, self.reference, found)

    def spans(self, p: Project) -> tuple[OwnSpan, ...]:
        return _spans(p, self.character)


@dataclass(frozen=True)
class DrawingPlace:
    character: str
    drawing: str
    undoes_turn: bool = False

    def held(self, p: Project) -> Drawing | None:
        c = p.character(self.character)
        return c.drawing(self.drawing) if c is not None else None

    def change(self, **fields: Any) -> Edit:
        return change_drawing(self.character, self.drawing, **fields)

    def take(self, found: Landmarks) -> Edit:
        return self.change(marks=marks_of(found))

    def spans(self, p: Project) -> tuple[OwnSpan, ...]:
        return _spans(p, self.character)


@dataclass(frozen=True)
class SamplePlace:
    study: str
    sample: str
    undoes_turn: bool = False

    def held(self, p: Project) -> Drawing | None:
        study = next((s for s in p.studies if s.id == self.study), None)
        return next((d for d in study.samples if d.id == self.sample), None) if study is not None else None

    def change(self, **fields: Any) -> Edit:
        return change_sample(self.study, self.sample, **fields)

    def take(self, found: Landmarks) -> Edit:
        return self.change(marks=marks_of(found))

    def spans(self, p: Project) -> tuple[OwnSpan, ...]:
        return ()


def edit_marks(at: Place, change: MarksEdit) -> Edit:
    """Change the landmarks of what lies at a place; nothing where nothing lies there any more."""

    def edit(p: Project) -> Project:
        held = at.held(p)
        return at.change(marks=change(held.marks))(p) if held is not None else p

    return edit


def lay_found(at: Place, found: Landmarks, turn: Turn | None) -> Edit:
    """Points a network found, the artist's own ones kept; the head's turn with them where it is undone."""

    def edit(p: Project) -> Project:
        held = at.held(p)
        if held is None:
            return p
        marks = marks_of(found)
        marks = marks.model_copy(update={"points": with_own(held.marks, marks.points)})
        return at.change(marks=marks, **({"turn": turn} if at.undoes_turn else {}))(p)

    return edit


def with_own(old: Marks, points: dict[str, tuple[float, float]]) -> dict[str, tuple[float, float]]:
    """New points, the artist's own ones kept."""
    return {**{n: xy for n, xy in old.points.items() if OWN.fullmatch(n)}, **points}


def mirror_sure(marks: Marks, by: LevelBy = LevelBy.CENTRE) -> Marks:
    """The sure side seen in the midline becomes the other's estimate, to be confirmed or moved."""
    found = mirrored(marks.landmarks(), by)
    return place(marks, found, State.ESTIMATED) if found else marks
