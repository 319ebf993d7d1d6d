"""The hand on the sheet: a part dragged with what hangs on it, a contour's points bent, a shape's handles pulled."""

from __future__ import annotations

from dataclasses import dataclass

from ....core.kinds import Array
from ....core.shapes.holding import System
from ....core.shapes.model import Shapes
from ....core.shapes.plain import Plain
from ....core.shapes.relations import Body
from ....core.shapes.scene import bodies_of, with_bodies
from .host import Host, frame_of

WORDS = {"part": "Move", "points": "Contour", "width": "Width", "height": "Height", "turn": "Turn"}


@dataclass(frozen=True, eq=False)
class _Held:
    """The parts as they stood when the hand took one of them."""

    system: System
    bodies: tuple[Body, ...]
    shapes: Shapes


class SheetHand:
    def __init__(self, host: Host):
        self.host = host
        self._held: _Held | None = None

    def begin(self, what: str, pid: str) -> None:
        h = self.host
        self._held = None
        s = h.scene()
        if what == "part" and s is not None and s.part(pid) is not None:
            bodies = bodies_of(s)
            self._held = _Held(System(bodies, s.relations, None, True), bodies, h.edits.shapes)
        p = h.edits.shapes.part(pid)
        h.document.begin(f"{WORDS[what]}, {p.name if p is not None else 'part'}")

    def move(self, pid: str, dx: float, dy: float) -> None:
        held = self._held
        if held is None or not self.host.document.dragging:
            return
        b = next(b for b in held.bodies if b.id == pid)
        done = held.system.solve({pid: (float(b.middle[0]) + dx, float(b.middle[1]) + dy)})
        self.host.edits.put_shapes(with_bodies(held.shapes, self.host.frames(), held.bodies, done.bodies))

    def bend(self, pid: str, contour: Array) -> None:
        p = self.host.edits.shapes.part(pid)
        if p is not None and self.host.document.dragging:
            self.host.edits.retrace(pid, frame_of(self.host, pid).to_picture(contour), p.corners, p.reference)

    def reshape(self, pid: str, s: Plain) -> None:
        self.host.edits.put_shape(pid, s, frame_of(self.host, pid))

    def drop(self) -> None:
        self._held = None
        self.host.document.commit()
        self.host.refresh()

    def leave(self) -> None:
        self._held = None
        self.host.document.cancel()
        self.host.refresh()
