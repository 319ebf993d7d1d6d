"""The picture description: what a drawing consists of, without a toolkit.

A picture is layers of paths and words in its own unit (head units for a construction, millimetres for a page). Each
item says what it *is* by its role; how a role looks is the renderer's table, so screen, SVG, PNG and PDF agree.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import TYPE_CHECKING

import numpy as np

from .kinds import Array

if TYPE_CHECKING:
    from .shapes.plain import Plain


class Ink(StrEnum):
    CONTOUR = "contour"  # the outline, thickest
    FEATURE = "feature"  # lids, mouth line, nose
    DETAIL = "detail"  # creases, inner ear, lip edges
    TONE = "tone"  # a light fill: brow, iris
    DARK = "dark"  # a fill as heavy as a line: brow, lid
    PUPIL = "pupil"  # dark by day and by night
    LIGHT = "light"  # paper left free: a highlight in the eye
    SHADE = "shade"  # a shape that lies in shadow
    GUIDE = "guide"  # a school's construction line
    GUIDE_KEY = "guide-key"  # the school's first shapes
    AXIS = "axis"  # a centre line, a plumb line
    TILT = "tilt"  # a line across a body: shoulders, hips, floor
    HIDDEN = "hidden"  # a line on the far side
    SKULL = "skull"  # the skull under the hair
    HAIR = "hair"  # tones: the mass of the hair
    INSIDE = "inside"  # where one looks into it
    SKIN = "skin"
    WEAR = "wear"  # a cap, a band
    SUIT = "suit"  # the plain suit a figure wears
    PLAN_LINE = "plan-line"  # where the plan itself puts a line
    SEEN = "seen"  # a shape's outline as it was seen
    SEEN_PALE = "seen-pale"  # fills of shapes as they were seen
    SEEN_MID = "seen-mid"
    SEEN_DEEP = "seen-deep"
    SHAPE_PALE = "shape-pale"  # fills of planned shapes
    SHAPE_MID = "shape-mid"
    SHAPE_DEEP = "shape-deep"
    BLACK = "black"  # a silhouette
    LIT = "lit"  # what of it is pointed out
    REDLINE = "redline"  # where a checked drawing should be
    REDLINE_DEEP = "redline-deep"  # arrows and words on it
    REDLINE_GROUND = "redline-ground"  # paper behind its words
    HALO = "halo"  # paper about an arrow
    NOTE = "note"  # words
    MARK = "mark"  # corner marks, scale bar


@dataclass(frozen=True)
class Trace:
    """A polyline, or a filled shape. ``points`` has shape ``(n, 2)``."""

    points: Array
    role: Ink
    closed: bool = False
    filled: bool = False
    name: str = ""
    widths: Array | None = None
    """Full width of an inked stroke at every point, in the picture's unit; ``None``: a pen of the role's own width."""
    holes: tuple[Array, ...] = ()
    """What a filled shape leaves out, closed too (even–odd)."""
    plain: Plain | None = None
    """The plain shape the path is, for writers that can say so."""


@dataclass(frozen=True)
class Text:
    """Words at a point; ``align`` is −1 (starts here), 0 (centred) or 1 (ends here); ``size`` in the picture's unit."""

    at: tuple[float, float]
    words: str
    role: Ink = Ink.NOTE
    size: float = 0.028
    align: int = -1


@dataclass(frozen=True)
class Layer:
    id: str
    title: str
    items: tuple[Trace | Text, ...]
    visible: bool = True


@dataclass(frozen=True)
class Picture:
    """Layers over a ``box`` (x, y, width, height) in one ``unit``."""

    layers: tuple[Layer, ...]
    box: tuple[float, float, float, float]
    title: str = ""
    unit: str = "head"
    notes: tuple[str, ...] = field(default_factory=tuple)
    tints: tuple[tuple[Ink, str], ...] = ()
    """Fills of roles instead of the renderer's own: #rrggbb."""

    def layer(self, name: str) -> Layer:
        return next(ly for ly in self.layers if ly.id == name)

    def without(self, *ids: str) -> Picture:
        return replace(self, layers=tuple(ly for ly in self.layers if ly.id not in ids))

    def wordless(self) -> Picture:
        """Its lines alone."""
        layers = (replace(ly, items=tuple(i for i in ly.items if isinstance(i, Trace))) for ly in self.layers)
        return replace(self, layers=tuple(layers))

    def centre_lines(self) -> Picture:
        """The same as plain pen strokes, to be plotted or inked over: shapes as their outlines, tones left out."""
        layers = (replace(ly, items=tuple(k for i in ly.items if (k := _plain(i)) is not None)) for ly in self.layers)
        return replace(self, layers=tuple(layers))

    def paths(self) -> list[Trace]:
        return [i for ly in self.layers for i in ly.items if isinstance(i, Trace)]


def _plain(item: Trace | Text) -> Trace | Text | None:
    if isinstance(item, Text):
        return item
    if item.filled:
        return replace(item, role=Ink.DETAIL, filled=False) if item.role in (Ink.DARK, Ink.PUPIL, Ink.TONE) else None
    return replace(item, widths=None)


def moved(picture: Picture, scale: float, dx: float, dy: float, unit: str | None = None, pens: float | None = None) -> Picture:
    """The same picture scaled and then shifted; the widths of its strokes by ``pens``, or as all the rest."""

    def item(i: Trace | Text) -> Trace | Text:
        if isinstance(i, Trace):
            wide = None if i.widths is None else i.widths * (scale if pens is None else pens)
            plain = None if i.plain is None else i.plain.placed(scale)
            scaled = replace(i, points=i.points * scale, widths=wide, holes=tuple(h * scale for h in i.holes), plain=plain)
            return shifted(scaled, np.array([dx, dy]))
        return replace(i, at=(i.at[0] * scale + dx, i.at[1] * scale + dy), size=i.size * scale)

    layers = tuple(replace(ly, items=tuple(item(i) for i in ly.items)) for ly in picture.layers)
    x, y, w, h = picture.box
    return replace(picture, layers=layers, box=(x * scale + dx, y * scale + dy, w * scale, h * scale), unit=unit or picture.unit)


def shifted(t: Trace, by: Array, name: str | None = None) -> Trace:
    """The same path elsewhere."""
    plain = None if t.plain is None else t.plain.placed(1.0, by)
    return replace(
        t, points=t.points + by, holes=tuple(h + by for h in t.holes), name=t.name if name is None else name, plain=plain
    )


def line(points: object, role: Ink, name: str = "", closed: bool = False, filled: bool = False) -> Trace:
    return Trace(np.asarray(points, float), role, closed, filled, name)
