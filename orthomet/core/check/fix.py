"""The smallest fix: the fewest named moves that bring every reading back inside its tolerance.

Differences are linear in the landmarks, so a subset of moves is a small least-squares problem. Singles and pairs are
tried exhaustively, larger sets grown from the best pairs. The registration's own scale and turn are free columns: a
fault that many points share must not be mistaken for the size of the paper. They are free within reason: where little
tells them, as with one side of a face hidden, they stay what the registration said. Score = Σ(residual / ½ tolerance)²
+ 9 per move + 0.05 per point moved + 30 per tolerance left over (own; tried on random faults). Rows that share badly marked
points are wrong together: the squares are summed after :func:`weights` has made them independent.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .moves import Move

HALF = 0.5
PRICE, POINT_PRICE, LEFT_OVER = 9.0, 0.05, 30.0
LEEWAY = 0.03
"""How far registration may be mistaken, one standard deviation: of its scale, and of its turn in radians (own)."""
MOST = 6
PAIRS_KEPT = 24
RIVALS = 4


@dataclass(frozen=True)
class Rival:
    """Another set of moves that would do, with its amounts in heads."""

    moves: tuple[Move, ...]
    amounts: tuple[float, ...]
    score: float


@dataclass(frozen=True)
class Fix:
    """Chosen moves with their amounts in heads; ``residual`` (in tolerances) is what they leave, per row."""

    moves: tuple[Move, ...]
    amounts: Array
    score: float
    gains: Array
    residual: Array
    effect: Array
    """Each chosen move's own change of every row, in tolerances: shape ``(moves, rows)``."""
    frame: Array
    """What the free columns took: here scale and turn of the registration, first order."""
    rivals: tuple[Rival, ...] = ()
    """The next best sets of moves, none of which only adds to the chosen one."""


class _Problem:
    """Least squares over subsets of columns, all from one Gram matrix; the first ``free`` columns are always in."""

    def __init__(self, a: Array, r: Array, free: int, weigh: Array):
        self.a, self.r, self.free, self.weigh = a, r, free, weigh
        self.weighed = weigh @ a
        self.gram, self.g = self.weighed.T @ self.weighed + 1e-9 * np.eye(a.shape[1]), self.weighed.T @ (weigh @ r)

    def solve(self, chosen: Sequence[int]) -> tuple[Array, Array]:
        """Amounts of the free columns and the chosen ones, and what they leave."""
        amounts, left = self._solve_all(np.array([chosen], int).reshape(1, -1))
        return amounts[0], left[0]

    def _solve_all(self, chosen: Array) -> tuple[Array, Array]:
        """The same for many sets of one size, ``(m, k)``: amounts ``(m, free + k)``, what is left ``(m, rows)``."""
        cols = np.hstack([np.tile(np.arange(self.free), (len(chosen), 1)), chosen + self.free])
        if not cols.shape[1]:
            return np.zeros((len(chosen), 0)), np.tile(self.r, (len(chosen), 1))
        amounts = np.linalg.solve(self.gram[cols[:, :, None], cols[:, None, :]], self.g[cols][..., None])
        return amounts[..., 0], self.r - (self.a.T[cols] * amounts).sum(1)

    def scores(self, sets: Sequence[Sequence[int]], counts: Array) -> list[float]:
        """How good each of many sets of one size is; less is better."""
        if not sets:
            return []
        chosen = np.array(sets, int).reshape(len(sets), -1)
        left = self._solve_all(chosen)[1]
        over = np.maximum(0, np.abs(left) - 1).sum(1)
        price = PRICE * chosen.shape[1] + POINT_PRICE * counts[chosen].sum(1)
        weighed = left @ self.weigh.T
        return [float(v) for v in (weighed * weighed).sum(1) / HALF**2 + price + LEFT_OVER * over]


def smallest_fix(
    forms: Array,
    wanted: Array,
    tolerance: Array,
    moves: list[Move],
    frame: Array | None = None,
    taken: Array | None = None,
    weigh: Array | None = None,
    every: bool = False,
) -> Fix:
    """Moves that change every row by ``wanted`` (heads) as nearly as the tolerances ask.

    ``forms`` has shape ``(rows, 2n)`` over the flattened landmarks; ``frame`` holds the free columns, ``(rows, k)`` in
    heads, and ``taken`` what earlier rounds took of them. Returns an empty fix when nothing is off. ``weigh`` is that of :func:`weights`,
    ``(rows, rows)``; without it rows are taken for independent. ``every``: every row that is off gets a move where any brings it back,
    even one that does not pay for itself.
    """
    r = wanted / tolerance
    frame = np.zeros((len(r), 0)) if frame is None else frame / tolerance[:, None]
    free = frame.shape[1]
    none = Fix((), np.zeros(0), 0.0, np.zeros(0), r, np.zeros((0, len(r))), np.zeros(free))
    if not moves or not len(r) or np.abs(r).max() <= 1:
        return none
    columns, counts = step_columns(forms, tolerance, moves)
    # one more row for every free column says that it is small, with what was taken before
    rows = len(r)
    frame = np.vstack([frame, np.eye(free) * HALF / LEEWAY])
    columns = np.vstack([columns, np.zeros((free, len(moves)))])
    r = np.append(r, -(np.zeros(free) if taken is None else taken) * HALF / LEEWAY)
    whole = np.eye(len(r))
    if weigh is not None:
        whole[:rows, :rows] = weigh
    problem = _Problem(np.hstack([frame, columns]), r, free, whole)

    # gains are screened with the free columns projected out
    own_frame, own_columns, left = problem.weighed[:, :free], problem.weighed[:, free:], whole @ r
    q = np.linalg.qr(own_frame)[0] if free else np.zeros((len(r), 0))
    clean = own_columns - q @ (q.T @ own_columns)
    left = left - q @ (q.T @ left)
    tried = _screened(problem, counts, clean.T @ clean + 1e-9 * np.eye(len(moves)), clean.T @ left)
    grown = [_grow(start, problem, counts, clean) for start in tried[:4]]
    score, chosen = min([tried[0], *grown], key=lambda t: t[0])
    rivals = _rivals([*tried, *grown], chosen, problem, moves, free)
    if every:
        score, chosen = _completed((score, chosen), problem, counts, rows)
    amounts, rest = problem.solve(chosen)
    gains = np.array(problem.scores([[c for c in chosen if c != k] for k in chosen], counts)) - score
    order = np.argsort(-gains)
    chosen = [chosen[k] for k in order]
    own = amounts[free:][order]
    effect = (columns[:rows, chosen] * own).T
    return Fix(tuple(moves[k] for k in chosen), own, score, gains[order], rest[:rows], effect, amounts[:free], rivals)


def step_columns(forms: Array, tolerance: Array, moves: list[Move]) -> tuple[Array, Array]:
    """What each move changes every row by for each head of its amount, in tolerances, ``(rows, moves)``; and how many points it takes along."""
    fields = np.array([m.field for m in moves])
    return (forms @ fields.reshape(len(moves), -1).T) / tolerance[:, None], (fields != 0).any(2).sum(1)


def weights(forms: Array, tolerance: Array, noise: Array) -> Array:
    """What makes rows independent that share badly marked points, ``(rows, rows)``: a midline a little off is no sideways face.

    ``forms`` has shape ``(rows, 2n)``, ``tolerance`` ``(rows,)`` in heads; ``noise`` is each landmark's uncertainty in heads, ``(n,)``
    or ``(n, 2)``. Half a tolerance is a row's whole standard deviation; what the marking explains of it is shared. Generalised
    least squares, as in any textbook of statistics.
    """
    each = np.repeat(noise, 2) if noise.ndim == 1 else noise.ravel()
    told = forms * each / tolerance[:, None]
    shared = told @ told.T
    own = np.maximum(HALF**2 - np.diag(shared), (HALF / 2) ** 2)
    return np.asarray(HALF * np.linalg.inv(np.linalg.cholesky(np.diag(own) + shared)))


def _screened(problem: _Problem, counts: Array, gram: Array, g: Array) -> list[tuple[float, list[int]]]:
    """No move, the likeliest single ones and the likeliest pairs of all there are, best first."""
    singles = [[int(k)] for k in np.argsort(-(g * g / np.diag(gram)))[:12]]
    i, j = np.triu_indices(len(g), 1)
    det = gram[i, i] * gram[j, j] - gram[i, j] ** 2
    ok = det > 1e-4 * gram[i, i] * gram[j, j]
    gain = np.where(
        ok, (gram[j, j] * g[i] ** 2 - 2 * gram[i, j] * g[i] * g[j] + gram[i, i] * g[j] ** 2) / np.where(ok, det, 1), 0
    )
    pairs = [[int(i[k]), int(j[k])] for k in np.argsort(-gain)[:PAIRS_KEPT]]
    out: list[tuple[float, list[int]]] = []
    kinds: tuple[list[list[int]], ...] = ([[]], singles, pairs)
    for sets in kinds:
        out += zip(problem.scores(sets, counts), sets, strict=True)
    return sorted(out, key=lambda t: t[0])


def _rivals(
    tried: list[tuple[float, list[int]]], chosen: list[int], problem: _Problem, moves: list[Move], free: int
) -> tuple[Rival, ...]:
    """The best other sets among those tried."""
    known, out = {frozenset(chosen)}, []
    for score, cols in sorted(tried, key=lambda t: t[0]):
        key = frozenset(cols)
        if not cols or key in known or key > frozenset(chosen):
            continue
        known.add(key)
        amounts = problem.solve(cols)[0][free:]
        out.append(Rival(tuple(moves[k] for k in cols), tuple(float(a) for a in amounts), float(score)))
        if len(out) == RIVALS:
            break
    return tuple(out)


def _completed(start: tuple[float, list[int]], problem: _Problem, counts: Array, rows: int) -> tuple[float, list[int]]:
    """Moves added until no row is off that any could bring back."""
    score, chosen = start
    while len(chosen) < MOST:
        rest = np.abs(problem.solve(chosen)[1][:rows])
        worst = int(rest.argmax())
        able = [k for k in np.flatnonzero(np.abs(problem.a[worst, problem.free :]) > 1e-9).tolist() if k not in chosen]
        sets = [[*chosen, k] for k in able]
        if rest[worst] <= 1 or not sets:
            break
        options = [o for o in zip(problem.scores(sets, counts), sets, strict=True) if abs(problem.solve(o[1])[1][worst]) <= 1]
        if not options:
            break
        score, chosen = min(options)
    return score, chosen


def _grow(start: tuple[float, list[int]], problem: _Problem, counts: Array, clean: Array) -> tuple[float, list[int]]:
    """Add the move that helps most while it pays for itself, then drop any that no longer does."""
    score, chosen = start
    size = (clean * clean).sum(0) + 1e-9
    while len(chosen) < MOST:
        rest = problem.weigh @ problem.solve(chosen)[1]
        lead = np.argsort(-((clean.T @ rest) ** 2 / size))[:6]
        sets = [[*chosen, int(k)] for k in lead if int(k) not in chosen]
        options = list(zip(problem.scores(sets, counts), sets, strict=True))
        if not options or min(options)[0] >= score - 1e-9:
            break
        score, chosen = min(options)
    for k in list(chosen):
        fewer = [c for c in chosen if c != k]
        if (s := problem.scores([fewer], counts)[0]) < score:
            score, chosen = s, fewer
    return score, chosen
