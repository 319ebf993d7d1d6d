"""A picture on the board: wheel zooms at the pointer, space-drag or the middle button pans, F fits."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPixmap, QResizeEvent, QTransform, QWheelEvent
from PySide6.QtWidgets import QWidget

from ..theme.paint import painting
from ..theme.tokens import theme
from .pixels import draw_part, seen_as

ZOOM_MOST = 40.0


class StageView(QWidget):
    """Maps picture pixels to the widget. Subclasses paint over the picture in ``paint_over``."""

    LEFT, RIGHT, TOP, BOTTOM = 52, 12, 0, 12

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(200, 200)
        self.image: QImage | None = None
        self.size_px: tuple[int, int] | None = None
        self.scale, self.offset = 1.0, QPointF(0, 0)
        self.fitted = True
        self.dim = False
        self.mirrored = self.upside = False
        self.seen_as = ""
        """Another way to look at the picture, of :data:`~orthomet.core.imaging.looks.LOOKS`; empty: as it is."""
        self._pan: QPointF | None = None
        self._space = False
        self._scaled: tuple[object, QPixmap] | None = None

    # ---- geometry

    def frame(self) -> QRectF:
        """The part of the board the picture shows in."""
        return QRectF(
            self.LEFT, self.TOP, max(10, self.width() - self.LEFT - self.RIGHT), max(10, self.height() - self.TOP - self.BOTTOM)
        )

    def set_picture(self, image: QImage | None, size: tuple[int, int] | None) -> None:
        if size != self.size_px:
            self.size_px = size
            self.fitted = True
        self.image = image
        if self.fitted:
            self.fit()
        self.update()

    def focus_box(self) -> QRectF | None:
        """Picture region worth filling the frame with; None for the whole picture."""
        return None

    def fit(self) -> None:
        """Fill the frame: with the head where it is known, else with the whole picture."""
        self.fitted = True
        if self.size_px is None:
            return
        f, box = self.frame(), self.focus_box()
        if box is None or box.width() < 1 or box.height() < 1:
            box = QRectF(0, 0, *self.size_px)
        self.scale = min(f.width() / box.width(), f.height() / box.height())
        self.offset = f.center() - box.center() * self.scale
        self.update()

    def to_screen(self, x: float, y: float) -> QPointF:
        return self._flip(QPointF(x * self.scale + self.offset.x(), y * self.scale + self.offset.y()))

    def to_picture(self, q: QPointF) -> tuple[float, float]:
        q = self._flip(q)
        return (q.x() - self.offset.x()) / self.scale, (q.y() - self.offset.y()) / self.scale

    def view_transform(self) -> QTransform:
        """Picture pixels → widget."""
        t, c, (fx, fy) = QTransform(), self.frame().center(), self.flips()
        t.translate(2 * c.x() if fx < 0 else 0, 2 * c.y() if fy < 0 else 0)
        t.scale(fx, fy)
        t.translate(self.offset.x(), self.offset.y())
        t.scale(self.scale, self.scale)
        return t

    def level_direction(self) -> tuple[float, float]:
        """Direction of a level line on the picture, unit vector."""
        return 1.0, 0.0

    def flips(self) -> tuple[int, int]:
        """−1 where left and right are exchanged, and where up and down are; upside down exchanges both."""
        return (-1 if self.mirrored != self.upside else 1), (-1 if self.upside else 1)

    def _flip(self, q: QPointF) -> QPointF:
        c, (fx, fy) = self.frame().center(), self.flips()
        return QPointF(2 * c.x() - q.x() if fx < 0 else q.x(), 2 * c.y() - q.y() if fy < 0 else q.y())

    def shift_view(self, d: QPointF) -> None:
        """Move what is seen by so much of the widget."""
        fx, fy = self.flips()
        self.offset += QPointF(d.x() * fx, d.y() * fy)
        self.fitted = False
        self.update()

    def zoom(self, factor: float, at: QPointF | None = None) -> None:
        at = at or self.frame().center()
        x, y = self.to_picture(at)
        self.scale = max(0.01, min(ZOOM_MOST, self.scale * factor))
        self.shift_view(at - self.to_screen(x, y))

    def resizeEvent(self, e: QResizeEvent) -> None:
        if self.fitted:
            self.fit()

    def wheelEvent(self, e: QWheelEvent) -> None:
        steps = e.angleDelta().y() / 120
        if steps:
            self.zoom(1.2**steps, e.position())
        e.accept()

    # ---- pan

    def pan_press(self, e: QMouseEvent) -> bool:
        if e.button() == Qt.MouseButton.MiddleButton or (self._space and e.button() == Qt.MouseButton.LeftButton):
            self._pan = e.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return True
        return False

    def pan_move(self, e: QMouseEvent) -> bool:
        if self._pan is None:
            return False
        self.shift_view(e.position() - self._pan)
        self._pan = e.position()
        return True

    def pan_release(self) -> bool:
        was = self._pan is not None
        self._pan = None
        if was:
            self.setCursor(Qt.CursorShape.OpenHandCursor if self._space else Qt.CursorShape.ArrowCursor)
        return was

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_Space and not e.isAutoRepeat():
            self._space = True
            self.setCursor(Qt.CursorShape.OpenHandCursor)
        elif e.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.25)
        elif e.key() == Qt.Key.Key_Minus:
            self.zoom(0.8)
        elif e.key() == Qt.Key.Key_F:
            self.fit()
        else:
            super().keyPressEvent(e)

    def keyReleaseEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_Space and not e.isAutoRepeat():
            self._space = False
            self.setCursor(Qt.CursorShape.ArrowCursor)
        else:
            super().keyReleaseEvent(e)

    # ---- paint

    def paint_picture(self, p: QPainter, clip: QRectF) -> None:
        """The picture in its place. A scaled copy is kept, so that a drag repaints by copying."""
        if self.image is None or self.size_px is None:
            return
        ratio = self.devicePixelRatioF()
        part = QRectF(QPointF(*self.to_picture(clip.topLeft())), QPointF(*self.to_picture(clip.bottomRight()))).normalized()
        flips = self.flips()
        place = (self.scale, self.offset.x(), self.offset.y(), clip.getRect(), ratio, flips, self.seen_as)
        key = (self.image.cacheKey(), place, theme.t.name)
        if self._scaled is None or self._scaled[0] != key:
            pixmap = QPixmap(max(1, round(clip.width() * ratio)), max(1, round(clip.height() * ratio)))
            pixmap.setDevicePixelRatio(ratio)
            pixmap.fill(Qt.GlobalColor.transparent)
            with painting(pixmap) as q:
                q.translate(clip.width() if flips[0] < 0 else 0, clip.height() if flips[1] < 0 else 0)
                q.scale(*flips)
                drawn = draw_part(q, self.image, part, QRectF(0, 0, clip.width(), clip.height()), self.scale * ratio)
            if self.seen_as:
                pixmap = seen_as(pixmap, self.seen_as, max(drawn.height(), 1.0) * ratio)
            if self.dim and theme.t.scan_dim:
                with painting(pixmap) as q:
                    q.setCompositionMode(QPainter.CompositionMode.CompositionMode_SourceAtop)
                    q.fillRect(pixmap.rect(), theme.t.c("board", theme.t.scan_dim))
            self._scaled = (key, pixmap)
        p.drawPixmap(clip.topLeft(), self._scaled[1])

    def paintEvent(self, e: object) -> None:
        with painting(self) as p:
            p.fillRect(self.rect(), theme.t.c("board"))
            frame = self.frame()
            p.save()
            p.setClipRect(frame)
            self.paint_under(p, frame)
            self.paint_picture(p, frame)
            p.restore()
            self.paint_over(p, frame)

    def paint_under(self, p: QPainter, frame: QRectF) -> None:
        p.fillRect(frame, theme.t.c("ledge"))

    def paint_over(self, p: QPainter, frame: QRectF) -> None:
        """Everything above the picture."""
