"""Masks of a part: by its own transparency, a plain ground, a colour picked, or a box and a few strokes; and the contour of one.

A mask is a boolean ``(h, w)`` array; its contour in the picture's pixels runs round the outer edge of its cells' middle.
"""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from ..errors import FormatError
from ..kinds import Array
from .contour import POINTS, traced

MOST_PIXELS = 100_000_000
LONG_SIDE = 1000
"""Longest side a mask is traced at, pixels: beyond it nothing is gained for a contour of some hundred points (own)."""
GRAB_SIDE = 420
"""Longest side at which a part is told from its ground by a box and strokes, pixels: stays under a second (own)."""
LEAST_SHARE = 0.02
"""An island or a hole smaller than this share of the largest piece is dirt (own)."""
GROUND_FAR = 26.0
"""A colour this far from the ground in CIELAB units is not the ground (own)."""
MASK_SMOOTH = 0.006


def pieces(mask: Array) -> list[Array]:
    """The separate pieces of a mask that are more than dirt, largest first.

    Raises
    ------
    FormatError
        There is nothing in it, or it is no mask.
    """
    m = np.asarray(mask)
    if m.ndim != 2 or m.size == 0 or m.size > MOST_PIXELS:
        raise FormatError("A mask is one picture of black and white, no larger than 100 megapixels.")
    count, labels, stats, _ = cv2.connectedComponentsWithStats((m > 0).astype(np.uint8))
    order = sorted(range(1, count), key=lambda k: -int(stats[k, cv2.CC_STAT_AREA]))
    if not order:
        raise FormatError("The mask is empty: nothing of the part is in it.")
    least = LEAST_SHARE * int(stats[order[0], cv2.CC_STAT_AREA])
    return [labels == k for k in order if stats[k, cv2.CC_STAT_AREA] >= least]


def holes(mask: Array) -> int:
    """How many holes a mask has that are more than dirt."""
    m = np.pad((np.asarray(mask) == 0).astype(np.uint8), 1, constant_values=1)
    count, _, stats, _ = cv2.connectedComponentsWithStats(m, connectivity=4)
    least = LEAST_SHARE * float((np.asarray(mask) > 0).sum())
    return sum(1 for k in range(2, count) if stats[k, cv2.CC_STAT_AREA] >= least)


def contour_of(mask: Array, n: int = POINTS, smooth: float = MASK_SMOOTH) -> tuple[Array, Array]:
    """Outer contour of a mask's largest piece, and its corners.

    The half level of the lightly blurred mask, so that it lies between pixels; large masks are traced on a smaller copy.

    Raises
    ------
    FormatError
        There is nothing in it, or too little to go round.
    """
    m = np.asarray(mask)
    if m.ndim != 2 or m.size == 0 or m.size > MOST_PIXELS:
        raise FormatError("A mask is one picture of black and white, no larger than 100 megapixels.")
    f = min(1.0, LONG_SIDE / max(m.shape))
    step = max(1, int(1 / (2 * f)))  # of a large mask every second row and column is enough for an area mean
    m = (m[::step, ::step] > 0).view(np.uint8)
    if f < 1:
        small = cv2.resize(m * np.uint8(255), None, fx=f * step, fy=f * step, interpolation=cv2.INTER_AREA)
        scale = (mask.shape[1] / small.shape[1], mask.shape[0] / small.shape[0])
    else:
        up = 2 if max(m.shape) < 900 else 1
        small = cv2.resize(m * np.uint8(255), None, fx=up, fy=up, interpolation=cv2.INTER_LINEAR)
        scale = (1 / up, 1 / up)
    pad = 4
    level = cv2.GaussianBlur(cv2.copyMakeBorder(small, pad, pad, pad, pad, cv2.BORDER_CONSTANT, value=0), (0, 0), 1.2)
    found, _ = cv2.findContours((level > 127).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not found:
        if m.any():
            raise FormatError("The mask is too small to go round: a few pixels at least.")
        raise FormatError("The mask is empty: nothing of the part is in it.")
    c = max(found, key=cv2.contourArea)[:, 0].astype(float) - pad
    if len(c) < 8:
        raise FormatError("The mask is too small to go round: a few pixels at least.")
    return traced((c + 0.5) * scale - 0.5, n, smooth)


def of_alpha(rgba: Array, level: int = 128) -> Array:
    """What a picture with transparency shows."""
    if rgba.ndim != 3 or rgba.shape[2] != 4 or int(rgba[..., 3].min()) == 255:
        raise FormatError("The picture has no transparency: draw a box round the part instead.")
    return np.asarray(rgba[..., 3] >= level)


def of_plain_ground(rgb: Array, tolerance: float = GROUND_FAR) -> Array:
    """A part on a plain ground: the ground is the colour of the picture's edge; what it encloses belongs to the part."""
    lab = _lab(rgb)
    edge = np.concatenate([lab[0], lab[-1], lab[:, 0], lab[:, -1]])
    far = np.linalg.norm(lab - np.median(edge, 0), axis=-1) > tolerance
    m = cv2.morphologyEx(far.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((5, 5), np.uint8))
    pad = np.pad(m, 1)
    cv2.floodFill(pad, np.zeros((pad.shape[0] + 2, pad.shape[1] + 2), np.uint8), (0, 0), 2)
    return np.asarray(pad[1:-1, 1:-1] != 2)


def of_colour(rgb: Array, at: tuple[float, float], tolerance: float) -> Array:
    """What has the colour under a point and hangs together with it, within a tolerance in CIELAB units."""
    h, w = rgb.shape[:2]
    x, y = int(np.clip(round(at[0]), 0, w - 1)), int(np.clip(round(at[1]), 0, h - 1))
    lab = _lab(rgb)
    around = lab[max(y - 1, 0) : y + 2, max(x - 1, 0) : x + 2].reshape(-1, 3)
    near = np.linalg.norm(lab - np.median(around, 0), axis=-1) <= tolerance
    m = cv2.morphologyEx(near.astype(np.uint8), cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    m[y, x] = 1
    _, labels = cv2.connectedComponents(m)
    return np.asarray(labels == labels[y, x])


def _lab(rgb: Array) -> Array:
    return np.asarray(cv2.cvtColor(np.ascontiguousarray(rgb[..., :3], np.float32) / np.float32(255), cv2.COLOR_RGB2LAB))


Strokes = Sequence[Sequence[tuple[float, float]]]


def of_box(rgb: Array, box: tuple[float, float, float, float], yes: Strokes = (), no: Strokes = (), width: float = 9.0) -> Array:
    """The part inside a box (x0, y0, x1, y1), told from its ground by their colours; strokes say what belongs to it and what does not.

    Rother, Kolmogorov & Blake, "GrabCut", SIGGRAPH 2004, as OpenCV has it; the same strokes give the same mask.

    Raises
    ------
    FormatError
        The box holds nothing of the picture, or nothing stands out in it.
    """
    h, w = rgb.shape[:2]
    f = min(1.0, GRAB_SIDE / max(h, w))
    small = cv2.resize(np.ascontiguousarray(rgb[..., :3]), None, fx=f, fy=f, interpolation=cv2.INTER_AREA)
    g = np.full(small.shape[:2], cv2.GC_BGD, np.uint8)
    x0, x1 = (int(np.clip(round(v * f), 0, small.shape[1])) for v in (min(box[0], box[2]), max(box[0], box[2])))
    y0, y1 = (int(np.clip(round(v * f), 0, small.shape[0])) for v in (min(box[1], box[3]), max(box[1], box[3])))
    if x1 - x0 < 4 or y1 - y0 < 4:
        raise FormatError("The box holds next to nothing of the picture: draw it round the part.")
    g[y0:y1, x0:x1] = cv2.GC_PR_FGD
    for strokes, value in ((no, cv2.GC_BGD), (yes, cv2.GC_FGD)):
        for s in strokes:
            p = np.round(np.clip(np.asarray(s, float) * f, -1e4, 1e4)).astype(np.int32)
            cv2.polylines(g, [p], False, int(value), max(1, round(width * f)))
    kinds = set(np.unique(g).tolist())
    if not kinds & {int(cv2.GC_BGD), int(cv2.GC_PR_BGD)}:  # the box is the whole picture: its edge is the ground
        g[[0, -1]], g[:, [0, -1]] = cv2.GC_BGD, cv2.GC_BGD
    if not kinds & {int(cv2.GC_FGD), int(cv2.GC_PR_FGD)}:
        raise FormatError("Nothing of the box is left for the part.")
    cv2.setRNGSeed(7)
    bgr = np.ascontiguousarray(small[..., ::-1], np.uint8)
    cv2.grabCut(bgr, g, (0, 0, 0, 0), np.zeros((1, 65)), np.zeros((1, 65)), 4, cv2.GC_INIT_WITH_MASK)
    m = ((g == cv2.GC_FGD) | (g == cv2.GC_PR_FGD)).astype(np.uint8)
    round_ = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5))
    m = cv2.morphologyEx(m, cv2.MORPH_OPEN, round_)
    k = max(1, round(0.012 * max(small.shape)))  # dark eyes and brows at the edge are no gulfs of the ground
    m = cv2.morphologyEx(np.pad(m, 3 * k), cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * k + 1, 2 * k + 1)))
    m = m[3 * k : -3 * k, 3 * k : -3 * k]
    if not m.any():
        raise FormatError("Nothing stands out in the box: stroke over the part, or trace it.")
    return np.asarray(cv2.resize(m, (w, h), interpolation=cv2.INTER_LINEAR) > 0)


def filled(c: Array, shape: tuple[int, int]) -> Array:
    """A contour as a mask of ``(h, w)``."""
    m = np.zeros(shape, np.uint8)
    cv2.fillPoly(m, [np.round(np.clip(c, -1e6, 1e6) * 16).astype(np.int32)], 1, lineType=cv2.LINE_8, shift=4)
    return np.asarray(m > 0)


BRUSH = 0.05
"""Width of a stroke that adds or takes away, a share of the part's larger side (own)."""
BRUSH_SIDE = 1200


def brushed(c: Array, size: tuple[int, int], line: Array, belongs: bool) -> tuple[Array, float]:
    """A contour's mask with a brush's stroke added or taken away, and the scale it was worked at."""
    f = min(1.0, BRUSH_SIDE / max(size))
    wide = max(2, round(BRUSH * f * float(np.ptp(c, axis=0).max())))
    m = filled(c * f, (round(size[1] * f) + 1, round(size[0] * f) + 1)).astype(np.uint8)
    way = np.round(np.clip(line * f, -1e4, 1e4)).astype(np.int32)
    cv2.polylines(m, [way], False, int(belongs), wide)
    return np.asarray(m > 0), f
