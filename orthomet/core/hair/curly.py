"""Curls: balls of several sizes over the mass, each with the line of its own spiral where it is turned from the light."""

from __future__ import annotations

import numpy as np

from ..ink.surface import smooth_step, unit
from ..kinds import Array
from .chart import AZIMUTHS, PI, ROWS, STEP_A, STEP_M, wrapped
from .masses import Masses

SIZES = (1.25, 0.92, 1.08, 0.78)
LIGHT = np.array([-0.20, -1.0, 0.62])
"""Where curls are lit from: there they stay empty (own)."""


def curly(masses: Masses) -> None:
    away = np.abs(np.linspace(-PI, PI, 113))
    over_ear = smooth_step((away - 1.25) / 0.25) * (1 - smooth_step((away - 2.0) / 0.3))
    masses.cap("ground", under=-0.03, shrink=0.93 + 0.22 * over_ear, edge=False, contour=False)
    for i, (centre, r, out) in enumerate(_places(masses)):
        lit = float(out @ unit(LIGHT))
        if masses.random(i, 11) + 0.9 * lit < 0.9 * masses.style.strands:
            _spiral(masses, i, centre, r, out)
        turn = PI * (1 + masses.random(i, 2))
        down = unit(np.array([0.55 * np.cos(turn), 0.75, 0.55 * np.sin(turn)]))
        masses.ball(
            centre, (r, r, r), f"curl {i}", rings=10, spokes=17, outer=out,
            fade=lambda u, d=down: 1.1 * smooth_step((u @ d + 0.15) / 0.55),  # type: ignore[misc]
        )  # fmt: skip


def _places(masses: Masses) -> list[tuple[Array, float, Array]]:
    """Centre, radius and outward direction of every curl, in rings from the crown, smaller toward the face."""
    style, chart, skull = masses.style, masses.chart, masses.skull
    r0 = max(style.curl, 0.045)
    lowest = skull.hang(style.sides, skull.head.table["ear_bottom_station"])
    out = []
    for ring, m0 in enumerate(np.arange(0.04, 2.0, 1.8 * r0).tolist()):
        loop = chart.at(np.full(24, m0), np.linspace(-PI, PI, 24))
        n = max(round(float(np.linalg.norm(np.diff(loop, axis=0), axis=1).sum()) / (1.45 * r0)), 1)
        for i in range(n):
            az = float(wrapped(-PI + 2 * PI * (i + 0.5 * (ring % 2) + 0.22 * masses.random(ring, i)) / n))
            m = m0 + 0.25 * r0 * masses.random(ring, i, 3)
            y = float(chart.at(m, az)[1])
            front = abs(az) < 1.25
            limit = _edge(masses, az) + (0.045 if front else 0)
            if front and abs(az) > 1.16 * skull.temple:
                limit = max(limit, lowest - 0.10)
            if not front:
                limit = lowest
            if y > limit:
                continue
            border = float(smooth_step(np.array((y - limit + 1.6 * r0) / (1.4 * r0)))) if front else 0.0
            size = SIZES[(i * 3 + ring) % 4] * r0 * (1 - 0.22 * border)
            up = 0.28 if (i * 7 + ring * 3) % 3 == 0 else -0.05 if (i + ring) % 2 else -0.35
            at = chart.at(m, az, (up * (1 - border) + 0.10 * border) * size)
            out.append((at, size, unit(chart.at(m, az, 0.1) - chart.at(m, az))))
    return out[:400]


def _edge(masses: Masses, az: float) -> float:
    chart = masses.chart
    row = int(np.clip(float(chart.hairline(az)) / STEP_M, 0, len(ROWS) - 1))
    return float(chart.points[row, int((az + PI) / STEP_A) % len(AZIMUTHS), 1])


def _spiral(masses: Masses, i: int, centre: Array, r: float, out: Array) -> None:
    x = unit(np.cross(out, [0.3, 1.0, 0.2]))
    y = np.cross(out, x)
    q = np.linspace(0, 1, 26)
    a = PI * (1 + masses.random(i, 6)) + (3.4 + masses.random(i, 8)) * q
    k = 0.80 - 0.30 * q
    ring = np.outer(k * np.cos(a), x) + np.outer(k * np.sin(a), y) + np.outer(np.sqrt(1 - k**2), out)
    masses.line(centre + 1.02 * r * ring, 1.15 * np.sin(PI * q**0.8) ** 0.7, "curl")
