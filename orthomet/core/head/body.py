"""A head's body: its solid with everything that is drawn on it, as curves in three dimensions, before it is turned."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from typing import Any

import numpy as np

from ..features.choices import PLAIN, FeatureChoices
from ..features.expression import NEUTRAL, Expression
from ..features.pens import USUAL_PENS, LinePlan
from ..hair.dressed import Hair, dressed
from ..hair.style import Style, style_of
from ..ink.shape import Lines, Shape, stacked
from ..kept import remembered
from ..kinds import Array
from ..landmarks.schema import FRONT
from ..styles.schools import School
from ..styles.schools import school as library_school
from .expressed import expressed
from .features import curve_through
from .inked import NO_EARS, feature_lines, head_lines, shape_of, with_jaw_shut
from .neck import neck_of
from .schooling import Wrapped, wrapped
from .solid import JAW_BACK, Make, Solid, solid
from .strokes import Stroke, strokes

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


LINE_LIFT, SECTION_LIFT = 0.006, 0.024
"""How far kinds of curves are raised before it is asked whether the head hides them: sections run under brows and lips."""


@dataclass(frozen=True, eq=False)
class Wear:
    """What is put on a head beside its traits: how features are drawn, an expression, a guide school."""

    chin_forward: float = 0.0
    choices: FeatureChoices = PLAIN
    expression: Expression = NEUTRAL
    school: str = ""
    """A guide school instead of the plan's own lines."""
    settings: Mapping[str, float] = field(default_factory=dict)
    hair: bool = True
    """Whether hair is drawn over the skull, where there is any."""
    pens: LinePlan = USUAL_PENS
    side: tuple[tuple[str, float], ...] = ()
    """Profile readings as they are planned, heads; without them the side follows from the front."""

    @cached_property
    def key(self) -> str:
        """The same for the same wear."""
        kept = [
            self.choices.model_dump_json(),
            self.expression.model_dump_json(),
            sorted(self.settings.items()),
            self.pens,
            self.side,
        ]
        return repr((self.chin_forward, self.school, self.hair, *kept))

    def __hash__(self) -> int:
        return hash(self.key)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Wear) and other.key == self.key


BARE = Wear()


@dataclass(frozen=True)
class Part:
    """One curve of a body: where it lies in its arrays, and what is drawn along it."""

    kind: str
    """guide or landmark."""
    name: str
    at: slice
    step: int = -1
    """Step of a school the guide belongs to."""
    key: bool = False
    on_skin: bool = True


@dataclass(frozen=True, eq=False)
class Body:
    """A solid with everything drawn on it, as 3-D curves; what does not change while the head turns."""

    head: Solid
    xyz: Array
    lift: Array
    parts: tuple[Part, ...]
    balls: tuple[Wrapped, ...]
    hair: Hair | None
    front: Array
    """Where the plan puts the landmarks in the front view, ``(n, 2)`` in schema order: neither turning nor a face moves it."""
    shape: Shape
    lines: Lines
    school: School | None = None
    wear: Wear = BARE

    @cached_property
    def bare(self) -> Shape:
        """The same head without its hair."""
        choices = self.wear.choices
        return shape_of(self.head, None, round(choices.of("ears")["kind"]) if choices.drawn("ears") else NO_EARS)


def body(table: Mapping[str, float], points: Array, wear: Wear = BARE) -> Body:
    """A head with these traits and front landmarks (head units, schema order). Kept while all are the same.

    Raises
    ------
    UnknownName, OrthometError
        A guide school, or a setting of it, that is not there.
    """
    return _body(*_key(table, points, wear))


Rows = tuple[tuple[str, float], ...]


def _key(table: Mapping[str, float], points: Array, wear: Wear) -> tuple[Rows, bytes, Wear]:
    return tuple(sorted((k, float(v)) for k, v in table.items())), points.tobytes(), wear


def is_made(table: Mapping[str, float], points: Array, wear: Wear) -> bool:
    """Whether :func:`body` has its answer at hand."""
    return bool(_body.has(*_key(table, points, wear)))  # type: ignore[attr-defined]


@remembered(10)
def _body(rows: tuple[tuple[str, float], ...], raw: bytes, wear: Wear) -> Body:
    points = np.frombuffer(raw).reshape(-1, 2)
    choices = wear.choices
    worn = expressed(points, wear.expression)
    ears, nose = choices.of("ears"), choices.of("nose")
    stand = nose["stand"] if choices.drawn("nose") else 0.0
    head = solid(dict(rows), Make(wear.chin_forward, stand, ears["open"], worn.drop, wear.side))
    found: list[tuple[Part, Array, float]] = []

    def add(kind: str, name: str, xyz: Array, lift: float, **more: Any) -> None:
        found.append((Part(kind, name, slice(0), **more), xyz, lift))

    drawn = strokes(worn, choices)
    school = library_school(wear.school) if wear.school else None
    balls: list[Wrapped] = []
    if school is None:
        for name, xyz, lift in _guides(head):
            add("guide", name, xyz, lift, key=name.startswith(("centre", "eye")))
    else:
        for w in wrapped(school, wear.settings, head):
            if w.ball is not None:
                balls.append(w)
            else:
                add("guide", w.name, w.xyz, SECTION_LIFT, step=w.step, key=w.key, on_skin=w.on_skin)
    hair = None
    if wear.hair and choices.drawn("hair"):
        hair = dressed(
            solid(dict(rows), Make(side=wear.side)), style_worn(wear)
        )  # whatever the face does, the skull under it is the same
    marks = head.posed(_landmarks(head, worn.points))
    front = _front(points)
    for name, place in (hair.landmarks if hair is not None else {}).items():
        if not np.isfinite(points[FRONT.index[name]]).all():  # what the plan does not say, the drawn hair does
            marks[FRONT.index[name]], front[FRONT.index[name]] = place, place[:2]
    add("landmark", "", marks, LINE_LIFT)
    parts, start = [], 0
    for part, xyz, _ in found:
        parts.append(replace(part, at=slice(start, start + len(xyz))))
        start += len(xyz)
    lift = np.concatenate([np.full(len(xyz), lift) for _, xyz, lift in found])
    kind = round(ears["kind"]) if choices.drawn("ears") and not (hair is not None and hair.hides_ears) else NO_EARS
    shape = shape_of(head, hair, kind)
    lines = stacked([*feature_lines(drawn, _on_face(head, drawn)), *head_lines(head, hair, kind, wear.pens.lines)], shape)
    xyz = np.concatenate([xyz for _, xyz, _ in found])
    return Body(head, xyz, lift, tuple(parts), tuple(balls), hair, front, shape, lines, school, wear)


def style_worn(wear: Wear) -> Style:
    """The hairstyle of a wear, with as many lines within it as its pens want."""
    style = style_of(wear.choices.of("hair"))
    return replace(style, strands=style.strands * wear.pens.lines)


def _front(points: Array) -> Array:
    out = points.copy()
    for name, place in HAIR.items():
        if not np.isfinite(out[FRONT.index[name]]).all():
            out[FRONT.index[name]] = place
    return out


def _on_face(head: Solid, drawn: list[Stroke]) -> list[Array]:
    """Strokes lifted onto the face, all at once; lips follow the jaw, lashes stand off the skin."""
    if not drawn:
        return []
    flat = np.concatenate([s.path.points for s in drawn])
    skin = head.lift(flat[:, 0], flat[:, 1])
    cuts = np.cumsum([len(s.path.points) for s in drawn])[:-1]
    out = []
    for s, still, moved in zip(drawn, np.split(skin, cuts), np.split(head.posed(skin), cuts), strict=True):
        xyz = moved
        if s.follows_jaw is not None:
            drop = head.make.drop * s.follows_jaw
            xyz = still + np.column_stack([np.zeros_like(drop), drop, -JAW_BACK * drop])
        if s.off is not None:
            xyz = xyz + np.column_stack([np.zeros((len(xyz), 2)), s.off])
        out.append(xyz)
    return out


@lru_cache(maxsize=12)
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
    return [(name, head.posed(xyz), lift) for name, xyz, lift in out]


def _landmarks(head: Solid, points: Array) -> Array:
    """Every front landmark on the solid, ``(n, 3)`` in schema order, a little outside where it lies on the outline."""
    xy = _front(points)
    inside = np.clip(xy[:, 1], 0, 1)
    out = head.lift(xy[:, 0], inside)
    out[:, 1] = xy[:, 1]
    a, _, _, widest, _ = head.section(inside)
    out[:, 2] = np.where(np.abs(xy[:, 0]) >= ON_EDGE * a, widest, out[:, 2])
    reach = np.maximum(np.abs(xy[:, 0]) - a, 0) / np.tan(np.radians(head.make.ear_open))
    for k in "lr":
        for name in ("superaurale", "subaurale"):
            out[FRONT.index[f"{name}_{k}"], 2] = -0.35 * reach[FRONT.index[f"{name}_{k}"]]
        side = out[FRONT.index[f"neck_side_{k}"]]
        side[2] = neck_of(with_jaw_shut(head)).at(side[1:2], np.copysign(np.array([np.pi / 2]), side[:1]))[0, 2]
    return out
