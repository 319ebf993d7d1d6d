"""Several heads side by side from the front, on the level lines of the first: versions of one character compared."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..features.choices import PLAIN, FeatureChoices
from ..features.pens import USUAL_PENS, LinePlan
from ..kinds import Array
from ..landmarks.turn import Turn
from ..picture import Ink, Layer, Picture, Text, Trace, line
from .body import LINES, Wear, body
from .drawn import picture
from .scene import BOX, scene_of
from .turnaround import STEP, gather


@dataclass(frozen=True)
class Shown:
    """One head of the row."""

    name: str
    table: Mapping[str, float]
    points: Array
    choices: FeatureChoices = PLAIN
    pens: LinePlan = USUAL_PENS


def line_up(heads: Sequence[Shown], turn: Turn | None = None) -> Picture:
    """The heads in a row, all as tall, names below; level lines where the first one's features are."""
    found: dict[str, tuple[str, list[Trace | Text]]] = {}
    words: list[Trace | Text] = []
    for k, h in enumerate(heads):
        b = body(h.table, h.points, Wear(choices=h.choices, pens=h.pens))
        gather(found, picture(scene_of(b, turn or Turn()), guides=False, hidden=False), np.array([k * STEP, 0.0]), h.name)
        words.append(Text((k * STEP, BOX[1] + BOX[3] - 0.02), h.name, size=0.06, align=0))
    first = heads[0].table
    rows = [("crown", 0.0), *((n, first[key]) for n, key in LINES), ("chin", 1.0)]
    ends = (-0.55, (len(heads) - 1) * STEP + 0.55)
    level = [line([(ends[0], t - 0.5), (ends[1], t - 0.5)], Ink.PLAN_LINE, n) for n, t in rows]
    layers = [Layer("level-lines", "Level lines", tuple(level))]
    layers += [Layer(k, title, tuple(items)) for k, (title, items) in found.items()]
    layers.append(Layer("names", "Names", tuple(words)))
    x, y, w, h_box = BOX
    return Picture(tuple(layers), (x, y, w + (len(heads) - 1) * STEP, h_box), "Versions")
