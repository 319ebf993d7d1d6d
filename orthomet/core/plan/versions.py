"""Versions of one character: younger, older, milder, stronger, another edition. Each follows its parent.

A version keeps the deviations that make the person and lays them about a new centre: an age moves the centre, milder and
stronger multiply the emphasis, an edition takes another style. What the artist changes in a version is kept apart from what
it inherits, so that a change of the parent reaches it. Traits that are forbidden to change stay exactly as the parent's.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache, lru_cache
from importlib import resources
from typing import Literal

from pydantic import Field, ValidationInfo, field_validator

from ..datafiles import Record, parse
from ..kinds import forward
from ..proportions.norms import norm
from ..proportions.registry import front_registry
from .decisions import MAX_EMPHASIS, Decisions, bounded
from .space import face_space

AGE_KINDS = ("younger", "older")
GROWN = 20.0
"""Age up to which faces are told by the tables of growth; beyond it by those of ageing."""


class Version(Record):
    id: str
    title: str = Field(min_length=1, max_length=60)
    kind: Literal["younger", "older", "milder", "stronger", "edition"] = "younger"
    amount: float = Field(5.0, gt=0, le=100)
    """Years for ages, a factor for milder and stronger; nothing for an edition."""
    style: str = ""
    """Of an edition."""
    note: str = Field("", max_length=500)
    emphasis: dict[str, float] = {}
    """Where it differs from what is inherited."""
    offsets: dict[str, float] = {}
    """Added to what is inherited."""
    group_weights: dict[str, float] = {}
    style_weight: float | None = Field(None, ge=0, le=1)
    forbidden: tuple[str, ...] = Field((), max_length=100)
    """Traits that must stay as the parent's."""
    meant: tuple[str, ...] = Field((), max_length=2000)
    """Readings whose difference is wanted on every drawing of this version."""

    @field_validator("emphasis", "offsets", "group_weights")
    @classmethod
    def _bounded(cls, v: dict[str, float], info: ValidationInfo) -> dict[str, float]:
        return bounded(str(info.field_name), v)

    def age_of(self, parent: float) -> float:
        """Age of this version of somebody who is ``parent`` years old."""
        if self.kind == "younger":
            return max(parent - self.amount, 0.0)
        return min(parent + self.amount, 150.0) if self.kind == "older" else parent


class _Ageing(Record):
    source: str
    note: str
    per_decade: dict[str, float]


@cache
def ageing() -> _Ageing:
    """Shift of each trait's transform for every ten years past growth."""
    text = resources.files("orthomet.core.plan.ageing_data").joinpath("ageing.json").read_text(encoding="utf-8")
    return parse(_Ageing, text, "ageing.json")


@lru_cache(maxsize=64)
def age_shift(start: float, end: float) -> Mapping[str, float]:
    """How growing and ageing move the centre of every trait's transform from one age to another. Kept: a drag asks each frame."""
    grown = (min(start, GROWN), min(end, GROWN))
    out = dict.fromkeys(face_space().keys, 0.0)
    if grown[0] != grown[1]:
        a, b = (norm(f"age:{v:g}") for v in grown)
        reg = front_registry()
        for k in out:
            i, kind = reg.index[k], reg[k].kind
            out[k] = float(forward(kind, b.mean[i]) - forward(kind, a.mean[i]))
    decades = (max(end, GROWN) - max(start, GROWN)) / 10
    for k, v in ageing().per_decade.items():
        out[k] += decades * v
    return {k: v for k, v in out.items() if abs(v) > 1e-12}


def inherited(base: Decisions, version: Version, age: float) -> Decisions:
    """What a version takes from its parent's decisions, before its own changes. ``age`` is the parent's."""
    change: dict[str, object] = {}
    if version.kind in AGE_KINDS:
        shift = age_shift(age, version.age_of(age))
        change["centre"] = {k: base.centre.get(k, 0.0) + shift.get(k, 0.0) for k in {*base.centre, *shift}}
    elif version.kind == "edition":
        change["style"] = version.style or base.style
    else:

        def more(e: float) -> float:
            return max(-MAX_EMPHASIS, min(MAX_EMPHASIS, e * version.amount))

        change |= {"emphasis_all": more(base.emphasis_all), "emphasis": {k: more(e) for k, e in base.emphasis.items()}}
    return base.model_copy(update=change)


def decisions_of(base: Decisions, version: Version, age: float) -> Decisions:
    """The decisions a version is planned by."""
    d = inherited(base, version, age)
    offsets = {k: d.offsets.get(k, 0.0) + version.offsets.get(k, 0.0) for k in {*d.offsets, *version.offsets}}
    return d.model_copy(
        update={
            "emphasis": {**d.emphasis, **version.emphasis},
            "offsets": {k: v for k, v in offsets.items() if abs(v) > 1e-12},
            "group_weights": {**d.group_weights, **version.group_weights},
            "style_weight": d.style_weight if version.style_weight is None else version.style_weight,
        }
    )


def with_decisions(base: Decisions, version: Version, age: float, wanted: Decisions) -> Version:
    """The version whose decisions are ``wanted``: what differs from what it inherits becomes its own change."""
    d = inherited(base, version, age)
    offsets = {k: wanted.offsets.get(k, 0.0) - d.offsets.get(k, 0.0) for k in {*wanted.offsets, *d.offsets}}
    return version.model_copy(
        update={
            "style": wanted.style if version.kind == "edition" else version.style,
            "emphasis": {k: e for k, e in wanted.emphasis.items() if e != d.emphasis.get(k, d.emphasis_all)},
            "offsets": {k: v for k, v in offsets.items() if abs(v) > 1e-9},
            "group_weights": {k: w for k, w in wanted.group_weights.items() if w != d.group_weights.get(k)},
            "style_weight": None if wanted.style_weight == d.style_weight else wanted.style_weight,
        }
    )
