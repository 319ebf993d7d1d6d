"""A style study of the project as a style: what its sample drawings say, and what was set by hand above that."""

from __future__ import annotations

import re
from functools import lru_cache

from .errors import OrthometError
from .kept import remembered
from .project.model import Drawing, Study
from .proportions.measure import Measured, measure
from .proportions.norms import norm_over
from .proportions.views import registry_of
from .references import flat
from .shapes.face import learned as learned_shapes
from .shapes.face import shapes_in
from .shapes.traits import StyleShapes
from .styles.learn import Learned, learn_style
from .styles.library import Style, StyleRow

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


@lru_cache(maxsize=256)
def _measured(text: str) -> Measured | None:
    try:
        return measure(flat(Drawing.model_validate_json(text)))
    except OrthometError:
        return None


def measured_sample(sample: Drawing) -> Measured | None:
    """Readings of one sample drawing, its page made flat; ``None`` where it has no points or they cannot be measured."""
    return _measured(sample.model_dump_json()) if sample.marks.points else None


def learned(study: Study) -> list[Learned]:
    """What the samples say, one entry a view; empty while none of them says anything surely.

    Kept for the drawings alone: a value dragged by hand changes the study in every frame, its drawings in none.
    """
    return _learn(study.samples, study.name, study.title)


@remembered(48)
def _learn(samples: tuple[Drawing, ...], name: str, title: str) -> list[Learned]:
    out = []
    for view in dict.fromkeys(d.marks.view for d in samples):
        found = [m for m in (measured_sample(d) for d in samples if d.marks.view == view) if m is not None]
        try:
            out.append(learn_style(found, name, norm_over("adult", registry_of(view)), title))
        except OrthometError:
            continue
    return out


def style_of_study(study: Study) -> Style:
    """The study as a style."""
    return _derive(study)[0]


def shapes_of_study(study: Study) -> StyleShapes | None:
    """What its face samples have in common as shapes; None where none of them can be read."""
    return _shapes(study.samples)


@remembered(24)
def _shapes(samples: tuple[Drawing, ...]) -> StyleShapes | None:
    found = []
    for d in samples:
        m = measured_sample(d) if d.marks.view == "front" else None
        f = shapes_in(flat(d), m.table) if m is not None else None
        if f is not None:
            found.append(f)
    return learned_shapes(found) if found else None


def two_periods_in(study: Study) -> bool:
    """Whether its samples fall in two groups."""
    return _derive(study)[1]


@remembered(48)
def _derive(study: Study) -> tuple[Style, bool]:
    found = learned(study)
    rows: dict[str, StyleRow] = {}
    for part in found:
        rows |= {k: r for k, r in part.style.readings.items() if not k.startswith("own:")}
    n = sum(bool(d.marks.points) for d in study.samples)
    source = study.source or (f"learned from {n} drawings" if found else "set by hand")
    style = Style(name=study.name, title=study.title, note=study.note, source=source, readings={**rows, **study.rows})
    return style, any(part.two_periods for part in found)


def study_of_style(sid: str, style: Style) -> Study:
    """A style taken into a project, to be changed there."""
    title, note = style.title.strip()[:80] or "Style", style.note[:2000]
    return Study(id=sid, title=title, note=note, source=style.source[:300], rows=dict(style.readings))


def style_file(style: Style, study: Study | None = None) -> str:
    """The style as the text of a style file, named after its title; with the shapes of the study it is, where it is one."""
    if study is not None:
        style = style.model_copy(update={"shapes": shapes_of_study(study)})
    plain = re.sub(r"[^a-z0-9]+", "-", style.title.casefold()).strip("-") or "style"
    return style.model_copy(update={"name": plain}).model_dump_json(indent=1) + "\n"
