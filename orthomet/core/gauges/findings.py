"""Gauge rows of the findings: plan, drawing and tolerance in each reading's own unit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from ..check.check import Check
from ..check.figure import FigureCheck
from ..check.own import OwnCheck
from ..check.view import ViewCheck
from ..kinds import Kind
from ..landmarks.own import OWN_GROUP
from ..plan.own import SPREAD
from ..plan.plan import Plan
from ..proportions.measure import Measured
from ..proportions.registry import front_registry
from ..proportions.views import figure_registry, registry_of
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


def figure_items_of(check: FigureCheck, plan: Mapping[str, float], reference: Measured, drawn: Measured) -> dict[str, GaugeItem]:
    """Rows of a drawn figure's findings."""
    reg = figure_registry()
    out = {}
    for f in check.findings:
        planned, now = plan.get(f.reading), drawn.value(f.reading)
        if f.kind in ("length", "tilt") or f.reading not in reg.index or planned is None or now is None:
            continue  # a length is one side's, seen at its own turn: the reading knows neither
        out[f.reading] = replace(
            base_item(f.reading, registry=reg), reference=reference.table.get(f.reading), sure=f.reading in reference.table and reference.sure(f.reading),
            plan=planned, drawing=now, tolerance=f.tolerance,
        )  # fmt: skip
    return out


def passes_of_view(check: ViewCheck) -> tuple[list[str], str]:
    """What of a drawn figure or profile passes, by group."""
    reg = registry_of(check.view)
    off = {f.reading for f in check.findings} | set(check.meant)
    groups = dict.fromkeys(reg[k].group for k in (*check.passed, *off) if k in reg.index)
    rows = []
    for g in groups:
        good = sum(reg[k].group == g for k in check.passed if k not in off)
        rows.append(_of(g, good, good + sum(reg[k].group == g for k in off if k in reg.index)))
    return [r for r in rows if r], f"{len([k for k in check.passed if k not in off])} of {len(set(check.passed) | off)} readings"


def own_item(o: OwnCheck) -> GaugeItem:
    middle = o.span.usual or o.reference
    return GaugeItem(
        o.reading, o.span.name, OWN_GROUP, Kind.SIZE, middle, SPREAD * middle, "short", "long",
        reference=o.reference, plan=o.plan, drawing=o.drawing, tolerance=o.tolerance, bare=o.span.usual is None,
    )  # fmt: skip


GROUPS = {"Eyes": "Eyes", "Nose": "Nose", "Mouth": "Mouth", "Head": "Head", "Hair": "Hair", "Balance": "Left and right"}


def passes(check: Check | None, own: tuple[OwnCheck, ...] = ()) -> tuple[list[str], str]:
    """What passes by group, in words, and how many readings of all that are judged."""
    reg = front_registry()
    rows, passed, judged = [], 0, 0
    if check is not None:
        off = {f.reading for f in check.findings} | {k for f in check.findings for k in f.explains} | set(check.meant)
        passed, judged = len(check.passed), len(check.differences)
        for group, words in GROUPS.items():
            good = sum(reg[k].group == group for k in check.passed)
            rows.append(_of(words, good, good + sum(reg[k].group == group for k in off)))
    sure = [o for o in own if o.judged]
    fine = sum(not o.off for o in sure)
    rows.append(_of("Own parts", fine, len(sure)))
    return [r for r in rows if r], f"{passed + fine} of {judged + len(sure)} readings"


def _of(words: str, good: int, judged: int) -> str:
    """“Eyes: all 9”, “Nose: 3 of 4”; nothing where none passes."""
    return "" if not good else f"{words}: all {good}" if good == judged else f"{words}: {good} of {judged}"
