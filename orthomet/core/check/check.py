"""A drawing against its plan: what differs, by how much, and what to do, one finding per cause."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

from ..errors import LandmarkError
from ..kinds import Array, there
from ..landmarks.points import Landmarks, require_front, require_measurable, without_own
from ..landmarks.register import Similarity, register, registered_on
from ..landmarks.schema import FRONT
from ..proportions.registry import front_registry
from .causes import causes, lead
from .fix import Fix, smallest_fix, weights
from .greedy import Ready, followed, ready
from .instruct import WAYS, amount_words, moved_words, on_page_words
from .moves import Move, moves
from .rows import Row, Rows, face_rows, lengths, tolerance_table, tolerances

POSE_NOISE = 1.08
"""How much less surely points are known where the head's turn had to be found from them too, as a factor (own, seeded heads)."""
REGISTRATIONS = 3
"""How often the registration is corrected by what the fix says of its scale and turn."""
QUARTER_TURN = np.array([[0.0, 1.0], [-1.0, 0.0]])
"""Where points go, as rows, for every radian they are turned by."""


@dataclass(frozen=True)
class Finding:
    """One cause. ``difference_hh`` = drawing − plan (positive: lower, larger, further right), in heads."""

    reading: str
    kind: str
    difference_hh: float
    difference_px: float
    direction: str
    tolerance: float
    severity: float
    explains: tuple[str, ...]
    say: str
    move: Move | None
    amount_hh: float
    arrow: tuple[tuple[float, float], tuple[float, float]] | None
    """From where something is to where it should be, heads on the plan; ``None`` where it has no one place."""
    moved: frozenset[str]
    """Landmarks the cure moves."""
    short: str
    """The instruction in a few letters, for a place on the drawing: “34 px up”."""


@dataclass(frozen=True, eq=False)
class Seen:
    """How the drawing shows a front that is turned away.

    ``matrix`` ``(2, 2)`` maps heads on the front to heads on the picture. ``mistaken`` ``(k, n, 2)`` is where the front's
    points go for every radian by which the pose may be mistaken; a check leaves that free within reason.
    """

    matrix: Array
    mistaken: Array
    doubt: Array | None = None
    """``(k, n, 2)`` heads: shifts of one standard deviation that nobody can tell from a fault, where the depth is not planned."""

    def widened(self, tolerance: Array, rows: Rows) -> Array:
        """Tolerances that also let pass what the doubt may do to a reading."""
        if self.doubt is None:
            return tolerance
        off = self.doubt.reshape(len(self.doubt), -1) @ rows.forms.T
        return np.asarray(np.hypot(tolerance, tolerance_table().noise_factor * np.sqrt((off**2).sum(0))))

    def noise(self, heads: Array) -> Array:
        """Uncertainty of points on the front, ``(n, 2)``, from theirs on the picture, ``(n,)``."""
        return np.asarray(POSE_NOISE * heads[:, None] * np.linalg.norm(np.linalg.inv(self.matrix), axis=1))

    def share(self, way: Array) -> float:
        """How long the picture shows what goes this way on the front, ``(n, 2)``, as a share."""
        return float(np.linalg.norm(way @ self.matrix.T) / max(float(np.linalg.norm(way)), 1e-12))


@dataclass(frozen=True, eq=False)
class Judged:
    """What a check compares, and how closely: the same while a hand drags."""

    known: Array
    """Which landmarks are judged, ``(n,)``."""
    rows: Rows
    tolerance: Array
    wish: Array
    weigh: Array
    """What makes rows independent that share badly marked points, ``(rows, rows)``."""
    ready: Ready | None = None
    """The moves, made ready to be followed."""


@dataclass(frozen=True)
class Check:
    findings: tuple[Finding, ...]
    passed: tuple[str, ...]
    meant: tuple[str, ...]
    fix: Fix
    to_plan: Similarity
    """Drawing pixels → plan heads."""
    registered: Array
    differences: dict[str, float]
    tolerance: dict[str, float]
    noise: float
    """How well the points are taken to be marked, one standard deviation in heads."""
    judged: Judged | None = field(default=None, compare=False, repr=False)

    @property
    def right_edge(self) -> float:
        """How far right the drawing reaches, heads from the plan's midline."""
        return float(np.nanmax(self.registered[:, 0]))

    @property
    def px_per_head(self) -> float:
        return 1 / self.to_plan.scale


def check(
    drawing: Landmarks,
    plan: Array,
    meant: Collection[str] = (),
    noise_px: float | None = None,
    px_per_mm: float | None = None,
    noise: float | None = None,
    seen: Seen | None = None,
    since: Check | None = None,
    spreads: Mapping[str, float] | None = None,
) -> Check:
    """Compare a drawing's landmarks with a plan's (head units, schema order).

    The artist's own points are left to :func:`~orthomet.core.check.own.check_own`. Readings that rest on estimated points are
    judged within those points' own spread, and not at all where it is not known. ``since`` is this very drawing's check of a
    moment ago: from there the answer follows a dragging hand, by greedy moves. ``spreads`` are those of the style drawn in
    (:func:`~orthomet.core.check.rows.style_spreads`). ``meant`` readings, and what the same move explains, are silent. ``px_per_mm`` tells amounts in millimetres on
    the page, where its size is known. ``noise`` is how well the points are marked, one standard deviation in heads (or
    ``noise_px`` in the drawing's pixels); without either it is :func:`marking_noise`. A point's own spread adds to it.
    ``seen`` is given where the landmarks are a turned head's, brought to the front.

    Raises
    ------
    LandmarkError
        Unmeasurable landmarks, or fewer than three in common with the plan.
    """
    require_front(drawing, "A check")
    if since is None:  # a moment ago it could be measured; the hand that rests is told
        require_measurable(drawing)
    drawing = without_own(drawing)
    xy = drawing.array()
    to_plan = register(xy, plan) if since is None else registered_on(xy, plan, since.to_plan)
    if to_plan.scale <= 0 or not np.isfinite(to_plan.scale):
        raise LandmarkError("The drawing cannot be laid over its plan: check crown, chin and eyes.")
    judged = np.where(unknown(drawing)[:, None], np.nan, xy)
    if noise is None and since is not None:
        noise = since.noise
    elif noise is None:
        noise = marking_noise(to_plan(judged), plan) if noise_px is None else noise_px * to_plan.scale
    loosely = np.maximum(noise, drawing.spreads() * to_plan.scale)
    by = _judged(judged, plan, loosely, seen, spreads, since.judged if since is not None else None)
    rows, tol, wish = by.rows, by.tolerance, by.wish
    mistaken = np.zeros((0, *plan.shape)) if seen is None else seen.mistaken
    poses = [lengths(m, rows) for m in mistaken]
    taken: Array = np.zeros(2 + len(mistaken))

    def seen_at() -> tuple[Array, Array, Array]:
        here = to_plan(judged) + np.tensordot(taken[2:], mistaken, 1)
        now = lengths(here, rows)
        return here, wish - now, np.column_stack([now, lengths(here @ QUARTER_TURN, rows), *poses])

    for _ in range(REGISTRATIONS - 1 if by.ready is None else 0):  # roughly is enough for where it lies
        here, wanted, frame = seen_at()
        rough = followed(ready(rows.forms, tol, _moves_of(_halfway(here, plan)), by.weigh), wanted, frame, taken)
        if not rough.moves or np.abs(rough.frame).max() < 1e-5:
            break
        to_plan, taken = _reframed(to_plan, rough.frame), taken + rough.frame
    here, wanted, frame = seen_at()
    if by.ready is not None:
        fix = followed(by.ready, wanted, frame, taken)
    else:
        fix = smallest_fix(rows.forms, wanted, tol, _moves_of(_halfway(here, plan)), frame, taken, by.weigh)
    if fix.moves:
        to_plan, taken = _reframed(to_plan, fix.frame), taken + fix.frame
    here = to_plan(xy) + np.tensordot(taken[2:], mistaken, 1)
    diff = lengths(here, rows) - wish
    named, meant_rows = _names(rows, here, plan), set(meant)
    silent = np.array([k in meant_rows for k in named], bool)
    findings, quiet = _findings(rows, named, diff, tol, fix, to_plan, silent, here, plan, px_per_mm, seen)
    off = np.abs(diff) > tol
    passed = tuple(k for k, o in zip(named, off, strict=True) if not o)
    return Check(
        findings, passed, quiet, fix, to_plan, here,
        dict(zip(named, diff.tolist(), strict=True)), dict(zip(named, tol.tolist(), strict=True)), noise,
        by if by.ready is not None else replace(by, ready=ready(rows.forms, tol, _moves_of(_halfway(here, plan)), by.weigh)),
    )  # fmt: skip


def _judged(
    points: Array, plan: Array, noise: Array, seen: Seen | None, spreads: Mapping[str, float] | None, before: Judged | None
) -> Judged:
    """What of a drawing can be compared; as it was before where a hand that drags has changed nothing of that."""
    known = there(points) & there(plan)
    if before is not None and np.array_equal(before.known, known):
        return before
    every = face_rows()
    kept = np.asarray(~(every.needs & ~known).any(1))
    rows = Rows(tuple(r for r, k in zip(every.rows, kept, strict=True) if k), every.forms[kept], every.needs[kept])
    marked = noise if seen is None else seen.noise(noise)
    tol = tolerances(plan, rows, marked, spreads)
    tol = tol if seen is None else seen.widened(tol, rows)
    return Judged(known, rows, tol, lengths(plan, rows), weights(rows.forms, tol, np.where(np.isfinite(marked), marked, 0.0)))


def unknown(drawing: Landmarks) -> Array:
    """Which landmarks say nothing yet, ``(n,)`` in the front's order."""
    out = np.zeros(len(FRONT.names), bool)
    out[[FRONT.index[n] for n in drawing.states if n in FRONT.index and drawing.unknown(n)]] = True
    return out


MANY = 24
"""Points from which on their own residuals tell how well they are marked (own)."""
SHAKIEST = 1.5
"""How far an estimate may exceed the ordinary hand's noise, as a factor of it (own): faults are no noise."""


def marking_noise(registered: Array, plan: Array) -> float:
    """How well points are marked, one standard deviation in heads: an ordinary hand's, or what their residuals tell.

    ``registered`` and ``plan`` are ``(n, 2)`` in heads, nan where there is none. With :data:`MANY` points the median
    absolute residual of a coordinate (times 1.4826, as for a normal distribution) decides, within bounds: a drawing may
    differ from its plan in less than half of its points without moving it.
    """
    ordinary = tolerance_table().noise
    r = (registered - plan)[there(registered) & there(plan)].ravel()
    if len(r) < 2 * MANY:
        return ordinary
    return float(np.clip(1.4826 * np.median(np.abs(r)), ordinary, SHAKIEST * ordinary))


def _reframed(s: Similarity, frame: Array) -> Similarity:
    """The registration corrected by what the fix found of scale and turn, about the face's own middle."""
    m = turned_by(float(frame[0]), float(frame[1]))
    middle = np.array([0.0, 0.5])
    return Similarity(m @ s.matrix, m @ (s.shift - middle) + middle)


def turned_by(grow: float, turn: float) -> Array:
    """The ``(2, 2)`` map that a registration is corrected by: a share it grows by, and a turn in radians."""
    return (1 + grow) * np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])


def _halfway(here: Array, plan: Array) -> Array:
    """Between a drawing and its plan, ``(n, 2)``: there a turn's chord runs along its tangent, so that a tilt is no widening."""
    half = (here + plan) / 2
    return np.where(np.isfinite(half), half, here)


def _moves_of(points: Array) -> list[Move]:
    """Named moves of the drawing; built for points rounded to a thousandth of a head, so that a drag rebuilds few."""
    return _cached_moves(np.round(points, 3).tobytes())


@lru_cache(maxsize=64)
def _cached_moves(data: bytes) -> list[Move]:
    return moves(np.frombuffer(data).reshape(-1, 2))


def _names(rows: Rows, drawing: Array, plan: Array) -> list[str]:
    """What every row is told as; a left–right one by the side that differs more from the plan."""
    told = rows.sided
    more = np.abs(told.forms @ np.nan_to_num(drawing - plan).ravel())
    named = told.keys.copy()
    named[told.at] = np.where(more[:, 1] > more[:, 0], told.pairs[:, 1], told.pairs[:, 0])
    return list(named.tolist())


def _difference(row: Row, key: str, diff: float, drawing: Array, plan: Array) -> float:
    """The difference as told: for a side's size that side alone against its plan."""
    if row.sides is None:
        return diff
    return float(front_registry()[key].over.row(FRONT) @ np.nan_to_num(drawing - plan).ravel())


def _findings(
    rows: Rows,
    named: list[str],
    diff: Array,
    tol: Array,
    fix: Fix,
    to_plan: Similarity,
    silent: Array,
    drawing: Array,
    plan: Array,
    px_per_mm: float | None,
    seen: Seen | None,
) -> tuple[tuple[Finding, ...], tuple[str, ...]]:
    out, quiet = [], []
    reg = front_registry()
    for m, members in causes(np.flatnonzero(np.abs(diff) > tol), fix):
        move = fix.moves[m] if m is not None else None
        first = lead(members, named, move, diff / tol)
        key = named[first]
        if silent[members].any():
            quiet.append(key)
            continue
        d = _difference(rows.rows[first], key, float(diff[first]), drawing, plan)
        amount = float(fix.amounts[m]) if m is not None else -d
        way = move.field if move is not None else rows.forms[first].reshape(-1, 2)
        px_per_head = (1.0 if seen is None else seen.share(way)) / to_plan.scale
        px = d * px_per_head
        degrees = _degrees(key, move, amount, drawing, plan)
        say, verb, short = _instruction(key, move, amount, d, px_per_head, px_per_mm, degrees)
        explains = tuple(named[i] for i in members if i != first)
        out.append(
            Finding(
                key,
                str(reg[key].kind),
                d,
                px,
                verb,
                float(tol[first]),
                abs(float(diff[first])) / float(tol[first]),
                explains,
                say,
                move,
                amount,
                _arrow(move, amount, drawing),
                move.names if move is not None else frozenset(),
                short,
            )
        )
    out.sort(key=lambda f: -f.severity)
    return tuple(out), tuple(quiet)


def _arrow(move: Move | None, amount: float, drawing: Array) -> tuple[tuple[float, float], tuple[float, float]] | None:
    """At the rightmost point the move takes along; at the one it moves most, where that one stays."""
    if move is None:
        return None
    far = np.abs(move.field).max(1)
    at = np.flatnonzero((far > 0) & there(drawing))
    if not len(at):
        return None
    i = at[int(np.argmax(drawing[at, 0]))]
    if far[i] * abs(amount) < 1e-9:
        i = at[int(np.argmax(far[at]))]
    a, b = drawing[i], drawing[i] + move.field[i] * amount
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))


def _degrees(key: str, move: Move | None, amount: float, drawing: Array, plan: Array) -> float | None:
    """A tilt's amount in degrees, or ``None`` where the finding is about no tilt."""
    if move is not None and move.turn:
        return float(np.degrees(amount * move.turn))
    r = front_registry()[key]
    if not r.angle:
        return None
    over, by = (f.row(FRONT) for f in r.quotients[0])
    a, b = (np.degrees(np.arctan2(over @ q, by @ q)) for q in (np.nan_to_num(drawing).ravel(), np.nan_to_num(plan).ravel()))
    return float(a - b)


_VERBS = {"station": ("Lower", "Raise"), "size": ("Enlarge", "Reduce"), "signed": ("Increase", "Reduce")}


def _instruction(
    key: str,
    move: Move | None,
    amount: float,
    difference: float,
    px_per_head: float,
    px_per_mm: float | None,
    degrees: float | None,
) -> tuple[str, str, str]:
    """The instruction, its verb, and the same in short."""
    if move is not None:
        return moved_words(move, amount, difference, px_per_head, px_per_mm, degrees)
    px = difference * px_per_head
    r = front_registry()[key]
    verb = _VERBS[str(r.kind)][0 if amount > 0 else 1]
    words = amount_words(difference, px, px_per_mm, degrees)
    return (
        f"{verb} {r.label[0].lower()}{r.label[1:]} by {words}",
        verb.lower(),
        f"{on_page_words(px, px_per_mm)} {WAYS.get(verb, '')}".strip(),
    )
