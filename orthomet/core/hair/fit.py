"""Which hairstyle a portrait wears: the hair on the picture as a mask, and the style whose drawing covers it best.

Front views. The picture is laid into the head's own frame; hair is told from skin and ground by colour (GrabCut), begun from
what surely is each. Styles are drawn on this head as the picture shows it and compared by overlap. The mask decides shape and
lengths; lift, volume and parting are then set by what was measured.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import cv2
import numpy as np

from ..features.table import feature
from ..head.neck import neck_of
from ..head.solid import Solid, solid
from ..ink.shape import Shape
from ..ink.surface import CELLS, Stuff, Surface
from ..ink.view import LEFT, TALL, TOP, WIDE, View, buffered
from ..kinds import Array
from ..landmarks.frame import Frame
from ..landmarks.turn import Turn
from ..proportions.norms import norm
from ..proportions.registry import Role, front_registry
from .dressed import dressed
from .style import Big, style_of

ROUNDS = 5
"""Of GrabCut: it has settled by then."""
BAND = 0.045
"""Heads over the hairline that surely are hair."""
LOWEST = 0.62
"""How far under the head's centre a picture is asked, heads: below lie clothes."""
LEAST = 0.02
"""Less hair than this, square heads, is none to fit."""
TRIED: dict[str, tuple[float, ...]] = {
    "fringe": (0.0, 0.35, 0.7, 1.0),
    "sides": (0.0, 0.3, 0.6, 0.9, 1.2, 1.6, 2.0),
    "back": (0.1, 0.5, 1.0, 1.6, 2.2),
}
"""Lengths tried on the style that fits best."""
UNSEEN = 0.06
"""What a style must be better by whose tie lies out of sight behind the head."""
Say = Callable[[str], bool]


@dataclass(frozen=True)
class Fitted:
    style: str
    values: dict[str, float]
    overlap: float
    """Shared area of the picture's hair and the drawn hair, of the area of both together."""


@dataclass(frozen=True)
class Mask:
    """Over the cells of the ink's buffer ``(TALL, WIDE)``: where hair is, and where the picture tells."""

    hair: Array
    asked: Array

    def overlap(self, drawn: Array) -> float:
        """Area shared with another mask, of the area of both together, where the picture tells."""
        return float((self.hair & drawn & self.asked).sum() / max(((self.hair | drawn) & self.asked).sum(), 1))


ALIKE = 16.0
"""How far a forehead's colour may be from the cheeks' to be skin, CIELAB (own): under a fringe it is not."""


def hair_mask(rgb: Array, frame: Frame, table: Mapping[str, float]) -> Mask:
    """Where hair is on a picture, in the head's own frame; nothing where none is found.

    ``rgb`` is the picture, ``frame`` the face's on it, ``table`` its readings.
    """
    y, x = np.mgrid[0:TALL, 0:WIDE]
    heads = np.stack([LEFT + (x + 0.5) / CELLS, TOP + (y + 0.5) / CELLS + 0.5], -1)
    at = frame.to_picture(heads.reshape(-1, 2)).astype(np.float32).reshape(TALL, WIDE, 2)
    laid = cv2.remap(np.ascontiguousarray(rgb), at[..., 0], at[..., 1], cv2.INTER_AREA, borderMode=cv2.BORDER_REPLICATE)
    within = (at[..., 0] >= 0) & (at[..., 0] < rgb.shape[1]) & (at[..., 1] >= 0) & (at[..., 1] < rgb.shape[0])
    within &= heads[..., 1] - 0.5 < LOWEST
    hx, t = heads[..., 0], heads[..., 1]
    seeds = np.full((TALL, WIDE), cv2.GC_PR_BGD, np.uint8)
    half = table["face_width_hh"] / 2
    line, brow, mouth = table["hairline_station"], table["brow_station"], table["mouth_station"]
    seeds[(np.abs(hx) < 0.42) & (t < line + 0.10) & (t > -0.10)] = cv2.GC_PR_FGD
    seeds[(np.abs(hx) < 0.20) & (t < line - 0.01) & (t > max(line - BAND - 0.01, 0.03))] = cv2.GC_FGD
    face = (np.abs(hx) < 0.55 * half) & (t > brow + 0.04) & (t < mouth + 0.06)
    seeds[face] = cv2.GC_BGD
    seeds[(np.abs(hx) > 0.95) | (t < -0.32)] = cv2.GC_BGD
    forehead = (np.abs(hx) < 0.20) & (t > line + 0.045) & (t < brow - 0.035)
    if forehead.any() and face.any():
        lab = cv2.cvtColor(laid.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
        if float(np.linalg.norm(np.median(lab[forehead], 0) - np.median(lab[face], 0))) < ALIKE:
            seeds[(np.abs(hx) < 0.55 * half) & (t > line + 0.045) & (t < brow)] = cv2.GC_BGD
    seeds[~within] = cv2.GC_BGD
    none = Mask(np.zeros((TALL, WIDE), bool), within)
    if not (seeds == cv2.GC_FGD).any():
        return none
    models = np.zeros((1, 65)), np.zeros((1, 65))
    try:
        cv2.grabCut(np.ascontiguousarray(laid[..., ::-1]), seeds, None, *models, ROUNDS, cv2.GC_INIT_WITH_MASK)  # type: ignore[call-overload]
    except cv2.error:  # a picture of one colour has nothing to tell
        return none
    found = ((seeds == cv2.GC_FGD) | (seeds == cv2.GC_PR_FGD)).astype(np.uint8)
    _, pieces = cv2.connectedComponents(cv2.morphologyEx(found, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8)))
    sizes = np.bincount(pieces.ravel())
    sizes[0] = 0
    return Mask((pieces == sizes.argmax()) & within & bool(sizes.max()), within)


def drawn_mask(head: Solid, values: Mapping[str, float], turn: Turn) -> Array:
    """Where the hair of these values is seen on a head at a turn, over the same cells."""
    hair = dressed(head, style_of({**feature("hair").defaults(), **values}))
    if hair is None:
        return np.zeros((TALL, WIDE), bool)
    shape = Shape((_plain(head), neck_of(head).surface, *hair.surfaces))
    return np.asarray(shape.stuff_of_label[buffered(shape, View(turn)).label] == Stuff.HAIR)


def _plain(head: Solid) -> Surface:
    points, normals = head.grid
    return Surface("head", points, normals, Stuff.SKIN, True, contour=False)


def fitted(mask: Mask, head: Solid, measured: Mapping[str, float], turn: Turn, say: Say = lambda _: True) -> Fitted | None:
    """The closest style and its parameters; ``None`` where the picture shows no hair, or nobody waits any more.

    ``measured`` are readings of the picture: hair's height and width and the parting, where they were marked.
    """
    if mask.hair.sum() < LEAST * CELLS**2:
        return None
    best: Fitted | None = None
    for v in feature("hair").variants:
        if not say(f"Trying on {v.name}…"):
            return None
        if v.set.get("kind", 0) == 0 or v.set.get("wear", 0):
            continue
        values = sized({**v.set}, measured)
        share = mask.overlap(drawn_mask(head, values, turn)) - UNSEEN * (round(values["kind"]) == Big.TIED)
        if best is None or share > best.overlap:
            best = Fitted(v.name, values, share)
    if best is None:
        return None
    for key, steps in TRIED.items():
        if round(best.values["kind"]) != Big.LOOSE:
            break
        for step in steps:
            if not say("Fitting the lengths…"):
                return None
            values = {**best.values, key: step}
            share = mask.overlap(drawn_mask(head, values, turn))
            if share > best.overlap + 0.004:
                best = Fitted(best.style, values, share)
    return best


CROWN_RADIUS = 0.33
"""From the head's axis to the parting, in heads (own, about half the skull's width)."""


def sized(values: dict[str, float], measured: Mapping[str, float]) -> dict[str, float]:
    """A style's values with lift, volume and parting as they were measured."""
    wished: dict[str, float] = {}
    if "hair_height_hh" in measured:
        wished["lift"] = measured["hair_height_hh"]
    if "hair_width_hw" in measured and "head_width_hh" in measured:
        wished["volume"] = max(measured["hair_width_hw"] - 1, 0) * measured["head_width_hh"] / 2
    if "parting_offset_hw" in measured and "head_width_hh" in measured and round(values.get("kind", 0)) in (1, 2):
        across = measured["parting_offset_hw"] * measured["head_width_hh"] / CROWN_RADIUS
        wished |= {"parted": 1.0, "parting": float(np.arcsin(np.clip(across, -1, 1)))}
    out = dict(values)
    for key, v in wished.items():
        p = feature("hair").parameter(key)
        assert p is not None
        out[key] = round(min(max(v, p.low), p.high), 4)
    return out


def traits(measured: Mapping[str, float]) -> dict[str, float]:
    """What a head is built by: as measured, and as the norm is where nothing was."""
    reg, n = front_registry(), norm()
    usual = {r.key: float(n.mean[reg.index[r.key]]) for r in reg.of_role(Role.INDEPENDENT)}
    return {k: measured[k] if np.isfinite(measured.get(k, np.nan)) else v for k, v in usual.items()}


def hair_of_picture(rgb: Array, frame: Frame | None, measured: Mapping[str, float], turn: Turn, say: Say) -> Fitted | None:
    """The hair of a portrait: ``measured`` are its readings, ``frame`` its face's on the picture."""
    if frame is None or not say("Looking for the hair…"):
        return None
    table = traits(measured)
    return fitted(hair_mask(rgb, frame, table), solid(table), measured, turn, say)
