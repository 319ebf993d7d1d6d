"""Findings as instructions, what passes, and what is meant."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QEnterEvent, QKeyEvent, QPaintEvent
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ....core.check.check import Check, Finding
from ....core.check.figure import FigureCheck, turned_words
from ....core.check.own import OwnCheck
from ....core.gauges.findings import passes, passes_of_figure
from ....core.gauges.item import GaugeItem
from ....core.proportions.views import every_reading
from ....core.shapes.face import ShapeFinding
from ...gauges.marks import mark_look
from ...gauges.row import GaugeRow
from ...parts import across, button, down, scrolling, soft
from ...theme.paint import focus_ring, hline, painting, pen, text
from ...theme.tokens import PAD, PANEL, theme
from ..base import Panel
from ..pages import number_box, put, show_in

CONFIRM = "Drag each ring to its place on your drawing and press Enter, or Confirm what is right."
MOSTLY_UNSURE = 2
"""So many more unsure points than judged readings, and nothing has been judged worth the word (own)."""


class FindingCard(QWidget):
    """One instruction with its gauge row; "Meant" silences it for good."""

    hovered = Signal(int, bool)
    meant = Signal(str)

    def __init__(self, k: int, f: Finding | OwnCheck, item: GaugeItem | None, explains: int = 0):
        super().__init__()
        self.k, self.f, self.explains, self.lit = k, f, explains, False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"Finding {k + 1}: {f.say}")
        self.row: GaugeRow | None = None
        height = 60
        if item is not None:
            self.row = GaugeRow(item, "check", self)
            self.row.setGeometry(0, 56, PANEL, 24)
            self.row.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.row.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            height = 86
        self.setFixedHeight(height)
        b = button("Meant", lambda: self.meant.emit(f.reading), "This is how I want it; it is not asked again (M)")
        b.setParent(self)
        b.setGeometry(PANEL - PAD - 66, 29, 66, 25)
        b.show()

    def enterEvent(self, e: QEnterEvent) -> None:
        self.set_lit(True)
        self.hovered.emit(self.k, True)

    def leaveEvent(self, e: QEvent) -> None:
        self.set_lit(False)
        self.hovered.emit(self.k, False)

    def focusInEvent(self, e: object) -> None:
        self.set_lit(True)
        self.hovered.emit(self.k, True)

    def focusOutEvent(self, e: object) -> None:
        self.set_lit(False)
        self.hovered.emit(self.k, False)

    def set_lit(self, on: bool) -> None:
        self.lit = on
        self.update()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_M:
            self.meant.emit(self.f.reading)
        elif e.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self.focusNextPrevChild(e.key() == Qt.Key.Key_Down)
        else:
            super().keyPressEvent(e)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w = theme.t, self.width()
            if self.lit:
                p.fillRect(self.rect(), t.c("look_wash"))
                p.fillRect(QRectF(0, 0, 4, self.height()), t.c("look_fill"))
            hline(p, PAD, w - PAD, 0, t.c("rule"))
            mark_look(p, PAD + 11, 19, t, str(self.k + 1), 11)
            text(p, (PAD + 30, 6, w - 2 * PAD - 30, 24), self.f.say, "instruct", t.c("ink"))
            n = self.explains
            why = "Differs from your plan" + (f"; {n} more reading{'s' if n > 1 else ''} with it." if n else ".")
            text(p, (PAD + 30, 32, w - 2 * PAD - 30 - 74, 18), why, "small", t.c("soft"))
            focus_ring(p, self)


class Passes(QWidget):
    """What passes, by group: the good news is said too."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[str] = []
        self.total = ""
        self.setFixedHeight(30)

    def set_check(self, check: Check | FigureCheck | None, own: tuple[OwnCheck, ...] = ()) -> None:
        self.rows, self.total = passes_of_figure(check) if isinstance(check, FigureCheck) else passes(check, own)
        self.setAccessibleName("What passes: " + ", ".join(self.rows))
        self.setFixedHeight(34 + 22 * ((len(self.rows) + 1) // 2))
        self.update()

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w = theme.t, self.width()
            hline(p, PAD, w - PAD, 0, t.c("rule"))
            text(p, (PAD, 4, 140, 26), "What passes", "group", t.c("ink"))
            text(p, (PAD + 140, 4, w - 2 * PAD - 140, 26), self.total, "small", t.c("soft"), Qt.AlignmentFlag.AlignRight)
            for k, words in enumerate(self.rows):
                x, y = PAD + (k % 2) * 176, 32 + 22 * (k // 2)
                p.setPen(pen(t.c("soft"), 1.8))
                p.drawPolyline([QPointF(x + 1, y + 11), QPointF(x + 4.5, y + 15), QPointF(x + 11, y + 6)])
                text(p, (x + 18, y, 156, 22), words, "body", t.c("ink"))


class CheckPanel(Panel):
    hovered = Signal(int, bool)
    meant = Signal(str)
    ask_again = Signal(str)
    own_hovered = Signal(str, bool)
    noise_chosen = Signal(object)
    """How well the points are marked, in heads, or ``None`` for what the points themselves tell."""
    place_ends = Signal(str)
    """An own span whose ends are to be placed on the drawing."""

    def __init__(self) -> None:
        super().__init__("Findings")
        against = soft("against your plan")
        self.top.addWidget(against)
        self.area = scrolling()
        self.column.addWidget(self.area, 1)
        self.cards: list[FindingCard] = []
        tip = "How well the points are marked: what is finer than that is no finding. 0: as the points themselves tell"
        self.noise = number_box(0, 2, 0.05, 2, " % of the head", tip, lambda v: self.noise_chosen.emit(v / 100 if v else None))
        row = across(margins=(PAD, 5, PAD, 6), spacing=None)
        self.noise_words = soft("Marked to within")
        row.addWidget(self.noise_words, 1)
        row.addWidget(self.noise)
        self.column.addLayout(row)

    def show_noise(self, chosen: float | None, used: float | None) -> None:
        """What is chosen for this drawing, or what the check took without."""
        self.noise.setSpecialValueText(f"as it looks: {100 * used:.2f} %" if used is not None else "as it looks")
        put(self.noise, 100 * (chosen or 0.0))

    def show_check(
        self,
        check: Check | FigureCheck | str | None,
        items: dict[str, GaugeItem],
        meant: tuple[str, ...],
        unsure: int,
        own: tuple[OwnCheck, ...] = (),
        shaped: tuple[ShapeFinding, ...] = (),
    ) -> None:
        inner = QWidget()
        inner.setObjectName("inner")
        lay = down(owner=inner, margins=(0, 0, 0, 10))
        self.cards = []
        off = [o for o in own if o.off and o.reading not in meant]
        if isinstance(check, Check | FigureCheck):
            self._show_found(lay, check, items, unsure, off)
        else:
            self.title.setText(_count(len(off)) if off else "Findings")
            if check:
                lay.addWidget(_note(check))
        for o in off:
            card = FindingCard(len(self.cards), o, items.get(o.reading))
            card.hovered.connect(lambda _, inside, key=o.reading: self.own_hovered.emit(key, inside))
            card.meant.connect(self.meant)
            self.cards.append(card)
            lay.addWidget(card)
        good = check if isinstance(check, Check | FigureCheck) else None
        if good is not None or any(o.judged for o in own):
            passes = Passes()
            passes.set_check(good, own)
            lay.addWidget(passes)
        if shaped:
            told = "\n".join(f"{f.words}." for f in shaped[:MOST_SHAPED])
            lay.addWidget(_note(f"By shape:\n{told}"))
        for o in own:
            if not o.judged:
                lay.addWidget(self._own_line(o))
        for key in meant:
            lay.addWidget(self._meant_line(key, own))
        lay.addStretch(1)
        show_in(self.area, inner)

    def _show_found(
        self, lay: QVBoxLayout, check: Check | FigureCheck, items: dict[str, GaugeItem], unsure: int, own_off: list[OwnCheck]
    ) -> None:
        n = len(check.findings) + len(own_off)
        early = not n and unsure > MOSTLY_UNSURE * max(1, len(check.passed))
        self.title.setText(_count(n) if n else "Not judged yet" if early else "Nothing to move")
        if not n and not early:
            lay.addWidget(_note("Every reading that is sure agrees with your plan."))
        if unsure:
            lay.addWidget(_note(f"{unsure} points are only estimated; what rests on them is not judged. {CONFIRM}"))
        for k, f in enumerate(check.findings):
            card = FindingCard(k, f, items.get(f.reading), len(f.explains))
            card.hovered.connect(self.hovered)
            card.meant.connect(self.meant)
            self.cards.append(card)
            lay.addWidget(card)
        if isinstance(check, FigureCheck) and (told := turned_words(check)):
            lay.addWidget(_note("\n".join(told)))

    def _own_line(self, o: OwnCheck) -> QWidget:
        """An own span that is not judged yet, or waits for its ends."""
        w, row = _line()
        if o.drawing is None:
            row.addWidget(QLabel(o.span.name), 1)
            row.addWidget(
                button("Place its ends", lambda: self.place_ends.emit(o.reading), f"Click both ends of {o.span.name}", bare=True)
            )
        else:
            row.addWidget(QLabel(f"{o.span.name}: not judged, a point it rests on is only estimated"), 1)
        return w

    def _meant_line(self, key: str, own: tuple[OwnCheck, ...]) -> QWidget:
        w, row = _line()
        names = {o.reading: o.span.name for o in own}
        known = every_reading()[key].label.lower() if key in every_reading() else names.get(key, key)
        row.addWidget(QLabel(f"Meant: {known}"), 1)
        row.addWidget(button("Ask again", lambda: self.ask_again.emit(key), "Judge this reading again", bare=True))
        return w


MOST_SHAPED = 5


def _count(n: int) -> str:
    return f"{n} finding{'' if n == 1 else 's'}"


def _line() -> tuple[QWidget, QHBoxLayout]:
    w = QWidget()
    row = across(owner=w, margins=(PAD, 4, PAD, 4), spacing=None)
    return w, row


def _note(words: str) -> QLabel:
    q = QLabel(words)
    q.setWordWrap(True)
    q.setContentsMargins(PAD, 4, PAD, 10)
    return q
