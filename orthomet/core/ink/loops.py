"""Small loops of an outline: where the edge of a form rolls over itself a pen draws no loop, it goes on from where the line meets itself."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from ..kinds import Array
from .stroke import Stroke
from .surface import Pen

WINDOW = 32
"""Samples a loop has at most."""


def without_loops(strokes: Sequence[Stroke], most: float) -> list[Stroke]:
    """The strokes, open outlines without loops that are no longer than ``most`` (in the strokes' own unit)."""
    at = [k for k, s in enumerate(strokes) if s.pen is Pen.CONTOUR and not s.closed and len(s.points) > 3]
    out = list(strokes)
    if not at:
        return out
    n = np.array([len(strokes[k].points) for k in at])
    start = n.cumsum() - n
    owner = np.repeat(np.arange(len(at)), n)
    points = np.concatenate([strokes[k].points for k in at])
    first, last, t = _meetings(points, owner, most)
    for whose in np.unique(owner[first]).tolist():
        mine = owner[first] == whose
        s = strokes[at[whose]]
        out[at[whose]] = _shortened(s, first[mine] - start[whose], last[mine] - start[whose], t[mine])
    return out


def _meetings(points: Array, owner: Array, most: float) -> tuple[Array, Array, Array]:
    """Where a line meets itself: the segment before the loop, the one after it, and how far along the first."""
    step = np.diff(points, axis=0)
    along = np.concatenate([[0.0], np.hypot(*step.T).cumsum()])
    firsts, lasts, shares = [], [], []
    for d in range(2, min(WINDOW, len(step) - 1)):
        i = np.flatnonzero((owner[:-1][: len(step) - d] == owner[1:][d:]) & (along[d:-1] - along[1 : len(step) - d + 1] < most))
        j = i + d
        q = points[j] - points[i]
        den = step[i, 0] * step[j, 1] - step[i, 1] * step[j, 0]
        den = np.where(np.abs(den) < 1e-15, np.inf, den)
        t = (q[:, 0] * step[j, 1] - q[:, 1] * step[j, 0]) / den
        u = (q[:, 0] * step[i, 1] - q[:, 1] * step[i, 0]) / den
        hit = (t > 0) & (t < 1) & (u > 0) & (u < 1)
        firsts.append(i[hit])
        lasts.append(j[hit])
        shares.append(t[hit])
    if not firsts:
        return np.zeros(0, int), np.zeros(0, int), np.zeros(0)
    return np.concatenate(firsts), np.concatenate(lasts), np.concatenate(shares)


def _shortened(s: Stroke, first: Array, last: Array, t: Array) -> Stroke:
    """A stroke without its loops; of loops in one another the one that begins first goes."""
    keep, points = np.ones(len(s.points), bool), s.points.copy()
    done = -1
    for k in np.lexsort((-last, first)).tolist():
        i, j = int(first[k]), int(last[k])
        if i <= done:
            continue
        points[i + 1] = s.points[i] + t[k] * (s.points[i + 1] - s.points[i])
        keep[i + 2 : j + 1] = False
        done = j
    return replace(s, points=points[keep], widths=s.widths[keep])
