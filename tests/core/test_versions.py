"""Versions keep the person and move the centre; likeness held; start anywhere; chosen unevenness."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.errors import FormatError, UnknownName
from orthomet.core.kinds import backward, forward
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.hold import MOST, held, raised
from orthomet.core.plan.plan import Plan, make_plan
from orthomet.core.plan.start import STARTS, head_height, heads_of
from orthomet.core.plan.versions import Version, age_shift, decisions_of, inherited, with_decisions
from orthomet.core.project.edits import add_version, change_version, decide, remove_version, set_emphasis, set_offset
from orthomet.core.project.model import Project
from orthomet.core.project.store import Stored, read, write
from orthomet.core.proportions.norms import norm
from orthomet.core.proportions.registry import front_registry
from orthomet.core.resolve import plan_of_character
from orthomet.demo.project import demo_project

CAST = demo_project().project
BERTA, WICK = CAST.characters[0], CAST.characters[2]
KINDS = st.sampled_from(["younger", "older", "milder", "stronger", "edition"])


def version(kind: str, amount: float = 10, **more: object) -> Version:
    return Version.model_validate({"id": "v", "title": "t", "kind": kind, "amount": amount, "style": "low-lantern", **more})


def plan(v: Version | None, who: object = BERTA) -> Plan:
    c = who.model_copy(update={"versions": (v,) if v else ()})  # type: ignore[attr-defined]
    return plan_of_character(c, CAST, "v" if v else "")


def test_younger_reads_younger_and_keeps_the_person() -> None:
    """The centre goes toward the child's norm; every deviation from the centre stays as it was."""
    grown = BERTA.model_copy(update={"age": 20})
    base, young = plan(None, grown), plan(version("younger", 12), grown)
    t, y = base.table, young.table
    assert y["eye_width_fw"] > t["eye_width_fw"] and y["eye_station"] > t["eye_station"]
    assert y["nose_length_hh"] < t["nose_length_hh"]
    reg, adult, child = front_registry(), norm("adult"), norm("age:8")
    for k in ("eye_station", "nose_length_hh", "mouth_width_fw"):
        kind, i = reg[k].kind, reg.index[k]
        shift = forward(kind, child.mean[i]) - forward(kind, adult.mean[i])
        j = base.space.index[k]
        assert forward(kind, young.raw[j]) - forward(kind, base.raw[j]) == pytest.approx(float(shift), abs=1e-9)


def test_older_than_grown_ages_by_the_table() -> None:
    shift = age_shift(38, 78)
    assert shift["nose_length_hh"] > 0 > shift["upper_lip_hh"] and set(shift) < set(plan(None).space.keys)
    assert age_shift(30, 30) == {}
    there, back = age_shift(12, 40), age_shift(40, 12)
    assert all(there[k] == pytest.approx(-back[k]) for k in there)
    wick = plan(version("older", 15), WICK)
    assert wick.table["eye_station"] < plan(None, WICK).table["eye_station"]
    assert version("older", 90).age_of(100) == 150 and version("younger", 50).age_of(20) == 0


def test_milder_and_stronger_scale_what_deviates() -> None:
    c = BERTA.decisions
    for kind, factor in (("milder", 0.5), ("stronger", 2.0)):
        d = decisions_of(c, version(kind, factor), BERTA.age)
        for k in plan(None).space.keys:
            assert d.emphasis_of(k) == pytest.approx(max(-5, min(5, factor * c.emphasis_of(k))))
    assert plan(version("milder", 0.3)).likeness.score < plan(None).likeness.score


def test_forbidden_traits_stay_the_parents() -> None:
    keys = ("eye_gap_ew", "nose_length_hh", "eye_station")
    for kind in ("younger", "edition", "stronger"):
        free, fixed = plan(version(kind, 2.0)), plan(version(kind, 2.0, forbidden=keys))
        base = plan(None)
        for k in keys:
            i = base.space.index[k]
            assert fixed.raw[i] == pytest.approx(base.raw[i], abs=1e-9)
        assert not np.allclose(free.raw, fixed.raw)


@settings(max_examples=40, deadline=None)
@given(KINDS, st.floats(0.1, 4), st.floats(-1, 1), st.floats(-4, 4), st.floats(0, 1))
def test_what_is_changed_in_a_version_is_read_back(kind: str, amount: float, offset: float, e: float, s: float) -> None:
    v = version(kind, amount)
    base = BERTA.decisions
    wanted = decisions_of(base, v, BERTA.age).model_copy(
        update={"emphasis": {**inherited(base, v, BERTA.age).emphasis, "iris_ew": e}, "style_weight": s}
    )
    wanted = wanted.model_copy(
        update={"offsets": {**wanted.offsets, "eye_gap_ew": wanted.offsets.get("eye_gap_ew", 0.0) + offset}}
    )
    got = decisions_of(base, with_decisions(base, v, BERTA.age, wanted), BERTA.age)
    assert got.emphasis_of("iris_ew") == pytest.approx(e) and got.style_weight == s
    assert got.offsets.get("eye_gap_ew", 0.0) == pytest.approx(wanted.offsets["eye_gap_ew"], abs=1e-8)


def test_a_version_follows_its_parent_but_for_its_own_changes(tmp_path: object) -> None:
    p = add_version("berta", version("younger", 20))(Project(characters=(BERTA.model_copy(update={"versions": ()}),)))
    p = set_offset("berta", "eye_gap_ew", 0.1, "v")(set_emphasis("berta", "iris_ew", 2.0, "v")(p))
    v = p.characters[0].versions[0]
    assert v.emphasis == {"iris_ew": 2.0} and set(v.offsets) == {"eye_gap_ew"}
    assert p.characters[0].decisions == BERTA.decisions
    p = decide("berta", style_weight=0.9)(p)
    c = p.characters[0]
    assert decisions_of(c.decisions, c.versions[0], c.age).style_weight == 0.9
    p = decide("berta", "v", style_weight=0.1)(p)
    assert p.characters[0].versions[0].style_weight == 0.1 and p.characters[0].decisions.style_weight == 0.9
    p = change_version("berta", "v", title="As a girl", forbidden=("iris_ew",))(p)
    assert p.characters[0].versions[0].title == "As a girl"
    drawn = p.characters[0].model_copy(update={"drawings": tuple(d.model_copy(update={"version": "v"}) for d in BERTA.drawings)})
    p = p.model_copy(update={"characters": (drawn,)})
    path = str(tmp_path) + "/v.orthomet"
    write(path, Stored(p, demo_project().pictures))
    assert read(path).project == p
    p = remove_version("berta", "v")(p)
    assert p.characters[0].versions == () and all(d.version == "" for d in p.characters[0].drawings)


# ---- likeness held


def test_likeness_is_held_by_the_smallest_rise() -> None:
    measured, keys = _measured(), ("nose_length_hh", "eye_gap_ew", "mouth_width_fw")

    def by(d: Decisions) -> Plan:
        return make_plan(measured, d, keys)

    calm = Decisions(style="low-lantern", style_weight=0.3, emphasis_all=0.7)
    target = by(calm).likeness.score + 3
    d, plan_ = held(by, calm, keys, target)
    assert plan_.likeness.score == pytest.approx(target, abs=1.0) and plan_.likeness.score >= target - 1e-9
    rise = d.emphasis_of(keys[0]) - calm.emphasis_of(keys[0])
    assert 0 < rise <= MOST and d.emphasis_of("iris_ew") == calm.emphasis_of("iris_ew")
    less = by(raised(calm, keys, 0.9 * rise)).likeness.score
    assert less < target
    assert held(by, calm, keys, target - 20)[0] == calm
    out_of_reach, best = held(by, calm, keys, 100.0)
    assert best.likeness.score >= by(calm).likeness.score and out_of_reach.emphasis_of(keys[0]) <= MOST + 0.7


def _measured() -> object:
    from orthomet.core.resolve import measured_reference

    return measured_reference(BERTA)  # type: ignore[return-value]


def test_the_plan_holds_the_likeness_it_is_told_to() -> None:
    base = BERTA.model_copy(
        update={"decisions": BERTA.decisions.model_copy(update={"style_weight": 0.2, "emphasis_all": 0.6, "emphasis": {}})}
    )
    score = plan_of_character(base, CAST).likeness.score
    hard = base.decisions.model_copy(update={"style_weight": 0.45})
    loose = plan_of_character(base.model_copy(update={"decisions": hard}), CAST)
    tight = plan_of_character(base.model_copy(update={"decisions": hard.model_copy(update={"hold": score})}), CAST)
    assert loose.likeness.score < tight.likeness.score <= score + 1.0


def test_likeness_falls_and_style_rises_with_the_style_weight() -> None:
    """On random references, to one point; bench runs 500."""
    rng = np.random.default_rng(8)
    reg, n = front_registry(), norm()
    from orthomet.core.proportions.measure import Measured
    from tests.faces import random_table

    for _ in range(12):
        table = random_table(rng, 1.0)
        values = np.full(len(reg.readings), np.nan)
        for k, x in table.items():
            values[reg.index[k]] = x
        m = Measured(reg, values, (None,) * len(values), np.zeros(len(values)))
        plans = [make_plan(m, Decisions(style="low-lantern", style_weight=s)) for s in np.linspace(0, 1, 6)]
        likes, styles = [p.likeness.score for p in plans], [p.style or 0.0 for p in plans]
        assert (np.diff(likes) < 1.0).all() and (np.diff(styles) > -1.0).all()
    assert len(n.mean) == len(reg.readings)


# ---- start anywhere, unevenness


@pytest.mark.parametrize("name", STARTS)
def test_any_feature_sets_the_scale(name: str) -> None:
    points = plan(None).points
    heads = heads_of(name, points)
    assert 0 < heads <= 1 and head_height(name, 100 * heads, points) == pytest.approx(100)
    with pytest.raises(FormatError):
        head_height(name, 1e6, points)


def test_what_has_no_length_starts_nothing() -> None:
    points = plan(None).points.copy()
    with pytest.raises(UnknownName):
        heads_of("wing", points)
    points[FRONT.index["cheilion_l"]] = points[FRONT.index["cheilion_r"]]
    with pytest.raises(FormatError):
        heads_of("mouth", points)


def test_chosen_unevenness_is_part_of_the_plan() -> None:
    c = BERTA.model_copy(update={"decisions": BERTA.decisions.model_copy(update={"uneven": {"level_brow_peak_hh": 0.02}})})
    even, uneven = plan(None).points, plan_of_character(c, CAST).points
    left, right = FRONT.index["brow_peak_l"], FRONT.index["brow_peak_r"]
    assert even[left, 1] == pytest.approx(even[right, 1])
    assert uneven[left, 1] - uneven[right, 1] == pytest.approx(0.02)
    with pytest.raises(ValueError, match="chosen difference"):
        Decisions.model_validate({"uneven": {"level_brow_peak_hh": 0.9}})
    assert backward(front_registry()["eye_station"].kind, 0.0) == pytest.approx(0.5)


def test_a_version_survives_the_loss_of_its_style() -> None:
    """A study was taken away, or the library lacks the style: the character's own stands in, with a sentence on opening."""
    from orthomet.core.project.edits import remove_study
    from orthomet.core.resolve import with_known_names

    lost = version("edition").model_copy(update={"style": "from-elsewhere"})
    c = BERTA.model_copy(update={"versions": (lost,)})
    assert np.allclose(plan_of_character(c, CAST, "v").raw, plan_of_character(c, CAST).raw)
    opened, told = with_known_names(CAST.model_copy(update={"characters": (c,)}))
    assert opened.characters[0].versions[0].style == "" and len(told) == 1 and "from-elsewhere" in told[0]
    study = CAST.studies[0]
    drawn = BERTA.model_copy(update={"versions": (lost.model_copy(update={"style": study.name}),)})
    p = remove_study(study.id)(CAST.model_copy(update={"characters": (drawn,)}))
    assert p.characters[0].versions[0].style == "" and p.studies == ()


def test_two_versions_of_one_id_are_refused() -> None:
    from pydantic import ValidationError

    from orthomet.core.project.model import Character

    with pytest.raises(ValidationError, match="id of its own"):
        Character(id="x", name="X", versions=(version("older"), version("milder")))
    with pytest.raises(ValidationError):
        version("wiser")
    assert plan_of_character(BERTA, CAST, "nobody").table == plan_of_character(BERTA, CAST).table
