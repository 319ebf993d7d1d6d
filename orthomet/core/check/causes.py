"""Which of the rows that are off one cause explains."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..kinds import Array
from .fix import Fix
from .moves import Move

Cause = tuple[int | None, list[int]]
"""A move's place in the fix and the rows that it explains; a row that none explains stands by itself."""


def causes(off: Array, fix: Fix) -> list[Cause]:
    """The rows that are off (their numbers), by what explains them."""
    owner = dict(zip(off.tolist(), _owners(off, fix), strict=True))
    groups: list[Cause] = [(m, [i for i in owner if owner[i] == m]) for m in range(len(fix.moves))]
    groups += [(None, [i]) for i in owner if owner[i] is None]
    return [g for g in groups if g[1]]


def lead(members: list[int], named: Sequence[str], move: Move | None, share: Array) -> int:
    """The row a cause is told by: its move's own reading, or what is furthest off; ``share`` is each row's in tolerances."""
    own = [i for i in members if move is not None and named[i] == move.reading]
    return own[0] if own else max(members, key=lambda i: abs(share[i]))


def _owners(off: Array, fix: Fix) -> list[int | None]:
    """The chosen move that explains each row: it must bring the row back, with the others, and do most of it."""
    if not len(fix.moves) or not len(off):
        return [None] * len(off)
    most = np.abs(fix.effect[:, off]).argmax(0).tolist()
    return [m if ok else None for m, ok in zip(most, (np.abs(fix.residual[off]) <= 1).tolist(), strict=True)]
