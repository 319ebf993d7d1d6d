"""Kinds of reading and the transform each is compared in.

A positive *size* is compared by logarithm, a *station* (or any share of a span) by logit, a *signed* reading as it is.
With ``g`` the transform, the spread of a reading becomes ``sd·g'(norm)``, so that ``z = (g(v) − g(norm)) / (sd·g'(norm))``.
"""

from __future__ import annotations

from enum import StrEnum
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray

Array = NDArray[Any]
"""Any NumPy array; shapes and units are in the docstrings."""


class Kind(StrEnum):
    SIZE = "size"
    STATION = "station"
    SIGNED = "signed"
    COUNT = "count"
    PRESENCE = "presence"


SHARE_EDGE = 1e-6
"""Shares are held this far inside 0..1 before a logit (own: keeps extremes finite, far below one pixel)."""


def forward(kind: Kind, value: ArrayLike) -> Array:
    """Transform values of one kind; nan where the kind cannot hold the value (a size that is not positive).

    >>> forward(Kind.SIZE, [1.0, -2.0]).tolist(), forward(Kind.STATION, 0.5).item(), forward(Kind.SIGNED, -3.0).item()
    ([0.0, nan], 0.0, -3.0)
    """
    v = np.asarray(value, float)
    with np.errstate(invalid="ignore", divide="ignore"):
        if kind is Kind.SIZE:
            return np.asarray(np.where(v > 0, np.log(np.where(v > 0, v, 1.0)), np.nan))
        if kind is Kind.STATION:
            c = np.clip(v, SHARE_EDGE, 1 - SHARE_EDGE)
            return np.asarray(np.log(c / (1 - c)))
    return v.copy()


def backward(kind: Kind, value: ArrayLike) -> Array:
    """Inverse of :func:`forward`."""
    y = np.asarray(value, float)
    if kind is Kind.SIZE:
        return np.asarray(np.exp(y))
    if kind is Kind.STATION:
        return np.asarray(1 / (1 + np.exp(-y)))
    return y.copy()


def spread(kind: Kind, norm: ArrayLike, sd: ArrayLike) -> Array:
    """Standard deviation of the transformed reading, first order about the norm."""
    m, s = np.asarray(norm, float), np.asarray(sd, float)
    if kind is Kind.SIZE:
        return np.asarray(s / m)
    if kind is Kind.STATION:
        c = np.clip(m, SHARE_EDGE, 1 - SHARE_EDGE)
        return np.asarray(s / (c * (1 - c)))
    return s.copy()


def z_score(kind: Kind, value: ArrayLike, norm: ArrayLike, sd: ArrayLike) -> Array:
    """How many spreads a value lies from its norm, compared by kind.

    >>> round(z_score(Kind.SIZE, 0.30, norm=0.25, sd=0.025).item(), 2)
    1.82
    """
    return (forward(kind, value) - forward(kind, norm)) / spread(kind, norm, sd)


def there(points: Array) -> Array:
    """Which points have both coordinates, shape ``(...)`` for points ``(..., 2)``."""
    return np.asarray(np.isfinite(points).all(-1))
