"""A head's planned strokes by the feature they belong to."""

from __future__ import annotations

from typing import NamedTuple

import numpy as np

from ..features.choices import PLAIN, FeatureChoices
from ..kinds import Array, there
from ..picture import Ink, Trace
from .strokes import strokes


class FeatureLine(NamedTuple):
    """One stroke of a feature: ``eye_l``, ``brow_r``, ``nose``, ``mouth`` …"""

    feature: str
    points: Array
    role: Ink
    closed: bool
    filled: bool


def feature_of(trace: Trace) -> str:
    """The feature a planned stroke of a front face belongs to; its midline is at x = 0."""
    name = trace.name
    side = "l" if float(trace.points[:, 0].mean()) > 0 else "r"
    if name.startswith("brow"):
        return f"brow_{side}"
    if name.startswith(("nose", "nostril", "bridge", "wing")):
        return "nose"
    if name.startswith(("mouth", "upper lip", "lower lip", "lips", "open", "teeth")):
        return "mouth"
    return f"eye_{side}"


def lines_by_feature(points: Array, choices: FeatureChoices = PLAIN) -> list[FeatureLine]:
    """Strokes laid through a front face's landmarks ``(n, 2)``, in the landmarks' own units; none through missing ones."""
    middle = float(points[there(points)][:, 0].mean())
    out = []
    for s in strokes(points - [middle, 0], choices):
        p = s.path
        if np.isfinite(p.points).all():
            out.append(FeatureLine(feature_of(p), np.asarray(p.points, float) + [middle, 0], p.role, p.closed, p.filled))
    return out
