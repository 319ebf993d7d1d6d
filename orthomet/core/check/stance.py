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
OTHER_WAY, TOLD = 9.0, 0.12
"""Degrees from which on a segment goes another way than the pose's; heads under which its way is not to be told (own)."""
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
    """Segment → how long it ought to be seen, and how much a small turn changes that; heads. Only of those that go the pose's way."""
    slopes: Mapping[str, float]
    """Shoulder and hip line → how they ought to slope, degrees; positive falls to the picture's right."""


def stance_of(at: Mapping[str, tuple[float, float]], s: Skeleton, poses: Collection[Pose]) -> Stance | None:
    """The pose and side that suit a figure's segments best; ``None`` where none of them does.

    Whole segments are compared, not places: one drawn too long must not carry off all that hangs on it.
    """
    drawn = _segments({n: np.array(p, float) for n, p in at.items()})
    best: tuple[float, Stance] | None = None
    for pose in poses:
        space = _segments(landmarks_of(posed(s, pose)))
        names = [n for n in space if n in drawn]
        if len(names) < LEAST:
            continue
        off, yaw, scale, leaning = _fitted(np.stack([space[n] for n in names]), np.array([drawn[n] for n in names]))
        if off < FITS and (best is None or off < best[0]):
            shown = _stance(pose, space, drawn, yaw, scale, leaning)
            if shown is not None:
                best = (off, shown)
    return best[1] if best is not None else None


def _stance(
    pose: Pose, space: Mapping[str, Array], drawn: Mapping[str, Array], yaw: float, scale: float, leaning: float
) -> Stance | None:
    """The pose as it is seen; ``None`` where more than one limb goes another way."""
    lengths, slopes, ways = _seen(space, yaw)
    own = {n for n, w in ways.items() if n in drawn and not _as_posed(w, drawn[n] / scale, leaning)}
    other = own | {n for chain in CHAINS for k, n in enumerate(chain) if own & set(chain[:k])}
    if sum(bool(own & set(chain[:2])) for chain in CHAINS) > 1:
        return None
    return Stance(pose, yaw, scale, leaning, {n: v for n, v in lengths.items() if n not in other}, slopes)


CHAINS = tuple(
    (f"{a}_{s}", f"{b}_{s}", f"{c}_{s}")
    for s in "lr"
    for a, b, c in (("upper_arm", "forearm", "hand"), ("thigh", "shin", "foot"))
)
"""What hangs on a limb that goes another way goes another way, too."""


def _as_posed(planned: Array, drawn: Array, leaning: float) -> bool:
    """Whether a segment goes the way the pose has it; however long it is. Heads."""
    a = np.radians(leaning)
    way = np.array([[np.cos(a), -np.sin(a)], [np.sin(a), np.cos(a)]]) @ planned
    long = float(np.hypot(*way))
    if long < TOLD:
        return bool(np.hypot(*drawn) < 2 * TOLD)
    u = way / long
    return (
        float(drawn @ u) > 0
        and abs(float(drawn[0] * u[1] - drawn[1] * u[0])) < np.sin(np.radians(OTHER_WAY)) * float(np.hypot(*drawn)) + LOOSE
    )


def _segments(at: Mapping[str, Array]) -> dict[str, Array]:
    """Every segment from its inner to its outer end, as far as the ends are there; with head, neck and trunk."""
    spots = dict(at)
    spots |= {k: (at[f"{k}_l"] + at[f"{k}_r"]) / 2 for k in LINES.values() if f"{k}_l" in at and f"{k}_r" in at}
    middle = (("head", "vertex", "gnathion"), ("neck", "gnathion", "acromion"), ("trunk", "acromion", "trochanterion"))
    return {name: spots[b] - spots[a] for name, a, b in (*SEGMENTS, *middle) if a in spots and b in spots}


def _fitted(space: Array, seen: Array) -> tuple[float, float, float, float]:
    """Median distance (heads), yaw, scale and turn in the plane of the best fit of segments in space to those of a picture."""
    a = np.radians(YAWS)
    x = space[None, :, 0] * np.cos(a)[:, None] + space[None, :, 2] * np.sin(a)[:, None]
    p = x + 1j * space[None, :, 1]
    q = np.broadcast_to(seen[:, 0] + 1j * seen[:, 1], p.shape)
    w = np.ones(p.shape)
    for _ in range(ROUNDS):
        k = (w * np.conj(p) * q).sum(1, keepdims=True) / np.maximum((w * np.abs(p) ** 2).sum(1, keepdims=True), 1e-12)
        off = np.abs(q - k * p) / np.maximum(np.abs(k), 1e-9)
        w = 1 / np.maximum(off, LOOSE)
    score = np.minimum(off, 5 * LOOSE).mean(1)
    i = int(np.argmin(score))
    return float(np.median(off[i])), float(YAWS[i]), float(np.abs(k[i, 0])), float(np.degrees(np.angle(k[i, 0])))


def slope_of(a: Array, b: Array) -> float:
    """How a line between two places of a picture slopes, degrees; positive falls to the right."""
    d = b - a if b[0] >= a[0] else a - b
    return float(np.degrees(np.arctan2(d[1], max(float(d[0]), 1e-9))))


def _seen(space: Mapping[str, Array], yaw: float) -> tuple[dict[str, tuple[float, float]], dict[str, float], dict[str, Array]]:
    """How long each segment ought to be seen, with how much a small turn changes that, how the lines ought to slope, and each one's way."""
    c, s = np.cos(np.radians(yaw)), np.sin(np.radians(yaw))
    lengths = {n: (float(np.hypot(d[0] * c + d[2] * s, d[1])), SLACK * abs(float(d[2] * c - d[0] * s))) for n, d in space.items()}
    slopes = {}
    for name in LINES:
        across = np.array([space[name] @ [c, 0, s], space[name][1]])  # from the right one to the left one
        if abs(float(across[0])) > 0.3:
            slopes[name] = slope_of(np.zeros(2), across)
    return lengths, slopes, {n: np.array([d[0] * c + d[2] * s, d[1]]) for n, d in space.items()}
