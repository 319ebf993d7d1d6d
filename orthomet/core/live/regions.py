"""The parts of a drawing that are followed: what belongs together, how far about its landmarks it reaches."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import cv2
import numpy as np

from ..check.moves import BROW, EYE
from ..kinds import Array, there
from ..landmarks.schema import FRONT
from ..landmarks.views import FIGURE, PROFILE, SCHEMAS

UNDRAWN = frozenset({"glabella", "nasion", "sublabiale", "frontotemporale_l", "frontotemporale_r", "pronasale"})
"""Landmarks of the front that no line of a drawing marks: they move with their feature."""
BY_NOTHING = ("floor",)
"""Landmarks on bare paper: they go where the whole drawing goes."""
RIM_REACH, REACH = 0.05, 0.022
"""Heads about a landmark that belong to it: on the outline, on a feature (own; more takes the neighbours in and follows them)."""
FAR, LIMB_FAR = 0.095, 0.34
"""Heads a part is looked for about where it stood: a feature of a face, what hangs on a limb (own)."""
LIMBS = {
    "hand": ("stylion", "knuckle", "dactylion", "hand_outer", "hand_inner"), "elbow": ("radiale",), "knee": ("patella",),
    "foot": ("malleolus", "heel", "toe_tip", "foot_outer", "foot_inner"),
}  # fmt: skip
LIMB_REACH = {"hand": 0.13, "elbow": 0.20, "knee": 0.24, "foot": 0.12}
"""Heads about a limb's landmarks that belong to them: marks of joints lie inside, the lines about them (own)."""
HEAD, HEAD_REACH = ("vertex", "gnathion", "euryon_l", "euryon_r"), 0.15
"""A figure's head, with how far about its landmarks it reaches, heads (own)."""
SIDE_PARTS = {
    "mouth": (("stomion", "labiale_superius", "labiale_inferius", "sublabiale"), 0.05), "chin": (("pogonion", "gnathion"), 0.05),
    "ear": (("superaurale", "subaurale", "tragion"), 0.05), "eye": (("exocanthion",), 0.09), "brow": (("brow_peak",), 0.06),
}  # fmt: skip
"""Parts of a profile with how far about their landmarks they reach, heads (own)."""
ORDER = (("nose", "mouth"), ("brow_l", "eye_l"), ("brow_r", "eye_r"), ("eye_l", "mouth"), ("eye_r", "mouth"))
"""What stands above what on a face."""


@dataclass(frozen=True)
class Part:
    """Landmarks (their places in the schema) that are followed together. A ``rim`` part is one stretch of the outline."""

    name: str
    at: tuple[int, ...]
    reach: float
    rim: bool = False
    holds: bool = False
    """Whether it helps to say how the whole outline moved."""
    down: bool = False
    """Whether its point lies on the face's middle line, or else beside it: along what axis it slides where its line does not say."""
    ear: bool = False
    free: bool = False
    """One point by itself, followed both ways: what an unknown view is made of."""
    far: float = FAR
    """Heads it is looked for about where it stood."""


@lru_cache(maxsize=8)
def parts_of(view: str) -> tuple[Part, ...]:
    """The parts of a view's drawing. What belongs to no part of another view than the front is followed point by point."""
    schema = SCHEMAS[view]
    if view != "front":
        parts = _figure() if view == "figure" else _profile() if view == "profile" else []
        taken = {k for p in parts for k in p.at} | {schema.index[n] for n in BY_NOTHING if n in schema.index}
        rest = (Part(n, (k,), RIM_REACH, rim=True, holds=True, free=True) for k, n in enumerate(schema.names) if k not in taken)
        return (*parts, *rest)
    ix = FRONT.index
    out = []
    for s in "lr":
        out.append(Part(f"eye_{s}", tuple(ix[f"{n}_{s}"] for n in EYE), REACH))
        out.append(Part(f"brow_{s}", tuple(ix[f"{n}_{s}"] for n in BROW), 0.016))
        out.append(Part(f"ear_{s}", tuple(ix[f"{n}_{s}"] for n in ("superaurale", "subaurale")), REACH, ear=True))
    out.append(Part("nose", tuple(ix[n] for n in ("subnasale", "alare_l", "alare_r", "pronasale", "nasion")), REACH))
    mouth = ("stomion", "cheilion_l", "cheilion_r", "labiale_superius", "labiale_inferius", "sublabiale")
    out.append(Part("mouth", tuple(ix[n] for n in mouth), 0.02))
    out.append(Part("crown", (ix["vertex"],), RIM_REACH, rim=True, holds=True, down=True))
    out.append(Part("hairline", (ix["trichion"],), RIM_REACH, rim=True, down=True))
    out.append(Part("chin", (ix["gnathion"],), 0.03, rim=True, holds=True, down=True))
    for n in ("chin_side", "euryon", "zygion", "gonion", "neck_side"):
        for s in "lr":
            reach = 0.03 if n == "chin_side" else RIM_REACH
            out.append(Part(f"{n}_{s}", (ix[f"{n}_{s}"],), reach, rim=True, holds=n != "neck_side"))
    return tuple(out)


def _figure() -> list[Part]:
    """Head, hands, feet, elbows and knees as parts; the trunk is followed point by point."""
    ix = FIGURE.index
    limbs = [
        Part(f"{g}_{s}", tuple(ix[f"{n}_{s}"] for n in names), LIMB_REACH[g], far=LIMB_FAR)
        for g, names in LIMBS.items()
        for s in "lr"
    ]
    return [Part("head", tuple(ix[n] for n in HEAD), HEAD_REACH, far=LIMB_FAR), *limbs]


def _profile() -> list[Part]:
    """Mouth, chin, ear, eye and brow as parts; nose, skull and neck are followed point by point."""
    return [Part(g, tuple(PROFILE.index[n] for n in names), reach) for g, (names, reach) in SIDE_PARTS.items()]


@lru_cache(maxsize=8)
def undrawn(view: str) -> frozenset[int]:
    """Landmarks no line marks, by their place in the schema."""
    return frozenset(k for k, n in enumerate(SCHEMAS[view].names) if view == "front" and n in UNDRAWN)


@lru_cache(maxsize=8)
def loose(view: str) -> tuple[int, ...]:
    """Landmarks that belong to no part: they go where the whole goes."""
    taken = {k for p in parts_of(view) for k in p.at}
    return tuple(k for k in range(len(SCHEMAS[view].names)) if k not in taken)


def mask(shape: tuple[int, ...], points: Array, grown: float) -> Array:
    """A filled hull of points ``(n, 2)``, grown by so many pixels: uint8, 255 inside."""
    out = np.zeros(shape[:2], np.uint8)
    p = points[there(points)]
    if len(p):
        hull = cv2.convexHull(np.round(p).astype(np.int32))
        cv2.fillConvexPoly(out, hull, 255)
        cv2.polylines(out, [hull], True, 255, max(1, int(2 * grown)))
        if len(p) == 1:
            cv2.circle(out, (round(float(p[0, 0])), round(float(p[0, 1]))), max(2, int(grown)), 255, -1)
    return out


def box(points: Array, pad: float, shape: tuple[int, ...]) -> tuple[int, int, int, int]:
    """Left, top, right, bottom of points grown by ``pad``, inside a picture of that shape."""
    p = points[there(points)]
    x0, y0 = np.clip(np.floor(p.min(0) - pad), 0, [shape[1], shape[0]]).astype(int)
    x1, y1 = np.clip(np.ceil(p.max(0) + pad), 0, [shape[1], shape[0]]).astype(int)
    return int(x0), int(y0), int(x1), int(y1)
