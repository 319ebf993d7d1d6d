"""A joint dragged on the picture: bones keep their length in space, so what does not fit in the plane turns toward the viewer or away.

A hand pulled nearer than its reach foreshortens the forearm first; pulled further, the elbow comes along; past that the arm is straight.
Where a joint would go past its limit on one side of the picture plane, it goes to the other. The result follows from where the drag began
and where the hand is now, never from the way between.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import product
from math import sqrt

import numpy as np

from ..figure.frames import swung, twist
from ..figure.skeleton import SIDES, Skeleton
from ..kinds import Array
from ..landmarks.turn import Turn, rotation
from .bones import Posed, collar_swung
from .limits import arm_excess, limits, root_angles, thigh_frame_within
from .model import Hold, Pose
from .turns import bone_frame, flip, trunk_angles

STIFF = 3.0
"""Near full stretch the elbow's way off the straight line is at most this many times what is left of the reach: it comes in steadily."""
FITS = 3
"""The collar bone moves what hangs on it: a drag of the arm is fitted so often."""
HANDLES = (
    "crown", "neck", "pelvis", *(f"{n}_{s}" for n in ("wrist", "elbow", "ankle", "knee") for s, _ in SIDES),
)  # fmt: skip
"""Joints that can be dragged."""
FURTHEST = 72.0
"""Degrees the trunk or the head is dragged over at most; joints' own limits come on top."""
END_OF = {"elbow": "wrist", "wrist": "wrist", "knee": "ankle", "ankle": "ankle"}


@dataclass(frozen=True, eq=False)
class _Limb:
    kind: str
    side: str
    sign: int
    root: Array
    """Seen: x, y, depth."""
    joint: Array
    tip: Array
    upper: float
    lower: float
    frame: Array
    """Of the first bone, in the world."""
    parent: Array


def dragged(start: Posed, joint: str, to: tuple[float, float], turn: Turn, flips: frozenset[str] = frozenset()) -> Pose:
    """The pose after a joint was dragged to a place of the picture (heads) seen at a turn.

    ``flips`` are limbs (``arm_l`` …) whose second bone goes to the other side of the picture plane.
    """
    kind, _, side = joint.partition("_")
    q = np.array(to, float)
    if kind in END_OF:
        return _limb_dragged(start, kind, side, q, turn, flips)
    if kind == "pelvis":
        return _hips_dragged(start, q, turn)
    return _trunk_dragged(start, kind, q, turn)


def _limb_dragged(start: Posed, kind: str, side: str, q: Array, turn: Turn, flips: frozenset[str]) -> Pose:
    limb = "arm" if kind in ("wrist", "elbow") else "leg"
    names = ("arm", "elbow") if limb == "arm" else ("thigh", "knee")
    x = _seen_limb(start, limb, side, turn)
    other = f"{limb}_{side}" in flips
    frame, bend = x.frame, 0.0
    for _ in range(FITS if limb == "arm" else 1):
        if kind in ("elbow", "knee"):
            frame, bend = _first_bone(x, q, turn, other), abs(start.limbs[f"{limb}_{side}"].bend)
        else:
            frame, bend = _both_bones(x, q, turn, other, names[0] + f"_{side}" in start.pose.waived)
        if limb == "arm":
            x = _carried(start, x, frame, turn)
    angles = {f"{names[0]}_{side}": root_angles(x.parent.T @ flip(frame, x.sign)), f"{names[1]}_{side}": (bend,)}
    return _grounded(start.pose.with_angles(angles, {f"{END_OF[kind]}_{side}"}), start)


def _carried(start: Posed, x: _Limb, frame: Array, turn: Turn) -> _Limb:
    """The arm where the collar bone carries its shoulder once it points so."""
    at = start.rest.joints
    side = x.side
    base = flip(start.origins["chest"], x.sign) + x.parent @ (at["clavicle_l"] - at["chest"])
    up, ahead = start.pose.angles.get(f"clavicle_{side}", (0.0, 0.0))
    d = (x.parent.T @ flip(frame, x.sign))[:, 1]
    root = rotation(turn) @ flip(base + x.parent @ collar_swung(start.rest, d, up, ahead), x.sign)
    return replace(x, root=root, joint=x.joint + root - x.root, tip=x.tip + root - x.root)


def _grounded(pose: Pose, start: Posed) -> Pose:
    """Hips stay at their height while a leg is dragged: the other foot carries."""
    long = start.rest.leg.upper + start.rest.leg.lower
    b = start.rest.build
    x, _, z = pose.root
    return pose.model_copy(update={"root": (x, float((b.ankle - start.origins["pelvis"][1]) / long), z)})


def _seen_limb(start: Posed, limb: str, side: str, turn: Turn) -> _Limb:
    v, sign = rotation(turn), 1 if side == "l" else -1
    x = start.limbs[f"{limb}_{side}"]
    parent = flip(start.frames["chest" if limb == "arm" else "pelvis"], sign)
    root = v @ flip(x.root, sign)
    a, c = v @ (flip(x.joint, sign) - flip(x.root, sign)), v @ (flip(x.tip, sign) - flip(x.joint, sign))
    return _Limb(limb, side, sign, root, root + a, root + a + c, x.upper, x.lower, flip(x.frame, sign), parent)


def _first_bone(x: _Limb, q: Array, turn: Turn, other: bool) -> Array:
    """The frame of the first bone where its end is dragged: swung there, turned as it was."""
    d = q - x.root[:2]
    far = float(np.hypot(*d))
    depth = x.joint[2] - x.root[2]
    s = (-1.0 if depth < 0 else 1.0) * (-1.0 if other else 1.0)
    flat = min(far, x.upper)
    way = np.append(d * (flat / max(far, 1e-9)), s * sqrt(max(x.upper**2 - flat**2, 0.0))) / x.upper
    return swung(x.frame, rotation(turn).T @ way)


def _both_bones(x: _Limb, q: Array, turn: Turn, other: bool, waived: bool) -> tuple[Array, float]:
    """Frame of the first bone and bend of the second where a hand or a foot is dragged."""
    e, w = _flat(x, q)
    v = rotation(turn)
    s_up = -1.0 if x.joint[2] < x.root[2] else 1.0
    s_low = (-1.0 if x.tip[2] < x.joint[2] else 1.0) * (-1.0 if other else 1.0)
    best: tuple[float, Array, float] | None = None
    for k, (flip_low, flip_up) in enumerate(product((1.0, -1.0), (1.0, -1.0))):
        a = (
            np.append(e - x.root[:2], s_up * flip_up * sqrt(max(x.upper**2 - float(((e - x.root[:2]) ** 2).sum()), 0.0)))
            / x.upper
        )
        c = np.append(w - e, s_low * flip_low * sqrt(max(x.lower**2 - float(((w - e) ** 2).sum()), 0.0))) / x.lower
        t, f = v.T @ a, v.T @ c
        t, f = t / np.linalg.norm(t), f / np.linalg.norm(f)
        bend = float(np.degrees(np.arccos(np.clip(t @ f, -1, 1))))
        across = f - t * (t @ f)
        way = across if x.kind == "arm" else -across
        was = swung(x.frame, t)[:, 2]
        share = min(bend / 12.0, 1.0)  # a straight limb keeps its turn
        far = float(np.linalg.norm(way))
        frame = bone_frame(t, share * way / max(far, 1e-9) + (1 - share) * was)
        past = 0.0 if waived else past_limits(x.kind, flip(frame, x.sign), x.parent, bend)
        if past <= 0 or waived:
            return frame, bend
        if best is None or past < best[0] - 1e-6:
            best = (past, frame, bend)
        if other and k == 1:
            break
    assert best is not None
    return best[1], best[2]


def past_limits(kind: str, frame: Array, parent: Array, bend: float) -> float:
    """How far a limb (``arm`` or ``leg``, as a left one) would be past its limits, in degrees more or less; 0 within."""
    own = parent.T @ frame
    low, high = limits().spans["elbow" if kind == "arm" else "knee"][0]
    past = max(low - bend, bend - high, 0.0)
    if kind == "leg":
        held = thigh_frame_within(own, np.eye(3))
        return past + (0.0 if held is own else float(np.degrees(np.arccos(np.clip((np.trace(held.T @ own) - 1) / 2, -1, 1)))))
    turned = twist(swung(np.eye(3), own[:, 1]), own)
    low, high = limits().arm_twist
    return past + 90 * arm_excess(own[:, 1]) + max(low - turned, turned - high, 0.0)


def _flat(x: _Limb, q: Array) -> tuple[Array, Array]:
    """Where elbow and wrist lie on the picture: the elbow no further from where it was than it has to be."""
    s, e0 = x.root[:2], x.joint[:2]
    d = q - s
    far = float(np.hypot(*d))
    whole = x.upper + x.lower
    if far >= whole * 0.9999:
        u = d / far
        return s + u * x.upper, s + u * (x.upper + x.lower)
    u = d / far if far > 1e-9 else np.array([0.0, 1.0])
    n = np.array([-u[1], u[0]])
    most = STIFF * (whole - far)
    e = e0.copy()
    for _ in range(12):  # onto what is near enough to both ends, and to the line between them
        for centre, r in ((s, x.upper), (q, x.lower)):
            way = e - centre
            long = float(np.hypot(*way))
            if long > r:
                e = centre + way * (r / long)
        off = float(np.dot(e - s, n))
        if abs(off) > most:
            e = e + n * ((most if off > 0 else -most) - off)
    return e, q


def _trunk_dragged(start: Posed, kind: str, q: Array, turn: Turn) -> Pose:
    """Spine (dragged by the neck) or head (by the crown) swung so that the joint comes to the place, as far as they go."""
    pivot, joint, bone = ("waist", "neck", "chest") if kind == "neck" else ("neck", "crown", "head")
    below = start.frames["pelvis" if kind == "neck" else "chest"]
    v = rotation(turn)
    a, c = v @ start.joints[pivot], v @ start.joints[joint]
    long = float(np.linalg.norm(c - a))
    d = q - a[:2]
    far = float(np.hypot(*d))
    flat = min(far, 0.9995 * long)
    s = -1.0 if c[2] < a[2] - 1e-6 else 1.0
    way = v.T @ np.append(d * (flat / max(far, 1e-9)), s * sqrt(max(long**2 - flat**2, 0.0))) / long
    was = v.T @ (c - a) / long
    up = -below[:, 1]
    lean = float(np.degrees(np.arccos(np.clip(float(way @ up), -1, 1))))
    if lean > FURTHEST:
        across = way - up * float(way @ up)
        across = across / max(float(np.linalg.norm(across)), 1e-9)
        r = np.radians(FURTHEST)
        way = up * np.cos(r) + across * np.sin(r)
    front = start.frames[bone][:, 2]
    from_frame = bone_frame(was, front)
    turned = swung(from_frame, way) @ from_frame.T @ start.frames[bone]
    if kind == "neck":
        return start.pose.with_angles({"spine": trunk_angles(below.T @ turned)})
    f, b, t = trunk_angles(below.T @ turned)
    return start.pose.with_angles({"neck": (0.55 * f, 0.6 * b, 0.4 * t), "head": (0.45 * f, 0.4 * b, 0.6 * t)})


def on_floor(s: Skeleton, place: Array, toward: Array) -> Hold:
    """A hold that keeps a place of the world."""
    b = s.build
    long = s.leg.upper + s.leg.lower
    x, y, z = place[0] / b.hip, (place[1] - b.ankle) / long, place[2] / long
    return Hold(of="floor", at=(float(x), float(y), float(z)), toward=tuple(float(v) for v in toward))


def pinned(p: Posed, ends: frozenset[str]) -> Pose:
    """The same pose with some ends held where they are."""
    holds = dict(p.pose.holds)
    for end in sorted(ends):
        kind, side = end.split("_")
        sign = 1 if side == "l" else -1
        limb = p.limbs[("arm_" if kind == "wrist" else "leg_") + side]
        frame = flip(limb.frame, sign)
        toward = -frame[:, 2] if kind == "wrist" else frame[:, 2]
        holds[end] = on_floor(p.rest, flip(limb.tip, sign), toward)
    return p.pose.model_copy(update={"holds": holds})


def _hips_dragged(start: Posed, q: Array, turn: Turn) -> Pose:
    """Hips moved on the picture, the feet staying where they stand."""
    v = rotation(turn)
    was = start.origins["pelvis"]
    by = v.T @ np.append(q - (v @ was)[:2], 0.0)
    pose = pinned(start, frozenset({"ankle_l", "ankle_r"}))
    b, s = start.rest.build, start.rest
    long = s.leg.upper + s.leg.lower
    to = was + by
    height = min(max(float((b.ankle - to[1]) / long), 0.08), 0.999)
    return pose.model_copy(update={"root": (float(to[0] / b.hip), height, float(to[2] / long))})
