"""What is decided at Shapes: parts taken, changed, dialled, pushed, related. Nothing here is drawn."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import reduce
from typing import Any

from ....core.datafiles import first_words
from ....core.head.outline import RESIDUAL_KEYS
from ....core.kinds import Array
from ....core.landmarks.frame import Frame
from ....core.plan.plan import offset_for
from ....core.project.edits import (
    Edit,
    add_parts,
    change_part,
    decide,
    move_part,
    new_id,
    remove_part,
    set_offset,
    set_relations,
    set_shapes,
)
from ....core.shapes.head_class import built_after, unit
from ....core.shapes.model import NO_SHAPES, Part, Relation, Shape, Shapes, Variant, shape_of
from ....core.shapes.plain import Plain
from ....core.shapes.scene import Scene, merged_contour
from ....core.shapes.seen import HEADS, NO_STYLE, seen_part, to_picture
from ....core.shapes.sources import frame_for, mirrored_part, other_side, part_of
from ....core.shapes.variants import all_at
from ...document import Document

Frames = dict[str, Frame]
WIDTHS = ("head_width_hh", "face_width_hh", "jaw_width_fw", "chin_width_fw")
"""What of the plan a head's outline moves, beside its departures."""


class ShapesEdits:
    """Each becomes an edit of the open character; nothing while there is none."""

    def __init__(self, document: Document):
        self.document = document

    @property
    def shapes(self) -> Shapes:
        c = self.document.character
        return c.shapes if c is not None else NO_SHAPES

    def _do(self, label: str, edit: Callable[[str], Edit]) -> bool:
        c = self.document.character
        return self.document.do(label, edit(c.id)) if c is not None else False

    def _preview(self, edit: Callable[[str], Edit]) -> None:
        c = self.document.character
        if c is not None:
            try:
                self.document.preview(edit(c.id))
            except ValueError as e:
                self.document.trouble.emit(f"That is not possible: {first_words(e)}.")

    # ---- parts

    def add(self, label: str, parts: Sequence[Part], front: bool = True) -> bool:
        return bool(parts) and self._do(label, lambda c: add_parts(c, tuple(parts), front))

    def take(self, name: str, contour: Array, corners: Sequence[int], role: str, reference: str, source: str) -> str:
        """A part from a contour in its reference's pixels; its id."""
        pid = new_id()
        part = part_of(self.free_name(name), contour, role, pid, corners=corners, reference=reference, source=source)
        front = role not in ("head", "hair", "torso", "neck")
        return pid if self.add(f"Take a part, {part.name}", [part], front or not self.shapes.parts) else ""

    def free_name(self, name: str) -> str:
        """The name, or with a number where there is one called so."""
        taken = {p.name for p in self.shapes.parts}
        return next(n for n in (name, *(f"{name[:52]} {k}" for k in range(2, 99))) if n not in taken)

    def change(self, label: str, pid: str, **fields: Any) -> None:
        self._do(label, lambda c: change_part(c, pid, **fields))

    def preview(self, pid: str, **fields: Any) -> None:
        self._preview(lambda c: change_part(c, pid, **fields))

    def retrace(self, pid: str, contour: Array, corners: Sequence[int], reference: str, label: str = "") -> None:
        """Another contour for a part there is; without a label while the hand is at it."""
        fields = {
            "points": tuple((float(x), float(y)) for x, y in contour), "corners": tuple(int(k) for k in corners), "even": False,
            "reference": reference, "shape": None,
        }  # fmt: skip
        self.change(label, pid, **fields) if label else self.preview(pid, **fields)

    def remove(self, pid: str) -> None:
        self._do("Remove a part", lambda c: remove_part(c, pid))

    def nearer(self, pid: str, by: int) -> None:
        self._do("Nearer" if by > 0 else "Further away", lambda c: move_part(c, pid, by))

    def mirror(self, pid: str, axis: float) -> None:
        """The same part on the other side of an upright, in its own unit."""
        p = self.shapes.part(pid)
        if p is not None:
            self.add(f"Mirror, {p.name}", [mirrored_part(p, axis, new_id(), self.free_name(other_side(p.name)))])

    def swap(self, pid: str, kind: str) -> None:
        """Another plain shape for a part; empty: the one that fits best."""
        p = self.shapes.part(pid)
        if p is None:
            return
        fields: dict[str, Any] = {"kind": kind}
        if p.points:
            fields["shape"] = None
        elif not kind and p.shape is not None:
            fields["kind"] = p.shape.kind
        self.change(f"Shape, {p.name}", pid, **fields)

    def put_shape(self, pid: str, s: Plain, f: Frame) -> None:
        """A plain shape as the hand has it, from heads into its part's own unit."""
        saved: Shape = shape_of(to_picture(s, f))
        self.preview(pid, shape=saved, kind=saved.kind)

    def put_shapes(self, shapes: Shapes) -> None:
        """All parts as the hand and what holds have them."""
        self._preview(lambda c: set_shapes(c, lambda _: shapes))

    def take_shapes(self, label: str, shapes: Shapes) -> None:
        self._do(label, lambda c: set_shapes(c, lambda _: shapes))

    def merge(self, scene: Scene, pid: str, other: str) -> str:
        """Two parts as one that covers both; a sentence where they do not hang together."""
        a, b = scene.part(pid), scene.part(other)
        if a is None or b is None or a is b:
            return "Choose the part it is to become one with: what it hangs on."
        found = merged_contour(a, b)
        if found is None:
            return f"{a.part.name} and {b.part.name} do not touch: they cannot be one."
        p = part_of(b.part.name, found, b.part.role, new_id(), source="construction", on=b.part.on)

        def edit(c: str) -> Edit:
            return _then(add_parts(c, (p,)), remove_part(c, pid), remove_part(c, other))

        self._do("Two parts as one", edit)
        return ""

    # ---- dials and pushes

    def dial(self, pid: str, field: str, value: float) -> None:
        self.preview(pid, **{field: round(value, 4)})

    def all_detail(self, value: float) -> None:
        self._preview(lambda c: set_shapes(c, lambda s: all_at(s, detail=round(value, 4))))

    def all_push(self, value: float) -> None:
        self._preview(lambda c: set_shapes(c, lambda s: all_at(s, push=round(value, 3))))

    def push(self, pid: str, trait: str, e: float, label: str = "") -> None:
        """Emphasis of one trait; a head's outline takes the plan's widths along where it is told to."""
        p = self.shapes.part(pid)
        if p is None:
            return
        now = {**p.emphasis, trait: round(e, 4)}
        now = {k: v for k, v in now.items() if v != 1}
        fed = self._fed(p.model_copy(update={"emphasis": now}))

        def edit(c: str) -> Edit:
            return _then(change_part(c, pid, emphasis=now), *fed)

        self._do(label, edit) if label else self._preview(edit)

    def _fed(self, p: Part, asked: bool = False) -> list[Edit]:
        """What a head's pushed outline does to the plan: nothing, unless it is told to."""
        c = self.document.character
        if c is None or not (asked or c.shapes.feeds_plan) or p.role != "head" or not p.points:
            return []
        ref = next((r for r in c.references if r.id == p.reference), None)
        f = frame_for(ref.marks.landmarks(ref.image.size), ref.image.size) if ref is not None else HEADS
        outline = unit(seen_part(p.model_copy(update={"detail": 1.0}), f, NO_STYLE).outline)
        plan, d, vid = self.document.plan(), self.document.decisions(), self.document.version_id
        found = built_after(outline, {k: v for k, v in plan.table.items() if k not in RESIDUAL_KEYS})
        widths = [set_offset(c.id, k, offset_for(plan, d, k, v), vid) for k, v in found.widths.items()]
        return [*widths, decide(c.id, outline=found.departures)]

    def feed(self, on: bool, now: Shapes) -> None:
        """Whether a head's pushed outline takes the plan's widths along, from the shapes as they are now on, and at once."""
        c = self.document.character
        if c is None:
            return
        head = next((p for p in now.parts if p.role == "head"), None)
        vid = self.document.version_id
        gone = [*(set_offset(c.id, k, None, vid) for k in WIDTHS), decide(c.id, outline=())]
        fed = (self._fed(head, True) if head is not None else []) if on else gone
        told = set_shapes(c.id, lambda s: s.model_copy(update={"feeds_plan": on, "parts": now.parts}))
        self.document.do("The outline moves the plan" if on else "The outline leaves the plan", _then(told, *fed))

    def style(self, weight: float) -> None:
        """How far the parts go toward the style."""
        self._preview(lambda c: set_shapes(c, lambda s: s.model_copy(update={"style_weight": round(weight, 3)})))

    def calm(self) -> None:
        """Nothing pushed any more."""
        self._do("Nothing pushed", lambda c: set_shapes(c, _calmed))

    # ---- what holds

    def relate(self, r: Relation) -> None:
        self._do("What holds", lambda c: set_relations(c, (*self.shapes.relations, r)))

    def unrelate(self, k: int) -> None:
        kept = tuple(r for i, r in enumerate(self.shapes.relations) if i != k)
        self._do("No longer holds", lambda c: set_relations(c, kept))

    def hold(self, found: Sequence[Relation]) -> None:
        self._do("Find what holds", lambda c: set_relations(c, tuple(found)[:200]))

    # ---- variants

    def keep(self, name: str, shapes: Shapes | None = None) -> str:
        """Shapes kept beside those that are worked on; a sentence where there is no room."""
        s, now = shapes or self.shapes, self.shapes
        if len(now.kept) >= 24:
            return "There is room for 24 kept variants; forget one first."
        taken = {v.name for v in now.kept}
        free = next(n for n in (name, *(f"{name[:52]} {k}" for k in range(2, 99))) if n not in taken)
        v = Variant(name=free, parts=s.parts, relations=s.relations)
        self._do(f"Keep “{free}”", lambda c: set_shapes(c, lambda x: x.model_copy(update={"kept": (*x.kept, v)})))
        return ""

    def forget(self, name: str) -> None:
        self._do(
            "Forget a variant",
            lambda c: set_shapes(c, lambda x: x.model_copy(update={"kept": tuple(v for v in x.kept if v.name != name)})),
        )

    def take_variant(self, v: Variant) -> None:
        self._do(
            f"Variant, {v.name}",
            lambda c: set_shapes(c, lambda x: x.model_copy(update={"parts": v.parts, "relations": v.relations})),
        )


def _then(*edits: Edit) -> Edit:
    return lambda p: reduce(lambda q, edit: edit(q), edits, p)


def _calmed(s: Shapes) -> Shapes:
    parts = tuple(
        p.model_copy(update={"emphasis": {}, "toward": "", "toward_share": 0.0, "corner": 0.5, "against": 0.0}) for p in s.parts
    )
    return s.model_copy(update={"parts": parts})
