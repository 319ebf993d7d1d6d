"""Frames of bones: their columns are x, y (along the bone, which hangs down) and z (forward). Angles in degrees."""

from __future__ import annotations

import numpy as np

from ..kinds import Array


def forward(degrees: Array | float) -> Array:
    """Rotation that swings what hangs down forward; one matrix, or one for each angle."""
    a = np.radians(np.asarray(degrees, float))
    c, s, zero, one = np.cos(a), np.sin(a), np.zeros_like(a), np.ones_like(a)
    return np.moveaxis(np.array([[one, zero, zero], [zero, c, -s], [zero, s, c]]), (0, 1), (-2, -1))


def outward(degrees: float) -> Array:
    """Rotation that swings what hangs down to +x."""
    a = np.radians(degrees)
    return np.array([[np.cos(a), np.sin(a), 0], [-np.sin(a), np.cos(a), 0], [0, 0, 1.0]])


def about_plumb(degrees: Array | float) -> Array:
    """Rotation of what looks forward toward +x; one matrix, or one for each angle."""
    a = np.radians(np.asarray(degrees, float))
    c, s, zero, one = np.cos(a), np.sin(a), np.zeros_like(a), np.ones_like(a)
    return np.moveaxis(np.array([[c, zero, s], [zero, one, zero], [-s, zero, c]]), (0, 1), (-2, -1))


def swung(frame: Array, to: Array) -> Array:
    """A frame turned by the smallest rotation that brings its bone to a direction."""
    y = frame[:, 1]
    axis, c = np.cross(y, to), float(y @ to)
    s2 = float(axis @ axis)
    if s2 < 1e-12:
        return frame
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    return np.asarray((np.eye(3) + k + k @ k * ((1 - c) / s2)) @ frame)


def twist(one: Array, other: Array) -> float:
    """Angle about their common bone from one frame to another, degrees."""
    return float(np.degrees(np.arctan2(other[:, 0] @ -one[:, 2], other[:, 0] @ one[:, 0])))
