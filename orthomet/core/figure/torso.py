"""The torso: one mass from inside the skull to the crotch.

Half widths by stations (t: share of the shoulder line to the crotch), front and back depths by two side profiles (chest forward, small of
the back, seat); planes and swellings lie on it as depth offsets that fade toward the sides. The shapes are own, drawn after common
practice and tried against front read-back.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..ink.surface import smooth_step
from ..kinds import Array
from .build import Build
from .profile import COS, hill, profile, ring, swelling

RIB, BLADE_END = 0.34, 0.26
"""Stations the rib cage is measured at, and from which rows are even."""
PELVIS = 0.76
LOWEST = 0.64
"""The mass begins inside the skull, at this station of the head at the lowest."""
_FRONT = (
    (-0.6, 0.17), (-0.30, 0.115), (-0.12, 0.075), (-0.03, 0.055), (0.03, 0.10), (0.10, 0.20), (0.20, 0.315), (0.30, 0.355), (0.42, 0.335),
    (0.52, 0.295), (0.62, 0.285), (0.72, 0.30), (0.80, 0.295), (0.88, 0.25), (0.94, 0.165), (0.98, 0.06), (1.03, -0.08),
)  # fmt: skip
_BELLY = {0.62: 0.4, 0.72: 1.0, 0.80: 0.9, 0.88: 0.3}
_BACK = (
    (-0.6, -0.20), (-0.35, -0.255), (-0.20, -0.30), (-0.10, -0.37), (0, -0.455), (0.10, -0.525), (0.20, -0.55), (0.32, -0.535), (0.45, -0.455),
    (0.56, -0.365), (0.64, -0.335), (0.72, -0.355), (0.80, -0.40), (0.90, -0.415), (0.96, -0.34), (1.0, -0.24), (1.03, -0.12),
)  # fmt: skip
_SQUARE = (
    (-0.3, 2.0), (-0.10, 1.75), (0.03, 1.85), (0.14, 2.2), (0.3, 2.35), (0.58, 2.3), (0.8, 2.35), (0.95, 2.3), (1.03, 2.0),
)  # fmt: skip


@dataclass(frozen=True)
class Added:
    """What is added to half the hips, half the pelvis and to the crotch's height, so that they are right once all is joined."""

    hip: float = 0.0
    pelvis: float = 0.0
    crotch: float = 0.0


NOTHING = Added()


@dataclass(frozen=True, eq=False)
class Torso:
    points: Array
    """``(rows, spokes, 3)``."""
    height: Array
    """Of each row, heads."""
    station: Array
    """t of each row."""
    waist: float
    """The station it is narrowest at."""
    corner: tuple[float, float]
    """x and y of the shoulder's corner, where the arm takes over."""


def torso(b: Build, shoulder_x: float, add: Added = NOTHING) -> Torso:
    """The torso of a build whose shoulder joints lie ``shoulder_x`` to the sides."""
    lower = add.crotch
    trunk, top = b.trunk, b.shoulder_line
    neck = b.neck_width / 2
    corner_x = max(min(shoulder_x + 0.10 * b.upper_arm_girth, 1.1 * shoulder_x), 1.02 * neck)
    begin = top - (0.78 - 0.16 * b.form.feminine) * b.neck_length
    corner_y = top + 0.20 * b.form.slope * (corner_x - neck) + 0.012
    y = _rows(b, begin, corner_y)
    y = y + lower * smooth_step((y - top - 0.80 * trunk) / (0.20 * trunk))
    t = (y - top) / trunk
    half, waist = _half_widths(b, y, t, corner_x, corner_y, begin, add)
    front, back = _depths(b, y, t)
    middle = 0.45 * front + 0.55 * back
    across, ahead = ring(half, half, front - middle, middle - back, profile(t, _SQUARE, 0.03))
    z = middle[:, None] + ahead
    tall = np.broadcast_to(y[:, None], across.shape)
    z = z + _relief(b, across, tall, t, corner_x, corner_y)
    return Torso(np.stack([across, tall, z], -1), y, t, waist, (corner_x, corner_y))


def _rows(b: Build, begin: float, corner_y: float) -> Array:
    """Heights of the rows: close together where the outline runs sideways."""
    top, trunk = b.shoulder_line, b.trunk
    ribs = max(top + BLADE_END * trunk, corner_y + 0.04 * trunk)
    return np.concatenate([
        np.linspace(min(LOWEST, begin - 0.12), begin, 11)[:-1],
        begin + (corner_y - begin) * (1 - (1 - np.linspace(0, 1, 17)) ** 1.9)[:-1],
        np.linspace(corner_y, ribs, 13)[:-1],
        np.linspace(ribs, top + 0.90 * trunk, 26)[:-1],
        top + trunk * (0.90 + 0.10 * np.sin(np.linspace(0, np.pi / 2, 13))),
    ])  # fmt: skip


def _half_widths(b: Build, y: Array, t: Array, corner_x: float, corner_y: float, begin: float, add: Added) -> tuple[Array, float]:
    f = b.form
    neck, rib, waist, hip = b.neck_width / 2, b.ribcage / 2, b.waist / 2, b.hip / 2 + add.hip
    pelvis, lower = max(b.pelvis / 2 + add.pelvis, 0.3 * b.pelvis), add.crotch
    q = np.clip((y - begin) / (corner_y - begin), 0, 1)
    rise = 1.75 + 0.35 * f.feminine - 0.35 * min(f.muscle, 1.5) * (1 - f.feminine)  # trapezius: the higher, the sooner it falls
    above = neck * (1 + 0.05 * smooth_step((0.95 - y) / 0.15)) + (corner_x - neck) * (1 - (1 - q**rise) ** 0.52)
    gap = float(np.clip(1 - b.thigh_girth / (0.5 * b.hip), 0, 0.7))
    pit = rib + (corner_x - rib) * 0.30
    corner = (corner_y - b.shoulder_line) / b.trunk
    lats = 1 + 0.025 * f.muscle * (1 - f.feminine)
    slim = waist < rib
    below = profile(t, _rising([
        (corner, corner_x), (corner + 0.05, 0.99 * corner_x), (0.14, max(pit, 0.97 * rib) * (0.94 if corner_x < rib else 1)),
        (0.22, 1.02 * rib * lats), (0.32, rib), (0.42, 0.965 * rib + 0.02 * waist),
        (0.50, 0.2865 * rib + 0.707 * waist if slim else 0.985 * waist), (0.585, waist), (0.655, 0.70 * waist + 0.30 * pelvis),
        (0.70, 0.36 * waist + 0.64 * pelvis), (PELVIS, pelvis), (0.815, min(0.42 * pelvis + 0.57 * hip, 0.985 * hip)), (0.87, 0.972 * hip),
        (0.93, (0.985 - 0.16 * gap) * hip), (0.96, (0.87 - 0.24 * gap) * hip), (0.98, (0.58 - 0.16 * gap) * hip),
        (0.99, (0.30 - 0.06 * gap) * hip), (1.0, 0.03 * hip),
    ]), 0.008)  # fmt: skip
    # the crotch: a blunt V between the thighs, the higher the further they stand apart
    d = np.clip((b.crotch + lower - y) / min(0.085 * b.trunk + 0.95 * gap * hip, 0.20 * b.trunk), 0, 1)
    vee = np.where(d < 1, 0.985 * hip * np.maximum(d, 1e-4) ** 0.74, 9.0)
    soft = np.minimum(below, vee) - 0.03 * hip * np.exp(-(((below - vee) / (0.06 * hip)) ** 2)) * (d < 1)
    below = np.where(t > 0.75, soft, below)
    half = np.maximum(np.where(y < corner_y, above, below), 0.012 * hip)
    loin = (t > 0.48) & (t < 0.70)
    for _ in range(3):  # widths of the build exactly at their stations
        half = _exact(half, t, RIB, rib)
        narrowest = float(t[loin][np.argmin(half[loin])]) if waist < min(rib, pelvis) else 0.60
        half = _exact(half, t, narrowest, waist)
        half = _exact(half, t, PELVIS, pelvis, 0.05)
    return half, narrowest


def _rising(knots: list[tuple[float, float]]) -> list[tuple[float, float]]:
    """Knots at places that rise: those a low shoulder's corner has reached are left out."""
    out = knots[:2]
    return out + [k for k in knots[2:] if k[0] > out[-1][0] + 0.02]


def _exact(half: Array, t: Array, at: float, value: float, wide: float = 0.10) -> Array:
    share = value / max(float(np.interp(at, t, half)), 1e-9)
    return np.asarray(half * (1 + (share - 1) * hill(t, at, wide)))


def _depths(b: Build, y: Array, t: Array) -> tuple[Array, Array]:
    """Front and back of each row, heads before the plumb."""
    kz, kh = b.chest / 0.9, 0.45 * b.chest / 0.9 + 0.55 * b.hip / 1.42
    belly = 0.10 * (b.form.belly - 0.3)
    front = profile(t, [(p, v + _BELLY.get(p, 0.0) * belly) for p, v in _FRONT], 0.02)
    back = profile(t, _BACK, 0.02)
    scale = kz + (kh - kz) * smooth_step((t - 0.45) / 0.3)
    deep = 0.53 * b.neck_width
    low = b.shoulder_line + 0.02 * b.trunk
    axis = np.interp(y, [0.64, 0.80, low], [b.neck_axis + 0.015, b.neck_axis, -0.165 * kz])
    body = smooth_step((t + 0.10) / 0.14)  # above, the neck has a depth of its own
    front = front * scale * body + (axis + deep) * (1 - body)
    back = back * scale * body + (axis - 1.02 * deep) * (1 - body)
    ribs = (t > 0.15) & (t < 0.45)
    share = 1 + (b.chest / float((front - back)[ribs].max()) - 1) * hill(t, 0.28, 0.25)
    middle = (front + back) / 2
    return middle + (front - middle) * share, middle + (back - middle) * share


def _relief(b: Build, x: Array, y: Array, t: Array, corner_x: float, corner_y: float) -> Array:
    """Depth offsets ``(rows, spokes)``: trapezius, chest, rib arch; furrow, blades, columns, seat."""
    f, trunk, top = b.form, b.trunk, b.shoulder_line
    kz, kh = b.chest / 0.9, 0.45 * b.chest / 0.9 + 0.55 * b.hip / 1.42
    rib, waist, hip, neck = b.ribcage / 2, b.waist / 2, b.hip / 2, b.neck_width / 2
    ax, s = np.abs(x), smooth_step
    ahead, behind = np.clip(COS * 4, 0, 1)[None], np.clip(-COS * 4, 0, 1)[None]
    corner = (corner_y - top) / trunk
    # the trapezius lies behind, the collar bones carry the ends forward again
    ridge = s((t + 0.22) / 0.16) * (1 - s((t - corner) / 0.14))
    out = np.clip((ax - neck) / max(corner_x - neck, 0.05), 0, 1)
    dz = -ridge[:, None] * 0.085 * kz * np.sin(np.pi * np.clip(out * 0.8 + 0.1, 0, 1)) * np.where(COS > 0, 1, 0.15) * (out > 0)
    chest_y = top + 0.305 * trunk
    plane = min(max(f.muscle, 0), 1.5) * (1 - f.feminine) * (0.055 - 0.02 * f.softness) * kz
    if plane > 0:
        fall = chest_y - 0.035 * trunk + 0.045 * trunk * np.clip(1 - ax / rib, 0, 1)
        on = s((y - top - 0.05 * trunk) / (0.19 * trunk)) * (1 - s((y - fall) / (0.075 * trunk)))
        dz = dz + ahead * plane * on * s(ax / (0.16 * rib)) * (1 - s((ax - 0.80 * rib) / (0.30 * rib)))
    if f.bust > 0:
        round_ = swelling(ax, y, 0.47 * rib, top + 0.315 * trunk, 0.47 * rib, 0.20 * trunk, 0.085 * trunk, 1.35)
        dz = dz + ahead * round_ * f.bust * 0.33 * rib
    lean = float(np.clip(f.muscle * (1 - 0.7 * f.softness), 0, 1.3))
    arch = top + 0.385 * trunk + 0.19 * trunk * np.clip(ax / rib, 0, 1) ** 1.3
    hollow = s((y - arch) / (0.05 * trunk)) * (1 - s((y - top - 0.70 * trunk) / (0.12 * trunk)))
    dz = dz - ahead * 0.020 * kz * lean * hollow * (1 - s((ax - 0.55 * waist) / (0.4 * waist)))
    stripe = (s((t - 0.33) / 0.08) * (1 - s((t - 0.60) / 0.06)))[:, None]
    dz = dz - ahead * 0.010 * float(np.clip(f.muscle - f.softness, 0, 1)) * hill(ax, 0.0, 0.035) * stripe
    furrow = 0.030 * kz * (1 - 0.4 * f.softness) * min(1.0, 0.4 + 0.6 * f.muscle)
    spine = (s((t - 0.02) / 0.15) * (1 - s((t - 0.82) / 0.08)))[:, None]
    dz = dz + behind * furrow * hill(ax, 0.0, 0.085 * trunk / 2.54) * spine
    blade = swelling(ax, y, 0.56 * rib, top + 0.23 * trunk, 0.38 * rib, 0.14 * trunk, 0.11 * trunk, 1.2)
    dz = dz - behind * 0.028 * kz * (1 - 0.5 * f.softness) * blade * min(1.2, 0.4 + 0.6 * f.muscle)
    column = swelling(ax, y, 0.22 * rib, top + 0.56 * trunk, 0.20 * rib, 0.2 * trunk, 0.16 * trunk, 1.2)
    dz = dz - behind * 0.016 * kz * column * f.muscle * (1 - 0.5 * f.softness)
    seat = swelling(ax, y, 0.46 * hip, top + 0.87 * trunk, 0.56 * hip, 0.22 * trunk, 0.135 * trunk, 1.1)
    dz = dz - behind * seat * 0.115 * kh * f.seat
    cleft = (s((t - 0.80) / 0.07) * (1 - s((t - 1.0) / 0.03)))[:, None]
    return np.asarray(dz + behind * 0.03 * kh * f.seat * hill(ax, 0.0, 0.10 * hip) * cleft)
