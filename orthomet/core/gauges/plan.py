"""What the gauges of the Plan station show: every trait of the face, then the artist's own spans."""

from __future__ import annotations

from collections.abc import Container
from dataclasses import replace

from ..kinds import Kind
from ..landmarks.own import OWN_GROUP
from ..landmarks.schema import FRONT
from ..plan.decisions import Decisions
from ..plan.own import SPREAD, OwnPlan
from ..plan.plan import Plan, basis
from ..plan.side import SIDE_GROUP, SidePlan
from ..project.model import Character
from ..proportions.measure import Measured, missing_for
from ..proportions.norms import Norm
from ..proportions.views import profile_registry
from ..styles.library import Style
from .item import GaugeItem, base_item


def trait_items(
    c: Character,
    plan: Plan,
    measured: Measured,
    d: Decisions,
    by_hand: dict[str, float],
    against: Norm,
    toward: Style,
    only: Container[str] | None = None,
) -> list[GaugeItem]:
    """A gauge for every planned trait, or for some ``only``; ``by_hand`` are the marks moved by hand."""
    base = basis(against, toward)
    ranks = {k: i + 1 for i, k in enumerate(c.noticed)}
    ref = c.face
    marks = ref.marks.landmarks() if ref else None
    out = []
    for i, key in enumerate(plan.space.keys):
        if only is not None and key not in only:
            continue
        v = measured.value(key)
        gone = missing_for(marks, key) if marks is not None and v is None else []
        out.append(replace(
            base_item(key, against), reference=v, sure=measured.sure(key), plan=float(plan.traits[i]), asked=float(plan.raw[i]),
            style=float(base.style[i]), emphasis=d.emphasis_of(key), offset=by_hand.get(key, 0.0), rank=ranks.get(key, 0),
            missing=FRONT[gone[0]].words if gone else "",
        ))  # fmt: skip
    return out


def side_items(plans: tuple[SidePlan, ...], d: Decisions, by_hand: dict[str, float], noticed: tuple[str, ...]) -> list[GaugeItem]:
    """A gauge for every planned reading of the profile."""
    out = []
    for p in plans:
        r = profile_registry()[p.key]
        out.append(GaugeItem(
            p.key, r.label, SIDE_GROUP, p.kind, p.norm, p.sd, r.low, r.high, r.meaning, reference=p.reference, plan=p.plan, asked=p.asked,
            style=p.style, emphasis=d.emphasis_of(p.key), offset=by_hand.get(p.key, 0.0), rank=noticed.index(p.key) + 1 if p.key in noticed else 0,
        ))  # fmt: skip
    return out


def own_items(plans: tuple[OwnPlan, ...], d: Decisions, by_hand: dict[str, float], noticed: tuple[str, ...]) -> list[GaugeItem]:
    """A gauge for every own span, about what the artist calls usual or else about the reference."""
    out = []
    for p in plans:
        middle = p.usual or p.reference
        meaning = "about what you call usual" if p.usual else "nothing is said to be usual: style and hand alone move it"
        out.append(
            GaugeItem(
                p.key,
                p.span.name,
                OWN_GROUP,
                Kind.SIZE,
                middle,
                SPREAD * middle,
                "short",
                "long",
                meaning,
                reference=p.reference,
                plan=p.plan,
                asked=p.plan,
                style=p.style,
                emphasis=d.emphasis_of(p.key),
                offset=by_hand.get(p.key, 0.0),
                bare=p.usual is None,
                rank=noticed.index(p.key) + 1 if p.key in noticed else 0,
            )
        )
    return out
