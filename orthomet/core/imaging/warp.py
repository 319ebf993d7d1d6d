"""A picture moved by its landmarks: a thin-plate spline from where points should be to where they are, anchored all round.

f(p) = a + A·p + Σ wᵢ·U(|p − tᵢ|) with U(r) = r²·log r (Bookstein, *IEEE PAMI* 11(6), 1989). The spline runs backward, from
the target to the source, so that every pixel of the result asks where it comes from. It is worked out on a coarse grid and
carried between by cubic interpolation.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np

from ..errors import LandmarkError
from ..kinds import Array

STEP = 4
"""Pixels between the places the spline is worked out at (own, tried: within a quarter pixel of the exact spline)."""
NEAR = 1.0
"""Points nearer than this many pixels count as one."""
RING, AROUND = 24, 1.05
"""Anchors: how many, and how far from the middle of the points, in their largest extent (own)."""


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
    t, s = _apart(np.asarray(target, float), np.asarray(source, float))
    n = len(t)
    if n < 3 or np.linalg.matrix_rank(t - t.mean(0), tol=1e-6) < 2:
        raise LandmarkError("A picture can be moved from three points on, not all on one line.")
    p = np.column_stack([np.ones(n), t])
    k = _kernel(((t[:, None] - t[None]) ** 2).sum(-1))
    system = np.block([[k, p], [p.T, np.zeros((3, 3))]])
    solved = np.linalg.solve(system, np.vstack([s, np.zeros((3, 2))]))
    return Spline(t, solved[:n], solved[n:])


def _apart(t: Array, s: Array) -> tuple[Array, Array]:
    """Only points that are there, and of those that share a place the first."""
    ok = np.isfinite(t).all(1) & np.isfinite(s).all(1)
    t, s = t[ok], s[ok]
    close = ((t[:, None] - t[None]) ** 2).sum(-1) < NEAR**2
    first = ~np.tril(close, -1).any(1)
    return t[first], s[first]


def anchored(target: Array, source: Array) -> tuple[Array, Array]:
    """Both with a ring of points around them that stay where they are, so that the background does."""
    both = np.vstack([target[np.isfinite(target).all(1)], source[np.isfinite(source).all(1)]])
    middle = (both.min(0) + both.max(0)) / 2
    reach = AROUND * float(np.ptp(both, axis=0).max())
    a = np.linspace(0, 2 * np.pi, RING, endpoint=False)
    ring = middle + reach * np.column_stack([np.cos(a), np.sin(a)])
    return np.vstack([target, ring]), np.vstack([source, ring])


def maps(s: Spline, size: tuple[int, int], step: int = STEP) -> Array:
    """Where every pixel of a result ``(w, h)`` comes from: ``(h, w, 2)`` float32, x and y, for ``cv2.remap``.

    Beyond the anchors nothing moves, and between the grid's places cubic interpolation carries. Grid place ``g`` lies where
    an enlargement by ``step`` puts it, at pixel (g − ½)·step − ½, so that the enlarged grid is the map itself.
    """
    w, h = size
    nx, ny = -(-w // step) + 2, -(-h // step) + 2
    gx, gy = np.meshgrid((np.arange(nx) - 0.5) * step - 0.5, (np.arange(ny) - 0.5) * step - 0.5)
    places = np.column_stack([gx.ravel(), gy.ravel()])
    low, high = s.centres.min(0) - 2 * step, s.centres.max(0) + 2 * step
    near = ((places >= low) & (places <= high)).all(1)
    moved = np.zeros(places.shape, np.float32)
    moved[near] = _shift(s, places[near])
    big: Array = cv2.resize(moved.reshape(ny, nx, 2), (nx * step, ny * step), interpolation=cv2.INTER_CUBIC)[
        step : step + h, step : step + w
    ]
    big += _own_place(w, h)  # added last: this interpolation would bend a slope
    return np.asarray(big)


@lru_cache(maxsize=2)
def _own_place(w: int, h: int) -> Array:
    """Every pixel's own place, ``(h, w, 2)`` float32."""
    x, y = np.meshgrid(np.arange(w, dtype=np.float32), np.arange(h, dtype=np.float32))
    return np.dstack([x, y])


def _shift(s: Spline, places: Array) -> Array:
    """How far the spline moves places, in single precision: distances by one matrix product, the rest in place."""
    middle = s.centres.mean(0)
    p, c = (places - middle).astype(np.float32), (s.centres - middle).astype(np.float32)
    r2 = p @ (-2 * c.T)
    r2 += (p * p).sum(1)[:, None]
    r2 += (c * c).sum(1)[None]
    np.maximum(r2, 1e-6, out=r2)
    u = np.log(r2)
    u *= r2
    straight = np.column_stack([np.ones(len(places)), places]) @ s.affine - places
    return np.asarray(u @ (0.5 * s.weights).astype(np.float32) + straight, np.float32)


def warped(picture: Array, target: Array, source: Array, step: int = STEP) -> Array:
    """A picture ``(h, w, c)`` uint8 with what lies at ``source`` brought to ``target`` (pixels), the background kept.

    Raises
    ------
    LandmarkError
    """
    s = spline(*anchored(target, source))
    come = maps(s, (picture.shape[1], picture.shape[0]), step)
    return np.asarray(cv2.remap(picture, come, None, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))  # type: ignore[call-overload]
