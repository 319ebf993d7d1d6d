"""Closed contours: measured, evened out along their length, smoothed with their corners kept, made exactly symmetrical.

A contour is an ``(n, 2)`` array of points, closed without saying the first one again, x right, y down, going clockwise as it is seen
(its area by the shoelace formula is positive).
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from ..errors import FormatError
from ..kinds import Array

if TYPE_CHECKING:
    from shapely.geometry import Polygon

POINTS = 240
"""Points of a part's contour (own)."""
MOST_POINTS = 1_000_000
"""Points of a contour taken from outside at most."""
SMOOTH = 0.008
"""Smoothing along a traced contour, one standard deviation as a share of its length (own)."""
CORNER = 44.0
"""Degrees a corner turns at least over a short reach (own)."""
REACHES = (0.02, 0.032, 0.045)
"""How far to both sides a corner is looked at, shares of the length."""
APART = 0.035
"""Corners are apart by this share of the length at least."""
NEARLY_EVEN = 0.95
"""A shape that covers its own mirror image by so much is meant to be symmetrical (own)."""


def area(c: Array) -> float:
    """Signed area by the shoelace formula; positive when the contour goes clockwise as it is seen."""
    x, y = c[:, 0], c[:, 1]
    return 0.5 * float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y))


def perimeter(c: Array) -> float:
    return float(np.hypot(*(np.roll(c, -1, 0) - c).T).sum())


def oriented(c: Array) -> Array:
    """The same going clockwise."""
    return c if area(c) >= 0 else c[::-1].copy()


def size_of(c: Array) -> float:
    """Side of the square of the same area."""
    return float(np.sqrt(abs(area(c))))


def centroid(c: Array) -> Array:
    """Centre of the area; the middle of the points where there is none."""
    x, y = c[:, 0], c[:, 1]
    xn, yn = np.roll(x, -1), np.roll(y, -1)
    k = x * yn - xn * y
    whole = float(k.sum())
    if abs(whole) < 1e-12:
        return np.asarray(c.mean(0))
    return np.array([((x + xn) * k).sum(), ((y + yn) * k).sum()]) / (3 * whole)


def arc(c: Array) -> tuple[Array, float]:
    """Length along the contour up to every point, and the whole length."""
    d = np.hypot(*(np.roll(c, -1, 0) - c).T)
    s = np.concatenate([[0.0], np.cumsum(d)])
    return s[:-1], float(s[-1])


def at(c: Array, s: Array) -> Array:
    """Points at lengths ``s`` along the contour, taken round."""
    a, whole = arc(c)
    s = np.mod(s, whole) if whole > 0 else np.zeros_like(s)
    a = np.append(a, whole)
    return np.column_stack([np.interp(s, a, np.append(c[:, k], c[0, k])) for k in (0, 1)])


def resampled(c: Array, n: int = POINTS) -> Array:
    """``n`` points equally far from one another along the contour, the first one kept."""
    return at(c, np.arange(n) * arc(c)[1] / n)


def with_points(v: Array, n: int = POINTS) -> Array:
    """Points along a contour with its own among them, each stretch between two of them evenly spaced."""
    side = np.hypot(*(np.roll(v, -1, 0) - v).T)
    share = side / max(float(side.sum()), 1e-12) * n
    many = np.maximum(1, np.round(share)).astype(int)
    while many.sum() != n and n >= len(v):
        i = int(np.argmax(many - share)) if many.sum() > n else int(np.argmin(many - share))
        many[i] += -1 if many.sum() > n else 1
    nxt = np.roll(v, -1, 0)
    return np.concatenate([a + (b - a) * (np.arange(m) / m)[:, None] for a, b, m in zip(v, nxt, many, strict=True)])


def turning(c: Array, reach: int) -> Array:
    """Degrees turned at every point between the chord ``reach`` points back and the one ahead; positive where it is convex."""
    a, b = c - np.roll(c, reach, 0), np.roll(c, -reach, 0) - c
    return np.asarray(np.degrees(np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(1))))


def corners(c: Array, least: float = CORNER) -> Array:
    """Where an evenly spaced contour has corners, indices.

    A corner turns nearly as much over a short reach as over a long one, a bend in proportion to the reach.
    """
    n = len(c)
    reach = [max(2, round(s * n)) for s in REACHES]
    t = np.array([turning(c, r) for r in reach])
    bend = t[-1] * reach[0] / reach[-1]
    strength = np.minimum(np.abs(t).min(0), np.abs(t[0]) * 1.25)
    true = (np.sign(t) == np.sign(t[-1])).all(0) & (np.abs(t[0]) > 1.55 * np.abs(bend))
    strength = np.where(true, strength, 0.0)
    found: list[int] = []
    gap = max(2, round(APART * n))
    for i in np.argsort(-strength):
        if strength[i] < least:
            break
        if all(min((i - j) % n, (j - i) % n) >= gap for j in found):
            found.append(int(i))
    return np.array(sorted(found), int)


def smoothed(c: Array, sigma: float, keep: Array | None = None) -> Array:
    """Smoothed along its length by a Gaussian of so many points, without shrinking to second order; points in ``keep`` stay corners.

    Between corners every stretch goes on mirrored through its ends, so that ends stay and what is straight stays straight.
    """
    if sigma <= 0:
        return c.copy()
    r = int(3.5 * sigma) + 1
    k = np.exp(-0.5 * (np.arange(-r, r + 1) / sigma) ** 2)
    k /= k.sum()

    def passed(v: Array, open_: bool) -> Array:
        padded = [_odd(v[:, j], r) if open_ else np.take(v[:, j], np.arange(-r, len(v) + r), mode="wrap") for j in (0, 1)]
        return np.column_stack([np.convolve(p, k, "valid") for p in padded])

    def once(v: Array, open_: bool) -> Array:
        a = passed(v, open_)
        return a + (a - passed(a, open_)) * 0.9  # sharpened once: the shrinkage of second order is gone

    n = len(c)
    if keep is None or not len(keep):
        return once(c, False)
    out = c.copy()
    for a, b in zip(keep, np.append(keep[1:], keep[0] + n), strict=True):
        i = np.arange(a, b + 1) % n
        if len(i) < 5:
            continue
        out[i] = once(c[i], True)
        out[[a % n, b % n]] = c[[a % n, b % n]]
    return out


def _odd(v: Array, r: int) -> Array:
    m = len(v) - 1
    while r > 0:
        s = min(r, m)
        v = np.pad(v, s, mode="reflect", reflect_type="odd")
        r -= s
    return v


def traced(points: object, n: int = POINTS, smooth: float = SMOOTH, least: float = CORNER) -> tuple[Array, Array]:
    """A contour from a hand's line round a part, and which of its points are corners.

    Corners are looked for on a lightly smoothed copy, kept while the rest is smoothed more, and moved to where their two sides meet.

    Raises
    ------
    FormatError
        No area, or no numbers.
    """
    p = clean(points)
    c = resampled(oriented(p), n)
    found = corners(smoothed(c, 0.006 * n), least)
    kept = smoothed(c, smooth * n, found)
    for out in (_sharpened(kept, found), kept, smoothed(c, smooth * n), c):  # thin parts may touch themselves once smoothed
        if simple(out) and area(out) > 0:
            return out, found
    return resampled(oriented(untangled(c)), n), found


def clean(points: object) -> Array:
    """Points from outside as a contour: numbers, no two alike in a row, an area, no crossing of itself.

    Raises
    ------
    FormatError
        With a sentence that says what is wrong with it.
    """
    try:
        p = np.asarray(points, float)
    except (TypeError, ValueError):
        raise FormatError("A contour is a list of points, each two numbers.") from None
    if p.ndim != 2 or p.shape[1] != 2 or not np.isfinite(p).all():
        raise FormatError("A contour is a list of points, each two numbers.")
    if len(p) > MOST_POINTS:
        raise FormatError(f"A contour has at most {MOST_POINTS:,} points; this has {len(p):,}.")
    if len(p) > 1:
        step = np.hypot(*np.diff(p, axis=0).T)
        p = p[np.concatenate([[True], step > 1e-9 * max(float(np.ptp(p)), 1e-9)])]
    if len(p) > 2 and float(np.hypot(*(p[0] - p[-1]))) < 1e-9 * max(float(np.ptp(p)), 1e-9):
        p = p[:-1]
    if len(p) < 3:
        raise FormatError("A contour needs three points at least, apart from one another.")
    if float(np.abs(p).max()) > 1e9:
        raise FormatError("A point of the contour lies out of all bounds.")
    if len(p) > 4000:
        p = resampled(p, 4000)
    if not simple(p):
        p = untangled(p)
    if abs(area(p)) < 1e-4 * max(perimeter(p), 1e-12) ** 2 / 16:
        raise FormatError("The line encloses next to nothing: draw it round the part.")
    return p


GRID = 1000
"""Pixels across which a line that crosses itself is sorted out: far finer than what is kept of it."""


def untangled(p: Array) -> Array:
    """The largest simple piece of a line that crosses itself (even–odd), where that is most of it.

    Raises
    ------
    FormatError
        It crosses itself so that no piece is most of it, or encloses nothing.
    """
    import cv2

    low, span = p.min(0), max(float(np.ptp(p, axis=0).max()), 1e-12)
    f = GRID / span
    size = np.ceil(np.ptp(p, axis=0) * f).astype(int) + 9
    m = np.zeros((int(size[1]), int(size[0])), np.uint8)
    cv2.fillPoly(m, [np.round(((p - low) * f + 4) * 16).astype(np.int32)], 1, shift=4)
    block = np.ones((3, 3), np.uint8)
    # pieces that meet in a point are pieces: they are told apart a pixel in from their edge
    count, labels, stats, _ = cv2.connectedComponentsWithStats(cv2.erode(m, block), connectivity=4)
    if count < 2:
        raise FormatError("The line encloses next to nothing: draw it round the part.")
    areas = stats[1:, cv2.CC_STAT_AREA]
    best = 1 + int(areas.argmax())
    hull = float(cv2.contourArea(cv2.convexHull(p.astype(np.float32))))
    if areas.max() < 0.7 * areas.sum() or areas.max() < 0.2 * hull * f * f:
        raise FormatError("The line crosses itself: draw each part with a line of its own.")
    piece = cv2.dilate((labels == best).astype(np.uint8), block)
    found, _ = cv2.findContours(piece, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    c = max(found, key=cv2.contourArea)[:, 0].astype(float)
    if len(c) < 8:
        raise FormatError("The line encloses next to nothing: draw it round the part.")
    return np.asarray((c - 4) / f + low)


def _sharpened(c: Array, found: Array) -> Array:
    """Every corner moved to where straight lines through its two sides meet: a hand rounds its corners a little."""
    out, n = c.copy(), len(c)
    far, near = max(4, n // 30), 2
    most = 0.02 * perimeter(c)
    for i in found:
        sides = []
        for s in (-1, 1):
            q = c[(i + s * np.arange(near, far)) % n]
            m = q.mean(0)
            sides.append((m, np.linalg.svd(q - m)[2][0]))
        (a, u), (b, v) = sides
        across = u[0] * v[1] - u[1] * v[0]
        if abs(across) < 0.3:
            continue
        hit = a + u * (((b - a)[0] * v[1] - (b - a)[1] * v[0]) / across)
        if np.hypot(*(hit - c[i])) < most:
            out[i] = hit
    return out


def simple(c: Array) -> bool:
    """Whether it does not cross itself."""
    from shapely.geometry import LinearRing

    return bool(LinearRing(c).is_simple)


def box_round(points: Array, room: float) -> tuple[float, float, float, float]:
    """Left, top, width and height of points ``(n, 2)`` with room all round, a share of their larger side."""
    low, size = points.min(0), np.ptp(points, axis=0)
    more = room * max(float(size.max()), 1e-6)
    x, y, w, h = (float(v) for v in (*(low - more), *(size + 2 * more)))
    return x, y, w, h


def roundness(c: Array) -> float:
    """4πA/P²: a circle 1, a square π/4."""
    return min(1.0, 4 * np.pi * abs(area(c)) / max(perimeter(c), 1e-12) ** 2)


def convexity(c: Array) -> float:
    """Area over that of the convex hull."""
    g = polygon(c)
    hull = float(g.convex_hull.area)
    return min(1.0, float(g.area) / hull) if hull > 0 else 0.0


def polygon(c: Array) -> Polygon:
    """The contour as a valid polygon (of several pieces, where it crosses itself)."""
    from shapely.geometry import Polygon

    g = Polygon(c)
    return g if g.is_valid else g.buffer(0)


def overlap(a: Array | Polygon, b: Array | Polygon) -> float:
    """Intersection over union of two contours, 0…1."""
    one, other = (v if not isinstance(v, np.ndarray) else polygon(v) for v in (a, b))
    both = one.intersection(other).area
    whole = one.area + other.area - both
    return float(both / whole) if whole > 0 else 0.0


def mirror_of(c: Array, x: float) -> Array:
    """Seen in a mirror along the upright at ``x``; still clockwise."""
    return (c * [-1, 1] + [2 * x, 0])[::-1].copy()


def halved_even(c: Array, n: int = POINTS, x: float | None = None) -> Array:
    """The even half and half of a contour about an upright axis: it begins at the crown, point i answers point n − i."""
    x = float(centroid(c)[0]) if x is None else x
    d = resampled(c, 8 * n) - [x, 0]
    cross = np.flatnonzero((d[:, 0] < 0) != (np.roll(d[:, 0], -1) < 0))
    if len(cross) < 2:
        return resampled(c, n)
    top, bottom = cross[np.argmin(d[cross, 1])], cross[np.argmax(d[cross, 1])]
    d = np.roll(d, -top, 0)
    b = int((bottom - top) % len(d))
    if b < 2 or b > len(d) - 2:
        return resampled(c, n)
    right, left = d[: b + 1], np.vstack([d[b:], d[:1]])[::-1] * [-1, 1]

    def even(v: Array, m: int) -> Array:
        s = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(v, axis=0).T))])
        t = np.linspace(0, s[-1], m)
        return np.column_stack([np.interp(t, s, v[:, k]) for k in (0, 1)])

    h = (even(right, 4 * n) + even(left, 4 * n)) / 2
    h[[0, -1], 0] = 0
    h = even(h, n // 2 + 1)
    return np.asarray(np.vstack([h, (h * [-1, 1])[-2:0:-1]]) + [x, 0])


def evened(c: Array, least: float = NEARLY_EVEN) -> tuple[Array, bool]:
    """A nearly symmetrical contour exactly so, as its maker meant it, and whether it is."""
    x = float(centroid(c)[0])
    if overlap(c, mirror_of(c, x)) < least:
        return c, False
    out = halved_even(c, 2 * (len(c) // 2), x)
    return (out, True) if simple(out) else (c, False)


def is_even(c: Array) -> bool:
    """Whether point i answers point n − i in the mirror, to rounding."""
    x = float(c[0, 0])
    m = c[(-np.arange(len(c))) % len(c)] * [-1, 1] + [2 * x, 0]
    return bool(np.abs(m - c).max() < 1e-6 * max(size_of(c), 1e-12))


def angularity(c: Array, share: float = 0.10) -> float:
    """Share of all turning done in the tightest tenth of the outline, so that a circle has 0 and a polygon 1.

    Read over a fixed short reach, 0.8 % of the length to both sides, whatever the contour's own points.
    """
    q = resampled(c, 240)
    t = np.abs(turning(q, 2))
    t = np.convolve(np.pad(t, 1, mode="wrap"), [0.25, 0.5, 0.25], "valid")
    whole = float(t.sum())
    if whole <= 0:
        return 0.0
    top = float(np.sort(t)[::-1][: round(share * len(t))].sum())
    return float(np.clip((top / whole - share) / (1 - share), 0, 1))


def union_of(outlines: Sequence[Array], n: int = 480) -> Array:
    """The outer outline of several together, of their largest piece."""
    from shapely.ops import unary_union

    g = unary_union([polygon(o) for o in outlines])
    g = max(getattr(g, "geoms", [g]), key=lambda q: q.area)
    return resampled(oriented(np.asarray(g.exterior.coords)[:-1]), n)
