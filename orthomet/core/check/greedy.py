"""The smallest fix while a hand drags: the move that helps most, again and again, from what was made ready once.

The same score as the exhaustive search (:mod:`.fix`), and every move is tried at every step: orthogonal matching pursuit (Pati, Rezaiifar &
Krishnaprasad, *Asilomar* 1993), kept up by its Gram matrix alone (Rubinstein, Zibulevsky & Elad, *Technion CS-2008-08*).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .fix import HALF, LEEWAY, LEFT_OVER, MOST, POINT_PRICE, PRICE, Fix, step_columns
from .moves import Move

TOLD = 1e-9
"""Share of its length that must be left of a move's column, beside those that are chosen, for it to be told from them (own)."""


@dataclass(frozen=True, eq=False)
class Ready:
    """All of a fix that does not change while a hand drags."""

    moves: list[Move]
    price: Array
    columns: Array
    """What each changes every row by, in tolerances, ``(rows, moves)``."""
    weighed: Array
    gram: Array
    """Products of the weighed columns, ``(moves, moves)``."""
    weigh: Array
    tolerance: Array


def ready(forms: Array, tolerance: Array, moves: list[Move], weigh: Array) -> Ready:
    """Make a fix ready to be followed: ``forms`` ``(rows, 2n)``, ``tolerance`` in heads, ``weigh`` ``(rows, rows)``."""
    columns, counts = step_columns(forms, tolerance, moves) if moves else (np.zeros((len(tolerance), 0)), np.zeros(0))
    weighed = weigh @ columns
    return Ready(moves, PRICE + POINT_PRICE * counts, columns, weighed, weighed.T @ weighed, weigh, tolerance)


@dataclass(frozen=True, eq=False)
class _Asked:
    """What is to be explained, and the normal equations of what is free: ``m`` of the free columns, ``cross`` with the moves."""

    r: Array
    own: Array
    m: Array
    cross: Array
    free_on: Array
    """The free columns on what is to be explained."""
    moves_on: Array
    total: float
    """Its weighed square."""


def followed(at: Ready, wanted: Array, frame: Array, taken: Array) -> Fix:
    """Moves that change every row by ``wanted`` (heads) as nearly as the tolerances ask; ``frame`` ``(rows, k)`` is free within reason,
    ``taken`` what was taken of it before."""
    r = wanted / at.tolerance
    free, rows = frame.shape[1], len(r)
    if not at.moves or not rows or np.abs(r).max() <= 1:
        return Fix((), np.zeros(0), 0.0, np.zeros(0), r, np.zeros((0, rows)), np.zeros(free))
    own = frame / at.tolerance[:, None]
    held = (HALF / LEEWAY) ** 2  # every free column is small, with what was taken before
    a, target = at.weigh @ own, at.weigh @ r
    q = _Asked(
        r, own, a.T @ a + held * np.eye(free), a.T @ at.weighed, a.T @ target - held * taken, at.weighed.T @ target,
        float(target @ target + held * (taken @ taken)),
    )  # fmt: skip
    return _told(at, q, _chosen(at, q))


def _chosen(at: Ready, q: _Asked) -> list[int]:
    """Moves one after the other, each the one that leaves the least beside what is free and those before it."""
    away = np.linalg.solve(q.m, np.column_stack([q.free_on, q.cross]))  # what the free columns take of each
    gram, on = at.gram - q.cross.T @ away[:, 1:], q.moves_on - q.cross.T @ away[:, 0]
    left, columns = q.r - q.own @ away[:, 0], at.columns - q.own @ away[:, 1:]
    square = q.total - float(q.free_on @ away[:, 0])
    least = TOLD * at.gram.diagonal() + 1e-9
    chosen: list[int] = []
    score, spent = float(_scores(square, left[:, None])[0]), 0.0
    while len(chosen) < MOST:
        size = gram.diagonal()
        step = np.where(size > least, on / np.maximum(size, least), 0.0)
        tried = _scores(square - on * step, left[:, None] - columns * step) + at.price + spent
        k = int(np.argmin(tried))
        if step[k] == 0 or tried[k] >= score - 1e-9:
            break
        score, spent = float(tried[k]), spent + float(at.price[k])
        chosen.append(k)
        square, left = square - float(on[k] * step[k]), left - columns[:, k] * step[k]
        share = gram[k] / size[k]
        columns, on, gram = columns - np.outer(columns[:, k], share), on - share * on[k], gram - np.outer(gram[:, k], share)
    return chosen


def _scores(square: Array | float, left: Array) -> Array:
    """How good each of many residuals ``(rows, m)`` is by its weighed square ``(m,)``, without the price of its moves."""
    over = np.abs(left)
    over -= 1
    return np.asarray(square / HALF**2 + LEFT_OVER * np.maximum(over, 0, out=over).sum(0))


def _told(at: Ready, q: _Asked, chosen: list[int]) -> Fix:
    """The chosen moves without any that no longer pays for itself, with their amounts and what each is good for."""
    free = len(q.m)
    while True:
        price, normal = at.price[chosen], 1e-9 * np.eye(free + len(chosen))
        normal[:free, :free] += q.m
        normal[:free, free:] = q.cross[:, chosen]
        normal[free:, :free] = normal[:free, free:].T
        normal[free:, free:] += at.gram[chosen][:, chosen]
        inverse = np.linalg.inv(normal)
        on = np.concatenate([q.free_on, q.moves_on[chosen]])
        amounts, columns = inverse @ on, np.hstack([q.own, at.columns[:, chosen]])
        residual, square = q.r - columns @ amounts, q.total - float(amounts @ on)
        score = float(_scores(square, residual[:, None])[0] + price.sum())
        # what is left without one of them, for each: the inverse of the normal equations tells it without solving anew
        moved, own = amounts[free:], inverse.diagonal()[free:]
        without = residual[:, None] + columns @ (inverse[:, free:] * (moved / own))
        gains = _scores(square + moved**2 / own, without) + price.sum() - price - score
        if not len(chosen) or gains.min() >= 0:
            break
        chosen = [c for c, g in zip(chosen, gains, strict=True) if g > gains.min()]
    order = np.argsort(-gains)
    chosen = [chosen[j] for j in order]
    moved = moved[order]
    effect = (at.columns[:, chosen] * moved).T
    return Fix(tuple(at.moves[j] for j in chosen), moved, score, gains[order], residual, effect, amounts[:free])
