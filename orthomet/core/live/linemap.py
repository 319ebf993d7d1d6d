"""A picture of a drawing reduced to its lines, 0 to 1: what is compared from one saved state to the next.

Darkness is taken as its logarithm, so that a tone laid *under* lines, which multiplies, drops out; a closing minus the
picture (a black-hat; Serra, *Image Analysis and Mathematical Morphology*, 1982) keeps what is darker and thinner than
:data:`THICK`. The unit is the drawing's own strong line: pressure, tint and levels drop out, and a line that was badly
erased stays weak, so that its ghost is not taken for it.
"""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..kinds import Array

WORKING = 640.0
"""Pixels a head is brought to (own)."""
THICK = 0.030
"""Heads: lines are thinner (own; less loses filled brows, more takes filled lips for a line)."""
INK_FLOOR = 16
"""Grey levels added before the logarithm, so that black is not endless (own)."""
NOISE, NOISE_LEAST = 1.6, 0.012
"""Noise of the paper: so many medians, and at least so much (own)."""
STRONG, UNIT = 92, 0.62
"""The percentile that counts as the drawing's strong line, and the share of it that is 1 (own)."""
HALF, QUARTER = 2, 4

_LOG = np.log(np.arange(256, dtype=np.float32) + INK_FLOOR)


@dataclass(frozen=True, eq=False)
class LineMap:
    """Lines of one state at the working size, and the same reduced."""

    factor: float
    """Working pixels per pixel of the picture."""
    size: tuple[int, int]
    """The picture's own size."""
    sharp: Array
    soft: Array
    """A little blurred: what patches are cut from."""
    half: Array
    quarter: Array
    coarse: Array
    """At a quarter, more blurred: what the whole is looked for in."""

    def reduced(self, by: int) -> Array:
        return self.half if by == HALF else self.quarter


def working_factor(tall: float) -> float:
    """What brings a head of so many pixels to the working size; a small one is enlarged, though not without end."""
    return min(MOST_ENLARGED, WORKING / tall)


MOST_ENLARGED = 2.0
"""How much a picture is enlarged at most: what is not drawn cannot be found (own)."""


def line_map(grey: Array, factor: float) -> LineMap:
    """The lines of a grey picture ``(h, w)`` uint8, brought to the working size by ``factor`` (:func:`working_factor`)."""
    h, w = grey.shape
    small = grey
    if factor <= 0.55:
        small = cv2.resize(grey, (w // 2, h // 2), interpolation=cv2.INTER_AREA)  # halving is quick, an odd ratio is not
    if factor != 1:
        wanted = max(8, round(w * factor)), max(8, round(h * factor))
        small = cv2.resize(small, wanted, interpolation=cv2.INTER_AREA if factor < 1 else cv2.INTER_CUBIC)
    dark = cv2.GaussianBlur(cv2.LUT(small, _LOG), (0, 0), 0.9)
    k = int(THICK * WORKING) | 1
    lines = cv2.morphologyEx(dark, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_RECT, (k, k))) - dark
    some = np.asarray(lines[::3, ::3], np.float32).ravel()
    noise = float(np.median(some)) * NOISE + NOISE_LEAST
    strong = some[some > noise]
    unit = float(np.percentile(strong, STRONG)) - noise if len(strong) > 50 else 0.2
    sharp = np.clip((lines - noise) / max(UNIT * unit, 0.02), 0, 1).astype(np.float32)
    quarter = cv2.resize(sharp, None, fx=1 / QUARTER, fy=1 / QUARTER, interpolation=cv2.INTER_AREA)
    half = cv2.resize(sharp, None, fx=1 / HALF, fy=1 / HALF, interpolation=cv2.INTER_AREA)
    return LineMap(
        small.shape[1] / w,
        (w, h),
        sharp,
        cv2.GaussianBlur(sharp, (0, 0), 1.6),
        cv2.GaussianBlur(half, (0, 0), 1.2),
        cv2.GaussianBlur(quarter, (0, 0), 0.8),
        cv2.GaussianBlur(quarter, (0, 0), 1.0),
    )
