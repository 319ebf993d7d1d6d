"""Hair that lies on the head: combed back (whole or receding) and cropped."""

from __future__ import annotations

import numpy as np

from ..ink.surface import Line, Pen
from .chart import PI, wrapped
from .masses import Masses

BALD = 0.5
"""From here on a receding hairline leaves nothing to comb over the forehead."""


def combed(masses: Masses) -> None:
    """The cap rises over the forehead; clumps lie over it toward the back."""
    style, chart, p = masses.style, masses.chart, masses.skull.head.table
    masses.cap()
    part = style.part if style.part is not None else 0.0
    ear, nape = p["ear_top_station"], masses.skull.nape
    jobs: list[tuple[float, float, float, float, float, float]] = []
    line = chart.hairline
    if style.recede < BALD:  # from the parting over the forehead to the far side and back, and to the near one
        far = -1 if part > 0 else 1
        for shift, reach, over, end, wide, height in (
            (0.0, 0.97, 0.62, far * 2.55, 0.080, 0.34), (far * 0.34, 0.985, 0.50, far * 2.30, 0.085, 0.44),
            (far * 0.72, 0.99, 0.34, far * 2.10, 0.070, 0.54), (-far * 0.10, 0.97, 0.28, -far * 2.25, 0.065, 0.47),
            (-far * 0.40, 1.0, 0.18, -far * 2.12, 0.050, 0.56),
        ):  # fmt: skip
            jobs.append((part + shift, reach * float(line(part + shift)), over, end, wide, ear + 0.8 * (height - 0.52)))
    for side in (1, -1):
        jobs.append((side * 1.06, 0.86 * float(line(side * 1.06)), 0.14, side * 2.25, 0.042, ear + 0.05))
        jobs.append((side * 2.1, 0.80, 0.0, side * 2.55, 0.070, nape - 0.060))
    jobs.append((PI - 0.25, 0.6, 0.0, PI + 0.10, 0.09, nape - 0.050))
    for i, (start, m0, over, end, wide, y) in enumerate(jobs):
        r = masses.random(i)
        m1 = chart.m_of(y, float(wrapped(end)))
        a, b = (chart.at(m, az) - masses.skull.centre for m, az in ((m0, start), (m1, end)))
        m, az = chart.great(a, b, 36, over)
        masses.ribbon(
            m, az, wide, f"comb {i}", lift=0.009 + 0.005 * (i % 3), bow=0.010, tip=0.45, sharp=0.9, fade_from=0.38 + 0.1 * r,
            lead=0.5 * float(np.sign(r)), root=0.3, sway=0.35 * float(np.sign(end)),
        )  # fmt: skip
        for j in range(round(2 * style.strands)):
            low, high = ((4, 20), (12, 31))[j % 2]
            low, high = low + int(3 * masses.random(i, j, 2)), high + int(3 * masses.random(i, j, 3))
            masses.strand(chart.at(m[low:high], az[low:high] + ((j % 4) - 0.5) * 0.10, 0.032))
    if style.part is not None and style.recede < BALD:
        s = np.linspace(0, 1, 30)
        m = 0.10 + (0.97 * float(line(part)) - 0.10) * s
        masses.line(chart.at(m, np.full_like(m, part), 0.008), 1.3 * np.clip(s / 0.5, 0, 1), "parting", "cap")


def cropped(masses: Masses) -> None:
    """A ground that lies on the skin and ends without a line, with stubble toward its edge."""
    masses.tight = 0.10
    masses.cap(open_edge=True, edge_weight=0.44, edge_pen=Pen.STRAND)
    chart = masses.chart
    for i in range(round(120 * masses.style.strands)):
        az = -PI + 2 * PI * ((i * 0.6180339887) % 1)
        share = 0.55 + 0.42 * np.sqrt((i * 0.7548776662) % 1)
        m = float(chart.hairline(az)) * share + np.linspace(0, 0.022, 4)
        points = masses.skull.skin(m, az + np.linspace(0, 0.02, 4) * np.sign(az), 0.008)
        masses.lines.append(Line(points, Pen.DETAIL, np.array([0.7, 0.9, 0.6, 0.15]), "cap", name="stubble", lift=0.010))
