"""Surfaces and lines made ready: what does not change while they are turned."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..kinds import Array
from .surface import Line, Pen, Stuff, Surface

CENTRE = np.array([0.0, 0.5, 0.0])
"""What everything turns about: the midline at half the head's height."""
GROUND = 9
"""Instead of a :class:`Stuff` where nothing is."""
WAYS = np.array([(x, y, z) for x in (-1, 0, 1) for y in (-1, 0, 1) for z in (-1, 0, 1) if (x, y, z) != (0, 0, 0)], float)
WAYS /= np.linalg.norm(WAYS, axis=1, keepdims=True)
"""Directions points are grouped by, so that those that look away are left out together."""
AWAY = -0.70
"""Cosine between a group's direction and the viewer from which all of it looks away: the groups are 36° wide at most, and a
near viewer sees 10° further round."""
TONES = ("skin", "hair", "inside", "wear")


@dataclass(frozen=True, eq=False)
class Shape:
    """Surfaces with everything a view asks of them: a cloud for what is hidden, edges and cells for contours."""

    surfaces: tuple[Surface, ...]

    @cached_property
    def index(self) -> dict[str, int]:
        return {s.name: i for i, s in enumerate(self.surfaces)}

    @cached_property
    def stuff(self) -> Array:
        return np.array([s.stuff for s in self.surfaces])

    @cached_property
    def deep(self) -> Array:
        return np.array([s.deep for s in self.surfaces])

    @cached_property
    def open_edged(self) -> bool:
        return any(s.open_edge for s in self.surfaces)

    @cached_property
    def _cloud(self) -> tuple[Array, Array, Array]:
        clouds = [s.cloud() for s in self.surfaces]
        points = np.concatenate([c.points for c in clouds], 1) - CENTRE[:, None].astype(np.float32)
        normals = np.concatenate([c.normals for c in clouds], 1)
        owner = np.repeat(np.arange(len(clouds), dtype=np.int32), [c.points.shape[1] for c in clouds])
        order = np.argsort(self._bins(normals, owner), kind="stable")
        return points[:, order], normals[:, order], owner[order]

    def _bins(self, normals: Array, owner: Array) -> Array:
        """Which of :data:`WAYS` each point looks along; sheets, which have two sides, along none: the last."""
        way = (WAYS.astype(np.float32) @ normals).argmax(0)
        return np.where(np.array([s.sheet for s in self.surfaces])[owner], len(WAYS), way)

    @cached_property
    def groups(self) -> Array:
        """Where the points of each way start in the cloud, and where the last end."""
        bins = self._bins(self.cloud_normals, self._cloud[2])
        return np.searchsorted(bins, np.arange(len(WAYS) + 2))

    @property
    def cloud(self) -> Array:
        """Points ``(3, n)`` about :data:`CENTRE`, float32."""
        return self._cloud[0]

    @property
    def cloud_normals(self) -> Array:
        return self._cloud[1]

    @cached_property
    def labels(self) -> Array:
        """Twice the surface of each point; one more is its inside."""
        return np.asarray(2 * self._cloud[2])

    @cached_property
    def sheet_normals(self) -> Array:
        """Normals of the points on sheets, the last group: from behind their inside is seen."""
        return np.ascontiguousarray(self.cloud_normals[:, self.groups[-2] :])

    @cached_property
    def stuff_of_label(self) -> Array:
        """:class:`Stuff` by label, the last for the ground."""
        return np.append(np.repeat(self.stuff, 2), GROUND).astype(np.int8)

    @cached_property
    def tone_of_label(self) -> Array:
        """1 + index into :data:`TONES` by label, 0 (the last) for the ground."""
        kind, inside = np.repeat(self.stuff, 2), np.tile([False, True], len(self.surfaces))
        hair = np.where(inside | np.repeat(self.deep, 2), 3, 2)
        return np.append(np.select([kind == Stuff.SKIN, kind == Stuff.HAIR], [1, hair], 4), 0).astype(np.uint8)

    @cached_property
    def net(self) -> Net:
        return _net(self.surfaces)


@dataclass(frozen=True, eq=False)
class Net:
    """Vertices of all surfaces with contours, the edges between neighbours, and the four edges of every cell."""

    vertices: Array
    """``(3, n)`` about :data:`CENTRE`, float32."""
    normals: Array
    surface: Array
    fade: Array
    ends: tuple[Array, Array]
    """Vertices of every edge."""
    cells: Array
    """Edges of every cell: along its first row, its right side, along its second row, its left side."""
    corners: Array
    """Vertices of every cell, ``(4, n)``."""


def _net(surfaces: Sequence[Surface]) -> Net:
    points, normals, fades, owner, a_of, b_of, cells, corners = [], [], [], [], [], [], [], []
    vertices = edges = 0
    for i, s in enumerate(surfaces):
        if not s.contour:
            continue
        cut = slice(None, -1) if s.wraps else slice(None)
        p = s.points[:, cut]
        rows, columns = p.shape[:2]
        points.append(p.reshape(-1, 3))
        normals.append(s.normals[:, cut].reshape(-1, 3))
        fades.append(np.ones(rows * columns) if s.fade is None else s.fade[:, cut].ravel())
        owner.append(np.full(rows * columns, i))
        at = vertices + np.arange(rows * columns).reshape(rows, columns)
        across = columns if s.wraps else columns - 1
        flat_a, flat_b = at[:, :across], np.roll(at, -1, 1)[:, :across]
        tall_a, tall_b = at[:-1], at[1:]
        flat = edges + np.arange(flat_a.size).reshape(flat_a.shape)
        tall = edges + flat_a.size + np.arange(tall_a.size).reshape(tall_a.shape)
        a_of += [flat_a.ravel(), tall_a.ravel()]
        b_of += [flat_b.ravel(), tall_b.ravel()]
        right = np.roll(tall, -1, 1)[:, :across]
        cells.append(np.stack([flat[:-1].ravel(), right.ravel(), flat[1:].ravel(), tall[:, :across].ravel()], -1))
        four = (flat_a[:-1], flat_b[:-1], flat_b[1:], flat_a[1:])
        corners.append(np.stack([v.ravel() for v in four]))
        vertices += rows * columns
        edges += flat_a.size + tall_a.size
    return Net(
        np.ascontiguousarray((np.concatenate(points) - CENTRE).T, np.float32),
        np.ascontiguousarray(np.concatenate(normals).T, np.float32),
        np.concatenate(owner),
        np.concatenate(fades),
        (np.concatenate(a_of), np.concatenate(b_of)),
        np.concatenate(cells),
        np.concatenate(corners, 1),
    )


@dataclass(frozen=True, eq=False)
class Lines:
    """Planned lines one behind the other, as arrays."""

    lines: tuple[Line, ...]
    start: Array
    points: Array
    """``(n, 3)`` about :data:`CENTRE`."""
    profile: Array
    outward: Array
    normals: Array
    """Not a number where a line does not fade with its surface."""
    lift: Array
    pair: Array
    """For each point the one across its clump, itself where there is none."""
    wide: Array
    """How far that one is."""
    surface: Array
    """By line, −1 where it belongs to none."""


def stacked(lines: Sequence[Line], shape: Shape) -> Lines:
    """Lines made ready for a shape."""
    start = np.cumsum([0] + [len(x.points) for x in lines])
    n = int(start[-1])
    pair = np.arange(n)
    groups: dict[str, int] = {}
    for k, x in enumerate(lines):
        if x.group and x.group in groups:
            j = groups[x.group]
            m = min(len(x.points), len(lines[j].points))
            pair[start[k] : start[k] + m] = start[j] + np.arange(m)
            pair[start[j] : start[j] + m] = start[k] + np.arange(m)
        elif x.group:
            groups[x.group] = k
    if not lines:
        none = np.zeros((0, 3))
        return Lines((), start, none, np.zeros(0), none, none, np.zeros(0), pair, np.zeros(0), np.zeros(0, int))
    points = np.concatenate([x.points for x in lines]) - CENTRE
    return Lines(
        tuple(lines),
        start,
        points,
        np.concatenate([x.profile for x in lines]),
        np.concatenate([np.zeros_like(x.points) if x.outward is None else x.outward for x in lines]),
        np.concatenate([np.full(x.points.shape, np.nan) if x.normals is None else x.normals for x in lines]),
        np.repeat([x.lift for x in lines], [len(x.points) for x in lines]),
        pair,
        np.linalg.norm(points - points[pair], axis=1),
        np.array([shape.index.get(x.surface, -1) for x in lines]),
    )


FORMS = (Pen.CONTOUR, Pen.EDGE)
