"""An expression: what lids, brows, mouth, jaw and gaze do. It is worn by a head and never moves the plan."""

from __future__ import annotations

from functools import cache
from importlib import resources

from pydantic import Field

from ..datafiles import Record, parse
from ..errors import UnknownName
from ..names import named


class Expression(Record):
    """Every dial is 0 at rest."""

    upper_lid: float = Field(0.0, ge=-1, le=1)
    """−1 closes the eye, 1 opens it wide."""
    lower_lid: float = Field(0.0, ge=-1, le=1)
    """1 raises the lower lid."""
    lid_slant: float = Field(0.0, ge=-1, le=1)
    """−1 lets the outer ends of the upper lids hang, 1 lowers the inner ends."""
    brow_lift: float = Field(0.0, ge=-1, le=1)
    brow_inner: float = Field(0.0, ge=-1, le=1)
    """1 raises the inner ends, −1 lowers them."""
    brow_together: float = Field(0.0, ge=0, le=1)
    mouth_corner: float = Field(0.0, ge=-1, le=1)
    mouth_wide: float = Field(0.0, ge=-1, le=1)
    mouth_open: float = Field(0.0, ge=0, le=1)
    """The jaw opens with the lips."""
    one_side: float = Field(0.0, ge=-1, le=1)
    """How much more of brows and mouth corner happens at the picture's right than at its left."""
    gaze_x: float = Field(0.0, ge=-1, le=1)
    """1 looks to the picture's right as far as eyes go."""
    gaze_y: float = Field(0.0, ge=-1, le=1)
    """1 looks up."""


def weaker(e: Expression, share: float) -> Expression:
    """The same face made less."""
    return Expression(**{k: v * share for k, v in e.model_dump().items()})


WORDS = {
    "upper_lid": ("Upper lids", "closed", "wide"), "lower_lid": ("Lower lids", "down", "up"), "lid_slant": ("Lid slant", "sad", "fierce"),
    "brow_lift": ("Brows", "down", "up"), "brow_inner": ("Inner ends", "down", "up"), "brow_together": ("Frown", "", "together"),
    "mouth_corner": ("Mouth corners", "down", "up"), "mouth_wide": ("Mouth", "narrow", "wide"), "mouth_open": ("Jaw", "", "open"),
    "one_side": ("One side", "left", "right"), "gaze_x": ("Gaze across", "left", "right"), "gaze_y": ("Gaze up", "down", "up"),
}  # fmt: skip
"""Name of a dial, and what its two ends mean."""


class ExpressionTable(Record):
    source: str
    presets: dict[str, Expression]


@cache
def expression_table() -> ExpressionTable:
    text = resources.files("orthomet.core.features.data").joinpath("expressions.json").read_text(encoding="utf-8")
    return parse(ExpressionTable, text, "expressions.json")


def expressions() -> dict[str, Expression]:
    """The presets by name, neutral first."""
    return expression_table().presets


def expression(name: str) -> Expression:
    """A preset, case aside.

    Raises
    ------
    UnknownName
    """
    known = expressions()
    meant = named(name, ((n, n) for n in known))
    if meant is None:
        raise UnknownName("expression", name, list(known))
    return known[meant]


NEUTRAL = Expression()
