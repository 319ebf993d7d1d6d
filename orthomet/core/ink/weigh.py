"""How heavy each sample of a curve is drawn, and whether it is seen: both by what the buffer knows about its place."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..kinds import Array
from .contours import Curves, gaussian, softened, spans
from .shape import FORMS, GROUND, Shape
from .stroke import Weights
from .surface import CELLS, Pen, Stuff
from .view import Buffer, as_steps

BEYOND = 0.017
"""How far over a line it is asked what lies there, heads."""
DOUBLE = (0.0105, 0.015, 0.036)
"""A line inside a mass that runs along its outline between these distances doubles it: from, from for edges, to."""
ALONG = 0.80
FRINGE = 0.026
"""Strands end this far before the outline."""
FLICKER = 3
"""Samples: shorter gaps and crumbs of what is seen are closed."""


@dataclass(frozen=True, eq=False)
class Weighed:
    width: Array
    seen: Array
    blunt: Array
    """Where a line that ends has run under something else, or goes on as another's outline: it does not taper."""


def met(c: Curves, buffer: Buffer) -> Array:
    """By curve, whether anything of it is seen: half of all lie on the far side, and need not be weighed."""
    _, seen = visible(c, buffer)
    return np.asarray(np.logical_or.reduceat(seen, c.start[:-1]))


def visible(c: Curves, buffer: Buffer) -> tuple[Array, Array]:
    """The cell of every sample, and whether nothing hides it."""
    at = buffer.raster.cell_of(c.points[:, 0].astype(np.float32), c.points[:, 1].astype(np.float32))
    return at, buffer.lowest[at] <= as_steps(c.points[:, 2] + c.lift)


def weighed(c: Curves, buffer: Buffer, shape: Shape, weights: Weights) -> Weighed:
    owner = c.owner
    at, seen = visible(c, buffer)
    form = np.array([p in FORMS for p in c.pen])[owner]
    edge = np.array([p is Pen.EDGE for p in c.pen])[owner]
    hairline = np.array([n == "hairline" for n in c.name])[owner]
    beside = c.beside[owner]
    stuff_of = np.where(c.surface >= 0, shape.stuff[c.surface], Stuff.SKIN)
    own = stuff_of[owner]
    deep = np.where(c.surface >= 0, shape.deep[c.surface], False)[owner]
    # what lies beyond the line
    way = c.outward / np.maximum(np.hypot(*c.outward.T), 1e-6)[:, None] * BEYOND
    out = (c.points[:, :2] + way).astype(np.float32)
    there = buffer.raster.cell_of(out[:, 0], out[:, 1])
    label = buffer.flat[there]
    beyond = shape.stuff_of_label[label]
    into = (beyond == Stuff.HAIR) & (label >= 0) & ((label & 1 == 1) | shape.deep[np.maximum(label, 0) >> 1]) & ~deep
    far, along = _within_hair(c, at, buffer, shape)

    own_weight = {Pen.FEATURE: weights.feature, Pen.DETAIL: weights.detail}
    base = np.array([own_weight.get(p, weights.strand) for p in c.pen])[owner]
    base = np.where(form, np.where(beyond == GROUND, weights.outer, np.where(beyond != own, weights.edge, weights.inner)), base)
    against = form & ((beyond != own) | into) & (own != Stuff.SKIN) & (c.profile >= 0)
    share = np.where(against, np.maximum(c.profile, np.where(beyond == GROUND, 1.0, 0.85)), np.maximum(c.profile, 0))
    doubles = (
        form
        & ~hairline
        & (own == Stuff.HAIR)
        & (far > np.where(edge, DOUBLE[1], DOUBLE[0]))
        & (far < DOUBLE[2])
        & (along > ALONG)
    )
    share = np.where(doubles, 0.0, share)
    share = np.where(beside, share * np.clip((far - FRINGE) / FRINGE, 0, 1), share)
    width = base * share
    soft = softened(width[None], owner, gaussian(2.0, 6))[0]
    width = np.where(form | beside, soft, width)

    seen = mended(seen, owner)
    above = buffer.flat[at] >> 1  # the mass one sees here; where it is the own one the form turns under itself: a cusp
    blunt = form & (
        ((beyond == GROUND) & (own == Stuff.HAIR) & ~edge & (c.profile < 0.6))
        | (~seen & (above >= 0) & (above != c.surface[owner]))
    )
    return Weighed(width, seen, blunt)


def _within_hair(c: Curves, at: Array, buffer: Buffer, shape: Shape) -> tuple[Array, Array]:
    """How far the hair goes on around a sample, in heads, and how nearly the curve runs along its outline there."""
    if not (shape.stuff == Stuff.HAIR).any():
        none = np.zeros(len(at))
        return none, none
    wide = buffer.raster.wide
    mask = (shape.stuff_of_label[buffer.flat] == Stuff.HAIR).astype(np.uint8).reshape(-1, wide)
    within = cv2.distanceTransform(mask, cv2.DIST_L2, 3).ravel()
    last = mask.size - 1
    gx = within[np.minimum(at + 2, last)] - within[np.maximum(at - 2, 0)]
    gy = within[np.minimum(at + 2 * wide, last)] - within[np.maximum(at - 2 * wide, 0)]
    run = np.gradient(c.points[:, :2], axis=0)
    along = np.abs(run[:, 1] * gx - run[:, 0] * gy) / np.maximum(np.hypot(gx, gy) * np.hypot(*run.T), 1e-9)
    return within[at] / CELLS, along


def mended(seen: Array, owner: Array) -> Array:
    """Gaps closed, then crumbs dropped; both only within a curve."""
    v = seen.copy()
    for value in (False, True):
        a, b = spans(v, owner)
        inner = (a > 0) & (b < len(v))
        inner[inner] = (owner[a[inner] - 1] == owner[a[inner]]) & (owner[b[inner]] == owner[a[inner]])
        wrong = inner & (b - a < FLICKER) & (v[a] == value)
        if wrong.any():
            change = np.zeros(len(v) + 1, int)
            np.add.at(change, a[wrong], 1)
            np.add.at(change, b[wrong], -1)
            v ^= change.cumsum()[:-1].astype(bool)
    return v
