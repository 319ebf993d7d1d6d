"""What a drawing is checked against where it is not a plan: a style by itself, the measured average, or only what a face owes itself."""

from __future__ import annotations

import numpy as np

from ..errors import FormatError, LandmarkError, quoted
from ..head.points import plan_points
from ..kinds import Array
from ..landmarks.level import LevelBy, levelled
from ..landmarks.points import Landmarks, require_front, without_own
from ..landmarks.schema import FRONT
from ..resolve import Face, plan_of_style
from ..styles.schools import school, stations

NORM = "measured-adult"
"""The style that is the norm."""


SELF = "self"


def basis_face(name: str) -> Face:
    """The face a drawing is laid over where it has no plan: ``norm``, ``style:NAME``, or ``school:NAME``, whose lines are laid on
    the norm.

    Raises
    ------
    FormatError, UnknownName
        No such basis.
    """
    kind, _, rest = name.partition(":")
    if name != "norm" and not (kind in ("style", "school") and rest):
        raise FormatError(f"{quoted(name)} is no basis; they are plan, norm, self, style:NAME and school:NAME.")
    plan = plan_of_style(rest if kind == "style" else NORM)
    if kind != "school":
        return Face(dict(plan.table), plan.points)
    lines = stations(school(rest), plan.table)
    table = {**plan.table, **{k: v for k, v in lines.items() if k in plan.table}}
    return Face(table, plan_points(table))


def even_face(drawing: Landmarks) -> Array:
    """The face as it would be were both its sides alike: each point half way to its partner in the mirror; heads, nan where there is none.

    Against it a drawing is checked for level, centre and symmetry alone: its own proportions are its own.

    Raises
    ------
    LandmarkError
        Crown or chin are missing, or no pair is whole.
    """
    require_front(drawing, "A check")
    marks = without_own(drawing)
    if "vertex" not in marks.points or "gnathion" not in marks.points:
        raise LandmarkError("A face is checked against itself by its crown and chin: place them first.")
    xy = levelled(marks.array(FRONT), LevelBy.CENTRE)
    top, chin = xy[FRONT.index["vertex"]], xy[FRONT.index["gnathion"]]
    tall = float(chin[1] - top[1])
    partner = np.array(FRONT.mirror)
    paired = partner != np.arange(len(partner))
    sides = np.isfinite(xy[:, 0]) & np.isfinite(xy[partner, 0]) & paired
    if not sides.any() or tall <= 0:
        raise LandmarkError("No pair of points is whole: a face is compared with itself side by side.")
    middle = float(np.median((xy[sides, 0] + xy[partner[sides], 0]) / 2))
    p = (xy - [middle, top[1]]) / tall
    other = p[partner] * [-1, 1]
    even = np.where(np.isfinite(other), (p + other) / 2, p)
    even[~paired, 0] = np.where(np.isfinite(p[~paired, 0]), 0.0, np.nan)
    return np.asarray(even)
