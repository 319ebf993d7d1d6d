"""A character's shapes as they stand, all of them where relations hold; and carried from there into what is saved."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..kept import remembered
from ..kinds import Array
from ..landmarks.frame import Frame
from .contour import polygon, traced
from .holding import Solved, System
from .model import Part, Relation, Shapes, shape_of
from .plain import KINDS, Plain
from .relations import Body, found
from .seen import HEADS, NO_STYLE, Seen, Toward, seen_part, to_heads, to_picture
from .traits import StyleShapes


@dataclass(frozen=True, eq=False)
class Scene:
    """All of them, from the back to the front."""

    shapes: Shapes
    parts: tuple[Seen, ...]
    relations: tuple[Relation, ...]
    """What holds: as it was declared, or, where nothing was, as it was found."""
    solved: Solved | None
    """Where relations moved parts; None where nothing was changed."""

    def part(self, pid: str) -> Seen | None:
        return next((s for s in self.parts if s.part.id == pid), None)

    @property
    def box(self) -> tuple[float, float, float, float]:
        """Left, top, width, height of what is drawn; a head where there is nothing."""
        if not self.parts:
            return -0.5, 0.0, 1.0, 1.0
        every = np.vstack([s.outline for s in self.parts])
        low, high = every.min(0), every.max(0)
        return float(low[0]), float(low[1]), float(high[0] - low[0]), float(high[1] - low[1])


Frames = Mapping[str, Frame]
"""Reference id → where heads lie on its picture."""


def scene(shapes: Shapes, frames: Frames, style: StyleShapes | None = None) -> Scene:
    """A character's shapes as they stand; ``style`` is what they go toward by their style weight.

    Parts are dialled and pushed each by itself; then, where any of them is another than it was, all are moved so that what held between
    their plain shapes holds again.
    """
    parts = [
        seen_part(p, frames.get(p.reference, HEADS), _toward_style(style, p.role, shapes.style_weight)) for p in shapes.parts
    ]
    if not parts:
        return Scene(shapes, (), (), None)
    was = [s.shape if not _swapped(s.part) else _before(s, frames) for s in parts]
    rows = zip(parts, was, strict=True)
    old = _bodies(tuple((s.part.id, s.part.name, s.part.on, b.kind, tuple(b.p.tolist()), s.part.role) for s, b in rows))
    relations = shapes.relations or _found(old)
    styled = style is not None and shapes.style_weight > 0
    changed = {s.part.id: s.body for s in parts if _is_changed(s) or (styled and s.body is not s.shape)}
    if not changed or len(parts) < 2:
        return Scene(shapes, tuple(parts), relations, None)
    solved = System(old, relations, changed).solve()
    return Scene(shapes, tuple(_moved(s, b.shape) for s, b in zip(parts, solved.bodies, strict=True)), relations, solved)


def _toward_style(style: StyleShapes | None, role: str, weight: float) -> Toward:
    if style is None or weight <= 0 or role not in style.parts:
        return NO_STYLE
    return weight, tuple((k, r.mean) for k, r in style.parts[role].items() if k in ("size", "aspect", "taper"))


Key = tuple[tuple[str, str, str, str, tuple[float, ...], str], ...]
"""Id, name, what it hangs on, kind and parameters of the plain shape, role, of every part."""


@remembered(12)
def _bodies(key: Key) -> tuple[Body, ...]:
    """The same parts again and again: their outlines and contacts are worked out once."""
    return tuple(Body(i, n, Plain(k, np.array(p)), on, r) for i, n, on, k, p, r in key)


@remembered(12)
def _found(bodies: tuple[Body, ...]) -> tuple[Relation, ...]:
    return tuple(found(bodies))


def bodies_of(s: Scene) -> tuple[Body, ...]:
    """What relations know of the parts as they stand."""
    return _bodies(
        tuple((v.part.id, v.part.name, v.part.on, v.body.kind, tuple(v.body.p.tolist()), v.part.role) for v in s.parts)
    )


def found_in(s: Scene) -> tuple[Relation, ...]:
    """What holds between the parts as they stand."""
    return _found(bodies_of(s))


def _swapped(p: Part) -> bool:
    return not p.points and p.shape is not None and bool(p.kind) and p.kind != p.shape.kind


def _before(s: Seen, frames: Frames) -> Plain:
    assert s.part.shape is not None
    return to_heads(s.part.shape.plain, frames.get(s.part.reference, HEADS))


def _is_changed(s: Seen) -> bool:
    p = s.part
    pushed_ = any(v != 1 for v in p.emphasis.values())
    return pushed_ or _swapped(p) or bool(p.toward and p.toward_share > 0)


@dataclass(frozen=True, eq=False)
class _Way:
    """How a part goes where its plain shape goes: moved, grown and turned alike."""

    was: Plain
    to: Plain

    @property
    def grown(self) -> float:
        return float(np.exp(self.to.p[3] - self.was.p[3]))

    @property
    def turn(self) -> float:
        return float(self.to.p[2] - self.was.p[2]) if self.to.kind != "circle" else 0.0

    def stays(self, within: float) -> bool:
        off = float(np.abs(self.to.p[:2] - self.was.p[:2]).max())
        return max(abs(self.grown - 1), abs(self.turn), off) < within

    def points(self, o: Array) -> Array:
        c, s = np.cos(self.turn), np.sin(self.turn)
        d = (o - self.was.p[:2]) * self.grown
        return np.asarray(self.to.p[:2] + np.column_stack([c * d[:, 0] - s * d[:, 1], s * d[:, 0] + c * d[:, 1]]))

    def plain(self, s: Plain) -> Plain:
        p = s.p.copy()
        p[:2] = self.points(p[None, :2])[0]
        p[2] += self.turn
        p[3 : 3 + KINDS[s.kind].sizes] += np.log(self.grown)
        return Plain(s.kind, p)


def _moved(s: Seen, to: Plain) -> Seen:
    """A part where relations have it."""
    way = _Way(s.body, to)
    if way.stays(1e-12):
        return s
    plain = way.plain(s.plain) if s.plain is not None else None
    return replace(s, outline=way.points(s.outline), plain=plain, body=to)


def with_bodies(shapes: Shapes, frames: Frames, before: Sequence[Body], after: Sequence[Body]) -> Shapes:
    """The shapes with every part where its body went: its contour and its plain shape moved, grown and turned alike."""
    to = {b.id: (a.shape, b.shape) for a, b in zip(before, after, strict=True)}
    return shapes.model_copy(
        update={"parts": tuple(_carried(p, frames.get(p.reference, HEADS), *to[p.id]) for p in shapes.parts)}
    )


def _carried(part: Part, f: Frame, was: Plain, to: Plain) -> Part:
    way = _Way(was, to)
    if way.stays(1e-9):
        return part
    fields: dict[str, object] = {}
    if part.points:
        q = f.to_picture(way.points(f.to_heads(part.contour)))
        fields["points"] = tuple((float(x), float(y)) for x, y in q)
        fields["even"] = part.even and abs(way.turn) < 1e-9
    if part.shape is not None:
        fields["shape"] = shape_of(to_picture(way.plain(to_heads(part.shape.plain, f)), f))
    return part.model_copy(update=fields)


def taken_off(shapes: Shapes, reference: str, f: Frame) -> Shapes:
    """The shapes with parts of one picture in heads instead: the picture goes, they stay."""

    def one(p: Part) -> Part:
        if p.reference != reference:
            return p
        fields: dict[str, object] = {"reference": ""}
        if p.points:
            fields["points"] = tuple((float(x), float(y)) for x, y in f.to_heads(p.contour))
        if p.shape is not None:
            fields["shape"] = shape_of(to_heads(p.shape.plain, f))
        return p.model_copy(update=fields)

    kept = tuple(v.model_copy(update={"parts": tuple(one(p) for p in v.parts)}) for v in shapes.kept)
    return shapes.model_copy(update={"parts": tuple(one(p) for p in shapes.parts), "kept": kept})


def merged_contour(a: Seen, b: Seen) -> Array | None:
    """The outline of two parts as one, heads; None where they do not hang together."""
    both = polygon(a.outline).buffer(1e-3).union(polygon(b.outline).buffer(1e-3))
    if both.geom_type != "Polygon":
        return None
    return traced(np.asarray(both.exterior.coords)[:-1], 240)[0]
