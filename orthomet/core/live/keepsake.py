"""What is kept of a part of a drawing: how it looked when it was last seen for sure, and the way from there to now."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property

import cv2
import numpy as np

from ..kinds import Array, there
from .affine import SAME
from .linemap import HALF, QUARTER, LineMap
from .patches import corner_share, has_line
from .regions import Part, box, mask

MOST_ANCHORS = 14
"""Places of strong structure a part helps to find the whole by (own)."""


@dataclass(frozen=True, eq=False)
class Source:
    """Where a landmark was last seen for sure, and the way from there to where its part was last seen."""

    lines: LineMap
    place: Array
    way: Array


@dataclass(frozen=True, eq=False)
class Template:
    """A part at a reduced size, with what an alignment by inverse composition needs (Baker & Matthews, *IJCV* 56, 2004)."""

    origin: Array
    """Its left upper pixel on the reduced map."""
    image: Array
    weight: Array
    total: float
    centred: Array
    energy: float
    steepest: Array
    """``(pixels, 6)``: what shift, growth, turn, stretch and shear change, weighted."""
    similar: Array
    """``(6, 6)``: the step of a similarity, stretch and shear held."""
    affine: Array
    root: Array


SHIFT_HELD, GROWTH_HELD, SHEAR_HELD = 0.01, 0.03, 0.2
"""Damping of the alignment's steps, as shares of the shift's own curvature (own)."""


@dataclass(frozen=True, eq=False)
class Keepsake:
    part: Part
    lines: LineMap
    points: Array
    """All landmarks where they stood then, ``(n, 2)`` working pixels."""
    hh: float
    """A head then, working pixels."""
    bare: frozenset[int]
    """Landmarks that no line marks."""
    way: Array = field(default_factory=lambda: SAME)
    sources: Mapping[int, Source] = field(default_factory=dict)

    def moved(self, way: Array) -> Keepsake:
        return replace(self, way=way)

    def source(self, i: int) -> Source:
        return self.sources.get(i) or Source(self.lines, self.points[i], SAME)

    @cached_property
    def at(self) -> list[int]:
        return [i for i in self.part.at if np.isfinite(self.points[i]).all()]

    @cached_property
    def here(self) -> bool:
        """Whether there is anything to follow: landmarks that are placed, and lines about them."""
        return bool(self.at) and (self.part.rim or len(self.anchors) >= 2)

    @cached_property
    def drawn(self) -> list[int]:
        return [i for i in self.at if i not in self.bare and has_line(self.lines.soft, self.points[i])]

    @cached_property
    def edge(self) -> dict[int, float]:
        return {i: corner_share(self.lines.soft, self.points[i]) for i in self.at}

    @cached_property
    def hull(self) -> Array:
        """What the part covers: its landmarks; an ear's two make no area, so what lies outside them is taken in."""
        p = self.points[self.at]
        if self.part.ear and len(p):
            every = self.points[there(self.points)]
            out = p[0] - [np.median(every[:, 0]), p[0][1]]
            out = out / (np.linalg.norm(out) + 1e-9)
            p = np.vstack([p + 0.012 * self.hh * out, p + 0.06 * self.hh * out])
        return np.asarray(p)

    @cached_property
    def centre(self) -> Array:
        return np.asarray((self.hull.min(0) + self.hull.max(0)) / 2)

    @cached_property
    def arm(self) -> float:
        return max(0.03 * self.hh, float(np.abs(self.hull - self.centre).max()) + self.part.reach * self.hh)

    @cached_property
    def anchors(self) -> Array:
        """Corners of its lines, ``(k, 2)`` working pixels (Shi & Tomasi, *CVPR* 1994)."""
        if not self.at:
            return np.zeros((0, 2))
        grown = self.part.reach * self.hh
        x0, y0, x1, y1 = box(self.hull, grown + 4, self.lines.soft.shape)
        if x1 - x0 < 8 or y1 - y0 < 8:
            return np.zeros((0, 2))
        inside = mask((y1 - y0, x1 - x0), self.hull - [x0, y0], grown)
        part = np.ascontiguousarray(self.lines.soft[y0:y1, x0:x1])
        found = cv2.goodFeaturesToTrack(part, MOST_ANCHORS, 0.02, max(3, 0.009 * self.hh), mask=inside, blockSize=5)
        return np.zeros((0, 2)) if found is None else np.asarray(found[:, 0].astype(float) + [x0, y0])

    @cached_property
    def half(self) -> Template | None:
        return self._template(HALF)

    @cached_property
    def quarter(self) -> Template | None:
        return self._template(QUARTER)

    def template(self, by: int) -> Template | None:
        return self.half if by == HALF else self.quarter

    def _template(self, by: int) -> Template | None:
        image = self.lines.reduced(by)
        grown = self.part.reach * self.hh
        x0, y0, x1, y1 = box(self.hull / by, grown / by + 3, image.shape)
        if x1 - x0 < 5 or y1 - y0 < 5:
            return None
        t = np.ascontiguousarray(image[y0:y1, x0:x1])
        w = (mask(t.shape, self.hull / by - [x0, y0], grown / by) > 0).astype(np.float32)
        w = np.asarray(cv2.GaussianBlur(w, (0, 0), 1.5), np.float32)
        total = float(w.sum())
        centred = t - float((t * w).sum()) / total
        energy = float((centred * centred * w).sum())
        if energy < 0.3:
            return None
        gx, gy = (cv2.Sobel(t, cv2.CV_32F, *d, scale=1 / 8) for d in ((1, 0), (0, 1)))
        rows, cols = np.mgrid[y0:y1, x0:x1].astype(np.float32)
        x, y = (cols * by - self.centre[0]) / self.arm, (rows * by - self.centre[1]) / self.arm
        root = np.sqrt(w)
        grads = (gx, gy, gx * x + gy * y, gy * x - gx * y, gx * x - gy * y, gx * y + gy * x)
        steepest = np.stack(grads, -1).reshape(-1, 6) * root.reshape(-1, 1)
        h = (steepest.T @ steepest).astype(float)
        held = (h[0, 0] + h[1, 1]) / 2 * np.array([SHIFT_HELD] * 2 + [GROWTH_HELD] * 2 + [SHEAR_HELD] * 2)
        similar = np.zeros((6, 6))
        similar[:4, :4] = np.linalg.inv(h[:4, :4] + np.diag(held[:4]))
        return Template(
            np.array([x0, y0], float), t, w, total, centred, energy, steepest.astype(np.float32), similar,
            np.linalg.inv(h + np.diag(held)), root,
        )  # fmt: skip
