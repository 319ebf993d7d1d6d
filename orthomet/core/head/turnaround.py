"""A head from several sides in one row, on common level lines; and one head with several expressions."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from ..features.expression import Expression, expressions
from ..kinds import Array
from ..landmarks.turn import Turn
from ..picture import Ink, Layer, Picture, Text, Trace, line, shifted
from .body import LINES, Body, Wear, body
from .drawn import picture
from .scene import BOX, scene_of

VIEWS = (
    ("front", Turn()), ("three-quarter", Turn(yaw=40)), ("profile", Turn(yaw=90)), ("three-quarter back", Turn(yaw=140)), ("back", Turn(yaw=180)),
    ("from above", Turn(pitch=28)), ("from below", Turn(pitch=-28)),
)  # fmt: skip
LEVEL = 5
"""How many of the views look straight ahead, so that the level lines run through them."""
STEP = 1.46
"""From one head's middle to the next, in heads."""


def turnaround(b: Body, guides: bool = True, hidden: bool = False, tints: Mapping[Ink, str] | None = None) -> Picture:
    """All views as one picture in heads; its layers are the same as a single view's, with the level lines before them."""
    found: dict[str, tuple[str, list[Trace | Text]]] = {}
    words: list[Trace | Text] = []
    for k, (name, turn) in enumerate(VIEWS):
        shift = np.array([k * STEP, 0.0])
        gather(found, picture(scene_of(b, turn), guides, hidden, tints=tints), shift, name)
        words.append(Text((k * STEP, BOX[1] + BOX[3] - 0.02), name, size=0.05, align=0))
    ends = (-0.70, (LEVEL - 1) * STEP + 0.70)
    table = b.head.table
    rows = [("crown", 0.0), *((n, table[key]) for n, key in LINES), ("chin", 1.0)]
    level = [line([(ends[0], t - 0.5), (ends[1], t - 0.5)], Ink.PLAN_LINE, n) for n, t in rows]
    layers = [Layer("level-lines", "Level lines", tuple(level))]
    layers += [Layer(k, title, tuple(items)) for k, (title, items) in found.items()]
    layers.append(Layer("names", "Names of the views", tuple(words)))
    x, y, w, h = BOX
    return Picture(tuple(layers), (x, y, w + (len(VIEWS) - 1) * STEP, h), "Turnaround", tints=tuple((tints or {}).items()))


def expression_sheet(
    table: Mapping[str, float],
    points: Array,
    wear: Wear,
    turn: Turn,
    worn: Mapping[str, Expression] | None = None,
    tints: Mapping[Ink, str] | None = None,
) -> Picture:
    """One head with every expression in two rows; the plan is the same in all of them. Without ``worn`` the presets."""
    found: dict[str, tuple[str, list[Trace | Text]]] = {}
    words: list[Trace | Text] = []
    faces = worn or expressions()
    across = max(1, -(-len(faces) // 2))
    for k, (name, e) in enumerate(faces.items()):
        shift = np.array([(k % across) * STEP, (k // across) * BOX[3]])
        s = scene_of(body(table, points, replace(wear, expression=e)), turn)
        drawn = picture(s, guides=False, hidden=False, tints=tints)
        gather(found, drawn, shift, name)
        words.append(Text((float(shift[0]), float(shift[1]) + BOX[1] + BOX[3] - 0.02), name, size=0.06, align=0))
    layers = [Layer(k, title, tuple(items)) for k, (title, items) in found.items()]
    layers.append(Layer("names", "Names of the expressions", tuple(words)))
    x, y, w, h = BOX
    box = (x, y, w + (across - 1) * STEP, h * (2 if len(faces) > across else 1))
    return Picture(tuple(layers), box, "Expressions", tints=tuple((tints or {}).items()))


def gather(found: dict[str, tuple[str, list[Trace | Text]]], drawn: Picture, shift: Array, name: str) -> None:
    """The lines of one view, shifted, into the layers of a sheet."""
    for layer in drawn.layers:
        if layer.visible:
            found.setdefault(layer.id, (layer.title, []))[1].extend(
                shifted(p, shift, f"{name}: {p.name}") for p in layer.items if isinstance(p, Trace)
            )
