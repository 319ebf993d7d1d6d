"""In what order an artist puts things right: proportion first, then style, then polish."""

from __future__ import annotations

from dataclasses import replace
from enum import StrEnum

from ..proportions.registry import Role, front_registry
from .check import Check, Finding


class Stage(StrEnum):
    PROPORTION = "Proportion"
    STYLE = "Style"
    POLISH = "Polish"


STYLE_READINGS = (
    "iris", "eye_opening", "eye_tilt", "lid_", "brow_length", "brow_thickness", "brow_peak", "upper_lip", "lower_lip", "pupil_iris", "parting",
    "hair_",
)  # fmt: skip
"""Readings that tell a manner of drawing rather than where things are (own)."""
ASKEW = ("level_", "centre_", "offset_")
"""Readings of what lies askew; one eye larger than the other is proportion."""
_ORDER = {s: k for k, s in enumerate(Stage)}


def stage_of(f: Finding) -> Stage:
    """What a finding is about: what lies askew is polish, as long as it is small."""
    reg = front_registry()
    r = reg[f.reading] if f.reading in reg.index else None
    if r is not None and r.role is Role.BALANCE and f.reading.startswith(ASKEW):
        return Stage.POLISH if f.severity < BIG else Stage.PROPORTION
    return Stage.STYLE if f.reading.startswith(STYLE_READINGS) else Stage.PROPORTION


BIG = 3.0
"""Tolerances beyond which what lies askew is no polish any more (own)."""


def in_order(check: Check) -> Check:
    """The same check, its findings by stage and within each by how far they are off."""
    found = sorted(check.findings, key=lambda f: (_ORDER[stage_of(f)], -f.severity))
    return replace(check, findings=tuple(found))
