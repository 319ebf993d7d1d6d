"""Holding the likeness: the smallest rise of emphasis on the noticed traits that keeps the score while style grows."""

from __future__ import annotations

from collections.abc import Callable

from .decisions import MAX_EMPHASIS, Decisions
from .plan import Plan

MOST = 3.0
"""Beyond this rise a face becomes another's (own)."""
COARSE, FINE = 6, 5


def raised(decisions: Decisions, keys: tuple[str, ...], rise: float) -> Decisions:
    """Emphasis of the traits raised by ``rise``, away from nothing."""

    def more(e: float) -> float:
        return max(-MAX_EMPHASIS, min(MAX_EMPHASIS, e + rise))

    return decisions.model_copy(update={"emphasis": {**decisions.emphasis, **{k: more(decisions.emphasis_of(k)) for k in keys}}})


def held(
    plan_by: Callable[[Decisions], Plan], decisions: Decisions, keys: tuple[str, ...], score: float
) -> tuple[Decisions, Plan]:
    """The smallest rise that keeps the likeness at ``score``; where none does, the one that comes nearest.

    ``plan_by`` plans by decisions. A few plans on a coarse scale find the stretch, halving does the rest.
    """
    first = plan_by(decisions)
    if first.likeness.score >= score or not keys:
        return decisions, first
    best, best_plan, low = 0.0, first, 0.0
    for k in range(1, COARSE + 1):
        rise = MOST * k / COARSE
        plan = plan_by(raised(decisions, keys, rise))
        if plan.likeness.score > best_plan.likeness.score:
            best, best_plan = rise, plan
        if plan.likeness.score >= score:
            high = rise
            for _ in range(FINE):
                middle = (low + high) / 2
                plan = plan_by(raised(decisions, keys, middle))
                if plan.likeness.score >= score:
                    high, best, best_plan = middle, middle, plan
                else:
                    low = middle
            break
        low = rise
    return raised(decisions, keys, best), best_plan
