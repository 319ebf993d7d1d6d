"""One view of a figure's body: strokes and tones, in heads from the crown."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..ink.contours import chosen, planned, together
from ..ink.drawing import Sight, sight
from ..ink.pieces import strokes_of
from ..ink.stroke import USUAL, Stroke, Weights
from ..ink.surface import Pen, Stuff
from ..ink.tones import gaps, outlines, pull
from ..ink.view import View
from ..ink.weigh import met
from ..kinds import Array
from ..landmarks.turn import Turn
from .inked import Inked
from .weigh import weighed

SOLE = 0.14
"""A foot seen this nearly level has no steady contour underneath: the edge of what is seen is drawn there."""
CRUMB = 0.055
"""A closing piece shorter than this is left out, units."""
RING = 40
"""Samples of a bare edge that is all there is of a shape from which on it is drawn."""


@dataclass(frozen=True, eq=False)
class Body:
    """A body as it is seen."""

    strokes: tuple[Stroke, ...]
    suit: list[Array]
    skin: list[Array]
    whole: list[Array]
    """Closed outlines (even–odd) of all of it."""


def seen(ink: Inked, turn: Turn, weights: Weights = USUAL) -> Body:
    """A body at a turn about its plumb."""
    s = sight(ink.shape, View(turn, raster=ink.raster))
    return drawn(ink, s, weights)


def drawn(ink: Inked, s: Sight, weights: Weights = USUAL) -> Body:
    """Strokes and tones of a sight."""
    strokes = lines_of(ink, s, weights)
    label, raster = s.buffer.label, ink.raster
    kind = ink.shape.stuff_of_label[label]
    masks = {"whole": label >= 0, "suit": kind == Stuff.WEAR, "skin": kind == Stuff.SKIN}
    found = {k: outlines(v, raster) for k, v in masks.items()}
    rows = [p for shapes in found.values() for p in shapes]
    if not rows:
        return Body(tuple(map(ink.stroke, strokes)), [], [], [])
    pulled, bare = pull(np.concatenate(rows), strokes)
    cuts = np.cumsum([len(p) for p in rows])[:-1]
    edges, open_ = np.split(pulled, cuts), np.split(bare, cuts)
    n = len(found["whole"])
    closing = [
        Stroke(p, _width(p, weights), Pen.CONTOUR, "closing")
        for edge, free in zip(edges[:n], open_[:n], strict=True)
        for p in gaps(edge, free, RING)
    ]
    strokes += [c for c in closing if _length(c.points) > CRUMB]
    back = [ink.heads(p) for p in edges]
    m = n + len(found["suit"])
    return Body(tuple(map(ink.stroke, strokes)), back[n:m], back[m:], back[:n])


def lines_of(ink: Inked, s: Sight, weights: Weights = USUAL) -> list[Stroke]:
    """The strokes of a sight, in the ink's unit."""
    c = together(s.contours, planned(ink.lines, s.view))
    if c is None:
        return []
    keep = met(c, s.buffer)
    if not keep.any():
        return []
    c = chosen(c, keep)
    return strokes_of(c, weighed(c, s.buffer, ink, weights), ink.shape)


def _width(p: Array, weights: Weights) -> Array:
    n = np.arange(len(p))
    return np.asarray(weights.outer * np.clip(np.minimum(n + 1, len(p) - n) / 3, 0.45, 1))


def _length(p: Array) -> float:
    return float(np.hypot(*np.diff(p, axis=0).T).sum())
