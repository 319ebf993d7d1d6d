"""Neck and shoulders: a tapered column that begins inside the skull and runs out into the slope of the shoulders.

Rings over heights; half widths grow from the neck to the shoulders, what widens them (the trapezius) leans back. Shapes are
own, after common practice: the neck's front drops to the pit, its back runs up behind the ears.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from ..ink.surface import Line, Pen, Stuff, Surface, facing_from, grid_normals, smooth_step
from ..kinds import Array
from .outline import STATIONS
from .solid import Solid

_U = np.linspace(0, 1, len(STATIONS))
PIT, SHOULDER, CHILD_HIGHER = 1.28, 1.36, 0.10
"""Stations of the pit of the neck and of the shoulders' corner for an adult, and how much higher a small child's lie (own)."""
DROP, CHEST = 0.20, 0.50
"""How far under the shoulder's corner the rings lie close, and where they end: from below one sees nothing past the chest."""


@dataclass(frozen=True, eq=False)
class Neck:
    """Rings ``(n, spokes + 1, 3)``, the last spoke closing on the first; and the places a drawing hangs lines on."""

    rings: Array
    half: float
    depth: float
    pit: float
    shoulder: float
    reach: float
    """Half the width of the shoulders."""
    top: float
    """The height its lines begin at: the ear's bottom."""

    @property
    def heights(self) -> Array:
        return np.asarray(self.rings[:, 0, 1])

    @cached_property
    def normals(self) -> Array:
        n = grid_normals(self.rings, True)
        middle = self.rings.mean(1, keepdims=True)
        return facing_from(self.rings, n, middle)

    def at(self, y: Array, phi: Array, field: Array | None = None) -> Array:
        """Points ``(n, 3)`` of the surface (or values of another grid) at heights and angles about its axis."""
        grid = self.rings if field is None else field
        i = np.clip(np.interp(y, self.heights, np.arange(len(grid))), 0, len(grid) - 1.001)
        j = np.clip((np.asarray(phi) + np.pi) / (2 * np.pi) * (grid.shape[1] - 1), 0, grid.shape[1] - 1.001)
        a, b = i.astype(int), j.astype(int)
        u, v = (i - a)[:, None], (j - b)[:, None]
        top = grid[a, b] * (1 - v) + grid[a, b + 1] * v
        low = grid[a + 1, b] * (1 - v) + grid[a + 1, b + 1] * v
        return np.asarray(top * (1 - u) + low * u)

    @cached_property
    def surface(self) -> Surface:
        """Its contours run out over the shoulders, and in the skull it is never seen."""
        x, y = np.abs(self.rings[..., 0]), self.rings[..., 1]
        fade = 1 - smooth_step((y - self.shoulder + 0.02) / 0.10)
        fade = fade * (1 - smooth_step((x - self.half - 0.46 * (self.reach - self.half)) / 0.12))
        hidden = np.broadcast_to(y < self.top - 0.05, y.shape).astype(float)
        return Surface("neck", self.rings, self.normals, Stuff.SKIN, wraps=True, fade=fade, hidden=hidden)

    @cached_property
    def lines(self) -> tuple[Line, ...]:
        """Sternomastoids from behind the jaw to the pit, the pit, the collar bones: each runs out into the form."""
        out = []
        for side, k in ((1, "l"), (-1, "r")):
            s = np.linspace(0, 1, 40)
            y = self.top + 0.05 + (self.pit - self.top - 0.05) * s
            phi = side * (1.45 * (1 - s) ** 0.9 + 0.12)
            weight = smooth_step((s - 0.30) / 0.5) * (1 - 0.75 * smooth_step((s - 0.93) / 0.07))
            out.append(self._line(y, phi, 1.25 * weight, f"sternomastoid {k}"))
            s = np.linspace(0, 1, 24)
            y = self.pit + 0.012 - 0.030 * s**1.3 + 0.02 * np.sin(np.pi * s) ** 2
            out.append(self._line(y, side * (0.13 + 0.62 * s), 1.35 * np.sin(np.pi * (0.1 + 0.9 * s)) ** 0.8, f"collar bone {k}"))
        s = np.linspace(-1, 1, 21)
        out.append(self._line(self.pit + 0.010 - 0.014 * s**2, 0.12 * s, 1.2 * (1 - s**2) ** 0.7, "pit of the neck"))
        return tuple(out)

    def _line(self, y: Array, phi: Array, weight: Array, name: str) -> Line:
        return Line(self.at(y, phi), Pen.STRAND, weight, "neck", name=name, lift=0.006, normals=self.at(y, phi, self.normals))


@lru_cache(maxsize=12)
def neck_of(head: Solid, rings: int = 44, spokes: int = 72) -> Neck:
    """The neck of a head, from inside its skull down past the corner of the shoulders."""
    p = head.table
    half = p["neck_width_hw"] * p["head_width_hh"] / 2
    child = float(np.clip((p["eye_station"] - 0.505) / 0.09, 0, 1))
    pit, shoulder = PIT - CHILD_HIGHER * child, SHOULDER - CHILD_HIGHER * child
    low = p["ear_bottom_station"]
    behind = float(np.interp(np.arccos(1 - 2 * np.clip(low - 0.02, 0, 1)) / np.pi, _U, head.back))
    deep = min(0.98 * half, 0.26)
    first = low - 0.16
    near = np.linspace(1.0, shoulder + DROP, rings - rings // 2 + 1)[1:]
    y = np.concatenate([np.linspace(first, 1.0, rings // 2), near, np.linspace(shoulder + DROP, shoulder + CHEST, 5)[1:]])
    s = ((y - first) / (pit - first))[:, None]
    phi = np.linspace(-np.pi, np.pi, spokes + 1)[None, :]
    middle = max(0.86 * behind + deep, -0.16) - 0.075 * np.clip(s, 0, 1.6)
    widens = 1 + 0.10 * (1 - np.clip(s / 0.45, 0, 1)) ** 2
    begin = 1.0 + 0.02 * child
    q = np.clip((y - begin) / (shoulder - begin), 0, 2.2)[:, None]
    reach = (1.28 - 0.34 * child) * p["head_width_hh"] + 0.06
    slope = np.where(q < 1, 0.62 * q**2.4, 0.62 + 0.38 * (1 - np.exp(-2.6 * (q - 1))))
    wide = half * widens + (reach - half) * slope
    ahead = deep * (1 + 0.02 * s) + 0.10 * smooth_step((y[:, None] - pit + 0.02) / 0.30)
    back = deep * (1 + 0.05 * s) + 0.11 * smooth_step((y[:, None] - 1.0) / 0.42)
    e = 2 / (2.0 + 0.25 * smooth_step((y[:, None] - 1.0) / 0.3))
    c, n = np.cos(phi), np.sin(phi)
    x = wide * np.sign(n) * np.abs(n) ** e
    lean = -0.096 * smooth_step((y[:, None] - 1.02) / 0.4) * np.clip(np.abs(x) / reach, 0, 1) ** 0.7
    z = middle + np.where(c > 0, ahead, back) * np.sign(c) * np.abs(c) ** e + lean
    points = np.stack(np.broadcast_arrays(x, y[:, None], z), -1)
    return Neck(points, half, deep, pit, shoulder, reach, low)
