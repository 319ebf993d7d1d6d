"""What moves as one piece when a drawing is cured, and what its steps amount to: of a face, a profile, a figure."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cache

import numpy as np
from scipy.interpolate import Akima1DInterpolator, CubicSpline

from ..check.figure_moves import ALONG, BONES
from ..check.moves import BROW, EARS, EYE
from ..kinds import Array, there
from ..landmarks.register import fit
from ..landmarks.schema import FRONT, Schema
from ..landmarks.views import FIGURE, PROFILE

STILL = 1e-3
"""Heads under which a step is none (own)."""
_RIM = (
    "vertex",
    "euryon_l",
    "zygion_l",
    "gonion_l",
    "chin_side_l",
    "gnathion",
    "chin_side_r",
    "gonion_r",
    "zygion_r",
    "euryon_r",
    "vertex",
)
_CONTOUR = ("trichion", "glabella", "nasion", "pronasale", "subnasale", "labiale_superius", "stomion", "labiale_inferius", "sublabiale", "pogonion",
            "gnathion", "neck_front")  # fmt: skip
_GIRTH = {"upper_arm": 0.20, "forearm": 0.17, "hand": 0.13, "thigh": 0.30, "shin": 0.20, "foot": 0.14}
"""Half of what a limb is usually wide with its clothes on, heads (own)."""


@dataclass(frozen=True)
class Anatomy:
    """The pieces of a view's drawing: landmarks, as places in its schema, by what they belong to."""

    schema: Schema
    pieces: Mapping[str, tuple[int, ...]]
    rims: Mapping[str, tuple[int, ...]] = field(default_factory=dict)
    """Pieces that are a contour: its landmarks in order."""
    bones: Mapping[str, tuple[int, int]] = field(default_factory=dict)
    """Pieces that are a bone: its inner and its outer end."""
    liftable: frozenset[str] = frozenset()
    """Pieces whose ink can be lifted."""
    grown: Mapping[str, float] = field(default_factory=dict)
    """Heads a piece reaches beyond its landmarks."""
    stays: frozenset[str] = frozenset()
    """Pieces that hold nothing in its place."""
    ring: float = 0.14
    """Heads about a piece in which things give way (own)."""

    def at(self, names: Iterable[str]) -> tuple[int, ...]:
        return tuple(self.schema.index[n] for n in names)


@cache
def anatomy(view: str = "front") -> Anatomy:
    """The pieces of a view."""
    return {"front": _front, "profile": _profile, "figure": _figure}[view]()


def _places(schema: Schema, table: Mapping[str, Iterable[str]]) -> dict[str, tuple[int, ...]]:
    return {g: tuple(schema.index[n] for n in names) for g, names in table.items()}


def _front() -> Anatomy:
    table: dict[str, Iterable[str]] = {}
    for s in "lr":
        for name, bases in (("eye", EYE), ("brow", BROW), ("ear", EARS)):
            table[f"{name}_{s}"] = [f"{n}_{s}" for n in bases]
    table["nose"] = ("subnasale", "alare_l", "alare_r", "pronasale", "nasion")
    table["mouth"] = ("stomion", "cheilion_l", "cheilion_r", "labiale_superius", "labiale_inferius", "sublabiale")
    table["outline"] = (*_RIM[:-1], "frontotemporale_l", "frontotemporale_r", "neck_side_l", "neck_side_r")
    table["hairline"] = ("trichion",)
    grown = {"mouth": 0.030, "nose": 0.020, "eye_l": 0.026, "eye_r": 0.026, "brow_l": 0.018, "brow_r": 0.018}
    small = frozenset(("eye_l", "eye_r", "brow_l", "brow_r", "nose", "mouth"))
    return Anatomy(FRONT, _places(FRONT, table), _places(FRONT, {"outline": _RIM}), {}, small, grown, frozenset(("hairline",)))


def _profile() -> Anatomy:
    table: dict[str, Iterable[str]] = {
        "eye": ("exocanthion",), "brow": ("brow_peak",), "ear": ("tragion", "superaurale", "subaurale"), "outline": ("vertex", *_CONTOUR),
        "back": ("opisthocranion", "neck_back"), "jaw": ("gonion",),
    }  # fmt: skip
    rims = _places(PROFILE, {"outline": _CONTOUR, "back": ("vertex", "opisthocranion", "neck_back")})
    grown = {"eye": 0.075, "brow": 0.05, "ear": 0.04, "jaw": 0.02}
    return Anatomy(PROFILE, _places(PROFILE, table), rims, {}, frozenset(), grown, frozenset(("jaw",)))


def _figure() -> Anatomy:
    table: dict[str, Iterable[str]] = {
        "head": ("vertex", "gnathion", "euryon_l", "euryon_r"),
        "trunk": [f"{n}_{s}" for n in ("acromion", "shoulder_side", "ribcage_side", "waist_side", "iliocristale", "hip_side", "trochanterion") for s in "lr"]
        + ["suprasternale", "perineum"],
        "neck": ("neck_side_l", "neck_side_r"),
    }  # fmt: skip
    ends: dict[str, Iterable[str]] = {"head": ("vertex", "gnathion")}
    for bone, pair in BONES.items():
        for s in "lr":
            ends[f"{bone}_{s}"] = [f"{n}_{s}" for n in pair]
            table[f"{bone}_{s}"] = [f"{n}_{s}" for n in (*pair, *ALONG[bone])]
    bones = {g: (FIGURE.index[a], FIGURE.index[b]) for g, (a, b) in ends.items()}
    grown = {f"{b}_{s}": v for b, v in _GIRTH.items() for s in "lr"} | {"head": 0.40, "trunk": 0.08, "neck": 0.10}
    return Anatomy(FIGURE, _places(FIGURE, table), {}, bones, frozenset(), grown, frozenset(("neck",)), 0.22)


def moving(points: Array, step: Array, hh: float, body: Anatomy | None = None) -> dict[str, list[int]]:
    """The pieces of which any landmark moves, with those of their landmarks that are placed."""
    moved = np.hypot(*np.nan_to_num(step).T) > STILL * hh
    known = there(points)
    pieces = (body or anatomy()).pieces
    return {g: [i for i in at if known[i]] for g, at in pieces.items() if any(moved[i] and known[i] for i in at)}


def placed(points: Array, at: tuple[int, ...]) -> Array:
    """Those of some landmarks that are there, ``(k, 2)``."""
    p = points[list(at)]
    return np.asarray(p[there(p)])


def step_map(p: Array, q: Array) -> Array:
    """The ``(2, 3)`` map a piece moves by: a shift, a similarity where that explains the step, else a stretch along the axes."""
    shift = q - p
    if len(p) < 2 or float(np.ptp(shift, axis=0).max()) < 1e-6 * max(float(np.abs(shift).max()), 1e-9):
        return np.column_stack([np.eye(2), shift.mean(0)])
    s = fit(p, q)
    left = np.linalg.norm(s(p) - q, axis=1).max()
    if len(p) < 3 or left < 0.15 * np.linalg.norm(shift, axis=1).max():
        return np.column_stack([s.matrix, s.shift])
    c = p.mean(0)
    b = np.column_stack([p - c, np.ones(len(p))])
    held = 1e-3 * np.diag([1.0, 1.0, 0.0]) * float(np.ptp(p, axis=0).max()) ** 2
    a = np.linalg.solve(b.T @ b + held, b.T @ shift)
    return np.column_stack([np.eye(2) + a[:2].T, a[2] - a[:2].T @ c])


def rim_path(points: Array, rim: tuple[int, ...] | None = None) -> Array:
    """A contour through its landmarks, ``(160, 2)``, the front's outline where none is named; as many as are placed, at least two.

    An open one bends by its next neighbours only (Akima, *J. ACM* 17(4), 1970): a mouth that moves does not stir the brow.
    """
    rim = anatomy().rims["outline"] if rim is None else rim
    p = placed(points, rim)
    along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(p, axis=0).T))]) if len(p) else np.zeros(0)
    keep = np.append(True, np.diff(along) > 1e-9) if len(p) else np.zeros(0, bool)
    if keep.sum() < 2:
        return np.asarray(p)
    curve = CubicSpline if rim[0] == rim[-1] or keep.sum() < 4 else Akima1DInterpolator
    return np.asarray(curve(along[keep], p[keep])(np.linspace(0, along[keep][-1], 160)))
