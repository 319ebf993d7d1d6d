"""The whole set of a character's drawings as small multiples; a dot is a drawing, a click opens it."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QMouseEvent, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QScrollArea, QWidget

from ....core.check.drawn_set import SETS
from ....core.check.drift import Drawn, TraitDrift, when
from ....core.check.drift_chart import CELL_H, CELL_W, GAP, HEAD, chart, places
from ....core.picture import Picture
from ...looks import chart_looks
from ...render import paint
from ...stage.empty import empty_words
from ...theme.paint import painting
from ...theme.tokens import theme

ROOM = 16.0
NEAR = 9.0
LEAST_SCALE = 3.4
"""Pixels a millimetre below which fewer charts go in a row (own)."""


class DriftChart(QWidget):
    opened = Signal(str)
    """The drawing of a dot that was clicked, by its id."""

    def __init__(self) -> None:
        super().__init__()
        self.rows: tuple[TraitDrift, ...] = ()
        self.drawn: tuple[Drawn, ...] = ()
        self.view = "front"
        self.waiting = False
        self.across = 3
        self._picture: Picture | None = None
        self.setMouseTracking(True)
        self.setAccessibleName("Drift over the drawings of this character")

    def show_set(self, drawn: tuple[Drawn, ...], rows: tuple[TraitDrift, ...], view: str) -> None:
        """Traits over drawings of a view; the same again costs nothing."""
        if rows is self.rows and view == self.view and not self.waiting:
            return
        self.rows, self.drawn, self.view, self.waiting = rows, drawn, view, False
        self._lay()

    def wait_for(self, view: str) -> None:
        """Another set comes: nothing is shown until it is there."""
        self.rows, self.drawn, self.view, self.waiting = (), (), view, True
        self._lay()

    def _lay(self) -> None:
        self.across = max(1, int((self.width() - 2 * ROOM) / (LEAST_SCALE * (CELL_W + GAP))))
        self._picture = chart(self.rows, self.drawn, self.across) if self.rows else None
        self.setMinimumHeight(int(self._picture.box[3] * self.scale + 2 * ROOM) if self._picture else 200)
        self.update()

    @property
    def scale(self) -> float:
        return (self.width() - 2 * ROOM) / (self.across * (CELL_W + GAP) - GAP)

    def resizeEvent(self, e: QResizeEvent) -> None:
        self._lay()

    def sizeHint(self) -> QSize:
        return QSize(700, self.minimumHeight())

    def dots(self) -> list[tuple[QPointF, int, int]]:
        """Every dot on the widget, with its trait and its drawing."""
        if not self.rows:
            return []
        x = when(self.drawn)
        span = float(np.ptp(x))
        t = (x - x.min()) / span if span else np.linspace(0, 1, max(len(x), 2))[: len(x)]
        out = []
        for k, row in enumerate(self.rows):
            at = np.array([(k % self.across) * (CELL_W + GAP), (k // self.across) * (HEAD + CELL_H + GAP)])
            for i, (px, py) in enumerate(places(row, t, at)):
                if np.isfinite(px + py):
                    out.append((QPointF(ROOM + px * self.scale, ROOM + py * self.scale), k, i))
        return out

    def _at(self, q: QPointF) -> tuple[int, int] | None:
        best = min(self.dots(), key=lambda d: (d[0] - q).manhattanLength(), default=None)
        return best[1:] if best is not None and (best[0] - q).manhattanLength() < NEAR else None

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        hit = self._at(e.position())
        self.setCursor(Qt.CursorShape.PointingHandCursor if hit else Qt.CursorShape.ArrowCursor)
        if hit is None:
            self.setToolTip("")
            return
        row, d = self.rows[hit[0]], self.drawn[hit[1]]
        day = f", {d.made[:10]}" if d.made else ""
        self.setToolTip(f"{d.name}{day}: {row.values[hit[1]]:.3g}, planned {row.plan:.3g} ± {row.band:.2g}\nClick to open it")

    def mousePressEvent(self, e: QMouseEvent) -> None:
        hit = self._at(e.position())
        if hit is not None:
            self.opened.emit(self.drawn[hit[1]].id)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            p.fillRect(self.rect(), theme.t.c("sheet"))
            if self.waiting:
                return
            if self._picture is None:
                lines = [
                    f"Two {SETS[self.view]} of this character with their points placed,",
                    "and you see here what strays from one to the next.",
                ]
                empty_words(p, QRectF(self.rect()), "No set yet", lines)
                return
            p.translate(ROOM, ROOM)
            paint(p, self._picture, self.scale, chart_looks(theme.t), 1.0)


class DriftView(QScrollArea):
    def __init__(self) -> None:
        super().__init__()
        self.chart = DriftChart()
        self.setWidgetResizable(True)
        self.setFrameShape(QScrollArea.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWidget(self.chart)
