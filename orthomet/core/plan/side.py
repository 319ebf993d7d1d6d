"""The profile in the plan: what only the side shows of a head, planned by the same rule as every trait.

``g(plan) = (1 − s)·g(μ) + s·g(c) + e·(g(reference) − g(μ)) + o`` over the profile's norm, then held to what a head can be. A
character whose profile was never measured has none of these: its side follows from its front.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..kinds import Kind, backward, forward
from ..proportions.norms import Norm
from ..proportions.views import profile_registry
from ..styles.library import Style
from .decisions import Decisions

SIDE_GROUP = "From the side"
LIMITS = {
    "head_depth_hh": (0.60, 1.20), "nose_depth_hh": (0.012, 0.22), "upper_lip_out_hh": (-0.05, 0.09), "lower_lip_out_hh": (-0.07, 0.06),
    "chin_out_hh": (-0.14, 0.12),
}  # fmt: skip
"""What is planned of a profile, and how far a head can go, heads (own, tried against the drawn solid)."""


@dataclass(frozen=True)
class SidePlan:
    """One profile reading: measured, norm and its spread, the style's where it has one, asked for, and what a head can be."""

    key: str
    kind: Kind
    reference: float
    norm: float
    sd: float
    style: float | None
    asked: float
    plan: float


def plan_side(measured: Mapping[str, float], decisions: Decisions, toward: Style, against: Norm) -> tuple[SidePlan, ...]:
    """Plans of the profile readings that were measured, heads; ``against`` is a norm over the profile's registry."""
    reg = profile_registry()
    out = []
    for key, (low, high) in LIMITS.items():
        v, r = measured.get(key), reg[key]
        if v is None or not np.isfinite(v) or (r.kind is Kind.SIZE and v <= 0):
            continue
        i = reg.index[key]
        mu, sd = float(against.mean[i]), float(against.sd[i])
        row = toward.readings.get(key)
        style = row.mean if row is not None and (r.kind is not Kind.SIZE or row.mean > 0) else None
        weight = decisions.weight_of(SIDE_GROUP) if style is not None else 0.0
        gm, gv = float(forward(r.kind, mu)), float(forward(r.kind, v))
        g = (1 - weight) * gm + weight * float(forward(r.kind, style if style is not None else mu))
        g += decisions.emphasis_of(key) * (gv - gm) + decisions.offsets.get(key, 0.0)
        asked = float(backward(r.kind, g))
        out.append(SidePlan(key, r.kind, v, mu, sd, style, asked, min(max(asked, low), high)))
    return tuple(out)


def side_offset(p: SidePlan, decisions: Decisions, value: float) -> float:
    """The offset that makes a profile reading's plan equal ``value``, everything else as decided."""
    low, high = LIMITS[p.key]
    wanted = float(forward(p.kind, min(max(value, low), high)))
    return decisions.offsets.get(p.key, 0.0) + wanted - float(forward(p.kind, p.asked))


def targets(plans: tuple[SidePlan, ...]) -> tuple[tuple[str, float], ...]:
    """What the head is built to: reading and value, heads."""
    return tuple((p.key, p.plan) for p in plans)
