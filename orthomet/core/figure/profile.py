"""Drawn profiles: smooth curves through a few places, and what rounds, swells and closes a mass.

A profile is linear in its values (cubic Hermite, slopes of the parabola through a place and its neighbours, then softened), so
that one operator serves every figure whose places are the same.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from ..ink.surface import smooth_step
from ..kinds import Array

SPOKES = 40
"""Around a mass: spoke 0 looks forward, a quarter on to the figure's left."""
PHI = 2 * np.pi * np.arange(SPOKES) / SPOKES
SIN, COS = np.sin(PHI), np.cos(PHI)
FINE = 321
"""Places a profile is worked out at between its first and its last."""

Knots = Sequence[tuple[float, float]]


@lru_cache(maxsize=256)
def _operator(places: tuple[float, ...], soft: float) -> Array:
    """Values at the knots → values at :data:`FINE` even places, softened: ``(FINE, knots)``."""
    x = np.array(places)
    n = len(x)
    h = np.diff(x)
    slope = np.zeros((n, n))
    slope[0, :2] = slope[-1, -2:] = 0
    slope[0, 0], slope[0, 1] = -1 / h[0], 1 / h[0]
    slope[-1, -2], slope[-1, -1] = -1 / h[-1], 1 / h[-1]
    for i in range(1, n - 1):
        a, b = h[i] / (h[i - 1] + h[i]), h[i - 1] / (h[i - 1] + h[i])
        slope[i, i - 1] -= a / h[i - 1]
        slope[i, i] += a / h[i - 1] - b / h[i]
        slope[i, i + 1] += b / h[i]
    s = np.linspace(x[0], x[-1], FINE)
    k = np.clip(np.searchsorted(x, s, side="right") - 1, 0, n - 2)
    w = h[k][:, None]
    u = ((s - x[k]) / h[k])[:, None]
    eye = np.eye(n)
    u2, u3 = u * u, u * u * u
    out = (2 * u3 - 3 * u2 + 1) * eye[k] + (u3 - 2 * u2 + u) * w * slope[k]
    out += (3 * u2 - 2 * u3) * eye[k + 1] + (u3 - u2) * w * slope[k + 1]
    sigma = soft / (s[1] - s[0])
    if sigma > 0.05:
        reach = int(np.ceil(4 * sigma))
        kernel = np.exp(-0.5 * (np.arange(-reach, reach + 1) / sigma) ** 2)
        kernel /= kernel.sum()
        wide = np.concatenate([np.repeat(out[:1], reach, 0), out, np.repeat(out[-1:], reach, 0)])
        out = np.stack([np.convolve(column, kernel, "valid") for column in wide.T], -1)
    return np.asarray(out)


def profile(at: Array, knots: Knots, soft: float = 0.012) -> Array:
    """A smooth curve through ``(place, value)`` knots, at places; beyond its ends it stays level."""
    places = tuple(p for p, _ in knots)
    fine = _operator(places, soft) @ np.array([v for _, v in knots], float)
    return np.asarray(np.interp(at, np.linspace(places[0], places[-1], FINE), fine))


def swelling(x: Array, y: Array, cx: float, cy: float, rx: float, up: float, down: float, power: float = 1.6) -> Array:
    """1 in the middle, 0 outside of an ellipse; its slope below may be steeper than above."""
    q = ((x - cx) / rx) ** 2 + ((y - cy) / np.where(y < cy, up, down)) ** 2
    return np.asarray(np.clip(1 - q, 0, 1) ** power)


def ring(outer: Array, inner: Array, front: Array, back: Array, squareness: Array | float = 2.1) -> tuple[Array, Array]:
    """Offsets across and forward, ``(rows, spokes)`` each, of rows with four radii."""
    e = 2 / np.broadcast_to(np.asarray(squareness, float), outer.shape)[:, None]
    across, ahead = np.sign(SIN) * np.abs(SIN) ** e, np.sign(COS) * np.abs(COS) ** e
    return np.where(SIN > 0, outer[:, None], inner[:, None]) * across, np.where(COS > 0, front[:, None], back[:, None]) * ahead


def rounded(at: Array, end: float, whole: float) -> Array:
    """Closes a mass: 0 at its end, 1 from ``whole`` on."""
    q = np.clip((whole - at) / (whole - end), 0, 1)
    return np.asarray(np.sqrt(np.maximum(1 - q * q, 1e-4)))


def hill(at: Array, middle: float, wide: float, power: float = 2.0) -> Array:
    """1 in the middle, falling off on both sides."""
    return np.asarray(np.exp(-(np.abs((at - middle) / wide) ** power)))


def eased(v: Array | float, start: float, over: float) -> Array:
    """0 up to a place, 1 from ``over`` behind it on."""
    return smooth_step((np.asarray(v, float) - start) / over)
