"""What sets a version of a character apart from its parent, in words."""

from __future__ import annotations

from ..kinds import Kind
from ..plan.plan import Plan
from ..proportions.registry import front_registry

TOLD = 4
"""How many differences are told at most."""


def differences(parent: Plan, version: Plan) -> list[str]:
    """The traits a version moves most from its parent, in words: “Eye opening +14 %”, “Hairline 0.02 heads higher”."""
    reg = front_registry()
    rows = []
    for k, a, b in zip(parent.space.keys, parent.traits.tolist(), version.traits.tolist(), strict=True):
        r = reg[k]
        if r.kind is Kind.SIZE:
            change = b / a - 1
            rows.append((abs(change) / 0.10, f"{r.label} {change:+.0%}".replace("-", "−").replace("%", " %")))
        elif r.kind is Kind.STATION:
            rows.append((abs(b - a) / 0.015, f"{r.label} {abs(b - a):.2f} heads {'lower' if b > a else 'higher'}"))
        else:
            unit = "°" if r.angle else ""
            by = f"{b - a:+.2g}".replace("-", "−")
            rows.append((abs(b - a) / (3.0 if r.angle else 0.05), f"{r.label} {by}{unit}, {r.high if b > a else r.low}"))
    rows.sort(key=lambda row: -row[0])
    told = [words for size, words in rows[:TOLD] if size > 0.25]
    return told or ["the same proportions"]
