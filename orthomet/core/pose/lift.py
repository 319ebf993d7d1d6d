"""Figure landmarks of a photo or a drawing, lifted to a pose of the plan's own lengths.

A segment seen shorter than planned is turned by acos(l/L) out of the picture's plane: a range, since points and scale are known only so
well. One seen longer than it can be is drawn too long: flagged, with how much. Near or far is a choice where the picture cannot tell; what
joints allow, and which way the feet point, decides where nobody has said.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum
from itertools import product
from math import acos, degrees, hypot, inf, sqrt

import numpy as np

from ..errors import OrthometError
from ..figure.skeleton import SIDES, Skeleton
from ..kinds import Array
from ..landmarks.points import Landmarks
from .bones import Posed, posed
from .drag import past_limits
from .limits import root_angles
from .model import Pose
from .turns import bone_frame, flip, trunk_angles

NOISE = 0.005
"""How well a point sits where nobody says, one standard deviation in heads (own)."""
SURE = 2.2
"""Standard deviations a range reaches."""
PLAIN = 14.0
"""Degrees: a segment whose range starts at 0 and whose own angle is under this is told as plain."""
UNSURE_UP, UNSURE_DOWN = 0.058, 0.016
"""How much larger and smaller a head may be on the picture than its scale says, shares: where every limb is turned a little, none tells."""
TOO_LONG = 0.022
"""A segment is told as too long when it is so by more than this share (own)."""
APART, APART_ALONE = 0.03, 0.065
"""A segment that would be longer than the next longest by more than this share (the second where no head is marked) is drawn too long, and the
scale follows the next; unless a head that leans a little explains it."""
LEANING = 1.03
"""A head is seen this much shorter at most before something else is thought to be too long."""


class Verdict(StrEnum):
    PLAIN = "plain"
    FORESHORTENED = "foreshortened"
    TOO_LONG = "too_long"


@dataclass(frozen=True)
class Segment:
    """One bone as it is seen; lengths in heads."""

    name: str
    seen: float
    planned: float
    angle: tuple[float, float]
    """Degrees out of the picture's plane, lowest and highest."""
    verdict: Verdict
    over: float = 0.0
    """How much longer it is than it can be, heads."""
    from_joint: float = -inf
    """The same of an upper arm from its joint, which lies under its mark; negative where it is shorter."""


@dataclass(frozen=True, eq=False)
class Lift:
    segments: tuple[Segment, ...]
    scale: float
    """Pixels a head."""
    joints: Mapping[str, tuple[float, float, float]]
    """Heads; x from the middle of the hips, y down with the figure standing on its planned floor, z toward the viewer."""
    pose: Pose
    asked: tuple[str, ...] = field(default=())
    """Segments of which the picture does not tell whether they point toward the viewer or away."""


SEGMENTS = (
    *((f"upper_arm_{s}", f"acromion_{s}", f"radiale_{s}") for s, _ in SIDES), *((f"forearm_{s}", f"radiale_{s}", f"stylion_{s}") for s, _ in SIDES),
    *((f"hand_{s}", f"stylion_{s}", f"dactylion_{s}") for s, _ in SIDES), *((f"thigh_{s}", f"trochanterion_{s}", f"patella_{s}") for s, _ in SIDES),
    *((f"shin_{s}", f"patella_{s}", f"malleolus_{s}") for s, _ in SIDES), *((f"foot_{s}", f"heel_{s}", f"toe_tip_{s}") for s, _ in SIDES),
    ("shoulders", "acromion_r", "acromion_l"), ("hips", "trochanterion_r", "trochanterion_l"),
)  # fmt: skip
"""Name, inner and outer landmark of every segment a figure is lifted by."""
ENDS = {name: (a, b) for name, a, b in SEGMENTS}


def lengths(s: Skeleton) -> dict[str, tuple[float, float]]:
    """Between which lengths each segment lies between its landmarks, heads: the arm's is measured from over the joint."""
    b = s.build
    out: dict[str, tuple[float, float]] = {}
    for side, _ in SIDES:
        out |= {
            f"upper_arm_{side}": (s.arm.upper, max(b.upper_arm, s.arm.upper)), f"forearm_{side}": (b.forearm, b.forearm), f"hand_{side}": (b.hand, b.hand),
            f"thigh_{side}": (s.leg.upper, s.leg.upper), f"shin_{side}": (s.leg.lower, s.leg.lower), f"foot_{side}": (b.foot, b.foot),
        }  # fmt: skip
    out["shoulders"] = (
        1.8 * s.shoulder_x,
        max(b.shoulder, 2 * s.shoulder_x),
    )  # the collar bones come forward; some mark the outline
    out["hips"] = (2 * s.hip_x, max(b.hip, 2 * s.hip_x))
    trunk_long = b.hip_line - b.shoulder_line
    out["trunk"] = (0.86 * trunk_long, trunk_long)  # a bent spine is shorter from end to end
    return out


def lift(
    s: Skeleton, marks: Landmarks, toward: Mapping[str, bool] | None = None, as_drawn: bool = False, noise: float | None = None
) -> Lift:
    """A picture's figure in three dimensions.

    ``toward`` says of segments by name whether their outer end is nearer to the viewer than their inner one (of ``shoulders`` and ``hips``,
    whether the figure's left is). ``as_drawn``: what is too long keeps the length it was drawn with.

    Raises
    ------
    OrthometError
        Nothing to measure a limb by.
    """
    told = dict(toward or {})
    seen = bones_seen(s, marks, noise, told)
    return _lifted(s, dict(seen.at), list(seen.segments), seen.scale, told, as_drawn, seen.trunk)


@dataclass(frozen=True, eq=False)
class BonesSeen:
    """A picture's bones as they are seen, before anything is said of their depth."""

    segments: tuple[Segment, ...]
    scale: float
    """Pixels a head."""
    at: Mapping[str, Array]
    """Landmarks on the picture, heads."""
    trunk: tuple[Array, Array]
    """Frames of pelvis and chest, ``(3, 3)`` each."""


def bones_seen(s: Skeleton, marks: Landmarks, noise: float | None = None, toward: Mapping[str, bool] | None = None) -> BonesSeen:
    """How long every bone is seen, and between which angles it is turned out of the picture: what :func:`lift` begins with.

    Raises
    ------
    OrthometError
        Nothing to measure a limb by.
    """
    at = {n: np.array(p, float) for n, p in marks.points.items()}
    planned = lengths(s)
    px = _seen_px(at)
    if not px:
        raise OrthometError("A pose needs two neighbouring joints at least: shoulder and elbow, hip and knee, knee and ankle.")
    scale = _scale(at, px, planned)
    base = NOISE if noise is None else noise
    heads = {k: v / scale for k, v in at.items()}
    trunk = _trunk(s, heads, planned, toward or {})
    segments = []
    for name, seen in px.items():
        low, high = planned[name]
        ends = ENDS.get(name, ())
        doubt = hypot(*(max(base, marks.spread.get(n, 0.0) / scale) for n in ends)) if ends else base * sqrt(2)
        x = _segment(name, seen / scale, low, high, doubt)
        if name.startswith("upper_arm"):
            long = float(hypot(*(heads[f"radiale_{name[-1]}"] - _arm_root(s, heads, name[-1], trunk[1]))))
            x = replace(x, from_joint=long - s.arm.upper)
        segments.append(x)
    return BonesSeen(tuple(segments), scale, heads, trunk)


def _arm_root(s: Skeleton, at: Mapping[str, Array], side: str, chest: Array) -> Array:
    """Where an arm's joint is on the picture, under the point that is marked over it; heads."""
    return np.asarray(at[f"acromion_{side}"] + (chest[:, 1] * s.build.shoulder_drop)[:2])


def _seen_px(at: Mapping[str, Array]) -> dict[str, float]:
    out = {name: float(hypot(*(at[b] - at[a]))) for name, a, b in SEGMENTS if a in at and b in at}
    if all(k in at for k in ("acromion_l", "acromion_r", "trochanterion_l", "trochanterion_r")):
        d = (at["acromion_l"] + at["acromion_r"] - at["trochanterion_l"] - at["trochanterion_r"]) / 2
        out["trunk"] = float(hypot(*d))
    return {k: v for k, v in out.items() if v >= 0}


def _scale(at: Mapping[str, Array], px: Mapping[str, float], planned: Mapping[str, tuple[float, float]]) -> float:
    """Pixels a head: nothing can be seen longer than it is."""
    known = {k: planned[k][1] for k in px if k not in ("hips", "trunk", "shoulders")}
    # of many, the longest is so by its points' own error, too: the more the shorter it is
    longest = sorted((px[k] / v * (1 - NOISE / max(v, 0.1)) for k, v in known.items()), reverse=True)
    head = float(hypot(*(at["gnathion"] - at["vertex"]))) if "vertex" in at and "gnathion" in at else 0.0
    if len(longest) < 4:
        return max(head or max(longest, default=0.0) or max(px[n] / planned[n][1] for n in px), 1e-9)
    first, second = longest[:2]
    apart = first > second * (1 + (APART if head else APART_ALONE))
    k = second if apart and (not head or first > LEANING * max(head, second)) else first
    return max(k if head < 0.97 * k else head, 1e-9)


def _segment(name: str, seen: float, low: float, high: float, noise: float) -> Segment:
    e = SURE * noise

    def out_of_plane(length: float, whole: float) -> float:
        return degrees(acos(min(max(length / max(whole, 1e-9), 0.0), 1.0)))

    over = seen - high
    if over > e + TOO_LONG * high:
        return Segment(name, seen, high, (0.0, 0.0), Verdict.TOO_LONG, over)
    least = out_of_plane((seen + e) * (1 + UNSURE_DOWN), low)
    most = out_of_plane(max(seen - e, 0.0) * (1 - UNSURE_UP), high)
    flat = least == 0.0 and out_of_plane(seen, low) < PLAIN
    return Segment(name, seen, high, (least, most), Verdict.PLAIN if flat else Verdict.FORESHORTENED)


# ---- the pose


def _depth(long: float, seen: float) -> float:
    return sqrt(max(long * long - seen * seen, 0.0))


def _lifted(
    s: Skeleton,
    at: dict[str, Array],
    segments: list[Segment],
    scale: float,
    toward: dict[str, bool],
    as_drawn: bool,
    trunk: tuple[Array, Array],
) -> Lift:
    asked = tuple(
        x.name
        for x in segments
        if x.verdict is Verdict.FORESHORTENED
        and x.name not in toward
        and not x.name.startswith(("hand", "foot", "hips", "trunk"))
    )
    pelvis, chest = trunk
    angles: dict[str, tuple[float, ...]] = {"pelvis": trunk_angles(pelvis)}
    angles["spine"] = trunk_angles(pelvis.T @ chest)
    waived = []
    for side, sign in SIDES:
        for kind, names, parent in (
            ("arm", (f"acromion_{side}", f"radiale_{side}", f"stylion_{side}"), chest),
            ("leg", (f"trochanterion_{side}", f"patella_{side}", f"malleolus_{side}"), pelvis),
        ):  # fmt: skip
            if names[0] not in at or names[1] not in at:
                continue
            upper, lower = (s.arm.upper, s.arm.lower) if kind == "arm" else (s.leg.upper, s.leg.lower)
            root = _arm_root(s, at, side, chest) if kind == "arm" else at[names[0]]
            first = at[names[1]] - root
            second = at[names[2]] - at[names[1]] if names[2] in at else None
            segs = (f"{'upper_arm' if kind == 'arm' else 'thigh'}_{side}", f"{'forearm' if kind == 'arm' else 'shin'}_{side}")
            frame, bend, past = _limb(kind, sign, first, second, upper, lower, parent, [toward.get(k) for k in segs])
            joint = ("arm", "elbow") if kind == "arm" else ("thigh", "knee")
            angles[f"{joint[0]}_{side}"] = root_angles(flip(parent, sign).T @ flip(frame, sign))
            if second is not None:
                angles[f"{joint[1]}_{side}"] = (bend,)
            if past > 0:
                waived += [f"{joint[0]}_{side}", f"{joint[1]}_{side}"]
    pose = Pose(name="from the picture", angles=angles, waived=tuple(waived))
    p = posed(s, pose)
    joints = _on_picture(s, at, p, chest, as_drawn)
    return Lift(tuple(segments), scale, {k: (float(v[0]), float(v[1]), float(v[2])) for k, v in joints.items()}, pose, asked)


_SEEN_AS = {"elbow": "radiale", "wrist": "stylion", "fingertip": "dactylion", "hip": "trochanterion", "knee": "patella", "ankle": "malleolus",
            "heel": "heel", "toe": "toe_tip"}  # fmt: skip
_CHAINS = (("shoulder", "elbow", "upper_arm"), ("elbow", "wrist", "forearm"), ("wrist", "fingertip", "hand"), ("hip", "knee", "thigh"),
           ("knee", "ankle", "shin"), ("ankle", "heel", ""), ("ankle", "toe", ""))  # fmt: skip


def _on_picture(s: Skeleton, at: Mapping[str, Array], p: Posed, chest: Array, as_drawn: bool) -> dict[str, Array]:
    """Joints where the picture has them, as far as bones are long enough; the others as the pose has them, from their neighbour on."""
    b = s.build
    seen: dict[str, Array] = {}
    for side, _ in SIDES:
        for joint, mark in _SEEN_AS.items():
            if f"{mark}_{side}" in at:
                seen[f"{joint}_{side}"] = at[f"{mark}_{side}"]
        if f"acromion_{side}" in at:
            seen[f"shoulder_{side}"] = _arm_root(s, at, side, chest)
    if "vertex" in at:
        seen["crown"] = at["vertex"]
    own = p.joints
    anchors = (
        [k for k in ("hip_l", "hip_r") if k in seen] or [k for k in ("shoulder_l", "shoulder_r") if k in seen] or list(seen)[:1]
    )
    by = np.mean([seen[k] - own[k][:2] for k in anchors], axis=0)
    floor = at["floor"][1] if "floor" in at else None
    low = floor if floor is not None else max((q[1] for k, q in seen.items() if k.startswith(("heel", "toe"))), default=None)
    shift = np.array([np.mean([own[k][0] for k in anchors]) - np.mean([seen[k][0] for k in anchors]), 0.0])
    shift[1] = b.heads - low if low is not None else -by[1]
    out = {k: np.append(v[:2] + by + shift, v[2]) for k, v in own.items()}
    for k in ("crown", *(f"{j}_{x}" for j in ("shoulder", "hip") for x, _ in SIDES)):
        if k in seen:
            out[k][:2] = seen[k] + shift
    for side, _ in SIDES:
        for a, c, bone in _CHAINS:
            start, end = f"{a}_{side}", f"{c}_{side}"
            way = own[end] - own[start]
            if end in seen:
                flat = seen[end] + shift - out[start][:2]
                long, far = float(np.linalg.norm(way)), float(hypot(*flat))
                if bone and far > long and not as_drawn:
                    flat, far = flat * (long / far), long
                way = np.append(flat, np.sign(way[2] or 1.0) * _depth(long, min(far, long)))
            out[end] = out[start] + way
    return out


def _line(at: Mapping[str, Array], name: str) -> Array | None:
    a, c = at.get(f"{name}_r"), at.get(f"{name}_l")
    return None if a is None or c is None else c - a


def _trunk(
    s: Skeleton, at: Mapping[str, Array], planned: Mapping[str, tuple[float, float]], toward: Mapping[str, bool]
) -> tuple[Array, Array]:
    """Frames of pelvis and chest."""
    feet = [at[f"toe_tip_{x}"][0] - at[f"heel_{x}"][0] for x, _ in SIDES if f"toe_tip_{x}" in at and f"heel_{x}" in at]
    turned = sum(feet)
    frames = []
    up = None
    if all(f"{n}_{x}" in at for n in ("acromion", "trochanterion") for x in "lr"):
        mid = (at["trochanterion_l"] + at["trochanterion_r"] - at["acromion_l"] - at["acromion_r"]) / 2
        long = planned["trunk"][1]
        seen = min(float(hypot(*mid)), long)
        depth = _depth(long, seen) if seen < 0.90 * long else 0.0
        up = np.append(mid, -depth if toward.get("trunk", True) else depth)  # leaning toward the viewer: the hips lie behind
    for name, key in (("hips", "trochanterion"), ("shoulders", "acromion")):
        across = _line(at, key)
        if across is None:
            frames.append(np.eye(3))
            continue
        low, _ = planned[name]
        seen = float(hypot(*across))
        long = max(seen, low)
        depth = _depth(long, seen) if seen < 0.96 * low else 0.0
        left_near = toward.get(name, toward.get("shoulders", turned <= 0))
        x = np.append(across, depth if left_near else -depth)
        x = x / max(float(np.linalg.norm(x)), 1e-9)
        down = up if up is not None else np.array([-x[1], x[0], 0.0]) if abs(x[0]) > 0.2 else np.array([0.0, 1.0, 0.0])
        y = down - x * float(down @ x)
        y = y / max(float(np.linalg.norm(y)), 1e-9)
        frames.append(np.stack([x, y, np.cross(x, y)], 1))
    if _line(at, "trochanterion") is None:
        frames[0] = frames[1]
    if _line(at, "acromion") is None:
        frames[1] = frames[0]
    return frames[0], frames[1]


def _limb(kind: str, sign: int, first: Array, second: Array | None, upper: float, lower: float, parent: Array,
          told: list[bool | None]) -> tuple[Array, float, float]:  # fmt: skip
    """Frame of the first bone, bend of the second, and how far past its limits that is."""
    front = parent[2, 2] >= 0
    usual = (True, True) if kind == "arm" else (True, False)
    usual = usual if front else (not usual[0], not usual[1])
    best: tuple[float, Array, float] | None = None
    options = [(a, c) for a, c in product((usual[0], not usual[0]), (usual[1], not usual[1]))]
    for a, c in options:
        if (told[0] is not None and a != told[0]) or (told[1] is not None and c != told[1]):
            continue
        t = _way(first, upper, a)
        f = _way(second, lower, c) if second is not None else t
        bend = degrees(acos(min(max(float(t @ f), -1.0), 1.0))) if second is not None else (12.0 if kind == "arm" else 5.0)
        across = f - t * float(t @ f)
        far = float(np.linalg.norm(across))
        way = across / far if far > 1e-6 else parent[:, 2]
        share = min(bend / 12.0, 1.0)
        frame = bone_frame(t, share * (way if kind == "arm" else -way) + (1 - share) * parent[:, 2])
        past = past_limits(kind, flip(frame, sign), flip(parent, sign), bend)
        if past <= 0:
            return frame, bend, 0.0
        if best is None or past < best[0]:
            best = (past, frame, bend)
    assert best is not None
    return best[1], best[2], best[0]


def _way(seen: Array, long: float, near: bool) -> Array:
    far = float(hypot(*seen))
    if far >= long:
        return np.append(seen / max(far, 1e-9), 0.0)
    v = np.append(seen, (1 if near else -1) * _depth(long, far))
    return np.asarray(v / max(float(np.linalg.norm(v)), 1e-9))
