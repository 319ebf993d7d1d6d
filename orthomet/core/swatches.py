"""Colours taken again from a picture: what was named by hand stays named."""

from __future__ import annotations

from .imaging.palette import difference
from .picture import Ink
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


PARTS = {
    Ink.HAIR: ("hair", "beard"), Ink.SKIN: ("skin", "face"), Ink.WEAR: ("wear", "cap", "hat", "band", "ribbon", "scarf", "coat"),
    Ink.TONE: ("eyes", "iris"), Ink.SUIT: ("suit", "dress", "shirt", "coat", "overall"),
}  # fmt: skip
"""Words for parts that paint what a head's drawing tones."""


def tints(swatches: tuple[Swatch, ...]) -> dict[Ink, str]:
    """Colours of a drawing's tones from swatches that belong to parts: hair, skin, wear, eyes; and their darker tones."""
    out: dict[Ink, str] = {}
    for ink, words in PARTS.items():
        mine = [s for w in words for s in swatches if any(w == p.strip().casefold() for p in s.parts)]
        if mine:
            out[ink] = mine[0].colour
            if ink is Ink.HAIR:
                out[Ink.INSIDE] = mine[0].edge
    return out


def mixed(one: str, other: str, share: float) -> str:
    """A colour ``share`` of the way from one #rrggbb to another.

    >>> mixed("#000000", "#ffffff", 0.5)
    '#808080'
    """
    a, b = (bytes.fromhex(c[1:]) for c in (one, other))
    return "#" + "".join(f"{round(x + (y - x) * share):02x}" for x, y in zip(a, b, strict=True))
