"""What the artist decides about one character's plan."""

from __future__ import annotations

from pydantic import Field, field_validator

from ..datafiles import Record

EMPHASIS_WORDS = (
    (0.0, "drop"),
    (0.5, "soften"),
    (1.0, "keep"),
    (1.5, "push ×1½"),
    (2.0, "push ×2"),
    (2.5, "push ×2½"),
    (3.0, "push ×3"),
)
MAX_EMPHASIS = 5.0
MAX_OFFSET = 100.0
"""In the transform's unit: degrees need the most (own)."""


class Decisions(Record):
    """Emphasis ``e`` per trait, style weight ``s`` per group with one master, and offsets from dragging plan marks.

    With ``g`` the transform of a trait's kind, μ the norm, c the style and d the reference's deviation:
    ``g(plan) = (1 − s)·g(μ) + s·g(c) + e·d + o``.
    """

    style: str = "quillmere-picture-book"
    norm: str = "adult"
    style_weight: float = Field(0.4, ge=0, le=1)
    group_weights: dict[str, float] = {}
    emphasis_all: float = Field(1.0, ge=-MAX_EMPHASIS, le=MAX_EMPHASIS)
    emphasis: dict[str, float] = {}
    offsets: dict[str, float] = {}
    """In the transform's own unit."""
    balance: float = Field(0.0, ge=0, le=MAX_EMPHASIS)
    """How much of the reference's own left–right difference the plan keeps (0: symmetrical)."""
    overlap: bool = False
    """Eyes may overlap (a negative gap)."""
    school: str = "halves"
    school_settings: dict[str, float] = {}

    @field_validator("group_weights")
    @classmethod
    def _shares(cls, v: dict[str, float]) -> dict[str, float]:
        for k, w in v.items():
            if not 0 <= w <= 1:
                raise ValueError(f"the style weight of {k} must lie between 0 and 1")
        return v

    @field_validator("offsets")
    @classmethod
    def _offsets(cls, v: dict[str, float]) -> dict[str, float]:
        for k, o in v.items():
            if abs(o) > MAX_OFFSET:
                raise ValueError(f"the offset of {k} is out of all bounds")
        return v

    @field_validator("emphasis")
    @classmethod
    def _emphasis(cls, v: dict[str, float]) -> dict[str, float]:
        for k, e in v.items():
            if not -MAX_EMPHASIS <= e <= MAX_EMPHASIS:
                raise ValueError(f"the emphasis of {k} must lie between −5 and 5")
        return v

    def weight_of(self, group: str) -> float:
        return self.group_weights.get(group, self.style_weight)

    def emphasis_of(self, key: str) -> float:
        return self.emphasis.get(key, self.emphasis_all)


def emphasis_word(e: float) -> str:
    """The nearest word for an emphasis, with the number where no word fits."""
    for v, word in EMPHASIS_WORDS:
        if abs(v - e) < 0.01:
            return word
    if e < 1:
        return f"soften ×{e:.2g}"
    return f"push ×{e:.3g}"
