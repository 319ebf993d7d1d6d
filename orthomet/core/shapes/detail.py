"""The detail dial: plain shape (0) … few straights and curves … the whole contour (1); and the dials of corners and of opposite sides.

Every level keeps the contour's own parameter: its point i answers the contour's. With E the largest distance between answering points,
levels stand along the dial evenly in log E, those that do not come nearer left out. Between two of them their departures from the contour
are blended, by just so much that the largest distance is what the dial says; where it would dip under the next level's, the last bit is
walked at that distance. So the distance never rises, is continuous, and is no less than the Hausdorff distance.
"""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property

import numpy as np

from ..kept import remembered
from ..kinds import Array
from .answering import nearest_in_order
from .contour import area, centroid, corners, simple, size_of, smoothed
from .pieces import Pieces, against, drawn, levels

FALLS = 0.93
"""A level is worth having when it comes nearer by so much."""
FARTHEST = 0.3
"""Levels that miss by more than this share of the size are left out."""
LAST_BIT = 0.85
BENDS = 135.0
"""Degrees one curve may turn and still look like a decision (own)."""
ROUNDEST = 0.045
"""Smoothing at the round end of the corner dial, a share of the length."""


class Dial:
    """One contour's dial, made once; where it stands is asked in every frame.

    Parameters
    ----------
    contour, found
        A part's contour and which of its points are corners.
    plain
        Outline of its plain shape, where detail is 0.
    mirror
        The contour is exactly symmetrical, and everything on the way is.
    weight
        Straights against curves, 0…1.
    """

    def __init__(self, contour: Array, found: Array, plain: Array, mirror: bool = False, weight: float = 0.0):
        self.contour, self.mirror = contour, mirror
        n = len(contour)
        self.size = size_of(contour)
        first = nearest_in_order(contour, plain)
        if mirror:
            x = float(contour[0, 0])
            other = first[(-np.arange(n)) % n]
            first = (first + np.column_stack([2 * x - other[:, 0], other[:, 1]])) / 2
        shapes, off, words, kept = [first], [max(self._off(first), 1e-3)], ["plain shape"], list[Pieces | None]([None])
        for p in levels(contour, found, mirror=mirror):
            v = drawn(p, n)
            e = self._off(v)
            if e < min(off[-1] * FALLS, FARTHEST) and simple(v) and p.widest_bend < BENDS:
                w = drawn(against(p, contour, weight), n) if weight > 0 and not mirror else v
                if not simple(w):
                    w = v
                shapes.append(w)
                off.append(e)
                words.append(p.words)
                kept.append(p)
        shapes.append(contour)
        off.append(min(off[-1] * 0.3, 0.004))
        words.append("contour")
        kept.append(None)
        self.shapes, self.off, self.words, self.pieces = shapes, np.array(off), words, kept
        g = -np.log(self.off)
        self.places = (g - g[0]) / (g[-1] - g[0])

    def _off(self, v: Array) -> float:
        return float(np.hypot(*(v - self.contour).T).max()) / self.size

    @cached_property
    def _first(self) -> list[float]:
        """For every step how far one has to go until the next level's distance is met for the first time; 1 unless it dips."""
        out = []
        for a, b, e in zip(self.shapes[:-1], self.shapes[1:], self.off[1:], strict=True):
            shares = np.linspace(0, 1, 33)
            da, db = a - self.contour, b - self.contour
            far = np.hypot(*np.moveaxis((1 - shares[:, None, None]) * da + shares[:, None, None] * db, -1, 0)).max(1) / self.size
            low = np.flatnonzero(far < e * (1 - 1e-6))
            out.append(1.0 if not len(low) else _falls_to(self._between(da, db), float(e), float(shares[low[0]])))
        return out

    def _between(self, a: Array, b: Array) -> Callable[[float], float]:
        return lambda f: float(np.hypot(*((1 - f) * a + f * b).T).max()) / self.size

    def level(self, x: float) -> int:
        """The level last passed where the dial stands at ``x``."""
        return int(np.clip(np.searchsorted(self.places, x + 1e-9, "right") - 1, 0, len(self.places) - 1))

    def at(self, x: float) -> Array:
        """The contour where the dial stands at ``x``, 0…1; 1 is the contour itself."""
        x = float(np.clip(x, 0, 1))
        if x >= 1:
            return self.contour
        j = min(self.level(x), len(self.places) - 2)
        if j == len(self.places) - 2:
            want = np.exp(np.interp(x, self.places, np.log(self.off)))
            f = float((self.off[j] - want) / (self.off[j] - self.off[j + 1]))
            return np.asarray(self.shapes[j] + f * (self.contour - self.shapes[j]))
        a, b = self.shapes[j] - self.contour, self.shapes[j + 1] - self.contour
        far, u = self._between(a, b), float((x - self.places[j]) / (self.places[j + 1] - self.places[j]))
        reach = self._first[j]
        if reach < 1 and u > LAST_BIT:
            f = reach + (1 - reach) * (u - LAST_BIT) / (1 - LAST_BIT)
            held = float(np.clip(self.off[j + 1] / max(far(f), 1e-9), 1, 2.5))
            return np.asarray(self.contour + ((1 - f) * a + f * b) * held)
        u = min(1.0, u / LAST_BIT) if reach < 1 else u
        f = _falls_to(far, float(self.off[j] ** (1 - u) * self.off[j + 1] ** u), reach)
        return np.asarray(self.contour + (1 - f) * a + f * b)

    def said(self, x: float) -> str:
        """What the dial stands at, in words."""
        return self.words[self.level(x)]


def _falls_to(far: Callable[[float], float], want: float, high: float = 1.0) -> float:
    """Where a falling distance meets what is wanted, by halving."""
    low = 0.0
    for _ in range(16):
        f = (low + high) / 2
        low, high = (f, high) if far(f) > want else (low, f)
    return high


@remembered(24)
def control_polygon(c: Array, mirror: bool = False) -> Array:
    """The contour with every bend as the corner its two tangents make."""
    found: Pieces | None = None
    for p in levels(c, corners(c), (4, 5, 6, 7, 8, 10, 12), 95.0, mirror):
        found = p
        if float(np.hypot(*(drawn(p, len(c)) - c).T).max()) / size_of(c) < 0.04:
            break
    return c if found is None else drawn(found, len(c), 1.0)


def cornered(c: Array, x: float, mirror: bool = False) -> Array:
    """Corners all round (0) … as they are (½) … all sharp (1), the area kept."""
    if abs(x - 0.5) < 1e-6:
        return c
    if x < 0.5:
        v = smoothed(c, (1 - 2 * x) ** 1.3 * ROUNDEST * len(c))
    else:
        v = c + (2 * x - 1) * (control_polygon(c, mirror) - c)
    if not simple(v):
        return c
    m, w = centroid(c), centroid(v)
    return np.asarray((v - w) * np.sqrt(abs(area(c) / area(v))) + m)
