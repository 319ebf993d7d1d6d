"""A painted sitter seen from another side: the front painting laid over the sitter's relief, turned, and painted again.

Only what the front shows can be seen, so the far side of the hair is plain; the face and its landmarks are exact.
"""

from __future__ import annotations

import cv2
import numpy as np
from scipy.ndimage import distance_transform_edt

from orthomet.core.head.outline import half_width, width_at
from orthomet.core.kinds import Array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn, rotation

from .portrait import CROWN, HEIGHT, MID, PX, WIDTH, sitter_points
from .relief import Sitter, depth, light, normals

FINE = 2.0
"""Samples per pixel along each axis, so that a turned surface has no holes."""
PIVOT = (0.0, 0.55, 0.1)
"""What the head turns about, head units."""
HAIR = 0.10
"""How far beyond the skull's outline hair may stand, heads."""


def landmark_depths(s: Sitter) -> Array:
    """Depths of the sitter's landmarks on the relief, head units, schema order."""
    points = sitter_points(s)
    z, _ = depth(s, points[:, 0], points[:, 1])
    w = width_at(half_width(s.table), np.clip(points[:, 1], 0, 1))
    edge = np.abs(points[:, 0]) >= 0.97 * w
    inner, _ = depth(s, np.sign(points[:, 0]) * 0.97 * w, np.clip(points[:, 1], 0.004, 0.996))
    out = np.where(np.isfinite(z) & ~edge, z, inner)
    for name in ("superaurale", "subaurale", "neck_side", "hair_side"):
        for k in "lr":
            out[FRONT.index[f"{name}_{k}"]] = 0.0
    out[FRONT.index["suprasternale"]] = 0.1
    return np.asarray(out)


def turn_painting(s: Sitter, front: Array, turn: Turn, fine: float = FINE) -> tuple[Array, dict[str, tuple[float, float]]]:
    """The front painting ``(h, w, 3)`` uint8 with the head turned under the same light, and where its landmarks lie now."""
    r, pivot = rotation(turn), np.array(PIVOT)
    n = int(fine * PX)
    x = (np.arange(int(1.3 * n)) + 0.5) / n - 0.65
    t = (np.arange(int(1.25 * n)) + 0.5) / n - 0.16
    gx, gt = np.meshgrid(x, t)
    z, inside = depth(s, gx, gt)
    far, index = distance_transform_edt(~inside, return_indices=True)
    far = far / n
    edge = np.nan_to_num(z)[tuple(index)]
    hair = ~inside & (far < HAIR) & (gt < 0.62)
    z = np.where(inside, z, edge - 1.2 * far)
    keep = inside | hair
    n0 = cv2.GaussianBlur(np.where(inside[..., None], normals(z, 1 / n), [0.0, 0.0, 1.0]), (0, 0), 3.4 * fine)
    n0 = (n0 / np.linalg.norm(n0, axis=2, keepdims=True))[keep]
    again = np.clip(light(n0 @ r.T) / light(n0), 0.45, 1.9)
    p = np.stack([gx, gt, z], -1)[keep]
    q = (p - pivot) @ r.T + pivot
    u = np.clip(np.round(gx[keep] * PX + MID - 0.5).astype(int), 0, WIDTH - 1)
    v = np.clip(np.round(gt[keep] * PX + CROWN - 0.5).astype(int), 0, HEIGHT - 1)
    colour = np.clip(front[v, u] * np.where(inside[keep], again, 1.0)[:, None], 0, 255).astype(np.uint8)
    order = np.argsort(q[:, 2])
    px = np.round(q[order, 0] * PX + MID - 0.5).astype(int)
    py = np.round(q[order, 1] * PX + CROWN - 0.5).astype(int)
    ok = (px >= 0) & (px < WIDTH) & (py >= 0) & (py < HEIGHT)
    out = _behind(front)
    hit = np.zeros((HEIGHT, WIDTH), np.uint8)
    out[py[ok], px[ok]] = colour[order][ok]
    hit[py[ok], px[ok]] = 255
    holes = cv2.morphologyEx(hit, cv2.MORPH_CLOSE, np.ones((9, 9), np.uint8)) - hit
    out = cv2.inpaint(out, holes, 3, cv2.INPAINT_TELEA)
    points = sitter_points(s)
    solid = np.column_stack([points, landmark_depths(s)])
    seen = ((solid - pivot) @ r.T + pivot)[:, :2] * PX + [MID, CROWN]
    return out, {n: (float(a), float(b)) for n, (a, b) in zip(FRONT.names, seen, strict=True) if np.isfinite(a)}


def _behind(front: Array) -> Array:
    """Ground and clothes with the head taken out of them."""
    mask = np.zeros(front.shape[:2], np.uint8)
    cv2.ellipse(mask, (int(MID), int(CROWN + 0.45 * PX)), (int(0.52 * PX), int(0.64 * PX)), 0, 0, 360, 255, -1)
    small = cv2.resize(front, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA)
    hole = cv2.resize(mask, (small.shape[1], small.shape[0]), interpolation=cv2.INTER_NEAREST)
    filled = cv2.resize(cv2.inpaint(small, hole, 9, cv2.INPAINT_TELEA), (front.shape[1], front.shape[0]))
    return np.where(mask[..., None] > 0, filled, front)
