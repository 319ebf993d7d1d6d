"""Learning a style from several drawings of one hand: mean, spread, count, signature, and a warning of two periods."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import FormatError
from ..kinds import Array
from ..proportions.measure import Measured, side_by_side
from ..proportions.norms import Norm, z_scores
from ..proportions.registry import Registry, Role
from .library import Style, StyleRow, row_problem

FEWEST_FOR_SPREAD = 3
FAR, STEADY = 1.5, 1.0
"""A reading is signature when its mean lies FAR spreads from the norm and varies less than STEADY spreads (own)."""
FEWEST_FOR_PERIODS = 6
APART, APART_FEW, PLENTY = 4.1, 0.12, 13
"""Two groups are told when held-out samples fall APART pooled deviations apart, APART_FEW more for each sample below
PLENTY (own; 2 false alarms in 100 tried)."""
WEIGHING = 0.75
"""Between none (0) and each trait in its own deviations (1): what tells most periods at one rate of false alarms (own, tried)."""
LEAST_SPREAD = 0.1
"""A trait steadier than this many spreads of the norm weighs no more than one that is not (own)."""


@dataclass(frozen=True)
class Learned:
    style: Style
    two_periods: bool


def learn_style(samples: list[Measured], name: str, against: Norm, title: str = "") -> Learned:
    """Style of a set of measured drawings; mean and sd in each reading's own unit (sd with n − 1).

    ``against`` is laid out over the registry the samples have in common (:func:`side_by_side`). Readings that no drawing shows surely are left out; below three samples there is no spread.

    Raises
    ------
    FormatError
        No drawing, none with a sure reading, or drawings of different views.
    """
    reg, values = side_by_side(samples)
    if not np.isfinite(values).any():
        raise FormatError("None of the drawings has a reading that is sure: place and confirm their landmarks first.")
    n = np.isfinite(values).sum(0)
    rows = {}
    for i, r in enumerate(reg.readings):
        if n[i] == 0 or r.role is Role.BALANCE:
            continue
        v = values[np.isfinite(values[:, i]), i]
        sd = float(v.std(ddof=1)) if len(v) >= FEWEST_FOR_SPREAD else None
        row = StyleRow(mean=float(v.mean()), sd=sd, n=int(n[i]), signature=_signature(reg, i, float(v.mean()), sd, against))
        if not row_problem(r.key, row):
            rows[r.key] = row
    style = Style(name=name, title=title or name, source=f"learned from {len(samples)} drawings", readings=rows)
    return Learned(style, two_periods(by_trait(values, against, reg)))


def _signature(reg: Registry, i: int, mean: float, sd: float | None, against: Norm) -> bool:
    if sd is None or not np.isfinite(against.mean[i]):
        return False
    v = np.full(len(reg.readings), np.nan)
    v[i] = mean
    z = float(z_scores(v, against, reg)[i])
    return bool(abs(z) >= FAR and sd <= STEADY * against.sd[i] * max(1.0, mean / against.mean[i] if against.mean[i] > 0 else 1.0))


def by_trait(values: Array, against: Norm, reg: Registry) -> Array:
    """Independent traits in spreads of the norm, columns all drawings share; shape ``(samples, traits)``.

    Views without planned traits (profile, figure) are compared over all their readings.
    """
    z = np.array([z_scores(v, against, reg) for v in values])
    planned = np.array([r.role is Role.INDEPENDENT for r in reg.readings])
    keep = (planned | ~planned.any()) & np.isfinite(z).all(0)
    return z[:, keep]


def two_periods(z: Array) -> bool:
    """Whether samples ``(n, traits)`` fall in two groups.

    Every trait is weighed by its own deviation, so that a few loose ones do not decide alone. Two means are found on all samples; then each sample is placed on the line between the means of the *others*, so
    that chance separation in many dimensions does not count. The two groups' distance there, in pooled deviations, decides.
    """
    n = len(z)
    if n < FEWEST_FOR_PERIODS or z.shape[1] < 2:
        return False
    z = (z - z.mean(0)) / np.maximum(z.std(0, ddof=1), LEAST_SPREAD) ** WEIGHING
    groups = _two_means(z)
    if min(groups.sum(), n - groups.sum()) < 2:
        return False
    place = np.empty(n)
    for i in range(n):
        rest = np.arange(n) != i
        a, b = z[rest & groups].mean(0), z[rest & ~groups].mean(0)
        d = a - b
        place[i] = (z[i] - (a + b) / 2) @ d / max(float(np.linalg.norm(d)), 1e-12)
    a, b = place[groups], place[~groups]
    pooled = float(np.sqrt((a.var(ddof=1) + b.var(ddof=1)) / 2))
    return bool((a.mean() - b.mean()) / max(pooled, 1e-9) > APART + APART_FEW * max(0, PLENTY - n) and a.min() > b.max())


def _two_means(z: Array) -> Array:
    """Lloyd's two means, started from the ends of the first principal axis."""
    c = z - z.mean(0)
    axis = np.linalg.svd(c, full_matrices=False)[2][0]
    groups = c @ axis > 0
    for _ in range(50):
        if groups.all() or not groups.any():
            break
        a, b = z[groups].mean(0), z[~groups].mean(0)
        new = np.linalg.norm(z - a, axis=1) < np.linalg.norm(z - b, axis=1)
        if (new == groups).all():
            break
        groups = new
    return np.asarray(groups)
