"""A skull dressed in a style: its surfaces and lines, and how it presses the ears."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from ..head.solid import Solid
from ..ink.surface import Line, Surface
from ..kinds import Array
from .chart import Chart, Skull, skull_of
from .close import combed, cropped
from .curly import curly
from .loose import loose
from .masses import Masses
from .style import Big, Style
from .tied import tied
from .wear import put_on

BUILD = {Big.LOOSE: loose, Big.COMBED: combed, Big.TIED: tied, Big.CURLY: curly, Big.CROPPED: cropped}
UNDER_HAIR = 0.045
"""How far under the hair ears are pressed, heads (own)."""


@dataclass(frozen=True, eq=False)
class Hair:
    style: Style
    skull: Skull
    chart: Chart
    surfaces: tuple[Surface, ...]
    lines: tuple[Line, ...]

    @cached_property
    def landmarks(self) -> dict[str, Array]:
        """Where the hair's own landmarks lie, heads: its top, its widest places, its parting where it has one."""
        chart, style = self.chart, self.style
        out = {"hair_top": chart.at(0.0, 0.0)}
        m = np.linspace(0.5, 1.2, 29)
        for side, k in ((1, "l"), (-1, "r")):
            row = chart.at(m, np.full_like(m, side * np.pi / 2))
            out[f"hair_side_{k}"] = row[int(np.argmax(np.abs(row[:, 0])))]
        if style.part is not None or style.big is Big.TIED:
            out["parting"] = chart.at(0.9 * float(chart.hairline(style.parting)), style.parting)
        return out

    @property
    def over_ears(self) -> bool:
        return self.style.big is Big.LOOSE and self.style.sides > 0.3

    @property
    def hides_ears(self) -> bool:
        """Whether the sides end below the ears: what shows between clumps then is hair, not ear."""
        return self.style.big is Big.LOOSE and self.style.sides > 0.55 and self.style.swept < 0.5

    def pressed(self, points: Array) -> Array:
        """Points of an ear held to the head by the hair over it."""
        if not self.over_ears:
            return points
        centre = self.skull.centre
        az = np.arctan2(points[..., 0], points[..., 2] - centre[2])
        on = self.chart.at(1 + np.maximum(points[..., 1] - centre[1], 0), az)
        most = np.hypot(on[..., 0], on[..., 2] - centre[2]) - UNDER_HAIR
        k = np.minimum(1, most / np.maximum(np.hypot(points[..., 0], points[..., 2] - centre[2]), 1e-6))
        return np.stack([points[..., 0] * k, points[..., 1], centre[2] + (points[..., 2] - centre[2]) * k], -1)

    def covers(self, points: Array) -> Array:
        """Share by which skull points lie within the hair's own ground: 1 where they are never seen."""
        d = points - self.skull.centre
        theta = np.arccos(np.clip(-d[..., 1] / np.maximum(np.linalg.norm(d, axis=-1), 1e-9), -1, 1)) / (np.pi / 2)
        line = np.minimum(self.chart.hairline(np.arctan2(d[..., 0], d[..., 2])), 1.0)
        return np.asarray(line - theta)


@lru_cache(maxsize=10)
def dressed(head: Solid, style: Style) -> Hair | None:
    """A head's hair; ``None`` where the style is none. Kept while head and style are the same."""
    if style.big is Big.NONE:
        return None
    skull = skull_of(head)
    chart = Chart(skull, style)
    masses = Masses(skull, style, chart)
    BUILD[style.big](masses)
    put_on(masses)
    return Hair(style, skull, chart, tuple(masses.surfaces), tuple(masses.lines))
