"""A fix as steps of the landmarks on the drawing: what a cure's preview and its redline are made from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..imaging.rectify import apply
from ..kinds import Array
from ..landmarks.frame import head_height
from ..landmarks.schema import FRONT
from ..landmarks.turn import rotation
from ..project.model import Drawing
from ..proportions.registry import front_registry
from ..references import on_page
from .compare import Compared
from .fix import Rival
from .instruct import amount_words
from .moves import Move

CLOSE_CALL = 3.0
"""A runner-up whose score is within so much of the chosen set's is shown beside it (as the trade's rule says)."""


@dataclass(frozen=True, eq=False)
class Cure:
    """One set of moves, as steps on the drawing."""

    moves: tuple[Move, ...]
    amounts: tuple[float, ...]
    """Heads."""
    score: float
    step: Array
    """``(n, 2)`` of the landmarks, in the drawing's pixels."""
    words: tuple[str, ...]
    """One instruction per move."""

    @property
    def title(self) -> str:
        return "; ".join(self.words)


def cures(c: Compared, px_per_mm: float | None = None) -> tuple[Cure, ...]:
    """The smallest fix, then every rival that explains the drawing nearly as well; nothing where nothing is to be moved."""
    fix = c.check.fix
    if not fix.moves:
        return ()
    rivals = [r for r in fix.rivals if r.score - fix.score < CLOSE_CALL]
    chosen = Rival(fix.moves, tuple(float(a) for a in fix.amounts), fix.score)
    return tuple(cure_of(c, r.moves, r.amounts, r.score, px_per_mm) for r in (chosen, *rivals))


def cure_of(
    c: Compared, moves: Sequence[Move], amounts: Sequence[float], score: float = 0.0, px_per_mm: float | None = None
) -> Cure:
    """Some moves as one cure."""
    front = sum((a * np.nan_to_num(m.field) for m, a in zip(moves, amounts, strict=True)), np.zeros_like(c.check.registered))
    step = on_drawing(c, front)
    words = tuple(_words(c, m, a, px_per_mm) for m, a in zip(moves, amounts, strict=True))
    return Cure(tuple(moves), tuple(float(a) for a in amounts), score, step, words)


def on_drawing(c: Compared, front: Array) -> Array:
    """Steps ``(n, 2)`` in heads of the front as steps on the drawing, pixels."""
    if c.pose is not None:
        return np.asarray(front @ rotation(c.pose.turn)[:2, :2].T * c.pose.scale)
    return np.asarray(front @ np.linalg.inv(c.check.to_plan.matrix).T)


def _words(c: Compared, m: Move, amount: float, px_per_mm: float | None) -> str:
    """As the findings tell it: a shift by how far it goes, everything else by how much its reading changes."""
    told = next((f.say for f in c.check.findings if f.move is not None and f.move.name == m.name and f.amount_hh == amount), "")
    if told:
        return told
    far = np.linalg.norm(on_drawing(c, m.field * amount), axis=1).max()
    px, heads = float(far), amount
    if not m.shifts and not m.turn and m.reading in front_registry().index:
        change = float(front_registry()[m.reading].over.row(FRONT) @ np.nan_to_num(m.field * amount).ravel())
        if abs(change) > 1e-6:
            px, heads = px * abs(change / amount), change
    degrees = float(np.degrees(amount * m.turn)) if m.turn else None
    return f"{m.more if amount > 0 else m.less} by {amount_words(heads, px, px_per_mm, degrees)}"


Pointer = tuple[tuple[float, float], tuple[float, float]]
"""From where something is to where it should be, the drawing's pixels."""


def pointers(c: Compared, points: Array) -> tuple[Pointer | None, ...]:
    """An arrow for every finding, at the rightmost landmark it moves; ``None`` where it has no one place. ``points`` ``(n, 2)``: the
    landmarks on the drawing."""
    return tuple(_pointer(c, points, k) for k in range(len(c.check.findings)))


def _pointer(c: Compared, points: Array, k: int) -> Pointer | None:
    f = c.check.findings[k]
    if f.move is None:
        return None
    far = np.abs(np.nan_to_num(f.move.field)).max(1)
    at = np.flatnonzero((far > 0) & np.isfinite(points).all(1))
    if not len(at):
        return None
    i = int(at[int(np.argmax(points[at, 0]))])
    step = on_drawing(c, np.nan_to_num(f.move.field) * f.amount_hh)[i]
    (x, y), (dx, dy) = points[i].tolist(), step.tolist()
    return (x, y), (x + dx, y + dy)


def on_picture(d: Drawing, found: tuple[Cure, ...]) -> tuple[Array, tuple[Cure, ...], float | None]:
    """Landmarks and steps on the picture itself, where a page was flattened before it was checked; and a head in its pixels."""
    points = d.marks.landmarks().array(FRONT)
    tall = head_height(d.marks.points)
    if d.sheet is None:
        return points, found, tall
    page = on_page(d)
    level = page.marks.array(FRONT)
    return points, tuple(replace(c, step=apply(page.back, level + c.step) - points) for c in found), tall
