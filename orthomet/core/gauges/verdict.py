"""What is said of a plan as a whole: how like it is, and how far toward its style."""

from __future__ import annotations

from ..plan.plan import Plan
from ..plan.scores import NOTCH


def _steps(lost: float) -> str:
    """How far the plan has gone from the face, in changes an eye just sees."""
    n = round(lost)
    return "no change an eye sees" if n == 0 else f"{n} change{'s' if n > 1 else ''} an eye sees"


def likeness_notes(plan: Plan, measured: bool) -> tuple[str, str]:
    """How many changes an eye sees, and what is kept of the traits that were noticed."""
    k = plan.kept
    kept = f"{k.of} noticed: direction kept {k.direction}, rank {k.rank}" if k.of else "nothing noticed yet"
    return _steps((100 - plan.likeness.score) / NOTCH) if measured else "nothing is measured", kept


def style_note(plan: Plan, title: str) -> str:
    return f"toward {title}" if plan.style is not None else f"{title} is nearly the norm: nothing to tell apart"
