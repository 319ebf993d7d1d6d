"""How features are drawn: parameters, variants, marks, what is absent; expressions that never move the plan."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from orthomet.core.errors import UnknownName
from orthomet.core.features.choices import FaceMark, FeatureChoices
from orthomet.core.features.expression import NEUTRAL, WORDS, Expression, expression, expressions
from orthomet.core.features.table import feature, features
from orthomet.core.head.body import Wear, body
from orthomet.core.head.construct import feature_paths
from orthomet.core.head.drawn import picture
from orthomet.core.head.expressed import expressed
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene
from orthomet.core.head.solid import Make, solid
from orthomet.core.head.strokes import RIDGE, strokes
from orthomet.core.kinds import Array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Ink
from orthomet.demo.cast import BERTA, BERTA_FEATURES, face
from tests.faces import random_table

POINTS = plan_points(BERTA)


def named(choices: FeatureChoices, points: Array = POINTS) -> dict[str, Array]:
    return {s.path.name: s.path.points for s in strokes(points, choices)}


def at(points: Array, name: str) -> Array:
    return np.asarray(points[FRONT.index[name]])


@pytest.mark.parametrize("key", features())
def test_every_variant_draws_within_its_bounds(key: str) -> None:
    """On ordinary and on extreme heads; the variant can be told from its values again."""
    rng = np.random.default_rng(3)
    for v in feature(key).variants:
        choices = FeatureChoices().with_values(key, v.set)
        assert choices.variant_of(key) == v.name
        assert FeatureChoices.model_validate_json(choices.model_dump_json()) == choices
        for table in (face(), random_table(rng, 1.2)):
            s = scene(table, plan_points(table), Turn(yaw=float(rng.uniform(-80, 80))), Wear(choices=choices))
            drawn = picture(s)
            assert all(np.isfinite(p.points).all() for p in drawn.paths()) and drawn.paths()


def test_a_dial_at_its_end_is_a_picture_too() -> None:
    for f in features().values():
        for p in f.parameters:
            for value in (p.low, p.high):
                paths = feature_paths(POINTS, FeatureChoices().with_value(f.key, p.key, value))
                assert all(np.isfinite(q.points).all() for q in paths)


def test_lashes_are_counted_and_leave_the_inner_part_bare() -> None:
    choices = FeatureChoices().with_values("eyes", {"lashes": 7, "bare": 0.4, "lower_lashes": 3})
    found = named(choices)
    for k in "lr":
        roots = [found[f"lash {k} {n}"][0] for n in range(1, 8)]
        assert f"lash {k} 8" not in found and f"lower lash {k} 3" in found
        inner, outer = at(POINTS, f"endocanthion_{k}")[0], at(POINTS, f"exocanthion_{k}")[0]
        shares = [(r[0] - inner) / (outer - inner) for r in roots]
        assert min(shares) > 0.4 and shares == sorted(shares)
        long = [np.linalg.norm(found[f"lash {k} {n}"][-1] - found[f"lash {k} {n}"][0]) for n in range(1, 8)]
        assert long == sorted(long)  # fading toward the inner corner


@pytest.mark.parametrize("side", [-1, 1])
def test_highlights_lie_on_one_side_of_both_eyes(side: int) -> None:
    found = named(FeatureChoices().with_values("eyes", {"highlights": 2, "light_side": side}))
    for k in "lr":
        iris, first, second = (found[f"{n} {k}"] for n in ("iris", "highlight 1", "highlight 2"))
        offset = first.mean(0) - (iris.min(0) + iris.max(0)) / 2
        assert np.sign(offset[0]) == side and offset[1] < 0
        assert np.sign(second.mean(0)[0] - iris.mean(0)[0]) == -side


def test_shapes_answer_their_dials() -> None:
    plain = named(FeatureChoices())
    for value, share in ((0.3, 0.3), (0.7, 0.7)):
        lid = named(FeatureChoices().with_value("eyes", "peak", value))["upper lid l"]
        highest = lid[np.argmin(lid[:, 1])]
        inner, outer = at(POINTS, "endocanthion_l")[0], at(POINTS, "exocanthion_l")[0]
        assert (highest[0] - inner) / (outer - inner) == pytest.approx(share, abs=0.06)
        assert lid[:, 1].min() == pytest.approx(at(POINTS, "palpebrale_superius_l")[1], abs=2e-3)  # the plan's height stays
    up = named(FeatureChoices().with_value("eyes", "ride", 1.0))["pupil l"]
    assert up[:, 1].mean() < plain["pupil l"][:, 1].mean()
    flat = named(FeatureChoices().with_values("brows", {"arch": 0.0, "taper": 0.0}))["brow l"]
    top = flat[: len(flat) // 2]
    line = np.polyfit(top[:, 0], top[:, 1], 1)
    assert np.abs(np.polyval(line, top[:, 0]) - top[:, 1]).max() < 1e-6
    assert sum(n.startswith("brow hair l") for n in named(FeatureChoices().with_value("brows", "hairs", 5))) == 5
    half = named(FeatureChoices().with_value("eyes", "lower_line", 0.5))["lower lid l"]
    assert abs(half[0, 0] - half[-1, 0]) == pytest.approx(
        0.5 * abs(plain["lower lid l"][0, 0] - plain["lower lid l"][-1, 0]), rel=0.05
    )


def test_noses_and_mouths_reduce() -> None:
    kinds = {
        k: {n for n in named(FeatureChoices().with_values("nose", {"kind": k, "bridge": 0.0})) if "nos" in n} for k in range(6)
    }
    assert (
        kinds[5] == set()
        and kinds[4] == {"nostril l", "nostril r", RIDGE}
        and "nose side" in kinds[1]
        and kinds[3] == {"nose base", RIDGE}
    )
    lines = [set(named(FeatureChoices().with_value("mouth", "kind", k))) for k in range(4)]
    assert "upper lip" in lines[0] and "upper lip" not in lines[1] and "lower lip" in lines[1]
    assert "lower lip" not in lines[2] and not any("mouth" in n for n in lines[3])
    flat, full = (
        solid(BERTA, Make(nose_stand=v)).lift(np.zeros(1), np.array([BERTA["nose_base_station"] - 0.03]))[0, 2] for v in (0, 1)
    )
    assert full - flat > 0.05


def test_what_is_absent_by_design_is_not_drawn() -> None:
    all_gone = FeatureChoices(absent=tuple(features()))
    assert strokes(POINTS, all_gone) == []
    s = scene(BERTA, POINTS, Turn(yaw=20), Wear(choices=FeatureChoices(absent=("ears",))))
    assert not any(x.name.startswith("ear") for x in s.drawing.strokes) and len(s.landmarks) == len(FRONT.names)


def test_marks_are_counted_and_stand_where_they_are_put() -> None:
    freckles = FaceMark(name="freckles", x=0.1, station=0.6, size=0.1, count=11, both=True)
    scar = FaceMark(name="scar", kind="scar", x=-0.15, station=0.7, size=0.1, count=4, slant=90)
    paths = [p for p in feature_paths(POINTS, FeatureChoices(marks=(freckles, scar))) if p.name.startswith(("freckles", "scar"))]
    dots = np.array([p.points.mean(0) for p in paths if p.name.startswith("freckles")])
    assert len(dots) == 22 and (np.linalg.norm(np.abs(dots) - [0.1, 0.6], axis=1) < 0.06).all()
    assert dots[:, 0].sum() == pytest.approx(0, abs=1e-9)
    lines = [p for p in paths if p.name == "scar"]
    assert len(lines) == 1 + 4 and np.ptp(lines[0].points[:, 1]) > 5 * np.ptp(lines[0].points[:, 0])
    pixels = feature_paths(POINTS * 500 + 40, FeatureChoices(marks=(freckles,)))
    assert max(p.points[:, 1].max() for p in pixels if p.name.startswith("freckles")) == pytest.approx(
        500 * max(p.points[:, 1].max() for p in paths if p.name.startswith("freckles")) + 40
    )


@pytest.mark.parametrize(
    "bad",
    [
        {"values": {"wings": {"count": 2}}}, {"values": {"eyes": {"glow": 1}}}, {"values": {"eyes": {"peak": 4.0}}}, {"absent": ["wings"]},
        {"marks": [{"name": "", "kind": "mole"}]}, {"marks": [{"name": "x", "count": 0}]}, {"values": {"eyes": {"peak": float("nan")}}},
    ],
)  # fmt: skip
def test_choices_that_cannot_be_are_refused(bad: dict[str, object]) -> None:
    with pytest.raises(ValidationError):
        FeatureChoices.model_validate(bad)


# ---- expressions


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 5_000), st.sampled_from(sorted(expressions())), st.floats(-1, 1), st.floats(-1, 1))
def test_an_expression_keeps_features_in_order_and_the_plan_alone(seed: int, name: str, gaze: float, side: float) -> None:
    table = random_table(np.random.default_rng(seed), 1.0)
    points = plan_points(table)
    before = points.copy()
    e = expression(name).model_copy(update={"gaze_x": gaze, "one_side": side})
    p = expressed(points, e).points
    np.testing.assert_array_equal(points, before)
    for k in "lr":
        top, low, brow = (at(p, f"{n}_{k}")[1] for n in ("palpebrale_superius", "palpebrale_inferius", "brow_lower_peak"))
        already = at(points, f"brow_lower_peak_{k}")[1]  # a plan may set a brow on the lid itself
        assert top <= low and brow <= max(top, already) + 1e-9
        nose, corner = at(p, "subnasale")[1], at(p, f"cheilion_{k}")[1]
        assert nose < corner < at(p, "gnathion")[1]
    fixed = [
        n for n in FRONT.names if n.startswith(("vertex", "trichion", "zygion", "euryon", "alare", "exo", "endo", "gnathion"))
    ]
    for n in fixed:
        np.testing.assert_array_equal(at(p, n), at(points, n))


def test_the_presets_say_what_they_are() -> None:
    def moved(name: str, landmark: str, axis: int = 1) -> float:
        return float(at(expressed(POINTS, expression(name)).points, landmark)[axis] - at(POINTS, landmark)[axis])

    assert expressed(POINTS, NEUTRAL).points is POINTS and expression("neutral") == NEUTRAL
    assert moved("glad", "cheilion_l") < 0 < moved("sad", "cheilion_l")
    assert moved("sad", "brow_inner_l") < 0 < moved("angry", "brow_inner_l")
    assert moved("surprised", "palpebrale_superius_l") < 0 < moved("sly", "palpebrale_superius_l")
    assert expressed(POINTS, expression("surprised")).drop > 0 == expressed(POINTS, expression("angry")).drop
    assert (
        moved("sly", "pupil_l", 0) == pytest.approx(moved("sly", "pupil_r", 0)) and moved("sly", "pupil_l", 0) > 0
    )  # never mirrored
    assert abs(moved("sly", "cheilion_l")) > 3 * abs(moved("sly", "cheilion_r"))
    with pytest.raises(UnknownName):
        expression("furious")
    assert set(WORDS) == set(Expression.model_fields)


def test_an_open_jaw_moves_the_chin_and_nothing_above() -> None:
    wide = Wear(expression=Expression(mouth_open=1.0))
    shut, open_ = (scene(BERTA, POINTS, Turn(), w) for w in (Wear(), wide))
    assert open_.landmarks["gnathion"][0][1] - shut.landmarks["gnathion"][0][1] > 0.06
    assert open_.outline[:, 1].max() > shut.outline[:, 1].max() + 0.06
    for n in ("vertex", "zygion_l", "subnasale", "subaurale_l"):
        assert open_.landmarks[n][0] == pytest.approx(shut.landmarks[n][0], abs=1e-9)
    assert body(BERTA, POINTS, wide).front == pytest.approx(body(BERTA, POINTS, Wear()).front, nan_ok=True)
    lines = {
        x.name: x.points[len(x.points) // 2, 1]
        for x in open_.drawing.strokes
        if x.name in ("mouth line", "teeth line", "lower lip line")
    }
    assert lines["mouth line"] < lines["teeth line"] < lines["lower lip line"]
    assert "open mouth" in {p.name for p in picture(open_).paths()} and "open mouth" not in {
        p.name for p in picture(shut).paths()
    }


@given(st.floats(-0.3, 0.3), st.floats(0.05, 0.99), st.floats(-0.4, 0.45), st.floats(0.01, 0.11))
def test_closing_the_jaw_undoes_opening_it(x: float, t: float, z: float, drop: float) -> None:
    head = solid(BERTA, Make(drop=drop))
    p = np.array([[x, t, z]])
    np.testing.assert_allclose(head.unposed(head.posed(p)), p, atol=2e-3)


@pytest.mark.parametrize("yaw, pitch", [(0, 0), (40, 10), (90, 0), (-70, -20), (150, 0)])
def test_a_dressed_head_is_drawn_at_any_turn(yaw: float, pitch: float) -> None:
    for e in expressions().values():
        s = scene(BERTA, POINTS, Turn(yaw=yaw, pitch=pitch), Wear(choices=BERTA_FEATURES, expression=e))
        drawn = picture(s)
        assert all(np.isfinite(p.points).all() for p in drawn.paths())
        assert any(p.role is Ink.CONTOUR for p in drawn.layer("hair").items)  # type: ignore[union-attr]
