"""Cures made visible, off the interface thread: the part of the drawing that changes, and a small picture for the board."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import cv2
import numpy as np
from PySide6.QtGui import QImage

from ....core.check.cures import Cure
from ....core.cure.preview import preview
from ....core.features.choices import FeatureChoices
from ....core.kinds import Array, there
from ...stage.pixels import from_rgb, to_rgb

ABOUT = 0.30
"""Heads about the landmarks a cure may change (own)."""
TILE = 168
SHAPE = 168 / 116
"""Width by height of a tile."""


@dataclass(frozen=True, eq=False)
class CureShown:
    cure: Cure
    patch: QImage
    at: tuple[int, int]
    """Where the patch's left upper corner lies on the drawing."""
    tile: QImage


def shown(
    image: QImage,
    points: Array,
    cures: tuple[Cure, ...],
    hh: float,
    choices: FeatureChoices,
    view: str,
    going: Callable[[], bool],
) -> tuple[CureShown, ...]:
    """Every cure on the drawing, as many as are made while ``going()``."""
    here = points[there(points)]
    low = np.clip(np.floor(here.min(0) - ABOUT * hh), 0, [image.width() - 1, image.height() - 1]).astype(int)
    high = np.clip(np.ceil(here.max(0) + ABOUT * hh), low + 1, [image.width(), image.height()]).astype(int)
    part = to_rgb(image.copy(int(low[0]), int(low[1]), int(high[0] - low[0]), int(high[1] - low[1])))
    out = []
    for cure in cures:
        if not going():
            break
        made = preview(part, points - low, cure.step, hh, choices, view)
        pixels = made.at()
        tile = _tile(pixels) if view == "front" else _tile(_about(pixels, made.box, hh))
        out.append(CureShown(cure, from_rgb(pixels), (int(low[0]), int(low[1])), tile))
    return tuple(out)


def _about(pixels: Array, box: tuple[int, int, int, int] | None, hh: float) -> Array:
    """What changes with a head's breadth about it: a figure's whole page would show a cure too small to be seen."""
    h, w = pixels.shape[:2]
    if box is None:
        return pixels
    x0, y0, x1, y1 = box
    cx, cy = (x0 + x1) / 2, (y0 + y1) / 2
    tall = max(y1 - y0, (x1 - x0) / SHAPE, 1.6 * hh)
    tall = min(tall, h)
    left, right = int(max(0, cx - tall * SHAPE / 2)), int(min(w, cx + tall * SHAPE / 2))
    top = int(np.clip(cy - tall / 2, 0, h - tall))
    part = pixels[top : top + int(tall), left:right]
    missing = max(0, round(tall * SHAPE) - part.shape[1])  # a page that is narrower: more of its own paper
    return np.asarray(cv2.copyMakeBorder(part, 0, 0, missing // 2, missing - missing // 2, cv2.BORDER_REPLICATE))


def _tile(pixels: Array) -> QImage:
    h, w = pixels.shape[:2]
    k = 2 * TILE / max(h, w)
    size = max(1, round(w * k)), max(1, round(h * k))
    return from_rgb(np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA if k < 1 else cv2.INTER_LINEAR)))
