"""A figure made ready for ink: its masses as surfaces and its lines, in the ink's own unit.

Drawn at :attr:`Inked.unit` units a head, so that a tall figure's lines are as heavy, and sampled as finely, as its size on the page wants;
the ink knows one unit only. What is drawn comes back in heads from the crown of the standing figure.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..ink.shape import CENTRE, Lines, Shape, stacked
from ..ink.stroke import Stroke
from ..ink.surface import Line, Stuff, Surface
from ..ink.view import Raster
from ..kept import remembered
from ..kinds import Array
from .lines import covers, inner_lines, suit_lines
from .mannequin import Mannequin

TALLEST = 4.9
"""Units the tallest figure is drawn at."""
ROOM, ABOVE = 0.30, 0.95
"""Around the masses, and over the crown for hair and hats; heads."""
BARE_LIFT = 0.003
HAND = ("palm", "finger", "thumb")


@dataclass(frozen=True, eq=False)
class Inked:
    """A mannequin's surfaces and lines, scaled to the ink's unit."""

    mannequin: Mannequin
    unit: float
    shape: Shape
    lines: Lines
    raster: Raster
    part: Array
    """By surface of the body: 0 torso, 1 and 3 the left and right arm, 2 and 4 the legs. A head's surfaces come behind them."""
    hand: Array
    """By surface of the body, whether it is of a hand."""
    size: float
    """How large the body is against its head: small ones are drawn with smaller jumps of depth."""

    def heads(self, points: Array) -> Array:
        """Places of the picture in heads from the crown."""
        return np.asarray((points + CENTRE[:2]) / self.unit)

    def units(self, points: Array) -> Array:
        """The other way round, about the centre."""
        return np.asarray(points * self.unit - CENTRE[:2])

    def stroke(self, s: Stroke) -> Stroke:
        """A stroke in heads."""
        return replace(s, points=self.heads(s.points), widths=s.widths / self.unit)


def unit_of(heads: float) -> float:
    """Units a head is drawn at on a figure of so many heads."""
    return float(min(1.0, TALLEST / max(heads, 0.1)))


def _part(name: str) -> int:
    where, _, side = name.partition("_")
    if where == "torso":
        return 0
    return (2 if where in ("leg", "foot") else 1) + (2 if side == "r" else 0)


@remembered(6)
def inked(m: Mannequin, detail: float | None = None, head: tuple[Surface, ...] = ()) -> Inked:
    """A mannequin made ready. ``detail``: its inner lines, where they are not its own form's; ``head``: what stands on it, heads."""
    unit = unit_of(m.build.heads)
    bare = covers(m)
    surfaces, part = [], []
    for name, skin in m.skins.items():
        points, normals = _closed(skin.points) * unit, _closed(skin.normals)
        of_skin = name.split("_")[0].rstrip("0123456789") in (*HAND, "foot")
        surfaces.append(Surface(name, points, normals, Stuff.SKIN if of_skin else Stuff.WEAR, wraps=True))
        part.append(_part(name))
    for name, where in bare.items():
        skin = m.skins[name]
        points = _closed(skin.points) * unit + BARE_LIFT * _closed(skin.normals)
        hidden = _closed(where[..., None])[..., 0]
        surfaces.append(Surface(f"bare {name}", points, _closed(skin.normals), Stuff.SKIN, True, contour=False, hidden=hidden))
        part.append(_part(name))
    shape = Shape((*surfaces, *(replace(s, points=s.points * unit, contour=False) for s in head)))
    lines = [_scaled(x, unit) for x in (*suit_lines(m), *inner_lines(m, detail))]
    all_ = np.concatenate([s.points.reshape(-1, 3) for s in m.skins.values()])
    wide = (float(np.hypot(all_[:, 0], all_[:, 2]).max()) + ROOM) * unit
    wide = max(wide, 1.0 * unit + 0.1)
    low = (max(m.build.heads, float(all_[:, 1].max())) + ROOM) * unit - CENTRE[1]
    top = [0.0, float(all_[:, 1].min()), *(float(s.points[..., 1].min()) for s in head)]
    raster = Raster(-wide, min(-ABOVE, min(top) - ROOM) * unit - CENTRE[1], wide, low)
    names = [s.name.removeprefix("bare ") for s in surfaces]
    hand = np.array([n.startswith(HAND) for n in names])
    size = float(np.clip(m.build.trunk / 2.54, 0.22, 1.1))
    return Inked(m, unit, shape, stacked(lines, shape), raster, np.array(part), hand, size)


def _closed(grid: Array) -> Array:
    """A tube's grid with its first spoke again behind the last."""
    return np.concatenate([grid, grid[:, :1]], 1)


def _scaled(x: Line, unit: float) -> Line:
    return replace(x, points=x.points * unit, lift=x.lift * unit)
