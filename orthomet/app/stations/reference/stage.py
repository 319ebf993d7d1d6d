"""The reference on the stage: what to do first while there is none, faces to choose from, a page's corners."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from ....core.imaging.faces import Found
from ...stage.draw import cased, chip
from ...stage.empty import empty_box, empty_words
from ...stage.marks import MarksStage
from ...theme.paint import pen
from ...theme.tokens import CASING, ON_PICTURE_LOOK
from ..base import button

XY = tuple[float, float]
CORNER_WORDS = ("top left", "top right", "bottom right", "bottom left")
NEAR = 11.0


class ReferenceStage(MarksStage):
    face_chosen = Signal(int)
    span_marked = Signal(object, object)
    corners_set = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.faces: tuple[Found, ...] = ()
        self.marking: list[XY] | None = None
        """Ends of an own span while it is marked by two clicks."""
        self.clicking: list[XY] | None = None
        """Corners of a page while they are clicked."""
        self.corners: tuple[XY, ...] = ()
        self._corner = -1
        self.first = QWidget(self)
        row = QHBoxLayout(self.first)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        self.choose = button("Choose a picture…", lambda: None, "Open a picture file (Ctrl+I)", strong=True)
        self.demo = button("Open the demo", lambda: None, "People of the Night Ferry, measured and planned")
        row.addWidget(self.choose)
        row.addWidget(self.demo)

    def set_picture(self, image: QImage | None, size: tuple[int, int] | None) -> None:
        super().set_picture(image, size)
        self.first.setVisible(size is None)
        self._place_buttons()

    def resizeEvent(self, e: QResizeEvent) -> None:
        super().resizeEvent(e)
        self._place_buttons()

    def _place_buttons(self) -> None:
        box = empty_box(self.frame())
        self.first.adjustSize()
        self.first.move(round(box.center().x() - self.first.width() / 2), round(box.bottom() - 62))

    # ---- what is asked for

    def offer_faces(self, faces: tuple[Found, ...]) -> None:
        self.faces, self.placing = faces, None
        self.hint_changed.emit()
        self.update()

    def mark_span(self) -> None:
        self.marking, self.placing, self.place_next = [], None, ""
        self.setFocus()
        self.hint_changed.emit()
        self.update()

    def click_corners(self) -> None:
        self.clicking, self.placing = [], None
        self.setFocus()
        self.fit_whole()
        self.hint_changed.emit()

    def fit_whole(self) -> None:
        """The whole picture, so that a page's corners are in sight."""
        if self.size_px is None:
            return
        f = self.frame().adjusted(14, 14, -14, -14)
        self.scale = min(f.width() / self.size_px[0], f.height() / self.size_px[1])
        self.offset = f.center() - QPointF(self.size_px[0], self.size_px[1]) / 2 * self.scale
        self.fitted = False
        self.update()

    def stop_asking(self) -> bool:
        """Esc. False when nothing was asked for."""
        was = bool(self.faces) or self.marking is not None or self.clicking is not None
        self.faces, self.marking, self.clicking = (), None, None
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
                self._take(self.marking, xy, 2)
                return
            if self.clicking is not None:
                self._take(self.clicking, xy, 4)
                return
            near = [k for k, c in enumerate(self.corners) if _far(self.to_screen(*c), e.position()) < NEAR]
            if near:
                self._corner = near[0]
                return
        super().mousePressEvent(e)

    def _take(self, into: list[XY], xy: XY, wanted: int) -> None:
        self.setFocus()
        into.append(xy)
        if len(into) == wanted:
            done = tuple(into)
            if wanted == 2:
                self.marking = None
                self.span_marked.emit(done[0], done[1])
            else:
                self.clicking = None
                self.corners_set.emit(done)
        self.hint_changed.emit()
        self.update()

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self._corner >= 0:
            moved = list(self.corners)
            moved[self._corner] = self.to_picture(e.position())
            self.corners = tuple(moved)
            self.update()
            return
        super().mouseMoveEvent(e)
        if self.marking is not None or self.clicking is not None:
            self.setCursor(Qt.CursorShape.CrossCursor)
        elif self.faces:
            self.setCursor(Qt.CursorShape.PointingHandCursor if self._face_at(e.position()) >= 0 else Qt.CursorShape.ArrowCursor)

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        if self._corner >= 0:
            self._corner = -1
            self.corners_set.emit(self.corners)
            return
        super().mouseReleaseEvent(e)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_Escape and self.stop_asking():
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
            return "one end of the span" if not self.marking else "its other end"
        if self.clicking is not None:
            return f"the page’s {CORNER_WORDS[len(self.clicking)]} corner"
        return ""

    # ---- paint

    def paint_under(self, p: QPainter, frame: QRectF) -> None:
        super().paint_under(p, frame)
        if self.size_px is None:
            empty_words(p, frame, "No reference yet", ["Drop a picture of a face here, or paste one."])
        elif self.image is None:
            empty_words(p, frame, "Opening the picture…", [])

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
        ends = [self.to_screen(*c) for c in self.corners]
        if len(ends) == 4:
            cased(p, [(ends[k], ends[(k + 1) % 4]) for k in range(4)], ON_PICTURE_LOOK, 1.4)
        for q in ends + [self.to_screen(*c) for c in (self.clicking or self.marking or [])]:
            p.setBrush(ON_PICTURE_LOOK)
            p.setPen(pen(CASING, 1.4))
            p.drawRect(QRectF(q.x() - 4, q.y() - 4, 8, 8))
        p.restore()
        if self.asking():
            chip(p, frame.center().x(), frame.top() + 22, f"Click {self.asking()}", ON_PICTURE_LOOK)


def _far(a: QPointF, b: QPointF) -> float:
    return float(((a.x() - b.x()) ** 2 + (a.y() - b.y()) ** 2) ** 0.5)
