"""What is drawn from: surfaces as grids of points, and lines planned on them. Heads throughout, y down, z to the viewer."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum, StrEnum
from functools import cached_property

import cv2
import numpy as np

from ..kinds import Array

CELLS = 100.0
"""Cells of the depth buffer per head."""
SPACING = 0.92 / CELLS
MOST = 1500
"""Points along a side of a surface: one that is wider than any head lies outside of what is drawn."""


class Stuff(IntEnum):
    """What a surface is of: lines between two kinds are heavier than lines within one."""

    SKIN = 0
    HAIR = 1
    WEAR = 2


class Pen(StrEnum):
    """What a curve is, which decides its weight."""

    CONTOUR = "contour"  # where a form turns away
    EDGE = "edge"  # where a form ends
    STRAND = "strand"  # within a mass, from and to nothing
    FEATURE = "feature"
    DETAIL = "detail"
    FILL = "fill"  # a closed shape, no line


@dataclass(frozen=True, eq=False)
class Cloud:
    """A surface as points so close that no cell of the buffer is missed: ``(3, n)`` float32, and their normals."""

    points: Array
    normals: Array


@dataclass(frozen=True, eq=False)
class Surface:
    """A grid ``(rows, columns, 3)`` with outward unit normals. ``wraps``: the last column is the first again."""

    name: str
    points: Array
    normals: Array
    stuff: Stuff
    wraps: bool = False
    sheet: bool = False
    """Has an inside that can be seen, toned darker."""
    contour: bool = True
    """Whether lines are drawn where it turns away."""
    fade: Array | None = None
    """Weight of its contour over the grid: 0 nothing, 1 all; under 0 never, whatever lies behind."""
    deep: bool = False
    """Lies under another of its kind: toned darker, without lines of its own."""
    open_edge: bool = False
    """Ends without a line, as cropped hair does."""
    hidden: Array | None = None
    """Parts of the grid that are never seen."""

    def cloud(self) -> Cloud:
        """Its dense points; kept for skin, which many shapes share."""
        return self._kept if self.stuff is Stuff.SKIN else self._dense()

    @cached_property
    def _kept(self) -> Cloud:
        return self._dense()

    def _dense(self) -> Cloud:
        rows, columns = self.points.shape[:2]
        along = np.append(0.0, np.linalg.norm(np.diff(self.points, axis=1), axis=-1).max(0).cumsum())
        down = np.append(0.0, np.linalg.norm(np.diff(self.points, axis=0), axis=-1).max(1).cumsum())
        n_along, n_down = (int(min(far[-1] / SPACING, MOST)) + 2 for far in (along, down))
        x = np.interp(np.linspace(0, along[-1], n_along), along, np.arange(columns)).astype(np.float32)
        y = np.interp(np.linspace(0, down[-1], n_down), down, np.arange(rows)).astype(np.float32)
        gx, gy = np.meshgrid(x, y)
        planes = [*np.moveaxis(self.points, -1, 0), *np.moveaxis(self.normals, -1, 0)]
        if self.hidden is not None:
            planes.append(self.hidden.astype(float))
        fine = np.stack([cv2.remap(np.ascontiguousarray(p, np.float32), gx, gy, cv2.INTER_LINEAR) for p in planes])
        # rows shorter than the longest hold more points than they need
        row = np.linalg.norm(np.diff(fine[:3], axis=2), axis=0).sum(1) / max(n_along - 1, 1)
        step = np.clip((SPACING / np.maximum(row, 1e-6)).astype(int), 1, n_along)
        keep = np.arange(n_along)[None] % step[:, None] == 0
        if self.hidden is not None:
            keep &= fine[6] < 0.999
        return Cloud(np.ascontiguousarray(fine[:3, keep]), np.ascontiguousarray(fine[3:6, keep]))


@dataclass(frozen=True, eq=False)
class Line:
    """A planned curve ``(n, 3)`` with its weight profile (1: the pen's own)."""

    points: Array
    pen: Pen
    profile: Array
    surface: str = ""
    outward: Array | None = None
    """Which way lies outside of the form it edges, ``(n, 3)``."""
    closed: bool = False
    name: str = ""
    lift: float = 0.007
    """How far it is raised toward the viewer before it is asked whether something hides it."""
    beside: bool = False
    """Keeps away from the outline: strands, partings."""
    group: str = ""
    """The other edge of the same clump has the same group: both fade when it is seen edge-on."""
    normals: Array | None = None
    """Where given, the line fades as its surface turns away."""


def grid_normals(points: Array, wraps: bool) -> Array:
    """Unit normals of a grid ``(rows, columns, 3)``; which side they lie on follows the grid's own sense."""
    down, along = np.gradient(points, axis=0), np.gradient(points, axis=1)
    if wraps:
        along[:, 0] = along[:, -1] = (points[:, 1] - points[:, -2]) / 2
    n = np.cross(along, down)
    far = np.linalg.norm(n, axis=-1, keepdims=True)
    n /= np.maximum(far, 1e-12)
    bad = far[..., 0] < 1e-9
    if bad.any():  # where a grid shrinks to a point its next row tells
        for i in range(len(n) - 2, -1, -1):
            n[i][bad[i]] = n[i + 1][bad[i]]
            bad[i] &= bad[i + 1]
        for i in range(1, len(n)):
            n[i][bad[i]] = n[i - 1][bad[i]]
    return np.asarray(n)


def facing_from(points: Array, normals: Array, inside: Array) -> Array:
    """Normals turned so that they point away from a place inside."""
    return normals if float(((points - inside) * normals).sum(-1).mean()) >= 0 else -normals


def smooth_step(v: Array) -> Array:
    """0 to 1 with level ends."""
    c = np.clip(v, 0, 1)
    return np.asarray(c * c * (3 - 2 * c))


def unit(v: Array) -> Array:
    """Vectors along the last axis, of length one."""
    return np.asarray(v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-12))
