"""A part looked for in a new state: where it stood, else over shift, size and turn; its likeness told, rivals weighed."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..kinds import Array
from .affine import SAME, after, put, scale_and_turn, still, turned, undone
from .keepsake import Keepsake, Template
from .linemap import HALF, QUARTER, LineMap
from .patches import find_patches, unchanged

SIZES, TURNS = (0.80, 0.87, 0.93, 1.0, 1.07, 1.15, 1.24), (-5, 0, 5)
NEEDED, KEEN, MARGIN = 0.50, 0.64, 0.06
"""Least likeness of a part, least likeness of its landmarks' own patches, and what a rival elsewhere must stay behind by (own)."""
STOOD, STOOD_EACH = 0.75, 0.72
"""A part stands where it stood if it is so like, and each of its landmarks (own)."""
ELSEWHERE = 0.014
"""Heads from which on a rival is at another place (own)."""
GHOST = 0.6
"""Share of its lines below which what looks like a part where it stood may be what was left of it when it was drawn anew (own)."""
RIDGE = 0.06
ROUND = 20
"""Working pixels about a part that must be as they were for it to be taken as it was: as far as its own patches reach (own)."""


@dataclass(frozen=True, eq=False)
class Sought:
    """Where a part is: the map from where it was kept, and how sure."""

    way: Array
    found: bool = False
    alike: float = 0.0
    sought: bool = False
    """It did not stand where it stood, and was looked for."""
    doubt: Array | None = None
    """Pixels by which other sizes at the same place would move each landmark, ``(k,)``."""


def seek(k: Keepsake, b: LineMap, whole: Array) -> Sought:
    """A part in a new state, given where the whole drawing went."""
    start = after(whole, k.way)
    if not k.here or k.half is None or k.quarter is None:
        return Sought(start)
    if still(start) and unchanged(k.lines, b, k.hull, ROUND + k.part.reach * k.hh):
        return Sought(SAME, True, 1.0)
    like, share = likeness(k, b, start)
    if like > 0.70 and 0.5 < share < 2.0:
        better = aligned(k, b, start, HALF, 5)
        n, s = likeness(k, b, better)
        if n >= like and _sane(better, start):
            start, like, share = better, n, s
        if like > STOOD and bool((_each(k, b, start) > STOOD_EACH).all()):
            return Sought(start, True, like)
    return _looked_for(k, b, start)


def _looked_for(k: Keepsake, b: LineMap, start: Array) -> Sought:
    tried = []
    for way in [start, *_places(k, b, start)]:
        way = _tidied(k, b, way, start)
        n, s = likeness(k, b, way)
        each = float(_each(k, b, way).mean())
        far = float(np.hypot(*(put(way, k.centre) - put(start, k.centre)))) / k.hh
        rated = 0.45 * n * float(np.clip(s / 0.5, 0, 1)) ** 0.5 + 0.55 * each - 0.02 * (far / 0.05) ** 2
        tried.append((rated, way, n, s, each))
    tried.sort(key=lambda t: -t[0])
    top, way, n, s, each = tried[0]
    here = put(way, k.centre)
    apart = [float(np.linalg.norm(put(t[1], k.centre) - here)) > ELSEWHERE * k.hh for t in tried]
    rival = max([t[0] for t, other in zip(tried, apart, strict=True) if other] or [0.0])
    stood = put(way, k.points[list(k.part.at)])
    kin = [t[1] for t, other in zip(tried[1:], apart[1:], strict=True) if not other and t[0] > top - 0.05]
    doubt = np.max(
        [np.linalg.norm(put(w, k.points[list(k.part.at)]) - stood, axis=1) for w in kin] or [np.zeros(len(stood))], axis=0
    )
    stretched = aligned(k, b, way, HALF, 8, stretch=True)
    if _sane(stretched, start):
        n2, s2 = likeness(k, b, stretched)
        each2 = float(_each(k, b, stretched).mean())
        if n2 + each2 > n + each + 0.05:
            way, n, s, each = stretched, n2, s2, each2
    for _ in range(2):
        shaped = _by_landmarks(k, b, way, start)
        n3, s3 = likeness(k, b, shaped)
        each3 = float(_each(k, b, shaped).mean())
        if 0.5 * n3 + each3 <= 0.5 * n + each + 0.01:
            break
        way, n, s, each = shaped, n3, s3, each3
    stayed = float(np.linalg.norm(put(way, k.centre) - put(start, k.centre))) < ELSEWHERE * k.hh
    found = n > NEEDED and each > KEEN and (GHOST if stayed else 0.35) < s < 2.6 and rival < top - MARGIN
    return Sought(way, found, n, True, doubt)


def _tidied(k: Keepsake, b: LineMap, way: Array, start: Array) -> Array:
    better = aligned(k, b, aligned(k, b, way, QUARTER, 8), HALF, 10)
    return better if _sane(better, start) else way


def _pulled(b: LineMap, way: Array, t: Template, by: int) -> Array:
    """The new state drawn back into the frame of a template."""
    m = way[:, :2]
    shift = (m @ (t.origin * by) + way[:, 2]) / by
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpAffine(b.reduced(by), np.column_stack([m, shift]), (t.image.shape[1], t.image.shape[0]), flags=how)


def likeness(k: Keepsake, b: LineMap, way: Array) -> tuple[float, float]:
    """Weighted correlation of a part under a map, and the share of its ink that is there, linearly."""
    t = k.half
    if t is None:
        return 0.0, 0.0
    q = _pulled(b, way, t, HALF)
    mean = float((q * t.weight).sum()) / t.total
    both = float((t.centred * q * t.weight).sum())
    spread = float((q * q * t.weight).sum()) - t.total * mean * mean
    return both / float(np.sqrt(t.energy * max(spread, 0.03 * t.energy))), both / t.energy


def _each(k: Keepsake, b: LineMap, way: Array) -> Array:
    """How well a part's own drawn landmarks look the same under a map, hardly any play allowed."""
    if not k.drawn:
        return np.array([likeness(k, b, way)[0]])
    at = k.points[k.drawn]
    f = find_patches(k.lines.soft, at, b.soft, way, put(way, at), 12, 3, 2.0, 0.1)
    return np.asarray(f.alike * np.clip(f.share / 0.5, 0, 1))


def aligned(k: Keepsake, b: LineMap, way: Array, by: int, rounds: int, stretch: bool = False) -> Array:
    """A map made better by inverse-compositional alignment; what belongs to something else weighs little."""
    t = k.template(by)
    if t is None:
        return way
    start = way
    for _ in range(rounds):
        q = _pulled(b, way, t, by)
        mean = float((q * t.weight).sum()) / t.total
        gain = float(np.clip(float((t.centred * q * t.weight).sum()) / t.energy, 0.25, 3.0))
        off = ((q - mean) / gain - t.centred) * t.root
        reach = 4.0 * float(np.sqrt((off * off).sum() / t.total)) + 0.05
        off = off * np.clip(1 - (off / reach) ** 2, 0, None)
        d = np.clip((t.affine if stretch else t.similar) @ (t.steepest.T @ off.ravel()), -3, 3)
        grow = np.array([[d[2] + d[4], d[5] - d[3]], [d[3] + d[5], d[2] - d[4]]]) * (by / k.arm)
        m = np.eye(2) + grow
        way = after(way, undone(np.column_stack([m, by * d[:2] + k.centre - m @ k.centre])))
        if np.abs(d).max() < 0.03:
            break
    (s0, a0), (s1, a1) = scale_and_turn(start), scale_and_turn(way)
    return way if s1 > 0 and abs(np.log(s1 / s0)) < 0.16 and abs(a1 - a0) < 8 else start


def _by_landmarks(k: Keepsake, b: LineMap, way: Array, start: Array) -> Array:
    """The part's own landmarks, let loose a little, say how its shape changed: a damped affine step."""
    at = [i for i in k.drawn if k.edge[i] > 0.12]
    if len(at) < 3:
        return way
    p = k.points[at]
    f = find_patches(k.lines.soft, p, b.soft, way, put(way, p), 14, 11, 8, 0.12)
    w = np.clip(f.alike - 0.6, 0, None) * np.clip(f.share, 0, 1) * f.inside
    if (w > 0).sum() < 3:
        return way
    arm, off = (p - k.centre) / k.arm, f.places - put(way, p)
    shift = np.average(off, axis=0, weights=w)
    gram = (arm * w[:, None]).T @ arm + RIDGE * w.sum() * np.eye(2)
    m = np.linalg.solve(gram, (arm * w[:, None]).T @ (off - shift)).T / k.arm
    new = np.column_stack([way[:, :2] + m, way[:, 2] + shift - m @ k.centre])
    return new if _sane(new, start) else way


def _sane(way: Array, start: Array) -> bool:
    """Whether a part under a map is still the same thing: not much larger, smaller, stretched or turned."""
    if not np.isfinite(way).all():
        return False
    s0, a0 = scale_and_turn(start)
    large, small = np.linalg.svd(way[:, :2] / s0)[1]
    turn = abs((scale_and_turn(way)[1] - a0 + 180) % 360 - 180)
    return bool(small > 0.70 and large < 1.42 and large / small < 1.4 and turn < 13 and np.linalg.det(way[:, :2]) > 0)


def _places(k: Keepsake, b: LineMap, start: Array) -> list[Array]:
    """Up to five maps by which a part may have gone: weighted correlation over shift, size and turn about where it stood."""
    t = k.quarter
    assert t is not None
    by = QUARTER
    s0, a0 = scale_and_turn(start)
    h, w = t.image.shape
    middle = (t.origin + np.array([w - 1, h - 1]) / 2) * by
    stood = put(start, middle)
    far = max(1, int(k.part.far * k.hh * s0 / by))
    steps = np.arange(-far, far + 1) * (by / k.hh)
    cost = (0.010 * (steps[None] ** 2 + steps[:, None] ** 2) / 0.04**2).astype(np.float32)
    wide = (int(np.hypot(w, h) * 1.3) + 2 * far + 4) | 1
    field = cv2.getRectSubPix(b.quarter, (wide, wide), (float(stood[0]) / by, float(stood[1]) / by))
    mid = wide // 2
    rated: list[tuple[float, Array]] = []
    for size in SIZES:
        for turn in TURNS:
            m = turned(s0 * size, a0 + turn)[:, :2]
            across, down = (int(np.ceil(abs(r[0]) * w + abs(r[1]) * h)) | 1 for r in m)
            put_there = np.column_stack([m, np.array([across // 2, down // 2]) - m @ np.array([(w - 1) / 2, (h - 1) / 2])])
            piece, weight = (cv2.warpAffine(x, put_there, (across, down)) for x in (t.image, t.weight))
            x0, y0 = mid - across // 2 - far, mid - down // 2 - far
            window = field[max(y0, 0) : y0 + down + 2 * far, max(x0, 0) : x0 + across + 2 * far]
            total = float(weight.sum())
            if x0 < 0 or y0 < 0 or window.shape != (down + 2 * far, across + 2 * far) or total <= 0:
                continue
            centred = np.asarray((piece - float((piece * weight).sum()) / total) * weight, np.float32)
            energy = float((centred * piece).sum())
            if energy <= 0:
                continue
            both = cv2.matchTemplate(window, centred, cv2.TM_CCORR)
            s1, s2 = (cv2.matchTemplate(x, weight, cv2.TM_CCORR) for x in (window, np.asarray(window * window, np.float32)))
            spread = np.maximum(s2 - s1 * s1 / total, 0.05 * energy)
            v = 0.65 * both / np.sqrt(energy * spread) + 0.35 * np.minimum(both / energy, 1.0) - cost
            v -= 0.03 * abs(np.log(size)) / 0.15 + 0.01 * abs(turn) / 5
            for _ in range(2):
                _, top, _, (x, y) = cv2.minMaxLoc(v)
                there = stood + np.array([x - far, y - far]) * by
                rated.append((top, np.column_stack([m, there - m @ middle])))
                v[max(0, y - 4) : y + 5, max(0, x - 4) : x + 5] = -1
    rated.sort(key=lambda r: -r[0])
    kept: list[Array] = []
    for _, way in rated:
        c, s = put(way, middle), scale_and_turn(way)[0]
        if all(np.hypot(*(c - put(o, middle))) > 0.012 * k.hh or abs(np.log(s / scale_and_turn(o)[0])) > 0.12 for o in kept):
            kept.append(way)
        if len(kept) == 5:
            break
    return kept
