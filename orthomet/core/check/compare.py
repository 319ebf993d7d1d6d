"""A drawing compared as it was drawn: on any basis, at any turn, with the face it makes taken off first."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from ..errors import FormatError
from ..features.expression import NEUTRAL, Expression, expression, expressions
from ..kinds import Array
from ..landmarks.points import Landmarks, without_own
from ..landmarks.schema import FRONT
from ..landmarks.turn import DEPTH_SPREAD, Turn, rotation
from ..references import straight
from ..resolve import Face
from .basis import SELF, basis_face, even_face
from .check import Check, Seen, check
from .turned import Depths, check_turned, depth_doubt, depths_of, pose_of

AUTO = "auto"
FRONT_ON, TURNED = "front", "turned"
DEGREES = (1.0, 0.6)
"""How strongly an expression is looked for, as shares of the preset (own)."""
CLEARLY = 18.0
"""By how much a worn face has to explain a drawing better than the resting one: as much as two moves cost (own), so that one
raised brow stays a finding while a laugh, which moves brows, lids, mouth and jaw together, is read."""


@dataclass(frozen=True)
class How:
    """How a drawing is looked at. ``view`` is empty for what its file says, ``expression`` for a face at rest."""

    view: str = ""
    expression: str = ""
    noise_px: float | None = None
    noise: float | None = None
    depth_spread: float = 0.0
    """How far a turned head's depths may differ from the face's own: none for a plan, people's for a norm."""


@dataclass(frozen=True, eq=False)
class Compared:
    check: Check
    turn: Turn
    """How the drawn head is turned; its roll is the registration's where it looks ahead."""
    turned: bool
    expression: str
    """The face it makes, by name; “neutral” at rest."""
    degree: float = 0.0
    """How strongly, as a share of the preset."""
    plan: Array | None = None
    """Where the front's points should be with that face, heads; ``None`` for a turned head."""


def turned_away(drawing: Landmarks) -> bool:
    """Whether a landmark file says that its head looks elsewhere."""
    return drawing.view == "front" and drawing.turn is not None and bool(drawing.turn.yaw or drawing.turn.pitch)


def compare(drawing: Landmarks, face: Face, meant: tuple[str, ...] = (), how: How | None = None) -> Compared:
    """A drawing against a face that stands for its plan.

    Raises
    ------
    LandmarkError, UnknownName
        It cannot be judged; or there is no such expression.
    """
    how = how or How()
    away = how.view == TURNED or (how.view == "" and turned_away(drawing))
    tried = [_worn(drawing, face, name, degree, e, meant, how, away) for name, degree, e in _faces(how.expression)]
    rest, best = tried[0], min(tried, key=lambda t: t.check.fix.score)
    return best if best.check.fix.score < rest.check.fix.score - CLEARLY else rest


def _faces(name: str) -> Iterator[tuple[str, float, Expression]]:
    if name == AUTO:
        yield "neutral", 0.0, NEUTRAL
        for n, e in expressions().items():
            if e != NEUTRAL:
                for k in DEGREES:
                    yield n, k, weaker(e, k)
    elif name:
        e = expression(name)
        known = next(n for n, x in expressions().items() if x == e)
        yield known, float(e != NEUTRAL), e
    else:
        yield "neutral", 0.0, NEUTRAL


def weaker(e: Expression, share: float) -> Expression:
    """The same face made less."""
    return Expression(**{k: v * share for k, v in e.model_dump().items()})


def _worn(
    drawing: Landmarks, face: Face, name: str, degree: float, e: Expression, meant: tuple[str, ...], how: How, away: bool
) -> Compared:
    if away:
        c, turn = check_turned(
            drawing, depths_of(replace(face, expression=e)), meant, how.noise_px, None, how.noise, how.depth_spread
        )
        return Compared(c, turn, True, name, degree)
    points = face.points if e == NEUTRAL else _ahead(face, e)
    c = check(drawing, points, meant, how.noise_px, None, how.noise)
    return Compared(c, Turn(roll=float(np.degrees(c.to_plan.roll))), False, name, degree, points)


def _ahead(face: Face, worn: Expression) -> Array:
    """Front places of a head that makes a face; where it is at rest they are the plan's own."""
    rest, made = (depths_of(replace(face, expression=e)).xyz[:, :2] for e in (NEUTRAL, worn))
    return np.asarray(face.points + (made - rest))


def compare_basis(drawing: Landmarks, basis: str, how: How | None = None) -> Compared:
    """A drawing against the norm, a style, or only what a face owes itself.

    Raises
    ------
    FormatError, UnknownName, LandmarkError
    """
    how = how or How()
    if basis != SELF:
        return compare(drawing, basis_face(basis), (), replace(how, depth_spread=DEPTH_SPREAD))
    if how.expression:
        raise FormatError(
            "A face that is compared with itself alone has no expression to be taken off; name a plan, a style or the norm."
        )
    marks, turn = without_own(drawing), Turn()
    away = how.view == TURNED or (how.view == "" and turned_away(drawing))
    if away:
        usual: Depths = depths_of(basis_face("norm"))
        turn = pose_of(marks.array(FRONT), usual.xyz, marks.turn).turn
        marks = straight(replace(marks, turn=turn))
    elif how.view == FRONT_ON:
        marks = replace(marks, turn=None)
    level = rotation(turn.model_copy(update={"roll": 0.0}))[:2, :2]
    seen = Seen(level, np.zeros((0, len(FRONT.names), 2)), depth_doubt(turn, DEPTH_SPREAD)) if away else None
    c = check(marks, even_face(marks), (), how.noise_px, None, how.noise, seen)
    return Compared(c, turn if away else Turn(roll=float(np.degrees(c.to_plan.roll))), away, "neutral")
