"""The construction drawing of a turned head: contour, ears, neck, features on the surface, guides that wrap, hidden lines faint."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache
from itertools import pairwise

import numpy as np

from ..kinds import Array
from ..landmarks.schema import FRONT
from ..landmarks.turn import Turn
from ..picture import Layer, Path, Picture, Role, line
from .construct import feature_paths
from .features import curve_through
from .outline import knots
from .solid import EAR_OPEN, Solid, solid
from .turned import CRUMB, Curve, TurnedHead

BOX = (-0.72, -0.66, 1.44, 1.52)
"""x, y, width and height of the drawing about the head's centre, in heads."""
HAIR = {
    "hair_top": (0.0, -0.05),
    "parting": (-0.10, -0.03),
    "hair_side_l": (0.37, 0.28),
    "hair_side_r": (-0.37, 0.28),
    "suprasternale": (0.0, 1.30),
}
"""Landmarks a plan does not decide, where they usually are (own)."""
LINES = (
    ("brow line", "brow_station"),
    ("eye line", "eye_station"),
    ("nose line", "nose_base_station"),
    ("mouth line", "mouth_station"),
)
ON_EDGE = 0.985
"""Beyond this share of the half width a landmark lies on the outline, at its widest depth."""


FEATURE_LIFT, LINE_LIFT, SECTION_LIFT, EAR_LIFT = 0.010, 0.006, 0.024, 0.002
"""How far kinds of curves are raised before it is asked whether the head hides them: sections run under brows and lips."""


@dataclass(frozen=True, eq=False)
class Body:
    """A solid with everything drawn on it, as 3-D curves; what does not change while the head turns."""

    head: Solid
    xyz: Array
    lift: Array
    parts: tuple[tuple[str, str, Path | None, slice], ...]
    """Kind (feature, guide, ear, jaw, landmark), name, the front path where there is one, and where in ``xyz``."""

    @property
    def front(self) -> Array:
        """Where the front view shows the landmarks, ``(n, 2)`` in schema order: turning changes nothing of it."""
        return np.asarray(self.xyz[self.parts[-1][3], :2])


def body(table: Mapping[str, float], points: Array, chin_forward: float = 0.0) -> Body:
    """A head with these traits and front landmarks (head units, schema order). Kept while both are the same."""
    return _body(tuple(sorted((k, float(v)) for k, v in table.items())), points.tobytes(), chin_forward)


@lru_cache(maxsize=16)
def _body(rows: tuple[tuple[str, float], ...], raw: bytes, chin_forward: float) -> Body:
    points = np.frombuffer(raw).reshape(-1, 2)
    head = solid(dict(rows), chin_forward)
    found: list[tuple[str, str, Path | None, Array, float]] = []
    for p in feature_paths(points):
        found.append(("feature", p.name, p, head.lift(p.points[:, 0], p.points[:, 1]), FEATURE_LIFT))
    found += [("guide", name, None, xyz, lift) for name, xyz, lift in _guides(head)]
    for side, k in ((1, "l"), (-1, "r")):
        for name, xyz in zip(("ear", "ear fold", "ear shell"), head.ears[side], strict=True):
            found.append(("ear", f"{name} {k}", None, xyz, EAR_LIFT))
        t = np.linspace(head.table["ear_bottom_station"] + 0.004, _jaw_station(head) + 0.012, 16)
        z = np.linspace(-0.012, 0.03, 16)
        found.append(("jaw", f"jaw line {k}", None, np.column_stack([side * head.side(t, z), t, z]), FEATURE_LIFT))
    found.append(("landmark", "", None, _landmarks(head, points), LINE_LIFT))
    parts, start = [], 0
    for kind, name, path, xyz, _ in found:
        parts.append((kind, name, path, slice(start, start + len(xyz))))
        start += len(xyz)
    lift = np.concatenate([np.full(len(xyz), lift) for *_, xyz, lift in found])
    return Body(head, np.concatenate([xyz for *_, xyz, _ in found]), lift, tuple(parts))


def _jaw_station(head: Solid) -> float:
    return knots(head.table).stations[2]


@dataclass(frozen=True, eq=False)
class Scene:
    """Everything of one view, still as curves: what a picture, a file or a stage takes its lines from."""

    view: TurnedHead
    contour: tuple[Curve, ...]
    neck: tuple[Curve, ...]
    ears: tuple[tuple[Curve, ...], ...]
    jaw: tuple[Curve, ...]
    features: tuple[tuple[Path, Curve], ...]
    guides: tuple[Curve, ...]
    landmarks: dict[str, tuple[tuple[float, float], bool]]

    @cached_property
    def outline(self) -> Array:
        """The closed outer outline ``(n, 2)``."""
        return self.view.outline()


def scene(table: Mapping[str, float], points: Array, turn: Turn, chin_forward: float = 0.0) -> Scene:
    """A head with these traits and front landmarks (head units, schema order) at a turn."""
    return scene_of(body(table, points, chin_forward), turn)


def scene_of(b: Body, turn: Turn) -> Scene:
    """A body at a turn. Landmarks keep their front place exactly; the solid gives them their depth."""
    view = TurnedHead.of(b.head, turn)
    q, seen = view.seen(b.xyz), view.visible(b.xyz, b.lift)
    curves: dict[str, list[tuple[Path | None, Curve]]] = {"feature": [], "guide": [], "ear": [], "jaw": [], "landmark": []}
    for kind, name, path, at in b.parts:
        curves[kind].append((path, Curve(name, q[at, :2], q[at, 2], seen[at])))
    (_, marks), *_ = curves["landmark"]
    landmarks = {
        n: ((float(x), float(y)), bool(v)) for n, (x, y), v in zip(FRONT.names, marks.points, marks.visible, strict=True)
    }
    ears, covers = _ears(view, [c for _, c in curves["ear"]])
    neck = tuple(view.neck())
    behind_neck = [*covers, *_neck_cover(view, neck)]
    contour = tuple(_uncovered(c, behind_neck) for c in view.contours())
    jaw = tuple(
        _uncovered(c, covers)
        for side, (_, c) in zip((1, -1), curves["jaw"], strict=True)
        if float(view.toward @ np.array([side, 0, 0])) > 0.3
    )
    lines = tuple((p, c) for p, c in curves["feature"] if p is not None and _drawn(p, turn))
    guides = tuple(_uncovered(c, covers) for _, c in curves["guide"])
    return Scene(view, contour, neck, ears, jaw, lines, guides, landmarks)


def _drawn(p: Path, turn: Turn) -> bool:
    """The bridge is drawn by its light side from the front; turned, the contour of the nose draws it."""
    return p.name != "bridge" or abs(turn.yaw) < 14


def _ears(view: TurnedHead, curves: list[Curve]) -> tuple[tuple[tuple[Curve, ...], ...], list[tuple[Array, float]]]:
    """Ear curves, and the shapes of the near ears with their depth: what lies behind one is covered."""
    out, covers = [], []
    for side, three in ((1, curves[:3]), (-1, curves[3:])):
        rim = three[0]
        out.append(tuple(three if view.faces(side) else three[:1]))
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


def _uncovered(c: Curve, covers: list[tuple[Array, float]]) -> Curve:
    seen = c.visible
    for shape, depth in covers:
        seen = seen & ~(_within(c.points, shape) & (c.depth < depth + 0.05))
    return Curve(c.name, c.points, c.depth, seen)


def _within(points: Array, shape: Array) -> Array:
    """Whether points lie inside a closed polygon (even–odd rule)."""
    near = ((points >= shape.min(0)) & (points <= shape.max(0))).all(1)
    if not near.any():
        return near
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


def _guides(head: Solid) -> list[tuple[str, Array, float]]:
    """Centre line round the head, feature lines as sections, the hairline round to the nape: name, points, lift."""
    p = head.table
    t = (1 - np.cos(np.pi * np.linspace(0, 1, 120))) / 2
    out = [("centre line", head.lift(np.zeros_like(t), t), LINE_LIFT)]
    back = p["ear_bottom_station"] * np.linspace(0, 1, 60) ** 2
    out.append(("centre line, back", head.around(np.full_like(back, np.pi), back), LINE_LIFT))
    front, whole = np.linspace(-np.pi / 2, np.pi / 2, 81), np.linspace(-np.pi, np.pi, 145)
    for name, key in LINES:
        phi = whole if key == "eye_station" else front
        at = np.full_like(phi, p[key])
        # under brow and lips, but never out of a hollow: there a plain section would overshoot the contour
        out.append((name, np.minimum(head.around(phi, at, detail=False), head.around(phi, at) + [9, 9, 0]), SECTION_LIFT))
    ear, low = p["ear_top_station"], p["ear_bottom_station"]
    hair = p["hairline_station"]
    run = np.array([(0, hair), (0.45, hair + 0.005), (0.85, hair + 0.04), (1.10, hair + 0.13), (1.32, ear - 0.02), (1.48, ear + 0.07),
                      (1.62, ear + 0.10), (1.80, ear + 0.13), (2.1, low - 0.03), (2.6, low + 0.01), (np.pi, low + 0.02)])  # fmt: skip
    run = curve_through(run, 7)
    for side, k in ((1, "l"), (-1, "r")):
        out.append((f"hairline {k}", head.around(side * run[:, 0], run[:, 1], detail=False), SECTION_LIFT))
    return out


def _landmarks(head: Solid, points: Array) -> Array:
    """Every front landmark on the solid, ``(n, 3)`` in schema order, a little outside where it lies on the outline."""
    xy = points.copy()
    for name, place in HAIR.items():
        if not np.isfinite(xy[FRONT.index[name]]).all():
            xy[FRONT.index[name]] = place
    inside = np.clip(xy[:, 1], 0, 1)
    out = head.lift(xy[:, 0], inside)
    out[:, 1] = xy[:, 1]
    a, _, _, widest, _ = head.section(inside)
    out[:, 2] = np.where(np.abs(xy[:, 0]) >= ON_EDGE * a, widest, out[:, 2])
    reach = np.maximum(np.abs(xy[:, 0]) - a, 0) / np.tan(EAR_OPEN)
    for k in "lr":
        for name in ("superaurale", "subaurale"):
            out[FRONT.index[f"{name}_{k}"], 2] = -0.35 * reach[FRONT.index[f"{name}_{k}"]]
        out[FRONT.index[f"neck_side_{k}"], 2] = float(head.neck[0][..., 2].mean())
    return out


# ---- as a picture


def runs(c: Curve, role: Role, hidden: bool = False, least: int = 2) -> list[Path]:
    """The visible (or the hidden) stretches of a curve as paths; single stray points are left out."""
    want = ~c.visible if hidden else c.visible
    if want.all() or not want.any():
        return [line(c.points, role, c.name)] if want.all() else []
    edges = np.flatnonzero(np.diff(want.astype(int))) + 1
    out = []
    for part in np.split(np.arange(len(want)), edges):
        if want[part[0]] and len(part) >= least and np.linalg.norm(np.diff(c.points[part], axis=0), axis=1).sum() >= CRUMB / 2:
            ends = np.arange(max(part[0] - (not hidden), 0), min(part[-1] + 1 + (not hidden), len(want)))
            out.append(line(c.points[ends], role, c.name))
    return out


def smooth_flags(c: Curve, gap: int = 2) -> Curve:
    """Flickers of a few points in what is visible are closed, so that no stray dash is left."""
    if c.visible.all() or not c.visible.any():
        return c
    v = c.visible.copy()
    edges = np.concatenate([[0], np.flatnonzero(np.diff(v.astype(int))) + 1, [len(v)]])
    for a, b in pairwise(edges):
        if a > 0 and b < len(v) and b - a <= gap:
            v[a:b] = ~v[a]
    return Curve(c.name, c.points, c.depth, v)


def picture(s: Scene, guides: bool = True, hidden: bool = True) -> Picture:
    """Layers: hidden lines, guides, outline, features."""
    far: list[Path] = []
    outline: list[Path] = []
    for c in s.contour:
        outline += runs(smooth_flags(c, 3), Role.CONTOUR, least=4)
    for c in s.jaw:
        outline += runs(smooth_flags(c), Role.DETAIL, least=4)
    for c in s.neck:
        outline += runs(smooth_flags(c), Role.FEATURE, least=4)
    for ear in s.ears:
        for k, c in enumerate(map(smooth_flags, ear)):
            outline += runs(c, Role.CONTOUR if k == 0 else Role.DETAIL, least=3)
            if k == 0:
                far += runs(c, Role.HIDDEN, hidden=True, least=4)
    features: list[Path] = []
    for p, c in s.features:
        if p.filled:
            if c.visible.mean() > 0.5:
                features.append(
                    line(c.points[c.visible] if not c.visible.all() else c.points, p.role, p.name, closed=True, filled=True)
                )
        elif p.closed and c.visible.all():
            features.append(line(c.points, p.role, p.name, closed=True))
        else:
            features += runs(smooth_flags(c), p.role, least=3)
    lines: list[Path] = []
    for c in map(smooth_flags, s.guides):
        lines += runs(c, Role.GUIDE_KEY if c.name.startswith(("centre", "eye")) else Role.GUIDE, least=3)
        far += runs(c, Role.HIDDEN, hidden=True, least=4)
    layers = [Layer("hidden", "Hidden lines", tuple(far), hidden), Layer("guides", "Guides", tuple(lines), guides)]
    layers += [Layer("outline", "Head outline", tuple(outline)), Layer("features", "Features", tuple(features))]
    return Picture(tuple(layers), BOX, "Head")
