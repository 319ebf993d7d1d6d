"""Other ways to look at a drawing, as artists do to see it anew: without colour, out of focus, by its lines alone."""

from __future__ import annotations

import cv2
import numpy as np

from ..kinds import Array

LOOKS = {"grey": "Without colour", "blur": "Out of focus", "lines": "Lines alone"}
BLUR = 0.016
"""Standard deviation of the blur, as a share of the picture's height (own: an eye half shut)."""
THICK = 0.015
"""Widest line kept, as a share of the picture's height (own)."""
PAPER = 247.0


def looked_at(pixels: Array, look: str, tall: float) -> Array:
    """Pixels ``(h, w, 3)`` uint8 seen another way; ``tall`` is the height of the whole picture in them.

    Raises
    ------
    KeyError
        No such look.
    """
    if look == "grey":
        grey = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
        return np.repeat(grey[..., None], 3, 2)
    if look == "blur":
        return np.asarray(cv2.GaussianBlur(pixels, (0, 0), max(1.0, BLUR * tall)))
    if look == "lines":
        grey = cv2.cvtColor(pixels, cv2.COLOR_RGB2GRAY)
        k = max(5, int(THICK * tall)) | 1
        light = cv2.morphologyEx(grey, cv2.MORPH_CLOSE, np.ones((k, k), np.uint8)).astype(np.float32)
        share = np.clip(grey.astype(np.float32) / np.maximum(light, 1.0), 0, 1)
        return np.repeat((PAPER * share**1.5).astype(np.uint8)[..., None], 3, 2)
    raise KeyError(look)
