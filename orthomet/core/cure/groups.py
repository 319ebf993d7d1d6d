"""What moves as one piece when a drawing is cured, and what its steps amount to."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from scipy.interpolate import CubicSpline

from ..check.moves import BROW, EARS, EYE
from ..kinds import Array, there
from ..landmarks.register import fit
from ..landmarks.schema import FRONT

SMALL = ("eye_l", "eye_r", "brow_l", "brow_r", "nose", "mouth")
"""Features whose ink can be lifted."""
RIM = (
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
STILL = 1e-3
"""Heads under which a step is none (own)."""


@lru_cache(maxsize=1)
def groups() -> dict[str, list[int]]:
    """Landmarks of the front by what they belong to, as places in the schema."""
    ix = FRONT.index
    out: dict[str, list[int]] = {}
    for s in "lr":
        for name, bases in (("eye", EYE), ("brow", BROW), ("ear", EARS)):
            out[f"{name}_{s}"] = [ix[f"{n}_{s}"] for n in bases]
    out["nose"] = [ix[n] for n in ("subnasale", "alare_l", "alare_r", "pronasale", "nasion")]
    out["mouth"] = [ix[n] for n in ("stomion", "cheilion_l", "cheilion_r", "labiale_superius", "labiale_inferius", "sublabiale")]
    rim = [n for n in RIM[:-1]] + ["frontotemporale_l", "frontotemporale_r", "neck_side_l", "neck_side_r"]
    out["outline"] = [ix[n] for n in rim]
    out["hairline"] = [ix["trichion"]]
    return out


def moving(points: Array, step: Array, hh: float) -> dict[str, list[int]]:
    """The groups of which any landmark moves, with those of their landmarks that are placed."""
    moved = np.hypot(*np.nan_to_num(step).T) > STILL * hh
    return {g: [i for i in at if there(points)[i]] for g, at in groups().items() if any(moved[i] for i in at)}


def placed(points: Array, g: str) -> Array:
    p = points[groups()[g]]
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


def rim_path(points: Array) -> Array:
    """The outline through its landmarks, ``(160, 2)``; as many as are placed, at least two."""
    p = points[[FRONT.index[n] for n in RIM]]
    p = p[there(p)]
    along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(p, axis=0).T))])
    keep = np.append(True, np.diff(along) > 1e-9)
    if keep.sum() < 2:
        return np.asarray(p)
    return np.asarray(CubicSpline(along[keep], p[keep])(np.linspace(0, along[-1], 160)))
