"""The list before ink, at the end of the findings; and when the drawing asks to be looked at again."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QLabel, QWidget

from ....core.check.gate import GateRow
from ...gauges.marks import mark_look
from ...parts import across, button, down, soft
from ...theme.paint import painting, pen
from ...theme.tokens import PAD, theme


class _State(QWidget):
    """A tick where all is well, an ochre mark where something is open, a dash where it was overruled."""

    def __init__(self, row: GateRow):
        super().__init__()
        self.row = row
        self.setFixedSize(22, 22)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            if self.row.open:
                mark_look(p, 11, 11, t, "", 8)
            elif self.row.overruled and self.row.state:
                p.setPen(pen(t.c("soft"), 2))
                p.drawLine(5, 11, 17, 11)
            else:
                p.setPen(pen(t.c("plan"), 2))
                p.drawLine(4, 12, 9, 17)
                p.drawLine(9, 17, 18, 6)


class GateView(QWidget):
    overruled = Signal(str, bool)
    again_wanted = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("inner")
        lay = down(owner=self, margins=(0, 0, 0, 6))
        self.title = QLabel()
        self.title.setProperty("lettering", "group")
        self.again = button(
            "Look again tomorrow", self._again, "It greets you at the next start from tomorrow on: fresh eyes see more", bare=True
        )
        lay.addLayout(across((self.title, 1), self.again, margins=(PAD, 6, PAD, 2), spacing=None))
        self.place = down()
        lay.addLayout(self.place)
        self.rows: list[QWidget] = []
        self._shown: tuple[object, ...] = ()
        self._asked = False

    def _again(self) -> None:
        self.again_wanted.emit(not self._asked)

    def show_gate(self, rows: tuple[GateRow, ...], again: str) -> None:
        if (rows, again) == self._shown:
            return
        self._shown, self._asked = (rows, again), bool(again)
        self.again.setText(f"Asks from {again}" if again else "Look again tomorrow")
        left = sum(r.open for r in rows)
        self.title.setText("Ready for ink" if not left else f"Before ink: {left} open")
        for w in self.rows:
            self.place.removeWidget(w)
            w.hide()
            w.deleteLater()
        self.rows = [self._row(r) for r in rows]
        for w in self.rows:
            self.place.addWidget(w)

    def _row(self, r: GateRow) -> QWidget:
        w = QWidget()
        state = soft("overruled" if r.overruled and r.state else r.state or "as it should be")
        state.setAlignment(Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter)
        items: list[QWidget | tuple[QWidget, int]] = [_State(r), (QLabel(r.words), 1), state]
        if r.state:
            words, tip = ("Ask", "Count it again") if r.overruled else ("Overrule", "Ink it all the same")
            items.append(button(words, partial(self.overruled.emit, r.key, not r.overruled), tip, bare=True))
        across(*items, owner=w, margins=(PAD, 1, PAD, 1), spacing=6)
        w.setAccessibleName(f"{r.words}: {state.text()}")
        return w
