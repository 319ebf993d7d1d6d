"""A head outline's class, two ways: by its widths, and by plain shapes fitted to the outline pushed away from the norm.

Every head is an egg upside down, so a plain fit calls everybody one. As an artist does, the outline is pushed first, on an oval:
width(t) = oval(t) · (w(t) / w_norm(t))^1.8, its height to width likewise; the norm's head becomes the oval itself, and what is long, square
or pointed for a head becomes so for a shape. Then plain shapes are fitted upright and the best names the class.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from ..datafiles import Record, parse
from ..head.outline import STATIONS as HEAD_STATIONS
from ..head.outline import departures, half_width, knots
from ..kinds import Array
from .contour import oriented, resampled
from .fit import Fit, choose

STATIONS = np.array([0.12, 0.27, 0.40, 0.54, 0.68, 0.80, 0.90])
"""Heights at which widths are read."""
SPREAD = np.array([0.075, 0.035, 0.032, 0.030, 0.028, 0.030, 0.045, 0.055])
"""One step of height:width and of each width (own)."""
REST = {"eye_station": 0.505, "nose_base_station": 0.695, "mouth_station": 0.79}
GAIN = 1.8
OVAL = 1.40
"""Height to width of the oval that carries the norm's head (own)."""
LONG, ROUND = 1.64, 1.24
"""Pushed height to width beyond which an oval is long, and under which it is round (own)."""
SURE = 0.12
"""The nearest class is told alone when the next lies this share farther (own)."""
FITTED = ("ellipse", "egg", "rounded-rectangle", "trapezoid", "heart", "kite")


class Classes(Record):
    """Rows: face width in heads, skull to face, jaw to face, chin to face. Shapes: what a class is drawn as."""

    source: str
    rows: dict[str, tuple[float, float, float, float]]
    shapes: dict[str, tuple[str, ...]]


@cache
def classes() -> Classes:
    text = resources.files("orthomet.core.shapes.data").joinpath("head_classes.json").read_text(encoding="utf-8")
    return parse(Classes, text, "head_classes.json")


def from_half_widths(half: Array, stations: Array = HEAD_STATIONS, n: int = 240) -> Array:
    """A mirrored outline from half widths over the station, head units, beginning at the crown."""
    r = np.column_stack([half, stations])
    s = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(r, axis=0).T))])
    t = np.linspace(0, s[-1], n // 2 + 1)
    h = np.column_stack([np.interp(t, s, r[:, k]) for k in (0, 1)])
    h[[0, -1], 0] = 0
    return np.asarray(np.vstack([h, (h * [-1, 1])[-2:0:-1]]))


def built(row: tuple[float, float, float, float]) -> Array:
    """The construction's own outline for a row of the table."""
    f, s, j, c = row
    return from_half_widths(
        half_width({"face_width_hh": f, "head_width_hh": s * f, "jaw_width_fw": j, "chin_width_fw": c, **REST})
    )


def half_at(d: Array, t: Array | float) -> Array:
    """Half width of an outline at heights, by its outermost crossings, both sides' mean; 0 where it has none."""
    t = np.atleast_1d(np.asarray(t, float))
    a, b = d, np.roll(d, -1, 0)
    hit = (a[None, :, 1] - t[:, None]) * (b[None, :, 1] - t[:, None]) <= 0
    dy = b[:, 1] - a[:, 1]
    f = np.clip((t[:, None] - a[None, :, 1]) / np.where(np.abs(dy) < 1e-12, 1e-12, dy)[None], 0, 1)
    x = a[None, :, 0] + f * (b[:, 0] - a[:, 0])[None]
    high, low = np.where(hit, x, -np.inf).max(1), np.where(hit, x, np.inf).min(1)
    return np.where(hit.any(1), (high - low) / 2, 0.0)


def unit(c: Array) -> Array:
    """An outline with its crown at 0 and its chin at 1, its middle upright."""
    y = c[:, 1]
    return np.asarray((c - [(c[:, 0].max() + c[:, 0].min()) / 2, y.min()]) / max(float(np.ptp(y)), 1e-12))


def widths(c: Array) -> Array:
    """Log height to width, and the widths at :data:`STATIONS` over the largest."""
    u = unit(c)
    w = max(float(np.ptp(u[:, 0])) / 2, 1e-9)
    return np.append(-np.log(2 * w), half_at(u, STATIONS) / w)


@cache
def _rows() -> dict[str, Array]:
    return {k: widths(built(r)) for k, r in classes().rows.items()}


@cache
def norm_outline() -> Array:
    """The norm's head, as the classes have it."""
    return built(classes().rows["oval"])


@dataclass(frozen=True)
class Named:
    """A class, the next one, and by how much it is nearer (0…1)."""

    name: str
    other: str
    margin: float


def by_widths(c: Array) -> Named:
    z = widths(c)
    d = {k: float(np.linalg.norm((z - r) / SPREAD)) for k, r in _rows().items()}
    first, second = sorted(d, key=lambda k: d[k])[:2]
    return Named(first, second, (d[second] - d[first]) / (d[second] + 1e-9))


def carried(c: Array, n: int = 160) -> Array:
    """The outline pushed away from the norm, on an oval."""
    u, m = unit(c), unit(norm_outline())
    t = (1 - np.cos(np.linspace(0, np.pi, n // 2 + 1))) / 2
    at = np.clip(t, 0.012, 0.988)
    w, w0 = np.ptp(u[:, 0]) / 2, np.ptp(m[:, 0]) / 2
    ratio = (half_at(u, at) / max(w, 1e-9)) / np.maximum(half_at(m, at) / w0, 1e-9)
    half = np.sqrt(np.clip(1 - (2 * t - 1) ** 2, 0, 1)) * np.clip(ratio, 0.3, 2.2) ** GAIN
    half = half / max(float(half.max()), 1e-9) / (OVAL * (w0 / max(w, 1e-9)) ** GAIN) / 2
    r = np.column_stack([half, t])
    return resampled(oriented(np.vstack([r, (r * [-1, 1])[-2:0:-1]])), n)


def by_fits(c: Array) -> Named:
    """From the shapes fitted to the pushed outline; the margin is one of overlap."""
    best: dict[str, float] = {}
    for f in choose(carried(c), FITTED, upright=0).fits:
        k = _class_of(f)
        if k and best.get(k, -1.0) < f.score:
            best[k] = f.score
    order = sorted(best, key=lambda k: -best[k])
    return Named(order[0], order[1] if len(order) > 1 else "", best[order[0]] - (best[order[1]] if len(order) > 1 else 0.0))


def _class_of(f: Fit) -> str:
    tall, own = f.shape.height / f.shape.width, f.shape.own
    if f.kind in ("ellipse", "egg"):
        u = own[0] if own else 0.0
        if u < -0.13:
            return "inverted egg"
        if tall < ROUND:
            return "round"
        if tall > LONG and abs(u) < 0.16:
            return "long"
        return "egg" if u > 0.13 else "inverted egg" if u < -0.10 else "oval"
    if f.kind in ("trapezoid", "rounded-rectangle"):
        q = own[0] if f.kind == "trapezoid" else 0.0
        return "" if q < -0.05 or tall < ROUND else "square" if tall < LONG + 0.25 else "long"
    if f.kind == "heart":
        return "heart" if own[0] < 0.08 else ""
    return "diamond" if abs(own[0]) < 0.46 and own[1] < 0.68 else ""


@dataclass(frozen=True)
class HeadClass:
    """Both answers, and what is said of them."""

    by_widths: Named
    by_fits: Named

    @property
    def name(self) -> str:
        return self.by_fits.name

    @property
    def agree(self) -> bool:
        return self.by_widths.name == self.by_fits.name

    @property
    def words(self) -> str:
        a, b = self.by_widths, self.by_fits
        if not self.agree:
            return f"{a.name} by its widths, {b.name} by its shape"
        return a.name if a.margin > SURE else f"{a.name}, toward {a.other}"


def head_class(c: Array) -> HeadClass:
    """The class of a head's outline, crown up."""
    return HeadClass(by_widths(c), by_fits(c))


def drawn_as(name: str) -> tuple[str, ...]:
    """The plain shapes a class is drawn as."""
    return classes().shapes[name]


@dataclass(frozen=True)
class Built:
    """What makes the head's construction meet an outline: the four planned widths, and what is left, as the plan keeps it."""

    widths: dict[str, float]
    departures: tuple[float, ...]


TURNS = 3
"""The widths' own stations move with them: so often they are read again."""


def built_after(c: Array, table: Mapping[str, float]) -> Built:
    """What of a plan's table meets an outline in head units (crown 0, chin 1): its widths are read where the construction is exact."""
    row = dict(table)
    for _ in range(TURNS):
        h, f, j, k = (max(float(v), 1e-3) for v in half_at(c, np.array(knots(row).stations)))
        row |= {"head_width_hh": 2 * h, "face_width_hh": 2 * f, "jaw_width_fw": j / f, "chin_width_fw": k / f}
    widths_ = {n: row[n] for n in ("head_width_hh", "face_width_hh", "jaw_width_fw", "chin_width_fw")}
    return Built(widths_, departures(row, half_at(c, HEAD_STATIONS)))
