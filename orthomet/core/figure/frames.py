"""Frames of bones: their columns are x, y (along the bone, which hangs down) and z (forward). Angles in degrees."""

from __future__ import annotations

from math import cos, radians, sin

import numpy as np

from ..kinds import Array


def forward(degrees: Array | float) -> Array:
    """Rotation that swings what hangs down forward; one matrix, or one for each angle."""
    if isinstance(degrees, float | int):
        one_c, one_s = cos(radians(degrees)), sin(radians(degrees))
        return np.array([[1.0, 0.0, 0.0], [0.0, one_c, -one_s], [0.0, one_s, one_c]])
    a = np.radians(np.asarray(degrees, float))
    c, s, zero, one = np.cos(a), np.sin(a), np.zeros_like(a), np.ones_like(a)
    return np.moveaxis(np.array([[one, zero, zero], [zero, c, -s], [zero, s, c]]), (0, 1), (-2, -1))


def outward(degrees: float) -> Array:
    """Rotation that swings what hangs down to +x."""
    a = np.radians(degrees)
    return np.array([[np.cos(a), np.sin(a), 0], [-np.sin(a), np.cos(a), 0], [0, 0, 1.0]])


def about_plumb(degrees: Array | float) -> Array:
    """Rotation of what looks forward toward +x; one matrix, or one for each angle."""
    if isinstance(degrees, float | int):
        one_c, one_s = cos(radians(degrees)), sin(radians(degrees))
        return np.array([[one_c, 0.0, one_s], [0.0, 1.0, 0.0], [-one_s, 0.0, one_c]])
    a = np.radians(np.asarray(degrees, float))
    c, s, zero, one = np.cos(a), np.sin(a), np.zeros_like(a), np.ones_like(a)
    return np.moveaxis(np.array([[c, zero, s], [zero, one, zero], [-s, zero, c]]), (0, 1), (-2, -1))


def swung(frame: Array, to: Array) -> Array:
    """A frame turned by the smallest rotation that brings its bone to a direction."""
    a, b, c_ = frame[:, 1].tolist()
    d, e, f = to.tolist()
    x, y, z, c = b * f - c_ * e, c_ * d - a * f, a * e - b * d, a * d + b * e + c_ * f
    s2 = x * x + y * y + z * z
    if s2 < 1e-12:
        return frame
    k = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    return np.asarray((np.eye(3) + k + k @ k * ((1 - c) / s2)) @ frame)


def twist(one: Array, other: Array) -> float:
    """Angle about their common bone from one frame to another, degrees."""
    return float(np.degrees(np.arctan2(other[:, 0] @ -one[:, 2], other[:, 0] @ one[:, 0])))
