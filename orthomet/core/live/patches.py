"""Small pieces of a line map found again in another."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..kinds import Array
from .linemap import LineMap
from .regions import box

DRAWN = 0.22
"""A place is drawn where the line map reaches so much nearby (own)."""
EMPTY = 0.4
"""Less energy than this in a patch is no line (own)."""
STOOD, SAME_LINES = 1e-6, 0.012
"""Pixels under which a place is the same; by how much a map may differ that was not drawn on (own)."""
LEVEL_MAP = 0.004
"""A map that changes directions by less needs no resampling of the patch (own)."""


@dataclass(frozen=True, eq=False)
class Patches:
    """Where patches were found: ``places`` ``(n, 2)``, and per patch its likeness, the share of its line, whether inside the search."""

    places: Array
    alike: Array
    """Normalised correlation, −1 to 1."""
    share: Array
    """How much of the line is there again, linearly: 1 where it is as strong as it was."""
    inside: Array
    """False where the best place lies on the edge of the search: it may go on beyond."""


def find_patches(
    a: Array, at: Array, b: Array, way: Array, near: Array, arm: int, far: int, held: float = 0.0, pull: float = 0.12
) -> Patches:
    """Patches of ``a`` about ``at``, turned and scaled by ``way``, looked for in ``b`` within ``far`` pixels of ``near``.

    ``arm`` is half a patch's side. Where ``held`` is given, a place so many pixels off costs ``pull`` / 2 of likeness.
    """
    n = len(at)
    places = np.array(near, float)
    alike, share, inside = np.zeros(n), np.zeros(n), np.ones(n, bool)
    turn = np.asarray(way[:, :2], float)
    plain = bool(np.abs(turn - np.eye(2)).max() < LEVEL_MAP)
    side, window = 2 * arm + 1, 2 * (arm + far) + 1
    steps = np.arange(-far, far + 1, dtype=np.float32)
    cost = pull / (2 * held * held) * (steps[None] ** 2 + steps[:, None] ** 2) if held else np.float32(0)
    for i in range(n):
        x, y = float(at[i, 0]), float(at[i, 1])
        if plain:
            patch = cv2.getRectSubPix(a, (side, side), (x, y))
        else:
            patch = cv2.warpAffine(a, np.column_stack([turn, arm - turn @ at[i]]), (side, side), flags=cv2.INTER_LINEAR)
        centred = patch - patch.mean()
        energy = float((centred * centred).sum())
        if energy < EMPTY:
            continue
        field = cv2.getRectSubPix(b, (window, window), (float(near[i, 0]), float(near[i, 1])))
        if plain and abs(near[i, 0] - x) + abs(near[i, 1] - y) < STOOD and _untouched(a, field, x, y):
            alike[i], share[i] = 1.0, 1.0
            continue
        likeness = cv2.matchTemplate(field, patch, cv2.TM_CCOEFF_NORMED)
        good = likeness - cost
        _, _, _, (col, row) = cv2.minMaxLoc(good)
        alike[i] = likeness[row, col]
        share[i] = float((centred * field[row : row + side, col : col + side]).sum()) / energy
        inside[i] = 0 < col < 2 * far and 0 < row < 2 * far
        step = np.array([col - far, row - far], float)
        if inside[i]:
            step += _between(good, row, col)
        places[i] = near[i] + step
    return Patches(places, alike, share, inside)


def _untouched(a: Array, field: Array, x: float, y: float) -> bool:
    """Whether all of a search shows what stood there before: then there is nothing to look for."""
    was = cv2.getRectSubPix(a, (field.shape[1], field.shape[0]), (x, y))
    return bool(cv2.norm(was, field, cv2.NORM_INF) < SAME_LINES)


def unchanged(a: LineMap, b: LineMap, hull: Array, grown: float) -> bool:
    """Whether all about a part, ``(n, 2)`` working pixels, is drawn as it was, in the same place."""
    if a.soft.shape != b.soft.shape:
        return False
    x0, y0, x1, y1 = box(hull, grown, a.soft.shape)
    return x1 > x0 and y1 > y0 and bool(cv2.norm(a.soft[y0:y1, x0:x1], b.soft[y0:y1, x0:x1], cv2.NORM_INF) < SAME_LINES)


def _between(good: Array, row: int, col: int) -> Array:
    """Where between pixels the peak is, by a parabola each way."""
    out = np.zeros(2)
    for k, (lo, hi) in enumerate(((good[row, col - 1], good[row, col + 1]), (good[row - 1, col], good[row + 1, col]))):
        bend = float(lo + hi - 2 * good[row, col])
        out[k] = np.clip(0.5 * float(lo - hi) / (bend - 1e-9), -0.5, 0.5)
    return out


def _window(a: Array, p: Array, arm: int) -> Array:
    return np.asarray(cv2.getRectSubPix(a, (2 * arm + 1, 2 * arm + 1), (float(p[0]), float(p[1]))))


def has_line(a: Array, p: Array, arm: int = 7) -> bool:
    """Whether anything is drawn at a place."""
    return bool(np.isfinite(p).all()) and float(_window(a, p, arm).max()) > DRAWN


def _tensor(a: Array, p: Array, arm: int) -> Array:
    t = _window(a, p, arm)
    gx, gy = cv2.Sobel(t, cv2.CV_32F, 1, 0), cv2.Sobel(t, cv2.CV_32F, 0, 1)
    both = float((gx * gy).sum())
    return np.array([[float((gx * gx).sum()), both], [both, float((gy * gy).sum())]])


def corner_share(a: Array, p: Array, arm: int = 12) -> float:
    """How much a place is a corner rather than a stretch of line: lesser over greater eigenvalue of the structure tensor, 0 to 1."""
    if not np.isfinite(p).all():
        return 0.0
    low, high = np.linalg.eigvalsh(_tensor(a, p, arm))
    return float(max(low, 0) / (high + 1e-6))


def across_line(a: Array, p: Array, arm: int = 9) -> Array | None:
    """The direction across the line at a place, a unit vector; ``None`` where it is no single line."""
    values, ways = np.linalg.eigh(_tensor(a, p, arm))
    return None if values[1] < 1e-3 or values[0] > 0.45 * values[1] else np.asarray(ways[:, 1])
