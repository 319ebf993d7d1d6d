"""Where a posed figure's weight lies, and whether it stands.

Every part weighs as much as it is large: parts are cylinders, cones and eggs of the build's own lengths and girths, all of one density
(own; real bodies differ by less than a tenth).
"""

from __future__ import annotations

from dataclasses import dataclass
from math import pi

import cv2
import numpy as np

from ..figure.build import Build
from ..figure.skeleton import SIDES
from ..kinds import Array
from .bones import Posed
from .turns import flip

ON_THE_FLOOR = 0.04
"""What lies this near to the floor carries weight, heads."""
STEADY = 0.03
"""Nearer than this inside the edge of what carries it, the weight is about to leave it, heads."""
SKULL_DEEP = 0.87


@dataclass(frozen=True, eq=False)
class Balance:
    """The weight of a posed figure over what carries it."""

    centre: Array
    """Its middle, heads."""
    support: Array
    """Corners of what carries it on the floor, x and z, ``(n, 2)``; none in the air."""
    off: float
    """How far the middle lies outside of it, heads; negative inside."""
    way: Array
    """From what carries it to the middle, x and z in the figure's own sense (left and forward)."""
    seated: bool = False

    @property
    def falls(self) -> bool:
        return self.off > 0

    def words(self, name: str = "the figure") -> str:
        """A sentence."""
        if not len(self.support):
            return "In the air: nothing carries the weight."
        if not self.falls:
            near = ", just" if self.off > -STEADY else ""
            return f"{'Sits' if self.seated else 'Stands'}{near}: the weight lies over what carries it."
        x, z = self.way
        side = "left" if x > 0 else "right"
        if abs(x) >= abs(z):
            return (
                f"Falls to {name}’s {side} by {self.off:.1f} heads." if self.off >= 0.05 else f"Barely falls to {name}’s {side}."
            )
        ahead = "forward" if z > 0 else "backward"
        return f"Falls {ahead} by {self.off:.1f} heads." if self.off >= 0.05 else f"Barely falls {ahead}."


def masses(p: Posed) -> list[tuple[str, float, Array]]:
    """Every part with its weight (by volume, cubic heads) and its middle."""
    b, j = p.rest.build, p.joints
    out = [("head", pi / 6 * b.head_width * SKULL_DEEP, j["crown"] + 0.5 * p.frames["head"][:, 1])]
    rib = pi / 4 * b.ribcage * b.chest
    loin = pi / 4 * b.waist * 0.8 * b.chest
    hips = pi / 4 * b.hip * 0.85 * b.chest
    upper, lower = 0.62 * b.trunk, 0.38 * b.trunk
    out.append(("rib cage", upper * (rib + loin) / 2, 0.5 * (j["neck"] + j["waist"])))
    out.append(("pelvis", lower * (loin + hips) / 2, 0.35 * j["waist"] + 0.65 * j["pelvis"]))
    for side, _ in SIDES:
        for part, a, c, one, other in (
            ("upper arm", "shoulder", "elbow", b.upper_arm_girth, 0.8 * b.upper_arm_girth), ("forearm", "elbow", "wrist", b.forearm_girth, b.wrist_girth),
            ("thigh", "hip", "knee", b.thigh_girth, b.knee_girth), ("shin", "knee", "ankle", b.calf_girth, b.ankle_girth),
        ):  # fmt: skip
            start, end = j[f"{a}_{side}"], j[f"{c}_{side}"]
            r, q = one / 2, other / 2
            volume = pi / 3 * float(np.linalg.norm(end - start)) * (r * r + r * q + q * q)
            share = (r * r + 2 * r * q + 3 * q * q) / (4 * (r * r + r * q + q * q))  # a cone's own middle
            out.append((f"{part} {side}", volume, start + share * (end - start)))
        hand = 0.32 * b.hand * b.hand_width * b.hand_width
        out.append((f"hand {side}", hand, 0.55 * j[f"wrist_{side}"] + 0.45 * j[f"fingertip_{side}"]))
        foot = 0.45 * b.foot * b.foot_width * b.ankle_height
        out.append((f"foot {side}", foot, 0.55 * j[f"heel_{side}"] + 0.45 * j[f"toe_{side}"]))
    return out


def centre_of(parts: list[tuple[str, float, Array]]) -> Array:
    """The middle of weights."""
    w = np.array([v for _, v, _ in parts])
    return np.asarray((w[:, None] * np.stack([c for _, _, c in parts])).sum(0) / w.sum())


def balance(p: Posed) -> Balance:
    """A posed figure's weight over what carries it."""
    b = p.rest.build
    centre = centre_of(masses(p))
    found = [] if p.pose.air > 0 else _contacts(p, b)
    if not found:
        return Balance(centre, np.zeros((0, 2)), 0.0, np.zeros(2))
    hull = cv2.convexHull(np.array(found, np.float32))[:, 0].astype(float)
    at = centre[[0, 2]]
    off, way = _outside(hull, at)
    turned = p.frames["pelvis"]
    front = turned[:, 2][[0, 2]]
    far = float(np.hypot(*front))
    front = front / far if far > 0.2 else np.array([0.0, 1.0])
    left = np.array([front[1], -front[0]])
    return Balance(centre, hull, off, np.array([way @ left, way @ front]), p.pose.seat)


def _contacts(p: Posed, b: Build) -> list[Array]:
    out = []
    j = p.joints
    floor = b.heads
    for side, sign in SIDES:
        frame = flip(p.feet[side], sign)
        ankle, half = j[f"ankle_{side}"], b.foot_width / 2
        for x in (-1, 1):
            for z in (-0.24, 0.45, 0.70):
                q = ankle + frame @ np.array([x * half, b.ankle_height, z * b.foot])
                if q[1] > floor - ON_THE_FLOOR - 0.06 * b.foot:
                    out.append(q[[0, 2]])
        knee = j[f"knee_{side}"]
        if knee[1] + b.knee_girth / 2 > floor - 2 * ON_THE_FLOOR:
            r = b.knee_girth / 2
            out += [knee[[0, 2]] + [dx, dz] for dx in (-r, r) for dz in (-r, r)]
        if p.pose.seat:
            hip, way = j[f"hip_{side}"], knee - j[f"hip_{side}"]
            out += [(hip + t * way)[[0, 2]] for t in (-0.25, 0.6)]
    if j["pelvis"][1] + 0.6 * b.thigh_girth > floor:
        out += [j["pelvis"][[0, 2]] + [dx, dz] for dx in (-b.hip / 2, b.hip / 2) for dz in (-b.chest / 2, b.chest / 2)]
    return out


def _outside(hull: Array, at: Array) -> tuple[float, Array]:
    """How far a place lies outside of a convex outline (negative inside), and the way out to it."""
    a, c = hull, np.roll(hull, -1, 0)
    d = c - a
    t = np.clip(((at - a) * d).sum(1) / np.maximum((d * d).sum(1), 1e-12), 0, 1)
    q = a + t[:, None] * d
    far = np.hypot(*(at - q).T)
    k = int(np.argmin(far))
    inside = len(hull) > 2 and cv2.pointPolygonTest(hull.astype(np.float32), (float(at[0]), float(at[1])), False) > 0
    return (-float(far[k]) if inside else float(far[k])), at - q[k]
