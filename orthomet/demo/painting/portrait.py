"""Painted portraits with exactly known landmarks: relief, features from the plan's own curves, hair, clothes, brushwork."""

from __future__ import annotations

import cv2
import numpy as np
from scipy.ndimage import gaussian_filter

from orthomet.core.head import features
from orthomet.core.head.outline import half_width, width_at
from orthomet.core.head.points import plan_points
from orthomet.core.kinds import Array
from orthomet.core.landmarks.schema import FRONT

from .canvas import Canvas, brushwork, smooth
from .relief import Sitter, depth, gloss, light, normals

WIDTH, HEIGHT, PX, MID, CROWN = 1500, 1370, 940.0, 750.0, 190.0


def landmarks_px(points: Array, canvas: Canvas) -> dict[str, tuple[float, float]]:
    """True landmarks of the painting, in its pixels."""
    px = canvas.to_px(points)
    return {n: (float(x), float(y)) for n, (x, y) in zip(FRONT.names, px, strict=True) if np.isfinite(x)}


def sitter_points(s: Sitter) -> Array:
    """The sitter's landmarks; what only the painter knows (hair, pit of the neck, parting) is added."""
    out = plan_points(s.table)
    extra = {
        "hair_top": (0.0, s.extra.get("hair_top", -0.075)), "parting": (s.extra.get("parting", -0.105), s.extra.get("parting_t", -0.04)),
        "suprasternale": (0.0, 1.26), "hair_side_l": (s.extra.get("hair_side", 0.385), 0.28), "hair_side_r": (-s.extra.get("hair_side", 0.385), 0.28),
    }  # fmt: skip
    for n, xy in extra.items():
        out[FRONT.index[n]] = xy
    return out


def paint_portrait(
    s: Sitter, hair: str, clothes: str, ground: tuple[float, float, float], seed: int, quick: bool = False
) -> tuple[Array, dict[str, tuple[float, float]]]:
    """An RGB picture (uint8) and its landmarks in pixels. ``quick``: half the size, few strands, no clothes, no brushwork."""
    rng = np.random.default_rng(seed)
    k = 0.5 if quick else 1.0
    c = Canvas(int(WIDTH * k), int(HEIGHT * k), PX * k, MID * k, CROWN * k)
    c.effort = 0.02 if quick else 1.0
    _ground(c, ground, rng)
    points = sitter_points(s)
    a = half_width(s.table)
    if hair in ("plaits", "bob"):
        _back_hair(c, s, a, rng)
    _neck(c, s, a)
    _ears(c, s, a)
    _face(c, s)
    _features(c, s, points)
    _wear(c, s, points, rng)
    if not quick:
        _CLOTHES[clothes](c, s, rng)
    _HAIR[hair](c, s, a, rng)
    picture = np.clip(c.image, 0, 1) if quick else brushwork(np.clip(c.image, 0, 1), rng)
    return (picture * 255).astype(np.uint8), landmarks_px(points, c)


def _ground(c: Canvas, colour: tuple[float, float, float], rng: np.random.Generator) -> None:
    t = np.linspace(0, 1, c.h)[:, None, None]
    base = np.array(colour) * (1.10 - 0.34 * t)
    cloud = cv2.GaussianBlur(rng.standard_normal((c.h, c.w)), (0, 0), 70)
    cloud = cloud / np.abs(cloud).max()
    x = np.linspace(-1, 1, c.w)[None, :, None]
    c.image = base * (1 - 0.12 * x) * (1 + 0.07 * cloud[..., None])


def _face(c: Canvas, s: Sitter) -> None:
    x, t = c.grid()
    z, inside = depth(s, x, t)
    filled = np.where(inside, z, np.nan)
    n = normals(np.nan_to_num(filled, nan=0.0), 1 / c.px)
    n = cv2.GaussianBlur(n, (0, 0), 3.2)
    n = n / (np.linalg.norm(n, axis=2, keepdims=True) + 1e-9)
    skin = np.ones((c.h, c.w, 3)) * np.array(s.skin)
    p = s.table
    fw = p["face_width_hh"]
    ew = p["eye_width_fw"] * fw
    ecx = (p["eye_gap_ew"] + 1) * ew / 2
    op = p["eye_opening_ew"] * ew

    def spot(cx: float, cy: float, sx: float, sy: float) -> Array:
        return np.exp(-(((x - cx) / sx) ** 2) - ((t - cy) / sy) ** 2)[..., None]

    flush = np.array([0.02, -0.05, -0.04])
    base = p["nose_base_station"]
    for side in (-1, 1):
        skin = skin + spot(side * 0.27 * fw, base - 0.03, 0.07, 0.06) * flush
        skin = skin * (
            1 - 0.20 * spot(side * ecx, p["eye_station"] - 0.35 * op, ew * 0.62, op * 0.8 + 0.012) * np.array([0.7, 0.95, 1.0])
        )
        skin = skin * (1 - 0.10 * spot(side * ecx, p["eye_station"] + 0.85 * op, ew * 0.5, 0.014))
    skin = skin + spot(0, base - 0.15 * p["nose_length_hh"], 0.035, 0.03) * flush * 0.8
    nw = p["nose_width_fw"] * fw / 2
    skin = skin * (1 - 0.20 * spot(0, base + 0.008, nw * 0.8, 0.012))
    skin = skin * (1 - 0.15 * spot(0, p["mouth_station"] + p["lower_lip_hh"] + 0.012, p["mouth_width_fw"] * fw * 0.26, 0.012))
    shade = light(n)[..., None]
    warm = np.clip(1 - np.abs(shade - 0.72) / 0.35, 0, 1) * 0.05 * np.array([1.0, 0.0, -0.2])
    colour = skin * shade + 0.09 * gloss(n)[..., None] + warm * skin
    edge = cv2.GaussianBlur(inside.astype(float), (0, 0), 1.1)
    c.lay(edge, 0)
    c.image = c.image + colour * edge[..., None]


def _features(c: Canvas, s: Sitter, points: Array) -> None:
    def at(name: str) -> Array:
        out: Array = points[FRONT.index[name]]
        return out

    skin, dark = np.array(s.skin), np.array([0.16, 0.12, 0.11])
    m = features.mouth(at("cheilion_r"), at("cheilion_l"), at("stomion"), at("labiale_superius"), at("labiale_inferius"))
    lower = np.vstack([m.line[:7], m.lower, m.line[-7:]])
    c.fill(np.vstack([m.upper, m.line[::-1]]), np.array(s.lip) * 0.80, 2.0, 0.86)
    c.fill(np.vstack([m.line, lower[::-1]]), np.array(s.lip) * 1.02, 2.4, 0.82)
    c.line(m.lower[14:26] - [0, 0.012], np.array(s.lip) * 1.35, 5, 4, 0.5)
    c.line(m.line, np.array(s.lip) * 0.34, 3.6, 1.4, 0.95)
    n = features.nose(at("alare_r"), at("alare_l"), at("subnasale"), at("pronasale"), at("nasion"))
    for wing in n.wings:
        c.line(wing[2:16], skin * 0.55, 5, 3.0, 0.55)
    for nostril in n.nostrils:
        c.line(nostril + [0, 0.006], np.array([0.30, 0.17, 0.14]), 6, 2.4, 0.8)
    c.line(n.base, skin * 0.50, 4, 3.0, 0.5)
    for side, k in ((1, "l"), (-1, "r")):
        e = features.eye(
            at(f"endocanthion_{k}"),
            at(f"exocanthion_{k}"),
            at(f"palpebrale_superius_{k}"),
            at(f"palpebrale_inferius_{k}"),
            at(f"iris_medial_{k}"),
            at(f"iris_lateral_{k}"),
            at(f"lid_crease_{k}"),
        )
        c.fill(e.opening, (0.89, 0.87, 0.84), 1.0)
        c.fill(e.iris, np.array(s.iris) * 0.5, 0.9)
        middle = e.iris.mean(0)
        c.fill(middle + (e.iris - middle) * 0.84, s.iris, 1.6)
        c.fill(e.pupil, (0.05, 0.05, 0.06), 0.9)
        height = np.ptp(e.opening[:, 1])
        c.fill(np.vstack([e.upper, (e.upper + [0, 0.24 * height])[::-1]]), (0.30, 0.24, 0.22), 2.4, 0.5)
        r = 0.09 * np.ptp(e.iris[:, 0])
        ang = np.linspace(0, 2 * np.pi, 20)
        spot = middle + [-0.16 * np.ptp(e.iris[:, 0]), -0.20 * np.ptp(e.iris[:, 1])]
        c.fill(spot + r * np.column_stack([np.cos(ang), np.sin(ang)]), (1, 1, 1), 0.7, 0.95)
        c.line(e.upper, dark, 4.6, 1.1, 0.95)
        c.line(e.lower, skin * 0.50, 2.2, 1.3, 0.7)
        c.line(e.crease, skin * 0.52, 2.6, 1.8, 0.7)
        thick = float(at(f"brow_lower_peak_{k}")[1] - at(f"brow_peak_{k}")[1])
        b = features.brow(at(f"brow_inner_{k}"), at(f"brow_peak_{k}"), at(f"brow_outer_{k}"), thick)
        c.fill(b, s.brow, 2.6, 0.9)
        rng = np.random.default_rng(7 + side)
        half = len(b) // 2
        for _ in range(70):
            i = int(rng.integers(1, half - 2))
            base = b[i] + (b[-1 - i] - b[i]) * rng.random()
            c.line(
                np.array([base, base + [side * rng.uniform(0.008, 0.016), -rng.uniform(0.002, 0.009)]]),
                np.array(s.brow) * rng.uniform(0.6, 1.3),
                1.4,
                0.7,
                0.6,
            )


def _wear(c: Canvas, s: Sitter, points: Array, rng: np.random.Generator) -> None:
    """What years and weather leave: folds, crow's feet, lines of the forehead, freckles."""
    p = s.table
    dark, y = np.array(s.skin) * np.array([0.62, 0.50, 0.45]), s.age

    def at(name: str) -> Array:
        out: Array = points[FRONT.index[name]]
        return out

    for side, k in ((1, "l"), (-1, "r")):
        wing, corner, out, inn, low = (
            at(f"alare_{k}"),
            at(f"cheilion_{k}"),
            at(f"exocanthion_{k}"),
            at(f"endocanthion_{k}"),
            at(f"palpebrale_inferius_{k}"),
        )
        fold = smooth(
            [
                wing + [side * 0.006, -0.012],
                wing + [side * 0.030, 0.024],
                corner + [side * 0.016, -0.016],
                corner + [side * 0.020, 0.024],
            ],
            50,
        )
        c.line(fold, dark, 7, 5, 0.62 * y)
        c.line(
            smooth([inn + [side * 0.006, 0.022], low + [0, 0.028], out + [-side * 0.006, 0.026]], 30), dark, 5, 4, 0.40 * y + 0.06
        )
        if y > 0.3:
            for d, length in ((-0.012, 0.040), (0.004, 0.048), (0.020, 0.040)):
                c.line(
                    [out + [side * 0.010, d * 0.5 + 0.004], out + [side * (0.010 + length), d * 1.7 + 0.006]],
                    dark,
                    3.6,
                    2.4,
                    0.36 * y,
                )
            c.line([corner + [side * 0.006, 0.004], corner + [side * 0.012, 0.032]], dark, 5, 6, 0.42 * y)
            c.line([(side * 0.016, p["brow_station"] + 0.002), (side * 0.018, p["brow_station"] + 0.032)], dark, 4, 4, 0.30 * y)
    if y > 0.3:
        hair, brow = p["hairline_station"], p["brow_station"]
        for f in (0.42, 0.60):
            t = hair + f * (brow - hair)
            c.line(
                smooth([(-0.17, t + 0.012), (-0.07, t), (0, t + 0.004), (0.07, t), (0.17, t + 0.010)], 50), dark, 5, 5, 0.22 * y
            )
    for _ in range(s.freckles):
        x, t = rng.normal(0, 0.10), rng.normal(p["eye_station"] + 0.14, 0.034)
        r = rng.uniform(0.0016, 0.0034)
        ang = np.linspace(0, 2 * np.pi, 10)
        c.fill(np.array([x, t]) + r * np.column_stack([np.cos(ang), np.sin(ang)]), dark, 1.0, 0.42)


def _neck(c: Canvas, s: Sitter, a: Array) -> None:
    half = s.table["neck_width_hw"] * s.table["head_width_hh"] / 2
    x, t = c.grid()
    w = half * (1 + 0.10 * np.clip((t - 1.05) / 0.25, 0, 1) ** 2)
    inside = (np.abs(x) < w) & (t > 0.6) & (t < 1.45)
    q = np.clip(np.abs(x) / w, 0, 0.999)
    n = np.dstack([x / w, np.zeros_like(x), np.sqrt(1 - q**2)])
    jaw = np.where(t < 1, width_at(a, np.clip(t, 0, 1)), 0)
    drop = np.clip(1 - (t - 0.93) / 0.20, 0, 1) * np.clip(1 - (np.abs(x) - jaw * 0.9) / 0.2, 0, 1)
    shade = light(n)[..., None] * (1 - 0.45 * drop[..., None])
    edge = cv2.GaussianBlur(inside.astype(float), (0, 0), 1.3)
    c.image = c.image * (1 - edge[..., None]) + np.array(s.skin) * np.array([1, 0.96, 0.94]) * shade * edge[..., None]


def _ears(c: Canvas, s: Sitter, a: Array) -> None:
    top, bottom = s.table["ear_top_station"], s.table["ear_bottom_station"]
    skin = np.array(s.skin) * np.array([1.0, 0.90, 0.86])
    for side in (-1, 1):
        e = features.ear(side, top, bottom, a)
        lit = 0.95 if side < 0 else 0.76
        root = np.array([(side * (float(width_at(a, t)) - 0.02), t) for t in (bottom - 0.02, (top + bottom) / 2, top + 0.02)])
        c.fill(np.vstack([e.rim, root]), skin * lit, 1.6)
        c.line(e.inner, skin * 0.52, 11, 5, 0.65)
        inward = e.rim[10:50] + [-side * 0.010, 0.004]
        c.line(inward, np.clip(skin * lit * 1.18, 0, 1), 7, 3.5, 0.75)
        c.line(e.rim[6:64], skin * 0.62, 2.5, 1.8, 0.5)


# ---- hair: lobes of strands between an outer and an inner curve


def _lobe(
    c: Canvas, colour: object, outer: Array, inner: Array, rng: np.random.Generator, strands: int, shine: float, at: float = 0.34
) -> None:
    base = np.asarray(colour, float)
    n = len(outer)
    c.fill(np.vstack([outer[: int(0.92 * n)], inner[: int(0.92 * n)][::-1]]), base * 0.40, 4)
    a, b = c.to_px(outer), c.to_px(inner)
    u = np.linspace(0, 1, n)
    image = c.image.astype(np.float64).copy()
    for v in np.r_[rng.random(int(strands * c.effort)) * 1.03, np.linspace(0, 1, 50) ** 1.5]:
        wob = gaussian_filter(rng.normal(0, 1, n), 14) * 15
        line = a * (1 - v) + b * v
        nn = np.gradient(line, axis=0)[:, ::-1] * [1, -1]
        nn /= np.linalg.norm(nn, axis=1, keepdims=True) + 1e-9
        line = line + nn * wob[:, None]
        i0, i1 = int(rng.random() * 30), int(n - rng.random() ** 1.4 * 34)
        lit = np.exp(-(((u - at) / 0.17) ** 2)) * shine + 0.30 * np.exp(-(((v - 0.25) / 0.3) ** 2))
        tone = base * (0.52 + 0.24 * rng.random()) * (1 - 0.30 * v)
        for i in range(i0, i1 - 8, 8):
            colour_here = np.clip(tone * (1 + 0.9 * lit[i]) * (1.0 if u[i] < 0.8 else 1 - 0.9 * (u[i] - 0.8)), 0, 0.95)
            q = np.round(line[i : i + 10] * 16).astype(np.int32)
            cv2.polylines(image, [q], False, colour_here.tolist(), int(rng.choice([2, 3, 4])), cv2.LINE_AA, 4)
    c.image = image


def _parted(c: Canvas, s: Sitter, a: Array, rng: np.random.Generator) -> None:
    """Short hair from a side parting, two lobes down to the ears."""
    top, ear = s.table["hairline_station"], s.table["ear_top_station"]
    w = float(width_at(a, 0.27)) / 0.3325

    def curve(*pts: tuple[float, float]) -> Array:
        return smooth([(x * w, t) for x, t in pts], 120)

    k = s.extra.get("parting", -0.105)
    _lobe(c, s.hair, curve((k, -0.055), (k - 0.11, -0.032), (-0.315, 0.085), (-0.374, 0.250), (-0.382, ear - 0.06), (-0.354, ear + 0.07)),
          curve((k - 0.015, top - 0.006), (k - 0.085, top + 0.040), (-0.262, top + 0.120), (-0.300, ear - 0.11), (-0.312, ear - 0.03), (-0.320, ear + 0.055)), rng, 900, 0.95)  # fmt: skip
    _lobe(c, s.hair, curve((k, -0.055), (k + 0.125, -0.080), (0.185, -0.042), (0.312, 0.085), (0.376, 0.250), (0.386, ear - 0.06), (0.356, ear + 0.075)),
          curve((k - 0.015, top - 0.006), (k + 0.075, top), (0.090, top + 0.012), (0.205, top + 0.070), (0.268, top + 0.165), (0.292, ear - 0.06), (0.306, ear + 0.06)), rng, 950, 0.70)  # fmt: skip


def _swept(c: Canvas, s: Sitter, a: Array, rng: np.random.Generator) -> None:
    """Thin hair swept straight back, cut close at the sides."""
    top, ear = s.table["hairline_station"], s.table["ear_top_station"]
    w = float(width_at(a, 0.27)) / 0.3325
    for side in (-1, 1):

        def curve(*pts: tuple[float, float], side: int = side) -> Array:
            return smooth([(side * x * w, t) for x, t in pts], 120)

        _lobe(c, np.array(s.hair) * (1.0 if side < 0 else 0.82), curve((-0.004, -0.030), (0.12, -0.026), (0.235, 0.035), (0.318, 0.14), (0.348, 0.26), (0.342, ear - 0.03), (0.326, ear + 0.06)),
              curve((-0.004, top), (0.09, top + 0.002), (0.175, top + 0.03), (0.235, top + 0.085), (0.285, top + 0.18), (0.302, ear - 0.05), (0.312, ear + 0.05)), rng, 700, 0.8, 0.25)  # fmt: skip


def _back_hair(c: Canvas, s: Sitter, a: Array, rng: np.random.Generator) -> None:
    w = float(width_at(a, 0.27))
    c.fill(
        smooth(
            [
                (-w * 0.9, 0.2),
                (-w * 1.14, 0.5),
                (-w * 1.12, 0.95),
                (-w * 0.7, 1.08),
                (w * 0.7, 1.08),
                (w * 1.12, 0.95),
                (w * 1.14, 0.5),
                (w * 0.9, 0.2),
            ],
            120,
            True,
        ),
        np.array(s.hair) * 0.34,
        5,
    )


def _bob(c: Canvas, s: Sitter, a: Array, rng: np.random.Generator) -> None:
    """A fringe and two sides down to the jaw."""
    top = s.table["hairline_station"]
    w = float(width_at(a, 0.27)) / 0.3325
    brow = s.table["brow_station"]
    for side in (-1, 1):

        def curve(*pts: tuple[float, float], side: int = side) -> Array:
            return smooth([(side * x * w, t) for x, t in pts], 120)

        shade = np.array(s.hair) * (1.0 if side < 0 else 0.84)
        _lobe(c, shade, curve((0.0, -0.060), (0.16, -0.050), (0.30, 0.05), (0.385, 0.24), (0.405, 0.50), (0.385, 0.78), (0.30, 0.93)),
              curve((0.02, top - 0.04), (0.10, top + 0.01), (0.20, top + 0.07), (0.262, brow - 0.02), (0.290, 0.56), (0.300, 0.76), (0.262, 0.90)), rng, 900, 0.85)  # fmt: skip
        _lobe(c, shade * 0.97, curve((0.0, -0.058), (0.03, 0.02), (0.055, 0.14), (0.06, brow - 0.105), (0.055, brow - 0.058)),
              curve((0.0, -0.056), (0.13, 0.01), (0.22, 0.13), (0.262, brow - 0.12), (0.276, brow - 0.055)), rng, 420, 0.9, 0.45)  # fmt: skip
        _lobe(c, shade * 0.95, curve((0.0, -0.056), (0.004, 0.05), (0.004, 0.15), (0.0, brow - 0.055)),
              curve((0.0, -0.056), (0.040, 0.05), (0.065, 0.15), (0.075, brow - 0.060)), rng, 180, 0.9, 0.45)  # fmt: skip


# ---- clothes


def _roll_neck(c: Canvas, s: Sitter, rng: np.random.Generator) -> None:
    wool, coat = np.array([0.78, 0.74, 0.66]), np.array([0.16, 0.20, 0.25])
    c.fill(
        [
            (-1, 1.5),
            (-0.72, 1.30),
            (-0.50, 1.205),
            (-0.28, 1.145),
            (0, 1.24),
            (0.28, 1.145),
            (0.50, 1.205),
            (0.72, 1.30),
            (1, 1.5),
        ],
        coat,
        4,
    )
    c.fill([(0.06, 1.5), (0.24, 1.13), (0.52, 1.20), (1, 1.48), (1, 1.6)], coat * 0.72, 18, 0.8)
    h = max(s.table["neck_width_hw"] * s.table["head_width_hh"] / 2 + 0.012, 0.16)
    k = h / 0.236
    roll = np.vstack([smooth([(-h, 1.02), (-0.250 * k, 1.09), (-0.232 * k, 1.17), (0, 1.232), (0.232 * k, 1.17), (0.250 * k, 1.09), (h, 1.02)], 80),
                      smooth([(h, 1.02), (0.12 * k, 1.062), (0, 1.075), (-0.12 * k, 1.062), (-h, 1.02)], 60)])  # fmt: skip
    c.fill(roll, wool, 2)
    for x in np.linspace(-0.235, 0.235, 27):
        u = x / 0.25
        rib = smooth(
            [
                (x * k, 1.022 + 0.053 * (1 - u * u)),
                (x * k * 1.06, 1.105 + 0.040 * (1 - u * u)),
                (x * k * 0.98, 1.165 + 0.060 * (1 - u * u)),
            ],
            20,
        )
        c.line(rib, wool * 0.66, 5, 2, 0.6)
        c.line(rib + [0.006, 0], np.clip(wool * 1.15, 0, 1), 3, 2, 0.4)
    c.fill(
        smooth([(0.06, 1.09), (0.16 * k, 1.06), (0.262 * k, 1.03), (0.26 * k, 1.11), (0.22 * k, 1.18), (0.10, 1.21)], 60),
        wool * 0.45,
        16,
        0.45,
    )
    for side in (-1, 1):
        c.fill(
            [
                (side * 0.250, 1.075),
                (side * 0.345, 1.135),
                (side * 0.405, 1.270),
                (side * 0.300, 1.300),
                (side * 0.105, 1.52),
                (side * 0.015, 1.52),
                (side * 0.165, 1.22),
            ],
            coat * (1.32 if side < 0 else 1.02),
            2,
        )
        c.line(
            [(side * 0.250, 1.075), (side * 0.345, 1.135), (side * 0.405, 1.270), (side * 0.300, 1.300)], coat * 1.7, 4, 1.5, 0.8
        )


def _high_collar(c: Canvas, s: Sitter, rng: np.random.Generator) -> None:
    cloth, linen = np.array([0.24, 0.23, 0.20]), np.array([0.88, 0.86, 0.80])
    c.fill(
        [(-1, 1.55), (-0.62, 1.30), (-0.40, 1.20), (-0.22, 1.13), (0, 1.2), (0.22, 1.13), (0.40, 1.20), (0.62, 1.30), (1, 1.55)],
        cloth,
        4,
    )
    c.fill([(0.04, 1.5), (0.22, 1.12), (0.45, 1.21), (1, 1.5), (1, 1.6)], cloth * 0.68, 18, 0.8)
    h = s.table["neck_width_hw"] * s.table["head_width_hh"] / 2 + 0.006
    for side in (-1, 1):
        c.fill(
            [(0.002 * side, 1.20), (side * h, 1.055), (side * (h + 0.012), 1.13), (side * 0.10, 1.27)],
            linen * (1.0 if side < 0 else 0.8),
            1.6,
        )
        c.line([(side * h, 1.055), (0.004 * side, 1.20)], linen * 0.62, 3, 1.5, 0.8)
        c.fill(
            [(side * 0.17, 1.13), (side * 0.30, 1.22), (side * 0.11, 1.50), (side * 0.02, 1.50)],
            cloth * (1.35 if side < 0 else 1.05),
            2,
        )
    c.fill(
        [(-0.05, 1.19), (0.05, 1.19), (0.035, 1.25), (0.07, 1.52), (-0.07, 1.52), (-0.035, 1.25)], np.array([0.42, 0.20, 0.18]), 2
    )


def _jersey(c: Canvas, s: Sitter, rng: np.random.Generator) -> None:
    red, white = np.array([0.62, 0.26, 0.20]), np.array([0.90, 0.87, 0.80])
    body = [(-1, 1.6), (-0.58, 1.36), (-0.40, 1.25), (-0.20, 1.15), (0, 1.19), (0.20, 1.15), (0.40, 1.25), (0.58, 1.36), (1, 1.6)]
    c.fill(body, red, 3)
    h = s.table["neck_width_hw"] * s.table["head_width_hh"] / 2 + 0.02
    for k in range(4):
        t = 1.24 + 0.07 * k
        c.line(
            smooth([(-0.75, t + 0.14), (-0.36, t + 0.02), (0, t + 0.045), (0.36, t + 0.02), (0.75, t + 0.14)], 60),
            white,
            17,
            2.4,
            0.9,
        )
    c.line(smooth([(-h, 1.12), (-h * 0.6, 1.17), (0, 1.19), (h * 0.6, 1.17), (h, 1.12)], 60), red * 0.75, 22, 2, 0.95)
    c.fill([(0.1, 1.6), (0.26, 1.16), (0.6, 1.36), (1, 1.6)], red * 0.4, 22, 0.4)


_HAIR = {"parted": _parted, "swept": _swept, "bob": _bob}
_CLOTHES = {"roll-neck": _roll_neck, "high-collar": _high_collar, "jersey": _jersey}
