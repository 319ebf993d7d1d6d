"""Variants of one character's shapes: a board of detail against push, and the idea's directions."""

from __future__ import annotations

from collections.abc import Mapping

from .model import Part, Shapes, roles
from .push import TRAITS
from .scene import Scene

DETAILS = ((0.0, "plain shapes"), (0.4, "a few pieces"), (1.0, "contours"))
PUSHES = ((0.5, "softened"), (1.0, "as it is"), (1.8, "pushed"))
STRONGER, WEAKER = 1.7, 0.4
"""Emphasis of a trait that goes where the idea points, and of one that goes the other way (own)."""
IDEA: Mapping[str, tuple[str, str, int]] = {
    "eye_width_fw": ("eye", "size", 1), "eye_opening_ew": ("eye", "aspect", 1), "nose_length_hh": ("nose", "aspect", 1),
    "nose_width_fw": ("nose", "aspect", -1), "mouth_width_fw": ("mouth", "size", 1), "jaw_width_fw": ("head", "taper", 1),
    "chin_width_fw": ("head", "taper", 1), "face_width_hh": ("head", "aspect", -1), "head_width_hh": ("head", "aspect", -1),
    "brow_thickness_ew": ("brow", "aspect", -1),
}  # fmt: skip
"""Which trait of which part a trait of the face is, and whether they go the same way (own)."""


def all_at(shapes: Shapes, detail: float | None = None, push: float | None = None) -> Shapes:
    """Every part at one detail and one emphasis."""

    def one(p: Part) -> Part:
        fields: dict[str, object] = {}
        if detail is not None and p.points:
            fields["detail"] = detail
        if push is not None:
            kept = [t for t in TRAITS if t != "angularity"]  # corners go along with the outline
            fields["emphasis"] = {} if push == 1 else dict.fromkeys(kept, push)
        return p.model_copy(update=fields)

    return shapes.model_copy(update={"parts": tuple(one(p) for p in shapes.parts)})


def board(shapes: Shapes) -> list[tuple[str, Shapes]]:
    """Three by three, rows of one detail, columns of one push: words and the shapes."""
    return [(f"{d_words}, {p_words}", all_at(shapes, d, p)) for d, d_words in DETAILS for p, p_words in PUSHES]


def pushed_by_idea(s: Scene, directions: Mapping[str, int]) -> Shapes | None:
    """The shapes with the idea's directions followed: what goes its way stronger, what goes the other way weaker; None: it says nothing."""
    wanted: dict[tuple[str, str], int] = {}
    for key, way in directions.items():
        if key in IDEA and way:
            role, trait, sign = IDEA[key]
            wanted[role, trait] = wanted.get((role, trait), 0) + sign * way
    changed = False
    parts = []
    for v in s.parts:
        e = dict(v.part.emphasis)
        for (role, trait), way in wanted.items():
            if v.part.role != role or not way or trait not in v.readings or (trait == "angularity" and not roles()[role].corners):
                continue
            away = v.readings[trait] - v.readings[f"norm {trait}"]
            if abs(away) > 1e-4:
                e[trait] = STRONGER if away * way > 0 else WEAKER
        changed |= e != v.part.emphasis
        parts.append(v.part.model_copy(update={"emphasis": e}))
    return s.shapes.model_copy(update={"parts": tuple(parts)}) if changed else None
