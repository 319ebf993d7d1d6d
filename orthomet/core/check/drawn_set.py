"""Which of a character's drawings make a set, and what each says: faces that look ahead, profiles, figures."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np

from ..kept import remembered
from ..kinds import Kind
from ..plan.figure import FigurePlan
from ..plan.plan import Plan
from ..pose.model import Posing
from ..project.model import Drawing
from ..proportions.registry import Reading
from ..proportions.views import every_reading
from ..studies import measured_sample
from ..styles.library import Style
from .drawings import figure_told, profile_told
from .drift import LARGER, Drawn, Trait, TraitDrift, drifts, face_traits
from .view import AsDrawn

DrawnSet = tuple[tuple[Drawn, ...], tuple[TraitDrift, ...]]
"""Drawings in their order, and the traits over them."""
SETS = {"front": "faces that look ahead", "profile": "profiles", "figure": "figures"}
"""What a set of one view is called."""


def of_set(drawings: Sequence[Drawing], vid: str, view: str) -> tuple[Drawing, ...]:
    """Drawings of one version and view whose readings can be told side by side, in the order they were made."""
    found = [
        d
        for d in drawings
        if d.version == vid and d.marks.view == view and d.marks.points and not (view == "front" and (d.turned or d.expression))
    ]
    return tuple(sorted(found, key=lambda d: d.made)) if all(d.made for d in found) else tuple(found)


def _checked(found: Sequence[tuple[Drawing, Mapping[str, AsDrawn]]]) -> tuple[tuple[Drawn, ...], tuple[Trait, ...]]:
    """Profiles or figures by what their checks tell, and the traits that any of them tells; a band is what the drawings' checks let pass,
    in the middle of them."""
    drawn = tuple(Drawn(d.id, d.name, d.made, {k: r.value for k, r in told.items()}) for d, told in found if told)
    traits = []
    for key in dict.fromkeys(k for _, told in found for k in told):
        told = [readings[key] for _, readings in found if key in readings]
        r = every_reading()[key]
        band = float(np.median([t.tolerance for t in told]))
        traits.append(Trait(key, r.label, r.kind, told[-1].planned, band, _ways(r)))
    return drawn, tuple(traits)


def _ways(r: Reading) -> tuple[str, str]:
    return ("further forward", "further back") if r.kind is Kind.SIGNED else WAYS.get(r.high, LARGER)


WAYS = {
    "long": ("longer", "shorter"), "wide": ("wider", "narrower"), "thick": ("thicker", "thinner"), "many": ("taller", "shorter"),
    "deep": ("deeper", "shallower"), "far out": ("longer", "shorter"),
}  # fmt: skip


@remembered(3)
def faces_drift(found: tuple[Drawing, ...], plan: Plan, toward: Style) -> DrawnSet:
    """Front faces against their plan; a band is the style's own spread where it is known."""
    each = ((d, measured_sample(d.judged())) for d in found)
    drawn = tuple(Drawn(d.id, d.name, d.made, {k: v for k, v in m.table.items() if m.sure(k)}) for d, m in each if m is not None)
    return drawn, drifts(drawn, face_traits(plan.table, plan.points, toward))


@remembered(3)
def others_drift(
    found: tuple[Drawing, ...], plan: FigurePlan | Plan, posing: Posing, side: tuple[tuple[str, float], ...]
) -> DrawnSet:
    """Figures against a planned body, or profiles against a face's plan and its side."""
    drawn, traits = _checked([(d, _as_drawn(d.judged(), plan, posing, side)) for d in found])
    return drawn, drifts(drawn, traits)


@remembered(200)
def _as_drawn(d: Drawing, plan: FigurePlan | Plan, posing: Posing, side: tuple[tuple[str, float], ...]) -> Mapping[str, AsDrawn]:
    told = figure_told(d, plan, posing, (), True) if isinstance(plan, FigurePlan) else profile_told(d, plan, side, (), True)
    return told.drawn if not isinstance(told, str) else {}
