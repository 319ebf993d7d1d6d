"""The page of the turn: in numbers, what it does to the features, chin, what is drawn, export."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Signal
from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QCheckBox, QWidget

from ....core.head.shares import Share
from ....core.landmarks.turn import Turn
from ...parts import button, tick
from ...theme.paint import RIGHT, hline, painting, text
from ...theme.tokens import ROW, theme
from ..dials import Dial
from ..pages import Page, number_box, put
from .stage import PITCH, YAW, held

CHIN_MOST = 0.08


class Shares(QWidget):
    """Each width as a bar beside its full front width."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: list[Share] = []
        self.setFixedHeight(5 * ROW)

    def show_shares(self, rows: list[Share]) -> None:
        self.rows = rows
        told = (f"{c.words} {c.share:.0%}" if c.share is not None else f"{c.words} out of sight" for c in rows)
        self.setAccessibleName(", ".join(told))
        self.update()

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w = theme.t, self.width()
            for k, c in enumerate(self.rows):
                y, a, b = k * ROW, 150.0, w - 62.0
                text(p, (0, y, 146, ROW), c.words, "body", t.c("ink"))
                hline(p, a, b, y + ROW / 2, t.c("rule_strong"))
                full = a + (b - a) / 1.25
                p.fillRect(QRectF(round(full), y + ROW / 2 - 5, 1, 11), t.c("rule_strong"))
                if c.share is None:
                    text(p, (w - 90, y, 90, ROW), "out of sight", "small", t.c("soft"), RIGHT)
                    continue
                p.fillRect(QRectF(a, y + ROW / 2 - 2, min(c.share / 1.25, 1.0) * (b - a), 5), t.c("plan"))
                text(p, (w - 58, y, 58, ROW), f"{c.share:.0%}".replace("%", " %"), "value", t.c("ink"), RIGHT)


class TurnPage(Page):
    turned = Signal(object)
    chin_began = Signal()
    chin_moved = Signal(float)
    chin_dropped = Signal()
    shown = Signal()
    """What is drawn, or from how far one looks, has changed."""
    export_wanted = Signal()
    turnaround_wanted = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Turn")
        self.yaw = number_box(-YAW, YAW, 1, 1, "° yaw", "Yaw: positive turns the nose to the right", self._turn)
        self.pitch = number_box(-PITCH, PITCH, 1, 1, "° pitch", "Pitch: positive looks down", self._turn)
        self.roll = number_box(-180, 180, 1, 1, "° roll", "Roll: positive is clockwise", self._turn)
        self.row(self.yaw, self.pitch, self.roll)
        self.near = tick("Perspective, seen from", slot=lambda _: self.shown.emit())
        self.far = number_box(2, 100, 1, 1, " heads", "How far away the viewer stands, in heads", lambda _: self.shown.emit())
        self.far.setValue(6)
        self.row(self.near, self.far, button("Front", lambda: self.turned.emit(Turn()), "Look straight ahead (Home)"))
        self.section("At this turn")
        self.note("Width as it is seen, of its width from the front. Features lie on the solid; nothing is squeezed by hand.")
        self.shares = Shares()
        self.rows.addWidget(self.shares)
        self.section("Chin")
        tip = "Back reads younger, forward more resolute; best judged in profile"
        self.chin = Dial("Chin", -CHIN_MOST, CHIN_MOST, 0.0, tip, ("back", "forward"))
        self.chin.began.connect(self.chin_began)
        self.chin.moved.connect(self.chin_moved)
        self.chin.settled.connect(self.chin_dropped)
        self.rows.addWidget(self.chin)
        self.section("Drawn")
        self.guides, self.hidden = QCheckBox("Guide lines round the head"), QCheckBox("Lines on the far side, faint")
        self.hair, self.skull = QCheckBox("Hair"), QCheckBox("Skull under the hair")
        for box in (self.guides, self.hidden, self.hair, self.skull):
            box.setChecked(box is not self.skull)
            box.toggled.connect(lambda _: self.shown.emit())
        self.row(self.guides)
        self.row(self.hidden)
        self.row(self.hair, self.skull)
        self.section("On paper")
        self.height_mm = number_box(10, 2000, 5, 0, " mm", "Height of the head on the page, crown to chin", lambda _: None)
        self.height_mm.setValue(120)
        tip = "Write this view as SVG, PDF, PNG or layers at true size (Ctrl+E)"
        self.row("Head", self.height_mm, button("Export…", self.export_wanted.emit, tip, strong=True))
        self.plain = tick("Plain lines without widths", "Centre lines, to be plotted or inked over; tones are left out")
        self.row(self.plain)
        tip = "Seven views in a row on common level lines (Ctrl+Shift+E)"
        self.row(button("Turnaround…", self.turnaround_wanted.emit, tip))
        self.end()

    @property
    def distance(self) -> float | None:
        """From how far one looks, in heads; ``None`` without perspective."""
        return float(self.far.value()) if self.near.isChecked() else None

    def _turn(self, _: float) -> None:
        self.turned.emit(held(self.yaw.value(), self.pitch.value(), self.roll.value()))

    def set_content(self, turn: Turn, chin: float, rows: list[Share], hair: bool) -> None:
        for box, v in ((self.yaw, turn.yaw), (self.pitch, turn.pitch), (self.roll, turn.roll)):
            put(box, v)
        self.far.setEnabled(self.near.isChecked())
        covered = hair and self.hair.isChecked()
        self.hair.setEnabled(hair)
        self.skull.setEnabled(covered)
        self.hidden.setEnabled(not covered)  # under hair there is no far side to see
        self.chin.show_value(chin)
        self.shares.show_shares(rows)
