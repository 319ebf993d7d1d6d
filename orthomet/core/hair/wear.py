"""What is worn over hair: a peaked cap, a knitted cap, a hat with a brim."""

from __future__ import annotations

import numpy as np

from ..ink.surface import Line, Pen, Stuff, Surface, facing_from, grid_normals, smooth_step, unit
from ..kinds import Array
from .chart import PI
from .masses import Masses, crowned
from .style import Worn

_AZ = np.linspace(-PI, PI, 97)


def put_on(masses: Masses) -> None:
    """The wear of the style over whatever hair is there."""
    kind = masses.style.worn
    if kind is Worn.NOTHING:
        return
    tall = {Worn.CAP: 0.035, Worn.KNITTED: 0.030, Worn.BRIM: 0.085}[kind]
    chart, p = masses.chart, masses.skull.head.table
    y = p["hairline_station"] + 0.045 + 0.10 * smooth_step(np.abs(_AZ) / 2.6)
    m_band = np.array([chart.m_of(h, a) for h, a in zip(y.tolist(), _AZ.tolist(), strict=True)])
    s = np.linspace(0, 1, 36)
    m = np.maximum(s[:, None] * m_band[None], 1e-3)
    off = 0.040 + tall * np.sin(PI * s**1.5)[:, None] + 0 * m
    dome = chart.at(m, _AZ[None] + 0 * m, off)
    dome[0] = dome[0].mean(0)
    _sheet(masses, "dome", dome, wraps=True, dome=True)
    wide = 0.13 if kind is Worn.KNITTED else 0.085
    q = np.linspace(0, 1, 8)
    band = np.stack([chart.at(m_band - 0.02 + wide * k, _AZ, 0.046 + 0.006 * np.sin(PI * k)) for k in q.tolist()])
    _sheet(masses, "band", band, wraps=True)
    peak = kind is Worn.CAP
    for row, weight in ((0, 0.75), (-1, 1.0)):
        w: Array = np.full(len(_AZ), weight)
        if row and peak:
            w = w * smooth_step((np.abs(_AZ) - 0.92) / 0.10)
        out = (band[-1] - band[0]) * (1 if row else -1)
        masses.lines.append(Line(band[row], Pen.EDGE, np.where(w > 0, w, -1.0), "band", out, True, "band"))
    if kind is Worn.KNITTED:
        for az in np.linspace(-PI, PI, 29)[:-1].tolist():
            points = np.stack(
                [
                    chart.at(float(np.interp(az, _AZ, m_band)) - 0.02 + wide * k, az, 0.054)
                    for k in np.linspace(0.12, 0.88, 8).tolist()
                ]
            )
            masses.strand(points, 0.9, "rib", surface="band", lift=0.010, beside=False)
    elif peak:
        _peak(masses, band[-2])
    else:
        _brim(masses, band[-2])


def _sheet(masses: Masses, name: str, points: Array, wraps: bool, dome: bool = False, inside: Array | None = None) -> None:
    normals = facing_from(points, grid_normals(points, wraps), masses.skull.centre if inside is None else inside)
    if dome:
        normals = crowned(normals)
    masses.surfaces.append(Surface(name, points, normals, Stuff.WEAR, wraps, sheet=not dome))


def _peak(masses: Masses, rim: Array) -> None:
    a = np.linspace(-1.0, 1.0, 41)
    base = np.stack([np.interp(a, _AZ, rim[:, k]) for k in range(3)], -1)
    reach = 0.27 * np.clip(np.cos(a * PI / 2), 0, 1) ** 0.6
    way = unit(np.column_stack([0.35 * np.sin(a), np.full_like(a, 0.30), np.cos(0.5 * a)]))
    t = np.linspace(0, 1, 9)[:, None, None]
    points = base + way * (reach[:, None] * t) + np.array([0, 0.035, 0]) * t**2
    _sheet(masses, "peak", points, False, inside=np.array([0, 2.0, 0]))
    masses.lines.append(Line(points[-1], Pen.EDGE, np.ones(41), "peak", points[-1] - points[-2] + 1e-4, name="peak"))


def _brim(masses: Masses, rim: Array) -> None:
    middle = rim.mean(0)
    way = unit((rim - middle) * np.array([1, 0, 1])) + np.array([0, 0.10, 0])
    reach = 0.24 + 0.04 * np.cos(_AZ)
    t = np.linspace(0, 1, 9)[:, None, None]
    points = rim + way * (reach[:, None] * t) + np.array([0, 0.05, 0]) * t**2
    _sheet(masses, "brim", points, True, inside=middle + np.array([0, 2.0, 0]))
    masses.lines.append(Line(points[-1], Pen.EDGE, np.ones(len(_AZ)), "brim", points[-1] - points[-2] + 1e-4, True, "brim"))
