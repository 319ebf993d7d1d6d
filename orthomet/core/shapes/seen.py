"""A part as it stands: its contour in heads, its plain shape, what its dials and pushes make of it.

Each step is remembered for just what it takes, so that a dial under the hand costs its own step alone.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from ..kept import remembered
from ..kinds import Array
from ..landmarks.frame import Frame
from .answering import answering, nearest_in_order
from .contour import area, overlap, simple, size_of
from .detail import Dial, cornered
from .fit import Choice, Fit, choose, fit
from .head_class import HeadClass, drawn_as, head_class, norm_outline
from .model import Part, Point, Role, Shape, roles
from .pieces import facing
from .plain import KINDS, Plain, made
from .push import Limit, Pair, Pushed, pair, pushed, reduced

STILL = 0.995
"""An outline that a plain shape covers so well is that shape still (own)."""
HEADS = Frame((0.0, 0.0), 0.0, 1.0)
"""The frame of what is in heads already."""


@dataclass(frozen=True, eq=False)
class Seen:
    """A part as it stands, in heads."""

    part: Part
    contour: Array
    """As it was traced."""
    fits: Choice | None
    """How plain shapes fit the contour; None for what is a plain shape from the start."""
    shape: Plain
    """Its plain shape."""
    outline: Array
    """What is drawn."""
    plain: Plain | None
    """The outline where it is a plain shape still."""
    body: Plain
    """The plain shape nearest to what is drawn: what relations know of it."""
    words: str
    """What detail it shows."""
    readings: Mapping[str, float]
    """Size, aspect, taper and angularity of the contour, of its norm and of what is drawn: ``size``, ``norm size``, ``plan size`` …"""
    limits: tuple[Limit, ...]
    head: HeadClass | None
    alike: int
    """Pairs of pieces across from one another that mirror each other."""

    @property
    def named(self) -> str:
        """What it comes down to, in words."""
        if self.fits is None or self.part.kind:
            return self.shape.kind
        return self.fits.words


def to_heads(s: Plain, f: Frame) -> Plain:
    """A plain shape from a picture into heads."""
    if f is HEADS:
        return s
    p = s.p.copy()
    p[:2] = f.to_heads(p[:2])
    if s.kind != "circle":
        p[2] -= f.roll
    p[3 : 3 + KINDS[s.kind].sizes] -= np.log(f.head)
    return Plain(s.kind, p)


def to_picture(s: Plain, f: Frame) -> Plain:
    """And back."""
    if f is HEADS:
        return s
    p = s.p.copy()
    p[:2] = f.to_picture(p[:2])
    if s.kind != "circle":
        p[2] += f.roll
    p[3 : 3 + KINDS[s.kind].sizes] += np.log(f.head)
    return Plain(s.kind, p)


Toward = tuple[float, tuple[tuple[str, float], ...]]
"""How far a style pulls, 0…1, and its own value of every trait it knows of a part."""
NO_STYLE: Toward = (0.0, ())


def _shift(of: Pair, toward: Toward) -> dict[str, float]:
    """How far a style moves the centre of each trait."""
    weight, values = toward
    if weight <= 0:
        return {}
    out = {}
    for k, v in values:
        if k in ("size", "aspect"):
            out[k] = weight * float(np.log(max(v, 1e-6)) - getattr(of.norm, k))
        elif k == "taper":
            out[k] = weight * (v - of.norm.taper)
    return out


def _small(c: Array) -> bool:
    return abs(area(c)) < 1e-9


# ---- one part, step by step


@remembered(128)
def _contour(points: tuple[Point, ...], f: Frame) -> Array:
    return f.to_heads(np.array(points, float)) if f != HEADS else np.array(points, float)


@remembered(128)
def _outline_of(s: Shape, f: Frame) -> Array:
    return to_heads(s.plain, f).outline(240)


CAP, SEAM = 0.95, 0.03
"""Hair that ends above this station is a cap that runs on behind the face: the edge where it was cut counts so much (own)."""


@remembered(128)
def _fits(c: Array, role: str) -> Choice:
    """Plain shapes for a contour; the lower edge of a cap of hair counts little, and it is a ball."""
    low = float(c[:, 1].max())
    if role != "hair" or low > CAP:
        return choose(c)
    return choose(c, ("circle", "ellipse", "egg"), 12, np.where(c[:, 1] > low - SEAM, SEAM, 1.0))


@remembered(64)
def _class(c: Array) -> HeadClass:
    return head_class(c)


@remembered(128)
def _of_kind(c: Array, kind: str, upright: bool) -> Fit:
    return fit(kind, c, 0 if upright else None)


def head_shape(c: Array) -> Fit:
    """A head is drawn as the shape its class stands for, upright: choosing it is an exaggeration in itself."""
    return max((_of_kind(c, k, True) for k in drawn_as(_class(c).name)), key=lambda f: f.score)


@remembered(96)
def _dial(c: Array, corners: tuple[int, ...], plain: Array, even: bool, weight: float) -> Dial:
    return Dial(c, np.array(corners, int), plain, even, weight)


@remembered(128)
def _outline(kind: str, values: tuple[float, ...]) -> Array:
    return Plain(kind, np.array(values)).outline(240)


@remembered(96)
def _alike(c: Array, dial: Dial) -> int:
    last = next((p for p in reversed(dial.pieces) if p is not None), None)
    return sum(f.alike for f in facing(last, c)) if last is not None else 0


@remembered(128)
def _norm(c: Array, role: str) -> Array:
    """What a part is read against: its role's usual shape, upright about it, at its usual size in heads."""
    r = roles()[role]
    m = c.mean(0)
    if r.shape == "norm head":
        n = norm_outline()
        return np.asarray(n - n.mean(0) + m)
    size = r.size if r.size is not None else size_of(c)
    tall = r.aspect if r.aspect is not None else 1.0 if r.shape in ("circle", "rounded-rectangle") else 1.6
    s = made(r.shape, float(m[0]), float(m[1]), 1.0, tall)
    o = s.outline(240)
    return np.asarray(m + (o - o.mean(0)) * (size / max(size_of(o), 1e-12)))


@remembered(96)
def _pair(c: Array, norm: Array) -> Pair:
    return pair(c, norm)


@remembered(64)
def _toward(c: Array, kind: str) -> Array:
    """The points of another plain shape of the same area and box that answer an outline's."""
    own = {
        "egg": (0.15,),
        "rounded-rectangle": (0.3,),
        "triangle": (0.0, 0.0),
        "trapezoid": (0.3, 0.0),
        "kite": (-0.2, 0.0),
        "heart": (-0.3,),
    }
    low, high = c.min(0), c.max(0)
    (x, y), (w, h) = (low + high) / 2, high - low
    s = made(kind, float(x), float(y), float(min(w, h) if kind == "circle" else w), float(h), own.get(kind, ())).outline(240)
    return answering(c, np.asarray([x, y] + (s - [x, y]) * (size_of(c) / max(size_of(s), 1e-12))))


@remembered(128)
def _nearest(o: Array, kind: str) -> Fit:
    return fit(kind, o)


@remembered(160)
def seen_part(p: Part, f: Frame, toward: Toward) -> Seen:
    """One part as it stands, before relations move it; ``toward`` is what a style makes of such parts, and how far it pulls."""
    role = roles()[p.role]
    c = _contour(p.points, f) if p.points else None
    fits = klass = None
    if c is not None:
        fits = _fits(c, p.role)
        klass = _class(c) if p.role == "head" and abs(area(c)) > 1e-9 else None
    shape = _shape_of(p, f, c, fits)
    outline = _outline(shape.kind, tuple(shape.p.tolist()))
    base = outline if c is None else c
    lies = _lies(shape) if role.along else 0.0
    base = _turned(base, lies)
    of = _pair(base, _norm(base, p.role))
    shift = _shift(of, toward) if not _small(base) else {}
    e = {k: v for k, v in p.emphasis.items() if v != 1 and (role.corners or k != "angularity")}
    done = pushed(of, e, shift) if e or shift else Pushed(base, {}, ())
    # what is left of an outline beside size, proportion, taper and corners is for its detail, not for its plain shape
    plainly = done if p.role == "head" or "roundness" not in e else pushed(of, {**e, "roundness": 1.0}, shift)
    now = _pushed_shape(p, shape, _turned(base, -lies), _turned(plainly.outline, -lies)) if e or shift else shape
    out, words, alike = _detailed(p, c, outline, of, e, shift, lies, now)
    plain = now if out is None else None
    out = outline if out is None and now is shape else now.outline(240) if out is None else out
    if p.corner != 0.5:
        out, plain = cornered(out, p.corner, p.even), None
    was = out
    out, held = _on_its_way(out, p)
    plain = plain if out is was else None
    body = now if plain is not None else _nearest(out, p.toward or now.kind).shape
    if plain is None and overlap(out, body.outline()) > STILL:
        plain = body
    told = _told(of, _turned(out, lies), role)
    return Seen(p, outline if c is None else c, fits, shape, out, plain, body, words, told, (*done.limits, *held), klass, alike)


def _lies(s: Plain) -> float:
    """How a shape lies, radians from upright: its longer side is its axis."""
    if s.kind == "circle":
        return 0.0
    t = float(s.p[2]) + (np.pi / 2 if s.width > s.height else 0.0)
    return float((t + np.pi / 2) % np.pi - np.pi / 2)


@remembered(96)
def _turned(c: Array, by: float) -> Array:
    """An outline turned back by an angle about (0, 0)."""
    if by == 0:
        return c
    k, n = np.cos(by), np.sin(by)
    return np.column_stack([k * c[:, 0] + n * c[:, 1], k * c[:, 1] - n * c[:, 0]])


def _pushed_shape(p: Part, shape: Plain, base: Array, outline: Array) -> Plain:
    """The plain shape of a pushed contour: of its own kind, a head's by what class it has become."""
    if p.role == "head" and not p.kind:
        return head_shape(outline).shape
    if shape.kind == "circle":  # one that is no longer round is an ellipse
        round_, oval = (fit(k, outline) for k in ("circle", "ellipse"))
        return round_.shape if round_.overlap > oval.overlap - 0.01 else oval.shape
    m = outline.mean(0)  # brought over the outline, that is where it begins
    by = np.log(size_of(outline) / max(size_of(shape.outline(80)), 1e-12))
    start = shape.p.copy()
    start[:2] = m + (start[:2] - base.mean(0)) * float(np.exp(by))
    start[3 : 3 + KINDS[shape.kind].sizes] += by
    return fit(shape.kind, outline, 0 if p.role == "head" else None, near=Plain(shape.kind, start)).shape


BLENDED = 0.3
"""Detail up to which a pushed part goes over from its plain shape to its own outline."""


def _detailed(
    p: Part,
    c: Array | None,
    outline: Array,
    of: Pair,
    e: Mapping[str, float],
    shift: Mapping[str, float],
    lies: float,
    now: Plain,
) -> tuple[Array | None, str, int]:
    """The outline at the part's detail, None where it is the plain shape; what it shows in words, and how many sides are alike."""
    if c is None or p.detail <= 0:
        return None, "plain shape", 0
    dial = _dial(c, p.corners, outline, p.even, p.against)
    base, words, alike = dial.at(p.detail), dial.said(p.detail), _alike(c, dial)
    if not e and not shift:
        return base, words, alike
    out = _turned(pushed(of if p.detail >= 1 else of.of(_turned(base, lies)), e, shift).outline, -lies)
    if p.detail < BLENDED:  # near the plain shape
        share = 1 - p.detail / BLENDED
        first = nearest_in_order(out, now.outline(240))
        mixed = out + share * (first - out)
        out = mixed if simple(mixed) else out
    return out, words, alike


def _shape_of(p: Part, f: Frame, c: Array | None, fits: Choice | None) -> Plain:
    if p.shape is not None and (not p.kind or p.shape.kind == p.kind):
        return to_heads(p.shape.plain, f)
    if c is None:  # a plain part that was swapped for another kind: in the same box, of the same area
        assert p.shape is not None
        o = _outline_of(p.shape, f)
        return swapped(to_heads(p.shape.plain, f), o, p.kind)
    if p.kind:
        return _of_kind(c, p.kind, p.role == "head").shape
    assert fits is not None
    return head_shape(c).shape if p.role == "head" else fits.best.shape


def swapped(s: Plain, o: Array, kind: str) -> Plain:
    """Another plain shape in the same box, brought to the same area: the choice of shape is the exaggeration, not its size."""
    own = {
        "egg": (0.2,),
        "rounded-rectangle": (0.35,),
        "triangle": (0.0, 0.0),
        "trapezoid": (0.3, 0.1),
        "kite": (-0.2, 0.0),
        "heart": (-0.3,),
    }
    w, h = s.width, s.height
    side = min(w, h) if kind == "circle" else w
    q = made(kind, float(s.p[0]), float(s.p[1]), side, max(h, 1.2 * w) if kind == "capsule" else h, own.get(kind, ()), s.turn)
    by = np.log(size_of(o) / max(size_of(q.outline()), 1e-12))
    p = q.p.copy()
    p[3 : 3 + KINDS[kind].sizes] += by
    return Plain(kind, p)


def _on_its_way(out: Array, p: Part) -> tuple[Array, tuple[Limit, ...]]:
    if not p.toward or p.toward_share <= 0:
        return out, ()
    t = _toward(out, p.toward)
    share = p.toward_share
    while share > 0.02:
        v = out + share * (t - out)
        if simple(v) and area(v) > 0:
            break
        share -= 0.04
    else:
        v = out
    if share < p.toward_share - 1e-9:
        return v, (Limit("toward", f"on its way to a {p.toward} it would cross itself beyond {max(share, 0):.0%}"),)
    return v, ()


def _told(of: Pair, out: Array, role: Role) -> dict[str, float]:
    now = _reading(out)
    rows = {}
    for k in ("size", "aspect", "taper", "angularity"):
        if k == "angularity" and not role.corners:
            continue
        one, norm = (float(getattr(r, k)) for r in (of.one, of.norm))
        log = k in ("size", "aspect")
        rows[k], rows[f"norm {k}"] = (float(np.exp(v)) if log else v for v in (one, norm))
        rows[f"plan {k}"] = now[k]
    return rows


@remembered(128)
def _reading(out: Array) -> dict[str, float]:
    r = reduced(out)
    return {"size": float(np.exp(r.size)), "aspect": float(np.exp(r.aspect)), "taper": r.taper, "angularity": r.angularity}
