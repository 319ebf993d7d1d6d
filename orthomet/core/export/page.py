"""A construction laid on a page at its true size in millimetres, with corner marks and a line that says what it is."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..errors import OrthometError, quoted
from ..names import named
from ..picture import Ink, Layer, Picture, Text, Trace, line, moved

PAPER = {"fit": None, "A5": (148.0, 210.0), "A4": (210.0, 297.0), "A3": (297.0, 420.0)}
"""Paper sizes in mm (ISO 216); "fit" cuts the page to the drawing."""
MARGIN = 12.0
MIN_HEAD, MAX_HEAD = 10.0, 2000.0
MARK = 6.0


def page(
    picture: Picture,
    head_mm: float = 120.0,
    paper: str = "fit",
    credit: str = "",
    pens_mm: float | None = None,
    plain: bool = False,
) -> Picture:
    """Lay a picture in head units on paper so that one head, crown to chin, measures ``head_mm``.

    Strokes are as wide as on a head of ``pens_mm`` (without it: of this one); with ``plain`` they are lines without widths.

    Raises
    ------
    OrthometError
        A head height outside 10–2000 mm, or a drawing that does not fit the paper.
    """
    if not (np.isfinite(head_mm) and MIN_HEAD <= head_mm <= MAX_HEAD):
        raise OrthometError(f"A head can print from {MIN_HEAD:g} to {MAX_HEAD:g} mm tall.")
    paper = named(paper, ((n, n) for n in PAPER)) or paper
    if paper not in PAPER:
        raise OrthometError(f"There is no paper {quoted(paper)}. Known: {', '.join(PAPER)}.")
    x, y, w, h = picture.box
    size = PAPER[paper]
    note_h = 12.0
    if size is None:
        size = (w * head_mm + 2 * MARGIN, h * head_mm + 2 * MARGIN + note_h)
    left, top = (size[0] - w * head_mm) / 2, (size[1] - note_h - h * head_mm) / 2
    if min(left, top) < 0:
        fits = min(size[0] / w, (size[1] - note_h) / h)
        raise OrthometError(f"A head of {head_mm:g} mm does not fit on {paper}; up to {int(fits)} mm does.")
    drawn = picture.centre_lines() if plain else picture
    placed = moved(drawn, head_mm, left - x * head_mm, top - y * head_mm, "mm", pens_mm)
    sides = " Left: school, right: plan." if any(ly.id == "plan-lines" for ly in picture.layers) else ""
    words = f"{picture.title}. Head {head_mm:.4g} mm, crown to chin.{sides}"
    y = size[1] - MARGIN + 3.5
    lines = [Text((MARGIN, y - (4.6 if credit else 0)), words, Ink.NOTE, 3.2)]
    if credit:
        most = int((size[0] - 2 * MARGIN) / 1.55)
        lines.append(Text((MARGIN, y), credit if len(credit) <= most else credit[: most - 1] + "…", Ink.NOTE, 3.2))
    marks = Layer("corner-marks", "Corner marks", tuple(_corner_marks(*size)))
    bar = _scale_bar(size[0] - MARGIN, y - 10.0)
    layers = (*placed.layers, marks, Layer("notes", "Notes", (*lines, *bar)))
    return replace(placed, layers=layers, box=(0.0, 0.0, *size), notes=(f"1 head = {head_mm:g} mm",))


def _corner_marks(w: float, h: float) -> list[Trace]:
    out = []
    for sx, sy in ((0, 0), (1, 0), (1, 1), (0, 1)):
        cx, cy = 5 + sx * (w - 10), 5 + sy * (h - 10)
        dx, dy = (1 - 2 * sx) * MARK, (1 - 2 * sy) * MARK
        out.append(line([(cx + dx, cy), (cx, cy), (cx, cy + dy)], Ink.MARK, "corner mark"))
    return out


def _scale_bar(right: float, y: float) -> list[Trace | Text]:
    bar = line([(right - 50, y - 1.5), (right - 50, y), (right, y), (right, y - 1.5)], Ink.MARK, "50 mm")
    return [bar, Text((right - 52, y), "50 mm", Ink.NOTE, 3.2, 1)]
