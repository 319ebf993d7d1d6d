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
class _Points:
    """Dense points: a map of the body's, the head's own ``(3, n)``, normals of what of the head is a sheet, labels and surfaces of all."""

    body: _Map
    head: Array
    sheets: Array
    labels: Array
    surfaces: Array


@dataclass(frozen=True, eq=False)
class _Nets:
    """The standing figure's net; which vertices of the body it takes, and the head's own points and normals in it, ``(3, n)``."""

    net: Net
    at: Array
    points: Array
    normals: Array


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
    def _cloud(self) -> _Points:
        head = self.base.shape.surfaces[len(self.body) :]
        clouds = [s.cloud for s in (*self.body, *head)]
        count = [c.points.shape[1] for c in clouds]
        owner = np.repeat(np.arange(len(clouds), dtype=np.int32), count)
        shapes = [(s.points.shape[0], s.points.shape[1]) for s in self.body]
        of_body = sum(count[: len(self.body)])
        place = np.concatenate([c.place for c in clouds[: len(self.body)]], 1)
        weights = _between(place, self.start, shapes, owner[:of_body], self.start[-1])
        none = np.zeros((3, 0), np.float32)
        points = np.concatenate([none, *(c.points for c in clouds[len(self.body) :])], 1)
        sheets = np.concatenate([none, *(c.normals * s.sheet for c, s in zip(clouds[len(self.body) :], head, strict=True))], 1)
        return _Points(_Map(weights), points.astype(np.float32), sheets.astype(np.float32), 2 * owner, owner)

    @cached_property
    def _net(self) -> _Nets:
        at: list[Array] = []
        points, normals = [np.zeros((3, 0))], [np.zeros((3, 0))]
        for k, s in enumerate(self.base.shape.surfaces):
            if not s.contour:
                continue
            cut = slice(None, -1) if s.wraps else slice(None)
            if k < len(self.body):
                r, c = s.points.shape[:2]
                at.append((self.start[k] + np.arange(r * c).reshape(r, c))[:, cut].ravel())
            else:
                points.append(s.points[:, cut].reshape(-1, 3).T)
                normals.append(s.normals[:, cut].reshape(-1, 3).T)
        stacked = (np.concatenate(v, 1).astype(np.float32) for v in (points, normals))
        return _Nets(self.base.shape.net, np.concatenate(at), *stacked)

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
        k = self.base.unit
        vertices = (self._skin(m, p) * k).astype(np.float32) - CENTRE.astype(np.float32)
        points = np.concatenate([self._covered.of(vertices).T, self._head(p, self._cloud.head, k)], 1)
        seen = rotation(turn)[:2].astype(np.float32) @ points
        low, high = seen.min(1) - ROOM * self.base.unit, seen.max(1) + ROOM * self.base.unit
        raster = Raster(float(low[0]), float(low[1]), float(high[0]), float(high[1]))
        mask = np.zeros(raster.wide * raster.tall, bool)
        mask[raster.cell_of(seen[0], seen[1])] = True
        return edges(replace(self.base, raster=raster), mask.reshape(raster.tall, raster.wide))

    def _points(self, p: Posed, vertices: Array, k: float) -> Array:
        """Every point of the figure about the ink's centre, ``(3, n)``."""
        cloud = self._cloud
        n = len(cloud.labels)
        out = np.empty((3, n), np.float32)
        body = n - cloud.head.shape[1]
        out[:, :body] = cloud.body.of(vertices - CENTRE.astype(np.float32)).T  # weights add up to one
        if body < n:
            out[:, body:] = self._head(p, cloud.head, k)
        return out

    @cached_property
    def _covered(self) -> _Map:
        """The body's points without what lies bare over them: as many as an outline wants."""
        whole = self._cloud
        bare = np.array([s.name.startswith("bare ") for s in self.body])
        n = whole.body.weights.shape[0]
        return _Map(whole.body.weights[~bare[whole.surfaces[:n]]])

    def _skin(self, m: Mannequin, p: Posed) -> Array:
        """Vertices in a pose, heads."""
        skins = coarse_skin(m, p)
        return np.concatenate([skins[s.name.removeprefix("bare ")].reshape(-1, 3) for s in self.body])

    def _vertices(self, m: Mannequin, p: Posed) -> tuple[Array, Array]:
        points = (self._skin(m, p) * self.base.unit).astype(np.float32)
        over, under, left, right, way, raised = self._around
        normals = way * _across(points, over, under, left, right)
        points[raised] += np.float32(BARE_LIFT * COARSE) * normals[raised]
        return points, normals

    def _head(self, p: Posed, points: Array, k: float) -> Array:
        """Points ``(3, n)`` of the standing figure's head where the pose carries it, about the ink's centre."""
        r, c = _carried(self.figure.head, p)
        return np.asarray(r.astype(np.float32) @ points + (k * c - CENTRE)[:, None].astype(np.float32))

    def _raster(self, shape: Shape, turn: Turn) -> Raster:
        """As wide as the figure is seen."""
        seen = rotation(turn)[:2].astype(np.float32) @ shape.cloud
        low, high = seen.min(1), seen.max(1)
        room = ROOM * self.base.unit
        return Raster(float(low[0]) - room, float(low[1]) - room, float(high[0]) + room, float(high[1]) + room)

    def _shape(self, p: Posed, vertices: Array, normals: Array, k: float) -> Shape:
        cloud, net = self._cloud, self._net
        v = np.empty(net.net.vertices.shape, np.float32)
        n = np.empty_like(v)
        body = len(net.at)
        v[:, :body], n[:, :body] = (vertices[net.at] - CENTRE.astype(np.float32)).T, normals[net.at].T
        sheet = np.zeros((3, len(cloud.labels)), np.float32)
        if cloud.head.shape[1]:
            turn = _carried(self.figure.head, p)[0].astype(np.float32)
            v[:, body:], n[:, body:] = self._head(p, net.points, k), turn @ net.normals
            sheet[:, len(cloud.labels) - cloud.head.shape[1] :] = turn @ cloud.sheets
        made = replace(net.net, vertices=v, normals=n)
        return self.base.shape.moved(self._points(p, vertices, k), cloud.labels, cloud.surfaces, sheet, made)

    def _drawn(self, p: Posed, vertices: Array, normals: Array, k: float) -> Lines:
        lines, on_body, n = self._lines
        points = lines.points.copy()
        points[:n] = on_body.of(vertices) - CENTRE
        faces = lines.normals.copy()
        known = np.isfinite(faces[:n, 0])
        faces[:n][known] = on_body.of(normals)[known]
        if len(points) > n:
            points[n:] = self._head(p, (points[n:] + CENTRE).T.astype(np.float32), k).T
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


@remembered(12)
def moving(f: Figure) -> Moving:
    """A standing figure ready to be posed. Kept while it is the same."""
    return Moving(f)
