"""A face's own frame on its picture: levelled, the crown at 0 and the chin at 1, x about the middle of the face."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .level import LevelBy, roll_of
from .points import Landmarks
from .schema import FRONT

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
