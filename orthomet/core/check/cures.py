"""A fix as steps of the landmarks on the drawing: what a cure's preview and its redline are made from."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..imaging.rectify import apply
from ..kinds import Array
from ..landmarks.schema import FRONT, Schema
from ..landmarks.turn import rotation
from ..landmarks.views import SCHEMAS
from ..project.model import Drawing
from ..proportions.views import registry_of
from ..references import on_page
from .check import Finding
from .compare import Compared
from .fix import Fix, Rival
from .instruct import amount_words
from .moves import Move
from .view import ViewCheck

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


@dataclass(frozen=True, eq=False)
class Curable:
    """What cures are made from, whatever view the drawing shows."""

    fix: Fix
    findings: tuple[Finding, ...]
    to_page: Array
    """``(2, 2)``: steps in heads → steps on the drawing, pixels."""
    schema: Schema = FRONT
    px_per_mm: float | None = None
    """Of the page, where its size is known."""

    @property
    def head(self) -> float:
        """Pixels of a head."""
        return float(np.linalg.norm(self.to_page, 2))


def curable(told: Compared | ViewCheck, px_per_mm: float | None = None) -> Curable:
    """The fix of a comparison, with the way from its heads to the drawing."""
    if isinstance(told, ViewCheck):
        return Curable(told.fix, told.findings, told.to_page, SCHEMAS[told.view], px_per_mm)
    turned = rotation(told.pose.turn)[:2, :2] * told.pose.scale if told.pose is not None else None
    to_page = turned if turned is not None else np.linalg.inv(told.check.to_plan.matrix)
    return Curable(told.check.fix, told.check.findings, to_page, px_per_mm=px_per_mm)


def cures(c: Curable) -> tuple[Cure, ...]:
    """The smallest fix, then every rival that explains the drawing nearly as well; nothing where nothing is to be moved."""
    if not c.fix.moves:
        return ()
    rivals = [r for r in c.fix.rivals if r.score - c.fix.score < CLOSE_CALL]
    chosen = Rival(c.fix.moves, tuple(float(a) for a in c.fix.amounts), c.fix.score)
    return tuple(cure_of(c, r.moves, r.amounts, r.score) for r in (chosen, *rivals))


def cure_of(c: Curable, moves: Sequence[Move], amounts: Sequence[float], score: float = 0.0) -> Cure:
    """Some moves as one cure."""
    still = np.zeros((len(c.schema.names), 2))
    step = sum((a * np.nan_to_num(m.field) for m, a in zip(moves, amounts, strict=True)), still) @ c.to_page.T
    words = tuple(_words(c, m, a) for m, a in zip(moves, amounts, strict=True))
    return Cure(tuple(moves), tuple(float(a) for a in amounts), score, step, words)


def _words(c: Curable, m: Move, amount: float) -> str:
    """As the findings tell it: a shift by how far it goes, everything else by how much its reading changes."""
    told = next((f.say for f in c.findings if f.move is not None and f.move.name == m.name and f.amount_hh == amount), "")
    if told:
        return told
    px, heads = float(np.linalg.norm(m.field * amount @ c.to_page.T, axis=1).max()), amount
    registry = registry_of(c.schema.view)
    if not m.shifts and not m.turn and m.reading in registry.index:
        change = float(registry[m.reading].over.row(c.schema) @ np.nan_to_num(m.field * amount).ravel())
        if abs(change) > 1e-6:
            px, heads = px * abs(change / amount), change
    degrees = float(np.degrees(amount * m.turn)) if m.turn else None
    return f"{m.more if amount > 0 else m.less} by {amount_words(heads, px, c.px_per_mm, degrees)}"


Pointer = tuple[tuple[float, float], tuple[float, float]]
"""From where something is to where it should be, the drawing's pixels."""


def pointers(c: Curable, points: Array) -> tuple[Pointer | None, ...]:
    """An arrow for every finding, at the rightmost of the landmarks it moves far; ``None`` where it has no one place. ``points``
    ``(n, 2)``: the landmarks on the drawing."""
    return tuple(_pointer(c, points, f) for f in c.findings)


FAR = 0.9
"""Share of a figure's longest step from which on a landmark is moved far (own); on a face all that move are."""


def _pointer(c: Curable, points: Array, f: Finding) -> Pointer | None:
    if f.move is None:
        return None
    far = np.hypot(*np.nan_to_num(f.move.field).T)
    least = FAR * float(far.max()) if c.schema.view == "figure" else 0.0
    at = np.flatnonzero((far > 0) & (far >= least) & np.isfinite(points).all(1))
    if not len(at):
        return None
    top = c.schema.view == "figure" and f.move.shifts  # where a limb is moved as a whole: at its root
    i = int(at[int(np.argmin(points[at, 1]) if top else np.argmax(points[at, 0]))])
    step = (np.nan_to_num(f.move.field[i]) * f.amount_hh) @ c.to_page.T
    (x, y), (dx, dy) = points[i].tolist(), step.tolist()
    return (x, y), (x + dx, y + dy)


def on_picture(d: Drawing, found: tuple[Cure, ...], head: float) -> tuple[Array, tuple[Cure, ...], float]:
    """Landmarks and steps on the picture itself, where a page was flattened before it was checked; and a ``head`` in its pixels."""
    schema = SCHEMAS[d.marks.view]
    points = d.marks.landmarks().array(schema)
    if d.sheet is None:
        return points, found, head
    page = on_page(d)
    level = page.marks.array(schema)
    share = float(
        np.nanmedian(
            np.linalg.norm(points - np.nanmean(points, 0), axis=1) / np.linalg.norm(level - np.nanmean(level, 0), axis=1)
        )
    )
    return points, tuple(replace(c, step=apply(page.back, level + c.step) - points) for c in found), head * share
