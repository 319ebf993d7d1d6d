"""Three plans at the edge of what can be drawn: a squat one, a long one, and one that is nearly all eyes."""

from __future__ import annotations

from orthomet.demo.cast import face

SQUAT = face(
    hairline_station=0.15, brow_station=0.40, eye_station=0.48, nose_base_station=0.70, mouth_station=0.82, face_width_hh=0.80,
    head_width_hh=0.82, jaw_width_fw=0.96, chin_width_fw=0.62, eye_width_fw=0.15, eye_gap_ew=1.7, eye_opening_ew=0.30, iris_ew=0.5,
    nose_length_hh=0.24, nose_width_fw=0.36, mouth_width_fw=0.55, upper_lip_hh=0.035, lower_lip_hh=0.045, brow_length_ew=1.6,
    brow_thickness_ew=0.22, neck_width_hw=0.92, ear_top_station=0.42, ear_bottom_station=0.66,
)  # fmt: skip
LONG = face(
    hairline_station=0.20, brow_station=0.40, eye_station=0.46, nose_base_station=0.74, mouth_station=0.83, face_width_hh=0.46,
    head_width_hh=0.50, jaw_width_fw=0.66, chin_width_fw=0.34, eye_width_fw=0.21, eye_gap_ew=1.05, eye_opening_ew=0.34, iris_ew=0.42,
    nose_length_hh=0.34, nose_width_fw=0.24, mouth_width_fw=0.36, upper_lip_hh=0.012, lower_lip_hh=0.016, brow_length_ew=1.4,
    brow_thickness_ew=0.08, neck_width_hw=0.44, ear_top_station=0.40, ear_bottom_station=0.76,
)  # fmt: skip
EYES = face(
    hairline_station=0.24, brow_station=0.44, eye_station=0.60, nose_base_station=0.77, mouth_station=0.85, face_width_hh=0.74,
    head_width_hh=0.82, jaw_width_fw=0.62, chin_width_fw=0.26, eye_width_fw=0.30, eye_gap_ew=0.95, eye_opening_ew=0.72, iris_ew=0.62,
    nose_length_hh=0.10, nose_width_fw=0.12, mouth_width_fw=0.24, upper_lip_hh=0.010, lower_lip_hh=0.016, brow_length_ew=1.1,
    brow_thickness_ew=0.07, neck_width_hw=0.34, ear_top_station=0.52, ear_bottom_station=0.74,
)  # fmt: skip
EXTREMES = {"SQUAT": SQUAT, "LONG": LONG, "EYES": EYES}
