"""The live desk: a drawing follows its file; at every save its points are carried over and it is checked again."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

import numpy as np
from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtGui import QImage

from ....core.check.check import Check
from ....core.check.since import Change, by_reading, changes, noted
from ....core.check.view import ViewCheck
from ....core.derived import Derived, Supposed
from ....core.errors import LandmarkError
from ....core.kinds import Array
from ....core.landmarks.points import State
from ....core.landmarks.views import SCHEMAS
from ....core.live.carry import Carried, Trace, begin, carry
from ....core.live.rim import ALONG, LOST
from ....core.live.saved import note, now, take_save
from ....core.project.checked import Noted, Why
from ....core.project.edits import Edit, add_drawing, all_of, new_id
from ....core.project.model import Drawing, Marks, Project
from ...document import Document
from ...following import Follower
from ...pictures import Read
from ...stage.images import ImageStore
from ...stage.pixels import to_grey
from ...work import Say, Work

WAIT_MS = 120
"""How long a save waits while a hand drags (own)."""
READY_MS = 500
"""How long points rest before they are made ready to be followed (own)."""
Checked = Check | ViewCheck


@dataclass(frozen=True, eq=False)
class Save:
    """What became of one save."""

    trace: Trace | None
    carried: Carried | None
    edit: Edit
    sentence: str


@dataclass(frozen=True)
class Since:
    """What the last save brought, for the panel."""

    name: str
    at: str
    """Time of day."""
    rows: tuple[Change, ...]
    words: str
    """What happened to the drawing as a whole."""
    lost: tuple[str, ...]
    """Groups of landmarks whose lines were not found again."""
    along: int
    """How many landmarks only moved with their feature."""


def checked_of(d: Derived) -> Checked | str:
    """The check of whatever the drawing shows."""
    drawing = d.drawing
    if drawing is None or not drawing.marks.points or drawing.marks.only_own:
        return ""
    return d.check_view()


class LiveDesk(QObject):
    """Follows one file for one drawing of the open project."""

    changed = Signal()
    """What it follows, waits for or found has changed."""
    said = Signal(str, bool)

    def __init__(self, document: Document, images: ImageStore, parent: QObject | None = None):
        super().__init__(parent)
        self.document, self.images = document, images
        self._reading, self._working = Work(self), Work(self)
        self.follower: Follower | None = None
        self.place: tuple[str, str] | None = None
        """Character and drawing that follow."""
        self.note = ""
        self.since: Since | None = None
        self._trace: tuple[Marks, str, Trace] | None = None
        """What was carried last, valid for just those marks on that picture."""
        self._waiting: Read | None = None
        self._busy = False
        self._again = QTimer(self, singleShot=True, interval=WAIT_MS)
        self._again.timeout.connect(self._go_on)
        document.changed.connect(self._still_there)
        self._ready = QTimer(self, singleShot=True, interval=READY_MS)
        self._ready.timeout.connect(self._make_ready)

    # ---- following

    def follow(self, path: str) -> None:
        """Follow a file: for the drawing at hand when it shows that file, else for a new one."""
        self.stop()
        c, d = self.document.character, self.document.drawing
        if c is None:
            self.said.emit("A character is needed first: its plan is what the drawing is checked against.", True)
            return
        mine = d is not None and d.name.casefold() in (Path(path).stem.casefold(), Path(path).name.casefold())
        self.place = (c.id, d.id if d is not None and mine else "")
        self.follower = f = Follower(path, self._reading, self, d.image.hash if d is not None and mine else "")
        f.arrived.connect(self._arrived)
        f.noted.connect(self._noted)
        self.changed.emit()

    def stop(self) -> None:
        if self.follower is not None:
            self.follower.stop()
        self.follower, self.place, self._trace, self._waiting = None, None, None, None
        self.note, self.since = "", None
        self._again.stop()
        self.changed.emit()

    def let_go(self) -> None:
        """The window closes."""
        self.stop()
        self._reading.let_go()
        self._working.let_go()

    @property
    def name(self) -> str:
        return self.follower.name if self.follower is not None else ""

    def follows(self, drawing: Drawing | None) -> bool:
        """Whether it follows for just this drawing."""
        return drawing is not None and self.place is not None and self.place[1] == drawing.id

    def _held(self) -> Drawing | None:
        if self.place is None:
            return None
        c = self.document.project.character(self.place[0])
        return c.drawing(self.place[1]) if c is not None else None

    def _still_there(self) -> None:
        """A drawing that is removed, or a project that is left, is followed no more."""
        if self.place is not None and not self.document.dragging:
            gone = self.document.project.character(self.place[0]) is None or (self.place[1] and self._held() is None)
            if gone:
                name = self.name
                self.stop()
                self.said.emit(f"{name} is followed no more: its drawing is gone.", False)
            else:
                self._ready.start()

    def _make_ready(self) -> None:
        """Keep how the points look as they are now, so that the next save finds it done."""
        d = self._held()
        known = self._trace is not None and d is not None and self._trace[:2] == (d.marks, d.image.hash)
        if d is None or known or self._busy or self.document.dragging or not d.marks.points or d.marks.only_own:
            return
        image, data = self.images.get(d.image.hash), self.document.pictures.get(d.image.hash)

        def job(say: Say) -> Trace | None:
            try:
                return begin(to_grey(image if image is not None else _decoded(data)), *_known(d.marks))
            except LandmarkError:
                return None  # told when a save comes

        def take(trace: Trace | None) -> None:
            now_ = self._held()
            if trace is not None and not self._busy and now_ is not None and (now_.marks, now_.image) == (d.marks, d.image):
                self._trace = d.marks, d.image.hash, trace

        self._working.start("", job, take, failed=lambda _: None, what="Reading the drawing")

    def _noted(self, words: str) -> None:
        self.note = words
        self.changed.emit()

    # ---- a save

    def _arrived(self, read: Read) -> None:
        self._waiting = read
        self._go_on()

    def _go_on(self) -> None:
        """The latest save, as soon as the one before is done and the hand rests."""
        read = self._waiting
        if read is None or self._busy or self.place is None:
            return
        if self.document.dragging:
            self._again.start()
            return
        cid, did = self.place
        d = self._held()
        if not did or d is None:
            self._waiting = None
            self._begin_drawing(read)
            return
        if d.image == read.record:
            self._waiting = None
            return
        self._waiting, self._busy = None, True
        old = self.images.get(d.image.hash)
        data = self.document.pictures.get(d.image.hash)
        trace = self._trace[2] if self._trace is not None and self._trace[:2] == (d.marks, d.image.hash) else None
        project, follower = self.document.project, self.follower

        def job(say: Say) -> Save:
            return save_of(project, cid, d, read, trace, old, data)

        def take(save: Save) -> None:
            self._busy = False
            if self.follower is follower:  # or another file is followed by now
                self._take(d, read, save)
            self._go_on()

        def failed(sentence: str) -> None:
            self._busy = False
            self.said.emit(sentence, True)
            self._go_on()

        self._working.start("", job, take, failed=failed, what=f"Checking {read.name}")

    def _begin_drawing(self, read: Read) -> None:
        """The first state of a file that is no drawing yet."""
        assert self.place is not None
        cid = self.place[0]
        drawing = Drawing(id=new_id(), name=read.name or "Drawing", image=read.record, made=now()[:10])
        self.place = (cid, drawing.id)
        self.images.put(read.record.hash, read.image)
        self.document.amend("Follow a file", add_drawing(cid, drawing), {read.record.hash: read.data})
        c = self.document.character
        if c is not None and c.id == cid:
            self.document.choose_drawing(drawing.id)
        self.changed.emit()

    def _take(self, before: Drawing, read: Read, save: Save) -> None:
        now_ = self._held()
        if self.place is None or now_ is None:
            return
        if self.document.dragging or now_ != before:
            # the artist went on meanwhile: carry over from what is there now
            self._waiting = self._waiting or read
            self._again.start()
            return
        earlier_check = checked_of(self._view(self.document.project))
        self.images.put(read.record.hash, read.image)
        self.document.amend(f"Saves of {read.name}", save.edit, {read.record.hash: read.data}, before.image.hash)
        new = self._held()
        assert new is not None
        self._trace = (new.marks, new.image.hash, save.trace) if save.trace is not None else None
        self.since = self._since(read.name, earlier_check, save)
        if save.sentence:
            self.said.emit(save.sentence, True)
        self.changed.emit()

    def _view(self, project: Project) -> Derived:
        assert self.place is not None
        return Supposed(project, self.place[0], "", self.place[1])

    def _since(self, name: str, before: Checked | str, save: Save) -> Since:
        check = checked_of(self._view(self.document.project))
        old = by_reading(noted(before, now(), "saved")) if isinstance(before, Checked) else {}
        rows = changes(old, check) if isinstance(check, Checked) else ()
        c = save.carried
        new = self._held()
        lost: tuple[str, ...] = ()
        along = 0
        if c is not None and new is not None:
            schema = SCHEMAS[new.marks.view]
            lost = tuple(
                dict.fromkeys(
                    m.group for m, s in zip(schema.landmarks, c.status, strict=True) if s == LOST and m.name in new.marks.points
                )
            )
            along = int((c.status == ALONG).sum())
        return Since(name, datetime.now().strftime("%H:%M:%S"), rows, c.words if c is not None else "", lost, along)


def save_of(
    project: Project, cid: str, d: Drawing, read: Read, trace: Trace | None, image: QImage | None, data: bytes | None
) -> Save:
    """Carry a drawing's points to a newly saved state and check it, on any thread."""
    carried, sentence = None, ""
    if d.marks.points and not d.marks.only_own:
        try:
            if trace is None:
                trace = begin(to_grey(image if image is not None else _decoded(data)), *_known(d.marks))
            trace, carried = carry(trace, to_grey(read.image))
        except LandmarkError as e:
            trace, sentence = None, str(e)
    when = now()
    edit = take_save(cid, d.id, read.record, carried, when)
    check = checked_of(Supposed(edit(project), cid, "", d.id))
    if isinstance(check, Checked):
        edit = all_of(edit, note(cid, d.id, noted(check, when, "saved", d.basis)))
    return Save(trace, carried, edit, sentence)


def _decoded(data: bytes | None) -> QImage:
    from ...stage.decode import decode

    if data is None:
        raise LandmarkError("The drawing's last state is not at hand: lay its points anew.")
    return decode(data)[0]


def _known(marks: Marks) -> tuple[Array, str, Array]:
    """Landmarks for a trace: places, view, and how uncertain each is by now."""
    names = SCHEMAS[marks.view].names
    here = [n in marks.points and marks.states.get(n) is not State.ABSENT for n in names]
    xy = np.array([marks.points[n] if h else (np.nan, np.nan) for n, h in zip(names, here, strict=True)], float)
    return xy, marks.view, np.array([marks.spread.get(n, 0.0) for n in names])


def kept_check(cid: str, d: Drawing, check: Checked, why: Why = "kept") -> Edit | None:
    """A check kept on the artist's word; ``None`` where the very same was kept last."""
    entry = noted(check, now(), why, d.basis)
    last: Noted | None = d.log[-1] if d.log else None
    return (
        None if last is not None and last.findings == entry.findings and last.passed == entry.passed else note(cid, d.id, entry)
    )
