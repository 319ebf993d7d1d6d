"""Drafting helpers over a picture: cased lines, chips, dimensions, point marks, the head as a rule."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter, QPolygonF

from ..theme.paint import CENTRE, LEFT, RIGHT, hline, outline, pen, solid, text, text_width, vline
from ..theme.tokens import CASING, CHIP, CHIP_TEXT, ON_PICTURE_LOOK, ON_PICTURE_POINT, Palette, theme


def cased(p: QPainter, lines: list[tuple[QPointF, QPointF]], colour: QColor, width: float) -> None:
    """Lines with a dark casing, readable on skin, hair and paper alike. All casings first, then all lines."""
    for q in (pen(CASING, width + 2), pen(colour, width)):
        p.setPen(q)
        for a, b in lines:
            p.drawLine(a, b)


def chip(p: QPainter, x: float, y: float, words: str, colour: QColor | None = None, align: Qt.AlignmentFlag = CENTRE) -> QRectF:
    w, h = text_width("note", words) + 12, 18
    x = x - w / 2 if align == CENTRE else x - w if align == RIGHT else x
    r = QRectF(round(x), round(y - h / 2), round(w), h)
    solid(p, CHIP)
    p.drawRoundedRect(r, 3, 3)
    text(p, r, words, "note", colour or CHIP_TEXT, CENTRE)
    return r


def dimension(p: QPainter, a: QPointF, b: QPointF, words: str, across: bool, offset: float, colour: QColor | None = None) -> None:
    """A dimension as a draughtsman sets it: witness lines, a line between arrowheads, the size on it."""
    c = colour or ON_PICTURE_LOOK
    shift = QPointF(0, -offset) if across else QPointF(offset, 0)
    end_a, end_b = a + shift, b + shift
    cased(p, [(a, end_a + shift / max(abs(offset), 1) * 5), (b, end_b + shift / max(abs(offset), 1) * 5)], c, 1.0)
    cased(p, [(end_a, end_b)], c, 2.0)
    d = end_b - end_a
    n = max((d.x() ** 2 + d.y() ** 2) ** 0.5, 1e-6)
    u = d / n
    v = QPointF(-u.y(), u.x())
    p.setPen(pen(CASING, 1))
    p.setBrush(c)
    for q, s in ((end_a, 1.0), (end_b, -1.0)):
        p.drawPolygon(QPolygonF([q, q + u * (7 * s) + v * 3, q + u * (7 * s) - v * 3]))
    if not words:
        return
    m = (end_a + end_b) / 2
    if across:
        chip(p, m.x(), m.y() - 15, words, c)
    else:
        chip(p, m.x() + 8, m.y(), words, c, align=Qt.AlignmentFlag.AlignLeft)


def straight_dimension(p: QPainter, a: QPointF, b: QPointF, words: str, colour: QColor | None = None) -> None:
    """A length along its own line: from end to end, its size beside the middle."""
    c = colour or ON_PICTURE_LOOK
    d = b - a
    n = max((d.x() ** 2 + d.y() ** 2) ** 0.5, 1e-6)
    across = QPointF(-d.y() / n, d.x() / n)
    cased(p, [(a, b), (a - across * 7, a + across * 7), (b - across * 7, b + across * 7)], c, 2.0)
    if words:
        m = (a + b) / 2 + across * 18
        chip(p, m.x(), m.y(), words, c)


def point_mark(p: QPainter, q: QPointF, state: str, lit: bool = False, colour: QColor | None = None, minor: bool = False) -> None:
    """Landmarks differ by shape: placed a solid dot, estimated an open broken ring, hidden a half dot.

    Points that only refine a feature (``minor``) are smaller, so that an eye stays visible under its ten points.
    """
    k = 0.6 if minor and not lit else 1.0
    c = colour or ON_PICTURE_POINT
    if lit:
        outline(p, CASING, 4)
        p.drawEllipse(q, 7, 7)
        p.setPen(pen(ON_PICTURE_LOOK, 2))
        p.drawEllipse(q, 7, 7)
    if state == "placed":
        p.setPen(pen(CASING, 1.4))
        p.setBrush(c)
        p.drawEllipse(q, 3.3 * k, 3.3 * k)
    elif state == "estimated":
        outline(p, CASING, 3.6 * k)
        p.drawEllipse(q, 4.6 * k, 4.6 * k)
        p.setPen(pen(c, 1.6, (3.2 * k, 2.4 * k)))
        p.drawEllipse(q, 4.6 * k, 4.6 * k)
    else:
        outline(p, CASING, 1.4)
        p.drawEllipse(q, 4, 4)
        p.setBrush(c)
        p.drawPie(QRectF(q.x() - 4, q.y() - 4, 8, 8), 90 * 16, 180 * 16)


def ring_mark(p: QPainter, q: QPointF, sure: bool, colour: QColor, big: bool = False, minor: bool = False) -> None:
    """A drawing's landmark: an open ring, so that the pencil under it stays visible; small for the finer points."""
    r = 4.0 if big else 1.8 if minor else 3.0
    outline(p, QColor(252, 251, 246, 230), 4)
    p.drawEllipse(q, r, r)
    p.setPen(pen(colour, 2 if big else 1.4) if sure else pen(colour, 1.3, (2.4, 1.8)))
    p.drawEllipse(q, r, r)


def head_rule(p: QPainter, x: float, crown: float, chin: float, lit: float | None = None) -> None:
    """The head as a rule beside the picture: crown 0, chin 1, in tenths and fiftieths."""
    t, hh = theme.t, chin - crown
    if hh < 60:
        return
    ink, soft = t.c("ink"), t.c("soft")
    vline(p, x, crown, chin + 1, ink)
    for k in range(51):
        y = round(crown + hh * k / 50)
        tenth = k % 5 == 0
        hline(p, x - (11 if tenth else 5), x, y, ink if tenth else t.c("rule_strong"))
        if tenth and (hh > 150 or k % 25 == 0):
            words = "0" if k == 0 else "1" if k == 50 else f".{k // 5}"
            text(p, (x - 34, y - 8, 20, 16), words, "note_s", ink if k in (0, 50) else soft, RIGHT)
    text(p, (x - 40, crown - 26, 44, 16), "crown", "note_s", soft, RIGHT)
    text(p, (x - 40, chin + 10, 44, 16), "chin", "note_s", soft, RIGHT)
    if lit is not None:
        at = crown + lit * hh
        solid(p, t.c("look_fill"))
        p.drawPolygon(QPolygonF([QPointF(x + 1, at), QPointF(x + 10, at - 6), QPointF(x + 10, at + 6)]))


def sheet_edge(p: QPainter, r: QRectF) -> None:
    outline(p, theme.t.c("rule_strong"), 1)
    p.drawRect(r.adjusted(-0.5, -0.5, 0.5, 0.5))


Sign = Callable[[QPainter, float, float, Palette], object]
"""Paints a sign about a place."""


def pane_tag(p: QPainter, pane: QRectF, words: str, mark: Sign) -> None:
    """What a pane shows, in its upper left corner."""
    t = theme.t
    r = QRectF(pane.left(), pane.top(), min(text_width("section", words) + 42, pane.width()), 28)
    p.setPen(pen(t.c("rule_strong"), 1))
    p.setBrush(t.c("paper"))
    p.drawRect(r)
    mark(p, r.left() + 15, r.center().y(), t)
    text(p, QRectF(r.left() + 28, r.top(), r.width() - 34, 28), words, "section", t.c("ink"), LEFT)
