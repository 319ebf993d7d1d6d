"""Who is who aboard the Night Ferry: invented people, their faces as plan traits, and what has been decided for them."""

from __future__ import annotations

import numpy as np

from ..core.features.choices import FaceMark, FeatureChoices
from ..core.features.table import feature
from ..core.kinds import backward, forward
from ..core.landmarks.own import own
from ..core.plan.decisions import Decisions
from ..core.plan.versions import Version
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

LAMP_ROOM = dict(
    hairline_station=0.205, brow_station=0.435, eye_station=0.545, nose_base_station=0.735, mouth_station=0.835,
    face_width_hh=0.700, head_width_hh=0.760, jaw_width_fw=0.70, chin_width_fw=0.34, eye_width_fw=0.252, eye_gap_ew=1.02,
    eye_opening_ew=0.58, iris_ew=0.52, nose_length_hh=0.150, nose_width_fw=0.165, mouth_width_fw=0.300, upper_lip_hh=0.014,
    lower_lip_hh=0.020, brow_length_ew=1.15, brow_thickness_ew=0.10, neck_width_hw=0.42, ear_top_station=0.50, ear_bottom_station=0.70,
)  # fmt: skip
"""What the lamp-room sketchbook does to every face: the invented hand the demo's style is learned from."""
STEADY, LOOSE = 0.012, 0.06
"""Relative spread between its drawings: of what it does the same every time, and of everything else."""
STEADY_KEYS = ("eye_station", "eye_width_fw", "eye_opening_ew", "iris_ew", "mouth_width_fw", "nose_width_fw", "neck_width_hw")


def sketchbook_faces(n: int = 8, seed: int = 31) -> list[dict[str, float]]:
    """Traits of the sketchbook's drawings, the same every time."""
    rng = np.random.default_rng(seed)
    out = []
    for _ in range(n):
        out.append(face(**{
            k: v + rng.normal(0, (0.004 if k in STEADY_KEYS else 0.012)) if k.endswith("_station")
            else v * float(np.exp(rng.normal(0, STEADY if k in STEADY_KEYS else LOOSE)))
            for k, v in LAMP_ROOM.items()
        }))  # fmt: skip
    return out


HABITS = {
    "eye_width_fw": 0.13,
    "eye_opening_ew": 0.20,
    "nose_length_hh": -0.10,
    "mouth_width_fw": -0.08,
    "jaw_width_fw": -0.06,
    "lower_lip_hh": 0.16,
}
"""What the demo's own hand adds to every face it draws from life, in the transform's unit (logarithms: all are sizes)."""
PUSH = 0.6
"""How much of a sitter's own difference it lets through."""
STUDIES = (("lorn", 41), ("lorn", 42), ("lorn", 43), ("wick", 44), ("wick", 45))
"""Its studies from life: who, and the seed."""


def study_face(sitter: dict[str, float], seed: int) -> dict[str, float]:
    """Traits of one study: habit, push, and a hand that is not perfectly steady."""
    rng, reg, n = np.random.default_rng(seed), front_registry(), norm()
    out = {}
    for key, v in sitter.items():
        i = reg.index[key]
        kind, mu = reg.readings[i].kind, float(n.g_mean[i])
        d = float(forward(kind, v)) - mu
        g = mu + HABITS.get(key, 0.0) + PUSH * d + rng.normal(0, 0.12) * float(n.g_sd[i])
        out[key] = float(backward(kind, g))
    return out


KLINKER_SPANS = (
    own("eye", "Eye across", "own:body"),
    own("body", "Body, top to bottom", "own:eye"),
    own("mouth", "Grate across", "own:eye"),
    own("funnel", "Funnel height", "own:eye", usual=1.2),
    own("arm", "Arm, root to claw", "own:eye"),
)
"""The boiler-room creature has no face to speak of: it is measured by parts of its own, in eyes."""


def _drawn(hair: dict[str, float], marks: tuple[FaceMark, ...] = (), **variants: str) -> FeatureChoices:
    """Features by the names of their variants, and hair as the portrait shows it."""
    values = {k: next(v.set for v in feature(k).variants if v.name == name) for k, name in variants.items()}
    return FeatureChoices(values={**values, "hair": hair}, marks=marks)


FRECKLES = FaceMark(name="freckles", x=0.11, station=0.61, size=0.13, count=9, both=True)
BERTA_FEATURES = _drawn(
    {"kind": 2, "lift": 0.078, "volume": 0.05, "parted": 1, "parting": -0.32, "cup": 0.7}, (FRECKLES,), eyes="sleepy", nose="soft"
)
LORN_FEATURES = _drawn(
    {"kind": 2, "lift": 0.04, "volume": 0.02, "parted": 1, "parting": 0.05, "cup": 0.7, "peak": 0.02},
    eyes="boxy", brows="straight", nose="wedge", mouth="line",
)  # fmt: skip
WICK_FEATURES = _drawn(
    {"kind": 1, "lift": 0.062, "volume": 0.08, "fringe": 1.0, "sides": 1.1, "back": 1.15, "clumps": 6, "point": 0.9, "sharp": 0.55, "cup": 0.22},
    eyes="bright", brows="thin", nose="button", mouth="soft",
)  # fmt: skip
"""How the three are drawn."""
COLOURS = {
    "berta": {"hair": "#8b8f92", "skin": "#e9c4a8", "eyes": "#8fa7b5", "coat": "#4a5a78"},
    "lorn": {"hair": "#5d4a3b", "skin": "#ecd0b6", "eyes": "#86907a", "coat": "#6a5f57"},
    "wick": {"hair": "#b5672f", "skin": "#f0cbb0", "eyes": "#7d9a6a", "coat": "#a54a3a"},
}
"""What each is painted in, by part."""
BERTA_YOUNG = Version(id="berta-young", title="at fourteen", kind="younger", amount=40, forbidden=("eye_gap_ew",),
                      note="In the harbour-school photograph over the wheel.")  # fmt: skip
WICK_OLD = Version(id="wick-grown", title="grown up", kind="older", amount=15)
WICK_STRONG = Version(
    id="wick-poster", title="poster", kind="stronger", amount=1.6, note="For the ferry's broadside: everything more so."
)
