"""Norms that hold together: styles, ages and casts as the measure of every reading, in all three views."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.head.points import BROW_TILT, plan_points
from orthomet.core.proportions.follow import rows_of
from orthomet.core.proportions.growth import figure_of_age, growth, heads_tall
from orthomet.core.proportions.measure import measure_array
from orthomet.core.proportions.norms import adult_rows, norm, norm_over, with_means, z_scores
from orthomet.core.proportions.registry import Role, front_registry
from orthomet.core.proportions.views import figure_registry, profile_registry
from orthomet.core.resolve import norm_for, plan_of_style
from orthomet.core.styles.library import styles

REG = front_registry()
IND = {r.key for r in REG.of_role(Role.INDEPENDENT)}


def at(n: object, key: str) -> float:
    return float(n.mean[REG.index[key]])  # type: ignore[attr-defined]


@pytest.mark.parametrize("name", sorted(styles()))
def test_a_face_that_is_a_style_reads_nothing_against_it(name: str) -> None:
    n = norm_for(f"style:{name}", REG)
    z = z_scores(measure_array(plan_of_style(name).points), n, REG)
    off = {k: float(v) for k, v in zip(REG.keys, z, strict=True) if abs(v) > 0.35}
    assert not off


@pytest.mark.parametrize("age", [1, 5, 9, 14, 30])
def test_an_average_child_reads_nothing_against_its_age(age: int) -> None:
    n = norm_for(f"age:{age}", REG)
    face = plan_points({k: at(n, k) for k in IND})
    z = z_scores(measure_array(face), n, REG)
    assert np.nanmax(np.abs(z)) < 0.35


@pytest.mark.parametrize("name", ["age:5", "style:low-lantern", "style:quillmere-picture-book"])
def test_derived_rows_follow_by_their_own_forms(name: str) -> None:
    """The identities of the design page: 2 eyes + gap = span, nasion + nose = nose base, chin = 1 − mouth, thirds sum to one."""
    n = norm_for(name, REG)
    assert at(n, "eyes_across") == pytest.approx(1 / at(n, "eye_width_fw"))
    assert at(n, "outer_span_fw") == pytest.approx(at(n, "eye_width_fw") * (2 + at(n, "eye_gap_ew")))
    assert at(n, "nasion_station") == pytest.approx(at(n, "nose_base_station") - at(n, "nose_length_hh"))
    assert at(n, "chin_hh") == pytest.approx(1 - at(n, "mouth_station"))
    assert at(n, "upper_third") + at(n, "middle_third") + at(n, "lower_third") == pytest.approx(1)
    assert at(n, "eye_width_l_fw") == at(n, "eye_width_r_fw") == pytest.approx(at(n, "eye_width_fw"))
    upper = (at(n, "mouth_station") - at(n, "upper_lip_hh") - at(n, "nose_base_station")) / (1 - at(n, "nose_base_station"))
    assert at(n, "philtrum_share") == pytest.approx(upper)
    profile = norm_for(name, profile_registry())
    for key in ("nasion_station", "chin_hh", "ear_length_hh", "nose_length_hh"):
        assert profile.mean[profile_registry().index[key]] == pytest.approx(at(n, key))


def test_spreads_follow_too() -> None:
    """Eyes across: its relative spread is the eye width's; a wider eye of the same relative spread varies more in one side's width."""
    n, adult = norm_for("style:low-lantern", REG), norm()
    for key in ("eye_width_fw", "eye_width_l_fw", "eyes_across"):
        i = REG.index[key]
        assert n.sd[i] / n.mean[i] == pytest.approx(adult.sd[i] / adult.mean[i], rel=0.03), key
    assert n.sd[REG.index["nasion_station"]] != adult.sd[REG.index["nasion_station"]]
    assert (n.sd[np.isfinite(n.sd)] > 0).all()


def test_the_adult_itself_is_untouched_and_a_row_of_its_own_counts() -> None:
    same = with_means("x", "x", "", {}, REG, "")
    np.testing.assert_array_equal(same.mean, norm().mean)
    np.testing.assert_array_equal(same.sd, norm().sd)
    alone = rows_of(REG, adult_rows(), {"nasion_station": 0.5})
    assert alone["nasion_station"].mean == 0.5
    led = rows_of(REG, adult_rows(), {"nasion_station": 0.5, "nose_length_hh": 0.2})
    assert led["nasion_station"].mean == pytest.approx(0.495)
    assert rows_of(REG, adult_rows(), {"pupil_iris": 0.6})["pupil_iris"].mean == 0.6


def test_the_body_grows_with_its_age() -> None:
    """Trade facts: a child's shoulder joints lie outside its face, arms and legs lengthen against the head, all monotone and smooth."""
    reg = figure_registry()
    adult = {k: r.mean for k, r in adult_rows().items()} | {"foot_hh": 1.12}  # seen from the front a foot has no norm
    ages = np.linspace(0, 25, 101)
    rows = [figure_of_age(a, adult, reg) for a in ages]
    for key in growth().rows:
        v = np.array([r[key] for r in rows])
        steps = np.diff(v) * (-1 if key == "crotch_station_fig" else 1)
        assert (steps > -1e-9).all(), key
        assert np.abs(np.diff(v, 2)).max() < 0.05 * v.max(), key
        assert v[-1] == pytest.approx(adult[key]), key
    for age in (0, 2, 5, 8):
        child, face = norm_for(f"age:{age}", reg), norm_for(f"age:{age}", REG)
        joints = float(child.mean[reg.index["acromion_hh"]])
        assert joints > 1.2 * at(face, "face_width_hh")
        assert child.mean[reg.index["arm_balance"]] == pytest.approx(
            child.mean[reg.index["upper_arm_hh"]] / child.mean[reg.index["forearm_hh"]]
        )
        legs = float(child.mean[reg.index["thigh_hh"]] + child.mean[reg.index["shin_hh"]])
        below = heads_tall(age) * (1 - float(child.mean[reg.index["crotch_station_fig"]]))
        assert legs == pytest.approx(below, rel=0.12)  # they reach from about the crotch to about the floor


@pytest.mark.parametrize(("age", "heads"), [(1, 4.0), (2, 4.4), (5, 5.1), (10, 6.3), (15, 7.3), (18, 7.6)])
def test_heads_tall_by_growth_data(age: int, heads: float) -> None:
    reg = figure_registry()
    assert heads_tall(age) == pytest.approx(heads) == norm_over(f"age:{age}", reg).mean[reg.index["heads_tall"]]


def test_brows_are_planned_as_the_norm_tilts_them() -> None:
    for name in styles():
        tilt = plan_of_style(name).registry.index["brow_tilt_deg"]
        assert measure_array(plan_of_style(name).points)[tilt] == pytest.approx(BROW_TILT, abs=0.3)
    assert at(norm(), "brow_tilt_deg") == BROW_TILT
