"""Dark lines followed across a picture: the cheapest path through columns of cost, and where a line ends."""

from __future__ import annotations

import numpy as np

from ..kinds import Array


def totals(columns: Array) -> Array:
    """Cost of the cheapest path to every place, for several pictures at once.

    ``columns`` has shape ``(n, k, h)``: n columns of k pictures of h rows; a path goes up or down at most one row a column.
    The answer ``(n, k, h + 2)`` is walled by infinity on both sides.
    """
    n, k, h = columns.shape
    total = np.full((n, k, h + 2), np.inf)
    total[0, :, 1:-1] = columns[0]
    for i in range(1, n):
        prev, now = total[i - 1], total[i, :, 1:-1]
        np.minimum(prev[:, :-2], prev[:, 1:-1], out=now)
        np.minimum(now, prev[:, 2:], out=now)
        now += columns[i]
    return total


def back(total: Array, row: int) -> list[int]:
    """Rows of the cheapest path of one picture's totals ``(n, h + 2)`` that ends in a row, from its end to its start."""
    rows = [row]
    for t in total[-2::-1]:
        row += int(t[row : row + 3].argmin()) - 1
        rows.append(row)
    return rows


def through(cost: Array, middle: int) -> Array:
    """Rows of the cheapest path through every column of a picture ``(h, w)``.

    Both halves are worked out together, from the two ends toward the ``middle`` column, and joined there.
    """
    h, w = cost.shape
    n = max(middle, w - 1 - middle) + 1
    halves = np.zeros((n, 2, h))  # from each end inward; a shorter half starts with columns that cost nothing
    halves[n - middle - 1 :, 0], halves[n - (w - middle) :, 1] = cost.T[: middle + 1], cost.T[middle:][::-1]
    total = totals(halves)
    best = int((total[-1, 0, 1:-1] + total[-1, 1, 1:-1] - cost[:, middle]).argmin())
    before, after = (back(total[n - m - 1 :, side], best) for side, m in ((0, middle), (1, w - 1 - middle)))
    return np.array(before[::-1] + after[1:])


def across(costs: Array) -> Array:
    """Rows ``(k, w)`` of the cheapest path through each of several pictures ``(k, h, w)``."""
    total = totals(np.ascontiguousarray(costs.transpose(2, 0, 1)))
    return np.array([back(total[:, i], int(total[-1, i, 1:-1].argmin()))[::-1] for i in range(len(costs))])


def end(depth: Array, level: float, start: int, way: int, lasting: int) -> float:
    """Where a line's depth falls below a level for ``lasting`` columns on end, between columns; the picture's edge if it never does."""
    k, low = start, 0
    while 0 < k < len(depth) - 1 and low < lasting:
        k += way
        low = low + 1 if depth[k] < level else 0
    last = k - low * way
    if not low:
        return float(last)
    a, b = float(depth[last]), float(depth[last + way])
    return last + way * (a - level) / max(a - b, 1e-6)
