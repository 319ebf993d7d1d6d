"""What the gauges of the Figure station show: head and neck as the head's plan has them, then every planned reading of the body."""

from __future__ import annotations

from ..plan.decisions import Decisions
from ..plan.figure import HEAD_WIDTH, NECK, FigurePlan
from .item import GaugeItem

OF_HEAD = (HEAD_WIDTH, NECK)


def figure_items(
    plan: FigurePlan, head: list[GaugeItem], d: Decisions, by_hand: dict[str, float], noticed: tuple[str, ...]
) -> list[GaugeItem]:
    """A gauge for every trait of a body; ``head`` are the head's own that the body takes (:data:`OF_HEAD`), shown first."""
    out = list(head)
    for t in plan.traits:
        r = t.reading
        out.append(GaugeItem(
            t.key, r.label, r.group, r.kind, t.norm, t.sd, r.low, r.high, r.meaning, reference=t.reference, plan=t.plan, asked=t.asked, style=t.style,
            emphasis=d.emphasis_of(t.key), offset=by_hand.get(t.key, 0.0), rank=noticed.index(t.key) + 1 if t.key in noticed else 0,
        ))  # fmt: skip
    return out
