"""What the artist decides about one character's plan."""

from __future__ import annotations

from pydantic import Field, ValidationInfo, field_validator

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


_BOUNDS = {
    "group_weights": (0.0, 1.0, "style weight"),
    "offsets": (-MAX_OFFSET, MAX_OFFSET, "offset"),
    "centre": (-MAX_OFFSET, MAX_OFFSET, "move of the centre"),
    "emphasis": (-MAX_EMPHASIS, MAX_EMPHASIS, "emphasis"),
    "uneven": (-0.2, 0.2, "chosen difference"),
}


def bounded(field: str, values: dict[str, float]) -> dict[str, float]:
    """Values by trait or group, held to what such a decision may be."""
    low, high, words = _BOUNDS[field]
    for k, x in values.items():
        if not low <= x <= high:
            raise ValueError(f"the {words} of {k} must lie between {low:g} and {high:g}")
    return values


class Decisions(Record):
    """Emphasis ``e`` per trait, style weight ``s`` per group with one master, and offsets from dragging plan marks.

    With ``g`` the transform of a trait's kind, μ the norm, c the style and d the reference's deviation:
    ``g(plan) = (1 − s)·g(μ) + s·g(c) + a + e·d + o``, where ``a`` is an age's move of the centre.
    """

    style: str = "quillmere-picture-book"
    norm: str = "adult"
    style_weight: float = Field(0.4, ge=0, le=1)
    group_weights: dict[str, float] = {}
    emphasis_all: float = Field(1.0, ge=-MAX_EMPHASIS, le=MAX_EMPHASIS)
    emphasis: dict[str, float] = {}
    offsets: dict[str, float] = {}
    """In the transform's own unit."""
    centre: dict[str, float] = {}
    """Moves the centre itself, in the transform's own unit: what an age does to everybody is no change of the person."""
    balance: float = Field(0.0, ge=0, le=MAX_EMPHASIS)
    """How much of the reference's own left–right difference the plan keeps (0: symmetrical)."""
    uneven: dict[str, float] = {}
    """Chosen left–right differences: balance reading (``level_…``, ``centre_…``, ``offset_…``) → heads, on top of that."""
    hold: float | None = Field(None, ge=0, le=100)
    """Keep the likeness at this score: emphasis of the noticed traits rises as far as it must."""
    overlap: bool = False
    """Eyes may overlap (a negative gap)."""
    chin_forward: float = Field(0.0, ge=-0.08, le=0.08)
    """How far the chin stands forward in profile, in heads; back reads younger."""
    outline: tuple[float, ...] = Field((), max_length=17)
    """What the head's outline departs by from what its widths make of it: logs, evenly down it (:mod:`orthomet.core.head.outline`)."""
    school: str = "halves"
    school_settings: dict[str, float] = {}

    @field_validator("outline")
    @classmethod
    def _departs(cls, v: tuple[float, ...]) -> tuple[float, ...]:
        if len(v) not in (0, 17) or any(abs(x) > 0.7 for x in v):
            raise ValueError("an outline’s departures are seventeen logs between −0.7 and 0.7, or none")
        return v

    @field_validator("group_weights", "offsets", "centre", "emphasis", "uneven")
    @classmethod
    def _bounded(cls, v: dict[str, float], info: ValidationInfo) -> dict[str, float]:
        return bounded(str(info.field_name), v)

    def weight_of(self, group: str) -> float:
        return self.group_weights.get(group, self.style_weight)

    def emphasis_of(self, key: str) -> float:
        return self.emphasis.get(key, self.emphasis_all)


def emphasis_word(e: float) -> str:
    """The nearest word for an emphasis, with the number where no word fits.

    >>> emphasis_word(1.0), emphasis_word(0.3), emphasis_word(1.5)
    ('keep', 'soften ×0.3', 'push ×1½')
    """
    for v, word in EMPHASIS_WORDS:
        if abs(v - e) < 0.01:
            return word
    if e < 1:
        return f"soften ×{e:.2g}"
    return f"push ×{e:.3g}"
