"""A photographed sheet made flat: the homography of its four corners, and finding the printed corner marks."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..errors import PictureError
from ..kinds import Array

Corners = Sequence[tuple[float, float]]


def homography(source: Array, target: Array) -> Array:
    """The matrix ``(3, 3)`` that takes four points ``(4, 2)`` to their targets, scaled so that H[2, 2] = 1.

    OpenCV solves it in single precision: both sets are brought about their middle first, so that it costs a point less than
    1e-6 of the sheet.

    Raises
    ------
    PictureError
        Three of the corners lie on one line.
    """
    import cv2

    p, tp = _about_middle(np.asarray(source, float))
    q, tq = _about_middle(np.asarray(target, float))
    h = np.linalg.inv(tq) @ cv2.getPerspectiveTransform(p.astype(np.float32), q.astype(np.float32)) @ tp
    if min(_spans(p), _spans(q)) < 1e-6 or abs(h[2, 2]) < 1e-12:
        raise PictureError("Three of the sheet's corners lie on one line; move them to the four corners.")
    return np.asarray(h / h[2, 2])


def _about_middle(p: Array) -> tuple[Array, Array]:
    """Points about their middle, the farthest at distance 1, and the matrix that does it."""
    c = p.mean(0)
    s = 1 / max(float(np.linalg.norm(p - c, axis=1).max()), 1e-12)
    return (p - c) * s, np.array([[s, 0, -s * c[0]], [0, s, -s * c[1]], [0, 0, 1]])


def _spans(p: Array) -> float:
    """Twice the area of the smallest triangle that three of four points make."""
    return min(abs(float(np.linalg.det(np.column_stack([np.delete(p, k, 0), np.ones(3)])))) for k in range(4))


def apply(h: Array, xy: Array) -> Array:
    """Points ``(n, 2)`` through a homography."""
    import cv2

    return np.asarray(cv2.perspectiveTransform(np.asarray(xy, float)[:, None], h)[:, 0]) if len(xy) else np.zeros((0, 2))


def convex(corners: Corners) -> bool:
    """Whether four corners go round once, clockwise on the screen, as a sheet's do."""
    c = np.asarray(corners, float)
    a, b = np.roll(c, -1, 0) - c, np.roll(c, -2, 0) - np.roll(c, -1, 0)
    return bool(((a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]) > 0).all())


def to_page(xy: Array, corners: Corners, mm: tuple[float, float]) -> Array:
    """Picture points ``(n, 2)`` in millimetres on the sheet, its top left corner at 0, 0.

    Raises
    ------
    PictureError
        The corners are not a sheet's.
    """
    if not convex(corners):
        raise PictureError("The sheet's corners cross; set them top left, top right, bottom right, bottom left.")
    w, h = mm
    return apply(homography(np.asarray(corners, float), np.array([[0, 0], [w, 0], [w, h], [0, h]], float)), xy)


SEARCH_SIDE = 1800
"""Pictures are reduced to this side before marks are looked for (own: a 0.35 mm line of an A3 sheet keeps over a pixel)."""


def find_marks(rgb: Array) -> list[tuple[float, float]]:
    """Tips of the four printed corner marks on a photographed page: top left, top right, bottom right, bottom left.

    A mark is two thin legs that meet at a right angle, the tip toward the page's corner. In each quarter of the picture the
    shape that fits this best is taken.

    Raises
    ------
    PictureError
        Not all four were found.
    """
    import cv2

    k = min(1.0, SEARCH_SIDE / max(rgb.shape[:2]))
    grey = cv2.cvtColor(rgb, cv2.COLOR_RGB2GRAY)
    small = cv2.resize(grey, None, fx=k, fy=k, interpolation=cv2.INTER_AREA) if k < 1 else grey
    block = max(15, 2 * (max(small.shape) // 60) + 1)
    ink = cv2.adaptiveThreshold(small, 1, cv2.ADAPTIVE_THRESH_GAUSSIAN_C, cv2.THRESH_BINARY_INV, block, 12)
    from scipy import ndimage

    label, n = ndimage.label(ink, np.ones((3, 3)))
    h, w = small.shape
    best: dict[int, tuple[float, tuple[float, float]]] = {}
    for i, box in enumerate(ndimage.find_objects(label), start=1):
        rows, cols = box
        tall, wide = rows.stop - rows.start, cols.stop - cols.start
        if not (min(tall, wide) >= 8 and max(tall, wide) <= 0.12 * max(h, w) and 0.5 < wide / tall < 2.0):
            continue
        shape = label[box] == i
        middle = ((cols.start + cols.stop) / 2, (rows.start + rows.stop) / 2)
        quarter = {(0, 0): 0, (1, 0): 1, (1, 1): 2, (0, 1): 3}[(int(middle[0] > w / 2), int(middle[1] > h / 2))]
        score, tip = _right_angle(shape, quarter)
        if score > best.get(quarter, (LEAST_FIT, (0.0, 0.0)))[0]:
            best[quarter] = (score, ((cols.start + tip[0]) / k, (rows.start + tip[1]) / k))
    if n == 0 or len(best) < 4:
        raise PictureError("The four corner marks were not all found. Set the page's corners by hand.")
    return [best[q][1] for q in range(4)]


LEAST_FIT = 0.72
"""Least share of a shape's ink that has to lie on the two legs, and of the legs that has to be inked (own)."""


def _right_angle(shape: Array, quarter: int) -> tuple[float, tuple[float, float]]:
    """How well a shape is a corner mark of its quarter (0–1), and its tip in the shape's own pixels."""
    flip_x, flip_y = quarter in (1, 2), quarter in (2, 3)
    s = shape[:: -1 if flip_y else 1, :: -1 if flip_x else 1]
    tall, wide = s.shape
    thick = max(1, round(0.22 * min(tall, wide)))
    legs = np.zeros_like(s)
    legs[:thick] = True
    legs[:, :thick] = True
    on = float((s & legs).sum()) / float(s.sum())
    top, left = float(s[:thick].any(0).mean()), float(s[:, :thick].any(1).mean())
    mid = float(s[: max(1, tall // 2), :][thick:, thick:].mean()) if tall > 2 * thick else 1.0
    ys, xs = np.nonzero(s & legs)
    tip_x = float(np.median(xs[ys > tall // 2])) if (ys > tall // 2).any() else 0.0
    tip_y = float(np.median(ys[xs > wide // 2])) if (xs > wide // 2).any() else 0.0
    x = wide - 1 - tip_x if flip_x else tip_x
    y = tall - 1 - tip_y if flip_y else tip_y
    return min(on, top, left) * (1 - mid), (x + 0.5, y + 0.5)
