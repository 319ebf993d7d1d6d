"""A face's own frame on its picture: levelled, the crown at 0 and the chin at 1, x about the middle of the face."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .level import LevelBy, roll_of
from .points import Landmarks
from .schema import FRONT
from .views import SCHEMAS

SMALLEST = 4.0
"""Pixels from crown to chin below which there is no head to measure by (own)."""


@dataclass(frozen=True)
class Frame:
    """``crown`` is where the head's middle meets the crown's level, picture pixels; ``roll`` in radians, clockwise; ``head`` its
    height in pixels.
    """

    crown: tuple[float, float]
    roll: float
    head: float

    @property
    def axes(self) -> Array:
        """One head to the right and one head down, picture pixels, as rows ``(2, 2)``."""
        c, s = np.cos(self.roll), np.sin(self.roll)
        return self.head * np.array([[c, s], [-s, c]])

    def to_picture(self, heads: Array) -> Array:
        """Points ``(..., 2)`` in heads → picture pixels.

        >>> Frame((100.0, 50.0), 0.0, 200.0).to_picture(np.array([0.25, 0.5])).tolist()
        [150.0, 150.0]
        """
        return np.asarray(np.asarray(heads, float) @ self.axes + np.array(self.crown))

    def to_heads(self, picture: Array) -> Array:
        """Points ``(..., 2)`` in picture pixels → heads."""
        return np.asarray((np.asarray(picture, float) - np.array(self.crown)) @ self.axes.T / self.head**2)


XY = tuple[float, float]
Box = tuple[float, float, float, float]
"""Left, top, width, height."""


def head_height(points: Mapping[str, XY]) -> float | None:
    """From the crown's level to the chin's on the picture, pixels; ``None`` where one of them is missing, or nothing lies between."""
    top, chin = points.get("vertex"), points.get("gnathion")
    return abs(chin[1] - top[1]) or None if top is not None and chin is not None else None


def level_axis(marks: Landmarks, by: LevelBy = LevelBy.CENTRE) -> XY:
    """Direction of a level line on the picture, unit vector: it follows the head's roll where that is known."""
    if not marks.points:
        return 1.0, 0.0
    base = SCHEMAS[marks.view]
    roll = float(roll_of(marks.array(base), by, base))
    return float(np.cos(roll)), float(np.sin(roll))


def head_box(points: Mapping[str, XY], above: float, below: float, ratio: float) -> Box | None:
    """The part of a picture about a head, in a frame of width / height ``ratio``: room over the crown and under the chin in heads.

    ``None`` without crown and chin.
    """
    hh = head_height(points)
    if hh is None or hh < SMALLEST:
        return None
    top, chin = points["vertex"], points["gnathion"]
    tall = (1 + above + below) * hh
    return (top[0] + chin[0] - tall * ratio) / 2, min(top[1], chin[1]) - above * hh, tall * ratio, tall


def frame_of(marks: Landmarks, by: LevelBy = LevelBy.CENTRE) -> Frame | None:
    """The frame of a front face; ``None`` without crown and chin, or where they lie on one spot."""
    if marks.view != "front" or "vertex" not in marks.points or "gnathion" not in marks.points:
        return None
    xy = marks.array(FRONT)
    roll = float(roll_of(xy, by))
    across, down = np.array([np.cos(roll), np.sin(roll)]), np.array([-np.sin(roll), np.cos(roll)])
    top, chin = xy[FRONT.index["vertex"]], xy[FRONT.index["gnathion"]]
    head = float((chin - top) @ down)
    if not head >= SMALLEST:
        return None
    cheeks = xy[[FRONT.index["zygion_l"], FRONT.index["zygion_r"]]]
    if np.isfinite(cheeks).all():
        top = top + across * float((cheeks.mean(0) - top) @ across)
    return Frame((float(top[0]), float(top[1])), roll, head)
