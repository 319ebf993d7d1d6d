"""Check: registration against a general library, one finding per cause, tolerances, silence."""

from __future__ import annotations

import numpy as np
import pytest
from skimage.transform import SimilarityTransform

from orthomet.core.check.check import check, marking_noise
from orthomet.core.check.moves import EYE, MOUTH, moves
from orthomet.core.errors import LandmarkError
from orthomet.core.landmarks.points import Landmarks, State, from_array
from orthomet.core.landmarks.register import fit, register
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.seed import seed_from_plan
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.plan import make_plan
from orthomet.core.proportions.measure import measure
from tests.faces import as_picture, index_of, marks_of, random_table

PLAN = make_plan(measure(marks_of(random_table(np.random.default_rng(4), 0.6))), Decisions(style_weight=0.3)).points


def drawn(points: np.ndarray, noise: float = 0.0, seed: int = 0) -> Landmarks:
    rng = np.random.default_rng(seed)
    return from_array(as_picture(points, 850, 0.06) + rng.normal(size=points.shape) * noise)


def shifted(names: tuple[str, ...], dx: float = 0.0, dy: float = 0.0) -> np.ndarray:
    out = PLAN.copy()
    out[index_of(*names)] += (dx, dy)
    return out


def bigger_eye(points: np.ndarray, side: str, k: float) -> np.ndarray:
    out = points.copy()
    i = [FRONT.index[f"{n}_{side}"] for n in EYE]
    c = points[[FRONT.index[f"endocanthion_{side}"], FRONT.index[f"exocanthion_{side}"]]].mean(0)
    out[i] = c + (points[i] - c) * k
    return out


def test_similarity_agrees_with_scikit_image() -> None:
    rng = np.random.default_rng(0)
    p = rng.normal(size=(20, 2)) * 100
    q = p @ np.array([[0.3, 0.1], [-0.1, 0.3]]).T + [3, 4] + rng.normal(size=(20, 2))
    ours = fit(p, q)
    ref = SimilarityTransform()
    assert ref.estimate(p, q)
    np.testing.assert_allclose(ours.matrix, ref.params[:2, :2], atol=1e-9)
    np.testing.assert_allclose(ours.shift, ref.params[:2, 2], atol=1e-7)
    assert ours.scale == pytest.approx(ref.scale)
    np.testing.assert_allclose(ours.inverse()(ours(p)), p, atol=1e-9)


def test_registration_is_not_dragged_by_moved_features() -> None:
    s = register(drawn(shifted(MOUTH, dy=0.06)).array(), PLAN)
    assert s.scale == pytest.approx(1 / 850, rel=1e-6)
    assert s.roll == pytest.approx(0.06, abs=1e-6)


def test_the_same_face_passes_whole() -> None:
    c = check(drawn(PLAN), PLAN)
    assert c.findings == () and len(c.passed) > 90 and c.fix.moves == ()
    assert sum(len(check(drawn(PLAN, 0.7, k), PLAN).findings) for k in range(30)) <= 1


def test_a_moved_mouth_is_exactly_one_finding() -> None:
    c = check(drawn(shifted(MOUTH, dy=0.04)), PLAN)
    (f,) = c.findings
    assert f.reading == "mouth_station" and f.direction == "raise" and f.say.startswith("Raise the mouth by 0.040 heads (34 px)")
    assert f.difference_hh == pytest.approx(0.04, abs=1e-4)
    assert f.difference_px == pytest.approx(0.04 * 850, abs=0.1)
    assert {"nose_mouth_hh", "chin_hh"} <= set(f.explains)
    assert "mouth_station" not in c.passed and "nose_base_station" in c.passed
    assert [m.name for m in c.fix.moves] == ["mouth up/down"] and c.fix.amounts[0] == pytest.approx(-0.04, abs=1e-3)


def test_mouth_and_one_eye_are_two() -> None:
    c = check(drawn(bigger_eye(shifted(MOUTH, dy=0.04), "l", 1.2), 0.7), PLAN)
    assert sorted(f.reading for f in c.findings) == ["eye_width_l_fw", "mouth_station"]
    eye = next(f for f in c.findings if f.reading == "eye_width_l_fw")
    width = PLAN[FRONT.index["exocanthion_l"], 0] - PLAN[FRONT.index["endocanthion_l"], 0]
    assert eye.difference_hh == pytest.approx(0.2 * width, abs=0.004) and "left eye" in eye.say


@pytest.mark.parametrize(
    ("name", "reading"), [("vertex", "face_ratio"), ("gnathion", "chin_hh"), ("trichion", "hairline_station")]
)
def test_crown_chin_and_hairline_alone(name: str, reading: str) -> None:
    c = check(drawn(shifted((name,), dy=0.05)), PLAN)
    assert [f.reading for f in c.findings] == [reading]


def test_single_and_double_faults_are_mostly_named() -> None:
    """The page's own figures are 95 % and 88 %."""
    rng = np.random.default_rng(2)
    named = moves(PLAN)
    right = [0, 0]
    tried = [60, 40]
    for size in (1, 2):
        for _ in range(tried[size - 1]):
            chosen = rng.choice(len(named), size, replace=False)
            q = PLAN.copy()
            for k in chosen:
                q = q + np.nan_to_num(named[k].field) * rng.choice([-1, 1]) * rng.uniform(0.035, 0.06)
            try:
                c = check(drawn(q, 0.7, int(rng.integers(1e6))), PLAN)
            except LandmarkError:
                tried[size - 1] -= 1
                continue
            right[size - 1] += {m.name for m in c.fix.moves} == {named[k].name for k in chosen}
    assert right[0] >= 0.85 * tried[0]
    assert right[1] >= 0.75 * tried[1]


def test_meant_is_silent_with_all_it_explains() -> None:
    marks = drawn(shifted(MOUTH, dy=0.04))
    c = check(marks, PLAN, meant=("mouth_station",))
    assert c.findings == () and c.meant == ("mouth_station",)


def test_estimated_points_are_not_judged() -> None:
    marks = drawn(shifted(MOUTH, dy=0.04))
    unsure = Landmarks(
        "front", marks.points, {"stomion": State.ESTIMATED, "cheilion_l": State.ESTIMATED, "cheilion_r": State.ESTIMATED}
    )
    c = check(unsure, PLAN)
    assert all(f.reading != "mouth_station" for f in c.findings)
    assert "mouth_station" not in c.differences


@pytest.mark.parametrize("side", ["l", "r"])
@pytest.mark.parametrize("state", [State.ESTIMATED, State.HIDDEN])
def test_with_one_side_unseen_the_drawing_still_lies_straight_on_its_plan(side: str, state: State) -> None:
    """Nothing then tells a turn but the registration itself; the drawing was laid 0.06 radians aslant at 850 px."""
    for k in range(12):
        marks = drawn(shifted(MOUTH, dy=0.04), 0.7, k)
        c = check(Landmarks("front", marks.points, {n: state for n in FRONT.names if n.endswith(f"_{side}")}), PLAN)
        assert c.to_plan.roll == pytest.approx(0.06, abs=np.radians(1)) and c.px_per_head == pytest.approx(850, rel=0.01)
        assert [f.reading for f in c.findings] == ["mouth_station"] and c.findings[0].direction == "raise"


def test_tolerance_widens_with_noise_and_uncertain_points() -> None:
    marks = drawn(PLAN)
    tight, loose = check(marks, PLAN), check(marks, PLAN, noise_px=12)
    assert loose.tolerance["mouth_station"] > tight.tolerance["mouth_station"] == pytest.approx(0.02)
    crown = check(Landmarks("front", marks.points, {}, {"vertex": 20.0}), PLAN)
    assert crown.tolerance["mouth_station"] == pytest.approx(3.3 * np.hypot(20 / 850, 0.003), rel=0.01)
    assert crown.tolerance["nose_width_fw"] == pytest.approx(tight.tolerance["nose_width_fw"])


def test_works_on_a_rough_with_few_points_and_refuses_too_few() -> None:
    marks = drawn(shifted(MOUTH, dy=0.05))
    few = {n: marks.points[n] for n in FRONT.essential}
    (f,) = check(Landmarks("front", few), PLAN).findings
    assert f.reading == "mouth_station"
    with pytest.raises(LandmarkError, match="three landmarks"):
        check(Landmarks("front", {n: marks.points[n] for n in ("vertex", "gnathion")}), PLAN)


def test_seeds_lie_where_three_clicks_put_them() -> None:
    truth = drawn(PLAN)
    clicked = {n: truth.points[n] for n in ("vertex", "gnathion", "exocanthion_r")}
    seeds = seed_from_plan(PLAN, clicked)
    for n, xy in truth.points.items():
        assert seeds.points[n] == pytest.approx(xy, abs=0.01)
    assert seeds.state("stomion") is State.ESTIMATED and seeds.state("vertex") is State.PLACED


def test_an_ordinary_hand_raises_no_alarm_and_a_plain_fault_is_named() -> None:
    """Marks within .3 % of the head (one spread): at most one clean drawing in twenty alarms, every 3 % fault is named."""
    rng, alarms, named, n = np.random.default_rng(11), 0, 0, 60
    fields = moves(PLAN)

    def marked(points: np.ndarray) -> Landmarks:
        return from_array(as_picture(points, 850, 0.04) + rng.normal(size=points.shape) * 0.003 * 850)

    for _ in range(n):
        alarms += bool(check(marked(PLAN), PLAN).findings)
        move = fields[int(rng.integers(len(fields)))]
        c = check(marked(PLAN + np.nan_to_num(move.field) * 0.03 * rng.choice([-1, 1])), PLAN)
        named += move.name in {m.name for m in c.fix.moves} or move.reading in {f.reading for f in c.findings}
    assert alarms <= 0.05 * n and named >= 0.95 * n


def test_the_residual_tells_a_shaky_hand_and_faults_are_no_noise() -> None:
    rng = np.random.default_rng(5)
    shaky = PLAN + rng.normal(size=PLAN.shape) * 0.004
    assert marking_noise(shaky, PLAN) == pytest.approx(0.004, rel=0.15)
    assert marking_noise(shifted(MOUTH, dy=0.05), PLAN) == 0.003 == marking_noise(PLAN[:5], PLAN[:5])
    assert marking_noise(PLAN + rng.normal(size=PLAN.shape) * 0.02, PLAN) == pytest.approx(0.0045)


def test_a_tilt_is_told_in_degrees() -> None:
    q = PLAN.copy()
    for side in (1, -1):
        i = FRONT.index["exocanthion_" + ("l" if side > 0 else "r")]
        q[i, 1] -= 0.02
    (f,) = check(drawn(q), PLAN).findings
    eye = PLAN[FRONT.index["exocanthion_l"]] - PLAN[FRONT.index["endocanthion_l"]]
    turned = np.degrees(np.arctan2(-eye[1] + 0.02, eye[0]) - np.arctan2(-eye[1], eye[0]))
    assert f.reading == "eye_tilt_deg" and f"by {turned:.1f}° (" in f.say
    roll = np.radians(4)
    mouth = index_of(*MOUTH)
    q = PLAN.copy()
    c = q[mouth].mean(0)
    q[mouth] = (q[mouth] - c) @ np.array([[np.cos(roll), np.sin(roll)], [-np.sin(roll), np.cos(roll)]]) + c
    (f,) = check(drawn(q), PLAN).findings
    assert f.move is not None and f.move.name == "mouth tilt" and "anticlockwise by 4.0°" in f.say
