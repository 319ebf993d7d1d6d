"""A project's drawing against what it is checked against, remembered for what it takes."""

from __future__ import annotations

from dataclasses import replace

from ..errors import OrthometError
from ..features.expression import NEUTRAL
from ..figure.mannequin import mannequin
from ..kept import remembered
from ..plan.figure import FigurePlan
from ..plan.plan import Plan
from ..pose.model import Posing
from ..project.model import Character, Drawing
from ..references import on_page
from ..resolve import Face, face_as_plan
from .compare import FRONT_ON, TURNED, Compared, How, compare, compare_basis
from .figure import FigureCheck, check_figure
from .profile import ProfileCheck, check_profile, profile_plan


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


def figure_told(d: Drawing, plan: FigurePlan, posing: Posing, meant: tuple[str, ...], quick: bool) -> FigureCheck | str:
    """A drawn figure against the planned body in its poses, or why it cannot be judged; ``quick`` while a hand drags."""
    try:
        page = on_page(d)
        s = mannequin(plan.build, False).skeleton
        return check_figure(page.marks, s, plan.readings, meant, d.noise, page.px_per_mm, posing.all, quick)
    except OrthometError as e:
        return str(e)


def profile_told(
    d: Drawing, front: Plan, side: tuple[tuple[str, float], ...], meant: tuple[str, ...], quick: bool
) -> ProfileCheck | str:
    """A drawn profile against the front's plan and its planned side, likewise."""
    try:
        page = on_page(d)
        return check_profile(page.marks, profile_plan(front.table, dict(side)), meant, d.noise, page.px_per_mm, quick)
    except OrthometError as e:
        return str(e)


figure_kept, profile_kept = remembered(16)(figure_told), remembered(16)(profile_told)
