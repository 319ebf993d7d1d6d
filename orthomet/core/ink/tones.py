"""Closed tones out of the buffer: hair, its inside, wear, skin; their edges pulled onto the lines that were drawn."""

from __future__ import annotations

from collections.abc import Sequence

import cv2
import numpy as np

from ..kinds import Array
from .contours import gaussian
from .pieces import LEAST
from .shape import FORMS, TONES, Shape
from .stroke import Stroke, Weights, length
from .surface import CELLS, Pen, Stuff
from .view import HEAD, Buffer, Raster

PULL, PULL_SOFT = 0.016, 0.006
"""How far the edge of a tone goes to a line, and over what it eases in; heads."""
COVERED, INKED = 0.0105, 0.0034
"""An edge with a line of at least this width this near needs none of its own."""
HOLE = 0.0065
"""Smaller holes are filled, square heads."""
CRUMB = 0.0012
"""Less of a mass's inside than this, square heads, is none."""
CLOSING = {"hair": 40, "wear": 16}
"""Tones that are always closed, and from how many samples of a wholly bare edge on."""
_SOFT = gaussian(2.4, 8)


def tones_of(
    buffer: Buffer, shape: Shape, strokes: Sequence[Stroke], weights: Weights
) -> tuple[dict[str, list[Array]], list[Stroke]]:
    """Closed shapes by tone (even–odd), and strokes where hair or wear would end without a line."""
    tone = shape.tone_of_label[buffer.label]
    kinds = {name: tone == i + 1 for i, name in enumerate(TONES)}
    kinds["hair"] = kinds["hair"] | kinds["inside"]
    found = [(name, p) for name, mask in kinds.items() for p in outlines(mask, buffer.raster, name == "inside")]
    found = [(name, p) for name, p in found if name != "inside" or area(p) > CRUMB]
    out: dict[str, list[Array]] = {name: [] for name in kinds}
    if not found:
        return out, []
    pulled, bare = pull(np.concatenate([p for _, p in found]), strokes)
    closing: list[Stroke] = []
    start = np.cumsum([0] + [len(p) for _, p in found])
    for k, (name, _) in enumerate(found):
        at = slice(start[k], start[k + 1])
        if name in CLOSING and bare[at].all() and start[k + 1] - start[k] <= CLOSING[name] and not shape.open_edged:
            continue  # a crumb of the mass no line is drawn of
        out[name].append(pulled[at])
        if name in CLOSING and not shape.open_edged and bare[at].any():
            closing += [_closing(p, weights) for p in gaps(pulled[at], bare[at], CLOSING[name])]
    return out, [s for s in closing if length(s.points) > LEAST]


def whole_of(buffer: Buffer, strokes: Sequence[Stroke]) -> list[Array]:
    """The closed outline of everything that is seen (even–odd), pulled onto the lines."""
    found = outlines(buffer.label >= 0, buffer.raster)
    if not found:
        return []
    pulled, _ = pull(np.concatenate(found), strokes)
    return np.split(pulled, np.cumsum([len(p) for p in found])[:-1])


def _closing(p: Array, weights: Weights) -> Stroke:
    n = np.arange(len(p))
    return Stroke(
        p, 0.78 * weights.edge * np.clip(np.minimum(n + 1, len(p) - n) / 3, 0.45, 1), Pen.EDGE, "closing", stuff=Stuff.HAIR
    )


def pull(edge: Array, strokes: Sequence[Stroke]) -> tuple[Array, Array]:
    """Places ``(n, 2)`` of a tone's edge moved onto the nearest form line, and which have no such line."""
    lines = [np.column_stack([s.points, s.widths]) for s in strokes if s.pen in FORMS]
    if not lines:
        return edge, np.ones(len(edge), bool)
    from scipy.spatial import cKDTree

    ink = _dense(lines)
    ink = ink[ink[:, 2] > INKED, :2]
    if not len(ink):
        return edge, np.ones(len(edge), bool)
    far, which = cKDTree(ink, balanced_tree=False, compact_nodes=False).query(edge, distance_upper_bound=PULL)
    near = np.isfinite(far)
    which = np.where(near, which, 0)
    share = np.where(near, np.clip((PULL - np.where(near, far, 1)) / PULL_SOFT, 0, 1), 0)[:, None]
    return edge + (ink[which] - edge) * share, far > COVERED


def _dense(lines: Sequence[Array], step: float = 0.007) -> Array:
    """Points along lines, close together."""
    a, d = np.concatenate([p[:-1] for p in lines]), np.concatenate([np.diff(p, axis=0) for p in lines])
    n = np.maximum(np.ceil(np.hypot(d[:, 0], d[:, 1]) / step).astype(int), 1)
    k = np.repeat(np.arange(len(n)), n)
    t = (np.arange(n.sum()) - np.repeat(n.cumsum() - n, n)) / n[k]
    return np.concatenate([a[k] + d[k] * t[:, None], np.array([p[-1] for p in lines])])


def gaps(edge: Array, bare: Array, least: int) -> list[Array]:
    """Stretches of a closed edge that no line covers, with a little of what is covered on either side."""
    if bare.all():
        return [np.concatenate([edge, edge[:1]])] if len(edge) > least else []
    turn = int(np.argmin(bare))
    open_, points = np.roll(bare, -turn), np.roll(edge, -turn, 0)
    change = np.flatnonzero(np.diff(np.concatenate([[0], open_.astype(np.int8), [0]])))
    out = []
    for a, b in zip(change[::2].tolist(), change[1::2].tolist(), strict=True):
        if b - a >= 2:
            g = points[np.arange(a - 2, b + 2) % len(points)]
            wide = np.concatenate([np.repeat(g[:1], 8, 0), g, np.repeat(g[-1:], 8, 0)])
            soft = np.stack([np.convolve(wide[:, i], _SOFT, "valid") for i in (0, 1)], -1)
            out.append(np.concatenate([g[:1], soft[1:-1], g[-1:]]))
    return out


def outlines(
    mask: Array, raster: Raster = HEAD, thin: bool = False, hole: float = HOLE, least: int = 24, fine: bool = True
) -> list[Array]:
    """Closed outlines of a mask of the buffer, softened, in heads; holes too small to mean anything are filled. Not ``fine``: as
    its cells have them, in half the time."""
    if not mask.any():
        return []
    rows, columns = np.flatnonzero(mask.any(1)), np.flatnonzero(mask.any(0))
    y0, y1 = max(int(rows[0]) - 3, 0), int(rows[-1]) + 4
    x0, x1 = max(int(columns[0]) - 3, 0), int(columns[-1]) + 4
    m: Array = mask[y0:y1, x0:x1].astype(np.uint8) * 255
    if not thin:
        m = cv2.medianBlur(m, 3)
    k = 2 if fine else 1
    if fine:
        m = cv2.resize(m, None, fx=2, fy=2, interpolation=cv2.INTER_LINEAR)
        _, m = cv2.threshold(cv2.GaussianBlur(m, (5, 5), 1.1), 127, 255, cv2.THRESH_BINARY)
    found, nested = cv2.findContours(m, cv2.RETR_CCOMP, cv2.CHAIN_APPROX_NONE)
    out = []
    for c, (_, _, _, parent) in zip(found, nested[0] if nested is not None else (), strict=True):
        if len(c) >= least * k / 2 and (parent < 0 or cv2.contourArea(c) > hole * (k * CELLS) ** 2):
            c = c[:, 0].astype(float)
            ring = np.concatenate([c[-8:], c, c[:8]])
            soft = np.stack([np.convolve(ring[:, i], _SOFT, "valid") for i in (0, 1)], -1)[::k]
            p = (soft + 0.5) / k
            out.append(np.column_stack([(p[:, 0] + x0) / CELLS + raster.left, (p[:, 1] + y0) / CELLS + raster.top]))
    return out


def area(p: Array) -> float:
    """Of a closed polygon."""
    x, y = p.T
    return float(abs(np.dot(x, np.roll(y, 1)) - np.dot(y, np.roll(x, 1))) / 2)
