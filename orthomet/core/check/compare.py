"""A drawing compared as it was drawn: on any basis, at any turn, with the face it makes taken off first."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from ..errors import FormatError
from ..features.expression import NEUTRAL, Expression, expression, expressions, weaker
from ..kept import remembered
from ..kinds import Array
from ..landmarks.points import Landmarks, without_own
from ..landmarks.schema import FRONT
from ..landmarks.turn import DEPTH_SPREAD, Turn, rotation
from ..references import straight
from ..resolve import Face
from .basis import SELF, basis_face, even_face
from .check import Check, Seen, check
from .turned import Depths, Pose, check_turned, depth_doubt, depths_of, pose_of

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
    degree: float = 1.0
    """How strongly a named expression is made, as a share of its preset."""
    noise_px: float | None = None
    noise: float | None = None
    px_per_mm: float | None = None
    spreads: tuple[tuple[str, float], ...] = ()
    """What the style it is drawn in strays by (:func:`~orthomet.core.check.rows.style_spreads`)."""
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
    pose: Pose | None = None
    """Where a turned head is on the picture."""


def turned_away(drawing: Landmarks) -> bool:
    """Whether a landmark file says that its head looks elsewhere."""
    return drawing.view == "front" and drawing.turn is not None and bool(drawing.turn.yaw or drawing.turn.pitch)


def compare(
    drawing: Landmarks, face: Face, meant: tuple[str, ...] = (), how: How | None = None, since: Compared | None = None
) -> Compared:
    """A drawing against a face that stands for its plan. ``since`` is its comparison of a moment ago, while a hand drags: pose and
    expression are kept, and the answer follows by greedy moves.

    Raises
    ------
    LandmarkError, UnknownName
        It cannot be judged; or there is no such expression.
    """
    how = how or How()
    away = how.view == TURNED or (how.view == "" and turned_away(drawing))
    if since is not None and since.turned == away:
        return _worn(
            drawing,
            face,
            since.expression,
            since.degree,
            weaker(expression(since.expression), since.degree),
            meant,
            how,
            away,
            since,
        )
    tried = [_worn(drawing, face, name, degree, e, meant, how, away) for name, degree, e in _faces(how.expression, how.degree)]
    rest, best = tried[0], min(tried, key=lambda t: t.check.fix.score)
    return best if best.check.fix.score < rest.check.fix.score - CLEARLY else rest


def _faces(name: str, degree: float = 1.0) -> Iterator[tuple[str, float, Expression]]:
    if name == AUTO:
        yield "neutral", 0.0, NEUTRAL
        for n, e in expressions().items():
            if e != NEUTRAL:
                for k in DEGREES:
                    yield n, k, weaker(e, k)
    elif name:
        e = expression(name)
        known = next(n for n, x in expressions().items() if x == e)
        yield known, degree * (e != NEUTRAL), weaker(e, degree)
    else:
        yield "neutral", 0.0, NEUTRAL


def _worn(
    drawing: Landmarks,
    face: Face,
    name: str,
    degree: float,
    e: Expression,
    meant: tuple[str, ...],
    how: How,
    away: bool,
    since: Compared | None = None,
) -> Compared:
    before = since.check if since is not None else None
    own = dict(how.spreads)
    if away:
        head, held = _depths(replace(face, expression=e)), since.pose if since is not None else None
        c, pose = check_turned(drawing, head, meant, how.noise_px, how.px_per_mm, how.noise, how.depth_spread, held, before, own)
        return Compared(c, pose.turn, True, name, degree, None, pose)
    points = face.points if e == NEUTRAL else _ahead(face, e)
    c = check(drawing, points, meant, how.noise_px, how.px_per_mm, how.noise, None, before, own)
    return Compared(c, Turn(roll=float(np.degrees(c.to_plan.roll))), False, name, degree, points)


_depths = remembered(24)(depths_of)


def _ahead(face: Face, worn: Expression) -> Array:
    """Front places of a head that makes a face; where it is at rest they are the plan's own."""
    rest, made = (_depths(replace(face, expression=e)).xyz[:, :2] for e in (NEUTRAL, worn))
    return np.asarray(face.points + (made - rest))


def compare_basis(
    drawing: Landmarks, basis: str, how: How | None = None, meant: tuple[str, ...] = (), since: Compared | None = None
) -> Compared:
    """A drawing against the norm, a style, or only what a face owes itself.

    Raises
    ------
    FormatError, UnknownName, LandmarkError
    """
    how = how or How()
    if basis != SELF:
        return compare(drawing, basis_face(basis), meant, replace(how, depth_spread=DEPTH_SPREAD), since)
    if how.expression:
        raise FormatError(
            "A face that is compared with itself alone has no expression to be taken off; name a plan, a style or the norm."
        )
    marks, turn, pose = without_own(drawing), Turn(), None
    away = how.view == TURNED or (how.view == "" and turned_away(drawing))
    if away:
        usual: Depths = _depths(basis_face("norm"))
        pose = pose_of(marks.array(FRONT), usual.xyz, marks.turn)
        turn = pose.turn
        marks = straight(replace(marks, turn=turn))
    elif how.view == FRONT_ON:
        marks = replace(marks, turn=None)
    level = rotation(turn.model_copy(update={"roll": 0.0}))[:2, :2]
    seen = Seen(level, np.zeros((0, len(FRONT.names), 2)), depth_doubt(turn, DEPTH_SPREAD)) if away else None
    even = even_face(marks)
    c = check(marks, even, meant, how.noise_px, how.px_per_mm, how.noise, seen)
    return Compared(
        c, turn if away else Turn(roll=float(np.degrees(c.to_plan.roll))), away, "neutral", 0.0, None if away else even, pose
    )
