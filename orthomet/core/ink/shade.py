"""Two-tone shadow of a sight: what a light leaves dark, as a few closed shapes for skin and for hair.

A place is dark where its surface turns from the light, or where something stands between: the light looks at the same cloud
of points and keeps what it meets first.
"""

from __future__ import annotations

import cv2
import numpy as np

from ..kinds import Array
from .drawing import Sight
from .shape import Shape
from .surface import Stuff, unit
from .tones import area, outlines
from .view import DEEP, FINE, LABEL_BITS, Raster, buffered_depth

TURN_DARK, TURN_SOFT = 0.10, 0.35
"""Cosine between surface and light at which a place turns dark, a little before the edge, and over how much (own)."""
BIAS = 0.020
"""How far before a place something must stand to throw a shadow on it, heads."""
SOFT = 2.6
"""Cells shapes are rounded by."""
LEAST = 0.0030
"""Smaller shapes and lights in them are crumbs, square heads (own)."""


def shaded(s: Sight, light: Array) -> dict[Stuff, list[Array]]:
    """Closed shapes (even–odd) in shadow, by what they lie on; ``light`` points toward it as the viewer has it."""
    shape, view = s.shape, s.view
    toward = unit(light @ view.matrix).astype(np.float32)
    cell, which = _nearest(s)
    normals = shape.cloud_normals[:, which]
    facing = (toward @ normals) * np.where(s.buffer.raw[cell] & 1, -1, 1)  # the inside of a sheet turns the other way
    dark = np.clip(0.5 - (facing - TURN_DARK) / TURN_SOFT, 0, 1)
    dark = np.maximum(dark, _cast(shape, toward, which, view.raster))
    tall, wide = s.buffer.depth.shape
    field, there = np.zeros(tall * wide, np.float32), np.zeros(tall * wide, np.float32)
    field[cell], there[cell] = dark, 1.0
    stuff = shape.stuff_of_label[s.buffer.flat]
    out: dict[Stuff, list[Array]] = {}
    for kind in Stuff:
        mine = stuff == kind
        if not mine.any():
            continue
        share = _blurred((field * mine).reshape(tall, wide)) / np.maximum(_blurred((there * mine).reshape(tall, wide)), 1e-3)
        found = outlines((share > 0.5) & mine.reshape(tall, wide), view.raster, hole=LEAST)
        out[kind] = [p for p in found if area(p) > LEAST]
    return out


def _nearest(s: Sight) -> tuple[Array, Array]:
    """Cells something is seen in, and which point of the cloud that is."""
    q = s.view.seen(s.shape.cloud)
    at = s.view.raster.cell_of(q[0], q[1])
    steps = ((q[2] + np.float32(DEEP)) * np.float32(FINE)).astype(np.int32)
    first = np.flatnonzero((s.buffer.raw[at] >> LABEL_BITS) == steps)
    which = np.full(s.buffer.raw.size, -1)
    which[at[first]] = first
    cell = np.flatnonzero(which >= 0)
    return cell, which[cell]


def _cast(shape: Shape, toward: Array, which: Array, raster: Raster) -> Array:
    """Whether something stands between points of the cloud and the light."""
    side = unit(np.cross([0.0, 1.0, 0.02], toward))
    frame = np.stack([side, np.cross(toward, side), toward]).astype(np.float32)
    q = frame @ shape.cloud
    at = raster.cell_of(q[0], q[1])
    first = buffered_depth(at, q[2], raster)
    own = (q[2, which] + BIAS + DEEP) * FINE
    return np.asarray(first[at[which]] > own)


def _blurred(field: Array) -> Array:
    return np.asarray(cv2.GaussianBlur(field.astype(np.float32), (0, 0), SOFT))
