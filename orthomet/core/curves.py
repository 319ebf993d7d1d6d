"""Smooth curves through tables, without the interpolation library being loaded before one is asked for."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from .kinds import Array


def pchip(x: Any, y: Any) -> Callable[[Any], Array]:
    """A monotone cubic through points ``x`` (rising), ``y``: no overshoot between them (Fritsch & Carlson 1980, SciPy's)."""
    from scipy.interpolate import PchipInterpolator

    return PchipInterpolator(x, y)
