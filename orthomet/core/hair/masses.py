"""What hair is made of: the cap it grows from, clumps in the chart, clumps along a way, tubes and balls."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from ..ink.surface import Line, Pen, Stuff, Surface, facing_from, grid_normals, smooth_step, unit
from ..kinds import Array
from .chart import PI, Chart, Skull
from .style import Style, scattered

CROWN, CROWN_DRAWN = 0.34, 0.26
"""How far from the crown the lid over it reaches, and from where on clumps have the outline."""
Flow = Callable[[Array, Array], tuple[Array, Array]]
"""(e, s) to the chart: e from −1 to 1 across a clump, s from 0 to 1 down its length."""


@dataclass(frozen=True)
class Ends:
    """How a clump ends: from where it draws in and shows its edges (shares of its length), how it bows (heads), swings to a side
    and leads with one."""

    draws_in: float
    fade_from: float
    bow: float
    sway: float
    lead: float


@dataclass
class Masses:
    """A style being built on a skull: surfaces and lines, and where the cap lies."""

    skull: Skull
    style: Style
    chart: Chart
    surfaces: list[Surface] = field(default_factory=list)
    lines: list[Line] = field(default_factory=list)
    tight: float = 1.0
    """How far out the cap lies, of the chart's surface."""

    @property
    def inside(self) -> Array:
        return np.array([0, 0.5, self.skull.centre[2]])

    def random(self, *k: float) -> float:
        return scattered(self.style.seed, *k)

    # ---- lines

    def strand(
        self,
        points: Array,
        weight: float = 1.0,
        name: str = "strand",
        surface: str = "",
        lift: float = 0.012,
        beside: bool = True,
    ) -> None:
        """A line within the mass that comes from nothing and goes to nothing."""
        q = np.linspace(0, 1, len(points))
        self.line(points, weight * np.sin(PI * q**0.83) ** 0.8, name, surface, lift, beside)

    def line(self, points: Array, profile: Array, name: str, surface: str = "", lift: float = 0.012, beside: bool = True) -> None:
        self.lines.append(Line(points, Pen.STRAND, profile, surface, name=name, lift=lift, beside=beside))

    def sides(self, points: Array, name: str, profiles: tuple[Array, Array]) -> None:
        """Both edges of a clump as lines, each with what lies beyond it."""
        for column, inner, profile in ((0, 1, profiles[0]), (-1, -2, profiles[1])):
            out = points[:, column] - points[:, inner]
            self.lines.append(Line(points[:, column], Pen.EDGE, profile, name, out, name="clump", lift=0.006, group=name))

    # ---- the cap

    def on_cap(self, m: Array, azimuth: Array) -> Array:
        """Points of the cap's surface: tight caps lie nearer to the skull."""
        p = self.skull.skin(m, azimuth, 0.004)
        return np.asarray(p + (self.chart.at(m, azimuth) - p) * self.tight)

    def cap(
        self, name: str = "cap", under: float = 0.0, front: float | None = None, drawn_to: float | None = None,
        shrink: Array | float = 1.0, edge: bool = True, contour: bool = True, deep: bool = False, open_edge: bool = False,
        edge_weight: float = 0.8, edge_pen: Pen = Pen.EDGE,
    ) -> None:  # fmt: skip
        """The ground hair grows from, crown to hairline, rolled down onto the skin at its edge.

        ``under`` lowers it beneath clumps. ``front``: beyond this azimuth clumps end the hair instead of the hairline;
        ``drawn_to``: beyond this one they also have the outline.
        """
        chart, skull = self.chart, self.skull
        s = np.linspace(0, 1, 36) ** 0.9
        az = np.linspace(-PI, PI, 113)
        line = chart.hairline(az) * shrink
        m = np.maximum(s[:, None] * line[None, :], 1e-4)
        azimuth = np.broadcast_to(az[None, :], m.shape)
        roll = np.sqrt(1 - s**7)[:, None, None] * self.tight
        skin = skull.skin(m, azimuth, 0.0035)
        off = np.full_like(m, under)
        if under < 0 and self.style.part is not None:
            off = under + (-0.002 - under) * np.exp(-(((azimuth - self.style.part) / 0.45) ** 2))
        outer = chart.at(m, azimuth, off)
        p = skin + (outer - skin) * roll
        p[0] = p[0].mean(0)
        fade = np.broadcast_to((1 - smooth_step((s - 0.86) / 0.14))[:, None], m.shape)
        hidden = None
        if drawn_to is not None:
            fade = np.where((np.abs(azimuth) < drawn_to) & (m > CROWN_DRAWN), fade, -1.0)
            hidden = ((np.abs(azimuth) > (front or 9.0)) & (m < line[None, :] - 0.14) | (m < CROWN_DRAWN)).astype(float)
        normals = crowned(facing_from(p, grid_normals(p, True), skull.centre))
        self.surfaces.append(
            Surface(name, p, normals, Stuff.HAIR, True, contour=contour, fade=fade, deep=deep, open_edge=open_edge, hidden=hidden)
        )
        if edge:
            rim = skull.skin(line, az, 0.006)
            out = rim - skull.skin(line - 0.03, az, 0.006)
            away = np.abs(az)
            w = np.where((away > 1.50) & (away < 1.74), 0.55, 1.0)  # thin where it runs behind the ear
            if front is not None:
                w = w * (1 - smooth_step((away - front) / 0.2))
            self.lines.append(Line(rim, edge_pen, w * edge_weight, name, out, closed=True, name="hairline"))

    def crown(self) -> None:
        """A lid over the crown: clumps begin under it, so that one smooth surface has the outline there."""
        s = np.linspace(0, 1, 16)
        az = np.linspace(-PI, PI, 97)
        m = np.broadcast_to(np.maximum(s[:, None] * CROWN, 1e-4), (len(s), len(az)))
        p = self.chart.at(m, np.broadcast_to(az[None, :], m.shape), -0.0015)
        p[0] = p[0].mean(0)
        normals = crowned(facing_from(p, grid_normals(p, True), self.skull.centre))
        self.surfaces.append(Surface("crown", p, normals, Stuff.HAIR, True))

    # ---- clumps

    def clump(
        self,
        flow: Flow,
        name: str,
        ends: Ends,
        lift: float,
        start: float = 0.0,
        deep: bool = False,
        rows: int = 28,
        columns: int = 7,
    ) -> None:
        """A leaf of hair in the chart. Neighbours share their edge exactly until ``draws_in`` (share of the length): down to
        there the mass is one smooth surface. From there it draws in to its end, one side straighter than the other."""
        style, draws_in, fade_from = self.style, ends.draws_in, ends.fade_from
        s = start + (1 - start) * (1 - (1 - np.linspace(0, 1, rows)) ** 1.25)
        step = 2 / (columns - 1)
        u = np.linspace(-1 - step, 1 + step, columns + 2)  # two columns wider, so that normals meet at shared edges
        t = np.clip((s - draws_in) / (1 - draws_in), 0, 1)
        w = np.maximum(np.clip(1 - t ** (3.2 if style.blunt else 1.45), 0, 1) ** style.sharp, 0.004)
        shift = ends.sway * (t**1.5 - 0.45 * np.sin(PI * t) * t)  # an S: out, then back to the point
        e = shift[:, None] + u[None, :] * w[:, None] + (ends.lead * (1 - w))[:, None]
        m, az = flow(e, np.broadcast_to(s[:, None], e.shape))
        ramp = smooth_step((s - fade_from + 0.12) / max(1.05 - fade_from, 0.2))[:, None]
        off = lift * (1.0 if deep else ramp) - 0.004 * np.clip(-s / 0.014, 0, 1)[:, None]
        off = off + ends.bow * (1 - np.minimum(u[None, :] ** 2, 1.6)) * ramp * np.sqrt(w)[:, None]
        off = off + self.waved(m)
        wide = self.chart.at(m, az, off)
        normals = facing_from(wide, grid_normals(wide, False), self.inside)[:, 1:-1]
        p = wide[:, 1:-1]
        fade = np.where(m[:, 1:-1] < CROWN_DRAWN, -1.0, smooth_step((s - fade_from) / 0.35)[:, None])
        self.surfaces.append(Surface(name, p, normals, Stuff.HAIR, sheet=True, contour=not deep, fade=fade, deep=deep))
        if not deep:
            # neighbours share an edge until they part: each draws one of its two all along, the other from there
            profiles = (smooth_step((s - max(fade_from, draws_in - 0.04)) / 0.14), smooth_step((s - fade_from) / 0.30))
            self.sides(p, name, profiles)

    def phase(self, m: Array, azimuth: Array | float) -> Array:
        """Phase of the waves: down the length, running a little round the head. All clumps share it, so edges stay shared."""
        return np.asarray(2 * PI * self.style.waves * m / 1.5 + 1.1 * np.sin(2 * np.asarray(azimuth) + 0.5))

    def waved(self, m: Array) -> Array:
        """How far waves lift the surface."""
        if not self.style.wave:
            return np.zeros_like(m)
        return np.asarray(0.55 * self.style.wave * np.sin(self.phase(m, 0.0) + 1.3) * smooth_step((m - 0.85) / 0.4))

    def ribbon(
        self, m: Array, azimuth: Array, width: float, name: str, *, lift: float = 0.012, bow: float = 0.012, tip: float = 0.55,
        sharp: float = 1.0, fade_from: float = 0.4, lead: float = 0.0, root: float = 0.35, sway: float = 0.0, columns: int = 9,
    ) -> None:  # fmt: skip
        """A clump along a way of the chart: half ``width``, swelling from its root, drawn out to a point."""
        n = len(m)
        s = np.linspace(0, 1, n)
        middle = self.chart.at(m, azimuth)
        up = unit(self.chart.at(m, azimuth, 0.01) - middle)
        along = unit(np.gradient(middle, axis=0))
        across = unit(np.cross(up, along))
        t = np.clip((s - tip) / (1 - tip), 0, 1)
        w = width * np.maximum((root + (1 - root) * smooth_step(s / 0.35)) * np.clip(1 - t**1.5, 0, 1) ** sharp, 0.004)
        u = np.linspace(-1, 1, columns)
        x = u[None] * w[:, None] + (lead * (width - w) * smooth_step(s / 0.5))[:, None]
        x = x + (sway * width * (t**1.5 - 0.45 * np.sin(PI * t) * t))[:, None]
        off = lift * smooth_step(s / 0.3)[:, None] + bow * (1 - u[None] ** 2) * np.sqrt(w / width)[:, None] - x**2 / 0.85
        p = middle[:, None] + across[:, None] * x[..., None] + up[:, None] * off[..., None]
        fade = np.broadcast_to(smooth_step((s[:, None] - fade_from) / 0.35), x.shape)
        normals = facing_from(p, grid_normals(p, False), self.inside)
        self.surfaces.append(Surface(name, p, normals, Stuff.HAIR, sheet=True, fade=fade))
        shown = smooth_step((s - fade_from) / 0.30)
        self.sides(p, name, (shown, shown))

    def tube(
        self, middle: Array, w: Array, h: Array, name: str, *, fade_from: float = 0.0, stuff: Stuff = Stuff.HAIR, spokes: int = 19
    ) -> tuple[Array, Array]:
        """An ellipse swept along a curve: half widths across the picture, half thicknesses. Its two axes are given back."""
        along = unit(np.gradient(middle, axis=0))
        side = np.array([1.0, 0, 0])
        across = unit(side - along * (along @ side)[:, None])
        up = np.cross(along, across)
        a = np.linspace(0, 2 * PI, spokes)
        p = (
            middle[:, None]
            + across[:, None] * (w[:, None] * np.cos(a))[..., None]
            + up[:, None] * (h[:, None] * np.sin(a))[..., None]
        )
        s = np.linspace(0, 1, len(middle))
        fade = np.broadcast_to(smooth_step((s - fade_from + 0.02) / 0.25)[:, None], p.shape[:2])
        self.surfaces.append(Surface(name, p, swept_normals(p, middle), stuff, True, fade=fade))
        return across, up

    def ball(
        self, centre: Array, radii: tuple[float, float, float], name: str, *, axes: Array | None = None, stuff: Stuff = Stuff.HAIR,
        fade: Callable[[Array], Array] | None = None, rings: int = 11, spokes: int = 19, outer: Array | None = None,
    ) -> None:  # fmt: skip
        """An ellipsoid; with ``outer`` only the half on that side is ever seen."""
        theta, a = np.linspace(0, PI, rings)[:, None], np.linspace(-PI, PI, spokes)[None]
        u = np.stack([np.sin(theta) * np.sin(a), -np.cos(theta) + 0 * a, np.sin(theta) * np.cos(a)], -1)
        form = (np.eye(3) if axes is None else axes) * np.asarray(radii)[None]
        normals = unit(u @ np.linalg.inv(form))
        hidden = None if outer is None else (u @ outer < -0.30).astype(float)
        self.surfaces.append(
            Surface(name, centre + u @ form.T, normals, stuff, True, fade=None if fade is None else fade(u), hidden=hidden)
        )


def swept_normals(p: Array, middle: Array) -> Array:
    n = grid_normals(p, True)
    away = p - middle[:, None]
    if float((n * away).sum(-1).mean()) < 0:
        n = -n
    bad = np.linalg.norm(n, axis=-1) < 0.5
    n[bad] = unit(away[bad] + 1e-9)
    return n


def crowned(normals: Array) -> Array:
    """Normals of a dome whose first rings shrink to a point."""
    up = np.array([0, -1.0, 0])
    normals[0] = up
    for k, w in ((1, 0.6), (2, 0.3)):
        normals[k] = unit((1 - w) * normals[k] + w * (0.5 * up + 0.5 * normals[k + 1]))
    return normals
