"""One view of a figure's body: strokes and tones, in heads from the crown."""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from ..ink.contours import Curves, chosen, planned, spans, together
from ..ink.drawing import Sight, sight
from ..ink.loops import without_loops
from ..ink.pieces import strokes_of
from ..ink.stroke import USUAL, Stroke, Weights, length
from ..ink.surface import Pen
from ..ink.tones import gaps, outlines, pull
from ..ink.view import View
from ..ink.weigh import met
from ..kinds import Array
from ..landmarks.turn import Turn
from .heads import Worn
from .inked import Inked
from .weigh import weighed

SOLE = 0.14
"""A foot seen this nearly level has no steady contour underneath: the edge of what is seen is drawn there."""
CRUMB = 0.055
"""A closing piece shorter than this is left out, units."""
LOOP = 0.14
"""Longest loop a pen does not draw, units."""
STRAY = 0.025
"""Shorter contours are no lines, units."""
RING = 40
"""Samples of a bare edge that is all there is of a shape from which on it is drawn."""


@dataclass(frozen=True, eq=False)
class Seen:
    """A figure as it is seen."""

    strokes: tuple[Stroke, ...]
    """Of the body."""
    head: tuple[Stroke, ...]
    fills: tuple[tuple[str, Array], ...]
    """Of the head: name and closed shape, in the order they are painted."""
    tones: dict[str, list[Array]]
    """Closed shapes (even–odd), to be painted in this order: each lies over those before it. ``suit`` is the whole silhouette."""

    @property
    def silhouette(self) -> list[Array]:
        return self.tones["suit"]


def seen(ink: Inked, turn: Turn, weights: Weights = USUAL, head: Worn | None = None) -> Seen:
    """A figure at a turn about its plumb."""
    s = sight(ink.shape, View(turn, raster=ink.raster))
    strokes = lines_of(ink, s, weights)
    over: list[Stroke] = []
    fills: list[tuple[str, Array]] = []
    if head is not None:
        over, fills = _head(ink, s, head, turn, weights)
    masks = _masks(ink, s)
    found = [(name, p) for name, mask in masks.items() for p in outlines(mask, ink.raster, name == "inside")]
    tones: dict[str, list[Array]] = {name: [] for name in masks}
    if found:
        pulled, bare = pull(np.concatenate([p for _, p in found]), [*strokes, *over])
        start = 0
        for name, p in found:
            at = slice(start, start + len(p))
            start += len(p)
            tones[name].append(ink.heads(pulled[at]))
            if name == "suit":
                pieces = (
                    Stroke(g, _width(g, weights), Pen.CONTOUR, "closing")
                    for g in gaps(pulled[at], _of_body(ink, s, pulled[at], bare[at]), RING)
                )
                strokes += [g for g in pieces if length(g.points) > CRUMB]
    return Seen(tuple(map(ink.stroke, strokes)), tuple(map(ink.stroke, over)), tuple((n, ink.heads(p)) for n, p in fills), tones)


def _masks(ink: Inked, s: Sight) -> dict[str, Array]:
    """What each tone covers, with all that is painted over it."""
    label = s.buffer.label
    n = 2 * len(ink.part)
    kind = ink.shape.tone_of_label[label]  # 1 hair, 2 its inside, 3 what is worn: on the body that is the suit
    there, own = label >= 0, (label >= 0) & (label < n)
    inside = (kind == 2) & there
    hair = ((kind == 1) & there) | inside
    return {
        "suit": there,
        "skin": there & ~(own & (kind == 3)),
        "hair": hair,
        "inside": inside,
        "wear": there & ~own & (kind == 3),
    }


def _of_body(ink: Inked, s: Sight, edge: Array, bare: Array) -> Array:
    """Where an edge without a line is the body's, not the head's."""
    label = s.buffer.label
    n = 2 * len(ink.part)
    near = cv2.dilate((label >= n).astype(np.uint8), np.ones((7, 7), np.uint8)).ravel()
    at = ink.raster.cell_of(edge[:, 0].astype(np.float32), edge[:, 1].astype(np.float32))
    return np.asarray(bare & (near[at] == 0))


def _head(ink: Inked, s: Sight, head: Worn, turn: Turn, weights: Weights) -> tuple[list[Stroke], list[tuple[str, Array]]]:
    """The head's strokes and fills in the ink's unit; what the body covers is cut off."""
    d, middle = head.drawing(turn, weights)
    grown = ink.unit**-0.5  # a head on a tall figure is drawn small, and its lines with it, though less
    own = (s.buffer.label >= 0) & (s.buffer.label < 2 * len(ink.part))
    covered = cv2.erode(own.astype(np.uint8), np.ones((5, 5), np.uint8)).ravel() > 0
    strokes: list[Stroke] = []
    for x in d.strokes:
        p = ink.units(x.points + middle)
        w = x.widths * ink.unit * grown
        free = ~covered[ink.raster.cell_of(p[:, 0].astype(np.float32), p[:, 1].astype(np.float32))]
        if free.all():
            strokes.append(replace(x, points=p, widths=w))
            continue
        a, b = spans(free, np.zeros(len(free), int))
        strokes += [
            replace(x, points=p[i:j], widths=w[i:j], closed=False)
            for i, j in zip(a.tolist(), b.tolist(), strict=True)
            if free[i] and j - i > 2
        ]
    fills = [(n, ink.units(p + middle)) for n, p in d.fills if len(p) > 2]
    return strokes, fills


def lines_of(ink: Inked, s: Sight, weights: Weights = USUAL) -> list[Stroke]:
    """The strokes of a sight, in the ink's unit."""
    c = together(s.contours, planned(ink.lines, s.view))
    if c is None:
        return []
    keep = met(c, s.buffer)
    if not keep.any():
        return []
    c = chosen(c, keep)
    w = weighed(c, s.buffer, ink, weights)
    strokes = without_loops(strokes_of(c, replace(w, seen=w.seen & ~_soles(c, ink, s.view)), ink.shape), LOOP)
    return [x for x in strokes if x.pen is not Pen.CONTOUR or length(x.points) > STRAY]


def _soles(c: Curves, ink: Inked, view: View) -> Array:
    """Contour under a foot that is seen level, which is none to rely on."""
    out = np.zeros(len(c.points), bool)
    down = view.matrix[:, 1]
    if abs(down[2]) >= SOLE:
        return out
    owner = c.owner
    way = c.outward / np.maximum(np.hypot(*c.outward.T), 1e-9)[:, None]
    for side in "lr":
        mine = (c.surface == ink.shape.index[f"foot_{side}"])[owner] & np.array([p is Pen.CONTOUR for p in c.pen])[owner]
        out |= mine & (way @ down[:2] > 0.975)
    return out


def _width(p: Array, weights: Weights) -> Array:
    n = np.arange(len(p))
    return np.asarray(weights.outer * np.clip(np.minimum(n + 1, len(p) - n) / 3, 0.45, 1))
