"""The artist's own spans in the plan: the same rule as for every trait, over what the artist calls usual.

``log(plan) = (1 − s)·log(μ) + s·log(c) + e·(log(reference) − log(μ)) + o``. Nobody has a norm for a funnel: μ is what the artist
says is usual, and without that the reference itself, so that only the style and the hand move it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..landmarks.own import OWN_GROUP, OwnSpan
from ..styles.library import Style
from .decisions import Decisions

SPREAD = 0.15
"""Width of the scale an own span is shown on, as a share of its middle (own)."""


@dataclass(frozen=True)
class OwnPlan:
    """One own span: what was measured, what is usual and what the style says, where they are known, and the plan."""

    span: OwnSpan
    reference: float
    usual: float | None
    style: float | None
    plan: float

    @property
    def key(self) -> str:
        return self.span.key


def plan_own(
    spans: tuple[OwnSpan, ...], measured: Mapping[str, float], decisions: Decisions, toward: Style
) -> tuple[OwnPlan, ...]:
    """Plans of all own spans that were measured, in their own units."""
    out = []
    for s in spans:
        v = measured.get(s.key)
        if v is None or not v > 0:
            continue
        row = toward.readings.get(s.key)
        style = row.mean if row is not None and row.mean > 0 else None
        middle = s.usual or v
        weight = decisions.weight_of(OWN_GROUP) if style is not None else 0.0
        g = (1 - weight) * np.log(middle) + weight * np.log(style or 1.0)
        g += decisions.emphasis_of(s.key) * (np.log(v) - np.log(middle)) + decisions.offsets.get(s.key, 0.0)
        out.append(OwnPlan(s, v, s.usual, style, float(np.exp(g))))
    return tuple(out)


def own_offset(p: OwnPlan, decisions: Decisions, value: float) -> float:
    """The offset that makes the plan of one own span equal ``value``, everything else as decided."""
    return decisions.offsets.get(p.key, 0.0) + float(np.log(max(value, 1e-4)) - np.log(p.plan))
