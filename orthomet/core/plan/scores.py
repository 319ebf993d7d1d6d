"""Likeness and style as two honest meters, and the traits noticed first.

All work in spreads of the norm: ``a`` the reference's deviation, ``p`` the plan's deviation from its own centre,
``m`` how far that centre has moved from the norm. Shapes ``(traits,)``; nan in ``a`` means not measured.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array

ORDINARY = 0.3
"""Below this many spreads a trait is ordinary: it should stay so, rather than be kept (own)."""
OVERSHOOT = 2.0
"""How slowly an ordinary trait that became remarkable is forgiven, in spreads (own)."""
SOFT_END = 6.0
"""Spreads past which distance stops counting in full (own)."""
CENTRE_REACH = 4.0
"""A centre moved by this many spreads halves its part of the likeness (own)."""
STRANGER = 29.5
"""Share of a face's deviations, in points of 100, that the median stranger keeps (own: median over 1,500 pairs of random
adult faces, quartiles 23 and 37)."""
NOTCH = 100 * 6 / (100 - STRANGER)
"""Points of likeness an eye just sees (own: six points of the plain share)."""
SAME_STYLE = 0.15
"""Norm and style nearer than this (root mean square spreads) leave nothing to measure (own)."""


def soften(z: Array) -> Array:
    out: Array = SOFT_END * np.tanh(z / SOFT_END)
    return out


def rms(z: Array) -> float:
    return float(np.sqrt(np.mean(z * z))) if z.size else 0.0


@dataclass(frozen=True)
class Likeness:
    score: float
    """100 the face itself, 0 the median stranger; :data:`NOTCH` points are what an eye just sees."""
    loss: Array
    """Points each trait costs, shape ``(traits,)``; the centre's own part is ``centre_loss``."""
    centre_loss: float


def likeness(a: Array, p: Array, m: Array) -> Likeness:
    """How much of each deviation survives, weighted by how remarkable it was, times a mild price for a moved centre.

    The share is told on a scale that means something: 0 is what the median stranger would keep of it.
    """
    seen = np.isfinite(a)
    d = np.where(seen, a, 0.0)
    remarkable = d * d / (d * d + ORDINARY**2)
    kept = np.clip(p * d / np.maximum(d * d, 1e-12), 0, 1)
    calm = 1 / (1 + (np.maximum(0, np.abs(p - d) - ORDINARY) / OVERSHOOT) ** 2)
    q = remarkable * kept + (1 - remarkable) * calm
    u = np.where(seen, d * d + ORDINARY**2, 0.0)
    if not seen.any():
        return Likeness(0.0, np.zeros_like(d), 0.0)
    near = 1 / (1 + (rms(soften(m[seen])) / CENTRE_REACH) ** 2)
    survival = float((u * q).sum() / u.sum())
    factor = (1 + near) / 2
    scale = 100 / (100 - STRANGER)
    loss = 100 * u * (1 - q) / u.sum()
    score = max(0.0, scale * (100 * survival * factor - STRANGER))
    return Likeness(score, scale * loss, scale * 100 * survival * (1 - factor))


def from_plain_share(score: float) -> float:
    """A likeness told as the plain share of what survives (as project formats up to 3 did), on today's scale."""
    return max(0.0, 100 * (score - STRANGER) / (100 - STRANGER))


def style_score(m: Array, style: Array) -> float | None:
    """``100·dn²/(dn² + ds²)``: distances of the plan, its e·d taken out, to norm and to style; None where they coincide."""
    if rms(style) < SAME_STYLE:
        return None
    dn, ds = rms(soften(m)), rms(soften(m - style))
    return float(100 * dn * dn / (dn * dn + ds * ds))


@dataclass(frozen=True)
class NoticedKept:
    """Of the traits noticed first: how many keep their direction, how many their rank."""

    of: int
    direction: int
    rank: int


def noticed_kept(a: Array, p: Array, noticed: list[int]) -> NoticedKept:
    d, q = a[noticed], p[noticed]
    same = int(np.sum((np.sign(d) == np.sign(q)) & (np.abs(q) > 1e-9)))
    before, after = np.argsort(-np.abs(d), kind="stable"), np.argsort(-np.abs(q), kind="stable")
    return NoticedKept(len(noticed), same, int(np.sum(before == after)))
