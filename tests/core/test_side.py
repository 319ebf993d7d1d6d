"""The profile is planned like everything else, and the head that is built reads back as it was planned."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.head.body import Wear
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene
from orthomet.core.head.solid import Make, side_readings, solid
from orthomet.core.landmarks.turn import Turn
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.side import LIMITS, plan_side, side_offset, targets
from orthomet.core.proportions.norms import norm_over
from orthomet.core.proportions.views import profile_registry
from orthomet.core.resolve import side_of_character
from orthomet.core.styles.library import style
from orthomet.demo.cast import BERTA, LORN, WICK
from orthomet.demo.project import demo_project
from tests.extremes import EXTREMES
from tests.faces import random_table

NORM = norm_over("adult", profile_registry())
TOWARD = style("quillmere-picture-book")
ADULT = {k: float(NORM.mean[profile_registry().index[k]]) for k in LIMITS}


@pytest.mark.parametrize("table", [BERTA, LORN, WICK, *EXTREMES.values()])
@pytest.mark.parametrize("share", [0.1, 0.35, 0.65])
def test_the_built_profile_reads_back_as_planned(table: dict[str, float], share: float) -> None:
    """Within half a per cent of a head, on people and on extreme fronts, between the limits."""
    wanted = {k: low + share * (high - low) for k, (low, high) in LIMITS.items()}
    wanted["head_depth_hh"] = 0.75 + 0.25 * share
    read = side_readings(solid(table, Make(side=tuple(wanted.items()))))
    for key, v in wanted.items():
        assert read[key] == pytest.approx(v, abs=0.005), key


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 5000), st.floats(-0.06, 0.06), st.floats(0.04, 0.16))
def test_random_heads_take_a_random_profile(seed: int, chin: float, nose: float) -> None:
    table = random_table(np.random.default_rng(seed), 0.7)
    read = side_readings(solid(table, Make(side=(("nose_depth_hh", nose), ("chin_out_hh", chin)))))
    assert read["nose_depth_hh"] == pytest.approx(nose, abs=0.005) and read["chin_out_hh"] == pytest.approx(chin, abs=0.005)


def test_the_rule_is_the_traits_own() -> None:
    """e = 0 is the norm, e = 1 with no style the sitter, e = 2 twice as far from the norm; a mark moved by hand stays there."""
    sitter = {**ADULT, "chin_out_hh": ADULT["chin_out_hh"] + 0.03, "nose_depth_hh": 0.11}

    def plans(**emphasis: float) -> dict[str, float]:
        d = Decisions(style_weight=0, emphasis=emphasis)
        return dict(targets(plan_side(sitter, d, TOWARD, NORM)))

    assert plans()["chin_out_hh"] == pytest.approx(sitter["chin_out_hh"]) and plans()["nose_depth_hh"] == pytest.approx(0.11)
    assert plans(chin_out_hh=0.0)["chin_out_hh"] == pytest.approx(ADULT["chin_out_hh"])
    assert plans(chin_out_hh=2.0)["chin_out_hh"] == pytest.approx(ADULT["chin_out_hh"] + 0.06)
    assert plans(chin_out_hh=5.0)["chin_out_hh"] == LIMITS["chin_out_hh"][1]  # held to what a head can be
    d = Decisions(style_weight=0, emphasis={"nose_depth_hh": 1.5})
    (p,) = (p for p in plan_side(sitter, d, TOWARD, NORM) if p.key == "nose_depth_hh")
    moved = d.model_copy(update={"offsets": {"nose_depth_hh": side_offset(p, d, 0.09)}})
    assert dict(targets(plan_side(sitter, moved, TOWARD, NORM)))["nose_depth_hh"] == pytest.approx(0.09)
    assert plan_side({}, d, TOWARD, NORM) == () and plan_side({"nose_depth_hh": -1.0}, d, TOWARD, NORM) == ()


def test_front_and_side_are_one_head() -> None:
    """A profile moves nothing of the front; turned to the side its own readings are what is seen."""
    wanted = (("nose_depth_hh", 0.13), ("chin_out_hh", -0.06), ("upper_lip_out_hh", 0.03))
    plain, sided = (scene(BERTA, plan_points(BERTA), Turn(), Wear(side=s)) for s in ((), wanted))
    for name, (xy, _) in plain.landmarks.items():
        assert sided.landmarks[name][0] == pytest.approx(xy, abs=1e-9), name
    right = sided.outline[: len(sided.outline) // 2]
    np.testing.assert_allclose(
        np.interp(right[:, 1], plain.outline[: len(plain.outline) // 2, 1], plain.outline[: len(plain.outline) // 2, 0]),
        right[:, 0],
        atol=2e-3,
    )
    side = scene(BERTA, plan_points(BERTA), Turn(yaw=90), Wear(side=wanted))
    x = {n: side.landmarks[n][0][0] for n in ("pronasale", "subnasale", "labiale_superius")}
    assert x["pronasale"] - x["subnasale"] == pytest.approx(0.13, abs=0.005)
    assert x["labiale_superius"] - x["subnasale"] == pytest.approx(0.03, abs=0.005)


def test_the_demos_pilot_has_her_own_profile() -> None:
    stored = demo_project()
    berta = stored.project.character("berta")
    assert berta is not None
    planned = dict(side_of_character(berta, stored.project))
    assert set(planned) == set(LIMITS)
    lorn = stored.project.character("lorn")
    assert lorn is not None and side_of_character(lorn, stored.project) == ()
