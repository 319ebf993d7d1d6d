"""The body: canons and ages, what a build is measured to be, the plan and its limits."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.errors import OrthometError
from orthomet.core.figure.build import OF_READING, Form, build_of, readings_of
from orthomet.core.figure.canons import PLANNED, at_age, canon, canon_names, named, with_feminine, with_heads
from orthomet.core.figure.choices import FORM_BOUNDS, USUAL_FIGURE, FigureChoices
from orthomet.core.figure.mannequin import mannequin
from orthomet.core.landmarks.points import Landmarks
from orthomet.core.landmarks.templates import template
from orthomet.core.landmarks.views import FIGURE
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.figure import figure_offset, figure_space, plan_figure
from orthomet.core.proportions.growth import heads_tall
from orthomet.core.proportions.measure import measure
from orthomet.core.styles.library import style
from tests.bodies import off, read_back

PLAIN = style("measured-adult")
AS_IS = Decisions(style="measured-adult", style_weight=0.0)


def planned(
    choices: FigureChoices = USUAL_FIGURE, measured: dict[str, float] | None = None, d: Decisions = AS_IS, age: float = 30
):  # type: ignore[no-untyped-def]
    return plan_figure(measured or {}, d, choices, age, PLAIN, {})


# ---- canons


def test_vitruvius_fractions_on_the_classical_canon() -> None:
    """Vitruvius, De architectura III.1: the head an eighth of the height, the hand a tenth, the foot a sixth, and a cubit (forearm with hand) a
    quarter."""
    r = named()["classical"].readings
    tall = r["heads_tall"]
    assert tall == 8
    assert r["hand_hh"] == pytest.approx(tall / 10, abs=0.005)
    assert r["foot_hh"] == pytest.approx(tall / 6, abs=0.005)
    assert r["forearm_hh"] + r["hand_hh"] == pytest.approx(tall / 4, abs=0.005)


def test_the_measured_adult_is_seven_and_a_half_heads() -> None:
    """Richer, Canon des proportions du corps humain, 1890: 7½ heads; shoulder joints usually 2½ head widths apart (common practice)."""
    r = readings_of(build_of(named()["measured"].readings))
    assert r["heads_tall"] == 7.5
    assert r["acromion_hh"] / r["head_width_hh"] == pytest.approx(2.5, abs=0.25)
    assert r["crotch_station_fig"] == pytest.approx(0.53, abs=0.02)


@pytest.mark.parametrize(
    "name", [n for n in canon_names() if n not in ("two-heads", "two-circles", "rubber-limb", "stoker", "lamplighter")]
)
def test_what_bodies_always_have(name: str) -> None:
    """Common practice: upper arm over forearm, thigh over shin, the thigh the longest bone, the wrist near the crotch, the elbow near the waist."""
    c = canon(name)
    b = build_of(c.readings, c.form, c.limbs)
    thigh, shin = b.leg_bones
    assert b.upper_arm >= b.forearm and thigh > shin and thigh >= b.upper_arm
    wrist = b.shoulder_line + b.upper_arm + b.forearm
    assert abs(wrist - b.crotch) < 0.22 * b.trunk
    assert abs(b.shoulder_line + b.upper_arm - (b.shoulder_line + 0.585 * b.trunk)) < 0.15 * b.trunk


def test_age_gives_heads_smoothly_and_as_growth_references_have_it() -> None:
    """Growth references (the package's own table, from memory of the WHO standards of 2006 and 2007 and Nellhaus 1968): within 0.35 heads; monotone
    from 1 to 18, without a step."""
    ages = np.linspace(1, 18, 171)
    heads = np.array([at_age(float(a)).heads for a in ages])
    assert (np.diff(heads) > -1e-9).all() and np.diff(heads).max() < 0.06 and np.abs(np.diff(heads, 2)).max() < 0.02
    assert np.abs(heads - [heads_tall(float(a)) for a in ages]).max() < 1e-9
    for age, tall in {1: 4.0, 2: 4.4, 5: 5.1, 10: 6.3, 15: 7.3, 18: 7.6}.items():
        assert at_age(age).heads == pytest.approx(tall, abs=0.35)


def test_a_body_grows_in_every_reading() -> None:
    rows = [at_age(a).readings for a in (1, 3, 5, 8, 10, 13, 15, 18)]
    for key in PLANNED:
        v = np.array([r[key] for r in rows])
        if key not in ("head_width_hh", "leg_balance"):
            assert (np.diff(v) > -1e-6).all(), key
    assert rows[0]["leg_balance"] > rows[-1]["leg_balance"]  # shins catch up


def test_names_that_are_none_are_told_and_ages_are_bounded() -> None:
    with pytest.raises(OrthometError, match="no canon named"):
        canon("hercules")
    for wild in ("age:-1", "age:151", "age:nan", "age:old"):
        with pytest.raises(OrthometError, match="0 to 150"):
            canon(wild)
    assert planned(FigureChoices(canon="gone")).canon.name == "age:30"  # a project from elsewhere still has a body


@given(st.sampled_from(canon_names()), st.floats(1.5, 10.0))
@settings(max_examples=40, deadline=None)
def test_any_canon_of_any_heads_stands(name: str, heads: float) -> None:
    c = with_heads(canon(name), heads)
    b = build_of(c.readings, c.form, c.limbs)
    assert c.heads == pytest.approx(heads)
    assert min(c.readings[k] for k in PLANNED) > 0 and min(b.leg_bones) > 0.01
    m = mannequin(b, False)
    lowest = max(float(s.points[..., 1].max()) for s in m.skins.values())
    assert lowest == pytest.approx(heads, abs=0.003)
    assert all(np.isfinite(s.points).all() and np.isfinite(s.normals).all() for s in m.skins.values())


def test_masculine_to_feminine_is_a_slider_that_children_hardly_have() -> None:
    m, f = with_feminine(named()["measured"], 0.0).readings, with_feminine(named()["measured"], 1.0).readings
    assert (
        m["shoulder_hh"] > 1.1 * f["shoulder_hh"]
        and m["hip_hh"] < f["hip_hh"]
        and m["neck_hw"] == f["neck_hw"] * m["neck_hw"] / f["neck_hw"]
    )
    child = [with_feminine(at_age(4), v).readings["shoulder_hh"] for v in (0.0, 1.0)]
    assert child[0] == pytest.approx(child[1], rel=0.02)
    assert f["heads_tall"] == m["heads_tall"] == 7.5


# ---- the standing figure


@pytest.mark.parametrize("name", canon_names())
def test_the_skin_measures_what_was_planned(name: str) -> None:
    """Read back from the joined skin as one sees it from the front: every planned reading within half a per cent of a head."""
    c = canon(name)
    b = build_of(c.readings, c.form, c.limbs)
    far = off(b, read_back(mannequin(b)), dict(c.readings))
    assert len(far) >= (14 if b.rubber else 21)
    assert max(abs(v) for v in far.values()) < 0.005, far


def test_random_plans_measure_what_was_planned() -> None:
    """Random canons, heads, forms and marks moved by hand; extremes that no skin can have are rare and small."""
    rng = np.random.default_rng(12)
    worst = []
    for _ in range(40):
        form = {k: float(rng.uniform(*v)) for k, v in FORM_BOUNDS.items()} if rng.random() < 0.5 else {}
        offsets = {k: float(rng.normal(0, 0.2)) for k in figure_space().keys if rng.random() < 0.4}
        choices = FigureChoices(canon=str(rng.choice(canon_names())), heads=float(rng.uniform(2, 10)), form=form)
        p = planned(choices, d=AS_IS.model_copy(update={"offsets": offsets}))
        worst.append(max(abs(v) for v in off(p.build, read_back(mannequin(p.build)), p.readings).values()))
    assert np.quantile(worst, 0.97) < 0.005 and max(worst) < 0.02


def test_left_and_right_are_each_others_mirror_image_and_bones_are_lengths() -> None:
    m = mannequin(build_of(named()["feminine"].readings, named()["feminine"].form))
    flip = np.array([-1, 1, 1])
    for name, place in m.skeleton.joints.items():
        if name.endswith("_l"):
            assert np.allclose(m.skeleton.joints[name[:-1] + "r"], place * flip)
    assert np.allclose(np.sort(m.skins["arm_l"].points[..., 0].ravel()), np.sort(-m.skins["arm_r"].points[..., 0].ravel()))
    b = m.build
    assert m.skeleton.bones["forearm_l"] == pytest.approx(b.forearm) and m.skeleton.bones["hand_r"] == pytest.approx(b.hand)
    assert m.skeleton.joints["toe_l"][1] == pytest.approx(b.heads, abs=1e-6)


def test_a_rubber_limb_is_one_arc() -> None:
    """Its centre line keeps one curvature all the way, where a jointed one bends at the joint alone."""

    def bends(name: str) -> np.ndarray:
        m = mannequin(build_of(named()[name].readings, named()[name].form, named()[name].limbs))
        v = m.arm.v
        c = m.arm_at.centres[(v > 0.1) & (v < 1.95)]
        d = np.diff(c, axis=0)
        d = d / np.linalg.norm(d, axis=1, keepdims=True)
        far = np.linalg.norm(np.diff(c, axis=0), axis=1)
        return np.degrees(np.arccos(np.clip((d[1:] * d[:-1]).sum(1), -1, 1))) / far[1:]

    rubber, jointed = bends("rubber-limb"), bends("big-foot")
    assert rubber.std() < 0.1 * rubber.mean() and jointed.max() > 6 * np.median(jointed)


# ---- the plan


def test_the_reference_itself_comes_back_exactly() -> None:
    ref = {k: v * 1.07 for k, v in at_age(30).readings.items() if k in figure_space().index and k != "leg_balance"}
    ref["heads_tall"] = 7.9
    p = planned(measured=ref)
    assert p.measured and {t.key: t.plan for t in p.traits if t.key in ref} == ref


def test_emphasis_pushes_a_body_away_from_the_usual() -> None:
    usual = at_age(30).readings["shoulder_hh"]
    ref = {"shoulder_hh": 1.06 * usual}
    pushed = planned(measured=ref, d=AS_IS.model_copy(update={"emphasis": {"shoulder_hh": 2.0}})).readings["shoulder_hh"]
    dropped = planned(measured=ref, d=AS_IS.model_copy(update={"emphasis": {"shoulder_hh": 0.0}})).readings["shoulder_hh"]
    assert pushed == pytest.approx(usual * 1.06**2) and dropped == pytest.approx(usual)


def test_limits_hold_are_named_and_can_be_meant() -> None:
    """Thighs three quarters of the hips would close the crotch: held, said in words; and not asked for again once it is meant."""
    d = AS_IS.model_copy(update={"offsets": {"thigh_girth_hh": 0.5}})
    held = planned(d=d)
    assert held.readings["thigh_girth_hh"] <= 0.985 * held.readings["hip_hh"] / 2 + 1e-4
    assert "The thighs need room between the hips" in [li.words for li in held.limits]
    free = planned(FigureChoices(meant=("thighs_fit",)), d=d)
    assert free.readings["thigh_girth_hh"] > 0.985 * free.readings["hip_hh"] / 2 and free.waived == ("thighs_fit",)
    assert "The thighs need room between the hips" not in [li.words for li in free.limits]


@given(st.dictionaries(st.sampled_from(figure_space().keys), st.floats(-1.5, 1.5), max_size=8), st.sampled_from(canon_names()))
@settings(max_examples=120, deadline=None)
def test_every_plan_is_a_body(offsets: dict[str, float], name: str) -> None:
    """Whatever is asked for, what the canon keeps is kept."""
    c = canon(name)
    p = planned(FigureChoices(canon=name), d=AS_IS.model_copy(update={"offsets": offsets}))
    space = figure_space()

    def room(r: dict[str, float]) -> np.ndarray:
        return space.room(np.log([r[k] for k in space.keys]))

    allowed = np.minimum(room(dict(c.readings)), 0)
    now = room({t.key: t.plan for t in p.traits})
    ratio = space.relative
    assert (now[~ratio] >= allowed[~ratio] - 1e-3).all()
    assert (now[(room(dict(c.readings)) >= 0) & ratio] >= -1e-3).all()
    assert all(np.isfinite(t.plan) and t.plan > 0 for t in p.traits)


def test_a_mark_dragged_lies_where_it_is_put() -> None:
    p = planned()
    d = AS_IS.model_copy(update={"offsets": {"hip_hh": figure_offset(p, AS_IS, "hip_hh", 1.5)}})
    assert planned(d=d).readings["hip_hh"] == pytest.approx(1.5, abs=1e-6)


def test_a_style_with_a_body_draws_the_body_toward_it() -> None:
    sea = style("sea-wall")
    rows = [plan_figure({}, Decisions(style="sea-wall", style_weight=w), FigureChoices(), 30, sea, {}) for w in (0.0, 0.5, 1.0)]
    shoulders = [p.readings["shoulder_hh"] for p in rows]
    assert shoulders[0] < shoulders[1] < shoulders[2] == pytest.approx(sea.readings["shoulder_hh"].mean, abs=1e-6)
    assert rows[2].build.form.muscle == pytest.approx(sea.form["muscle"]) and rows[0].build.form == Form().with_values(
        vars(at_age(30).form)
    )
    limbs = [
        plan_figure({}, Decisions(style_weight=w), FigureChoices(), 30, style("bellows-rope"), {}).build.limbs for w in (0.2, 0.8)
    ]
    assert limbs == ["jointed", "rubber"]


@pytest.mark.parametrize("name", ["sea-wall", "low-lantern", "clog-dance", "quillmere-picture-book"])
@pytest.mark.parametrize("heads", [2.0, 3.0, 6.0, 9.0])
def test_heads_chosen_are_the_heads_it_has_whatever_its_style_is(name: str, heads: float) -> None:
    p = plan_figure({}, Decisions(style=name, style_weight=1.0), FigureChoices(heads=heads), 30, style(name), {})
    assert p.heads == pytest.approx(heads, rel=1e-6)
    assert p.build.trunk < heads - 1


def test_head_and_neck_are_the_heads_own() -> None:
    p = plan_figure({}, AS_IS, FigureChoices(canon="heroic"), 30, PLAIN, {"head_width_hh": 0.8, "neck_width_hw": 0.4})
    assert p.build.head_width == 0.8 and p.build.neck_width == pytest.approx(0.32) and p.readings["neck_hw"] == pytest.approx(0.4)
    assert {"head_width_hh", "neck_hw"}.isdisjoint(figure_space().keys) and set(OF_READING) - {"head_width_hh"} == set(
        figure_space().keys
    )


# ---- references


def figure_marks(**moved: tuple[float, float]) -> Landmarks:
    xy = template(FIGURE) * 100
    points = {n: (float(x), float(y)) for n, (x, y) in zip(FIGURE.names, xy, strict=True)} | moved
    return Landmarks("figure", points)


def test_a_seated_figure_is_not_measured_in_heads() -> None:
    """Knees level with the hips, or thighs that point at the viewer: the floor under the feet says nothing of the height."""
    assert measure(figure_marks()).value("heads_tall") == pytest.approx(7.5)
    xy = {n: tuple(100 * v for v in p) for n, p in zip(FIGURE.names, template(FIGURE).tolist(), strict=True)}
    aside = {
        f"patella_{s}": (xy[f"trochanterion_{s}"][0] + k * 170, xy[f"trochanterion_{s}"][1] + 10)
        for s, k in (("l", 1), ("r", -1))
    }
    toward = {f"patella_{s}": (xy[f"trochanterion_{s}"][0], xy[f"trochanterion_{s}"][1] + 60) for s in "lr"}
    for knees in (aside, toward):
        m = measure(figure_marks(**knees))
        assert m.value("heads_tall") is None and m.value("crotch_station_fig") is None and m.value("shoulder_hh") is not None
    one = measure(figure_marks(**{k: v for k, v in aside.items() if k.endswith("l")}))
    assert one.value("heads_tall") == pytest.approx(7.5)  # one leg raised, the other stands


@given(st.sets(st.sampled_from(FIGURE.names)))
@settings(max_examples=60, deadline=None)
def test_any_landmarks_may_be_missing(gone: set[str]) -> None:
    marks = figure_marks()
    left = {n: p for n, p in marks.points.items() if n not in gone}
    table = dict(measure(Landmarks("figure", left)).table) if {"vertex", "gnathion"} <= set(left) else {}
    p = planned(measured=table)
    assert all(np.isfinite(t.plan) and t.plan > 0 for t in p.traits)
    assert ("heads_tall" in table) == ({"vertex", "gnathion", "floor"} <= set(left))


def test_a_foot_seen_from_the_front_says_nothing_of_its_length() -> None:
    p = planned(measured=dict(measure(figure_marks()).table))
    assert p.by_key["foot_hh"].reference is None and p.readings["foot_hh"] > 1 and p.by_key["foot_width_hh"].reference is not None
