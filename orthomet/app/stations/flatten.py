"""A photographed page made flat: its corners set by hand or found by the printed marks, the same at every station."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtGui import QImage

from ...core.imaging.rectify import convex
from ...core.project.model import Sheet
from .jobs import marks_of

A4 = (210.0, 297.0)
MARK_INSET = 5.0
"""The printed corner marks' tips lie this far inside the page, millimetres."""
Told = Callable[[str, bool], object]


def sheet_of(corners: tuple[tuple[float, float], ...], old: Sheet | None, say: Told) -> Sheet | None:
    """The page with these corners; ``None``, with a sentence told, when they cross."""
    if not convex(corners):
        say("The corners cross: set them top left, top right, bottom right, bottom left.", True)
        return None
    return Sheet(corners=corners, mm=old.mm if old else A4)


def look_for_marks(image: QImage) -> tuple[str, Callable[[Any], Sheet]]:
    """Words and job of finding the printed marks off the interface thread; an A4 page is taken until told otherwise."""
    mm = (A4[0] - 2 * MARK_INSET, A4[1] - 2 * MARK_INSET)
    return "Looking for corner marks…", lambda say: Sheet(corners=marks_of(image, say), mm=mm)
