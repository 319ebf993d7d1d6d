"""A style study of the project as a style: what its sample drawings say, and what was set by hand above that."""

from __future__ import annotations

from functools import lru_cache

from .errors import OrthometError
from .project.model import Study
from .proportions.measure import Measured, measure
from .proportions.norms import norm
from .styles.learn import Learned, learn_style
from .styles.library import Style

CHECKLIST = (
    "Line: width, how it ends, how many interior lines",
    "Dots, blush or hatching by the eye",
    "How shadows are drawn: flat, hatched, none",
    "Joints: bend in an arc, or real elbows and knees",
    "What stands for the nose",
    "Hands: how many fingers, how drawn",
    "A pose or a turn it likes",
)  # common practice
"""Marks of a style that no ruler sees, asked of every study."""

_KEPT: dict[int, tuple[Study, Style, bool]] = {}


@lru_cache(maxsize=256)
def _measured(text: str) -> Measured | None:
    from .project.model import Marks

    try:
        return measure(Marks.model_validate_json(text).landmarks())
    except OrthometError:
        return None


def samples_of(study: Study) -> list[Measured]:
    """The sample drawings that can be measured (front faces)."""
    found = [_measured(d.marks.model_dump_json()) for d in study.samples if d.marks.points and d.marks.view == "front"]
    return [m for m in found if m is not None]


def learned(study: Study) -> Learned | None:
    """What the samples say, or ``None`` while none of them says anything surely."""
    try:
        return learn_style(samples_of(study), study.name, norm(), study.title)
    except OrthometError:
        return None


def style_of_study(study: Study) -> Style:
    """The study as a style. Kept by identity: asked for in every frame of a drag, and it changes with an edit only."""
    hit = _KEPT.get(id(study))
    if hit is None or hit[0] is not study:
        if len(_KEPT) > 64:
            _KEPT.clear()
        hit = _KEPT[id(study)] = (study, *_derive(study))
    return hit[1]


def two_periods_in(study: Study) -> bool:
    """Whether its samples fall in two groups."""
    style_of_study(study)
    return _KEPT[id(study)][2]


def _derive(study: Study) -> tuple[Style, bool]:
    found = learned(study)
    rows = {**(found.style.readings if found else {}), **study.rows}
    style = Style(name=study.name, title=study.title, note=study.note, source=study.source, readings=rows)
    return style, bool(found and found.two_periods)
