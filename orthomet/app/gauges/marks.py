"""The gauge's marks: the reference hangs from above, the plan pushes up from below, the drawing rings the line.

So three equal values stay three readable marks, in black and white too.
"""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainter, QPolygonF

from ..theme.paint import CENTRE, outline, pen, solid, text
from ..theme.tokens import Palette


def mark_reference(p: QPainter, x: float, y: float, t: Palette, sure: bool = True) -> None:
    """Graphite wedge from above; open and broken while only estimated."""
    q = QPolygonF([QPointF(x - 5, y - 10.8), QPointF(x + 5, y - 10.8), QPointF(x, y - 2.8)])
    p.setPen(pen(t.c("paper"), 1) if sure else pen(t.c("ref"), 1.2, (2.2, 1.6)))
    p.setBrush(t.c("ref") if sure else t.c("paper"))
    p.drawPolygon(q)


def _tip(x: float, y: float) -> QPolygonF:
    return QPolygonF(
        [
            QPointF(x, y + 2.6),
            QPointF(x + 5, y + 6.8),
            QPointF(x + 5, y + 11.4),
            QPointF(x - 5, y + 11.4),
            QPointF(x - 5, y + 6.8),
        ]
    )


def mark_plan(p: QPainter, x: float, y: float, t: Palette, grip: bool = False) -> None:
    """Pencil tip from below, the one mark that can be dragged."""
    p.setPen(pen(t.c("paper"), 1))
    p.setBrush(t.c("plan"))
    p.drawPolygon(_tip(x, y))
    if grip:
        p.setPen(pen(t.c("paper"), 1))
        for d in (-1.5, 1.5):
            p.drawLine(QPointF(x + d, y + 7), QPointF(x + d, y + 9.5))


def mark_asked(p: QPainter, x: float, y: float, t: Palette) -> None:
    """Where the plan would be without its limit."""
    outline(p, t.c("plan"), 1.1, (2, 1.6))
    p.drawPolygon(_tip(x, y))


def mark_style(p: QPainter, x: float, y: float, t: Palette) -> None:
    """The style's own value: a small open square under the line."""
    p.setPen(pen(t.c("soft"), 1.2))
    p.setBrush(t.c("paper"))
    p.drawRect(QRectF(x - 2.5, y + 4.5, 5, 5))


def mark_shown(p: QPainter, x: float, y: float, t: Palette, sure: bool = True, grip: bool = False) -> None:
    """The style that is looked at: a full square under the line; open and broken where the norm stands in."""
    p.setPen(pen(t.c("paper"), 1) if sure else pen(t.c("soft"), 1.2, (2.2, 1.6)))
    p.setBrush(t.c("ink") if sure else t.c("paper"))
    p.drawRect(QRectF(x - 4.5, y + 2.5, 9, 9))
    if grip:
        p.setPen(pen(t.c("paper" if sure else "soft"), 1))
        for d in (-1.5, 1.5):
            p.drawLine(QPointF(x + d, y + 5), QPointF(x + d, y + 9))


def mark_other(p: QPainter, x: float, y: float, t: Palette) -> None:
    """The style it is compared with: an open square on the line's upper side."""
    p.setPen(pen(t.c("ink"), 1.4))
    p.setBrush(t.c("paper"))
    p.drawRect(QRectF(x - 4, y - 10.5, 8, 8))


def mark_drawing(p: QPainter, x: float, y: float, t: Palette, quiet: bool = False) -> None:
    """Vermilion ring round the line; broken graphite once the artist said "meant"."""
    p.setPen(pen(t.c("paper"), 3.4))
    p.setBrush(t.c("paper"))
    p.drawEllipse(QPointF(x, y), 3.2, 3.2)
    p.setPen(pen(t.c("soft"), 1.4, (2, 1.4)) if quiet else pen(t.c("draw"), 2))
    p.drawEllipse(QPointF(x, y), 3.4, 3.4)


def mark_wall(p: QPainter, x: float, y: float, t: Palette, side: int) -> None:
    """A limit: a wall, hatched on the side it forbids."""
    x += side * 6
    p.setPen(pen(t.c("plan"), 1.6))
    p.drawLine(QPointF(x, y - 9), QPointF(x, y + 11))
    p.setPen(pen(t.c("plan"), 1))
    for k in range(3):
        p.drawLine(QPointF(x, y - 4 + k * 4), QPointF(x + side * 4.5, y - 8.5 + k * 4))


def mark_look(p: QPainter, x: float, y: float, t: Palette, words: str = "", r: float = 8.0) -> None:
    """Ochre lozenge: look here. With a number it names a finding."""
    solid(p, t.c("look_fill"))
    p.drawPolygon(QPolygonF([QPointF(x, y - r), QPointF(x + r, y), QPointF(x, y + r), QPointF(x - r, y)]))
    if words:
        text(p, QRectF(x - r, y - r - 0.5, 2 * r, 2 * r), words, "small_m", t.c("on_look"), CENTRE)
