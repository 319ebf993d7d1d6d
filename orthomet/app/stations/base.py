"""What every station is: a head line, a stage, a panel, and a few words for rail and ledge."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Protocol, TypeVar

from PySide6.QtCore import QEvent, QPoint, QSettings, Qt, Signal
from PySide6.QtGui import QAction, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QMenu, QSizePolicy, QWidget

from ...core.badges import badge
from ...core.errors import OrthometError
from ...core.files import write_whole
from ...core.landmarks.points import Landmarks
from ...core.picture import Picture
from ..document import Document
from ..ledge import Hint
from ..parts import across, down
from ..stage.images import ImageStore
from ..theme.paint import painting, vline
from ..theme.tokens import HEAD, PAD, PANEL, theme
from ..work import Say

T = TypeVar("T")


class Panel(QWidget):
    """The right side: a title, then whatever the station puts below."""

    def __init__(self, title: str, parent: QWidget | None = None):
        super().__init__(parent)
        self.setObjectName("panel")
        self.setFixedWidth(PANEL)
        self.title = QLabel(title)
        self.title.setProperty("lettering", "section")
        self.top = across((self.title, 1), margins=(PAD, 0, PAD, 0), spacing=None)
        holder = QWidget()
        holder.setFixedHeight(HEAD)
        holder.setLayout(self.top)
        self.column = down(holder, owner=self, margins=(1, 0, 0, 0))

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            p.fillRect(self.rect(), theme.t.c("paper"))
            vline(p, 0, 0, self.height(), theme.t.c("rule_strong"))


class TopLine(QWidget):
    """A station's top line. What is ``spare`` in it, last first, is left out rather than cut where there is no room."""

    def __init__(self, row: QHBoxLayout):
        super().__init__()
        self.setFixedHeight(HEAD)
        self.setLayout(row)
        row.setSizeConstraint(QHBoxLayout.SizeConstraint.SetNoConstraint)
        self.row, self.spare = row, list[QWidget]()

    def event(self, e: QEvent) -> bool:
        if e.type() in (QEvent.Type.Resize, QEvent.Type.LayoutRequest):
            self._fit()
        return super().event(e)

    def _fit(self) -> None:
        lacking = self._wanted() - self.width()
        for w in self.spare:
            out = lacking > 0 and not w.isHidden()
            if out:
                lacking -= w.sizeHint().width() + self.row.spacing()
            w.setMaximumWidth(0 if out else 16_777_215)
            w.setAccessibleDescription("left out for want of room" if out else "")

    def _wanted(self) -> int:
        """Width of everything that is to be seen in it, nothing cut."""
        margins = self.row.contentsMargins()
        total = margins.left() + margins.right()
        for k in range(self.row.count()):
            item = self.row.itemAt(k)
            w = item.widget() if item is not None else None
            if w is None:
                total += item.minimumSize().width() if item is not None else 0
            elif not w.isHidden():
                total += min(w.sizeHint().width(), w.maximumWidth() or w.sizeHint().width()) + self.row.spacing()
        return total


class HasMarks(Protocol):
    """Whatever landmarks can be laid on and taken from."""

    def take(self, found: Landmarks) -> bool | None: ...

    def landmarks(self) -> Landmarks | None: ...


class Station(QWidget):
    """Subclasses build ``head``, ``stage`` and ``panel`` and answer what the frame asks."""

    name = ""
    status_changed = Signal()
    go_to = Signal(str)
    """Ask the frame to open another station by name."""

    say = Signal(str, bool)
    """A sentence for the ledge, and whether it is about trouble."""

    work_wanted = Signal(str, object, object, dict)
    """Words, job, what follows, and how else: run it off the interface thread (:meth:`run`)."""

    exported = Signal(str, str)
    """A page was written: its path; or a sentence, when it could not be."""

    wanted = Signal(str)
    """Ask the desk for something: "picture" or "demo"."""

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(parent)
        self.setObjectName("frame")
        self.document, self.images = document, images
        self.top_row = across(margins=(14, 0, 12, 0), spacing=8)
        title = QLabel(self.name)
        title.setProperty("lettering", "title")
        self.top_row.addWidget(title)
        self.top_row.addSpacing(10)
        title.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Preferred)
        holder = self.top_line = TopLine(self.top_row)
        self.left = down(holder)
        self.row = across((self.left, 1), owner=self)
        self.hot: set[str] = set()
        self._actions: list[QAction] = []
        self.marked: HasMarks | None = None
        """The hand on the picture this station marks, where it marks one."""

    def build(self, stage: QWidget, panel: QWidget, below: QWidget | None = None) -> None:
        stage.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.left.addWidget(stage, 1)
        if below is not None:
            self.left.addWidget(below)
        self.row.addWidget(panel)
        self.setFocusProxy(stage)

    def refresh(self) -> None:
        """Show the document as it is now."""

    def badge(self) -> tuple[str, str]:
        """Number for the rail's lozenge and the words behind it."""
        return badge(self.name, self.document)

    def hint(self) -> Hint:
        return []

    def actions_here(self) -> list[QAction]:
        """Entries of the Stage menu while this station is open."""
        return self._actions

    def reading_note(self) -> tuple[str, str, str]:
        """The reading under the pointer: name, value, note."""
        return "", "", ""

    def take_picture(self, image: object, name: str) -> bool:
        """A picture was dropped or pasted here. True when this station keeps it in its own way."""
        return False

    def open_file(self, path: str) -> bool:
        """A file of a kind this station keeps was opened. False when it is none."""
        return False

    def take_landmarks(self, found: Landmarks) -> bool | None:
        """Landmarks were opened, dropped or pasted here. ``None`` when this station has no picture to lay them on."""
        return self.marked.take(found) if self.marked is not None else None

    def landmarks_here(self) -> Landmarks | None:
        """Landmarks of the picture this station works on, for saving."""
        return self.marked.landmarks() if self.marked is not None else None

    def let_go(self) -> None:
        """The window closes: stop work of one's own, and wait until it has stopped."""

    # ---- helpers

    def action(self, words: str, keys: str, slot: Callable[[], object], tip: str = "", on: QWidget | None = None) -> QAction:
        """An entry of the Stage menu. Its keys count in the whole station, or only while ``on`` itself has the keys."""
        a = QAction(words, self)
        if keys:
            a.setShortcut(keys)
            context = Qt.ShortcutContext.WidgetShortcut if on else Qt.ShortcutContext.WidgetWithChildrenShortcut
            a.setShortcutContext(context)
        a.setToolTip(tip or words)
        a.triggered.connect(lambda: slot())
        (on or self).addAction(a)
        return a

    def run(self, words: str, job: Callable[[Say], T], then: Callable[[T], object], **how: Callable[..., object]) -> None:
        """Do long work off the interface thread, as :meth:`Work.start` does it."""
        self.work_wanted.emit(words, job, then, how)

    def write_page(self, path: str, draw: Callable[[], Picture], pencil: str, words: str) -> None:
        """Draw a page and write it, off the interface thread; ``draw`` must ask for nothing that changes meanwhile."""
        name = Path(path).name
        remember_export(path)

        def job(say: Say) -> None:
            from ..render import write_page

            page = draw()
            if say(f"Writing {name}…"):
                write_page(page, path, pencil, say)

        def done(sentence: str) -> None:
            self.say.emit(sentence or words, bool(sentence))
            self.exported.emit(path, sentence)

        self.run(f"Drawing {name}…", job, lambda _: done(""), failed=done)

    def write_text(self, path: str, text: str, words: str = "Written to {}.") -> None:
        """Write a small file now, and say so, or why not."""
        try:
            write_whole(path, text.encode())
            self.say.emit(words.format(Path(path).name), False)
        except OrthometError as e:
            self.say.emit(str(e), True)


def export_folder() -> Path:
    """Where the last page was written, or home."""
    return Path(str(QSettings().value("export_folder", str(Path.home()))))


def remember_export(path: str) -> None:
    QSettings().setValue("export_folder", str(Path(path).parent))


def pop_up(menu: QMenu, at: QPoint) -> None:
    """Show a menu of the moment; nothing waits for it, and it goes when it is left."""
    menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    menu.popup(at)
