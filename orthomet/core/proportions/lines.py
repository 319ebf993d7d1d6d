"""Where a reading lies on a picture: the spans it measures, as segments to light up."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from ..landmarks.level import LevelBy, roll_of
from ..landmarks.schema import FRONT, Schema
from .forms import Form
from .registry import Reading


@dataclass(frozen=True)
class Span:
    """A measured span from ``a`` to ``b`` (picture coordinates) along the level (``across``) or the plumb axis, or straight."""

    a: tuple[float, float]
    b: tuple[float, float]
    across: bool
    straight: bool = False


def spans(reading: Reading, xy: Array, by: LevelBy = LevelBy.CENTRE, schema: Schema = FRONT) -> list[Span]:
    """Segments of a reading's own length over points ``(n, 2)``; empty when its landmarks are missing.

    A length across between left and right is one segment; a pair's width is one segment a side; a height is one
    segment beside the points, from the mean of the upper ones to the mean of the lower ones.
    """
    form = reading.over
    index = [schema.index[n] for n in form.needs]
    if not np.isfinite(xy[index]).all():
        return []
    if form.lengths:
        ends = [(xy[schema.index[a]].tolist(), xy[schema.index[b]].tolist()) for a, b in form.lengths]
        return [Span((a[0], a[1]), (b[0], b[1]), False, True) for a, b in ends]
    roll = float(roll_of(xy, by, schema))
    level = np.array([[np.cos(roll), -np.sin(roll)], [np.sin(roll), np.cos(roll)]])
    flat = xy @ level

    def back(x: float, y: float) -> tuple[float, float]:
        p = np.array([x, y]) @ level.T
        return float(p[0]), float(p[1])

    axes = {axis for _, axis in form.terms}
    if axes == {0}:
        return [Span(back(*a), back(*b), True) for a, b in _across(form, flat, schema)]
    up = [(n, v) for (n, _), v in form.terms.items() if v < 0]
    down = [(n, v) for (n, _), v in form.terms.items() if v > 0]
    if not up or not down:
        return []
    top = sum(-v * flat[schema.index[n], 1] for n, v in up) / sum(-v for _, v in up)
    bottom = sum(v * flat[schema.index[n], 1] for n, v in down) / sum(v for _, v in down)
    x = float(np.mean([flat[schema.index[n], 0] for n in form.needs]))
    return [Span(back(x, float(top)), back(x, float(bottom)), False)]


def _across(form: Form, flat: Array, schema: Schema) -> list[tuple[tuple[float, float], tuple[float, float]]]:
    names = sorted(form.needs)
    at = {n: (float(flat[schema.index[n], 0]), float(flat[schema.index[n], 1])) for n in names}
    if len(names) == 2:
        groups = [names]
    elif len(names) == 4:
        groups = [[n for n in names if n.endswith(s)] for s in ("_l", "_r")]
        if any(len(g) != 2 for g in groups):
            return []
    else:
        return []
    out = []
    for a, b in groups:
        y = (at[a][1] + at[b][1]) / 2
        left, right = sorted((at[a][0], at[b][0]))
        out.append(((left, y), (right, y)))
    return out
