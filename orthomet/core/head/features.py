"""Feature curves from landmarks: lids, iris, brow, nose, mouth, ear, neck and hairline as an artist draws them.

Every function takes the landmarks it needs as ``(x, y)`` arrays in head units (y down) and returns polylines. Shapes are
own, after common practice: the upper lid's height lies toward the inner corner, the lower lid's toward the outer one; a
closed mouth is a stretched M between two corners.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..kinds import Array
from .outline import width_at

_P = np.linspace(0, 1, 33)
_ARC = np.linspace(0, 2 * np.pi, 41)
_COS, _SIN = np.cos(_ARC), np.sin(_ARC)
_ACROSS = np.linspace(-1, 1, 49)  # from the character's right to the left, over a mouth
_UNDER = np.linspace(-1, 1, 25)
_WING = np.linspace(-0.55 * np.pi, 0.60 * np.pi, 21)
_SHORT, _BRIDGE = np.linspace(0, 1, 9), np.linspace(0, 1, 21)


@dataclass(frozen=True)
class EyeCurves:
    upper: Array
    lower: Array
    crease: Array
    opening: Array
    iris: Array
    pupil: Array


@dataclass(frozen=True)
class LidShape:
    """Where the upper lid is highest (0 inner corner … 1 outer), how pointed both arches are (low is boxy), the pupil's
    share of the iris; a slant below 0 lets the outer ends hang."""

    peak: float = 0.46
    arch: float = 0.75
    under: float = 0.8
    pupil: float = 0.42
    slant: float = 0.0


USUAL_LIDS = LidShape()


@lru_cache(maxsize=64)
def _lids(shape: LidShape) -> tuple[Array, Array]:
    """Heights of both lids over the way from the inner corner to the outer, 1 at their highest."""
    out = []
    for peak, power, slant in ((shape.peak, shape.arch, shape.slant), (1 - shape.peak, shape.under, 0.0)):
        h = np.clip(np.sin(np.pi * _P ** (np.log(0.5) / np.log(peak))), 0, 1) ** power * (1 + 0.4 * slant * (2 * _P - 1))
        h[0] = h[-1] = 0.0
        out.append(h / h.max())
    return out[0], out[1]


def eye(
    inner: Array,
    outer: Array,
    top: Array,
    bottom: Array,
    iris_in: Array,
    iris_out: Array,
    crease: Array,
    shape: LidShape = USUAL_LIDS,
) -> EyeCurves:
    """One eye. Lids run from inner to outer corner through the heights of ``top`` and ``bottom``."""
    base = inner + (outer - inner) * _P[:, None]
    middle = (inner[1] + outer[1]) / 2
    over, under = _lids(shape)
    upper = np.column_stack([base[:, 0], base[:, 1] - (middle - top[1]) * over])
    lower = np.column_stack([base[:, 0], base[:, 1] + (bottom[1] - middle) * under])
    lift = max(top[1] - crease[1], 0.0)
    fold = np.column_stack([base[:, 0], upper[:, 1] - lift * np.clip(np.sin(np.pi * _P), 0, 1) ** 0.5])[3:-1]
    centre, radius = (iris_in + iris_out) / 2, abs(float(iris_out[0] - iris_in[0])) / 2
    tall = iris_height(float(bottom[1] - top[1]), float(abs(outer[0] - inner[0])))
    opening = np.concatenate([upper, lower[::-1]])
    iris, pupil = (held_by_lids(centre, r, tall, upper, lower) for r in (radius, radius * shape.pupil))
    return EyeCurves(upper, lower, fold, opening, iris, pupil)


def iris_height(opening: float, width: float) -> float:
    """Height of the iris in widths: a tall opening holds a taller one (common practice of stylised eyes)."""
    return float(np.clip(opening / max(width, 1e-9) * 1.25, 1.0, 1.35))


def held_by_lids(centre: Array, radius: float, tall: float, upper: Array, lower: Array) -> Array:
    """A round the lids hold: an ellipse cut by both lids and the corners."""
    x, y = centre[0] + radius * _COS, centre[1] + radius * tall * _SIN
    o = np.argsort(upper[:, 0])
    x = np.clip(x, upper[o[0], 0], upper[o[-1], 0])
    y = np.clip(y, np.interp(x, upper[o, 0], upper[o, 1]), np.interp(x, lower[o, 0], lower[o, 1]))
    return np.column_stack([x, y])


def brow(inner: Array, peak: Array, outer: Array, thickness: float, taper: float = 0.85, arch: float = 1.0) -> Array:
    """The brow as a shape: full near its head, thinner at its tail by ``taper``; ``arch`` of its own bend, 0 straight."""
    k = abs((peak[0] - inner[0]) / (outer[0] - inner[0] or 1e-9))
    k = float(np.clip(k, 0.2, 0.9))
    rise = np.where(k > _P, np.sin(np.pi / 2 * _P / k), np.cos(np.pi / 2 * np.clip((_P - k) / (1 - k), 0, 1)))
    floor = np.where(k > _P, inner[1], outer[1])
    top = floor + (peak[1] - floor) * rise
    chord = inner[1] + (outer[1] - inner[1]) * _P
    top = chord + (top - chord) * arch
    x = inner[0] + (outer[0] - inner[0]) * _P
    full = np.where(_P < 0.10, 0.75 + 4 * _P, np.clip(1.15 * (1 - np.clip((_P - k) / (1 - k), 0, 1) ** 1.4), 0.12, 1.0))
    full = 1 + (full - 1) * min(taper / 0.85, 1.15)
    full[0] *= 0.35  # no blunt end at its head
    return np.concatenate([np.column_stack([x, top]), np.column_stack([x, top + thickness * full])[::-1]])


@dataclass(frozen=True)
class MouthCurves:
    line: Array
    upper: Array
    lower: Array


def mouth(
    right: Array, left: Array, middle: Array, top: Array, bottom: Array, bow: float = 1.0, bend: float = 3.0
) -> MouthCurves:
    """Closed mouth between two corners through ``middle``; lips to ``top`` and ``bottom``.

    ``bow`` is how deep the middle dips, of the usual; ``bend`` how late the line turns toward its corners.
    """
    p = _ACROSS
    half = (left - right) / 2
    axis = (left + right) / 2 + half * p[:, None]
    k = abs(float(half[0])) / 0.116
    dip = bow * k * (0.0045 * np.exp(-((p / 0.16) ** 2)) - 0.004 * np.exp(-(((np.abs(p) - 0.34) / 0.2) ** 2)))
    settle = (middle[1] - (axis[24, 1] + dip[24])) * (1 - np.abs(p) ** bend)
    line = np.column_stack([axis[:, 0], axis[:, 1] + dip + settle])
    up, down = max(middle[1] - top[1], 1e-4), max(bottom[1] - middle[1], 1e-4)
    upper = line[:, 1] - up * (1 - np.abs(p) ** 1.6) * (
        1.10 - 0.10 * bow * np.exp(-((p / 0.13) ** 2)) - 0.10 * (1 - np.exp(-((p / 0.4) ** 2)))
    )
    lower = axis[:, 1] + dip[24] + settle + down * (1 - np.abs(p) ** 2.2)
    return MouthCurves(line, np.column_stack([axis[:, 0], upper]), np.column_stack([axis[:, 0], lower])[6:-6])


@dataclass(frozen=True)
class NoseCurves:
    base: Array
    wings: tuple[Array, Array]
    nostrils: tuple[Array, Array]
    bridge: Array


def nose(right: Array, left: Array, base: Array, tip: Array, root: Array) -> NoseCurves:
    """Nose from the front: the base with its septum, two wings, two nostrils and the lit side of the bridge."""
    half, length = (left[0] - right[0]) / 2, base[1] - root[1]
    cx = (left[0] + right[0]) / 2
    size = float(min(1.0, length / 0.235, half / 0.05))
    p = _UNDER
    under = np.column_stack([base[0] + 0.5 * half * p, base[1] - 0.016 * size * np.abs(p) ** 2])
    wings, nostrils = [], []
    for s, wing in ((-1, right), (1, left)):
        a = _WING
        r = 0.30 * half
        wings.append(
            np.column_stack([wing[0] - s * r + s * r * np.cos(a), wing[1] + min(0.105 * length, 0.9 * half) * np.sin(a)])
        )
        q = _SHORT
        nostrils.append(
            np.column_stack([cx + s * half * (0.28 + 0.40 * q), base[1] - 0.03 * length - 0.035 * length * np.sin(np.pi * q)])
        )
    q = _BRIDGE
    side = half * (0.30 + 0.06 * np.cos(2 * np.pi * q) + 0.16 * q**3)
    bridge = np.column_stack([cx + side, root[1] + (tip[1] - root[1]) * (0.04 + 0.86 * q)])
    return NoseCurves(under, (wings[0], wings[1]), (nostrils[0], nostrils[1]), bridge)


@dataclass(frozen=True)
class EarCurves:
    rim: Array
    inner: Array


def ear(side: int, top: float, bottom: float, outline: Array) -> EarCurves:
    """An ear from the front, its roots on the outline ``a`` of :func:`outline.half_width`; ``side`` +1 is the character's left."""
    h = bottom - top
    out = np.array([0.000, 0.018, 0.042, 0.050, 0.046, 0.036, 0.028, 0.020, 0.008, 0.001]) * min(1.0, h / 0.22)
    u = np.array([0.07, 0.0, 0.07, 0.24, 0.46, 0.68, 0.86, 0.985, 1.0, 0.93])
    rim = curve_through(np.column_stack([width_at(outline, top + u * h) + out, top + u * h]), 8)
    v = np.array([0.16, 0.20, 0.34, 0.52, 0.64])
    dx = np.array([0.006, 0.026, 0.030, 0.020, 0.004]) * min(1.0, h / 0.22)
    inner = curve_through(np.column_stack([width_at(outline, top + v * h) + dx, top + v * h]), 6)
    flip = np.array([side, 1])
    return EarCurves(rim * flip, inner * flip)


@lru_cache(maxsize=8)
def _blend(steps: int) -> Array:
    """Catmull–Rom weights of four neighbours at ``steps`` places of a segment, shape ``(steps, 4)``."""
    t = np.linspace(0, 1, steps, endpoint=False)[:, None]
    return 0.5 * np.hstack([-t + 2 * t**2 - t**3, 2 - 5 * t**2 + 3 * t**3, t + 4 * t**2 - 3 * t**3, -(t**2) + t**3])


def curve_through(points: Array, steps: int) -> Array:
    """Catmull–Rom through the points, ``steps`` samples a segment; shape ``((n − 1)·steps + 1, 2)``."""
    n = len(points)
    at = np.clip(np.arange(n - 1)[:, None] + np.arange(-1, 3), 0, n - 1)
    return np.concatenate([(_blend(steps) @ points[at]).reshape(-1, 2), points[-1:]])


def neck(half: float, outline: Array, end: float = 1.24) -> tuple[Array, Array]:
    """Both sides of the neck, from where they leave the jaw down into the slope of the shoulders."""
    t = np.linspace(0.55, end, 80)
    x = half * (1 - 0.04 * np.sin(np.pi * np.clip((t - 0.85) / (end - 0.85), 0, 1))) + 3.2 * np.clip(t - (end - 0.15), 0, 1) ** 2
    free = (x > np.where(t < 1, width_at(outline, np.clip(t, 0, 1)), 0)) & (t > 0.6)
    start = int(np.argmax(free)) if free.any() else len(t) - 1
    side = np.column_stack([x, t])[start:]
    return side, side * np.array([-1, 1])


def hairline(station: float, outline: Array, ear_top: float) -> Array:
    """The hairline's front arc, from one temple over the forehead to the other, ending at the sideburns."""
    side_t = (station * 0.45 + ear_top * 0.55, ear_top + 0.02)
    w0, w1 = (float(width_at(outline, t)) for t in side_t)
    half = curve_through(np.array([
        (0.0, station), (0.38 * w0, station + 0.004), (0.70 * w0, station + 0.035),
        (0.86 * w0, side_t[0] - 0.02), (0.88 * w1, side_t[1] - 0.04), (0.955 * w1, side_t[1] + 0.03),
    ]), 8)  # fmt: skip
    return np.vstack([(half * np.array([-1, 1]))[::-1], half[1:]])
