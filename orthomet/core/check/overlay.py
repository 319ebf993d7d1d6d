"""What a drawing is checked against, drawn as it should lie on it."""

from __future__ import annotations

import numpy as np

from ..errors import LandmarkError
from ..features.expression import NEUTRAL, expression, weaker
from ..head.body import Wear
from ..head.construct import head_layers, plan_lines
from ..head.drawn import picture
from ..head.scene import scene
from ..kinds import Array
from ..landmarks.register import register
from ..landmarks.turn import Turn
from ..landmarks.views import SCHEMAS
from ..picture import Picture
from ..project.model import Marks
from ..resolve import Face, complete
from .basis import SELF, basis_face
from .compare import Compared

BOX = (-0.7, -0.2, 1.4, 1.5)


def overlay_of(c: Compared, basis: Face | str, trial: Turn | None = None) -> tuple[Picture, Array] | None:
    """Lines in heads and the ``(2, 3)`` map to the drawing's pixels; ``None`` for a face that is compared with itself.

    ``trial`` is another turn to show it at, the head's place kept: for while a hand sets it.
    """
    if basis == SELF:
        return None
    face = basis_face(basis) if isinstance(basis, str) else basis
    if c.pose is not None or trial is not None:
        return _turned(c, face, trial)
    points = face.points if c.plan is None else c.plan
    layers = (*head_layers(face.table, points, face.choices), plan_lines(face.table))
    back = c.check.to_plan.inverse()
    return Picture(layers, BOX).wordless(), np.column_stack([back.matrix, back.shift])


def reference_way(reference: Marks, drawing: Marks) -> Array | None:
    """The ``(2, 3)`` map that lays a reference over a drawing by their landmarks; ``None`` where they have too few in common."""
    names = SCHEMAS[drawing.view].names
    a, b = (np.array([m.points.get(n, (np.nan, np.nan)) for n in names], float) for m in (reference, drawing))
    try:
        s = register(a, b)
    except LandmarkError:
        return None
    return np.column_stack([s.matrix, s.shift])


def _turned(c: Compared, face: Face, trial: Turn | None) -> tuple[Picture, Array] | None:
    if c.pose is None:
        return None
    whole = complete(face)
    worn = weaker(expression(c.expression), c.degree) if c.degree else NEUTRAL
    wear = Wear(face.chin_forward, whole.choices, worn, hair=False, side=face.side)
    drawn = picture(scene(whole.table, whole.points, trial or c.pose.turn, wear), guides=True, hidden=False)
    return drawn.centre_lines().wordless(), np.column_stack([c.pose.scale * np.eye(2), c.pose.shift])
