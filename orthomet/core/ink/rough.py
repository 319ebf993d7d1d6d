"""A view while it moves: what is seen and how heavy as in the full drawing, but nothing joined, moved onto its crossing or pulled.

What is left out is what the eye misses only in a picture at rest: exact crossings, strokes that go on from mass to mass.
"""

from __future__ import annotations

from functools import partial

import numpy as np

from ..kinds import Array
from .contours import Curves, spans
from .pieces import STUFFS, TAPER, TAPER_ELSE, THIN
from .shape import FORMS, TONES, Shape
from .stroke import Stroke
from .surface import Pen, Stuff
from .tones import outlines
from .view import Buffer
from .weigh import Weighed

CRUMB = 0.045
"""Shorter forms are left out, heads."""


def rough_strokes(c: Curves, w: Weighed, shape: Shape) -> list[Stroke]:
    """The seen stretches of every curve that is a line, thinning out where they end of themselves."""
    owner = c.owner
    form = np.array([p in (*FORMS, Pen.STRAND) for p in c.pen])
    fill = np.array([p is Pen.FILL for p in c.pen])
    on = w.seen & ~fill[owner] & (w.width > THIN)
    step = np.hypot(*np.diff(c.points[:, :2], axis=0, prepend=c.points[:1, :2]).T)
    step[c.start[:-1]] = 0
    along = step.cumsum()
    a, b = spans(on, owner)
    a, b = a[on[a]], b[on[a]]
    k = owner[a]
    far = along[b - 1] - along[a]
    good = (b - a >= 2) & (far > np.where(form[k], CRUMB, 0.004))
    a, b, k, far = a[good], b[good], k[good], far[good]
    # ends of their own: where nothing runs over them
    reach = np.array([TAPER.get(p, TAPER_ELSE) for p in c.pen])[k]
    reach = np.maximum(np.minimum(reach, 0.45 * far), 1e-6)
    open_ = form[k] & ~c.closed[k]
    heads = open_ & ((a == c.start[k]) | ~(w.blunt[a] | w.blunt[np.maximum(a - 1, 0)]))
    tails = open_ & ((b == c.start[k + 1]) | ~(w.blunt[b - 1] | w.blunt[np.minimum(b, len(owner) - 1)]))
    piece = np.repeat(np.arange(len(a)), b - a)
    at = np.arange(len(piece)) - np.repeat((b - a).cumsum() - (b - a), b - a) + a[piece]
    here, width = along[at], w.width[at]
    for free, gone in ((heads, here - along[a][piece]), (tails, along[b - 1][piece] - here)):
        width = np.where(free[piece], width * np.clip(gone / reach[piece], 0, 1), width)
    stuff = np.where(c.surface >= 0, shape.stuff[c.surface], Stuff.HAIR)[k].tolist()
    whole = (c.closed[k] & (a == c.start[k]) & (b == c.start[k + 1])).tolist()
    points = c.points[:, :2]
    first = np.append(0, (b - a).cumsum()).tolist()
    return [
        Stroke(points[i:j], width[first[n] : first[n + 1]], c.pen[curve], c.name[curve], whole[n], STUFFS[stuff[n]])
        for n, (i, j, curve) in enumerate(zip(a.tolist(), b.tolist(), k.tolist(), strict=True))
    ]


def rough_tones(buffer: Buffer, shape: Shape) -> dict[str, list[Array]]:
    """Closed shapes by tone (even–odd), their edges as the buffer's cells have them."""
    tone = shape.tone_of_label[buffer.label]
    kinds = {name: tone == i + 1 for i, name in enumerate(TONES)}
    kinds["hair"] = kinds["hair"] | kinds["inside"]
    edges = partial(outlines, raster=buffer.raster, fine=False)
    return {name: edges(mask, thin=name == "inside") for name, mask in kinds.items()}
