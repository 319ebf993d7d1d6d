"""Strokes: a centre line and a width profile, and the outline they fill."""

from __future__ import annotations

from collections.abc import Sequence
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


def length(points: Array) -> float:
    """Of a line through points ``(n, 2)``, in their own unit."""
    return float(np.hypot(*np.diff(points, axis=0).T).sum())


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


def outlines(lines: Sequence[tuple[Array, Array]], step: float = FINE) -> tuple[Array, Array]:
    """What many open strokes fill, all at once: the corners of their outlines ``(n, 2)`` one behind the other, and how many each has.

    The same shapes as :func:`outline` gives one by one; strokes of fewer than two places are left out. All run round the same way.
    """
    raw = [(p, w) for p, w in lines if len(p) > 1]
    if not raw:
        return np.zeros((0, 2)), np.zeros(0, int)
    n = np.array([len(p) for p, _ in raw])
    points, widths = np.concatenate([p for p, _ in raw]), np.concatenate([w for _, w in raw])
    far = np.append(1.0, np.hypot(*(points[1:] - points[:-1]).T))
    far[n.cumsum() - n] = 1.0  # the first of each
    keep = far > 1e-6
    owner = np.repeat(np.arange(len(n)), n)[keep]
    points, widths = points[keep], widths[keep]
    n = np.bincount(owner, minlength=len(n))
    good = n > 1
    if not good.all():
        sound = good[owner]
        points, widths, n = points[sound], widths[sound], n[good]
        if not len(n):
            return np.zeros((0, 2)), np.zeros(0, int)
    p, w, m = _fine_all(points, widths, n, step)
    first = m.cumsum() - m
    last = first + m - 1
    t = np.empty_like(p)
    t[1:-1] = (p[2:] - p[:-2]) / 2
    t[first], t[last] = p[first + 1] - p[first], p[last] - p[last - 1]
    t /= np.maximum(np.hypot(*t.T), 1e-12)[:, None]
    normal = np.column_stack([-t[:, 1], t[:, 0]])
    side = normal * w[:, None] / 2
    caps = len(_CAP)
    count = 2 * m + 2 * caps
    start = count.cumsum() - count
    out = np.empty((int(count.sum()), 2))
    k = np.arange(len(p)) - np.repeat(first, m)
    base = np.repeat(start, m)
    out[base + k] = p + side
    out[base + 2 * np.repeat(m, m) + caps - 1 - k] = p - side
    sin, cos = np.sin(_CAP)[None, :, None], np.cos(_CAP)[None, :, None]
    for at, sign, shift in ((last, 1.0, m), (first, -1.0, 2 * m + caps)):
        r = (w[at] / 2)[:, None, None]
        cap = p[at][:, None] + sign * r * (cos * normal[at][:, None] + sin * t[at][:, None])
        out[((start + shift)[:, None] + np.arange(caps)).ravel()] = cap.reshape(-1, 2)
    return out, count


def _fine_all(points: Array, widths: Array, n: Array, step: float) -> tuple[Array, Array, Array]:
    """:func:`fine` for many lines one behind the other."""
    first = n.cumsum() - n
    last = first + n - 1
    h = np.append(0.0, np.hypot(*(points[1:] - points[:-1]).T))
    h[first] = 0.0
    gap = np.ones(len(points))
    along = (h + np.where(np.isin(np.arange(len(h)), first), gap, 0.0)).cumsum()  # lines kept apart by one
    ahead, behind = np.append(h[1:], 1.0), h.copy()
    ahead[last], behind[first] = 1.0, 1.0
    up, down = np.zeros_like(points), np.zeros_like(points)
    up[:-1], down[1:] = (points[1:] - points[:-1]), (points[1:] - points[:-1])
    up /= ahead[:, None]
    down /= behind[:, None]
    slope = (up * behind[:, None] + down * ahead[:, None]) / (ahead + behind)[:, None]
    slope[first], slope[last] = up[first], down[last]
    whole = along[last] - along[first]
    m = np.clip(whole / step, 2, MOST).astype(int) + 1
    owner = np.repeat(np.arange(len(m)), m)
    k = np.arange(len(owner)) - np.repeat(m.cumsum() - m, m)
    s = along[first][owner] + whole[owner] * k / (m - 1)[owner]
    i = np.clip(np.searchsorted(along, s, side="right") - 1, first[owner], last[owner] - 1)
    d = h[i + 1][:, None]
    u = (s - along[i])[:, None] / np.maximum(d, 1e-12)
    u2, u3 = u * u, u * u * u
    out = (2 * u3 - 3 * u2 + 1) * points[i] + (u3 - 2 * u2 + u) * d * slope[i]
    out += (3 * u2 - 2 * u3) * points[i + 1] + (u3 - u2) * d * slope[i + 1]
    return out, np.interp(s, along, widths), m
