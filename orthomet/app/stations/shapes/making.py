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
from ....core.shapes.contour import box_round, union_of
from ....core.shapes.drawn import black, box_of, final, laid_over, lifted, with_ticks
from ....core.shapes.known import KnownBy, known_by, mask_of
from ....core.shapes.language import Spoken, sentence, spoken
from ....core.shapes.model import Shapes, Variant, stem_of
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


def made(s: Shown, say: Say) -> Made:
    found = scene(s.shapes, dict(s.frames), s.style)
    sheet = final(found) if s.final else lifted(found, s.planned)
    if s.holds:
        sheet = with_ticks(sheet, found)
    return Made(s, found, sheet, laid_over(found))


# ---- the fits of one part


def fit_tiles(v: Seen) -> list[Tile]:
    """Ten plain shapes over one contour, the best first."""
    if v.fits is None:
        plain = [(k, v.shape if v.shape.kind == k else swapped(v.shape, v.shape.outline(), k)) for k in KINDS]
        return [_tile(k.replace("-", " "), k, _plain_items(s), s.outline()) for k, s in plain]
    return [
        _tile(
            f"{f.kind.replace('-', ' ')} {f.overlap:.0%}".replace("%", " %"),
            f.kind,
            _fit_items(v.contour, f.shape),
            np.vstack([v.contour, f.shape.outline()]),
        )
        for f in v.fits.fits
    ]


def _tile(words: str, kind: str, items: tuple[Trace, ...], around: Array) -> Tile:
    box = box_round(around, 0.12)
    return Tile(words, kind, lambda: Picture((Layer("shape", "Shape", items),), box), box)


def _fit_items(c: Array, s: Plain) -> tuple[Trace, ...]:
    o = s.outline()
    return Trace(o, Ink.SHAPE_PALE, True, True), Trace(c, Ink.GUIDE_KEY, True), Trace(o, Ink.CONTOUR, True)


def _plain_items(s: Plain) -> tuple[Trace, ...]:
    o = s.outline()
    return Trace(o, Ink.SHAPE_MID, True, True), Trace(o, Ink.CONTOUR, True)


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
    lit = {v.part.id for v in parts if top and stem_of(v.part.name) == top}
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
