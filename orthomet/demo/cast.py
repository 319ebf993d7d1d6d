"""Who is who aboard the Night Ferry: invented people, their faces as plan traits, and what has been decided for them."""

from __future__ import annotations

from ..core.plan.decisions import Decisions
from ..core.proportions.norms import norm
from ..core.proportions.registry import Role, front_registry

TITLE = "The Night Ferry at Quillmere"


def face(**changes: float) -> dict[str, float]:
    """A full table of plan traits: the adult norm with changes."""
    reg, n = front_registry(), norm()
    base = {r.key: float(n.mean[reg.index[r.key]]) for r in reg.of_role(Role.INDEPENDENT)}
    unknown = set(changes) - set(base)
    if unknown:
        raise KeyError(f"not traits: {sorted(unknown)}")
    return base | changes


BERTA = face(
    hairline_station=0.185, brow_station=0.430, eye_station=0.500, nose_base_station=0.722, mouth_station=0.806,
    ear_top_station=0.435, ear_bottom_station=0.725, face_width_hh=0.615, head_width_hh=0.665, jaw_width_fw=0.835,
    chin_width_fw=0.50, eye_width_fw=0.194, eye_gap_ew=1.33, eye_opening_ew=0.325, iris_ew=0.435, eye_tilt_deg=-2.6,
    nose_length_hh=0.268, nose_width_fw=0.262, mouth_width_fw=0.446, upper_lip_hh=0.026, lower_lip_hh=0.034,
    brow_length_ew=1.42, brow_thickness_ew=0.125, neck_width_hw=0.70,
)  # fmt: skip
LORN = face(
    hairline_station=0.165, brow_station=0.418, eye_station=0.490, nose_base_station=0.700, mouth_station=0.795,
    ear_top_station=0.425, ear_bottom_station=0.715, face_width_hh=0.540, head_width_hh=0.605, jaw_width_fw=0.755,
    chin_width_fw=0.43, eye_width_fw=0.222, eye_gap_ew=1.04, eye_opening_ew=0.36, iris_ew=0.415, eye_tilt_deg=2.0,
    nose_length_hh=0.246, nose_width_fw=0.232, mouth_width_fw=0.362, upper_lip_hh=0.024, lower_lip_hh=0.034,
    brow_length_ew=1.45, brow_thickness_ew=0.10, neck_width_hw=0.62,
)  # fmt: skip
WICK = face(
    hairline_station=0.225, brow_station=0.476, eye_station=0.548, nose_base_station=0.712, mouth_station=0.806,
    ear_top_station=0.48, ear_bottom_station=0.735, face_width_hh=0.680, head_width_hh=0.735, jaw_width_fw=0.735,
    chin_width_fw=0.42, eye_width_fw=0.236, eye_gap_ew=1.12, eye_opening_ew=0.47, iris_ew=0.50, eye_tilt_deg=3.0,
    nose_length_hh=0.172, nose_width_fw=0.236, mouth_width_fw=0.335, upper_lip_hh=0.026, lower_lip_hh=0.036,
    brow_length_ew=1.30, brow_thickness_ew=0.085, neck_width_hw=0.55,
)  # fmt: skip

BERTA_DECISIONS = Decisions(
    style="quillmere-picture-book", style_weight=0.4,
    group_weights={"Eyes": 0.45, "Nose": 0.35, "Mouth": 0.25},
    emphasis={"nose_length_hh": 2.5, "eye_gap_ew": 1.5, "mouth_width_fw": 1.5, "eye_width_fw": 0.5, "iris_ew": 0.0, "jaw_width_fw": 1.5},
    school="circle-and-cross",
)  # fmt: skip
LORN_DECISIONS = Decisions(
    style="quillmere-picture-book", style_weight=0.3, emphasis={"face_width_hh": 2.0, "head_width_hh": 2.0}
)
WICK_DECISIONS = Decisions(style="low-lantern", style_weight=0.35, school="equal-thirds")
