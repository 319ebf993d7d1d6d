"""Plain shapes: a signed distance and an outline each. Formulas our own; all but a leaning triangle are their own mirror image about an axis.

In a shape's own frame x runs across its axis and y down it, its middle at (0, 0), its half width ``a`` and its half height ``h``; v = y / h.

=================  ==========  =============================================================================================
kind               own         outline
=================  ==========  =============================================================================================
circle                         of radius a
ellipse                        half axes a, h
egg                lean u      a √(1 − v²) e^{κv} / m, κ = u / (1 − u²), m its largest value: u is the place of the widest level
rectangle
rounded-rectangle  corner      rounded by the share of the smaller half; 1 is a capsule
capsule                        a segment of length 2 (h − a) along the axis, a thick
triangle           apex, c     apex over the base at ``apex`` half widths from the middle; rounded by a share of its in-radius
trapezoid          q, c        a (1 − q) at the top, a (1 + q) at the bottom; rounded by a share of what fits
kite               u, c        widest at v = u; rounded by a share of its in-radius
heart              u           half an ellipse above v = u, a (1 − w^1.7) below it, w from 0 there to 1 at the point
=================  ==========  =============================================================================================

Parameters are a vector: x, y, turn (radians, clockwise as it is seen), log sizes (a and h; a alone; a and h − a), own numbers.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .contour import area, centroid, oriented, resampled, with_points

HEART = 1.7
"""How the cheeks of a heart run down to its point (own)."""
Distance = Callable[[Array, Array, Array], Array]
"""Parameters ``(m, k)``, x and y ``(n,)`` → signed distances ``(m, n)``, negative inside; exact near the outline to first order."""


def _local(p: Array, x: Array, y: Array) -> tuple[Array, Array]:
    c, s = np.cos(p[:, 2:3]), np.sin(p[:, 2:3])
    dx, dy = x[None] - p[:, 0:1], y[None] - p[:, 1:2]
    return c * dx + s * dy, c * dy - s * dx


def _sizes(p: Array) -> tuple[Array, Array]:
    return np.exp(p[:, 3:4]), np.exp(p[:, 4:5])


def _convex(x: Array, y: Array, corners: Sequence[tuple[Array, Array]], closed: bool) -> Array:
    """Signed distance to a convex polygon given clockwise; to the right half of one where it is not closed."""
    best = inside = None
    ends = zip(corners, [*corners[1:], corners[0]] if closed else corners[1:])
    for (ax, ay), (bx, by) in ends:
        ex, ey = bx - ax, by - ay
        px, py = x - ax, y - ay
        t = np.clip((px * ex + py * ey) / (ex * ex + ey * ey + 1e-12), 0, 1)
        d = (px - t * ex) ** 2 + (py - t * ey) ** 2
        side = ex * py - ey * px >= 0
        best = d if best is None else np.minimum(best, d)
        inside = side if inside is None else inside & side
    assert best is not None and inside is not None
    d = np.sqrt(best)
    return np.where(inside, -d, d)


def _circle(p: Array, x: Array, y: Array) -> Array:
    return np.asarray(np.hypot(x[None] - p[:, 0:1], y[None] - p[:, 1:2]) - np.exp(p[:, 3:4]))


def _egg_distance(x: Array, y: Array, a: Array, h: Array, u: Array | float) -> Array:
    k = u / (1 - u * u)
    v = np.clip(y / h, -1.6, 1.6)
    e = np.exp(2 * k * v) / ((1 - u * u) * np.exp(2 * k * u))
    f = (x / a) ** 2 - (1 - v * v) * e
    gx, gy = 2 * x / a**2, (2 * v - 2 * k * (1 - v * v)) * e / h
    return np.asarray(f / np.maximum(np.sqrt(gx * gx + gy * gy), 0.35 / np.maximum(a, h)))


def _ellipse(p: Array, x: Array, y: Array) -> Array:
    return _egg_distance(*_local(p, x, y), *_sizes(p), 0.0)


def _egg(p: Array, x: Array, y: Array) -> Array:
    return _egg_distance(*_local(p, x, y), *_sizes(p), p[:, 5:6])


def _box(x: Array, y: Array, a: Array, h: Array, r: Array | float) -> Array:
    qx, qy = np.abs(x) - a + r, np.abs(y) - h + r
    return np.asarray(np.hypot(np.maximum(qx, 0), np.maximum(qy, 0)) + np.minimum(np.maximum(qx, qy), 0) - r)


def _rectangle(p: Array, x: Array, y: Array) -> Array:
    return _box(*_local(p, x, y), *_sizes(p), 0.0)


def _rounded(p: Array, x: Array, y: Array) -> Array:
    a, h = _sizes(p)
    return _box(*_local(p, x, y), a, h, p[:, 5:6] * np.minimum(a, h))


def _capsule(p: Array, x: Array, y: Array) -> Array:
    u, v = _local(p, x, y)
    r, straight = _sizes(p)
    return np.asarray(np.hypot(u, np.maximum(np.abs(v) - straight, 0)) - r)


def _triangle_core(a: Array, h: Array, apex: Array, c: Array) -> tuple[list[tuple[Array, Array]], Array]:
    """Corners of the triangle shrunk toward its in-centre, apex first, and the radius it is rounded by."""
    left, right = np.hypot((1 + apex) * a, 2 * h), np.hypot((1 - apex) * a, 2 * h)
    around = left + right + 2 * a
    r = 4 * a * h / around
    # the in-centre: corners weighted by the sides across from them
    cx = (apex * a * 2 * a + a * left - a * right) / around
    cy = (-h * 2 * a + h * (left + right)) / around
    f = 1 - c
    ends = ((apex * a, -h), (a, h), (-a, h))
    return [(cx + (x - cx) * f, cy + (y - cy) * f) for x, y in ends], c * r


def _triangle(p: Array, x: Array, y: Array) -> Array:
    ends, r = _triangle_core(*_sizes(p), p[:, 5:6], p[:, 6:7])
    return _convex(*_local(p, x, y), ends, True) - r


def _trapezoid_core(a: Array, h: Array, q: Array, c: Array) -> tuple[Array, Array, Array, Array]:
    """Half widths at top and bottom, half height of the trapezoid set in by its corner radius; the radius."""
    top, bottom = a * (1 - q), a * (1 + q)
    slant = np.sqrt((bottom - top) ** 2 + 4 * h * h)
    k, sec = (bottom - top) / (2 * h), slant / (2 * h)
    most = np.minimum(h, np.minimum(top / (sec - k + 1e-9), bottom / (sec + k + 1e-9)))
    r = np.maximum(c * most * 0.98, 0)
    return top + r * k - r * sec, bottom - r * k - r * sec, h - r, r


def _trapezoid(p: Array, x: Array, y: Array) -> Array:
    u, v = _local(p, x, y)
    top, bottom, h, r = _trapezoid_core(*_sizes(p), p[:, 5:6], p[:, 6:7])
    zero = np.zeros_like(h)
    return _convex(np.abs(u), v, [(zero, -h), (top, -h), (bottom, h), (zero, h)], False) - r


def _kite_core(a: Array, h: Array, u: Array, c: Array) -> tuple[list[tuple[Array, Array]], Array]:
    wide = u * h
    s1, s2 = np.sqrt(a * a + (wide + h) ** 2), np.sqrt(a * a + (h - wide) ** 2)
    r = 2 * a * h / (s1 + s2)
    y = h * (s1 - s2) / (s1 + s2)  # its in-circle's centre lies on the axis
    f, zero = 1 - c, np.zeros_like(a)
    return [(zero, y + (-h - y) * f), (a * f, y + (wide - y) * f), (zero, y + (h - y) * f)], c * r


def _kite(p: Array, x: Array, y: Array) -> Array:
    u, v = _local(p, x, y)
    ends, r = _kite_core(*_sizes(p), p[:, 5:6], p[:, 6:7])
    return _convex(np.abs(u), v, ends, False) - r


def _heart(p: Array, x: Array, y: Array) -> Array:
    x, y = _local(p, x, y)
    a, h = _sizes(p)
    u = p[:, 5:6]
    v = y / h
    upper = _egg_distance(x, y - u * h, a, h * (1 + u), 0.0)
    w = np.clip((v - u) / (1 - u), 1e-6, 1.5)
    slope = a * HEART * w ** (HEART - 1) / (h * (1 - u))
    lower = (np.abs(x) - a * (1 - w**HEART)) / np.sqrt(1 + slope * slope)
    return np.where(v < u, upper, lower)


Bounds = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Kind:
    """What there is to know of a plain shape."""

    name: str
    distance: Distance
    sizes: int
    own: tuple[str, ...]
    bounds: Bounds
    numbers: float
    """How many numbers it takes, as its price counts them."""
    language: str
    """What it speaks: round, square or pointed."""
    full_turn: bool = False
    """It comes back to itself after a whole turn only."""


KINDS: Mapping[str, Kind] = {k.name: k for k in (
    Kind("circle", _circle, 1, (), (), 1, "round"),
    Kind("ellipse", _ellipse, 2, (), (), 2, "round"),
    Kind("egg", _egg, 2, ("lean",), ((-0.55, 0.55),), 3, "round"),
    Kind("rectangle", _rectangle, 2, (), (), 2, "square"),
    Kind("rounded-rectangle", _rounded, 2, ("corner",), ((0.0, 1.0),), 3, "square"),
    Kind("capsule", _capsule, 2, (), (), 2, "round"),
    Kind("triangle", _triangle, 2, ("apex", "corner"), ((-1.3, 1.3), (0.0, 0.75)), 3, "pointed", True),
    Kind("trapezoid", _trapezoid, 2, ("taper", "corner"), ((-0.96, 0.96), (0.0, 0.9)), 4, "square"),
    Kind("kite", _kite, 2, ("wide", "corner"), ((-0.8, 0.8), (0.0, 0.75)), 4, "pointed"),
    Kind("heart", _heart, 2, ("wide",), ((-0.75, 0.3),), 3, "pointed", True),
)}  # fmt: skip
ROUND = tuple(k.name for k in KINDS.values() if k.language == "round")


@dataclass(frozen=True, eq=False)
class Plain:
    """One plain shape in its place."""

    kind: str
    p: Array

    def outline(self, n: int = 160) -> Array:
        """Closed outline, ``(n, 2)``, clockwise."""
        return outline(self.kind, self.p, n)

    def placed(self, scale: float, by: Array | None = None) -> Plain:
        """The same scaled about (0, 0), then shifted."""
        p = self.p.copy()
        p[:2] = p[:2] * scale + (0 if by is None else by)
        p[3 : 3 + KINDS[self.kind].sizes] += np.log(scale)
        return Plain(self.kind, p)

    @property
    def width(self) -> float:
        """Across its axis, full."""
        return 2 * float(np.exp(self.p[3]))

    @property
    def height(self) -> float:
        """Along its axis, full."""
        if self.kind == "circle":
            return self.width
        if self.kind == "capsule":
            return 2 * float(np.exp(self.p[3]) + np.exp(self.p[4]))
        return 2 * float(np.exp(self.p[4]))

    @property
    def turn(self) -> float:
        """Degrees, clockwise."""
        return float(np.degrees(self.p[2]))

    @property
    def own(self) -> tuple[float, ...]:
        return tuple(float(v) for v in self.p[3 + KINDS[self.kind].sizes :])

    @property
    def params(self) -> dict[str, object]:
        """The shape in words and numbers, as it is written for others: lengths in the contour's unit, degrees, y down."""
        x, y, turn, w, h = float(self.p[0]), float(self.p[1]), self.turn, self.width, self.height
        if self.kind == "circle":
            return {"cx": x, "cy": y, "r": w / 2}
        if self.kind == "ellipse":
            return {"cx": x, "cy": y, "rx": w / 2, "ry": h / 2, "turn": turn}
        if self.kind == "egg":
            return {"cx": x, "cy": y, "rx": w / 2, "ry": h / 2, "lean": self.own[0], "turn": turn}
        if self.kind == "rectangle":
            return {"cx": x, "cy": y, "w": w, "h": h, "turn": turn}
        if self.kind == "rounded-rectangle":
            return {"cx": x, "cy": y, "w": w, "h": h, "corner": self.own[0] * min(w, h) / 2, "turn": turn}
        if self.kind == "capsule":
            (ax, ay), (bx, by) = sorted(self._placed([(0.0, w / 2 - h / 2), (0.0, h / 2 - w / 2)]), key=lambda q: (q[1], q[0]))
            return {"ax": ax, "ay": ay, "bx": bx, "by": by, "r": w / 2}
        if self.kind == "heart":
            return {"cx": x, "cy": y, "rx": w / 2, "ry": h / 2, "wide": self.own[0], "turn": turn}
        return {"points": [list(q) for q in self._placed(self.sharp())], "corner": self.radius()}

    def sharp(self) -> list[tuple[float, float]]:
        """Corners in its own frame, clockwise, as if it were not rounded: triangle, trapezoid, kite."""
        a, h = self.width / 2, self.height / 2
        first = self.own[0]
        if self.kind == "triangle":
            return [(first * a, -h), (a, h), (-a, h)]
        if self.kind == "trapezoid":
            return [(-a * (1 - first), -h), (a * (1 - first), -h), (a * (1 + first), h), (-a * (1 + first), h)]
        return [(0.0, -h), (a, first * h), (0.0, h), (-a, first * h)]

    def radius(self) -> float:
        """Of its rounded corners."""
        a, h = np.array([self.width / 2]), np.array([self.height / 2])
        own = [np.array([v]) for v in self.own]
        if self.kind == "rounded-rectangle":
            return float(own[0][0] * min(a[0], h[0]))
        if self.kind == "trapezoid":
            return float(_trapezoid_core(a, h, *own)[3][0])
        return float((_triangle_core if self.kind == "triangle" else _kite_core)(a, h, own[0], own[1])[1][0])

    def _placed(self, points: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
        c, s = float(np.cos(self.p[2])), float(np.sin(self.p[2]))
        return [(float(self.p[0]) + c * x - s * y, float(self.p[1]) + s * x + c * y) for x, y in points]


def made(kind: str, x: float, y: float, width: float, height: float, own: Sequence[float] = (), turn: float = 0.0) -> Plain:
    """A plain shape from its full width across the axis, its full height along it, its own numbers and its turn in degrees."""
    k = KINDS[kind]
    th, w, h = float(np.radians(turn)), max(width, 1e-9), max(height, 1e-9)
    values = [*own, *([0.0] * len(k.bounds))][: len(k.bounds)]
    held = [min(max(float(v), low), high) for v, (low, high) in zip(values, k.bounds, strict=True)]
    if kind == "circle":
        return Plain(kind, np.array([x, y, 0.0, np.log(w / 2)]))
    if kind == "capsule":
        return Plain(kind, np.array([x, y, th, np.log(w / 2), np.log(max((h - w) / 2, 1e-3 * w))]))
    return Plain(kind, np.array([x, y, th, np.log(w / 2), np.log(h / 2), *held]))


def _rounded_polygon(corners: Array, r: float, n: int) -> Array:
    """A convex polygon's outline with its corners rounded outward by ``r``."""
    keep = np.hypot(*(np.roll(corners, -1, 0) - corners).T) > 1e-12
    v = corners[keep] if keep.any() else corners[:1]
    if r <= 1e-9 * max(float(np.ptp(corners)), 1e-12):
        return with_points(v, n)
    if len(v) == 1:
        t = np.arange(n) * 2 * np.pi / n
        return np.asarray(v + r * np.column_stack([np.cos(t), np.sin(t)]))
    out = []
    m = len(v)
    for i in range(m):
        a, b, c = v[i - 1], v[i], v[(i + 1) % m]
        t0, t1 = (float(np.arctan2(-(q - p)[0], (q - p)[1])) for p, q in ((a, b), (b, c)))
        dt = (t1 - t0) % (2 * np.pi)
        k = max(2, int(np.ceil(dt / 0.08)))
        t = t0 + dt * np.arange(k + 1) / k
        out.append(b + r * np.column_stack([np.cos(t), np.sin(t)]))
    return resampled(np.vstack(out), n)


def outline(kind: str, p: Array, n: int = 160) -> Array:
    """Closed outline of a plain shape from its parameters, ``(n, 2)``, clockwise."""
    p = np.asarray(p, float)
    t = np.arange(n) * 2 * np.pi / n
    a = float(np.exp(p[3]))
    h = float(np.exp(p[4])) if KINDS[kind].sizes > 1 else a
    own = [float(v) for v in p[3 + KINDS[kind].sizes :]]
    if kind == "circle":
        q = a * np.column_stack([np.cos(t), np.sin(t)])
    elif kind in ("ellipse", "egg"):
        u = own[0] if own else 0.0
        k = u / (1 - u * u)
        v = np.sin(t)
        q = np.column_stack([a * np.cos(t) * np.exp(k * v) / np.sqrt((1 - u * u) * np.exp(2 * k * u)), h * v])
    elif kind == "heart":
        u, v = own[0], -np.cos(np.linspace(0, np.pi, n // 2 + 1))
        low = 1 - np.clip((v - u) / (1 - u), 0, 1) ** HEART
        w = np.where(v < u, np.sqrt(np.clip(1 - ((u - v) / (1 + u)) ** 2, 0, 1)), low)
        right = np.column_stack([a * w, h * v])
        q = np.vstack([right, (right * [-1, 1])[-2:0:-1]])
    elif kind == "capsule":
        q = _rounded_polygon(np.array([(0.0, -h), (1e-6 * h, h)]), a, n)
    else:
        q = _rounded_polygon(*_corners(kind, a, h, own), n)
    c, s = np.cos(p[2]), np.sin(p[2])
    return np.column_stack([c * q[:, 0] - s * q[:, 1] + p[0], s * q[:, 0] + c * q[:, 1] + p[1]])


def _corners(kind: str, a: float, h: float, own: Sequence[float]) -> tuple[Array, float]:
    """Corners set in by the radius they are rounded by, and the radius."""
    if kind in ("rectangle", "rounded-rectangle"):
        r = own[0] * min(a, h) if own else 0.0
        return np.array([(-a + r, -h + r), (a - r, -h + r), (a - r, h - r), (-a + r, h - r)]), r
    wide, tall, numbers = np.array([a]), np.array([h]), [np.array([v]) for v in own]
    if kind == "trapezoid":
        top, bottom, high, r_ = (float(v[0]) for v in _trapezoid_core(wide, tall, *numbers))
        return np.array([(-top, -high), (top, -high), (bottom, high), (-bottom, high)]), r_
    ends, radius = (_triangle_core if kind == "triangle" else _kite_core)(wide, tall, numbers[0], numbers[1])
    v = [(float(x[0]), float(y[0])) for x, y in ends]
    if kind == "kite":
        v.append((-v[1][0], v[1][1]))
    return np.array(v), float(radius[0])


def tidy(kind: str, p: Array) -> Array:
    """One way of writing every shape: upright as far as it can be, what is above and below told by its own numbers."""
    p = p.copy()
    if kind == "circle":
        p[2] = 0.0
        return p
    t = float((p[2] + np.pi) % (2 * np.pi) - np.pi)
    half = np.pi / 2
    if kind in ("ellipse", "rectangle", "rounded-rectangle"):
        quarter = round(t / half)
        t -= quarter * half
        if quarter % 2:
            p[3], p[4] = p[4], p[3]
    elif not KINDS[kind].full_turn and (t > half or t <= -half):
        t += -np.pi if t > 0 else np.pi
        if kind in ("egg", "trapezoid", "kite"):
            p[5] = -p[5]
    p[2] = t
    return _on_best_base(p) if kind == "triangle" else p


def _on_best_base(p: Array) -> Array:
    """The same triangle standing on the side over whose middle its third corner lies best."""
    c = np.array(Plain("triangle", p)._placed(Plain("triangle", p).sharp()))
    best: tuple[float, Array] | None = None
    for k in range(3):
        top, right, left = c[k], c[(k + 1) % 3], c[(k + 2) % 3]
        side, mid = right - left, (right + left) / 2
        long = float(np.hypot(*side))
        u = side / max(long, 1e-12)
        v = np.array([-u[1], u[0]])  # down, away from the top
        h, apex = float((mid - top) @ v), float((top - mid) @ u) / max(long / 2, 1e-12)
        if h <= 0 or abs(apex) > 1.3:
            continue
        x, y = mid - v * h / 2
        q = np.array([x, y, float(np.arctan2(u[1], u[0])), np.log(max(long / 2, 1e-9)), np.log(max(h / 2, 1e-9)), apex, p[6]])
        if best is None or abs(apex) < best[0] - 0.02:
            best = abs(apex), q
    return p if best is None else best[1]


def circle_of(c: Array) -> Plain:
    """The circle of the same area about the same centre."""
    m = centroid(oriented(c))
    r = float(np.sqrt(abs(area(c)) / np.pi))
    return made("circle", float(m[0]), float(m[1]), 2 * r, 2 * r)
