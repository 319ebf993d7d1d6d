"""Places on dressed hair a hand can take hold of: lengths and places of the style, and which way each moves."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..features.table import feature
from ..ink.shape import CENTRE
from ..ink.view import View
from ..kinds import Array
from .chart import PI
from .dressed import Hair

SHORTEST = 0.05
"""Heads a handle must move in the picture for its whole range, or it points at the viewer and is left out (own)."""


@dataclass(frozen=True)
class HairHandle:
    """A parameter's handle as it is seen: its place in heads about the centre, and how far it moves for one unit."""

    key: str
    words: str
    value: float
    at: tuple[float, float]
    way: tuple[float, float]

    def value_at(self, x: float, y: float) -> float:
        """The parameter's value when the hand is at a place: along the handle's way, within its range."""
        along = (x - self.at[0]) * self.way[0] + (y - self.at[1]) * self.way[1]
        p = feature("hair").parameter(self.key)
        assert p is not None
        return float(min(max(self.value + along / (self.way[0] ** 2 + self.way[1] ** 2), p.low), p.high))


def handles_of(hair: Hair, view: View, values: dict[str, float]) -> list[HairHandle]:
    """Handles of what the style asks for, as a view shows them."""
    out = []
    for key, place, way in _places(hair, view):
        p = feature("hair").parameter(key)
        if p is None or not p.asked(values):
            continue
        two = view.seen(np.stack([place, place + 0.01 * way], 1) - CENTRE[:, None])
        step = (two[:2, 1] - two[:2, 0]) / 0.01
        if np.hypot(*step) * (p.high - p.low) > SHORTEST:
            x, y, dx, dy = (float(v) for v in (*two[:2, 0], *step))
            out.append(HairHandle(key, p.words, values[key], (x, y), (dx, dy)))
    return out


def _places(hair: Hair, view: View) -> Iterator[tuple[str, Array, Array]]:
    """Parameter, where it is in space, and where that goes for one unit more."""
    chart, style, skull = hair.chart, hair.style, hair.skull
    p, down = skull.head.table, np.array([0.0, 1.0, 0.0])
    yield "lift", chart.at(0.0, 0.0), -down
    edge = view.matrix[0]  # what lies to the picture's right
    az = float(np.arctan2(edge[0], edge[2]))
    side = chart.at(0.92, az)
    yield "volume", side, (chart.at(0.92, az, 0.1) - side) / 0.1
    near = 1.0 if view.matrix[2][0] >= 0 else -1.0  # the side that looks at the viewer
    line, brow = p["hairline_station"], p["brow_station"]
    if style.part is not None or round(style.kind) == 3:
        m = 0.6 * float(chart.hairline(style.parting))
        at = chart.at(m, style.parting)
        yield "parting", at, (chart.at(m, style.parting + 0.05) - at) / 0.05
    yield "peak", skull.skin(np.array([float(chart.hairline(0.0))]), np.array([0.0]), 0.01)[0], down
    lock = 0.22 * near
    fringe = chart.at(chart.m_of(line + style.fringe * (brow - line), lock), lock)
    yield "fringe", fringe, down * (brow - line)
    for key, length, azimuth, none in (
        ("sides", style.sides, 1.25 * near, p["ear_top_station"] + 0.09), ("back", style.back, 2.3 * near, skull.nape + 0.02),
    ):  # fmt: skip
        y = skull.hang(length, none)
        more = skull.hang(min(length + 0.1, 3.0), none) - skull.hang(max(length - 0.1, 0.0), none)
        span = min(length + 0.1, 3.0) - max(length - 0.1, 0.0)
        yield key, chart.at(chart.m_of(y, azimuth), azimuth), down * more / max(span, 1e-6)
    turn = PI if round(style.tie) in (0, 1) else 1.75 * near
    yield "high", chart.at(chart.m_of(style.high, turn), turn), down
