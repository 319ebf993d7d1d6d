"""The mouth moved onto the picture: the darkest path between the lips, as far as it stays darker than the skin about it."""

from __future__ import annotations

import cv2
import numpy as np

from .paths import end, through
from .working import Face, Points, softened

ACROSS = 2
"""Working pixels between the columns in which the line is looked for: it runs level enough (own)."""
FAINT, ENDS_AT = 0.6, 0.45
"""Depth of the line, lightness, below which there is none; share of its depth at which it ends (own)."""


def mouth(face: Face, at: Points) -> Points:
    """Corners and the middle of the line."""
    if any(n not in at for n in ("cheilion_l", "cheilion_r", "stomion")):
        return {}
    mid, r, left = (np.array(at[n]) for n in ("stomion", "cheilion_r", "cheilion_l"))
    half = max(float(left[0] - r[0]) / 2, 8.0)
    if half > face.size / 2:
        return {}
    reach, tall = int(1.55 * half / ACROSS), int(max(0.30 * half, 8))
    x, y = ACROSS * np.arange(-reach, reach + 1), np.arange(-tall, tall + 1)
    light = np.ascontiguousarray(face.along(*np.meshgrid(mid[0] + x, mid[1] + y))[..., 0])
    v = cv2.GaussianBlur(light, (0, 0), sigmaX=1.4 / ACROSS, sigmaY=1.4)
    dark = v - cv2.blur(v, (1, 2 * (tall // 2) + 1), borderType=cv2.BORDER_REPLICATE)
    path = through(dark + 0.01 * np.abs(y)[:, None], reach)
    depth = softened(-dark[path, np.arange(len(x))], 1.5 / ACROSS)
    core = int(0.5 * half / ACROSS)
    level = ENDS_AT * float(np.median(depth[reach - core : reach + core + 1]))
    if level < FAINT:
        return {}
    ends = {"r": end(depth, level, reach, -1, 2), "l": end(depth, level, reach, 1, 2)}
    if ACROSS * (ends["l"] - ends["r"]) < 0.5 * half:
        return {}

    def place(k: float) -> tuple[float, float]:
        return float(mid[0] + ACROSS * (k - reach)), float(mid[1] - tall + np.interp(k, np.arange(len(x)), path))

    return {**{f"cheilion_{s}": place(k) for s, k in ends.items()}, "stomion": place((ends["l"] + ends["r"]) / 2)}
