"""Small pictures in a row under the stage: views, variants of a feature, expressions, canons. Click one to take it.

What they show is worked out off the interface thread, one after the other, and drawn as it comes; until then the old ones
stay. A row that is longer than the strip scrolls with the wheel, and follows the keyboard.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QLinearGradient, QMouseEvent, QPainter, QPaintEvent, QPixmap, QWheelEvent
from PySide6.QtWidgets import QWidget

from ...core.picture import Picture
from ..looks import screen_looks
from ..render import paint
from ..theme.paint import CENTRE, arrow, hline, outline, painting, pen, text
from ..theme.tokens import theme
from ..work import Work

HEIGHT, GAP, LEFT, NARROWEST = 96, 8, 12, 88
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
    failed = Signal(str)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFixedHeight(HEIGHT + 34)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.tiles: list[Tile] = []
        self.here: object = None
        self.empty = ""
        """What stands there while there is no tile."""
        self.focus = 0
        self.scrolled = 0.0
        self.tiles_key: object = None
        self.work = Work(self)
        self.work.failed.connect(self.failed)
        self._waiting: list[int] = []
        self._shown: dict[int, Picture] = {}
        self._drawn: dict[int, tuple[object, QPixmap]] = {}
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(120)
        self._later.timeout.connect(self._begin)

    def set_tiles(self, name: str, make: Callable[[], list[Tile]], here: object, key: object, at_once: bool) -> None:
        """``key`` tells when the pictures change, and only then ``make`` is asked. ``at_once`` is False during a drag: they
        follow when it rests."""
        changed = key != self.tiles_key
        moved = here != self.here
        self.here, self.tiles_key = here, key
        if changed:
            others = make()
            if [t.value for t in others] != [t.value for t in self.tiles]:
                self._shown, self._drawn, self.scrolled = {}, {}, 0.0
                moved = True
            self.tiles = others
            self.focus = min(self.focus, max(len(self.tiles) - 1, 0))
            self.setAccessibleName(name)
            self.setAccessibleDescription(", ".join(t.words for t in self.tiles))
            self.work.cancel()
            if at_once:
                self._begin()
            else:
                self._later.start()
        if moved:
            self._reveal(next((k for k, t in enumerate(self.tiles) if t.value == here), self.focus))
        self.update()

    # ---- pictures

    def _begin(self) -> None:
        self.work.cancel()
        first = next((k for k, t in enumerate(self.tiles) if t.value == self.here), 0)
        self._waiting = sorted(range(len(self.tiles)), key=lambda k: abs(k - first))
        self._next()

    def _next(self) -> None:
        if self._waiting:
            k, key = self._waiting.pop(0), self.tiles_key
            tile = self.tiles[k]
            self.work.start(
                "", partial(_drawing, tile), partial(self._came, k), lambda: key == self.tiles_key, what=f"“{tile.words}”"
            )

    def _came(self, k: int, picture: Picture) -> None:
        self._shown[k] = picture
        self._drawn.pop(k, None)
        self.update(self.tile(k).toAlignedRect())
        self._next()

    @property
    def complete(self) -> bool:
        """Whether every picture is there."""
        return not self._waiting and not self.work.active and not self._later.isActive()

    def _pixmap(self, k: int) -> QPixmap | None:
        """A tile's picture, drawn once for what it shows, the theme and its size."""
        picture, r, ratio = self._shown.get(k), self.tile(k), self.devicePixelRatioF()
        if picture is None:
            return None
        key = (picture, theme.t.name, ratio, r.width())
        if k not in self._drawn or self._drawn[k][0] != key:
            self._drawn[k] = (key, _painted(picture, self.tiles[k].box, r, ratio))
        return self._drawn[k][1]

    # ---- geometry

    def _wide(self) -> float:
        return max((self.width() - 2 * LEFT + GAP) / max(len(self.tiles), 6) - GAP, NARROWEST)

    def _most(self) -> float:
        return max(0.0, len(self.tiles) * (self._wide() + GAP) - GAP + 2 * LEFT - self.width())

    def tile(self, k: int) -> QRectF:
        w = self._wide()
        return QRectF(LEFT + k * (w + GAP) - min(self.scrolled, self._most()), 8, w, HEIGHT)

    def _reveal(self, k: int) -> None:
        """Scroll so far that a tile is seen whole."""
        r = self.tile(k)
        if r.left() < LEFT:
            self.scrolled += r.left() - LEFT
        elif r.right() > self.width() - LEFT:
            self.scrolled += r.right() - self.width() + LEFT
        self.scrolled = max(0.0, min(self.scrolled, self._most()))

    def _hit(self, q: QPointF) -> int:
        return next((k for k in range(len(self.tiles)) if self.tile(k).adjusted(0, 0, 0, 22).contains(q)), -1)

    # ---- hand

    def mousePressEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        if k >= 0:
            self.focus = k
            self.chosen.emit(self.tiles[k].value)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        self.setCursor(Qt.CursorShape.PointingHandCursor if self._hit(e.position()) >= 0 else Qt.CursorShape.ArrowCursor)

    def wheelEvent(self, e: QWheelEvent) -> None:
        way = e.angleDelta().y() or e.angleDelta().x()
        self.scrolled = max(0.0, min(self.scrolled - way, self._most()))
        self.update()
        e.accept()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = (arrow(e) or (0, 0))[0]
        if step and self.tiles:
            self.focus = max(0, min(len(self.tiles) - 1, self.focus + step))
            self._reveal(self.focus)
            self.update()
        elif e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space) and self.tiles:
            self.chosen.emit(self.tiles[self.focus].value)
        else:
            super().keyPressEvent(e)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("paper"))
            hline(p, 0, self.width(), 0, t.c("rule_strong"))
            if not self.tiles and self.empty:
                text(p, self.rect().toRectF(), self.empty, "small", t.c("soft"), CENTRE)
            for k, tile in enumerate(self.tiles):
                r = self.tile(k)
                if r.right() < 0 or r.left() > self.width():
                    continue
                pixmap = self._pixmap(k)
                if pixmap is None:
                    p.fillRect(r, t.c("sheet"))
                else:
                    p.drawPixmap(r.topLeft(), pixmap)
                here = tile.value == self.here
                outline(p, t.c("plan") if here else t.c("rule_strong"), 2.4 if here else 1)
                p.drawRect(r)
                if self.hasFocus() and k == self.focus:
                    p.setPen(pen(t.c("plan"), 1, (2, 2)))
                    p.drawRect(r.adjusted(-3, -3, 3, 3))
                words = (r.left() - 4, r.bottom() + 2, r.width() + 8, 18)
                text(p, words, tile.words, "small_m" if here else "small", t.c("ink" if here else "soft"), CENTRE)
            _more(p, self)


def _more(p: QPainter, strip: TileStrip) -> None:
    """A fade at an end beyond which the row goes on."""
    most, at = strip._most(), min(strip.scrolled, strip._most())
    for x, shown, way in ((0.0, at > 1, 1), (strip.width() - 26.0, at < most - 1, -1)):
        if shown:
            fade = QLinearGradient(x if way > 0 else x + 26, 0, x + 26 if way > 0 else x, 0)
            fade.setColorAt(0, theme.t.c("paper"))
            fade.setColorAt(1, theme.t.c("paper", 0.0))
            p.fillRect(QRectF(x, 1, 26, strip.height() - 1), fade)


def _drawing(tile: Tile, say: Callable[[str], bool]) -> Picture:
    """A tile's picture, unless nobody waits for it any more."""
    return tile.draw() if say("") else Picture((), tile.box)


def _painted(picture: Picture, box: Box, r: QRectF, ratio: float) -> QPixmap:
    pixmap = QPixmap(round(r.width() * ratio), round(r.height() * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(theme.t.c("sheet"))
    x, y, w, h = box
    with painting(pixmap) as p:
        k = min(r.height() / h, r.width() / w)
        p.translate(r.width() / 2 - (x + w / 2) * k, r.height() / 2 - (y + h / 2) * k)
        p.scale(0.5, 0.5)  # pens thin with the picture
        paint(p, picture, 2 * k, screen_looks(theme.t), 1.0)
    return pixmap
