"""Hair as a chain of decisions over the skull: mass, lift, parting, fringe, sides, sweep, back.

The mass is a surface about an upright axis through the skull: for every height and azimuth (0 the face, ±π the back,
positive toward the character's left) its radius, down to an edge whose height depends on the azimuth. Heads throughout.
Shapes and reaches are own, after common practice: big shapes first, hair outside the skull, swept back at the sides.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

import cv2
import numpy as np

from ..curves import pchip
from ..kinds import Array
from .outline import knots
from .solid import Solid, surface_normals

AXIS = -0.03
"""Depth of the axis azimuths turn about."""
SHOULDERS = 1.20
"""Where long hair ends."""
LIFT_END = 0.60
"""Station below which the lift over the crown moves nothing."""
RINGS, SPOKES = 60, 128
ROWS, TOP, CELLS = 250, -0.40, 150.0
_AZIMUTH = np.linspace(-np.pi, np.pi, SPOKES + 1)


def _smooth(v: Array) -> Array:
    c = np.clip(v, 0, 1)
    return np.asarray(c * c * (3 - 2 * c))


@dataclass(frozen=True, eq=False)
class Hair:
    head: Solid
    values: Mapping[str, float]
    skull: Array
    """Radius of the skull over ``(stations, azimuths)`` at :attr:`stations`, never less than what lies over it."""
    stations: Array
    edge: Array
    """Height at which the hair ends, over azimuths."""

    @property
    def top(self) -> float:
        return -self.values["lift"]

    def _station(self, y: Array) -> Array:
        """Station of the skull whose radius carries the hair at a height: the lift stretches the crown upward."""
        t = np.linspace(0, 1.4, 281)
        return np.asarray(np.interp(y, t - self.values["lift"] * np.clip(1 - t / LIFT_END, 0, 1) ** 2, t))

    def radius(self, y: Array, azimuth: Array) -> Array:
        """Radius of the mass at heights and azimuths (broadcast), whether or not hair reaches there."""
        v = self.values
        t = self._station(y)
        t, az = np.broadcast_arrays(t, azimuth)
        row = np.interp(t, self.stations, np.arange(len(self.stations))).astype(np.float32)
        col = ((az + np.pi) / (2 * np.pi) * SPOKES).astype(np.float32)
        flat = [a.reshape(len(a), -1) for a in (col, row)]
        base = cv2.remap(self.skull.astype(np.float32), *flat, cv2.INTER_LINEAR).reshape(t.shape)  # type: ignore[call-overload]
        side = _smooth((np.abs(az) - 0.5) / 0.7)
        thick = v["volume"] * (0.6 + 0.4 * side) * np.sqrt(np.clip(t / 0.09, 0, 1))
        thick = thick * (1 - 0.45 * v["swept"] * side * _smooth((t - 0.15) / 0.25) * _smooth((2.4 - np.abs(az)) / 0.8))
        fall = np.clip((t - 0.62) / 0.55, 0, 1)
        return np.asarray((base + thick) * (1 + 0.05 * fall - 0.12 * fall**3))

    def at(self, y: Array, azimuth: Array) -> Array:
        """Points ``(…, 3)`` of the surface."""
        r = self.radius(y, azimuth)
        return np.stack(np.broadcast_arrays(r * np.sin(azimuth), y, AXIS + r * np.cos(azimuth)), -1)

    @cached_property
    def grid(self) -> tuple[Array, Array]:
        """Points and outward normals ``(rings, spokes, 3)`` from the crown to the edge."""
        v = 1 - np.cos(np.pi / 2 * np.linspace(0.001, 1, RINGS))
        y = self.top + (self.edge[None, :] - self.top) * v[:, None]
        points = self.at(y, _AZIMUTH[None, :])
        normals = surface_normals(points)
        normals[0] = normals[1]  # at the pole a ring is a point
        return points, normals

    @cached_property
    def rim(self) -> Array:
        """The edge as a closed curve ``(n, 3)``."""
        fine = np.linspace(-np.pi, np.pi, 4 * SPOKES + 1)  # curtains end in a steep edge
        return self.at(np.interp(fine, _AZIMUTH, self.edge), fine)

    @cached_property
    def strands(self) -> list[tuple[str, Array]]:
        """The parting and locks that follow the flow of the hair: name and points."""
        v = self.values
        where = 0.55 * v["parting"] / 0.8
        u = np.linspace(0.0, 1.0, 24)
        edge = float(np.interp(where, _AZIMUTH, self.edge))
        out = [("parting", self.at(edge + (self.top * 0.6 - edge) * u**0.8, np.full_like(u, where)))]
        n = round(v["locks"])
        for side in (-1, 1):
            for k in range(n):
                a = where + side * (0.30 + (2.5 - 0.30) * (k + 0.5) / n)
                swing = side * (0.35 + 0.5 * v["swept"]) * (1 - u) ** 1.5
                az = np.clip(a - 0.6 * swing + side * 0.25 * v["swept"] * u, -np.pi, np.pi)
                end = np.interp(az, _AZIMUTH, self.edge)
                start = 0.30 + 0.10 * ((k * 7) % 3)
                y = self.top + (end - self.top) * (start + (0.97 - start) * u)
                out.append((f"lock {'l' if side > 0 else 'r'} {k + 1}", self.at(y, az)))
        return out

    @cached_property
    def _map(self) -> Array:
        """Radius over a regular grid of heights and azimuths, 0 where no hair is; float32."""
        y = TOP + np.arange(ROWS)[:, None] / CELLS
        r = self.radius(y, _AZIMUTH[None, :])
        gone = (y > self.edge[None, :]) | (y < self.top)
        return np.where(gone, 0.0, r).astype(np.float32)

    def covers_ears(self) -> bool:
        """Whether so much of the ears is covered that none is drawn."""
        p = self.head.table
        ends = float(np.interp(1.5, _AZIMUTH, self.edge))
        return ends > p["ear_top_station"] + 0.55 * (p["ear_bottom_station"] - p["ear_top_station"])

    def inside(self, points: Array, within: float = 0.0) -> Array:
        """Whether points ``(…, 3)`` lie in the mass, at least ``within`` under its surface."""
        x, y, z = points[..., 0], points[..., 1], points[..., 2] - AXIS
        col = ((np.arctan2(x, z) + np.pi) * (SPOKES / (2 * np.pi))).astype(np.float32)
        row = ((y - TOP) * CELLS).astype(np.float32)
        flat = [a.reshape(len(points), -1) for a in (col, row)]
        r = cv2.remap(self._map, *flat, cv2.INTER_NEAREST, borderMode=cv2.BORDER_CONSTANT, borderValue=0)  # type: ignore[call-overload]
        return np.asarray(np.hypot(x, z) < r.reshape(x.shape) - within)


def hair_of(head: Solid, values: Mapping[str, float]) -> Hair:
    """Hair by the parameters of the feature table. Kept while the head and the parameters are the same."""
    return _hair_of(head, tuple(sorted(values.items())))


@lru_cache(maxsize=12)
def _hair_of(head: Solid, rows_of: tuple[tuple[str, float], ...]) -> Hair:
    values = dict(rows_of)
    stations = np.concatenate([np.linspace(0, 0.02, 10), np.linspace(0.03, 0.82, 72)])
    phi = np.linspace(0, np.pi, 181)
    half = np.abs(_AZIMUTH)
    p = head.around(phi[None, :], np.maximum(stations, 1e-5)[:, None], detail=False)
    turn = np.maximum.accumulate(np.arctan2(p[..., 0], p[..., 2] - AXIS), axis=1)
    far = np.hypot(p[..., 0], p[..., 2] - AXIS)
    rows = [np.interp(half, turn[k], far[k]) for k in range(len(stations))]
    skull = np.array(rows)
    neck = 1.02 * head.table["neck_width_hw"] * head.table["head_width_hh"] / 2
    skull = np.where(half > 1.1, np.maximum(skull, neck), skull) * np.ones_like(skull)
    skull[stations < 0.5] = np.array(rows)[stations < 0.5]
    edge, longer = _edge(head, values)
    # what falls beyond its own hairline hangs from where the skull is widest; what ends there follows the skull
    loose = _around(_smooth((longer - 0.02) / 0.14) * (half > 0.75), 5.0)
    hung = np.maximum.accumulate(skull, axis=0)
    return Hair(head, values, skull + (hung - skull) * loose, stations, edge)


def _edge(head: Solid, v: Mapping[str, float]) -> tuple[Array, Array]:
    """Where the hair ends over azimuths, and how far beyond its own hairline that is."""
    p, a = head.table, np.abs(_AZIMUTH)
    line, brow, ear, low = (p[k] for k in ("hairline_station", "brow_station", "ear_top_station", "ear_bottom_station"))
    jaw = knots(p).stations[2]
    nape = low + 0.05
    # the hairline itself: over the forehead, round the temple, before the ear, over it, down to the nape
    burn = ear + 0.03 + 0.05 * (1 - v["swept"])
    base = pchip(
        [0, 0.40, 0.72, 0.95, 1.12, 1.30, 1.42, 1.68, 1.84, np.pi],
        [
            line,
            line + 0.004,
            line + 0.035,
            line + 0.55 * (ear - line),
            ear - 0.02,
            burn,
            ear - 0.012,
            ear + 0.01,
            low - 0.01,
            nape,
        ],
    )(a)
    where = 0.55 * v["parting"] / 0.8
    part = np.exp(-(((_AZIMUTH - where) / 0.22) ** 2))
    fringe = line + v["fringe"] * (brow - line) * (1 - 0.75 * part * (v["fringe"] < 1.2)) - 0.02 * a**2
    fringe = np.where(a < 0.95, fringe, -1.0)
    side = jaw * v["sides"] + burn * (1 - v["sides"]) if v["sides"] <= 1 else jaw + (SHOULDERS - jaw) * (v["sides"] - 1)
    begin = 0.86 + 0.42 * v["swept"]
    curtain = base + (max(side, 0) - base) * _smooth((a - begin + 0.16) / 0.20)
    falls = np.clip(v["sides"] / 0.3, 0, 1)
    tail = nape + (SHOULDERS - nape) * v["back"]
    behind = base + (tail - base) * _smooth((a - 1.75) / 0.5)
    edge = np.maximum(base, np.maximum(fringe, behind))
    edge = np.maximum(edge, base + falls * (np.maximum(curtain, base) - base))
    edge = _around(edge, 1.6)
    longer = np.clip(edge - base, 0, None)
    n = max(3, round(v["locks"]))
    teeth = np.abs(((_AZIMUTH * n / 1.3 + 0.35) % 1.0) * 2 - 1)
    return edge - 0.045 * np.clip(longer / 0.25, 0, 1) * teeth, longer


def _around(values: Array, width: float) -> Array:
    """Values over azimuths, softened round the head; ``width`` in steps."""
    reach = round(3 * width)
    soft = np.exp(-0.5 * (np.arange(-reach, reach + 1) / width) ** 2)
    out = np.convolve(np.pad(values[:-1], reach, mode="wrap"), soft / soft.sum(), "valid")
    return np.append(out, out[0])
