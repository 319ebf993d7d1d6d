"""An invented profile: its landmarks in heads, looking right, the crown at height 0, and what is planned of it."""

from __future__ import annotations

PLANNED = {
    "hairline_station": 0.2, "brow_station": 0.44, "eye_station": 0.5, "nose_base_station": 0.71, "mouth_station": 0.8, "ear_top_station": 0.45,
    "ear_bottom_station": 0.7, "nose_length_hh": 0.27, "nose_depth_hh": 0.09, "upper_lip_out_hh": 0.01, "lower_lip_out_hh": -0.006,
    "chin_out_hh": -0.013, "head_depth_hh": 0.85,
}  # fmt: skip
AT = {
    "vertex": (0.45, 0.0), "gnathion": (0.84, 1.0), "trichion": (0.80, 0.2), "glabella": (0.88, 0.43), "nasion": (0.86, 0.44), "pronasale": (0.98, 0.68),
    "subnasale": (0.89, 0.71), "stomion": (0.885, 0.80), "labiale_superius": (0.90, 0.78), "labiale_inferius": (0.894, 0.83), "sublabiale": (0.87, 0.86),
    "pogonion": (0.877, 0.94), "exocanthion": (0.77, 0.5), "brow_peak": (0.82, 0.44), "superaurale": (0.42, 0.45), "subaurale": (0.43, 0.7),
    "tragion": (0.45, 0.58), "gonion": (0.53, 0.82), "opisthocranion": (0.03, 0.42),
}  # fmt: skip
PROFILED = tuple(PLANNED)
"""Readings a profile is checked by."""
