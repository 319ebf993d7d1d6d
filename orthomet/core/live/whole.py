"""Where the whole drawing went between two states: canvas resized, layer shifted, drawing turned. One similarity."""

from __future__ import annotations

import cv2
import numpy as np

from ..kinds import Array, there
from .affine import SAME, after, turned
from .linemap import QUARTER, LineMap
from .regions import box, mask

STILL = 0.75
"""Correlation above which the head stands where it stood (own)."""
FOUND = 0.72
"""Correlation above which no other size or turn is tried (own)."""
SIZES, TURNS = (0.76, 0.82, 0.88, 0.94, 1.0, 1.06, 1.13, 1.21), (-6, -4, -2, 0, 2, 4, 6)
ABOUT = 0.12
"""Heads of paper about the face that the template takes along (own)."""


def whole_way(a: LineMap, points: Array, face: tuple[int, ...], hh: float, b: LineMap) -> tuple[Array, float]:
    """The similarity of the head from state ``a`` to ``b`` in working pixels, and how well it correlates.

    ``points`` ``(n, 2)`` are the landmarks on ``a``, ``face`` those of them that say where the face is: hair may stay
    where it was while the face is shifted.
    """
    f = QUARTER
    x0, y0, x1, y1 = box(points / f, ABOUT * hh / f, a.coarse.shape)
    if x1 - x0 < 8 or y1 - y0 < 8:
        return SAME, 0.0
    template = np.ascontiguousarray(a.coarse[y0:y1, x0:x1])
    on_face = points[list(face)]
    on_face = on_face[there(on_face)] / f - [x0, y0]
    weight = (mask(template.shape, on_face, 0.05 * hh / f) > 0).astype(np.float32)
    weight = np.asarray(cv2.GaussianBlur(np.maximum(weight, 0.12), (0, 0), 3), np.float32)
    if a.coarse.shape == b.coarse.shape:
        here = b.coarse[y0:y1, x0:x1]
        centred = (template - float((template * weight).sum()) / float(weight.sum())) * weight
        if float((centred * here).sum()) > STILL * float((centred * template).sum()):
            return SAME, 1.0

    def unit(m: Array) -> Array:
        return np.column_stack([m[:, :2], (m[:, 2] - m[:, :2] @ [x0, y0]) * f])

    sizes = [1.0]
    grown = b.size[0] / a.size[0] * (b.factor / a.factor)
    if abs(grown - b.size[1] / a.size[1] * (b.factor / a.factor)) < 0.01 * grown and abs(grown - 1) > 0.01:
        sizes.append(grown)  # the same picture at another resolution
    best, way, (size, turn) = -1.0, SAME, (1.0, 0.0)

    def attempt(s: float, r: float) -> None:
        nonlocal best, way, size, turn
        v, m = _correlated(template, weight, b.coarse, s, r)
        if v > best:
            best, way, size, turn = v, m, s, r

    for s in sizes:
        attempt(s, 0.0)
    if best < FOUND:
        for s, r in _likeliest(template, weight, b.coarse, sizes):
            for step in (-0.02, 0.0, 0.02):
                attempt(s + step, r)
        around = turn
        for step in (-1.0, 1.0):
            attempt(size, around + step)
    return unit(way), best


def _likeliest(template: Array, weight: Array, image: Array, sizes: list[float]) -> list[tuple[float, float]]:
    """The three likeliest sizes and turns, looked for on a coarser picture."""
    t, i = (
        cv2.GaussianBlur(cv2.resize(x, None, fx=0.4, fy=0.4, interpolation=cv2.INTER_AREA), (0, 0), 0.7)
        for x in (template, image)
    )
    w = cv2.resize(weight, (t.shape[1], t.shape[0]), interpolation=cv2.INTER_AREA)
    tries = [(s, r) for s in SIZES for r in TURNS] + [(round(s, 3), r) for s in sizes for r in (-2, 0, 2)]
    rated = sorted(((_correlated(t, w, i, s, r)[0], s, r) for s, r in tries), reverse=True)
    return [(s, float(r)) for _, s, r in rated[:3]]


def _correlated(template: Array, weight: Array, image: Array, size: float, degrees: float) -> tuple[float, Array]:
    """Best place of a weighted template, scaled and turned, over all of an image: how well, and the map."""
    m = turned(size, degrees)
    t, w = template, weight
    if size != 1 or degrees:
        h, wide = template.shape
        corners = np.array([[0, 0], [wide, 0], [0, h], [wide, h]]) @ m[:, :2].T
        m = after(np.column_stack([np.eye(2), -corners.min(0)]), m)
        across, down = (int(v) for v in np.ceil(np.ptp(corners, axis=0)))
        t, w = (cv2.warpAffine(x, m, (across, down)) for x in (template, weight))
    z = (t - (t * w).sum() / max(float(w.sum()), 1)) * w
    ph, pw = t.shape[0] // 3, t.shape[1] // 3
    big = cv2.copyMakeBorder(image, ph, ph, pw, pw, cv2.BORDER_CONSTANT, value=0)
    if big.shape[0] < t.shape[0] or big.shape[1] < t.shape[1]:
        return -1.0, SAME
    _, v, _, (x, y) = cv2.minMaxLoc(cv2.matchTemplate(big, z.astype(np.float32), cv2.TM_CCORR))
    there_ = np.column_stack([np.eye(2), [x - pw, y - ph]])
    return float(v) / max(float((z * t).sum()), 1e-6), after(there_, m)
