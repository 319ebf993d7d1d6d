"""A photographed sheet made flat: the homography of its four corners, and finding the printed corner marks.

x ≃ H·X with H from four point pairs by the direct linear transform, points normalised first (Hartley, *IEEE PAMI* 19(6), 1997).
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..errors import PictureError
from ..kinds import Array

Corners = Sequence[tuple[float, float]]


def _normal(p: Array) -> tuple[Array, Array]:
    """Points about their middle at mean distance √2, and the matrix that does it."""
    c = p.mean(0)
    d = float(np.linalg.norm(p - c, axis=1).mean())
    s = np.sqrt(2) / d if d > 0 else 1.0
    return (p - c) * s, np.array([[s, 0, -s * c[0]], [0, s, -s * c[1]], [0, 0, 1]])


def homography(source: Array, target: Array) -> Array:
    """The matrix ``(3, 3)`` that takes four (or more) points ``(n, 2)`` to their targets, scaled so that H[2, 2] = 1.

    Raises
    ------
    PictureError
        Three of the corners lie on one line.
    """
    p, tp = _normal(np.asarray(source, float))
    q, tq = _normal(np.asarray(target, float))
    rows = []
    for (x, y), (u, v) in zip(p, q, strict=True):
        rows += [[-x, -y, -1, 0, 0, 0, u * x, u * y, u], [0, 0, 0, -x, -y, -1, v * x, v * y, v]]
    _, size, vt = np.linalg.svd(np.array(rows))
    h = np.linalg.inv(tq) @ vt[-1].reshape(3, 3) @ tp
    if size[7] < 1e-9 * size[0] or abs(h[2, 2]) < 1e-12 or abs(np.linalg.det(h / h[2, 2])) < 1e-12:
        raise PictureError("Three of the sheet's corners lie on one line; move them to the four corners.")
    return np.asarray(h / h[2, 2])


def apply(h: Array, xy: Array) -> Array:
    """Points ``(n, 2)`` through a homography."""
    p = np.column_stack([xy, np.ones(len(xy))]) @ h.T
    return np.asarray(p[:, :2] / p[:, 2:])


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
