"""A picture to mark that also asks: what to do first while it is empty, which of several faces, a page's corners, a span's ends."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QResizeEvent
from PySide6.QtWidgets import QPushButton

from ..theme.paint import pen
from ..theme.tokens import CASING, ON_PICTURE_LOOK
from .corners import PageCorners, mark_end
from .draw import chip
from .empty import FirstSteps, empty_words
from .marks import MarksStage

if TYPE_CHECKING:
    from ...core.imaging.faces import Found

XY = tuple[float, float]


class AskingStage(MarksStage):
    """``empty``: title and lines of the stage while it holds nothing; ``buttons``: what to do then by one click."""

    face_chosen = Signal(int)
    span_marked = Signal(object, object)
    corners_set = Signal(object)
    left = Signal()
    """Esc with nothing in the hand."""

    def __init__(self, what: str, title: str = "", lines: tuple[str, ...] = (), buttons: tuple[QPushButton, ...] = ()) -> None:
        super().__init__()
        self.what, self.empty_title, self.empty_lines = what, title, lines
        self.faces: tuple[Found, ...] = ()
        self.marking: list[XY] | None = None
        """Ends of an own span while it is marked by two clicks."""
        self._clicks, self._asked_for = 2, ""
        self.page = PageCorners(self, self.corners_set.emit)
        self.first = FirstSteps(self, *buttons)

    def set_picture(self, image: QImage | None, size: tuple[int, int] | None) -> None:
        super().set_picture(image, size)
        self.first.settle(self.frame(), size is None)

    def resizeEvent(self, e: QResizeEvent) -> None:
        super().resizeEvent(e)
        self.first.settle(self.frame(), self.size_px is None)

    # ---- what is asked for

    def offer_faces(self, faces: tuple[Found, ...]) -> None:
        self.faces, self.placing = faces, None
        self.hint_changed.emit()
        self.update()

    def mark_span(self, clicks: int = 2, words: str = "") -> None:
        """Two ends by click, or one; ``words`` say what is clicked where it is no span."""
        self._clicks, self._asked_for = clicks, words
        self.marking, self.placing, self.place_next = [], None, ""
        self.setFocus()
        self.hint_changed.emit()
        self.update()

    def click_corners(self) -> None:
        self.placing = None
        self.page.begin()
        self.hint_changed.emit()

    def stop_asking(self) -> bool:
        """Esc. False when nothing was asked for."""
        was = self.page.stop() or bool(self.faces) or self.marking is not None
        self.faces, self.marking = (), None
        if was:
            self.hint_changed.emit()
            self.update()
        return was

    # ---- hand

    def _face_at(self, q: QPointF) -> int:
        x, y = self.to_picture(q)
        hits = [
            k for k, f in enumerate(self.faces) if f.box[0] <= x <= f.box[0] + f.box[2] and f.box[1] <= y <= f.box[1] + f.box[3]
        ]
        return hits[-1] if hits else -1

    def mousePressEvent(self, e: QMouseEvent) -> None:
        left = e.button() == Qt.MouseButton.LeftButton and self.frame().contains(e.position()) and self.size_px is not None
        if left and not self._space:
            xy = self.to_picture(e.position())
            if self.faces:
                k = self._face_at(e.position())
                if k >= 0:
                    self.faces = ()
                    self.face_chosen.emit(k)
                return
            if self.marking is not None:
                self._take_end(self.marking, xy)
                return
            if self.page.press(e):
                self.hint_changed.emit()
                return
        super().mousePressEvent(e)

    def _take_end(self, ends: list[XY], xy: XY) -> None:
        self.setFocus()
        ends.append(xy)
        if len(ends) == self._clicks:
            self.marking = None
            self.span_marked.emit(ends[0], ends[-1])
        self.hint_changed.emit()
        self.update()

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self.page.move(e):
            return
        super().mouseMoveEvent(e)
        if self.marking is not None or self.page.clicking is not None:
            self.setCursor(Qt.CursorShape.CrossCursor)
        elif self.faces:
            self.setCursor(Qt.CursorShape.PointingHandCursor if self._face_at(e.position()) >= 0 else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        if self.page.release():
            return
        super().mouseReleaseEvent(e)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_Escape:
            idle = not (self.active or self.placing or self.place_next or self.tools.busy or self._drag)
            if self.stop_asking():
                return
            if idle:
                self.left.emit()
                return
        number = e.key() - Qt.Key.Key_1
        if self.faces and 0 <= number < len(self.faces):
            self.faces = ()
            self.face_chosen.emit(number)
            return
        super().keyPressEvent(e)

    def asking(self) -> str:
        """What the next click is for, in words."""
        if self.faces:
            return "the face you mean"
        if self.marking is not None:
            if self._asked_for:
                return self._asked_for.removeprefix("Click ").rstrip(".")
            return "one end of the span" if not self.marking else "its other end"
        return self.page.asking()

    # ---- paint

    def paint_under(self, p: QPainter, frame: QRectF) -> None:
        super().paint_under(p, frame)
        if self.size_px is None:
            empty_words(p, frame, self.empty_title, list(self.empty_lines))
        elif self.image is None:
            empty_words(p, frame, f"Opening the {self.what}…", [])

    def paint_over(self, p: QPainter, frame: QRectF) -> None:
        super().paint_over(p, frame)
        p.save()
        p.setClipRect(frame)
        for k, f in enumerate(self.faces):
            x, y, w, h = f.box
            r = QRectF(self.to_screen(x, y), self.to_screen(x + w, y + h)).normalized()
            p.setBrush(Qt.BrushStyle.NoBrush)
            for colour, width in ((CASING, 4.5), (ON_PICTURE_LOOK, 2)):
                p.setPen(pen(colour, width))
                p.drawRoundedRect(r, 6, 6)
            chip(p, r.center().x(), r.top() - 12, f"face {k + 1}", ON_PICTURE_LOOK)
        self.page.paint(p)
        for end in self.marking or []:
            mark_end(p, self.to_screen(*end))
        p.restore()
        if self.asking():
            chip(p, frame.center().x(), frame.top() + 22, f"Click {self.asking()}", ON_PICTURE_LOOK)
