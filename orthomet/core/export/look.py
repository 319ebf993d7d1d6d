"""How each role looks on paper: one table for SVG, PDF and PNG. Widths in millimetres (common practice for pens)."""

from __future__ import annotations

from dataclasses import dataclass

from ..picture import Role


@dataclass(frozen=True)
class Look:
    colour: str
    width: float
    fill: str = "none"
    opacity: float = 1.0


PENCILS = {"blue": "#4f8fd6", "sanguine": "#c2674a", "graphite": "#7a7f83"}
"""Light pencil colours guides print in; each drops out of a scan by its colour."""


def looks(pencil: str = "blue") -> dict[Role, Look]:
    """The table, guides and construction in one pencil."""
    c = PENCILS.get(pencil, pencil)
    return {
        Role.CONTOUR: Look(c, 0.55),
        Role.FEATURE: Look(c, 0.45),
        Role.DETAIL: Look(c, 0.25),
        Role.TONE: Look("none", 0, c, 0.28),
        Role.DARK: Look("none", 0, c, 0.85),
        Role.LIGHT: Look("none", 0, "#ffffff", 1.0),
        Role.SHADE: Look("none", 0, c, 0.22),
        Role.GUIDE: Look(c, 0.18, opacity=0.75),
        Role.GUIDE_KEY: Look(c, 0.30, opacity=0.85),
        Role.HIDDEN: Look(c, 0.15, opacity=0.35),
        Role.SKULL: Look(c, 0.30, opacity=0.55),
        Role.PLAN_LINE: Look(c, 0.18, opacity=0.6),
        Role.NOTE: Look("none", 0, c),
        Role.MARK: Look("#3a3f42", 0.35),
    }
