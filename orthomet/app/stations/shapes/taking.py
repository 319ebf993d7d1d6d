"""Parts taken: traced by hand, from the plan, put down as plain shapes, mirrored, as a figure was taken apart into."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from ....core.errors import FormatError
from ....core.figure.scene import outlines
from ....core.kinds import Array
from ....core.landmarks.turn import Turn
from ....core.people import head_of_plan, person_of
from ....core.plan.side import targets
from ....core.project.edits import new_id
from ....core.shapes.contour import corners as found
from ....core.shapes.contour import evened, size_of, smoothed, traced
from ....core.shapes.model import Part, Relation, roles, shape_of, without_part
from ....core.shapes.plain import Plain
from ....core.shapes.sources import head_parts, middle_of, part_of, plain_part
from ...work import Say
from .host import Host, still_there

EVEN_ROLES = ("head", "torso", "neck")
"""What is nearly alike on both sides is meant to be exactly so."""


class Taking:
    """Each becomes an edit; the part that was taken is worked on next."""

    def __init__(self, host: Host):
        self.host = host

    def take(self, contour: Array, corners: Sequence[int], source: str) -> None:
        """A contour in the reference's pixels becomes a part."""
        h = self.host
        ref, role = h.reference(), h.new_role()
        if ref is None or h.document.character is None:
            h.say.emit("Add a character with a reference first.", True)
            return
        if role in EVEN_ROLES:
            contour, even = evened(contour)
            corners = found(smoothed(contour, 1.4)).tolist() if even else corners
        name = roles()[role].words if role != "other" else "part"
        self._now(h.edits.take(name, contour, corners, role, ref.id, source))

    def _now(self, pid: str) -> None:
        if pid:
            self.host.part = pid
            self.host.refresh()

    def traced(self, points: Array) -> None:
        """A line drawn round a part, pixels."""
        try:
            c, found = traced(points)
        except FormatError as e:
            self.host.say.emit(str(e), True)
            return
        self.take(c, found.tolist(), "traced")

    def head(self) -> None:
        """The planned head's outline with brows, eyes, nose and mouth."""
        h = self.host
        if h.document.character is None:
            h.say.emit("Add a character first: the plan is somebody’s.", True)
            return
        plan = h.document.plan()
        parts = head_parts(plan.table, plan.points, new_id)
        if h.edits.add("Head from the plan", [p.model_copy(update={"name": h.edits.free_name(p.name)}) for p in parts]):
            self._now(parts[0].id)

    def figure(self) -> None:
        """The planned figure's outline, off the interface thread."""
        h = self.host
        d, c = h.document, h.document.character
        if c is None:
            return
        plan, head = d.figure_plan(), head_of_plan(d.plan(), c, d.decisions(), targets(d.side_plans()))

        def job(say: Say) -> Part:
            found = max(outlines(person_of(plan, head), Turn()), key=size_of)
            contour, corners = traced(found, 480)
            p = part_of("figure", contour, "other", new_id(), corners=corners.tolist(), source="construction")
            return p.model_copy(update={"detail": 1.0})  # as one plain shape it says little

        h.run("Drawing the figure…", job, lambda p: h.edits.add("Figure from the plan", [p], False), still=still_there(h))

    def plain(self, kind: str) -> None:
        """A plain shape put down in the middle of what there is."""
        h = self.host
        if not kind or h.document.character is None:
            return
        s = h.scene()
        x, y, w, t = s.box if s is not None and s.parts else (-0.4, 0.0, 0.8, 1.0)
        name = h.edits.free_name(kind.replace("-", " "))
        p = plain_part(name, kind, (x + w / 2, y + t / 2), 0.3 * max(w, t), new_id(), "", h.new_role())
        if h.edits.add(f"A {kind.replace('-', ' ')}", [p]):
            self._now(p.id)

    def mirror(self) -> None:
        """The part on the other side of what it hangs on, or of the head's middle."""
        h = self.host
        shapes = h.edits.shapes
        p = shapes.part(h.part)
        if p is None:
            return
        about = shapes.part(p.on) or next(
            (q for q in reversed(shapes.parts) if q.role in ("head", "torso") and q.id != p.id), None
        )
        frame = h.frames().get(p.reference)
        if about is not None and about.reference == p.reference:
            axis = middle_of(about)[0]
        else:
            axis = frame.crown[0] if frame is not None else 0.0
        h.edits.mirror(p.id, axis)

    def apart(
        self, shapes: list[Plain], reference: str, relations: Callable[[list[Part]], tuple[Relation, ...]], gone: str = ""
    ) -> None:
        """Shapes a silhouette was taken apart into, in its reference's pixels (or in heads), instead of the part that was one of them."""
        h = self.host
        if h.document.character is None or not shapes:
            return
        parts = []
        for k, s in enumerate(shapes, 1):
            saved = shape_of(s)
            name = h.edits.free_name(f"part {k}" if k > 1 else "body")
            fields = {"reference": reference, "kind": saved.kind, "shape": saved, "tone": 0.3}
            parts.append(Part(id=new_id(), name=name, role="torso" if k == 1 else "other", **fields))
        now = without_part(h.edits.shapes, gone)
        more = {"parts": (*now.parts, *parts), "relations": (*now.relations, *relations(parts))}
        h.edits.take_shapes("One part as two" if gone else "Take the figure apart", now.model_copy(update=more))
        self._now(parts[0].id)
