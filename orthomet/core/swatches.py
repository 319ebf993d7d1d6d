"""Colours taken again from a picture: what was named by hand stays named."""

from __future__ import annotations

from .imaging.palette import difference
from .project.model import Swatch

SAME = 14.0
"""A taken colour nearer than this ΔE to a named one is that one (own)."""


def merged(old: tuple[Swatch, ...], new: list[Swatch]) -> tuple[Swatch, ...]:
    """New swatches; those that were named by hand or given to parts keep their name and parts."""
    mine = [s for s in old if s.parts or not s.name.startswith("Colour ")]
    out = []
    for s in new:
        near = min(mine, key=lambda o: difference(o.colour, s.colour), default=None)
        if near is not None and difference(near.colour, s.colour) < SAME:
            mine.remove(near)
            s = s.model_copy(update={"name": near.name, "parts": near.parts})
        out.append(s)
    return (*out, *mine)
