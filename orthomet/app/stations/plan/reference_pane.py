"""The reference's picture in the plan's left pane, painted once and kept until it or its place changes."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage, QPainter, QPixmap, QTransform

from ...stage.pixels import reduced
from ...theme.paint import CENTRE, painting, text
from ...theme.tokens import theme

EDGE = 28
"""Pixels kept free about a picture that is only fitted."""


def fitted(image: QImage, pane: QRectF) -> QTransform:
    """A picture as large as a pane takes: it has no crown and chin to be levelled and sized by."""
    room = pane.adjusted(EDGE, EDGE + 20, -EDGE, -EDGE - 20)
    k = min(room.width() / image.width(), room.height() / image.height())
    t = QTransform()
    t.translate(room.center().x() - k * image.width() / 2, room.center().y() - k * image.height() / 2)
    t.scale(k, k)
    return t


class ReferencePane:
    def __init__(self) -> None:
        self._kept: tuple[object, QPixmap] | None = None

    def paint(self, p: QPainter, pane: QRectF, image: QImage | None, frame: QTransform | None, words: str, ratio: float) -> None:
        """The picture by its frame, or fitted; ``words`` say why it is not aligned, or why there is none."""
        t = theme.t
        p.fillRect(pane, t.c("ledge"))
        if image is not None and image.width() and image.height():
            p.drawPixmap(pane.topLeft(), self._picture(pane, image, frame or fitted(image, pane), ratio))
        if frame is None or image is None:
            place = QRectF(pane.left() + 20, pane.center().y() - 30, pane.width() - 40, 60)
            if image is not None:
                place.moveBottom(pane.bottom() + 6)
            text(p, place, words, "body", t.c("soft"), CENTRE, wrap=True)

    def _picture(self, pane: QRectF, image: QImage, frame: QTransform, ratio: float) -> QPixmap:
        key = (image.cacheKey(), [frame.m11(), frame.m12(), frame.m31(), frame.m32()], pane.getRect(), ratio, theme.t.name)
        if self._kept is None or self._kept[0] != key:
            pixmap = QPixmap(round(pane.width() * ratio), round(pane.height() * ratio))
            pixmap.setDevicePixelRatio(ratio)
            pixmap.fill(theme.t.c("ledge"))
            with painting(pixmap) as q:
                q.translate(-pane.topLeft())
                q.setTransform(frame, True)
                small, _ = reduced(image, max(abs(frame.m11()), abs(frame.m12())) * ratio)
                q.scale(image.width() / small.width(), image.height() / small.height())
                q.drawImage(0, 0, small)
            self._kept = (key, pixmap)
        return self._kept[1]
