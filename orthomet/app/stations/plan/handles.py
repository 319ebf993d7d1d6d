"""Handles on the plan's own drawing: corners of the jaw, sides of the chin, and the bottom of the school's circle."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ....core.head.outline import knots

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


def handles(plan: Mapping[str, float], circle: float | None) -> list[Handle]:
    """``circle``: the diameter of the school's circle, where it has one."""
    if not plan:
        return []
    k = knots(plan)
    out = []
    for n, key, words in ((2, "jaw_width_fw", "jaw"), (3, "chin_width_fw", "chin")):
        out += [Handle(key, side * k.half[n], k.stations[n], True, words) for side in (1, -1)]
    if circle is not None:
        out.append(Handle(f"{SETTING}D", 0.0, circle, False, "circle"))
    return out


def value_at(key: str, plan: Mapping[str, float], x: float, y: float) -> float:
    """What a handle's trait or dial is when it is dragged to a place."""
    return y if key.startswith(SETTING) else 2 * abs(x) / plan["face_width_hh"]
