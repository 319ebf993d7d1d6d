"""A build as masses on a skeleton: the standing figure's skin, joined, its widths measured on it and met exactly.

The left side is made, the right one is its mirror image.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from ..curves import pchip, rising
from ..ink.surface import smooth_step
from ..kept import remembered
from ..kinds import Array
from . import ends, limbs
from .build import Build, joint_x
from .frames import about_plumb, forward, swung
from .join import Pair, Skin, joined, mirror, tube_normals
from .limbs import Mass
from .profile import SPOKES
from .skeleton import PALM_IN, Limb, Skeleton, standing
from .torso import NOTHING, PELVIS, RIB, Added, Torso, torso

MEETINGS, ROUNDS = 3, 10
BOLDEST = 2.4
"""Corrections grow up to this while they fall short, and are halved where they overshoot."""
CLOSE = 0.0004
"""Hips and crotch are met to within this, heads."""
ARMS_JOIN = 0.30
"""Station of the torso down to which arms grow out of it, however short it is."""
PALM_FROM = 5
"""Row of the palm from which on it is as wide as the hand."""
HIPS_FROM = 0.84
"""Station of the torso from which on it is hips."""
SHOULDER_TO = 0.34
"""Share of the upper arm down to which it is the shoulder."""
WIDENINGS, MOST_WIDENED = 4, 1.06
"""What joining leaves is put right in so many steps, each of at most this share."""
FINGERS = tuple(f"finger{i}" for i in range(4))


@dataclass(frozen=True, eq=False)
class Placed:
    """A limb's rows in space: points, centres and frames."""

    points: Array
    centres: Array
    frames: Array


@dataclass(frozen=True, eq=False)
class Mannequin:
    """The standing figure: masses at rest, and every mass's skin in space by name (``torso``, ``arm_l``, …)."""

    build: Build
    skeleton: Skeleton
    torso: Torso
    arm: Mass
    leg: Mass
    skins: dict[str, Skin]
    arm_at: Placed
    leg_at: Placed
    unjoined: dict[str, Skin]
    """The left side's skins before they were joined."""
    added: Added
    fades: Mapping[tuple[str, str], float] = field(default_factory=dict)
    """Lines (mass and name) that a pose does away with, and what is left of them."""


@dataclass(frozen=True, eq=False)
class _Rest:
    torso: Torso
    arm: Mass
    leg: Mass
    skeleton: Skeleton


@remembered(24)
def mannequin(b: Build, exact: bool = True) -> Mannequin:
    """A build's standing figure. Not ``exact``: hips and crotch are off by what joining adds there, as while a dial is held."""
    shoulder_x, hip_x = joint_x(b), max(b.hip / 2 - 0.53 * b.thigh_girth, 0.02 * b.hip)
    add = NOTHING
    moved: Array = np.zeros(3)
    was: Array = np.zeros(3)
    share: Array = np.ones(3)
    rest = _rest(b, shoulder_x, hip_x, add)
    for _ in range(MEETINGS - 1):  # a joint shifted shifts its mass: shoulder and hip widths
        shoulder_x, hip_x = _met(b, rest)
        rest = _rest(b, shoulder_x, hip_x, add)
    for k in range(ROUNDS if exact else 0):  # joining adds a little at hip and crotch: measured on the skin, taken off again
        leg_at = placed(rest.leg, rest.skeleton.leg, b.rubber, False)
        skins = joined({"torso": _skin(rest.torso.points), "leg_l": _skin(leg_at.points)}, [_hip_pair(b, rest.leg)], ("torso",))
        off = _hips(b, rest.torso, skins)
        if max(abs(off.hip), abs(off.pelvis), abs(off.crotch) / 2) < CLOSE:
            break
        now = np.array([off.hip, off.pelvis, off.crotch])
        share = np.where(now * was < 0, 0.5 * share, np.minimum(1.4 * share, BOLDEST)) if k else np.ones(3)
        moved, was = moved - share * now, now
        add = Added(*moved.tolist())
        rest = _rest(b, shoulder_x, hip_x, add)
    return _put_on(b, rest, add, exact)


def roughly(b: Build, like: Mannequin) -> Mannequin:
    """A build's figure in a moment, while a dial is held: made anew, but joined as another, near one is, point by point."""
    was = like.build
    shoulder_x = max(like.skeleton.shoulder_x + (b.shoulder - was.shoulder) / 2, 0.05 * b.shoulder)
    hip_x = max(like.skeleton.hip_x + (b.hip - was.hip) / 2 - 0.5 * (b.thigh_girth - was.thigh_girth), 0.02 * b.hip)
    rest = _rest(b, shoulder_x, hip_x, like.added)
    skins, arm_at, leg_at = _skins(b, rest)
    if any(skins[k].points.shape != s.points.shape for k, s in like.unjoined.items()):
        return mannequin(b, False)
    out = {}
    for name, s in skins.items():
        before, after = like.unjoined[name], like.skins[name]
        n = s.normals + after.normals - before.normals
        out[name] = Skin(s.points + after.points - before.points, n / np.maximum(np.linalg.norm(n, axis=-1, keepdims=True), 1e-9))
    return Mannequin(b, rest.skeleton, rest.torso, rest.arm, rest.leg, out | _mirrored(out), arm_at, leg_at, skins, like.added)


def _mirrored(left: dict[str, Skin]) -> dict[str, Skin]:
    return {f"{k[:-1]}r": Skin(mirror(s.points), mirror(s.normals)) for k, s in left.items() if k != "torso"}


def _rest(b: Build, shoulder_x: float, hip_x: float, add: Added) -> _Rest:
    skeleton = standing(b, shoulder_x, hip_x)
    trunk = torso(b, shoulder_x, add)
    arm = limbs.arm(b, skeleton.arm.upper, trunk.corner[1] - b.shoulder_line)
    return _Rest(trunk, arm, limbs.leg(b, hip_x, add.hip), skeleton)


def _met(b: Build, r: _Rest) -> tuple[float, float]:
    """Where shoulder and hip joints have to lie so that the outlines are as wide as planned."""
    out = []
    for mass, limb, rows, half in (
        (r.arm, r.skeleton.arm, r.arm.v < SHOULDER_TO, b.shoulder / 2),
        (r.leg, r.skeleton.leg, r.leg.along + r.skeleton.leg.upper < 0.23 * b.trunk, b.hip / 2),
    ):
        turned = swung(np.eye(3), limb.frame[:, 1])
        down = np.where(mass.along < 0, mass.along + limb.upper, 0)[:, None]
        x = turned[0, 0] * mass.across + turned[0, 1] * down + turned[0, 2] * mass.ahead
        out.append(half - float(x[rows].max()))
    return out[0], out[1]


def _hips(b: Build, trunk: Torso, skins: dict[str, Skin]) -> Added:
    """By how much the joined skin is too wide at hips and pelvis (half), and too low at the crotch."""
    grid, leg = skins["torso"].points, skins["leg_l"].points
    all_ = np.concatenate([grid[trunk.station > HIPS_FROM].reshape(-1, 3), leg.reshape(-1, 3)])
    all_ = all_[all_[:, 1] < b.crotch + 0.1 * b.trunk]
    pelvis = float(np.interp(PELVIS, trunk.station, grid[..., 0].max(1))) - b.pelvis / 2
    return Added(float(all_[:, 0].max()) - b.hip / 2, pelvis, float(grid[:, [0, SPOKES // 2], 1].max()) - b.crotch)


def placed(m: Mass, limb: Limb, rubber: bool, is_arm: bool, end_turn: float = 0.0) -> Placed:
    """A limb's mass on its bones: rows keep their size, their path rounds the bend."""
    across, ahead = m.across, m.ahead
    if rubber:
        centres, frames = _arc(m, limb)
    else:
        a, c = limb.frame[:, 1], limb.lower_frame[:, 1]
        centres = limb.joint + (m.along * (1 - m.share))[:, None] * a + (m.along * m.share)[:, None] * c
        frames = (
            limb.frame @ about_plumb(limb.twisted * (m.twist - 1)) @ forward(limb.bend * m.share) @ about_plumb(end_turn * m.end)
        )
        bend = min(abs(limb.bend) / 90, 1.6)
        over = m.hinge[:, None] * bend
        outside = np.sign(ahead) == (-1 if limb.bend >= 0 else 1)  # the elbow points back, the knee forward
        ahead = ahead * np.where(outside, 1 + (0.20 if is_arm else 0.10) * over, 1 - 0.22 * over)
        across = across * (1 + (0.02 if is_arm else 0.05) * over)
    ring = np.stack([across, np.zeros_like(across), ahead], -1)
    return Placed(np.matmul(ring, frames.transpose(0, 2, 1)) + centres[:, None], centres, frames)


def _arc(m: Mass, limb: Limb) -> tuple[Array, Array]:
    """One arc of the limb's own length through both its ends."""
    way = limb.tip - limb.root
    chord, whole = float(np.linalg.norm(way)), limb.upper + limb.lower
    low, high = 0.0, 1.9 * np.pi
    for _ in range(40):
        half = (low + high) / 4
        if np.sinc(half / np.pi) * whole > chord:
            low = 2 * half
        else:
            high = 2 * half
    turn = np.degrees(low) * (1 if limb.bend >= 0 else -1)
    y = way / max(chord, 1e-9)
    middle = (limb.frame @ forward(limb.bend / 2))[:, 2]
    z = middle - y * (middle @ y)
    z /= max(float(np.linalg.norm(z)), 1e-9)
    base = np.stack([np.cross(y, z), y, z], 1)
    t = np.where(m.v < 1, m.v * limb.upper, limb.upper + (m.v - 1) * limb.lower) / whole
    frames = base @ forward(turn * (np.clip(t, 0, 1) - 0.5))
    k = np.linspace(0, 1, 65)
    steps = (base @ forward(turn * (k - 0.5)))[:, :, 1]
    path = np.concatenate([np.zeros((1, 3)), np.cumsum((steps[1:] + steps[:-1]) / 2, 0)]) * whole / 64
    centres = limb.root + np.stack([np.interp(t, k, path[:, i]) for i in range(3)], -1)
    return centres + frames[:, :, 1] * (np.minimum(t, 0) * whole)[:, None], frames


def _skin(points: Array) -> Skin:
    return Skin(points, tube_normals(points))


def _hip_pair(b: Build, leg: Mass) -> Pair:
    blend = 0.34 * b.thigh_girth * (0.8 + 0.4 * b.form.softness) * (1 - smooth_step((leg.v - 0.07) / 0.17))
    return Pair("torso", "leg_l", blend, leg.v < 0.25)


def _skins(b: Build, r: _Rest) -> tuple[dict[str, Skin], Placed, Placed]:
    """Every mass of the left side in space, not yet joined; how arm and leg lie."""
    arm_at = placed(r.arm, r.skeleton.arm, b.rubber, True)
    leg_at = placed(r.leg, r.skeleton.leg, b.rubber, False)
    skins = {"torso": _skin(r.torso.points), "arm_l": _skin(arm_at.points), "leg_l": _skin(leg_at.points)}
    skins["foot_l"] = _skin(ends.foot(b) @ r.skeleton.foot.T + leg_at.centres[_row(r.leg.v, 2.0)])
    made = ends.hand(b)
    wrist = arm_at.centres[-1]
    turned = arm_at.frames[-1] @ about_plumb(PALM_IN) if b.rubber else r.skeleton.hand
    for name, grid in (("palm", made.palm), *zip(FINGERS, made.fingers, strict=True), ("thumb", made.thumb)):
        skins[f"{name}_l"] = _skin(grid @ turned.T + wrist)
    return skins, arm_at, leg_at


def _put_on(b: Build, r: _Rest, add: Added, exact: bool) -> Mannequin:
    skins, arm_at, leg_at = _skins(b, r)
    made = ends.hand(b)
    wrist = arm_at.centres[-1]
    turned = arm_at.frames[-1] @ about_plumb(PALM_IN) if b.rubber else r.skeleton.hand
    soft = 0.8 + 0.4 * b.form.softness
    v = r.arm.v
    pairs = [
        _hip_pair(b, r.leg),
        Pair(
            "torso",
            "arm_l",
            0.42 * b.upper_arm_girth * soft * (1 - smooth_step((v - 0.06) / 0.26)),
            v < 0.36,
            r.torso.station < ARMS_JOIN,
        ),
        Pair("foot_l", "leg_l", 0.80 * b.ankle_girth * smooth_step((r.leg.v - 1.86) / 0.14), r.leg.v > 1.86),
        Pair("palm_l", "arm_l", 0.5 * b.wrist_girth * smooth_step((v - 1.75) / 0.15), v > 1.75),
        Pair("palm_l", "thumb_l", 0.26 * b.hand_width * (1 - smooth_step((made.along - 0.2) / 0.4)), made.along < 0.65),
    ]
    near = made.along < 0.36
    pairs += [
        Pair("palm_l", f"{f}_l", 0.07 * b.hand_width * (1 - smooth_step((made.along - 0.18) / 0.15)), near) for f in FINGERS
    ]
    left = joined(skins, pairs, ("torso",))
    palm = (left["palm_l"].points - wrist) @ turned
    share = b.hand_width / max(float(np.ptp(palm[PALM_FROM:, :, 0], axis=1).max()), 1e-6)
    left["palm_l"] = Skin((palm * [share, 1, 1]) @ turned.T + wrist, left["palm_l"].normals)  # the thumb's root widens it
    was, now = skins["foot_l"].points, left["foot_l"].points
    lift = (now - was) * (
        1 - smooth_step((((was - r.skeleton.leg.tip) @ r.skeleton.foot)[..., 1:2] / b.ankle_height - 0.35) / 0.35)
    )
    left["foot_l"] = Skin(was + lift, left["foot_l"].normals)  # the sole stays on the ground
    if exact:
        left |= _widths_met(b, r, left)
        left |= _shoulders_met(b, r, left)
    return Mannequin(b, r.skeleton, r.torso, r.arm, r.leg, left | _mirrored(left), arm_at, leg_at, skins, add)


def _widths_met(b: Build, r: _Rest, left: dict[str, Skin]) -> dict[str, Skin]:
    """Trunk and leg, the little that crotch, waist, pelvis and hips are still off taken off them, smoothly from the ribs to the thigh."""
    parts = {k: left[k].points.copy() for k in ("torso", "leg_l")}
    t = r.torso.station
    under = float(parts["torso"][:, [0, SPOKES // 2], 1].max()) - b.crotch
    parts["torso"][..., 1] -= np.clip(under, -0.03, 0.03) * smooth_step((t - HIPS_FROM) / (1 - HIPS_FROM))[:, None]
    for _ in range(WIDENINGS):
        grid = parts["torso"]
        half, height = grid[..., 0].max(1), grid[..., 1].mean(1)
        low = np.concatenate([p.reshape(-1, 3) for p in parts.values()])
        low = low[(low[:, 1] > b.shoulder_line + HIPS_FROM * b.trunk) & (low[:, 1] < b.crotch + 0.1 * b.trunk)]
        widest = low[int(np.argmax(low[:, 0]))]
        at = [float(np.interp(s, t, height)) for s in (RIB, r.torso.waist, PELVIS)]
        is_ = [b.ribcage / 2, *(float(np.interp(s, t, half)) for s in (r.torso.waist, PELVIS)), float(widest[0])]
        share = np.array([b.ribcage, b.waist, b.pelvis, b.hip]) / 2 / np.maximum(is_, 1e-6)
        knots = rising([*at, widest[1], widest[1] + 0.1 * b.trunk])
        share = np.append(np.clip(share, 1 / MOST_WIDENED, MOST_WIDENED), 1.0)
        if np.abs(share - 1).max() < 1e-4:
            break
        along = pchip(knots, share)
        for p in parts.values():
            p[..., 0] *= along(np.clip(p[..., 1], knots[0], knots[-1]))
    return {k: Skin(p, left[k].normals) for k, p in parts.items()}


def _shoulders_met(b: Build, r: _Rest, left: dict[str, Skin]) -> dict[str, Skin]:
    """The arm and its hand, moved sideways by the little that joining has left the shoulder too wide or too narrow."""
    by = b.shoulder / 2 - float(left["arm_l"].points[r.arm.v < SHOULDER_TO, :, 0].max())
    chain = [k for k in left if k.startswith(("arm", "palm", "finger", "thumb"))]
    return {k: Skin(left[k].points + [float(np.clip(by, -0.03, 0.03)), 0, 0], left[k].normals) for k in chain}


def _row(v: Array, at: float) -> int:
    return int(np.argmin(np.abs(v - at)))
