"""Where a hand can go: the arm by inverse kinematics over directions of the hand and turns of the elbow, all at once.

A place is reached when shoulder, elbow, wrist and the elbow's turn stay within their ranges and neither bone nor hand runs through head,
rib cage or pelvis. What is tried is a lattice of directions, so that the answer is the same every time.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np

from ..figure.skeleton import Skeleton
from ..kinds import Array
from .bones import collar_angles, collar_swung
from .limits import ROOM, limits

DIRECTIONS, SWIVELS = 128, 24
WRIST = 70.0
"""Degrees between forearm and hand at most."""
SHRUGS = ((0.0, 0.0), (14.0, 0.0), (28.0, 0.0), (0.0, 14.0), (14.0, 14.0), (28.0, 10.0))
"""Extra lift and forward swing of the collar bone that is tried, degrees."""
GIVES = 0.93
"""A bone may run this near to the middle of what is in its way, of that's size: flesh gives."""
ALONG = ((0.5, 0.8, 1.0), (0.3, 0.6, 0.9), (0.15, 0.4, 0.65))
"""Where along upper arm, forearm and hand it is asked."""


@dataclass(frozen=True, eq=False)
class Egg:
    """Something in the way: its middle and its half sizes."""

    centre: Array
    radii: Array


@dataclass(frozen=True, eq=False)
class Reached:
    """How a hand gets to a place; frames of the left side in the trunk's space."""

    ok: bool
    missing: float
    """What is missing of the distance even with a straight arm, heads; 0 where something else is in the way."""
    elbow: Array | None = None
    wrist: Array | None = None
    shoulder: Array | None = None
    shrug: tuple[float, float] = (0.0, 0.0)
    """Lift and forward swing of the collar bone beyond what goes with the arm, degrees."""


def eggs(s: Skeleton) -> tuple[Egg, ...]:
    """Head, rib cage and pelvis of a standing figure."""
    b = s.build
    kz = b.chest / 0.9
    return (
        Egg(np.array([0, 0.5, b.neck_axis + 0.075]), np.array([b.head_width / 2, 0.5, 0.43])),
        Egg(np.array([0, b.shoulder_line + 0.30 * b.trunk, -0.08 * kz]), np.array([b.ribcage / 2, 0.34 * b.trunk, b.chest / 2])),
        Egg(np.array([0, b.shoulder_line + 0.80 * b.trunk, -0.06 * kz]), np.array([b.hip / 2, 0.24 * b.trunk, 0.47 * b.chest])),
    )


@cache
def _sphere(n: int) -> Array:
    i = np.arange(n) + 0.5
    phi, theta = np.arccos(1 - 2 * i / n), np.pi * (1 + 5**0.5) * i
    return np.stack([np.cos(theta) * np.sin(phi), np.cos(phi), np.sin(theta) * np.sin(phi)], 1)


def arms_excess(d: Array) -> Array:
    """How far upper arms' directions ``(…, 3)`` lie past their range: as :func:`.limits.arm_excess`, for many."""
    lim = limits()
    x, y, z = d[..., 0], d[..., 1], d[..., 2]
    across = np.radians(lim.arm_across)
    out = np.maximum(0.0, (-x - np.maximum(z, 0.0) * np.tan(across)) * np.cos(across) - ROOM)
    share = np.clip((y + 0.3) / 0.6, 0, 1)
    back = np.sin(np.radians(lim.arm_back_raised + share * (lim.arm_back - lim.arm_back_raised)))
    out = np.maximum(out, np.where(z < 0, -z - back, 0.0))
    out = np.maximum(out, np.where((y < 0) & (x < -0.35), -x - 0.35, 0.0))
    return np.where(out > 1e-9, out, 0.0)


def twists(t: Array, f: Array) -> Array:
    """Turns of upper arms along ``t`` (from only being swung) whose forearms go along ``f``, degrees; ``(n, 3)`` each."""
    z = f - t * (f * t).sum(-1, keepdims=True)
    z /= np.maximum(np.linalg.norm(z, axis=-1, keepdims=True), 1e-9)
    # (0, 1, 0) swung to t by the smallest rotation: what becomes of x and z
    c = 1 + t[..., 1]
    c = np.where(np.abs(c) < 1e-6, 1e-6, c)
    swung_x = np.stack([1 - t[..., 0] ** 2 / c, -t[..., 0], -t[..., 0] * t[..., 2] / c], -1)
    swung_z = np.stack([-t[..., 0] * t[..., 2] / c, -t[..., 2], 1 - t[..., 2] ** 2 / c], -1)
    return np.asarray(np.degrees(np.arctan2((z * swung_x).sum(-1), (z * swung_z).sum(-1))))


def reach(
    s: Skeleton, to: Array, normal: Array | None = None, blocked: bool = True, hand: float = 1.0, raised: float = 0.0
) -> Reached:
    """Whether the left hand gets to a place of the standing figure's own space.

    ``normal`` is the outward normal of the surface touched there: the hand comes from outside. ``hand`` is the share of the hand's length
    that goes past the wrist (1: fingertips touch); ``raised`` how far the whole figure stands higher, on its toes.
    """
    b = s.build
    upper, lower, palm = s.arm.upper, s.arm.lower, hand * b.hand
    place = np.asarray(to, float) + np.array([0.0, raised, 0.0])
    base = s.joints["clavicle_l"]
    way = place - base
    d = way / max(float(np.linalg.norm(way)), 1e-9)
    missing = np.inf
    blockers = eggs(s) if blocked else ()
    for up, ahead in SHRUGS:
        shoulder = base + collar_swung(s, d, up, ahead)
        missing = min(missing, float(np.linalg.norm(place - shoulder)) - (upper + lower + palm))
        found = _tried(shoulder, place, normal, (upper, lower, palm), blockers)
        if found is not None:
            # the collar bone was taken along toward the place; a pose takes it along with the upper arm
            t = (found[0] - shoulder) / upper
            (a, c), (e, f) = collar_angles(s, d), collar_angles(s, t)
            return Reached(True, 0.0, found[0], found[1], shoulder, (up + a - e, ahead + c - f))
    return Reached(False, max(missing, 0.0))


def _tried(
    shoulder: Array, place: Array, normal: Array | None, long: tuple[float, float, float], blockers: tuple[Egg, ...]
) -> tuple[Array, Array] | None:
    """Elbow and wrist of the easiest way there."""
    upper, lower, palm = long
    ways = _sphere(DIRECTIONS)
    if normal is not None:
        ways = ways[ways @ normal < 0.5]
    wrist = place - palm * ways
    v = wrist - shoulder
    far = np.linalg.norm(v, axis=1)
    bend = np.radians(180 - limits().spans["elbow"][0][1])
    least = np.sqrt(max(upper**2 + lower**2 - 2 * upper * lower * np.cos(bend), 0.0))
    ok = (far < upper + lower) & (far > least)
    if not ok.any():
        return None
    wrist, v, far, ways = wrist[ok], v[ok], far[ok], ways[ok]
    n = v / far[:, None]
    c = np.clip((upper**2 + far**2 - lower**2) / (2 * upper * far), -1, 1)
    sn = np.sqrt(1 - c * c)
    aside = np.where(np.abs(n[:, :1]) < 0.9, [[1.0, 0, 0]], [[0, 1.0, 0]])
    one = np.cross(n, aside)
    one /= np.linalg.norm(one, axis=1, keepdims=True)
    other = np.cross(n, one)
    a = np.linspace(0, 2 * np.pi, SWIVELS, endpoint=False)
    t = n[:, None] * c[:, None, None] + sn[:, None, None] * (
        one[:, None] * np.cos(a)[:, None] + other[:, None] * np.sin(a)[:, None]
    )
    elbow = shoulder + upper * t
    f = (wrist[:, None] - elbow) / lower
    good = (arms_excess(t) <= 0) & ((f * ways[:, None]).sum(-1) > np.cos(np.radians(WRIST)))
    i, j = np.nonzero(good)
    if not len(i):
        return None
    t, f, e, w = t[i, j], f[i, j], elbow[i, j], wrist[i]
    low, high = limits().arm_twist
    turned = twists(t, f)
    fine = (turned >= low) & (turned <= high)
    for egg in blockers:
        for (p, q), places in zip(
            ((np.broadcast_to(shoulder, e.shape), e), (e, w), (w, np.broadcast_to(place, w.shape))), ALONG, strict=True
        ):
            for k in places:
                fine &= ((((p + (q - p) * k) - egg.centre) / egg.radii) ** 2).sum(-1) > GIVES
    if not fine.any():
        return None
    # the easiest: little twist, elbow low, hand straight
    cost = np.abs(turned) / 90 - 0.6 * t[:, 1] - 0.8 * (f * ways[i]).sum(-1)
    k = int(np.argmin(np.where(fine, cost, np.inf)))
    return e[k], w[k]
