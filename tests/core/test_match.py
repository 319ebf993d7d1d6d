"""Whether head and body are of one age: the verdicts a trained eye gives, their steadiness, and what the cures do."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.derived import Supposed
from orthomet.core.errors import OrthometError
from orthomet.core.figure.canons import at_age, canon
from orthomet.core.figure.match import GOOD, Verdict, judged, matched
from orthomet.core.figure.values import values_of
from orthomet.core.figure.youth import known_youth, measure_youth, table, value_at, youth_of
from orthomet.core.plan.cures import CURES, cured
from orthomet.core.project.edits import set_character, set_figure, set_offset
from orthomet.core.project.model import Project
from orthomet.core.proportions.norms import norm
from orthomet.core.proportions.registry import front_registry
from orthomet.core.styles.library import style
from orthomet.demo.project import demo_project

FACE = ("eye_width_fw", "eye_station", "nose_length_hh", "mouth_width_fw", "chin_hh")
BODY = ("heads_tall", "trunk_hh", "neck_hw", "shoulder_hw", "ribcage_hw")


def face(*values: float) -> dict[str, float]:
    return dict(zip(FACE, values, strict=True))


def body(*values: float) -> dict[str, float]:
    return dict(zip(BODY, values, strict=True))


def body_of(name: str) -> dict[str, float]:
    r = canon(name).readings
    w = r["head_width_hh"]
    return body(r["heads_tall"], r["trunk_hh"], r["neck_hw"], r["shoulder_hh"] / w, r["ribcage_hh"] / w)


def of_age(age: float) -> dict[str, float]:
    n, at = norm("adult" if age >= 18 else f"age:{age:g}"), front_registry().index
    return {k: float(n.mean[at[k]]) for k in (*FACE, "eye_height_hh")} | body_of("measured" if age >= 18 else f"age:{age:g}")


BIG_EYES = face(0.31, 0.58, 0.11, 0.25, 0.16)
SPECIMENS = {
    "measured adult": (of_age(30), {"match"}),
    "child of 1": (of_age(1), {"match"}),
    "child of 5": (of_age(5), {"match"}),
    "child of 10": (of_age(10), {"match"}),
    "six heads, big eyes": (face(0.29, 0.57, 0.13, 0.27, 0.17) | body(6, 1.98, 0.40, 2.0, 1.25), {"slender"}),
    "two heads": (face(0.34, 0.64, 0.06, 0.2, 0.11) | body(2, 0.55, 0.30, 0.9, 0.8), {"match"}),
    "seven heads, slender, big eyes": (BIG_EYES | body(7, 2.36, 0.31, 1.23, 0.91), {"slender"}),
    "heroic, tiny eyes": (face(0.17, 0.49, 0.24, 0.42, 0.23) | body_of("heroic"), {"larger_than_life"}),
    "big eyes on an adult's body": (BIG_EYES | body_of("measured"), {"too_wide"}),
    "adult's head on a child's body": (of_age(30) | body_of("age:5"), {"too_short", "too_thin"}),
}
"""Heads and bodies that go together, or do not, as the trade sees them (common practice); measured ones from this project's norms."""


@pytest.mark.parametrize("name", SPECIMENS)
def test_specimens_are_judged_as_the_trade_does_and_steadily(name: str) -> None:
    values, wanted = SPECIMENS[name]
    assert matched(values).verdict in wanted
    rng, n = np.random.default_rng(5), 200
    same = 0
    for _ in range(n):
        shaken = {k: v + 0.008 * rng.normal() if k == "eye_station" else v * (1 + 0.03 * rng.normal()) for k, v in values.items()}
        same += matched(shaken).verdict in wanted
    assert same >= 0.85 * n


@pytest.mark.parametrize("key", table())
def test_youth_and_value_are_each_others_inverse(key: str) -> None:
    r = table()[key]
    assert [youth_of(key, v) for v in (r.adult, r.infant, r.extreme)] == pytest.approx([0, 1, 2])
    js = np.linspace(-1, 4 if key != "eye_station" else 3, 60)
    assert [youth_of(key, value_at(key, j)) for j in js] == pytest.approx(list(js), abs=1e-9)
    assert min(value_at(key, j) for j in np.linspace(-3, 8, 40)) > 0


def test_every_cure_cures() -> None:
    """Over heads of every age and bodies of every kind: a compact body matches, a slender one is slender (or matches), a changed head suits."""
    rng = np.random.default_rng(3)
    for _ in range(300):
        j = rng.uniform(-0.5, 2.3)
        values = {k: value_at(k, j + 0.15 * rng.normal()) for k in FACE} | {k: value_at(k, rng.uniform(-0.4, 2.1)) for k in BODY}
        m = matched(values, float(rng.uniform(2, 9.5)) if rng.random() < 0.5 else None)
        assert m.after["compact"] in GOOD and m.after["slender"] in GOOD, (values, m.after)
        suits = any(judged(j, m.youth.width, m.youth.length) in GOOD for j in np.linspace(-2, 4, 301))
        assert m.after["head"] in GOOD or not suits  # a body at odds with itself suits no head
        c, s = m.cures["compact"], m.cures["slender"]
        for cure in (c, s):
            assert cure["neck_hw"] < cure["ribcage_hw"] < cure["shoulder_hw"] and 1.5 <= cure["heads_tall"] <= 10
            assert cure["heads_tall"] - 1 - cure["trunk_hh"] > 0.1  # it has legs


def test_why_names_the_traits_that_speak() -> None:
    says = matched(BIG_EYES | body_of("measured")).says
    assert "big eyes" in says and "broad shoulders" in says and "too heavy" in says
    assert "few heads" in matched(of_age(30) | body_of("age:5")).says


def test_eyes_count_by_width_or_height_whichever_is_younger() -> None:
    low = measure_youth(of_age(30) | {"eye_height_hh": 0.048})
    tall = measure_youth(of_age(30) | {"eye_height_hh": 0.17})
    assert tall.face - low.face == pytest.approx(0.4 * 2, abs=0.02)


def test_what_is_not_known_is_not_guessed() -> None:
    with pytest.raises(OrthometError, match="shoulder_hw"):
        matched({k: v for k, v in of_age(30).items() if k not in ("neck_hw", "shoulder_hw", "ribcage_hw")})
    assert known_youth(body_of("measured"))["face"] is None


def test_verdicts_over_the_whole_plane_are_the_rules() -> None:
    for face_, width, length in np.random.default_rng(1).uniform(-0.8, 2.4, (400, 3)):
        v = judged(face_, width, length)
        if v is Verdict.TOO_SHORT:
            assert length - max(face_, 0) > 0.45
        if v is Verdict.SLENDER:
            assert face_ - length > 0.4
        if v is Verdict.LARGER:
            assert face_ < -0.25 and min(width, length) < -0.25


# ---- as plan edits


@pytest.mark.parametrize("who", [0, 1, 2, 3])
def test_a_cure_taken_is_what_was_promised(who: int) -> None:
    """Applied to the demo's people on the measured body: the plan then reads as the cure said, and is judged as it promised."""
    project = demo_project().project
    c = project.characters[who]
    project = set_figure(c.id, lambda f: f.model_copy(update={"canon": "measured"}))(project)
    project = set_character(
        c.id,
        decisions=c.decisions.model_copy(
            update={"group_weights": dict.fromkeys(("Whole", "Trunk", "Arms", "Legs", "Girths"), 0.0)}
        ),
    )(project)
    before = Supposed(project, c.id, "")
    m = before.match()
    for name in CURES:
        k = cured(
            name, m, before.plan(), before.decisions(), before.figure_plan(), before.character.figure, before.figure_plan_under
        )  # type: ignore[union-attr]
        p: Project = set_figure(c.id, lambda _, k=k: k.figure)(project)
        for key, offset in k.offsets.items():
            p = set_offset(c.id, key, offset)(p)
        after = Supposed(p, c.id, "")
        assert after.match().verdict == m.after[name] and m.after[name] in GOOD, name
        values = {**after.plan().table, **after.figure_plan().readings}
        for key, value in m.cures[name].items():
            if key in values:
                assert values[key] == pytest.approx(value, abs=0.02 * abs(value) + 0.004), (name, key)


def test_built_in_styles_are_people_whose_head_and_body_belong_together() -> None:
    for name in (
        "low-lantern",
        "quillmere-picture-book",
        "clog-dance",
        "bellows-rope",
        "sea-wall",
        "reed-light",
        "two-pebbles",
        "plain-page",
    ):
        rows = {k: r.mean for k, r in style(name).readings.items()}
        w = rows["head_width_hh"]
        body_ = rows | {
            "neck_hw": rows["neck_width_hw"],
            "shoulder_hw": rows["shoulder_hh"] / w,
            "ribcage_hw": rows["ribcage_hh"] / w,
        }
        assert matched(values_of(rows, body_)).verdict in GOOD, name


def test_ages_rise_as_youth_falls() -> None:
    y = [measure_youth(of_age(a)) for a in (1, 3, 5, 8, 11, 15)]
    for part in ("face", "width", "length"):
        assert (np.diff([getattr(v, part) for v in y]) < 0).all(), part
    assert at_age(3).heads < at_age(8).heads
