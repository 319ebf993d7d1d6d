"""The artist's own spans: a named length between two points, and what it is divided by."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, field_validator, model_validator

from ..datafiles import Record
from ..errors import quoted
from .views import OWN, SCHEMAS

MAX_SPANS = 60
DIVISORS = {"hh": "heads", "fw": "face widths", "hw": "head widths", "ew": "eyes"}
"""What a span may be divided by in the front view; in the others only by the head."""


OWN_GROUP = "Own"
"""The group of readings between own points."""


class OwnSpan(Record):
    """A part the anatomy has no name for (a bun, a shell, a quiff), measured like any other reading.

    ``ends`` are two points: landmarks of the view, or the span's own ``own_<id>_a`` and ``own_<id>_b``. ``by`` is ``hh``,
    ``fw``, ``hw``, ``ew``, or another own span's id behind ``own:``.
    """

    id: str = Field(pattern=r"^[a-z0-9]{1,24}$")
    name: str = Field(min_length=1, max_length=60)
    view: Literal["front", "profile", "figure"] = "front"
    ends: tuple[str, str]
    by: str = "hh"
    usual: float | None = Field(None, gt=0, le=1000)
    """What it usually measures, in its own unit, where the artist says so: the middle its plan exaggerates about."""

    @field_validator("by")
    @classmethod
    def _divisor(cls, v: str) -> str:
        if v not in DIVISORS and not (v.startswith("own:") and OWN.fullmatch(f"own_{v[4:]}_a")):
            raise ValueError(
                f"{quoted(v)} is nothing a span can be divided by ({', '.join(DIVISORS)}, or own: and another span's id)"
            )
        return v

    @model_validator(mode="after")
    def _ends(self) -> OwnSpan:
        for e in self.ends:
            if e not in SCHEMAS[self.view].index and not OWN.fullmatch(e):
                raise ValueError(f"{quoted(e)} is no landmark of the {self.view} view and no end of an own span")
        if self.ends[0] == self.ends[1]:
            raise ValueError("a span needs two different ends")
        if self.by == f"own:{self.id}":
            raise ValueError("a span cannot be divided by itself")
        if self.view != "front" and self.by in ("fw", "hw", "ew"):
            raise ValueError(f"in a {self.view} a span is divided by the head or by another span")
        return self

    @property
    def key(self) -> str:
        """The reading's key."""
        return f"own_{self.id}"


def own(id: str, name: str, by: str = "hh", view: str = "front", usual: float | None = None) -> OwnSpan:
    """A span between two points of its own."""
    ends = (f"own_{id}_a", f"own_{id}_b")
    return OwnSpan.model_validate({"id": id, "name": name, "view": view, "ends": ends, "by": by, "usual": usual})


def spans_problem(spans: tuple[OwnSpan, ...]) -> str | None:
    """The sentence that says why a set of own spans does not go together, or ``None``."""
    ids = [s.id for s in spans]
    if len(spans) > MAX_SPANS:
        return f"There are {len(spans)} own spans; up to {MAX_SPANS} can be kept."
    if len(set(ids)) != len(ids):
        return "Two own spans share one id."
    for s in spans:
        if s.by.startswith("own:") and not any(o.id == s.by[4:] and o.view == s.view for o in spans):
            return f"“{s.name}” is divided by a span that is not there."
    return None
