"""A drawing in the making, for tests and bench: features that are moved, redrawn, erased; layers, colour, scribbles; exact truth.

Brush, paper and edits are of our own making; nothing of how points are carried is used here.
"""

from __future__ import annotations

import copy
from collections.abc import Iterator

import cv2
import numpy as np
from scipy.interpolate import CubicSpline

from orthomet.core.check.moves import BROW, EYE
from orthomet.core.features.choices import FeatureChoices
from orthomet.core.head import features as F
from orthomet.core.head.construct import outline_path
from orthomet.core.head.outline import half_width
from orthomet.core.head.points import plan_points
from orthomet.core.head.strokes import strokes
from orthomet.core.kinds import Array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.live.affine import after, put

from .faces import random_table

IX = FRONT.index
GROUPS: dict[str, list[int]] = {}
for _s in "lr":
    GROUPS[f"eye_{_s}"] = [IX[f"{n}_{_s}"] for n in EYE]
    GROUPS[f"brow_{_s}"] = [IX[f"{n}_{_s}"] for n in BROW]
    GROUPS[f"ear_{_s}"] = [IX[f"{n}_{_s}"] for n in ("superaurale", "subaurale")]
GROUPS["nose"] = [IX[n] for n in ("subnasale", "alare_l", "alare_r", "pronasale", "nasion")]
GROUPS["mouth"] = [IX[n] for n in ("stomion", "cheilion_l", "cheilion_r", "labiale_superius", "labiale_inferius", "sublabiale")]
_TAKEN = {i for g in GROUPS.values() for i in g}
_RIM = ("vertex", "gnathion", "trichion", "glabella", "zygion", "gonion", "euryon", "chin_side", "frontotemporale", "neck_side")
GROUPS["outline"] = [i for n in _RIM for i in ([IX[n]] if n in IX else [IX[f"{n}_l"], IX[f"{n}_r"]]) if i not in _TAKEN]
USED = sorted(i for g in GROUPS.values() for i in g)
PENCIL = {"contour": (0.0042, 0.80), "feature": (0.0036, 0.78), "detail": (0.0024, 0.50)}
"""Width in heads and weight of a line, by its role."""
MANNERS = (
    {"nose": {"kind": 0.0}}, {"nose": {"kind": 1.0}, "mouth": {"kind": 1.0}}, {"nose": {"kind": 2.0}, "brows": {"fill": 1.0}},
    {"mouth": {"kind": 2.0}, "eyes": {"weight": 1.0, "lashes": 5.0}}, {"brows": {"fill": 1.0}, "eyes": {"weight": 0.5}},
)  # fmt: skip


def similarity(
    s: float = 1.0, deg: float = 0.0, shift: Array | tuple[float, float] = (0, 0), about: Array | tuple[float, float] = (0, 0)
) -> Array:
    c, n = s * np.cos(np.radians(deg)), s * np.sin(np.radians(deg))
    m = np.array([[c, -n], [n, c]])
    return np.column_stack([m, np.asarray(about) - m @ np.asarray(about) + np.asarray(shift)])


def smooth(points: object, n: int = 40) -> Array:
    p = np.asarray(points, float)
    t = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(p, axis=0).T))])
    return np.asarray(CubicSpline(t, p)(np.linspace(0, t[-1], n)))


class InTheMaking:
    """``clone`` it, ``edit`` the copy, ``render`` it; ``truth`` are its landmarks, ``(n, 2)`` pixels."""

    def __init__(
        self, seed: int, size: tuple[int, int] = (1500, 1400), px: float | None = None, table: dict[str, float] | None = None
    ):
        rng = np.random.default_rng([seed, 17])
        self.seed = seed
        self.table = table or random_table(rng, 0.5)
        self.points = plan_points(self.table)
        self.choices = FeatureChoices(values=MANNERS[seed % len(MANNERS)])
        self.maps = {g: similarity() for g in GROUPS}
        self.version = dict.fromkeys(GROUPS, 0)
        self.gone: set[str] = set()
        self.ghosts: list[tuple[str, int, Array, list[tuple[str, Array, bool, bool]], float]] = []
        self.size = np.array(size)
        px = px or 0.6 * size[1]
        self.view = similarity(px, rng.uniform(-2, 2), (size[0] / 2 + rng.uniform(-0.05, 0.05) * px, size[1] * 0.52 - px * 0.5))
        self.layer: dict[str, Array] = {}
        self.weight = float(rng.choice([0.45, 0.7, 1.0]))
        self.inked = False
        self.hair, self.fringe, self.guides = (bool(rng.random() < k) for k in (0.6, 0.5, 0.5))
        self.scribbles: list[tuple[str, Array, float, float]] = []
        self.fills: list[tuple[str, Array, float]] = []
        self.ground = np.clip(np.array([0.965, 0.955, 0.935]) + rng.normal(0, 0.015, 3), 0.85, 1.0)
        self.ink_colour = np.array([(0.10, 0.10, 0.12), (0.20, 0.19, 0.2), (0.16, 0.2, 0.34)][rng.integers(3)])
        self.thick = float(rng.uniform(0.8, 1.6))

    def clone(self) -> InTheMaking:
        d = copy.copy(self)
        d.maps, d.version, d.gone, d.ghosts = dict(self.maps), dict(self.version), set(self.gone), list(self.ghosts)
        d.layer, d.scribbles, d.fills = dict(self.layer), list(self.scribbles), list(self.fills)
        d.table, d.points = dict(self.table), self.points.copy()
        return d

    @property
    def hh(self) -> float:
        return float(np.hypot(*self.view[:, 0]))

    def _unsteady(self, g: str, version: int, p: Array) -> Array:
        """The hand's own wobble, another each time a feature is drawn; landmarks go with it."""
        r = np.random.default_rng([self.seed, sorted(GROUPS).index(g), version])
        k, phase, amp = r.normal(0, 14, (4, 2)), r.uniform(0, 6.3, (4, 2)), r.normal(0, 0.0007, (4, 2))
        for i in range(4):
            p = p + np.sin(p @ k[i])[:, None] * np.cos(phase[i]) * amp[i] + np.cos(p @ k[i])[:, None] * np.sin(phase[i]) * amp[i]
        return p

    def to_px(self, g: str, p: Array, m: Array | None = None, version: int | None = None) -> Array:
        q = self._unsteady(g, self.version[g] if version is None else version, np.asarray(p, float))
        return put(self.view, put(self.maps[g] if m is None else m, q)) + self.layer.get("face", 0)

    def truth(self) -> Array:
        out = np.full((len(self.points), 2), np.nan)
        for g, at in GROUPS.items():
            out[at] = self.to_px(g, self.points[at])
        return out

    # ---- painting

    def lines(self) -> list[tuple[str, Array, bool, bool]]:
        """(group and role, points, closed, filled) of everything drawn, head units."""
        out = []
        for s in strokes(self.points, self.choices):
            p, name = s.path, s.path.name
            side = "l" if float(p.points[:, 0].mean()) > 0 else "r"
            kind = "brow" if name.startswith("brow") else "nose" if name.startswith(("nose", "nostril", "bridge")) else (
                "mouth" if name.startswith(("mouth", "upper lip", "lower lip", "lips", "open")) else "eye"
            )  # fmt: skip
            g = kind if kind in ("nose", "mouth") else f"{kind}_{side}"
            out.append((f"{g}/{p.role}", np.asarray(p.points, float), p.closed, p.filled))
        a = half_width(self.table)
        out.append(("outline/contour", outline_path(a), True, False))
        for s, k in ((1, "l"), (-1, "r")):
            e = F.ear(s, float(self.points[IX[f"superaurale_{k}"], 1]), float(self.points[IX[f"subaurale_{k}"], 1]), a)
            out += [(f"ear_{k}/contour", e.rim, False, False), (f"ear_{k}/detail", e.inner, False, False)]
        half = float(self.points[IX["neck_side_l"], 0] - self.points[IX["neck_side_r"], 0]) / 2
        out += [("outline/feature", n, False, False) for n in F.neck(half, a)]
        line = F.hairline(self.table["hairline_station"], a, self.table["ear_top_station"])
        out.append(("outline/detail", line, False, False))
        return out

    def render(self) -> Array:
        """The picture, RGB uint8."""
        w, h = (int(v) for v in self.size)
        rng = np.random.default_rng([self.seed, 5])
        grain = cv2.GaussianBlur(rng.standard_normal((h, w)).astype(np.float32), (0, 0), 0.9)
        colour = np.empty((h, w, 3), np.float32)
        colour[...] = self.ground.astype(np.float32)
        colour *= 1 + 0.02 * grain[..., None]
        ink = np.zeros((h, w), np.float32)
        self._colour(colour)
        boost, wide = (1.35, self.thick * 1.25) if self.inked else (1.0, self.thick)
        if self.guides:
            for k, key in enumerate(("hairline_station", "brow_station", "eye_station", "nose_base_station", "mouth_station")):
                y = self.table[key]
                self._stroke(
                    ink,
                    put(self.view, smooth([(-0.42, y), (0, y + 0.002), (0.42, y)], 20)) + self.layer.get("guides", 0),
                    0.0018,
                    0.22,
                    70 + k,
                )
            self._stroke(
                ink,
                put(self.view, smooth([(0, -0.05), (0.003, 0.5), (0, 1.08)], 30)) + self.layer.get("guides", 0),
                0.0018,
                0.22,
                76,
            )
        for g, version, m, lines, strength in self.ghosts:
            self._group(ink, lines, g, version, m, self.weight * strength, 1.0)
        lines = self.lines()
        for g in GROUPS:
            if g not in self.gone:
                mine = [one for one in lines if one[0].startswith(f"{g}/")]
                self._group(ink, mine, g, self.version[g], self.maps[g], min(self.weight * boost, 1.15), wide)
        if self.hair:
            self._hair(ink, self.weight * boost, wide)
        for k, (layer, p, width, weight) in enumerate(self.scribbles):
            self._stroke(ink, put(self.view, p) + self.layer.get(layer, 0), width, weight, 500 + k)
        ink = np.clip(ink * (1 + 0.22 * grain), 0, 1)[..., None]
        return np.asarray(
            (np.clip(colour * (1 - ink) + self.ink_colour.astype(np.float32) * colour * ink, 0, 1) * 255).astype(np.uint8)
        )

    def _group(
        self, ink: Array, lines: list[tuple[str, Array, bool, bool]], g: str, version: int, m: Array, weight: float, wide: float
    ) -> None:
        for k, (what, p, closed, filled) in enumerate(lines):
            role = what.split("/")[1]
            q = self.to_px(g, p, m, version)
            if filled:
                if role in ("dark", "tone", "pupil"):
                    self._blob(ink, q, weight * (0.42 if role == "tone" else 0.9))
                continue
            width, strength = PENCIL.get(role, (0.0025, 0.5))
            self._stroke(ink, q, width * wide, weight * strength, 1000 * version + 10 * sorted(GROUPS).index(g) + k, closed, 2)

    def _stroke(
        self, ink: Array, p: Array, width: float, weight: float, seed: int, closed: bool = False, passes: int = 1
    ) -> None:
        """A line in pixels; width in heads. Pressure fades at its ends and wavers along it."""
        rng = np.random.default_rng([self.seed, seed])
        p = np.vstack([p, p[:2]]) if closed else p
        along = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(p, axis=0).T))])
        if along[-1] < 1:
            return
        n = max(4, int(along[-1] / 5))
        u = np.linspace(0, along[-1], n)
        q = np.column_stack([np.interp(u, along, p[:, 0]), np.interp(u, along, p[:, 1])])
        px = width * self.hh
        x0, y0, x1, y1 = _window(q, 3 * px + 6, ink.shape)
        if x1 <= x0 or y1 <= y0:
            return
        out = np.zeros((y1 - y0, x1 - x0), np.uint8)
        fade = np.ones(n) if closed else np.clip(np.minimum(u, along[-1] - u) / (0.3 * along[-1] + 1e-6), 0, 1) ** 0.6
        for _ in range(passes):
            ph = rng.uniform(0, 6.3, 2)
            drift = np.cumsum(rng.normal(0, 1, (n, 2)), 0) / np.sqrt(np.arange(1, n + 1))[:, None] * 0.0005 * self.hh
            c = np.round((q + drift - [x0, y0]) * 16).astype(np.int32)
            wide = px * (0.55 + 0.45 * fade) * (1 + 0.18 * np.sin(u / (5 * px) + ph[0]))
            press = (0.45 + 0.55 * fade) * (0.9 + 0.12 * np.sin(u / (7 * px) + ph[1]))
            one = np.zeros_like(out)
            for i in range(0, n - 1, 4):
                value = int(np.clip(255 * press[i], 20, 255))
                cv2.polylines(one, [c[i : i + 5]], False, value, max(1, round(float(wide[i]))), cv2.LINE_AA, 4)
            out = np.maximum(out, one)
        part = ink[y0:y1, x0:x1]
        part[...] = 1 - (1 - part) * (1 - np.clip(weight * out.astype(np.float32) / 255, 0, 0.97))

    def _blob(self, ink: Array, p: Array, weight: float) -> None:
        x0, y0, x1, y1 = _window(p, 4, ink.shape)
        if x1 > x0 and y1 > y0:
            part = ink[y0:y1, x0:x1]
            part[...] = 1 - (1 - part) * (1 - np.clip(weight * _filled(p - [x0, y0], part.shape), 0, 0.97))

    def _fill(self, colour: Array, p: Array, rgb: Array, soft: float, strength: float) -> None:
        x0, y0, x1, y1 = _window(p, 4 * soft + 4, colour.shape[:2])
        if x1 > x0 and y1 > y0:
            m = _filled(p - [x0, y0], (y1 - y0, x1 - x0))
            m = cv2.GaussianBlur(m, (0, 0), soft) if soft else m
            part = colour[y0:y1, x0:x1]
            part[...] = part * (1 - strength * m[..., None]) + rgb.astype(np.float32) * strength * m[..., None]

    def _colour(self, colour: Array) -> None:
        for what, rgb, strength in self.fills:
            if what == "ground":
                colour[...] = colour * (1 - strength) + rgb.astype(np.float32) * strength
            elif what == "skin":
                self._fill(colour, self.to_px("outline", outline_path(half_width(self.table))), rgb, 1.0, strength)
            elif what == "cheeks":
                t = np.linspace(0, 6.28, 24)
                for s in (1, -1):
                    oval = np.column_stack([s * 0.2 + 0.07 * np.cos(t), 0.68 + 0.05 * np.sin(t)])
                    self._fill(colour, put(self.view, oval) + self.layer.get("face", 0), rgb, 0.02 * self.hh, strength)
            elif what == "lips" and "mouth" not in self.gone:
                m = {n: self.points[IX[n]] for n in ("cheilion_r", "labiale_superius", "cheilion_l", "labiale_inferius")}
                ring = np.vstack([smooth([m[n] for n in three], 20) for three in (
                    ("cheilion_r", "labiale_superius", "cheilion_l"), ("cheilion_l", "labiale_inferius", "cheilion_r"))])  # fmt: skip
                self._fill(colour, self.to_px("mouth", ring), rgb, 1.0, strength)

    def _hair(self, ink: Array, weight: float, wide: float) -> None:
        rng = np.random.default_rng([self.seed, 99])
        off = self.layer.get("hair", 0)
        w, top, e = self.table["head_width_hh"] / 2, self.table["hairline_station"], self.table["ear_top_station"]
        shape = [
            (-w * 1.12, e + 0.06),
            (-w * 1.14, 0.25),
            (-w * 0.95, 0.07),
            (-0.3 * w, -0.05),
            (0.55 * w, -0.06),
            (w * 1.02, 0.08),
            (w * 1.15, 0.26),
            (w * 1.12, e + 0.07),
        ]
        self._stroke(ink, put(self.view, smooth(shape, 100)) + off, 0.004 * wide, 0.75 * weight, 300)
        for k in range(30):
            u, s = rng.random(), 1 if k % 2 else -1
            a, b = (
                np.array([-0.30 * w, -0.02 + 0.2 * u * top]),
                np.array([s * w * rng.uniform(0.86, 1.1), rng.uniform(0.18, e + 0.03)]),
            )
            mid = (a[0] + (b[0] - a[0]) * 0.55, min(a[1], b[1]) + 0.04 * u + 0.015)
            self._stroke(ink, put(self.view, smooth([a, mid, b], 20)) + off, 0.0022 * wide, 0.45 * weight, 310 + k)
        for k in range(12 if self.fringe else 0):
            x, low = rng.uniform(-0.8, 0.8) * w, self.table["brow_station"] + 0.02
            lock = [(x * 0.5 - 0.05, -0.01), (x * 0.85, top * 0.8), (x + rng.normal(0, 0.02), rng.uniform(top, low))]
            self._stroke(ink, put(self.view, smooth(lock, 20)) + off, 0.0028 * wide, 0.55 * weight, 350 + k)


def _window(p: Array, pad: float, shape: tuple[int, ...]) -> tuple[int, int, int, int]:
    lo, hi = np.floor(p.min(0) - pad).astype(int), np.ceil(p.max(0) + pad).astype(int)
    return max(int(lo[0]), 0), max(int(lo[1]), 0), min(int(hi[0]), shape[1]), min(int(hi[1]), shape[0])


def _filled(p: Array, shape: tuple[int, ...]) -> Array:
    m = np.zeros(shape[:2], np.uint8)
    cv2.fillPoly(m, [np.round(p * 16).astype(np.int32)], 255, cv2.LINE_AA, 4)
    return m.astype(np.float32) / 255


# ---- edits

TOGETHER = (
    ["eye_l"], ["eye_r"], ["eye_l", "eye_r"], ["brow_l"], ["brow_r"], ["brow_l", "brow_r"], ["eye_l", "brow_l"], ["nose"],
    ["mouth"], ["mouth"], ["nose", "mouth"], ["ear_l"], ["ear_l", "ear_r"],
)  # fmt: skip
KINDS = {
    "strokes": 0.17, "redraw": 0.20, "lasso": 0.13, "erase": 0.05, "colour": 0.13, "layer": 0.07, "canvas": 0.06, "whole": 0.07,
    "scale file": 0.02, "ink": 0.03, "outline": 0.05, "levels": 0.04,
}  # fmt: skip
"""What is done to a drawing between two saves, and how often."""


def edit(rng: np.random.Generator, d: InTheMaking, kind: str) -> str:
    """Do one thing to a drawing; what it was, in words."""
    if kind == "strokes":
        for _ in range(int(rng.integers(3, 12))):
            if rng.random() < 0.4:
                c = np.array([rng.uniform(-0.3, 0.3), rng.uniform(0.55, 1.02)])
                d.scribbles.append(("face", smooth([c, c + [0.02, 0.035], c + [0.035, 0.07]], 8), 0.0022, 0.35))
            elif rng.random() < 0.5:
                c = np.array([rng.uniform(-0.35, 0.35), rng.uniform(0, 1.0)])
                d.scribbles.append(
                    ("face", smooth(c + np.cumsum(rng.normal(0, 0.02, (6, 2)), 0), 30), 0.0025, rng.uniform(0.2, 0.5))
                )
            else:
                y = rng.uniform(0.1, 0.95)
                d.scribbles.append(("guides", smooth([(-0.4, y), (0, y + 0.01), (0.4, y)], 20), 0.0016, 0.25))
        return "strokes added"
    if kind in ("redraw", "lasso"):
        gs = [g for g in TOGETHER[rng.integers(len(TOGETHER))] if g not in d.gone]
        if not gs:
            return ""
        _shift(rng, d, gs, 0.15 if kind == "redraw" else 0.12)
        for g in gs if kind == "redraw" else []:
            d.version[g] += 1
        return f"{' and '.join(gs)} {'erased and redrawn' if kind == 'redraw' else 'moved'}"
    if kind == "erase":
        left = [g for g in ("eye_l", "brow_r", "nose", "mouth", "ear_r") if g not in d.gone]
        g = left[int(rng.integers(len(left)))]
        if rng.random() < 0.5:
            d.ghosts.append((g, d.version[g], d.maps[g], [x for x in d.lines() if x[0].startswith(f"{g}/")], 0.1))
        d.gone.add(g)
        return f"{g} erased"
    if kind == "back":
        g = sorted(d.gone)[0]
        d.gone.discard(g)
        _shift(rng, d, [g], 0.12)
        d.version[g] += 1
        return f"{g} drawn anew"
    if kind == "colour":
        what = str(rng.choice(["skin", "ground", "cheeks", "lips"]))
        rgb = {"skin": (0.93, 0.78, 0.68), "ground": (0.62, 0.74, 0.80), "cheeks": (0.95, 0.6, 0.55), "lips": (0.80, 0.42, 0.42)}[
            what
        ]
        d.fills.append((what, np.clip(np.array(rgb) + rng.normal(0, 0.05, 3), 0.15, 1), 0.55 if what == "cheeks" else 1.0))
        return f"colour: {what}"
    if kind == "layer":
        layer = str(rng.choice(["face", "hair", "guides"]))
        d.layer[layer] = d.layer.get(layer, np.zeros(2)) + rng.normal(0, 0.02, 2) * d.hh
        return f"{layer} layer shifted"
    if kind == "canvas":
        if rng.random() < 0.5:
            add = rng.integers(0, 250, 4)
            d.size = d.size + [add[0] + add[2], add[1] + add[3]]
            d.view = after(similarity(shift=add[:2]), d.view)
            return "canvas enlarged"
        x = d.truth()[USED]
        low = np.maximum(x.min(0) - d.hh * rng.uniform(0.1, 0.25, 2), 0).astype(int)
        high = np.minimum(x.max(0) + d.hh * rng.uniform(0.1, 0.25, 2), d.size).astype(int)
        d.view, d.size = after(similarity(shift=-low), d.view), high - low
        return "canvas cropped"
    if kind == "whole":
        s, a = rng.uniform(0.9, 1.1), rng.uniform(-4, 4)
        d.view = after(similarity(s, a, rng.normal(0, 0.05, 2) * d.hh, put(d.view, np.array([0, 0.5]))), d.view)
        d.layer = {k: similarity(s, a)[:, :2] @ v for k, v in d.layer.items()}
        return f"whole drawing × {s:.2f}, {a:+.1f}°"
    if kind == "scale file":
        s = float(rng.choice([0.75, 0.8, 1.25]))
        d.view, d.size, d.layer = (
            after(similarity(s), d.view),
            np.round(d.size * s).astype(int),
            {k: v * s for k, v in d.layer.items()},
        )
        return f"exported at {100 * s:.0f} %"
    if kind == "ink":
        for g in GROUPS:
            if g not in d.gone:
                if rng.random() < 0.7:
                    d.ghosts.append((g, d.version[g], d.maps[g], [x for x in d.lines() if x[0].startswith(f"{g}/")], 0.45))
                d.version[g] += 1
        d.inked = True
        return "inked over the pencil"
    if kind == "outline":
        key = str(rng.choice(["jaw_width_fw", "chin_width_fw", "face_width_hh"]))
        d.table[key] *= 1 + rng.uniform(0.04, 0.1) * rng.choice([-1, 1])
        new = plan_points(d.table)
        for i in [*GROUPS["outline"], *GROUPS["ear_l"], *GROUPS["ear_r"]]:
            d.points[i] = new[i]
        d.version["outline"] += 1
        return f"{key.split('_')[0]} redrawn"
    d.weight = float(np.clip(d.weight * rng.choice([0.6, 1.5]), 0.35, 1.1))
    return "lines lighter or darker"


def _shift(rng: np.random.Generator, d: InTheMaking, gs: list[str], grow: float) -> None:
    c = np.mean([put(d.maps[g], np.nanmean(d.points[GROUPS[g]], 0)) for g in gs], 0)
    step = rng.normal(0, 0.022, 2).clip(-0.045, 0.045)
    m = similarity(rng.uniform(1 - grow, 1 + grow), rng.uniform(-4, 4), step, c)
    ghost = float(rng.choice([0, 0.07, 0.15]))
    for g in gs:
        if ghost:
            d.ghosts.append((g, d.version[g], d.maps[g], [x for x in d.lines() if x[0].startswith(f"{g}/")], ghost))
        d.maps[g] = after(m, d.maps[g])


def sequence(seed: int, saves: int = 5, size: tuple[int, int] = (1500, 1400)) -> Iterator[tuple[InTheMaking, list[str]]]:
    """The first state and every save after it, with what was done between, one to three things each."""
    rng = np.random.default_rng([seed, 4242])
    d = InTheMaking(seed, size)
    yield d, ["first"]
    for _ in range(saves):
        d, words = d.clone(), list[str]()
        if d.gone and rng.random() < 0.7:
            words.append(edit(rng, d, "back"))
        odds = np.array(list(KINDS.values()))
        for kind in rng.choice(list(KINDS), int(rng.choice([1, 2, 3], p=[0.35, 0.4, 0.25])), replace=False, p=odds / odds.sum()):
            words.append(edit(rng, d, "strokes" if kind == "ink" and d.inked else str(kind)))
        yield d, [w for w in words if w]
