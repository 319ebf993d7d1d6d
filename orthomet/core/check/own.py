"""The artist's own spans on a drawing against their plans: each for itself, since nobody knows which of its ends moved."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

import numpy as np

from ..landmarks.own import OwnSpan
from ..landmarks.points import Landmarks, State
from ..plan.own import OwnPlan
from ..proportions.measure import measure
from .rows import tolerance_table


@dataclass(frozen=True)
class OwnCheck:
    """One own span: plan and drawing in its own unit, what may differ, and what to do.

    ``drawing`` is ``None`` until its ends are there.
    """

    span: OwnSpan
    plan: float
    reference: float
    drawing: float | None = None
    tolerance: float = 0.0
    say: str = ""
    judged: bool = False
    """Both ends, and what it is divided by, are sure."""

    @property
    def reading(self) -> str:
        return self.span.key

    @property
    def off(self) -> bool:
        return self.judged and self.drawing is not None and abs(self.drawing - self.plan) > self.tolerance


def _head_px(drawing: Landmarks) -> float:
    """Height of the drawn head in its pixels; without crown or chin the extent of everything that is marked."""
    top, chin = drawing.points.get("vertex"), drawing.points.get("gnathion")
    if top and chin:
        return float(np.hypot(chin[0] - top[0], chin[1] - top[1]))
    return float(np.ptp(np.array(list(drawing.points.values())), axis=0).max()) if drawing.points else 0.0


def check_own(
    drawing: Landmarks, plans: Collection[OwnPlan], noise: float | None = None, px_per_mm: float | None = None
) -> tuple[OwnCheck, ...]:
    """Own spans of the drawing's view against their plans.

    A span may differ by the share the tolerance table grants big widths, and by what landmark noise of ``noise`` heads at
    each end does to it (where there is no head, of the drawing's whole extent). Of two spans of which one is divided by the other, each is told for itself.

    Raises
    ------
    LandmarkError
        Unmeasurable landmarks.
    """
    table = tolerance_table()
    share = table.rules["big"].share
    noise_px = (table.noise if noise is None else noise) * _head_px(drawing)
    out = []
    wanted = [p for p in plans if p.span.view == drawing.view]
    measured = measure(drawing) if wanted and drawing.points else None
    for p in wanted:
        value = measured.table.get(p.key) if measured is not None else None
        if measured is None or value is None:
            out.append(OwnCheck(p.span, p.plan, p.reference))
            continue
        a, b = (np.array(drawing.points[n]) for n in p.span.ends)
        long = float(np.linalg.norm(b - a))
        tolerance = max(share * p.plan, table.noise_factor * np.sqrt(2) * noise_px / max(long, 1e-9) * value)
        px = abs(value - p.plan) / value * long
        size = f"{px / px_per_mm:.1f} mm" if px_per_mm else f"{px:.0f} px"
        percent = abs(p.plan / value - 1) * 100
        name = f"{p.span.name[0].lower()}{p.span.name[1:]}"
        say = f"Make {name} {percent:.0f} % {'longer' if value < p.plan else 'shorter'} ({size})"
        judged = measured.state(p.key) is State.PLACED
        out.append(OwnCheck(p.span, p.plan, p.reference, value, float(tolerance), say, judged))
    return tuple(out)
