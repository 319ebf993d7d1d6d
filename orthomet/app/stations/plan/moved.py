"""The reference's picture moved to the plan, behind a wipe."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QImage, QPainter, QTransform

from ....core.errors import OrthometError
from ....core.kinds import Array
from ....core.landmarks.schema import FRONT
from ....core.project.model import Reference
from ...stage.draw import cased, chip
from ...stage.pixels import moved_image, reduced
from ...theme.paint import LEFT, RIGHT
from ...theme.tokens import ON_PICTURE_POINT

LIVE_STEP = 8
"""Pixels between the places the motion is worked out at while it is only looked at."""
GRIP = 9


class MovedPicture:
    """Whether it shows, where its wipe stands, and the last picture that was moved."""

    def __init__(self) -> None:
        self.on, self.wipe, self.wiping = False, 0.5, False
        """``wipe`` is a share of the pane's width."""
        self._kept: tuple[object, QImage] | None = None

    def wipe_x(self, pane: QRectF) -> float:
        return pane.left() + self.wipe * pane.width()

    def on_wipe(self, pane: QRectF, q: QPointF) -> bool:
        return self.on and pane.contains(q) and abs(q.x() - self.wipe_x(pane)) < GRIP

    def drag(self, pane: QRectF, q: QPointF) -> None:
        self.wipe = max(0.0, min(1.0, (q.x() - pane.left()) / pane.width()))

    def at_plan(self, image: QImage, reference: Reference, places: Array, scale: float) -> tuple[QImage, float] | None:
        """The reference moved to ``places``, at about the size it shows, and how many picture pixels one of its own is."""
        small, _ = reduced(image, scale)
        factor = image.width() / small.width()
        key = (small.cacheKey(), np.round(places, 3).tobytes(), reference.marks)
        if self._kept is None or self._kept[0] != key:
            source = reference.marks.landmarks().array(FRONT)
            try:
                self._kept = (key, moved_image(small, places, source, LIVE_STEP, factor))
            except OrthometError:
                return None
        return self._kept[1], factor

    def paint(
        self, p: QPainter, pane: QRectF, frame: QTransform, image: QImage, reference: Reference, places: Array, ratio: float
    ) -> None:
        """``frame`` takes picture pixels to the pane; ``places`` is where the plan puts each landmark, picture pixels."""
        found = self.at_plan(image, reference, places, max(abs(frame.m11()), abs(frame.m12())) * ratio)
        if found is None:
            return
        moved, factor = found
        x = self.wipe_x(pane)
        p.save()
        p.setClipRect(QRectF(x, pane.top(), pane.right() - x, pane.height()))
        p.setTransform(frame, True)
        p.scale(factor, factor)
        p.drawImage(0, 0, moved)
        p.restore()
        cased(p, [(QPointF(x, pane.top()), QPointF(x, pane.bottom()))], ON_PICTURE_POINT, 1.6)
        chip(p, x - 10, pane.bottom() - 18, "as it is", align=RIGHT)
        chip(p, x + 10, pane.bottom() - 18, "as planned", align=LEFT)
