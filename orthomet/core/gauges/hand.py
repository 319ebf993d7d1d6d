"""The artist's own hand in words and bars: what it adds to every face, and what a style would have it change."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..kinds import backward
from ..proportions.norms import norm
from ..proportions.registry import Role, front_registry
from ..styles.habits import Change, push_words
from ..styles.hand import Hand
from .item import USUAL, base_item

LOUD = 1.5
"""Spreads from which a habit is told strongly (own)."""


@dataclass(frozen=True)
class HabitRow:
    """One trait of a hand: how far it lies from an average subject, in spreads, and in words."""

    label: str
    spreads: float
    words: str
    loud: bool


def habit_rows(hand: Hand | None) -> list[HabitRow]:
    """Rows of the independent traits, the strongest habits first."""
    reg, against, rows = front_registry(), norm(), []
    for key, habit in hand.readings.items() if hand else ():
        i = reg.index.get(key)
        if i is None or reg.readings[i].role is not Role.INDEPENDENT or not np.isfinite(against.g_sd[i]):
            continue
        item = base_item(key)
        drawn = float(backward(reg.readings[i].kind, float(against.g_mean[i]) + habit.habit))
        spreads, told = item.z(drawn), push_words(habit)
        push = f"×{habit.push:.1f} {told}".replace("-", "−") if told else ""
        word = item.describe(drawn) if abs(spreads) >= USUAL else "as the subject"
        loud = abs(spreads) >= LOUD or push.endswith(("ignores them", "overstates them"))
        rows.append(HabitRow(item.label, spreads, push or word, loud))
    return sorted(rows, key=lambda r: -abs(r.spreads))


def change_words(c: Change) -> tuple[str, str]:
    """Title and instruction of one habit to change."""
    item = base_item(c.reading)
    way = item.high if c.spreads > 0 else item.low
    return item.label, f"you draw {item.show(c.hand)} ({way}), the style {item.show(c.style)}"
