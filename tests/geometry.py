"""Plane geometry for tests, apart from the project's own."""

from __future__ import annotations

import numpy as np
from skimage.measure import points_in_poly

from orthomet.core.kinds import Array


def within(points: Array, shape: Array) -> Array:
    """Whether points lie inside a closed polygon (scikit-image)."""
    if not len(points):
        return np.zeros(0, bool)
    return np.asarray(points_in_poly(points, shape))


def grown(outline: Array, by: float) -> Array:
    """An outline moved outward from its middle."""
    middle = outline.mean(0)
    d = outline - middle
    return np.asarray(middle + d * (1 + by / np.maximum(np.linalg.norm(d, axis=1, keepdims=True), 1e-9)))
