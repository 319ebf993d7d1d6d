"""Where forms turn away: the zero level of facing over all grids at once, as even, smooth curves; beside them planned lines."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .shape import Lines, Net, Shape
from .surface import Pen
from .view import View

STEP = 0.012
"""Heads from sample to sample of a contour."""
SHORTEST = 0.03
MOST = 3000
"""Samples of a contour."""
SOFT = 1.15
"""Softening of contours along themselves, in samples."""


@dataclass(frozen=True, eq=False)
class Curves:
    """Curves one behind the other: places and weights by sample, the rest by curve."""

    points: Array
    """``(n, 3)`` as seen."""
    outward: Array
    """``(n, 2)``, which way lies outside, as seen; zero where unknown."""
    profile: Array
    home: Array
    """``(n, 3)``: where on the model, about its centre; not a number for planned lines."""
    lift: Array
    start: Array
    surface: Array
    pen: tuple[Pen, ...]
    closed: Array
    name: tuple[str, ...]
    beside: Array

    @property
    def owner(self) -> Array:
        """Which curve each sample belongs to."""
        return np.repeat(np.arange(len(self.start) - 1), np.diff(self.start))


def gaussian(width: float, reach: int) -> Array:
    k = np.exp(-0.5 * (np.arange(-reach, reach + 1) / width) ** 2)
    return np.asarray(k / k.sum())


def softened(values: Array, owner: Array, kernel: Array) -> Array:
    """Rows of values ``(k, n)`` softened along their own curves: convolved together, with gaps between the curves."""
    gap = len(kernel)
    at = np.arange(values.shape[1]) + gap * (owner + 1)
    n = int(at[-1]) + gap + 1
    room, there = np.zeros((len(values), n)), np.zeros(n)
    room[:, at], there[at] = values, 1.0
    share = np.convolve(there, kernel, "same")[at]
    return np.asarray(np.stack([np.convolve(row, kernel, "same")[at] for row in room]) / share)


def spans(values: Array, owner: Array) -> tuple[Array, Array]:
    """Starts and ends of stretches of equal value within curves."""
    cut = np.flatnonzero((values[1:] != values[:-1]) | (owner[1:] != owner[:-1])) + 1
    return np.concatenate([[0], cut]), np.concatenate([cut, [len(values)]])


def chains(one: Array, other: Array) -> list[list[int]]:
    """Links between ids joined to runs; an id is in two links at most. A closed run ends on the id it starts with."""
    n = len(one)
    ids = np.empty(2 * n, np.int64)
    ids[0::2], ids[1::2] = one, other
    order = np.argsort(ids, kind="stable")
    same = ids[order[1:]] == ids[order[:-1]]
    mate = np.full(2 * n, -1)
    mate[order[:-1][same]], mate[order[1:][same]] = order[1:][same], order[:-1][same]
    loose = np.flatnonzero(mate < 0).tolist()
    mates, names, done = mate.tolist(), ids.tolist(), bytearray(n)
    out = []
    for first in (*loose, *range(0, 2 * n, 2)):
        slot = first
        if done[slot >> 1]:
            continue
        run = [names[slot]]
        while slot >= 0 and not done[slot >> 1]:
            done[slot >> 1] = 1
            slot ^= 1
            run.append(names[slot])
            slot = mates[slot]
        out.append(run)
    return out


def _runs(net: Net, facing: Array) -> list[list[int]]:
    toward = facing > 0
    c = net.corners
    first, second, third, fourth = toward[c[0]], toward[c[1]], toward[c[2]], toward[c[3]]
    mixed = np.flatnonzero((first ^ second) | (second ^ third) | (third ^ fourth))
    t = toward[c[:, mixed]]
    four = (t != np.roll(t, -1, 0)).T  # whether the contour crosses each edge of the cell
    cells, count = net.cells[mixed], four.sum(1)
    two, both = np.flatnonzero(count == 2), np.flatnonzero(count == 4)
    one_of = four[two].argmax(1)
    other_of = 3 - four[two][:, ::-1].argmax(1)
    one = np.concatenate([cells[two, one_of], cells[both, 0], cells[both, 2]])
    other = np.concatenate([cells[two, other_of], cells[both, 1], cells[both, 3]])
    return [r for r in chains(one, other) if len(r) >= 4]


def traced(shape: Shape, view: View, coarse: bool = False) -> Curves | None:
    """Contours of every surface, evened out; ``None`` where there are none."""
    net = shape.coarse_net if coarse else shape.net
    facing = view.facing(net.vertices, net.normals)
    runs = _runs(net, facing)
    if not runs:
        return None
    ids = np.concatenate([np.array(r) for r in runs])
    a, b = net.ends[0][ids], net.ends[1][ids]
    t = facing[a] / (facing[a] - facing[b])
    rows = np.concatenate([net.vertices, net.normals, net.fade[None]])
    mixed = rows[:, a] * (1 - t) + rows[:, b] * t
    seen, out = view.seen(mixed[:3]), view.matrix32 @ mixed[3:6]
    table = np.concatenate([seen, out[:2], mixed[6:7], mixed[:3]]).astype(float)
    length = np.array([len(r) for r in runs])
    first = np.cumsum(length) - length
    meet = np.hypot(*(seen[:2, first] - seen[:2, first + length - 1])) < 1e-4  # as where a grid shrinks to a point
    closed = np.array([r[0] == r[-1] for r in runs]) | (meet & (length > 8))
    surface = net.surface[a[first]]
    return _evened(table, length, closed, surface, shape)


def _evened(table: Array, length: Array, closed: Array, surface: Array, shape: Shape) -> Curves | None:
    first = length.cumsum() - length
    step = np.hypot(np.diff(table[0], prepend=0.0), np.diff(table[1], prepend=0.0))
    step = np.maximum(step, 1e-7)
    step[first] = 1.0
    along = step.cumsum()
    begin, end = along[first], along[first + length - 1]
    keep = np.flatnonzero(end - begin > SHORTEST)
    if not len(keep):
        return None
    count = np.clip((end - begin)[keep] / STEP, 3, MOST).astype(int) + 1
    owner = np.repeat(np.arange(len(keep)), count)
    start = np.concatenate([[0], count.cumsum()])
    k = np.arange(start[-1]) - start[owner]
    s = begin[keep][owner] + (end - begin)[keep][owner] * k / (count - 1)[owner]
    even = np.stack([np.interp(s, along, row) for row in table])
    kernel = gaussian(SOFT, 4)
    soft = softened(even, owner, kernel)
    ends = np.concatenate([start[:-1], start[1:] - 1])
    soft[:, ends] = even[:, ends]
    for i in np.flatnonzero(closed[keep] & (count > 12)).tolist():  # there the softening runs round
        at = slice(start[i], start[i + 1])
        ring = even[:, at][:, :-1]
        wide = np.concatenate([ring[:, -8:], ring, ring[:, :9]], 1)
        soft[:, at] = np.stack([np.convolve(v, kernel, "same") for v in wide])[:, 8:-8]
    n = int(start[-1])
    none = len(keep)
    return Curves(
        soft[:3].T, soft[3:5].T, soft[5], soft[6:9].T, np.full(n, 0.007), start, surface[keep], (Pen.CONTOUR,) * none,
        closed[keep], tuple(shape.surfaces[k].name for k in surface[keep].tolist()), np.zeros(none, bool),
    )  # fmt: skip


def planned(lines: Lines, view: View) -> Curves | None:
    """Planned lines as seen. Edges of a clump fade where it is seen edge-on, lines on a surface where that turns away."""
    if not lines.lines:
        return None
    q = view.seen(lines.points.T).T
    across = np.hypot(*(q - q[lines.pair])[:, :2].T)
    profile = lines.profile.copy()
    paired = lines.wide > 0
    share = (across[paired] + 0.004) / (lines.wide[paired] + 0.004)
    profile[paired] *= np.clip((share - 0.16) / 0.22, 0, 1)
    there = np.isfinite(lines.normals[:, 0])
    profile[there] *= np.clip(view.facing(lines.points[there].T, lines.normals[there].T) / 0.22, 0, 1)
    every = lines.lines
    return Curves(
        q, (lines.outward @ view.matrix.T)[:, :2], profile, np.full(q.shape, np.nan), lines.lift, lines.start, lines.surface,
        tuple(x.pen for x in every), np.array([x.closed for x in every]), tuple(x.name for x in every), np.array([x.beside for x in every]),
    )  # fmt: skip


def chosen(c: Curves, keep: Array) -> Curves:
    """Some of the curves."""
    if keep.all():
        return c
    samples = keep[c.owner]
    count = np.diff(c.start)[keep]
    at = np.flatnonzero(keep).tolist()
    return Curves(
        c.points[samples], c.outward[samples], c.profile[samples], c.home[samples], c.lift[samples],
        np.concatenate([[0], count.cumsum()]), c.surface[keep], tuple(c.pen[i] for i in at), c.closed[keep],
        tuple(c.name[i] for i in at), c.beside[keep],
    )  # fmt: skip


def together(one: Curves | None, other: Curves | None) -> Curves | None:
    """Two lots of curves as one."""
    if one is None or other is None:
        return one or other
    cat = np.concatenate
    return Curves(
        cat([one.points, other.points]), cat([one.outward, other.outward]), cat([one.profile, other.profile]),
        cat([one.home, other.home]), cat([one.lift, other.lift]), cat([one.start, other.start[1:] + one.start[-1]]),
        cat([one.surface, other.surface]), one.pen + other.pen, cat([one.closed, other.closed]), one.name + other.name,
        cat([one.beside, other.beside]),
    )  # fmt: skip
