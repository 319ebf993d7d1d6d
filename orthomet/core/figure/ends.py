"""Hands and feet: a palm, four fingers and a thumb; a foot from heel to toe. Shapes are own, drawn after common practice."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..ink.surface import smooth_step
from ..kinds import Array
from .build import Build
from .frames import about_plumb, forward, outward
from .profile import COS, SIN, SPOKES, hill, profile, ring

FINGER_SPOKES = slice(None, None, 4)
HEEL = 0.265
"""Share of the foot behind the ankle."""
FOOT_ROWS = np.concatenate([[0, 0.012, 0.035, 0.07, 0.12], np.linspace(0.18, 0.90, 17), [0.93, 0.955, 0.975, 0.99, 1.0]])
"""Where the rows of a foot lie: 0 heel, 1 toe tip."""
CURL = 26.0
"""Degrees a hanging hand's fingers are curled by, each a little more than the last."""
CURLS = (0.75, 0.95, 1.08, 1.22)
_FINGERS = (
    (0.70, 0.475, 0.470, 1.0, 0.05),
    (0.235, 0.50, 0.50, 1.04, 0.012),
    (-0.235, 0.485, 0.470, 1.0, -0.02),
    (-0.68, 0.435, 0.405, 0.88, -0.055),
)
"""Place across the palm, root and length down the hand, thickness, how far it leans outward."""
THUMB_OUT, THUMB_FORWARD = 34.0, 24.0


@dataclass(frozen=True, eq=False)
class Hand:
    """Parts of the left hand about its wrist: y to the fingertips, z out of the palm, x to the thumb."""

    palm: Array
    fingers: tuple[Array, ...]
    thumb: Array
    along: Array
    """Of each row of fingers and thumb: 0 root, 1 tip."""


def foot(b: Build) -> Array:
    """The left foot about its ankle, ``(rows, spokes, 3)``: rows from heel to toe, flat underneath."""
    long, high, half = b.foot, b.ankle_height, b.foot_width / 2
    plump = float(np.clip(b.form.softness - 0.3, 0, 0.7))
    q = FOOT_ROWS
    over = high * profile(q, [
        (0, 0.14), (0.02, 0.48), (0.05, 0.70), (0.11, 0.92), (0.2, 1.04), (0.28, 1.10), (0.38, 0.98), (0.50, 0.77), (0.62, 0.585), (0.74, 0.455),
        (0.84, 0.375), (0.91, 0.35), (0.96, 0.31), (0.985, 0.24), (1.0, 0.09),
    ], 0.006)  # fmt: skip
    over = over * (1 + 0.25 * plump * smooth_step((q - 0.6) / 0.2) * (1 - smooth_step((q - 0.97) / 0.03)))
    outer = half * profile(q, [
        (0, 0.10), (0.02, 0.32), (0.06, 0.50), (0.12, 0.60), (0.22, 0.64), (0.35, 0.74), (0.5, 0.90), (0.64, 1.0), (0.74, 1.02), (0.83, 0.98),
        (0.90, 0.86), (0.95, 0.66), (0.98, 0.42), (1.0, 0.12),
    ], 0.006)  # fmt: skip
    inner = half * profile(q, [
        (0, 0.10), (0.02, 0.32), (0.06, 0.50), (0.12, 0.58), (0.22, 0.62), (0.35, 0.64), (0.48, 0.74), (0.60, 0.90), (0.71, 1.0), (0.80, 1.0),
        (0.88, 0.96), (0.93, 0.86), (0.965, 0.68), (0.985, 0.48), (1.0, 0.14),
    ], 0.006)  # fmt: skip
    share = b.foot_width / float((outer + inner).max())
    outer, inner = outer * share, inner * share
    # heel and toes leave the ground round
    low = high * (
        1
        - 0.24 * np.clip(1 - q / 0.075, 0, 1) ** 2.4
        - 0.10 * np.clip((q - 0.93) / 0.07, 0, 1) ** 2
        - 0.016 * ((q - 0.70) / 0.7) ** 2
    )
    middle = low - 0.42 * over
    e = 2 / np.where(COS > 0, 1.8, 3.6)
    x = np.where(SIN > 0, outer[:, None], inner[:, None]) * np.sign(SIN) * np.abs(SIN) ** e
    y = np.where(COS > 0, -(over - (high - middle))[:, None], (low - middle)[:, None]) * np.abs(COS) ** e
    # the ridge of the instep lies toward the big toe; the outer toes fall back; the inner side is hollow
    raised = np.clip(-1.6 * y / np.maximum(over, 1e-6)[:, None], 0, 1)
    x = x - raised * (smooth_step((q - 0.25) / 0.2) * (1 - smooth_step((q - 0.75) / 0.2)))[:, None] * 0.16 * half
    z = (q[:, None] - HEEL) * long - smooth_step((q - 0.68) / 0.3)[:, None] * np.clip(x / half, -0.3, 1) * 0.13 * long
    arch = hill(q, 0.45, 0.16)[:, None] * np.clip(-x / half, 0, 1) ** 1.5 * np.clip(-COS, 0, 1)[None] * 0.16 * high
    z = -HEEL * long + (z - z.min()) * (long / (z.max() - z.min()))
    return np.stack([x, middle[:, None] + y - arch, z], -1)


def bent_toes(grid: Array, b: Build, bend: float) -> Array:
    """A foot with its toes bent up by degrees against its ball."""
    if not bend:
        return grid
    ball = np.array([0.0, 0.9 * b.ankle_height, 0.43 * b.foot])
    w = smooth_step((grid[..., 2] - ball[2] + 0.10 * b.foot) / (0.20 * b.foot))[..., None]
    turn = forward(bend)
    return np.asarray(grid * (1 - w) + ((grid - ball) @ turn.T + ball) * w)


def hand(b: Build, curl: float = CURL) -> Hand:
    """The left hand, hanging; its fingers curled by so many degrees."""
    long, half, wrist, soft = b.hand, b.hand_width / 2, b.wrist_girth / 2, b.form.softness
    v = np.concatenate([np.linspace(-0.10, 0.46, 13), [0.485, 0.505, 0.52, 0.53]])
    root = min(1.22 * wrist, half)
    # the heel of the hand swells on the little finger's side
    thumb_side = root + (half - root) * profile(
        v, [(-0.10, 0), (0, 0.02), (0.10, 0.22), (0.22, 0.62), (0.34, 0.90), (0.44, 1.0), (0.53, 0.98)], 0.01
    )
    little_side = root + (half - root) * profile(
        v, [(-0.10, 0), (0, 0.02), (0.08, 0.38), (0.20, 0.80), (0.32, 0.96), (0.44, 1.0), (0.53, 0.97)], 0.01
    )
    share = 1 + (b.hand_width / float((thumb_side + little_side)[v > 0.1].max()) - 1) * smooth_step((v - 0.1) / 0.25)
    thick = half * (0.40 + 0.10 * soft)
    palm_side = wrist + (1.05 * thick - wrist) * smooth_step((v + 0.02) / 0.24)
    back_side = wrist + (0.78 * thick - wrist) * smooth_step((v + 0.02) / 0.30)
    c = np.where(v > 0.46, np.sqrt(np.clip(1 - ((v - 0.46) / 0.075) ** 2, 0.02, 1)), 1.0)
    x, z = ring(thumb_side * share, little_side * share, palm_side * c, back_side * c, 2.5)
    palm = np.stack([x, np.broadcast_to((v * long)[:, None], x.shape), z], -1)
    s = np.concatenate([np.linspace(0, 0.86, 13), [0.91, 0.95, 0.98, 1.0]])
    knuckles = 1 + 0.07 * (hill(s, 0.52, 0.06) + hill(s, 0.77, 0.05)) * (1 - soft)
    tip = np.where(s > 0.86, np.sqrt(np.clip(1 - ((s - 0.86) / 0.14) ** 2, 0.004, 1)), 1.0)
    radius = 0.245 * half * (1.0 - 0.16 * s) * knuckles * tip
    bend = 0.55 * smooth_step((s - 0.10) / 0.18) + smooth_step((s - 0.42) / 0.2) + 0.6 * smooth_step((s - 0.70) / 0.18)
    fingers = tuple(
        _finger(x0 * half, (y0 - 0.09) * long, (ln + 0.09) * long, radius * r, lean, np.radians(curl * k) * bend, s)
        for (x0, y0, ln, r, lean), k in zip(_FINGERS, CURLS, strict=True)
    )
    return Hand(palm, fingers, _thumb(b, s), s)


def _swept(s: Array, values: Array) -> Array:
    return np.append(0.0, np.cumsum((values[1:] + values[:-1]) / 2 * np.diff(s)))


def _finger(x0: float, y0: float, long: float, radius: Array, lean: float, bend: Array, s: Array) -> Array:
    sn, cn = SIN[FINGER_SPOKES], COS[FINGER_SPOKES]
    x = x0 + lean * (s * long) / 0.35
    y, z = y0 + long * _swept(s, np.cos(bend)), long * _swept(s, np.sin(bend))
    r, sb, cb = radius[:, None], np.sin(bend)[:, None], np.cos(bend)[:, None]
    return np.stack([x[:, None] + r * sn, y[:, None] - sb * (r * cn * 0.95), z[:, None] + cb * (r * cn * 0.95)], -1)


def _thumb(b: Build, s: Array) -> Array:
    half, long = b.hand_width / 2, 0.50 * b.hand
    r = profile(
        s, [(0, 1.35), (0.2, 1.22), (0.42, 0.92), (0.56, 0.86), (0.70, 0.95), (0.82, 0.86), (0.92, 0.66), (1.0, 0.62)], 0.01
    )
    r = 0.30 * half * r * np.where(s > 0.88, np.sqrt(np.clip(1 - ((s - 0.88) / 0.12) ** 2, 0.004, 1)), 1.0)
    bend = np.radians(14 * smooth_step((s - 0.35) / 0.2) + 12 * smooth_step((s - 0.66) / 0.15))
    sn, cn = SIN[FINGER_SPOKES], COS[FINGER_SPOKES]
    y, x = long * _swept(s, np.cos(bend)), -long * _swept(s, np.sin(bend))
    rr, sb, cb = r[:, None], np.sin(bend)[:, None], np.cos(bend)[:, None]
    points = np.stack([x[:, None] + cb * rr * sn, y[:, None] + sb * rr * sn, 0.92 * rr * cn * np.ones_like(sn)], -1)
    turn = outward(THUMB_OUT) @ forward(THUMB_FORWARD) @ about_plumb(-40)
    return np.asarray(points @ turn.T + [0.52 * half, 0.09 * b.hand, -0.02 * b.hand_width])


assert SPOKES % 4 == 0
