"""Smooth curves through tables, without the interpolation library being loaded before one is asked for."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from .kinds import Array


def rising(x: Any, step: float = 1e-6) -> Array:
    """The same places, each at least a step behind the one before it, moved on where it was not."""
    k = step * np.arange(len(x))
    out: Array = np.maximum.accumulate(np.asarray(x, float) - k) + k
    return out


def pchip(x: Any, y: Any) -> Callable[[Any], Array]:
    """A monotone cubic through points ``x``, ``y``: no overshoot between them (Fritsch & Carlson 1980, SciPy's).

    Places that tie, or lie behind the one before, as those of a wild face may, are moved on (:func:`rising`).
    """
    from scipy.interpolate import PchipInterpolator

    curve: Callable[[Any], Array] = PchipInterpolator(rising(x), y)
    return curve
