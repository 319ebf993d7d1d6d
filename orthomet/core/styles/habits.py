"""What an artist's hand would have to change to draw in a style."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import backward, forward
from ..proportions.norms import Norm
from ..proportions.registry import Registry, Role
from .hand import Hand, HandRow
from .library import Style

WORTH = 0.5
"""Habits nearer to the style than this many spreads are left alone (own)."""
FIVE = 5


@dataclass(frozen=True)
class Change:
    """One habit to change. ``hand`` and ``style`` are values of an average subject, in the reading's own unit."""

    reading: str
    hand: float
    style: float
    spreads: float
    """How far the hand lies beyond the style, in spreads of the norm."""


def habits_to_change(hand: Hand, toward: Style, against: Norm, registry: Registry, most: int = FIVE) -> list[Change]:
    """Habits that stand between the hand and a style, the farthest first.

    What the hand makes of an average subject is ``g(norm) + habit``; it is held against the style's own value.
    ``against`` is laid out over ``registry``. Only independent traits count, so that one habit is not told twice.
    """
    out = []
    for i, r in enumerate(registry.readings):
        row, asked = hand.readings.get(r.key), toward.readings.get(r.key)
        if row is None or asked is None or r.role is not Role.INDEPENDENT or not np.isfinite(against.g_sd[i]):
            continue
        drawn = float(against.g_mean[i]) + row.habit
        far = (drawn - float(forward(r.kind, asked.mean))) / float(against.g_sd[i])
        if abs(far) >= WORTH:
            out.append(Change(r.key, float(backward(r.kind, drawn)), asked.mean, far))
    return sorted(out, key=lambda c: -abs(c.spreads))[:most]


IGNORES, OVERSTATES = 0.35, 1.5
"""A push below the first means that subjects hardly come through, above the second that they are pushed (own)."""


SURE = 0.35
"""A push is told when its standard error is no larger (own)."""


def push_words(row: HandRow) -> str:
    """What a push says about a hand and its subjects, in words; nothing while the pairs do not tell it surely."""
    if row.push is None or row.push_error is None or row.push_error > SURE:
        return ""
    if row.push < IGNORES:
        return "ignores them"
    return "overstates them" if row.push > OVERSTATES else "follows them"
