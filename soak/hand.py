"""Edits by chance, of the kinds a hand makes."""

from __future__ import annotations

import random

from orthomet.core.landmarks.points import State
from orthomet.core.plan.figure import figure_space
from orthomet.core.plan.space import face_space
from orthomet.core.project import edits
from orthomet.core.project.model import Character, Project


def random_edit(rng: random.Random, project: Project) -> edits.Edit:
    """Any edit; some are refused by the model, as they are when a hand goes too far."""
    cast = project.characters
    if not cast or rng.random() < 0.04:
        return edits.add_character(Character(id=edits.new_id(), name=rng.choice(("Stoker", "", "ß“x”"))))
    c = rng.choice(cast)
    trait = rng.choice(face_space().keys)
    ref = rng.choice(c.references) if c.references else None
    made = [
        edits.rename_project(rng.choice(("A", "Fähre", "x" * 300))),
        edits.set_emphasis(c.id, trait, rng.choice((-6.0, -1.0, 0.0, 0.5, 2.0, 5.0))),
        edits.set_offset(c.id, trait, rng.choice((None, rng.gauss(0, 0.4), 90.0))),
        edits.set_group_weight(c.id, rng.choice(("Eyes", "Nose", "Mouth", "Head")), rng.choice((None, rng.random(), 2.0))),
        edits.decide(c.id, style_weight=rng.random(), overlap=rng.random() < 0.3, norm=rng.choice(("adult", "age:6", "cast", "style:low-lantern"))),
        edits.set_character(c.id, age=rng.choice((3.0, 40.0, 151.0)), height_m=rng.choice((0.5, 2.2)), pooled=rng.random() < 0.5),
        edits.choose_school(c.id, rng.choice(("halves", "two-circles", "circle-and-cross", "low-eyes"))),
        edits.set_features(c.id, lambda f: f.with_values("hair", {"kind": 1.0, "volume": rng.uniform(0.01, 0.16)})),
        edits.set_offset(c.id, rng.choice(figure_space().keys), rng.choice((None, rng.gauss(0, 0.4)))),
        edits.set_figure(c.id, lambda f: f.model_copy(update={
            "canon": rng.choice(("age", "heroic", "two-heads", "rubber-limb", "age:3", "nowhere")), "heads": rng.choice((None, 1.5, 4.0, 10.0)),
            "form": {"feminine": rng.random(), "belly": rng.random()}, "limbs": rng.choice(("", "jointed", "rubber")),
        })),
    ]  # fmt: skip
    if rng.random() < 0.05:
        made.append(edits.remove_character(c.id))
    if ref is not None and ref.marks.points:
        name = rng.choice(list(ref.marks.points))
        x, y = ref.marks.points[name]
        moved = (x + rng.gauss(0, 40), y + rng.gauss(0, 40))
        marks = rng.choice((
            lambda: edits.place(ref.marks, {name: moved}), lambda: edits.set_states(ref.marks, [name], rng.choice(list(State))),
            lambda: edits.take_away(ref.marks, [name]), lambda: edits.confirm(ref.marks, list(ref.marks.points)),
        ))()  # fmt: skip
        made += [edits.change_reference(c.id, ref.id, marks=marks)] * 4
    return rng.choice(made)
