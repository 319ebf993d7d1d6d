"""What holds between the shapes of a character: found as they stand, and told in words."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from shapely.geometry import Polygon

from ..kept import remembered
from ..kinds import Array
from .contour import polygon
from .model import Relation
from .plain import KINDS, Plain

NEAR = 0.012
"""Places this near, a share of the height, are meant to be alike (own)."""
APART = 0.02
LIKE = 0.06
"""Sizes this near, by logarithm, are meant to be alike (own)."""
TIMES = (1.5, 2.0, 3.0, 4.0)


@dataclass(frozen=True, eq=False)
class Body:
    """A part as relations see it: its id, its name, its plain shape; what it hangs on, if it is said."""

    id: str
    name: str
    shape: Plain
    on: str = ""
    role: str = "other"

    @cached_property
    def outline(self) -> Array:
        return self.shape.outline(160)

    @cached_property
    def area(self) -> Polygon:
        return polygon(self.outline)

    @cached_property
    def low(self) -> Array:
        return np.asarray(self.outline.min(0))

    @cached_property
    def high(self) -> Array:
        return np.asarray(self.outline.max(0))

    @property
    def middle(self) -> Array:
        return np.asarray((self.low + self.high) / 2)

    @property
    def half(self) -> Array:
        return np.asarray((self.high - self.low) / 2)


def height_of(bodies: Sequence[Body]) -> float:
    return float(max(b.high[1] for b in bodies) - min(b.low[1] for b in bodies)) or 1.0


def tree(bodies: Sequence[Body]) -> dict[str, str]:
    """What every part hangs on: as it is said, else the neighbour on the way to the largest part; the largest one on nothing."""
    return dict(_tree(tuple(bodies)))


@remembered(12)
def _tree(bodies: tuple[Body, ...]) -> dict[str, str]:
    ids = [b.id for b in bodies]
    at = {b.id: b for b in bodies}
    tall = height_of(bodies)
    root = max(ids, key=lambda n: at[n].area.area)
    parent = {root: ""}
    for b in bodies:
        if b.id != root and b.on in at and b.on != b.id:
            parent[b.id] = b.on
    for n in list(parent):  # a ring of what hangs on what is cut
        seen, k = {n}, parent[n]
        while k:
            if k in seen:
                parent[n] = ""
                break
            seen.add(k)
            k = parent.get(k, "")
    while len(parent) < len(ids):
        rest = [n for n in ids if n not in parent]
        _, n, m = min(
            (
                at[n].area.distance(at[m].area)
                - 0.02 * tall * at[n].area.intersection(at[m].area).area / max(at[n].area.area, 1e-12),
                n,
                m,
            )
            for n in rest
            for m in parent
        )
        parent[n] = m
    return parent


def found(bodies: Sequence[Body]) -> list[Relation]:
    """What holds between parts as they stand."""
    if len(bodies) < 2:
        return []
    tall = height_of(bodies)
    parent = tree(bodies)
    at = {b.id: b for b in bodies}
    out = [r for n, m in parent.items() if m for r in _with_parent(at[n], at[m], tall)]
    root = at[next(n for n, m in parent.items() if not m)]
    out += _alike(bodies, root, tall)
    out += _between(bodies, parent, tall)
    out += _aimed(bodies, parent, tall)
    out += _many(bodies, root, tall)
    return list(dict.fromkeys(out))


def _with_parent(n: Body, m: Body, tall: float) -> list[Relation]:
    out = []
    both = n.area.intersection(m.area).area
    share = both / max(min(n.area.area, m.area.area), 1e-12)
    if share > 0.92:
        out.append(Relation(kind="inside", parts=(n.id, m.id)))
    elif share >= 0.05:
        out.append(Relation(kind="overlaps", parts=(n.id, m.id), value=round(share, 3)))
    elif n.area.distance(m.area) < 0.02 * tall:
        out.append(Relation(kind="touches", parts=(n.id, m.id)))
    if abs(n.middle[0] - m.middle[0]) < NEAR * tall:
        out.append(Relation(kind="centred", parts=(n.id, m.id)))
    r = float(np.sqrt(m.area.area / max(n.area.area, 1e-12)))
    for k in TIMES:
        if abs(np.log(r / k)) < 0.025:
            out.append(Relation(kind="times", parts=(m.id, n.id), value=k))
    return out


def _alike(bodies: Sequence[Body], root: Body, tall: float) -> list[Relation]:
    out = []
    axis = root.middle[0]
    for i, p in enumerate(bodies):
        for q in bodies[i + 1 :]:
            if p.shape.kind != q.shape.kind or abs(np.log(p.area.area / max(q.area.area, 1e-12))) > LIKE:
                continue
            a, b = p.middle, q.middle
            if abs(a[0] + b[0] - 2 * axis) < 0.02 * tall and abs(a[1] - b[1]) < NEAR * tall and abs(a[0] - b[0]) > 0.02 * tall:
                out.append(Relation(kind="mirrored", parts=(p.id, q.id)))
            if abs(p.high[1] - q.high[1]) < 0.01 * tall:
                out.append(Relation(kind="level", parts=(p.id, q.id)))
    return out


def _between(bodies: Sequence[Body], parent: Mapping[str, str], tall: float) -> list[Relation]:
    """A part midway between two of a pair, and off the pair's own line of parents."""
    out = []
    for i, p in enumerate(bodies):
        for q in bodies[i + 1 :]:
            if p.shape.kind != q.shape.kind or abs(np.log(p.area.area / max(q.area.area, 1e-12))) > LIKE:
                continue
            mid, gap = (p.middle + q.middle) / 2, float(np.hypot(*(p.middle - q.middle)))
            for n in bodies:
                if n.id in (p.id, q.id) or gap < 0.06 * tall or max(n.half) > 0.75 * gap:
                    continue
                if float(np.hypot(*(n.middle - mid))) < NEAR * tall:
                    out.append(Relation(kind="midway", parts=(n.id, p.id, q.id)))
    return out


def _aimed(bodies: Sequence[Body], parent: Mapping[str, str], tall: float) -> list[Relation]:
    """A slender or pointed part whose axis goes through another's middle, not by standing upright on it."""
    out = []
    for n in bodies:
        slim = n.shape.height / max(n.shape.width, 1e-12)
        if n.shape.kind == "circle" or (slim < 1.6 and KINDS[n.shape.kind].language != "pointed"):
            continue
        t = float(n.shape.p[2])
        axis = np.array([-np.sin(t), np.cos(t)])
        if min(abs(axis)) < 0.06:  # upright or level: that is said by “centred” and “level”
            continue
        best: tuple[float, Body] | None = None
        for m in bodies:
            if m.id == n.id:
                continue
            d = m.middle - n.middle
            ahead, off = abs(float(d @ axis)), abs(float(d[0] * axis[1] - d[1] * axis[0]))
            if ahead > 0.6 * max(n.half) and off < max(0.5 * NEAR * tall, 0.04 * ahead) and (best is None or ahead < best[0]):
                best = ahead, m
        if best is not None:
            out.append(Relation(kind="aimed", parts=(n.id, best[1].id)))
    return out


def _many(bodies: Sequence[Body], root: Body, tall: float) -> list[Relation]:
    """Three and more of a kind in a row, or in a ring about another part."""
    out = []
    groups: list[list[Body]] = []
    for b in bodies:
        for g in groups:
            if g[0].shape.kind == b.shape.kind and abs(np.log(g[0].area.area / max(b.area.area, 1e-12))) < 1.4 * LIKE:
                g.append(b)
                break
        else:
            groups.append([b])
    for g in (g for g in groups if len(g) >= 3):
        at = np.array([b.middle for b in g])
        way = np.linalg.svd(at - at.mean(0))[2][0]
        s = (at - at.mean(0)) @ way
        order = np.argsort(s)
        off = np.abs((at - at.mean(0)) @ np.array([-way[1], way[0]])).max()
        gaps = np.diff(s[order])
        if off < NEAR * tall and np.ptp(gaps) < 2 * NEAR * tall and gaps.min() > 0:
            out.append(Relation(kind="row", parts=tuple(g[k].id for k in order)))
            continue
        for m in (b for b in (root, *bodies) if b not in g):
            places = np.array([b.shape.p[:2] for b in g])
            r = np.hypot(*(places - m.middle).T)
            if np.ptp(r) < 0.04 * float(r.mean()) + NEAR * tall and r.min() > 0.02 * tall:
                angle = np.argsort(np.arctan2(*(at - m.middle).T[::-1]))
                out.append(Relation(kind="ring", parts=(m.id, *(g[k].id for k in angle))))
                break
    return out


def words(r: Relation, names: Mapping[str, str]) -> str:
    """A relation told as an artist would."""
    n = [names.get(p, p) for p in r.parts]
    return {
        "touches": lambda: f"{n[0]} touches {n[1]}", "overlaps": lambda: f"{n[0]} overlaps {n[1]} by {r.value:.0%}",
        "inside": lambda: f"{n[0]} inside {n[1]}", "level": lambda: f"{n[0]} level with {n[1]}",
        "centred": lambda: f"{n[0]} centred on {n[1]}", "mirrored": lambda: f"{n[0]} mirrors {n[1]}",
        "same length": lambda: f"{n[0]} as long as {n[1]}", "times": lambda: f"{n[0]} is {r.value:g} × {n[1]}",
        "midway": lambda: f"{n[0]} midway between {n[1]} and {n[2]}", "between": lambda: f"{n[0]} between {n[1]} and {n[2]}",
        "aimed": lambda: f"{n[0]} aimed at {n[1]}", "row": lambda: f"{len(n)} in a row: {', '.join(n)}",
        "ring": lambda: f"{len(n) - 1} in a ring round {n[0]}: {', '.join(n[1:])}",
    }[r.kind]()  # fmt: skip
