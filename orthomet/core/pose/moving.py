"""A figure while a joint is dragged: everything a quick view draws from is a fixed linear map of a few thousand skin points, which alone
are posed anew in every frame.

Wrists, ankles, hips and shoulders keep the joints of the standing figure, carried along by their bones; the rest is as in
:mod:`..figure.quick`.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import accumulate

import numpy as np
from scipy.sparse import csr_matrix

from ..figure.heads import Worn, place_of
from ..figure.inked import BARE_LIFT, Inked
from ..figure.lines import inner_places, suit_places
from ..figure.mannequin import Mannequin
from ..figure.quick import COARSE, STRONG, Quick, edges
from ..figure.scene import Figure
from ..figure.seen import Seen
from ..ink.shape import CENTRE, Lines, Net, Shape
from ..ink.surface import Surface
from ..ink.view import Raster
from ..kept import remembered
from ..kinds import Array
from ..landmarks.turn import Turn, rotation
from .bones import Posed, posed
from .model import Pose
from .skin import coarse_skin

ROOM = 0.15
"""Around the figure on its buffer, heads."""


@dataclass(frozen=True, eq=False)
class _Map:
    """Places between vertices: rows of weights."""

    weights: csr_matrix

    def of(self, vertices: Array) -> Array:
        """``(n, 3)``."""
        return np.asarray(self.weights @ vertices)


def _between(place: Array, start: Sequence[int], shapes: Sequence[tuple[int, int]], owner: Array, total: int) -> csr_matrix:
    """Bilinear weights of places ``(2, n)`` (row, column) on grids whose vertices start where told."""
    rows, columns = (np.array([s[i] for s in shapes])[owner] for i in (0, 1))
    r = np.clip(place[0], 0, rows - 1.0001)
    c = np.clip(place[1], 0, columns - 1.0001)
    i, j = r.astype(int), c.astype(int)
    f, e = r - i, c - j
    first = np.array(start)[owner] + i * columns + j
    index = np.stack([first, first + 1, first + columns, first + columns + 1], 1)
    weight = np.stack([(1 - f) * (1 - e), (1 - f) * e, f * (1 - e), f * e], 1)
    n = len(first)
    return csr_matrix((weight.ravel().astype(np.float32), index.ravel(), np.arange(0, 4 * n + 1, 4)), shape=(n, total))


@dataclass(frozen=True, eq=False)
class Moving:
    """A standing figure made ready to be posed in every frame."""

    figure: Figure

    @cached_property
    def base(self) -> Inked:
        return self.figure.quick.coarse

    @cached_property
    def body(self) -> list[Surface]:
        """Surfaces of the body, thinned out as the quick view has them."""
        return list(self.base.shape.surfaces[: len(self.base.part)])

    @cached_property
    def start(self) -> list[int]:
        return list(accumulate((s.points.shape[0] * s.points.shape[1] for s in self.body), initial=0))

    @cached_property
    def _cloud(self) -> tuple[_Map, Array, Array, Array, Array]:
        """Map of the body's points, their labels; the head's points about their pivot, labels and normals of what is a sheet."""
        clouds = [s.cloud for s in self.body]
        owner = np.repeat(np.arange(len(clouds)), [c.points.shape[1] for c in clouds])
        place = np.concatenate([c.place for c in clouds], 1)
        shapes = [(s.points.shape[0], s.points.shape[1]) for s in self.body]
        weights = _between(place, self.start, shapes, owner, self.start[-1])
        head = self.base.shape.surfaces[len(self.body) :]
        if not head:
            none = np.zeros((0, 3), np.float32)
            return _Map(weights), 2 * owner.astype(np.int32), none, np.zeros(0, np.int32), none
        of_head = [s.cloud for s in head]
        mine = np.repeat(np.arange(len(head)) + len(self.body), [c.points.shape[1] for c in of_head])
        sheet = np.repeat([s.sheet for s in head], [c.points.shape[1] for c in of_head])
        points = np.concatenate([c.points for c in of_head], 1).T
        normals = np.where(sheet[:, None], np.concatenate([c.normals for c in of_head], 1).T, 0.0)
        return _Map(weights), 2 * owner.astype(np.int32), points, 2 * mine.astype(np.int32), normals.astype(np.float32)

    @cached_property
    def _net(self) -> tuple[Net, Array, Array, Array]:
        """The standing figure's net; which vertices of the body it takes, and the head's own points and normals in it."""
        net = self.base.shape.net
        at, head_points, head_normals = [], [], []
        for k, s in enumerate(self.base.shape.surfaces):
            if not s.contour:
                continue
            cut = slice(None, -1) if s.wraps else slice(None)
            if k < len(self.body):
                r, c = s.points.shape[:2]
                at.append((self.start[k] + np.arange(r * c).reshape(r, c))[:, cut].ravel())
            else:
                head_points.append(s.points[:, cut].reshape(-1, 3))
                head_normals.append(s.normals[:, cut].reshape(-1, 3))
        none = [np.zeros((0, 3))]
        return net, np.concatenate(at), *(np.concatenate(v or none).astype(np.float32) for v in (head_points, head_normals))

    @cached_property
    def _lines(self) -> tuple[Lines, _Map, int]:
        """The standing figure's lines; a map of those on the body, and how many places they have: the head's come behind them."""
        m = self.figure.mannequin
        places = [(mass, row, spoke) for mass, row, spoke, _ in suit_places(m)]
        places += [(p.mass, p.row, p.spoke) for p in inner_places(m) if float(p.weight.max()) > STRONG]
        names = {s.name: k for k, s in enumerate(self.body)}
        owner = np.concatenate([np.full(len(row), names[mass]) for mass, row, _ in places])
        row = np.concatenate([r for _, r, _ in places]) / 2
        spoke = np.concatenate([np.mod(c, m.skins[mass].points.shape[1]) for mass, _, c in places]) / 2
        shapes = [(s.points.shape[0], s.points.shape[1]) for s in self.body]
        return (
            self.base.lines,
            _Map(_between(np.stack([row, spoke]), self.start, shapes, owner, self.start[-1])),
            len(owner),
        )

    def ready(self) -> None:
        """Work out what does not change, before a hand asks for it."""
        _ = self._cloud, self._net, self._lines, self._around

    def at(self, pose: Pose, turn: Turn) -> Seen:
        """The figure in a pose, seen at a turn."""
        m = self.figure.mannequin
        p = posed(m.skeleton, pose)
        k = self.base.unit
        vertices, normals = self._vertices(m, p)
        shape = self._shape(p, vertices, normals, k)
        ink = replace(self.base, shape=shape, lines=self._drawn(p, vertices, normals, k), raster=self._raster(shape, turn))
        return Quick.seen(ink, turn, self.figure.weights)

    @cached_property
    def _around(self) -> tuple[Array, Array, Array, Array, Array, Array]:
        """For every vertex those over, under, left and right of it, which way its normal points, and which are raised over the skin."""
        over, under, left, right, sign, raised = [], [], [], [], [], []
        for k, s in enumerate(self.body):
            r, c = s.points.shape[:2]
            at = self.start[k] + np.arange(r * c).reshape(r, c)
            over.append(at[np.maximum(np.arange(r) - 1, 0)].ravel())
            under.append(at[np.minimum(np.arange(r) + 1, r - 1)].ravel())
            ring = np.arange(c - 1)  # the last column is the first again
            one = at[:, np.append(np.roll(ring, 1), ring[-1])]
            left.append(one.ravel())
            right.append(at[:, np.append(np.roll(ring, -1), 1)].ravel())
            sign.append(np.full(r * c, 1.0))
            raised.append(np.full(r * c, s.name.startswith("bare ")))
        found = [np.concatenate(v) for v in (over, under, left, right)]
        all_ = np.concatenate([s.points.reshape(-1, 3) for s in self.body])
        n = _across(all_, *found)
        was = np.concatenate([s.normals.reshape(-1, 3) for s in self.body])
        way = np.concatenate(sign)
        for k in range(len(self.body)):
            a, b = self.start[k], self.start[k + 1]
            way[a:b] = 1.0 if float((n[a:b] * was[a:b]).sum()) >= 0 else -1.0
        return (*found, way[:, None].astype(np.float32), np.concatenate(raised))

    def outline(self, pose: Pose, turn: Turn) -> list[Array]:
        """Closed outlines (even–odd) of the figure in a pose, heads from the crown: all a line-up asks for."""
        m = self.figure.mannequin
        p = posed(m.skeleton, pose)
        vertices, _ = self._vertices(m, p)
        points = self._points(p, vertices, self.base.unit)
        seen = rotation(turn)[:2].astype(np.float32) @ points.T
        low, high = seen.min(1) - ROOM * self.base.unit, seen.max(1) + ROOM * self.base.unit
        raster = Raster(float(low[0]), float(low[1]), float(high[0]), float(high[1]))
        mask = np.zeros(raster.wide * raster.tall, bool)
        mask[raster.cell_of(seen[0], seen[1])] = True
        return edges(replace(self.base, raster=raster), mask.reshape(raster.tall, raster.wide))

    def _points(self, p: Posed, vertices: Array, k: float) -> Array:
        """Every point of the figure about the ink's centre, ``(n, 3)``."""
        centre = CENTRE.astype(np.float32)
        points = self._cloud[0].of(vertices - centre)  # weights add up to one
        return np.concatenate([points, self._head(p, self._cloud[2], k, centre)]) if len(self._cloud[2]) else points

    def _vertices(self, m: Mannequin, p: Posed) -> tuple[Array, Array]:
        skins = coarse_skin(m, p)
        flat = [skins[s.name.removeprefix("bare ")].reshape(-1, 3) for s in self.body]
        points = (np.concatenate(flat) * self.base.unit).astype(np.float32)
        over, under, left, right, way, raised = self._around
        normals = way * _across(points, over, under, left, right)
        points[raised] += np.float32(BARE_LIFT * COARSE) * normals[raised]
        return points, normals

    def _head(self, p: Posed, points: Array, k: float, about: Array | float = 0.0) -> Array:
        """Points of the standing figure's head where the pose carries it, in the ink's unit."""
        r, c = _carried(self.figure.head, p)
        return np.asarray(points @ r.T.astype(points.dtype) + (k * c - about).astype(points.dtype))

    def _raster(self, shape: Shape, turn: Turn) -> Raster:
        """As wide as the figure is seen."""
        seen = rotation(turn)[:2].astype(np.float32) @ shape.cloud
        low, high = seen.min(1), seen.max(1)
        room = ROOM * self.base.unit
        return Raster(float(low[0]) - room, float(low[1]) - room, float(high[0]) + room, float(high[1]) + room)

    def _shape(self, p: Posed, vertices: Array, normals: Array, k: float) -> Shape:
        _, labels, head, head_labels, head_normals = self._cloud
        net, at, net_head, net_normals = self._net
        centre = CENTRE.astype(np.float32)
        points = self._points(p, vertices, k)
        v, n = vertices[at], normals[at]
        sheet = np.zeros((len(labels), 3), np.float32)
        if len(head):
            r, _ = _carried(self.figure.head, p)
            sheet = np.concatenate([sheet, head_normals @ r.T.astype(np.float32)])
            v, n = np.concatenate([v, self._head(p, net_head, k)]), np.concatenate([n, net_normals @ r.T.astype(np.float32)])
        all_labels = np.concatenate([labels, head_labels]).astype(np.int32)
        made = replace(
            net, vertices=np.ascontiguousarray((v - centre).T, np.float32), normals=np.ascontiguousarray(n.T, np.float32)
        )
        return self.base.shape.moved(
            np.ascontiguousarray(points.T, np.float32), all_labels, np.ascontiguousarray(sheet.T, np.float32), made
        )

    def _drawn(self, p: Posed, vertices: Array, normals: Array, k: float) -> Lines:
        lines, on_body, n = self._lines
        points = lines.points.copy()
        points[:n] = on_body.of(vertices) - CENTRE
        faces = lines.normals.copy()
        known = np.isfinite(faces[:n, 0])
        faces[:n][known] = on_body.of(normals)[known]
        if len(points) > n:
            points[n:] = self._head(p, points[n:] + CENTRE, k) - CENTRE
        return replace(lines, points=points, normals=faces)


def _across(points: Array, over: Array, under: Array, left: Array, right: Array) -> Array:
    """Unit normals of tubes' vertices, either way round."""
    (ax, ay, az), (bx, by, bz) = (points[right] - points[left]).T, (points[under] - points[over]).T
    n = np.stack([ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx], 1)
    return np.asarray(n / np.maximum(np.sqrt((n * n).sum(1, keepdims=True)), 1e-9))


def _carried(head: Worn | None, p: Posed) -> tuple[Array, Array]:
    """Rotation and shift (heads) from where the standing figure's head is to where a pose has it."""
    r = p.frames["head"]
    pivot = place_of(head, p.rest.joints["head"])
    return r, p.origins["head"] - r @ pivot


@remembered(4)
def moving(f: Figure) -> Moving:
    """A standing figure ready to be posed. Kept while it is the same."""
    return Moving(f)
