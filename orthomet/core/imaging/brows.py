"""Brows moved onto the picture: the dark ridge over each eye, where it ends, how thick it is at its peak."""

from __future__ import annotations

import cv2
import numpy as np

from ..kinds import Array
from .paths import across, end
from .working import Face, Points, softened

COLUMNS, ROWS = 36, 30
"""Grid of places looked at over each eye."""
ALONG, UP, DOWN = 0.30, 0.34, 0.24
"""How far beyond its seeds a brow is looked for, in its own length: to both sides, above its peak, below its ends (own)."""
CLEAR = 0.10
"""The least room kept to the upper lid, in brow lengths (own)."""
FAINT, INNER_AT, OUTER_AT, EDGE_AT = 1.5, 0.57, 0.45, 0.5
"""Depth of a brow, lightness, below which there is none; shares of its depth at which its blunt inner end, its tapering outer
end and its edges lie (own, tried on 90 painted portraits)."""
NEAR, HELD = 0.08, 0.02
"""How far below its seeds a brow usually lies, in its own length (the network sets them high), and what it costs to leave that,
lightness a square working pixel: a fringe is darker than any brow (own)."""


def brows(face: Face, at: Points) -> Points:
    """Ends, and upper and lower edge at the peak, of both brows."""
    sides = [s for s in "rl" if all(f"brow_{n}_{s}" in at for n in ("inner", "outer", "peak"))]
    grids = [_grid(at, s) for s in sides]
    if not grids:
        return {}
    x, y = (np.stack([g[i] for g in grids]) for i in (0, 1))  # sides, rows, columns
    light = face.along(x.reshape(-1, COLUMNS), y.reshape(-1, COLUMNS))[..., 0].reshape(x.shape)
    soft = np.stack([cv2.GaussianBlur(np.ascontiguousarray(v), (0, 0), 0.9) for v in light])
    tall = 2 * (ROWS // 5) + 1
    dark = soft - np.stack([cv2.blur(v, (1, tall), borderType=cv2.BORDER_REPLICATE) for v in soft])
    out: Points = {}
    for s, gx, gy, d, path in zip(sides, x, y, dark, across(dark + HELD * (y - _expected(at, sides, x)) ** 2), strict=True):
        out |= _brow(s, gx, gy, d, path)
    return out


def _grid(at: Points, side: str) -> tuple[Array, Array]:
    """Places over an eye, columns from the inner end outward, rows downward, each ``(ROWS, COLUMNS)``."""
    inner, outer, peak = (np.array(at[f"brow_{n}_{side}"]) for n in ("inner", "outer", "peak"))
    long = max(float(abs(outer[0] - inner[0])), 12.0)
    way = 1.0 if outer[0] > inner[0] else -1.0
    lid = at.get(f"palpebrale_superius_{side}")
    low = max(inner[1], outer[1]) + DOWN * long
    low = min(low, lid[1] - CLEAR * long) if lid else low
    high = min(inner[1], outer[1], peak[1]) - UP * long
    x, y = np.meshgrid(
        np.linspace(inner[0] - way * ALONG * long, outer[0] + way * ALONG * long, COLUMNS),
        np.linspace(high, max(low, high + 0.3 * long), ROWS),
    )
    return x, y


def _expected(at: Points, sides: list[str], x: Array) -> Array:
    """Where the middle of every brow should run at the columns of ``x`` ``(k, rows, columns)``; ``(k, 1, columns)``."""
    out = []
    for s, columns in zip(sides, x[:, 0], strict=True):
        xs, ys = np.array(sorted(at[f"brow_{n}_{s}"] for n in ("inner", "peak", "outer"))).T
        out.append(np.interp(columns, xs, ys) + NEAR * (xs[-1] - xs[0]))
    return np.array(out)[:, None]


def _brow(side: str, x: Array, y: Array, dark: Array, path: Array) -> Points:
    depth = softened(-dark[path, np.arange(COLUMNS)], 1.0)
    first, last = round(COLUMNS * 0.32), round(COLUMNS * 0.62)
    level = float(np.median(depth[first:last]))
    if level < FAINT or np.median(path[first:last]) >= ROWS - 2:
        return {}  # nothing there, or only the rim of a lid that lies close below
    start = first + int(depth[first:last].argmax())
    a, b = end(depth, INNER_AT * level, start, -1, 2), end(depth, OUTER_AT * level, start, 1, 2)
    if b - a < 0.3 * COLUMNS:
        return {}

    def place(k: float, row: float) -> tuple[float, float]:
        return (
            float(np.interp(k, np.arange(COLUMNS), x[0])),
            float(np.interp(row, np.arange(ROWS), y[:, 0])),
        )

    rows = np.interp((a, b), np.arange(COLUMNS), path)
    columns = np.arange(round(a + 0.3 * (b - a)), round(a + 0.85 * (b - a)) + 1)
    share = (columns - a) / (b - a)
    k = int(columns[(softened(path[columns].astype(float), 1.0) + ROWS * (share - PEAK) ** 2).argmin()])
    top, low = _edges(-dark[:, max(0, k - 1) : k + 2].mean(1), int(path[k]))
    out = {f"brow_peak_{side}": place(k, top), f"brow_lower_peak_{side}": place(k, low)}
    if a > 0:
        out[f"brow_inner_{side}"] = place(a, float(rows[0]))
    if b < COLUMNS - 1:
        out[f"brow_outer_{side}"] = place(b, float(rows[1]))
    return out


PEAK = 0.67
"""Where along a level brow its peak is said to be, from its inner end (own)."""


def _edges(depth: Array, middle: int) -> tuple[float, float]:
    """Rows above and below the middle of a line at which half its depth is lost."""
    level = EDGE_AT * float(depth[middle])
    return end(depth, level, middle, -1, 1), end(depth, level, middle, 1, 1)
