"""A pose on a figure's bones: where every joint comes to lie, in three dimensions, each bone as long as it is.

The left side's rules serve both: a right limb is worked out in the mirror, where its frames are F·R·F with F = diag(−1, 1, 1).
Axes as in :mod:`..figure.skeleton`; heads, degrees.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import acos, degrees, hypot

import numpy as np

from ..figure import ends
from ..figure.build import Build
from ..figure.frames import about_plumb, forward, outward, swung, twist
from ..figure.skeleton import (
    ARM_FORWARD,
    ARM_OUT,
    BONES,
    ELBOW_BENT,
    PALM_IN,
    SIDES,
    WRIST_BENT,
    Limb,
    Skeleton,
)
from ..ink.surface import smooth_step
from ..kept import remembered
from ..kinds import Array
from .limits import arm_frame_within, limits, thigh_frame_within, within
from .model import Hold, Pose
from .turns import bone_frame, flip, halved, hinge, trunk, two_bones

LIFTED_FROM, LIFT_SHARE = 30.0, 0.23
"""An arm swung further than this takes its collar bone along by this share of the rest (common practice: scapula and arm move together)."""
COLLAR_FORWARD = 14.0
"""Degrees a collar bone goes forward at most with an arm swung forward (own)."""
TOES_OUT = 6.0
"""Degrees the toes of a foot on the floor point out from its leg's way (own)."""
ELBOW_ASIDE = (0.0, 20.0, -20.0, 40.0, -40.0, 60.0, -60.0, 85.0, -85.0, 110.0, -110.0, 140.0, -140.0, 180.0)
"""Degrees the elbow of a held hand is tried to both sides of where it is told to point."""
KNEE_REST, SEAT_REST = 0.5, 0.5
"""Shares of the girths that lie under a knee on the floor, and under the hip joints of who sits on it."""
FLAT = 0.25
"""A leg whose front is level by less leaves the foot's way to the pelvis."""


@dataclass(frozen=True, eq=False)
class Posed:
    """A figure's bones in a pose."""

    rest: Skeleton
    pose: Pose
    frames: Mapping[str, Array]
    """Bone → its frame in the world."""
    origins: Mapping[str, Array]
    limbs: Mapping[str, Limb]
    """``arm_l`` … ``leg_r``, every one as a left limb: the right ones in the mirror."""
    hands: Mapping[str, Array]
    """Side → frame of the hand, as a left one."""
    feet: Mapping[str, Array]
    shift: Mapping[str, Array]
    """Side → how far its shoulder has moved within the chest's frame, as a left one."""
    missed: Mapping[str, float]
    """Held ends that do not get there, and by how much, heads."""
    limited: tuple[str, ...]
    """Joints that would go past their limits and were held there."""
    joints: Mapping[str, Array]

    @property
    def bones(self) -> dict[str, float]:
        """Lengths of the bones by name."""
        return {n: float(np.linalg.norm(self.joints[a] - self.joints[b])) for n, (a, b) in BONES.items()}

    def moved(self, bone: str) -> tuple[Array, Array]:
        """Rotation and shift that bring what stands with a trunk's bone to where the pose has it."""
        r = self.frames[bone]
        return r, self.origins[bone] - r @ self.rest.joints[bone]


def _leg_length(s: Skeleton) -> float:
    return s.leg.upper + s.leg.lower


@dataclass
class _Work:
    s: Skeleton
    pose: Pose
    waived: frozenset[str]
    limited: list[str]

    def angles(self, joint: str, rest: tuple[float, ...]) -> tuple[float, ...]:
        v = self.pose.angles.get(joint, rest)
        if joint in self.waived or joint not in self.pose.angles:
            return v
        held = within(joint, v)
        if held != v:
            self.limited.append(joint)
        return held


@remembered(12)
def posed(s: Skeleton, pose: Pose) -> Posed:
    """A standing figure's bones in a pose: on the floor, joints within their limits unless waived."""
    b, at = s.build, s.joints
    w = _Work(s, pose, frozenset(pose.waived), [])
    frames: dict[str, Array] = {}
    origins: dict[str, Array] = {}
    none = (0.0, 0.0, 0.0)
    long = _leg_length(s)
    frames["pelvis"] = trunk(w.angles("pelvis", none))
    height = b.hip_line if pose.root[1] == 0 else b.ankle - pose.root[1] * long
    origins["pelvis"] = np.array([pose.root[0] * b.hip, height, pose.root[2] * long])
    spine = trunk(w.angles("spine", none))
    half = halved(spine)
    neck, head = w.angles("neck", none), w.angles("head", none)
    for bone, below, turn in (
        ("waist", "pelvis", half), ("chest", "waist", half.T @ spine), ("neck", "chest", trunk((neck[0], neck[1], neck[2] / 2))),
        ("head", "neck", trunk((head[0], head[1], head[2] + neck[2] / 2))),
    ):  # fmt: skip
        frames[bone] = frames[below] @ turn
        origins[bone] = origins[below] + frames[below] @ (at[bone] - at[below])
    limbs: dict[str, Limb] = {}
    hands, feet, shift, missed = {}, {}, {}, {}
    for side, sign in SIDES:
        leg, foot, off = _leg(w, side, sign, frames, origins)
        limbs[f"leg_{side}"], feet[side] = leg, foot
        if off > 0:
            missed[f"ankle_{side}"] = off
    for side, sign in SIDES:
        arm, hand, moved, off, collar = _arm(w, side, sign, frames, origins, limbs)
        limbs[f"arm_{side}"], hands[side], shift[side] = arm, hand, moved
        origins[f"clavicle_{side}"] = flip(collar, sign)
        if off > 0:
            missed[f"wrist_{side}"] = off
    down = np.array([0.0, _drop(s, pose, frames, origins, limbs, feet), 0.0])
    origins = {k: v + down for k, v in origins.items()}
    limbs = {k: Limb(x.root + down, x.frame, x.bend, x.upper, x.lower, x.twisted) for k, x in limbs.items()}
    joints = _joints(s, frames, origins, limbs, hands, feet)
    return Posed(s, pose, frames, origins, limbs, hands, feet, shift, missed, tuple(dict.fromkeys(w.limited)), joints)


def _place(w: _Work, h: Hold, sign: int, frames: Mapping[str, Array], origins: Mapping[str, Array],
           limbs: Mapping[str, Limb]) -> tuple[Array, Array]:  # fmt: skip
    """Where a hold lies and which way it points, in the world."""
    b, s = w.s.build, w.s
    at, toward = np.array(h.at), np.array(h.toward)
    if h.of == "floor":
        long = _leg_length(s)
        return np.array([at[0] * b.hip, b.ankle + at[1] * long, at[2] * long]), toward
    if h.of.startswith("thigh"):
        limb, way = limbs[f"leg_{h.of[-1]}"], 1 if h.of.endswith("l") else -1
        frame = flip(limb.frame, way)
        place = flip(limb.root, way) + frame @ (at * [b.thigh_girth, limb.upper, b.thigh_girth])
        return place, frame @ toward
    wide = {"pelvis": b.hip, "chest": b.ribcage, "head": b.head_width}[h.of] / 2
    tall = 1.0 if h.of == "head" else b.trunk
    deep = 0.87 / 2 if h.of == "head" else b.chest / 2
    frame = frames[h.of]
    return origins[h.of] + frame @ (at * [wide, tall, deep]), frame @ toward


def _leg(w: _Work, side: str, sign: int, frames: Mapping[str, Array], origins: Mapping[str, Array]) -> tuple[Limb, Array, float]:
    s, pose = w.s, w.pose
    pelvis = flip(frames["pelvis"], sign)
    root = flip(origins["pelvis"], sign) + pelvis @ (s.leg.root - s.joints["pelvis"])
    off, thigh, knee = 0.0, f"thigh_{side}", f"knee_{side}"
    hold = pose.holds.get(f"ankle_{side}")
    if hold is not None:
        to, toward = (flip(v, sign) for v in _place(w, hold, sign, frames, origins, {}))
        t, f, off = two_bones(root, to, toward, s.leg.upper, s.leg.lower)
        frame, bend = bone_frame(t, -hinge(t, f, -toward)), degrees(acos(min(max(float(t @ f), -1.0), 1.0)))
    else:
        given = pose.angles.get(thigh)
        own = s.leg.frame if given is None else forward(given[0]) @ outward(given[1]) @ about_plumb(given[2])
        frame, (bend,) = pelvis @ own, w.angles(knee, (-s.leg.bend,))
    if thigh not in w.waived:
        held = thigh_frame_within(frame, pelvis)
        if held is not frame:
            w.limited.append(thigh)
            frame = held
    if knee not in w.waived and not s.build.rubber:
        (kept,) = within(knee, (bend,))
        if abs(kept - bend) > 1e-9:
            w.limited.append(knee)
        bend = kept
    limb = Limb(root, frame, -bend, s.leg.upper, s.leg.lower, twist(swung(pelvis, frame[:, 1]), frame))
    if hold is not None:
        off = max(off, float(np.linalg.norm(limb.tip - to)))
        off = off if off > 2e-3 * _leg_length(s) else 0.0
    return limb, _foot(w, side, limb, pelvis), off


def _foot(w: _Work, side: str, leg: Limb, pelvis: Array) -> Array:
    name = f"foot_{side}"
    given = w.pose.angles.get(name)
    way: Array = np.zeros(3)
    for frame in (leg.frame, pelvis, leg.lower_frame):  # each as far as it is level
        ahead = frame[:, 2] * [1, 0, 1]
        left = 1 - float(np.hypot(way[0], way[2]))
        far = hypot(float(ahead[0]), float(ahead[2]))
        way = way + max(left, 0.0) * ahead * float(smooth_step(np.asarray((far - FLAT) / FLAT))) / max(far, 1e-9)
    if hypot(float(way[0]), float(way[2])) < 1e-6:
        way = np.array([0.0, 0.0, 1.0])
    plain = degrees(np.arctan2(way[0], way[2])) + TOES_OUT
    pitch, turn = given if given is not None else (0.0, plain)
    frame = about_plumb(turn) @ forward(pitch)
    if name in w.waived or given is None:
        return np.asarray(frame)
    lim = limits()
    shin = leg.lower_frame
    up = degrees(np.arcsin(np.clip(float(frame[:, 2] @ -shin[:, 1]), -1, 1)))  # toes toward the knee
    held = min(max(up, -lim.foot_down), lim.foot_up)
    if abs(held - up) < 1e-6:
        return np.asarray(frame)
    w.limited.append(name)
    return np.asarray(about_plumb(turn) @ forward(pitch + held - up))


def collar_angles(s: Skeleton, d: Array) -> tuple[float, float]:
    """How far up and forward the left collar bone goes along with an arm that points along ``d`` in the chest's frame, degrees."""
    start = max(LIFTED_FROM, degrees(acos(min(max(float(s.arm.frame[1, 1]), -1.0), 1.0))))  # some hang their arms wide
    swing = max(0.0, degrees(acos(min(max(float(d[1]), -1.0), 1.0))) - start)
    ahead = COLLAR_FORWARD * min(max(float(d[2]), -0.6), 1.0) * (1 - 0.5 * max(float(d[0]), 0.0)) * min(1.0, swing / 40)
    return LIFT_SHARE * swing, ahead


def collar_swung(s: Skeleton, d: Array, up: float = 0.0, ahead: float = 0.0) -> Array:
    """From where the left collar bone starts to the shoulder joint, in the chest's frame, for an arm that points along ``d`` there."""
    along = collar_angles(s, d)
    span = s.joints["shoulder_l"] - s.joints["clavicle_l"]
    return np.asarray(outward(up + along[0]) @ about_plumb(-ahead - along[1]) @ span)


def _held_arm(s: Skeleton, shoulder: Array, to: Array, toward: Array, chest: Array, waived: bool) -> tuple[Array, float, float]:
    """Frame and bend of an arm whose hand is held, and what is missing; the elbow goes aside where it cannot point as told."""
    way = to - shoulder
    u = way / max(float(np.linalg.norm(way)), 1e-9)
    first: tuple[Array, float, float] | None = None
    for degrees_ in ELBOW_ASIDE:
        a = np.radians(degrees_)
        k = toward * np.cos(a) + np.cross(u, toward) * np.sin(a) + u * float(u @ toward) * (1 - np.cos(a))
        t, f, off = two_bones(shoulder, to, k, s.arm.upper, s.arm.lower)
        found = bone_frame(t, hinge(t, f, -k)), degrees(acos(min(max(float(t @ f), -1.0), 1.0))), off
        first = first or found
        if waived or float(np.abs(arm_frame_within(found[0], chest) - found[0]).max()) <= 1e-9:
            return found
    assert first is not None
    return first


def _arm(w: _Work, side: str, sign: int, frames: Mapping[str, Array], origins: Mapping[str, Array],
         limbs: Mapping[str, Limb]) -> tuple[Limb, Array, Array, float, Array]:  # fmt: skip
    s, pose, b = w.s, w.pose, w.s.build
    chest = flip(frames["chest"], sign)
    at = s.joints
    base = flip(origins["chest"], sign) + chest @ (at["clavicle_l"] - at["chest"])
    arm, elbow = f"arm_{side}", f"elbow_{side}"
    hold, given = pose.holds.get(f"wrist_{side}"), pose.angles.get(arm)
    to = toward = own = None
    if hold is not None:
        to, toward = (flip(v, sign) for v in _place(w, hold, sign, frames, origins, limbs))
        d = chest.T @ (to - base)
        d = d / max(float(np.linalg.norm(d)), 1e-9)
    else:
        rest = forward(ARM_FORWARD) @ outward(ARM_OUT + b.form.arms_out)
        own = rest if given is None else forward(given[0]) @ outward(given[1]) @ about_plumb(given[2])
        d = own[:, 1]
    up, ahead = w.angles(f"clavicle_{side}", (0.0, 0.0))
    shoulder = base + chest @ collar_swung(s, d, up, ahead)
    off = 0.0
    if to is not None and toward is not None:
        frame, bend, off = _held_arm(s, shoulder, to, toward, chest, arm in w.waived)
    else:
        frame, (bend,) = chest @ own, w.angles(elbow, (ELBOW_BENT,))
    if arm not in w.waived:
        held = arm_frame_within(frame, chest)
        if float(np.abs(held - frame).max()) > 1e-9:
            w.limited.append(arm)
            frame = held
    if elbow not in w.waived and not b.rubber:  # an arc has no joint to stop it
        (kept,) = within(elbow, (bend,))
        if abs(kept - bend) > 1e-9:
            w.limited.append(elbow)
        bend = kept
    limb = Limb(shoulder, frame, bend, s.arm.upper, s.arm.lower, twist(swung(chest, frame[:, 1]), frame))
    if to is not None:
        off = max(off, float(np.linalg.norm(limb.tip - to)))
        off = off if off > 2e-3 * (s.arm.upper + s.arm.lower) else 0.0
    turn, bent, aside = w.angles(f"wrist_{side}", (PALM_IN, WRIST_BENT, 0.0))
    hand = limb.lower_frame @ about_plumb(turn) @ forward(bent) @ outward(aside)
    moved = chest.T @ (shoulder - flip(origins["chest"], sign)) - (at["shoulder_l"] - at["chest"])
    return limb, np.asarray(hand), np.asarray(moved), off, base


@remembered(24)
def _soles(b: Build, toes: float) -> Array:
    """Places of a foot that may touch the floor, about its ankle, its toes bent."""
    grid = ends.bent_toes(ends.foot(b), b, toes)
    low = grid[..., 1].max(1) > 0.5 * b.ankle_height
    return np.asarray(grid[low].reshape(-1, 3))


def _drop(s: Skeleton, pose: Pose, frames: Mapping[str, Array], origins: Mapping[str, Array], limbs: Mapping[str, Limb],
          feet: Mapping[str, Array]) -> float:  # fmt: skip
    """How far down the figure goes until its lowest place rests on the floor (or hangs in the air as told)."""
    if pose.plain:
        return 0.0
    b = s.build
    low = [float(origins["pelvis"][1]) + SEAT_REST * b.thigh_girth]
    for side, _ in SIDES:
        leg = limbs[f"leg_{side}"]
        low.append(float(leg.tip[1] + (_soles(b, pose.angles.get(f"toes_{side}", (0.0,))[0]) @ feet[side].T)[:, 1].max()))
        low.append(float(leg.joint[1]) + KNEE_REST * b.knee_girth)
    return b.heads - max(low) - pose.air * _leg_length(s)


def _joints(s: Skeleton, frames: Mapping[str, Array], origins: Mapping[str, Array], limbs: Mapping[str, Limb], hands: Mapping[str, Array],
            feet: Mapping[str, Array]) -> dict[str, Array]:  # fmt: skip
    b, at = s.build, s.joints
    out = {k: origins[k] for k in ("head", "neck", "chest", "waist", "pelvis")}
    out["crown"] = origins["head"] + frames["head"] @ (at["crown"] - at["head"])
    for side, sign in SIDES:
        arm, leg, foot = limbs[f"arm_{side}"], limbs[f"leg_{side}"], feet[side]
        for name, p in (
            ("shoulder", arm.root), ("elbow", arm.joint), ("wrist", arm.tip), ("fingertip", arm.tip + hands[side][:, 1] * b.hand),
            ("hip", leg.root), ("knee", leg.joint), ("ankle", leg.tip),
            ("heel", leg.tip + foot @ np.array([0, b.ankle_height, -ends.HEEL * b.foot])), ("toe", leg.tip + foot @ np.array([0, b.ankle_height, (1 - ends.HEEL) * b.foot])),
        ):  # fmt: skip
            out[f"{name}_{side}"] = flip(p, sign)
        out[f"clavicle_{side}"] = origins[f"clavicle_{side}"]
    return {k: out[k] for k in at}
