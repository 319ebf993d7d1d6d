"""The top shelf: the project's title, the menus, and the cast standing on one line at true relative heights."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QContextMenuEvent, QKeyEvent, QMouseEvent, QPainterPath, QPaintEvent, QPolygonF, QTransform
from PySide6.QtWidgets import QLabel, QMenuBar, QSizePolicy, QToolTip, QWidget

from .parts import across, down
from .theme.paint import RIGHT, arrow, focus_ring, hline, outline, painting, pen, solid, text, text_width
from .theme.tokens import SHELF, theme

if TYPE_CHECKING:
    from ..core.project.model import Character
    from .cast_figures import Silhouette

FLOOR, TALLEST = 66, 56


class CastStrip(QWidget):
    """Click or arrow to switch, + to add."""

    chosen = Signal(str)
    add_wanted = Signal()
    menu_wanted = Signal(str, QPointF)
    rename_wanted = Signal(str)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.cast: tuple[Character, ...] = ()
        self.figures: Mapping[str, Silhouette] = {}
        self.current = ""
        self.places: list[tuple[QRectF, str]] = []
        self._hover = ""
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(SHELF - 1)

    def set_cast(self, cast: tuple[Character, ...], current: str, figures: Mapping[str, Silhouette] | None = None) -> None:
        """``figures`` are the characters' own silhouettes, as far as they are made; the others stand as plain figures."""
        self.cast, self.current, self.figures = cast, current, figures or {}
        self.setAccessibleName("Cast: " + ", ".join(c.name for c in cast))
        self.update()

    def _hit(self, q: QPointF) -> str:
        return next((cid for r, cid in self.places if r.contains(q)), "")

    def mousePressEvent(self, e: QMouseEvent) -> None:
        cid = self._hit(e.position())
        if cid == "+":
            self.add_wanted.emit()
        elif cid:
            self.chosen.emit(cid)

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        cid = self._hit(e.position())
        if cid and cid != "+":
            self.rename_wanted.emit(cid)

    def contextMenuEvent(self, e: QContextMenuEvent) -> None:
        cid = self._hit(QPointF(e.pos()))
        if cid and cid != "+":
            self.menu_wanted.emit(cid, QPointF(e.globalPos()))

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        at = self._hit(e.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if at else Qt.CursorShape.ArrowCursor)
        if at != self._hover:
            self._hover = at
            self.update()

    def leaveEvent(self, e: QEvent) -> None:
        self._hover = ""
        self.update()

    def event(self, e: QEvent) -> bool:
        if e.type() == QEvent.Type.ToolTip:
            at = self._hit(QPointF(e.pos()))  # type: ignore[attr-defined]
            who = next((c for c in self.cast if c.id == at), None)
            words = (
                "Add a character (Ctrl+Shift+N)"
                if at == "+"
                else f"{who.name}, {who.height_m:.2f} m. Double-click to change."
                if who
                else ""
            )
            QToolTip.showText(e.globalPos(), words, self)  # type: ignore[attr-defined]
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        ids = [c.id for c in self.cast]
        step = (arrow(e) or (0, 0))[0]
        if step and ids:
            here = ids.index(self.current) if self.current in ids else 0
            self.chosen.emit(ids[(here + step) % len(ids)])
        else:
            super().keyPressEvent(e)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w = theme.t, self.width()
            p.fillRect(self.rect(), t.c("ledge"))
            tallest = max([c.height_m for c in self.cast], default=1.9)
            ppm = TALLEST / max(tallest, 0.1)
            hline(p, 0, w, FLOOR, t.c("ink"))
            self._paint_staff(p, ppm, tallest)
            x = 48.0
            self.places = []
            for c in self.cast:
                on = c.id == self.current
                shape = self._shape(c, ppm)
                b = shape.boundingRect()
                tw = max(text_width("bold", c.name), text_width("small", c.role)) + 2
                if x + b.width() + tw + 60 > w and c is not self.cast[0]:
                    text(p, (x, FLOOR - 24, 60, 20), f"+{len(self.cast) - len(self.places)} more", "small", t.c("soft"))
                    x += 62
                    break
                shape.translate(x - b.left(), FLOOR)
                solid(p, t.c("ink") if on else t.c("soft", 0.75))
                p.drawPath(shape)
                tx = x + b.width() + 6
                text(p, (tx, FLOOR - 38, tw, 18), c.name, "bold" if on else "body_m", t.c("ink"))
                text(p, (tx, FLOOR - 21, tw, 17), c.role, "small", t.c("soft"))
                if on:
                    hline(p, x - 4, tx + tw, FLOOR, t.c("ink"), 3)
                elif self._hover == c.id:
                    hline(p, x - 4, tx + tw, FLOOR, t.c("soft"), 3)
                self.places.append((QRectF(x - 6, 4, b.width() + tw + 16, FLOOR), c.id))
                x = tx + tw + 22
            plus = QRectF(x + 0.5, FLOOR - 40.5, 18, 40)
            outline(p, t.c("ink") if self._hover == "+" else t.c("soft"), 1.2, (3, 2.4))
            p.drawRoundedRect(plus, 9, 9)
            p.setPen(pen(t.c("ink"), 1.6))
            c0 = plus.center()
            p.drawLine(c0 + QPointF(0, -5), c0 + QPointF(0, 5))
            p.drawLine(c0 + QPointF(-5, 0), c0 + QPointF(5, 0))
            self.places.append((plus.adjusted(-6, -6, 6, 4), "+"))
            if not self.cast:
                text(p, (x + 28, FLOOR - 32, 300, 20), "Add the first character, or drop a picture", "body", t.c("soft"))
            focus_ring(p, self, (1, 3, 1, 3))

    def _shape(self, c: Character, ppm: float) -> QPainterPath:
        """A character's silhouette in pixels, the floor at 0."""
        path, own = QPainterPath(), self.figures.get(c.id)
        if own is not None:
            k = c.height_m / own.heads * ppm
            for outline_ in own.outlines:
                path.addPolygon(QPolygonF([QPointF(x * k, (y - own.heads) * k) for x, y in outline_.tolist()]))
                path.closeSubpath()
            return path
        from ..core.figure.silhouette import standing  # late: an empty window needs no NumPy

        path.addPolygon(
            QTransform().scale(ppm, -ppm).map(QPolygonF([QPointF(a, b) for a, b in standing(c.height_m, c.age).tolist()]))
        )
        path.closeSubpath()
        return path

    def _paint_staff(self, p: object, ppm: float, tallest: float) -> None:
        """A levelling staff, so that true heights can be checked."""
        t = theme.t
        step = 0.25 if tallest <= 2.2 else 0.5 if tallest <= 5 else 2.0
        for k in range(int(tallest / step)):
            y = FLOOR - (k + 1) * step * ppm
            p.fillRect(QRectF(30, y, 5, step * ppm), t.c("soft" if k % 2 == 0 else "paper"))  # type: ignore[attr-defined]
        marks = [m for m in (1, 2, 5, 10, 20) if m <= tallest]
        for m in marks[-2:]:
            text(p, (0, FLOOR - m * ppm - 8, 26, 16), f"{m} m", "note_s", t.c("soft"), RIGHT)  # type: ignore[arg-type]


class Shelf(QWidget):
    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFixedHeight(SHELF)
        self.title = QLabel()
        self.title.setProperty("lettering", "section")
        self.title.setIndent(13)
        self.title.setAccessibleName("Project title")
        self.menu = QMenuBar()
        self.menu.setNativeMenuBar(False)
        self.cast = CastStrip()
        left = down(self.title, self.menu, margins=(3, 8, 0, 8), spacing=2)
        side = QWidget()
        side.setLayout(left)
        side.setFixedWidth(320)
        across(side, (self.cast, 1), owner=self, margins=(0, 0, 0, 1))

    def set_title(self, title: str, mark: str) -> None:
        self.title.setText(title)
        self.title.setToolTip(mark)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            p.fillRect(self.rect(), theme.t.c("ledge"))
            hline(p, 0, self.width(), self.height() - 1, theme.t.c("rule_strong"))
