"""A plan's own landmarks: from independent traits to points, so that derived readings follow by measuring them.

Head units: x to the right about the midline (the character's left is +x), y the station.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from ..kinds import Array
from ..landmarks.schema import FRONT
from ..proportions.registry import Rule, front_registry
from .outline import half_width, knots, width_at

UPPER_LID = 0.6
"""Share of the opening above the corners' line (own; Farkas' open lids, from memory)."""
BROW_OUT = 0.06
"""How far the brow's middle lies outside the eye's, in eye widths (common practice: it overhangs the outer corner)."""
BROW_PEAK = 2 / 3
"""Place of the peak along the brow from its inner end (common practice)."""
BROW_DROP = 0.105
"""How far the brow's ends hang below its peak, mean of both, in eye widths (own)."""
BROW_TILT = 3.0
"""Its outer end above its inner one, degrees: the norm of the brow's tilt (own), which no trait of the plan moves."""
TIP_LIFT = 0.15
"""Nose tip above the base, in nose lengths (own)."""
WING_LIFT = 0.10
"""Widest point of the wings above the base, in nose lengths (own)."""


@dataclass(frozen=True)
class Asymmetry:
    """Chosen left–right differences by balance reading: ``level_*``, ``centre_*``, ``offset_*``, in heads."""

    values: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class FaceSizes:
    """The lengths the drawing needs, in heads."""

    fw: float
    hw: float
    ew: float
    gap: float
    opening: float
    iris: float
    tilt: float
    brow: float
    brow_thick: float

    @property
    def eye_x(self) -> float:
        return (self.gap + self.ew) / 2


def sizes(p: Mapping[str, float]) -> FaceSizes:
    fw = p["face_width_hh"]
    ew = p["eye_width_fw"] * fw
    return FaceSizes(
        fw, p["head_width_hh"], ew, p["eye_gap_ew"] * ew, p["eye_opening_ew"] * ew, p["iris_ew"] * ew,
        float(np.tan(np.radians(p["eye_tilt_deg"]))) * ew, p["brow_length_ew"] * ew, p["brow_thickness_ew"] * ew,
    )  # fmt: skip


def plan_points(p: Mapping[str, float], asymmetry: Asymmetry | None = None) -> Array:
    """Landmarks of a plan, shape ``(n, 2)`` in schema order; nan where a plan says nothing (hair, pit of the neck)."""
    s, k, a = sizes(p), knots(p), half_width(p)
    eye, brow, nose, mouth = p["eye_station"], p["brow_station"], p["nose_base_station"], p["mouth_station"]
    nl = p["nose_length_hh"]
    top, bottom = p["ear_top_station"], p["ear_bottom_station"]
    inner = s.eye_x + BROW_OUT * s.ew - s.brow / 2
    lid = eye - UPPER_LID * s.opening
    crease = min(max(lid - 0.008 - 0.16 * s.opening, brow + s.brow_thick + 0.004), lid - 0.002)
    tilt = float(np.tan(np.radians(BROW_TILT))) * s.brow / 2
    mid = {
        "vertex": 0.0, "gnathion": 1.0, "trichion": p["hairline_station"], "glabella": (brow + nose - nl) / 2,
        "nasion": nose - nl, "pronasale": nose - TIP_LIFT * nl, "subnasale": nose, "labiale_superius": mouth - p["upper_lip_hh"],
        "stomion": mouth, "labiale_inferius": mouth + p["lower_lip_hh"], "sublabiale": mouth + 0.36 * (1 - mouth),
    }  # fmt: skip
    pupil_y = eye - 0.1 * s.opening
    pair = {
        "endocanthion": (s.gap / 2, eye + s.tilt / 2), "exocanthion": (s.gap / 2 + s.ew, eye - s.tilt / 2),
        "palpebrale_superius": (s.eye_x, lid), "palpebrale_inferius": (s.eye_x, lid + s.opening),
        "lid_crease": (s.eye_x, crease), "pupil": (s.eye_x, pupil_y),
        "iris_medial": (s.eye_x - s.iris / 2, pupil_y), "iris_lateral": (s.eye_x + s.iris / 2, pupil_y),
        "pupil_medial": (s.eye_x - 0.19 * s.iris, pupil_y), "pupil_lateral": (s.eye_x + 0.19 * s.iris, pupil_y),
        "brow_inner": (inner, brow + BROW_DROP * s.ew + tilt), "brow_peak": (inner + BROW_PEAK * s.brow, brow),
        "brow_outer": (inner + s.brow, brow + max(BROW_DROP * s.ew - tilt, 0.0)),
        "brow_lower_peak": (inner + BROW_PEAK * s.brow, brow + s.brow_thick),
        "alare": (p["nose_width_fw"] * s.fw / 2, nose - WING_LIFT * nl),
        "cheilion": (p["mouth_width_fw"] * s.fw / 2, mouth),
        "euryon": (k.half[0], k.stations[0]), "zygion": (k.half[1], k.stations[1]),
        "gonion": (k.half[2], k.stations[2]), "chin_side": (k.half[3], k.stations[3]),
        "frontotemporale": (0.85 * s.fw / 2, brow - 0.05),
        "superaurale": (float(width_at(a, top)) + 0.024, top), "subaurale": (float(width_at(a, bottom)) + 0.016, bottom),
        "neck_side": (p["neck_width_hw"] * s.hw / 2, 1.04),
    }  # fmt: skip
    out = np.full((len(FRONT.names), 2), np.nan)
    for name, y in mid.items():
        out[FRONT.index[name]] = (0.0, y)
    for name, (x, y) in pair.items():
        out[FRONT.index[name + "_l"]] = (x, y)
        out[FRONT.index[name + "_r"]] = (-x, y)
    return _lopsided(out, asymmetry.values) if asymmetry and asymmetry.values else out


def _lopsided(points: Array, values: Mapping[str, float]) -> Array:
    out = points.copy()
    reg = front_registry()
    for key, v in values.items():
        r = reg[key]
        if r.rule is Rule.OFFSET:
            out[FRONT.index[r.about], 0] += v
            continue
        left, right = FRONT.index[f"{r.about}_l"], FRONT.index[f"{r.about}_r"]
        if r.rule is Rule.LEVEL:
            out[left, 1] += v / 2
            out[right, 1] -= v / 2
        else:
            out[[left, right], 0] += v
    return out
