"""How each role looks on paper: one table for SVG, PDF and PNG. Widths in millimetres (common practice for pens)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from ..picture import Ink
from ..swatches import mixed


@dataclass(frozen=True)
class Look:
    colour: str
    width: float
    fill: str = "none"
    opacity: float = 1.0


PENCILS = {"blue": "#4f8fd6", "sanguine": "#c2674a", "graphite": "#7a7f83"}
"""Light pencil colours guides print in; each drops out of a scan by its colour."""


REDLINES = {
    Ink.REDLINE: Look("#d6452a", 0.5, "#d6452a", 0.84),
    Ink.REDLINE_DEEP: Look("#a81f0c", 0.5, "#a81f0c"),
    Ink.REDLINE_GROUND: Look("none", 0, "#fcfbf7", 0.87),
    Ink.HALO: Look("#fcfbf7", 0.5, "#fcfbf7", 0.47),
}
"""Corrections over a drawing: the same on paper and on the screen, by day and by night."""


def looks(pencil: str = "blue") -> dict[Ink, Look]:
    """The table, guides and construction in one pencil."""
    c = PENCILS.get(pencil, pencil)
    return {
        Ink.CONTOUR: Look(c, 0.55),
        Ink.FEATURE: Look(c, 0.45),
        Ink.DETAIL: Look(c, 0.25),
        Ink.TONE: Look("none", 0, c, 0.28),
        Ink.DARK: Look("none", 0, c, 0.85),
        Ink.PUPIL: Look("none", 0, c, 0.85),
        Ink.LIGHT: Look("none", 0, "#ffffff", 1.0),
        Ink.SHADE: Look("none", 0, c, 0.22),
        Ink.GUIDE: Look(c, 0.18, opacity=0.75),
        Ink.GUIDE_KEY: Look(c, 0.30, opacity=0.85),
        Ink.AXIS: Look(c, 0.25, opacity=0.85),
        Ink.TILT: Look(c, 0.25, opacity=0.85),
        Ink.HIDDEN: Look(c, 0.15, opacity=0.35),
        Ink.SKULL: Look(c, 0.30, opacity=0.55),
        Ink.HAIR: Look("none", 0, "#ffffff"),
        Ink.INSIDE: Look("none", 0, c, 0.16),
        Ink.SKIN: Look("none", 0, "#ffffff", 0.0),
        Ink.WEAR: Look("none", 0, "#ffffff"),
        Ink.SUIT: Look("none", 0, c, 0.10),
        Ink.PLAN_LINE: Look(c, 0.18, opacity=0.6),
        Ink.SEEN: Look(c, 0.45),
        Ink.SEEN_PALE: Look("none", 0, "#ffffff"),
        Ink.SEEN_MID: Look("none", 0, mixed("#ffffff", c, 0.14)),
        Ink.SEEN_DEEP: Look("none", 0, mixed("#ffffff", c, 0.32)),
        Ink.SHAPE_PALE: Look("none", 0, "#ffffff"),
        Ink.SHAPE_MID: Look("none", 0, mixed("#ffffff", c, 0.14)),
        Ink.SHAPE_DEEP: Look("none", 0, mixed("#ffffff", c, 0.32)),
        Ink.BLACK: Look("none", 0, "#1f2528"),
        Ink.LIT: Look("none", 0, "#e0a21c"),
        **REDLINES,
        Ink.NOTE: Look("none", 0, c),
        Ink.MARK: Look("#3a3f42", 0.35),
    }


def tinted(table: Mapping[Ink, Look], tints: tuple[tuple[Ink, str], ...]) -> Mapping[Ink, Look]:
    """The table with a picture's own fills."""
    return {**table, **{ink: replace(table[ink], fill=colour, opacity=1.0) for ink, colour in tints}} if tints else table
