"""A head seen from any side: turned points, what of them is visible, and the contour.

Axes as in :mod:`orthomet.core.landmarks.turn`: R = Rz·Rx·Ry, positive yaw turns the nose to the picture's right, positive
pitch looks down. Seen points are ``(x, y)`` in heads, y down, the origin at the head's centre (midline, half its height).

The contour is the zero level of the normal's component toward the viewer, traced over the surface grid. A point is hidden
when the way from it to the viewer runs through the head; the way is sampled in the head's own frame against two depth
maps that are made once a solid, so that turning costs little.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import cv2
import numpy as np

from ..kinds import Array
from ..landmarks.turn import Turn, rotation
from .solid import Solid

CENTRE = np.array([0.0, 0.5, 0.0])
WAY = np.array([0.014, 0.024, 0.036, 0.052, 0.072, 0.098, 0.13, 0.17, 0.22, 0.285, 0.37, 0.48, 0.62, 0.80])
"""Places along the way to the viewer, heads: close together near the point, where lips and lids hide each other."""
ROWS = 220
CRUMB = 0.03
"""Contour curves shorter than this many heads are ripples of the grid, no form (own)."""


@dataclass(frozen=True)
class Curve:
    """A curve of the head as it is seen: points ``(n, 2)``, their depth, and whether each is visible."""

    name: str
    points: Array
    depth: Array
    visible: Array
    xyz: Array | None = None
    """The same points on the head, where they are kept."""


@dataclass(frozen=True, eq=False)
class TurnedHead:
    head: Solid
    turn: Turn
    matrix: Array
    distance: float | None = None
    """From the viewer to the head's centre, in heads; ``None``: so far that nothing shrinks."""

    @classmethod
    def of(cls, head: Solid, turn: Turn, distance: float | None = None) -> TurnedHead:
        return cls(head, turn, rotation(turn), distance)

    @property
    def toward(self) -> Array:
        """Direction from the head's centre to the viewer, in the head's own frame."""
        return np.asarray(self.matrix[2])

    def ways(self, points: Array) -> Array:
        """Unit directions from points ``(…, 3)`` to the viewer; one for all where nothing shrinks."""
        if self.distance is None:
            return self.toward
        out = CENTRE + self.distance * self.toward - points
        return np.asarray(out / np.linalg.norm(out, axis=-1, keepdims=True))

    def seen(self, points: Array) -> Array:
        """Turned points ``(…, 3)``: picture x and y about the head's centre, and depth toward the viewer."""
        out: Array = (points - CENTRE) @ self.matrix.T
        if self.distance is not None:
            out[..., :2] *= self.distance / np.maximum(self.distance - out[..., 2:], 0.1)
        return out

    def path(self, points: Array, lift: float | Array = 0.0) -> Array:
        """Places ``(n, k, 3)`` along the ways from points ``(n, 3)`` to the viewer, from ``lift`` on."""
        ways = np.reshape(self.ways(points), (-1, 1, 3)).astype(np.float32)
        far = (WAY + np.reshape(lift, (-1, 1))).astype(np.float32)
        return np.asarray(points[:, None, :].astype(np.float32) + far[..., None] * ways)

    def visible(self, points: Array, lift: float | Array = 0.004) -> Array:
        """Whether points ``(n, 3)`` of the head can be seen; they are first raised toward the viewer by ``lift``, one or each."""
        return np.asarray(~self.inside(self.path(points, lift)).any(1))

    def inside(self, points: Array) -> Array:
        """Whether points ``(…, 3)`` lie within the head."""
        ahead, behind, cells = self.head.shells
        points = self.head.unposed(points)
        x = (np.abs(points[..., 0]) * np.float32(cells)).astype(np.float32, copy=False)
        t = (points[..., 1] * np.float32(cells)).astype(np.float32, copy=False)
        flat = (x.reshape(len(points), -1), t.reshape(len(points), -1))
        how = {"interpolation": cv2.INTER_LINEAR, "borderMode": cv2.BORDER_CONSTANT}
        f = cv2.remap(ahead, *flat, borderValue=-9, **how).reshape(x.shape)  # type: ignore[call-overload]
        b = cv2.remap(behind, *flat, borderValue=9, **how).reshape(x.shape)  # type: ignore[call-overload]
        return np.asarray((points[..., 2] < f) & (points[..., 2] > b))

    @cached_property
    def generators(self) -> list[tuple[Array, Array]]:
        """Curves of the surface where it turns away from the viewer: points and normals, ``(n, 3)`` each."""
        points, normals = self.head.grid
        return self.turning(points, normals)

    def turning(self, points: Array, normals: Array) -> list[tuple[Array, Array]]:
        """Where a surface grid ``(rings, spokes, 3)`` turns away from the viewer: points and normals of each curve."""
        facing = normals @ self.toward if self.distance is None else (normals * self.ways(points)).sum(-1)
        found = [(_along(points, path), _along(normals, path)) for path in zero_level(facing)]
        return [(p, n) for p, n in found if len(p) >= 4]

    def outline(self) -> Array:
        """The closed outer outline ``(n, 2)``: for every row of the picture the outermost contour points; never crosses itself."""
        segments = []
        for xyz, _ in self.generators:
            q = self.seen(xyz)[:, :2]
            segments.append(np.concatenate([q[:-1], q[1:]], axis=1))
        points = self.head.grid[0]
        rim = self.seen(np.concatenate([points[0], points[-1]]))[:, :2]
        seg = np.concatenate([*segments, np.hstack([rim[:-1], rim[1:]])])
        return _row_hull(seg)


# ---- the zero level of a field on a grid that closes on itself along its second axis


def zero_level(field: Array) -> list[Array]:
    """Polylines of grid places ``(n, 2)`` (row, column, with fractions) where a field ``(rows, columns)`` changes sign.

    Marching squares; the last column repeats the first, so a curve may run over the seam.
    """
    f = field + 1e-12
    f[:, -1] = f[:, 0]  # the same to the last bit, or a curve along the seam falls apart
    rows, cols = f.shape
    inside = f > 0
    flat = inside[:, :-1] != inside[:, 1:]  # crossing on the edge from (i, j) to (i, j + 1)
    tall = inside[:-1] != inside[1:]  # from (i, j) to (i + 1, j)
    n_flat = rows * (cols - 1)

    def h_edge(i: Array, j: Array) -> Array:
        return np.asarray(i * (cols - 1) + j)

    def v_edge(i: Array, j: Array) -> Array:
        return np.asarray(n_flat + i * (cols - 1) + j % (cols - 1))  # the seam's two columns are one

    four = np.stack([flat[:-1], flat[1:], tall[:, :-1], tall[:, 1:]], -1)
    count = four.sum(-1)
    links: dict[int, list[int]] = {}
    for many in (2, 4):
        i, j = np.nonzero(count == many)
        edges = np.stack([h_edge(i, j), h_edge(i + 1, j), v_edge(i, j), v_edge(i, j + 1)], -1)
        found = edges[four[i, j]].reshape(-1, many)
        if many == 4:  # two curves in one cell: upper with left, lower with right
            found = np.concatenate([found[:, [0, 2]], found[:, [1, 3]]])
        for one, other in found.tolist():
            links.setdefault(one, []).append(other)
            links.setdefault(other, []).append(one)
    return [_places(np.array(chain), f, n_flat, cols) for chain in _chains(links)]


def _chains(links: dict[int, list[int]]) -> list[list[int]]:
    """Edges joined to open or closed chains."""
    left = {k: list(v) for k, v in links.items()}
    out = []
    for start in sorted(left, key=lambda k: len(links[k])):  # open ends first
        if not left[start]:
            continue
        chain = [start]
        while left[chain[-1]]:
            nxt = left[chain[-1]].pop()
            left[nxt].remove(chain[-1])
            chain.append(nxt)
        out.append(chain)
    return out


def _places(edges: Array, f: Array, n_flat: int, cols: int) -> Array:
    flat = edges < n_flat
    k = np.where(flat, edges, edges - n_flat)
    i, j = np.divmod(k, cols - 1)
    a = f[i, j]
    b = np.where(flat, f[i, np.minimum(j + 1, cols - 1)], f[np.minimum(i + 1, f.shape[0] - 1), j])
    share = a / np.where(np.abs(a - b) < 1e-15, 1.0, a - b)
    return np.column_stack([i + np.where(flat, 0, share), j + np.where(flat, share, 0)])


def _along(grid: Array, places: Array) -> Array:
    """Grid values at places with fractions, between neighbours."""
    i0 = np.minimum(places[:, 0].astype(int), grid.shape[0] - 2)
    j0 = np.minimum(places[:, 1].astype(int), grid.shape[1] - 2)
    di, dj = (places[:, 0] - i0)[:, None], (places[:, 1] - j0)[:, None]
    top = grid[i0, j0] * (1 - dj) + grid[i0, j0 + 1] * dj
    low = grid[i0 + 1, j0] * (1 - dj) + grid[i0 + 1, j0 + 1] * dj
    return np.asarray(top * (1 - di) + low * di)


def _row_hull(segments: Array) -> Array:
    """Outermost points of segments ``(n, 4)`` row by row, as one closed polygon: down its right side, up its left."""
    x0, y0, x1, y1 = segments.T
    top, bottom = float(min(y0.min(), y1.min())), float(max(y0.max(), y1.max()))
    rows = top + (bottom - top) * (1 - np.cos(np.pi * np.linspace(0, 1, ROWS))) / 2
    low, high = np.minimum(y0, y1), np.maximum(y0, y1)
    order = np.argsort(low)
    x0, y0, x1, y1, low, high = (v[order] for v in (x0, y0, x1, y1, low, high))
    dy = np.where(np.abs(y1 - y0) < 1e-12, 1.0, y1 - y0)
    hit = (low[None] <= rows[:, None] + 1e-12) & (high[None] >= rows[:, None] - 1e-12)
    share = np.clip((rows[:, None] - y0) / dy, 0, 1)
    x = x0 + (x1 - x0) * share
    right, left = np.where(hit, x, -np.inf).max(1), np.where(hit, x, np.inf).min(1)
    ok = np.isfinite(right) & np.isfinite(left)
    rows, right, left = rows[ok], right[ok], left[ok]
    return np.concatenate([np.column_stack([right, rows]), np.column_stack([left, rows])[::-1]])
