"""How construction roles look on the screen, in the theme's own pencil."""

from __future__ import annotations

from ..core.export.look import REDLINES, Look
from ..core.picture import Ink
from ..core.swatches import mixed
from .theme.tokens import Palette

_SEEN = {Ink.SEEN_PALE: 0.10, Ink.SEEN_MID: 0.26, Ink.SEEN_DEEP: 0.46}
_PLANNED = {Ink.SHAPE_PALE: 0.14, Ink.SHAPE_MID: 0.28, Ink.SHAPE_DEEP: 0.46}


def screen_looks(t: Palette) -> dict[Ink, Look]:
    """Widths in screen pixels."""
    return {
        Ink.CONTOUR: Look(t.plan_ink, 2.2),
        Ink.FEATURE: Look(t.plan_ink, 1.6),
        Ink.DETAIL: Look(t.plan_ink, 1.0),
        Ink.TONE: Look("none", 0, t.plan, 0.30 if t.name == "day" else 0.55),
        Ink.DARK: Look("none", 0, t.plan_ink),
        Ink.PUPIL: Look("none", 0, t.tone_pupil),
        Ink.LIGHT: Look("none", 0, t.tone_light),
        Ink.SHADE: Look("none", 0, t.tone_shade, 0.17 if t.name == "day" else 0.42),
        Ink.GUIDE: Look(t.plan_guide, 1.0),
        Ink.GUIDE_KEY: Look(t.plan_guide, 1.6),
        Ink.AXIS: Look(t.draw, 1.2, opacity=0.8),
        Ink.TILT: Look(t.look, 1.4, opacity=0.9),
        Ink.HIDDEN: Look(t.plan, 0.8, opacity=0.22),
        Ink.SKULL: Look(t.plan, 1.4, opacity=0.45),
        Ink.HAIR: Look("none", 0, t.tone_hair),
        Ink.INSIDE: Look("none", 0, t.tone_inside),
        Ink.SKIN: Look("none", 0, t.tone_skin),
        Ink.WEAR: Look("none", 0, t.tone_wear),
        Ink.SUIT: Look("none", 0, t.tone_suit),
        Ink.PLAN_LINE: Look(t.plan, 1.0, opacity=0.35),
        Ink.SEEN: Look(t.ink, 1.8),
        **{ink: Look("none", 0, mixed(t.sheet, t.soft, share)) for ink, share in _SEEN.items()},
        **{ink: Look("none", 0, mixed(t.sheet, t.plan, share)) for ink, share in _PLANNED.items()},
        Ink.BLACK: Look("none", 0, t.ink),
        Ink.LIT: Look("none", 0, t.look_fill),
        **REDLINES,
        Ink.NOTE: Look("none", 0, t.soft),
        Ink.MARK: Look(t.rule_strong, 1.0),
    }


def chart_looks(t: Palette) -> dict[Ink, Look]:
    """Charts on the theme's own sheet, where the drawing's red has to stand out by night, too."""
    pale, deep = REDLINES[Ink.REDLINE], REDLINES[Ink.REDLINE_DEEP]
    shown = {Ink.REDLINE: Look(t.draw, pale.width, t.draw, pale.opacity), Ink.REDLINE_DEEP: Look(t.draw, deep.width, t.draw)}
    return screen_looks(t) | (shown if t.name != "day" else {})


def overlay_looks(t: Palette) -> dict[Ink, Look]:
    """The plan over a drawing: lines only, so that the pencil under it stays visible."""
    out = screen_looks(t)
    blue = "#1C5DAF"
    for role in (Ink.CONTOUR, Ink.FEATURE, Ink.DETAIL):
        out[role] = Look(blue, min(out[role].width, 1.5), opacity=0.9)
    out[Ink.TONE] = Look("none", 0, blue, 0.0)
    for role in (Ink.DARK, Ink.PUPIL, Ink.HAIR, Ink.INSIDE, Ink.WEAR, Ink.SUIT, Ink.LIGHT, Ink.SHADE):
        out[role] = Look("none", 0, blue, 0.0)
    out[Ink.PLAN_LINE] = Look(blue, 1.0, opacity=0.4)
    return out
