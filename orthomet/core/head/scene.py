"""A head as it is seen: a body turned, with what of every curve is visible; hair, ears and neck over what they cover."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from ..kept import remembered
from ..kinds import Array
from ..landmarks.schema import FRONT
from ..landmarks.turn import Turn
from ..picture import Ink, Trace
from .body import BARE, NO_EARS, Body, Part, Wear, body
from .hair import AXIS, Hair
from .schooling import Wrapped
from .solid import Solid
from .strokes import RIDGE
from .turned import CLOSE_WAY, CRUMB, Curve, TurnedHead


@dataclass(frozen=True, eq=False)
class Scene:
    """Everything of one view, still as curves: what a picture, a file or a stage takes its lines from."""

    view: TurnedHead
    body: Body
    contour: tuple[Curve, ...]
    neck: tuple[Curve, ...]
    ears: tuple[tuple[Curve, ...], ...]
    jaw: tuple[Curve, ...]
    features: tuple[tuple[Trace, Curve], ...]
    guides: tuple[tuple[Part, Curve], ...]
    hair: tuple[tuple[Ink, Curve], ...]
    skull: tuple[Curve, ...]
    """Contour of the skull where hair covers it."""
    landmarks: dict[str, tuple[tuple[float, float], bool]]

    @cached_property
    def outline(self) -> Array:
        """The closed outer outline of the head without hair, ``(n, 2)``."""
        return self.view.outline()


def scene(table: Mapping[str, float], points: Array, turn: Turn, wear: Wear = BARE, distance: float | None = None) -> Scene:
    """A head with these traits and front landmarks (head units, schema order) at a turn."""
    return scene_of(body(table, points, wear), turn, distance)


def scene_of(b: Body, turn: Turn, distance: float | None = None) -> Scene:
    """A body at a turn, seen from a distance in heads (``None``: without perspective).

    Landmarks keep their front place exactly; the solid gives them their depth.
    """
    outer = _outer(b.head, b.hair, turn, distance)
    view = outer.view
    q = view.seen(b.xyz)
    seen = view.visible(b.xyz, b.lift)
    if b.hair is not None:
        seen[seen] = ~_under_hair(b.hair, view, b.xyz[seen])
    curves: dict[str, list[tuple[Part, Curve]]] = {"feature": [], "guide": [], "ear": [], "jaw": [], "landmark": []}
    for part in b.parts:
        shown = seen[part.at] if part.on_skin else np.ones(part.at.stop - part.at.start, bool)
        curves[part.kind].append((part, Curve(part.name, q[part.at, :2], q[part.at, 2], shown)))
    (_, marks), *_ = curves["landmark"]
    landmarks = {
        n: ((float(x), float(y)), bool(v)) for n, (x, y), v in zip(FRONT.names, marks.points, marks.visible, strict=True)
    }
    ears, covers = _ears(view, [c for _, c in curves["ear"]], b.ear_kind)
    behind_neck = [*covers, *_neck_cover(view, outer.neck)]
    contour, skull = _hair_over(b, _uncovered(outer.contours, behind_neck), outer.contours_gone)
    neck = _hair_over(b, list(outer.neck), outer.neck_gone)[0]
    hair = tuple(zip([role for role, _ in outer.hair], _uncovered([c for _, c in outer.hair], behind_neck), strict=True))
    sides = [c for side, (_, c) in zip((1, -1), curves["jaw"], strict=True) if float(view.toward @ np.array([side, 0, 0])) > 0.3]
    jaw = tuple(_uncovered(sides, covers))
    lines = tuple((p.path, c) for p, c in curves["feature"] if p.path is not None and _drawn(p.path, turn))
    laid = _uncovered([c for p, c in curves["guide"] if p.on_skin], covers)
    guides = list(zip([p for p, _ in curves["guide"] if p.on_skin], laid, strict=True))
    guides += [(p, c) for p, c in curves["guide"] if not p.on_skin]
    guides += [(Part("guide", w.name, None, slice(0), w.step, w.key, False), _ball(view, w)) for w in b.balls]
    return Scene(view, b, tuple(contour), tuple(neck), ears, jaw, lines, tuple(guides), hair, tuple(skull), landmarks)


@dataclass(frozen=True, eq=False)
class _Outer:
    """What a view shows of a skull and its hair, whatever features the face has: the same while one of those is dragged."""

    view: TurnedHead
    contours: list[Curve]
    contours_gone: list[Array]
    """What of each curve lies under the hair."""
    neck: tuple[Curve, ...]
    neck_gone: list[Array]
    hair: list[tuple[Ink, Curve]]


@remembered(12)
def _outer(head: Solid, worn: Hair | None, turn: Turn, distance: float | None) -> _Outer:
    view = TurnedHead.of(head, turn, distance)
    contours, neck = _no_second_nose(view.contours(), head.table, turn), tuple(view.neck())
    gone = [
        [_under_hair(worn, view, c.xyz) if c.xyz is not None else np.zeros(len(c.points), bool) for c in curves]
        for curves in (contours, neck)
    ]
    return _Outer(view, contours, gone[0], neck, gone[1], _hair(worn, view))


def _under_hair(worn: Hair | None, view: TurnedHead, xyz: Array) -> Array:
    """Whether the ways from points to the viewer run through the hair."""
    if worn is None or not len(xyz):
        return np.zeros(len(xyz), bool)
    return np.asarray(worn.inside(view.path(xyz, 0.0, CLOSE_WAY), 0.002).any(1))


def _hair_over(b: Body, curves: list[Curve], under_hair: list[Array]) -> tuple[list[Curve], list[Curve]]:
    """Curves with what lies under the hair hidden, and that hidden part by itself."""
    if b.hair is None:
        return curves, []
    free = [replace(c, visible=c.visible & ~gone) for c, gone in zip(curves, under_hair, strict=True)]
    under = [replace(c, visible=c.visible & gone) for c, gone in zip(curves, under_hair, strict=True) if c.xyz is not None]
    return free, under


def _hair(worn: Hair | None, view: TurnedHead) -> list[tuple[Ink, Curve]]:
    """Outline, edge and locks of the hair, with what the head leaves to be seen of them."""
    if worn is None:
        return []
    points, normals = worn.grid
    out: list[tuple[Ink, str, Array, Array]] = []
    for xyz, n in view.turning(points, normals):
        if np.linalg.norm(np.diff(xyz, axis=0), axis=1).sum() < 4 * CRUMB:
            continue
        out.append((Ink.CONTOUR, "hair outline", xyz, xyz + 0.008 * n))
    lifted = worn.rim + 0.006 * np.array([1.0, 0.0, 1.0]) * _outward(worn.rim)
    out.append((Ink.CONTOUR, "hair edge", worn.rim, lifted))
    out += [(Ink.DETAIL, name, xyz, xyz + 0.008 * _outward(xyz)) for name, xyz in worn.strands]
    curves = []
    for _, name, xyz, raised in out:
        q = view.seen(xyz)
        seen = view.visible(raised, 0.0)
        seen[seen] = ~_under_hair(worn, view, raised[seen])
        curves.append(Curve(name, q[:, :2], q[:, 2], seen, xyz))
    return list(zip([role for role, *_ in out], curves, strict=True))


def _outward(xyz: Array) -> Array:
    """Directions away from the hair's axis."""
    d = xyz - np.array([0.0, 0.35, AXIS])
    d[:, 1] *= 0.5
    return np.asarray(d / np.maximum(np.linalg.norm(d, axis=1, keepdims=True), 1e-9))


def _ball(view: TurnedHead, w: Wrapped) -> Curve:
    """A ball's outline: a circle at any turn."""
    assert w.ball is not None
    centre, r = w.ball
    q = view.seen(centre[None])[0]
    grown = 1.0 if view.distance is None else view.distance / max(view.distance - float(q[2]), 0.1)
    a = np.linspace(0, 2 * np.pi, 97)
    ring = q[:2] + r * grown * np.column_stack([np.cos(a), np.sin(a)])
    return Curve(w.name, ring, np.full(97, q[2]), np.ones(97, bool))


RIDGE_FROM, RIDGE_TO = 14.0, 75.0
"""Yaw between which the nose is drawn by its profile; before that by its lit side, beyond by the contour itself."""


def _drawn(p: Trace, turn: Turn) -> bool:
    yaw = abs(turn.yaw)
    if p.name == RIDGE:
        return RIDGE_FROM <= yaw <= RIDGE_TO
    return p.name != "bridge" or yaw < RIDGE_FROM


def _no_second_nose(curves: list[Curve], p: Mapping[str, float], turn: Turn) -> list[Curve]:
    """Where the profile of the nose is drawn, contour curves that are nothing but nose are left out."""
    if not RIDGE_FROM <= abs(turn.yaw) <= RIDGE_TO:
        return curves
    base, half = p["nose_base_station"], 1.25 * p["nose_width_fw"] * p["face_width_hh"] / 2
    root = base - 1.2 * p["nose_length_hh"]

    def nose(c: Curve) -> bool:
        assert c.xyz is not None  # contours keep where they lie
        x, t, z = c.xyz.T
        return bool(((np.abs(x) < half) & (t > root) & (t < base + 0.03) & (z > 0)).all())

    return [c for c in curves if not nose(c)]


def _ears(view: TurnedHead, curves: list[Curve], kind: int) -> tuple[tuple[tuple[Curve, ...], ...], list[tuple[Array, float]]]:
    """Ear curves, and the shapes of the near ears with their depth: what lies behind one is covered."""
    out, covers = [], []
    for side, three in ((1, curves[:3]), (-1, curves[3:])):
        rim = three[0]
        if kind == NO_EARS:
            continue
        out.append(tuple(three if view.faces(side) and kind == 0 else three[:1]))
        if float(view.toward @ np.array([side, 0, 0])) > 0.10 and rim.visible.mean() > 0.5:
            covers.append((rim.points, float(rim.depth.mean())))
    return tuple(out), covers


def _neck_cover(view: TurnedHead, sides: tuple[Curve, ...]) -> list[tuple[Array, float]]:
    """The neck's shape and depth: from behind it hides the jaw."""
    if len(sides) != 2:
        return []
    one, other = (c.points[np.argsort(c.points[:, 1])] for c in sides)
    axis = view.seen(view.head.neck[0].mean((0, 1)))
    return [(np.concatenate([one, other[::-1]]), float(axis[2]))]


def _uncovered(curves: list[Curve], covers: list[tuple[Array, float]]) -> list[Curve]:
    """Curves with what lies behind a cover (a shape and its depth) hidden; all are asked at once."""
    if not covers or not curves:
        return curves
    points, depth = np.concatenate([c.points for c in curves]), np.concatenate([c.depth for c in curves])
    free = np.ones(len(points), bool)
    for shape, deep in covers:
        free &= ~(_within(points, shape) & (depth < deep + 0.05))
    if free.all():
        return curves
    out, start = [], 0
    for c in curves:
        mine = free[start : start + len(c.points)]
        start += len(c.points)
        out.append(c if mine.all() else replace(c, visible=c.visible & mine))
    return out


def _within(points: Array, shape: Array) -> Array:
    """Whether points lie inside a closed polygon (even–odd rule)."""
    near = ((points >= shape.min(0)) & (points <= shape.max(0))).all(1)
    if not near.any():
        return np.asarray(near)
    inside = np.zeros(len(points), bool)
    inside[near] = _crossings(points[near], shape) % 2 == 1
    return inside


def _crossings(points: Array, shape: Array) -> Array:
    """How many sides of a polygon lie to the right of each point."""
    a, b = shape, np.roll(shape, -1, 0)
    x, y = points[:, :1], points[:, 1:]
    crosses = (a[:, 1] > y) != (b[:, 1] > y)
    dy = np.where(np.abs(b[:, 1] - a[:, 1]) < 1e-12, 1e-12, b[:, 1] - a[:, 1])
    return np.asarray((crosses & (x < (b[:, 0] - a[:, 0]) * (y - a[:, 1]) / dy + a[:, 0])).sum(1))
