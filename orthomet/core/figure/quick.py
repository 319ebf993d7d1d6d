"""A figure while it is being turned or its body is being dragged: every other row and spoke, a coarse buffer, no joining of strokes.

Contours, what hides what, the suit's edges and the strongest lines are as in the full drawing; what is left out is what the eye does not
miss for the moment: exact crossings, tapers, the finest inner lines.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import cv2
import numpy as np

from ..ink.contours import Curves, chosen, planned, spans, together, traced
from ..ink.drawing import Sight
from ..ink.shape import CENTRE, FORMS, Shape, stacked
from ..ink.stroke import Stroke, Weights
from ..ink.surface import Pen, Surface, thinned
from ..ink.view import View, buffered
from ..ink.weigh import visible
from ..kept import remembered
from ..kinds import Array
from ..landmarks.turn import Turn
from .heads import Worn
from .inked import Inked
from .seen import Seen

COARSE = 0.40
"""Of the full drawing's unit: cells a head, and samples along a line."""
STRONG = 0.75
"""Inner lines whose profile reaches this are drawn."""
INNER = 0.55
BEYOND = 0.0185
SUNK = 0.022
LEAST = 2
"""Cells a shape is wide at least."""


@dataclass(frozen=True, eq=False)
class Quick:
    """A figure made ready for quick views."""

    ink: Inked
    head: Worn | None
    weights: Weights

    @cached_property
    def coarse(self) -> Inked:
        """Its surfaces thinned out and shrunk, those of the head with contours of their own."""
        unit = self.ink.unit * COARSE
        body = tuple(_small(s, COARSE, 2, s.contour) for s in self.ink.shape.surfaces[: len(self.ink.part)])
        shape = Shape((*body, *(_of_head(self.head, unit) if self.head is not None else ())))
        lines = [x for x in self.ink.lines.lines if x.pen is not Pen.STRAND or float(x.profile.max()) > STRONG]
        lines = [replace(x, points=x.points * COARSE, lift=max(x.lift * COARSE, 0.006)) for x in lines]
        if self.head is not None:
            put = self.head
            for x in put.lines.lines:
                if x.pen in (Pen.FEATURE, Pen.FILL) and x.surface == "head" and len(x.points) > 3:
                    points = put.put(x.points) * unit
                    lines.append(replace(x, points=points, lift=0.02, normals=None, group="", outward=None))
        r = self.ink.raster
        shrunk = replace(r, left=r.left * COARSE, right=r.right * COARSE, top=(r.top + CENTRE[1]) * COARSE - CENTRE[1],
                         bottom=(r.bottom + CENTRE[1]) * COARSE - CENTRE[1])  # fmt: skip
        return replace(self.ink, unit=unit, shape=shape, lines=stacked(lines, shape), raster=shrunk)

    def at(self, turn: Turn) -> Seen:
        """The figure at a turn, quickly."""
        return self.seen(self.coarse, turn, self.weights)

    @staticmethod
    def seen(ink: Inked, turn: Turn, weights: Weights) -> Seen:
        """A coarse figure seen at a turn."""
        view = View(turn, raster=ink.raster)
        s = Sight(ink.shape, view, buffered(ink.shape, view), traced(ink.shape, view))
        strokes, fills = _lines(ink, s, weights)
        return Seen(strokes, (), fills, _tones(ink, s))


@remembered(6)
def _of_head(head: Worn, unit: float) -> tuple[Surface, ...]:
    """A head's surfaces, thinned out. Kept while the body under it changes."""
    return tuple(_small(s, unit, 3, True) for s in head.surfaces)


def _small(s: Surface, k: float, every: int, contour: bool) -> Surface:
    """Every so manieth row and column of a surface, smaller."""
    s = thinned(s, every)
    sunk = SUNK * k * s.normals if s.name == "head" else 0.0  # so that thin hair is not pierced by it
    return replace(s, points=s.points * k - sunk, contour=contour)


def _lines(ink: Inked, s: Sight, weights: Weights) -> tuple[tuple[Stroke, ...], tuple[tuple[str, Array], ...]]:
    c = together(s.contours, planned(ink.lines, s.view))
    if c is None:
        return (), ()
    _, seen = visible(c, s.buffer)
    keep = np.logical_or.reduceat(seen, c.start[:-1])
    if not keep.any():
        return (), ()
    if not keep.all():
        seen = seen[keep[c.owner]]
        c = chosen(c, keep)
    owner = c.owner
    form = np.array([p in FORMS for p in c.pen])[owner]
    way = c.outward / np.maximum(np.hypot(*c.outward.T), 1e-6)[:, None] * BEYOND
    p = (c.points[:, :2] + way).astype(np.float32)
    ground = s.buffer.flat[ink.raster.cell_of(p[:, 0], p[:, 1])] < 0
    pens = np.array([{Pen.FEATURE: weights.feature, Pen.DETAIL: weights.detail}.get(x, weights.strand) for x in c.pen])[owner]
    width = np.where(form, weights.outer * np.where(ground, 1.0, INNER), pens * c.profile) * COARSE / ink.unit
    fill = np.array([x is Pen.FILL for x in c.pen])[owner]
    a, b = spans(seen & ~fill, owner)
    on = (seen & ~fill)[a] & (b - a > 2)
    heads = ink.heads(c.points[:, :2])
    strokes = tuple(
        Stroke(heads[i:j], width[i:j], c.pen[k], c.name[k])
        for i, j, k in zip(a[on].tolist(), b[on].tolist(), owner[a[on]].tolist(), strict=True)
    )
    return strokes, tuple(_fills(c, seen, heads))


def _fills(c: Curves, seen: Array, heads: Array) -> list[tuple[str, Array]]:
    out = []
    for k, pen in enumerate(c.pen):
        if pen is Pen.FILL:
            i, j = int(c.start[k]), int(c.start[k + 1])
            if seen[i:j].mean() > 0.5:
                out.append((c.name[k], heads[i:j]))
    return out


def _tones(ink: Inked, s: Sight) -> dict[str, list[Array]]:
    """Flat tones, their edges as the coarse cells have them."""
    label = s.buffer.label
    n = 2 * len(ink.part)
    kind = ink.shape.tone_of_label[label]
    there = label >= 0
    own = there & (label < n)
    hair = there & ((kind == 1) | (kind == 2))
    masks = {
        "suit": there,
        "skin": there & ~(own & (kind == 3)),
        "hair": hair,
        "inside": there & (kind == 2),
        "wear": there & ~own & (kind == 3),
    }
    return {name: edges(ink, mask) for name, mask in masks.items()}


def edges(ink: Inked, mask: Array) -> list[Array]:
    """Closed outlines of a mask of the coarse cells, heads from the crown."""
    if not mask.any():
        return []
    closed = cv2.morphologyEx(mask.astype(np.uint8) * 255, cv2.MORPH_CLOSE, np.ones((3, 3), np.uint8))
    twice = cv2.resize(closed, None, fx=2, fy=2, interpolation=cv2.INTER_LINEAR)
    _, twice = cv2.threshold(cv2.blur(twice, (3, 3)), 127, 255, cv2.THRESH_BINARY)
    found, _ = cv2.findContours(twice, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    r = ink.raster
    out = []
    for c in found:
        if len(c) >= 8 * LEAST:
            p = (c[::2, 0] + 0.5) / 2
            out.append(ink.heads(np.column_stack([p[:, 0] / 100 + r.left, p[:, 1] / 100 + r.top])))
    return out
