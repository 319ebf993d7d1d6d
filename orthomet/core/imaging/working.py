"""The working picture of one face: turned upright, brought to one size, in CIELAB where it is looked at."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache

import cv2
import numpy as np

from ..kinds import Array
from .faces import averaged

Points = dict[str, tuple[float, float]]


@dataclass(frozen=True)
class Window:
    """A part of the working picture in CIELAB, as far as it is looked at: turning all of it over would cost more than the rest."""

    lab: Array
    bare: Array
    """Lightness alone."""
    grey: Array
    """The same, a little softened."""
    corner: Array


@dataclass(frozen=True)
class Face:
    """A picture seen upright about the face and at one size; only what is looked at is turned over.

    ``rgb`` is the picture, or what is needed of it averaged; ``seen`` takes its pixels to working ones, ``to_work`` the
    picture's own, ``back`` the other way.
    """

    rgb: Array
    size: int
    seen: Array
    to_work: Array
    back: Array

    def window(self, low: Array, high: Array) -> Window:
        """The part between two corners, widened so that softening finds its neighbours."""
        x0, y0 = np.clip(np.floor(low).astype(int) - MARGIN, 0, self.size - 2)
        x1, y1 = np.clip(np.ceil(high).astype(int) + MARGIN, [x0 + 2, y0 + 2], self.size)
        m = self.seen - np.array([[0, 0, x0], [0, 0, y0]])
        size = int(x1 - x0), int(y1 - y0)
        lab = _lab(cv2.warpAffine(self.rgb, m, size, flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))
        bare = np.ascontiguousarray(lab[..., 0])
        return Window(lab, bare, cv2.GaussianBlur(bare, (0, 0), 1.2), np.array([x0, y0], float))

    def reduced(self, cell: int) -> Array:
        """The whole of it in CIELAB, a cell of so many working pixels a pixel; sampled, then softened: it is for large shapes."""
        n = self.size // cell
        m = self.seen / cell
        m[:, 2] += 0.5 / cell - 0.5  # the middle of a cell of pixels
        small = cv2.warpAffine(self.rgb, m, (n, n), flags=cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        return _lab(cv2.blur(small, (3, 3)))

    def along(self, x: Array, y: Array) -> Array:
        """CIELAB at places ``(n, m)``, shape ``(n, m, 3)``."""
        mx, my = (np.asarray(a * x + b * y + c, np.float32) for a, b, c in np.asarray(cv2.invertAffineTransform(self.seen)))
        return _lab(_seen(self.rgb, mx, my))

    def work(self, points: Mapping[str, tuple[float, float]]) -> Points:
        return _carried(points, self.to_work)

    def picture(self, points: Points) -> Points:
        return _carried(points, self.back)


def _carried(points: Mapping[str, tuple[float, float]], m: Array) -> Points:
    if not points:
        return {}
    there = (np.array(list(points.values()), float) @ m[:, :2].T + m[:, 2]).tolist()
    return {n: (x, y) for n, (x, y) in zip(points, there, strict=True)}


MARGIN = 6


def _lab(rgb: Array) -> Array:
    return np.asarray(cv2.cvtColor(rgb.astype(np.float32) * np.float32(1 / 255), cv2.COLOR_RGB2LAB))


@lru_cache(maxsize=16)
def _bell(sigma: float, steep: bool) -> Array:
    """A Gaussian out to four of its widths, or its slope, to be laid along the first axis."""
    r = int(4 * sigma + 0.5)
    x = np.arange(-r, r + 1)
    phi = np.exp(-0.5 * (x / sigma) ** 2)
    phi /= phi.sum()
    return np.asarray((x / sigma**2 * phi if steep else phi)[:, None], np.float32)


def softened(values: Array, sigma: float, steep: bool = False) -> Array:
    """Values ``(n,)`` or ``(n, m)`` smoothed along their first axis; ``steep`` gives the slope of that instead."""
    flat = np.ascontiguousarray(values, np.float32).reshape(len(values), -1)
    out = cv2.filter2D(flat, -1, _bell(sigma, steep), borderType=cv2.BORDER_REFLECT)
    return np.asarray(out).reshape(values.shape)


def sample(plane: Array, x: Array, y: Array) -> Array:
    """Values of a float plane at places of any shape, between pixels by their neighbours, beyond the edge by the edge."""
    grid = (len(x), -1) if x.ndim > 1 else (1, -1)
    return _seen(plane, *(np.asarray(v, np.float32).reshape(grid) for v in (x, y))).reshape(x.shape)


MOST_ACROSS = 32_000
"""OpenCV counts rows and columns in sixteen bits."""


def _seen(picture: Array, x: Array, y: Array) -> Array:
    """A picture at places ``(n, m)``, float32; long rows are asked for in pieces."""
    if x.shape[1] <= MOST_ACROSS:
        return np.asarray(cv2.remap(picture, x, y, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE))
    cuts = range(MOST_ACROSS, x.shape[1], MOST_ACROSS)
    return np.concatenate([_seen(picture, a, b) for a, b in zip(np.split(x, cuts, 1), np.split(y, cuts, 1), strict=True)], 1)


EYES_APART = 110.0
"""Working pixels between the two eyes' centres: finer ones read no better over thirteen portraits (own, tried 96–150)."""


CROP = 5.2
"""The working picture's side in eye distances: a head with its hair (own)."""


SMALL = 1.3
"""A face that has to be enlarged by more than this is enlarged first and sharpened: a corner of an eye is lost in the blur (own)."""
SHARPEN_OVER, SHARPEN_BY = 1.4, 2.5
"""Over how many of the picture's own pixels, and by how much (own, over portraits reduced to faces of 100–150 pixels)."""


def enlarged(rgb: Array, m: Array, side: int, k: float) -> tuple[Array, Array]:
    """The part of a small picture that a square crop needs, enlarged by whole steps and sharpened, and the map from it."""
    h, w = rgb.shape[:2]
    box = np.array([[0, 0], [side, 0], [side, side], [0, side]], float)
    corners = (box - m[:, 2]) @ np.linalg.inv(m[:, :2]).T
    x0, y0 = np.clip(np.floor(corners.min(0)) - 4, 0, [w - 1, h - 1]).astype(int)
    x1, y1 = np.clip(np.ceil(corners.max(0)) + 4, [x0 + 1, y0 + 1], [w, h]).astype(int)
    n = min(int(np.ceil(k)), MOST_STEPS)
    soft: Array = cv2.resize(rgb[y0:y1, x0:x1], None, fx=n, fy=n, interpolation=cv2.INTER_LANCZOS4).astype(np.float32)
    big = soft + SHARPEN_BY * (soft - np.asarray(cv2.GaussianBlur(soft, (0, 0), SHARPEN_OVER * n)))
    to_part = m[:, :2] @ (np.array([x0, y0], float) + 0.5 / n - 0.5) + m[:, 2]
    return np.clip(big, 0, 255).astype(np.uint8), np.column_stack([m[:, :2] / n, to_part])


MOST_STEPS = 8
"""How often a pixel is parted at most: a face smaller than that shows nothing more (own)."""


def eye_centre(points: Mapping[str, tuple[float, float]], side: str) -> Array:
    return np.asarray((np.array(points[f"endocanthion_{side}"]) + np.array(points[f"exocanthion_{side}"])) / 2)


def prepare(rgb: Array, points: Mapping[str, tuple[float, float]]) -> Face | None:
    r, left = eye_centre(points, "r"), eye_centre(points, "l")
    d = left - r
    apart = float(np.linalg.norm(d))
    if apart < 8:
        return None
    k, c, s = EYES_APART / apart, d[0] / apart, d[1] / apart
    middle = (r + left) / 2
    side = int(EYES_APART * CROP)
    m = np.array([[c * k, s * k, 0.0], [-s * k, c * k, 0.0]])
    m[:, 2] = np.array([side / 2, side * 0.5]) - m[:, :2] @ middle
    part, seen = averaged(rgb, m, side, k)
    return Face(part, side, seen, m, cv2.invertAffineTransform(m))


def sharper(rgb: Array, face: Face) -> Face:
    """The same working picture from an enlarged and sharpened one where the face is small; itself where it is not."""
    k = float(np.hypot(face.to_work[0, 0], face.to_work[1, 0]))
    if k <= SMALL:
        return face
    part, seen = enlarged(rgb, face.to_work, face.size, k)
    return replace(face, rgb=part, seen=seen)
