"""Measuring against published canons, and what must not change under translation, turning, scaling and mirroring."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.errors import LandmarkError
from orthomet.core.kinds import Kind, backward, forward, z_score
from orthomet.core.landmarks.level import LevelBy
from orthomet.core.landmarks.points import Landmarks, State, from_array, mirrored, problem
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.proportions.lines import spans
from orthomet.core.proportions.measure import measure, measure_array, missing_for
from orthomet.core.proportions.norms import norm, z_scores
from orthomet.core.proportions.registry import Role, front_registry
from orthomet.demo.cast import face
from tests.faces import marks_of, moved, random_table

REG = front_registry()


def test_vitruvius_thirds() -> None:
    """Vitruvius, De architectura III.1: hairline–brow, brow–nose base and nose base–chin are equal thirds."""
    t = face(
        hairline_station=0.1, brow_station=0.4, nose_base_station=0.7, nose_length_hh=0.25, eye_station=0.46, mouth_station=0.8
    )
    m = measure(marks_of(t)).table
    assert [m[f"{k}_third"] for k in ("upper", "middle", "lower")] == pytest.approx([1 / 3] * 3)


def test_neoclassical_canons() -> None:
    """Farkas et al., Plast. Reconstr. Surg. 75:328, 1985: a face built to the canons reads exactly so."""
    t = face(
        eye_station=0.5, eye_tilt_deg=0.0, hairline_station=0.25, brow_station=0.46, nose_base_station=0.75, nose_length_hh=0.25,
        mouth_station=0.83, ear_top_station=0.5, ear_bottom_station=0.75, nose_width_fw=0.25, eye_width_fw=0.25, eye_gap_ew=1.0,
        mouth_width_fw=0.375,
    )  # fmt: skip
    m = measure(marks_of(t)).table
    assert m["eye_station"] == pytest.approx(0.5)  # vertex–endocanthion = endocanthion–gnathion
    assert m["nasion_station"] - m["hairline_station"] == pytest.approx(m["nose_length_hh"])  # trichion–nasion = nasion–subnasale
    assert m["nose_length_hh"] == pytest.approx(1 - m["nose_base_station"])  # = subnasale–gnathion
    assert m["nose_length_hh"] == pytest.approx(m["ear_length_hh"])
    assert m["eye_gap_ew"] == pytest.approx(1.0)  # eye gap = eye width
    assert m["eye_gap_ew"] * m["eye_width_fw"] == pytest.approx(m["nose_width_fw"])  # eye gap = nose width
    assert m["mouth_nose"] == pytest.approx(1.5)
    assert m["nose_width_fw"] == pytest.approx(0.25)


def test_definitions_by_hand() -> None:
    """A face small enough to work out on paper (issue's own definitions)."""
    pts = {
        "vertex": (100, 0), "gnathion": (100, 200), "endocanthion_l": (112, 98), "exocanthion_l": (140, 94),
        "endocanthion_r": (90, 100), "exocanthion_r": (66, 104), "zygion_l": (160, 110), "zygion_r": (40, 110),
        "brow_peak_l": (130, 80), "brow_peak_r": (70, 84),
    }  # fmt: skip
    m = measure(Landmarks("front", pts)).table
    assert m["eye_station"] == pytest.approx((98 + 94 + 100 + 104) / 4 / 200)
    assert m["brow_station"] == pytest.approx(82 / 200)
    assert m["eye_width_fw"] == pytest.approx((28 + 24) / 2 / 120)
    assert m["eye_gap_ew"] == pytest.approx(22 / 26)
    assert m["eye_width_l_fw"] == pytest.approx(28 / 120)
    assert m["eye_width_r_fw"] == pytest.approx(24 / 120)
    assert m["face_ratio"] == pytest.approx(200 / 120)
    assert m["level_brow_peak_hh"] == pytest.approx(-4 / 200)
    overlap = measure(Landmarks("front", {**pts, "endocanthion_l": (88, 98)})).table
    assert overlap["eye_gap_ew"] < 0


ANGLES = st.floats(-0.6, 0.6)


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000), ANGLES, st.floats(40, 5000), st.floats(-3000, 3000), st.floats(-3000, 3000))
def test_unchanged_by_similarity(seed: int, roll: float, px: float, dx: float, dy: float) -> None:
    t = random_table(np.random.default_rng(seed))
    plain = measure(marks_of(t)).values
    turned = measure(marks_of(t, px=px, roll=roll, shift=(dx, dy))).values
    np.testing.assert_allclose(turned, plain, atol=1e-6, equal_nan=True)


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10_000))
def test_mirrored_by_mirroring(seed: int) -> None:
    rng = np.random.default_rng(seed)
    marks = marks_of(random_table(rng))
    xy = marks.array() + rng.normal(size=(len(FRONT.names), 2)) * 3
    marks = from_array(xy)
    a, b = measure(marks).table, measure(mirrored(marks, 1200)).table
    for key, v in a.items():
        r = REG[key]
        if "_l_" in key or "_r_" in key:
            other = key.replace("_l_", "_#_").replace("_r_", "_l_").replace("_#_", "_r_")
            sign = -1 if key.startswith("gaze") else 1
            assert b[other] == pytest.approx(sign * v, abs=1e-9)
        elif (r.role is Role.BALANCE and not key.startswith("gaze_agreement")) or key == "parting_offset_hw":
            assert b[key] == pytest.approx(-v, abs=1e-9)
        else:
            assert b[key] == pytest.approx(v, abs=1e-9)


def test_vectorised_equals_one_by_one() -> None:
    faces = [marks_of(random_table(np.random.default_rng(k)), roll=0.1 * k).array() for k in range(6)]
    many = measure_array(np.array(faces))
    for row, xy in zip(many, faces, strict=True):
        np.testing.assert_allclose(row, measure_array(xy), atol=1e-12, equal_nan=True)


def test_level_by_eyes_and_by_centre_differ_on_a_tilted_eye_line() -> None:
    marks = marks_of()
    shifted = moved(marks, **{n: (x, y + 40) for n, (x, y) in marks.points.items() if n.endswith("_l") and "canthion" in n})
    centre, eyes = measure(shifted), measure(shifted, by=LevelBy.EYES)
    assert centre.table["level_exocanthion_hh"] == pytest.approx(40 / 800)
    assert eyes.table["level_exocanthion_hh"] < 0.03


def test_missing_points_read_as_not_measured() -> None:
    few = Landmarks("front", {"vertex": (0, 0), "gnathion": (0, 100), "stomion": (0, 79)})
    m = measure(few)
    assert m.table == pytest.approx({"mouth_station": 0.79, "chin_hh": 0.21})
    assert len(m.values) == len(REG.readings)
    assert m.state("eye_station") is None
    assert missing_for(few, "nose_width_fw") == ["alare_l", "alare_r", "zygion_l", "zygion_r"]
    nothing = measure(Landmarks("front", {}))
    assert nothing.table == {}


def test_states_and_uncertainty() -> None:
    marks = marks_of()
    hidden = Landmarks("front", marks.points, {"vertex": State.ESTIMATED}, {})
    m = measure(hidden)
    assert m.state("mouth_station") is State.ESTIMATED and not m.sure("mouth_station")
    assert m.sure("eye_gap_ew")
    sure = measure(Landmarks("front", marks.points, {}, {"vertex": 8.0}))
    assert sure.sure("mouth_station")
    assert sure.noise[REG.index["eye_gap_ew"]] == pytest.approx(0, abs=1e-9)
    # d(station)/d(crown) = (station − 1)/hh: worked by hand
    assert sure.noise[REG.index["mouth_station"]] == pytest.approx((1 - 0.79) / 800 * 8.0, rel=0.02)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"gnathion": (600.0, 10.0)}, "above the crown"),
        ({"endocanthion_l": (float("nan"), 1.0)}, "ordinary numbers"),
        ({"zygion_l": (float("inf"), 1.0)}, "ordinary numbers"),
        ({"exocanthion_l": None}, "same spot"),
    ],
)
def test_refused_with_a_sentence(change: dict[str, tuple[float, float] | None], words: str) -> None:
    marks = marks_of()
    change = {k: v if v is not None else marks.points["endocanthion_l"] for k, v in change.items()}
    with pytest.raises(LandmarkError, match=words):
        measure(moved(marks, **change))  # type: ignore[arg-type]


def test_points_may_touch_where_a_drawing_lets_them_and_lie_outside_the_picture() -> None:
    marks = marks_of()
    touching = moved(marks, labiale_superius=marks.points["stomion"], endocanthion_l=marks.points["endocanthion_r"])
    assert problem(touching) is None
    assert measure(touching).table["eye_gap_ew"] == pytest.approx(0)
    assert problem(marks_of(shift=(-5000.0, -5000.0))) is None
    everything_on_one_spot = Landmarks("front", dict.fromkeys(FRONT.names, (5.0, 5.0)))
    assert problem(everything_on_one_spot)


def test_swapped_sides_are_told() -> None:
    marks = marks_of()
    swapped = {FRONT[n].partner: xy for n, xy in marks.points.items()}
    assert "swapped" in (problem(Landmarks("front", swapped)) or "")


def test_norm_rows_hold_together() -> None:
    """2 eyes + gap = outer span; nasion + nose length = nose base; thirds sum to one; every row has a source."""
    n = norm()
    v = dict(zip(REG.keys, n.mean, strict=True))
    assert v["eye_width_fw"] * (2 + v["eye_gap_ew"]) == pytest.approx(v["outer_span_fw"], abs=0.001)
    assert v["nasion_station"] + v["nose_length_hh"] == pytest.approx(v["nose_base_station"])
    assert v["upper_third"] + v["middle_third"] + v["lower_third"] == pytest.approx(1, abs=0.001)
    assert v["mouth_station"] - v["nose_base_station"] == pytest.approx(v["nose_mouth_hh"])
    assert v["mouth_width_fw"] / v["nose_width_fw"] == pytest.approx(v["mouth_nose"], abs=0.01)
    assert 1 / v["eye_width_fw"] == pytest.approx(v["eyes_across"], abs=0.01)
    assert 1 / v["face_width_hh"] == pytest.approx(v["face_ratio"], abs=0.01)
    assert v["ear_bottom_station"] - v["ear_top_station"] == pytest.approx(v["ear_length_hh"])
    assert all(s for s, m in zip(n.sources, n.mean, strict=True) if np.isfinite(m))
    read = measure_array(marks_of(face()).array())
    for r, value, mean, sd in zip(REG.readings, read, n.mean, n.sd, strict=True):
        if r.role is Role.DERIVED and np.isfinite(mean):
            assert abs(value - mean) < 0.35 * sd, r.key


@given(st.sampled_from([Kind.SIZE, Kind.STATION, Kind.SIGNED]), st.floats(0.01, 0.99))
def test_transforms_invert(kind: Kind, v: float) -> None:
    assert float(backward(kind, forward(kind, v))) == pytest.approx(v)


def test_z_by_kind_worked_by_hand() -> None:
    assert float(z_score(Kind.SIZE, 0.242, 0.22, 0.011)) == pytest.approx(np.log(1.1) / 0.05)
    assert float(z_score(Kind.SIGNED, 1.34, 1.14, 0.10)) == pytest.approx(2.0)
    assert float(z_score(Kind.STATION, 0.5, 0.5, 0.02)) == 0.0
    assert np.isnan(float(z_score(Kind.SIZE, -0.1, 0.22, 0.011)))
    z = z_scores(norm().mean, norm(), REG)
    assert np.nanmax(np.abs(z)) == pytest.approx(0)


def test_spans_lie_where_the_reading_is() -> None:
    marks = marks_of(roll=0.2)
    xy = marks.array()
    (nose,) = spans(REG["nose_width_fw"], xy)
    assert nose.across
    assert nose.a == pytest.approx(marks.points["alare_r"]) and nose.b == pytest.approx(marks.points["alare_l"])
    assert len(spans(REG["eye_width_fw"], xy)) == 2
    (down,) = spans(REG["nose_length_hh"], xy)
    assert np.hypot(down.b[0] - down.a[0], down.b[1] - down.a[1]) == pytest.approx(0.23 * 800)
    assert spans(REG["nose_width_fw"], np.full_like(xy, np.nan)) == []


def test_registry_is_unique_and_says_what_it_means() -> None:
    assert len(set(REG.keys)) == len(REG.keys)
    wanted = [
        "hairline_station",
        "brow_station",
        "nasion_station",
        "eye_station",
        "nose_base_station",
        "mouth_station",
        "ear_top_station",
        "ear_bottom_station",
        "face_width_hh",
        "head_width_hh",
        "jaw_width_fw",
        "eye_width_fw",
        "eye_gap_ew",
        "eye_opening_ew",
        "iris_ew",
        "nose_width_fw",
        "mouth_width_fw",
        "nose_length_hh",
        "nose_mouth_hh",
        "brow_eye_hh",
        "chin_hh",
        "outer_span_fw",
        "ear_length_hh",
        "mouth_nose",
        "face_ratio",
        "eyes_across",
    ]
    assert set(wanted) <= set(REG.keys)
    assert all(r.meaning and r.label and r.needs for r in REG.readings)
