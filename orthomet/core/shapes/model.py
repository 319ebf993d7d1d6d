"""Shapes as values: parts with their contours and plain shapes, how they are dialled and pushed, what holds between them."""

from __future__ import annotations

from functools import cache
from importlib import resources
from typing import Annotated, Literal

import numpy as np
from pydantic import AfterValidator, Field, field_validator, model_validator

from ..datafiles import Record, parse
from ..errors import quoted
from ..kinds import Array
from .plain import KINDS, Plain, made
from .push import FURTHEST, TRAITS

MOST_PARTS, MOST_RELATIONS, MOST_POINTS = 60, 200, 2000
FAR = 1e7


def _near(v: tuple[float, float]) -> tuple[float, float]:
    if max(abs(v[0]), abs(v[1])) > FAR:
        raise ValueError("a point lies out of all bounds")
    return v


Point = Annotated[tuple[float, float], AfterValidator(_near)]


class Role(Record):
    """What a part is as a rule: its words, the shape it is read against, its usual size in heads and height to width."""

    words: str
    shape: str
    size: float | None = None
    aspect: float | None = None
    corners: bool = True
    """Whether angularity says anything of it: a head's tightest bend is its chin, whatever its corners."""
    along: bool = False
    """It is read along its own axis, however it lies: a limb, a brow."""


class Roles(Record):
    source: str
    rows: dict[str, Role]


@cache
def role_table() -> Roles:
    text = resources.files("orthomet.core.shapes.data").joinpath("roles.json").read_text(encoding="utf-8")
    return parse(Roles, text, "roles.json")


def roles() -> dict[str, Role]:
    return role_table().rows


class Shape(Record):
    """A plain shape in its place: full width across its axis and height along it, degrees clockwise, its own numbers."""

    kind: str
    x: float = Field(ge=-FAR, le=FAR)
    y: float = Field(ge=-FAR, le=FAR)
    width: float = Field(gt=0, le=FAR)
    height: float = Field(gt=0, le=FAR)
    turn: float = Field(0.0, ge=-360, le=360)
    own: tuple[float, ...] = Field((), max_length=2)

    @model_validator(mode="after")
    def _known(self) -> Shape:
        if self.kind not in KINDS:
            raise ValueError(f"{quoted(self.kind)} is no plain shape; they are {', '.join(KINDS)}")
        bounds = KINDS[self.kind].bounds
        if len(self.own) != len(bounds):
            raise ValueError(f"a {self.kind} has {len(bounds)} numbers of its own")
        for v, (low, high) in zip(self.own, bounds, strict=True):
            if not low - 1e-9 <= v <= high + 1e-9:
                raise ValueError(f"a number of the {self.kind} lies outside {low:g} … {high:g}")
        return self

    @property
    def plain(self) -> Plain:
        return made(self.kind, self.x, self.y, self.width, self.height, self.own, self.turn)


def shape_of(s: Plain) -> Shape:
    """A plain shape as it is saved."""
    bounds = KINDS[s.kind].bounds
    own = tuple(min(max(v, low), high) for v, (low, high) in zip(s.own, bounds, strict=True))
    turn = (s.turn + 180) % 360 - 180
    return Shape(kind=s.kind, x=float(s.p[0]), y=float(s.p[1]), width=s.width, height=s.height, turn=turn, own=own)


class Part(Record):
    """One part of a character. Its points and its shape lie on its reference's picture (pixels), or, without one, in heads."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=60)
    role: str = "other"
    on: str = Field("", max_length=40)
    """Id of the part it hangs on."""
    reference: str = Field("", max_length=80)
    source: Literal["traced", "mask", "construction", "mirrored", "plain"] = "plain"
    points: tuple[Point, ...] = Field((), max_length=MOST_POINTS)
    """Its contour, evenly spaced, clockwise; none: its plain shape is all there is."""
    corners: tuple[int, ...] = Field((), max_length=200)
    even: bool = False
    """Exactly its own mirror image."""
    kind: str = ""
    """The plain shape chosen for it; empty: the one that fits best."""
    shape: Shape | None = None
    """Where the shape stands when it was put there by hand; none: as it fits the contour."""
    detail: float = Field(0.0, ge=0, le=1)
    corner: float = Field(0.5, ge=0, le=1)
    against: float = Field(0.0, ge=0, le=1)
    emphasis: dict[str, float] = {}
    toward: str = ""
    toward_share: float = Field(0.0, ge=0, le=1)
    gap: float = Field(0.0, ge=0, le=0.95)
    """Share of the outline that is left open (an open C)."""
    gap_at: float = Field(0.0, ge=0, le=1)
    """Where the middle of the gap is, as a share of the outline from its first point on."""
    tone: float = Field(0.2, ge=0, le=1)

    @field_validator("role")
    @classmethod
    def _role(cls, v: str) -> str:
        if v not in roles():
            raise ValueError(f"{quoted(v)} is no kind of part")
        return v

    @field_validator("kind", "toward")
    @classmethod
    def _kind(cls, v: str) -> str:
        if v and v not in KINDS:
            raise ValueError(f"{quoted(v)} is no plain shape")
        return v

    @field_validator("emphasis")
    @classmethod
    def _traits(cls, v: dict[str, float]) -> dict[str, float]:
        for k, e in v.items():
            if k not in TRAITS:
                raise ValueError(f"{quoted(k)} is nothing of a shape that is pushed")
            if abs(e) > FURTHEST:
                raise ValueError(f"emphasis is between −{FURTHEST:g} and {FURTHEST:g}")
        return v

    @model_validator(mode="after")
    def _whole(self) -> Part:
        if not self.points and self.shape is None:
            raise ValueError("a part has a contour or a plain shape")
        if self.points and len(self.points) < 8:
            raise ValueError("a contour is kept with eight points at least")
        if self.corners and (min(self.corners) < 0 or max(self.corners) >= len(self.points)):
            raise ValueError("a corner is none of the contour's points")
        return self

    @property
    def contour(self) -> Array:
        return np.array(self.points, float).reshape(-1, 2)


class Relation(Record):
    """Something that holds between parts, by their ids."""

    kind: Literal[
        "touches", "overlaps", "inside", "level", "centred", "mirrored", "same length", "times", "midway", "between", "aimed", "row", "ring",
    ]  # fmt: skip
    parts: tuple[str, ...] = Field(min_length=2, max_length=24)
    """The first one is what is said of the others: A touches B, A midway between B and C, A is k times B, A aimed at B; a ring's first
    is its centre."""
    value: float = Field(0.0, ge=-1000, le=1000)
    """How many times; the share of the way from the second to the third; the overlap."""

    @model_validator(mode="after")
    def _many(self) -> Relation:
        need = {"midway": 3, "between": 3, "row": 3, "ring": 3}.get(self.kind, 2)
        if len(self.parts) < need:
            raise ValueError(f"“{self.kind}” is between {need} parts at least")
        if self.kind not in ("row", "ring") and len(self.parts) != need:
            raise ValueError(f"“{self.kind}” is between {need} parts")
        if len(set(self.parts)) != len(self.parts):
            raise ValueError("a part cannot be related to itself")
        if self.kind == "times" and not 0.02 <= self.value <= 50:
            raise ValueError("how many times as large is between 1/50 and 50")
        return self


class Variant(Record):
    """Shapes kept beside the ones that are worked on."""

    name: str = Field(min_length=1, max_length=60)
    parts: tuple[Part, ...] = Field((), max_length=MOST_PARTS)
    relations: tuple[Relation, ...] = Field((), max_length=MOST_RELATIONS)


class Shapes(Record):
    """A character's shapes: parts from the back to the front, and what holds between them."""

    parts: tuple[Part, ...] = Field((), max_length=MOST_PARTS)
    relations: tuple[Relation, ...] = Field((), max_length=MOST_RELATIONS)
    kept: tuple[Variant, ...] = Field((), max_length=24)
    """Variants, in the order they were kept."""
    style_weight: float = Field(0.0, ge=0, le=1)
    """How far parts go toward the style's own size, proportion and taper of such parts."""
    feeds_plan: bool = False
    """A pushed head outline moves the plan's widths."""

    @model_validator(mode="after")
    def _together(self) -> Shapes:
        ids = [p.id for p in self.parts]
        if len(set(ids)) != len(ids):
            raise ValueError("two parts share one id")
        known = set(ids)
        for r in self.relations:
            for n in r.parts:
                if n not in known:
                    raise ValueError(f"a relation speaks of {quoted(n)}, which is no part")
        return self

    def part(self, pid: str) -> Part | None:
        return next((p for p in self.parts if p.id == pid), None)

    def named(self, pid: str) -> str:
        p = self.part(pid)
        return p.name if p is not None else pid


NO_SHAPES = Shapes()


def stem_of(name: str) -> str:
    """“arm, left” and “spike 3” are arm and spike."""
    return name.split(",")[0].rstrip(" 0123456789") or name


def without_part(s: Shapes, pid: str) -> Shapes:
    """A part goes, and what was said of it; what hung on it hangs where it hung."""
    gone = s.part(pid)
    if gone is None:
        return s
    parts = tuple(p.model_copy(update={"on": gone.on}) if p.on == pid else p for p in s.parts if p.id != pid)
    return s.model_copy(update={"parts": parts, "relations": tuple(r for r in s.relations if pid not in r.parts)})
