"""Gauge rows of the findings: plan, drawing and tolerance in each reading's own unit."""

from __future__ import annotations

from dataclasses import replace

from ..check.check import Check
from ..check.own import OwnCheck
from ..kinds import Kind
from ..landmarks.own import OWN_GROUP
from ..plan.own import SPREAD
from ..plan.plan import Plan
from ..proportions.measure import Measured
from ..proportions.registry import front_registry
from .item import GaugeItem, base_item


def finding_items(check: Check, plan: Plan, reference: Measured, drawn: Measured) -> dict[str, GaugeItem]:
    values = dict(zip(front_registry().keys, plan.values.tolist(), strict=True))
    out = {}
    for f in check.findings:
        planned, now = values[f.reading], drawn.value(f.reading)
        if now is None or planned != planned:
            continue
        # the tolerance is told in heads; the row shows the reading's own unit
        tolerance = f.tolerance * abs(now - planned) / abs(f.difference_hh) if f.difference_hh else None
        out[f.reading] = replace(
            base_item(f.reading), reference=reference.value(f.reading), sure=reference.sure(f.reading), plan=planned, drawing=now,
            tolerance=tolerance,
        )  # fmt: skip
    return out


def own_item(o: OwnCheck) -> GaugeItem:
    middle = o.span.usual or o.reference
    return GaugeItem(
        o.reading, o.span.name, OWN_GROUP, Kind.SIZE, middle, SPREAD * middle, "short", "long",
        reference=o.reference, plan=o.plan, drawing=o.drawing, tolerance=o.tolerance, bare=o.span.usual is None,
    )  # fmt: skip
