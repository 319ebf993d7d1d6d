"""Where parts come from besides a hand's trace: the head's and the figure's construction, a plain shape, another part mirrored."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

import numpy as np

from ..head.outline import half_width
from ..kinds import Array
from ..landmarks.frame import Frame, frame_of, head_height
from ..landmarks.points import Landmarks
from ..landmarks.schema import FRONT
from .contour import centroid, is_even, mirror_of, oriented, resampled
from .head_class import from_half_widths
from .model import Part, Shape, shape_of
from .plain import made

TALL = 4.0
"""Heads that a picture without a head on it counts as high (own)."""


def frame_for(marks: Landmarks, size: tuple[int, int]) -> Frame:
    """Heads on a reference's picture: by its face, by crown and chin, or, where there is no head, by the picture's height."""
    found = frame_of(marks)
    if found is not None:
        return found
    tall = head_height(marks.points)
    if tall is not None and tall >= 4:
        top, chin = marks.points["vertex"], marks.points["gnathion"]
        return Frame(((top[0] + chin[0]) / 2, min(top[1], chin[1])), 0.0, tall)
    return Frame((size[0] / 2, 0.0), 0.0, max(size[1], 1) / TALL)


def head_contour(table: Mapping[str, float]) -> Array:
    """The head's planned outline, heads, crown at 0."""
    return from_half_widths(half_width(table))


def face_contours(points: Array) -> dict[str, Array]:
    """Outlines of the features as an artist traces them, from the plan's landmarks in heads: name → contour."""

    def at(name: str) -> Array:
        return np.asarray(points[FRONT.index[name]], float)

    out: dict[str, Array] = {}
    t = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    for side, words in (("r", "right"), ("l", "left")):
        a, b, up, low = (at(f"{n}_{side}") for n in ("endocanthion", "exocanthion", "palpebrale_superius", "palpebrale_inferius"))
        mid, way, h = (a + b) / 2, (b - a) / 2, (low[1] - up[1]) / 2
        y = (up[1] + low[1]) / 2
        out[f"eye, {words}"] = np.column_stack([mid[0] + way[0] * np.cos(t), y + way[1] * np.cos(t) + h * np.sin(t)])
        i, p, o, under = (at(f"{n}_{side}") for n in ("brow_inner", "brow_peak", "brow_outer", "brow_lower_peak"))
        thick = max(float(under[1] - p[1]), 0.012)
        out[f"brow, {words}"] = np.array([i, p, o, o + [0, 0.3 * thick], p + [0, thick], i + [0, thick]])
    n, base, r, left = at("nasion"), at("subnasale"), at("alare_r"), at("alare_l")
    out["nose"] = np.array(
        [
            n + [-0.012, 0],
            n + [0.012, 0],
            left + [0, -0.005],
            left + [-0.005, 0.018],
            base + [0, 0.006],
            r + [0.005, 0.018],
            r + [0, -0.005],
        ]
    )
    a, b, up, low = at("cheilion_r"), at("cheilion_l"), at("labiale_superius"), at("labiale_inferius")
    x, y, h = float(b[0] - a[0]) / 2, float(up[1] + low[1]) / 2, float(low[1] - up[1]) / 2
    out["mouth"] = np.column_stack([(a[0] + b[0]) / 2 + x * np.cos(t), y + h * np.sin(t) * (1 - 0.25 * np.cos(t) ** 2)])
    return {k: resampled(oriented(v), 240) for k, v in out.items() if np.isfinite(v).all()}


USUAL_SHAPE = {"eye": "ellipse", "brow": "capsule", "nose": "triangle", "mouth": "ellipse"}
"""What features are drawn as at first (common practice)."""
TONES = {"head": 0.1, "hair": 0.6, "eye": 0.25, "brow": 0.8, "nose": 0.25, "mouth": 0.45}


def head_of(table: Mapping[str, float], pid: str) -> Part:
    """A planned head's outline as a part, in heads."""
    return part_of("head", head_contour(table), "head", pid, source="construction")


def head_parts(table: Mapping[str, float], points: Array, new_id: Callable[[], str]) -> list[Part]:
    """A head's shapes from its plan: the outline, then brows, eyes, nose and mouth on it; in heads."""
    head = head_of(table, new_id())
    out = [head]
    for name, c in face_contours(points).items():
        role = name.split(",")[0]
        out.append(part_of(name, c, role, new_id(), source="construction", kind=USUAL_SHAPE[role], on=head.id))
    return out


def part_of(
    name: str, c: Array, role: str, pid: str, *, corners: Sequence[int] = (), reference: str = "", source: str = "traced",
    kind: str = "", on: str = "",
) -> Part:  # fmt: skip
    """A part from its contour, in its reference's pixels or in heads."""
    return Part.model_validate({
        "id": pid, "name": name, "role": role, "reference": reference, "source": source, "kind": kind, "on": on, "even": is_even(c),
        "points": tuple((round(float(x), 5), round(float(y), 5)) for x, y in c) if not is_even(c) else tuple((float(x), float(y)) for x, y in c),
        "corners": tuple(int(k) for k in corners), "tone": TONES.get(role, 0.3),
    })  # fmt: skip


def plain_part(
    name: str, kind: str, at: tuple[float, float], size: float, pid: str, reference: str = "", role: str = "other"
) -> Part:
    """A new plain shape about a place."""
    tall = {"capsule": 2.0, "egg": 1.3, "triangle": 1.1, "kite": 1.3, "heart": 1.1, "ellipse": 0.75, "rectangle": 1.25}.get(
        kind, 1.0
    )
    own = {
        "egg": (0.2,),
        "rounded-rectangle": (0.4,),
        "triangle": (0.0, 0.0),
        "trapezoid": (0.3, 0.1),
        "kite": (-0.2, 0.0),
        "heart": (-0.3,),
    }
    s = made(kind, at[0], at[1], size, size * tall, own.get(kind, ()))
    return Part(id=pid, name=name, role=role, reference=reference, source="plain", kind=kind, shape=shape_of(s))


def mirrored_part(p: Part, axis: float, pid: str, name: str) -> Part:
    """The part on the other side of an upright at ``axis``, in its own unit."""
    fields: dict[str, object] = {"id": pid, "name": name, "source": "mirrored"}
    if p.points:
        n = len(p.points)
        fields["points"] = tuple((float(x), float(y)) for x, y in mirror_of(p.contour, axis))
        fields["corners"] = tuple(sorted(n - 1 - k for k in p.corners))
    if p.shape is not None:
        s = p.shape
        own = (-s.own[0], *s.own[1:]) if s.kind == "triangle" else s.own
        fields["shape"] = Shape(kind=s.kind, x=2 * axis - s.x, y=s.y, width=s.width, height=s.height, turn=-s.turn, own=own)
    return Part.model_validate({**p.model_dump(), **fields})


def other_side(name: str) -> str:
    """“arm, left” is “arm, right” on the other side; a part without a side gets one."""
    for a, b in (("left", "right"), ("right", "left")):
        if name.endswith(f", {a}"):
            return name.removesuffix(f", {a}") + f", {b}"
    return f"{name}, other side"[:60]


def middle_of(p: Part) -> tuple[float, float]:
    """The middle of a part, in its own unit."""
    if p.points:
        m = centroid(p.contour)
        return float(m[0]), float(m[1])
    assert p.shape is not None
    return p.shape.x, p.shape.y
