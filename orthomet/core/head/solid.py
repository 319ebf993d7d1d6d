"""The head as a solid: horizontal sections over the station, built from a plan's traits, with features as depth on top.

Head units; x to the right of the picture (the character's left), t the station (crown 0, chin 1), z toward the viewer
about the axis of the ears. Half widths are those of the front outline, so the front view meets the plan exactly. Every
section is a pair of superellipse halves: ``z = zc ± depth·(1 − |x/a|ⁿ)^(1/n)`` from the depth ``zc`` of its widest point.
Depth tables are own, laid over ``u = arccos(1 − 2t)/π`` so that both poles stay round; exponents and the depths of
sockets, eyeballs and cheekbones are common practice of sculptors as this project tried them.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np

from ..curves import pchip, rising
from ..kinds import Array
from .outline import DEPTH, STATIONS, half_width, head_depth, head_front, knots
from .points import sizes

POLE_DEPTH = -0.035
"""The crown lies this far behind the ears (own)."""
SOCKET, EYEBALL, CHEEK, RIDGE = -0.026, 0.020, 0.014, 0.009
"""Depth offsets of the features that make a three-quarter contour convince (common practice, sizes own)."""
HALVINGS = 9
RINGS, SPOKES = 72, 112
"""The grid a contour is looked for on."""
_U = np.linspace(0, 1, len(STATIONS))


def _over_u(stations: list[float], values: list[float], smooth: float) -> Array:
    """A table at :data:`STATIONS` through knots, softened in u; the ends stay."""
    raw = pchip(stations, values)(STATIONS)
    return _soft(raw, smooth)


def _soft(raw: Array, smooth: float) -> Array:
    n = len(raw)
    reach = max(1, int(4 * smooth * (n - 1)))
    k = np.exp(-0.5 * (np.arange(-reach, reach + 1) / (smooth * (n - 1))) ** 2)
    odd = np.concatenate([2 * raw[0] - raw[reach:0:-1], raw, 2 * raw[-1] - raw[-2 : -reach - 2 : -1]])
    return np.asarray(np.convolve(odd, k / k.sum(), "valid"))


def _arc(t: Array, end: float, power: float) -> Array:
    """A superellipse quarter that rises from 0 at t = 0 to 1 at ``end``."""
    return np.asarray((1 - np.clip((end - t) / end, 0, 1) ** power) ** (1 / power))


@dataclass(frozen=True)
class Make:
    """What a head is built by beside its traits. All in heads but the ear's angle (degrees)."""

    chin_forward: float = 0.0
    nose_stand: float = 1.0
    """How far the nose stands out, of the usual depth."""
    ear_open: float = 24.0
    """How far the ears stand off the head (common practice: 20–30°)."""
    drop: float = 0.0
    """How far the chin drops with an open jaw."""
    side: tuple[tuple[str, float], ...] = ()
    """Profile readings the head is built to, heads; where there is none the side follows from the front."""


AS_USUAL = Make()
JAW_BACK = 0.55
"""An open jaw swings about its hinge: for its drop the chin goes back by this share (own, from the hinge's place)."""


@dataclass(frozen=True, eq=False)
class Solid:
    """Tables at :data:`STATIONS`: half width, front and back depth, depth of the widest point, exponent."""

    table: Mapping[str, float]
    half: Array
    front: Array
    back: Array
    widest: Array
    power: Array
    relief: Array
    """Midline features (nose, lips, chin) above the front depth."""
    falloff: Array
    """Half width over which they fall off."""
    plain: bool = False
    """Sections alone, without sockets, cheekbones and the rest."""
    make: Make = AS_USUAL

    def _at(self, values: Array, t: Array) -> Array:
        out: Array = np.interp(np.arccos(np.clip(1 - 2 * t, -1, 1)) / np.pi, _U, values)
        return out

    def section(self, t: Array) -> tuple[Array, Array, Array, Array, Array]:
        """Half width, front, back, widest depth and exponent at stations."""
        a, f, b, zc, n = (self._at(v, t) for v in (self.half, self.front, self.back, self.widest, self.power))
        return a, f, b, zc, n

    def details(self, x: Array, t: Array) -> Array:
        """Depth that features add to the plain section."""
        if self.plain:
            return np.zeros(np.broadcast_shapes(np.shape(x), np.shape(t)))
        p, s, ax = self.table, sizes(self.table), np.abs(x)
        eye, base, nl = p["eye_station"], p["nose_base_station"], p["nose_length_hh"]
        half_nose = p["nose_width_fw"] * s.fw / 2
        z = self._at(self.relief, t) * np.exp(-((ax / self._at(self.falloff, t)) ** 2.2))
        tall = 0.62 * s.opening
        rows = (
            (
                0.30 * self.make.nose_stand * _nose_depth(nl),
                0.72 * half_nose,
                0.36 * half_nose,
                base - 0.09 * nl,
                0.10 * nl + 0.006,
            ),
            (SOCKET, 1.02 * s.eye_x, 0.85 * s.ew, eye, tall + 0.022),
            (EYEBALL, s.eye_x, 0.42 * s.ew, eye, tall + 0.006),
            (RIDGE, 0.95 * s.eye_x, 0.75 * s.ew, p["brow_station"] + 0.012, 0.026),
            (CHEEK, 0.72 * s.fw / 2, 0.08, eye + 0.62 * (base - eye), 0.055),
        )
        for height, cx, sx, cy, sy in rows:
            z = z + height * np.exp(-(((ax - cx) / sx) ** 2) - ((t - cy) / sy) ** 2)
        return np.asarray(z)

    def lift(self, x: Array, t: Array, detail: bool = True) -> Array:
        """Points ``(…, 3)`` of the front surface over front positions; beyond the outline they lie at its widest depth."""
        x, t = np.asarray(x, float), np.asarray(t, float)
        a, f, _, zc, n = self.section(t)
        q = np.clip(np.abs(x) / np.maximum(a, 1e-9), 0, 1)
        z = zc + (f - zc) * (1 - q**n) ** (1 / n)
        if detail:
            z = z + self.details(x, t) * np.clip((1 - q) * 9, 0, 1)
        return np.stack([x, t, z], -1)

    def around(self, phi: Array, t: Array, detail: bool = True) -> Array:
        """Points ``(…, 3)`` at section angles: 0 the front midline, ±π the back."""
        a, f, b, zc, n = self.section(np.asarray(t, float))
        s, c, e = np.sin(phi), np.cos(phi), 2 / n
        x = a * np.sign(s) * np.abs(s) ** e
        z = np.where(c >= 0, zc + (f - zc) * np.abs(c) ** e, zc - (zc - b) * np.abs(c) ** e)
        if detail:
            q = np.abs(x) / np.maximum(a, 1e-9)
            z = z + np.where(c > 0, self.details(x, np.broadcast_to(t, np.shape(x))) * np.clip((1 - q) * 9, 0, 1), 0)
        return np.stack(np.broadcast_arrays(x, t, z), -1)

    def side(self, t: Array, z: Array) -> Array:
        """Half width of the surface at a station and a depth."""
        a, f, b, zc, n = self.section(np.asarray(t, float))
        q = np.where(z > zc, (z - zc) / np.maximum(f - zc, 1e-9), (zc - z) / np.maximum(zc - b, 1e-9))
        return np.asarray(a * (1 - np.clip(q, 0, 1) ** n) ** (1 / n))

    def _follows(self, xyz: Array) -> Array:
        """Share of the jaw's drop points follow: the chin all of it, the hinge under the ear nothing, lips before cheeks."""
        x, t, z = np.abs(xyz[..., 0]), xyz[..., 1], xyz[..., 2]
        mouth, chin = self.table["mouth_station"], float(self.front[-1])
        lips = np.exp(-((x / (0.30 * self.table["mouth_width_fw"] * self.table["face_width_hh"])) ** 4))
        quick = np.clip((t - mouth - 0.002) / (0.20 * (1 - mouth)), 0, 1)
        slow = np.clip((t - mouth + 0.02) / (0.85 * (1 - mouth)), 0, 1)
        down = lips * quick + (1 - lips) * slow
        ahead = np.clip((z - 0.02) / max(0.72 * chin, 0.05), 0, 1)
        return np.asarray(down * down * (3 - 2 * down) * ahead * (2 - ahead))

    def posed(self, xyz: Array) -> Array:
        """Points ``(…, 3)`` of the head with its jaw as far open as it is."""
        if not self.make.drop:
            return xyz
        r, out = self._follows(xyz), xyz.copy()
        out[..., 1] += self.make.drop * r
        out[..., 2] -= self.make.drop * r * (JAW_BACK + 1 - r)
        return out

    def unposed(self, xyz: Array) -> Array:
        """The inverse of :meth:`posed`: the share a point has followed is found by halving."""
        drop = self.make.drop
        if not drop:
            return xyz
        moved = (xyz[..., 1] > self.table["mouth_station"] - 0.03) & (xyz[..., 2] > -0.25)
        out, p = xyz.copy(), xyz[moved]
        low: Array = np.zeros(len(p))
        high: Array = np.ones(len(p))
        at: Array = p
        for _ in range(HALVINGS):
            r = (low + high) / 2
            at = np.stack([p[:, 0], p[:, 1] - drop * r, p[:, 2] + drop * r * (JAW_BACK + 1 - r)], -1)
            further = self._follows(at) > r
            low, high = np.where(further, r, low), np.where(further, high, r)
            out[moved] = at
        return out

    @cached_property
    def grid(self) -> tuple[Array, Array]:
        """Surface points ``(rings, spokes, 3)``, the last spoke closing on the first, and outward unit normals."""
        t = (1 - np.cos(np.pi * np.linspace(0.001, 0.999, RINGS))) / 2
        v = np.linspace(-1, 1, SPOKES + 1)
        phi = np.pi * np.sign(v) * np.abs(v) ** 1.25
        points = self.posed(self.around(phi[None, :], t[:, None]))
        normals = surface_normals(points)
        normals[0], normals[-1] = (0.0, -1.0, 0.0), (0.0, 1.0, 0.0)  # at the poles a ring is a point
        return points, normals

    @cached_property
    def shells(self) -> tuple[Array, Array, float]:
        """Front and back depth over a regular grid of ``|x|`` and t, float32, and its cells per head; −9 and 9 outside."""
        cells = 220.0
        x = np.arange(int(0.60 * cells)) / cells
        t = np.clip(np.arange(int(cells) + 1) / cells, 1e-6, 1 - 1e-6)
        gx, gt = np.meshgrid(x, t)
        a, f, b, zc, n = self.section(gt)
        q = np.clip(gx / np.maximum(a, 1e-9), 0, 1)
        bow = (1 - q**n) ** (1 / n)
        ahead = zc + (f - zc) * bow + self.details(gx, gt) * np.clip((1 - q) * 9, 0, 1)
        behind = zc - (zc - b) * bow
        out = gx >= a
        return (np.where(out, -9, ahead).astype(np.float32), np.where(out, 9, behind).astype(np.float32), cells)


def surface_normals(points: Array) -> Array:
    """Outward unit normals of a grid ``(rings, spokes, 3)`` whose last spoke closes on the first."""
    down, along = np.gradient(points, axis=0), np.empty_like(points)
    along[:, 1:-1] = points[:, 2:] - points[:, :-2]
    along[:, 0] = along[:, -1] = points[:, 1] - points[:, -2]
    n = np.cross(along, down)
    n /= np.maximum(np.linalg.norm(n, axis=-1, keepdims=True), 1e-12)
    middle = points.mean(1, keepdims=True)
    return np.asarray(n if float((n * (points - middle)).sum(-1).mean()) >= 0 else -n)


def _nose_depth(length: float) -> float:
    """How far the tip stands out: short noses stand out less (own)."""
    return float(0.082 * np.clip(length / 0.235, 0.25, 1.25))


def solid(table: Mapping[str, float], make: Make = AS_USUAL) -> Solid:
    """The solid of a head with these traits. Kept while the traits are the same."""
    return _solid(tuple(sorted((k, float(v)) for k, v in table.items())), make)


@dataclass(frozen=True)
class _Tweak:
    """What is put on the tables so that the profile reads as it is planned: a factor on the depth, the rest in heads."""

    depth: float = 1.0
    nose: float = 0.0
    upper: float = 0.0
    lower: float = 0.0
    chin: float = 0.0


ROUNDS, CHIN_GAIN = 16, 1.4
"""Every tweak moves its own reading by nearly its own amount (the chin takes the nose's base along): the rest is gone soon."""


@lru_cache(maxsize=24)
def _solid(rows: tuple[tuple[str, float], ...], make: Make) -> Solid:
    p = dict(rows)
    return _built(p, make, _tweak(rows, make.chin_forward, make.nose_stand, make.side) if make.side else _Tweak())


@lru_cache(maxsize=24)
def _tweak(rows: tuple[tuple[str, float], ...], chin: float, stand: float, side: tuple[tuple[str, float], ...]) -> _Tweak:
    """What brings a head's profile to its plan; the same whatever its face or its ears do."""
    p, wanted, t = dict(rows), dict(side), _Tweak()
    make = Make(chin, stand)
    if "chin_out_hh" in wanted:  # the hand on the chin counts on top of its plan
        wanted["chin_out_hh"] += chin
    for _ in range(ROUNDS):
        read = side_readings(_built(p, make, t))
        off = {k: v - read[k] for k, v in wanted.items() if k in read}
        if max(map(abs, off.values()), default=0.0) < SETTLED:
            break
        depth = wanted["head_depth_hh"] / read["head_depth_hh"] if "head_depth_hh" in off else 1.0
        upper = off.get("upper_lip_out_hh", 0.0)
        t = _Tweak(
            t.depth * depth,
            t.nose + off.get("nose_depth_hh", 0.0),
            t.upper + upper,
            t.lower + upper + off.get("lower_lip_out_hh", 0.0),
            t.chin + CHIN_GAIN * off.get("chin_out_hh", 0.0),
        )
    return t


SETTLED = 2e-4
"""Heads a profile reading may be off its plan."""


def side_readings(head: Solid) -> dict[str, float]:
    """Profile readings of a solid's midline, by the registry's keys, heads."""
    p = head.table
    base, mouth = p["nose_base_station"], p["mouth_station"]
    t = np.linspace(0, 1, 601)
    ahead = head.lift(np.zeros_like(t), t)[:, 2]
    behind = head._at(head.back, t)

    def at(station: float) -> float:
        return float(np.interp(station, t, ahead))

    chin = t > mouth + 0.45 * (1 - mouth)
    brow = (t > p["brow_station"] - 0.05) & (t < p["brow_station"] + 0.02)
    upper, lower = at(mouth - p["upper_lip_hh"]), at(mouth + p["lower_lip_hh"])
    return {
        "nose_depth_hh": at(base - 0.15 * p["nose_length_hh"]) - at(base), "upper_lip_out_hh": upper - at(base), "lower_lip_out_hh": lower - upper,
        "chin_out_hh": float(ahead[chin].max()) - at(base), "head_depth_hh": float(ahead[brow].max() - behind.min()),
    }  # fmt: skip


def _built(p: Mapping[str, float], make: Make, tweak: _Tweak) -> Solid:
    k, s, t = knots(p), sizes(p), STATIONS
    half = half_width(p)
    skull_t, cheek_t, jaw_t, _ = k.stations
    deep, fz = tweak.depth * head_depth(p), tweak.depth * head_front(p)
    bz = fz - deep
    brow, base, mouth = p["brow_station"], p["nose_base_station"], p["mouth_station"]
    ear_bottom = p["ear_bottom_station"]
    # front: forehead arc, a nearly flat face, the chin tucked under
    zc = fz + make.chin_forward + tweak.chin
    ridge = brow - 0.02
    rest = np.interp(
        t, [ridge, (brow + base) / 2, mouth, 1 - 0.3 * (1 - mouth), 1], [fz, 0.99 * fz, 0.985 * zc, 0.97 * zc, 0.95 * zc]
    )
    front = np.where(t < ridge, POLE_DEPTH + (fz - POLE_DEPTH) * _arc(t, ridge, 2.25), rest)
    end = 0.84 * zc
    tuck = np.clip((t - (1 - 0.25 * (1 - mouth))) / (0.25 * (1 - mouth)), 0, 1)
    front = _soft(front + (end - front) * (1 - np.sqrt(1 - tuck)) ** 1.3, 0.018)
    # back: skull, its base within the neck, the underside of the jaw
    widest_t = 0.40 * skull_t / 0.27
    floor_t = min(ear_bottom + 0.045, jaw_t - 0.01)
    fall = np.clip((t - widest_t) / max(floor_t - widest_t, 0.05), 0, 1)
    ball = -0.02 + (bz + 0.02) * (1 - fall**2.3) ** (1 / 2.3)
    under = np.interp(t, [jaw_t - 0.02, jaw_t + 0.012, 1], [-0.01, 0.03, end - 0.04])
    last = np.clip((t - 0.965) / 0.035, 0, 1)
    under = under + (end - under) * (1 - np.sqrt(1 - last)) ** 1.3
    back = np.where(
        t < widest_t,
        POLE_DEPTH + (bz - POLE_DEPTH) * _arc(t, widest_t, 2.1),
        np.where(t < floor_t, np.minimum(ball, -0.01), under),
    )
    back = _soft(back, 0.012)
    r = deep / DEPTH
    widest = _over_u(
        [0, skull_t, cheek_t, jaw_t, 1 - 0.35 * (1 - jaw_t), 1], [POLE_DEPTH, -0.07 * r, 0.085 * r, 0.10 * r, 0.22 * r, end], 0.03
    )
    widest = np.clip(widest, back + 1e-4, front - 0.08 * (front - back))
    # corners near the outline lie on a flatter front: otherwise the near eye would widen as the head turns
    out_at = (s.eye_x + s.ew / 2) / max(float(np.interp(np.arccos(1 - 2 * p["eye_station"]) / np.pi, _U, half)), 1e-6)
    flat = 2.35 + 2.5 * float(np.clip(out_at - 0.56, 0, 0.22))
    power = pchip([0, skull_t, p["eye_station"], jaw_t, 0.97, 1], [2.0, 2.25, flat, 2.05, 2.1, 2.0])(t)
    relief, falloff = _midline(p, s.fw, make.nose_stand, tweak)
    return Solid(p, half, front, back, widest, np.asarray(power), relief, falloff, make=make)


def _midline(p: Mapping[str, float], fw: float, stand: float, tweak: _Tweak) -> tuple[Array, Array]:
    """Nose, lips and chin on the midline, and how wide each is."""
    base, mouth, nl = p["nose_base_station"], p["mouth_station"], p["nose_length_hh"]
    h, root, tip = stand * _nose_depth(nl) + tweak.nose, base - nl, base - 0.15 * nl
    nose, lips = p["nose_width_fw"] * fw / 2, p["mouth_width_fw"] * fw / 2
    full = float(np.clip((p["upper_lip_hh"] + p["lower_lip_hh"]) / 0.065, 0.25, 1.4))
    up = max(base + 0.02 * (mouth - base), min(mouth - 0.9 * p["upper_lip_hh"], mouth - 0.004))
    low = min(mouth + 0.75 * p["lower_lip_hh"] + 0.004, 1 - 0.75 * (1 - mouth))
    fold, chin = mouth + 0.40 * (1 - mouth), mouth + 0.70 * (1 - mouth)
    stations = [
        0.0,
        root - 0.10,
        root - 0.03,
        root,
        root + 0.45 * nl,
        tip - 0.10 * nl,
        tip,
        base - 0.04 * nl,
        base,
        up,
        mouth,
        low,
        fold,
        chin,
        1.0,
    ]
    depth = [
        0,
        0,
        0.001,
        -0.008,
        0.48 * h,
        0.93 * h,
        h,
        0.62 * h,
        0.17 * h,
        0.025 * full + tweak.upper,
        0.011 * full + 0.5 * (tweak.upper + tweak.lower),
        0.018 * full + tweak.lower,
        -0.007,
        0.012,
        0,
    ]
    wide = [
        0.05,
        0.05,
        0.05,
        0.3 * nose + 0.004,
        0.42 * nose,
        0.58 * nose,
        0.60 * nose,
        0.62 * nose,
        0.8 * nose,
        0.62 * lips,
        0.72 * lips,
        0.62 * lips,
        0.7 * lips,
        0.17 * fw,
        0.17 * fw,
    ]
    order = rising(stations, 1e-4)
    order[-1] = max(order[-1], 1.0)
    soft = 0.006 * min(1.0, nl / 0.2)
    relief = pchip(order, depth)(np.clip(STATIONS, order[0], order[-1]))
    falloff = pchip(order, wide)(np.clip(STATIONS, order[0], order[-1]))
    return _soft(relief, soft), np.maximum(falloff, 0.012)
