"""A guide school on a turned head: level lines run round it as sections, the centre line follows the profile, the skull's
circle is a ball that stays round, curves lie on the surface. Boxes stand about the head; flat lines turn like a card.

Every line is worked out once a head in three dimensions; only the ball is laid anew at each turn.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from ..styles.expression import evaluate
from ..styles.schools import Line, School, names_of, shape_of
from .outline import STATIONS
from .solid import Solid

FLAT = 0.02
"""A level line this near to crown or chin is no section: it lies across like a card's edge."""
FRONT_YAW, FRONT_PITCH = 25.0, 25.0
"""Beyond this a step that is only meant for the front view says nothing."""


@dataclass(frozen=True)
class Wrapped:
    """One line of a school on a head. ``ball`` is centre and radius of a circle that stays round, else ``xyz`` holds."""

    step: int
    name: str
    key: bool
    xyz: Array
    on_skin: bool
    """The head hides what lies behind; other lines are drawn whole."""
    ball: tuple[Array, float] | None = None


def wrapped(school: School, settings: Mapping[str, float], head: Solid) -> tuple[Wrapped, ...]:
    """Every line of a school's steps on a head.

    Raises
    ------
    OrthometError
        A setting the school does not have or one outside its range.
    """
    names = names_of(school, head.table, settings)
    out: list[Wrapped] = []
    taken: dict[str, int] = {}
    for k, step in enumerate(school.steps):
        for ln in step.lines:
            sides = ("l", "r") if ln.both else ("",)
            for (pts, closed), side in zip(shape_of(ln, names), sides, strict=True):
                if closed:
                    pts = np.vstack([pts, pts[:1]])
                lines = _side_view(ln, pts) if school.view == "profile" else _front(ln, pts, head, names)
                for xyz, on_skin, ball in lines:
                    name = f"{ln.name} {side}".strip()
                    taken[name] = taken.get(name, 0) + 1
                    shown = name if taken[name] == 1 else f"{name} {taken[name]}"
                    out.append(Wrapped(k, shown, ln.key, xyz, on_skin, ball))
    return tuple(out)


Laid = tuple[Array, bool, tuple[Array, float] | None]


def _side_view(ln: Line, pts: Array) -> list[Laid]:
    """A profile school lies in the plane of symmetry; its circle is the ball."""
    if ln.shape == "circle" and ln.key:
        centre = (pts[:-1].min(0) + pts[:-1].max(0)) / 2
        return [(np.zeros((0, 3)), False, (np.array([0.0, centre[1], centre[0]]), float(np.ptp(pts[:, 0]) / 2)))]
    dense = _dense(pts)
    return [(np.column_stack([np.zeros(len(dense)), dense[:, 1], dense[:, 0]]), False, None)]


def _front(ln: Line, pts: Array, head: Solid, names: Mapping[str, float]) -> list[Laid]:
    if ln.shape == "circle" and ln.key:
        r = float(np.ptp(pts[:, 0]) / 2)
        middle = (pts[:-1].min(0) + pts[:-1].max(0)) / 2
        deep = float(np.interp(middle[1], STATIONS, (head.front + head.back) / 2))
        return [(np.zeros((0, 3)), False, (np.array([middle[0], middle[1], deep]), r))]
    if ln.wrap == "box":
        return [(edge, False, None) for edge in _box(pts, head)]
    if ln.wrap == "flat":
        dense = _dense(pts)
        return [(np.column_stack([dense, np.zeros(len(dense))]), False, None)]
    if ln.shape == "level":
        return [_level(pts, head)]
    if ln.shape == "plumb" and abs(evaluate(ln.at, names)) < 1e-9:
        t = np.linspace(max(pts[:, 1].min(), 0.0), min(pts[:, 1].max(), 1.0), 90)
        return [(head.posed(head.lift(np.zeros_like(t), t)), True, None)]
    dense = _dense(pts)
    xyz = head.lift(dense[:, 0], np.clip(dense[:, 1], 0, 1), detail=False)
    xyz[:, 1] = dense[:, 1]
    a, _, _, widest, _ = head.section(np.clip(dense[:, 1], 0, 1))
    beyond = np.abs(dense[:, 0]) > a
    xyz[beyond, 2] = widest[beyond]
    return [(head.posed(xyz), True, None)]


def _level(pts: Array, head: Solid) -> Laid:
    """A level line is the section at its height, as far round as the line is wide; past the outline it stands out."""
    t, x0, x1 = float(pts[0, 1]), float(pts[0, 0]), float(pts[1, 0])
    if not FLAT < t < 1 - FLAT:
        return np.column_stack([np.linspace(x0, x1, 12), np.full(12, t), np.zeros(12)]), False, None
    a = float(head.section(np.array([t]))[0][0])
    lo, hi = (np.pi / 2 if abs(x) >= a else float(np.arcsin(abs(x) / a)) for x in (x0, x1))
    phi = np.linspace(-lo if x0 < 0 else lo, hi if x1 > 0 else -hi, 81)
    at = np.full_like(phi, t)
    skin = np.minimum(head.around(phi, at, detail=False), head.around(phi, at) + [9, 9, 0])
    return head.posed(skin), True, None


def _box(pts: Array, head: Solid) -> list[Array]:
    """A rectangle of the front view as the edges of a box as deep as the head."""
    ahead, behind = float(head.front.max()), float(head.back.min())
    out = []
    for z in (ahead, behind):
        dense = _dense(pts)
        out.append(np.column_stack([dense, np.full(len(dense), z)]))
    corner = np.linspace(behind, ahead, 12)
    out += [np.column_stack([np.full(12, x), np.full(12, y), corner]) for x, y in pts[:4]]
    return out


def _dense(pts: Array, step: float = 0.02) -> Array:
    """A polyline with points no farther apart than ``step``."""
    d = np.linalg.norm(np.diff(pts, axis=0), axis=1)
    many = np.maximum(1, np.ceil(d / step)).astype(int)
    parts = [a + (b - a) * np.linspace(0, 1, n, endpoint=False)[:, None] for a, b, n in zip(pts[:-1], pts[1:], many, strict=True)]
    return np.concatenate([*parts, pts[-1:]])
