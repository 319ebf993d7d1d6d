"""A face's features as strokes: curves through its landmarks, drawn the way the artist chose.

Front view, in the unit of the landmarks (heads, or pixels of a drawing). A stroke also says how far it follows the jaw
(0…1) and how far it stands off the skin, so that a turned head can carry it.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from ..features.choices import PLAIN, FaceMark, FeatureChoices
from ..kinds import Array
from ..landmarks.schema import FRONT
from ..picture import Ink, Trace, line
from . import features
from .expressed import Expressed

NOSE = ("full", "wedge", "button", "line", "nostrils", "none")
LIPS, SHADE, LINE, NO_MOUTH = range(4)
RIDGE = "nose ridge"
"""The profile of the nose: what is drawn of it once a head is turned."""
TEETH_FROM, TEETH = 0.018, 0.30
"""Drop of the jaw, in heads, from which teeth show, and how much of the opening they take (own)."""
GOLDEN = np.pi * (3 - np.sqrt(5))


@dataclass(frozen=True)
class Stroke:
    path: Trace
    follows_jaw: Array | None = None
    """Share of the jaw's drop, ``(n,)``; ``None``: as the skin there."""
    off: Array | None = None
    """How far each point stands off the skin, ``(n,)``."""


def strokes(points: Array | Expressed, choices: FeatureChoices = PLAIN) -> list[Stroke]:
    """Eyes, brows, nose, mouth and marks through landmarks ``(n, 2)`` in schema order."""
    worn = points if isinstance(points, Expressed) else Expressed(points)
    out: list[Stroke] = []
    for k in "lr":
        if choices.drawn("eyes"):
            out += _eye(worn, k, choices.of("eyes"))
        if choices.drawn("brows"):
            out += _brow(worn.points, k, choices.of("brows"))
    if choices.drawn("nose"):
        out += [Stroke(p) for p in _nose(worn.points, choices.of("nose"))]
    if choices.drawn("mouth"):
        out += _mouth(worn, choices.of("mouth"))
    for mark in choices.marks:
        out += [Stroke(p) for p in _mark(mark, worn.points)]
    return out


def _at(points: Array, name: str) -> Array:
    out: Array = points[FRONT.index[name]]
    return out


def _eye(worn: Expressed, k: str, v: Mapping[str, float]) -> Iterator[Stroke]:
    def at(name: str) -> Array:
        return _at(worn.points, f"{name}_{k}")

    shape = features.LidShape(v["peak"], v["arch"], v["under"], v["pupil"], worn.slant)
    opening = float(at("palpebrale_inferius")[1] - at("palpebrale_superius")[1])
    ride = np.array([0.0, -0.25 * v["ride"] * opening])
    iris_in, iris_out = at("iris_medial") + ride, at("iris_lateral") + ride
    e = features.eye(
        at("endocanthion"),
        at("exocanthion"),
        at("palpebrale_superius"),
        at("palpebrale_inferius"),
        iris_in,
        iris_out,
        at("lid_crease"),
        shape,
    )
    yield Stroke(line(e.iris, Ink.TONE, f"iris {k}", closed=True, filled=True))
    centre, r = (iris_in + iris_out) / 2, abs(float(iris_out[0] - iris_in[0])) / 2
    tall = features.iris_height(opening, abs(float(at("exocanthion")[0] - at("endocanthion")[0])))
    if v["tone"] >= 0.5:
        dark = e.iris.copy()
        dark[:, 1] = np.minimum(dark[:, 1], centre[1] - 0.05 * r * tall)
        yield Stroke(line(dark, Ink.TONE, f"iris tone {k}", closed=True, filled=True))
    yield Stroke(line(e.pupil, Ink.PUPIL, f"pupil {k}", closed=True, filled=True))
    yield Stroke(line(e.iris, Ink.DETAIL, f"iris edge {k}", closed=True))
    side = v["light_side"]
    spots = ((0.42 * side if side else 0.0, -0.40, 0.30), (-0.36 * side if side else 0.2, 0.38, 0.16))
    for n, (dx, dy, size) in enumerate(spots[: round(v["highlights"])]):
        if opening > 0.5 * r:  # a nearly closed eye catches no light
            spot = features.held_by_lids(centre + [dx * r, dy * r * tall], size * r, tall, e.upper, e.lower)
            yield Stroke(line(spot, Ink.LIGHT, f"highlight {n + 1} {k}", closed=True, filled=True))
    if v["weight"] > 0:
        u = np.linspace(0, 1, len(e.upper))
        full = 0.22 * v["weight"] * max(opening, 0.25 * r) * np.sin(np.pi * u**1.35) ** 0.6 * (0.35 + 0.65 * u)
        full[-1] = 0.0
        band = np.concatenate([e.upper, (e.upper - np.column_stack([0 * u, full]))[::-1]])
        yield Stroke(line(band, Ink.DARK, f"lid line {k}", closed=True, filled=True))
    yield Stroke(line(e.upper, Ink.FEATURE, f"upper lid {k}"))
    start = round((1 - v["lower_line"]) * (len(e.lower) - 1))
    if len(e.lower) - start > 2:
        yield Stroke(line(e.lower[start:], Ink.DETAIL, f"lower lid {k}"))
    if v["crease"] >= 0.5:
        yield Stroke(line(e.crease, Ink.DETAIL, f"lid crease {k}"))
    long = v["lash_length"] * max(opening, 0.3 * r)
    yield from _lashes(e.upper, round(v["lashes"]), v["bare"], long, -1, f"lash {k}")
    yield from _lashes(e.lower, round(v["lower_lashes"]), max(v["bare"], 0.35), 0.5 * long, 1, f"lower lash {k}")


def _lashes(lid: Array, count: int, bare: float, long: float, down: int, name: str) -> Iterator[Stroke]:
    """Lashes grow longer and lean out toward the outer corner; the share next to the inner corner is bare."""
    outward = np.sign(lid[-1, 0] - lid[0, 0])
    for n in range(count):
        u = bare + (0.985 - bare) * (n + 0.5) / count
        root = np.array([np.interp(u, np.linspace(0, 1, len(lid)), lid[:, c]) for c in (0, 1)])
        q = (u - bare) / max(1 - bare, 1e-6)
        size = long * (0.40 + 0.60 * q)
        lean = np.radians(8 + 62 * q**1.2)
        s = np.linspace(0, 1, 6)
        across, up = np.sin(lean) * s, np.cos(lean) * s * (1 - 0.25 * s) + 0.12 * s**2
        pts = root + size * np.column_stack([outward * across, down * up])
        yield Stroke(line(pts, Ink.FEATURE, f"{name} {n + 1}"), off=0.7 * size * s)


def _brow(points: Array, k: str, v: Mapping[str, float]) -> Iterator[Stroke]:
    inner, peak, outer = (_at(points, f"brow_{n}_{k}") for n in ("inner", "peak", "outer"))
    thick = float(_at(points, f"brow_lower_peak_{k}")[1] - peak[1]) * v["thick"]
    shape = features.brow(inner, peak, outer, thick, v["taper"], v["arch"])
    if v["fill"] >= 0.5:
        yield Stroke(line(shape, Ink.DARK, f"brow {k}", closed=True, filled=True))
    else:
        yield Stroke(line(shape, Ink.FEATURE, f"brow {k}", closed=True))
    n, half = round(v["hairs"]), len(shape) // 2
    top, low = shape[:half], shape[half:][::-1]
    for i in range(n):
        u = (i + 0.5) / n * (half - 1)
        a, b = (np.array([np.interp(u, np.arange(half), c[:, d]) for d in (0, 1)]) for c in (low, top))
        lean = (outer - inner) * (0.05 + 0.05 * i / n)
        yield Stroke(line(np.array([a, (a + b) / 2 + 0.3 * lean, b + lean]), Ink.DETAIL, f"brow hair {k} {i + 1}"))


def _nose(points: Array, v: Mapping[str, float]) -> Iterator[Trace]:
    right, left, base, tip, root = (_at(points, n) for n in ("alare_r", "alare_l", "subnasale", "pronasale", "nasion"))
    kind = NOSE[round(v["kind"])]
    n = features.nose(right, left, base, tip, root)
    half = float(left[0] - right[0]) / 2
    drawn = max(2, round(len(n.bridge) * v["bridge"] / 0.9))
    bridge = n.bridge[-drawn:]
    if kind == "full":
        yield line(n.base, Ink.FEATURE, "nose base")
        yield from (line(w, Ink.FEATURE, f"nostril wing {k}") for w, k in zip(n.wings, "rl", strict=True))
        yield from (line(w, Ink.FEATURE, f"nostril {k}") for w, k in zip(n.nostrils, "rl", strict=True))
    elif kind == "wedge":
        p = np.linspace(0, 1, 9)[:, None]
        corner = np.array([tip[0] + 0.85 * half, base[1] - 0.10 * (base[1] - root[1])])
        under = features.curve_through(
            np.array([corner, base + [0.30 * half, 0.004 * half / 0.07], base - [0.55 * half, 0.0]]), 6
        )
        yield line(bridge[-1] + (corner - bridge[-1]) * p, Ink.FEATURE, "nose side")
        yield line(under, Ink.FEATURE, "nose base")
    elif kind == "button":
        a = np.linspace(0.12 * np.pi, 0.88 * np.pi, 21)
        r = 0.62 * half
        yield line(
            np.column_stack([base[0] + r * np.cos(a), base[1] - 0.75 * r + 0.75 * r * np.sin(a)]), Ink.FEATURE, "nose base"
        )
    elif kind == "line":
        yield line(n.base[5:-5], Ink.FEATURE, "nose base")
    elif kind == "nostrils":
        yield from (line(w, Ink.FEATURE, f"nostril {k}") for w, k in zip(n.nostrils, "rl", strict=True))
    if kind == "none":
        return
    if v["bridge"] > 0:
        yield line(bridge, Ink.DETAIL, "bridge")
    start = min(root[1] + (0.06 + 0.9 - v["bridge"]) * (tip[1] - root[1]), tip[1] - 0.08 * (base[1] - root[1]))
    t = np.linspace(start, base[1] - 0.004 * (base[1] - root[1]), 40)
    x = np.interp(t, [root[1], tip[1], base[1]], [root[0], tip[0], base[0]])
    yield line(np.column_stack([x, t]), Ink.FEATURE, RIDGE)


def _mouth(worn: Expressed, v: Mapping[str, float]) -> Iterator[Stroke]:
    kind = round(v["kind"])
    if kind == NO_MOUTH:
        return
    right, left, middle, top, bottom = (
        _at(worn.points, n) for n in ("cheilion_r", "cheilion_l", "stomion", "labiale_superius", "labiale_inferius")
    )
    m = features.mouth(right, left, middle, top, bottom, v["bow"], worn.bend)
    p = np.linspace(-1, 1, len(m.line))
    share = np.clip(1 - np.abs(p) ** 2.2, 0, 1)
    still = np.zeros_like(p)
    low_share = share[6:-6]
    lips = np.concatenate([m.upper, m.lower[::-1]])
    lips_share = np.concatenate([still, low_share[::-1]])
    if v["tint"] >= 0.5 and kind == LIPS:
        yield Stroke(line(lips, Ink.TONE, "lips", closed=True, filled=True), lips_share)
    if worn.drop > 0:
        hole = np.concatenate([m.line, m.line[::-1]])
        yield Stroke(line(hole, Ink.TONE, "open mouth", closed=True, filled=True), np.concatenate([still, share[::-1]]))
        if worn.drop > TEETH_FROM:  # the lips part over the edge of the upper teeth
            row, hang = m.line[5:-5], TEETH * share[5:-5]
            both = np.concatenate([row, row[::-1]])
            yield Stroke(line(both, Ink.LIGHT, "teeth", closed=True, filled=True), np.concatenate([0 * hang, hang[::-1]]))
            yield Stroke(line(row, Ink.DETAIL, "teeth line"), hang)
        yield Stroke(line(m.line, Ink.FEATURE, "lower lip line"), share)
    yield Stroke(line(m.line, Ink.FEATURE, "mouth line"), still)
    if kind == LIPS and v["edges"] > 0:
        yield from _middle(m.upper, v["edges"], "upper lip", still)
        yield from _middle(m.lower, v["edges"], "lower lip", low_share)
    if kind == SHADE:
        yield from _middle(m.lower, 0.45, "lower lip", low_share)
    if v["corners"] > 0:
        size = 0.10 * float(left[0] - right[0]) * v["corners"]
        a = np.linspace(-0.45 * np.pi, 0.45 * np.pi, 9)
        for s, end in ((-1, right), (1, left)):
            arc = end + size * np.column_stack([s * (np.cos(a) - 0.8) * 0.6, np.sin(a)])
            yield Stroke(line(arc, Ink.DETAIL, "mouth corner"), np.zeros(9))


def _middle(curve: Array, share: float, name: str, jaw: Array) -> Iterator[Stroke]:
    """The middle part of a curve."""
    cut = round((1 - share) / 2 * (len(curve) - 1))
    if len(curve) - 2 * cut > 2:
        at = slice(cut, len(curve) - cut)
        yield Stroke(line(curve[at], Ink.DETAIL, name), jaw[at])


def _mark(mark: FaceMark, points: Array) -> Iterator[Trace]:
    """A mark, in heads; landmarks in pixels carry it at their own scale."""
    top, chin = _at(points, "vertex"), _at(points, "gnathion")
    hh = float(chin[1] - top[1])
    for side in (1, -1) if mark.both else (1,):
        centre = np.array([(top[0] + chin[0]) / 2 + side * mark.x * hh, top[1] + mark.station * hh])
        size = mark.size * hh
        c, s = np.cos(np.radians(side * mark.slant)), np.sin(np.radians(side * mark.slant))
        turn = np.array([[c, s], [-s, c]])
        if mark.kind == "freckles":
            n = np.arange(mark.count)
            r = size / 2 * np.sqrt((n + 0.5) / mark.count)
            for i, (dx, dy) in enumerate(np.column_stack([r * np.cos(n * GOLDEN), 0.6 * r * np.sin(n * GOLDEN)]).tolist()):
                yield _dot(centre + [side * dx, dy], (0.0042 + 0.0016 * (i % 3)) * hh, Ink.TONE, f"{mark.name} {i + 1}")
        elif mark.kind == "mole":
            yield _dot(centre, min(size, 0.05 * hh) / 2, Ink.DARK, mark.name)
        elif mark.kind == "scar":
            u = np.linspace(-0.5, 0.5, 15)
            yield line(centre + size * np.column_stack([u, 0.06 * np.sin(5 * u)]) @ turn, Ink.FEATURE, mark.name)
            for x in np.linspace(-0.3, 0.3, max(1, min(mark.count, 9))):
                stitch = np.array([(x - 0.02, -0.09), (x + 0.02, 0.09)])
                yield line(centre + size * stitch @ turn, Ink.DETAIL, mark.name)
        else:
            for x in np.linspace(-0.5, 0.5, mark.count):
                yield line(
                    centre + size * np.array([(x + 0.10, -0.22), (x - 0.10, 0.22)]) @ turn, Ink.DETAIL, f"{mark.name} {x:.2f}"
                )


def _dot(centre: Array, r: float, role: Ink, name: str) -> Trace:
    a = np.linspace(0, 2 * np.pi, 13)[:-1]
    return line(centre + r * np.column_stack([np.cos(a), np.sin(a)]), role, name, closed=True, filled=True)
