"""Learning an artist's own hand from pairs (reference, drawing).

Per trait, in the transform of its kind: ``g(drawing) − g(μ) = a + k·(g(reference) − g(μ))``. ``a`` is the habit (what the
hand adds to every face), ``k`` the push (how much of a subject's own deviation comes through; near 0 the subject is being
ignored). Below five pairs only the habit is told, as the mean of ``g(drawing) − g(reference)``.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import FormatError
from ..kinds import Array, forward
from ..proportions.measure import Measured, side_by_side
from ..proportions.norms import Norm, by_kind
from ..proportions.registry import Role

FEWEST_FOR_PUSH = 5
LEAST_VARIETY = 0.2
"""References that vary less than this many spreads cannot tell a push (own)."""


@dataclass(frozen=True)
class HandRow:
    """One reading of a hand; ``habit`` and ``left`` (residual sd) in the transform's unit.

    ``push_error`` is the standard error of the push, told with it.
    """

    habit: float
    push: float | None
    n: int
    left: float | None
    push_error: float | None = None


@dataclass(frozen=True)
class Hand:
    pairs: int
    readings: dict[str, HandRow]


def learn_hand(pairs: list[tuple[Measured, Measured]], against: Norm) -> Hand:
    """Habit and push of every reading that both sides of a pair show surely.

    ``against`` is laid out over the registry they have in common (:func:`side_by_side`).

    Raises
    ------
    FormatError
        No pair, or no reading in common.
    """
    rows: dict[str, HandRow] = {}
    if pairs:
        reg, values = side_by_side([m for pair in pairs for m in pair])
        ref, drawn = by_kind(reg, forward, values[::2]), by_kind(reg, forward, values[1::2])
        for i, r in enumerate(reg.readings):
            if r.role is Role.BALANCE:
                continue
            mu = against.g_mean[i]
            row = _row(ref[:, i] - mu, drawn[:, i] - mu, float(against.g_sd[i])) or _plain(ref[:, i], drawn[:, i])
            if row is not None:
                rows[r.key] = row
    if not rows:
        raise FormatError("There is no reading that both a reference and its drawing show surely.")
    return Hand(len(pairs), rows)


def _plain(ref: Array, drawn: Array) -> HandRow | None:
    both = np.isfinite(ref) & np.isfinite(drawn)
    if not both.any():
        return None
    d = (drawn - ref)[both]
    return HandRow(float(d.mean()), None, int(both.sum()), float(d.std(ddof=1)) if len(d) > 2 else None)


def _row(ref: Array, drawn: Array, spread: float) -> HandRow | None:
    """Least squares a + k·d; None when there are too few pairs, no norm, or too little variety."""
    both = np.isfinite(ref) & np.isfinite(drawn)
    n = int(both.sum())
    if n < FEWEST_FOR_PUSH or not np.isfinite(spread) or ref[both].std() < LEAST_VARIETY * spread:
        return None
    x, y = ref[both], drawn[both]
    k = float(((x - x.mean()) * (y - y.mean())).sum() / ((x - x.mean()) ** 2).sum())
    a = float(y.mean() - k * x.mean())
    left = float(np.sqrt(((y - a - k * x) ** 2).sum() / (n - 2)))
    return HandRow(a, k, n, left, left / float(np.sqrt(((x - x.mean()) ** 2).sum())))
