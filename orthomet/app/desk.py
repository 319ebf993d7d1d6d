"""The work behind the window: the document, the stations, and everything the menus ask for.

It is built after the window's first paint, so that the window is there at once; its imports are the heavy ones.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject, Qt, QTimer, Signal
from PySide6.QtGui import QDropEvent, QGuiApplication
from PySide6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

from ..core.badges import badge
from ..core.check.again import Due
from ..core.errors import OrthometError
from ..core.pose.model import is_pose_file
from ..core.project.edits import (
    add_character,
    add_reference,
    change_drawing,
    new_id,
    rename_project,
)
from ..core.project.journal import Recoverable, against_file, discard
from ..core.project.model import Character, Project, Reference
from ..core.project.store import SUFFIX, Stored
from ..core.styles.library import is_style_file
from .again import AgainBar
from .cast import Cast
from .cast_figures import CastFigures
from .document import Document
from .filing import FILTER, Filing
from .landmark_files import ENDINGS, LandmarkFiles, is_text_of_points
from .ledge import Ledge
from .memory import GivesBack
from .pictures import Read, picture_sources, read_picture
from .rail import Rail
from .recovery import RecoveryBar, look_for_kept_work
from .shelf import Shelf
from .stage.images import ImageStore
from .stations.base import Station
from .stations.fields import settle_focused
from .stations.table import TABLE, Entry, Stations
from .work import Work

Show = Callable[[int, QWidget], None]
"""Puts a station in the window's middle, by its place."""
PICTURES = "Pictures (*.png *.jpg *.jpeg *.webp *.tif *.tiff *.bmp *.gif)"


class Desk(QObject):
    """Document, stations and actions of one window."""

    station_turned = Signal()
    """Another station is open."""
    refreshed = Signal()
    """The screen shows the document as it is now."""

    def __init__(self, window: QWidget, show: Show, shelf: Shelf, rail: Rail, ledge: Ledge, keep_journal: bool = True) -> None:
        super().__init__(window)
        self.window, self._show, self.shelf, self.rail, self.ledge = window, show, shelf, rail, ledge
        self.document = Document(self, keep_journal)
        self.images = ImageStore(self.document, self)
        self.cast = Cast(self.document, window)
        self.figures = CastFigures(self.document, self)
        self.reading = Work(self, threads=2)
        self.work = Work(self)
        self.filing = Filing(self.document, window, self, lambda: self.may_leave())
        self.landmarks = LandmarkFiles(window, lambda: (self.station, self.stations.named("Reference")), self.folder)
        self.stations = Stations(TABLE, self._build)
        self.current = 0
        self.recovery, self.again = RecoveryBar(), AgainBar()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(0)
        self._soon.timeout.connect(self.refresh)
        self.again.wanted.connect(self._look_again)
        self.document.opened.connect(lambda: self.again.greet(self.document.project))
        self.recovery.wanted.connect(self._recover)
        self.recovery.unwanted.connect(discard)
        GivesBack(self)
        self._connect()

    # ---- wiring

    def _connect(self) -> None:
        d = self.document
        d.changed.connect(self._soon.start)
        d.leaving.connect(partial(settle_focused, self.window))
        d.trouble.connect(lambda s: self.ledge.say(s, bad=True))
        self.images.ready.connect(self.refresh)
        self.images.trouble.connect(lambda s: self.ledge.say(s, bad=True))
        self.rail.chosen.connect(self.go)
        self.figures.changed.connect(self._show_cast)
        strip = self.shelf.cast
        strip.chosen.connect(d.choose_character)
        strip.add_wanted.connect(self.cast.add)
        strip.rename_wanted.connect(self.cast.edit)
        strip.menu_wanted.connect(self.cast.menu)
        self.filing.said.connect(self.ledge.say)
        self.landmarks.said.connect(self.ledge.say)
        self.filing.busy.connect(partial(self.ledge.busy, "files"))
        for who, work in (("work", self.work), ("pictures", self.reading)):
            work.failed.connect(lambda s: self.ledge.say(s, bad=True))
            work.busy.connect(partial(self.ledge.busy, who))

    def _build(self, entry: Entry) -> Station:
        """A station that is looked at for the first time."""
        s = entry.load()(self.document, self.images)
        s.status_changed.connect(self._status)
        s.go_to.connect(self.go_named)
        s.wanted.connect(lambda what: {"picture": self.add_picture_dialog, "demo": self.open_demo}[what]())
        s.say.connect(lambda words, bad: self.ledge.say(words, bad))
        s.work_wanted.connect(lambda words, job, then, how: self.work.start(words, job, then, **how))
        return s

    @property
    def station(self) -> Station:
        return self.stations[self.current]

    def go(self, k: int) -> None:
        self.document.settle()
        self.current = k
        self._show(k, self.station)
        self.station_turned.emit()
        self.refresh()
        self.station.setFocus()

    def go_named(self, name: str) -> None:
        self.go(self.stations.place(name))

    def flush(self) -> None:
        """Bring the screen up to the document now (a change is otherwise shown at the end of the event loop's turn)."""
        if self._soon.isActive():
            self._soon.stop()
            self.refresh()

    def refresh(self) -> None:
        d = self.document
        star = " •" if d.dirty else ""
        self.shelf.set_title(d.project.title + star, str(d.path) if d.path else "Not saved yet")
        self.window.setWindowTitle(f"{d.project.title}{star} – Orthomet")
        c = d.character
        self._show_cast()
        self.station.setEnabled(c is not None or not self.stations.table[self.current].needs)
        self.station.refresh()
        if not d.dragging:
            self.rail.set_badges({e.name: badge(e.name, d) for e in self.stations.table})
        self.refreshed.emit()
        self._status()

    def _show_cast(self) -> None:
        d = self.document
        self.shelf.cast.set_cast(d.project.characters, d.character.id if d.character else "", self.figures.figures)

    def _status(self) -> None:
        self.ledge.set_hint(self.station.hint())
        self.ledge.set_reading(*self.station.reading_note())

    # ---- what the menus ask for

    def save_landmarks(self) -> None:
        c = self.document.character
        self.landmarks.save_dialog(c.name if c else "landmarks")

    def focus_filter(self) -> None:
        lists = getattr(self.station, "list", None)
        if lists is not None:
            lists.filter.setFocus()
            lists.filter.selectAll()

    # ---- files

    def may_leave(self) -> bool:
        return self.filing.may_leave()

    def new_project(self) -> None:
        if self.may_leave():
            self.document.open_stored(Stored(Project()), None)

    def open_dialog(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self.window, "Open a project", self.folder(), f"{FILTER};;{PICTURES}")
        if path:
            self.open_path(path)

    def open_path(self, path: str) -> bool:
        """Open a project, a style, a pose, a landmark file or a picture."""
        if path.endswith(SUFFIX):
            return self.filing.open(path)
        if path.lower().endswith(".json") and is_style_file(path):
            self.go_named("Styles")
            return self.station.open_file(path)
        if path.lower().endswith(".json") and is_pose_file(path):
            self.go_named("Figure")
            return self.station.open_file(path)
        if path.lower().endswith(ENDINGS):
            return self.landmarks.open(path)
        self.add_picture(path, Path(path).name)
        return True

    def save(self) -> bool:
        return self.filing.save()

    def folder(self) -> str:
        return self.filing.folder()

    def open_demo(self) -> None:
        if not self.may_leave():
            return
        from ..demo.project import demo_project

        try:
            self.document.open_stored(demo_project(), None)
        except OrthometError as e:
            self.ledge.say(str(e), bad=True)

    def rename(self) -> None:
        title, ok = QInputDialog.getText(self.window, "Rename project", "Title of the project", text=self.document.project.title)
        if ok and title.strip():
            self.document.do("Rename project", rename_project(title[:200]))

    # ---- pictures

    def add_picture_dialog(self) -> None:
        paths, _ = QFileDialog.getOpenFileNames(self.window, "Add pictures", self.folder(), PICTURES)
        for p in paths:
            self.add_picture(p, Path(p).name)

    def add_picture(self, source: str | bytes, name: str) -> None:
        taker = partial(self._picture_came, self.station.name)
        self.reading.start(f"Opening {name}…", lambda say: read_picture(source, name), taker)

    def paste(self) -> None:
        mime = QGuiApplication.clipboard().mimeData()
        if mime is not None and mime.hasText() and not mime.hasUrls() and is_text_of_points(mime.text()):
            self.landmarks.paste(mime.text())
            return
        found = picture_sources(mime)
        if not found:
            self.ledge.say("There is neither a picture nor a set of landmarks on the clipboard.", bad=True)
        for source, name in found:
            self.add_picture(source, name)

    def _picture_came(self, purpose: str, read: Read) -> None:
        d = self.document
        d.pictures[read.record.hash] = read.data
        self.images.put(read.record.hash, read.image)
        if self.stations.named(purpose).take_picture(read.record, read.name):
            return
        c = d.character
        ref = Reference(id=new_id(), name=read.name[:80] or "Reference", image=read.record)
        if c is None:
            c = Character(id=new_id(), name="New character", references=(ref,), chosen_reference=ref.id)
            d.do("Add reference", add_character(c))
            d.choose_character(c.id)
        else:
            d.do("Add reference", add_reference(c.id, ref))
        self.go_named("Reference")

    def stop(self) -> None:
        """Stop whatever runs in the background; a save that has begun goes on."""
        self.filing.stop()
        self.reading.cancel()
        self.work.cancel()

    def take_drop(self, e: QDropEvent) -> None:
        mime = e.mimeData()
        for url in mime.urls():
            path = url.toLocalFile()
            if path.lower().endswith((SUFFIX, *ENDINGS)):
                e.acceptProposedAction()
                self.open_path(path)
                return
        found = picture_sources(mime)
        if not found:
            self.ledge.say("Only pictures, projects, styles and landmark files can be dropped here.", bad=True)
            return
        e.acceptProposedAction()
        for source, name in found:
            self.add_picture(source, name)

    # ---- recovery

    def offer_recovery(self) -> None:
        """Show what a window that ended badly left behind, if anything."""
        kept = look_for_kept_work()
        if kept is not None:
            self.recovery.offer(kept)

    def _recover(self, kept: Recoverable) -> None:
        """Bring it back: where its file still is what it began from, into that file; else as a copy beside it."""
        if not self.may_leave():
            return
        kept = against_file(kept)  # the file may have been saved while the bar stood there
        path = Path(kept.belongs_to) if kept.belongs_to else None
        stored = kept.stored
        if kept.file_changed:
            path = None
            title = f"{stored.project.title[:180]} (brought back)"
            stored = replace(stored, project=stored.project.model_copy(update={"title": title}))
        self.document.open_stored(
            replace(stored, digest=kept.origin.digest), path if path and path.exists() else None, saved=False
        )
        self.document.flush_journal()  # ours is on disk before the old one goes
        discard(kept)
        self.recovery.hide()
        self.ledge.say(
            "Here it is, as a copy: the file saved since stays as it is. Save the copy to keep it."
            if kept.file_changed
            else "Here it is again. Save it to keep it."
        )

    def _look_again(self, due: Due) -> None:
        """A drawing that asked to be looked at again: it is shown, and asks no more."""
        self.document.choose_character(due.character)
        self.document.choose_drawing(due.drawing)
        self.go_named("Check")
        self.document.do("Look again", change_drawing(due.character, due.drawing, again=""))

    # ---- words

    def tell_keys(self) -> None:
        self._note("Hands and keys", (
            "Wheel zooms at the pointer, Space-drag or the middle button pans, F fits.\n"
            "Tab walks the landmarks, arrows nudge by 1 px, with Shift by 10, Enter confirms, H marks hidden, Delete takes away.\n"
            "Alt+1 … Alt+8 open the stations, Ctrl+Tab the next character.\n"
            "On a plan row: 1 drop, 2 soften, 3 keep, 4 push; left and right move the plan; Return opens the row.\n"
            "At Check: hold O to hide the plan, C lays the cure over the drawing; M mirror, U upside down, S small, G grey, B out of "
            "focus, L lines alone, X axes; W wipe, I over it, K flicker with what lies beside it. Esc puts back what is in the hand."
        ))  # fmt: skip

    def tell_about(self) -> None:
        self._note("About the numbers", (
            "Norms are averages of one population, recalled from memory of published tables; they are approximate and no ideal. "
            "Every constant and its source is listed in docs/sources.md."
        ))  # fmt: skip

    def _note(self, title: str, words: str) -> None:
        box = QMessageBox(self.window)
        box.setWindowTitle(title)
        box.setText(words)
        box.setModal(False)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.open()

    # ---- end

    def close(self) -> None:
        self.filing.stop()
        self.filing.wait()
        self.stop()
        self.figures.let_go()
        for station in self.stations.built():
            station.let_go()
        for work in (self.work, self.reading, self.images):
            work.wait()
        self.document.close()
