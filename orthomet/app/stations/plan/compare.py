"""All versions of one character side by side, and in words what sets each apart."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPaintEvent
from PySide6.QtWidgets import QWidget

from ....core.gauges.versions import differences
from ....core.head.line_up import Shown, line_up
from ....core.head.turnaround import STEP
from ....core.picture import Picture
from ....core.plan.plan import Plan
from ...looks import screen_looks
from ...render import paint
from ...stage.draw import sheet_edge
from ...theme.paint import CENTRE, painting, pen, text
from ...theme.tokens import theme

WORDS_HIGH = 132


class CompareBoard(QWidget):
    """The row of heads; a click on one opens that version."""

    chosen = Signal(str)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setAccessibleName("Versions side by side")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.ids: list[str] = []
        self.here = ""
        self.picture: Picture | None = None
        self.words: list[list[str]] = []

    def show_versions(self, rows: list[tuple[str, Shown, Plan]], here: str) -> None:
        """Id, head and plan of the character itself and of every version."""
        self.ids, self.here = [i for i, _, _ in rows], here
        self.picture = line_up([s for _, s, _ in rows]) if rows else None
        self.words = [differences(rows[0][2], plan) if k else ["as planned"] for k, (_, _, plan) in enumerate(rows)]
        self.setAccessibleDescription(
            "; ".join(f"{s.name}: {', '.join(w)}" for (_, s, _), w in zip(rows, self.words, strict=True))
        )
        self.update()

    def _room(self) -> tuple[QRectF, float]:
        """Where the row is drawn, and pixels a head."""
        r = QRectF(12, 0, self.width() - 24, self.height() - 12)
        assert self.picture is not None
        _, _, w, h = self.picture.box
        return r, min(r.width() / w, (r.height() - WORDS_HIGH) / h)

    def place(self, k: int) -> QRectF:
        r, px = self._room()
        assert self.picture is not None
        x, _, w, h = self.picture.box
        left = r.center().x() - w * px / 2 + (k * STEP - STEP / 2 - x) * px
        return QRectF(left, r.top() + (r.height() - WORDS_HIGH - h * px) / 2, STEP * px, h * px + WORDS_HIGH)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        for k, vid in enumerate(self.ids):
            if self.picture is not None and self.place(k).contains(e.position()):
                self.chosen.emit(vid)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("board"))
            if self.picture is None:
                return
            r, px = self._room()
            p.fillRect(r, t.c("sheet"))
            x, y, w, _ = self.picture.box
            p.save()
            p.translate(r.center().x() - (x + w / 2) * px, self.place(0).top() - y * px)
            paint(p, self.picture, px, screen_looks(t), 1.0)
            p.restore()
            for k, words in enumerate(self.words):
                place = self.place(k)
                at = place.bottom() - WORDS_HIGH + 10
                for n, line in enumerate(words):
                    text(
                        p,
                        (place.left() + 6, at + n * 24, place.width() - 12, 20),
                        line,
                        "small",
                        t.c("ink" if n or k else "soft"),
                        CENTRE,
                    )
                if self.ids[k] == self.here:
                    p.setPen(pen(t.c("plan"), 2.4))
                    p.drawLine(place.bottomLeft(), place.bottomRight())
            sheet_edge(p, r)
