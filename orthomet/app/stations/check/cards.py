"""A finding as a card, and what passes."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QEnterEvent, QKeyEvent, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.check.check import Check, Finding
from ....core.check.own import OwnCheck
from ....core.check.view import ViewCheck
from ....core.gauges.findings import passes, passes_of_view
from ....core.gauges.item import GaugeItem
from ...gauges.marks import mark_look
from ...gauges.row import GaugeRow
from ...parts import button
from ...theme.paint import focus_ring, hline, painting, pen, text, text_width
from ...theme.tokens import PAD, PANEL, theme


class FindingCard(QWidget):
    """One instruction with its gauge row; "Meant" silences it for good."""

    hovered = Signal(int, bool)
    meant = Signal(str)
    scope_wanted = Signal(str, object)
    """A reading is meant, but for what is still to be asked; where on the screen."""

    def __init__(self, k: int, f: Finding | OwnCheck, item: GaugeItem | None, why: str):
        super().__init__()
        self.k, self.f, self.why, self.lit = k, f, why, False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"Finding {k + 1}: {f.say}")
        self.setToolTip(f.say)
        self.row: GaugeRow | None = None
        height = 60
        if item is not None:
            self.row = GaugeRow(item, "check", self)
            self.row.setGeometry(0, 56, PANEL, 24)
            self.row.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.row.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
            height = 86
        self.setFixedHeight(height)
        tip = "This is how I want it on this drawing; it is not asked again (M)"
        b = button("Meant", lambda: self.meant.emit(f.reading), tip)
        b.setParent(self)
        b.setGeometry(PANEL - PAD - 90, 29, 66, 25)
        more = button(
            "⋯", lambda: self.scope_wanted.emit(f.reading, more.mapToGlobal(more.rect().bottomLeft())), "Meant for what…"
        )
        more.setAccessibleName("Meant for what")
        more.setParent(self)
        more.setGeometry(PANEL - PAD - 22, 29, 24, 25)
        more.setStyleSheet("padding: 0")
        b.show()
        more.show()

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
            room = w - 2 * PAD - 30
            role = "instruct" if text_width("instruct", self.f.say) <= room else "strong"
            text(p, (PAD + 30, 6, room, 24), self.f.say, role, t.c("ink"))
            text(p, (PAD + 30, 32, w - 2 * PAD - 30 - 98, 18), self.why, "small", t.c("soft"))
            focus_ring(p, self)


class Passes(QWidget):
    """What passes, by group: the good news is said too."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[str] = []
        self.total = ""
        self.setFixedHeight(30)

    def set_check(self, check: Check | ViewCheck | None, own: tuple[OwnCheck, ...] = ()) -> None:
        self.rows, self.total = passes_of_view(check) if isinstance(check, ViewCheck) else passes(check, own)
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
