"""Robust similarity registration of a drawing's landmarks to the plan's.

``q ≈ s·R·p + t`` by weighted Procrustes (Umeyama, *IEEE PAMI* 13(4), 1991, without the reflection case), iterated with
bisquare weights so that a few features the artist moved do not drag the whole face along (Tukey's biweight; Huber &
Ronchetti, *Robust Statistics*, 2009).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import LandmarkError
from ..kinds import Array, there

ROUNDS, FEW_ROUNDS = 40, 4
SETTLED, CLOSE = 1e-9, 1e-4
"""Heads: a round that moves no point further is the last; while a hand is followed (own)."""
FLOOR = 0.002
"""Residuals below this many heads are the hand's own and never down-weighted (own)."""


@dataclass(frozen=True)
class Similarity:
    """``q = p @ matrix.T + shift``; ``scale`` head units per drawing pixel."""

    matrix: Array
    shift: Array

    @property
    def scale(self) -> float:
        return float(np.hypot(self.matrix[0, 0], self.matrix[1, 0]))

    @property
    def roll(self) -> float:
        """Clockwise turn of the drawing against the plan, radians."""
        return float(-np.arctan2(self.matrix[1, 0], self.matrix[0, 0]))

    def __call__(self, p: Array) -> Array:
        out: Array = p @ self.matrix.T + self.shift
        return out

    def inverse(self) -> Similarity:
        m = np.linalg.inv(self.matrix)
        return Similarity(m, -m @ self.shift)


def fit(p: Array, q: Array, weights: Array | None = None) -> Similarity:
    """Least-squares similarity from ``p`` to ``q``, both ``(n, 2)``."""
    w = np.ones(len(p)) if weights is None else weights
    total = w.sum()
    cp, cq = w @ p / total, w @ q / total
    a, b = p - cp, q - cq
    size = float(w @ (a * a).sum(1))
    if size <= 0:
        raise LandmarkError("The drawing's landmarks lie on one spot.")
    c = float(w @ (a * b).sum(1)) / size
    s = float(w @ (a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0])) / size
    m = np.array([[c, -s], [s, c]])
    return Similarity(m, cq - m @ cp)


def register(p: Array, q: Array) -> Similarity:
    """Robust similarity from drawing points to plan points; rows with nan on either side are left out.

    Raises
    ------
    LandmarkError
        Fewer than three points in common.
    """
    both = there(p) & there(q)
    if both.sum() < 3:
        raise LandmarkError("At least three landmarks of the plan have to be on the drawing before it can be checked.")
    p, q = p[both], q[both]
    # Start from the pair-wise median scale and turn: half the points may be off before it breaks.
    i, j = np.triu_indices(len(p), 1)
    u, v = (p[j] - p[i]) @ (1, 1j), (q[j] - q[i]) @ (1, 1j)
    long = np.abs(u) > 0.25 * np.abs(u).max()
    z = v[long] / u[long]
    m0 = complex(np.median(z.real), np.median(z.imag))
    m = np.array([[m0.real, -m0.imag], [m0.imag, m0.real]])
    return _agreed(p, q, Similarity(m, np.median(q - p @ m.T, axis=0)), ROUNDS, SETTLED)


def registered_on(p: Array, q: Array, start: Similarity) -> Similarity:
    """The same from a registration that was right a moment ago: what follows a hand that drags."""
    both = there(p) & there(q)
    return _agreed(p[both], q[both], start, FEW_ROUNDS, CLOSE) if both.sum() >= 3 else start


def _agreed(p: Array, q: Array, found: Similarity, rounds: int, settled: float) -> Similarity:
    middle = len(p) // 2
    d = found(p) - q
    for _ in range(rounds):
        r = (d * d).sum(1)
        near = np.partition(r, (middle - 1 + len(p) % 2, middle))  # the median without its overhead
        half = (np.sqrt(near[middle]) + np.sqrt(near[middle - 1 + len(p) % 2])) / 2
        reach = 6 * max(float(half), FLOOR)
        w = np.clip(1 - r / reach**2, 0, None) ** 2
        found, before = fit(p, q, w + 1e-9), d
        d = found(p) - q
        if np.abs(d - before).max() < settled:
            break
    return found
