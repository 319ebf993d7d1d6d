"""Landmarks for a new drawing, laid from the plan through three clicked points."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..kinds import Array
from ..landmarks.points import Landmarks, State
from ..landmarks.schema import FRONT
from .register import fit

ANCHORS = ("vertex", "gnathion", "exocanthion_l", "exocanthion_r")


def seed_from_plan(plan: Array, clicked: Mapping[str, tuple[float, float]], size: tuple[int, int] | None = None) -> Landmarks:
    """Lay the plan's points over a drawing through clicked anchors (crown, chin, one outer eye corner).

    The clicked points are placed; all others are estimated until moved or confirmed.
    """
    names = [n for n in ANCHORS if n in clicked]
    p = np.array([plan[FRONT.index[n]] for n in names])
    q = np.array([clicked[n] for n in names], float)
    laid = fit(p, q)(plan)
    points = {n: (float(x), float(y)) for n, (x, y) in zip(FRONT.names, laid, strict=True) if np.isfinite(x)}
    points.update({n: (float(x), float(y)) for n, (x, y) in clicked.items()})
    states = {n: State.ESTIMATED for n in points if n not in clicked}
    return Landmarks("front", points, states, {}, size)
