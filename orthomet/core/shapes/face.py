"""The shapes of a marked face: its head's outline as its widths make it and its features' outlines, read as shapes; two faces compared by them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..head.outline import half_width
from ..kinds import Array, Kind, forward
from ..landmarks.frame import frame_of
from ..landmarks.points import Landmarks
from ..landmarks.schema import FRONT
from .contour import angularity, area, roundness
from .head_class import by_widths, from_half_widths
from .push import reduced
from .sources import face_contours
from .traits import ShapeRow, StyleShapes

NEEDED = ("eye_station", "nose_base_station", "mouth_station", "head_width_hh", "face_width_hh", "jaw_width_fw", "chin_width_fw")
TRAITS: Mapping[str, Kind] = {"size": Kind.SIZE, "aspect": Kind.SIZE, "taper": Kind.SIGNED, "roundness": Kind.STATION}
"""What is read of every part, and how it is compared."""
FEWEST = 3
"""Below so many drawings there is no spread."""


@dataclass(frozen=True)
class FaceShapes:
    """Head class and traits by part (``head``, ``eye``, ``brow``, ``nose``, ``mouth``)."""

    head: str
    parts: Mapping[str, Mapping[str, float]]


def _traits(c: Array) -> dict[str, float]:
    r = reduced(c)
    return {
        "size": float(np.exp(r.size)),
        "aspect": float(np.exp(r.aspect)),
        "taper": r.taper,
        "roundness": min(roundness(c), 1 - 1e-6),
    }


def shapes_of(table: Mapping[str, float], points: Array) -> FaceShapes:
    """Of a face's readings and its landmarks in heads (schema order); what is not known is left out."""
    parts: dict[str, dict[str, float]] = {}
    name = ""
    if all(k in table for k in NEEDED):
        outline = from_half_widths(half_width(table))
        name = by_widths(outline).name
        parts["head"] = _traits(outline) | {"angularity": angularity(outline)}
    found: dict[str, list[dict[str, float]]] = {}
    for part, c in face_contours(points).items():
        if abs(area(c)) > 1e-7:
            found.setdefault(part.split(",")[0], []).append(_traits(c))
    for role, rows in found.items():
        parts[role] = {k: float(np.mean([r[k] for r in rows])) for k in TRAITS}
    return FaceShapes(name, parts)


def shapes_in(marks: Landmarks, table: Mapping[str, float]) -> FaceShapes | None:
    """Of a marked front face; None where there is no head to measure by."""
    f = frame_of(marks)
    if f is None:
        return None
    return shapes_of(table, f.to_heads(marks.array(FRONT)))


def learned(faces: Sequence[FaceShapes]) -> StyleShapes:
    """Mean, spread and count of every trait over several drawings, and the head classes seen."""
    heads: dict[str, int] = {}
    rows: dict[str, dict[str, list[float]]] = {}
    for f in faces:
        if f.head:
            heads[f.head] = heads.get(f.head, 0) + 1
        for part, traits in f.parts.items():
            for k, v in traits.items():
                rows.setdefault(part, {}).setdefault(k, []).append(v)
    parts = {
        part: {
            k: ShapeRow(mean=float(np.mean(v)), sd=float(np.std(v, ddof=1)) if len(v) >= FEWEST else None, n=len(v))
            for k, v in traits.items()
        }
        for part, traits in rows.items()
    }
    return StyleShapes(heads=heads, parts=parts)


# ---- a drawing's shapes against the plan's

TOLERANCE = {"size": 0.10, "aspect": 0.14, "taper": 0.10, "roundness": 0.25}
"""How far a part's trait may be off, in its transform (own: about a tenth of a length)."""
SAID = {
    ("size", 1): "larger", ("size", -1): "smaller", ("aspect", 1): "taller for its width", ("aspect", -1): "wider for its height",
    ("taper", 1): "wider below", ("taper", -1): "wider above", ("roundness", 1): "rounder", ("roundness", -1): "less round",
}  # fmt: skip


@dataclass(frozen=True)
class ShapeFinding:
    """How one part of a drawing differs in shape from the plan, strongest first."""

    part: str
    trait: str
    drawn: float
    planned: float
    severity: float
    """Tolerances off."""
    words: str


def compared(drawn: FaceShapes, planned: FaceShapes) -> list[ShapeFinding]:
    """Parts of a drawing whose shape differs from the plan's, the worst first; the head's class where it is another."""
    out = []
    for part, traits in planned.parts.items():
        seen = drawn.parts.get(part)
        if seen is None:
            continue
        for k, kind in TRAITS.items():
            d = float(forward(kind, seen[k]) - forward(kind, traits[k]))
            far = abs(d) / TOLERANCE[k]
            if far > 1:
                way = SAID[k, 1 if d > 0 else -1]
                out.append(ShapeFinding(part, k, seen[k], traits[k], far, f"The {part} is {way} than planned"))
    if drawn.head and planned.head and drawn.head != planned.head:
        out.append(
            ShapeFinding("head", "class", 0.0, 0.0, 1.0, f"The head is {drawn.head} on the drawing, {planned.head} in the plan")
        )
    return sorted(out, key=lambda f: -f.severity)
