"""Faces for tests: built from plan traits, in head units or as pictures would show them."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from orthomet.core.head.points import plan_points
from orthomet.core.kinds import Array
from orthomet.core.landmarks.points import Landmarks, from_array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.plan.plan import space_backward, space_forward
from orthomet.core.plan.space import face_space
from orthomet.core.proportions.norms import norm
from orthomet.demo.cast import face


def random_table(rng: np.random.Generator, spread: float = 1.0) -> dict[str, float]:
    """Traits drawn about the adult norm, each by its own kind and spread; stations kept in order."""
    space, n = face_space(), norm()
    at = space.in_registry
    while True:
        g = space_forward(space, n.mean[at]) + rng.normal(size=len(at)) * n.g_sd[at] * spread
        t = dict(zip(space.keys, space_backward(space, g).tolist(), strict=True))
        order = [t[f"{k}_station"] for k in ("hairline", "brow", "eye", "nose_base", "mouth")]
        if all(a < b - 0.005 for a, b in pairwise(order)) and t["ear_top_station"] < t["ear_bottom_station"] - 0.02:
            return t


def as_picture(points: Array, px: float = 800.0, roll: float = 0.0, shift: tuple[float, float] = (600.0, 120.0)) -> Array:
    c, s = np.cos(roll), np.sin(roll)
    out: Array = points @ np.array([[c, s], [-s, c]]) * px + np.array(shift)
    return out


def marks_of(table: dict[str, float] | None = None, **how: object) -> Landmarks:
    """Landmarks of a face with these traits, as a picture shows it."""
    return from_array(as_picture(plan_points(table or face()), **how))  # type: ignore[arg-type]


def moved(marks: Landmarks, **to: tuple[float, float]) -> Landmarks:
    return Landmarks(marks.view, {**marks.points, **to}, marks.states, marks.spread, marks.size)


def index_of(*bases: str) -> list[int]:
    """Schema indices of points, both sides of a pair."""
    out = []
    for b in bases:
        out += [FRONT.index[b]] if b in FRONT.index else [FRONT.index[f"{b}_{s}"] for s in "lr"]
    return out
