"""The surface hair lies on, as a chart: a place is how far it is from the crown, and its azimuth.

``m`` up to 1 is the angle from the crown about the skull's centre, as a share of 90°; beyond 1 one head straight down per
unit. The azimuth is 0 at the face, ±π at the back, positive toward the character's left. Masses are drawn in this chart like
flat shapes and then lifted onto it. Heads throughout; shapes are own, after common practice.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from ..curves import pchip
from ..head.neck import Neck, neck_of
from ..head.outline import knots
from ..head.points import sizes
from ..head.solid import Solid
from ..ink.contours import gaussian
from ..ink.surface import grid_normals, smooth_step, unit
from ..kinds import Array
from .style import Style

PI = float(np.pi)
AZIMUTHS = np.linspace(-PI, PI, 181)
ROWS = np.arange(0, 2.61, 0.02)
STEP_M, STEP_A = 0.02, 2 * PI / 180
_PAD, _OVER = 12, 8
FURTHEST = 0.42
"""What hangs keeps this near to the axis: hair over a shoulder ends on it."""


def wrapped(azimuth: Array | float) -> Array:
    """Azimuths within ±π."""
    return np.asarray((np.asarray(azimuth) + PI) % (2 * PI) - PI)


def around(values: Array, width: float) -> Array:
    """Values whose last axis goes once round the head (its end the start again), softened; ``width`` in steps."""
    reach = round(3 * width)
    kernel = gaussian(width, reach)
    flat = values.reshape(-1, values.shape[-1])
    wide = np.concatenate([flat[:, -reach - 1 : -1], flat, flat[:, 1 : reach + 1]], 1)
    return np.stack([np.convolve(row, kernel, "valid") for row in wide]).reshape(values.shape)


def down(values: Array, width: float) -> Array:
    """Values softened along their first axis; both ends go on as they are."""
    reach = round(4 * width)
    kernel = gaussian(width, reach)
    wide = np.concatenate([np.repeat(values[:1], reach, 0), values, np.repeat(values[-1:], reach, 0)])
    out = np.zeros_like(values)
    for k, w in enumerate(kernel.tolist()):
        out += w * wide[k : k + len(values)]
    return out


@dataclass(frozen=True, eq=False)
class Skull:
    """What a head gives to its hair, whatever the style."""

    head: Solid
    neck: Neck
    centre: Array
    heights: Array
    cylinder: Array
    """Radius of the bare skull about the upright axis, over ``(heights, azimuths)``; 0 under the chin."""
    radial: Array
    """Distance from the centre to the skull, over ``(ROWS up to 1, azimuths)``."""
    collar: Array
    """Radius of neck and shoulders about the axis, over ``(neck heights, azimuths)``."""

    @property
    def jaw(self) -> float:
        return knots(self.head.table).stations[2]

    @property
    def nape(self) -> float:
        return self.head.table["ear_bottom_station"] + 0.045

    @cached_property
    def temple(self) -> float:
        """Azimuth of the temple: a little outside the eye."""
        s, p = sizes(self.head.table), self.head.table
        out = (s.gap / 2 + s.ew) * 1.10
        front = float(self.head.section(np.array([p["eye_station"]]))[1][0])
        return float(np.arctan2(out, 0.72 * front - self.centre[2]))

    def hang(self, length: float, none: float) -> float:
        """Height at which hair of a length 0…3 ends; ``none`` is where one of 0 does."""
        shoulder = self.neck.shoulder - 0.10
        return float(np.interp(length, [0, 1, 2, 3], [none, self.jaw, shoulder, shoulder + 0.30]))

    def cylinder_at(self, y: Array, azimuth: Array) -> Array:
        """Radius of the skull, and of the neck behind it, about the upright axis."""
        i = np.interp(y, self.heights, np.arange(len(self.heights)))
        r = _bilinear(self.cylinder, i, (wrapped(azimuth) + PI) / STEP_A)
        top = self.neck.heights
        behind = (np.asarray(y) > top[0] + 0.10) & (np.abs(wrapped(azimuth)) > 1.9)
        i = np.interp(y, top, np.arange(len(top)))
        collar = _bilinear(self.collar, i, (wrapped(azimuth) + PI) / STEP_A)
        return np.where(behind, np.maximum(r, collar), r)

    def skin(self, m: Array, azimuth: Array, off: float | Array = 0.0) -> Array:
        """Points of the bare skull (and the nape) in the directions of the chart, ``off`` above it."""
        m, azimuth = np.broadcast_arrays(np.asarray(m, float), wrapped(azimuth))
        t = np.minimum(m, 1) * PI / 2
        r = _bilinear(self.radial, np.clip(m, 0, 1) / STEP_M, (azimuth + PI) / STEP_A)
        y = self.centre[1] - r * np.cos(t) + np.maximum(m - 1, 0)
        across = np.where(m > 1, self.cylinder_at(y, azimuth), r * np.sin(t))
        p = np.stack([across * np.sin(azimuth), y, self.centre[2] + across * np.cos(azimuth)], -1)
        way = p - np.array([0, 0.5, self.centre[2]])
        way[..., 1] = np.minimum(way[..., 1], 0)
        return np.asarray(p + unit(way) * np.asarray(off)[..., None])


def _bilinear(grid: Array, i: Array, j: Array) -> Array:
    i, j = np.clip(i, 0, grid.shape[0] - 1.0001), np.clip(j, 0, grid.shape[1] - 1.0001)
    a, b = i.astype(int), j.astype(int)
    u, v = i - a, j - b
    return np.asarray(
        (grid[a, b] * (1 - v) + grid[a, b + 1] * v) * (1 - u) + (grid[a + 1, b] * (1 - v) + grid[a + 1, b + 1] * v) * u
    )


@lru_cache(maxsize=12)
def skull_of(head: Solid) -> Skull:
    """The skull of a head in the chart's terms. Kept while the head is the same."""
    p = head.table
    centre = np.array([0.0, p["brow_station"] - 0.05, -0.03])
    heights = np.concatenate([(1 - np.cos(np.linspace(0, PI / 2, 60))) * 0.5, np.linspace(0.51, 0.96, 46)])
    phi = np.linspace(0, PI, 181)
    ring = head.around(phi[None, :], np.clip(heights, 1e-5, 1)[:, None], detail=False)
    turn = np.maximum.accumulate(np.arctan2(ring[..., 0], ring[..., 2] - centre[2]), axis=1)
    far = np.hypot(ring[..., 0], ring[..., 2] - centre[2])
    half = np.abs(AZIMUTHS)
    cylinder = np.stack([np.interp(half, turn[k], far[k]) for k in range(len(heights))])
    # a section that does not hold the axis gives nothing behind it
    behind = ring[:, -1, 2] > centre[2]
    cylinder[behind] = np.where(half > 1.4, 0.0, cylinder[behind])
    theta = np.arctan2(cylinder, centre[1] - heights[:, None])
    reach = np.hypot(cylinder, centre[1] - heights[:, None])
    t = np.minimum(ROWS[:52], 1.0) * PI / 2
    radial = np.stack([np.interp(t, np.maximum.accumulate(theta[:, j]), reach[:, j]) for j in range(len(AZIMUTHS))], 1)
    neck = neck_of(head)
    collar = np.stack([_polar(r[:-1], centre[2]) for r in neck.rings])
    return Skull(head, neck, centre, heights, cylinder, radial, collar)


def _polar(ring: Array, axis: float) -> Array:
    a, d = np.arctan2(ring[:, 0], ring[:, 2] - axis), np.hypot(ring[:, 0], ring[:, 2] - axis)
    return np.asarray(np.interp(AZIMUTHS, a, d, period=2 * PI))


class Chart:
    """The outer surface of a style's hair on a skull."""

    def __init__(self, skull: Skull, style: Style):
        self.skull, self.style = skull, style
        centre = skull.centre
        m, az = ROWS[:, None], AZIMUTHS[None, :]
        t = np.maximum(np.minimum(m, 1.0) * PI / 2, 1e-3)
        radial = skull.radial[np.minimum(np.arange(len(ROWS)), len(skull.radial) - 1)]
        hung = self._hung(radial, t)
        front = np.abs(az)
        thick = style.lift * (1 - smooth_step((m - 0.05) / 0.80)) + 0.004
        thick = thick + style.volume * smooth_step((m - 0.20) / 0.80) * (0.40 + 0.60 * smooth_step((front - 0.45) / 0.7))
        x = np.where(m <= 1, (radial + thick) * np.sin(t), hung + thick)
        y = np.where(m <= 1, centre[1] - (radial + thick) * np.cos(t), centre[1] + (m - 1))
        meet = np.exp(-(((m - 1.0) / 0.16) ** 2))
        x, y = (v * (1 - meet) + down(v, 4.0) * meet for v in (x, np.broadcast_to(y, x.shape)))
        self.points = np.stack([x * np.sin(az), y, centre[2] + x * np.cos(az)], -1)
        self.points[0] = self.points[0].mean(0)
        self.normals = self._normals()
        self._splines = [_prefiltered(self._carried(self.points[..., k])) for k in range(3)]
        self._carried_normals = np.stack([self._carried(self.normals[..., k]) for k in range(3)], -1)
        self.line = self._hairline()

    def _hung(self, radial: Array, t: Array) -> Array:
        """Radius about the axis of what falls straight down from the skull's widest place, resting on neck and shoulders."""
        skull, centre = self.skull, self.skull.centre
        y = centre[1] + np.maximum(ROWS - 1, 0)
        body = skull.cylinder[np.searchsorted(skull.heights, y).clip(0, len(skull.heights) - 1)] * (y < 0.93)[:, None]
        away = np.abs(AZIMUTHS)
        sides = np.abs(away - 1.57) < 0.5  # what would go into a shoulder ends on it
        for k in np.flatnonzero(y > skull.neck.heights[0] + 0.02):
            r = int(np.argmin(np.abs(skull.neck.heights - y[k])))
            rests = np.minimum(skull.collar[r] + np.where(away > 2, 0.035, 0.015), FURTHEST)
            body[k] = np.maximum(body[k], np.where(sides, 0.0, rests))
        first = int(np.argmax(ROWS > 1.0))
        hung = body.copy()
        hung[:first] = radial[:first] * np.sin(t[:first])
        spread = np.where(away > 2.3, 0.020, 0.006)
        for k in range(first, len(ROWS)):
            drawn_in = hung[k - 1] - self.style.cup * STEP_M * smooth_step(np.array((ROWS[k] - 1) / 0.25))
            hung[k] = np.minimum(np.maximum(body[k], drawn_in), hung[k - 1] + spread)
        return around(down(hung, 2.0), 3.0)

    def _normals(self) -> Array:
        n = grid_normals(self.points, True)
        if float(((self.points - self.skull.centre) * n).sum(-1).mean()) < 0:
            n = -n
        n[0] = (0, -1, 0)
        n[1] = n[1] * 0.5 + np.array([0, -0.5, 0])
        return unit(n)

    @staticmethod
    def _carried(grid: Array) -> Array:
        """A grid carried on round the head and over the crown, where the other side lies: no spline dents the crown."""
        over = np.concatenate([np.roll(grid[1 : _OVER + 1, :-1], 90, 1)[::-1], grid[:, :-1]])
        return np.concatenate([over[:, -_PAD:], over, over[:, : _PAD + 1]], 1)

    def at(self, m: Array | float, azimuth: Array | float, off: Array | float = 0.0) -> Array:
        """Points ``(…, 3)`` at places of the chart, ``off`` above the surface."""
        from scipy.ndimage import map_coordinates

        m, azimuth = np.broadcast_arrays(np.asarray(m, float), wrapped(azimuth))
        i = np.atleast_1d(np.clip(m, -0.1, 2.58) / STEP_M + _OVER)
        j = np.atleast_1d((azimuth + PI) / STEP_A + _PAD)
        p = np.stack([map_coordinates(c, [i, j], order=3, prefilter=False, mode="nearest") for c in self._splines], -1)
        n = unit(np.stack([_bilinear(self._carried_normals[..., k], i, j) for k in range(3)], -1))
        out = p + n * np.asarray(off)[..., None]
        return np.asarray(out.reshape(*m.shape, 3) if m.ndim else out[0])

    def _column(self, azimuth: Array | float) -> Array:
        return np.asarray(np.rint((wrapped(azimuth) + PI) / STEP_A).astype(int) % 181)

    def m_of(self, y: float, azimuth: float) -> float:
        """How far from the crown the surface comes to a height, at an azimuth."""
        column = self.points[:, int(self._column(azimuth)), 1]
        return float(np.interp(y, np.maximum.accumulate(column), ROWS))

    def toward(self, way: Array) -> tuple[Array, Array]:
        """Places of the chart in directions ``(n, 3)`` from the skull's centre."""
        d = unit(way)
        az, theta = np.arctan2(d[..., 0], d[..., 2]), np.arccos(np.clip(-d[..., 1], -1, 1))
        v = unit(self.points - self.skull.centre)
        angle = np.maximum.accumulate(np.arccos(np.clip(-v[..., 1], -1, 1)), axis=0)
        m = [
            np.interp(t, angle[:, c], ROWS)
            for t, c in zip(theta.ravel().tolist(), self._column(az).ravel().tolist(), strict=True)
        ]
        return np.array(m).reshape(theta.shape), az

    def great(self, start: Array, end: Array, n: int = 30, over: float = 0.0) -> tuple[Array, Array]:
        """A way over the mass between two directions; ``over`` bends it up."""
        a, b = unit(start), unit(end)
        w = float(np.arccos(np.clip(a @ b, -1, 1)))
        s = np.linspace(0, 1, n)[:, None]
        d = (np.sin((1 - s) * w) * a + np.sin(s * w) * b) / max(np.sin(w), 1e-6)
        m, az = self.toward(d + np.array([0, -1.0, 0]) * over * np.sin(PI * s))
        return m, np.unwrap(az)

    @cached_property
    def _touch(self) -> Array:
        """Over azimuths: the height at which what hangs there comes to rest on a shoulder; far below where it never does."""
        skull = self.skull
        r = np.hypot(self.points[..., 0], self.points[..., 2] - skull.centre[2])
        out: Array = np.full(len(AZIMUTHS), 2.0)
        for k, y in enumerate((skull.centre[1] + np.maximum(ROWS - 1, 0)).tolist()):
            if ROWS[k] < 1.5 or y < 1.0:
                continue
            collar = skull.collar[int(np.argmin(np.abs(skull.neck.heights - y)))]
            out = np.where((collar > r[k] - 0.01) & (out > 1.99), y, out)
        return around(out, 1.0)

    def touch(self, azimuth: float) -> float:
        return float(np.interp(wrapped(azimuth), AZIMUTHS, self._touch))

    # ---- the hairline

    def _hairline(self) -> Array:
        """Over azimuths: how far from the crown the hairline lies."""
        p, style = self.skull.head.table, self.style
        line, ear, low = p["hairline_station"], p["ear_top_station"], p["ear_bottom_station"]
        places, heights = np.array([
            (0, line + 0.005), (0.32, line - 0.003), (0.55, line + 0.012), (0.80, line + 0.45 * (ear - line)), (1.00, ear - 0.055),
            (1.16, ear - 0.01), (1.32, ear + 0.075), (1.46, ear + 0.065), (1.58, ear - 0.012), (1.80, ear + 0.005), (1.98, ear + 0.11),
            (2.2, low - 0.03), (2.55, low + 0.035), (PI, low + 0.045),
        ]).T  # fmt: skip
        away = np.abs(AZIMUTHS)
        y = around(pchip(places, heights)(away), 1.6)
        y = y + style.peak * np.exp(-((AZIMUTHS / 0.16) ** 2))
        m = self._m_on_skull(y)
        if style.recede > 0:  # first the temples, then a horseshoe: bald from the forehead over the crown
            temples = m - 0.16 * min(style.recede, 0.5) * 2 * np.exp(-(((away - 0.52) / 0.20) ** 2))
            high = 0.10 + 1.30 * smooth_step((away - 0.50) / 0.62)
            bald = temples + (np.minimum(high, temples) - temples) * np.clip(2 * style.recede - 1, 0, 1)
            m = np.minimum(m, bald)
        return m

    def _m_on_skull(self, y: Array) -> Array:
        skull = self.skull
        t = np.minimum(ROWS, 1) * PI / 2
        radial = skull.radial[np.minimum(np.arange(len(ROWS)), len(skull.radial) - 1)]
        heights = np.where(
            ROWS[:, None] <= 1, skull.centre[1] - radial * np.cos(t)[:, None], skull.centre[1] + (ROWS - 1)[:, None]
        )
        return np.array([np.interp(y[j], heights[:, j], ROWS) for j in range(len(AZIMUTHS))])

    def hairline(self, azimuth: Array | float) -> Array:
        return np.asarray(np.interp(wrapped(azimuth), AZIMUTHS, self.line))


def _prefiltered(grid: Array) -> Array:
    from scipy.ndimage import spline_filter

    return np.asarray(spline_filter(grid, 3))
