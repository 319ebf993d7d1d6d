"""What the Shapes station has made elsewhere: the scene, its pictures, the board of variants, the silhouette and what is told of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np

from ....core.figure.silhouette import standing
from ....core.kinds import Array
from ....core.landmarks.frame import Frame
from ....core.picture import Ink, Layer, Picture, Trace
from ....core.shapes.contour import union_of
from ....core.shapes.drawn import black, box_of, final, laid_over, lifted, said, with_ticks
from ....core.shapes.known import KnownBy, known_by, mask_of
from ....core.shapes.language import Spoken, sentence, spoken
from ....core.shapes.model import Shapes, Variant
from ....core.shapes.plain import KINDS, Plain
from ....core.shapes.readings import Bump, bumps, read
from ....core.shapes.scene import Scene, scene
from ....core.shapes.seen import Seen, swapped
from ....core.shapes.traits import StyleShapes
from ....core.shapes.variants import board
from ...work import Say
from ..tile_strip import Tile

Frames = tuple[tuple[str, Frame], ...]
HEAD_ROLES = ("head", "hair", "bun", "eye", "brow", "nose", "mouth", "ear")


@dataclass(frozen=True)
class Shown:
    """What the stage's pictures follow from."""

    shapes: Shapes
    frames: Frames
    planned: bool
    """As it is planned, or as it was seen."""
    holds: bool
    """With what holds."""
    final: bool
    """Final lines alone."""
    style: StyleShapes | None = None


@dataclass(frozen=True, eq=False)
class Made:
    key: Shown
    scene: Scene
    sheet: Picture
    over: Picture
    words: str


def made(s: Shown, say: Say) -> Made:
    found = scene(s.shapes, dict(s.frames), s.style)
    sheet = final(found) if s.final else lifted(found, s.planned)
    if s.holds:
        sheet = with_ticks(sheet, found)
    return Made(s, found, sheet, laid_over(found), said(found))


# ---- the fits of one part


def fit_tiles(v: Seen) -> list[Tile]:
    """Ten plain shapes over one contour, the best first."""
    if v.fits is None:
        return [
            Tile(k.name.replace("-", " "), k.name, partial(_plain_picture, v, k.name), _box(v.contour)) for k in KINDS.values()
        ]
    return [
        Tile(
            f"{f.kind.replace('-', ' ')} {f.overlap:.0%}".replace("%", " %"),
            f.kind,
            partial(_fit_picture, v.contour, f.shape),
            _box(v.contour),
        )
        for f in v.fits.fits
    ]


def _box(c: Array) -> tuple[float, float, float, float]:
    low, high = c.min(0), c.max(0)
    room = 0.12 * float((high - low).max())
    return float(low[0] - room), float(low[1] - room), float((high - low)[0] + 2 * room), float((high - low)[1] + 2 * room)


def _fit_picture(c: Array, s: Plain) -> Picture:
    items = (Trace(s.outline(), Ink.SHAPE_PALE, True, True), Trace(c, Ink.GUIDE_KEY, True), Trace(s.outline(), Ink.CONTOUR, True))
    return Picture((Layer("fit", "Fit", items),), _box(c))


def _plain_picture(v: Seen, kind: str) -> Picture:
    s = v.shape if v.shape.kind == kind else swapped(v.shape, v.shape.outline(), kind)
    o = s.outline()
    return Picture(
        (Layer("shape", "Shape", (Trace(o, Ink.SHAPE_MID, True, True), Trace(o, Ink.CONTOUR, True))),), _box(v.contour)
    )


def variant_tiles(kept: tuple[Variant, ...], frames: Frames) -> list[Tile]:
    out = []
    for v in kept:
        s = scene(Shapes(parts=v.parts, relations=v.relations), dict(frames))
        out.append(Tile(v.name, v, partial(lifted, s), box_of(s)))
    return out


# ---- the board


@dataclass(frozen=True, eq=False)
class Board:
    key: object
    tiles: list[tuple[str, Shapes, Picture]]


def boarded(key: object, shapes: Shapes, frames: Frames, style: StyleShapes | None, say: Say) -> Board:
    out = []
    for words, s in board(shapes):
        if not say(""):
            break
        out.append((words, s, lifted(scene(s, dict(frames), style))))
    return Board(key, out)


# ---- filled black


@dataclass(frozen=True)
class Other:
    """Somebody else of the cast: shapes of their own, or a plain standing figure of their height and age."""

    name: str
    shapes: Shapes
    frames: Frames
    height_m: float
    age: float


@dataclass(frozen=True, eq=False)
class Silhouette:
    key: object
    picture: Picture
    readings: Mapping[str, float]
    bumps: list[Bump]
    spoken: Spoken
    sentence: str
    known: KnownBy | None
    alone: bool


def head_ids(s: Scene) -> set[str]:
    """Parts of the head: by their role, or by hanging on one."""
    ids = {v.part.id for v in s.parts if v.part.role in HEAD_ROLES}
    for _ in range(4):
        ids |= {v.part.id for v in s.parts if v.part.on in ids}
    return ids


def silhouetted(key: object, s: Scene, others: tuple[Other, ...], alone: bool, say: Say) -> Silhouette | None:
    only = head_ids(s) if alone else {v.part.id for v in s.parts}
    parts = [v for v in s.parts if v.part.id in only]
    if not parts:
        return None
    outlines = {v.part.name: v.outline for v in parts}
    masks = {}
    for o in others:
        if not say(""):
            return None
        m = _mask(o, alone)
        if m is not None:
            masks[o.name] = m
    known = known_by(outlines, masks) if len(parts) > 1 else None
    top = next(iter(known.shares), "") if known is not None else ""
    lit = {v.part.id for v in parts if top and v.part.name.split(",")[0].rstrip(" 0123456789") == top}
    whole = union_of(list(outlines.values()))
    told = spoken([(v.part.name, v.body, v.outline) for v in parts])
    return Silhouette(key, black(s, lit, only), read(whole), bumps(whole), told, sentence(told), known, alone)


def _mask(o: Other, alone: bool) -> Array | None:
    if o.shapes.parts:
        s = scene(o.shapes, dict(o.frames))
        ids = head_ids(s) if alone else {v.part.id for v in s.parts}
        outlines = [v.outline for v in s.parts if v.part.id in ids]
        return mask_of(outlines) if outlines else None
    body = standing(o.height_m, o.age) * [1, -1]
    if not alone:
        return mask_of([body])
    tall = float(np.ptp(body[:, 1]))
    y = body[:, 1].min()
    head = body[body[:, 1] < y + 0.13 * tall]
    return mask_of([head]) if len(head) > 6 else None
