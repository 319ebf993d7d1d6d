"""Bones of a standing figure: joints in three dimensions, frames, lengths.

x right (the figure's left), y down from the crown, z to the viewer; heads. A frame's columns are its own x, y (along the bone) and z
(forward). Lengths are fixed by the build; a pose only turns frames.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..kinds import Array
from .build import KNEE_BENT, Build
from .ends import HEEL
from .frames import about_plumb, forward, outward, swung, twist

SIDES = (("l", 1), ("r", -1))
ARM_OUT, ARM_FORWARD, ELBOW_BENT = 6.0, -2.0, 12.0
"""How a hanging arm leaves the plumb, degrees (own)."""
PALM_IN = -112.0
"""How far the palm is turned about the forearm from looking forward: to the thigh, a little back."""
WRIST_BENT = 6.0


@dataclass(frozen=True, eq=False)
class Limb:
    """Two bones: where they start, how the first is turned, how far the second is bent against it (forward positive)."""

    root: Array
    frame: Array
    bend: float
    upper: float
    lower: float
    twisted: float = 0.0
    """Turn about the bone from where the limb would be if only swung; it comes in along the limb."""

    @property
    def joint(self) -> Array:
        """Elbow or knee."""
        return np.asarray(self.root + self.frame[:, 1] * self.upper)

    @cached_property
    def lower_frame(self) -> Array:
        return np.asarray(self.frame @ forward(self.bend))

    @property
    def tip(self) -> Array:
        """Wrist or ankle."""
        return np.asarray(self.joint + self.lower_frame[:, 1] * self.lower)


@dataclass(frozen=True, eq=False)
class Skeleton:
    """A standing figure's bones. ``arm`` and ``leg`` are the left ones; the right ones are their mirror image."""

    build: Build
    shoulder_x: float
    hip_x: float
    arm: Limb
    leg: Limb
    hand: Array
    """Frame of the left hand."""
    foot: Array

    @cached_property
    def joints(self) -> dict[str, Array]:
        """Places of the joints by name."""
        b = self.build
        k, kz = b.trunk / 2.54, b.chest / 0.9
        out = {
            "crown": np.array([0.0, 0.0, 0.0]),
            "head": np.array([0.0, 0.90, b.neck_axis]),
            "neck": np.array([0.0, b.shoulder_line - 0.04 * k, -0.16 * kz]),
            "chest": np.array([0.0, b.shoulder_line + 0.30 * b.trunk, -0.12 * kz]),
            "waist": np.array([0.0, b.shoulder_line + 0.64 * b.trunk, -0.10 * kz]),
            "pelvis": np.array([0.0, b.hip_line, 0.0]),
        }
        for side, sign in SIDES:
            flip = np.array([sign, 1.0, 1.0])
            out |= {
                f"clavicle_{side}": flip * np.array([0.10 * k, b.shoulder_line + 0.05 * k, -0.02 * kz]),
                f"shoulder_{side}": flip * self.arm.root,
                f"elbow_{side}": flip * self.arm.joint,
                f"wrist_{side}": flip * self.arm.tip,
                f"fingertip_{side}": flip * (self.arm.tip + self.hand[:, 1] * b.hand),
                f"hip_{side}": flip * self.leg.root,
                f"knee_{side}": flip * self.leg.joint,
                f"ankle_{side}": flip * self.leg.tip,
                f"heel_{side}": flip * (self.leg.tip + self.foot @ np.array([0, b.ankle_height, -HEEL * b.foot])),
                f"toe_{side}": flip * (self.leg.tip + self.foot @ np.array([0, b.ankle_height, (1 - HEEL) * b.foot])),
            }
        return out

    @cached_property
    def bones(self) -> dict[str, float]:
        """Lengths of the bones by name."""
        at = self.joints
        return {name: float(np.linalg.norm(at[a] - at[b])) for name, (a, b) in BONES.items()}


BONES: Mapping[str, tuple[str, str]] = {
    "neck": ("head", "neck"), "chest": ("neck", "chest"), "loin": ("chest", "waist"), "pelvis": ("waist", "pelvis"),
} | {
    f"{name}_{side}": (f"{a}_{side}", f"{b}_{side}")
    for name, a, b in (
        ("clavicle", "clavicle", "shoulder"), ("upper_arm", "shoulder", "elbow"), ("forearm", "elbow", "wrist"), ("hand", "wrist", "fingertip"),
        ("thigh", "hip", "knee"), ("shin", "knee", "ankle"), ("foot", "heel", "toe"),
    )
    for side, _ in SIDES
}  # fmt: skip
"""Bone → the joints it lies between."""


def standing(b: Build, shoulder_x: float, hip_x: float) -> Skeleton:
    """The figure upright: arms hanging, feet on the floor."""
    kz = b.chest / 0.9
    root = np.array([shoulder_x, b.shoulder_line + b.shoulder_drop, -0.10 * kz])
    frame = forward(ARM_FORWARD) @ outward(ARM_OUT + b.form.arms_out)
    arm = Limb(root, frame, ELBOW_BENT, max(b.upper_arm - b.shoulder_drop, 0.3 * b.upper_arm), b.forearm,
               twist(swung(np.eye(3), frame[:, 1]), frame))  # fmt: skip
    hand = arm.lower_frame @ about_plumb(PALM_IN) @ forward(WRIST_BENT)
    frame, (thigh, shin) = b.leg_frame, b.leg_bones
    leg = Limb(
        np.array([hip_x, b.hip_line, -0.02 * kz]), frame, -KNEE_BENT, thigh, shin, twist(swung(np.eye(3), frame[:, 1]), frame)
    )
    way = leg.frame[:, 2] * [1, 0, 1]
    foot = about_plumb(float(np.degrees(np.arctan2(way[0], way[2]))) + 6)
    return Skeleton(b, shoulder_x, hip_x, arm, leg, hand, foot)
