"""A figure standing to be measured: the ticket clerk in shirt sleeves, painted over exactly known figure landmarks."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import cv2
import numpy as np

from orthomet.core.head.construct import feature_paths, outline_path
from orthomet.core.head.features import ear
from orthomet.core.head.outline import half_width
from orthomet.core.head.points import plan_points
from orthomet.core.kinds import Array
from orthomet.core.landmarks.templates import template
from orthomet.core.landmarks.views import FIGURE
from orthomet.core.picture import Ink

from .canvas import Canvas, brushwork, smooth
from .relief import Sitter

At = Callable[..., Any]
"""Where a landmark lies, by name; further numbers move it."""

WIDTH, HEIGHT, PX, MID, CROWN = 620, 1180, 132.0, 310.0, 62.0
SHIRT, WAISTCOAT, TROUSERS, BOOTS = (0.80, 0.77, 0.70), (0.27, 0.36, 0.33), (0.30, 0.29, 0.31), (0.20, 0.16, 0.14)
LONG, SLIGHT = 8.1, 0.9
"""Heads tall, and breadth beside the template's."""


def clerk_points() -> Array:
    """His landmarks in heads, x from the midline, y from the crown; schema order of the figure view."""
    xy = template(FIGURE).copy()
    below = (LONG - 1) / (xy[FIGURE.index["floor"], 1] - 1)
    xy[:, 1] = np.where(xy[:, 1] > 1, 1 + (xy[:, 1] - 1) * below, xy[:, 1])
    xy[:, 0] *= SLIGHT
    return xy


def paint_figure(s: Sitter, seed: int = 21) -> tuple[Array, dict[str, tuple[float, float]]]:
    """RGB picture (uint8) and landmarks in pixels."""
    rng = np.random.default_rng(seed)
    c = Canvas(WIDTH, HEIGHT, PX, MID, CROWN)
    points = clerk_points()
    t = np.linspace(0, 1, HEIGHT)[:, None, None]
    c.image = np.array((0.60, 0.57, 0.48)) * (1.10 - 0.25 * t) * np.ones((1, WIDTH, 1))
    c.fill([(-3, LONG - 0.02), (3, LONG - 0.02), (3, LONG + 1), (-3, LONG + 1)], (0.42, 0.36, 0.29), 6)
    c.fill(_oval(0.15, LONG + 0.02, 1.0, 0.09), (0.30, 0.26, 0.22), 12, 0.7)

    def at(name: str) -> Array:
        out: Array = points[FIGURE.index[name]]
        return out

    for k, side in (("r", -1), ("l", 1)):
        _leg(c, lambda n, k=k: at(f"{n}_{k}"), side)
    _trunk(c, at)
    for k, side in (("r", -1), ("l", 1)):
        _arm(c, lambda n, k=k: at(f"{n}_{k}"), side, s)
    _head(c, s)
    picture = brushwork(np.clip(c.image, 0, 1), rng)
    px = c.to_px(points)
    return (picture * 255).astype(np.uint8), {n: (float(x), float(y)) for n, (x, y) in zip(FIGURE.names, px, strict=True)}


def _oval(x: float, y: float, rx: float, ry: float) -> Array:
    a = np.linspace(0, 2 * np.pi, 48)
    return np.column_stack([x + rx * np.cos(a), y + ry * np.sin(a)])


def _form(c: Canvas, outline: Array, colour: object) -> None:
    """A rounded form lit from the upper left: flat colour, darker toward its right edge, lighter at its left."""
    mask = c.mask(outline, None, 0.8)
    far = cv2.distanceTransform((mask > 0.5).astype(np.uint8), cv2.DIST_L2, 5)
    gx = cv2.GaussianBlur(cv2.Sobel(cv2.GaussianBlur(far, (0, 0), 5), cv2.CV_32F, 1, 0), (0, 0), 4)
    gy = cv2.GaussianBlur(cv2.Sobel(cv2.GaussianBlur(far, (0, 0), 5), cv2.CV_32F, 0, 1), (0, 0), 4)
    lit = np.clip(1.0 + 0.05 * gx + 0.02 * gy, 0.62, 1.22)
    c.image = c.image * (1 - mask[..., None]) + np.asarray(colour, float) * lit[..., None] * mask[..., None]


def _leg(c: Canvas, at: At, side: int) -> None:
    g = at
    hip, crotch = g("hip_side"), np.array([side * 0.02, g("trochanterion")[1] + 0.2])
    knee, ankle, heel, toe = g("patella"), g("malleolus"), g("heel"), g("toe_tip")
    outer = [hip, g("thigh_outer"), knee + [side * 0.24, 0], g("calf_outer"), ankle + [side * 0.17, 0.12]]
    inner = [ankle + [-side * 0.15, 0.12], g("calf_inner"), knee + [-side * 0.22, 0], g("thigh_inner"), crotch]
    boot = smooth(
        [
            ankle + [-side * 0.14, -0.05],
            ankle + [side * 0.15, -0.05],
            [toe[0] + side * 0.05, toe[1] - 0.1],
            [toe[0], toe[1]],
            [heel[0] - side * 0.12, heel[1]],
        ],
        60,
        True,
    )
    _form(c, boot, BOOTS)
    _form(c, np.vstack([smooth(outer, 60), smooth(inner, 60)]), TROUSERS)
    c.line([knee + [side * 0.02, -1.2], knee + [0, 0.9]], np.array(TROUSERS) * 0.72, 3, 3, 0.6)


def _trunk(c: Canvas, at: At) -> None:
    g = at

    def both(name: str) -> tuple[Array, Array]:
        return g(f"{name}_r"), g(f"{name}_l")

    neck = 0.18
    sides = [both(n) for n in ("shoulder_side", "ribcage_side", "waist_side", "hip_side")]
    pit = g("suprasternale")
    top = [(-neck, pit[1] - 0.16), (neck, pit[1] - 0.16)]
    left = [np.array(top[0]), both("acromion")[0] + [0, -0.06], *(a for a, _ in sides[:1])]
    right = [b for _, b in sides[:1]] + [both("acromion")[1] + [0, -0.06], np.array(top[1])]
    down = [a for a, _ in sides[1:]]
    up = [b for _, b in sides[1:]][::-1]
    shirt = np.vstack([smooth(left, 30), np.array(down), np.array(up), smooth(right, 30)])
    _form(c, shirt, SHIRT)
    vest = np.vstack([smooth([(-0.34, pit[1] + 0.02), *(a + [0.03, 0] for a in down[:2]), down[2] + [0.02, -0.35]], 40),
                      [(0.0, down[2][1] - 0.12)], smooth([up[0] + [-0.02, -0.35], *(b + [-0.03, 0] for b in up[1:]), (0.34, pit[1] + 0.02)], 40), [(0.0, pit[1] + 0.75)]])  # fmt: skip
    _form(c, vest, WAISTCOAT)
    c.line([(0.01, pit[1] + 0.78), (0.01, down[2][1] - 0.2)], np.array(WAISTCOAT) * 0.55, 3, 1, 0.8)
    for k in range(4):
        c.fill(_oval(0.05, pit[1] + 0.98 + 0.36 * k, 0.03, 0.03), (0.72, 0.62, 0.36), 1)
    belt = np.vstack(
        [[down[2] + [0.0, -0.12]], [up[0] + [0.0, -0.12]], [up[0] + [0, 0.25]], [(0, g("perineum")[1])], [down[2] + [0, 0.25]]]
    )
    _form(c, belt, TROUSERS)


def _arm(c: Canvas, at: At, side: int, s: Sitter) -> None:
    g = at
    shoulder, elbow, wrist, tip, knuckle = (g(n) for n in ("shoulder_side", "radiale", "stylion", "dactylion", "knuckle"))
    skin = np.array(s.skin) * 0.96
    fore = np.vstack([smooth([elbow + [side * 0.16, -0.1], g("forearm_outer"), g("wrist_outer"), wrist + [side * 0.11, 0.05]], 40),
                      smooth([wrist + [-side * 0.11, 0.05], g("wrist_inner"), g("forearm_inner"), elbow + [-side * 0.16, -0.1]], 40)])  # fmt: skip
    hand = smooth(
        [
            wrist + [-side * 0.085, -0.02],
            wrist + [side * 0.085, -0.02],
            knuckle + [side * 0.115, -0.08],
            tip + [side * 0.04, -0.02],
            tip + [-side * 0.03, 0],
            knuckle + [-side * 0.10, 0.12],
            knuckle + [-side * 0.155, -0.06],
            wrist + [-side * 0.12, 0.14],
        ],
        60,
        True,
    )
    _form(c, hand, skin)
    _form(c, fore, skin)
    upper = np.vstack([smooth([shoulder + [-side * 0.16, -0.17], shoulder, g("upper_arm_outer"), elbow + [side * 0.19, 0.08]], 40),
                       smooth([elbow + [-side * 0.19, 0.08], g("upper_arm_inner"), shoulder + [-side * 0.30, 0.35]], 40)])  # fmt: skip
    _form(c, upper, SHIRT)
    c.line([elbow + [side * 0.19, 0.07], elbow + [-side * 0.19, 0.07]], np.array(SHIRT) * 0.6, 5, 2, 0.8)


def _head(c: Canvas, s: Sitter) -> None:
    a = half_width(s.table)
    half = s.table["neck_width_hw"] * s.table["head_width_hh"] / 2
    skin = np.array(s.skin)
    _form(c, np.array([(-half, 0.7), (half, 0.7), (half * 1.15, 1.40), (-half * 1.15, 1.40)]), skin * 0.82)
    c.fill(
        [(-half * 1.2, 1.2), (half * 1.2, 1.2), (half * 1.5, 1.36), (0, 1.50), (-half * 1.5, 1.36)], np.array(SHIRT) * 0.95, 1.5
    )
    for side in (1, -1):
        c.fill(ear(side, s.table["ear_top_station"], s.table["ear_bottom_station"], a).rim, skin * 0.86, 1)
    _form(c, outline_path(a), skin)
    outline = outline_path(a)
    top = outline[outline[:, 1] < 0.40]
    top = top[np.argsort(np.arctan2(top[:, 0], 0.45 - top[:, 1]))]  # from ear to ear over the crown
    crown = (top - [0, 0.45]) * [1.04, 1.07] + [0, 0.45]
    line = s.table["hairline_station"]
    brow = smooth(
        [(0.27, 0.40), (0.235, 0.26), (0.15, line + 0.02), (0, line), (-0.15, line + 0.02), (-0.235, 0.26), (-0.27, 0.40)], 40
    )
    c.fill(np.vstack([crown, brow]), np.array(s.hair) * 0.9, 1.2)
    for path in feature_paths(plan_points(s.table)):
        if path.filled:
            c.fill(path.points, s.brow if path.role is Ink.TONE else (0.12, 0.1, 0.1), 0.6, 0.9)
        elif path.role is Ink.FEATURE:
            c.line(path.points, skin * 0.5, 1.6, 0.6, 0.8)
