"""The pilot from the side: a painted profile over exactly known profile landmarks."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import cv2
import numpy as np

from orthomet.core.kinds import Array
from orthomet.core.landmarks.templates import template
from orthomet.core.landmarks.views import PROFILE

from .canvas import Canvas, brushwork, smooth
from .relief import Sitter

At = Callable[..., Any]
"""Where a landmark lies, by name; further numbers move it."""

WIDTH, HEIGHT, PX, MID, CROWN = 1060, 1120, 760.0, 500.0, 130.0
OWN = {
    "trichion": (0.345, 0.185), "glabella": (0.435, 0.425), "nasion": (0.408, 0.462), "pronasale": (0.532, 0.668), "subnasale": (0.445, 0.722),
    "labiale_superius": (0.456, 0.780), "stomion": (0.436, 0.806), "labiale_inferius": (0.450, 0.840), "sublabiale": (0.418, 0.878),
    "pogonion": (0.432, 0.940), "gnathion": (0.365, 1.0), "exocanthion": (0.318, 0.500), "brow_peak": (0.375, 0.428),
    "superaurale": (-0.045, 0.435), "subaurale": (-0.015, 0.725), "tragion": (0.0, 0.585),
}  # fmt: skip
"""Where the pilot's profile leaves the template, in heads."""


def pilot_points() -> Array:
    """Her landmarks in heads, x from the front edge of the ear; schema order of the profile view."""
    xy = template(PROFILE).copy()
    for name, p in OWN.items():
        xy[PROFILE.index[name]] = p
    return xy


def paint_profile(s: Sitter, seed: int = 22) -> tuple[Array, dict[str, tuple[float, float]]]:
    """RGB picture (uint8) and landmarks in pixels."""
    rng = np.random.default_rng(seed)
    c = Canvas(WIDTH, HEIGHT, PX, MID, CROWN)
    points = pilot_points()

    def at(name: str, dx: float = 0.0, dy: float = 0.0) -> tuple[float, float]:
        x, y = points[PROFILE.index[name]]
        return float(x) + dx, float(y) + dy

    t = np.linspace(0, 1, HEIGHT)[:, None, None]
    cloud = cv2.GaussianBlur(rng.standard_normal((HEIGHT, WIDTH)), (0, 0), 60)
    c.image = np.array((0.50, 0.55, 0.53)) * (1.1 - 0.32 * t) * (1 + 0.06 * (cloud / np.abs(cloud).max())[..., None])
    skin = np.array(s.skin)
    back = [
        at("neck_back", -0.02, 0.45),
        at("neck_back"),
        at("opisthocranion", 0.06, 0.30),
        at("opisthocranion"),
        (-0.31, 0.16),
        (-0.10, 0.02),
        at("vertex"),
    ]
    face = [at("vertex"), (0.22, 0.055), at("trichion"), (0.41, 0.31), at("glabella"), at("nasion"), (0.468, 0.570), at("pronasale", -0.016, -0.035), at("pronasale"),
            at("pronasale", -0.024, 0.034), at("subnasale"), at("labiale_superius", -0.006, -0.018), at("labiale_superius"), at("stomion"), at("labiale_inferius"),
            at("sublabiale"), at("pogonion"), (0.415, 0.982), at("gnathion")]  # fmt: skip
    throat = [at("gnathion"), (0.27, 1.005), (0.205, 1.05), at("neck_front"), at("neck_front", 0.03, 0.35)]
    outline = np.vstack([smooth(back, 120), smooth(face, 200), smooth(throat, 60)])
    _relief(c, outline, skin)
    _collar(c, at)
    jaw = smooth([at("tragion", 0.02, 0.1), at("gonion"), (0.16, 0.93), at("gnathion", -0.03, -0.01)], 60)
    c.line(jaw, skin * 0.66, 16, 14, 0.5)
    _features(c, s, at)
    _hair(c, s, at, rng)
    picture = brushwork(np.clip(c.image, 0, 1), rng)
    px = c.to_px(points)
    return (picture * 255).astype(np.uint8), {n: (float(x), float(y)) for n, (x, y) in zip(PROFILE.names, px, strict=True)}


def _relief(c: Canvas, outline: Array, skin: Array) -> None:
    """The head lit from ahead: bright along the face, falling off to the back and under the jaw."""
    mask = c.mask(outline, None, 1.0)
    x, t = c.grid()
    far = cv2.distanceTransform((mask > 0.5).astype(np.uint8), cv2.DIST_L2, 5) / c.px
    lit = 0.62 + 0.42 / (1 + np.exp(-(x - 0.10) * 7)) + 0.08 * np.clip(far * 6, 0, 1)
    lit *= 1 - 0.34 * np.exp(-(((t - 1.04) / 0.07) ** 2)) * (x < 0.36)
    lit *= 1 - 0.16 * np.exp(-(((x - 0.33) / 0.07) ** 2) - ((t - 0.495) / 0.05) ** 2)
    lit *= 1 - 0.10 * np.exp(-(((x - 0.27) / 0.10) ** 2) - ((t - 0.76) / 0.08) ** 2)
    warm = np.ones((c.h, c.w, 3)) * skin
    blush = np.exp(-(((x - 0.30) / 0.10) ** 2) - ((t - 0.63) / 0.09) ** 2) + 0.8 * np.exp(
        -(((x - 0.53) / 0.05) ** 2) - ((t - 0.67) / 0.05) ** 2
    )
    warm = warm + blush[..., None] * np.array([0.03, -0.05, -0.04])
    c.image = c.image * (1 - mask[..., None]) + warm * lit[..., None] * mask[..., None]
    edge = np.vstack([outline, outline[:1]])
    c.line(edge[120:330], skin * 0.55, 2.4, 1.6, 0.55)


def _features(c: Canvas, s: Sitter, at: At) -> None:
    g = at
    skin = np.array(s.skin)
    dark = skin * np.array([0.55, 0.45, 0.42])
    ex, ey = g("exocanthion")
    front = (ex + 0.068, ey - 0.004)
    white = np.vstack(
        [smooth([(ex, ey), (ex + 0.03, ey - 0.026), front], 30), smooth([front, (ex + 0.045, ey + 0.016), (ex, ey)], 30)]
    )
    c.fill(white, (0.90, 0.88, 0.84), 1.4)
    c.fill([(ex + 0.050 + 0.012 * np.cos(a), ey - 0.006 + 0.021 * np.sin(a)) for a in np.linspace(0, 2 * np.pi, 24)], s.iris, 1.2)
    c.fill(
        [(ex + 0.056 + 0.006 * np.cos(a), ey - 0.006 + 0.011 * np.sin(a)) for a in np.linspace(0, 2 * np.pi, 20)],
        (0.10, 0.09, 0.09),
        1.0,
    )
    c.line(
        smooth([(ex - 0.012, ey + 0.004), (ex, ey), (ex + 0.03, ey - 0.027), (ex + 0.071, ey - 0.006)], 30),
        skin * 0.30,
        5,
        1.4,
        0.9,
    )
    c.line(smooth([(ex, ey + 0.002), (ex + 0.04, ey + 0.019), front], 30), dark, 3, 1.6, 0.7)
    c.line(smooth([(ex - 0.01, ey - 0.02), (ex + 0.03, ey - 0.045), (ex + 0.075, ey - 0.025)], 30), dark, 4, 3, 0.6)
    for k in (-1, 0, 1):
        c.line([(ex - 0.015, ey + 0.01 * k), (ex - 0.06, ey + 0.03 * k + 0.006)], dark, 3, 3, 0.35 * s.age)
    bx, by = g("brow_peak")
    c.fill(
        smooth(
            [
                (bx - 0.085, by + 0.022),
                (bx, by - 0.012),
                (bx + 0.05, by + 0.008),
                (bx + 0.04, by + 0.026),
                (bx, by + 0.008),
                (bx - 0.08, by + 0.030),
            ],
            60,
            True,
        ),
        s.brow,
        2.4,
        0.85,
    )
    nx, ny = g("subnasale")
    wing = smooth([(nx - 0.075, ny - 0.055), (nx - 0.095, ny - 0.022), (nx - 0.068, ny + 0.002), (nx - 0.03, ny - 0.006)], 40)
    c.line(wing, dark, 5, 3, 0.85)
    c.line(smooth([(nx - 0.02, ny - 0.010), (nx + 0.012, ny - 0.016), (nx + 0.034, ny - 0.010)], 20), skin * 0.35, 6, 2.5, 0.8)
    mx, my = g("stomion")
    c.fill(smooth([(mx - 0.115, my + 0.004), (mx - 0.04, my - 0.020), g("labiale_superius"), (mx, my)], 60), s.lip, 3, 0.7)
    c.fill(
        smooth([(mx - 0.115, my + 0.004), (mx, my), g("labiale_inferius"), (mx - 0.05, my + 0.036)], 60),
        np.array(s.lip) * 1.08,
        3,
        0.7,
    )
    c.line(smooth([(mx, my), (mx - 0.06, my + 0.004), (mx - 0.118, my + 0.007)], 30), skin * 0.36, 4, 1.6, 0.9)
    c.line(smooth([(nx - 0.105, ny - 0.01), (mx - 0.12, my - 0.035), (mx - 0.145, my + 0.03)], 40), dark, 6, 6, 0.5 * s.age)
    top, low = g("superaurale"), g("subaurale")
    rim = smooth(
        [
            g("tragion", 0.0, -0.07),
            (top[0] + 0.04, top[1] + 0.006),
            top,
            (top[0] - 0.075, top[1] + 0.075),
            (low[0] - 0.075, low[1] - 0.09),
            low,
            g("tragion", 0.004, 0.06),
        ],
        90,
    )
    c.fill(rim, skin * np.array([0.98, 0.84, 0.80]), 2)
    c.line(rim, skin * 0.52, 4, 2, 0.7)
    c.line((rim[15:60] - np.mean(rim, 0)) * 0.62 + np.mean(rim, 0), skin * 0.50, 8, 4, 0.6)
    c.line(smooth([g("tragion", 0.002, -0.04), g("tragion"), g("tragion", 0.0, 0.03)], 20), skin * 0.42, 7, 3, 0.7)


def _collar(c: Canvas, at: At) -> None:
    wool = np.array((0.30, 0.36, 0.42))
    c.fill(
        smooth([(-0.62, 1.40), (-0.36, 1.13), (-0.28, 1.06), (0.0, 1.13), (0.22, 1.14), (0.31, 1.19), (0.62, 1.40)], 80), wool, 3
    )
    c.fill([(-0.7, 1.3), (0.7, 1.3), (0.7, 1.6), (-0.7, 1.6)], wool * 0.92, 6)
    for k in range(9):
        x = -0.27 + 0.065 * k
        c.line(smooth([(x, 1.075 + 0.06 * (k > 3) * (k - 3) / 6), (x + 0.01, 1.16), (x, 1.27)], 20), wool * 0.62, 5, 3, 0.6)


def _hair(c: Canvas, s: Sitter, at: At, rng: np.random.Generator) -> None:
    """Short grey hair from the hairline back, cut round the ear."""
    g = at
    edge = smooth(
        [
            g("trichion"),
            (0.30, 0.30),
            (0.245, 0.36),
            (0.215, 0.47),
            (0.165, 0.40),
            (0.06, 0.38),
            (-0.05, 0.41),
            (-0.13, 0.52),
            (-0.145, 0.70),
            (-0.23, 0.86),
            (-0.30, 0.95),
        ],
        160,
    )
    outer = smooth(
        [
            g("trichion", 0.02, -0.02),
            (0.28, 0.03),
            (0.10, -0.065),
            (-0.12, -0.045),
            (-0.33, 0.10),
            (-0.455, 0.32),
            (-0.465, 0.56),
            (-0.40, 0.80),
            (-0.325, 0.95),
        ],
        160,
    )
    base = np.array(s.hair)
    c.fill(np.vstack([outer, edge[::-1]]), base * 0.42, 4)
    image = c.image.astype(np.float64).copy()
    a, b = c.to_px(outer), c.to_px(edge)
    for _ in range(1500):
        v, i0 = rng.random(), int(rng.random() * 110)
        n = int(rng.uniform(18, 46))
        line = (a * (1 - v) + b * v)[i0 : i0 + n]
        if len(line) < 4:
            continue
        lit = 0.75 + 0.55 * np.exp(-((((i0 + n / 2) / 160 - 0.22) / 0.16) ** 2)) * (1 - 0.5 * v)
        colour = np.clip(base * lit * rng.uniform(0.72, 1.12), 0, 0.95)
        drift = np.cumsum(rng.normal(0, 0.35, line.shape), axis=0)
        cv2.polylines(
            image,
            [np.round((line + drift) * 16).astype(np.int32)],
            False,
            colour.tolist(),
            int(rng.choice([1, 2, 3])),
            cv2.LINE_AA,
            4,
        )
    c.image = image
