"""A two-tone shadow map of a turned head: what a light leaves dark, as shapes.

What is dark is asked of the ink's own cloud of points (:mod:`orthomet.core.ink.shade`); here the light is named, and the
band under the upper lids added that belongs to any light from above (common practice).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..errors import FormatError
from ..ink.shade import shaded
from ..ink.surface import Stuff
from ..ink.tones import pull
from ..ink.view import as_steps, cell_of
from ..kinds import Array
from ..picture import Ink, Layer, Picture, Trace, line
from .inked import FEATURE_LIFT
from .scene import BOX, Scene

LID_SHARE = 0.22
LIGHT_HEIGHT, LIGHT_AZIMUTH = 89.0, 180.0


@dataclass(frozen=True)
class Light:
    """Where the light comes from, degrees, seen by the viewer: to the picture's right of straight ahead, and above."""

    azimuth: float = -35.0
    height: float = 45.0

    @property
    def direction(self) -> Array:
        """Toward the light: x right, y down, z to the viewer."""
        a, h = np.radians(self.azimuth), np.radians(self.height)
        return np.array([np.sin(a) * np.cos(h), -np.sin(h), np.cos(a) * np.cos(h)])


def light_at(azimuth: float, height: float) -> Light:
    """A light somebody asked for, in degrees.

    Raises
    ------
    FormatError
        Outside of what a light can be.
    """
    if not (abs(azimuth) <= LIGHT_AZIMUTH and abs(height) <= LIGHT_HEIGHT):
        raise FormatError(
            f"A light stands within ±{LIGHT_AZIMUTH:g}° across and ±{LIGHT_HEIGHT:g}° above; {azimuth:g}, {height:g} does not."
        )
    return Light(azimuth, height)


def shadow(s: Scene, light: Light) -> list[Trace]:
    """Shapes of the head that lie in shadow, in heads about its centre: hair, skin, and under the lids."""
    found = shaded(s.sight, light.direction)
    shapes: list[Trace] = []
    for kind in (Stuff.HAIR, Stuff.WEAR, Stuff.SKIN):
        edges = found.get(kind, [])
        if edges:
            pulled, _ = pull(np.concatenate(edges), s.drawing.strokes)
            cuts = np.cumsum([len(e) for e in edges])[:-1]
            low, high = np.array(BOX[:2]), np.array(BOX[:2]) + BOX[2:]
            first, *more = np.split(np.clip(pulled, low, high), cuts)
            shapes.append(Trace(first, Ink.SHADE, True, True, f"shadow on {kind.name.lower()}", holes=tuple(more)))
    return [*shapes, *_under_lids(s, light)]


def _under_lids(s: Scene, light: Light) -> list[Trace]:
    """The upper lid's shadow on the eye, for a light from above."""
    if light.height <= 5:
        return []
    lines = s.body.lines
    at = {x.name: slice(lines.start[k], lines.start[k + 1]) for k, x in enumerate(lines.lines)}
    out = []
    for k in "lr":
        if f"upper lid {k}" not in at or f"lower lid {k}" not in at:
            continue
        up, low = (s.sight.view.seen(lines.points[at[f"{n} lid {k}"]].T).T for n in ("upper", "lower"))
        cell = cell_of(up[:, 0].astype(np.float32), up[:, 1].astype(np.float32))
        seen = s.sight.buffer.lowest[cell] <= as_steps(up[:, 2] + FEATURE_LIFT)
        if len(up) != len(low) or seen.mean() < 0.6:
            continue
        share = LID_SHARE * min(light.height / 45, 1.2)
        band = up + share * (low - up)
        shape = np.concatenate([up, band[::-1]])[:, :2]
        out.append(line(shape, Ink.SHADE, f"lid shadow {k}", closed=True, filled=True))
    return out


def with_shadow(picture: Picture, s: Scene, light: Light) -> Picture:
    """The picture of a view with its shadows over the tones and under the outline."""
    dark = Layer("shadow", "Shadow", tuple(shadow(s, light)))
    k = next(i for i, layer in enumerate(picture.layers) if layer.id == "outline")
    return replace(picture, layers=(*picture.layers[:k], dark, *picture.layers[k:]))
