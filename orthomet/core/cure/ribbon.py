"""A line as a brush makes it."""

from __future__ import annotations

import numpy as np

from ..kinds import Array
from ..picture import Ink, Trace


def ribbon(p: Array, wide: float, role: Ink, taper: float = 0.18) -> Trace:
    """A line as a brush makes it: thinner toward its ends. ``p`` ``(n, 2)``, ``wide`` in the same unit."""
    along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(p, axis=0).T))])
    long = max(float(along[-1]), 1e-9)
    near = np.minimum(along, long - along) / (taper * long + 1e-9)
    return Trace(p, role, widths=wide * (0.35 + 0.65 * np.clip(near, 0, 1) ** 0.7))
