"""A contour pushed about a norm's: its size, its height to width, its taper, its corners, and the rest of its outline.

A contour C is read as log size, log height:width, taper τ and angularity, and reduced: brought to unit size, equal spread both ways and
no taper by smooth one-to-one maps of the plane (scaling, x ↦ x e^{τy}). The plan is g(N) + e (g(C) − g(N)) for every reading, the
reduced outline n + e (c − n) with n the norm's, then the maps back. e = 1 everywhere gives C to rounding, e = 0 N. The maps are
one-to-one whatever their amount; only the reduced outline can cross itself, and is then held back: near the crossing first, as a whole next.
After Brennan, *Leonardo* 18(3), 1985, done to shapes.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from ..kept import remembered
from ..kinds import Array
from .answering import answering
from .contour import angularity, area, centroid, is_even, simple
from .detail import control_polygon, cornered

TRAITS = ("size", "aspect", "taper", "angularity", "roundness")
"""What can be pushed; ``roundness`` is of the whole outline: how far it is from the norm's."""
TAPER_MOST = 1.1
"""The push may change how many times as wide it is below as above by e to this at most (own: a factor of three)."""
FURTHEST = 4.0
"""Emphasis is at most this, either way (own)."""
SIZE_MOST = 3.0
"""Sizes change by e to this at most."""


@dataclass(frozen=True, eq=False)
class Reduced:
    """A contour read and reduced."""

    outline: Array
    centre: Array
    size: float
    """Log of the geometric mean of the spread both ways."""
    aspect: float
    """Log height over width, by spread."""
    taper: float
    """Positive: wider below."""
    angularity: float


def _tapered(c: Array, t: float) -> Array:
    return np.column_stack([c[:, 0] * np.exp(t * c[:, 1]), c[:, 1]])


def _terms(c: Array) -> tuple[Array, Array, Array, Array, Array]:
    x, y = c.T
    xn, yn = np.roll(x, -1), np.roll(y, -1)
    return x, y, xn, yn, x * yn - xn * y


def _spread(c: Array) -> tuple[Array, float, float]:
    """Centre and root mean square half extents of the area, exact for a polygon."""
    m = centroid(c)
    x, y, xn, yn, k = _terms(c - m)
    a = float(k.sum()) / 2
    wide, high = (((u * u + u * un + un * un) * k).sum() / 12 / a for u, un in ((x, xn), (y, yn)))
    return m, float(np.sqrt(max(wide, 1e-18))), float(np.sqrt(max(high, 1e-18)))


def _skew(c: Array) -> float:
    """∫ x² y over the area about its centre: positive when it is wider below."""
    x, y, xn, yn, k = _terms(c - centroid(c))
    inner = 3 * x * x * y + x * x * yn + 2 * x * xn * y + 2 * x * xn * yn + xn * xn * y + 3 * xn * xn * yn
    return float((k * inner).sum() / 60)


def reduced(c: Array) -> Reduced:
    """A contour's readings and its reduced outline; :func:`restored` takes it back exactly."""
    m, a, h = _spread(c)
    if is_even(c):
        m = np.array([c[0, 0], m[1]])
    d = (c - m) / [a, h]
    t = taper_of(d)
    r = _tapered(d, -t)
    m2, a2, h2 = _spread(r)
    y = float(m2[1])
    # x = r_x a2 · e^{t (r_y h2 + y)} · a: what taking the taper out did to spread and centre goes into width, height and centre
    wide, high = a * a2 * np.exp(t * y), h * h2
    return Reduced(
        (r - [0, y]) / [a2, h2],
        m + [0, y * h],
        float(0.5 * np.log(wide * high)),
        float(np.log(high / wide)),
        t * h2,
        angularity(c),
    )


def taper_of(d: Array) -> float:
    """The taper that, taken out of a contour about its centre, leaves it as wide below as above.

    What is left over falls as more is taken out; false position, the end that stays pulled in (Illinois), to rounding.
    """
    low, high = -1.6, 1.6
    at_low, at_high = _skew(_tapered(d, -low)), _skew(_tapered(d, -high))
    if at_low <= 0 or at_high >= 0:
        return low if at_low <= 0 else high
    side = 0
    t = 0.0
    for _ in range(24):
        t = (low * at_high - high * at_low) / (at_high - at_low)
        at = _skew(_tapered(d, -t))
        if abs(at) < 1e-15 or high - low < 1e-13:
            break
        if at > 0:
            low, at_low = t, at
            at_high = at_high / 2 if side == 1 else at_high
            side = 1
        else:
            high, at_high = t, at
            at_low = at_low / 2 if side == -1 else at_low
            side = -1
    return float(t)


def restored(r: Array, centre: Array, size: float, aspect: float, taper: float) -> Array:
    h, a = np.exp(size + aspect / 2), np.exp(size - aspect / 2)
    return np.asarray(_tapered(r, taper) * [a, h] + centre)


@dataclass(frozen=True)
class Limit:
    """What was held back: of which trait, in words."""

    trait: str
    words: str


@dataclass(frozen=True, eq=False)
class Pushed:
    outline: Array
    readings: Mapping[str, float]
    limits: tuple[Limit, ...]


@dataclass(frozen=True, eq=False)
class Pair:
    """A contour against its norm, all that does not change with the push.

    ``answering`` goes point by point, so another outline with the same points (one of less detail) can take the contour's place
    (:meth:`of`).
    """

    contour: Array
    mirror: bool
    one: Reduced
    norm: Reduced
    answering: Array
    """The norm's reduced outline, point for point."""

    def of(self, c: Array) -> Pair:
        """The same norm about another outline of the same points."""
        return self if c is self.contour else replace(self, contour=c, one=reduced(c))


@remembered(24)
def pair(c: Array, norm: Array) -> Pair:
    """A contour and the norm it is pushed about."""
    one, other = reduced(c), reduced(norm)
    mirror = is_even(c)
    n = _by_station(one.outline, other.outline) if mirror and is_even(norm) else answering(one.outline, other.outline)
    return Pair(c, mirror, one, other, n)


def _by_station(c: Array, n: Array) -> Array:
    """Two mirrored outlines: the same share of the way from crown to chin, half by half."""

    def along(v: Array) -> tuple[Array, Array]:
        h = v[: len(v) // 2 + 1]
        s = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(h, axis=0).T))])
        return h, s / s[-1]

    half, sn = along(n)
    sc = along(c)[1]
    h = np.column_stack([np.interp(sc, sn, half[:, j]) for j in (0, 1)])
    return np.vstack([h, (h * [-1, 1])[-2:0:-1]])


def pushed(p: Pair, e: Mapping[str, float], shift: Mapping[str, float] | None = None) -> Pushed:
    """The contour with its traits at their emphasis (those not named at 1). What cannot be done is limited, and said.

    ``shift``: how far the centre itself is moved toward a style, by trait (size and aspect by logarithm, taper).
    """
    shift = shift or {}
    held = {k: float(np.clip(e.get(k, 1.0), -FURTHEST, FURTHEST)) for k in TRAITS}
    limits: list[Limit] = []
    if all(v == 1 for v in held.values()) and not shift:
        return Pushed(p.contour, _read(p.one), ())

    def g(name: str) -> float:
        one, norm = float(getattr(p.one, name)), float(getattr(p.norm, name))
        return norm + held[name] * (one - norm) + shift.get(name, 0.0)

    size, aspect, taper = g("size"), g("aspect"), g("taper")
    for name, now, was in (("size", size, p.one.size), ("aspect", aspect, p.one.aspect)):
        if abs(now - was) > SIZE_MOST:
            limits.append(Limit(name, f"the {_WORDS[name]} stops where it is twenty times what it was"))
    size, aspect = (float(np.clip(v, w - SIZE_MOST, w + SIZE_MOST)) for v, w in ((size, p.one.size), (aspect, p.one.aspect)))
    most = TAPER_MOST / max(float(np.ptp(p.one.outline[:, 1])), 1e-9)
    if abs(taper - p.one.taper) > most and (held["taper"] not in (0.0, 1.0) or "taper" in shift):
        taper = p.one.taper + float(np.sign(taper - p.one.taper)) * most
        limits.append(Limit("taper", "the taper stops where one end is three times as wide against the other as it was"))
    r, limit = _outline_at(p, held["roundness"])
    if limit is not None:
        limits.append(limit)
    out = restored(r, p.one.centre, size, aspect, taper)
    out = _flattened(out) if not simple(out) else out
    if held["angularity"] != 1 and not (held["angularity"] == 0 == held["roundness"]):  # the norm's outline has its own corners
        out, limit = _angular(p, out, held["angularity"])
        if limit is not None:
            limits.append(limit)
    return Pushed(
        out,
        {"size": float(np.exp(size)), "aspect": float(np.exp(aspect)), "taper": taper, "angularity": angularity(out)},
        tuple(limits),
    )


_WORDS = {"size": "size", "aspect": "height against width"}


def _read(r: Reduced) -> dict[str, float]:
    return {"size": float(np.exp(r.size)), "aspect": float(np.exp(r.aspect)), "taper": r.taper, "angularity": r.angularity}


def _flattened(c: Array) -> Array:
    """Rounding may make an extreme outline touch itself: every point a hair toward its neighbours' middle until it does not."""
    for _ in range(8):
        c = (np.roll(c, 1, 0) + 2 * c + np.roll(c, -1, 0)) / 4
        if simple(c):
            break
    return c


def _outline_at(p: Pair, e: float) -> tuple[Array, Limit | None]:
    n, c = p.answering, p.one.outline
    if e == 1:
        return c, None
    r = n + e * (c - n)
    if simple(r) and area(r) > 0:
        return r, None
    held, where = _held_back(n, c, e)
    return held, Limit("roundness", f"the outline would cross itself {where}: it goes no further there")


def _held_back(n: Array, c: Array, e: float) -> tuple[Array, str]:
    """The furthest push without a crossing: held near the crossing only, then as a whole."""
    m = len(c)
    found = crossings(n + e * (c - n))
    place = c[found].mean(0) - c.mean(0) if len(found) else np.zeros(2)
    up = "above" if place[1] < -0.4 else "below" if place[1] > 0.4 else "midway"
    where = up + (", on the right" if place[0] > 0.3 else ", on the left" if place[0] < -0.3 else "")
    found = found if len(found) else np.arange(m)
    near = np.abs(np.arange(m)[:, None] - found[None])
    near = np.minimum(near, m - near).min(1)
    bump = np.exp(-0.5 * (near / (0.04 * m)) ** 2)
    safe = min(1.0, e) if e > 0 else 1.0
    for lowest in np.linspace(e, safe, 9)[1:]:
        w = e - (e - lowest) * bump
        v = n + w[:, None] * (c - n)
        if simple(v) and area(v) > 0:
            return v, where
    low, high = safe, e
    for _ in range(12):
        mid = (low + high) / 2
        v = n + mid * (c - n)
        low, high = (mid, high) if simple(v) and area(v) > 0 else (low, mid)
    v = n + low * (c - n)
    return (v if simple(v) and area(v) > 0 else c), where


def crossings(c: Array) -> Array:
    """Which segments of a closed outline cross another one, indices."""
    a = c
    d = np.roll(c, -1, 0) - a
    w = a[None] - a[:, None]

    def cross(u: Array, v: Array) -> Array:
        return np.asarray(u[..., 0] * v[..., 1] - u[..., 1] * v[..., 0])

    under = cross(d[:, None], d[None])
    with np.errstate(divide="ignore", invalid="ignore"):
        t, u = cross(w, d[None]) / under, cross(w, d[:, None]) / under
    n = len(c)
    gap = np.abs(np.arange(n)[:, None] - np.arange(n)[None])
    hit = (t > 0) & (t < 1) & (u > 0) & (u < 1) & (np.minimum(gap, n - gap) > 1)
    return np.flatnonzero(hit.any(1))


def _logit(v: float) -> float:
    v = min(max(v, 0.02), 0.98)
    return float(np.log(v / (1 - v)))


def _angular(p: Pair, out: Array, e: float) -> tuple[Array, Limit | None]:
    """Corners met by the corner dial, which goes only so far."""
    g = _logit(p.norm.angularity) + e * (_logit(p.one.angularity) - _logit(p.norm.angularity))
    want, now = 1 / (1 + float(np.exp(-g))), angularity(out)
    if e == 1 or abs(want - now) <= 0.004:
        return out, None
    low, high = (0.5, 1.0) if want > now else (0.18, 0.5)
    if want > now:
        control_polygon(out, p.mirror)
    for _ in range(12):
        mid = (low + high) / 2
        low, high = (mid, high) if angularity(cornered(out, mid, p.mirror)) < want else (low, mid)
    v = cornered(out, (low + high) / 2, p.mirror)
    if not simple(v):
        return out, Limit("angularity", "its corners cannot go that far without the outline crossing itself")
    got = angularity(v)
    if abs(got - want) > 0.02:
        return v, Limit("angularity", f"its corners reach {got:.2f} of the {want:.2f} asked for")
    return v, None
