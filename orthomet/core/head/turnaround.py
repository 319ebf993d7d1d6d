"""A head from several sides in one row, on common level lines: what a model sheet starts from."""

from __future__ import annotations

import numpy as np

from ..landmarks.turn import Turn
from ..picture import Layer, Path, Picture, Role, Text, line
from .scene import BOX, LINES, Body, picture, scene_of

VIEWS = (
    ("front", Turn()), ("three-quarter", Turn(yaw=40)), ("profile", Turn(yaw=90)), ("three-quarter back", Turn(yaw=140)), ("back", Turn(yaw=180)),
    ("from above", Turn(pitch=28)), ("from below", Turn(pitch=-28)),
)  # fmt: skip
LEVEL = 5
"""How many of the views look straight ahead, so that the level lines run through them."""
STEP = 1.18
"""From one head's middle to the next, in heads."""


def turnaround(b: Body, guides: bool = True, hidden: bool = False) -> Picture:
    """All views as one picture in heads; its layers are the same as a single view's, with the level lines before them."""
    found: dict[str, tuple[str, list[Path | Text]]] = {}
    words: list[Path | Text] = []
    for k, (name, turn) in enumerate(VIEWS):
        shift = np.array([k * STEP, 0.0])
        for layer in picture(scene_of(b, turn), guides, hidden).layers:
            if layer.visible:
                found.setdefault(layer.id, (layer.title, []))[1].extend(
                    line(p.points + shift, p.role, f"{name}: {p.name}", p.closed, p.filled)
                    for p in layer.items
                    if isinstance(p, Path)
                )
        words.append(Text((k * STEP, BOX[1] + BOX[3] - 0.02), name, size=0.05, align=0))
    ends = (-0.60, (LEVEL - 1) * STEP + 0.60)
    table = b.head.table
    rows = [("crown", 0.0), *((n, table[key]) for n, key in LINES), ("chin", 1.0)]
    level = [line([(ends[0], t - 0.5), (ends[1], t - 0.5)], Role.PLAN_LINE, n) for n, t in rows]
    layers = [Layer("level-lines", "Level lines", tuple(level))]
    layers += [Layer(k, title, tuple(items)) for k, (title, items) in found.items()]
    layers.append(Layer("names", "Names of the views", tuple(words)))
    x, y, w, h = BOX
    return Picture(tuple(layers), (x, y, w + (len(VIEWS) - 1) * STEP, h), "Turnaround")
