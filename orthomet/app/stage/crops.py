"""Small pictures of a face: cut to the head where its landmarks are known, so that faces side by side are one size."""

from __future__ import annotations

from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage, QPainter

from ...core.landmarks.frame import head_box
from ...core.project.model import Marks
from ..theme.tokens import theme
from .draw import sheet_edge
from .pixels import draw_part

ABOVE, BELOW = 0.16, 0.14
"""Room over the crown and under the chin, in heads."""


def face_box(marks: Marks, size: tuple[int, int], ratio: float) -> QRectF:
    """Part of a picture to show in a frame of width / height ``ratio``: the head, or the whole picture."""
    head = head_box(marks.points, ABOVE, BELOW, ratio)
    if head is not None:
        return QRectF(*head)
    w, h = size
    grow = max(w / ratio / h, 1.0)
    return QRectF((w - max(w, h * ratio)) / 2, (h - h * grow) / 2, max(w, h * ratio), h * grow)


def paint_face(p: QPainter, r: QRectF, image: QImage | None, marks: Marks, size: tuple[int, int], device: float = 1.0) -> None:
    """A face in a frame, on a sheet's edge; blank while the picture is still being read."""
    p.fillRect(r, theme.t.c("ledge"))
    if image is not None and image.width() > 1:
        box = face_box(marks, size, r.width() / r.height())
        draw_part(p, image, box, r, r.height() * device / box.height())
    sheet_edge(p, r)
