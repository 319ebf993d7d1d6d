"""Plain shapes fitted to a contour, and the choice between them.

To first order the area between a contour and a shape is ∫|d| ds, d the shape's signed distance along the contour; so the fit minimises
Σ ds √(d² + ε²), ε = 0.4 % of √area: a smooth 1 − IoU, that single bad stretches do not spoil. Twelve turns are tried in one batch of
distances, the best refined by reweighted, damped Gauss–Newton steps.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .contour import arc, area, overlap, perimeter, polygon, resampled
from .plain import KINDS, Distance, Plain, outline, tidy

PRICE = 0.0032
"""Overlap that one more number of a shape has to earn (own, by trial on noisy outlines)."""
TOSS_UP = 0.0012
"""Scores nearer than this leave the choice open (own)."""
NEARLY = 0.035
"""A simpler shape that loses less overlap than this is still seen in it: “between round and egg” (own)."""
POINTS = 60
EPSILON = 0.004
LEANS, FAIR = 5, 0.010
"""Which number of a triangle says how it leans; a fit as near as a hand's noise allows."""
HOPELESS = 2.5
"""A start that is so many times as far off as the best kind so far, after a few steps, is given up."""
TRIES, DIFFERENT = 3, 0.7
"""Starts tried at most, and radians between their turns."""
BOX = {"egg": ((0.15,), (-0.15,)), "rounded-rectangle": ((0.4,),), "triangle": ((0.0, 0.05),), "heart": ((-0.25,),),
       "kite": ((0.0, 0.06), (0.35, 0.06), (-0.35, 0.06))}  # fmt: skip
"""Own numbers a fit starts from."""


@dataclass(frozen=True, eq=False)
class Fit:
    shape: Plain
    overlap: float
    """Intersection over union with the contour, 0…1."""
    score: float
    """Overlap less the price of the shape's numbers."""
    value: float = np.inf
    """Mean distance along the contour, in √area."""

    @property
    def kind(self) -> str:
        return self.shape.kind


@dataclass(frozen=True, eq=False)
class Choice:
    """Fits, best first."""

    fits: tuple[Fit, ...]

    @property
    def best(self) -> Fit:
        return self.fits[0]

    @property
    def margin(self) -> float:
        """Score of the best over the next."""
        return self.fits[0].score - self.fits[1].score if len(self.fits) > 1 else self.fits[0].score

    @property
    def other(self) -> Fit | None:
        """What it might be called as well: a simpler shape that does nearly as well, or one that ties."""
        best = self.best
        simpler = [
            f for f in self.fits[1:] if KINDS[f.kind].numbers < KINDS[best.kind].numbers and best.overlap - f.overlap < NEARLY
        ]
        if simpler:
            return max(simpler, key=lambda f: f.overlap)
        return self.fits[1] if len(self.fits) > 1 and self.margin < TOSS_UP else None

    @property
    def words(self) -> str:
        return self.best.kind if self.other is None else f"between {self.other.kind} and {self.best.kind}"


def _starts(kind: str, q: Array, turns: Array) -> Array:
    """Where the fit may start at every turn: the box of the turned contour, ``(m, k)``."""
    c, s = np.cos(turns)[:, None], np.sin(turns)[:, None]
    u, v = c * q[None, :, 0] + s * q[None, :, 1], c * q[None, :, 1] - s * q[None, :, 0]
    mu, mv = (u.min(1) + u.max(1)) / 2, (v.min(1) + v.max(1)) / 2
    a, h = np.ptp(u, 1) / 2, np.ptp(v, 1) / 2
    place = [c[:, 0] * mu - s[:, 0] * mv, s[:, 0] * mu + c[:, 0] * mv, turns]
    if kind == "circle":
        return np.array([[*q.mean(0), 0.0, np.log(np.hypot(*(q - q.mean(0)).T).mean())]])
    if kind == "capsule":
        return np.asarray(np.column_stack([*place, np.log(a), np.log(np.maximum(h - a, 0.05 * a))])[h > a * 0.98])
    if kind == "trapezoid":
        low = v > mv[:, None]
        wide = np.abs(u - mu[:, None])
        w1, w0 = (wide * low).sum(1) / low.sum(1), (wide * ~low).sum(1) / (~low).sum(1)
        q_ = np.clip(1.6 * (w1 - w0) / (w1 + w0), -0.9, 0.9)
        return np.column_stack([*place, np.log(a / (1 + np.abs(q_))), np.log(h), q_, np.full_like(a, 0.05)])
    more = BOX.get(kind, ((),))
    return np.vstack([np.column_stack([*place, np.log(a), np.log(h), *(np.full_like(a, e) for e in extra)]) for extra in more])


def fit(
    kind: str,
    c: Array,
    upright: float | None = None,
    points: int = POINTS,
    weight: Array | None = None,
    steps: int = 18,
    ceiling: float = np.inf,
    near: Plain | None = None,
) -> Fit:
    """The shape of one kind nearest to a contour.

    Parameters
    ----------
    upright
        The turn is held within this many degrees of 0; None: any turn.
    weight
        How much every point of the contour counts; the score is then of the area missed, so weighted.
    ceiling
        What another kind came to: what is far over it after a few steps is given up there.
    near
        A shape of this kind it is not far from, where one is known: nothing else is tried.
    """
    k = KINDS[kind]
    q = resampled(c, points)
    ds = np.hypot(*(np.roll(q, -1, 0) - q).T)
    ds = (ds + np.roll(ds, 1)) / 2
    scale, middle = float(np.sqrt(max(abs(area(q)), 1e-18))), q.mean(0)
    q = (q - middle) / scale
    ds = ds / ds.sum()
    if weight is not None:
        s, whole = arc(c)
        ds = ds * np.interp(np.arange(points) * whole / points, s, weight)
    count = 3 + k.sizes + len(k.bounds)
    low = np.array([-9.0, -9.0, -99.0, *[-6.0] * k.sizes, *[b[0] for b in k.bounds]])
    high = np.array([9.0, 9.0, 99.0, *[4.0] * k.sizes, *[b[1] for b in k.bounds]])
    if upright is None:
        cov = np.cov(q.T)
        base = 0.5 * np.arctan2(2 * cov[0, 1], cov[0, 0] - cov[1, 1]) + np.pi / 2
        turns = base + np.arange(12) * (2 * np.pi if k.full_turn else np.pi) / 12
    else:
        turns = np.zeros(1)
        low[2], high[2] = -np.radians(upright), np.radians(upright)
    if near is not None:
        p = near.p.copy()
        p[:2] = (p[:2] - middle) / scale
        p[3 : 3 + k.sizes] -= np.log(scale)
        starts = p[None]
    else:
        starts = _starts(kind, q, turns)
    if not len(starts):
        return Fit(Plain(kind, np.array([*middle, *[0.0] * (count - 2)])), 0.0, -1.0)
    free = np.array([i for i in range(count) if not (i == 2 and (kind == "circle" or upright == 0))])
    even = free[free != LEANS] if kind == "triangle" and near is None else free
    value, p = _refined(k.distance, q, ds, starts, even, low, high, steps, ceiling)
    if kind == "triangle" and value > FAIR and near is None:  # one that leans has to be clearly better
        other, leaning = _refined(k.distance, q, ds, np.vstack([p[None], starts]), free, low, high, steps, ceiling)
        if other < 0.85 * value:
            value, p = other, leaning
    p = p.copy()
    p[:2] = p[:2] * scale + middle
    p[3 : 3 + k.sizes] += np.log(scale)
    found = Plain(kind, tidy(kind, p))
    covered = overlap(polygon(q * scale + middle), polygon(outline(kind, p, 128)))
    if weight is not None:
        return Fit(found, covered, 1 - perimeter(q) * value - 2.2 * PRICE * k.numbers, value)
    return Fit(found, covered, covered - PRICE * k.numbers, value)


def _apart(starts: Array, values: Array) -> list[int]:
    """Up to :data:`TRIES` starts, the best first, that differ in turn or in their own numbers."""
    found: list[int] = []
    for s in np.argsort(values):
        far = [
            abs((starts[s, 2] - starts[k, 2] + np.pi) % (2 * np.pi) - np.pi) > DIFFERENT
            or (starts.shape[1] > 5 and abs(starts[s, 5] - starts[k, 5]) > 0.2)
            for k in found
        ]
        if all(far):
            found.append(int(s))
            if len(found) == TRIES:
                break
    return found


def _refined(
    distance: Distance, q: Array, ds: Array, starts: Array, free: Array, low: Array, high: Array, steps: int, ceiling: float
) -> tuple[float, Array]:
    """The least of Σ ds √(d² + ε²) from the best starts, all of them stepped together, and its parameters."""
    x, y = q[:, 0].copy(), q[:, 1].copy()
    e2 = EPSILON * EPSILON

    def value(d: Array) -> Array:
        return np.asarray((np.sqrt(d * d + e2) * ds).sum(-1))

    chosen = _apart(starts, value(distance(starts, x, y)))
    p = np.clip(starts[chosen], low, high)
    m, k, f = len(p), p.shape[1], len(free)
    step = np.zeros((1 + f, k))
    step[np.arange(1, 1 + f), free] = 1e-4
    eye = np.arange(f)

    def around(v: Array) -> Array:
        return distance((v[:, None] + step[None]).reshape(-1, k), x, y).reshape(len(v), 1 + f, -1)

    d = around(p)
    now, damp, live = value(d[:, 0]), np.full(m, 1e-3), np.arange(m)
    for count in range(steps):
        j = (d[live, 1:] - d[live, :1]) / 1e-4
        w = ds / np.sqrt(d[live, 0] ** 2 + e2)
        jw = j * w[:, None]
        h, g = jw @ j.transpose(0, 2, 1), (jw @ d[live, 0][..., None])
        h[:, eye, eye] += damp[live, None] * (h[:, eye, eye] + 1e-9)
        by = np.zeros((len(live), k))
        by[:, free] = -np.linalg.solve(h, g)[..., 0]
        tried = np.clip(p[live] + np.clip(by, -0.5, 0.5), low, high)
        d_ = around(tried)
        then = value(d_[:, 0])
        better = then < now[live] - 1e-12
        gain = np.where(better, now[live] - then, 0.0)
        take = live[better]
        p[take], d[take], now[take] = tried[better], d_[better], then[better]
        damp[live] = np.where(better, damp[live] / 4, damp[live] * 8 + 1e-6)
        done = (better & (gain < 1.5e-3 * now[live])) | (damp[live] > 1e3)
        if count >= 4:  # what is far behind by then does not catch up
            done |= now[live] > HOPELESS * min(float(now.min()), ceiling) + 0.01
        live = live[~done]
        if not len(live):
            break
    best = int(np.argmin(now))
    return float(now[best]), p[best]


def choose(
    c: Array,
    kinds: Sequence[str] = (),
    upright: float | None = None,
    weight: Array | None = None,
    points: int = POINTS,
    steps: int = 18,
) -> Choice:
    """Every kind fitted, best first."""
    found: list[Fit] = []
    best = np.inf
    for k in kinds or KINDS:
        found.append(fit(k, c, upright, points, weight, steps, best))
        best = min(best, found[-1].value)
    return Choice(tuple(sorted(found, key=lambda f: -f.score)))
