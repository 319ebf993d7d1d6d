"""Affine maps of the plane as ``(2, 3)`` arrays: q = p @ m[:, :2].T + m[:, 2]."""

from __future__ import annotations

import numpy as np

from ..kinds import Array
from ..landmarks.register import fit

SAME = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])
BIWEIGHT = 4.685
"""Tukey's biweight reaches so many standard deviations (Huber & Ronchetti, *Robust Statistics*, 2009)."""
NORMAL = 1.4826
"""Standard deviation over median absolute deviation of a normal distribution."""


def still(m: Array) -> bool:
    """Whether a map leaves a picture of a few thousand pixels where it is, to a few hundredths of one."""
    return bool(np.abs(m[:, :2] - SAME[:, :2]).max() < 1e-5 and np.abs(m[:, 2]).max() < 0.01)


def put(m: Array, p: Array) -> Array:
    """Points ``(n, 2)`` or ``(2,)`` under a map."""
    return np.asarray(p @ m[:, :2].T + m[:, 2])


def after(second: Array, first: Array) -> Array:
    """One map that does ``first``, then ``second``."""
    return np.column_stack([second[:, :2] @ first[:, :2], second[:, :2] @ first[:, 2] + second[:, 2]])


def undone(m: Array) -> Array:
    """The map back."""
    back = np.linalg.inv(m[:, :2])
    return np.column_stack([back, -back @ m[:, 2]])


def turned(scale: float, degrees: float) -> Array:
    """A similarity about the origin."""
    c, s = scale * np.cos(np.radians(degrees)), scale * np.sin(np.radians(degrees))
    return np.array([[c, -s, 0.0], [s, c, 0.0]])


def scale_and_turn(m: Array) -> tuple[float, float]:
    """A map's scale, and its turn in degrees."""
    return float(np.hypot(m[0, 0], m[1, 0])), float(np.degrees(np.arctan2(m[1, 0], m[0, 0])))


def agreed(p: Array, q: Array, weight: Array, start: Array, floor: float, rounds: int = 8) -> tuple[Array, Array]:
    """The similarity from ``p`` to ``q`` that most of the weight agrees on, and every point's distance from it.

    Iterated with bisquare weights from ``start`` moved by the median step; ``floor`` is the least spread assumed, pixels.
    """
    here = weight > 0
    m = start.copy()
    m[:, 2] += np.median((q - put(m, p))[here], axis=0)
    for _ in range(rounds):
        off = np.linalg.norm(put(m, p) - q, axis=1)
        reach = BIWEIGHT * max(NORMAL * float(np.median(off[here])), floor)
        w = weight * np.clip(1 - (off / reach) ** 2, 0, None) ** 2
        if w.sum() < 1e-6:
            break
        s = fit(p, q, w)
        m = np.column_stack([s.matrix, s.shift])
    return m, np.linalg.norm(put(m, p) - q, axis=1)
