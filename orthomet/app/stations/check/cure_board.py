"""The cures side by side: each as a small picture of the cured drawing, to be laid over it by a click."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QLabel, QWidget

from ...parts import across, button, down
from ...theme.paint import focus_ring, painting, pen
from ...theme.tokens import PAD, font, theme
from .curing import CureShown

WIDE, TALL = 168, 116
WORDS = 62


class CureTile(QWidget):
    chosen = Signal(int)

    def __init__(self, k: int, shown: CureShown, on: bool, alone: bool):
        super().__init__()
        self.k, self.shown, self.on, self.over = k, shown, on, False
        self.alone = alone
        self.setFixedSize(QSize(2 * WIDE + 12, TALL) if alone else QSize(WIDE, TALL + WORDS))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setAccessibleName(f"Cure {k + 1}: {shown.cure.title}")
        self.setToolTip(f"{shown.cure.title}\nClick to lay it over the drawing, again to take it away (C)")

    def sizeHint(self) -> QSize:
        return self.size()

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.chosen.emit(self.k)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self.k)
        else:
            super().keyPressEvent(e)

    def enterEvent(self, e: QEvent) -> None:
        self.over = True
        self.update()

    def leaveEvent(self, e: QEvent) -> None:
        self.over = False
        self.update()

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            tile = self.shown.tile
            k = max(WIDE / tile.width(), TALL / tile.height())
            w, h = WIDE / k, TALL / k  # what of the tile fills the picture: its middle, where the face is
            p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
            p.drawImage(QRectF(0, 0, WIDE, TALL), tile, QRectF((tile.width() - w) / 2, (tile.height() - h) * 0.55, w, h))
            if t.scan_dim:  # as the drawing is held back by night
                p.fillRect(QRectF(0, 0, WIDE, TALL), t.c("board", t.scan_dim))
            p.setBrush(Qt.BrushStyle.NoBrush)
            p.setPen(pen(t.c("plan" if self.on else "rule_strong" if self.over else "rule"), 2.5 if self.on else 1))
            p.drawRect(QRectF(1, 1, WIDE - 2, TALL - 2))
            p.setFont(font("small_m" if self.on else "small"))
            p.setPen(t.c("ink"))
            words = QRectF(WIDE + 12, 4, WIDE, TALL - 8) if self.alone else QRectF(2, TALL + 3, WIDE - 4, WORDS - 3)
            flags = int(Qt.TextFlag.TextWordWrap) | int(Qt.AlignmentFlag.AlignTop)
            p.drawText(words, flags, "\n".join(self.shown.cure.words) if self.alone else self.shown.cure.title)
            focus_ring(p, self)


class CureBoard(QWidget):
    """Nothing while there is nothing to cure."""

    chosen = Signal(int)
    redline_wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("inner")
        self.title = QLabel()
        self.title.setProperty("lettering", "group")
        self.redline = button(
            "Redline…",
            self.redline_wanted.emit,
            "Write the correction as a layer of its own: outlines, arrows, numbers",
            bare=True,
        )
        self.tiles: list[CureTile] = []
        self.row = across(margins=(PAD, 2, PAD, 6), spacing=12)
        self.row.addStretch(1)
        down(across((self.title, 1), self.redline, margins=(PAD, 6, PAD, 0), spacing=None), self.row, owner=self)
        self.hide()

    def light(self, chosen: int) -> None:
        """Point out the one that is laid over the drawing."""
        for t in self.tiles:
            if t.on != (t.k == chosen):
                t.on = t.k == chosen
                t.update()

    def show_cures(self, cures: tuple[CureShown, ...], chosen: int) -> None:
        for w in self.tiles:
            self.row.removeWidget(w)
            w.hide()
            w.deleteLater()
        self.tiles = [CureTile(k, c, k == chosen, len(cures) < 2) for k, c in enumerate(cures[:2])]
        for k, w in enumerate(self.tiles):
            w.chosen.connect(self.chosen)
            self.row.insertWidget(k, w)
            w.show()
        self.title.setText("The cure" if len(self.tiles) < 2 else "Two ways to cure it")
        self.setVisible(bool(self.tiles))
