"""Where a guide school stands apart from plan and norm, in words."""

from __future__ import annotations

import math
from collections.abc import Mapping

from ..plan.plan import Plan
from ..proportions.norms import Norm
from ..proportions.registry import front_registry
from ..styles.schools import School, departures

MOST_TOLD = 6
UNKNOWN_REACH = 0.15
"""Half the band where no norm tells a spread (own)."""


def triangle(plan: Plan, style: Plan, against: Norm) -> tuple[float, float, float]:
    """The plan's triangle of eyes and chin, and the band of its style: two spreads about the style's own."""
    i = plan.registry.index["eye_chin_triangle"]
    middle, sd = float(style.values[i]), float(against.sd[i])
    reach = 2 * sd if math.isfinite(sd) else UNKNOWN_REACH
    return float(plan.values[i]), middle - reach, middle + reach


def triangle_words(here: float, low: float, high: float) -> str:
    """The plan's triangle of eyes and chin beside the band of its style."""
    word = "within" if low <= here <= high else "flatter than" if here < low else "steeper than"
    return f"Triangle of outer eye corners and chin: {here:.2f} high to 1 wide, {word} the style’s {low:.2f}–{high:.2f}."


def apart_words(
    shown: School | None, settings: Mapping[str, float], table: Mapping[str, float], usual: Mapping[str, float]
) -> str:
    """Where the school departs from the plan, farthest first, and how far that is from the usual face, in words."""
    if shown is None:
        return "The lines are the plan itself."
    rows = sorted(departures(shown, table, settings), key=lambda d: -abs(d.heads))
    told = []
    for d in rows[:MOST_TOLD]:
        line = f"{front_registry()[d.reading].label}: {_off(d.heads)} the plan"
        mean = usual.get(d.reading)
        told.append(f"{line}, {_off(d.school - mean)} the norm" if mean is not None else line)
    return "\n".join(told) or "This school lays no line the plan has."


def _off(heads: float) -> str:
    return f"{abs(heads):.3f} {'below' if heads > 0 else 'above'}" if abs(heads) >= 5e-4 else "level with"
