"""Which way a cure is shown: bent where there is room for a ring, the ink lifted where lines touch."""

from __future__ import annotations

import numpy as np

from ..features.choices import PLAIN, FeatureChoices
from ..kinds import Array
from .groups import anatomy, moving, placed
from .lift import Lift
from .warp import Warp

CLOSE = 0.04
"""Heads between a feature that moves and one that stays under which its ink is lifted (own)."""
NARROW = 0.35
"""Least Jacobian under which a bend shows (own)."""
Preview = Warp | Lift


def preview(
    picture: Array, points: Array, step: Array, hh: float, choices: FeatureChoices = PLAIN, view: str = "front"
) -> Preview:
    """A cure on a drawing: ``picture`` ``(h, w, 3)`` uint8, landmarks and their steps ``(n, 2)`` in its pixels, ``hh`` pixels a head."""
    if view != "front":
        return Warp(picture, points, step, hh, anatomy(view))
    which = moving(points, step, hh)
    small = bool(which) and set(which) <= anatomy().liftable
    if small and _tight(points, step, hh, set(which)):
        return Lift(picture, points, step, hh, choices)
    w = Warp(picture, points, step, hh)
    return Lift(picture, points, step, hh, choices) if small and (w.smoothed or w.least < NARROW) else w


def _tight(points: Array, step: Array, hh: float, which: set[str]) -> bool:
    """Whether a feature that moves stands closer to one that stays than a ring needs."""
    pieces = anatomy().pieces
    for g in which:
        a = placed(points, pieces[g])
        need = max(CLOSE * hh, 1.8 * float(np.abs(np.nan_to_num(step)[list(pieces[g])]).max()))
        for o in anatomy().liftable:
            b = placed(points, pieces[o])
            if o not in which and len(a) and len(b) and np.linalg.norm(a[:, None] - b[None], axis=2).min() < need:
                return True
    return False
