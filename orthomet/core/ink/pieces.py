"""From what is seen of curves to strokes: cut where lines cross, joined where they go on, tapered where they end free."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np

from ..kinds import Array
from .contours import MOST, STEP, Curves, gaussian, softened, spans
from .shape import FORMS, Shape
from .stroke import Stroke
from .surface import Pen, Stuff
from .weigh import Weighed

STUFFS = tuple(Stuff)
REACH = 0.036
"""How far from a cut end its crossing is looked for, heads."""
SAME = 0.0085
"""Outlines nearer than this run over one another."""
ALONGSIDE = 5
"""Samples of it from which a piece is said to run along another, not only to cross it."""
JOIN = (0.026, 0.048)
"""Ends nearer than the first join where their directions agree, nearer than the second where they point at one another."""
MEETS = 0.0070
"""An end with no other line in the cells of this width around it ends in the air, and runs out."""
NOBODY = 32000
WELD = 0.05
"""How far to both sides of a joint a stroke is softened."""
TAPER = {Pen.CONTOUR: 0.075}
TAPER_ELSE = 0.035
THIN, LEAST, SKIN_STRAND = 0.0009, 0.024, 0.055
"""Narrower is nothing; shorter forms are left out. Heads."""


@dataclass(frozen=True, eq=False)
class Piece:
    points: Array
    widths: Array
    pen: Pen
    name: str
    head_free: bool
    tail_free: bool
    closed: bool
    stuff: Stuff


def strokes_of(c: Curves, w: Weighed, shape: Shape) -> list[Stroke]:
    """Strokes of the curves that are lines; closed shapes (:attr:`Pen.FILL`) are left to :func:`fills_of`."""
    return _finished(_joined(_single(_cut(c, w, shape))))


def fills_of(c: Curves, w: Weighed, least: float = 0.25) -> list[tuple[str, Array]]:
    """Closed shapes of which enough is seen: name and what is seen of them."""
    out = []
    for k, pen in enumerate(c.pen):
        if pen is Pen.FILL:
            at = slice(c.start[k], c.start[k + 1])
            if w.seen[at].mean() > least:
                out.append((c.name[k], c.points[at, :2][w.seen[at]]))
    return out


def _cut(c: Curves, w: Weighed, shape: Shape) -> list[Piece]:
    """The seen stretches of every curve; each cut end is moved onto the exact crossing with the form that covers it."""
    owner, start, places = c.owner, c.start, c.points[:, :2]
    fill = np.array([p is Pen.FILL for p in c.pen])
    seen = w.seen & ~fill[owner]
    form = np.array([p in FORMS for p in c.pen])
    segment = np.flatnonzero(form[owner[:-1]] & (owner[1:] == owner[:-1]) & (seen[:-1] | seen[1:]))
    a, b = spans(seen, owner)
    on = seen[a]
    a, b = a[on], b[on]
    k = owner[a]
    low, high = start[k], start[k + 1]
    at_a, at_b = a > low, b < high
    ends = np.concatenate([a[at_a], b[at_b] - 1])
    ways = np.concatenate([np.full(at_a.sum(), -1), np.full(at_b.sum(), 1)])
    hit = _crossings(ends, ways, owner, start, places, segment)
    before, after = np.full(len(a), np.nan), np.full(len(a), np.nan)
    n = int(at_a.sum())
    before[at_a], after[at_b] = hit[:n], hit[n:]
    cut_a, cut_b = np.isfinite(before), np.isfinite(after)
    first = np.where(cut_a, np.floor(np.where(cut_a, before, 0)) + 1, a).astype(int)
    past = np.where(cut_b, np.floor(np.where(cut_b, after, 0)) + 1, b).astype(int)
    blunt_a = w.blunt[a] | (at_a & w.blunt[np.maximum(a - 1, 0)]) | cut_a
    blunt_b = w.blunt[b - 1] | (at_b & w.blunt[np.minimum(b, len(seen) - 1)]) | cut_b
    whole = c.closed[k] & ~at_a & ~at_b
    stuff = np.where(c.surface >= 0, shape.stuff[c.surface], Stuff.HAIR)[k]
    # the place on the crossing takes the sample's seat beside it, or the one before it
    points, width = places.copy(), w.width.copy()
    starts, ends_ = first.copy(), past.copy()
    starts[cut_a] -= 1
    ends_[cut_b] += 1
    starts[cut_a & np.isin(starts, ends_[cut_b] - 1)] += 1  # over a narrow gap both would want one seat
    fits = (past - first >= 1) & (starts >= 0) & (ends_ <= len(points)) & (ends_ - starts >= 2)
    a_at, b_at = np.flatnonzero(fits & cut_a & (starts < first)), np.flatnonzero(fits & cut_b)
    moved_a, moved_b = _places(places, before[a_at]), _places(places, after[b_at])
    width_a, width_b = width[np.minimum(first[a_at], len(width) - 1)], width[past[b_at] - 1]
    seats = np.concatenate([starts[a_at], ends_[b_at] - 1])
    points[seats], width[seats] = np.concatenate([moved_a, moved_b]), np.concatenate([width_a, width_b])
    thin = (
        np.maximum.reduceat(np.append(width, 0.0), np.stack([starts, ends_], 1)[fits].ravel().clip(0, len(width)))[::2] < 0.0016
    )
    out = []
    rows = zip(*(v[fits].tolist() for v in (starts, ends_, k, blunt_a, blunt_b, whole, stuff)), thin.tolist(), strict=True)
    for i, j, curve, head, tail, closed, kind, gone in rows:
        if not gone:
            out.append(Piece(points[i:j], width[i:j], c.pen[curve], c.name[curve], not head, not tail, closed, STUFFS[kind]))
    return out


def _places(points: Array, t: Array) -> Array:
    """Places along the samples, between them."""
    j = t.astype(int)
    return np.asarray(points[j] + (points[np.minimum(j + 1, len(points) - 1)] - points[j]) * (t - j)[:, None])


def _crossings(ends: Array, ways: Array, owner: Array, start: Array, places: Array, segment: Array) -> Array:
    """For each cut end the nearest crossing with a form that is not its own curve, as a place along the samples; nan without."""
    out = np.full(len(ends), np.nan)
    if not len(ends) or not len(segment):
        return out
    from scipy.spatial import cKDTree

    ca, cb = places[segment], places[segment + 1]
    k = min(24, len(segment))
    near = (
        cKDTree((ca + cb) / 2, balanced_tree=False, compact_nodes=False)
        .query(places[ends], k=k, distance_upper_bound=REACH)[1]
        .reshape(len(ends), k)
    )
    e, j = np.nonzero(near < len(segment))
    s = near[e, j]
    other = owner[segment[s]] != owner[ends[e]]
    e, s = e[other], s[other]
    if not len(e):
        return out
    offset = np.arange(-3, 3)[:, None]
    i = ends[e] + offset
    ok = (i >= start[owner[ends[e]]]) & (i + 1 < start[owner[ends[e]] + 1])
    i = np.clip(i, 0, len(places) - 2)
    p, r = places[i], places[i + 1] - places[i]
    q, d = ca[s] - p, cb[s] - ca[s]
    den = r[..., 0] * d[:, 1] - r[..., 1] * d[:, 0]
    den = np.where(np.abs(den) < 1e-12, 1e-12, den)
    t = (q[..., 0] * d[:, 1] - q[..., 1] * d[:, 0]) / den
    u = (q[..., 0] * r[..., 1] - q[..., 1] * r[..., 0]) / den
    ok &= (t >= -1e-6) & (t <= 1 + 1e-6) & (u >= -0.05) & (u <= 1.05)
    row, column = np.nonzero(ok)
    at = i[row, column] + t[row, column]
    whose = e[column]
    gap = np.abs(at - (ends[whose] + 0.5 * ways[whose]))
    order = np.argsort(-gap)  # the nearest is written last
    out[whose[order]] = at[order]
    return out


def _single(pieces: list[Piece]) -> list[Piece]:
    """Where outlines run over one another, the shorter of the two is left out there; what remains of it ends on the other."""
    at = [i for i, p in enumerate(pieces) if p.pen is Pen.CONTOUR]
    if len(at) < 2:
        return pieces
    n = np.array([len(pieces[i].points) for i in at])
    owner = np.repeat(np.arange(len(at)), n)
    points = np.concatenate([pieces[i].points for i in at])
    from scipy.spatial import cKDTree

    k = min(8, len(points))
    near = (
        cKDTree(points, balanced_tree=False, compact_nodes=False)
        .query(points, k=k, distance_upper_bound=SAME)[1]
        .reshape(len(points), k)
    )
    rank = np.append(np.argsort(np.argsort(n, kind="stable"))[owner], -1)  # longer pieces rank higher
    covered = (rank[near] > rank[:-1, None]).any(1)
    if not covered.any():
        return pieces
    start = n.cumsum() - n
    drop: dict[int, list[Piece]] = {}
    for j in np.unique(owner[covered]).tolist():
        drop[at[j]] = list(_uncovered(pieces[at[j]], covered[start[j] : start[j] + n[j]]))
    return [q for i, p in enumerate(pieces) for q in drop.get(i, (p,))]


def _uncovered(p: Piece, covered: Array) -> Iterator[Piece]:
    """What is left of a piece: all of it where it only touches or crosses another, nothing where it runs along it."""
    if covered.mean() >= 0.8:
        return
    a, b = spans(covered, np.zeros(len(covered), int))
    gone = covered[a] & (b - a >= ALONGSIDE)
    if not gone.any():
        yield p
        return
    cut = np.zeros(len(covered), bool)
    for i, j in zip(a[gone].tolist(), b[gone].tolist(), strict=True):
        cut[i:j] = True
    a, b = spans(cut, np.zeros(len(cut), int))
    for i, j in zip(a[~cut[a]].tolist(), b[~cut[a]].tolist(), strict=True):
        i, j = max(i - 1, 0), min(j + 1, len(cut))
        if j - i >= 3:
            yield replace(
                p,
                points=p.points[i:j],
                widths=p.widths[i:j],
                head_free=p.head_free and i == 0,
                tail_free=p.tail_free and j == len(cut),
                closed=False,
            )


def _joined(pieces: list[Piece]) -> list[Piece]:
    """Pieces of an outline that go on in one another, from mass to mass, become one stroke."""
    at = [i for i, p in enumerate(pieces) if p.pen is Pen.CONTOUR and not p.closed]
    if len(at) < 2:
        return pieces
    mate = _mates([pieces[i].points for i in at])
    if not mate:
        return pieces
    mine = set(at)
    out, done = [p for i, p in enumerate(pieces) if i not in mine], set()
    order = sorted(range(len(at)), key=lambda j: (2 * j in mate) + (2 * j + 1 in mate))
    for j in order:
        if j in done:
            continue
        done.add(j)
        p = pieces[at[j]]
        if 2 * j in mate and 2 * j + 1 not in mate:  # start at a free end if there is one
            p, tip = _turned(p), 2 * j
        else:
            tip = 2 * j + 1
        parts, widths, tail = [p.points], [p.widths], p.tail_free
        while tip in mate:
            nxt, side = divmod(mate[tip], 2)
            if nxt in done:
                break
            done.add(nxt)
            q = _turned(pieces[at[nxt]]) if side else pieces[at[nxt]]
            tail = q.tail_free
            last = parts[-1]
            way = last[-1] - last[-min(3, len(last))]
            ahead = ((q.points[: min(5, len(q.points) - 2)] - last[-1]) @ way > 0).tolist()
            cut = ahead.index(True) if True in ahead else len(ahead)  # pieces that lap over: no step back
            parts.append(q.points[cut:])
            widths.append(q.widths[cut:])
            tip = 2 * nxt + 1 - side
        if len(parts) > 1:
            points, width = _welded(parts, widths)
            p = replace(p, points=points, widths=width, tail_free=tail)
        out.append(p)
    return out


def _welded(parts: list[Array], widths: list[Array]) -> tuple[Array, Array]:
    """Pieces as one run of even steps, softened where they meet: what lies a line's width beside the other leaves no step."""
    points, width = np.concatenate(parts), np.concatenate(widths)
    far = np.hypot(*(points[1:] - points[:-1]).T)
    along = np.concatenate([[0], far.cumsum()])
    count = np.cumsum([len(p) for p in parts])
    joints = (along[count[:-1] - 1] + along[count[:-1]]) / 2
    s = np.linspace(0, along[-1], int(np.clip(along[-1] / STEP, 3, 4 * MOST)) + 1)
    even = np.stack([np.interp(s, along, v) for v in (*points.T, width)])
    soft = softened(even, np.zeros(len(s), int), gaussian(2.5, 8))
    near = np.exp(-(((s[:, None] - joints[None]) / WELD) ** 2)).max(1)
    near[[0, -1]] = 0
    out = even + (soft - even) * near
    out[2] = soft[2]
    return out[:2].T, out[2]


def _turned(p: Piece) -> Piece:
    return replace(p, points=p.points[::-1], widths=p.widths[::-1], head_free=p.tail_free, tail_free=p.head_free)


def _mates(runs: list[Array]) -> dict[int, int]:
    """Which end (twice the run, one more for its tail) goes on in which."""
    from scipy.spatial import cKDTree

    ends, ways = [], []
    for q in runs:
        m = min(3 if len(q) > 9 else 9, len(q) - 1)  # short pieces may turn back at a clump's root
        ends += [q[0], q[-1]]
        ways += [q[0] - q[m], q[-1] - q[-1 - m]]
    e, d = np.array(ends), np.array(ways)
    d /= np.maximum(np.hypot(*d.T), 1e-9)[:, None]
    pairs = cKDTree(e, balanced_tree=False, compact_nodes=False).query_pairs(JOIN[1], output_type="ndarray")
    if not len(pairs):
        return {}
    between = e[pairs[:, 1]] - e[pairs[:, 0]]
    gap = np.hypot(*between.T)
    agree = -(d[pairs[:, 0]] * d[pairs[:, 1]]).sum(1)
    ahead = (between * d[pairs[:, 0]]).sum(1) / np.maximum(gap, 1e-9)
    good = (agree > 0.62) & ((gap < JOIN[0]) | ((ahead > 0.90) & (agree > 0.85)))
    pairs = pairs[good][np.argsort((gap + 0.02 * (1 - agree))[good])]
    mate: dict[int, int] = {}
    for p, q in pairs.tolist():
        if p not in mate and q not in mate:
            mate[p], mate[q] = q, p
    return mate


def _in_air(points: Array, owner: Array, first: Array, n: Array, drawn: Array) -> Array:
    """For the first and the last place of every piece: whether nothing of another that is drawn comes near, ``(2, pieces)``.

    Asked of a raster of cells about as wide as lines come near one another: who lies lowest and highest in the cells around.
    """
    cells = ((points - points.min(0)) / MEETS).astype(np.int32) + 1
    wide, tall = (cells.max(0) + 2).tolist()
    flat = cells[:, 1] * wide + cells[:, 0]
    low, high = np.full(wide * tall, NOBODY, np.int16), np.full(wide * tall, -1, np.int16)
    np.minimum.at(low, flat[drawn], owner[drawn].astype(np.int16))
    np.maximum.at(high, flat[drawn], owner[drawn].astype(np.int16))
    near = np.ones((3, 3), np.uint8)
    lowest = cv2.erode(low.reshape(tall, wide), near).ravel()
    highest = cv2.dilate(high.reshape(tall, wide), near).ravel()
    ends = flat[np.stack([first, first + n - 1])]
    own = np.arange(len(n))
    return np.asarray((lowest[ends] >= np.minimum(own, NOBODY)) & (highest[ends] <= own))


def _finished(pieces: list[Piece]) -> list[Stroke]:
    """Tapers at free ends; where a profile has gone to nothing, nothing is drawn. All pieces at once."""
    if not pieces:
        return []
    n = np.array([len(p.points) for p in pieces])
    owner = np.repeat(np.arange(len(pieces)), n)
    first = n.cumsum() - n
    points, width = np.concatenate([p.points for p in pieces]), np.concatenate([p.widths for p in pieces])
    step = np.zeros(len(points))
    step[1:] = np.hypot(*(points[1:] - points[:-1]).T)
    step[first] = 0
    along = step.cumsum()
    along -= along[first][owner]
    total = along[first + n - 1]
    form = np.array([p.pen in (*FORMS, Pen.STRAND) for p in pieces])
    tapers = form & ~np.array([p.closed for p in pieces])
    reach = np.array([TAPER.get(p.pen, TAPER_ELSE) for p in pieces])
    reach = np.maximum(np.minimum(reach, 0.45 * total), 1e-6)[owner]
    least = np.array([SKIN_STRAND if p.pen is Pen.STRAND and p.stuff is Stuff.SKIN else LEAST for p in pieces])
    drawn = (width > 2 * THIN) & (total >= np.where(form, least, 0.004))[owner]
    alone = _in_air(points, owner, first, n, drawn)
    free_of = (np.array([p.head_free for p in pieces]) | alone[0], np.array([p.tail_free for p in pieces]) | alone[1])
    for free, from_end in zip(free_of, (along, total[owner] - along), strict=True):
        thins = (tapers & free)[owner]
        width = np.where(thins, width * np.clip(from_end / reach, 0, 1) ** 0.8, width)
    on = (width > THIN) & (total >= np.where(form, least, 0.004))[owner]
    a, b = spans(on, owner)
    a, b = a[on[a]], b[on[a]]
    k = owner[a]
    a, b = np.maximum(a - 1, first[k]), np.minimum(b + 1, (first + n)[k])
    good = np.where(form[k], (b - a >= 3) & (along[b - 1] - along[a] > np.maximum(least[k], 0.03)), b - a >= 2)
    return _settled(_settled([
        Stroke(points[i:j], width[i:j], pieces[c].pen, pieces[c].name, pieces[c].closed and j - i == n[c], pieces[c].stuff)
        for i, j, c in zip(a[good].tolist(), b[good].tolist(), k[good].tolist(), strict=True)
    ]))  # fmt: skip


def _settled(strokes: list[Stroke]) -> list[Stroke]:
    """The last look: what an end lay on may have been left out as a crumb, and then it runs out after all."""
    if not strokes:
        return strokes
    n = np.array([len(s.points) for s in strokes])
    owner, first = np.repeat(np.arange(len(n)), n), n.cumsum() - n
    points, width = np.concatenate([s.points for s in strokes]), np.concatenate([s.widths for s in strokes])
    alone = _in_air(points, owner, first, n, width > 2 * THIN)
    full = np.stack([width[first], width[first + n - 1]]) > 4 * THIN
    out = list(strokes)
    for side, k in np.argwhere(alone & full).tolist():
        s = out[k]
        if s.closed or s.pen not in (*FORMS, Pen.STRAND):
            continue
        far = np.append(0.0, np.hypot(*np.diff(s.points, axis=0).T).cumsum())
        from_end = far[-1] - far if side else far
        reach = max(min(TAPER.get(s.pen, TAPER_ELSE), 0.45 * float(far[-1])), 1e-6)
        out[k] = replace(s, widths=s.widths * np.clip(from_end / reach, 0, 1) ** 0.8)
    return out
