"""Handles on the plan's own drawing: jaw and chin, and what a guide school lets one choose: its circle, its nose line."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..styles.expression import evaluate
from ..styles.schools import School, names_of
from .outline import knots

SETTING = "set:"
"""A handle with this before its key moves a dial of the guide school, not a trait."""


@dataclass(frozen=True)
class Handle:
    """Where it stands in heads (x about the midline, y the station), which way it moves, and what it says."""

    key: str
    x: float
    y: float
    across: bool
    words: str


def handles(plan: Mapping[str, float], school: School | None, settings: Mapping[str, float]) -> list[Handle]:
    """Jaw and chin of the plan; of the school its circle's bottom and every line that is a dial of its own."""
    if not plan:
        return []
    k = knots(plan)
    out = []
    for n, key, words in ((2, "jaw_width_fw", "jaw"), (3, "chin_width_fw", "chin")):
        out += [Handle(key, side * k.half[n], k.stations[n], True, words) for side in (1, -1)]
    if school is None:
        return out
    names = names_of(school, plan, settings)
    for ln in (ln for step in school.steps for ln in step.lines):
        if ln.shape == "circle" and ln.key and "D" in school.settings:
            out.append(Handle(f"{SETTING}D", 0.0, names["D"], False, "circle"))
        elif ln.shape == "level" and ln.at in school.settings:
            out.append(
                Handle(f"{SETTING}{ln.at}", evaluate(ln.end, names), names[str(ln.at)], False, f"{school.title}: {ln.name}")
            )
    return out


def value_at(key: str, plan: Mapping[str, float], x: float, y: float) -> float:
    """What a handle's trait or dial is when it is dragged to a place."""
    return y if key.startswith(SETTING) else 2 * abs(x) / plan["face_width_hh"]
