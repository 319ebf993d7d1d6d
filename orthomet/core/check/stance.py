"""Which of some known poses a drawn figure shows, and from which side: then lengths can be compared as they ought to be seen."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np

from ..figure.skeleton import Skeleton
from ..kinds import Array
from ..pose.bones import posed
from ..pose.lift import SEGMENTS
from ..pose.marked import landmarks_of
from ..pose.model import Pose

YAWS = np.arange(-180.0, 180.0, 4.0)
ROUNDS, LOOSE = 6, 0.03
"""The fit is repeated, points further off than this (heads) counting less each time: what is drawn wrong must not turn the rest."""
LEAST, FITS = 8, 0.05
"""So many points are wanted, and half of them have to lie nearer than this, heads."""
LINES = {"shoulders": "acromion", "hips": "trochanterion"}
SLACK = 0.10
"""How well a drawn limb's turn is known to be the pose's, radians (own)."""


@dataclass(frozen=True, eq=False)
class Stance:
    pose: Pose
    yaw: float
    scale: float
    """Pixels a head."""
    leaning: float
    """How far the drawing as a whole is turned in its plane against the pose, degrees clockwise."""
    lengths: Mapping[str, tuple[float, float]]
    """Segment → how long it ought to be seen, and how much a small turn changes that; heads."""
    slopes: Mapping[str, float]
    """Shoulder and hip line → how they ought to slope, degrees; positive falls to the picture's right."""


def stance_of(at: Mapping[str, tuple[float, float]], s: Skeleton, poses: Collection[Pose]) -> Stance | None:
    """The pose and side that suit a figure's points best; ``None`` where none of them does."""
    best: tuple[float, Stance] | None = None
    for pose in poses:
        space = landmarks_of(posed(s, pose))
        names = [n for n in space if n in at]
        if len(names) < LEAST:
            continue
        off, yaw, scale, leaning = _fitted(np.stack([space[n] for n in names]), np.array([at[n] for n in names]))
        if off < FITS and (best is None or off < best[0]):
            best = (off, Stance(pose, yaw, scale, leaning, *_seen(space, yaw)))
    return best[1] if best is not None else None


def _fitted(space: Array, seen: Array) -> tuple[float, float, float, float]:
    """Median distance (heads), yaw, scale and turn in the plane of the best fit of points in space to places of a picture."""
    a = np.radians(YAWS)
    x = space[None, :, 0] * np.cos(a)[:, None] + space[None, :, 2] * np.sin(a)[:, None]
    p = x + 1j * space[None, :, 1]
    q = np.broadcast_to(seen[:, 0] + 1j * seen[:, 1], p.shape)
    w = np.ones(p.shape)
    for _ in range(ROUNDS):
        total = w.sum(1, keepdims=True)
        pm, qm = (w * p).sum(1, keepdims=True) / total, (w * q).sum(1, keepdims=True) / total
        k = (w * np.conj(p - pm) * (q - qm)).sum(1, keepdims=True) / np.maximum(
            (w * np.abs(p - pm) ** 2).sum(1, keepdims=True), 1e-12
        )
        off = np.abs(q - qm - k * (p - pm)) / np.maximum(np.abs(k), 1e-9)
        w = 1 / np.maximum(off, LOOSE)
    score = np.minimum(off, 5 * LOOSE).mean(1)
    i = int(np.argmin(score))
    return float(np.median(off[i])), float(YAWS[i]), float(np.abs(k[i, 0])), float(np.degrees(np.angle(k[i, 0])))


def slope_of(a: Array, b: Array) -> float:
    """How a line between two places of a picture slopes, degrees; positive falls to the right."""
    d = b - a if b[0] >= a[0] else a - b
    return float(np.degrees(np.arctan2(d[1], max(float(d[0]), 1e-9))))


def _seen(space: Mapping[str, Array], yaw: float) -> tuple[dict[str, tuple[float, float]], dict[str, float]]:
    c, s = np.cos(np.radians(yaw)), np.sin(np.radians(yaw))
    out = {}
    middle = {k: (space[f"{k}_l"] + space[f"{k}_r"]) / 2 for k in LINES.values()}
    whole = (
        *((name, space[a], space[b]) for name, a, b in SEGMENTS),
        ("head", space["vertex"], space["gnathion"]),
        ("neck", space["gnathion"], middle["acromion"]),
        ("trunk", middle["acromion"], middle["trochanterion"]),
    )
    for name, a, b in whole:
        d = b - a
        flat = float(np.hypot(d[0] * c + d[2] * s, d[1]))
        out[name] = (flat, SLACK * abs(float(d[2] * c - d[0] * s)))
    slopes = {}
    for name, key in LINES.items():
        right, left = (np.array([space[f"{key}_{x}"] @ [c, 0, s], space[f"{key}_{x}"][1]]) for x in "rl")
        if abs(float(left[0] - right[0])) > 0.3:
            slopes[name] = slope_of(right, left)
    return out, slopes
