"""The build of a figure: every length, width and girth its masses are made to, and its form; all in heads."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from functools import cached_property

import numpy as np

from ..kinds import Array
from .choices import FORM_BOUNDS
from .frames import about_plumb, forward, outward

JOINTED, RUBBER = "jointed", "rubber"
LEG_OUT, LEG_FORWARD, TOES_OUT, KNEE_BENT = 1.6, 2.0, 7.0, 5.0
"""How a standing leg leaves the plumb and turns out, degrees (own): a locked knee looks wooden."""
HIP_ABOVE = 0.13
"""The hip joints lie this share of the trunk above the crotch (own, after common practice)."""


@dataclass(frozen=True)
class Form:
    """What a figure's masses look like at the same lengths and widths. Numbers are own unless said otherwise."""

    feminine: float = 0.4
    """0 masculine … 1 feminine: softness of the forms, pectoral or bust planes, how many lines."""
    muscle: float = 1.0
    """Contrast of the limbs' profiles."""
    softness: float = 0.3
    """Fat over it: wider blends, fewer lines."""
    bust: float = 0.0
    belly: float = 0.4
    seat: float = 1.0
    slope: float = 1.0
    """How far the shoulders fall."""
    stance: float = 1.0
    """How far the feet stand apart."""
    arms_out: float = 0.0
    """Arms held further from the body, degrees."""
    detail: float = 1.0
    """Inner lines: 0 none … 1 all that suit the body."""
    forearm_belly: float = 1.0
    """Over 1: the forearm's bulk is crowded to the elbow."""
    calf_belly: float = 1.0
    chest_depth: float = 0.756
    """Depth of the rib cage by its width."""

    def with_values(self, values: Mapping[str, float]) -> Form:
        """The same with some values set, each held to its bounds; names that are none are left out."""
        return replace(
            self, **{k: min(max(float(v), FORM_BOUNDS[k][0]), FORM_BOUNDS[k][1]) for k, v in values.items() if k in FORM_BOUNDS}
        )


PLAIN_FORM = Form()


@dataclass(frozen=True)
class Build:
    """Planned readings of a standing figure. Lengths along the bones, widths from the front."""

    heads: float = 7.5
    head_width: float = 0.655
    neck_width: float = 0.46
    neck_length: float = 0.35
    """Chin to the shoulder line."""
    trunk: float = 2.54
    """Shoulder line to crotch."""
    shoulder: float = 2.0
    """Outer outline."""
    ribcage: float = 1.19
    waist: float = 1.03
    pelvis: float = 1.19
    hip: float = 1.42
    upper_arm: float = 1.42
    forearm: float = 1.12
    hand: float = 0.80
    hand_width: float = 0.37
    leg_balance: float = 1.03
    """Thigh by shin."""
    ankle_height: float = 0.30
    foot: float = 1.12
    foot_width: float = 0.41
    upper_arm_girth: float = 0.39
    forearm_girth: float = 0.36
    wrist_girth: float = 0.235
    thigh_girth: float = 0.68
    knee_girth: float = 0.405
    calf_girth: float = 0.495
    ankle_girth: float = 0.27
    form: Form = PLAIN_FORM
    limbs: str = JOINTED
    neck_axis: float = -0.085
    """How far before the plumb (behind: negative) the neck's axis lies at the height of the mouth."""

    @property
    def rubber(self) -> bool:
        return self.limbs == RUBBER

    @property
    def shoulder_line(self) -> float:
        return 1 + self.neck_length

    @property
    def crotch(self) -> float:
        return self.shoulder_line + self.trunk

    @property
    def hip_line(self) -> float:
        return self.crotch - HIP_ABOVE * self.trunk

    @property
    def ankle(self) -> float:
        return self.heads - self.ankle_height

    @property
    def chest(self) -> float:
        """Depth of the rib cage."""
        return self.form.chest_depth * self.ribcage

    @cached_property
    def leg_frame(self) -> Array:
        """How the left thigh of the standing figure is turned."""
        k = self.form.stance
        return np.asarray(forward(LEG_FORWARD) @ outward(LEG_OUT * k) @ about_plumb(TOES_OUT * k))

    @cached_property
    def leg_bones(self) -> tuple[float, float]:
        """Thigh and shin: so long that the feet of the standing figure, its knees a little bent, rest on the floor."""
        upper, lower = float(self.leg_frame[1, 1]), float((self.leg_frame @ forward(-KNEE_BENT))[1, 1])
        shin = max(self.ankle - self.hip_line, 0.02) / (self.leg_balance * upper + lower)
        return self.leg_balance * shin, shin

    @property
    def shoulder_drop(self) -> float:
        """How far the shoulder joints lie under the shoulder line."""
        return 0.50 * self.upper_arm_girth * self.form.slope + 0.02 * self.trunk


OF_READING = {
    "heads_tall": "heads", "head_width_hh": "head_width", "neck_length_hh": "neck_length", "trunk_hh": "trunk", "shoulder_hh": "shoulder",
    "ribcage_hh": "ribcage", "waist_hh": "waist", "pelvis_hh": "pelvis", "hip_hh": "hip", "upper_arm_hh": "upper_arm",
    "forearm_hh": "forearm", "hand_hh": "hand", "hand_width_hh": "hand_width", "leg_balance": "leg_balance",
    "ankle_height_hh": "ankle_height", "foot_hh": "foot", "foot_width_hh": "foot_width", "upper_arm_girth_hh": "upper_arm_girth",
    "forearm_girth_hh": "forearm_girth", "wrist_girth_hh": "wrist_girth", "thigh_girth_hh": "thigh_girth",
    "knee_girth_hh": "knee_girth", "calf_girth_hh": "calf_girth", "ankle_girth_hh": "ankle_girth",
}  # fmt: skip
"""Reading → what of a build it is. The neck is planned in head widths (``neck_hw``)."""


def build_of(
    readings: Mapping[str, float], form: Form = PLAIN_FORM, limbs: str = JOINTED, neck_axis: float | None = None
) -> Build:
    """The build that has these planned readings; what is missing is the measured adult's."""
    given = {OF_READING[k]: float(v) for k, v in readings.items() if k in OF_READING}
    b = Build(**given, form=form, limbs=limbs)
    neck = readings.get("neck_hw")
    return replace(
        b,
        neck_width=b.neck_width if neck is None else float(neck) * b.head_width,
        neck_axis=b.neck_axis if neck_axis is None else neck_axis,
    )


def readings_of(b: Build) -> dict[str, float]:
    """Every reading of the figure's registry a build decides, planned ones and those that follow."""
    thigh, shin = b.leg_bones
    joints = 2 * joint_x(b)
    out = {key: float(getattr(b, name)) for key, name in OF_READING.items()}
    return out | {
        "crotch_station_fig": b.crotch / b.heads,
        "neck_hw": b.neck_width / b.head_width,
        "acromion_hh": joints,
        "shoulder_hw": b.shoulder / b.head_width,
        "ribcage_hw": b.ribcage / b.head_width,
        "shoulder_hip": b.shoulder / b.hip,
        "arm_balance": b.upper_arm / b.forearm,
        "thigh_hh": thigh,
        "shin_hh": shin,
        "forearm_taper": b.forearm_girth / b.wrist_girth,
        "calf_taper": b.calf_girth / b.ankle_girth,
    }


def joint_x(b: Build) -> float:
    """Half the distance between the shoulder joints as a first guess, before the arm's own outline is known."""
    return max(b.shoulder / 2 - 0.60 * b.upper_arm_girth, 0.05 * b.shoulder)


NAMES = tuple(f.name for f in fields(Form))
