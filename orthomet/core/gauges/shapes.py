"""What the gauges of the Shapes station show: how one part is pushed about the norm's shape."""

from __future__ import annotations

from dataclasses import dataclass

from ..kinds import Kind, forward
from ..shapes.model import roles
from ..shapes.seen import Seen
from ..shapes.traits import StyleShapes
from .item import GaugeItem


@dataclass(frozen=True)
class _Row:
    key: str
    label: str
    kind: Kind
    sd: float
    low: str
    high: str
    meaning: str


ROWS = (
    _Row("size", "Size", Kind.SIZE, 0.22, "small", "big", "how large it is, by the spread of its area, in heads"),
    _Row("aspect", "Height : width", Kind.SIZE, 0.18, "wide", "tall", "height against width, by the spread of its area"),
    _Row("taper", "Taper", Kind.SIGNED, 0.12, "wide above", "wide below", "how much wider it is below than above"),
    _Row("angularity", "Corners", Kind.STATION, 0.10, "soft", "sharp", "share of all turning that is done in the tightest tenth of the outline"),
)  # fmt: skip
GROUP = "Whole"
"""Spreads are own: about what parts of the demo's cast differ by."""


def shape_items(v: Seen, style: StyleShapes | None = None) -> list[GaugeItem]:
    """A gauge for every trait of a part that can be pushed; those that would mislead are left out."""
    out = []
    r = v.readings
    known = style.parts.get(v.part.role, {}) if style is not None else {}
    for row in ROWS:
        if row.key not in r:
            continue
        norm = r[f"norm {row.key}"]
        sd = row.sd * norm if row.kind is Kind.SIZE else row.sd
        out.append(GaugeItem(
            row.key, row.label, GROUP, row.kind, norm, sd, row.low, row.high, f"{row.meaning}; usual: {roles()[v.part.role].shape}", reference=r[row.key],
            plan=r[f"plan {row.key}"], asked=r[f"plan {row.key}"], style=known[row.key].mean if row.key in known else None, emphasis=v.part.emphasis.get(row.key, 1.0),
        ))  # fmt: skip
    return out


def emphasis_for(v: Seen, key: str, value: float) -> float | None:
    """The emphasis that brings a trait to a value; None where the part has none of it to stress."""
    row = next(x for x in ROWS if x.key == key)
    one, norm, to = (float(forward(row.kind, x)) for x in (v.readings[key], v.readings[f"norm {key}"], value))
    if abs(one - norm) < 1e-6:
        return None
    return min(max((to - norm) / (one - norm), -4.0), 4.0)
