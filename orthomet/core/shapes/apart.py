"""A silhouette taken apart into a few plain shapes: a start for the hand.

Peeled: the mask is opened with growing discs; what a disc no longer fits into and is longer than wide comes off as a piece (a spike, a leg,
an arm). What is left is split at its necks. Neighbours that one shape fits as well become one, a piece that one shape fits badly is cut in
two where two fit best. Refined: every shape in turn makes damped Gauss–Newton steps on the squared error of the soft union of all,
coverage σ(−d/τ): a smooth 1 − IoU. What stays bare gets a shape if it pays, what does not pay goes.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import cv2
import numpy as np

from ..errors import Cancelled, FormatError
from ..kinds import Array
from .contour import oriented, resampled, size_of
from .fit import Fit, choose
from .masks import pieces as pieces_of
from .plain import KINDS, Plain, outline, tidy

Say = Callable[[str], bool]
FULL = ("circle", "ellipse", "egg", "rectangle", "rounded-rectangle", "capsule", "triangle", "trapezoid", "kite")
FEW = ("ellipse", "rounded-rectangle", "trapezoid", "triangle")
WORK, COVER, SOFT = 220, 160, 96
"""Longest sides, pixels, at which pieces are looked for, shapes are weighed against one another, and the union is refined."""
GROWS = 1.16
OUT, BROAD = 1.36, 1.7
"""A piece that comes off reaches so many disc radii out, and has so many radii squared of area (own)."""
NECK = 0.86
"""A neck is a saddle under this share of the lower of two hills of depth (own)."""
MERGE = 0.009
"""Share of the figure's area that one shape less is worth (own)."""
PAYS = 0.005
SEAM = 0.25
"""How much a seam counts, where a piece was cut from its neighbour: a shape may run on under it."""
BAD = 0.9
ROUGH, ROUGHLY = 32, 7
"""Points and steps of a fit that only weighs one cut against another."""
FROM, MOST_PIECES = 2, 16
"""Shapes at least where there are several; pieces looked at, the largest: a mask of noise has hundreds."""


@dataclass(frozen=True, eq=False)
class Apart:
    """Shapes, the largest first, in the mask's pixels, and the overlap of their union with the mask."""

    shapes: tuple[Plain, ...]
    overlap: float


def _disc(r: float) -> Array:
    k = int(np.ceil(r))
    y, x = np.mgrid[-k : k + 1, -k : k + 1]
    return np.asarray(x * x + y * y <= r * r + 0.3, np.uint8)


def _depth(m: Array) -> Array:
    return np.asarray(cv2.distanceTransform(np.pad(m, 1).astype(np.uint8), cv2.DIST_L2, 5)[1:-1, 1:-1])


def _islands(m: Array, least: float) -> list[Array]:
    n, labels, stats, _ = cv2.connectedComponentsWithStats(m, connectivity=4)
    return [(labels == i).astype(np.uint8) for i in range(1, n) if stats[i, cv2.CC_STAT_AREA] > least]


def _small(mask: Array, side: int) -> tuple[Array, float]:
    f = side / max(mask.shape)
    return cv2.resize((mask > 0).astype(np.float32), None, fx=f, fy=f, interpolation=cv2.INTER_AREA), f


def peeled(m: Array) -> list[Array]:
    """Pieces of a small mask: thin ones first, then the core split at its necks."""
    whole, top = int(m.sum()), float(_depth(m).max())
    left, out = m.copy(), []
    r = 1.6
    while r < 0.8 * top:
        opened = cv2.morphologyEx(np.pad(left, 30), cv2.MORPH_OPEN, _disc(r))[30:-30, 30:-30]
        if not opened.any():
            break
        count, labels, stats, _ = cv2.connectedComponentsWithStats(left & (1 - opened), connectivity=4)
        big = [i for i in range(1, count) if stats[i, cv2.CC_STAT_AREA] >= max(0.003 * whole, BROAD * r * r)]
        if big:
            far = cv2.distanceTransform(1 - opened, cv2.DIST_L2, 5)
            for i in big:
                piece = labels == i
                if far[piece].max() >= OUT * r:
                    out.append(piece.astype(np.uint8))
                    left[piece] = 0
        r *= GROWS
    for c in _islands(left, 0.004 * whole):
        out += _necks(c, 0.004 * whole)
    return out


def _necks(m: Array, least: float) -> list[Array]:
    """A mask cut where two hills of its depth meet in a low saddle, and the pieces again."""
    d = _depth(m)
    for v in np.linspace(0.1, 0.97, 24) * float(d.max()):
        hills = _islands((d > v).astype(np.uint8), 3)
        tops = sorted(((float((d * h).max()), i) for i, h in enumerate(hills)), reverse=True)
        if len(tops) > 1 and v < NECK * tops[1][0]:
            seeds = np.zeros(m.shape, np.int32)
            for k, (top, i) in enumerate(tops):
                if v < NECK * top:
                    seeds[hills[i] > 0] = k + 2
            seeds[m == 0] = 1
            hilly = cv2.cvtColor((255 - 250 * d / d.max()).astype(np.uint8), cv2.COLOR_GRAY2BGR)
            labels = cv2.watershed(hilly, seeds)
            found = [g for k in np.unique(labels) if k > 1 and (g := ((labels == k) & (m > 0)).astype(np.uint8)).sum() > least]
            if len(found) > 1:
                return [q for g in found for q in _necks(g, least)]
    return [m]


def _fitted(m: Array, f: float, kinds: Sequence[str], points: int = 56, depth: Array | None = None, steps: int = 12) -> Fit:
    """The best shape for a piece; its seams, which lie inside the figure, count little."""
    y, x = np.nonzero(m)
    y0, x0 = max(int(y.min()) - 3, 0), max(int(x.min()) - 3, 0)
    sub = m[y0 : y.max() + 4, x0 : x.max() + 4]
    k = 3
    big = cv2.GaussianBlur(cv2.resize(sub.astype(np.float32), None, fx=k, fy=k, interpolation=cv2.INTER_LINEAR), (0, 0), 1.6)
    found, _ = cv2.findContours((np.pad(big, 1) > 0.5).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    c = max(found, key=cv2.contourArea)[:, 0].astype(float) - 1
    if len(c) < 8:
        c = np.array([[0.0, 0], [k, 0], [k, k], [0, k]]) + c.mean(0)
    c = resampled(oriented(((c + 0.5) / k - 0.5 + [x0, y0] + 0.5) / f - 0.5), 120)
    weight = None
    if depth is not None:
        g = np.clip(np.round((c + 0.5) * f - 0.5).astype(int), 0, np.array(m.shape)[::-1] - 1)
        weight = np.where(depth[g[:, 1], g[:, 0]] > 2.6, SEAM, 1.0)
    return choose(c, kinds, None, weight, points, steps).best


Piece = tuple[Array, Fit]


def _merged(pieces: list[Piece], f: float, depth: Array, whole: int) -> list[Piece]:
    """Neighbours that one shape fits as well as two become one: a cone's thin tip is no part of its own."""

    def missed(p: Piece) -> float:
        return (1 - p[1].score) * float(p[0].sum())

    block = np.ones((3, 3), np.uint8)
    tried: dict[tuple[int, int], Piece | None] = {}
    while len(pieces) > 1:
        best: tuple[float, int, int, Piece] | None = None
        for i in range(len(pieces)):
            for j in range(i + 1, len(pieces)):
                a, b = pieces[i][0], pieces[j][0]
                key = (id(a), id(b))
                if key not in tried:
                    tried[key] = None
                    if int((cv2.dilate(a, block) & b).sum()) > 0.55 * np.sqrt(min(int(a.sum()), int(b.sum()))):
                        u = cv2.morphologyEx(np.maximum(a, b), cv2.MORPH_CLOSE, block)
                        if len(_islands(u, 5)) == 1:
                            tried[key] = (u, _fitted(u, f, FEW, ROUGH, depth, ROUGHLY))
                both = tried[key]
                if both is not None:
                    loss = (missed(both) - missed(pieces[i]) - missed(pieces[j])) / whole
                    if loss < MERGE and (best is None or loss < best[0]):
                        best = loss, i, j, both
        if best is None:
            break
        _, i, j, both = best
        pieces = [*(p for n, p in enumerate(pieces) if n not in (i, j)), both]
    return pieces


def _cut(m: Array, f: float, was: Fit) -> tuple[Array, Array] | None:
    """The straight cut of a piece, across its own axes, after which two shapes fit best, if it pays."""
    ys, xs = np.nonzero(m)
    q = np.column_stack([xs, ys]).astype(float)
    best: tuple[float, tuple[Array, Array] | None] = ((1 - was.overlap) * 0.62, None)
    for axis in np.linalg.svd(q - q.mean(0), full_matrices=False)[2]:
        t = (q - q.mean(0)) @ axis
        for s in t.min() + np.ptp(t) * np.array([0.2, 0.35, 0.5, 0.65, 0.8]):
            a, b = np.zeros_like(m), np.zeros_like(m)
            a[ys[t < s], xs[t < s]] = 1
            b[ys[t >= s], xs[t >= s]] = 1
            if min(a.sum(), b.sum()) < 25 or max(len(_islands(a, 12)), len(_islands(b, 12))) > 1:
                continue
            one, other = (_fitted(v, f, ("ellipse", "trapezoid"), ROUGH, None, ROUGHLY) for v in (a, b))
            cost = ((1 - one.overlap) * a.sum() + (1 - other.overlap) * b.sum()) / m.sum()
            if cost < best[0]:
                best = float(cost), (a, b)
    return best[1]


def take_apart(mask: Array, most: int = 8, say: Say = lambda _: True) -> Apart:
    """At most so many shapes that cover a mask's largest piece.

    Raises
    ------
    FormatError
        The mask is empty.
    Cancelled
        ``say``, told how far it is, wants no more.
    """

    def go_on(words: str) -> None:
        if not say(words):
            raise Cancelled("Taking apart was stopped.")

    most = min(max(most, 1), 24)
    mask = pieces_of(mask)[0]
    y, x = np.nonzero(mask)
    at = np.array([int(x.min()), int(y.min())])
    box = np.pad(mask[y.min() : y.max() + 1, x.min() : x.max() + 1], max(2, round(0.02 * max(np.ptp(x), np.ptp(y)))))
    shift = at - (box.shape[1] - (np.ptp(x) + 1)) // 2
    go_on("Looking for pieces…")
    soft, f = _small(box, WORK)
    m = (soft > 0.5).astype(np.uint8)
    if not m.any():
        m[m.shape[0] // 2, m.shape[1] // 2] = 1
    whole, depth = int(m.sum()), _depth(m)
    pieces: list[Piece] = [
        (p, _fitted(p, f, FEW, ROUGH, depth, ROUGHLY)) for p in sorted(peeled(m), key=lambda p: -int(p.sum()))[:MOST_PIECES]
    ]
    go_on("Joining what one shape fits…")
    pieces = [(p, _fitted(p, f, FULL, depth=depth)) for p, _ in _merged(pieces, f, depth, whole)]
    for _ in range(4):
        if len(pieces) >= most + 2:
            break
        i = max(range(len(pieces)), key=lambda j: (1 - pieces[j][1].overlap) * float(pieces[j][0].sum()))
        p, was = pieces[i]
        if (1 - was.overlap) * float(p.sum()) < 0.02 * whole or was.overlap > BAD:
            break
        two = _cut(p, f, was)
        if two is None:
            break
        pieces[i : i + 1] = [(g, _fitted(g, f, FULL, depth=depth)) for g in two]
    shapes = [w.shape for p, w in sorted(pieces, key=lambda v: -int(v[0].sum()))]
    go_on("Fitting all of them together…")
    shapes, score = refined(box, _kept(box, shapes, most, PAYS), 2)
    shapes, score = _bare(box, m, f, shapes, score, most)
    go_on("Leaving out what does not pay…")
    shapes, score = refined(box, _kept(box, shapes, most, PAYS / 2), 1)
    shapes, score = _fewer(box, shapes, score)
    shapes = sorted(shapes, key=lambda s: -size_of(s.outline()))
    return Apart(tuple(Plain(s.kind, np.concatenate([s.p[:2] + shift, s.p[2:]])) for s in shapes), score)


def _bare(box: Array, m: Array, f: float, shapes: list[Plain], score: float, most: int) -> tuple[list[Plain], float]:
    """What stays bare gets a shape of its own, if it pays."""
    whole = float(m.sum())
    for _ in range(3):
        if len(shapes) >= most:
            break
        bare = m.copy()
        for s in shapes:
            cv2.fillPoly(bare, [np.round(((s.outline(100) + 0.5) * f - 0.5) * 16).astype(np.int32)], 0, shift=4)
        bare = cv2.morphologyEx(bare, cv2.MORPH_OPEN, np.ones((3, 3), np.uint8))
        found = sorted(_islands(bare, PAYS * whole), key=lambda v: -int(v.sum()))
        if not found:
            break
        more, better = refined(box, [*shapes, _fitted(found[0], f, FULL).shape], 1)
        if better < score + 0.6 * PAYS:
            break
        shapes, score = more, better
    return shapes, score


def _fewer(box: Array, shapes: list[Plain], score: float) -> tuple[list[Plain], float]:
    """A shape goes if the rest, fitted anew, does nearly as well."""
    for _ in range(6):
        if len(shapes) <= FROM:
            break
        own = _alone(box, shapes)
        tries = [int(i) for i in np.argsort(own)[:2] if own[i] < 0.03]
        found = [refined(box, [v for j, v in enumerate(shapes) if j != i], 1) for i in tries]
        if not found:
            break
        less, then = max(found, key=lambda t: t[1])
        if then < score - PAYS:
            break
        shapes, score = less, then
    return shapes, score


def _covers(box: Array, shapes: Sequence[Plain]) -> tuple[Array, list[Array]]:
    soft, f = _small(box, COVER)
    out = []
    for s in shapes:
        b = np.zeros(soft.shape, np.uint8)
        cv2.fillPoly(b, [np.round(((s.outline(100) + 0.5) * f - 0.5) * 16).astype(np.int32)], 1, shift=4)
        out.append(b > 0)
    return soft > 0.5, out


def _alone(box: Array, shapes: Sequence[Plain]) -> Array:
    """Share of the figure that each shape alone covers."""
    m, masks = _covers(box, shapes)
    count = np.sum(masks, 0)
    return np.array([(b & m & (count == 1)).sum() / max(m.sum(), 1) for b in masks])


def _kept(box: Array, shapes: list[Plain], most: int, pays: float) -> list[Plain]:
    """The shapes that cover most, taken one after the other by what each adds."""
    m, masks = _covers(box, shapes)
    have, left, out = np.zeros(m.shape, bool), list(range(len(shapes))), list[Plain]()
    while left and len(out) < most:
        gain = [int((masks[i] & ~have & m).sum()) - int((masks[i] & ~have & ~m).sum()) for i in left]
        j = int(np.argmax(gain))
        if out and gain[j] < pays * m.sum():
            break
        k = left.pop(j)
        out.append(shapes[k])
        have |= masks[k]
    return out


def refined(mask: Array, shapes: Sequence[Plain], rounds: int) -> tuple[list[Plain], float]:
    """Every shape in turn moved so that the soft union meets the mask, and the overlap then."""
    g, f = _small(mask, SOFT)
    h, w = g.shape
    gy, gx = np.mgrid[0:h, 0:w]
    x, y = ((v.ravel() + 0.5) / f - 0.5 for v in (gx, gy))
    t, tau = g.ravel(), 0.55 / f

    def soft(d: Array) -> Array:
        return np.asarray(0.5 - 0.5 * np.tanh(np.clip(d / (2 * tau), -15, 15)))

    found = list(shapes)
    far = [KINDS[s.kind].distance(s.p[None], x, y)[0] for s in found]
    for _ in range(rounds):
        for i, s in enumerate(found):
            others = np.min([v for j, v in enumerate(far) if j != i], 0) if len(far) > 1 else np.full(len(t), 1e3)
            near = np.abs(far[i]) < 6 * tau  # further off nothing of it changes
            near |= (far[i] < 0) & (others > 0) & (t < 0.5)
            if near.sum() < 8:
                continue
            p = _stepped(s, x[near], y[near], others[near], t[near], soft)
            found[i] = Plain(s.kind, tidy(s.kind, p))
            far[i] = KINDS[s.kind].distance(found[i].p[None], x, y)[0]
    union, want = np.min(far, 0) < 0, t > 0.5
    return found, float((union & want).sum() / max((union | want).sum(), 1))


def _stepped(s: Plain, x: Array, y: Array, others: Array, t: Array, soft: Callable[[Array], Array]) -> Array:
    k, p, damp = KINDS[s.kind], s.p.copy(), 1e-2
    size = size_of(outline(s.kind, p, 80))
    step = np.diag([size * 1e-3, size * 1e-3, 0.0 if s.kind == "circle" else 1e-3, *[1e-3] * (len(p) - 3)])
    low = np.array([-1e6, -1e6, -99.0, *[-9.0] * k.sizes, *[b[0] for b in k.bounds]])
    high = np.array([1e6, 1e6, 99.0, *[16.0] * k.sizes, *[b[1] for b in k.bounds]])
    most = np.array([0.2 * size, 0.2 * size, 0.3, *[0.25] * (len(p) - 3)])

    def covered(q: Array) -> Array:
        return soft(np.minimum(k.distance(np.atleast_2d(q), x, y), others[None]))

    b = covered(np.vstack([p, p + step]))
    off = float(((b[0] - t) ** 2).sum())
    for _ in range(4):
        j, r = (b[1:] - b[0]) / 1e-3, b[0] - t
        h = j @ j.T
        by = -np.linalg.solve(h + damp * np.diag(np.diag(h)) + 1e-6 * np.eye(len(p)), j @ r)
        by[:2] *= size
        if s.kind == "circle":
            by[2] = 0
        q = np.clip(p + np.clip(by, -most, most), low, high)
        b_ = covered(np.vstack([q, q + step]))
        then = float(((b_[0] - t) ** 2).sum())
        if then < off:
            gain, p, b, off, damp = off - then, q, b_, then, damp / 4
            if gain < 0.002 * off:
                break
        else:
            damp = damp * 10 + 1e-3
    return p


def halves(m: Array) -> list[Array]:
    """A mask cut across the longer of its own axes, where it is narrowest near the middle.

    Raises
    ------
    FormatError
        There is too little of it.
    """
    ys, xs = np.nonzero(m)
    if len(ys) < 40:
        raise FormatError("There is too little of the part to be two.")
    q = np.column_stack([xs, ys]).astype(float)
    t = (q - q.mean(0)) @ np.linalg.svd(q - q.mean(0), full_matrices=False)[2][0]
    edges = np.linspace(t.min(), t.max(), 41)
    k = 12 + int(np.argmin(np.histogram(t, edges)[0][12:29]))
    cut = (edges[k] + edges[k + 1]) / 2
    out = []
    for side in (t < cut, t >= cut):
        half = np.zeros_like(m)
        half[ys[side], xs[side]] = True
        out.append(half)
    return out
