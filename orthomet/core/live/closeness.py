"""How close a drawing's lines are to every place, by direction: what planned lines are compared with.

Lines are compared by place *and* direction, as in oriented chamfer matching (Shotton, Blake & Cipolla, *PAMI* 30, 2008): the line
map is split into channels of direction by its structure tensor, and each is blurred. Long straight lines that are not strong are
construction: they keep a quarter.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..kinds import Array
from .linemap import HALF, WORKING, LineMap

CHANNELS = 8
LONG, GAP, STRAIGHT = 0.33, 0.012, 0.24
"""Heads: shortest straight line taken for construction, widest gap in it, fewest points on it (own)."""
KEPT, STRONG = 0.25, 0.75
"""What construction keeps, and from which strength on a straight line is none (own)."""
SIGMAS = (4.0, 2.2, 1.2)
"""Blurs from far to fine, pixels at half the working size (own)."""


@dataclass(frozen=True, eq=False)
class Closeness:
    """Channels ``(CHANNELS, h, w)``, 0 to 1, at half the working size; ``unit`` pixels a head in them."""

    far: Array
    middle: Array
    fine: Array
    unit: float


def closeness(lines: LineMap, hh: float) -> Closeness:
    """Closeness to the lines of a state; ``hh`` is a head in working pixels."""
    unit = hh / HALF
    strength = np.minimum(cv2.resize(lines.sharp, None, fx=1 / HALF, fy=1 / HALF, interpolation=cv2.INTER_AREA) * 1.6, 1).astype(
        np.float32
    )
    soft = cv2.GaussianBlur(strength, (0, 0), 1.2)
    gx, gy = cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1)
    xx, yy, xy = (cv2.GaussianBlur(v, (0, 0), 2.0) for v in (gx * gx, gy * gy, gx * gy))
    along = 0.5 * np.arctan2(2 * xy, xx - yy) + np.pi / 2
    strength = _without_construction(strength, unit)
    channels = [strength * np.clip(np.cos(2 * (along - np.pi * k / CHANNELS)), 0, None) ** 2 for k in range(CHANNELS)]
    far, middle, fine = (np.array([np.minimum(cv2.GaussianBlur(c, (0, 0), s) * (1.9 * s), 1) for c in channels]) for s in SIGMAS)
    return Closeness(far, middle, fine, unit)


def _without_construction(strength: Array, unit: float) -> Array:
    ink = (strength > 0.15).astype(np.uint8) * 255
    found = cv2.HoughLinesP(ink, 1, np.pi / 360, int(STRAIGHT * unit), minLineLength=LONG * unit, maxLineGap=GAP * unit)
    straight = np.zeros_like(strength)
    for x0, y0, x1, y1 in () if found is None else found[:, 0]:
        cv2.line(straight, (int(x0), int(y0)), (int(x1), int(y1)), 1.0, 3)
    return np.asarray(strength * (1 - (1 - KEPT) * straight * (strength < STRONG)))


def channel_of(angle: Array, turn: float) -> Array:
    """The channel a direction belongs to, once turned by ``turn`` radians."""
    return np.asarray(np.round((angle + turn) / np.pi * CHANNELS).astype(int) % CHANNELS)


UNIT = WORKING / HALF
"""Pixels a head in the channels of a head at the working size."""


@dataclass(frozen=True, eq=False)
class Ground:
    """The drawing's closeness maps, and how the plan's heads come to lie on them: a similarity."""

    near: Closeness
    to_map: Array
    turn: float

    def __call__(self, heads: Array) -> Array:
        return np.asarray(heads @ self.to_map[:, :2].T + self.to_map[:, 2])
