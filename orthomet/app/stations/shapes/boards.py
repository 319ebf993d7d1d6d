"""Two more stages: nine variants of this character at once, and its silhouette in three sizes."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.picture import Picture
from ....core.shapes.variants import DETAILS, PUSHES
from ...looks import screen_looks
from ...render import paint
from ...stage.draw import sheet_edge
from ...theme.paint import CENTRE, LEFT, RIGHT, arrow, outline, painting, pen, text
from ...theme.tokens import theme
from .making import Board, Silhouette

SIZES = (("320", 320), ("96", 96), ("32", 32))
"""Heights the silhouette is looked at in, pixels: does it still read?"""


def fitted(p: QPainter, picture: Picture, r: QRectF, room: float = 0.06, pens: float = 1.0) -> None:
    """A picture in a rectangle."""
    x, y, w, h = picture.box
    k = min(r.width() / max(w, 1e-9), r.height() / max(h, 1e-9)) * (1 - room)
    p.save()
    p.translate(r.center().x() - (x + w / 2) * k, r.center().y() - (y + h / 2) * k)
    paint(p, picture, k, screen_looks(theme.t), pens)
    p.restore()


class VariantBoard(QWidget):
    """Rows of one detail, columns of one push. A click takes one, Shift-click keeps it beside the others."""

    taken = Signal(str, object)
    kept = Signal(str, object)

    def __init__(self) -> None:
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Nine variants: detail down, push across")
        self.board: Board | None = None
        self.focus, self.hot = 4, -1

    def show_board(self, board: Board | None) -> None:
        self.board = board
        self.setAccessibleDescription(", ".join(words for words, *_ in board.tiles) if board is not None else "")
        self.update()

    def tile(self, k: int) -> QRectF:
        left, top = 12.0 + 26, 26.0
        w, h = (self.width() - left - 12) / 3, (self.height() - top - 12) / 3
        return QRectF(left + (k % 3) * w + 3, top + (k // 3) * h + 3, w - 6, h - 6)

    def _hit(self, q: QPointF) -> int:
        return next((k for k in range(9) if self.tile(k).contains(q)), -1)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        k = self._hit(e.position())
        if k >= 0 and e.button() == Qt.MouseButton.LeftButton:
            self.focus = k
            self._choose(k, bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier))

    def _choose(self, k: int, keep: bool) -> None:
        if self.board is not None and k < len(self.board.tiles):
            words, shapes, _ = self.board.tiles[k]
            (self.kept if keep else self.taken).emit(words, shapes)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        k = self._hit(e.position())
        if k != self.hot:
            self.hot = k
            self.setCursor(Qt.CursorShape.PointingHandCursor if k >= 0 else Qt.CursorShape.ArrowCursor)
            self.update()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = arrow(e)
        if step is not None:
            x, y = max(0, min(2, self.focus % 3 + step[0])), max(0, min(2, self.focus // 3 + step[1]))
            self.focus = 3 * y + x
            self.update()
        elif e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._choose(self.focus, bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        else:
            super().keyPressEvent(e)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("board"))
            for n, (_, words) in enumerate(PUSHES):
                r = self.tile(n)
                text(p, (r.left(), 4, r.width(), 20), words, "section", t.c("ink"), CENTRE)
            for n, (_, words) in enumerate(DETAILS):
                r = self.tile(3 * n)
                p.save()
                p.translate(12, r.bottom())
                p.rotate(-90)
                text(p, (0, 0, r.height(), 24), words, "section", t.c("ink"), CENTRE)
                p.restore()
            tiles = self.board.tiles if self.board is not None else []
            boxes = [picture.box for *_, picture in tiles]
            for k in range(9):
                r = self.tile(k)
                p.fillRect(r, t.c("sheet"))
                if k < len(tiles):
                    p.save()
                    p.setClipRect(r)
                    fitted(p, _alike(tiles[k][2], boxes), r)
                    p.restore()
                sheet_edge(p, r)
                if k == self.hot or (self.hasFocus() and k == self.focus):
                    p.setPen(pen(t.c("plan"), 2.4 if k == self.hot else 1.4, None if k == self.hot else (3, 2)))
                    p.setBrush(Qt.BrushStyle.NoBrush)
                    p.drawRect(r)
            if not tiles:
                text(
                    p,
                    QRectF(self.rect()),
                    "Take a few parts first: then nine variants of them stand here.",
                    "instruct",
                    t.c("ink"),
                    CENTRE,
                )


def _alike(picture: Picture, boxes: list[tuple[float, float, float, float]]) -> Picture:
    """The picture in the largest of all boxes about its own middle, so that all are seen at one scale."""
    from dataclasses import replace

    w, h = max(b[2] for b in boxes), max(b[3] for b in boxes)
    x, y, ww, hh = picture.box
    return replace(picture, box=(x + ww / 2 - w / 2, y + hh / 2 - h / 2, w, h))


class BlackBoard(QWidget):
    """The silhouette large, small and as small as an icon; the part it is known by is lit."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName("Silhouette")
        self.made: Silhouette | None = None

    def show_silhouette(self, s: Silhouette | None) -> None:
        self.made = s
        self.setAccessibleDescription(s.sentence if s is not None else "")
        self.update()

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("board"))
            r = QRectF(12, 0, self.width() - 24, self.height() - 12)
            p.fillRect(r, t.c("sheet"))
            sheet_edge(p, r)
            if self.made is None:
                text(p, r, "Take a few parts first: then they stand here filled black.", "instruct", t.c("ink"), CENTRE)
                return
            picture = self.made.picture
            side = 176.0
            fitted(p, picture, r.adjusted(10, 40, -side, -20), 0.02)
            known = self.made.known
            if known is not None and known.shares:
                name, share = next(iter(known.shares.items()))
                words = f"known by its {name}, {share:.0%}".replace("%", " %")
                text(p, (r.left() + 20, r.top() + 8, r.width() - side - 40, 26), words, "section", t.c("look"), LEFT)
            y = r.top() + 40
            for words, px in SIZES[1:]:
                box = QRectF(r.right() - side + 20, y, side - 40, px)
                fitted(p, picture, box, 0.0)
                text(p, (box.left(), box.bottom() + 6, box.width(), 18), f"{words} px", "small", t.c("soft"), CENTRE)
                y += px + 60
            outline(p, t.c("rule"), 1)
            text(p, (r.right() - side + 20, r.bottom() - 30, side - 40, 20), "does it still read?", "small", t.c("soft"), RIGHT)
