"""The demo's pencil drawings: faces on paper, drawn from the plan's own curves, on a sheet turned a little."""

from __future__ import annotations

import cv2
import numpy as np

from orthomet.core.check.moves import EYE, MOUTH
from orthomet.core.head.construct import feature_paths, outline_path
from orthomet.core.head.features import ear, hairline, neck
from orthomet.core.head.outline import half_width
from orthomet.core.kinds import Array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.picture import Ink

from .canvas import Canvas, smooth

MOUTH_LOW, EYE_LARGER, TURN = 0.04, 1.2, 1.5


def with_faults(points: Array) -> Array:
    """The mouth 4 % of the head too low, the character's left eye 20 % too large."""
    out = points.copy()
    for base in MOUTH:
        for name in [base] if base in FRONT.index else [f"{base}_l", f"{base}_r"]:
            out[FRONT.index[name], 1] += MOUTH_LOW
    eye = [FRONT.index[f"{n}_l"] for n in EYE]
    centre = points[[FRONT.index["endocanthion_l"], FRONT.index["exocanthion_l"]]].mean(0)
    out[eye] = centre + (points[eye] - centre) * EYE_LARGER
    return out


PAGE = (1300, 1250, 860.0, 640.0, 165.0)
"""Width, height, pixels a head, midline and crown of a drawing, pixels."""
SMALL = (650, 640, 430.0, 320.0, 88.0)
"""The same for a sketch-book page."""


def paint_drawing(table: dict[str, float], plan: Array, seed: int = 5) -> tuple[Array, dict[str, tuple[float, float]]]:
    """An RGB picture (uint8) of the faulty drawing and its true landmarks in pixels."""
    return pencil_face(table, with_faults(plan), seed)


def pencil_face(
    table: dict[str, float],
    points: Array,
    seed: int,
    page: tuple[int, int, float, float, float] = PAGE,
    turn: float = TURN,
    hair: bool = True,
) -> tuple[Array, dict[str, tuple[float, float]]]:
    """A face drawn in pencil: RGB picture (uint8) and its true landmarks in pixels. ``turn``: of the sheet, degrees."""
    rng = np.random.default_rng(seed)
    c = Canvas(*page)
    fine = page[2] / PAGE[2]
    graphite = np.zeros((c.h, c.w))
    a = half_width(table)
    wob = np.deg2rad(turn)
    about = np.array([[np.cos(wob), np.sin(wob)], [-np.sin(wob), np.cos(wob)]])

    def turned(p: Array) -> Array:
        return np.asarray((np.asarray(p) - [0, 0.5]) @ about + [0, 0.5])

    def stroke(p: Array, weight: float, width: int, passes: int = 3, closed: bool = False) -> None:
        p = np.vstack([p, p[:1]]) if closed else p
        for _ in range(passes):
            drift = np.cumsum(rng.normal(0, 0.00022, (len(p), 2)), axis=0)
            q = np.round(c.to_px(turned(p + drift + rng.normal(0, 0.0012, 2))) * 16).astype(np.int32)
            m = np.zeros((c.h, c.w), np.uint8)
            cv2.polylines(m, [q], False, 255, max(1, round(width * fine**0.5)), cv2.LINE_AA, 4)
            graphite[:] = 1 - (1 - graphite) * (1 - weight * rng.uniform(0.7, 1.1) * m / 255.0)

    outline = outline_path(a)
    stroke(outline, 0.34, 3, 4, closed=True)
    for side in (1, -1):
        e = ear(side, table["ear_top_station"], table["ear_bottom_station"], a)
        stroke(e.rim, 0.34, 3)
        stroke(e.inner, 0.22, 2)
    for n in neck(table["neck_width_hw"] * table["head_width_hh"] / 2, a):
        stroke(n, 0.32, 3)
    h = hairline(table["hairline_station"], a, table["ear_top_station"])
    stroke(h, 0.24, 2)
    if hair:
        _hair(stroke, h, table, a, rng)
    weights = {Ink.FEATURE: (0.46, 3, 4), Ink.DETAIL: (0.28, 2, 2)}
    for path in feature_paths(points):
        if path.filled:
            shade = c.mask(turned(path.points), None, 2.0 * fine)
            grain = cv2.GaussianBlur(rng.random((c.h, c.w)), (0, 0), 0.8)
            graphite[:] = 1 - (1 - graphite) * (
                1 - (0.75 if path.role in (Ink.DARK, Ink.PUPIL) else 0.38) * shade * (0.7 + 0.6 * grain)
            )
        else:
            w, width, passes = weights[path.role]
            stroke(path.points, w, width, passes, closed=path.closed)
    for k in range(26):  # hatching under the jaw
        x = -0.17 + 0.013 * k
        stroke(smooth([(x, 1.02 + 0.02 * np.cos(6 * x)), (x + 0.04, 1.075)], 8), 0.13, 2, 1)
    paper = np.array([0.955, 0.94, 0.905]) * (
        1 + 0.012 * cv2.GaussianBlur(rng.standard_normal((c.h, c.w)), (0, 0), 1.2)[..., None]
    )
    paper = paper * (1 - 0.05 * np.linspace(-1, 1, c.w)[None, :, None] ** 2)
    tooth = 0.82 + 0.36 * cv2.GaussianBlur(rng.random((c.h, c.w)), (0, 0), 0.9)
    ink = np.clip(graphite * tooth, 0, 1)[..., None]
    picture = np.clip(paper * (1 - ink) + np.array([0.20, 0.20, 0.22]) * ink, 0, 1)
    px = c.to_px(turned(np.nan_to_num(points)))
    truth = {n: (float(x), float(y)) for n, (x, y), p in zip(FRONT.names, px, points, strict=True) if np.isfinite(p).all()}
    return (picture * 255).astype(np.uint8), truth


def _hair(stroke: object, line: Array, table: dict[str, float], a: Array, rng: np.random.Generator) -> None:
    """A side parting and loose strands over the skull."""
    w = table["head_width_hh"] / 2
    top, ear_top = table["hairline_station"], table["ear_top_station"]
    outer = smooth(
        [
            (-w * 1.12, ear_top + 0.04),
            (-w * 1.13, 0.25),
            (-w * 0.95, 0.07),
            (-0.30 * w, -0.045),
            (0.55 * w, -0.055),
            (w * 1.02, 0.08),
            (w * 1.14, 0.26),
            (w * 1.12, ear_top + 0.05),
        ],
        120,
    )
    stroke(outer, 0.32, 3, 4)  # type: ignore[operator]
    for k in range(90):
        s = 1 if k % 2 else -1
        u = rng.random()
        part = (-0.30 * w, -0.02 + 0.2 * u * top)
        end = (s * w * rng.uniform(0.92, 1.10), rng.uniform(0.18, ear_top + 0.03))
        mid = (part[0] + (end[0] - part[0]) * 0.55, min(part[1], end[1]) + 0.04 * u + 0.015)
        stroke(smooth([part, mid, end], 24), 0.12, 1, 1)  # type: ignore[operator]
