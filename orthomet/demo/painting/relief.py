"""A face as a relief: depth over the front picture plane, built from the same traits as a plan, and shaded.

Head units; x right, t the station. Depth z points to the viewer. Details are added as soft bumps: sockets, eyeballs,
brow ridge, cheekbones, nose, lips, chin.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from orthomet.core.head.outline import half_width, width_at
from orthomet.core.kinds import Array


@dataclass(frozen=True)
class Sitter:
    """Who is painted: plan traits, and what a plan does not say."""

    table: dict[str, float]
    nose_depth: float = 0.09
    lips: float = 1.0
    brow_ridge: float = 0.012
    cheek: float = 0.018
    skin: tuple[float, float, float] = (0.86, 0.69, 0.58)
    lip: tuple[float, float, float] = (0.68, 0.41, 0.40)
    iris: tuple[float, float, float] = (0.33, 0.44, 0.52)
    hair: tuple[float, float, float] = (0.46, 0.44, 0.42)
    brow: tuple[float, float, float] = (0.36, 0.33, 0.31)
    age: float = 0.5
    freckles: int = 0
    extra: dict[str, float] = field(default_factory=dict)


def depth(s: Sitter, x: Array, t: Array) -> tuple[Array, Array]:
    """Depth and inside-mask of the head over a grid of points (same shapes)."""
    p = s.table
    a = half_width(p)
    w = np.maximum(width_at(a, np.clip(t, 0, 1)), 1e-6)
    inside = (np.abs(x) < w) & (t > 0) & (t < 1)
    q = np.clip(np.abs(x) / w, 0, 1)
    n = np.interp(t, [0, 0.3, 0.55, 0.8, 1], [2.0, 2.0, 2.05, 1.95, 1.9])
    # front profile: forehead, a nearly flat face, the chin tucked under
    front = np.interp(
        t,
        [0, 0.03, 0.09, 0.18, 0.30, 0.42, 0.60, 0.80, 0.90, 0.955, 0.985, 1.0],
        [0.02, 0.15, 0.255, 0.33, 0.385, 0.405, 0.40, 0.40, 0.395, 0.372, 0.340, 0.30],
    )
    back = np.interp(t, [0, 0.27, 0.56, 0.8, 1], [-0.02, -0.07, 0.06, 0.10, 0.16])
    deep = p["face_width_hh"] / 0.59  # a broad head is a deep one
    z = (back + (front - back) * (1 - q**n) ** (1 / n)) * deep
    return np.where(inside, z + _details(s, x, t) * np.clip((1 - q) * 8, 0, 1), np.nan), inside


def _bump(x: Array, t: Array, cx: float, cy: float, sx: float, sy: float) -> Array:
    out: Array = np.exp(-(((x - cx) / sx) ** 2) - ((t - cy) / sy) ** 2)
    return out


def _details(s: Sitter, x: Array, t: Array) -> Array:
    p = s.table
    fw = p["face_width_hh"]
    ew = p["eye_width_fw"] * fw
    ecx = (p["eye_gap_ew"] + 1) * ew / 2
    op = p["eye_opening_ew"] * ew
    eye, brow, base, mouth = p["eye_station"], p["brow_station"], p["nose_base_station"], p["mouth_station"]
    nl, nw, mw = p["nose_length_hh"], p["nose_width_fw"] * fw / 2, p["mouth_width_fw"] * fw / 2
    ax = np.abs(x)
    root, tip = base - nl, base - 0.15 * nl
    k = s.nose_depth * min(1.0, nl / 0.2 + 0.25)
    ridge = np.interp(
        t,
        [root - 0.06, root, root + 0.45 * nl, tip - 0.10 * nl, tip, base - 0.03 * nl, base, base + 0.012],
        [0, -0.004, 0.46 * k, 0.90 * k, k, 0.72 * k, 0.24 * k, 0],
    )
    width = np.interp(t, [root, root + 0.4 * nl, tip, base], [0.30 * nw + 0.006, 0.36 * nw + 0.004, 0.52 * nw, 0.62 * nw])
    z = ridge * np.exp(-((ax / np.maximum(width, 1e-4)) ** 2.2))
    z = z + 0.36 * k * _bump(ax, t, 0.70 * nw, base - 0.10 * nl, 0.34 * nw, 0.10 * nl + 0.006)
    z = z - 0.034 * _bump(ax, t, ecx * 1.15, eye, 0.85 * ew, 0.62 * op + 0.026)
    z = z + 0.022 * _bump(ax, t, ecx, eye, 0.44 * ew, 0.62 * op + 0.008)
    z = z + s.brow_ridge * _bump(ax, t, ecx * 0.95, brow + 0.012, 0.75 * ew, 0.026)
    z = z + s.cheek * _bump(ax, t, 0.35 * fw, eye + 0.62 * (base - eye), 0.08, 0.055)
    up, low = p["upper_lip_hh"], p["lower_lip_hh"]
    z = z + 0.012 * s.lips * np.exp(-((ax / (0.75 * mw)) ** 2.4)) * (
        _bump(0 * x, t, 0, mouth - 0.5 * up, 1, 0.6 * up) + 1.15 * _bump(0 * x, t, 0, mouth + 0.5 * low, 1, 0.6 * low)
    )
    z = z - 0.008 * s.lips * np.exp(-((ax / (0.9 * mw)) ** 2)) * _bump(0 * x, t, 0, mouth, 1, 0.006)
    z = (
        z
        - 0.010 * _bump(ax, t, 0, mouth + 0.36 * (1 - mouth), 0.09, 0.020)
        + 0.020 * _bump(ax, t, 0, mouth + 0.66 * (1 - mouth), 0.10, 0.040)
    )
    z = z - 0.006 * s.age * np.exp(
        -(((ax - (nw + (mw - nw) * np.clip((t - base) / (mouth - base + 0.02), 0, 1.3) + 0.018)) / 0.012) ** 2)
    ) * ((t > base - 0.04) & (t < mouth + 0.03))
    z = z - 0.010 * _bump(ax, t, 0.40 * fw, mouth - 0.03, 0.05, 0.06) * (0.4 + s.age)
    return np.asarray(z)


def normals(z: Array, step: float) -> Array:
    """Surface normals of a depth map sampled ``step`` heads apart, shape ``(h, w, 3)``; nan outside."""
    gy, gx = np.gradient(z, step)
    n = np.dstack([-gx, -gy, np.ones_like(z)])
    out: Array = n / np.linalg.norm(n, axis=2, keepdims=True)
    return out


def light(n: Array, key: tuple[float, float, float] = (-0.42, -0.58, 0.70)) -> Array:
    """Wrapped key light from the upper left, a weak fill, sky from above: brightness about 0.3–1.2."""
    k = np.array(key) / np.linalg.norm(key)
    d = n @ k
    wrap = np.clip((d + 0.35) / 1.35, 0, 1) ** 1.25
    f = np.array([0.75, -0.05, 0.6])
    fill = np.clip((n @ (f / np.linalg.norm(f)) + 0.3) / 1.3, 0, 1) * 0.18
    sky = 0.5 - 0.5 * n[..., 1]
    out: Array = 0.40 * (0.70 + 0.30 * sky) + 0.66 * wrap + fill
    return out


def gloss(n: Array, power: float = 22.0) -> Array:
    h = np.array([-0.42, -0.58, 0.70]) / np.linalg.norm([-0.42, -0.58, 0.70]) + np.array([0, 0, 1.0])
    out: Array = np.clip(n @ (h / np.linalg.norm(h)), 0, 1) ** power
    return out
