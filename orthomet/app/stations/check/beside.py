"""Something laid beside or over the drawing: its cure, its plan, its reference, an earlier save; by wipe, onion skin or flicker."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QPainter, QTransform

from ....core.picture import Picture
from ...looks import overlay_looks, screen_looks
from ...render import paint
from ...stage.draw import cased, chip
from ...theme.paint import pen
from ...theme.tokens import CASING, ON_PICTURE_DRAW, theme

GRAB = 8.0
FLICKER_MS = 420
"""How long each of the two is shown (own: slow enough to see, quick enough to jump)."""


class Way(StrEnum):
    WIPE = "wipe"
    ONION = "onion"
    FLICKER = "flicker"


@dataclass(frozen=True, eq=False)
class Beside:
    """An image in its own pixels with the map to the drawing's, or a picture in its own unit likewise."""

    title: str
    to_drawing: QTransform
    image: QImage | None = None
    picture: Picture | None = None
    key: object = None
    """What it was made from: the same beside is not laid anew."""


def paint_beside(p: QPainter, b: Beside, view: QTransform, frame: QRectF, way: Way, at: float) -> None:
    """Lay it over the drawing; ``at`` is where the wipe stands, 0 to 1 of the frame."""
    p.save()
    x = frame.left() + at * frame.width()
    if way is Way.WIPE:
        p.setClipRect(QRectF(x, frame.top(), frame.right() - x, frame.height()), Qt.ClipOperation.IntersectClip)
    elif way is Way.ONION:
        p.setOpacity(0.5)
    t = b.to_drawing * view
    if b.image is not None:
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        p.setTransform(t, True)
        p.drawImage(QPointF(0, 0), b.image)
        if theme.t.scan_dim:  # held back as the drawing beside it is
            p.fillRect(b.image.rect(), theme.t.c("board", theme.t.scan_dim))
    elif b.picture is not None:
        scale = max((t.m11() ** 2 + t.m12() ** 2) ** 0.5, 1e-9)
        if way is not Way.ONION:
            p.fillRect(frame, theme.t.c("sheet"))
        p.setTransform(QTransform.fromScale(1 / scale, 1 / scale) * t, True)
        paint(p, b.picture, scale, overlay_looks(theme.t) if way is Way.ONION else screen_looks(theme.t), 1.0)
    p.restore()
    if way is Way.WIPE:
        cased(p, [(QPointF(x, frame.top()), QPointF(x, frame.bottom()))], ON_PICTURE_DRAW, 1.4)
        knob = QPointF(x, frame.bottom() - 30)
        p.setPen(pen(CASING, 1.5))
        p.setBrush(ON_PICTURE_DRAW)
        p.drawEllipse(knob, 7, 7)
        chip(p, x - 14, knob.y(), "as drawn", align=Qt.AlignmentFlag.AlignRight)
        chip(p, x + 14, knob.y(), b.title, align=Qt.AlignmentFlag.AlignLeft)
    else:
        chip(p, frame.center().x(), frame.bottom() - 24, b.title)


def on_wipe(q: QPointF, frame: QRectF, at: float) -> bool:
    return frame.contains(q) and abs(q.x() - (frame.left() + at * frame.width())) < GRAB
