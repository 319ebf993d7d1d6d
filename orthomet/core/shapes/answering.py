"""Which point of one outline answers which of another, so that shapes blend along straight ways without melting.

Three rules, in this order, both outlines laid on one another by centre and size. Both made of straights: edges are aligned like the letters
of two words, where turning an edge costs its angle and losing one its length; a square's top is lost on its way to a triangle. Both
nearly convex: points with the same direction of outline answer one another, so the blend is a weighted Minkowski sum, convex, never
crossing. Otherwise dynamic time warping over direction and place, smoothed.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .contour import arc, area, at, centroid, convexity, oriented, perimeter, resampled, simple, size_of, turning

FLAT = 6.5
"""Degrees a straight turns at most over three points of 240."""
LEAST_EDGE = 0.055
"""An edge is a straight at least so long, a share of the length."""
CONVEX = 0.975
EDGE_LOST = 0.55
"""What losing an edge costs per share of the length."""


@dataclass(frozen=True, eq=False)
class Edge:
    """A straight run: where it starts and ends in shares of the length, which way it goes, its middle and its length."""

    start: float
    end: float
    way: float
    middle: Array
    length: float


def edges(c: Array, n: int = 240) -> list[Edge]:
    q = resampled(c, n)
    on = np.abs(turning(q, 3)) < FLAT
    if on.all() or not on.any():
        return []
    first = int(np.flatnonzero(~on)[0])
    on = np.roll(on, -first)
    change = np.flatnonzero(np.diff(np.concatenate([[0], on.astype(int), [0]])))
    found = []
    for i, j in zip(change[::2], change[1::2], strict=True):
        a, b = int(i) + first - 1, int(j) + first
        if (b - a) / n < LEAST_EDGE:
            continue
        p, r = q[a % n], q[b % n]
        d, v = r - p, q[np.arange(a, b + 1) % n] - p
        bow = float(np.abs(d[0] * v[:, 1] - d[1] * v[:, 0]).max()) / (float(d @ d) + 1e-9)
        if bow < 0.05:
            found.append(Edge(a / n, b / n, float(np.arctan2(d[1], d[0])), (p + r) / 2, (b - a) / n))
    return found


def answering(c: Array, target: Array) -> Array:
    """The point of a target's outline that answers every point of a contour, ``(len(c), 2)``, in order round it."""
    t = oriented(np.asarray(target, float))
    one, other = edges(c), edges(t)
    if min(len(one), len(other)) >= 3 and min(sum(e.length for e in one), sum(e.length for e in other)) > 0.55:
        found = _by_edges(c, t, one, other)
        if found is not None:
            return found
    if min(convexity(c), convexity(t)) > CONVEX:
        return _by_direction(c, t)
    return _by_warping(c, t)


def _by_edges(c: Array, t: Array, one: list[Edge], other: list[Edge]) -> Array | None:
    mc, mt = centroid(c), centroid(t)
    sc, st = size_of(c), size_of(t)
    way = np.array([[abs((x.way - y.way + np.pi) % (2 * np.pi) - np.pi) for y in other] for x in one])
    place = np.array([[np.sum(((x.middle - mc) / sc - (y.middle - mt) / st) ** 2) for y in other] for x in one])
    la, lb = np.array([e.length for e in one]), np.array([e.length for e in other])
    cost = (la[:, None] + lb[None]) / 2 * (way / np.radians(50)) ** 2 + 0.12 * place
    best: tuple[float, list[tuple[int, int]]] = (np.inf, [])
    for r in range(len(other)):
        spent, pairs = _aligned(np.roll(cost, -r, 1), la, np.roll(lb, -r))
        if spent < best[0]:
            best = spent, [(i, (j + r) % len(other)) for i, j in pairs]
    if len(best[1]) < 2:
        return None
    ka = np.array([v for i, _ in best[1] for v in (one[i].start, one[i].end)])
    kb = np.array([v for _, j in best[1] for v in (other[j].start, other[j].end)])
    ka = ka + np.concatenate([[0], np.cumsum(np.diff(ka) < -1e-9)])
    kb = kb + np.concatenate([[0], np.cumsum(np.diff(kb) < -1e-9)])
    s, whole = arc(c)
    s = s / whole
    s = np.where(s < ka[0], s + 1, s)
    return at(t, np.interp(s, np.append(ka, ka[0] + 1), np.append(kb, kb[0] + 1)) * perimeter(t))


def _aligned(cost: Array, la: Array, lb: Array) -> tuple[float, list[tuple[int, int]]]:
    """Two words of edges aligned as by edit distance, and which edges answer one another."""
    n, m = cost.shape
    d = np.full((n + 1, m + 1), np.inf)
    d[0, :] = np.append(0, np.cumsum(lb)) * EDGE_LOST
    d[:, 0] = np.append(0, np.cumsum(la)) * EDGE_LOST
    back = np.zeros((n + 1, m + 1), int)
    back[0, :], back[:, 0] = 2, 1
    for i in range(1, n + 1):
        for j in range(1, m + 1):
            ways = (
                d[i - 1, j - 1] + cost[i - 1, j - 1],
                d[i - 1, j] + EDGE_LOST * la[i - 1],
                d[i, j - 1] + EDGE_LOST * lb[j - 1],
            )
            back[i, j] = int(np.argmin(ways))
            d[i, j] = ways[back[i, j]]
    pairs, i, j = [], n, m
    while i or j:
        if i and j and back[i, j] == 0:
            pairs.append((i - 1, j - 1))
            i, j = i - 1, j - 1
        elif i and (back[i, j] == 1 or not j):
            i -= 1
        else:
            j -= 1
    return float(d[n, m]), pairs[::-1]


def _directions(c: Array, reach: int) -> Array:
    """Direction of the outline at every point, unwrapped and never falling (slight hollows levelled), radians."""
    d = np.roll(c, -reach, 0) - np.roll(c, reach, 0)
    a = np.unwrap(np.arctan2(d[:, 1], d[:, 0]))
    three = np.concatenate([a, a + 2 * np.pi, a + 4 * np.pi])
    up, down = np.maximum.accumulate(three), np.minimum.accumulate(three[::-1])[::-1]
    return np.asarray(((up + down) / 2)[len(a) : 2 * len(a)])


def _by_direction(c: Array, t: Array) -> Array:
    n, m = len(c), 1200
    q = resampled(t, m)
    one, other = _directions(c, max(2, n // 120)), _directions(q, 2)
    other = other - 2 * np.pi * np.round((other[0] - one[0]) / (2 * np.pi))
    tiny = np.arange(m) * 1e-9
    x = np.concatenate([other - 2 * np.pi, other, other + 2 * np.pi]) + np.concatenate([tiny - 1e-6, tiny, tiny + 1e-6])
    y = np.concatenate([np.arange(m) - m, np.arange(m), np.arange(m) + m]).astype(float)
    i = np.interp(one, x, y)
    # amid a straight any point may answer: a little of its own place spreads them along it
    s = np.arange(n) * m / n
    s = s + np.median(i - s)
    i = np.maximum.accumulate(0.985 * i + 0.015 * s)
    return at(q, np.minimum(i, i[0] + m * (1 - 1e-6)) * perimeter(q) / m)


def _by_warping(c: Array, t: Array) -> Array:
    m = 2 * len(c)
    q = resampled(t, m)
    a = (c - centroid(c)) / size_of(c)
    b = (q - centroid(q)) / size_of(q)
    a = a * (np.ptp(b, 0) / np.maximum(np.ptp(a, 0), 1e-9))  # laid on one another by their boxes
    ta, tb = (_tangents(v, r) for v, r in ((a, 3), (b, 6)))
    cost = (1 - ta @ tb.T) + 1.3 * ((a[:, None] - b[None]) ** 2).sum(-1)
    path, start = _warped(cost, 2, 24, 0.02, 0.2, 12, 4.0)
    return at(q, (path + start) * perimeter(q) / m)


def _tangents(c: Array, reach: int) -> Array:
    d = np.roll(c, -reach, 0) - np.roll(c, reach, 0)
    return np.asarray(d / (np.hypot(*d.T)[:, None] + 1e-12))


def _warped(cost: Array, pace: int, jump: int, price: float, band: float, half: int, sigma: float) -> tuple[Array, int]:
    """The cheapest way through a table of points against points of an outline ``pace`` times as many, order kept, then smoothed.

    Returns the place answering every point, counted from the first one's, and that one's.
    """
    n, m = cost.shape
    i0 = int(np.argmin(cost.min(1)))
    j0 = int(cost[i0].argmin())
    cost = np.roll(np.roll(cost, -i0, 0), -j0, 1)
    cost = np.hstack([cost, cost[:, :1]])
    wide = max(6, int(band * m))
    d = np.full(m + 1, np.inf)
    d[0] = cost[0, 0]
    back = np.zeros((n, m + 1), np.int16)
    pay = price * np.abs(np.arange(jump + 1) - float(pace))
    place = np.arange(m + 1)
    padded = np.full(m + 1 + jump, np.inf)
    for i in range(1, n):
        padded[jump:] = d
        v = np.lib.stride_tricks.sliding_window_view(padded, jump + 1)[:, ::-1] + pay
        back[i] = v.argmin(1)
        d = v[place, back[i]] + cost[i]
        d[np.abs(place - i * pace) > wide] = np.inf
    tail = m - 2 * pace
    j = tail + int(np.argmin(d[tail:])) if np.isfinite(d[tail:]).any() else int(np.argmin(d))
    path = np.zeros(n)
    for i in range(n - 1, -1, -1):
        path[i] = j
        j -= int(back[i, j])
    off = path - float(pace) * np.arange(n)
    k = np.exp(-0.5 * (np.arange(-half, half + 1) / sigma) ** 2)
    off = np.convolve(np.pad(off, half, mode="wrap"), k / k.sum(), "valid")
    return np.roll(np.maximum.accumulate(off + float(pace) * np.arange(n)), i0), j0


def nearest_in_order(c: Array, t: Array) -> Array:
    """The point of an outline near every point of a contour by place alone, order kept: close to the least largest distance (Fréchet).

    So the distance of a blend is not inflated by answering the wrong neighbour. Both lie in one frame.
    """
    n = len(c)
    m = 3 * n
    q = resampled(oriented(np.asarray(t, float)), m)
    cost = (((c[:, None] - q[None]) / size_of(c)) ** 2).sum(-1) * 40
    path, start = _warped(cost + 2 * cost**2, 3, 30, 0.0015, 0.25, 15, 5.0)
    out = at(q, (path + start) * perimeter(q) / m)
    for v in _corners(np.asarray(t, float) if len(t) <= 400 else resampled(t, 160)):
        out[int(np.argmin(np.hypot(*(out - v).T)))] = v
    return out


def _corners(c: Array, least: float = 30.0) -> Array:
    a, b = c - np.roll(c, 1, 0), np.roll(c, -1, 0) - c
    t = np.abs(np.degrees(np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(1))))
    return np.asarray(c[t > least])


def toward(c: Array, target: Array, share: float) -> tuple[Array, float]:
    """A contour on its way to another shape, 0 itself … 1 the shape, and how far it got: it stops where it would cross itself."""
    t = answering(c, target)
    k = share
    while k > 0.02:
        v = c + k * (t - c)
        if simple(v) and area(v) > 0:
            return v, k
        k -= 0.02
    return c, 0.0
