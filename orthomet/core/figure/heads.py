"""The planned head on a body: its own neck replaced by the body's, turned about the neck."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property, partial

import numpy as np

from ..head.body import Body
from ..head.inked import second_nose, wanted
from ..head.neck import neck_of
from ..head.solid import solid
from ..ink.drawing import Drawing, drawn, sight
from ..ink.shape import CENTRE, Lines, Shape, stacked
from ..ink.stroke import Weights
from ..ink.surface import Stuff, Surface
from ..ink.view import View
from ..kept import remembered
from ..kinds import Array
from ..landmarks.turn import Turn, angles, rotation
from .mannequin import Mannequin

MOUTH = 0.80
"""Height of the head its neck's axis is read at."""
UNDER = 0.28
"""The body's neck is laid under the head down to here below the chin, heads."""
STEEPEST = 80.0


def neck_axis(b: Body) -> float:
    """How far before the plumb a head's own neck runs at the height of its mouth."""
    rings = neck_of(solid(b.head.table, replace(b.head.make, drop=0.0))).rings
    middle = (rings[..., 2].max(1) + rings[..., 2].min(1)) / 2
    return float(np.interp(MOUTH, rings[:, 0, 1], middle))


@dataclass(frozen=True, eq=False)
class Worn:
    """A head on a mannequin: what it consists of, about its own middle, and how it stands on the body."""

    body: Body
    shape: Shape
    lines: Lines
    turn: Turn
    """How it is turned against the neck."""
    pivot: Array
    """What it turns about, in its own place."""
    matrix: Array
    """How it is turned in the figure's space."""
    place: Array
    """Where its pivot lies there."""

    def put(self, points: Array) -> Array:
        """Places of the head where it stands on the body; heads."""
        return np.asarray((points - self.pivot) @ self.matrix.T + self.place)

    @cached_property
    def surfaces(self) -> tuple[Surface, ...]:
        """All of it but the neck, where it stands on the body; heads."""
        return tuple(
            replace(s, points=self.put(s.points), normals=s.normals @ self.matrix.T)
            for s in self.shape.surfaces
            if s.name != "neck"
        )

    @cached_property
    def top(self) -> float:
        """Its highest place."""
        return min(float(s.points[..., 1].min()) for s in self.surfaces)

    def drawing(self, turn: Turn, weights: Weights) -> tuple[Drawing, Array]:
        """The head's drawing where the body is turned so, and where its middle lies on the picture; heads from the crown."""
        view = rotation(turn)
        yaw, pitch, roll = angles(view @ self.matrix)
        own = Turn(yaw=yaw, pitch=float(np.clip(pitch, -STEEPEST, STEEPEST)), roll=roll)
        s = sight(self.shape, View(own))
        hush = partial(second_nose, head=self.body.head, turn=own)
        d = drawn(s, self.lines, wanted(self.lines, own), hush, weights)
        middle = view @ (self.place - CENTRE) + view @ self.matrix @ (CENTRE - self.pivot)
        return d, middle[:2] + CENTRE[:2]


def place_of(head: Worn | None, otherwise: Array) -> Array:
    """Where a head's pivot lies."""
    return head.place if head is not None else otherwise


def worn_roughly(b: Body, m: Mannequin, turn: Turn, like: Worn | None) -> Worn:
    """A head on a mannequin that is being dragged: as it was put on the one before, while head and neck are the same."""
    same = like is not None and like.body is b and like.turn == turn and abs(float(like.pivot[2]) - m.build.neck_axis) < 1e-9
    return like if same and like is not None else worn(b, m, turn)


@remembered(6)
def worn(b: Body, m: Mannequin, turn: Turn) -> Worn:
    """A head put on a standing mannequin, turned against it."""
    return put_on(b, m, turn, np.eye(3), np.array([0.0, 0.90, m.build.neck_axis]))


def put_on(b: Body, m: Mannequin, turn: Turn, neck_turn: Array, place: Array) -> Worn:
    """A head put where a mannequin's neck carries it, turned against that."""
    pivot = np.array([0.0, 0.90, m.build.neck_axis])
    to_head = neck_turn @ rotation(turn)
    torso = m.skins["torso"]
    rows = m.torso.height < 1.0 + UNDER
    close = [np.concatenate([g[rows], g[rows][:, :1]], 1) for g in (torso.points, torso.normals)]
    neck = Surface("neck", (close[0] - place) @ to_head + pivot, close[1] @ to_head, Stuff.SKIN, True, contour=False)
    shape = Shape(tuple(neck if s.name == "neck" else s for s in b.shape.surfaces))
    lines = stacked([x for x in b.lines.lines if x.surface != "neck"], shape)
    return Worn(b, shape, lines, turn, pivot, to_head, place)
