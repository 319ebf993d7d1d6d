"""The magnifier over a picture: stands in a corner near the point it shows, with a cross and a scale of picture pixels."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QImage, QPainter, QPainterPath

from ..theme.paint import outline, pen
from ..theme.tokens import CASING, ON_PICTURE_LOOK, theme
from .draw import cased, chip

LENS, LENS_ZOOM = 164, 5.0


def lens_place(frame: QRectF, q: QPointF, r: float) -> QPointF:
    """Centre of the lens: the nearest corner of the frame from which it does not cover the point."""
    xs = (frame.right() - r - 12, frame.left() + r + 12)
    ys = (frame.top() + r + 12, frame.bottom() - r - 54)
    corners = [QPointF(x, y) for x in xs for y in ys]

    def far(c: QPointF) -> float:
        d = c - q
        return float((d.x() ** 2 + d.y() ** 2) ** 0.5)

    clear = [c for c in corners if far(c) > r + 60]
    return min(clear or corners, key=far)


def paint_lens(
    p: QPainter, frame: QRectF, q: QPointF, image: QImage, xy: tuple[float, float], scale: float, mirrored: bool, label: str
) -> None:
    """Paint the lens for a point at ``xy`` of the picture, shown at ``q`` on the screen."""
    r = LENS / 2
    c = lens_place(frame, q, r)
    x, y = xy
    k = max(LENS_ZOOM * scale, 1.0)
    half = r / k
    edge = c - q
    n = max((edge.x() ** 2 + edge.y() ** 2) ** 0.5, 1.0)
    cased(p, [(q + edge / n * 9, c - edge / n * r)], ON_PICTURE_LOOK, 1.6)
    path = QPainterPath()
    path.addEllipse(c, r, r)
    box = QRectF(c.x() - r, c.y() - r, LENS, LENS)
    p.save()
    p.setClipPath(path)
    p.fillRect(box, theme.t.c("board"))
    if mirrored:
        p.translate(2 * c.x(), 0)
        p.scale(-1, 1)
    p.drawImage(box, image, QRectF(x - half, y - half, 2 * half, 2 * half))
    p.restore()
    for along in (QPointF(1, 0), QPointF(0, 1)):  # a cross that leaves the point itself free
        cased(p, [(c - along * r, c - along * 7), (c + along * 7, c + along * r)], ON_PICTURE_LOOK, 1.0)
    tick = 5 * k if k < 12 else k
    for i in range(-int(r / tick), int(r / tick) + 1):
        if i:
            p.fillRect(QRectF(c.x() + i * tick - 0.5, c.y() - 3, 1, 6), ON_PICTURE_LOOK)
    outline(p, CASING, 4.5)
    p.drawEllipse(c, r, r)
    p.setPen(pen(ON_PICTURE_LOOK, 2))
    p.drawEllipse(c, r, r)
    chip(p, c.x(), c.y() + r + 14, label)
    chip(p, c.x(), c.y() + r + 34, f"x {x:.1f}   y {y:.1f}   tick {5 if k < 12 else 1} px")
