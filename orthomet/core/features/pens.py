"""The line plan of a character: four pens, and how many lines lie within its forms."""

from __future__ import annotations

from pydantic import Field

from ..datafiles import Record

HEAD_MM = 120.0
"""The head the pens are meant for, crown to chin."""


class LinePlan(Record):
    """Full widths in millimetres at a head of :data:`HEAD_MM` (own, after what brush drawings of this size show)."""

    outer: float = Field(1.34, ge=0.05, le=6)
    edge: float = Field(1.06, ge=0.05, le=6)
    inner: float = Field(0.72, ge=0.05, le=6)
    feature: float = Field(0.94, ge=0.05, le=6)
    lines: float = Field(1.0, ge=0, le=2)
    """How many lines within the hair, of its style's own."""
    true_mm: bool = False
    """The same pens however tall the head is drawn."""

    def head_mm(self, height_mm: float) -> float:
        """The head, in millimetres, whose widths the strokes are drawn with on a page where it is ``height_mm`` tall."""
        return HEAD_MM if self.true_mm else height_mm


USUAL_PENS = LinePlan()
