"""What one gauge row shows, as a value."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Kind, backward, forward, spread, z_score
from ..proportions.norms import Norm, norm_over
from ..proportions.registry import Registry, front_registry

USUAL, STRONG = 0.75, 1.9
"""Spreads up to which a reading is “as usual”, and from which it is “very” (own)."""
FOLLOW = "Follows from these"
"""The group of what is made of other readings."""


@dataclass(frozen=True)
class GaugeItem:
    """One proportion for one row. Values in the reading's unit; ``None`` where there is none."""

    key: str
    label: str
    group: str
    kind: Kind
    norm: float | None
    sd: float | None
    low: str = "small"
    high: str = "large"
    meaning: str = ""
    angle: bool = False
    reference: float | None = None
    sure: bool = True
    noise: float = 0.0
    missing: str = ""
    """The landmark to place next, in words, while the reading is not measured."""
    plan: float | None = None
    asked: float | None = None
    style: float | None = None
    emphasis: float = 1.0
    offset: float = 0.0
    word: str = ""
    drawing: float | None = None
    tolerance: float | None = None
    meant: bool = False
    other: float | None = None
    """The style it is compared with."""
    own_sd: float | None = None
    """Spread of the style's own samples."""
    assumed: bool = False
    """The style says nothing here: the norm stands in."""
    signature: bool = False
    free: bool = False
    """The style's mark can be dragged."""
    by_hand: bool = False
    bare: bool = False
    """The scale has no band: nothing is known to be usual."""
    rank: int = 0
    """Place among the artist's own five, 0 when it is none of them."""

    @property
    def has_scale(self) -> bool:
        return self.norm is not None and self.sd is not None

    @property
    def band(self) -> float:
        """The norm's spread, widened by what is uncertain about the reading."""
        return float(np.hypot(self.sd or 0.0, self.noise))

    def z(self, value: float) -> float:
        """Spreads from the norm, compared by kind; 0 where it cannot be compared."""
        if self.norm is None or self.sd is None:
            return 0.0
        z = float(z_score(self.kind, value, self.norm, self.sd))
        return z if np.isfinite(z) else -99.0

    def at_z(self, z: float) -> float:
        """The value that lies ``z`` spreads from the norm."""
        assert self.norm is not None and self.sd is not None
        g = forward(self.kind, self.norm) + z * spread(self.kind, self.norm, self.sd)
        return float(backward(self.kind, g))

    def show(self, value: float) -> str:
        if self.angle:
            return f"{value:+.1f}°".replace("-", "−")
        return (f"{value:.2f}" if abs(value) >= 1 else f"{value:.3f}").replace("-", "−")

    def describe(self, value: float) -> str:
        z = self.z(value)
        if abs(z) < USUAL:
            return "as usual"
        return ("very " if abs(z) >= STRONG else "") + (self.low if z < 0 else self.high)


def base_item(key: str, against: Norm | None = None, registry: Registry | None = None) -> GaugeItem:
    """A gauge item with everything that does not depend on a face; ``against`` is laid out over ``registry``."""
    reg = registry or front_registry()
    n = against or norm_over("adult", reg)
    r, i = reg[key], reg.index[key]
    mean, sd = float(n.mean[i]), float(n.sd[i])
    known = mean == mean
    return GaugeItem(
        key, r.label, r.group, r.kind, mean if known else None, sd if known else None, r.low, r.high, r.meaning, r.angle
    )
