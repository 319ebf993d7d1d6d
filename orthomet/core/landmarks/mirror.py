"""Mirror the sure side of a face or figure to the other: about its own midline, wherever that stands on the picture."""

from __future__ import annotations

import numpy as np

from ..kinds import Array, there
from .level import LevelBy, roll_of
from .points import Landmarks, State

XY = tuple[float, float]
SURE = (State.PLACED, State.HIDDEN)


def midline_of(marks: Landmarks, by: LevelBy = LevelBy.CENTRE) -> tuple[Array, Array] | None:
    """A point on the midline and its unit direction downward, picture pixels; ``None`` where nothing tells of it.

    The direction is the head's own (by its roll); the place the mean of the midline points that are sure, of those that are
    there where none is, else of the pairs that are whole.
    """
    schema = marks.schema
    xy = marks.array()
    here = there(xy)
    sided = np.array([bool(m.side) for m in schema.landmarks])
    sure = np.array([marks.states.get(n, State.PLACED) in SURE for n in schema.names])
    middle = here & ~sided & np.array([m.group != "Hair" and not m.name.startswith("own_") for m in schema.landmarks])
    roll = float(roll_of(xy, by, schema))
    down = np.array([-np.sin(roll), np.cos(roll)])
    for some in (middle & sure, middle):
        if some.any():
            return xy[some].mean(0), down
    partner = np.array(schema.mirror)
    whole = here & sided & here[partner]
    return (xy[whole].mean(0), down) if whole.any() else None


def mirrored(marks: Landmarks, by: LevelBy = LevelBy.CENTRE) -> dict[str, XY]:
    """New places, picture pixels, for every point whose partner alone is sure: the partner's, seen in the midline.

    Empty for a profile, where no midline is known, and where no side is surer than the other. A point that is absent by
    design stays so.

    >>> from orthomet.core.landmarks.points import Landmarks, State
    >>> face = Landmarks("front", {"vertex": (50, 0), "gnathion": (50, 100), "zygion_l": (80, 55)})
    >>> mirrored(face)["zygion_r"]
    (20.0, 55.0)
    """
    line = midline_of(marks, by) if marks.view != "profile" else None
    if line is None:
        return {}
    place, down = line
    across = np.array([down[1], -down[0]])

    def sure(name: str) -> bool:
        return name in marks.points and marks.states.get(name, State.PLACED) in SURE

    out: dict[str, XY] = {}
    for m in marks.schema.landmarks:
        if m.side and sure(m.name) and not sure(m.partner) and marks.states.get(m.partner) is not State.ABSENT:
            xy = np.asarray(marks.points[m.name], float)
            seen = xy - 2 * across * float((xy - place) @ across)
            out[m.partner] = (float(seen[0]), float(seen[1]))
    return out
