"""Klinker of the boiler room: a creature of plain shapes, measured by parts of its own alone."""

from __future__ import annotations

import cv2
import numpy as np

from orthomet.core.kinds import Array

from .canvas import Canvas, brushwork, smooth

WIDTH, HEIGHT, PX, MID, CROWN = 900, 1000, 100.0, 450.0, 110.0
IRON, RUST, GLOW = (0.33, 0.36, 0.38), (0.52, 0.33, 0.24), (0.98, 0.72, 0.32)
SPANS = {
    "body": ((0.0, 1.0), (0.0, 7.0)),
    "eye": ((-1.05, 3.1), (1.05, 3.1)),
    "mouth": ((-1.5, 5.35), (1.5, 5.35)),
    "funnel": ((1.15, -0.75), (1.15, 1.25)),
    "arm": ((-2.45, 3.6), (-3.85, 6.6)),
}
"""Both ends of its own spans, a tenth of its height a unit."""


def paint_creature(seed: int = 23) -> tuple[Array, dict[str, tuple[tuple[float, float], tuple[float, float]]]]:
    """RGB picture (uint8) and the ends of its own spans in pixels."""
    rng = np.random.default_rng(seed)
    c = Canvas(WIDTH, HEIGHT, PX, MID, CROWN)
    t = np.linspace(0, 1, HEIGHT)[:, None, None]
    x, y = c.grid()
    c.image = np.array((0.30, 0.25, 0.24)) * (0.9 + 0.5 * t) * np.ones((1, WIDTH, 1))
    c.image = c.image + np.exp(-((x / 3.2) ** 2) - ((y - 5.4) / 2.6) ** 2)[..., None] * np.array([0.20, 0.10, 0.02])
    c.fill([(-5, 7.6), (5, 7.6), (5, 9.5), (-5, 9.5)], (0.20, 0.17, 0.17), 8)
    c.fill(_oval(0.1, 8.0, 3.2, 0.25), (0.10, 0.08, 0.08), 14, 0.8)
    for side in (-1, 1):
        _round(c, np.array([(side * 0.9, 6.7), (side * 1.7, 6.7), (side * 1.8, 7.9), (side * 0.7, 7.9)]), IRON)
        arm = smooth([(side * 2.3, 3.6), (side * 3.5, 4.0), (side * 3.95, 5.2), (side * 3.85, 6.15)], 60)
        for k in range(len(arm)):
            if k % 6 == 0:
                _round(c, _oval(arm[k, 0], arm[k, 1], 0.34, 0.34), IRON)
        for spread in (-0.38, 0.0, 0.38):
            _round(
                c,
                np.array(
                    [(side * 3.85 + spread - 0.12, 6.05), (side * 3.85 + spread + 0.12, 6.05), (side * 3.85 + 0.6 * spread, 6.62)]
                ),
                RUST,
            )
    _round(c, np.array([(0.7, 1.5), (0.7, -0.6), (0.55, -0.75), (1.75, -0.75), (1.6, -0.6), (1.6, 1.5)]), RUST)
    body = smooth(
        [
            (0, 1.0),
            (1.7, 1.25),
            (2.55, 2.7),
            (2.6, 4.6),
            (2.1, 6.4),
            (0, 7.0),
            (-2.1, 6.4),
            (-2.6, 4.6),
            (-2.55, 2.7),
            (-1.7, 1.25),
        ],
        160,
        True,
    )
    _round(c, body, IRON)
    for k in range(18):
        a = 2 * np.pi * k / 18
        _round(c, _oval(2.28 * np.cos(a), 4.0 + 2.72 * np.sin(a), 0.09, 0.09), RUST)
    _round(c, _oval(0, 3.1, 1.05, 1.05), (0.62, 0.56, 0.44))
    c.fill(_oval(0, 3.1, 0.86, 0.86), GLOW, 3)
    c.fill(_oval(0.12, 3.14, 0.36, 0.44), (0.16, 0.10, 0.08), 2)
    c.fill(_oval(-0.16, 2.82, 0.13, 0.13), (1, 0.97, 0.88), 2)
    c.fill([(-1.5, 4.95), (1.5, 4.95), (1.35, 5.8), (-1.35, 5.8)], GLOW, 3)
    for k in range(7):
        _round(
            c,
            np.array([(-1.32 + 0.42 * k, 4.88), (-1.2 + 0.42 * k, 4.88), (-1.2 + 0.42 * k, 5.88), (-1.32 + 0.42 * k, 5.88)]),
            IRON,
        )
    for k in range(5):
        c.fill(
            _oval(1.2 + 0.25 * k + 0.1 * np.sin(2 * k), -0.95 - 0.05 * k, 0.35 + 0.09 * k, 0.22 + 0.05 * k),
            (0.72, 0.70, 0.68),
            14,
            0.5,
        )
    picture = brushwork(np.clip(c.image, 0, 1), rng)
    ends = {}
    for key, (one, other) in SPANS.items():
        here, there = c.to_px([one, other]).tolist()
        ends[key] = ((here[0], here[1]), (there[0], there[1]))
    return (picture * 255).astype(np.uint8), ends


def _oval(x: float, y: float, rx: float, ry: float) -> Array:
    a = np.linspace(0, 2 * np.pi, 48)
    return np.column_stack([x + rx * np.cos(a), y + ry * np.sin(a)])


def _round(c: Canvas, outline: Array, colour: object) -> None:
    """A form with a lit upper left and a dark lower right edge."""
    mask = c.mask(outline, None, 0.9)
    far = cv2.distanceTransform((mask > 0.5).astype(np.uint8), cv2.DIST_L2, 5)
    soft = cv2.GaussianBlur(np.minimum(far, 60), (0, 0), 5)
    gx, gy = cv2.Sobel(soft, cv2.CV_32F, 1, 0), cv2.Sobel(soft, cv2.CV_32F, 0, 1)
    lit = np.clip(1.0 + 0.05 * (gx + gy), 0.5, 1.5)
    c.image = c.image * (1 - mask[..., None]) + np.asarray(colour, float) * lit[..., None] * mask[..., None]
