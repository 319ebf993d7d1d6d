"""How heavy a figure's lines are: by what lies beyond them, and how far beyond.

Before bare ground a contour has its full weight. Before the figure itself its weight grows with the jump in depth, so that a contour which
runs into the form loses its width of itself: groin, armpit and shoulder fade without a rule of their own.
"""

from __future__ import annotations

import numpy as np

from ..ink.contours import STEP, Curves, gaussian, softened
from ..ink.shape import FORMS
from ..ink.stroke import Weights
from ..ink.surface import CELLS, Pen
from ..ink.view import DEEP, FINE, Buffer
from ..ink.weigh import Weighed, mended, visible
from ..kinds import Array
from .inked import Inked

BEYOND = 1.35 / CELLS + 0.003
GAP = 0.0055
"""Ground that is nearer than this beyond a line is ground, however narrow the gap."""
FAINT, FULL, DEEPEST = 0.020, 0.055, 0.30
"""Jumps of depth, heads on a grown body: below the first nothing is drawn, over the second more it comes in, up to the third it grows."""
LEAST, MOST, LIMB = 0.46, 0.76, 0.58
"""Weight of inner contours against the outer one, and of a limb before another at the least."""
FINGERS = 0.22
"""A hand's jumps count as much smaller ones."""
BESIDE = 1.15 * STEP
"""Of two contours nearer than this that run alike, only the outer is drawn."""


def weighed(c: Curves, buffer: Buffer, ink: Inked, weights: Weights) -> Weighed:
    """Widths and visibility of every sample of a figure's curves."""
    owner = c.owner
    at, seen = visible(c, buffer)
    form = np.array([p in FORMS for p in c.pen])[owner]
    mine = c.surface[owner]
    way = c.outward / np.maximum(np.hypot(*c.outward.T), 1e-6)[:, None]
    there = _cell(c, buffer, way * BEYOND)
    label = buffer.flat[there]
    ground = (label < 0) | (buffer.flat[_cell(c, buffer, way * GAP)] < 0)
    other = np.maximum(label, 0) >> 1
    jump = c.points[:, 2] - (buffer.depth.ravel()[there] / FINE - DEEP)
    known = other < len(ink.part)  # a head's own points lie behind those of the body's masses
    own_part, own_hand = ink.part[mine], ink.hand[mine]
    part = np.where(known, ink.part[np.where(known, other, 0)], -1)
    hand = np.where(known, ink.hand[np.where(known, other, 0)], False)
    k = ink.unit * ink.size * np.where(own_hand, FINGERS, 1.0)
    inner = np.clip((jump - FAINT * k) / (FULL * k), 0, 1) * (LEAST + (MOST - LEAST) * np.clip(jump / (DEEPEST * k), 0, 1))
    across = known & (part != own_part) & (jump > 0) & ((part != 0) & (own_part != 0) | own_hand)
    inner = np.where(across & ~(own_hand & hand), np.maximum(inner, LIMB), inner)
    inner = np.where(~known, 0.5, inner)
    width = np.where(form, weights.outer * np.where(ground, 1.0, inner), 0.0)
    base = np.array([{Pen.FEATURE: weights.feature, Pen.DETAIL: weights.detail}.get(p, 1.25 * weights.strand) for p in c.pen])[
        owner
    ]
    width = np.where(form, softened(width[None], owner, gaussian(2.0, 6))[0], base * c.profile)
    seen &= ~_within(c, form & seen & (width > 0.3 * weights.outer), way, owner)
    seen = mended(seen, owner)
    above = buffer.flat[at] >> 1
    blunt = form & ~seen & (above >= 0) & (above != mine)
    return Weighed(width, seen, blunt)


def _cell(c: Curves, buffer: Buffer, by: Array) -> Array:
    p = (c.points[:, :2] + by).astype(np.float32)
    return buffer.raster.cell_of(p[:, 0], p[:, 1])


def _within(c: Curves, which: Array, way: Array, owner: Array) -> Array:
    """Samples of a contour beside which another, outside of it, runs the same way: masses that share a skin."""
    out = np.zeros(len(owner), bool)
    f = np.flatnonzero(which)
    if len(f) < 2:
        return out
    from scipy.spatial import cKDTree

    p = c.points[f, :2]
    run = np.gradient(c.points[:, :2], axis=0)[f]
    run /= np.maximum(np.hypot(*run.T), 1e-9)[:, None]
    pairs = cKDTree(p, balanced_tree=False, compact_nodes=False).query_pairs(BESIDE, output_type="ndarray")
    if not len(pairs):
        return out
    i, j = np.concatenate([pairs, pairs[:, ::-1]]).T
    strangers = (owner[f[i]] != owner[f[j]]) | (np.abs(f[i] - f[j]) > 12)
    alike = (np.abs((run[i] * run[j]).sum(1)) > 0.82) & ((way[f[i]] * way[f[j]]).sum(1) > 0.5)
    ahead = ((p[j] - p[i]) * way[f[i]]).sum(1)
    tie = (np.abs(ahead) < 0.02 * STEP) & (f[i] > f[j])
    out[f[i[strangers & alike & ((ahead >= 0.02 * STEP) | tie)]]] = True
    return out
