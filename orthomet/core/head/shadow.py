"""A two-tone shadow map of a turned head: what a light leaves dark, as shapes.

Every patch of the head's and the neck's surface is dark when it faces away from the light or when the head stands between
(under the chin, beside the nose, in the sockets). The visible patches are laid once a view, nearest last, so that dragging
the light only asks every patch again. A band under the upper lids belongs to any light from above (common practice).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import cv2
import numpy as np

from ..errors import FormatError
from ..kinds import Array
from ..picture import Ink, Layer, Picture, Trace, line
from .drawn import BOX
from .scene import Scene

CELLS = 340
"""Pixels a head when patches are laid."""
TURN_DARK, TURN_SOFT = 0.10, 0.35
"""Cosine between surface and light at which a patch turns dark, a little before the edge, and over how much (own)."""
SOFT = 3.0
WAY_TO_LIGHT = np.array([0.02, 0.035, 0.055, 0.08, 0.11, 0.15, 0.2, 0.26, 0.34])
LEAST = 0.0012
"""Shapes smaller than this share of a square head are crumbs (own)."""
LID_SHARE = 0.22
LIGHT_HEIGHT, LIGHT_AZIMUTH = 89.0, 180.0


@dataclass(frozen=True)
class Light:
    """Where the light comes from, degrees, seen by the viewer: to the picture's right of straight ahead, and above."""

    azimuth: float = -35.0
    height: float = 45.0

    @property
    def direction(self) -> Array:
        """Toward the light: x right, y down, z to the viewer."""
        a, h = np.radians(self.azimuth), np.radians(self.height)
        return np.array([np.sin(a) * np.cos(h), -np.sin(h), np.cos(a) * np.cos(h)])


def light_at(azimuth: float, height: float) -> Light:
    """A light somebody asked for, in degrees.

    Raises
    ------
    FormatError
        Outside of what a light can be.
    """
    if not (abs(azimuth) <= LIGHT_AZIMUTH and abs(height) <= LIGHT_HEIGHT):
        raise FormatError(
            f"A light stands within ±{LIGHT_AZIMUTH:g}° across and ±{LIGHT_HEIGHT:g}° above; {azimuth:g}, {height:g} does not."
        )
    return Light(azimuth, height)


@dataclass(frozen=True, eq=False)
class Laid:
    """Which patch is seen at each pixel (0: none), and every patch's middle and outward normal."""

    shown: Array
    middle: Array
    normal: Array


@lru_cache(maxsize=4)
def laid(s: Scene) -> Laid:
    """The visible patches of a view. Kept while the view is the same."""
    h, w = round(BOX[3] * CELLS), round(BOX[2] * CELLS)
    shown = np.zeros((h, w), np.int32)
    corners, middles, normals = [], [], []
    for points, normal in (s.view.head.grid, s.view.head.neck):
        quad = np.stack([points[:-1, :-1], points[:-1, 1:], points[1:, 1:], points[1:, :-1]], 2).reshape(-1, 4, 3)
        corners.append(quad)
        middles.append(quad.mean(1))
        n = (normal[:-1, :-1] + normal[:-1, 1:] + normal[1:, 1:] + normal[1:, :-1]).reshape(-1, 3)
        normals.append(n / np.maximum(np.linalg.norm(n, axis=1, keepdims=True), 1e-9))
    quad, middle, normal = np.concatenate(corners), np.concatenate(middles), np.concatenate(normals)
    facing = (normal * s.view.ways(middle)).sum(-1) > -0.15
    q = s.view.seen(quad)
    order = np.argsort(q[..., 2].mean(1))
    pixels = np.round((q[..., :2] - [BOX[0], BOX[1]]) * CELLS * 16).astype(np.int32)
    for k in order[facing[order]].tolist():
        cv2.fillConvexPoly(shown, pixels[k], k + 1, cv2.LINE_8, 4)
    return Laid(shown, middle, normal)


def shadow(s: Scene, light: Light) -> list[Trace]:
    """Shapes of the head that lie in shadow, in heads about its centre."""
    patches = laid(s)
    toward = light.direction @ s.view.matrix
    dark = np.clip(0.5 - (patches.normal @ toward - TURN_DARK) / TURN_SOFT, 0, 1)
    asked = np.unique(patches.shown)
    asked = asked[asked > 0] - 1
    asked = asked[dark[asked] < 0.5]
    raised = patches.middle[asked] + 0.012 * patches.normal[asked]
    way = raised[:, None] + WAY_TO_LIGHT[:, None] * toward
    dark[asked] = np.maximum(dark[asked], s.view.inside(way).any(1))
    mask = cv2.GaussianBlur(np.append(0.0, dark)[patches.shown].astype(np.float32), (0, 0), SOFT)
    solid = (patches.shown > 0).astype(np.float32)
    share = mask / np.maximum(cv2.GaussianBlur(solid, (0, 0), SOFT), 1e-3)
    found, nested = cv2.findContours(((share > 0.5) & (solid > 0)).astype(np.uint8), cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    shapes: list[Trace] = []
    islands: list[Trace] = []
    for c, (_, _, _, parent) in zip(found, nested[0] if nested is not None else (), strict=True):
        if cv2.contourArea(c) > LEAST * CELLS**2:
            shape = _rounded(c[:, 0].astype(float)) / CELLS + [BOX[0], BOX[1]]
            if parent < 0:
                shapes.append(line(shape, Ink.SHADE, f"shadow {len(shapes) + 1}", closed=True, filled=True))
            else:  # light that lies in the shadow, as under an eye
                islands.append(line(shape, Ink.LIGHT, f"light {len(islands) + 1}", closed=True, filled=True))
    return [*shapes, *islands, *_under_lids(s, light)]


def _rounded(c: Array, step: int = 2) -> Array:
    """A pixel contour without its steps."""
    k = np.ones(7) / 7
    if len(c) < 12:
        return c
    soft = np.stack([np.convolve(np.pad(c[:, i], 3, mode="wrap"), k, "valid") for i in (0, 1)], -1)
    return np.asarray(soft[::step] + 0.5)


def _under_lids(s: Scene, light: Light) -> list[Trace]:
    """The upper lid's shadow on the eye, for a light from above."""
    if light.height <= 5:
        return []
    curves = {c.name: c for _, c in s.features}
    out = []
    for k in "lr":
        up, low = curves.get(f"upper lid {k}"), curves.get(f"lower lid {k}")
        if up is None or low is None or len(up.points) != len(low.points) or up.visible.mean() < 0.6:
            continue
        share = LID_SHARE * min(light.height / 45, 1.2)
        band = up.points + share * (low.points - up.points)
        out.append(line(np.concatenate([up.points, band[::-1]]), Ink.SHADE, f"lid shadow {k}", closed=True, filled=True))
    return out


def with_shadow(picture: Picture, s: Scene, light: Light) -> Picture:
    """The picture of a view with its shadows as the lowest layer."""
    return replace(picture, layers=(Layer("shadow", "Shadow", tuple(shadow(s, light))), *picture.layers))
