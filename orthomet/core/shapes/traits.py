"""What a style's drawings have in common as shapes, as it is saved."""

from __future__ import annotations

from pydantic import Field

from ..datafiles import Record


class ShapeRow(Record):
    mean: float
    sd: float | None = None
    n: int = 1


class StyleShapes(Record):
    """What a style's drawings have in common as shapes."""

    heads: dict[str, int] = Field({}, max_length=20)
    """Head class → drawings that show it."""
    parts: dict[str, dict[str, ShapeRow]] = Field({}, max_length=40)

    @property
    def words(self) -> str:
        """Heads it draws, and what of its parts is steady."""
        order = sorted(self.heads, key=lambda k: -self.heads[k])
        heads = ", ".join(f"{k} ({self.heads[k]})" for k in order)
        head = self.parts.get("head", {})
        round_ = head.get("roundness")
        told = f"Heads it draws: {heads}." if heads else "No head is marked well enough to tell its class."
        return told + (f" Their outlines read {round_.mean:.2f} round (a circle is 1)." if round_ is not None else "")
