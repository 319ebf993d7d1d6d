"""Emphasis on a derived reading, passed on to the traits it is made of.

“Push the chin” is no trait of the plan: the chin follows from the mouth's station. What is asked of a derived reading is met
by the least change of the independent traits it follows from, weighed by their spreads: with ``h`` the reading's transform
over the traits, ``min Σ(Δgᵢ/sdᵢ)²`` with ``h(g + Δg) = h(centre) + e·d``, by Newton's steps along the slope.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np

from ..head.points import plan_points
from ..kinds import Array, forward
from ..proportions.measure import measure_array
from ..proportions.registry import Reading, Registry, Role, front_registry
from .decisions import Decisions
from .space import Space

ROUNDS, STEP, ENOUGH = 6, 1e-4, 1e-6
FARTHEST = 4.0
"""Spreads a trait may be moved by one derived reading (own)."""


def asked_of_derived(decisions: Decisions) -> dict[str, float]:
    """Emphasis asked of readings that are no trait themselves and follow from traits."""
    reg = front_registry()
    return {k: e for k, e in decisions.emphasis.items() if k in reg.index and reg[k].role is Role.DERIVED}


def passed_on(
    space: Space, asked: Mapping[str, float], g_raw: Array, g_centre: Array, g_norm: Array, g_ref: Array, g_sd: Array,
    backward: Callable[[Array], Array],
) -> Array:  # fmt: skip
    """The raw plan in the traits' transforms, moved as little as the derived readings ask, ``(traits,)``.

    ``g_ref`` is nan where the reference lacks a trait; such a trait stands at the norm for what follows from it.
    """
    reg, g = front_registry(), np.array(g_raw, float)
    ref = np.where(np.isfinite(g_ref), g_ref, g_norm)
    for key, e in asked.items():
        r = reg[key]
        target = _read(space, r, reg, g_centre, backward) + e * (
            _read(space, r, reg, ref, backward) - _read(space, r, reg, g_norm, backward)
        )
        if not np.isfinite(target):
            continue
        for _ in range(ROUNDS):
            here = _read(space, r, reg, g, backward)
            if not np.isfinite(here) or abs(here - target) < ENOUGH:
                break
            slope = np.array(
                [
                    (_read(space, r, reg, g + STEP * s * u, backward) - here) / STEP
                    for s, u in zip(g_sd, np.eye(len(g)), strict=True)
                ]
            )
            slope = np.nan_to_num(slope)
            size = float(slope @ slope)
            if size < 1e-12:
                break
            g = g + np.clip((target - here) / size * slope, -FARTHEST, FARTHEST) * g_sd
    return g


def _read(space: Space, r: Reading, reg: Registry, g: Array, backward: Callable[[Array], Array]) -> float:
    """A derived reading of the face laid out from traits, in its kind's transform."""
    table = dict(zip(space.keys, backward(g).tolist(), strict=True))
    with np.errstate(all="ignore"):
        return float(forward(r.kind, measure_array(plan_points(table), reg)[reg.index[r.key]]))
