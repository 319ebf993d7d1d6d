"""Edits: pure functions from one project to the next. An edit of what is not there returns the project unchanged."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Mapping
from typing import Any, TypeVar

from ..datafiles import Record
from ..features.choices import FeatureChoices
from ..figure.choices import FigureChoices
from ..landmarks.frame import head_height
from ..landmarks.own import OwnSpan
from ..landmarks.points import Landmarks, State
from ..landmarks.views import OWN, SCHEMAS
from ..plan.decisions import Decisions
from ..plan.versions import Version, decisions_of, with_decisions
from ..pose.model import Posing
from ..shapes.model import Part, Relation, Shapes, without_part
from ..styles.schools import school
from .model import Character, Drawing, Marks, Project, Reference, Study

Edit = Callable[[Project], Project]
R = TypeVar("R", bound=Record)


def new_id() -> str:
    return uuid.uuid4().hex[:12]


def _with(record: R, **changes: Any) -> R:
    """A validated copy: unlike ``model_copy``, what is put in is checked."""
    return type(record).model_validate({**{k: getattr(record, k) for k in type(record).model_fields}, **changes})


def all_of(*edits: Edit) -> Edit:
    """Several edits as one, in their order."""

    def edit(p: Project) -> Project:
        for e in edits:
            p = e(p)
        return p

    return edit


def rename_project(title: str) -> Edit:
    return lambda p: _with(p, title=title.strip() or p.title)


def add_character(character: Character) -> Edit:
    return lambda p: _with(p, characters=(*p.characters, character))


def remove_character(cid: str) -> Edit:
    return lambda p: _with(p, characters=tuple(c for c in p.characters if c.id != cid))


def change_character(cid: str, change: Callable[[Character], Character]) -> Edit:
    def edit(p: Project) -> Project:
        return _with(p, characters=tuple(change(c) if c.id == cid else c for c in p.characters))

    return edit


def set_character(cid: str, **fields: Any) -> Edit:
    return change_character(cid, lambda c: _with(c, **fields))


def add_reference(cid: str, reference: Reference) -> Edit:
    return change_character(cid, lambda c: _with(c, references=(*c.references, reference), chosen_reference=reference.id))


def remove_reference(cid: str, rid: str) -> Edit:
    """A reference goes; parts that were taken from it stay as they are, in heads."""

    def one(c: Character) -> Character:
        gone = next((r for r in c.references if r.id == rid), None)
        fields: dict[str, Any] = {"references": tuple(r for r in c.references if r.id != rid)}
        if gone is not None and any(p.reference == rid for p in c.shapes.parts):
            from ..shapes.scene import taken_off
            from ..shapes.sources import frame_for

            fields["shapes"] = taken_off(c.shapes, rid, frame_for(gone.marks.landmarks(gone.image.size), gone.image.size))
        return _with(c, **fields)

    return change_character(cid, one)


def change_reference(cid: str, rid: str, **fields: Any) -> Edit:
    def one(c: Character) -> Character:
        return _with(c, references=tuple(_with(r, **fields) if r.id == rid else r for r in c.references))

    return change_character(cid, one)


def add_drawing(cid: str, drawing: Drawing) -> Edit:
    return change_character(cid, lambda c: _with(c, drawings=(*c.drawings, drawing)))


def remove_drawing(cid: str, did: str) -> Edit:
    return change_character(cid, lambda c: _with(c, drawings=tuple(d for d in c.drawings if d.id != did)))


def change_drawing(cid: str, did: str, **fields: Any) -> Edit:
    def one(c: Character) -> Character:
        return _with(c, drawings=tuple(_with(d, **fields) if d.id == did else d for d in c.drawings))

    return change_character(cid, one)


def set_decisions(cid: str, change: Callable[[Decisions], Decisions], vid: str = "") -> Edit:
    """Change a character's decisions, or those of one of its versions: there only what differs is kept."""

    def one(c: Character) -> Character:
        if not vid:
            return _with(c, decisions=change(c.decisions))

        def own(v: Version) -> Version:
            return _with(with_decisions(c.decisions, v, c.age, change(decisions_of(c.decisions, v, c.age))))

        return _with(c, versions=tuple(own(v) if v.id == vid else v for v in c.versions))

    return change_character(cid, one)


def set_emphasis(cid: str, key: str, e: float, vid: str = "") -> Edit:
    """Emphasis of one trait; its offset by hand is dropped, so that the word and the mark agree."""

    def change(d: Decisions) -> Decisions:
        offsets = {k: v for k, v in d.offsets.items() if k != key}
        return _with(d, emphasis={**d.emphasis, key: e}, offsets=offsets)

    if not vid:
        return set_decisions(cid, change)

    def one(c: Character) -> Character:
        def own(v: Version) -> Version:
            return _with(v, emphasis={**v.emphasis, key: e}, offsets={k: o for k, o in v.offsets.items() if k != key})

        return _with(c, versions=tuple(own(v) if v.id == vid else v for v in c.versions))

    return change_character(cid, one)


def set_offset(cid: str, key: str, offset: float | None, vid: str = "") -> Edit:
    def change(d: Decisions) -> Decisions:
        offsets = {k: v for k, v in d.offsets.items() if k != key}
        return _with(d, offsets=offsets if offset is None else {**offsets, key: offset})

    return set_decisions(cid, change, vid)


def forget_offsets(cid: str, vid: str = "") -> Edit:
    """Every mark moved by hand goes back; a version keeps what it inherits."""
    if not vid:
        return decide(cid, offsets={}, outline=())
    return change_version(cid, vid, offsets={})


def set_group_weight(cid: str, group: str, weight: float | None, vid: str = "") -> Edit:
    def change(d: Decisions) -> Decisions:
        weights = {k: v for k, v in d.group_weights.items() if k != group}
        return _with(d, group_weights=weights if weight is None else {**weights, group: weight})

    return set_decisions(cid, change, vid)


def decide(cid: str, vid: str = "", **fields: Any) -> Edit:
    return set_decisions(cid, lambda d: _with(d, **fields), vid)


def choose_school(cid: str, name: str) -> Edit:
    """Another guide school; its lines start where it says."""
    return decide(cid, school=name, school_settings={})


def set_school_line(cid: str, key: str, value: float) -> Edit:
    """Move a line the school lets one choose, as far as it lets one; a line it does not know stays."""

    def change(d: Decisions) -> Decisions:
        dial = school(d.school).settings.get(key)
        if dial is None:
            return d
        return _with(d, school_settings={**d.school_settings, key: max(dial.low, min(dial.high, round(value, 4)))})

    return set_decisions(cid, change)


def set_figure(cid: str, change: Callable[[FigureChoices], FigureChoices]) -> Edit:
    """Change what is decided for a character's body beside its readings."""
    return change_character(cid, lambda c: _with(c, figure=change(c.figure)))


def set_posing(cid: str, change: Callable[[Posing], Posing]) -> Edit:
    """Change how a character stands, or what it may stand like."""
    return change_character(cid, lambda c: _with(c, posing=change(c.posing)))


def set_shapes(cid: str, change: Callable[[Shapes], Shapes]) -> Edit:
    """Change a character's shapes."""
    return change_character(cid, lambda c: _with(c, shapes=change(c.shapes)))


def add_parts(cid: str, parts: tuple[Part, ...], front: bool = True) -> Edit:
    """Parts join a character's shapes, nearest to the viewer, or behind all others."""
    return set_shapes(cid, lambda s: _with(s, parts=(*s.parts, *parts) if front else (*parts, *s.parts)))


def change_part(cid: str, pid: str, **fields: Any) -> Edit:
    return set_shapes(cid, lambda s: _with(s, parts=tuple(_with(p, **fields) if p.id == pid else p for p in s.parts)))


def remove_part(cid: str, pid: str) -> Edit:
    return set_shapes(cid, lambda s: without_part(s, pid))


def move_part(cid: str, pid: str, by: int) -> Edit:
    """A part nearer to the viewer (positive) or further away, among the others."""

    def one(s: Shapes) -> Shapes:
        k = next((i for i, p in enumerate(s.parts) if p.id == pid), None)
        if k is None:
            return s
        rest = [p for p in s.parts if p.id != pid]
        rest.insert(max(0, min(len(rest), k + by)), s.parts[k])
        return _with(s, parts=tuple(rest))

    return set_shapes(cid, one)


def set_relations(cid: str, relations: tuple[Relation, ...]) -> Edit:
    return set_shapes(cid, lambda s: _with(s, relations=relations))


def set_features(cid: str, change: Callable[[FeatureChoices], FeatureChoices]) -> Edit:
    """Change how a character's features are drawn."""
    return change_character(cid, lambda c: _with(c, features=change(c.features)))


def add_version(cid: str, version: Version) -> Edit:
    return change_character(cid, lambda c: _with(c, versions=(*c.versions, version)))


def remove_version(cid: str, vid: str) -> Edit:
    """Take a version away; drawings of it are of the character itself from then on."""

    def one(c: Character) -> Character:
        drawings = tuple(_with(d, version="") if d.version == vid else d for d in c.drawings)
        return _with(c, versions=tuple(v for v in c.versions if v.id != vid), drawings=drawings)

    return change_character(cid, one)


def change_version(cid: str, vid: str, **fields: Any) -> Edit:
    def one(c: Character) -> Character:
        return _with(c, versions=tuple(_with(v, **fields) if v.id == vid else v for v in c.versions))

    return change_character(cid, one)


# ---- landmarks, the same for references and drawings


def place(marks: Marks, points: Mapping[str, tuple[float, float]], state: State = State.PLACED, spread: float = 0.0) -> Marks:
    """Put points down; what is placed by hand is sure, and uncertain by no more than ``spread`` pixels (0: the hand's own)."""
    states = {k: v for k, v in marks.states.items() if k not in points}
    left = {k: v for k, v in marks.spread.items() if k not in points}
    if spread > 0:
        left |= dict.fromkeys(points, spread)
    if state is not State.PLACED:
        states |= dict.fromkeys(points, state)
    out = _with(marks, points={**marks.points, **points}, states=states, spread=left)
    return out


def set_states(marks: Marks, names: list[str], state: State) -> Marks:
    states = {k: v for k, v in marks.states.items() if k not in names}
    if state is not State.PLACED:
        states |= dict.fromkeys(names, state)
    out = _with(marks, states=states)
    return out


CROWN_SPREAD = 0.015
"""How uncertain a crown under hair stays once confirmed, in heads (own)."""


def confirm(marks: Marks, names: list[str]) -> Marks:
    """Estimated points become placed. A crown is found under hair: confirmed, it stays uncertain until it is placed by hand."""
    out = set_states(marks, names, State.PLACED)
    tall = head_height(marks.points)
    return _with(out, spread={**out.spread, "vertex": CROWN_SPREAD * tall}) if "vertex" in names and tall else out


def nudge(marks: Marks, name: str, by: tuple[float, float]) -> tuple[float, float]:
    """Where a point lies once it is moved by so many pixels."""
    x, y = marks.points[name]
    return x + by[0], y + by[1]


def take_away(marks: Marks, names: list[str]) -> Marks:
    def keep(t: Mapping[str, Any]) -> dict[str, Any]:
        return {k: v for k, v in t.items() if k not in names}

    return _with(marks, points=keep(marks.points), states=keep(marks.states), spread=keep(marks.spread))


def without(marks: Marks, name: str) -> Marks:
    """Say that a point is not there by design."""
    gone = take_away(marks, [name])
    return _with(gone, states={**gone.states, name: State.ABSENT})


def show_view(marks: Marks, view: str) -> Marks:
    """Say that the picture shows another view: points both views have stay, and the artist's own."""
    names = SCHEMAS[view].index

    def keep(t: Mapping[str, Any]) -> dict[str, Any]:
        return {k: v for k, v in t.items() if k in names or OWN.fullmatch(k)}

    return _with(marks, view=view, points=keep(marks.points), states=keep(marks.states), spread=keep(marks.spread))


def keep_span(cid: str, rid: str, made: list[tuple[OwnSpan, tuple[tuple[float, float], tuple[float, float]]]]) -> Edit:
    """Add own spans to a character, and where their ends lie on one of its references."""

    def one(c: Character) -> Character:
        ends = {n: xy for span, places in made for n, xy in zip(span.ends, places, strict=True)}
        spans = (*c.spans, *(span for span, _ in made))
        refs = tuple(_with(r, marks=place(r.marks, ends)) if r.id == rid else r for r in c.references)
        return _with(c, spans=spans, references=refs)

    return change_character(cid, one)


def marks_of(found: Landmarks) -> Marks:
    """Landmarks from outside as they are saved."""
    return Marks(view=found.view, points=dict(found.points), states=dict(found.states), spread=dict(found.spread))


def take_landmarks(cid: str, rid: str, found: Landmarks) -> Edit:
    """Landmarks from a file for one reference; own spans the character does not have yet, and a turn, come with them."""

    def one(c: Character) -> Character:
        known = {s.id for s in c.spans}
        spans = (*c.spans, *(s for s in found.spans if s.id not in known))
        marks = marks_of(found)
        more = {"turn": found.turn} if found.turn is not None else {}
        refs = tuple(_with(r, marks=marks, **more) if r.id == rid else r for r in c.references)
        return _with(c, spans=spans, references=refs)

    return change_character(cid, one)


def forget_span(cid: str, sid: str) -> Edit:
    """Take an own span away, spans divided by it with it, and their ends on every picture."""

    def one(c: Character) -> Character:
        gone = [s for s in c.spans if s.id == sid or s.by == f"own:{sid}"]
        ends = [e for s in gone for e in s.ends if OWN.fullmatch(e)]
        refs = tuple(_with(r, marks=take_away(r.marks, ends)) for r in c.references)
        drawings = tuple(_with(d, marks=take_away(d.marks, ends)) for d in c.drawings)
        return _with(c, spans=tuple(s for s in c.spans if s not in gone), references=refs, drawings=drawings)

    return change_character(cid, one)


# ---- styles and hand


def add_study(study: Study) -> Edit:
    return lambda p: _with(p, studies=(*p.studies, study))


def remove_study(sid: str) -> Edit:
    """Take a style out of the project; characters drawn toward it go on toward the default one."""

    def edit(p: Project) -> Project:
        gone = next((s.name for s in p.studies if s.id == sid), "")

        def freed(c: Character) -> Character:
            d = c.decisions
            change: dict[str, Any] = {}
            if d.style == gone:
                change["style"] = Decisions().style
            if d.norm == f"style:{gone}":
                change["norm"] = Decisions().norm
            versions = tuple(_with(v, style="") if gone and v.style == gone else v for v in c.versions)
            return _with(c, decisions=_with(d, **change), versions=versions) if change or versions != c.versions else c

        return _with(p, studies=tuple(s for s in p.studies if s.id != sid), characters=tuple(freed(c) for c in p.characters))

    return edit


def change_study(sid: str, change: Callable[[Study], Study]) -> Edit:
    return lambda p: _with(p, studies=tuple(change(s) if s.id == sid else s for s in p.studies))


def set_study(sid: str, **fields: Any) -> Edit:
    return change_study(sid, lambda s: _with(s, **fields))


def change_sample(sid: str, did: str, **fields: Any) -> Edit:
    def one(s: Study) -> Study:
        return _with(s, samples=tuple(_with(d, **fields) if d.id == did else d for d in s.samples))

    return change_study(sid, one)


def leave_out(pair: str, out: bool) -> Edit:
    """Whether a pair of reference and drawing says nothing on the artist's hand."""

    def edit(p: Project) -> Project:
        rest = tuple(k for k in p.hand_left_out if k != pair)
        return _with(p, hand_left_out=(*rest, pair) if out else rest)

    return edit
