"""Drift as small multiples: one little chart a trait, all with the plan's band, in millimetres."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from ..kinds import Array
from ..picture import Ink, Layer, Picture, Text, Trace, line
from .drift import Drawn, TraitDrift, when, words_of

CELL_W, CELL_H, GAP, HEAD = 58.0, 30.0, 5.0, 9.0
"""Millimetres of one chart, between charts, and of the words over it."""
REACH, FURTHEST = 2.2, 8.0
"""Bands from the middle of a chart to its edge: at least, and at most where a drawing is further off (own)."""
DOT = 0.9
TITLE = 12.0


def chart(rows: Sequence[TraitDrift], drawn: Sequence[Drawn], across: int = 3, title: str = "") -> Picture:
    """The charts in rows of ``across``, worst first; an axis is the plan ± some bands (:func:`reach`), time runs to the right."""
    x = when(drawn)
    span = float(np.ptp(x)) or 1.0
    t = (x - x.min()) / span if np.ptp(x) else np.linspace(0, 1, max(len(x), 2))[: len(x)]
    layers = []
    top = TITLE if title else 0.0
    for k, row in enumerate(rows):
        at = np.array([(k % across) * (CELL_W + GAP), top + (k // across) * (HEAD + CELL_H + GAP)])
        layers.append(Layer(row.key, row.label, tuple(_cell(row, drawn, t, at))))
    if title:
        layers.insert(0, Layer("title", "Title", (Text((0.0, 6.0), title, Ink.NOTE, 5.0),)))
    lines = -(-len(rows) // across)
    size = across * (CELL_W + GAP) - GAP, top + lines * (HEAD + CELL_H + GAP)
    return Picture(tuple(layers), (0.0, 0.0, *size), title or "Drift", "mm")


def reach(row: TraitDrift) -> float:
    """Bands from the middle of a trait's chart to its edge: what shows all its drawings."""
    return float(np.clip(1.05 * np.nanmax(np.abs(row.values - row.plan)) / row.band, REACH, FURTHEST))


def places(row: TraitDrift, t: Array, at: Array) -> Array:
    """Where a trait's drawings stand in its chart, ``(n, 2)`` mm; nan for those that cannot be told."""
    u = np.clip((row.values - row.plan) / (reach(row) * row.band), -1, 1)
    sign = 1.0 if row.kind.value == "station" else -1.0  # a station that goes down goes down on the chart too
    return np.column_stack([at[0] + 3 + t * (CELL_W - 6), at[1] + HEAD + CELL_H / 2 + sign * u * (CELL_H / 2 - 2)])


def _cell(row: TraitDrift, drawn: Sequence[Drawn], t: Array, at: Array) -> list[Trace | Text]:
    x0, y0 = float(at[0]), float(at[1])
    mid, half = y0 + HEAD + CELL_H / 2, (CELL_H / 2 - 2) / reach(row)

    def box(top: float, bottom: float, role: Ink, filled: bool) -> Trace:
        return Trace(np.array([[x0, top], [x0 + CELL_W, top], [x0 + CELL_W, bottom], [x0, bottom]]), role, True, filled)

    out: list[Trace | Text] = [
        Text((x0, y0 + 3.4), row.label, Ink.NOTE, 3.6),
        Text(
            (x0, y0 + 7.2),
            words_of(row, drawn),
            Ink.REDLINE_DEEP if row.creeps or abs(row.off) > 1 or row.departs else Ink.NOTE,
            2.9,
        ),
        box(mid - half, mid + half, Ink.SHAPE_PALE, True),
        line([(x0, mid), (x0 + CELL_W, mid)], Ink.PLAN_LINE, "plan"),
        box(y0 + HEAD, y0 + HEAD + CELL_H, Ink.MARK, False),
    ]
    p = places(row, t, at)
    here = np.isfinite(p).all(1)
    if here.sum() > 1:
        out.append(line(p[here], Ink.REDLINE, "drawings"))
    if row.creeps:
        v = row.values[here]
        a, b = np.polyfit(t[here], v, 1)
        ends = np.array([[0.0, b], [1.0, a + b]])
        u = np.clip((ends[:, 1] - row.plan) / (reach(row) * row.band), -1, 1) * (1.0 if row.kind.value == "station" else -1.0)
        trend = np.column_stack([x0 + 3 + ends[:, 0] * (CELL_W - 6), mid + u * (CELL_H / 2 - 2)])
        out.append(Trace(trend, Ink.REDLINE_DEEP, name="trend", widths=np.array([0.3, 0.8])))
    turn = np.linspace(0, 2 * np.pi, 17)[:-1]
    for i in np.flatnonzero(here):
        far = i in row.departs
        r = DOT * (1.9 if far else 1.0)
        ring = p[i] + r * np.column_stack([np.cos(turn), np.sin(turn)])
        if far:
            out.append(Trace(ring, Ink.LIT, True, True, f"departs: {drawn[i].name}"))
            ring = p[i] + DOT * np.column_stack([np.cos(turn), np.sin(turn)])
        out.append(Trace(ring, Ink.REDLINE_DEEP, True, True, drawn[i].name))
    return out
