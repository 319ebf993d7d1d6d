"""A face that smiles, squints or opens its mouth, brought to rest: what an expression moved is moved back.

How far each dial of an expression reaches is what heads are drawn with (:mod:`.expressed`), on this very face; going back is its
inverse, found by fixed-point steps. What hangs on the jaw comes up with it.
"""

from __future__ import annotations

import numpy as np

from ..features.expression import Expression
from ..kinds import Array, there
from ..landmarks.schema import FRONT
from .expressed import expressed

ROUNDS = 12
JAW = {
    "labiale_inferius": 1.0,
    "sublabiale": 1.0,
    "gnathion": 1.0,
    "chin_side_l": 0.85,
    "chin_side_r": 0.85,
    "gonion_l": 0.15,
    "gonion_r": 0.15,
}
"""What share of the chin's drop a landmark takes part in (own; the jaw turns about its joint)."""
LIP = 0.45
"""Share for the mouth's line and corners, which lie between the lips (own)."""
NEEDED = ("vertex", "gnathion", "subnasale", "stomion")


def made(points: Array, e: Expression) -> Array:
    """A face at rest, ``(n, 2)`` in heads, as it is seen making an expression."""
    x = expressed(points, e)
    out = x.points.copy()
    for n, share in JAW.items():
        out[FRONT.index[n], 1] += share * x.drop
    for n in ("stomion", "cheilion_l", "cheilion_r"):
        out[FRONT.index[n], 1] += LIP * x.drop
    return out


def at_rest(seen: Array, e: Expression) -> Array | None:
    """A face that makes an expression, ``(n, 2)`` levelled pixels, as it is at rest; ``None`` where too little of it is marked.

    The midline is where the pairs have it, the crown stays where it is.
    """
    at = FRONT.index
    if not all(np.isfinite(seen[at[n]]).all() for n in NEEDED):
        return None
    partner = np.array(FRONT.mirror)
    paired = np.flatnonzero(partner != np.arange(len(partner)))
    middles = (seen[paired, 0] + seen[partner[paired], 0]) / 2
    middle = float(np.nanmedian(middles)) if np.isfinite(middles).any() else float(seen[at["gnathion"], 0])
    top = float(seen[at["vertex"], 1])
    tall = float(seen[at["gnathion"], 1]) - top
    if tall <= 0:
        return None
    here = there(seen)
    rest = seen.copy()
    for _ in range(ROUNDS):
        unit = max(float(rest[at["gnathion"], 1]) - top, 0.3 * tall)
        heads = (rest - [middle, top]) / unit
        filled = np.where(here[:, None], heads, _USUAL)
        step = seen - (made(filled, e) * unit + [middle, top])
        rest = rest + np.where(here[:, None], step, 0.0)
        if np.nanmax(np.abs(step[here])) < 1e-4 * tall:
            break
    return np.asarray(np.where(here[:, None], rest, np.nan))


def _usual() -> Array:
    from ..proportions.norms import norm
    from ..proportions.registry import Role, front_registry
    from .points import plan_points

    reg, n = front_registry(), norm()
    return plan_points({r.key: float(n.mean[reg.index[r.key]]) for r in reg.of_role(Role.INDEPENDENT)})


_USUAL = _usual()
"""Where an ordinary face has what is not marked: what an expression moves is clear of its neighbours."""
