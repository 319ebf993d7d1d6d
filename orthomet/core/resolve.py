"""From what a command or a view names (a landmark file, a style, a project's character) to a plan."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from .errors import FormatError, OrthometError, UnknownName
from .features.choices import PLAIN, FeatureChoices
from .features.expression import NEUTRAL, Expression
from .features.pens import USUAL_PENS, LinePlan
from .kept import remembered
from .kinds import Array
from .landmarks.files import read_landmarks
from .landmarks.level import LevelBy, levelled
from .landmarks.points import Landmarks, require_front, without_own
from .landmarks.schema import FRONT
from .names import named
from .plan.decisions import Decisions
from .plan.figure import FigurePlan, plan_figure
from .plan.hold import held
from .plan.plan import Plan, make_plan, offset_for
from .plan.side import plan_side, targets
from .plan.space import face_space
from .plan.versions import decisions_of
from .project.model import Character, Project, Study
from .project.store import SUFFIX, Stored, read
from .proportions.measure import Measured, measure
from .proportions.norms import Norm, cast_mean, norm_over, with_means
from .proportions.registry import Registry, front_registry
from .proportions.views import figure_registry, profile_registry
from .references import measure_reference, pool, profile_of, straight
from .studies import style_of_study
from .styles.library import Style, style, styles
from .styles.schools import schools


def nothing_measured(registry: Registry | None = None) -> Measured:
    """A face, or what another registry is of, of which nothing is known: every trait is planned at the centre."""
    reg = registry or front_registry()
    nan = np.full(len(reg.readings), np.nan)
    return Measured(reg, nan, (None,) * len(reg.readings), np.zeros(len(reg.readings)))


def measured_reference(character: Character) -> Measured:
    """What the plan follows: the chosen reference's front face, or all fronts pooled."""
    if character.pooled:
        together = pool(character)
        return together.measured if together is not None else nothing_measured()
    ref = character.face
    return measure_reference(ref, character.spans) if ref is not None else nothing_measured()


def figure_measured(character: Character) -> Measured:
    """What the body's plan follows: the chosen reference figure or the first that is marked, or all of them pooled."""
    if character.pooled:
        together = pool(character, "figure")
        if together is not None:
            return together.measured
    refs = [r for r in character.references if r.marks.view == "figure" and r.marks.points]
    chosen = next((r for r in refs if r.id == character.chosen_reference), refs[0] if refs else None)
    return measure_reference(chosen) if chosen is not None else nothing_measured(figure_registry())


def figure_of_character(character: Character, project: Project) -> FigurePlan:
    """The planned body of a character."""
    measured = figure_measured(character)
    plan = plan_of_character(character, project)
    toward = style_for(character.decisions.style, project.studies)
    table = {k: v for k, v in measured.table.items() if measured.sure(k)}
    return plan_figure(table, character.decisions, character.figure, character.age, toward, plan.table)


def style_for(name: str, studies: tuple[Study, ...] = ()) -> Style:
    """A style by name: of the project's own studies, of the library, or from a file.

    Raises
    ------
    UnknownName, FormatError
    """
    for study in studies:
        if study.name == name:
            return style_of_study(study)
    try:
        return style(name)
    except UnknownName:
        meant = named(name, ((s.name, s.title) for s in studies))
        if meant is None:
            raise
        return style_for(meant, studies)


def norm_for(name: str, registry: Registry, project: Project | None = None) -> Norm:
    """A norm by name: ``adult``, ``age:10``, ``style:NAME`` (a style's own values, the adult's elsewhere), or ``cast``.

    Raises
    ------
    UnknownName, FormatError
    """
    if name[:6].casefold() == "style:":
        chosen = style_for(name[6:], project.studies if project else ())
        return _style_norm(name, chosen, registry)
    if name.casefold() == "cast":
        faces = [_table(c, registry) for c in project.characters] if project else []
        return cast_mean(faces, registry)
    return norm_over(name, registry)


@remembered(48)
def _style_norm(name: str, chosen: Style, registry: Registry) -> Norm:
    means = {k: r.mean for k, r in chosen.readings.items()}
    note = f"“{chosen.title}” as the measure: for judging a drawn face by its own style."
    return with_means(name, chosen.title, note, means, registry, chosen.source or chosen.title)


def _table(character: Character, registry: Registry) -> Mapping[str, float]:
    ref = next((r for r in character.references if r.marks.view == registry.schema.view and r.marks.points), None)
    if character.reference is not None and character.reference.marks.view == registry.schema.view:
        ref = character.reference
    try:
        m = measure_reference(ref, character.spans) if ref else None
    except OrthometError:
        return {}
    return {k: v for k, v in m.table.items() if m.sure(k)} if m else {}


def plan_of_character(character: Character, project: Project | None = None, version: str = "") -> Plan:
    """The plan of a character, or of one of its versions by id."""
    v = character.version(version)
    if v is None:
        return _plan(character, character.decisions, project)
    d = decisions_of(character.decisions, v, character.age)
    plan = _plan(character, d, project)
    if v.forbidden:  # identity marks stay exactly as the parent's
        parent = _plan(character, character.decisions, project)
        fixed = {k: offset_for(plan, d, k, float(parent.raw[plan.space.index[k]])) for k in v.forbidden if k in plan.space.index}
        plan = _plan(character, d.model_copy(update={"offsets": {**d.offsets, **fixed}}), project)
    return plan


def _plan(character: Character, d: Decisions, project: Project | None) -> Plan:
    try:
        toward = style_for(d.style, project.studies if project else ())
    except OrthometError:  # a study that was taken away since, or a version's style this library lacks
        toward = style_for(character.decisions.style, project.studies if project else ())
    try:
        against = norm_for(d.norm, front_registry(), project)
    except OrthometError:  # the mean of a cast nobody of which is measured any more
        against = norm_over("adult", front_registry())
    measured = measured_reference(character)

    def by(e: Decisions) -> Plan:
        return make_plan(measured, e, character.noticed, toward, against)

    if d.hold is None:
        return by(d)
    keys = tuple(k for k in character.noticed if k in face_space().index) or by(d).noticed
    return held(by, d, keys, d.hold)[1]


def plan_toward(toward: Style) -> Plan:
    """A style itself: nothing of a reference, full style weight."""
    return make_plan(nothing_measured(), Decisions(style=toward.name, style_weight=1.0), (), toward)


def plan_of_style(name: str) -> Plan:
    """A style of the library, or of a file, by itself."""
    return plan_toward(style(name))


AS_IS = Decisions(style="measured-adult", style_weight=0.0, emphasis_all=1.0, balance=1.0, overlap=True)
"""A face taken as its own plan (s = 0, e = 1, its asymmetries kept)."""


@dataclass(frozen=True)
class Face:
    """A face as a plan: its drawing table and its points in head units."""

    table: dict[str, float]
    points: Array
    choices: FeatureChoices = PLAIN
    expression: Expression = NEUTRAL
    chin_forward: float = 0.0
    pens: LinePlan = USUAL_PENS
    side: tuple[tuple[str, float], ...] = ()
    """Profile readings as they are planned, heads."""


def face_as_plan(marks: Landmarks) -> Face:
    """Landmarks taken as the plan itself. Points that are there stay where they are (levelled, in heads).

    Raises
    ------
    FormatError
        Crown or chin missing: there is no head to measure by.
    """
    require_front(marks, "A face that stands for a plan")
    marks = without_own(marks)
    if "vertex" not in marks.points or "gnathion" not in marks.points:
        raise FormatError("A face that stands for a plan needs its crown and its chin.")
    plan = make_plan(measure(marks), AS_IS)
    xy = levelled(marks.array(), LevelBy.CENTRE)
    top, chin = xy[FRONT.index["vertex"]], xy[FRONT.index["gnathion"]]
    own = (xy - top) / (chin[1] - top[1])
    own[:, 0] -= _middle(own)
    return Face(dict(plan.table), own)


def _middle(points: Array) -> float:
    ends = points[[FRONT.index["zygion_l"], FRONT.index["zygion_r"]], 0]
    return float(ends.mean()) if np.isfinite(ends).all() else 0.0


def complete(face: Face) -> Face:
    """The same face with the points it lacks filled in from its plan, for drawing."""
    from .head.points import plan_points

    filled = np.where(np.isfinite(face.points), face.points, plan_points(face.table))
    return replace(face, points=filled)


def split_project_name(text: str) -> tuple[str, str]:
    """“FILE.orthomet:NAME” → (FILE.orthomet, NAME)."""
    if Path(text).exists() or ":" not in text:
        return text, ""
    path, _, name = text.rpartition(":")
    return path, name


def find_character(stored: Stored, name: str) -> Character:
    """A character by id or name; the first that has a reference when none is named.

    Raises
    ------
    UnknownName, OrthometError
    """
    cast = stored.project.characters
    if not cast:
        raise OrthometError("The project has no character yet.")
    if not name:
        return next((c for c in cast if c.references), cast[0])
    meant = named(name, ((c.id, c.name) for c in cast))
    for c in cast:
        if c.id == meant or (meant is None and name.casefold() in c.name.casefold().split()):
            return c
    raise UnknownName("character", name, [c.name for c in cast])


def side_of_character(c: Character, project: Project) -> tuple[tuple[str, float], ...]:
    """The profile a character's head is built to, from the first profile that is marked; nothing without one."""
    ref = profile_of(c.references)
    if ref is None:
        return ()
    try:
        against = norm_for(c.decisions.norm, profile_registry(), project)
    except OrthometError:
        against = norm_over("adult", profile_registry())
    toward = style_for(c.decisions.style, project.studies)
    return targets(plan_side(measure_reference(ref).table, c.decisions, toward, against))


def is_project(text: str) -> bool:
    return split_project_name(text)[0].endswith(SUFFIX)


def plan_points_of(text: str) -> tuple[Face, tuple[str, ...]]:
    """What a drawing is checked against: a face's own points, or the plan of a project's character.

    Returns the face and the readings that are meant already.
    """
    if is_project(text):
        path, name = split_project_name(text)
        stored = read(path)
        character = find_character(stored, name)
        plan = plan_of_character(character, stored.project)
        meant = tuple(dict.fromkeys(k for d in character.drawings for k in d.meant))
        d = character.decisions
        side = side_of_character(character, stored.project)
        face = Face(dict(plan.table), plan.points, character.features, character.expression, d.chin_forward, character.pens, side)
        return face, meant
    return face_as_plan(straight(read_landmarks(text))), ()


def _norm_there(name: str, project: Project) -> bool:
    try:
        norm_for(name, front_registry(), project)
    except OrthometError:
        return name == "cast"
    return True


def with_known_names(project: Project) -> tuple[Project, tuple[str, ...]]:
    """The project with defaults for every style, norm or school that is not in this library, and a sentence for each.

    A project may come from somebody whose library holds more; it opens all the same, and its file is not touched.
    """
    told: list[str] = []
    cast = []
    for c in project.characters:
        d, default = c.decisions, Decisions()
        change: dict[str, object] = {}
        for what, name, known, stand_in in (
            ("style", d.style, {*styles(), *(s.name for s in project.studies)}, default.style),
            ("norm", d.norm, {d.norm} if _norm_there(d.norm, project) else {}, default.norm),
            ("school", d.school, schools(), default.school),
        ):
            if name not in known:
                change[what] = stand_in
                told.append(f"The {what} “{name}” of {c.name} is not in the library; “{stand_in}” stands in.")
        versions = []
        for v in c.versions:
            if v.style and v.style not in {*styles(), *(s.name for s in project.studies)}:
                told.append(f"The style “{v.style}” of {c.name}, {v.title}, is not in the library; its own stands in.")
                v = v.model_copy(update={"style": ""})
            versions.append(v)
        dials = schools()[str(change.get("school", d.school))].settings
        mine = {} if "school" in change else d.school_settings  # lines of a school that is not here say nothing of its stand-in
        fitting = {k: min(max(v, dials[k].low), dials[k].high) for k, v in mine.items() if k in dials}
        if fitting != d.school_settings:
            change["school_settings"] = fitting
            moved = [dials[k].words.lower() for k, v in fitting.items() if v != d.school_settings[k]]
            told += [f"{c.name}: {words} is held as far as its school now goes." for words in moved]
        here = {"decisions": d.model_copy(update=change), "versions": tuple(versions)}
        cast.append(c.model_copy(update=here) if change or tuple(versions) != c.versions else c)
    return (project.model_copy(update={"characters": tuple(cast)}) if cast else project), tuple(told)
