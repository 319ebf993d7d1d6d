"""A picture moved by its landmarks: a thin-plate spline from where points should be to where they are, anchored all round.

f(p) = a + A·p + Σ wᵢ·U(|p − tᵢ|) with U(r) = r²·log r (Bookstein, *IEEE PAMI* 11(6), 1989). The spline runs backward, from
the target to the source, so that every pixel of the result asks where it comes from. It is worked out on a coarse grid and
carried between by cubic interpolation.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..errors import LandmarkError
from ..kinds import Array

STEP = 3
"""Pixels between the places the spline is worked out at (own, tried: within a quarter pixel of the exact spline)."""
NEAR = 1.0
"""Points nearer than this many pixels count as one."""
RING = 18
AROUND, BEYOND = 1.22, 0.04
"""Anchors: how many, and where their oval runs: in half extents of the points, and beyond that in their largest extent (own)."""


@dataclass(frozen=True)
class Spline:
    """Maps places ``(n, 2)`` of the result to places of the source."""

    centres: Array
    weights: Array
    affine: Array

    def __call__(self, xy: Array) -> Array:
        xy = np.asarray(xy, float)
        r2 = ((xy[:, None, :] - self.centres[None]) ** 2).sum(-1)
        return np.asarray(_kernel(r2) @ self.weights + np.column_stack([np.ones(len(xy)), xy]) @ self.affine)


def _kernel(r2: Array) -> Array:
    """U of squared distances: r²·log r, 0 at 0."""
    return np.asarray(0.5 * r2 * np.log(np.maximum(r2, 1e-12)))


def spline(target: Array, source: Array) -> Spline:
    """The spline through ``target`` → ``source``, ``(n, 2)`` each.

    Raises
    ------
    LandmarkError
        Fewer than three points that are apart, or all on one line.
    """
    t, s, r2 = _apart(np.asarray(target, float), np.asarray(source, float))
    n = len(t)
    if n < 3 or _flat(t):
        raise LandmarkError("A picture can be moved from three points on, not all on one line.")
    system = np.zeros((n + 3, n + 3))
    system[:n, :n] = _kernel(r2)
    system[:n, n] = system[n, :n] = 1.0
    system[:n, n + 1 :] = t
    system[n + 1 :, :n] = t.T
    solved = np.linalg.solve(system, np.vstack([s, np.zeros((3, 2))]))
    return Spline(t, solved[:n], solved[n:])


def _flat(t: Array) -> bool:
    """Whether points lie on one line: their scatter has no area."""
    x, y = (t - t.mean(0)).T
    xx, yy, xy = float(x @ x), float(y @ y), float(x @ y)
    return xx * yy - xy * xy <= 1e-9 * max(xx + yy, 1.0)


def _apart(t: Array, s: Array) -> tuple[Array, Array, Array]:
    """Only points that are there, and of those that share a place the first; and the squared distances between targets."""
    ok = np.isfinite(t + s).all(1)
    t, s = t[ok], s[ok]
    g = t @ t.T
    length = g.diagonal()
    r2 = np.maximum(length[:, None] + length[None] - 2 * g, 0.0)
    close = r2 < NEAR**2
    if close.sum() > len(t):
        first = ~np.tril(close, -1).any(1)
        return t[first], s[first], r2[np.ix_(first, first)]
    return t, s, r2


@dataclass(frozen=True)
class Oval:
    """The part of a picture that moves; outside of it the background stays."""

    middle: Array
    half: Array

    def within(self, places: Array) -> Array:
        return np.asarray((((places - self.middle) / self.half) ** 2).sum(-1) < 1)

    def box(self, size: tuple[int, int]) -> tuple[int, int, int, int]:
        """Left, top, right and bottom of the part of a picture ``(w, h)`` that moves, pixels."""
        low = np.clip(np.floor(self.middle - self.half), 0, size).astype(int)
        high = np.clip(np.ceil(self.middle + self.half) + 1, low, size).astype(int)
        return int(low[0]), int(low[1]), int(high[0]), int(high[1])


def oval(target: Array, source: Array) -> Oval:
    """The oval about everything that moves."""
    both = np.vstack([target, source])
    both = both[np.isfinite(both).all(1)]
    size = np.ptp(both, axis=0)
    return Oval((both.min(0) + both.max(0)) / 2, AROUND * size / 2 + BEYOND * float(size.max()) + 1)


_RING = np.array([(np.cos(a), np.sin(a)) for a in np.linspace(0, 2 * np.pi, RING, endpoint=False)])


def anchored(target: Array, source: Array, around: Oval | None = None) -> tuple[Array, Array]:
    """Both with points on the oval around them that stay where they are, so that the background does."""
    o = around or oval(target, source)
    ring = o.middle + o.half * _RING
    return np.vstack([target, ring]), np.vstack([source, ring])


def shifts(s: Spline, o: Oval, size: tuple[int, int], step: int = STEP) -> tuple[tuple[int, int, int, int], Array]:
    """How far from its own place every pixel of the moving part of a result ``(w, h)`` comes: the part's box and ``(h, w, 2)``.

    Between the grid's places cubic interpolation carries. Grid place ``g`` lies where an enlargement by ``step`` puts it, at
    pixel (g − ½)·step − ½ of the part, so that the enlarged grid is the map itself.
    """
    x0, y0, x1, y1 = box = o.box(size)
    w, h = x1 - x0, y1 - y0
    nx, ny = -(-w // step) + 2, -(-h // step) + 2
    gx, gy = x0 + (np.arange(nx) - 0.5) * step - 0.5, y0 + (np.arange(ny) - 0.5) * step - 0.5
    far = (((gx - o.middle[0]) / o.half[0]) ** 2)[None] + (((gy - o.middle[1]) / o.half[1]) ** 2)[:, None]
    row, column = np.nonzero(far < 1)
    moved = np.zeros((ny, nx, 2), np.float32)
    moved[row, column] = _shift(s, np.stack([gx[column], gy[row]], -1))
    big = cv2.resize(moved, (nx * step, ny * step), interpolation=cv2.INTER_CUBIC)
    return box, np.asarray(big[step : step + h, step : step + w])


def _shift(s: Spline, places: Array) -> Array:
    """How far the spline moves places, in single precision: distances by one matrix product, the rest in place."""
    middle = s.centres.mean(0)
    p, c = (places - middle).astype(np.float32), (s.centres - middle).astype(np.float32)
    one = np.float32(1)
    left = np.column_stack([p, np.einsum("ij,ij->i", p, p), np.full(len(p), one)])
    r2 = left @ np.vstack([-2 * c.T, np.full(len(c), one), np.einsum("ij,ij->i", c, c)])
    np.maximum(r2, 1e-6, out=r2)
    u = np.log(r2)
    u *= r2
    out = u @ (0.5 * s.weights).astype(np.float32)
    straight = s.affine[1:] - np.eye(2)  # small slopes: single precision about the middle is enough
    out += p @ straight.astype(np.float32) + (s.affine[0] + middle @ straight).astype(np.float32)
    return np.asarray(out)


def warped(picture: Array, target: Array, source: Array, step: int = STEP, halved: float = 1.0) -> Array:
    """A picture ``(h, w, c)`` uint8 with what lies at ``source`` brought to ``target`` (pixels), the background kept.

    ``halved``: how many of the points' pixels are one of the picture's, where it is a smaller copy.

    Raises
    ------
    LandmarkError
    """
    target, source = target / halved, source / halved
    o = oval(target, source)
    (x0, y0, x1, y1), shift = shifts(spline(*anchored(target, source, o)), o, (picture.shape[1], picture.shape[0]), step)
    out = picture.copy()
    if x1 > x0 and y1 > y0:
        how = cv2.INTER_LINEAR | cv2.WARP_RELATIVE_MAP
        part = picture[y0:y1, x0:x1]
        cv2.remap(part, shift, None, how, out[y0:y1, x0:x1], cv2.BORDER_REPLICATE)  # type: ignore[call-overload]
    return out
