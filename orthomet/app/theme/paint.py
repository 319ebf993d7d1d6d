"""The few painters' helpers every hand-painted widget uses."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QKeyEvent, QPaintDevice, QPainter, QPen
from PySide6.QtWidgets import QWidget

from .tokens import font, theme

LEFT, CENTRE, RIGHT = Qt.AlignmentFlag.AlignLeft, Qt.AlignmentFlag.AlignHCenter, Qt.AlignmentFlag.AlignRight
_MIDDLE = Qt.AlignmentFlag.AlignVCenter


@contextmanager
def painting(device: QPaintDevice) -> Iterator[QPainter]:
    """A painter that always ends, so that an error in a paint event cannot take the process down."""
    p = QPainter(device)
    try:
        p.setRenderHint(QPainter.RenderHint.Antialiasing)
        p.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        yield p
    finally:
        p.end()


def text_width(role: str, words: str) -> float:
    return QFontMetricsF(font(role)).horizontalAdvance(words)


def text(
    p: QPainter, box: QRectF | tuple[float, float, float, float], words: str, role: str, colour: QColor,
    align: Qt.AlignmentFlag = LEFT, wrap: bool = False,
) -> float:  # fmt: skip
    """Draw one text in a box, elided rather than spilt. Returns the height it took."""
    r = QRectF(*box) if isinstance(box, tuple) else box
    p.setFont(font(role))
    p.setPen(colour)
    fm = QFontMetricsF(font(role))
    if wrap:
        flags = int(align | Qt.AlignmentFlag.AlignTop) | int(Qt.TextFlag.TextWordWrap)
        need = fm.boundingRect(QRectF(r.x(), r.y(), r.width(), 1e4), flags, words).height()
        p.drawText(r, flags, words)
        return need
    if fm.horizontalAdvance(words) > r.width() + 0.5:
        words = fm.elidedText(words, Qt.TextElideMode.ElideRight, r.width())
    p.drawText(r, int(align | _MIDDLE), words)
    return r.height()


def pen(colour: QColor, width: float = 1.0, dash: tuple[float, ...] | None = None) -> QPen:
    """A round pen; ``dash`` in pixels (Qt counts dashes in pen widths)."""
    q = QPen(colour, width)
    q.setCapStyle(Qt.PenCapStyle.RoundCap)
    q.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if dash:
        q.setDashPattern([d / width for d in dash])
        q.setCapStyle(Qt.PenCapStyle.FlatCap)
    return q


def crisp(v: float) -> float:
    """Centre of a device pixel, so that one-pixel rules stay one pixel."""
    return int(v) + 0.5


def hline(p: QPainter, x0: float, x1: float, y: float, colour: QColor, width: float = 1.0) -> None:
    p.fillRect(QRectF(x0, int(y), x1 - x0, width), colour)


def vline(p: QPainter, x: float, y0: float, y1: float, colour: QColor, width: float = 1.0) -> None:
    p.fillRect(QRectF(int(x), y0, width, y1 - y0), colour)


def chevron(p: QPainter, x: float, y: float, colour: QColor, down: bool = True, r: float = 3.5) -> None:
    p.setPen(pen(colour, 1.5))
    if down:
        p.drawPolyline([QPointF(x - r, y - r / 2), QPointF(x, y + r / 2), QPointF(x + r, y - r / 2)])
    else:
        p.drawPolyline([QPointF(x - r / 2, y - r), QPointF(x + r / 2, y), QPointF(x - r / 2, y + r)])


def outline(p: QPainter, colour: QColor, width: float = 1.0, dash: tuple[float, ...] | None = None) -> None:
    """What is drawn next has an outline and nothing in it."""
    p.setPen(pen(colour, width, dash))
    p.setBrush(Qt.BrushStyle.NoBrush)


def solid(p: QPainter, colour: QColor) -> None:
    """What is drawn next is filled, without an outline."""
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(colour)


def focus_ring(p: QPainter, w: QWidget, inset: tuple[int, int, int, int] = (1, 1, 1, 1)) -> None:
    """Round a hand-painted widget while it has the keys."""
    if w.hasFocus():
        outline(p, theme.t.c("plan"), 2)
        left, top, right, bottom = inset
        p.drawRect(QRectF(w.rect()).adjusted(left, top, -right, -bottom))


ARROWS = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}


def arrow(e: QKeyEvent) -> tuple[int, int] | None:
    """Where an arrow key points, right and down."""
    return ARROWS.get(Qt.Key(e.key()))
