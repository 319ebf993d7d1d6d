"""What follows from an open project: measured face, plan, check and the rest.

Each is a function of just those parts of the tree it takes, and is remembered for them (:func:`~.kept.remembered`): an edit
of anything else costs nothing.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Container
from functools import cache
from typing import TypeVar

from .check.check import Check
from .check.compare import Compared
from .check.drawings import against, against_kept, face_of_drawing, face_of_plan, figure_kept, profile_kept
from .check.drawn_set import DrawnSet, faces_drift, of_set, others_drift
from .check.figure import FigureCheck
from .check.own import OwnCheck, check_own
from .check.profile import ProfileCheck
from .check.rows import style_spreads
from .check.view import ViewCheck
from .errors import LandmarkError, OrthometError
from .figure.choices import FigureChoices
from .figure.match import Match, matched
from .figure.values import values_of
from .hands import Pair, hand_of, pairs_of
from .kept import remembered
from .landmarks.own import OWN_GROUP, OwnSpan
from .landmarks.points import problem
from .plan.decisions import Decisions
from .plan.figure import FigurePlan, figure_space, plan_figure
from .plan.own import OwnPlan, plan_own
from .plan.plan import Plan
from .plan.side import SidePlan, plan_side, targets
from .plan.space import face_space
from .plan.versions import Version, decisions_of
from .project.model import Character, Drawing, Project, Reference, Study
from .proportions.measure import Measured, measure
from .proportions.norms import Norm, norm_over
from .proportions.registry import Registry, front_registry
from .proportions.views import profile_registry, registry_of
from .references import measure_reference, on_page, profile_of
from .resolve import (
    Face,
    figure_measured,
    measured_reference,
    norm_for,
    nothing_measured,
    plan_of_character,
    plan_toward,
    style_for,
)
from .shapes.face import FaceShapes, ShapeFinding, shapes_in, shapes_of
from .shapes.face import compared as shapes_compared
from .shapes.traits import StyleShapes
from .studies import shapes_of_study, style_of_study
from .styles.hand import Hand
from .styles.library import Style, style, styles

D = TypeVar("D", Decisions, Version)

NOBODY = Character(id="none", name="")
NOTHING_KNOWN = Decisions()
FACES = ("references", "chosen_reference", "pooled", "spans")
"""What the measured face is taken from."""


def _only(c: Character, *fields: str) -> Character:
    """A character of whom nothing else is known: what follows from it can follow from these fields alone."""
    return NOBODY.model_copy(update={f: getattr(c, f) for f in fields})


def _about(p: Project, norm: str) -> Project:
    """What of a project reaches into one plan: its styles, and its cast where the mean of that is the norm."""
    return Project(studies=p.studies) if norm.casefold() != "cast" else p.model_copy(update={"title": "", "hand_left_out": ()})


@remembered(32)
def _of(d: D, keys: Container[str]) -> D:
    """Decisions of these traits alone: a body dragged asks for nothing of the face again, nor the other way round."""
    kept = {f: {k: v for k, v in getattr(d, f).items() if k in keys} for f in ("offsets", "emphasis")}
    return d if kept == {f: getattr(d, f) for f in kept} else d.model_copy(update=kept)


@remembered(16)
def _measured(c: Character) -> Measured:
    try:
        return measured_reference(c)
    except OrthometError:
        return nothing_measured()


@remembered(16)
def _seen(ref: Reference, spans: tuple[OwnSpan, ...]) -> Measured:
    try:
        return measure_reference(ref, spans)
    except OrthometError:
        return nothing_measured(registry_of(ref.marks.view, spans))


@remembered(16)
def _norm(name: str, registry: Registry, about: Project) -> Norm:
    try:
        return norm_for(name, registry, about)
    except OrthometError:
        return norm_over("adult", registry)


@remembered(48)
def _plan(c: Character, about: Project, vid: str) -> Plan:
    try:
        return plan_of_character(c, about, vid)
    except OrthometError:
        return plan_of_character(c.model_copy(update={"references": ()}), about, vid)


@remembered(16)
def _own_plans(references: tuple[Reference, ...], spans: tuple[OwnSpan, ...], d: Decisions, toward: Style) -> tuple[OwnPlan, ...]:
    found: dict[str, float] = {}
    for ref in references:
        m = _seen(ref, spans)
        found = {r.key: m.table[r.key] for r in m.registry.readings if r.group == OWN_GROUP and r.key in m.table} | found
    return plan_own(spans, found, d, toward)


@remembered(16)
def _side_plans(references: tuple[Reference, ...], d: Decisions, toward: Style, against: Norm) -> tuple[SidePlan, ...]:
    ref = profile_of(references)
    return plan_side(_seen(ref, ()).table, d, toward, against) if ref is not None else ()


@cache
def _profile_keys() -> frozenset[str]:
    return frozenset(r.key for r in profile_registry().readings)


@remembered(16)
def _figure_measured(c: Character) -> Measured:
    try:
        return figure_measured(c)
    except OrthometError:
        return figure_measured(NOBODY)


@remembered(48)
def _figure_plan(
    measured: Measured, d: Decisions, choices: FigureChoices, age: float, toward: Style, head: tuple[float, float]
) -> FigurePlan:
    table = {k: v for k, v in measured.table.items() if measured.sure(k)}
    return plan_figure(table, d, choices, age, toward, {"head_width_hh": head[0], "neck_width_hw": head[1]})


@remembered(48)
def _match(plan: Plan, figure: FigurePlan, heads: float | None) -> Match:
    return matched(values_of(plan.table, figure.readings), heads)


@remembered(8)
def _check_shapes(d: Drawing, plan: Plan) -> tuple[ShapeFinding, ...]:
    try:
        page = on_page(d)
        drawn = shapes_in(page.marks, measure(page.marks).table)
    except OrthometError:
        return ()
    return tuple(shapes_compared(drawn, _planned_shapes(plan))) if drawn is not None else ()


@remembered(24)
def _planned_shapes(plan: Plan) -> FaceShapes:
    return shapes_of(plan.table, plan.points)


@remembered(16)
def _check_own(d: Drawing, spans: tuple[OwnSpan, ...], plans: tuple[OwnPlan, ...]) -> tuple[OwnCheck, ...]:
    try:
        page = on_page(d, spans)
        return check_own(page.marks, plans, d.noise, page.px_per_mm)
    except OrthometError:
        return ()


@remembered(4)
def _hands(about: Project) -> tuple[tuple[Pair, ...], Hand | None]:
    pairs = pairs_of(about)
    return pairs, hand_of(pairs)


_pure = remembered(24)(plan_toward)


class Derived(ABC):
    """The half of a document that only asks. What is open and looked at comes from the other half."""

    project: Project

    @property
    @abstractmethod
    def character(self) -> Character | None: ...

    @property
    @abstractmethod
    def drawing(self) -> Drawing | None: ...

    @property
    @abstractmethod
    def version_id(self) -> str: ...

    def landmark_problem(self) -> str:
        """Why the chosen reference cannot be measured, or an empty string."""
        c = self.character
        ref = c.reference if c else None
        return (problem(ref.marks.landmarks()) or "") if ref else ""

    def measured(self) -> Measured:
        """The face the plan follows."""
        c = self.character
        return _measured(_only(c, *FACES)) if c is not None and c.reference is not None else nothing_measured()

    def seen(self) -> Measured:
        """The chosen reference alone, whatever view it shows."""
        c = self.character
        ref = c.reference if c else None
        return _seen(ref, c.spans) if c is not None and ref is not None else nothing_measured()

    def styles(self) -> list[Style]:
        """Styles on offer: the library's, then the project's studies."""
        return [*styles().values(), *(style_of_study(s) for s in self.project.studies)]

    def pure(self, shown: Style) -> Plan:
        """A style by itself, on an average subject."""
        return _pure(shown)

    def hands(self) -> tuple[tuple[Pair, ...], Hand | None]:
        """Every pair of reference and drawing, and what those that count say of the artist's hand."""
        return _hands(Project(characters=self.project.characters, hand_left_out=self.project.hand_left_out))

    def toward(self) -> Style:
        """The style the plan that is worked on goes toward."""
        return self.toward_of(self.version_id)

    def toward_of(self, vid: str) -> Style:
        """The style the plan of one version goes toward."""
        own = self.character.decisions.style if self.character else Decisions().style
        for name in (self.decisions_for(vid).style, own):
            try:
                return style_for(name, self.project.studies)
            except OrthometError:
                continue
        return style(Decisions().style)

    def norm(self, registry: Registry | None = None) -> Norm:
        """The norm the open character is read against."""
        name = (self.character.decisions if self.character else NOTHING_KNOWN).norm
        return _norm(name, registry or front_registry(), _about(self.project, name))

    def norm_choices(self) -> list[tuple[str, str]]:
        """Norms on offer for the open character: name and words."""
        out = [("adult", "adult average")]
        c = self.character
        if c is not None and c.age < 20:
            out.append((f"age:{c.age:g}", f"average at {c.age:g}"))
        out += [(f"style:{s.name}", f"style: {s.title}") for s in self.styles()]
        out.append(("cast", "mean of this cast"))
        if c is not None and c.decisions.norm not in dict(out):
            out.append((c.decisions.norm, c.decisions.norm.replace("age:", "average at ")))
        return out

    def decisions(self) -> Decisions:
        """What is decided for the character, or for the version that is worked on."""
        return self.decisions_for(self.version_id)

    def decisions_for(self, vid: str) -> Decisions:
        """What is decided for one version; for the character itself with an empty id."""
        c = self.character
        if c is None:
            return Decisions()
        v = c.version(vid)
        return decisions_of(c.decisions, v, c.age) if v is not None else c.decisions

    def version_words(self) -> str:
        """The version that is worked on, as it follows a name; empty for the character itself."""
        c = self.character
        v = c.version(self.version_id) if c is not None else None
        return f", {v.title}" if v is not None else ""

    def plan(self) -> Plan:
        """The plan of the character, or of the version that is worked on."""
        return self.plan_of(self.version_id)

    def plan_of(self, vid: str) -> Plan:
        """The plan of one version; of the character itself with an empty id."""
        c = self.character or NOBODY
        v = c.version(vid)
        its = {
            "decisions": _of(c.decisions, face_space().index),
            "versions": (_of(v, face_space().index),) if v is not None else (),
        }
        takes = _only(c, *FACES, "age", "noticed").model_copy(update=its)
        return _plan(takes, _about(self.project, c.decisions.norm), vid if v is not None else "")

    def own_plans(self) -> tuple[OwnPlan, ...]:
        """Plans of the character's own spans, or of the version's that is worked on."""
        return self.own_plans_of(self.version_id)

    def own_plans_of(self, vid: str) -> tuple[OwnPlan, ...]:
        """Plans of one version's own spans, each from the first reference it is measured on."""
        c = self.character
        return (
            _own_plans(c.references, c.spans, self.decisions_for(vid), self.toward_of(vid)) if c is not None and c.spans else ()
        )

    def side_plans(self) -> tuple[SidePlan, ...]:
        """Plans of what the character's profile shows, or of the version's that is worked on; none where it was not measured."""
        c = self.character
        if c is None:
            return ()
        return _side_plans(c.references, _of(self.decisions(), _profile_keys()), self.toward(), self.norm(profile_registry()))

    def figure_measured(self) -> Measured:
        """The reference figure the body's plan follows."""
        c = self.character
        return _figure_measured(_only(c, "references", "chosen_reference", "pooled", "spans") if c is not None else NOBODY)

    def figure_plan(self) -> FigurePlan:
        """The planned body of the character, or of the version that is worked on."""
        return self.figure_plan_of(self.version_id)

    def figure_plan_of(self, vid: str) -> FigurePlan:
        """The planned body of one version; of the character itself with an empty id."""
        return self.figure_plan_under((self.character or NOBODY).figure, vid)

    def figure_plan_under(self, choices: FigureChoices, vid: str | None = None) -> FigurePlan:
        """The planned body under other choices, everything else as it is."""
        c, vid = self.character or NOBODY, self.version_id if vid is None else vid
        v = c.version(vid)
        table = self.plan_of(vid).table
        head = (table["head_width_hh"], table["neck_width_hw"])
        age = v.age_of(c.age) if v is not None else c.age
        d = _of(self.decisions_for(vid), figure_space().index)
        return _figure_plan(self.figure_measured(), d, choices.still(), age, self.toward_of(vid), head)

    def under(self, edit: Callable[[Project], Project]) -> Derived:
        """The same open project as an edit would leave it."""
        return Supposed(edit(self.project), self.character.id if self.character else "", self.version_id)

    def match_at(self, heads_tall: float) -> Match:
        """The match where the figure is counted as another number of heads tall, as with its hair."""
        values = values_of(self.plan().table, self.figure_plan().readings)
        return matched({**values, "heads_tall": heads_tall})

    def match(self, heads: float | None = None) -> Match:
        """Whether head and body of the character, or of the version that is worked on, are of one age."""
        return _match(self.plan(), self.figure_plan(), heads)

    def study_toward(self, vid: str) -> Study | None:
        """The project's own style that a version goes toward; ``None`` for one of the library's."""
        toward = self.toward_of(vid).name
        return next((s for s in self.project.studies if s.name == toward), None)

    def meant_on(self, d: Drawing) -> tuple[str, ...]:
        """Readings that are left alone on a drawing: for itself, its character, its version, or the style it goes toward."""
        c = self.character or NOBODY
        v = c.version(d.version)
        study = self.study_toward(d.version)
        all_of = (d.meant, c.meant, v.meant if v is not None else (), study.meant if study is not None else ())
        return tuple(dict.fromkeys(k for some in all_of for k in some))

    def spreads_on(self, d: Drawing) -> tuple[tuple[str, float], ...]:
        """What the style a drawing is in is known to stray by; nothing against a norm, a school or itself."""
        kind, _, rest = d.basis.partition(":")
        if kind == "style":
            return style_spreads(style_for(rest, self.project.studies))
        return style_spreads(self.toward_of(d.version)) if not d.basis else ()

    def basis_of(self, d: Drawing) -> Face | str:
        """What a drawing is checked against: a face, the name of a basis, or the sentence why there is none.

        Raises
        ------
        OrthometError
        """
        kind, _, rest = d.basis.partition(":")
        if kind == "drawing":
            other = (self.character or NOBODY).drawing(rest)
            if other is None or other.id == d.id:
                raise LandmarkError("The drawing it was compared with is gone: choose another basis.")
            face = face_of_drawing(other.judged())
            if isinstance(face, str):
                raise LandmarkError(face)
            return face
        if d.basis.startswith("style:study:"):
            plan = self.pure(style_for(rest, self.project.studies))
            return face_of_plan(plan, NOBODY, ())
        if d.basis:
            return d.basis
        c = self.character or NOBODY
        side = targets(self.side_plans()) if d.version == self.version_id else ()
        return face_of_plan(self.plan_of(d.version), _only(c, "features", "pens", "decisions"), side)

    def compared(self, since: Compared | None = None) -> Compared | str:
        """The drawing against what it is checked against, or the sentence that says why it cannot be checked. ``since`` is its
        comparison of a moment ago, while a hand drags."""
        d = self.drawing
        if d is None:
            return "There is no drawing yet."
        try:
            basis = self.basis_of(d)
        except OrthometError as e:
            return str(e)
        ask = against_kept if since is None else against
        return ask(d.judged(), basis, self.meant_on(d), self.spreads_on(d), since)

    def drift(self, vid: str = "", view: str = "front") -> DrawnSet:
        """The character's drawings of one version and view side by side: what strays and creeps, against the version's plan."""
        found = of_set((self.character or NOBODY).drawings, vid, view)
        plan = self.plan_of(vid)
        if view == "front":
            return faces_drift(found, plan, self.toward_of(vid))
        against = self.figure_plan_of(vid) if view == "figure" else plan
        return others_drift(found, against, (self.character or NOBODY).posing, targets(self.side_plans()))

    def check(self) -> Check | str:
        """The drawing against what it is checked against, or the sentence that says why it cannot be checked."""
        told = self.compared()
        return told.check if isinstance(told, Compared) else told

    def check_figure(self, quick: bool = False) -> FigureCheck | str:
        """A drawn figure against the planned body, or the sentence that says why it cannot be checked; ``quick`` while a hand drags."""
        d = self.drawing
        if d is None:
            return "There is no drawing yet."
        return figure_kept(d.judged(), self.figure_plan_of(d.version), (self.character or NOBODY).posing, self.meant_on(d), quick)

    def check_profile(self, quick: bool = False) -> ProfileCheck | str:
        """A drawn profile against the plan's stations and its planned side, or the sentence why it cannot be checked; ``quick`` while a
        hand drags."""
        d = self.drawing
        if d is None:
            return "There is no drawing yet."
        return profile_kept(d.judged(), self.plan_of(d.version), targets(self.side_plans()), self.meant_on(d), quick)

    def check_view(self) -> Check | ViewCheck | str:
        """The check of whatever the drawing shows."""
        view = self.drawing.marks.view if self.drawing is not None else "front"
        return self.check_figure() if view == "figure" else self.check_profile() if view == "profile" else self.check()

    def style_shapes(self) -> StyleShapes | None:
        """What the style that is worked toward makes of shapes, where it says."""
        toward = self.toward()
        study = next((s for s in self.project.studies if s.name == toward.name), None)
        return shapes_of_study(study) if study is not None else toward.shapes

    def check_shapes(self) -> tuple[ShapeFinding, ...]:
        """Parts of a drawn face whose shape is another than the plan's; nothing where the points cannot be measured."""
        d = self.drawing
        if d is None or d.marks.view != "front" or not d.marks.points or d.marks.estimated or d.turned or d.basis or d.expression:
            return ()
        return _check_shapes(d.judged(), self.plan_of(d.version))

    def check_own(self) -> tuple[OwnCheck, ...]:
        """The character's own spans on the drawing against their plans; nothing where the points cannot be measured."""
        c, d = self.character, self.drawing
        return (
            _check_own(d.judged(), c.spans, self.own_plans_of(d.version)) if c is not None and d is not None and c.spans else ()
        )


class Supposed(Derived):
    """A project as it would be: nothing of it is open, it only answers."""

    def __init__(self, project: Project, character_id: str, version_id: str, drawing_id: str = ""):
        self.project, self._character_id, self._version_id, self._drawing_id = project, character_id, version_id, drawing_id

    @property
    def character(self) -> Character | None:
        return self.project.character(self._character_id)

    @property
    def version_id(self) -> str:
        return self._version_id

    @property
    def drawing(self) -> Drawing | None:
        c = self.character
        return c.drawing(self._drawing_id) if c is not None else None
