"""The four corners of a photographed page on a stage: clicked, dragged, drawn."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QMouseEvent, QPainter

from ..theme.paint import pen
from ..theme.tokens import CASING, ON_PICTURE_LOOK
from .draw import cased
from .view import StageView

XY = tuple[float, float]
CORNER_WORDS = ("top left", "top right", "bottom right", "bottom left")
NEAR = 11.0


class PageCorners:
    """``told`` gets all four corners, in picture pixels, once they are clicked or one was dragged."""

    def __init__(self, view: StageView, told: Callable[[tuple[XY, ...]], None]):
        self.view, self.told = view, told
        self.clicking: list[XY] | None = None
        self.corners: tuple[XY, ...] = ()
        self._held = -1

    def begin(self) -> None:
        """Ask for all four, with the whole picture in sight."""
        self.clicking = []
        v = self.view
        if v.size_px is not None:
            f = v.frame().adjusted(14, 14, -14, -14)
            v.scale = min(f.width() / v.size_px[0], f.height() / v.size_px[1])
            v.offset = f.center() - QPointF(v.size_px[0], v.size_px[1]) / 2 * v.scale
            v.fitted = False
        v.setFocus()
        v.update()

    def stop(self) -> bool:
        """False when nothing was asked for."""
        was, self.clicking = self.clicking is not None, None
        self.view.update()
        return was

    def asking(self) -> str:
        return f"the page’s {CORNER_WORDS[len(self.clicking)]} corner" if self.clicking is not None else ""

    def press(self, e: QMouseEvent) -> bool:
        """Take a click, or take hold of a corner. False when it is none of this tool's."""
        if self.clicking is not None:
            self.clicking.append(self.view.to_picture(e.position()))
            if len(self.clicking) == 4:
                done, self.clicking = tuple(self.clicking), None
                self.told(done)
            self.view.update()
            return True
        for k, c in enumerate(self.corners):
            d = self.view.to_screen(*c) - e.position()
            if (d.x() ** 2 + d.y() ** 2) ** 0.5 < NEAR:
                self._held = k
                return True
        return False

    def move(self, e: QMouseEvent) -> bool:
        if self._held >= 0:
            moved = list(self.corners)
            moved[self._held] = self.view.to_picture(e.position())
            self.corners = tuple(moved)
            self.view.update()
            return True
        if self.clicking is not None:
            self.view.setCursor(Qt.CursorShape.CrossCursor)
        return False

    def release(self) -> bool:
        if self._held < 0:
            return False
        self._held = -1
        self.told(self.corners)
        return True

    def paint(self, p: QPainter) -> None:
        ends = [self.view.to_screen(*c) for c in self.corners]
        if len(ends) == 4:
            cased(p, [(ends[k], ends[(k + 1) % 4]) for k in range(4)], ON_PICTURE_LOOK, 1.4)
        for q in ends + [self.view.to_screen(*c) for c in self.clicking or []]:
            mark_end(p, q)


def mark_end(p: QPainter, q: QPointF) -> None:
    """A corner, or one end of a span that is being marked."""
    p.setBrush(ON_PICTURE_LOOK)
    p.setPen(pen(CASING, 1.4))
    p.drawRect(QRectF(q.x() - 4, q.y() - 4, 8, 8))
