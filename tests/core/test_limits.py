"""Limits of the plan: ratios that the reference breaks stay ratios, features stay on the face that is drawn, nothing diverges."""

from __future__ import annotations

import warnings

import numpy as np
import pytest

from orthomet.core.head.outline import half_width, knots, width_at
from orthomet.core.head.taper import taper
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.plan import make_plan
from orthomet.core.plan.space import face_space
from orthomet.core.proportions.measure import measure
from orthomet.core.proportions.registry import front_registry
from orthomet.core.styles.library import styles
from orthomet.demo.cast import face
from tests.faces import marks_of, random_table

SPACE = face_space()


def wild(rng: np.random.Generator) -> Decisions:
    """Decisions no artist would make."""
    names = sorted(styles())
    e = {k: float(rng.choice([-2, 0, 0.5, 1, 2, 3, 5])) for k in SPACE.keys}
    o = {k: float(rng.normal() * 0.5) for k in SPACE.keys if rng.random() < 0.15}
    weight = float(rng.choice([0, 1, rng.random()]))
    return Decisions(
        style=names[int(rng.integers(len(names)))], style_weight=weight, emphasis=e, offsets=o, overlap=bool(rng.random() < 0.2)
    )


def test_hooded_eyes_stay_as_hooded_as_they_were() -> None:
    """Trade fact: an iris of twice the opening is a hooded eye; exaggerated, it may stay one, but does not become a closed one."""
    hooded = measure(marks_of(face(eye_opening_ew=0.20, iris_ew=0.44)))
    was = 0.44 / 0.20
    for e in (1.5, 2.0, 3.0, 5.0):
        plan = make_plan(
            hooded, Decisions(style_weight=0.0, emphasis_all=1.0, emphasis={"eye_opening_ew": e, "iris_ew": e})
        ).table
        assert plan["iris_ew"] / plan["eye_opening_ew"] <= was * 1.001, e
    same = make_plan(hooded, Decisions(style_weight=0.0, emphasis_all=1.0))
    assert same.table["eye_opening_ew"] == pytest.approx(0.20) and same.limits == ()


def test_the_envelope_follows_the_drawn_outline_of_wild_heads() -> None:
    rng, over = np.random.default_rng(0), []
    for _ in range(800):
        p = {
            "face_width_hh": np.exp(rng.normal(np.log(0.6), 0.25)), "jaw_width_fw": np.exp(rng.normal(np.log(0.78), 0.2)),
            "eye_station": rng.uniform(0.25, 0.8),
        }  # fmt: skip
        p["chin_width_fw"] = min(p["jaw_width_fw"], np.exp(rng.normal(np.log(0.45), 0.3)))
        p["head_width_hh"] = max(0.8 * p["face_width_hh"], p["face_width_hh"] * np.exp(rng.normal(0.1, 0.15)))
        p["nose_base_station"] = rng.uniform(p["eye_station"] + 0.01, 0.93)
        p["mouth_station"] = rng.uniform(p["nose_base_station"] + 0.01, 0.98)
        a, skull = half_width(p), p["head_width_hh"] / p["face_width_hh"]
        for key in ("eye_station", "nose_base_station", "mouth_station"):
            w = taper(p[key], knots(p).stations, skull, p["jaw_width_fw"], p["chin_width_fw"])
            over.append(w / (2 * float(width_at(a, p[key])) / p["face_width_hh"]))
    assert np.percentile(over, 99) < 1.02 and max(over) < 1.08 and np.median(over) > 0.9


def test_mouths_stay_on_the_face_however_wild() -> None:
    rng = np.random.default_rng(4)
    for _ in range(150):
        m = measure(marks_of(random_table(rng, 1.2)))
        plan = make_plan(m, wild(rng))
        reach = 1.0
        x, y = plan.points[FRONT.index["cheilion_l"]]
        ref = m.values[front_registry().index["mouth_width_fw"]]
        if ref < 0.5:  # what the reference itself has beyond its outline may stay
            reach = x / float(width_at(half_width(plan.table), y))
        assert reach < 1.0


def test_no_decision_makes_the_plan_fail() -> None:
    """A slice of the bench's 100,000."""
    rng = np.random.default_rng(9)
    with warnings.catch_warnings():
        warnings.simplefilter("error")
        for k in range(700):
            if k % 10 == 0:
                m = measure(marks_of(random_table(rng, float(rng.choice([1, 1.5, 2.5])))))
            plan = make_plan(m, wild(rng))
            assert np.isfinite(plan.traits).all() and np.isfinite(plan.likeness.score)


def test_emphasis_on_a_derived_trait_reaches_what_it_is_made_of() -> None:
    m = measure(marks_of(random_table(np.random.default_rng(2), 0.8)))
    reg = front_registry()

    def value(e: float | None, key: str) -> tuple[float, float]:
        plan = make_plan(m, Decisions(style_weight=0.0, emphasis={} if e is None else {key: e}))
        return float(plan.values[reg.index[key]]), float(np.abs(plan.traits - plan.reference).sum())

    for key in ("chin_hh", "philtrum_share", "eye_mouth_hh", "ear_length_hh"):
        plain, still = value(None, key)
        pushed, moved = value(1.8, key)
        from orthomet.core.proportions.norms import norm

        usual = float(norm().mean[reg.index[key]])
        assert still == pytest.approx(0, abs=1e-9) and moved > 0
        assert np.sign(pushed - plain) == np.sign(plain - usual), key  # big gets bigger, small smaller
        kept, _ = value(1.0, key)
        assert kept == pytest.approx(plain, abs=2e-4)


def test_an_age_moves_the_centre_and_is_no_lost_identity() -> None:
    from orthomet.core.plan.versions import Version
    from orthomet.core.project.model import Character
    from orthomet.core.resolve import plan_of_character
    from orthomet.demo.project import demo_project

    demo = demo_project().project
    c: Character = demo.characters[0]
    older = c.model_copy(update={"versions": (Version(id="o", title="older", kind="older", amount=20.0),)})
    plain, aged = plan_of_character(older, demo), plan_of_character(older, demo, "o")
    from orthomet.core.plan.plan import costs
    from orthomet.core.plan.versions import decisions_of

    assert aged.likeness.score > plain.likeness.score - 6
    assert not [x for x in costs(aged, decisions_of(c.decisions, older.versions[0], c.age)) if x.why == "moved by hand"]
    assert not np.allclose(aged.traits, plain.traits)


def test_likeness_means_something() -> None:
    """0 is the median stranger: half of all pairs of random faces lie at it, none of them near a friend's."""
    from orthomet.core.plan.plan import space_forward
    from orthomet.core.plan.scores import NOTCH, from_plain_share, likeness
    from orthomet.core.proportions.norms import norm

    rng, n, at = np.random.default_rng(3), norm(), SPACE.in_registry
    faces = []
    for _ in range(200):
        t = random_table(rng)
        faces.append((space_forward(SPACE, np.array([t[k] for k in SPACE.keys])) - n.g_mean[at]) / n.g_sd[at])
    zero = np.zeros(len(SPACE.keys))
    scores = [likeness(faces[i], faces[(7 * i + 3) % 200], zero).score for i in range(200)]
    assert 0.4 < np.mean(np.array(scores) == 0) < 0.6 and np.percentile(scores, 95) < 40
    assert likeness(faces[0], faces[0], zero).score == pytest.approx(100)
    assert from_plain_share(100) == 100 and from_plain_share(10) == 0 and 8 < NOTCH < 9
