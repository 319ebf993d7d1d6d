"""Seeds: estimated landmarks laid from a template face, better with every point a person places.

Three clicked points lay the whole template by a similarity. After that the points that are placed pull the estimated
ones along: in head units each placed point's residual against the template spreads by inverse distance (Shepard 1968,
power 3); where only one of a pair is placed, its mirrored residual speaks for the partner.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..kinds import Array, there
from .points import Landmarks, State
from .register import fit
from .schema import FRONT
from .views import SCHEMAS

ANCHORS = ("vertex", "gnathion", "exocanthion_l", "exocanthion_r")
POWER = 3.0
NEAREST = 0.004
"""Distances below this many heads count as this (own: keeps weights finite)."""
MIRROR_TRUST = 0.8
"""Weight of a residual borrowed from the other side (own)."""


def seed_from_plan(template: Array, clicked: Mapping[str, tuple[float, float]], size: tuple[int, int] | None = None) -> Landmarks:
    """Lay a template's points (head units, schema order) through clicked anchors: crown, chin, one outer eye corner.

    The clicked points are placed; all others are estimated until moved or confirmed.
    """
    names = [n for n in ANCHORS if n in clicked]
    p = np.array([template[FRONT.index[n]] for n in names])
    q = np.array([clicked[n] for n in names], float)
    laid = fit(p, q)(template)
    points = {n: (float(x), float(y)) for n, (x, y) in zip(FRONT.names, laid, strict=True) if np.isfinite(x)}
    points.update({n: (float(x), float(y)) for n, (x, y) in clicked.items()})
    states = {n: State.ESTIMATED for n in points if n not in clicked}
    return Landmarks("front", points, states, {}, size)


def relay(template: Array, marks: Landmarks) -> dict[str, tuple[float, float]]:
    """New places for the estimated points, as the placed ones now suggest; empty when fewer than two are placed.

    ``template`` is what the seeds came from, head units, in the order of the view's schema.
    """
    view = SCHEMAS[marks.view]
    xy = marks.array(view)
    have = there(xy) & there(template)
    loose = np.array([marks.states.get(n) is State.ESTIMATED for n in view.names])
    fixed = np.flatnonzero(have & ~loose)
    moving = np.flatnonzero(have & loose)
    if len(fixed) < 2 or not len(moving):
        return {}
    to_picture = fit(template[fixed], xy[fixed])
    residual = to_picture.inverse()(xy[fixed]) - template[fixed]
    at, push, trust = template[fixed], residual, np.ones(len(fixed))
    partner = np.array(view.mirror)[fixed]
    borrowed = np.isin(partner, moving) & (view.view != "profile")
    at = np.vstack([at, template[partner[borrowed]]])
    push = np.vstack([push, residual[borrowed] * np.array([-1.0, 1.0])])
    trust = np.concatenate([trust, np.full(int(borrowed.sum()), MIRROR_TRUST)])
    far = np.linalg.norm(template[moving][:, None] - at[None], axis=2)
    weight = trust / np.maximum(far, NEAREST) ** POWER
    shift = (weight @ push) / weight.sum(1, keepdims=True)
    laid = to_picture(template[moving] + shift)
    return {view.names[i]: (float(x), float(y)) for i, (x, y) in zip(moving, laid, strict=True)}
