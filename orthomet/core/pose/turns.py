"""Turns of bones: frames of the trunk and their angles, the mirror, two bones between a root and a place."""

from __future__ import annotations

from math import atan2

import numpy as np

from ..figure.frames import about_plumb, forward, outward
from ..kinds import Array

NEARLY = 0.9995
"""A held limb is never quite straight, so that its bend keeps its side."""


def flip(v: Array, sign: int) -> Array:
    """A place or a frame seen in the mirror (where ``sign`` is −1)."""
    if sign > 0:
        return v
    f = np.array([-1.0, 1.0, 1.0])
    return np.asarray(v * f if v.ndim == 1 else f[:, None] * v * f)


def trunk(v: tuple[float, ...]) -> Array:
    """Frame of a trunk's bone against the one below it."""
    return np.asarray(about_plumb(v[2]) @ outward(-v[1]) @ forward(-v[0]))


def halved(r: Array) -> Array:
    """The rotation that done twice is a rotation of less than half a turn."""
    k = (r - r.T) / 2
    sine = float(np.sqrt(k[2, 1] ** 2 + k[0, 2] ** 2 + k[1, 0] ** 2))
    angle = atan2(sine, (float(np.trace(r)) - 1) / 2)
    if sine < 1e-9:
        return np.asarray(np.eye(3) + k / 2)
    k = k / sine
    return np.asarray(np.eye(3) + np.sin(angle / 2) * k + (1 - np.cos(angle / 2)) * k @ k)


def trunk_angles(own: Array) -> tuple[float, float, float]:
    """The inverse of :func:`trunk`: leaning forward, aside, turning; degrees."""
    f = float(np.degrees(np.arctan2(own[1, 2], own[1, 1])))
    a = float(np.degrees(np.arcsin(np.clip(own[1, 0], -1, 1))))
    t = float(np.degrees(np.arctan2(-own[2, 0], own[0, 0])))
    return f, a, t


def two_bones(root: Array, to: Array, toward: Array, upper: float, lower: float) -> tuple[Array, Array, float]:
    """Directions of two bones from a root to a place, the joint between them pointing ``toward``, and how much is missing."""
    way = to - root
    far = float(np.linalg.norm(way))
    u = way / far if far > 1e-9 else np.array([0.0, 1.0, 0.0])
    least = abs(upper - lower) * 1.02 + 1e-4
    long = min(max(far, least), (upper + lower) * NEARLY)
    c = min(max((upper * upper + long * long - lower * lower) / (2 * upper * long), -1.0), 1.0)
    k = toward - u * (u @ toward)
    if float(np.linalg.norm(k)) < 1e-6:
        k = np.array([0.0, 0.0, 1.0]) - u * u[2]
    if float(np.linalg.norm(k)) < 1e-6:
        k = np.array([1.0, 0.0, 0.0])
    k = k / np.linalg.norm(k)
    t = u * c + k * np.sqrt(1 - c * c)
    f = u * long - t * upper
    return t, f / np.linalg.norm(f), abs(far - long) if far > (upper + lower) * NEARLY + 1e-3 or far < least else 0.0


def bone_frame(y: Array, z: Array) -> Array:
    """The frame whose bone is ``y`` and whose front is as near to ``z`` as can be."""
    f = z - y * (z @ y)
    if float(np.linalg.norm(f)) < 1e-6:
        f = np.array([0.0, 0.0, 1.0]) - y * y[2]
    if float(np.linalg.norm(f)) < 1e-6:
        f = np.array([1.0, 0.0, 0.0]) - y * y[0]
    f = f / np.linalg.norm(f)
    return np.stack([np.cross(y, f), y, f], 1)


def hinge(t: Array, f: Array, straight: Array) -> Array:
    """The way a second bone along ``f`` leaves a first along ``t``; ``straight`` where it goes on in line."""
    across = f - t * float(t @ f)
    return across if float(np.linalg.norm(across)) > 1e-3 else straight
