"""How densely lined body and head are: a smooth body under a much-drawn face reads as two hands' work."""

from __future__ import annotations

from ..ink.stroke import length
from ..ink.surface import Pen
from ..landmarks.turn import Turn
from .scene import Figure

WITHIN = (Pen.STRAND, Pen.FEATURE, Pen.DETAIL)
USUAL = 4.5
"""How many times as densely a head is lined as the body under it where both are drawn fully (own, measured on this project's heads)."""
APART = 2.2
"""Told from this factor on."""


def density(f: Figure) -> tuple[float, float]:
    """Length of inner lines by area, of the body and of the head, from the front; per head."""
    s = f.at(Turn())
    b = f.build
    body = sum(length(x.points) for x in s.strokes if x.pen in WITHIN)
    head = sum(length(x.points) for x in s.head if x.pen in WITHIN)
    area = (b.heads - 1) * 0.55 * (b.shoulder + b.hip) / 2
    return body / max(area, 1e-6), head / (0.8 * b.head_width)


def told(body: float, head: float) -> str:
    """Whether the two are alike, in a sentence; nothing where there is no head."""
    if head <= 0:
        return ""
    ratio = head / max(body, 1e-3) / USUAL
    if ratio > APART:
        return f"The face is lined {ratio:.1f} times as densely, against the body, as is usual: more detail here, or fewer lines there."
    if ratio < 1 / APART:
        return f"The body is lined {1 / ratio:.1f} times as densely, against the face, as is usual: less detail here, or more lines there."
    return "Body and face are drawn with about the same detail."
