"""What is kept of a drawing's checks: every one dated, with what it found; and what is declared to be counted and held on it."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import AfterValidator, Field

from ..datafiles import Record

MOST_NOTED = 3000
"""Checks kept of one drawing; the oldest go first (own: years of work)."""


def _moment(v: str) -> str:
    try:
        datetime.fromisoformat(v)
    except ValueError:
        raise ValueError("a moment is written as ISO 8601 writes it") from None
    return v


Moment = Annotated[str, Field(max_length=40), AfterValidator(_moment)]


Why = Literal["saved", "kept", "closed"]


class NotedFinding(Record):
    reading: str = Field(max_length=80)
    off: float = Field(ge=-1e6, le=1e6)
    """Drawing − plan, heads."""
    tolerance: float = Field(gt=0, le=1e6)
    say: str = Field(max_length=240)


class Noted(Record):
    """One check of a drawing."""

    when: Moment
    why: Why
    """The paint program saved the drawing; the artist kept it; the project was saved."""
    basis: str = Field("", max_length=160)
    findings: tuple[NotedFinding, ...] = Field((), max_length=80)
    passed: int = Field(0, ge=0, le=10_000)


class Counted(Record):
    """A detail that is counted on every drawing: lashes, freckles, buttons."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=60)
    count: int = Field(ge=0, le=500)
    where: str = Field("", max_length=60)
    """On which part, in words: “left lid”, “coat”."""
    side: Literal["", "left", "right", "both"] = ""
    version: str = Field("", max_length=60)
    """Id of the version it is counted on; empty: on all."""


class Attached(Record):
    """Where something sits: a hem, a belt, a strap, as a share of the way from one landmark to another."""

    id: str = Field(min_length=1, max_length=40)
    name: str = Field(min_length=1, max_length=60)
    start: str = Field(max_length=60)
    end: str = Field(max_length=60)
    share: float = Field(ge=-1, le=2)
    version: str = Field("", max_length=60)
