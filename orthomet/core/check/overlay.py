"""What a drawing is checked against, drawn as it should lie on it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from ..errors import LandmarkError
from ..features.expression import NEUTRAL, expression, weaker
from ..figure.scene import Figure as Person
from ..figure.scene import picture as person_picture
from ..head.body import Wear
from ..head.construct import head_layers, plan_lines
from ..head.drawn import picture
from ..head.scene import scene
from ..kinds import Array
from ..landmarks.points import Landmarks
from ..landmarks.register import register
from ..landmarks.schema import FRONT
from ..landmarks.turn import Turn
from ..landmarks.views import PROFILE, SCHEMAS
from ..picture import Picture
from ..pose.bones import posed
from ..pose.figure import moving_figure
from ..pose.marked import marked
from ..project.model import Marks
from ..resolve import Face, complete
from .basis import SELF, basis_face
from .compare import Compared
from .figure import FigureCheck
from .profile import ProfileCheck
from .turned import Pose, depths_of
from .view import ViewCheck

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


def view_overlay(c: ViewCheck, drawing: Landmarks, face: Face | None, body: Callable[[], Person]) -> tuple[Picture, Array] | None:
    """The same of a profile or a figure with its landmarks in pixels: the planned head from the side, or the planned ``body`` in the pose
    that is drawn; ``None`` where they have too few landmarks in common."""
    if isinstance(c, FigureCheck):
        picture, at = _body(c, body())
    elif isinstance(c, ProfileCheck) and face is not None:
        picture, at = _side(c, face)
    else:
        return None
    moved = {n for m in c.fix.moves for n in m.names}
    names = [n for n in at if n in drawing.points]
    still = [n for n in names if n not in moved]
    names = still if len(still) >= FEWEST else names
    try:
        s = register(
            np.array([drawing.points[n] for n in names]).reshape(-1, 2), np.array([at[n] for n in names]).reshape(-1, 2)
        ).inverse()
    except (LandmarkError, np.linalg.LinAlgError):
        return None
    return picture, np.column_stack([s.matrix, s.shift])


FEWEST = 4
"""Landmarks that stay where they are from which on those that move do not place the plan (own)."""


def _side(c: ProfileCheck, face: Face) -> tuple[Picture, dict[str, Array]]:
    """The planned head in profile, and where its landmarks are; heads."""
    turn = Turn(yaw=90.0 if c.to_page[0, 0] >= 0 else -90.0)
    whole, seen = complete(face), Pose(turn, 1.0, (0.0, 0.0)).seen(depths_of(face).xyz)
    drawn = picture(
        scene(whole.table, whole.points, turn, Wear(face.chin_forward, whole.choices, hair=False, side=face.side)),
        guides=False,
        hidden=False,
    )
    at = {}
    for n in PROFILE.names:
        k = FRONT.index.get(n, FRONT.index.get(f"{n}_r"))
        if k is not None and np.isfinite(seen[k]).all():
            at[n] = seen[k]
    return drawn.centre_lines().wordless(), at


def _body(c: FigureCheck, body: Person) -> tuple[Picture, dict[str, Array]]:
    """The planned body in the pose that is drawn, and where its landmarks are; heads."""
    pose, turn = (c.stance.pose, Turn(yaw=c.stance.yaw)) if c.stance is not None else (c.lift.pose, Turn())
    shown = person_picture(moving_figure(body, pose), turn, guides=False, tones=False, quick=True)
    layers = tuple(ly for ly in shown.layers if ly.id == "body")
    return Picture(layers, shown.box).centre_lines().wordless(), marked(posed(body.mannequin.skeleton, pose), turn)


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
