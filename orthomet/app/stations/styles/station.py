"""The Styles station: choose a style, learn one from drawings, compare two, and hold one's own hand against them."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPoint, QPointF, QRectF
from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from ....core.gauges.styles import style_items
from ....core.project.edits import leave_out, set_study
from ....core.project.model import Image, Study
from ....core.proportions.norms import norm_over
from ....core.proportions.views import registry_of
from ....core.studies import style_file, two_periods_in
from ....core.styles.learn import FEWEST_FOR_SPREAD
from ....core.styles.library import Style
from ...ask import ask_where
from ...document import Document
from ...gauges.legend import Entry, Legend, usual
from ...gauges.list import GaugeList
from ...gauges.marks import mark_look, mark_other, mark_shown
from ...ledge import Hint
from ...parts import across, choices, down, pile, put_in, soft
from ...stage.asking import AskingStage
from ...stage.images import ImageStore
from ...theme.paint import hline, painting, text
from ...theme.tokens import PAD, theme
from ..base import Panel, Station, pop_up
from ..marking import Marking
from ..pages import PageSwitch, fill
from .about_page import AboutPage
from .bar import StylesBar
from .board import StyleBoard
from .hand_page import HandPage
from .library import Library
from .pairs import PairBoard
from .samples import Samples
from .strip import SampleStrip

READINGS, HAND, ABOUT = range(3)


LEGEND: tuple[Entry, ...] = (
    ("this style", 0, lambda p, x, y, t: mark_shown(p, x, y - 7, t)),
    ("its samples’ spread", 6, lambda p, x, y, t: hline(p, x - 5, x + 11, y - 1.5, t.c("soft"), 3)),
    ("beside it", 0, lambda p, x, y, t: mark_other(p, x, y + 6.5, t)),
    ("usual", 16, usual),
)


class PeriodsNote(QWidget):
    """“The samples fall in two groups”: shown only when they do."""

    def __init__(self) -> None:
        super().__init__()
        self.setFixedHeight(40)
        self.words = "The drawings fall in two groups, as if from two periods. Learn them apart for a truer style."
        self.setAccessibleName(self.words)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("look_wash"))
            mark_look(p, PAD + 8, 20, t, "!", 9)
            text(p, QRectF(PAD + 26, 4, self.width() - PAD - 36, 34), self.words, "small_m", t.c("ink"), wrap=True)


class StylesStation(Station):
    name = "Styles"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.library, self.other_name = Library(document), "measured-adult"
        self.samples = Samples(document, lambda: self.library.study, self.library.new)
        self.sample_stage = AskingStage("drawing")
        self.marked = self.marking = Marking(self, self.sample_stage, self.samples.source)
        self._build_head()
        self._build_stage()
        self._build_panel()
        below = QWidget()
        down(self.strip, owner=below, spacing=None)
        self.build(self.stack, self.panel, below)
        self.setFocusProxy(self.board)
        self._connect()
        self._actions = [
            self.action("New style from drawings", "Ctrl+Shift+Y", self.library.new),
            self.action("Edit a copy of this style", "", self.library.copy),
            self.action("Open a style file…", "", self._import),
            self.action("Save this style as…", "", self._export),
            self.action("Plan this character toward it", "Ctrl+Return", self._strong),
            *self.marking.actions("find", "seed", "group", "other side"),
            self.action("Next sample drawing", "PgDown", partial(self.samples.step, 1)),
            self.action("Previous sample drawing", "PgUp", partial(self.samples.step, -1)),
            *self.marking.actions("view"),
            self.action("Remove this style", "", self.library.remove),
        ]

    # ---- building

    def _build_head(self) -> None:
        self.which = choices("Style", "The style that is shown", slot=self.show_style)
        self.which.setMinimumWidth(190)
        self.bar = StylesBar(self.marking)
        put_in(self.top_row, self.which, ..., (self.bar, 4))

    def _build_stage(self) -> None:
        self.board, self.pair_board = StyleBoard(), PairBoard(self.images)
        self.stack = pile(self.board, self.sample_stage, self.pair_board)
        self.strip = SampleStrip(self.images)

    def _build_panel(self) -> None:
        self.panel = Panel("Readings")
        self.panel.title.hide()
        self.pages = PageSwitch(("Readings", "My hand", "About"))
        self.panel.top.addWidget(self.pages)
        self.panel.top.addStretch(1)
        readings = QWidget()
        self.periods = PeriodsNote()
        self.list = GaugeList("style")
        self.beside = choices("Compared with", "The style beside it")
        self.beside.setMinimumWidth(150)
        self.beside.activated.connect(self._choose_other)
        self.learned = soft()
        foot = across((self.learned, 1), soft("beside"), self.beside, margins=(PAD, 5, PAD, 6), spacing=None)
        down(self.periods, (self.list, 1), Legend(LEGEND), foot, owner=readings)
        self.hand_page, self.about = HandPage(), AboutPage()
        self.page_stack = pile(readings, self.hand_page, self.about)
        self.panel.column.addWidget(self.page_stack, 1)

    def _connect(self) -> None:
        d = self.document
        bar, samples, lib = self.bar, self.samples, self.library
        for signal, slot in (
            (bar.plan_toward, lib.plan_toward), (bar.copied, lib.copy), (bar.new, lib.new), (bar.opened, self._import), (bar.saved, self._export),
            (bar.done, samples.close), (self.sample_stage.left, samples.close), (samples.turned, self._turn_sample),
            (lib.made, self.show_style), (lib.said, self.say),
        ):  # fmt: skip
            signal.connect(slot)
        self.strip.opened.connect(self.samples.open)
        self.strip.add_wanted.connect(lambda: self.wanted.emit("picture"))
        self.strip.menu_wanted.connect(self._sample_menu)
        self.pages.turned.connect(self._turn_page)
        self.list.hovered.connect(self._hover)
        self.list.mark_began.connect(lambda key: d.begin(f"Style, {self._label(key)}"))
        self.list.mark_moved.connect(lib.set_value)
        self.list.mark_dropped.connect(lambda key: d.commit())
        self.list.released.connect(lambda key: lib.follow_samples(key, self._label(key)))
        self.about.changed.connect(lambda label, fields: lib.study and d.do(label, set_study(lib.study.id, **fields)))
        self.pair_board.toggled.connect(lambda key, on: d.do("Pairs of my hand", leave_out(key, not on)))
        self.pair_board.opened.connect(self._open_pair)

    # ---- what is shown

    def show_style(self, name: str) -> None:
        if name != self.library.shown:
            self.library.shown, self.samples.open_id = name, ""
        self.refresh()

    def _choose_other(self, i: int) -> None:
        self.other_name = str(self.beside.itemData(i))
        self.refresh()

    # ---- edits

    def _import(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Open a style file", "", "Style files (*.json)")
        if path:
            self.open_file(path)

    def open_file(self, path: str) -> bool:
        return self.library.open(path)

    def _export(self) -> None:
        shown = self.library.style
        if not shown.readings:
            self.say.emit("This style says nothing yet: add drawings and confirm their points first.", True)
            return
        path = ask_where(self, "Save the style", f"{shown.title}.json", {".json": "Style files"})
        if path:
            self.write_text(path, style_file(shown, self.library.study), "Style written to {}.")

    def _strong(self) -> None:
        """Ctrl+Return: the strong button of the top row, whichever shows."""
        self.marking.confirm_all() if self.samples.current else self.library.plan_toward()

    def _label(self, key: str) -> str:
        return self.list.rows[key].item.label.lower()

    def _sample_menu(self, did: str, at: QPointF) -> None:
        menu = QMenu(self)
        menu.addAction("Mark its points", partial(self.samples.open, did))
        menu.addAction("Take it out of the style", partial(self.samples.remove, did))
        pop_up(menu, QPoint(round(at.x()), round(at.y())))

    def _open_pair(self, cid: str, did: str) -> None:
        self.document.choose_character(cid)
        self.document.choose_drawing(did)
        self.go_to.emit("Check")

    def _turn_sample(self) -> None:
        self.sample_stage.fitted = True
        self.refresh()
        (self.sample_stage if self.samples.current else self).setFocus()

    def take_picture(self, image: object, name: str) -> bool:
        if not isinstance(image, Image):
            return False
        if self.pages.group.checkedId() == HAND:
            self.pages.show_page(READINGS)
        self.samples.add(image, name)
        return True

    # ---- hover

    def _hover(self, key: str, inside: bool) -> None:
        self.hot = {key} if inside else self.hot - {key}
        words = {}
        for k in self.hot & set(self.list.rows):
            i = self.list.rows[k].item
            words[k] = tuple(i.show(v) if v is not None else "" for v in (i.style, i.other))
        self.board.lit, self.board.words = set(self.hot), words  # type: ignore[assignment]
        self.board.update()
        self.list.light(self.hot)
        self.status_changed.emit()

    # ---- what the frame asks

    def _turn_page(self, k: int) -> None:
        self.page_stack.setCurrentIndex(k)
        self.refresh()

    def refresh(self) -> None:
        offered = self.document.styles()
        names = [s.name for s in offered]
        if self.library.shown not in names:
            self.library.shown = self.document.toward().name
        if self.other_name not in names:
            self.other_name = "measured-adult"
        for box, name in ((self.which, self.library.shown), (self.beside, self.other_name)):
            fill(box, [(s.title, s.name) for s in offered], name)
        lib = self.library
        shown, other, study = lib.style, lib.named(self.other_name), lib.study
        if self.samples.current is None:
            self.samples.open_id = ""
        page, sample = self.pages.group.checkedId(), self.samples.current
        self.stack.setCurrentWidget(self.sample_stage if sample else self.pair_board if page == HAND else self.board)
        self.setFocusProxy(self.stack.currentWidget() or self.board)
        self.which.setVisible(sample is None)
        self.marking.show()
        if sample:
            self.bar.show_sample(sample)
        else:
            self.bar.show_library(self.document.character, self.library.shown)
            self.board.set_content((self.document.pure(shown), self.document.pure(other)), (shown.title, other.title))
        self.strip.setVisible(study is not None and not (page == HAND and sample is None))
        self.strip.set_content(study.samples if study else (), self.samples.open_id)
        self._refresh_page(page, shown, other, study)

    def _refresh_page(self, page: int, shown: Style, other: Style, study: Study | None) -> None:
        if page == READINGS:
            norms = {v: norm_over("adult", registry_of(v)) for v in ("front", "profile", "figure")}
            self.list.set_items(style_items(shown, other, study, norms))
            self.periods.setVisible(study is not None and two_periods_in(study))
            self.learned.setText(_learned_words(study, shown))
        elif page == HAND:
            pairs, hand = self.document.hands()
            self.pair_board.set_content(pairs)
            self.hand_page.set_content(hand, shown)
        else:
            self.about.set_content(shown, study)

    def hint(self) -> Hint:
        if self.samples.current is not None:
            if self.sample_stage.asking():
                return [("Click", self.sample_stage.asking()), ("Esc", "leave it")]
            if self.sample_stage.placing is not None:
                return [("Click", self.sample_stage.anchor_wanted()), ("Esc", "start again")]
            return [("Drag", "a point"), ("Enter", "confirm, next"), ("Shift+Enter", "confirm the group"), ("PgDown", "next drawing"), ("Esc", "done")]  # fmt: skip
        if self.pages.group.checkedId() == HAND:
            return [("Click", "a tick to leave a pair out"), ("Double-click", "opens it at Check"), ("Arrows, Space", "by keys")]
        if self.library.study is None:
            return [("Hover", "a row to see it on both heads"), ("Ctrl+Shift+Y", "new style from drawings")]
        again = ("Double-click", "follows the samples again")
        return [("Drop", "drawings by one hand"), ("Drag", "a square to set a value"), again]

    def reading_note(self) -> tuple[str, str, str]:
        for k in self.hot & set(self.list.rows):
            i = self.list.rows[k].item
            if i.style is not None:
                beside = f"beside it {i.show(i.other)}" if i.other is not None else ""
                return i.label, i.show(i.style), beside
        return "", "", ""


def _learned_words(study: Study | None, shown: Style) -> str:
    if study is None:
        return "Ships with Orthomet"
    if not study.samples:
        return "Set by hand" if study.rows else "Add drawings by one hand"
    n = sum(bool(d.marks.points) and not d.marks.estimated for d in study.samples)
    if not n:
        return "No drawing is measured yet"
    return f"{n} of {len(study.samples)} measured" + ("" if n >= FEWEST_FOR_SPREAD else ", no spread yet")
