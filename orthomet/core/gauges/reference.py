"""What the gauges of the Reference station show."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..errors import OrthometError
from ..landmarks.own import OWN_GROUP
from ..landmarks.turn import Turn
from ..landmarks.views import OWN
from ..project.model import Character, Reference
from ..proportions.measure import Measured, missing_for
from ..proportions.norms import Norm, norm_over
from ..proportions.registry import Reading, Registry, Role, Rule, front_registry
from ..references import measure_reference, pool, trusted
from .item import FOLLOW, GaugeItem, base_item


def gauge_items(c: Character | None, ref: Reference | None, m: Measured, against: Norm) -> list[GaugeItem]:
    """A gauge for every reading of the view; balance readings only where they are measured."""
    reg = m.registry
    marks = ref.marks.landmarks(None, c.spans) if ref and c else None
    ranks = {k: i + 1 for i, k in enumerate(c.noticed)} if c else {}
    stands = trusted(m, against) if ref and ref.turn else np.isfinite(m.values)
    only_own = ref is not None and ref.marks.only_own
    out = []
    for i, r in enumerate(reg.readings):
        v = m.value(r.key)
        if v is None and (r.role is Role.BALANCE or (only_own and r.group != OWN_GROUP)):
            continue
        missing = ""
        if v is None and marks is not None:
            gone = missing_for(marks, r.key, reg)
            missing = _words(reg, gone[0], c) if gone else ""
        noise = float(m.noise[i])
        item = replace(
            base_item(r.key, against, reg), reference=v, sure=m.sure(r.key) and bool(stands[i]), missing=missing, rank=ranks.get(r.key, 0),
            noise=noise if np.isfinite(noise) else 0.0,
        )  # fmt: skip
        out.append(replace(item, group=FOLLOW) if r.role is Role.DERIVED else item)
    return out


def _words(reg: Registry, name: str, c: Character | None) -> str:
    if OWN.fullmatch(name):
        title = next((s.name for s in c.spans if name in s.ends), "own part") if c else "own part"
        return f"ends of {title}"
    return reg.schema[name].words.removeprefix("left ").removeprefix("right ")


def value_words(r: Reading, value: float) -> str:
    """A value with its unit, for the stage."""
    if r.rule is Rule.STATION:
        return f"{value:.3f}"
    if r.angle:
        return f"{value:+.1f}°"
    unit = r.unit.rstrip("s") if abs(value - 1) < 0.005 and not r.by_words else r.unit
    return f"{value:.2f} {unit}" if unit else f"{value:.3f}"


def trust_words(turn: Turn | None, m: Measured, against: Norm) -> str:
    """Which readings a turned head leaves to be trusted."""
    if turn is None:
        return ""
    ok = trusted(m, against)
    told = [
        (r.label, good)
        for r, good, v in zip(m.registry.readings, ok, m.values, strict=True)
        if r.role is not Role.BALANCE and v == v
    ]
    held, lost = ([name for name, good in told if bool(good) is want] for want in (True, False))
    if not told or not lost:
        return "Every reading stands; those across the face are less sure by what the turn adds." if told else ""
    if not held:
        return "Turned so far that no reading can be trusted."
    few, lead = (lost, "Too vague at this turn") if len(lost) <= len(held) else (held, "Still to be trusted")
    return f"{lead}: {', '.join(few[:12]).lower()}{'…' if len(few) > 12 else ''}."


def worn_words(c: Character, view: str) -> str:
    """What changes between the references that are taken together."""
    together = pool(c, view)
    if together is None or int(together.count.max(initial=0)) < 2:
        return ""
    labels = [together.measured.registry[k].label.lower() for k in together.worn]
    return (
        f"Worn rather than built, it changes between them: {', '.join(labels)}."
        if labels
        else "Nothing changes between them more than measuring does."
    )


MOST_WORN = 3
"""Readings that are told as worn (own)."""


def face_words(ref: Reference) -> str:
    """What the face a reference makes does to its readings: “mouth width 0.462 → 0.391 at rest”, those it moves most first."""
    if not ref.expression or ref.marks.view != "front" or not ref.marks.points:
        return ""
    try:
        seen, rest = (measure_reference(r) for r in (ref.model_copy(update={"expression": ""}), ref))
    except OrthometError:
        return ""
    reg, n = front_registry(), norm_over("adult", front_registry())
    moved = []
    for r in reg.of_role(Role.INDEPENDENT):
        a, b, sd = seen.value(r.key), rest.value(r.key), float(n.sd[reg.index[r.key]])
        if a is not None and b is not None and sd > 0 and abs(a - b) > 0.3 * sd:
            moved.append((abs(a - b) / sd, f"{r.label.lower()} {a:.3g} → {b:.3g}"))
    told = "; ".join(w for _, w in sorted(moved, reverse=True)[:MOST_WORN])
    little = " a little" if ref.degree < 1 else ""
    return f"It looks{little} {ref.expression}: worn, not built. At rest: {told or 'hardly another face'}."
