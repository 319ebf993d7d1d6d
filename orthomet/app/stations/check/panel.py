"""Findings as instructions, what passes, and what is meant; the followed file and the cures with them."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from ....core.check.check import Check
from ....core.check.figure import FigureCheck, turned_words
from ....core.check.own import OwnCheck
from ....core.check.stages import stage_of
from ....core.check.view import ViewCheck
from ....core.gauges.item import GaugeItem
from ....core.proportions.views import every_reading
from ....core.shapes.face import ShapeFinding
from ...parts import across, button, down, scrolling, soft
from ...theme.tokens import PAD
from ..base import Panel
from ..pages import number_box, put, show_in
from .basis_bar import BasisBar
from .cards import FindingCard, Passes
from .cure_board import CureBoard
from .details_view import DetailsView
from .gate_view import GateView
from .log_view import LogView
from .since_view import LiveStrip

CONFIRM = "Drag each ring to its place on your drawing and press Enter, or Confirm what is right."
MOSTLY_UNSURE = 2
"""So many more unsure points than judged readings, and nothing has been judged worth the word (own)."""
MOST_SHAPED = 5


class CheckPanel(Panel):
    hovered = Signal(int, bool)
    meant = Signal(str)
    scope_wanted = Signal(str, object)
    ask_again = Signal(str)
    own_hovered = Signal(str, bool)
    noise_chosen = Signal(object)
    """How well the points are marked, in heads, or ``None`` for what the points themselves tell."""
    place_ends = Signal(str)
    """An own span whose ends are to be placed on the drawing."""

    def __init__(self) -> None:
        super().__init__("Findings")
        self.basis = BasisBar()
        self.live = LiveStrip()
        self.cures = CureBoard()
        self.area = scrolling()
        self.column.addWidget(self.basis)
        self.column.addWidget(self.live)
        self.column.addWidget(self.area, 1)
        self.details, self.gate, self.log = DetailsView(), GateView(), LogView()
        self.kept = (self.cures, self.details, self.gate)
        """What outlives the contents it is shown among."""
        for w in self.kept:
            w.setParent(self)
            w.hide()
        self.column.addWidget(self.log)
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
        check: Check | ViewCheck | str | None,
        items: dict[str, GaugeItem],
        meant: tuple[str, ...],
        unsure: int,
        own: tuple[OwnCheck, ...] = (),
        shaped: tuple[ShapeFinding, ...] = (),
        told: tuple[str, ...] = (),
        against: str = "your plan",
        guessed: int = 0,
        drawn: bool = False,
    ) -> None:
        """``drawn``: whether there is a drawing, with its details and its list before ink. ``guessed``: how many of the ``unsure`` points are estimated with nobody knowing how well. ``told`` are sentences on how the drawing was looked at: its turn, the face it makes."""
        inner = QWidget()
        inner.setObjectName("inner")
        lay = down(owner=inner, margins=(0, 0, 0, 10))
        for w in self.kept:
            w.setParent(self)
            w.hide()
        self.cards = []
        off = [o for o in own if o.off and o.reading not in meant]
        for line in told:
            lay.addWidget(_note(line))
        if isinstance(check, Check | ViewCheck):
            self._show_found(lay, check, items, unsure, off, against, guessed)
        else:
            self.title.setText(_count(len(off)) if off else "Findings")
            if check:
                lay.addWidget(_note(check))
        for o in off:
            card = FindingCard(len(self.cards), o, items.get(o.reading), "Differs from your plan.")
            card.hovered.connect(lambda _, inside, key=o.reading: self.own_hovered.emit(key, inside))
            self._add(lay, card)
        good = check if isinstance(check, Check | ViewCheck) else None
        if good is not None or any(o.judged for o in own):
            passes = Passes()
            passes.set_check(good, own)
            lay.addWidget(passes)
        if shaped:
            by_shape = "\n".join(f"{f.words}." for f in shaped[:MOST_SHAPED])
            lay.addWidget(_note(f"By shape:\n{by_shape}"))
        for o in own:
            if not o.judged:
                lay.addWidget(self._own_line(o))
        for key in meant:
            lay.addWidget(self._meant_line(key, own))
        if drawn:
            for w in (self.details, self.gate):
                lay.addWidget(w)
                w.show()
        lay.addStretch(1)
        show_in(self.area, inner)

    def _add(self, lay: QVBoxLayout, card: FindingCard) -> None:
        card.meant.connect(self.meant)
        card.scope_wanted.connect(self.scope_wanted)
        self.cards.append(card)
        lay.addWidget(card)

    def _show_found(
        self,
        lay: QVBoxLayout,
        check: Check | ViewCheck,
        items: dict[str, GaugeItem],
        unsure: int,
        own_off: list[OwnCheck],
        against: str,
        guessed: int,
    ) -> None:
        n = len(check.findings) + len(own_off)
        early = not n and guessed > MOSTLY_UNSURE * max(1, len(check.passed))
        self.title.setText(_count(n) if n else "Not judged yet" if early else "Nothing to move")
        if not n and not early:
            lay.addWidget(_note(f"Every reading that is sure agrees with {against}."))
        if unsure:
            lay.addWidget(_note(_unsure_words(unsure, guessed)))
        stage = None
        for k, f in enumerate(check.findings):
            if isinstance(check, Check) and stage_of(f) is not stage:
                stage = stage_of(f)
                lay.addWidget(_heading(stage.value))
            rest = len(f.explains)
            why = f"Off {against}" + (f"; {rest} more with it." if rest else ".")
            card = FindingCard(k, f, items.get(f.reading), why)
            card.hovered.connect(self.hovered)
            self._add(lay, card)
        lay.addWidget(self.cures)
        self.cures.setVisible(bool(self.cures.tiles))
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


def _unsure_words(unsure: int, guessed: int) -> str:
    if guessed:
        return f"{guessed} points are only estimated; what rests on them is not judged. {CONFIRM}"
    return (
        f"{unsure} points were found, not confirmed: what rests on them is judged within their uncertainty. "
        "Enter confirms one, Shift+Enter its whole feature."
    )


def _count(n: int) -> str:
    return f"{n} finding{'' if n == 1 else 's'}"


def _line() -> tuple[QWidget, QHBoxLayout]:
    w = QWidget()
    row = across(owner=w, margins=(PAD, 4, PAD, 4), spacing=None)
    return w, row


def _heading(words: str) -> QLabel:
    q = QLabel(words)
    q.setProperty("soft", True)
    q.setContentsMargins(PAD, 6, PAD, 2)
    return q


def _note(words: str) -> QLabel:
    q = QLabel(words)
    q.setWordWrap(True)
    q.setContentsMargins(PAD, 4, PAD, 10)
    return q
