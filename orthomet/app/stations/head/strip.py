"""Small pictures of the head in a row under the stage: views, variants of a feature, expressions. Click one to take it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent, QPixmap
from PySide6.QtWidgets import QWidget

from ....core.picture import Picture
from ...looks import screen_looks
from ...render import paint
from ...theme.paint import CENTRE, arrow, hline, outline, painting, pen, text
from ...theme.tokens import theme

HEIGHT, GAP, LEFT = 96, 8, 12
Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Tile:
    """One small picture: its words, what choosing it means, how it is drawn and what part of the drawing it shows."""

    words: str
    value: object
    draw: Callable[[], Picture]
    box: Box


class TileStrip(QWidget):
    chosen = Signal(object)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFixedHeight(HEIGHT + 34)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.tiles: list[Tile] = []
        self.here: object = None
        self.focus = 0
        self.tiles_key: object = None
        self._drawn: tuple[object, list[QPixmap]] | None = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(120)
        self._later.timeout.connect(self.update)

    def set_tiles(self, name: str, make: Callable[[], list[Tile]], here: object, key: object, at_once: bool) -> None:
        """``key`` tells when the pictures change, and only then ``make`` is asked. ``at_once`` is False during a drag: they
        follow when it rests."""
        changed = key != self.tiles_key
        self.here, self.tiles_key = here, key
        if changed:
            self.tiles = make()
            self.focus = min(self.focus, max(len(self.tiles) - 1, 0))
            self.setAccessibleName(name)
            self.setAccessibleDescription(", ".join(t.words for t in self.tiles))
        if at_once or not changed:
            self.update()
        else:
            self._later.start()

    def tile(self, k: int) -> QRectF:
        w = (self.width() - 2 * LEFT + GAP) / max(len(self.tiles), 6) - GAP
        return QRectF(LEFT + k * (w + GAP), 8, w, HEIGHT)

    def _hit(self, q: QPointF) -> int:
        return next((k for k in range(len(self.tiles)) if self.tile(k).adjusted(0, 0, 0, 22).contains(q)), -1)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        if k >= 0:
            self.focus = k
            self.chosen.emit(self.tiles[k].value)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        self.setCursor(Qt.CursorShape.PointingHandCursor if self._hit(e.position()) >= 0 else Qt.CursorShape.ArrowCursor)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = (arrow(e) or (0, 0))[0]
        if step and self.tiles:
            self.focus = max(0, min(len(self.tiles) - 1, self.focus + step))
            self.update()
        elif e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space) and self.tiles:
            self.chosen.emit(self.tiles[self.focus].value)
        else:
            super().keyPressEvent(e)

    def _pictures(self) -> list[QPixmap]:
        """Drawn once for what they show and the theme; during a drag the old ones stay."""
        ratio, r = self.devicePixelRatioF(), self.tile(0)
        key = (self.tiles_key, theme.t.name, ratio, r.width())
        if self._drawn is None or (self._drawn[0] != key and not self._later.isActive()):
            self._drawn = (key, [self._picture(t, r, ratio) for t in self.tiles])
        return self._drawn[1]

    @staticmethod
    def _picture(tile: Tile, r: QRectF, ratio: float) -> QPixmap:
        pixmap = QPixmap(round(r.width() * ratio), round(r.height() * ratio))
        pixmap.setDevicePixelRatio(ratio)
        pixmap.fill(theme.t.c("sheet"))
        x, y, w, h = tile.box
        with painting(pixmap) as p:
            k = min(r.height() / h, r.width() / w)
            p.translate(r.width() / 2 - (x + w / 2) * k, r.height() / 2 - (y + h / 2) * k)
            p.scale(0.5, 0.5)  # pens thin with the picture
            paint(p, tile.draw(), 2 * k, screen_looks(theme.t), 1.0)
        return pixmap

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("paper"))
            hline(p, 0, self.width(), 0, t.c("rule_strong"))
            for k, (tile, pixmap) in enumerate(zip(self.tiles, self._pictures(), strict=False)):
                r = self.tile(k)
                p.drawPixmap(r.topLeft(), pixmap)
                here = tile.value == self.here
                outline(p, t.c("plan") if here else t.c("rule_strong"), 2.4 if here else 1)
                p.drawRect(r)
                if self.hasFocus() and k == self.focus:
                    p.setPen(pen(t.c("plan"), 1, (2, 2)))
                    p.drawRect(r.adjusted(-3, -3, 3, 3))
                words = (r.left() - 4, r.bottom() + 2, r.width() + 8, 18)
                text(p, words, tile.words, "small_m" if here else "small", t.c("ink" if here else "soft"), CENTRE)
