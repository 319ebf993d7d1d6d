"""The smallest fix while a hand drags: the move that helps most, again and again, from what was made ready once.

The same score as the exhaustive search (:mod:`.fix`), and every move is tried at every step: with an orthonormal basis of what is chosen
already one product tells what each would leave (orthogonal matching pursuit; Pati, Rezaiifar & Krishnaprasad, *Asilomar* 1993).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import Array
from .fix import HALF, LEEWAY, LEFT_OVER, MOST, POINT_PRICE, PRICE, Fix, step_columns
from .moves import Move


@dataclass(frozen=True, eq=False)
class Ready:
    """All of a fix that does not change while a hand drags."""

    moves: list[Move]
    counts: Array
    """Points each move takes along."""
    columns: Array
    """What each changes every row by, in tolerances, ``(rows, moves)``."""
    weighed: Array
    weigh: Array
    unweigh: Array
    tolerance: Array


def ready(forms: Array, tolerance: Array, moves: list[Move], weigh: Array) -> Ready:
    """Make a fix ready to be followed: ``forms`` ``(rows, 2n)``, ``tolerance`` in heads, ``weigh`` ``(rows, rows)``."""
    columns, counts = step_columns(forms, tolerance, moves)
    return Ready(moves, counts, columns, weigh @ columns, weigh, np.linalg.inv(weigh), tolerance)


def followed(at: Ready, wanted: Array, frame: Array, taken: Array) -> Fix:
    """Moves that change every row by ``wanted`` (heads) as nearly as the tolerances ask; ``frame`` ``(rows, k)`` is free within reason,
    ``taken`` what was taken of it before."""
    r = wanted / at.tolerance
    free, rows = frame.shape[1], len(r)
    if not at.moves or not rows or np.abs(r).max() <= 1:
        return Fix((), np.zeros(0), 0.0, np.zeros(0), r, np.zeros((0, rows)), np.zeros(free))
    own = frame / at.tolerance[:, None]
    held = HALF / LEEWAY  # one more row for every free column says that it is small, with what was taken before
    a = np.vstack([at.weigh @ own, np.eye(free) * held])
    left = np.concatenate([at.weigh @ r, -taken * held])
    clean = np.vstack([at.weighed, np.zeros((free, len(at.moves)))])
    if free:
        q = np.linalg.qr(a)[0]
        left = left - q @ (q.T @ left)
        clean = clean - q @ (q.T @ clean)
    price = PRICE + POINT_PRICE * at.counts
    chosen: list[int] = []
    score, spent = float(_scores(at, left[:, None], rows)[0]), 0.0
    while len(chosen) < MOST:
        size = (clean * clean).sum(0)
        told = size > 1e-6
        size = np.where(told, size, 1.0)
        after = left[:, None] - clean * (clean.T @ left / size)
        tried = np.where(told, _scores(at, after, rows) + price + spent, np.inf)
        k = int(np.argmin(tried))
        if tried[k] >= score - 1e-9:
            break
        score, spent = float(tried[k]), spent + float(price[k])
        chosen.append(k)
        left, way = after[:, k], clean[:, k] / np.sqrt(size[k])
        clean = clean - np.outer(way, way @ clean)
    return _told(at, r, own, a, np.concatenate([at.weigh @ r, -taken * held]), chosen)


def _scores(at: Ready, left: Array, rows: int) -> Array:
    """How good each of many weighed residuals ``(rows + free, m)`` is, without the price of its moves."""
    over = np.maximum(0, np.abs(at.unweigh @ left[:rows]) - 1).sum(0)
    return np.asarray((left * left).sum(0) / HALF**2 + LEFT_OVER * over)


def _told(at: Ready, r: Array, own: Array, a: Array, target: Array, chosen: list[int]) -> Fix:
    """The chosen moves without any that no longer pays for itself, with their amounts and what each is good for."""
    free, rows = a.shape[1], len(r)
    while True:
        k = np.hstack([a, np.vstack([at.weighed[:, chosen], np.zeros((free, len(chosen)))])])
        inverse = np.linalg.inv(k.T @ k + 1e-9 * np.eye(k.shape[1]))
        amounts = inverse @ (k.T @ target)
        left = target - k @ amounts
        price = PRICE + POINT_PRICE * at.counts[chosen]
        score = float(_scores(at, left[:, None], rows)[0] + price.sum())
        # what is left without one of them, for each: the inverse of the normal equations tells it without solving anew
        column = inverse[:, free:]
        without = left[:, None] + k @ (column * (amounts[free:] / column.diagonal(-free)))
        gains = _scores(at, without, rows) + price.sum() - price - score
        if not len(chosen) or gains.min() >= 0:
            break
        chosen = [c for c, g in zip(chosen, gains, strict=True) if g > gains.min()]
    order = np.argsort(-gains)
    chosen = [chosen[j] for j in order]
    moved = amounts[free:][order]
    effect = (at.columns[:, chosen] * moved).T
    residual = r - own @ amounts[:free] - effect.sum(0)
    return Fix(tuple(at.moves[j] for j in chosen), moved, score, gains[order], residual, effect, amounts[:free])
