"""Whole people: a planned head on a planned body; and the heads that belong on canons nobody has drawn a head for."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cached_property

from .features.choices import PLAIN, FeatureChoices
from .features.table import feature
from .figure.build import Build, build_of
from .figure.canons import Canon
from .figure.choices import FigureChoices
from .figure.heads import neck_axis
from .figure.scene import LEVEL, Figure, figure, rough_figure
from .head.body import Body, Wear, body
from .kept import remembered
from .kinds import Array
from .landmarks.turn import Turn
from .names import named
from .plan.decisions import Decisions
from .plan.figure import FigurePlan, plan_figure
from .plan.plan import Plan, make_plan
from .project.model import Character
from .proportions.norms import adult_rows, with_means
from .proportions.registry import front_registry
from .proportions.youth import face_of_youth
from .resolve import nothing_measured, plan_toward
from .styles.library import Style, style

PLAIN_STYLE = "measured-adult"
BY_SKULL = 0.9
"""Face width by skull width of a canon's head (own, from the adult norm)."""


@dataclass(frozen=True, eq=False)
class HeadOn:
    """A head to be put on a body: its traits, its points, what it wears."""

    table: Mapping[str, float]
    points: Array
    wear: Wear

    @property
    def body(self) -> Body:
        return body(self.table, self.points, self.wear)

    @cached_property
    def key(self) -> tuple[tuple[tuple[str, float], ...], bytes, str]:
        """Heads with the same one are drawn alike."""
        return tuple(sorted(self.table.items())), self.points.tobytes(), self.wear.key


@remembered(40)
def head_of_canon(c: Canon) -> HeadOn:
    """The head a canon is shown with: as young as suits the body, as wide, its neck the canon's."""
    adult = {k: r.mean for k, r in adult_rows().items()}
    wide = c.readings["head_width_hh"]
    means = face_of_youth(c.face, adult) | {
        "head_width_hh": wide,
        "face_width_hh": BY_SKULL * wide,
        "neck_width_hw": c.readings["neck_hw"],
    }
    norm = with_means(c.name, c.title, c.note, means, front_registry(), c.source)
    plan = make_plan(nothing_measured(), Decisions(style=PLAIN_STYLE, style_weight=0.0), (), style(PLAIN_STYLE), norm)
    return HeadOn(plan.table, plan.points, Wear(choices=with_hair(PLAIN, c.hair)))


def person_of_style(toward: Style) -> Figure:
    """A style as a whole person: nothing of a reference, full style weight, its hair."""
    plan = plan_toward(toward)
    body = plan_figure(
        {}, Decisions(style=toward.name, style_weight=1.0), FigureChoices(canon="measured"), 30, toward, plan.table
    )
    return person_of(body, HeadOn(plan.table, plan.points, Wear(choices=with_hair(PLAIN, toward.hair))))


def with_hair(choices: FeatureChoices, name: str) -> FeatureChoices:
    """Choices with a hairstyle of the library; one it lacks changes nothing."""
    hair = feature("hair")
    known = {v.name: v.set for v in hair.variants}
    meant = named(name, ((n, n) for n in known)) if name else None
    return (
        choices if meant is None else choices.with_values("hair", {**hair.defaults(), **known[meant]}).with_absent("hair", False)
    )


def head_of_plan(plan: Plan, c: Character, d: Decisions, side: tuple[tuple[str, float], ...]) -> HeadOn:
    """A character's planned head with its features, expression and pens; ``side`` is its planned profile."""
    return HeadOn(plan.table, plan.points, Wear(d.chin_forward, c.features, c.expression, pens=c.pens, side=side))


def person(b: Build, head: HeadOn | None, head_turn: Turn = LEVEL, exact: bool = True, school: str = "") -> Figure:
    """A body with a head on it, the neck where the head wants it. Kept while all is the same."""
    if head is None:
        return figure(b, None, head_turn, None, exact, school)
    on = head.body
    return figure(replace(b, neck_axis=neck_axis(on)), on, head_turn, None, exact, school)


def person_of(plan: FigurePlan, head: HeadOn | None, head_turn: Turn = LEVEL, exact: bool = True) -> Figure:
    """A planned body with a head on it."""
    return person(plan.build, head, head_turn, exact, plan.canon.school)


def canon_wearing(c: Canon, head: HeadOn) -> Figure:
    """A canon with somebody's head on it: its neck and skull as wide as that head's."""
    own = {"head_width_hh": head.table["head_width_hh"], "neck_hw": head.table["neck_width_hw"]}
    return person(build_of({**c.readings, **own}, c.form, c.limbs), head, school=c.school)


def roughly_person(plan: FigurePlan, head: HeadOn, head_turn: Turn, like: Figure) -> Figure:
    """A planned body with a head on it for quick views, made after one that is near it."""
    on = head.body
    return rough_figure(replace(plan.build, neck_axis=neck_axis(on)), like, on, head_turn)


def hair_height(head: HeadOn | None) -> float:
    """How far hair stands over the crown, heads; 0 without any."""
    if head is None:
        return 0.0
    on = head.body
    if on.hair is None:
        return 0.0
    top = on.hair.landmarks.get("hair_top")
    return max(-float(top[1]), 0.0) if top is not None else 0.0


def heads_with_hair(heads: float, height: float) -> float:
    """Heads tall where the head is counted with its hair: hair makes a small head feel larger."""
    return (heads + height) / (1 + height)
