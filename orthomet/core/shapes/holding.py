"""What holds between shapes, kept: parts moved, changed or swapped, everything else where it holds again.

Places are solved by weighted least squares over linear rows in (x, y, m) of every part, m its size against what it was: an attachment ties a
point of one part's outline to a point of another's; level, centred, midway, between, rows and rings tie middles; equal and k-fold
sizes tie m. Who is above and left of whom is kept: a row that came out the other way round is added and the system solved again.
What cannot hold at once is told.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely.ops import nearest_points

from ..kept import remembered
from ..kinds import Array
from .model import Relation
from .plain import KINDS, Plain
from .relations import APART, NEAR, Body, height_of, tree, words

HELD = 0.02
"""A relation that is off by more than this share of the height does not hold (own)."""
SLENDER = 6.0
"""On a part this slender a grip slides along it."""
LOOSE, FIRM, GRIP, ORDER, DRAGGED = 0.004, 30.0, 3.0, 6.0, 40.0
"""Weights: where nothing is said, of a size kept, of an attachment, of the order, of what the hand holds."""


@dataclass(frozen=True, eq=False)
class _Row:
    terms: tuple[tuple[int, int, float], ...]
    """Part, 0 x · 1 y · 2 m, factor."""
    value: float
    weight: float
    of: int = -1
    """Which relation it belongs to, or −1."""
    holds: bool = False
    """It says that parts hold together, not where one of them is."""


@dataclass(frozen=True, eq=False)
class Solved:
    bodies: tuple[Body, ...]
    broken: tuple[tuple[Relation, float], ...]
    """Relations that cannot hold, and by how much of the height they are off."""
    worst: float
    """Of all relations, a share of the height."""
    reversed: int
    """Pairs that came out the other way round."""


def _hit(o: Array, way: Array) -> Array:
    """Where a ray from the middle of an outline's box, in a direction measured in its half box, leaves the outline; from the middle."""
    low, high = o.min(0), o.max(0)
    mid, half = (low + high) / 2, (high - low) / 2
    d = np.asarray(way) * half
    far = float(np.hypot(*d)) + 1e-12
    u = d / far
    a, b = o - mid, np.roll(o, -1, 0) - mid
    e = b - a
    under = u[0] * e[:, 1] - u[1] * e[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        t = (a[:, 0] * e[:, 1] - a[:, 1] * e[:, 0]) / under
        s = (a[:, 0] * u[1] - a[:, 1] * u[0]) / under
    ok = (t > 0) & (s >= -1e-9) & (s <= 1 + 1e-9) & np.isfinite(t)
    return np.asarray(u * float(t[ok].max()) if ok.any() else d)


def _anchor(b: Body, q: Array) -> tuple[Array, float]:
    """A place in a part's own terms: its direction in half boxes, and how far out to the outline it lies."""
    d = (q - b.middle) / np.maximum(b.half, 1e-12)
    h = _hit(b.outline, d)
    return d, float(np.hypot(*(q - b.middle))) / (float(np.hypot(*h)) + 1e-12)


@remembered(256)
def _contact(a: Body, b: Body) -> Array:
    both = a.area.intersection(b.area)
    if both.area > 0:
        return np.array(both.centroid.coords[0])
    p, q = nearest_points(a.area, b.area)
    return np.array([(p.x + q.x) / 2, (p.y + q.y) / 2])


def _slim(s: Plain) -> float:
    return s.height / max(s.width, 1e-12)


def _near_end(b: Body, q: Array) -> bool:
    t = float(b.shape.p[2])
    along = float((q - b.shape.p[:2]) @ np.array([-np.sin(t), np.cos(t)]))
    return abs(abs(along) - b.shape.height / 2) < 0.12 * b.shape.height


class System:
    """Parts and what holds between them, made ready once; solved for every place of the hand.

    Parameters
    ----------
    bodies
        The parts as they stood when everything held.
    relations
        What is to hold; attachments along the tree of parts hold besides.
    changed
        Parts that have another shape now: id → shape; where it lies does not matter.
    lifted
        A hand is going to move parts: nothing keeps standing on the floor, or where it stood.
    """

    def __init__(
        self,
        bodies: Sequence[Body],
        relations: Sequence[Relation],
        changed: Mapping[str, Plain] | None = None,
        lifted: bool = False,
    ):
        self.old = tuple(bodies)
        self.relations = tuple(relations)
        changed = changed or {}
        self.new = tuple(replace(b, shape=changed[b.id]) if b.id in changed else b for b in bodies)
        self.index = {b.id: i for i, b in enumerate(bodies)}
        self.tall = height_of(bodies)
        self.parent = tree(bodies)
        self.rows: list[_Row] = []
        self._fixed(set(changed), lifted)
        self._attachments()
        for k, r in enumerate(self.relations):
            self._relation(k, r)
        count = 3 * len(self.old)
        self.a = np.zeros((len(self.rows), count))
        for j, row in enumerate(self.rows):
            for i, what, factor in row.terms:
                self.a[j, 3 * i + what] += factor
        self.y = np.array([r.value for r in self.rows])
        self.w = np.array([r.weight for r in self.rows])
        aw = self.a * self.w[:, None]
        self._normal, self._right = aw.T @ aw, aw.T @ (self.y * self.w)
        self.order = self._orders()

    def _row(self, terms: Sequence[tuple[int, int, float]], value: float, weight: float, of: int = -1) -> None:
        self.rows.append(_Row(tuple(terms), value, weight, of, of >= 0 or (weight == GRIP and len(terms) > 1)))

    def _fixed(self, changed: set[str], lifted: bool) -> None:
        floor = max(b.high[1] for b in self.old)
        free = {n for r in self.relations if r.kind in ("times", "same length") for n in r.parts}
        for i, (b, n) in enumerate(zip(self.old, self.new, strict=True)):
            self._row([(i, 0, 1)], float(b.middle[0]), LOOSE)
            self._row([(i, 1, 1)], float(b.middle[1]), LOOSE)
            # a size that a relation speaks of gives way; that of a part that was changed does not
            self._row([(i, 2, self.tall)], self.tall, 0.5 if b.id in free and b.id not in changed else FIRM)
            if not lifted and abs(b.high[1] - floor) < NEAR * self.tall:
                self._row([(i, 1, 1), (i, 2, float(n.half[1]))], float(b.high[1]), 8.0)
        root = self.index[next(n for n, m in self.parent.items() if not m)]
        if not lifted:
            self._row([(root, 0, 1)], float(self.old[root].middle[0]), 5.0)

    def _attachments(self) -> None:
        tied = {frozenset(r.parts): k for k, r in enumerate(self.relations) if r.kind in ("touches", "overlaps", "inside")}
        pairs = {frozenset((n, m)) for n, m in self.parent.items() if m} | set(tied)
        for pair in sorted(pairs, key=sorted):
            n, m = (self.index[v] for v in sorted(pair))
            self._tied(n, m, _contact(self.old[n], self.old[m]), tied.get(pair, -1))

    def _tied(self, n: int, m: int, q: Array, of: int) -> None:
        (dn, sn), (dm, sm) = _anchor(self.old[n], q), _anchor(self.old[m], q)
        on, om = _hit(self.new[n].outline, dn) * sn, _hit(self.new[m].outline, dm) * sm
        slim = next((k for k in (n, m) if _slim(self.new[k].shape) > SLENDER), None)
        t = float(self.new[slim].shape.p[2]) if slim is not None else 0.0
        slides = slim is not None and not _near_end(self.old[slim], q)
        for u, weight in (
            (np.array([np.cos(t), np.sin(t)]), GRIP),
            (np.array([-np.sin(t), np.cos(t)]), 0.12 if slides else GRIP),
        ):
            self._row(
                [(m, 0, u[0]), (m, 1, u[1]), (m, 2, float(u @ om)), (n, 0, -u[0]), (n, 1, -u[1]), (n, 2, -float(u @ on))],
                0.0, weight, of if weight == GRIP else -1,
            )  # fmt: skip

    def _relation(self, k: int, r: Relation) -> None:
        i = [self.index[p] for p in r.parts]
        new = [self.new[j] for j in i]
        if r.kind == "level":
            self._row(
                [(i[0], 1, 1), (i[0], 2, float(new[0].half[1])), (i[1], 1, -1), (i[1], 2, -float(new[1].half[1]))], 0.0, GRIP, k
            )
        elif r.kind == "centred":
            self._row([(i[0], 0, 1), (i[1], 0, -1)], 0.0, 4.0, k)
        elif r.kind == "mirrored":
            root = self.index[next(n for n, m in self.parent.items() if not m)]
            self._row([(i[0], 0, 1), (i[1], 0, 1), (root, 0, -2)], 0.0, 4.0, k)
            self._row([(i[0], 1, 1), (i[1], 1, -1)], 0.0, GRIP, k)
            self._row([(i[0], 2, self.tall), (i[1], 2, -self.tall)], 0.0, 2.0, k)
        elif r.kind == "same length":
            self._row([(i[0], 2, new[0].shape.height), (i[1], 2, -new[1].shape.height)], 0.0, 6.0, k)
        elif r.kind == "times":
            a, b = (float(np.sqrt(n.area.area)) for n in new)
            self._row([(i[0], 2, a), (i[1], 2, -r.value * b)], 0.0, 6.0, k)
        elif r.kind in ("midway", "between"):
            t = 0.5 if r.kind == "midway" else min(max(r.value, 0.0), 1.0)
            for axis in (0, 1):
                self._row([(i[0], axis, 1), (i[1], axis, -(1 - t)), (i[2], axis, -t)], 0.0, GRIP, k)
        elif r.kind == "row":
            last = len(i) - 1
            for j in range(1, last):
                for axis in (0, 1):
                    self._row([(i[j], axis, 1), (i[0], axis, -(1 - j / last)), (i[-1], axis, -j / last)], 0.0, GRIP, k)
        elif r.kind == "ring":
            # all as far from the centre as they were against one another, each in its own direction
            d = np.array([self.old[j].middle for j in i[1:]]) - self.old[i[0]].middle
            far = np.maximum(np.hypot(*d.T), 1e-12)
            u = d / far[:, None]
            for k_, (j, (ux, uy)) in enumerate(zip(i[1:], u, strict=True)):
                self._row([(j, 0, -uy), (j, 1, ux), (i[0], 0, uy), (i[0], 1, -ux)], 0.0, 1.5, k)
                n = (k_ + 1) % len(d)
                (vx, vy), m = u[n], i[1 + n]
                self._row(
                    [(j, 0, ux), (j, 1, uy), (m, 0, -vx), (m, 1, -vy), (i[0], 0, vx - ux), (i[0], 1, vy - uy)],
                    float(far[k_] - far[n]), 1.5, k,
                )  # fmt: skip

    def _orders(self) -> list[tuple[int, int, int, float, float]]:
        """Who is left of and above whom by more than a little, and who keeps apart; part, part, axis, which way, by how much at least."""
        out = []
        for i, a in enumerate(self.old):
            for j in range(i + 1, len(self.old)):
                b = self.old[j]
                d = a.middle - b.middle
                for axis in (0, 1):
                    if abs(d[axis]) > 0.03 * self.tall:
                        out.append((i, j, axis, float(np.sign(d[axis])), 0.0))
                if self.parent.get(a.id) == b.id or self.parent.get(b.id) == a.id:
                    continue
                gap = np.abs(d) - a.half - b.half
                axis = int(np.argmax(gap))
                if gap[axis] > 0.004 * self.tall:
                    least = float(self.new[i].half[axis] + self.new[j].half[axis] + min(gap[axis], APART * self.tall))
                    out.append((i, j, axis, float(np.sign(d[axis])), least))
        return out

    def solve(self, hand: Mapping[str, tuple[float, float]] | None = None) -> Solved:
        """The parts where everything holds as well as it can; ``hand``: parts held with their middle at a place."""
        normal, right = self._normal.copy(), self._right.copy()

        def add(row: Array, value: float, weight: float) -> None:
            nonlocal normal, right
            normal += weight * weight * np.outer(row, row)
            right += weight * weight * value * row

        for n, place in (hand or {}).items():
            for axis in (0, 1):
                row = np.zeros(len(right))
                row[3 * self.index[n] + axis] = 1
                add(row, float(place[axis]), DRAGGED)
        bad: list[tuple[int, int, int, float, float]] = []
        x = np.zeros(len(right))
        for _ in range(6):
            x = np.linalg.solve(normal + 1e-9 * np.eye(len(right)), right)
            bad = [v for v in self.order if v[3] * (x[3 * v[0] + v[2]] - x[3 * v[1] + v[2]]) < v[4] - 0.003 * self.tall]
            if not bad:
                break
            for i, j, axis, sign, least in bad:
                row = np.zeros(len(right))
                row[3 * i + axis], row[3 * j + axis] = 1, -1
                add(row, sign * (least + 0.004 * self.tall), 0.7 if least else ORDER)
        return self._made(x, sum(v[4] == 0 for v in bad))

    def _made(self, x: Array, reversed_: int) -> Solved:
        out = []
        for i, n in enumerate(self.new):
            m = max(float(x[3 * i + 2]), 0.05)
            p = n.shape.p.copy()
            p[:2] = x[3 * i : 3 * i + 2] + m * (p[:2] - n.middle)
            p[3 : 3 + KINDS[n.shape.kind].sizes] += np.log(m)
            out.append(replace(n, shape=Plain(n.shape.kind, p)))
        off = np.abs(self.a @ x - self.y) / self.tall
        by: dict[int, float] = {}
        for j, row in enumerate(self.rows):
            if row.of >= 0:
                by[row.of] = max(by.get(row.of, 0.0), float(off[j]))
        firm = np.array([r.holds for r in self.rows])
        out = self._aim(out)
        broken = [(self.relations[k], v) for k, v in by.items() if v > HELD]
        return Solved(
            tuple(out), tuple(sorted(broken, key=lambda b: -b[1])), float(off[firm].max()) if firm.any() else 0.0, reversed_
        )

    def _aim(self, bodies: list[Body]) -> list[Body]:
        """Parts that are aimed at another turn their axis to it, the nearer way round."""
        for r in self.relations:
            if r.kind != "aimed":
                continue
            i, j = (self.index[p] for p in r.parts)
            n, m = bodies[i], bodies[j]
            if n.shape.kind == "circle":
                continue
            d = m.middle - n.shape.p[:2]
            want, now = float(np.arctan2(-d[0], d[1])), float(n.shape.p[2])
            turn = (want - now + np.pi / 2) % np.pi - np.pi / 2
            p = n.shape.p.copy()
            p[2] = now + turn
            bodies[i] = replace(n, shape=Plain(n.shape.kind, p))
        return bodies


def moved(bodies: Sequence[Body], relations: Sequence[Relation], hand: Mapping[str, tuple[float, float]]) -> Solved:
    """One part dragged, everything else where it holds."""
    return System(bodies, relations, None, True).solve(hand)


def said(s: Solved, names: Mapping[str, str]) -> list[str]:
    """What cannot hold, in words."""
    return [f"{words(r, names)}: cannot hold with the rest, off by {off:.2f} of the height." for r, off in s.broken]
