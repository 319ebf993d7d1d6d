"""Undoing the camera: a head that is turned, seen from near by, before it is measured.

A point (x, y, z) of the level head, z toward the viewer, is seen at the first two coordinates of R·p with R = Rz·Rx·Ry:
positive yaw turns the nose to the picture's right, positive pitch looks down, positive roll is clockwise. In the
picture, after the roll is taken out,

    x' = tx + x·cosθ + z·sinθ        y' = y·cosφ + (z·cosθ − x·sinθ)·sinφ

so a pair's half width follows from the difference of its two x' alone, whatever its depth, and the depth of a pair's (or a
midline point's) middle from their mean, as far as θ tells it; where it does not, an ordinary head's depth stands in.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from pydantic import Field

from ..datafiles import Record
from ..kinds import Array, there
from .schema import FRONT, Schema

DEPTH_SPREAD = 0.035
"""How far a head's depths differ from the ordinary ones, one standard deviation in heads (own estimate)."""
UNEVEN = 0.006
"""How far a pair's middle lies off the face's own axis, one standard deviation in heads (own; as in the balance norm)."""
HEAD_M = 0.23
"""Crown to chin of an adult, metres (from memory of Farkas 1994)."""


class Turn(Record):
    """How a head is turned, degrees; ``spread`` is how well that is known, one standard deviation."""

    yaw: float = Field(0.0, ge=-180, le=180)
    pitch: float = Field(0.0, ge=-80, le=80)
    roll: float = Field(0.0, ge=-180, le=180)
    spread: float = Field(3.0, ge=0, le=45)


def rotation(turn: Turn) -> Array:
    """The matrix R = Rz(roll)·Rx(pitch)·Ry(yaw), shape ``(3, 3)``, axes x right, y down, z toward the viewer."""
    t, f, r = np.radians([turn.yaw, turn.pitch, turn.roll])
    ry = np.array([[np.cos(t), 0, np.sin(t)], [0, 1, 0], [-np.sin(t), 0, np.cos(t)]])
    rx = np.array([[1, 0, 0], [0, np.cos(f), np.sin(f)], [0, -np.sin(f), np.cos(f)]])
    rz = np.array([[np.cos(r), -np.sin(r), 0], [np.sin(r), np.cos(r), 0], [0, 0, 1]])
    return np.asarray(rz @ rx @ ry)


def angles(r: Array) -> tuple[float, float, float]:
    """Yaw, pitch and roll in degrees of a rotation matrix, inverse of :func:`rotation` for pitches within ±90°."""
    pitch = np.arcsin(np.clip(-r[2, 1], -1, 1))
    yaw, roll = np.arctan2(-r[2, 0], r[2, 2]), np.arctan2(-r[0, 1], r[1, 1])
    y, p, q = np.degrees([yaw, pitch, roll]).tolist()
    return y, p, q


# z of an ordinary adult's landmarks in heads, from the front edge of the ear; own, after the profile template
_MID = {
    "vertex": 0.02, "gnathion": 0.37, "trichion": 0.36, "subnasale": 0.45, "stomion": 0.44, "glabella": 0.445, "nasion": 0.425,
    "pronasale": 0.525, "labiale_superius": 0.46, "labiale_inferius": 0.45, "sublabiale": 0.425, "hair_top": 0.0, "parting": 0.2,
    "suprasternale": 0.12,
}  # fmt: skip
_PAIRED = {
    "endocanthion": 0.39, "exocanthion": 0.34, "brow_peak": 0.39, "alare": 0.43, "cheilion": 0.405, "zygion": 0.15, "gonion": 0.06,
    "palpebrale_superius": 0.395, "palpebrale_inferius": 0.385, "lid_crease": 0.395, "pupil": 0.395, "iris_medial": 0.395,
    "iris_lateral": 0.39, "pupil_medial": 0.395, "pupil_lateral": 0.395, "brow_inner": 0.43, "brow_outer": 0.34,
    "brow_lower_peak": 0.39, "euryon": -0.08, "frontotemporale": 0.28, "chin_side": 0.37, "superaurale": -0.04, "subaurale": -0.02,
    "neck_side": -0.06, "hair_side": -0.08,
}  # fmt: skip


def usual_depths(schema: Schema = FRONT) -> Array:
    """An ordinary adult's depths in schema order, heads, shape ``(n,)``, read-only; nan for points that are not the face's."""
    return _usual_depths(tuple(schema.names))


@lru_cache(maxsize=16)
def _usual_depths(names: tuple[str, ...]) -> Array:
    table = dict(_MID)
    for name, z in _PAIRED.items():
        table |= {f"{name}_l": z, f"{name}_r": z}
    out = np.array([table.get(n, np.nan) for n in names])
    out.flags.writeable = False
    return out


def undone(xy: Array, turn: Turn, schema: Schema = FRONT) -> tuple[Array, Array]:
    """Points ``(n, 2)`` as if the head looked straight ahead, and the uncertainty that adds to each, ``(n,)``; both pixels.

    Points without a known depth (the artist's own) are taken to lie on the eyes' plane.
    """
    out = _undone(xy, turn, schema)[0]
    shifts = shared_errors(xy, turn, schema)
    return out, np.where(there(xy), np.sqrt((shifts**2).sum((0, 2)) / 2), 0.0)


def _undone(xy: Array, turn: Turn, schema: Schema) -> tuple[Array, Array, Array, float]:
    """Straightened points, their depths and what is left uncertain of those (heads), and the head's height (pixels)."""
    have = there(xy)
    t, f, r = np.radians([turn.yaw, turn.pitch, turn.roll])
    c, s = np.cos(-r), np.sin(-r)
    p = xy @ np.array([[c, -s], [s, c]]).T
    z0 = np.nan_to_num(usual_depths(schema), nan=0.36)
    z, hh = z0.copy(), _head(p, schema, float(np.nanmax(np.ptp(p[have], axis=0))))
    out: Array = p.copy()
    left: Array = np.full(len(p), DEPTH_SPREAD)
    for _ in range(6):
        z, left, tx = _depths(p, hh, z0, float(t), schema)
        x = (p[:, 0] - tx - z * hh * np.sin(t)) / np.cos(t)
        y = (p[:, 1] - (z * hh * np.cos(t) - x * np.sin(t)) * np.sin(f)) / np.cos(f)
        out = np.column_stack([x, y])
        new = _head(out, schema, hh)
        if abs(new - hh) < 1e-6 * hh:
            break
        hh = new
    return out, z, left, hh


def shared_errors(xy: Array, turn: Turn, schema: Schema = FRONT) -> Array:
    """What undoing a turn leaves uncertain, as shifts of one standard deviation, ``(shifts, n, 2)`` pixels.

    A pair's two points share one depth, so that its error moves both the same way and cancels in their distance; an error of the
    turn itself moves all points together. Every shift stands for itself, independent of the others.
    """
    out, _, left, hh = _undone(xy, turn, schema)
    t, f = np.radians([turn.yaw, turn.pitch])
    partner = np.array(schema.mirror)
    along = -left[:, None] * hh * np.array([np.tan(t), np.tan(f) / np.cos(t)])
    shifts = []
    for i, j in enumerate(partner):
        if i <= j:
            shift = np.zeros_like(out)
            shift[[i, j]] = along[[i, j]]
            shifts.append(shift)
    if turn.spread > 0:
        for name in ("yaw", "pitch"):
            low, high = (
                turn.model_copy(update={name: float(np.clip(getattr(turn, name) + k * turn.spread, -79, 79))})
                for k in (-0.5, 0.5)
            )
            ends = [_undone(xy, end, schema)[0] for end in (low, high)]
            shifts.append(ends[1] - ends[0])
    return np.nan_to_num(np.array(shifts))


def _head(p: Array, schema: Schema, otherwise: float) -> float:
    top, chin = (p[schema.index[n], 1] for n in ("vertex", "gnathion"))
    return float(chin - top) if np.isfinite(chin - top) and chin > top else otherwise


def _depths(p: Array, hh: float, z0: Array, t: float, schema: Schema) -> tuple[Array, Array, float]:
    """Depth of every point (heads), its remaining spread, and where the axis lies (pixels).

    A pair shares one depth, read from its middle; the ordinary depth and this reading are averaged by how sure each is.
    """
    partner = np.array(schema.mirror)
    middle = (p[:, 0] + p[partner, 0]) / 2  # a midline point is its own partner
    zz = (z0 + z0[partner]) / 2
    known = np.isfinite(middle)
    sin = np.sin(t)
    if not known.any():
        return z0, np.full(len(z0), DEPTH_SPREAD), 0.0
    rest = middle[known] / hh - sin * zz[known]
    tx = float(np.median(rest))
    seen_spread = UNEVEN / max(abs(sin), 1e-9)
    weight = DEPTH_SPREAD**2 / (DEPTH_SPREAD**2 + seen_spread**2)
    seen = np.where(known, (middle / hh - tx) / (sin if abs(sin) > 1e-9 else np.inf), zz)
    z = np.where(known, zz + weight * np.clip(seen - zz, -0.2, 0.2), z0)
    left = np.where(known, np.sqrt(1 - weight) * DEPTH_SPREAD, DEPTH_SPREAD)
    return z, left, tx * hh


def from_distance(xy: Array, metres: float, schema: Schema = FRONT) -> Array:
    """Points ``(n, 2)`` of a face seen from ``metres`` as a lens far away would see them.

    A point that lies Δ behind the face's plane is seen D/(D + Δ) as large, about the middle of the face; depths are an
    ordinary head's, its height 0.23 m. From 1 m the cheeks read about 5 % narrow, from 2 m 2.7 %.
    """
    z = usual_depths(schema)
    back = (0.40 - np.nan_to_num(z, nan=0.40)) * HEAD_M
    have = there(xy)
    middle = np.nanmedian(xy[have], axis=0) if have.any() else np.zeros(2)
    return np.asarray(middle + (xy - middle) * ((metres + back) / metres)[:, None])
