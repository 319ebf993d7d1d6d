"""The artist's own hand, from a project: every character's reference beside every drawing made of it."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from .errors import OrthometError
from .project.model import Character, Drawing, Project, Reference
from .proportions.measure import Measured
from .proportions.norms import norm_over
from .proportions.views import registry_of
from .references import measure_reference
from .studies import measured_sample
from .styles.hand import Hand, learn_hand


@dataclass(frozen=True)
class Pair:
    """One reference and one drawing of the same person. ``trouble`` says why it cannot count, in words."""

    character: Character
    reference: Reference
    drawing: Drawing
    left_out: bool
    measured: tuple[Measured, Measured] | None
    trouble: str

    @property
    def key(self) -> str:
        """How the project names this pair."""
        return f"{self.reference.id}:{self.drawing.id}"

    @property
    def counts(self) -> bool:
        return self.measured is not None and not self.left_out


@lru_cache(maxsize=256)
def _measured(text: str) -> Measured | None:
    try:
        return measure_reference(Reference.model_validate_json(text))
    except OrthometError:
        return None


def _sides(ref: Reference, drawing: Drawing) -> tuple[tuple[Measured, Measured] | None, str]:
    if drawing.expression:
        return None, f"it looks {drawing.expression}"
    if not drawing.marks.points:
        return None, "the drawing has no points yet"
    if not ref.marks.points:
        return None, "the reference has no points yet"
    a, b = _measured(ref.model_dump_json()), measured_sample(drawing)
    if a is None or b is None:
        return None, "it cannot be measured"
    if not any(a.sure(k) and b.sure(k) for k in a.table):
        return None, "its points are only estimated"
    return (a, b), ""


def pairs_of(project: Project) -> tuple[Pair, ...]:
    """Every drawing of a face that looks ahead beside the reference its plan follows; one of a version shows somebody else."""
    out = []
    for c in project.characters:
        ref = c.face
        if ref is None:
            continue
        for d in c.drawings:
            if d.marks.view == "front" and not d.version and not d.turned:
                measured, trouble = _sides(ref, d)
                out.append(Pair(c, ref, d, f"{ref.id}:{d.id}" in project.hand_left_out, measured, trouble))
    return tuple(out)


def hand_of(pairs: tuple[Pair, ...]) -> Hand | None:
    """What the pairs that count say; ``None`` while none does."""
    sides = [p.measured for p in pairs if p.counts and p.measured is not None]
    if not sides:
        return None
    try:
        return learn_hand(sides, norm_over("adult", registry_of("front")))
    except OrthometError:
        return None
