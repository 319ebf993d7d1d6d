"""Template points for seeding a profile or a figure: an ordinary adult, head units, crown at 0 and chin at 1.

Own, laid out from the adult norms of this project (profile) and its measured-adult canon of 7½ heads (figure).
"""

from __future__ import annotations

import numpy as np

from ..kinds import Array
from .schema import Schema
from .views import FIGURE, PROFILE

TALL = 7.5

# looks to the right; x from the front edge of the ear, in heads
_PROFILE = {
    "vertex": (0.02, 0.0), "gnathion": (0.37, 1.0), "trichion": (0.36, 0.195), "glabella": (0.445, 0.43), "nasion": (0.425, 0.465),
    "pronasale": (0.525, 0.655), "subnasale": (0.45, 0.695), "stomion": (0.44, 0.79), "pogonion": (0.43, 0.93), "gonion": (0.03, 0.83),
    "tragion": (0.0, 0.585), "opisthocranion": (-0.41, 0.46), "labiale_superius": (0.46, 0.765), "labiale_inferius": (0.45, 0.83),
    "sublabiale": (0.425, 0.865), "exocanthion": (0.34, 0.505), "brow_peak": (0.39, 0.425), "superaurale": (-0.04, 0.44),
    "subaurale": (-0.02, 0.71), "neck_front": (0.20, 1.16), "neck_back": (-0.30, 1.0),
}  # fmt: skip

# the left half of a standing figure (it stands at the picture's right); x from the midline, y from the crown, in heads
_FIGURE = {
    "acromion": (0.85, 1.48), "shoulder_side": (1.0, 1.62), "ribcage_side": (0.595, 2.3), "waist_side": (0.515, 2.95),
    "hip_side": (0.71, 3.85), "trochanterion": (0.56, 3.75), "radiale": (1.02, 2.89), "stylion": (1.12, 4.0), "knuckle": (1.14, 4.4),
    "dactylion": (1.14, 4.8), "patella": (0.48, 5.55), "malleolus": (0.40, 7.2), "heel": (0.38, 7.45), "toe_tip": (0.58, 7.5),
    "upper_arm_outer": (1.13, 2.15), "upper_arm_inner": (0.74, 2.15), "forearm_outer": (1.24, 3.2), "forearm_inner": (0.88, 3.2),
    "wrist_outer": (1.235, 3.95), "wrist_inner": (1.0, 3.95), "thigh_outer": (0.72, 4.5), "thigh_inner": (0.05, 4.5),
    "calf_outer": (0.67, 6.15), "calf_inner": (0.18, 6.15), "euryon": (0.3275, 0.36), "neck_side": (0.23, 1.08),
    "iliocristale": (0.595, 3.35), "hand_outer": (1.325, 4.42), "hand_inner": (0.955, 4.42), "knee_outer": (0.68, 5.55),
    "knee_inner": (0.28, 5.55), "ankle_outer": (0.535, 7.05), "ankle_inner": (0.265, 7.05), "foot_outer": (0.66, 7.42),
    "foot_inner": (0.25, 7.42),
}  # fmt: skip
_FIGURE_MID = {
    "vertex": (0.0, 0.0),
    "gnathion": (0.0, 1.0),
    "suprasternale": (0.0, 1.35),
    "perineum": (0.0, 3.98),
    "floor": (0.0, TALL),
}


def template(schema: Schema) -> Array:
    """Points of a view's template in the schema's order, shape ``(n, 2)``; nan for the artist's own points."""
    table = dict(_PROFILE)
    if schema.view == "figure":
        table = dict(_FIGURE_MID)
        for name, (x, y) in _FIGURE.items():
            table |= {f"{name}_l": (x, y), f"{name}_r": (-x, y)}
    return np.array([table.get(n, (np.nan, np.nan)) for n in schema.names])


ANCHORS = {
    "front": ("vertex", "gnathion", "exocanthion_l"),
    "profile": ("vertex", "gnathion", "pronasale"),
    "figure": ("vertex", "gnathion", "floor"),
}
"""The three points a person clicks first, by view."""


def lay(view: str, clicked: dict[str, tuple[float, float]]) -> dict[str, tuple[float, float]]:
    """Places of all landmarks of a profile or a figure from its three anchors, picture coordinates.

    A profile is mirrored to look the way it does. Below a figure's chin the template is stretched so that the feet meet
    the floor; across it keeps the head's scale, softened toward the body's where the two differ.
    """
    crown, chin = np.array(clicked["vertex"], float), np.array(clicked["gnathion"], float)
    hh = max(float(chin[1] - crown[1]), 1.0)
    if view == "profile":
        t = template(PROFILE)
        ahead = 1.0 if clicked["pronasale"][0] >= (crown[0] + chin[0]) / 2 else -1.0
        scale_x = ahead * hh
        nose = PROFILE.index["pronasale"]
        out = np.column_stack([clicked["pronasale"][0] + (t[:, 0] - t[nose, 0]) * scale_x, crown[1] + t[:, 1] * hh])
        names: tuple[str, ...] = PROFILE.names
    else:
        t = template(FIGURE)
        below = max(float(clicked["floor"][1] - chin[1]), hh * 0.2) / (TALL - 1)
        wide = float(np.sqrt(hh * below))
        y = np.where(t[:, 1] <= 1, crown[1] + t[:, 1] * hh, chin[1] + (t[:, 1] - 1) * below)
        middle = crown[0] + (clicked["floor"][0] - crown[0]) * np.clip(t[:, 1] / TALL, 0, 1)
        out = np.column_stack([middle + t[:, 0] * wide, y])
        names = FIGURE.names
    return {n: (float(x), float(y)) for n, (x, y) in zip(names, out, strict=True)} | dict(clicked)
