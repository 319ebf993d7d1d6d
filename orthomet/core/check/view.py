"""What a check of another view than the front face comes to: rows that are compared, and findings by cause."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import NamedTuple

import numpy as np

from ..kinds import Array
from .causes import causes, lead
from .check import Finding
from .fix import Fix, smallest_fix, weights
from .greedy import followed, ready
from .instruct import moved_words
from .moves import Move


class AsDrawn(NamedTuple):
    """A reading as a drawing shows it, full length, in its own unit; what ``tolerance`` lets pass in the same."""

    planned: float
    value: float
    tolerance: float

    @property
    def share(self) -> float:
        """By how many tolerances it departs."""
        return abs(self.value - self.planned) / self.tolerance


def of_length(planned: float, wanted: float, off: float, tolerance: float) -> AsDrawn | None:
    """A planned reading of which the picture ought to show ``wanted`` heads, and shows ``off`` more; ``None`` where too little of it shows."""
    if wanted < LEAST_SEEN * planned:
        return None
    k = planned / wanted
    return AsDrawn(planned, k * (wanted + off), k * tolerance)


LEAST_SEEN = 0.5
"""Share of a length that has to show for what is drawn to tell how long it is (own)."""


@dataclass(frozen=True)
class ViewRow:
    """One compared length, heads."""

    key: str
    form: Array
    """Over the view's flattened landmarks, ``(2n,)``; first order, at the drawing."""
    off: float
    """Drawing − plan."""
    tolerance: float
    told: Callable[[float], Finding]
    """What is to be said of it where it stands alone, for a difference."""
    drawn: AsDrawn | None = None
    """Its reading as it is drawn; ``None`` where the drawing cannot tell."""


@dataclass(frozen=True, eq=False)
class ViewCheck:
    findings: tuple[Finding, ...]
    passed: tuple[str, ...]
    meant: tuple[str, ...]
    noise: float
    view: str
    fix: Fix
    to_page: Array
    """``(2, 2)``: steps in heads as the fix has them → steps on the page, pixels."""
    drawn: Mapping[str, AsDrawn]
    """Readings as they are drawn; of two sides the one that departs more."""


def fixed(
    rows: Sequence[ViewRow], moves: list[Move], noise: Array, frame: Array, taken: Array | None = None, quick: bool = False
) -> Fix:
    """The smallest fix of a view's rows. ``noise`` is each landmark's uncertainty in heads, ``(n,)``; ``frame`` ``(rows, k)`` what is
    free within reason, of which ``taken`` was taken before. ``quick``: by greedy moves, without rivals, while a hand drags."""
    forms, off, tolerance = table(rows)
    if quick and moves:
        taken = np.zeros(frame.shape[1]) if taken is None else taken
        return followed(ready(forms, tolerance, moves, weights(forms, tolerance, noise)), -off, frame, taken)
    return smallest_fix(forms, -off, tolerance, moves, frame, taken, weigh=weights(forms, tolerance, noise), every=True)


def table(rows: Sequence[ViewRow]) -> tuple[Array, Array, Array]:
    """Forms ``(rows, 2n)``, differences and tolerances of rows."""
    return np.array([r.form for r in rows]), np.array([r.off for r in rows]), np.array([r.tolerance for r in rows])


def as_drawn(rows: Iterable[ViewRow]) -> dict[str, AsDrawn]:
    """Every reading the drawing tells, by the row that departs most of those it stands in."""
    out: dict[str, AsDrawn] = {}
    for r in rows:
        if r.drawn is not None and (r.key not in out or r.drawn.share > out[r.key].share):
            out[r.key] = r.drawn
    return out


def told_by_cause(
    rows: Sequence[ViewRow], fix: Fix, off: Array, to_page: Array, meant: Collection[str], px_per_mm: float | None
) -> tuple[tuple[Finding, ...], tuple[str, ...]]:
    """One finding per cause, worst first, and the readings of those that are meant. ``off``: what the rows differ by at last, heads."""
    tolerance = np.array([r.tolerance for r in rows])
    share, named = off / tolerance, [r.key for r in rows]
    px_per_head = float(np.sqrt(abs(np.linalg.det(to_page))))
    out, quiet = [], []
    for m, members in causes(np.flatnonzero(np.abs(share) > 1), fix):
        move = fix.moves[m] if m is not None else None
        i = lead(members, named, move, share)
        if any(named[k] in meant for k in members):
            quiet.append(named[i])
            continue
        f = rows[i].told(float(off[i]))
        if move is not None:
            amount = float(fix.amounts[m])
            f = replace(f, move=move, amount_hh=amount, moved=move.names)
            if len(members) > 1 or move.reading != named[i]:
                degrees = float(np.degrees(amount * move.turn)) if move.turn else None
                say, verb, short = moved_words(move, amount, float(off[i]), px_per_head, px_per_mm, degrees)
                rest = tuple(dict.fromkeys(named[k] for k in members if named[k] != named[i]))
                f = replace(f, say=say, direction=verb, short=short, explains=rest)
        out.append(f)
    out.sort(key=lambda f: -f.severity)
    return tuple(out), tuple(dict.fromkeys(quiet))
