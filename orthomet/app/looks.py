"""How construction roles look on the screen, in the theme's own pencil."""

from __future__ import annotations

from ..core.export.look import Look
from ..core.picture import Role
from .theme.tokens import Palette


def screen_looks(t: Palette) -> dict[Role, Look]:
    """Widths in screen pixels."""
    return {
        Role.CONTOUR: Look(t.plan, 2.2),
        Role.FEATURE: Look(t.plan, 1.6),
        Role.DETAIL: Look(t.plan, 1.0, opacity=0.85),
        Role.TONE: Look("none", 0, t.plan, 0.26),
        Role.DARK: Look("none", 0, t.plan, 0.85),
        Role.LIGHT: Look("none", 0, t.sheet, 1.0),
        Role.SHADE: Look("none", 0, t.plan, 0.16),
        Role.GUIDE: Look(t.plan_guide, 1.0),
        Role.GUIDE_KEY: Look(t.plan_guide, 1.6),
        Role.HIDDEN: Look(t.plan, 0.8, opacity=0.22),
        Role.SKULL: Look(t.plan, 1.4, opacity=0.45),
        Role.PLAN_LINE: Look(t.plan, 1.0, opacity=0.35),
        Role.NOTE: Look("none", 0, t.soft),
        Role.MARK: Look(t.rule_strong, 1.0),
    }


def overlay_looks(t: Palette) -> dict[Role, Look]:
    """The plan over a drawing: lines only, so that the pencil under it stays visible."""
    out = screen_looks(t)
    blue = "#1C5DAF"
    for role in (Role.CONTOUR, Role.FEATURE, Role.DETAIL):
        out[role] = Look(blue, min(out[role].width, 1.5), opacity=0.9)
    out[Role.TONE] = Look("none", 0, blue, 0.0)
    out[Role.DARK] = out[Role.LIGHT] = out[Role.SHADE] = Look("none", 0, blue, 0.0)
    out[Role.PLAN_LINE] = Look(blue, 1.0, opacity=0.4)
    return out
