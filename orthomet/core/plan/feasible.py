"""The nearest plan that is still a face.

Minimise ``Σ ((x − raw)/sd)²`` subject to the limits of :class:`Space` and the bounds. Cutting planes: the rows broken so
far are linearised and the least-distance step is solved as non-negative least squares (Lawson & Hanson, *Solving Least
Squares Problems*, 1974, ch. 23); if it does not settle, bisection toward an always feasible anchor. What the reference,
the norm or the style already break is granted as slack; the order of the features only the reference may break.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .space import Space

TOLERANCE = 1e-6
FIRM = 0.25
"""A trait farther than this many spreads from its centre may not be pushed back across it (own)."""
ROUNDS, DAMP_AFTER = 25, 8
FARTHEST = 300.0
"""A step of more spreads than this from what was asked has diverged (own)."""


@dataclass(frozen=True)
class Allowance:
    """What is allowed by decree: slack per row (≤ 0), the factor (≥ 1) by which a ratio may be broken, the widened bounds."""

    slack: Array
    ease: Array
    low: Array
    high: Array


@dataclass(frozen=True)
class Active:
    """A limit that holds the plan: index into the rows, or −1 with the trait's own bound; its share of the shift."""

    row: int
    trait: int
    share: float
    pull: Array


@dataclass(frozen=True)
class Feasible:
    x: Array
    active: tuple[Active, ...]
    rounds: int
    violation: float


def decree(space: Space, plans: list[Array]) -> Allowance:
    """Slack and bounds such that norm and style are feasible, but for the order of the features."""
    order = np.array([r.order for r in space.table.rows])
    slack: Array = np.zeros(len(order))
    ease: Array = np.ones(len(order))
    for x in plans:
        more, factor = _broken(space, x)
        slack, ease = np.minimum(slack, np.where(order, 0.0, more)), np.maximum(ease, factor)
    low, high = space.bounds
    return Allowance(slack, ease, np.minimum(low, np.min(plans, axis=0)), np.maximum(high, np.max(plans, axis=0)))


def allow(space: Space, reference: Array, base: Allowance, overlap: bool = False) -> Allowance:
    """The decree widened by what the reference itself breaks; a negative eye gap only where overlap is permitted."""
    more, factor = _broken(space, reference)
    low, high = np.minimum(base.low, reference), np.maximum(base.high, reference)
    if overlap:
        low[space.index["eye_gap_ew"]] = -np.inf
    return Allowance(np.minimum(base.slack, more), np.maximum(base.ease, factor), low, high)


def _broken(space: Space, x: Array) -> tuple[Array, Array]:
    """What a face breaks, as slack for places and as a factor for ratios of sizes, ``(rows,)`` each.

    A hooded eye whose iris is twice its opening may stay so hooded, and no more: slack in heads would let the iris grow to
    any number of ever smaller openings. Of alternatives only the one that is nearest to holding is eased.
    """
    h = space.room(x)
    if (h >= 0).all():
        return np.zeros(len(h)), np.ones(len(h))
    need = np.minimum(h, 0.0)
    for group in space.alternatives:
        best = max(group, key=lambda i: h[i])
        for i in group:
            need[i] = min(h[best], 0.0) if i == best else 0.0
    good, bad = space.sides(x)
    ratio = space.relative & (need < 0) & (good > 1e-6)
    factor = np.where(ratio, bad / np.where(ratio, good, 1.0), 1.0)
    return np.where(ratio, 0.0, need), np.maximum(factor, 1.0)


def _better_halves(space: Space, h: Array) -> Array:
    for group in space.alternatives:
        h[list(group)] = max(h[i] for i in group)
    return h


def worst(space: Space, x: Array, allowance: Allowance) -> float:
    """The tightest row at ``x`` (negative: broken), alternatives counted by their better half."""
    h = _better_halves(space, space.room(x, allowance.ease) - allowance.slack)
    return float(min(h.min(), (x - allowance.low).min(), (allowance.high - x).min()))


def _least_distance(g: Array, b: Array) -> tuple[Array, Array] | None:
    """``min |y|`` with ``g·y ≥ b`` → ``(y, multipliers)``; None when the rows contradict each other."""
    from scipy.optimize import nnls

    size = np.sqrt((g * g).sum(1)) + 1e-300
    g, b = g / size[:, None], b / size
    scale = max(1.0, float(b.max()))
    e = np.vstack([g.T, b / scale])
    f = np.zeros(len(e))
    f[-1] = 1
    try:
        u, rest = nnls(e, f, maxiter=20 * len(b))
    except RuntimeError:
        return None
    r = e @ u - f
    if rest < 1e-9 or -r[-1] < 1e-14:
        return None
    return -r[:-1] / r[-1] * scale, u * scale / -r[-1] / size


def _choose_alternatives(space: Space, h: Array, j: Array, sd: Array, centre: Array, allowance: Allowance) -> Array:
    """Of each either-or, keep the row that is nearest to holding (at the centre, when none holds)."""
    keep = np.ones(len(h), bool)
    for group in space.alternatives:
        idx = list(group)
        reach = h[idx] / (np.sqrt(((j[idx] * sd) ** 2).sum(1)) + 1e-12)
        if reach.max() < 0:
            hc, jc = space.rows(centre, allowance.ease)
            reach = (hc[idx] - allowance.slack[idx]) / (np.sqrt(((jc[idx] * sd) ** 2).sum(1)) + 1e-12)
        for i in idx:
            keep[i] = i == idx[int(np.argmax(reach))]
    return keep


def nearest_feasible(space: Space, raw: Array, centre: Array, sd: Array, allowance: Allowance, anchor: Array) -> Feasible:
    """Project ``raw`` onto the feasible plans.

    ``centre`` is the plan with no deviation (direction is kept about it), ``sd`` the spreads that weigh the traits,
    ``anchor`` a plan feasible by decree that the last resort falls back toward.
    """
    low, high, slack, ease = allowance.low, allowance.high, allowance.slack, allowance.ease
    if worst(space, centre, allowance) >= -TOLERANCE:
        off = (raw - centre) / sd
        low = np.where(off > FIRM, np.maximum(low, centre), low)
        high = np.where(off < -FIRM, np.minimum(high, centre), high)
        anchor = centre
    inside = (raw >= low - 1e-9).all() and (raw <= high + 1e-9).all()
    if inside and _better_halves(space, space.room(raw, ease) - slack).min() >= -TOLERANCE:
        return Feasible(raw.copy(), (), 0, 0.0)
    h, j = space.rows(raw, ease)
    keep = _choose_alternatives(space, h - slack, j, sd, centre, allowance)
    h = np.where(keep, h - slack, 1.0)
    broken, under, over = h < -TOLERANCE, raw < low - 1e-9, raw > high + 1e-9
    x = np.clip(raw, low, high)
    h, j = space.rows(x, ease)
    h = np.where(keep, h - slack, 1.0)
    broken |= h < -TOLERANCE
    answer, n, rounds = None, len(raw), 0
    eye = np.eye(n)
    for rounds in range(1, ROUNDS + 1):
        r, lo, hi = np.flatnonzero(broken), np.flatnonzero(under), np.flatnonzero(over)
        g = np.concatenate([j[r], eye[lo], -eye[hi]])
        b = np.concatenate([j[r] @ (x - raw) - h[r], low[lo] - raw[lo], raw[hi] - high[hi]])
        answer = _least_distance(g * sd, b)
        if answer is None:
            break
        new = raw + answer[0] * sd
        if not np.isfinite(new).all() or np.abs(answer[0]).max() > FARTHEST:
            answer = None  # it has diverged: what was reached before is brought inside by the last resort
            break
        if rounds > DAMP_AFTER:
            new = (x + new) / 2
        step = np.abs((new - x) / sd).max()
        x = new
        h, j = space.rows(x, ease)
        h = np.where(keep, h - slack, 1.0)
        more, less, too = h < -TOLERANCE, x < low - 1e-9, x > high + 1e-9
        if step < 1e-3 and not (more.any() or less.any() or too.any()):
            break
        broken, under, over = broken | more, under | less, over | too
    settled = answer is not None and min(h.min(), (x - low).min(), (high - x).min()) >= -1e-5
    if not settled:
        x = _toward(space, anchor, np.clip(x, low, high), allowance)
    active = _name_active(answer, g, sd, r, lo, hi) if answer is not None else ()
    return Feasible(x, active, rounds, max(0.0, -worst(space, x, allowance)))


def _toward(space: Space, anchor: Array, x: Array, allowance: Allowance) -> Array:
    inside, outside = 0.0, 1.0
    for _ in range(24):
        a = (inside + outside) / 2
        if worst(space, anchor + a * (x - anchor), allowance) >= -TOLERANCE:
            inside = a
        else:
            outside = a
    return anchor + inside * (x - anchor)


def _name_active(answer: tuple[Array, Array], g: Array, sd: Array, r: Array, lo: Array, hi: Array) -> tuple[Active, ...]:
    """Multipliers → limits with their share of the whole shift; ``pull`` is each one's push on the traits, in spreads."""
    u = answer[1]
    pulls = u[:, None] * g * sd
    weight = np.sqrt((pulls**2).sum(1))
    total = weight.sum()
    rows = [*((int(i), -1) for i in r), *((-1, int(i)) for i in lo), *((-1, int(i)) for i in hi)]
    found = [
        Active(row, trait, float(w / total), p)
        for (row, trait), w, p in zip(rows, weight, pulls, strict=True)
        if w > 1e-6 * max(total, 1e-12)
    ]
    return tuple(sorted(found, key=lambda a: -a.share))
