"""A contour as few straights and curves: the best joints for every count of them, by dynamic programming over a few dozen candidates.

A piece is a straight or one C-curve, a quadratic Bézier with its control point by least squares, so that it is drawn in one stroke and has
no wave in it. Pieces run on smoothly but at true corners.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np

from ..kinds import Array
from .contour import arc, size_of, turning

COUNTS = (3, 4, 5, 6, 7, 8, 10, 12, 14, 16, 20, 24)
STRAIGHT = 0.040
"""A piece is drawn straight when it bows by less than this share of its chord (own)."""
LONG = 0.07
"""A straight is at least this long, a share of the outline, unless it lies between corners."""
OFFERED = 64
WIDEST_BEND = 110.0
"""Degrees one curve turns at most without a price."""


@dataclass(frozen=True, eq=False)
class Pieces:
    """Joints (places in the contour), their points, control points, which pieces are straight, which joints are corners."""

    joints: Array
    ends: Array
    controls: Array
    straight: Array
    corner: Array

    def __len__(self) -> int:
        return len(self.joints)

    @property
    def next_ends(self) -> Array:
        return np.roll(self.ends, -1, 0)

    def spans(self, n: int) -> Array:
        """Joint after each piece, counted on past the contour's first point."""
        return np.append(self.joints[1:], self.joints[0] + n)

    @property
    def widest_bend(self) -> float:
        """Degrees that the roundest curve turns."""
        t = _turned(self.controls - self.ends, self.next_ends - self.controls)
        return float(np.where(self.straight, 0, t).max())

    @property
    def words(self) -> str:
        straight = int(self.straight.sum())
        return f"{len(self)} pieces, {straight if straight else 'none'} straight"


def _turned(a: Array, b: Array) -> Array:
    return np.asarray(np.degrees(np.abs(np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], (a * b).sum(1)))))


def _along(c: Array, i: Array, j: Array, t: Array) -> Array:
    """Points of the contour at shares ``t`` between places ``i`` and ``j``, ``(pairs, t, 2)``."""
    n = len(c)
    f = i[:, None] + (j - i)[:, None] * t[None]
    a = np.floor(f).astype(int)
    w = (f - a)[..., None]
    return np.asarray(c[a % n] * (1 - w) + c[(a + 1) % n] * w)


def _curves(c: Array, i: Array, j: Array) -> tuple[Array, Array, Array, Array]:
    """Control points of the best curves between places, how far they miss, how far the chords miss, and the chords' lengths."""
    t = np.linspace(0, 1, 17)
    p = _along(c, i, j, t)
    p0, p1 = p[:, :1], p[:, -1:]
    w = (2 * t * (1 - t))[None, :, None]
    r = p - ((1 - t) ** 2)[None, :, None] * p0 - (t**2)[None, :, None] * p1
    q = (w * r).sum(1) / (w**2).sum()
    left = np.linalg.norm(r - w * q[:, None], axis=-1)
    d = p1[:, 0] - p0[:, 0]
    chord = np.linalg.norm(d, axis=-1) + 1e-9
    normal = np.stack([-d[:, 1], d[:, 0]], -1) / chord[:, None]
    return q, left, np.abs(((p - p0) * normal[:, None]).sum(-1)), chord


def _candidates(c: Array, corner: Array) -> Array:
    """Joints on offer: corners, tightest bends, turns of the bend, ends of straights, and an even filling."""
    n, m = len(c), OFFERED
    t = turning(c, max(2, n // 60))
    s = np.abs(t)
    ds = np.abs(np.roll(s, -3) - np.roll(s, 3))
    rank = np.zeros(n)
    peak = (s >= np.roll(s, 1)) & (s >= np.roll(s, -1)) & (s > 6)
    edge = (ds >= np.roll(ds, 1)) & (ds >= np.roll(ds, -1)) & (ds > 4)
    rank[peak] += s[peak]
    rank[np.sign(t) != np.sign(np.roll(t, 1))] += 4
    rank[edge] += ds[edge] * 0.6
    rank[np.arange(0, n, max(1, n // (m // 2)))] += 3
    rank[corner] += 1e4
    found: list[int] = []
    gap = max(1, n // (2 * m))
    for i in np.argsort(-rank):
        if len(found) >= m or rank[i] <= 0:
            break
        if all(min((i - j) % n, (j - i) % n) > gap for j in found):
            found.append(int(i))
    return np.array(sorted(found))


def levels(
    c: Array, corner: Array, counts: tuple[int, ...] = COUNTS, bend: float = WIDEST_BEND, mirror: bool = False
) -> list[Pieces]:
    """The contour in so many pieces, for every count there is an answer to; of a mirrored one half is worked out and the other follows."""
    n = len(c)
    corner = corner.astype(int)
    offered = _candidates(c, corner)
    if mirror:
        inner = offered[(offered > n // 60) & (offered < n // 2 - n // 60)]
        offered = np.union1d(inner, [0, n // 2]).astype(int)
    else:
        high = c[offered, 1] / max(float(np.ptp(c[:, 1])), 1e-12)
        start = int(np.argmax(np.isin(offered, corner) * 10 + np.abs(turning(c, max(3, n // 30)))[offered] / 90 - high))
        offered = np.concatenate([offered[start:], offered[:start] + n])
        offered = np.append(offered, offered[0] + n)
    m = len(offered) - 1
    cost, straight = _costs(c, offered, corner, bend)
    return [p for p in (_level(c, offered, cost, straight, k, corner, mirror, n) for k in _ways(cost, counts, mirror, m)) if p]


def _costs(c: Array, offered: Array, corner: Array, bend: float) -> tuple[Array, Array]:
    """What a piece between any two joints costs (∞ where there is none), and whether it is straight."""
    n, m = len(c), len(offered) - 1
    a, b = np.triu_indices(m + 1, 1)
    near = (offered[b] - offered[a]) <= 0.62 * n
    a, b = a[near], b[near]
    size2 = size_of(c) ** 2
    q, left, off, chord = _curves(c, offered[a], offered[b])
    long = (offered[b] - offered[a]) / n
    turned = _turned(q - c[offered[a] % n], c[offered[b] % n] - q)
    on = np.isin(offered % n, corner)
    passed = np.cumsum(np.append(0, on.astype(float)))
    inside = passed[b] - passed[a + 1]
    curve = (left**2).mean(1) * long + (left.max(1) ** 2) * 0.15 * long
    line = (off**2).mean(1) * long + (off.max(1) ** 2) * 0.15 * long
    flat = (off.max(1) < STRAIGHT * chord) & ((long > LONG) | (on[a] & on[b]))
    each = 3e-4 * inside + 2e-5
    as_line = line / size2 + each
    use = flat & (line <= curve * 2.2 + 1.2e-5 * size2)
    spent = (
        np.minimum(curve + 2e-6 * size2, np.where(flat, line, np.inf)) / size2 + each + np.maximum(turned - bend, 0) ** 2 * 4e-5
    )
    cost, straight = np.full((m + 1, m + 1), np.inf), np.zeros((m + 1, m + 1), bool)
    cost[a, b] = np.where(use, np.minimum(spent, as_line), spent)
    straight[a, b] = use
    return cost, straight


def _ways(cost: Array, counts: tuple[int, ...], mirror: bool, m: int) -> list[list[int]]:
    """For every count the joints that cost least, as places among those on offer."""
    wanted = [k // 2 for k in counts if k % 2 == 0] if mirror else list(counts)
    most = max(wanted)
    d = np.full((most + 1, m + 1), np.inf)
    back = np.zeros((most + 1, m + 1), int)
    d[0, 0] = 0
    for k in range(1, most + 1):
        whole = d[k - 1][:, None] + cost
        back[k], d[k] = whole.argmin(0), whole.min(0)
    found = []
    for k in wanted:
        if not np.isfinite(d[k, m]):
            continue
        way, j = [m], m
        for i in range(k, 0, -1):
            j = int(back[i, j])
            way.append(j)
        found.append(way[::-1])
    return found


def _level(c: Array, offered: Array, cost: Array, straight: Array, way: list[int], corner: Array, mirror: bool, n: int) -> Pieces:
    joints = offered[way[:-1]]
    flat = np.array([straight[i, j] for i, j in pairwise(way)])
    if mirror:
        joints = np.concatenate([joints, n - np.append(joints[1:], n // 2)[::-1]])
        flat = np.concatenate([flat, flat[::-1]])
    return _smooth(c, joints, flat, corner)


def _smooth(c: Array, joints: Array, straight: Array, corner: Array) -> Pieces:
    """Pieces between joints, made to run on into one another wherever there is no corner."""
    n, k = len(c), len(joints)
    q = _curves(c, joints, np.append(joints[1:], joints[0] + n))[0]
    p = c[joints % n].copy()
    nxt = np.roll(p, -1, 0)
    q = np.where(straight[:, None], (p + nxt) / 2, q)
    chord = nxt - p
    sharp = np.zeros(k, bool)
    for i in range(k):
        h = i - 1
        came = chord[h] if straight[h] else p[i] - q[h]
        goes = chord[i] if straight[i] else q[i] - p[i]
        turn = float(_turned(came[None], goes[None])[0])
        sharp[i] = turn > 70 or joints[i] % n in corner
    for i in range(k):  # a curve leaves a straight along the straight: its control point goes onto the straight's line
        if straight[i]:
            continue
        h, j = (i - 1) % k, (i + 1) % k
        on = []
        if straight[h] and not sharp[i]:
            on.append((p[i], chord[h]))
        if straight[j] and not sharp[j]:
            on.append((p[j], chord[j]))
        if len(on) == 2:
            (a, u), (b, v) = on
            across = u[0] * v[1] - u[1] * v[0]
            if abs(across) > 0.15 * np.hypot(*u) * np.hypot(*v):
                w = b - a
                q[i] = a + u * (w[0] * v[1] - w[1] * v[0]) / across
                continue
        if on:
            a, u = on[0]
            q[i] = a + u * ((q[i] - a) @ u) / (u @ u + 1e-18)
    for i in range(k):  # a smooth joint lies on the line of its two control points
        h = i - 1
        if not sharp[i] and not straight[h] and not straight[i]:
            d = q[i] - q[h]
            f = np.clip(((p[i] - q[h]) @ d) / (d @ d + 1e-9), 0.08, 0.92)
            p[i] = q[h] + f * d
    q = np.where(straight[:, None], (p + np.roll(p, -1, 0)) / 2, q)
    return Pieces(joints, p, q, straight, sharp)


def drawn(p: Pieces, n: int, sharp: float = 0.5) -> Array:
    """The pieces as a contour of ``n`` points, point i where the contour's point i is.

    ``sharp`` over ½ drives every curve toward its two tangents: a conic whose shoulder goes from ½ to 1.
    """
    nxt = p.spans(n)
    s = min(max(sharp, 0.5), 0.9995)
    w = s / (1 - s)
    i = np.arange(p.joints[0], nxt[-1])
    piece = np.searchsorted(nxt, i, "right")
    t = ((i - p.joints[piece]) / (nxt - p.joints)[piece])[:, None]
    a, b, e = (1 - t) ** 2, 2 * w * t * (1 - t), t**2
    p0, p1 = p.ends[piece], p.next_ends[piece]
    bent = (a * p0 + b * p.controls[piece] + e * p1) / (a + b + e)
    v = np.where(p.straight[piece][:, None], p0 * (1 - t) + p1 * t, bent)
    out = np.empty((n, 2))
    out[i % n] = v
    return out


@dataclass(frozen=True)
class Facing:
    """Two pieces that face each other across the form: their places, how alike they bow."""

    one: int
    other: int
    alike: bool


def facing(p: Pieces, c: Array) -> list[Facing]:
    """Pieces across a limb from one another, the nearest first; ``one`` is the straighter, or of two alike the viewer's right one."""
    n, k = len(c), len(p)
    nxt = p.spans(n)
    mid = np.array([c[(a + b) // 2 % n] for a, b in zip(p.joints, nxt, strict=True)])
    chord = p.next_ends - p.ends
    long = np.linalg.norm(chord, axis=1) + 1e-9
    inward = np.stack([-chord[:, 1], chord[:, 0]], 1) / long[:, None]
    bow = np.abs(((p.controls - (p.ends + p.next_ends) / 2) * inward).sum(1) / long)
    pairs = []
    for i in range(k):
        d = mid - mid[i]
        ahead, side = d @ inward[i], np.abs(d @ (chord[i] / long[i]))
        fits = (ahead > 0) & (inward @ inward[i] < -0.6) & (side < 0.45 * (long + long[i])) & (np.arange(k) != i)
        if fits.any():
            j = int(np.where(fits, ahead + side, np.inf).argmin())
            pairs.append((float(ahead[j]), i, j))
    found, used = [], set[int]()
    for _, i, j in sorted(pairs):
        if i in used or j in used:
            continue
        used |= {i, j}
        alike = abs(bow[i] - bow[j]) < 0.15 * max(bow[i], bow[j], 0.02)
        first = mid[i, 0] > mid[j, 0] if alike else bow[i] < bow[j]
        found.append(Facing(i, j, bool(alike)) if first else Facing(j, i, bool(alike)))
    return found


def against(p: Pieces, c: Array, weight: float) -> Pieces:
    """Straights against curves: of two pieces across from one another one is straightened by ``weight``, the other bowed a third more."""
    if weight <= 0:
        return p
    chord = p.next_ends - p.ends
    long = np.linalg.norm(chord, axis=1) + 1e-9
    inward = np.stack([-chord[:, 1], chord[:, 0]], 1) / long[:, None]
    middle = (p.ends + p.next_ends) / 2
    bow = ((p.controls - middle) * inward).sum(1) / long
    q, straight = p.controls.copy(), p.straight.copy()
    for f in facing(p, c):
        q[f.one] = middle[f.one] + (p.controls[f.one] - middle[f.one]) * (1 - weight)
        b = f.other
        lift = max(abs(bow[b]), 0.05) * (1 + 0.35 * weight) - abs(bow[b])
        q[b] = p.controls[b] + inward[b] * long[b] * lift * weight * (np.sign(bow[b]) or -1)
        straight[b] = False
    return replace(p, controls=q, straight=straight)


def straight_share(p: Pieces, c: Array) -> float:
    """Share of the outline's length that is drawn straight."""
    s, whole = arc(c)
    n = len(c)
    s = np.append(s, whole)
    nxt = p.spans(n)
    long = [(s[b % n] - s[a % n]) % whole if b - a < n else whole for a, b in zip(p.joints, nxt, strict=True)]
    return float(np.sum(np.array(long) * p.straight) / whole)
