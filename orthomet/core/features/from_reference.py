"""What the reference shows of the hair, as parameters of the drawn hair: offered, never imposed."""

from __future__ import annotations

import math
from collections.abc import Mapping

from .choices import FeatureChoices
from .table import feature

LIFT_SHARE = 0.8
"""How much of the hair's height over the skull is lift; the mass itself stands off by the rest (own)."""
CROWN_RADIUS = 0.33
"""From the head's axis to the parting, in heads (own, about half the skull's width)."""
PARTING_REACH = 0.55 / 0.8
"""Radians of azimuth a unit of the parting's parameter goes (as the drawn hair lays it)."""


def hair_of_reference(measured: Mapping[str, float], choices: FeatureChoices) -> dict[str, float]:
    """Parameters of the hair a measured face wears; empty where hair is drawn already, absent by design, or not measured."""
    need = ("hair_height_hh", "hair_width_hw", "head_width_hh")
    if not choices.drawn("hair") or choices.of("hair")["kind"] >= 0.5 or any(k not in measured for k in need):
        return {}
    beside = (measured["hair_width_hw"] - 1) * measured["head_width_hh"] / 2
    across = measured.get("parting_offset_hw", 0.0) * measured["head_width_hh"] / CROWN_RADIUS
    wished = {
        "kind": 1.0, "volume": beside, "lift": LIFT_SHARE * measured["hair_height_hh"],
        "parting": math.asin(max(-1.0, min(1.0, across))) / PARTING_REACH,
    }  # fmt: skip
    bounds = {p.key: (p.low, p.high) for p in feature("hair").parameters}
    return {k: round(min(max(v, bounds[k][0]), bounds[k][1]), 3) for k, v in wished.items()}
