"""A project's drawing against what it is checked against, remembered for what it takes."""

from __future__ import annotations

from dataclasses import replace

from ..errors import OrthometError
from ..features.expression import NEUTRAL
from ..kept import remembered
from ..plan.plan import Plan
from ..project.model import Character, Drawing
from ..references import on_page
from ..resolve import Face, face_as_plan
from .compare import FRONT_ON, TURNED, Compared, How, compare, compare_basis


def _how(d: Drawing, px_per_mm: float | None, spreads: tuple[tuple[str, float], ...]) -> How:
    view = TURNED if d.turned else FRONT_ON
    return How(view, d.expression, d.degree, noise=d.noise, px_per_mm=px_per_mm, spreads=spreads)


def against(
    d: Drawing, face: Face | str, meant: tuple[str, ...], spreads: tuple[tuple[str, float], ...], since: Compared | None
) -> Compared | str:
    """A drawing against a face, or against a basis by name."""
    try:
        page = on_page(d)
        marks = replace(page.marks, turn=d.turn if d.turned else None)
        how = _how(d, page.px_per_mm, spreads)
        if isinstance(face, str):
            return compare_basis(marks, face, how, meant, since)
        return compare(marks, face, meant, how, since)
    except OrthometError as e:
        return str(e)


against_kept = remembered(24)(against)


@remembered(48)
def face_of_plan(plan: Plan, c: Character, side: tuple[tuple[str, float], ...]) -> Face:
    return Face(dict(plan.table), plan.points, c.features, NEUTRAL, c.decisions.chin_forward, c.pens, side)


@remembered(24)
def face_of_drawing(d: Drawing) -> Face | str:
    """Another drawing taken as the plan."""
    try:
        return face_as_plan(on_page(d).marks)
    except OrthometError as e:
        return f"{d.name} cannot be compared with: {e}"
