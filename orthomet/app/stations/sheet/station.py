"""The Sheet station: a page of construction guides, seen as it will print."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, QSettings, QSizeF, Qt
from PySide6.QtGui import QMouseEvent, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QWidget

from ....core.errors import OrthometError
from ....core.export.look import PENCILS, looks
from ....core.export.page import PAPER, page
from ....core.head.construct import construction
from ....core.landmarks.frame import Frame
from ....core.picture import Picture
from ....core.plan.start import STARTS, head_height, heads_of
from ....core.project.edits import choose_school, set_school_line
from ....core.project.model import Character
from ....core.shapes.drawn import steps, steps_page
from ....core.shapes.model import Shapes
from ....core.shapes.scene import scene
from ....core.shapes.sources import frame_for
from ....core.styles.schools import departures, school, schools
from ...ask import ask_where
from ...document import Document
from ...ledge import Hint
from ...parts import across, button, choices, down, quiet, soft
from ...render import KINDS, paint
from ...stage.images import ImageStore
from ...stage.pannable import Pannable
from ...theme.paint import CENTRE, outline, painting, text
from ...theme.tokens import PAD, theme
from ...work import Say
from ..base import Panel, Station, export_folder
from ..dials import SchoolDials
from ..newest import Newest
from ..pages import fill, number_box, put
from .steps import StepsList

SMALLER = 30
"""Sizes tried at most until the steps fit their paper."""
SHAPES = "*shapes"
"""Stands among the schools for the character's own shapes."""
PENCIL_WORDS = {"blue": "pencil blue", "sanguine": "sanguine", "graphite": "graphite"}


class PageView(Pannable):
    """The page on the board; the wheel zooms, dragging moves it."""

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("The page as it will print")
        self.page: Picture | None = None
        self.pencil, self.sentence = "blue", ""

    def set_page(self, picture: Picture | None, pencil: str, sentence: str = "") -> None:
        self.page, self.pencil, self.sentence = picture, pencil, sentence
        self.update()

    def middle(self, at: QPointF) -> QPointF:
        return QPointF(self.width() / 2, (self.height() - 6) / 2)

    def place(self) -> tuple[QRectF, float]:
        assert self.page is not None
        size = QSizeF(self.page.box[2], self.page.box[3])
        k = min((self.width() - 40) / size.width(), (self.height() - 30) / size.height()) * self.zoomed
        r = QRectF(QPointF(0, 0), size * k)
        r.moveCenter(self.middle(QPointF()) + self.shift)
        return r, k

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        self._pan = e.position()  # by any button: there is nothing else to take hold of

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        self.pans(e)

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        self.ends_pan()

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("board"))
            if self.page is None:
                box = QRectF(40, self.height() / 2 - 40, self.width() - 80, 80)
                text(p, box, self.sentence, "instruct", t.c("ink"), CENTRE, wrap=True)
                return
            r, k = self.place()
            p.fillRect(r.translated(3, 4), t.c("ink", 0.12))
            p.fillRect(r, Qt.GlobalColor.white)
            if t.scan_dim:
                p.fillRect(r, t.c("board", 0.10))
            outline(p, t.c("rule_strong"), 1)
            p.drawRect(r)
            p.setClipRect(r)
            p.translate(r.topLeft())
            paint(p, self.page, k, looks(self.pencil), max(k, 2.2))


class SheetStation(Station):
    name = "Sheet"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.view = PageView()
        self.panel = Panel("Guides on a page")
        self.top_row.addStretch(1)
        self.top_row.addWidget(
            button("Export…", self.export, "Write the page as SVG, PDF or PNG at its true size (Ctrl+Shift+E)", strong=True)
        )
        self._head_mm = float(QSettings().value("head_mm", 120.0))  # type: ignore[arg-type]
        self.school = choices("School", slot=self._choose_school)
        tip = "Start anywhere: name the feature that is drawn already and its size; the rest is laid out from it"
        self.start = choices("Size of", tip, lambda _: self._start_from())
        self.head_mm = number_box(10, 2000, 1, 0, " mm", "How large it is on the page", self.refresh)
        put(self.head_mm, self._head_mm)
        self.paper, self.pencil = choices("Paper", slot=self.refresh), choices("Pencil", slot=self.refresh)
        fill(self.school, [*((s.title, s.name) for s in schools().values()), ("Shapes, step by step", SHAPES)], "")
        self._in_shapes = False
        self.maker: Newest[ShapesPage] = Newest("The steps", self)
        self.maker.done.connect(self.refresh)
        self.maker.failed.connect(lambda words: self.say.emit(words, True))
        fill(self.start, [(m.words, key) for key, m in STARTS.items()], "head")
        papers = list(PAPER)
        fill(self.paper, [("cut to the drawing" if n == papers[0] else n, n) for n in papers], papers[2])
        fill(self.pencil, [(PENCIL_WORDS[n], n) for n in PENCILS], "blue")
        form = down(margins=(PAD, 0, PAD, 0), spacing=6)
        self._labels: dict[str, QHBoxLayout] = {}
        words = ("School", "Size of", "is", "Paper", "Pencil")
        for label, w in zip(words, (self.school, self.start, self.head_mm, self.paper, self.pencil), strict=True):
            row = _labelled(label, w)
            form.addLayout(row)
            self._labels[label] = row
        self.lines = SchoolDials(self.school, spacing=4)
        self.lines.began.connect(document.begin)
        self.lines.moved.connect(self._set_line)
        self.lines.settled.connect(document.commit)
        form.addWidget(self.lines)
        self.panel.column.addLayout(form)
        self.steps = StepsList()
        self.steps.toggled.connect(self._toggle)
        self.panel.column.addSpacing(8)
        self.panel.column.addWidget(self.steps, 1)
        self.told = soft(wrap=True)
        self.told.setContentsMargins(PAD, 0, PAD, 0)
        self.told.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.panel.column.addWidget(self.told, 1)
        self.build(self.view, self.panel)
        self._hidden: set[str] = set()
        self._shown: object = None
        self._actions = [self.action("Export the page…", "Ctrl+Shift+E", self.export)]

    def let_go(self) -> None:
        self.maker.work.let_go()

    def _choose_school(self, name: str) -> None:
        c = self.document.character
        self._in_shapes = name == SHAPES
        if self._in_shapes:
            self.refresh()
        elif c:
            self.document.do("Guide school", choose_school(c.id, name))
            self.refresh()

    def head_height(self) -> float:
        """Head height on the page, mm, from the feature one starts with. Raises OrthometError when it fits no paper."""
        return head_height(self.start.currentData(), self.head_mm.value(), self.document.plan().points)

    def _start_from(self) -> None:
        """Another feature: its size is what it is on the page now."""
        name = self.start.currentData()
        try:
            mm = self._head_mm * heads_of(name, self.document.plan().points)
        except OrthometError as e:
            self.say.emit(str(e), True)
            return
        with quiet(self.head_mm):
            self.head_mm.setRange(1 if name != "head" else 10, 2000)
            self.head_mm.setDecimals(0 if name == "head" else 1)
            self.head_mm.setValue(mm)
        self.refresh()

    def sheet(self) -> Picture:
        """The page as it will be written. Raises OrthometError when it does not fit."""
        c, plan = self.document.character, self.document.plan()
        assert c is not None
        d = c.decisions
        drawing = construction(plan.table, plan.points, school(d.school), d.school_settings, c.features).without(*self._hidden)
        ref = c.reference
        credit = f"After {ref.credit}." if ref and ref.credit else ""
        title = f"{c.name}{self.document.version_words()}: {school(d.school).title}"
        return page(replace(drawing, title=title), self.head_height(), self.paper.currentData(), credit)

    def _shapes_sheet(self, c: Character) -> ShapesPage | None:
        """The shapes' steps as they are made elsewhere; the sentence why there are none."""
        if not c.shapes.parts:
            return ShapesPage(None, None, "No shapes yet: take a few parts at Shapes, then their steps stand here.")
        frames = {r.id: frame_for(r.marks.landmarks(r.image.size), r.image.size) for r in c.references}
        ref = c.reference
        credit = f"After {ref.credit}." if ref and ref.credit else ""
        title, mm, paper = f"{c.name}{self.document.version_words()}: in shapes", self.head_mm.value(), self.paper.currentData()
        key = (c.shapes, tuple(frames.items()), title, mm, paper, credit)
        if self.maker.latest is None or self.maker.latest.key != key:
            self.maker.wants(partial(_shapes_page, key, c.shapes, frames, title, mm, paper, credit))
        return self.maker.latest

    def refresh(self, *_: object) -> None:
        c = self.document.character
        if c is None:
            self.view.set_page(None, "blue", "Add a character first.")
            return
        for w in (self.lines, self.steps, self.start):
            w.setVisible(not self._in_shapes)
        self.told.setVisible(self._in_shapes)
        item = self._labels["Size of"].itemAt(0)
        label = item.widget() if item is not None else None
        if label is not None:
            label.setVisible(not self._in_shapes)
        if self._in_shapes:
            self.school.setCurrentIndex(self.school.findData(SHAPES))
            made = self._shapes_sheet(c)
            self.told.setText(made.told if made is not None else "")
            self.view.set_page(
                made.page if made is not None else None,
                self.pencil.currentData(),
                made.sentence if made is not None else "Drawing the steps…",
            )
            return
        d = c.decisions
        self.school.setCurrentIndex(max(0, self.school.findData(d.school)))
        try:
            sheet, sentence = self.sheet(), ""
            self._head_mm = self.head_height()
            QSettings().setValue("head_mm", self._head_mm)
        except OrthometError as e:
            sheet, sentence = None, str(e)
        self.view.set_page(sheet, self.pencil.currentData(), sentence)
        s, plan = school(d.school), self.document.plan()
        shown = (d.school, tuple(d.school_settings.items()), plan.traits.tobytes(), frozenset(self._hidden))
        if shown != self._shown:
            self._shown = shown
            self.lines.show_school(s, d.school_settings)
            self.steps.set_content(s, self._hidden, departures(s, plan.table, d.school_settings))

    def _set_line(self, key: str, value: float) -> None:
        c = self.document.character
        if c is not None:
            self.document.preview(set_school_line(c.id, key, value))

    def _toggle(self, key: str, on: bool) -> None:
        self._hidden = self._hidden - {key} if on else self._hidden | {key}
        self.refresh()

    # ---- export

    def export(self, path: str = "") -> None:
        if self.document.character is None:
            return
        try:
            sheet = self.view.page if self._in_shapes else self.sheet()
        except OrthometError as e:
            self.say.emit(str(e), True)
            return
        if sheet is None:
            self.say.emit(self.view.sentence, True)
            return
        if not path:
            start = str(export_folder() / f"{self.document.character.name} {'steps' if self._in_shapes else 'guides'}.svg")
            path = ask_where(self, "Export the page", start, {k: KINDS[k] for k in (".svg", ".pdf", ".png")})
        if path:
            self.write_page(path, lambda: sheet, self.pencil.currentData(), f"Written to {Path(path).name}, at its true size.")

    def hint(self) -> Hint:
        return [("Ctrl+Shift+E", "export as SVG, PDF or PNG"), ("Wheel", "zoom"), ("Drag", "move the page"), ("F", "fit")]


@dataclass(frozen=True, eq=False)
class ShapesPage:
    """The steps of a character's shapes as a page, or why there is none."""

    key: object
    page: Picture | None
    sentence: str = ""
    told: str = ""
    """The steps in words."""


def _shapes_page(
    key: object, shapes: Shapes, frames: dict[str, Frame], title: str, mm: float, paper: str, credit: str, say: Say
) -> ShapesPage:
    made = scene(shapes, frames)
    drawing = steps_page(made)
    told = "\n".join(f"{k}. {words}." for k, (words, _) in enumerate(steps(made), 1))
    drawing = replace(drawing, title=f"{title}. {drawing.title}")
    sentence = ""
    for _ in range(SMALLER):  # as large as it was asked for, or as the paper takes it
        try:
            return ShapesPage(key, page(drawing, mm, paper, credit), "", told)
        except OrthometError as e:
            mm, sentence = 0.85 * mm, str(e)
    return ShapesPage(key, None, sentence)


def _labelled(words: str, w: QWidget) -> QHBoxLayout:
    label = QLabel(words)
    label.setFixedWidth(64)
    label.setBuddy(w)
    w.setAccessibleName(words)
    return across(label, (w, 1), spacing=None)
