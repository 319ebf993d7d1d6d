"""Where one looks from: turning, perspective, and the coarse buffer that knows what lies nearest in every direction."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np

from ..kinds import Array
from ..landmarks.turn import Turn, rotation
from .shape import AWAY, AWAY_NEAR, Shape
from .surface import CELLS, WAYS


@dataclass(frozen=True)
class Raster:
    """The cells of a buffer: what they cover, about the centre."""

    left: float
    top: float
    right: float
    bottom: float

    @cached_property
    def wide(self) -> int:
        return round((self.right - self.left) * CELLS)

    @cached_property
    def tall(self) -> int:
        return round((self.bottom - self.top) * CELLS)

    def cell_of(self, x: Array, y: Array) -> Array:
        """Flat index of the cell at places of the picture; those outside belong to the border."""
        i = ((x - np.float32(self.left)) * np.float32(CELLS)).astype(np.int32)
        j = ((y - np.float32(self.top)) * np.float32(CELLS)).astype(np.int32)
        np.clip(i, 0, self.wide - 1, out=i)
        np.clip(j, 0, self.tall - 1, out=j)
        return np.asarray(j * self.wide + i)


HEAD = Raster(-1.25, -1.15, 1.25, 1.55)
"""What a head is looked at in, heads."""
LEFT, TOP, WIDE, TALL = HEAD.left, HEAD.top, HEAD.wide, HEAD.tall
cell_of = HEAD.cell_of
DEEP, FINE = 2.0, 8192.0
"""Depths are kept from −``DEEP`` on, in this many steps a head."""
LABEL_BITS = 10
_MASK = (1 << LABEL_BITS) - 1
HOLE = 160
"""Steps a cell must lie deeper than its neighbours to be a hole."""
_THREE = np.ones((3, 3), np.uint8)
NEAREST = 0.1
"""Nothing comes closer to the viewer than this, heads."""


@dataclass(frozen=True)
class View:
    turn: Turn
    distance: float | None = None
    """From the viewer to the centre, in heads; ``None``: nothing shrinks."""
    raster: Raster = HEAD

    @cached_property
    def matrix(self) -> Array:
        return rotation(self.turn)

    @cached_property
    def matrix32(self) -> Array:
        return np.asarray(self.matrix, np.float32)

    def seen(self, points: Array) -> Array:
        """Points ``(3, n)`` about the centre as the viewer has them: picture x and y, depth toward the viewer."""
        out = (self.matrix32 if points.dtype == np.float32 else self.matrix) @ points
        if self.distance is not None:
            out[:2] *= self.distance / np.maximum(self.distance - out[2], NEAREST)
        return np.asarray(out)

    def facing(self, points: Array, normals: Array) -> Array:
        """How far normals ``(3, n)`` at points look at the viewer; only the sign and the zero of it mean anything."""
        toward = (self.matrix32 if normals.dtype == np.float32 else self.matrix)[2]
        if self.distance is None:
            return np.asarray(toward @ normals)
        return np.asarray(toward @ normals - (points * normals).sum(0) / self.distance)


@dataclass(frozen=True, eq=False)
class Buffer:
    """What is seen in every cell: its label (−1: nothing) and how near it is."""

    label: Array
    raw: Array
    """Flat: depth and label of the nearest point of each cell, packed."""
    depth: Array
    """``(tall, wide)`` uint16, 0 where nothing is; single holes between points are closed."""
    raster: Raster = HEAD

    @cached_property
    def lowest(self) -> Array:
        """Flat: the farthest depth around each cell. A line is hidden only if it lies behind that: slopes hide nothing."""
        return cv2.erode(self.depth, _THREE).ravel()

    @cached_property
    def flat(self) -> Array:
        return np.asarray(self.label.ravel())


def buffered(shape: Shape, view: View, mend: bool = True) -> Buffer:
    """Every point of a shape laid into the cells, the nearest on top; ``mend``: single holes between points are closed."""
    ways = WAYS @ view.matrix[2] > (AWAY if view.distance is None else AWAY_NEAR)
    start = shape.groups.tolist()
    runs = [slice(a, b) for a, b, near in zip(start[:-2], start[1:-1], ways.tolist(), strict=True) if near and b > a]
    runs.append(slice(start[-2], start[-1]))
    points = np.concatenate([shape.cloud[:, r] for r in runs], 1)
    labels = np.concatenate([shape.labels[r] for r in runs])
    q = view.seen(points)
    sheets = start[-1] - start[-2]
    if sheets:
        labels[-sheets:] |= view.facing(points[:, -sheets:], shape.sheet_normals) < 0
    r = view.raster
    raw = np.zeros(r.wide * r.tall, np.int32)
    np.maximum.at(raw, r.cell_of(q[0], q[1]), packed(q[2], labels))
    depth = (raw >> LABEL_BITS).astype(np.uint16).reshape(r.tall, r.wide)
    return Buffer(np.where(raw > 0, raw & _MASK, -1).reshape(r.tall, r.wide), raw, _mended(depth) if mend else depth, r)


def _mended(depth: Array) -> Array:
    """Single holes between points closed: a cell takes what both its neighbours, in a row or a column, have nearer."""
    up = np.maximum(
        np.minimum(np.roll(depth, 1, 0), np.roll(depth, -1, 0)), np.minimum(np.roll(depth, 1, 1), np.roll(depth, -1, 1))
    )
    holes = up > depth + HOLE
    lone = holes & (cv2.boxFilter(holes.astype(np.uint8), -1, (3, 3), normalize=False) <= 2)
    return np.where(lone, up, depth)


def buffered_depth(at: Array, depth: Array, raster: Raster = HEAD) -> Array:
    """Flat: how near the nearest of some points is in each cell, in steps, a cell's slope allowed for."""
    cells = np.zeros(raster.wide * raster.tall, np.uint16)
    np.maximum.at(cells, at, np.clip((depth + np.float32(DEEP)) * np.float32(FINE), 0, 65535).astype(np.uint16))
    closed = cv2.erode(cv2.dilate(cells.reshape(raster.tall, raster.wide), _THREE), _THREE)
    return np.asarray(cv2.erode(closed, _THREE).ravel())


def packed(depth: Array, labels: Array) -> Array:
    """Depths and labels in one number, so that the greatest is the nearest."""
    return np.asarray((((depth + np.float32(DEEP)) * np.float32(FINE)).astype(np.int32) << LABEL_BITS) | labels)


def as_steps(depth: Array) -> Array:
    """Depths in the buffer's steps."""
    return np.asarray((depth + DEEP) * FINE)
