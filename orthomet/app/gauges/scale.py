"""The gauge's scale: spreads from the norm, linear near it, gathering outward, the same for every row."""

from __future__ import annotations

import math

REACH, BEND = 5.0, 2.0


def squash(z: float) -> float:
    """Spreads → −1…1. Never off the scale, order always kept."""
    return max(-1.0, min(1.0, math.asinh(z / BEND) / math.asinh(REACH / BEND)))


def unsquash(u: float) -> float:
    return BEND * math.sinh(u * math.asinh(REACH / BEND))
