"""Landmarks of a head that wears an expression: what moves, in head units, and how far the jaw drops.

The plan is not touched: an expression is put over a plan's points when they are drawn. How far each dial reaches is own,
after common practice; nothing crosses what lies beside it (lids stay under brows, lips between nose and chin).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..features.expression import NEUTRAL, Expression
from ..kinds import Array
from ..landmarks.schema import FRONT

BROW_REACH, INNER_REACH = 0.040, 0.036
CORNER_REACH = 0.040
JAW_REACH = 0.085
WIDE = 0.20
GAZE_X, GAZE_Y = 0.30, 0.24
"""How far the iris goes, in eye widths and openings."""
CLEAR = 0.004
"""Heads that stay between what an expression moves and its neighbour."""


@dataclass(frozen=True)
class Expressed:
    """Points ``(n, 2)`` before the jaw drops, the drop of the chin in heads, and the dials curves need."""

    points: Array
    drop: float = 0.0
    slant: float = 0.0
    bend: float = 3.0
    gaze: float = 0.0


def expressed(points: Array, e: Expression = NEUTRAL) -> Expressed:
    """A plan's points ``(n, 2)`` (head units, schema order) wearing an expression."""
    if e == NEUTRAL:
        return Expressed(points)
    out = points.copy()
    at = FRONT.index
    nose, chin = points[at["subnasale"], 1], points[at["gnathion"], 1]
    mouth = points[at["stomion"], 1]
    drop = JAW_REACH * e.mouth_open * float(np.clip((chin - mouth) / 0.21, 0.3, 1.3))
    for k, side in (("l", 1), ("r", -1)):
        own = float(np.clip(1 + side * e.one_side, 0, 1.7))
        _brow(out, k, e, own)
        _eye(out, k, e)
        corner = out[at[f"cheilion_{k}"]]
        scale = abs(float(corner[0])) / 0.116
        corner[0] *= (1 + WIDE * e.mouth_wide) * (1 - 0.10 * e.mouth_open)
        rise = CORNER_REACH * e.mouth_corner * own * scale - 0.30 * drop
        corner[1] = np.clip(corner[1] - rise, nose + 0.35 * (mouth - nose), mouth + 0.45 * (chin - mouth))
    dip = 0.30 * CORNER_REACH * e.mouth_corner
    for name in ("stomion", "labiale_superius", "labiale_inferius"):
        out[at[name], 1] += np.clip(dip, -0.4 * (mouth - nose), 0.2 * (chin - mouth))
    return Expressed(out, drop, e.lid_slant, 3.0 - 1.1 * abs(e.mouth_corner), e.gaze_x)


def _brow(out: Array, k: str, e: Expression, own: float) -> None:
    at = FRONT.index
    names = [at[f"{n}_{k}"] for n in ("brow_inner", "brow_peak", "brow_outer", "brow_lower_peak")]
    floor = out[at[f"palpebrale_superius_{k}"], 1] - CLEAR
    tilt = INNER_REACH * e.brow_inner * own
    opening = out[at[f"palpebrale_inferius_{k}"], 1] - out[at[f"palpebrale_superius_{k}"], 1]
    lift = max(BROW_REACH, 0.30 * opening) * e.brow_lift * own
    for i, share in zip(names, (1.0, 0.25, -0.15, 0.25), strict=True):
        out[i, 1] -= lift + tilt * share
    out[names[0], 0] *= 1 - 0.30 * e.brow_together
    out[names[0], 1] += 0.006 * e.brow_together
    low = out[names[3], 1] - floor
    if low > 0:  # the whole brow stays over the lid
        out[names, 1] -= low
    high = out[at["vertex"], 1] + 0.05 - min(out[i, 1] for i in names)
    if high > 0:
        out[names, 1] += high


def _eye(out: Array, k: str, e: Expression) -> None:
    at = FRONT.index
    i_top, i_low, i_fold = (at[f"{n}_{k}"] for n in ("palpebrale_superius", "palpebrale_inferius", "lid_crease"))
    top, low, fold = out[i_top, 1], out[i_low, 1], out[i_fold, 1]
    opening = low - top
    width = abs(out[at[f"exocanthion_{k}"], 0] - out[at[f"endocanthion_{k}"], 0])
    roof = out[at[f"brow_lower_peak_{k}"], 1] + CLEAR
    low -= opening * (0.34 if e.lower_lid > 0 else 0.14) * e.lower_lid
    top = (
        max(top - 0.30 * opening * e.upper_lid, min(roof, top)) if e.upper_lid > 0 else top - (0.985 * (low - top)) * e.upper_lid
    )
    out[i_fold, 1] = min(max(top - (out[i_top, 1] - fold), min(roof, top)), top)
    out[i_top, 1], out[i_low, 1] = top, low
    shift = np.array([GAZE_X * width * e.gaze_x, -GAZE_Y * opening * e.gaze_y])
    for name in ("pupil", "iris_medial", "iris_lateral", "pupil_medial", "pupil_lateral"):
        out[at[f"{name}_{k}"]] += shift
