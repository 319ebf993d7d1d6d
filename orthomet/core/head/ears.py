"""Ears: a cup with a rolled rim that stands off the head, hinged before it; and the lines a draughtsman puts in it."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from ..ink.surface import Line, Pen, Stuff, Surface, grid_normals
from ..kinds import Array
from .features import curve_through
from .solid import Solid

_RIM = np.array([
    (0.0, 0.10), (0.02, -0.18), (0.10, -0.40), (0.26, -0.50), (0.42, -0.46), (0.52, -0.30), (0.53, -0.08), (0.46, 0.14),
    (0.36, 0.30), (0.27, 0.44), (0.15, 0.50), (0.06, 0.44), (0.01, 0.28),
])  # fmt: skip
_FOLD = np.array(
    [(0.09, -0.20), (0.16, -0.36), (0.28, -0.41), (0.38, -0.34), (0.42, -0.18), (0.40, 0.02), (0.32, 0.18), (0.25, 0.29)]
)
_SHELL = np.array(
    [(0.05, 0.02), (0.11, 0.06), (0.11, 0.14), (0.10, 0.22), (0.15, 0.26), (0.21, 0.22), (0.26, 0.10), (0.28, -0.04)]
)
"""An ear from its side, in ear heights: x backward from its root, y down from its middle (own)."""
_CUP = np.array([
    (0.0, -0.05), (0.35, -0.05), (0.60, -0.02), (0.78, 0.005), (0.90, 0.028), (0.97, 0.024), (1.0, 0.0), (0.97, -0.035),
    (0.84, -0.060), (0.55, -0.075), (0.30, -0.17),
])  # fmt: skip
"""From the middle of the shell over the rim to the root behind: share of the way to the rim, height over its plane in
ear heights (own)."""
_RIM_ROW = 6


@lru_cache(maxsize=24)
def ear_curves(head: Solid, side: int) -> tuple[Array, ...]:
    """Rim, fold and shell of an ear as 3-D curves; the rim's top and bottom lie exactly at the plan's stations."""
    top, bottom = head.table["ear_top_station"], head.table["ear_bottom_station"]
    tall, middle = bottom - top, (top + bottom) / 2
    out = []
    lean, stands = np.radians(5.0), np.radians(head.make.ear_open)
    rim = _leaning(curve_through(np.vstack([_RIM, _RIM[:1]]), 5), lean)
    high, low = rim[:, 1].min(), rim[:, 1].max()
    for flat in (rim, _leaning(curve_through(_FOLD, 5), lean), _leaning(curve_through(_SHELL, 5), lean)):
        v = (flat[:, 1] - high) / (low - high)
        t = top + v * tall
        e = flat[:, 0] * min(tall, 0.30)
        z = 0.012 - e * np.cos(stands)
        root = head.side(np.full_like(t, middle), np.zeros_like(t))
        drift = 0.75 * (head.side(t, np.zeros_like(t)) - root)
        x = root * 0.985 + drift + np.maximum(e, -0.01) * np.sin(stands)
        out.append(np.column_stack([side * x, t, z]))
    return tuple(out)


def _leaning(flat: Array, angle: float) -> Array:
    """The ear leans back: its top lies behind its lobe."""
    c, s = np.cos(angle), np.sin(angle)
    return np.column_stack([flat[:, 0] * c - flat[:, 1] * s, flat[:, 0] * s * 0.3 + flat[:, 1] * c])


@lru_cache(maxsize=24)
def ear_surface(head: Solid, side: int) -> Surface:
    """The ear as a closed cup: its rim is exactly the curve of :func:`ear_curves`."""
    rim = ear_curves(head, side)[0]
    tall = head.table["ear_bottom_station"] - head.table["ear_top_station"]
    middle = rim.mean(0)
    a = rim - middle
    plane = np.cross(a[:-1], a[1:]).sum(0)
    plane = plane / max(float(np.linalg.norm(plane)), 1e-12) * np.sign(plane[0] * side or 1.0)
    share, height = _CUP.T
    points = middle + share[:, None, None] * a + (height * tall)[:, None, None] * plane
    points = np.concatenate([points, points[-1:].mean(1, keepdims=True) + 0 * points[-1:]])
    normals = grid_normals(points, True)
    if float((normals[_RIM_ROW] * (points[_RIM_ROW] - middle)).sum()) < 0:
        normals = -normals
    normals[0], normals[-1] = plane, -plane
    rows = np.arange(len(points))
    fade = np.where((rows >= _RIM_ROW - 2) & (rows <= _RIM_ROW + 2), 1.0, -1.0)  # only its rim is drawn
    fade = np.broadcast_to(fade[:, None], points.shape[:2])
    return Surface(f"ear {'l' if side > 0 else 'r'}", points, normals, Stuff.SKIN, wraps=True, fade=fade)


def ear_lines(head: Solid, side: int, full: bool) -> tuple[Line, ...]:
    """The fold under the rim and the shell, both running out; the hinge from the cheek up into the rim's root."""
    k = "l" if side > 0 else "r"
    _, fold, shell = ear_curves(head, side)
    if not full:
        return ()
    out = []
    for name, c in (("ear fold", fold), ("ear shell", shell)):
        u = np.linspace(0, 1, len(c))
        out.append(Line(c, Pen.STRAND, 1.1 * np.sin(np.pi * u) ** 0.5, f"ear {k}", name=f"{name} {k}", lift=0.016))
    return tuple(out)
