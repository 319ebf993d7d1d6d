"""A drawing of a turned head against its front plan: the plan's solid is turned to the drawing's pose, what differs is told on the front.

Pose and registration are fitted together: seen from far away a point p of the head is at the first two coordinates of
s·Rz·Rx·Ry·p + t, and six numbers are found by least squares under a Cauchy loss (Huber & Ronchetti, *Robust Statistics*, 2009),
so that a feature the artist moved does not turn the head along. A difference d on the picture is J⁻¹·d on the front, where J is
the rotation's upper left corner: across, a turned face shows everything shorter by the cosine.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from ..errors import LandmarkError
from ..head.body import Wear, body
from ..head.turned import CENTRE
from ..kinds import Array, there
from ..landmarks.points import Landmarks, from_array, require_front, without_own
from ..landmarks.register import fit
from ..landmarks.schema import FRONT
from ..landmarks.turn import Turn, rotation
from ..resolve import Face, complete
from .check import Check, Seen, check, unknown

MOST_YAW, MOST_PITCH = 60.0, 45.0
"""Degrees a head may be turned and nodded for its front proportions to be judged (own): past them one side has gone."""
LOOSE = 0.006
"""Residuals in heads from which on a point counts less for the pose (own)."""
USUAL_YAW, USUAL_PITCH = 40.0, 15.0
"""How far heads are turned in drawings, one standard deviation in degrees (own); weighs no more than one badly placed point."""
LOOSELY_KEPT = 6.0
"""Degrees within which a pose may still be wrong that all landmarks were used for (own)."""
FEWEST = 8
"""Points a pose is found from; six numbers are sought (own)."""


@dataclass(frozen=True)
class Depths:
    """A planned head's landmarks: front places ``(n, 2)`` and places on the solid ``(n, 3)``, heads, nan where there is none."""

    front: Array
    xyz: Array


def depths_of(face: Face) -> Depths:
    """The landmarks of a plan with their depth on its own solid."""
    whole = complete(face)
    b = body(whole.table, whole.points, Wear(face.chin_forward, whole.choices, face.expression, hair=False, side=face.side))
    part = next(p for p in b.parts if p.kind == "landmark")
    known = there(face.points)
    return Depths(np.where(known[:, None], face.points, np.nan), np.where(known[:, None], b.xyz[part.at], np.nan))


@dataclass(frozen=True)
class Pose:
    """How a drawing's head is turned, and where on the picture it is: ``scale`` pixels per head, ``shift`` of its centre in pixels."""

    turn: Turn
    scale: float
    shift: tuple[float, float]

    def seen(self, xyz: Array) -> Array:
        """Points of the head ``(n, 3)`` on the picture, pixels."""
        return np.asarray(self.scale * ((xyz - CENTRE) @ rotation(self.turn)[:2].T) + np.array(self.shift))


def pose_of(xy: Array, xyz: Array, declared: Turn | None = None) -> Pose:
    """The pose at which a head's landmarks lie best on a drawing's points ``(n, 2)`` in pixels.

    ``declared`` is what is known of it beforehand; it holds as firmly as its spread says.

    Raises
    ------
    LandmarkError
        Fewer than :data:`FEWEST` points in common, or they lie on one spot.
    """
    both = there(xy) & np.isfinite(xyz).all(1)
    if both.sum() < FEWEST:
        raise LandmarkError(
            f"At least {FEWEST} landmarks of the plan have to be on the drawing before its head's turn can be found."
        )
    p, q = xyz[both], xy[both]
    unit = float(np.ptp(q, axis=0).max())
    if unit <= 0:
        raise LandmarkError("The drawing's landmarks lie on one spot.")
    seen = (q - q.mean(0)) / unit
    wished = np.array([declared.yaw, declared.pitch]) if declared is not None else np.zeros(2)
    firm = np.array([USUAL_YAW, USUAL_PITCH]) if declared is None else np.full(2, max(declared.spread, 0.5))

    def rest(v: Array) -> Array:
        yaw, pitch, roll, grow, x, y = v
        r = rotation(Turn.model_construct(yaw=yaw, pitch=pitch, roll=roll, spread=0.0))
        off = (seen - np.array([x, y])) / np.exp(grow) - (p - CENTRE) @ r[:2].T
        return np.append(off.ravel() / LOOSE, (np.array([yaw, pitch]) - wished) / firm)

    best, low = None, np.inf
    for yaw in (wished[0],) if declared is not None else (-35.0, 0.0, 35.0):
        start = Turn(yaw=float(np.clip(yaw, -MOST_YAW, MOST_YAW)), pitch=float(np.clip(wished[1], -MOST_PITCH, MOST_PITCH)))
        s = fit((p - CENTRE) @ rotation(start)[:2].T, seen)
        if s.scale <= 0:
            continue
        v0 = np.array([start.yaw, start.pitch, np.clip(-np.degrees(s.roll), -179, 179), np.log(s.scale), *s.shift])
        edge = [MOST_YAW + 20, MOST_PITCH + 20, 360.0, 9.0, 99.0, 99.0]
        scales = np.array([10.0, 10.0, 10.0, 0.1, 0.1, 0.1])
        found = least_squares(rest, v0, loss="cauchy", bounds=([-e for e in edge], edge), x_scale=scales, max_nfev=60)
        if found.cost < low:
            best, low = found.x, float(found.cost)
    if best is None:
        raise LandmarkError("The drawing cannot be laid over its plan: check crown, chin and eyes.")
    yaw, pitch, roll, grow, x, y = (float(n) for n in best)
    turn = Turn(yaw=yaw, pitch=pitch, roll=(roll + 180) % 360 - 180, spread=1.0)
    at = np.array([x, y]) * unit + q.mean(0)
    return Pose(turn, float(np.exp(grow)) * unit, (float(at[0]), float(at[1])))


def check_turned(
    drawing: Landmarks,
    head: Depths,
    meant: tuple[str, ...] = (),
    noise_px: float | None = None,
    px_per_mm: float | None = None,
    noise: float | None = None,
    depth_spread: float = 0.0,
    held: Pose | None = None,
    since: Check | None = None,
    spreads: Mapping[str, float] | None = None,
) -> tuple[Check, Pose]:
    """A drawing of a turned head against its plan, and how the head is turned (in the senses of a head's own turn).

    Differences are told in heads of the front, and in pixels as the drawing shows them. The turn is found from all points
    together; one the file declares is trusted as far as its spread says. ``depth_spread`` is how far the head's depths may
    differ from these, one standard deviation in heads: none for a plan, whose solid is what should be drawn. ``held`` is a pose
    to keep, and ``since`` the check of a moment ago (:func:`~orthomet.core.check.check.check`): for while a hand drags.

    Raises
    ------
    LandmarkError
        Unmeasurable landmarks, too few of them, or a head turned so far that its front is no more to be judged.
    """
    require_front(drawing, "A check")
    marks = without_own(drawing)
    xy = marks.array()
    pose = held or pose_of(np.where(unknown(marks)[:, None], np.nan, xy), head.xyz, marks.turn)
    if abs(pose.turn.yaw) > MOST_YAW or abs(pose.turn.pitch) > MOST_PITCH:
        raise LandmarkError(
            f"The head is turned {abs(pose.turn.yaw):.0f}° and nods {abs(pose.turn.pitch):.0f}°: beyond {MOST_YAW:.0f}° and "
            f"{MOST_PITCH:.0f}° its front proportions are not to be judged."
        )
    r = rotation(pose.turn)
    level = rotation(pose.turn.model_copy(update={"roll": 0.0}))
    back = np.linalg.inv(r[:2, :2])
    off = (xy - pose.seen(head.xyz)) / pose.scale
    front = (head.front + off @ back.T) * pose.scale
    states = {n: s for n, s in marks.states.items() if np.isfinite(front[FRONT.index[n]]).all()}
    spread = {n: s for n, s in marks.spread.items() if np.isfinite(front[FRONT.index[n]]).all()}
    straight = from_array(front, states=states, spread=spread)
    seen = Seen(level[:2, :2], _mistaken(pose.turn, head.xyz), depth_doubt(pose.turn, depth_spread))
    told = check(straight, head.front, meant, noise_px, px_per_mm, noise, seen, since, spreads)
    return told, pose if held is not None else _by_what_stays(told, xy, head, pose)


def _by_what_stays(told: Check, xy: Array, head: Depths, pose: Pose) -> Pose:
    """The pose once more, from the landmarks that no cure moves: a feature that is off has pulled at it a little."""
    moved = [FRONT.index[n] for m in told.fix.moves for n in m.names]
    if not moved:
        return pose
    rest = xy.copy()
    rest[moved] = np.nan
    try:
        better = pose_of(rest, head.xyz, pose.turn.model_copy(update={"spread": LOOSELY_KEPT}))
    except LandmarkError:
        return pose
    return better if abs(better.turn.yaw) <= MOST_YAW and abs(better.turn.pitch) <= MOST_PITCH else pose


def depth_doubt(turn: Turn, spread: float) -> Array | None:
    """What depths that differ by so many heads do to a front seen at this turn, ``(k, n, 2)`` heads: a pair shares its depth,
    so that it moves as one; ``None`` where nothing is in doubt."""
    if spread <= 0:
        return None
    r = rotation(turn)
    way = np.linalg.inv(r[:2, :2]) @ r[:2, 2] * spread
    partner = np.array(FRONT.mirror)
    firsts = np.flatnonzero(np.arange(len(partner)) <= partner)
    out = np.zeros((len(firsts), len(partner), 2))
    for k, i in enumerate(firsts):
        out[k, [i, partner[i]]] = way
    return out


def _mistaken(turn: Turn, xyz: Array) -> Array:
    """Where the front's points go if yaw or pitch are taken a radian too small, ``(2, n, 2)`` heads; first order."""
    back = np.linalg.inv(rotation(turn)[:2, :2])
    step = 0.5
    out = []
    for name in ("yaw", "pitch"):
        a, b = (rotation(turn.model_copy(update={name: getattr(turn, name) + k * step})) for k in (-0.5, 0.5))
        moved = (xyz - CENTRE) @ (a - b)[:2].T / np.radians(step)
        out.append(np.nan_to_num(moved @ back.T))
    return np.array(out)
