"""The project as a value: characters with their references, decisions and drawings. Pictures live by content hash."""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, field_validator

from ..datafiles import Record
from ..landmarks.level import LevelBy
from ..landmarks.points import Landmarks, State
from ..landmarks.schema import SCHEMAS
from ..plan.decisions import Decisions

FORMAT_VERSION = 1
MAX_CHARACTERS, MAX_PICTURES_EACH = 500, 500


def _hash(v: str) -> str:
    if not re.fullmatch(r"[0-9a-f]{64}", v):
        raise ValueError("a picture is named by its SHA-256 hash")
    return v


def _finite(v: tuple[float, float]) -> tuple[float, float]:
    if max(abs(v[0]), abs(v[1])) > 1e9:
        raise ValueError("a point lies out of all bounds")
    return v


Hash = Annotated[str, AfterValidator(_hash)]
Point = Annotated[tuple[float, float], AfterValidator(_finite)]


class Marks(Record):
    """Landmarks as they are saved."""

    view: str = "front"
    points: dict[str, Point] = {}
    states: dict[str, State] = {}
    spread: dict[str, float] = {}

    @field_validator("view")
    @classmethod
    def _view(cls, v: str) -> str:
        if v not in SCHEMAS:
            raise ValueError(f"the view “{v}” is not known")
        return v

    @field_validator("points", "states", "spread")
    @classmethod
    def _known(cls, v: dict[str, object]) -> dict[str, object]:
        for name in v:
            if not any(name in s.index for s in SCHEMAS.values()):
                raise ValueError(f"“{name}” is not a landmark")
        return v

    def landmarks(self, size: tuple[int, int] | None = None) -> Landmarks:
        return Landmarks(self.view, self.points, self.states, self.spread, size)


class Image(Record):
    """A picture in the store: its hash, its ending there, its size in pixels once upright."""

    hash: Hash
    suffix: Literal["png", "jpg", "webp", "tif", "bmp", "gif"]
    size: tuple[int, int]


class Reference(Record):
    id: str
    name: str
    image: Image
    credit: str = ""
    level_by: LevelBy = LevelBy.CENTRE
    marks: Marks = Marks()


class Drawing(Record):
    id: str
    name: str
    image: Image
    marks: Marks = Marks()
    meant: tuple[str, ...] = ()
    """Readings whose difference the artist wants; never asked again."""


class Character(Record):
    id: str
    name: str
    role: str = ""
    height_m: float = Field(1.70, gt=0.05, le=30)
    age: float = Field(30, ge=0, le=150)
    references: tuple[Reference, ...] = Field((), max_length=MAX_PICTURES_EACH)
    chosen_reference: str = ""
    noticed: tuple[str, ...] = Field((), max_length=12)
    """What the artist noticed first: reading keys, or free words for what no ruler sees."""
    decisions: Decisions = Decisions()
    drawings: tuple[Drawing, ...] = Field((), max_length=MAX_PICTURES_EACH)

    @property
    def reference(self) -> Reference | None:
        """The reference that is measured."""
        for r in self.references:
            if r.id == self.chosen_reference:
                return r
        return self.references[0] if self.references else None

    def drawing(self, drawing_id: str) -> Drawing | None:
        return next((d for d in self.drawings if d.id == drawing_id), None)


class Project(Record):
    title: str = "Untitled cast"
    characters: tuple[Character, ...] = Field((), max_length=MAX_CHARACTERS)

    @field_validator("characters")
    @classmethod
    def _unique(cls, v: tuple[Character, ...]) -> tuple[Character, ...]:
        ids = [c.id for c in v]
        if len(set(ids)) != len(ids):
            raise ValueError("two characters share one id")
        return v

    def character(self, character_id: str) -> Character | None:
        return next((c for c in self.characters if c.id == character_id), None)

    def images(self) -> dict[str, Image]:
        """Every picture the project uses, by hash."""
        out: dict[str, Image] = {}
        for c in self.characters:
            for image in (*(r.image for r in c.references), *(d.image for d in c.drawings)):
                out[image.hash] = image
        return out
