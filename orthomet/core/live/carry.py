"""Landmarks carried from one saved state of a drawing to the next, each with how sure it is.

First one similarity for the whole drawing (features that moved must not turn the head: having stood still competes with what
correlation found, by how much of the structure agrees); then one map for every feature; then every landmark by its own patch,
held by its feature, there and back. A place that was only guessed once does not become sure by being followed well.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import NamedTuple

import numpy as np

from ..errors import LandmarkError
from ..kinds import Array, there
from ..landmarks.views import SCHEMAS
from .affine import SAME, after, agreed, put, scale_and_turn, still, undone
from .keepsake import Keepsake, Source
from .linemap import LineMap, line_map, working_factor
from .patches import find_patches, unchanged
from .regions import ORDER, loose, parts_of, undrawn
from .rim import ALONG, LOST, SURE, on_rim, rim_way
from .seek import NEEDED, Sought, seek
from .whole import whole_way

DOUBTED = 0.0045
"""Heads of doubt from which on a point is no longer sure (own)."""
LOOSE_SPREAD = 0.006
"""Heads by which a landmark without lines of its own is uncertain once anything moved (own)."""
SURE_POINT, SURE_MOVED, FOUND_AGAIN = 0.74, 0.82, 0.85
"""Least likeness of a sure landmark's patch; where its part was redrawn; where it was lost (own)."""
STILL_THERE = 0.55
"""Share of a line below which what is left of it may be the pencil under an erased one (own)."""
TAPERED, SURE_TAPERED = 0.12, 0.95
"""An end that runs out is sure only where it looks all but the same: along its line it could lie anywhere (own)."""
SURE_REDRAWN = 0.75
"""A part that was redrawn has to look so much the same as a whole for any of its landmarks to be sure (own)."""
SMOOTH = 0.10
"""Corner share under which a landmark lies on a smooth stretch: once its part was redrawn nobody can tell where on it (own)."""
FEWEST_PLACES, MOST_PLACES = 8, 100
STAND, NEAR_PLACE = 0.5, 12
"""Share of the drawing's corners that must look as they did, so many working pixels about, for the whole to have stood still (own)."""
LEAST_HEAD = 40.0
"""Pixels of a head below which nothing is followed (own)."""
NOT_FACE = frozenset({"crown", "hairline"} | {f"{n}_{s}" for n in ("euryon", "neck_side", "ear") for s in "lr"})


@dataclass(frozen=True, eq=False)
class Trace:
    """One state of a drawing with its landmarks, and what is kept of every part."""

    view: str
    lines: LineMap
    points: Array
    """``(n, 2)`` working pixels, nan where there is none."""
    hh: float
    kept: Mapping[str, Keepsake]
    doubt: Array
    """Heads, ``(n,)``: what a landmark was uncertain by since it was confirmed or seen for sure."""


@dataclass(frozen=True, eq=False)
class Carried:
    """Landmarks in the new state, ``(n, 2)`` pixels of the picture; ``status`` 2 sure, 1 moved with its feature, 0 lost."""

    points: Array
    status: Array
    spread: Array
    """One standard deviation, pixels of the picture."""
    whole: Array
    """Where the whole drawing went: ``(2, 3)``, picture to picture."""
    words: str
    redrawn: tuple[str, ...] = field(default=())
    """Parts that did not stand where they stood, by name."""


def begin(grey: Array, points: Array, view: str = "front", spread: Array | None = None) -> Trace:
    """Start from a state ``(h, w)`` uint8 whose landmarks ``(n, 2)`` are known, pixels; ``spread`` ``(n,)`` is how well.

    Raises
    ------
    LandmarkError
        Too few landmarks to know how large the head is, or a head too small to follow.
    """
    here = there(points)
    names = SCHEMAS[view].names
    known = {names[i]: (float(points[i, 0]), float(points[i, 1])) for i in np.flatnonzero(here)}
    crown, chin = known.get("vertex"), known.get("gnathion")
    tall = float(np.hypot(crown[0] - chin[0], crown[1] - chin[1])) if crown and chin else None
    if tall is None and here.sum() >= 3:
        tall = float(np.ptp(points[here], axis=0).max()) * 1.5
    if tall is None or tall < LEAST_HEAD:
        raise LandmarkError("To follow a drawing its points have to be laid first, on a head of at least 40 pixels.")
    lines = line_map(grey, working_factor(tall))
    xy, hh = points * lines.factor, tall * lines.factor
    bare = undrawn(view)
    kept = {p.name: Keepsake(p, lines, xy, hh, bare) for p in parts_of(view)}
    doubt = np.zeros(len(points)) if spread is None else np.nan_to_num(spread) / tall
    return Trace(view, lines, xy, hh, kept, doubt)


def carry(t: Trace, grey: Array) -> tuple[Trace, Carried]:
    """The same landmarks on a newly saved state ``(h, w)`` uint8."""
    a, b = t.lines, line_map(grey, t.lines.factor)
    whole = _whole(t, b)
    out = put(whole, t.points)
    status: Array = np.where(np.isfinite(out[:, 0]), LOST, ALONG)
    spread: Array = np.full(len(out), 0.03 * t.hh)
    again = np.zeros(len(out), bool)
    parts = {n: k for n, k in t.kept.items() if not k.part.rim}
    features = _in_order(t, {n: seek(k, b, whole) for n, k in parts.items()}, whole)
    for n, k in parts.items():
        out[k.at], status[k.at], spread[k.at], again[k.at] = _land(t, k, features[n], b, whole)
    outline = rim_way(t.kept, a, b, whole)
    for k in t.kept.values():
        if k.part.rim and k.here:
            i, one = k.at[0], on_rim(k, b, outline)
            out[i], status[i], spread[i] = one.place, one.status, one.spread
    for i in loose(t.view):
        status[i], spread[i] = ALONG, LOOSE_SPREAD * t.hh
    status, spread, doubt = _with_doubt(t, status, spread, again)
    here = there(t.points)
    status = np.asarray(np.where(here, status, ALONG))
    grown, _ = scale_and_turn(whole)
    to_picture = np.column_stack([whole[:, :2] * (a.factor / b.factor), whole[:, 2] / b.factor])
    new = Trace(t.view, b, out, t.hh * grown, _kept_on(t, b, out, status, features, whole, t.hh * grown), doubt)
    words = told(to_picture, a.size, b.size, t.hh / a.factor)
    redrawn = tuple(n for n, s in features.items() if s.sought)
    return new, Carried(out / b.factor, status, spread / b.factor, to_picture, words, redrawn)


def _whole(t: Trace, b: LineMap) -> Array:
    """Where the whole drawing went."""
    a = t.lines
    held = [k for n, k in t.kept.items() if k.lines is a and k.here and not n.startswith(("crown", "euryon", "hairline"))]
    p = np.vstack([k.anchors for k in held]) if held else np.zeros((0, 2))
    p = p[np.unique(np.linspace(0, len(p) - 1, min(len(p), MOST_PLACES)).astype(int))]
    if len(p) >= FEWEST_PLACES and np.mean([unchanged(a, b, q[None], NEAR_PLACE) for q in p]) >= STAND:
        return SAME
    face = tuple(i for n, k in t.kept.items() if n not in NOT_FACE for i in k.at) or tuple(np.flatnonzero(there(t.points)))
    way, like = whole_way(a, t.points, face, t.hh, b)
    stood = still(way)
    if len(p) < FEWEST_PLACES:
        return way
    guesses = [(way, (6,) if stood and like >= 1.0 else (18, 7))]
    if not stood and a.size == b.size:
        guesses.append((SAME, (7,)))
    best, most = way, -1.0
    for guess, rounds in guesses:
        m = guess
        for far in rounds:
            f = find_patches(a.soft, p, b.soft, m, put(m, p), 10, far, far * 0.8, 0.05)
            w = np.clip(f.alike - 0.5, 0, None) * np.clip(f.share, 0, 1) * f.inside
            off: Array = np.full(len(p), 9.0)
            if (w > 0).sum() >= 6:
                m, off = agreed(p, f.places, w, m, 1.2)
        agree = float((w * (off < 2.5)).sum())
        if agree > most:
            best, most = m, agree
    return best


def _in_order(t: Trace, found: dict[str, Sought], whole: Array) -> dict[str, Sought]:
    """No two features on the same lines, and a face keeps its order: a nose that was erased must not be found in the mouth."""
    out = dict(found)
    grown, _ = scale_and_turn(whole)
    down = whole[:, :2] @ [0.0, 1.0] / grown
    hh = t.hh * grown
    bare = undrawn(t.view)
    names = [n for n, s in found.items() if s.found and not t.kept[n].part.ear]
    lines = {n: [i for i in t.kept[n].at if i not in bare] for n in names}
    names = [n for n in names if lines[n]]
    now = {n: put(found[n].way, t.kept[n].points[lines[n]]) for n in names}
    was = {n: put(after(whole, t.kept[n].way), t.kept[n].points[lines[n]]) for n in names}
    for k, g in enumerate(names):
        for o in names[k + 1 :]:
            if not (out[g].found and out[o].found and (out[g].sought or out[o].sought)):
                continue
            near, before = (float(np.linalg.norm(x[g][:, None] - x[o][None], axis=2).min()) for x in (now, was))
            wrong = near < 0.012 * hh and near < 0.5 * before
            for up, low in ORDER:
                if {g, o} == {up, low}:
                    gap, once = (float((x[low].mean(0) - x[up].mean(0)) @ down) for x in (now, was))
                    wrong |= gap < 0.30 * once
            if wrong:
                loser = min(g, o, key=lambda n: (not out[n].sought, out[n].alike))
                out[loser] = Sought(after(whole, t.kept[loser].way), sought=True)
    return out


class _PartLanded(NamedTuple):
    """A part's landmarks in the new state, in the part's order."""

    places: Array
    status: Array
    spread: Array
    again: Array
    """Whether their own last sure look was found again."""


def _land(t: Trace, k: Keepsake, s: Sought, b: LineMap, whole: Array) -> _PartLanded:
    """A feature's landmarks in the new state, by their own patches held by the feature."""
    at = k.at
    again = np.zeros(len(at), bool)
    if not s.found:
        lost = put(s.way if s.alike > NEEDED else after(whole, k.way), k.points[at])
        return _PartLanded(lost, np.full(len(at), LOST), np.full(len(at), (0.03 if s.alike < 0.4 else 0.02) * t.hh), again)
    held, far = (1.2, 6) if s.alike > 0.88 and not s.sought else (2.2, 6) if s.alike > 0.75 else (3.5, 8)
    stood = put(s.way, k.points[at])
    place, alike, share = stood.copy(), np.zeros(len(at)), np.zeros(len(at))
    inside, round_trip = np.zeros(len(at), bool), np.full(len(at), 9.0)
    fresh = [j for j, i in enumerate(at) if i not in k.sources]
    for group in ([fresh] if fresh else []) + [[j] for j, i in enumerate(at) if i in k.sources]:
        src = k.source(at[group[0]])
        own = src.lines is not k.lines
        way = after(s.way, src.way) if own else s.way
        p = np.array([k.source(at[j]).place for j in group])
        f = find_patches(src.lines.soft, p, b.soft, way, stood[group], 14, 9 if own else far, 4.0 if own else held, 0.15)
        back = find_patches(b.soft, f.places, src.lines.soft, undone(way), p, 14, 6, 3, 0.15).places
        place[group], alike[group], share[group], inside[group] = f.places, f.alike, f.share, f.inside
        round_trip[group] = np.linalg.norm(back - p, axis=1)
        again[group] = own or k.lines is not t.lines
    use = (alike > 0.55) & (share > 0.3) & inside
    places = np.where(use[:, None], place, stood)
    bare = np.array([i not in k.drawn for i in at], bool)
    edge = np.array([k.edge[i] for i in at], float)
    changed = s.sought and bool(np.abs(s.way - after(whole, k.way)).max() > 0.02)
    doubt = s.doubt[[k.part.at.index(i) for i in at]] if s.doubt is not None else np.zeros(len(at))
    sure = (
        ~bare
        & use
        & (alike > (SURE_MOVED if changed else SURE_POINT))
        & (share > STILL_THERE)
        & (share < 2.6)
        & (round_trip < 2.0)
    )
    sure &= ~((edge < TAPERED) & (alike < SURE_TAPERED)) & (not changed or s.alike > SURE_REDRAWN)
    sure &= ~(changed & ((edge < SMOOTH) | k.part.ear))
    sure &= ~((doubt > 0.006 * t.hh) & (edge < 0.14))
    again &= alike > FOUND_AGAIN
    off = np.linalg.norm(place - stood, axis=1)
    along = np.where(bare, 0.004 * t.hh + 4 * (1 - s.alike), np.maximum(0.004 * t.hh, 14 * np.clip(1 - alike, 0, 1) + 0.5 * off))
    along = along * (3 if k.part.ear and changed else 1)
    rough = np.where(sure, np.maximum(0.0012 * t.hh, 0.5 * round_trip + 2 * (1 - s.alike)), along)
    spread = np.maximum(rough, np.where(sure, 0.2, 0.6) * doubt)
    status = np.where(sure, SURE, np.where(~bare & (alike < 0.5) & (s.alike < 0.7), LOST, ALONG))
    return _PartLanded(places, status, spread, again)


def _with_doubt(t: Trace, status: Array, spread: Array, again: Array) -> tuple[Array, Array, Array]:
    """Doubt stays until a landmark's own last sure look is found again: what was drawn anew elsewhere is not sure to be the same."""
    found = again & (status == SURE)
    doubt = np.where(found, 0.0, t.doubt)
    doubt = np.where(status != SURE, np.maximum(doubt, spread / t.hh), doubt)
    status = np.where((status == SURE) & (doubt > DOUBTED), ALONG, status)
    return status, np.maximum(spread, np.where(status != LOST, doubt * t.hh, 0.0)), doubt


def _kept_on(
    t: Trace, b: LineMap, out: Array, status: Array, features: Mapping[str, Sought], whole: Array, hh: float
) -> dict[str, Keepsake]:
    """What is kept of every part from now on: this state where it was seen, else the older one and the way since."""
    kept: dict[str, Keepsake] = {}
    for n, old in t.kept.items():
        s = features.get(n)
        seen = s.found and s.alike > 0.5 if s is not None else bool(old.at) and (status[old.at] == SURE).mean() >= 0.5
        if not seen:
            kept[n] = old.moved(after(whole, old.way))
            continue
        sources: dict[int, Source] = {}
        if s is not None:
            for i in old.at:
                if status[i] != SURE and i in old.drawn and not (old.edge[i] < SMOOTH and status[i] == ALONG):
                    src = old.source(i)
                    sources[i] = Source(src.lines, src.place, after(s.way, src.way))
        kept[n] = Keepsake(old.part, b, out, hh, old.bare, SAME, sources)
    return kept


def told(way: Array, old: tuple[int, int], new: tuple[int, int], hh: float) -> str:
    """What happened to the whole drawing, in words; empty where it stands where it stood."""
    grown, turn = scale_and_turn(way)
    shift = way[:, 2]
    out = []
    if old != new:
        out.append(f"canvas {old[0]} × {old[1]} → {new[0]} × {new[1]}")
    if abs(grown - 1) > 0.004:
        out.append(f"{'larger' if grown > 1 else 'smaller'} by {100 * abs(grown - 1):.0f} %")
    if abs(turn) > 0.25:
        out.append(f"turned {abs(turn):.1f}° {'clockwise' if turn > 0 else 'anticlockwise'}")
    if abs(grown - 1) <= 0.004 and abs(turn) <= 0.25 and float(np.hypot(*shift)) > 0.003 * hh:
        out.append(f"moved {shift[0]:+.0f}, {shift[1]:+.0f} px")
    return "; ".join(out)
