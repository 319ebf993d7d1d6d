"""A figure follows the hand steadily: where a limb would spring to its other side, it swings over as the hand goes on.

What is asked of a limb changes at once where its range ends or an elbow has to point another way. The pose shown then goes from the one
before toward the one asked for, only so far that nothing of the figure moves by more than a few times what the hand did.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..figure.skeleton import SIDES, Skeleton
from ..kinds import Array
from ..landmarks.turn import Turn, rotation
from .bones import Posed, posed
from .limits import root_angles
from .model import Pose
from .turns import flip, halved

MOST = 4.5
"""Times the hand's way that anything of the figure moves at most (own)."""
HALVINGS = 7
LIMBS = (("arm", "arm", "elbow", "wrist"), ("leg", "thigh", "knee", "ankle"))
"""Limb, joint of its root, joint in its middle, its end."""


def steady(was: Posed, pose: Pose, hand: float, turn: Turn) -> Posed:
    """The posed figure that follows the one before when a hand has moved by so many heads on the picture.

    It is the pose asked for wherever nothing moves by more than :data:`MOST` times the hand's way; else one on the way there.
    """
    s, most = was.rest, MOST * hand
    to = posed(s, pose)
    if _moved(was, to, turn) <= most:
        return to
    low, high, found = 0.0, 1.0, was
    for _ in range(HALVINGS):
        share = (low + high) / 2
        tried = posed(s, between(was, to, share))
        if _moved(was, tried, turn) <= most:
            low, found = share, tried
        else:
            high = share
    return found


def _moved(a: Posed, b: Posed, turn: Turn) -> float:
    v = rotation(turn)[:2]
    names = list(a.joints)
    away = np.stack([b.joints[n] - a.joints[n] for n in names])
    return float(np.hypot(*(v @ away.T)).max())


def between(a: Posed, b: Posed, share: float) -> Pose:
    """A pose between two of one figure, its limbs by the shortest turn; what is held in both stays held."""
    angles = dict(b.pose.angles)
    for joint in ("pelvis", "spine", "neck", "head"):
        one, other = (p.pose.angles.get(joint, (0.0, 0.0, 0.0)) for p in (a, b))
        if one != other:
            angles[joint] = tuple((1 - share) * x + share * y for x, y in zip(one, other, strict=True))
    for name, v in _limbs(a, b, share):
        angles[name] = v
    root = tuple((1 - share) * x + share * y for x, y in zip(_root(a.rest, a.pose), _root(b.rest, b.pose), strict=True))
    return b.pose.model_copy(update={"angles": angles, "root": root})


def _root(s: Skeleton, pose: Pose) -> tuple[float, float, float]:
    """Where the hips are; their height also where the standing figure's is meant."""
    x, y, z = pose.root
    b = s.build
    return x, y or (b.ankle - b.hip_line) / (s.leg.upper + s.leg.lower), z


def _limbs(a: Posed, b: Posed, share: float) -> Iterator[tuple[str, tuple[float, ...]]]:
    for limb, first, middle, end in LIMBS:
        for side, _ in SIDES:
            if f"{end}_{side}" in b.pose.holds or f"{first}_{side}" not in b.pose.angles:
                continue
            one, other = (_own(p, limb, side) for p in (a, b))
            bends = [abs(p.limbs[f"{limb}_{side}"].bend) for p in (a, b)]
            yield f"{first}_{side}", root_angles(one @ _part(one.T @ other, share))
            yield f"{middle}_{side}", ((1 - share) * bends[0] + share * bends[1],)


def _own(p: Posed, limb: str, side: str) -> Array:
    """Frame of a limb's first bone within what it hangs on, as a left one."""
    parent = flip(p.frames["chest" if limb == "arm" else "pelvis"], 1 if side == "l" else -1)
    return np.asarray(parent.T @ p.limbs[f"{limb}_{side}"].frame)


def _part(r: Array, share: float) -> Array:
    """So much of a rotation, to within a hundred-and-twenty-eighth."""
    out, step = np.eye(3), r
    for _ in range(HALVINGS):
        step, share = halved(step), 2 * share
        if share >= 1:
            out, share = out @ step, share - 1
    return out
