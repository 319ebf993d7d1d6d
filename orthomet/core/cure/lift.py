"""The drawing's ink lifted and laid down elsewhere: for lines that touch their neighbours, where any bending smears or pinches both.

Ink belongs to a feature where that feature's own planned strokes, laid through its landmarks, are nearer than any other's. What is
lifted is the ratio of the picture to its ground, the paper or colour below all ink, which is closed behind it (Telea, *J. Graphics
Tools* 9, 2004) at a quarter of the size.
"""

from __future__ import annotations

import cv2
import numpy as np

from ..features.choices import PLAIN, FeatureChoices
from ..head.by_feature import FeatureLine, lines_by_feature
from ..kinds import Array, there
from .groups import anatomy, moving, step_map

REACH, TIE, APART = 0.015, 0.002, 0.005
"""Heads about a stroke that are its ink; by how much a tie goes to the feature that moves; how far from others what is enclosed lies (own)."""
INK = 0.93
"""What is darker than so much of the light about it is ink (own)."""
SMALLER = 4
PAD = 0.03


class Lift:
    """Prepared once a cure; :meth:`at` renders any share of it."""

    def __init__(self, picture: Array, points: Array, step: Array, hh: float, choices: FeatureChoices = PLAIN):
        self.picture, self.hh, self.least = picture, hh, 1.0
        step = np.nan_to_num(step)
        lines = lines_by_feature(points, choices)
        self.ground = picture.copy()
        self._pieces: list[tuple[Array, tuple[int, int, int, int], Array]] = []
        """Map, box and ratio of each moving feature."""
        found = []
        for g, at in moving(points, step, hh).items():
            if g in anatomy().liftable and at:
                whole = [i for i in anatomy().pieces[g] if there(points)[i]]
                box, mine = self._ink(g, lines)
                if box is not None:
                    found.append((step_map(points[whole], points[whole] + step[whole]), box, mine))
        for m, box, mine in found:
            self._pieces.append((m, box, self._lifted(box, mine)))
        self.box = self._reach()

    def _ink(self, g: str, lines: list[FeatureLine]) -> tuple[tuple[int, int, int, int] | None, Array]:
        """The box of a feature's ink, and how much of each pixel's ink is its, 0 to 1."""
        own = [x.points for x in lines if x.feature == g]
        if not own:
            return None, np.zeros((0, 0))
        h, w = self.picture.shape[:2]
        every = np.vstack(own)
        x0, y0 = np.clip(np.floor(every.min(0) - PAD * self.hh), 0, [w, h]).astype(int)
        x1, y1 = np.clip(np.ceil(every.max(0) + PAD * self.hh), 0, [w, h]).astype(int)
        if x1 - x0 < 4 or y1 - y0 < 4:
            return None, np.zeros((0, 0))
        mine, theirs, inner = (np.zeros((y1 - y0, x1 - x0), np.uint8) for _ in range(3))
        for x in lines:
            canvas = mine if x.feature == g else theirs
            q = np.round(x.points - [x0, y0]).astype(np.int32)
            cv2.polylines(canvas, [q], x.closed, 255, 2)
            if x.filled:
                cv2.fillPoly(canvas, [q], 255)
        if not g.startswith(("nose", "brow")):  # what lids and lips enclose goes with them
            cv2.fillConvexPoly(inner, cv2.convexHull(np.round(every - [x0, y0]).astype(np.int32)), 255)
        near = cv2.distanceTransform(255 - mine, cv2.DIST_L2, 5)
        other = cv2.distanceTransform(255 - theirs, cv2.DIST_L2, 5) if theirs.any() else np.full_like(near, 1e6)
        its = ((near < REACH * self.hh) & (near <= other + TIE * self.hh)) | ((inner > 0) & (other > APART * self.hh))
        soft = cv2.GaussianBlur(its.astype(np.float32), (0, 0), max(0.6, 0.0012 * self.hh))
        return (int(x0), int(y0), int(x1), int(y1)), np.asarray(soft)

    def _lifted(self, box: tuple[int, int, int, int], mine: Array) -> Array:
        """Close the ground below a feature's ink; what was lifted, as a ratio of picture to ground."""
        x0, y0, x1, y1 = box
        part = self.ground[y0:y1, x0:x1]
        small = cv2.resize(part, None, fx=1 / SMALLER, fy=1 / SMALLER, interpolation=cv2.INTER_AREA)
        grey = cv2.cvtColor(small, cv2.COLOR_RGB2GRAY)
        k = max(5, int(0.045 * self.hh / SMALLER)) | 1
        light = cv2.morphologyEx(cv2.GaussianBlur(grey, (0, 0), 0.8), cv2.MORPH_CLOSE, np.ones((k, k), np.uint8))
        ink = cv2.dilate((grey.astype(np.float32) < INK * light).astype(np.uint8), np.ones((3, 3), np.uint8))
        about = cv2.resize(mine, (small.shape[1], small.shape[0]), interpolation=cv2.INTER_AREA) > 0.04
        closed = cv2.GaussianBlur(cv2.inpaint(small, (about | (ink > 0)).astype(np.uint8), 3, cv2.INPAINT_TELEA), (0, 0), 1.2)
        below = cv2.resize(closed, (part.shape[1], part.shape[0]), interpolation=cv2.INTER_LINEAR).astype(np.float32)
        m = mine[..., None]
        ratio = np.clip(self.picture[y0:y1, x0:x1].astype(np.float32) / np.maximum(below, 8), 0, 1.15)
        part[...] = np.clip(part * (1 - m) + below * m, 0, 255).astype(np.uint8)
        return np.asarray((1 - m) + m * ratio, np.float32)

    def _moved(self, m: Array, box: tuple[int, int, int, int], share: float) -> tuple[Array, tuple[int, int, int, int]]:
        """A share of a feature's map, and the box of where its ink comes to lie."""
        h, w = self.picture.shape[:2]
        part = np.column_stack([np.eye(2) + share * (m[:, :2] - np.eye(2)), share * m[:, 2]])
        x0, y0, x1, y1 = box
        c = np.array([[x0, y0], [x1, y0], [x0, y1], [x1, y1]], float) @ part[:, :2].T + part[:, 2]
        a0, b0 = np.clip(np.floor(c.min(0)) - 1, 0, [w, h]).astype(int)
        a1, b1 = np.clip(np.ceil(c.max(0)) + 1, 0, [w, h]).astype(int)
        return part, (int(a0), int(b0), int(a1), int(b1))

    def _reach(self) -> tuple[int, int, int, int] | None:
        boxes = [b for _, b, _ in self._pieces] + [self._moved(m, b, 1.0)[1] for m, b, _ in self._pieces]
        if not boxes:
            return None
        low, high = np.array(boxes)[:, :2].min(0), np.array(boxes)[:, 2:].max(0)
        return int(low[0]), int(low[1]), int(high[0]), int(high[1])

    def at(self, share: float = 1.0, out: Array | None = None) -> Array:
        """The picture with so much of the cure done; into ``out`` where a copy of the picture is at hand."""
        out = self.picture.copy() if out is None else out
        if self.box is not None:
            x0, y0, x1, y1 = self.box
            out[y0:y1, x0:x1] = self.ground[y0:y1, x0:x1]
        for m, box, ratio in self._pieces:
            part, (a0, b0, a1, b1) = self._moved(m, box, share)
            if a1 <= a0 or b1 <= b0:
                continue
            shift = part[:, 2] + part[:, :2] @ [box[0], box[1]] - [a0, b0]
            laid = cv2.warpAffine(
                ratio, np.column_stack([part[:, :2], shift]), (a1 - a0, b1 - b0), flags=cv2.INTER_LINEAR,
                borderMode=cv2.BORDER_CONSTANT, borderValue=(1, 1, 1),
            )  # fmt: skip
            out[b0:b1, a0:a1] = np.clip(out[b0:b1, a0:a1] * laid, 0, 255).astype(np.uint8)
        return out
