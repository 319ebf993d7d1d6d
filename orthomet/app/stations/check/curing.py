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


@dataclass(frozen=True, eq=False)
class CureShown:
    cure: Cure
    patch: QImage
    at: tuple[int, int]
    """Where the patch's left upper corner lies on the drawing."""
    tile: QImage


def shown(
    image: QImage, points: Array, cures: tuple[Cure, ...], hh: float, choices: FeatureChoices, going: Callable[[], bool]
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
        pixels = preview(part, points - low, cure.step, hh, choices).at()
        out.append(CureShown(cure, from_rgb(pixels), (int(low[0]), int(low[1])), _tile(pixels)))
    return tuple(out)


def _tile(pixels: Array) -> QImage:
    h, w = pixels.shape[:2]
    k = 2 * TILE / max(h, w)
    size = max(1, round(w * k)), max(1, round(h * k))
    return from_rgb(np.asarray(cv2.resize(pixels, size, interpolation=cv2.INTER_AREA if k < 1 else cv2.INTER_LINEAR)))
