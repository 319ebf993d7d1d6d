"""A plain standing figure for the cast strip: true height, heads tall by age, no more.

Heads tall by age come from the youth table; breadths are own, after common practice.
"""

from __future__ import annotations

import numpy as np

from ..kinds import Array
from ..proportions.growth import heads_tall

# Half widths down one side in heads, heights from the floor as shares of the body below the chin.
_SIDE = (
    (1.000, 0.13), (0.965, 0.15), (0.945, 0.42), (0.915, 0.66), (0.86, 0.72), (0.70, 0.74), (0.56, 0.79), (0.485, 0.80),
    (0.465, 0.70), (0.48, 0.50), (0.40, 0.47), (0.26, 0.40), (0.20, 0.38), (0.045, 0.27), (0.030, 0.36), (0.0, 0.37),
)  # fmt: skip


def standing(height_m: float, age: float, breadth: float = 1.0) -> Array:
    """Closed outline in metres, floor at y = 0, y upward, shape ``(n, 2)``.

    ``breadth`` scales the body's widths (the head stays).
    """
    heads = heads_tall(age)
    hh = height_m / heads
    body = height_m - hh
    a = np.linspace(-0.42 * np.pi, 0.5 * np.pi, 15)
    head = np.column_stack([0.34 * hh * np.cos(a), body + hh * (0.5 + 0.5 * np.sin(a))])[::-1]
    young = np.interp(heads, [4, 7.5], [0.66, 1.0])
    side = np.array([(w * hh * young * breadth if s < 0.99 else w * hh, s * body) for s, w in _SIDE])
    crotch = np.array([(0.02 * hh, 0.0), (0.03 * hh, 0.46 * body)])
    right = np.vstack([head, side, crotch])
    return np.vstack([right, (right * np.array([-1, 1]))[::-1]])
