"""Strokes: a centre line and a width profile, and the outline they fill."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .surface import Pen, Stuff

MOST = 20_000
FINE = 0.004
"""Heads from point to point of an outline."""
_CAP = np.linspace(0, np.pi, 7)[1:-1]


@dataclass(frozen=True)
class Weights:
    """Full widths in heads (own, after what brush drawings of this size show: the outline twice an inner line)."""

    outer: float = 0.0112
    edge: float = 0.0088
    inner: float = 0.0060
    feature: float = 0.0078

    @property
    def strand(self) -> float:
        return 0.73 * self.inner

    @property
    def detail(self) -> float:
        return 0.62 * self.feature


USUAL = Weights()


@dataclass(frozen=True, eq=False)
class Stroke:
    """Centre line ``(n, 2)`` and full width ``(n,)`` in heads."""

    points: Array
    widths: Array
    pen: Pen
    name: str = ""
    closed: bool = False
    stuff: Stuff = Stuff.SKIN


def fine(points: Array, widths: Array, step: float = FINE) -> tuple[Array, Array]:
    """A smooth curve through samples (cubic Hermite, slopes by chord length), in steps of at most ``step``."""
    far = np.hypot(*(points[1:] - points[:-1]).T)
    along = np.concatenate([[0], far.cumsum()])
    s = np.linspace(0, along[-1], int(np.clip(along[-1] / step, 2, MOST)) + 1)
    slope = np.gradient(points, along, axis=0)
    i = np.clip(np.searchsorted(along, s, side="right") - 1, 0, len(far) - 1)
    h = far[i][:, None]
    u = (s - along[i])[:, None] / h
    u2, u3 = u * u, u * u * u
    out = (2 * u3 - 3 * u2 + 1) * points[i] + (u3 - 2 * u2 + u) * h * slope[i]
    out += (3 * u2 - 2 * u3) * points[i + 1] + (u3 - u2) * h * slope[i + 1]
    return out, np.interp(s, along, widths)


def outline(points: Array, widths: Array, closed: bool = False, step: float = FINE) -> list[Array]:
    """What a stroke fills (nonzero rule): one polygon, or two, the inner the other way round, where it is closed.

    Both sides of the centre line, half its width away, with round ends; nothing for less than two places.
    """
    keep = np.concatenate([[True], np.hypot(*(points[1:] - points[:-1]).T) > 1e-6])
    p, w = points[keep], widths[keep]
    if len(p) < 2:
        return []
    if len(p) > 2:
        p, w = fine(p, w, step)
    t = np.gradient(p, axis=0)
    if closed and len(p) > 8:
        t[0] = t[-1] = p[1] - p[-2]
    t /= np.maximum(np.hypot(*t.T), 1e-12)[:, None]
    n = np.column_stack([-t[:, 1], t[:, 0]])
    side = n * w[:, None] / 2
    if closed and len(p) > 8:
        return [p + side, (p - side)[::-1]]
    end = p[-1] + w[-1] / 2 * (np.cos(_CAP)[:, None] * n[-1] + np.sin(_CAP)[:, None] * t[-1])
    begin = p[0] - w[0] / 2 * (np.cos(_CAP)[:, None] * n[0] + np.sin(_CAP)[:, None] * t[0])
    return [np.concatenate([p + side, end, (p - side)[::-1], begin])]
