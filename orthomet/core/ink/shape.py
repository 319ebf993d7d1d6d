"""Surfaces and lines made ready: what does not change while they are turned."""

from __future__ import annotations

from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..kinds import Array
from .surface import WAYS, Line, Pen, Stuff, Surface, thinned

CENTRE = np.array([0.0, 0.5, 0.0])
"""What everything turns about: the midline at half the head's height."""
GROUND = 9
"""Instead of a :class:`Stuff` where nothing is."""
AWAY, AWAY_NEAR = -0.59, -0.76
"""Cosine between a group's direction and the viewer from which all of it looks away: the groups are 36° wide at most. A near viewer
sees up to 14° further round."""
TONES = ("hair", "inside", "wear")
"""What is toned over the skin."""


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
    def _cloud(self) -> tuple[Array, Array, Array, Array]:
        clouds = [s.cloud for s in self.surfaces]
        count = [c.points.shape[1] for c in clouds]
        points = np.concatenate([c.points for c in clouds], 1) - CENTRE[:, None].astype(np.float32)
        normals = np.concatenate([c.normals for c in clouds], 1)
        owner = np.repeat(np.arange(len(clouds), dtype=np.int32), count)
        sheet = np.repeat([s.sheet for s in self.surfaces], count)
        way = np.where(
            sheet, np.int8(len(WAYS)), np.concatenate([c.way for c in clouds])
        )  # sheets have two sides: they come last
        order = np.argsort(way, kind="stable")
        points, normals = (np.ascontiguousarray(v[:, order]) for v in (points, normals))
        return points, normals, owner[order], np.searchsorted(way[order], np.arange(len(WAYS) + 2))

    def moved(self, points: Array, labels: Array, owner: Array, normals: Array, net: Net) -> Shape:
        """The same surfaces with all their points elsewhere: ``points`` and ``normals`` ``(3, n)`` about :data:`CENTRE`, of which surface
        each is and its label, the net made anew. Nothing is left out for looking away: what moves is asked for once.
        """
        out = copy(self)
        start = np.zeros(len(WAYS) + 2, int)
        start[-1] = points.shape[1]
        out.__dict__.update(_cloud=(points, normals, owner, start), labels=labels, sheet_normals=normals, net=net)
        return out

    @property
    def groups(self) -> Array:
        """Where the points of each way start in the cloud, and where the last end."""
        return self._cloud[3]

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
        """1 + index into :data:`TONES` by label, 0 for skin and (the last) for the ground."""
        kind, inside = np.repeat(self.stuff, 2), np.tile([False, True], len(self.surfaces))
        hair = np.where(inside | np.repeat(self.deep, 2), 2, 1)
        return np.append(np.select([kind == Stuff.SKIN, kind == Stuff.HAIR], [0, hair], 3), 0).astype(np.uint8)

    @cached_property
    def net(self) -> Net:
        """What contours are looked for on."""
        return self._net(1)

    @cached_property
    def coarse_net(self) -> Net:
        """The same of every other row and column, for what moves."""
        return self._net(2)

    def _net(self, every: int) -> Net:
        drawn = [(i, s.mesh if every == 1 else thinned(s, every).mesh) for i, s in enumerate(self.surfaces) if s.contour]
        vertices = np.cumsum([0] + [m.vertices.shape[1] for _, m in drawn])
        edges = np.cumsum([0] + [len(m.ends[0]) for _, m in drawn])
        each = list(enumerate(m for _, m in drawn))
        return Net(
            np.concatenate([m.vertices for _, m in drawn], 1) - CENTRE[:, None].astype(np.float32),
            np.concatenate([m.normals for _, m in drawn], 1),
            np.repeat([i for i, _ in drawn], np.diff(vertices)),
            np.concatenate([m.fade for _, m in drawn]),
            (
                np.concatenate([m.ends[0] + vertices[k] for k, m in each]),
                np.concatenate([m.ends[1] + vertices[k] for k, m in each]),
            ),
            np.concatenate([m.cells + edges[k] for k, m in each]),
            np.concatenate([m.corners + vertices[k] for k, m in each], 1),
        )


@dataclass(frozen=True, eq=False)
class Net:
    """The meshes of all surfaces with contours as one."""

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
