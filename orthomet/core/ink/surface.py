"""What is drawn from: surfaces as grids of points, and lines planned on them. Heads throughout, y down, z to the viewer."""

from __future__ import annotations

from dataclasses import dataclass, replace
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


WAYS = np.array([(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1) if (x, y, z) != (0, 0, 0)], float)
WAYS /= np.linalg.norm(WAYS, axis=1, keepdims=True)
"""Directions points are grouped by, so that those that look away are left out together."""


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
    way: Array
    """Which of :data:`WAYS` each point looks along."""
    place: Array
    """Row and column of the grid each point was taken at, with fractions, ``(2, n)``."""


@dataclass(frozen=True, eq=False)
class Mesh:
    """A surface's vertices ``(3, n)``, the edges between neighbours, and the four edges and corners of every cell."""

    vertices: Array
    normals: Array
    fade: Array
    ends: tuple[Array, Array]
    cells: Array
    corners: Array


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

    @cached_property
    def mesh(self) -> Mesh:
        """What contours are looked for on."""
        cut = slice(None, -1) if self.wraps else slice(None)
        p = self.points[:, cut]
        rows, columns = p.shape[:2]
        at = np.arange(rows * columns).reshape(rows, columns)
        across = columns if self.wraps else columns - 1
        flat_a, flat_b = at[:, :across], np.roll(at, -1, 1)[:, :across]
        flat = np.arange(flat_a.size).reshape(flat_a.shape)
        tall = flat_a.size + np.arange((rows - 1) * columns).reshape(rows - 1, columns)
        right = np.roll(tall, -1, 1)[:, :across]
        fade = np.ones(rows * columns) if self.fade is None else self.fade[:, cut].ravel()
        return Mesh(
            np.ascontiguousarray(p.reshape(-1, 3).T, np.float32),
            np.ascontiguousarray(self.normals[:, cut].reshape(-1, 3).T, np.float32),
            fade.astype(np.float32),
            (np.concatenate([flat_a.ravel(), at[:-1].ravel()]), np.concatenate([flat_b.ravel(), at[1:].ravel()])),
            np.stack([flat[:-1].ravel(), right.ravel(), flat[1:].ravel(), tall[:, :across].ravel()], -1),
            np.stack([v.ravel() for v in (flat_a[:-1], flat_b[:-1], flat_b[1:], flat_a[1:])]),
        )

    @cached_property
    def cloud(self) -> Cloud:
        """Its dense points."""
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
        normals = np.ascontiguousarray(fine[3:6, keep])
        return Cloud(np.ascontiguousarray(fine[:3, keep]), normals, _ways(normals), np.stack([gy[keep], gx[keep]]))


def thinned(s: Surface, every: int) -> Surface:
    """Every so manieth row and column of a surface, its ends kept."""
    at = np.ix_(*(np.unique(np.append(np.arange(0, n, every), n - 1)) for n in s.points.shape[:2]))
    fade, hidden = (None if v is None else v[at] for v in (s.fade, s.hidden))
    return replace(s, points=s.points[at], normals=s.normals[at], fade=fade, hidden=hidden)


def _ways(normals: Array) -> Array:
    """Index into :data:`WAYS` of unit normals ``(3, n)``: each component rounded to −1, 0 or 1."""
    x, y, z = np.rint(np.clip(normals * np.float32(1.3), -1, 1)).astype(np.int8)
    k = 9 * x + 3 * y + z + 13
    return np.asarray(k - (k > 13), np.int8)


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
