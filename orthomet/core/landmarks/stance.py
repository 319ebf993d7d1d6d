"""Whether a figure's landmarks show it standing: only then crown to floor is its height.

A leg stands whose thigh and shin both run down, and whose thigh is not foreshortened toward the viewer, as a seated one's is. One such leg
is enough. Where no leg is marked nothing is known, and the marks are believed. Thresholds are own.
"""

from __future__ import annotations

import numpy as np

from ..kinds import Array
from .schema import Schema

DOWN = 0.70
"""A bone runs down when its fall is at least this share of its length: up to 45° off the plumb."""
SHORT = 0.62
"""A thigh shorter than this share of its shin points at the viewer."""


def stands(xy: Array, schema: Schema) -> bool:
    """``xy`` are landmarks of a figure in the schema's order, ``(n, 2)``, not a number where there is none."""
    known = False
    for side in "lr":
        hip, knee, ankle = (xy[schema.index[f"{n}_{side}"]] for n in ("trochanterion", "patella", "malleolus"))
        if not np.isfinite([hip, knee, ankle]).all():
            continue
        known = True
        thigh, shin = knee - hip, ankle - knee
        far, near = float(np.hypot(*thigh)), float(np.hypot(*shin))
        if thigh[1] >= DOWN * far and shin[1] >= DOWN * near and far >= SHORT * near:
            return True
    return not known
