"""One view of a shape and its lines, drawn: strokes, fills and tones."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from ..kept import remembered
from ..kinds import Array
from .contours import Curves, chosen, planned, together, traced
from .pieces import fills_of, strokes_of
from .rough import rough_strokes, rough_tones
from .shape import Lines, Shape
from .stroke import USUAL, Stroke, Weights
from .tones import tones_of
from .view import Buffer, View, buffered
from .weigh import met, weighed


@dataclass(frozen=True, eq=False)
class Sight:
    """What a view shows of a shape, whatever lines are planned on it."""

    shape: Shape
    view: View
    buffer: Buffer
    contours: Curves | None


@dataclass(frozen=True, eq=False)
class Drawing:
    strokes: tuple[Stroke, ...]
    fills: tuple[tuple[str, Array], ...]
    """Name and closed shape, in the order they are painted."""
    tones: dict[str, list[Array]]


@remembered(8)
def sight(shape: Shape, view: View, coarse: bool = False) -> Sight:
    """A shape seen. Kept while both are the same: a feature dragged asks for nothing of it again. ``coarse``: while it moves."""
    return Sight(shape, view, buffered(shape, view, not coarse), traced(shape, view, coarse))


Frame = tuple[float, float, float, float]
RUN_OUT = 0.10
"""Lines that leave the frame run out over this many heads before it."""


def drawn(
    s: Sight,
    lines: Lines,
    wanted: Array | None = None,
    mute: Callable[[Curves], Array] | None = None,
    weights: Weights = USUAL,
    frame: Frame | None = None,
    rough: bool = False,
) -> Drawing:
    """Strokes and tones of a sight with its planned lines.

    ``wanted`` says which of the lines this view shows; ``mute`` which contours (by curve) it leaves out; ``frame`` (x, y, width,
    height) is what nothing goes beyond; ``rough``: as while it moves (:mod:`.rough`).
    """
    c = together(s.contours, planned(lines, s.view))
    if c is None:
        return Drawing((), (), {})
    keep = met(c, s.buffer)
    traced_ones = len(c.pen) - len(lines.lines)
    if wanted is not None:
        keep[traced_ones:] &= wanted
    if mute is not None and s.contours is not None:
        keep[:traced_ones] &= ~mute(s.contours)
    if not keep.any():
        return Drawing((), (), {})
    c = chosen(c, keep)
    w = weighed(c, s.buffer, s.shape, weights)
    if frame is not None:
        low, high = np.array(frame[:2]), np.array(frame[:2]) + frame[2:]
        room = np.minimum(c.points[:, :2] - low, high - c.points[:, :2]).min(1) - weights.outer
        w = replace(w, width=w.width * np.clip(room / RUN_OUT, 0, 1), seen=w.seen & (room > 0))
    strokes = (rough_strokes if rough else strokes_of)(c, w, s.shape)
    tones, closing = (rough_tones(s.buffer, s.shape), []) if rough else tones_of(s.buffer, s.shape, strokes, weights)
    if frame is not None:
        tones = {k: [np.clip(p, low, high) for p in shapes] for k, shapes in tones.items()}
        closing = [x for x in closing if ((x.points > low) & (x.points < high)).all()]
    return Drawing((*strokes, *closing), tuple(fills_of(c, w)), tones)


def whole(c: Curves, which: Array) -> Array:
    """By curve: the share of its samples for which something holds."""
    return np.asarray(np.add.reduceat(which.astype(float), c.start[:-1]) / np.diff(c.start))
