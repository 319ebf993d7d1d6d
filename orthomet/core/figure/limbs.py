"""Arms and legs: one mass each, through the joint, from drawn profiles between the planned girths.

A row lies at v: 0 the root, 1 the joint, 2 wrist or ankle. Four radii a row (outer, inner, front, back). Muscles are out of step: the outer
calf swells high, the inner low, the ankles the other way. Shapes are own, drawn after common practice.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from ..ink.surface import smooth_step
from ..kinds import Array
from .build import Build
from .profile import Knots, hill, profile, ring, rounded

THIGH_AT, ARM_AT = 0.25, 0.51
"""Where thigh and upper arm are measured: where joining does not reach."""


@dataclass(frozen=True, eq=False)
class Mass:
    """A limb at rest, straight: where its rows lie, and their rings about the bone."""

    v: Array
    along: Array
    """Of each row, from the joint, heads."""
    across: Array
    """``(rows, spokes)``."""
    ahead: Array
    share: Array
    """How far each row follows the second bone."""
    hinge: Array
    """1 at the joint, 0 away from it."""
    twist: Array
    """How much of the limb's own twist has come in."""
    end: Array
    """How much of the hand's turn has come in."""

    @property
    def width(self) -> Array:
        """Of each row, across."""
        return np.asarray(self.across.max(1) - self.across.min(1))


def _mass(v: Array, upper: float, lower: float, outer: Array, inner: Array, front: Array, back: Array, square: Array | float,
          ahead_by: Array | float = 0.0, blend: float = 0.62) -> Mass:  # fmt: skip
    across, ahead = ring(outer, inner, front, back, square)
    along = np.where(v < 1, (v - 1) * upper, (v - 1) * lower)
    r = float((front + back)[np.argmin(np.abs(v - 1))]) * blend
    lift = np.broadcast_to(np.asarray(ahead_by, float), v.shape)[:, None]
    return Mass(v, along, across, ahead + lift, smooth_step((along + r) / (2 * r)), hill(along, 0.0, 0.75 * r),
                smooth_step((v - 0.12) / 0.7), smooth_step((v - 1.08) / 0.85))  # fmt: skip


class _Radius(Protocol):
    def __call__(self, v: Array, knots: Knots, soft: float = 0.012) -> Array: ...


def _between(low: float, high: float, taper: float = 1.0) -> _Radius:
    """Radii from drawn profiles: 0 is the low girth, 1 the high one; ``taper`` crowds the bulk."""

    def radius(v: Array, knots: Knots, soft: float = 0.012) -> Array:
        k = profile(v, knots, soft)
        return np.asarray(low + (high - low) * np.sign(k) * np.abs(k) ** taper)

    return radius


def _rubber(v: Array, upper: float, lower: float, girths: tuple[float, float, float], over: float) -> Mass:
    r = np.interp(v, [0, 1, 2], np.array(girths) / 2) * rounded(v, float(v[0]), over)
    return _mass(v, upper, lower, r, r, r, r, 2.0)


def arm(b: Build, upper: float, corner_drop: float) -> Mass:
    """The left arm; ``upper`` is its first bone, ``corner_drop`` how far the shoulder's corner lies under the shoulder line."""
    f = b.form
    lower = b.forearm
    if b.rubber:
        v = np.linspace(-0.14, 2.0, 44)
        return _rubber(v, upper, lower, (b.upper_arm_girth, b.forearm_girth, b.wrist_girth), 0.04)
    muscle = float(np.clip(f.muscle * (1 - 0.25 * f.softness), 0, 1.6))
    drop = b.shoulder_drop
    top = -max(drop - corner_drop - 0.02 * b.trunk / 2.54, 0.35 * drop) / upper
    v = np.concatenate([
        top * np.cos(np.linspace(0, np.pi / 2, 8))[:-1], np.linspace(0, 0.86, 18)[:-1], np.linspace(0.86, 1.14, 13)[:-1],
        np.linspace(1.14, 2.0, 19),
    ])  # fmt: skip

    def contrast(knots: Knots) -> Array:
        return np.asarray(1 + muscle * (profile(v, knots) - 1))

    d = 0.04 * (1 - f.feminine)
    outer = contrast([(-0.3, 0.92), (-0.1, 1.02), (0.04, 1.12 + d), (0.16, 1.22 + d), (0.26, 1.20 + d), (0.36, 1.06), (0.46, 0.95), (0.56, 0.95),
                      (0.68, 0.93), (0.80, 0.86), (0.92, 0.83), (1.0, 0.86)])  # fmt: skip
    inner = contrast([(-0.3, 0.8), (0, 0.92), (0.2, 0.96), (0.34, 1.00), (0.46, 1.05), (0.56, 1.05), (0.68, 0.98), (0.80, 0.87), (0.90, 0.84),
                      (0.97, 0.90), (1.0, 0.90)])  # fmt: skip
    front = 1.02 * contrast([(-0.3, 0.80), (0, 1.10), (0.14, 1.18), (0.26, 1.12), (0.36, 1.12), (0.48, 1.24), (0.58, 1.22), (0.70, 1.06),
                             (0.82, 0.90), (0.92, 0.84), (1.0, 0.82)])  # fmt: skip
    back = 1.02 * contrast([(-0.3, 0.85), (0, 1.08), (0.15, 1.16), (0.26, 1.14), (0.40, 1.20), (0.52, 1.14), (0.66, 1.02), (0.80, 0.92),
                            (0.92, 0.86), (0.98, 0.92), (1.0, 0.90)])  # fmt: skip
    scale = b.upper_arm_girth / float(np.interp(ARM_AT, v, outer + inner))
    first = [r * scale for r in (outer, inner, front, back)]
    wrist, fore = b.wrist_girth / 2, b.forearm_girth / 2
    radius = _between(wrist, fore, f.forearm_belly)
    rise = _between(0.0, fore - wrist, f.forearm_belly)
    second = [
        radius(v, [(1, 0.62), (1.08, 0.94), (1.16, 1.06), (1.25, 1.07), (1.36, 0.95), (1.5, 0.66), (1.66, 0.32), (1.8, 0.09), (1.9, 0.0), (2.0, 0.04)]),
        radius(v, [(1, 0.66), (1.06, 0.70), (1.16, 0.92), (1.27, 1.0), (1.38, 0.92), (1.52, 0.62), (1.68, 0.28), (1.82, 0.07), (1.92, 0.0), (2.0, 0.03)]),
        1.22 * wrist + rise(v, [(1, 0.72), (1.12, 1.0), (1.26, 1.02), (1.45, 0.72), (1.65, 0.30), (1.82, 0.06), (2.0, 0.02)]),
        1.18 * wrist + rise(v, [(1, 0.70), (1.10, 0.78), (1.22, 0.84), (1.42, 0.66), (1.62, 0.30), (1.82, 0.05), (1.95, 0.06), (2.0, 0.04)]),
    ]  # fmt: skip
    outer, inner, front, back = _crossed(first, second, smooth_step((v - 0.95) / 0.13))
    outer, inner = _met(v, outer, inner, (1.1, 1.45), b.forearm_girth, np.max, hill(v, 1.25, 0.22))
    outer, inner = _met(v, outer, inner, (1.8, 2.01), b.wrist_girth, np.min, smooth_step((v - 1.6) / 0.2))
    c = rounded(v, 1.02 * top, 0.04)
    square = np.interp(v, [0, 0.8, 1.0, 1.3, 1.85, 2], [2.05, 2.1, 2.35, 2.1, 2.35, 2.4])
    return _mass(v, upper, lower, outer * c, inner * c, front * c, back * c, square, blend=0.70)


def leg(b: Build, hip_x: float, wider: float) -> Mass:
    """The left leg of a figure whose hip joints lie ``hip_x`` to the sides."""
    f = b.form
    upper, lower = b.leg_bones
    if b.rubber:
        v = np.linspace(-0.2, 2.0, 50)
        return _rubber(v, upper, lower, (b.thigh_girth, b.knee_girth, b.ankle_girth), 0.06)
    muscle = float(np.clip(f.muscle * (1 - 0.2 * f.softness), 0, 1.5))
    knee, calf, ankle = b.knee_girth / 2, b.calf_girth / 2, b.ankle_girth / 2
    side = b.hip / 2 + wider - hip_x
    top = -0.345 * b.thigh_girth / upper
    v = np.concatenate([
        top * np.cos(np.linspace(0, np.pi / 2, 8))[:-1], np.linspace(0, 0.84, 24)[:-1], np.linspace(0.84, 1.14, 14)[:-1],
        np.linspace(1.14, 2.0, 25), [2.03, 2.06, 2.09],
    ])  # fmt: skip
    ex = 0.04 * muscle
    outer = knee + (side - knee) * profile(v, [
        (-0.3, 0.80), (-0.08, 0.93), (0, 0.98), (0.07, 1.0), (0.16, 0.97), (0.30, 0.86 + ex), (0.45, 0.71 + ex), (0.58, 0.54 + ex),
        (0.70, 0.34 + ex), (0.80, 0.17), (0.88, 0.05), (0.95, 0.0), (1.0, 0.02),
    ], 0.02)  # fmt: skip
    swell = profile(v, [(-0.3, 0.60), (0, 0.92), (0.10, 1.0), (0.20, 1.0), (0.32, 0.86), (0.46, 0.64), (0.58, 0.46), (0.68, 0.33), (0.77, 0.27 + ex),
                        (0.85, 0.20 + ex), (0.92, 0.07), (1.0, 0.02)], 0.02)  # fmt: skip
    within = (b.thigh_girth - float(np.interp(THIGH_AT, v, outer)) - knee) / float(np.interp(THIGH_AT, v, swell))
    inner = knee + within * swell
    deep = 0.53 * b.thigh_girth
    front = knee + (deep - knee) * profile(v, [(-0.3, 0.55), (0, 0.80), (0.14, 0.98), (0.28, 1.05), (0.44, 1.00), (0.60, 0.76), (0.74, 0.46),
                                               (0.85, 0.22), (0.93, 0.10), (1.0, 0.08)], 0.02)  # fmt: skip
    back = 0.95 * knee + (deep - knee) * profile(v, [(-0.3, 0.50), (0, 0.86), (0.12, 0.98), (0.28, 0.96), (0.46, 0.82), (0.62, 0.60), (0.76, 0.34),
                                                     (0.88, 0.10), (0.96, -0.02), (1.0, -0.06)], 0.02)  # fmt: skip
    radius, rise = _between(ankle, calf, f.calf_belly), calf - ankle
    second = [
        radius(v, [(1, 0.62), (1.08, 0.66), (1.18, 0.92), (1.27, 1.03), (1.36, 0.98), (1.48, 0.76), (1.60, 0.46), (1.72, 0.20), (1.82, 0.05),
                   (1.90, 0.01), (1.955, 0.10), (2.0, 0.12), (2.1, 0.1)], 0.015),
        radius(v, [(1, 0.60), (1.09, 0.62), (1.18, 0.78), (1.29, 1.00), (1.37, 1.06), (1.45, 0.98), (1.54, 0.72), (1.64, 0.40), (1.75, 0.15),
                   (1.85, 0.02), (1.905, 0.06), (1.945, 0.16), (2.0, 0.10), (2.1, 0.1)], 0.015),
        1.06 * ankle + rise * profile(v, [(1, 0.74), (1.07, 0.68), (1.15, 0.62), (1.3, 0.62), (1.5, 0.42), (1.7, 0.17), (1.86, 0.02), (2.0, 0.02),
                                          (2.1, 0.1)], 0.015),
        1.04 * ankle + rise * profile(v, [(1, 0.44), (1.08, 0.62), (1.18, 1.06), (1.28, 1.32), (1.37, 1.26), (1.48, 0.92), (1.60, 0.50), (1.72, 0.18),
                                          (1.84, 0.02), (1.94, 0.0), (2.0, 0.06), (2.1, 0.1)], 0.015),
    ]  # fmt: skip
    outer, inner, front, back = _crossed([outer, inner, front, back], second, smooth_step((v - 0.96) / 0.14))
    outer, inner = _met(v, outer, inner, (1.1, 1.6), b.calf_girth, np.max, hill(v, 1.33, 0.2, 4))
    outer, inner = _met(v, outer, inner, (1.75, 1.97), b.ankle_girth, np.min, hill(v, 1.9, 0.16, 4))
    at_knee = 1 + (b.knee_girth / float(np.interp(1.0, v, outer + inner)) - 1) * hill(v, 1.0, 0.09)
    outer, inner = outer * at_knee, inner * at_knee
    at_thigh = 1 + (b.thigh_girth / float(np.interp(THIGH_AT, v, outer + inner)) - 1) * hill(v, THIGH_AT, 0.16)
    inner = (outer + inner) * at_thigh - outer
    c = rounded(v, 1.02 * top, 0.10)
    square = np.interp(v, [0, 0.8, 1.0, 1.25, 1.8, 2], [2.1, 2.1, 2.3, 2.1, 2.2, 2.2])
    bow = (
        0.10
        * deep
        * profile(v, [(-0.3, 0), (0, 0.15), (0.35, 0.8), (0.7, 0.5), (1, 0), (1.3, -0.35), (1.7, -0.2), (2, 0), (2.1, 0)], 0.03)
    )
    return _mass(v, upper, lower, outer * c, inner * c, front * c, back * c, square, bow)


def _crossed(first: list[Array], second: list[Array], share: Array) -> list[Array]:
    return [a * (1 - share) + c * share for a, c in zip(first, second, strict=True)]


def _met(
    v: Array, outer: Array, inner: Array, within: tuple[float, float], girth: float, of: Callable[[Array], float], where: Array
) -> tuple[Array, Array]:
    """Radii scaled about a place until the widest (or thinnest) row there has the girth."""
    here = (v > within[0]) & (v < within[1])
    share = 1 + (girth / float(of((outer + inner)[here])) - 1) * where
    return outer * share, inner * share
