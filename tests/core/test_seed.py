"""Seeds get better with every point a person places."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.landmarks.points import Landmarks, State
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.seed import relay, seed_from_plan
from orthomet.core.resolve import plan_of_style
from tests.faces import marks_of, random_table

TEMPLATE = plan_of_style("measured-adult").points


def error(marks: Landmarks, truth: Landmarks, names: set[str]) -> float:
    return float(
        np.mean([np.hypot(marks.points[n][0] - truth.points[n][0], marks.points[n][1] - truth.points[n][1]) for n in names])
    )


@pytest.mark.parametrize("seed", range(4))
def test_placing_the_essential_points_brings_the_others_near(seed: int) -> None:
    truth = marks_of(random_table(np.random.default_rng(seed), 1.5), roll=0.1)
    clicked = {n: truth.points[n] for n in ("vertex", "gnathion", "exocanthion_l")}
    seeds = seed_from_plan(TEMPLATE, clicked)
    fine = set(seeds.points) - set(FRONT.essential)
    before = error(seeds, truth, fine)
    placed = {**seeds.points, **{n: truth.points[n] for n in FRONT.essential}}
    marks = Landmarks("front", placed, dict.fromkeys(fine, State.ESTIMATED))
    moved = relay(TEMPLATE, marks)
    assert set(moved) == fine  # placed points are never touched
    after = error(Landmarks("front", {**placed, **moved}), truth, fine)
    assert after < 0.8 * before and after < 0.025 * 800


def test_a_placed_point_speaks_for_its_partner() -> None:
    truth = marks_of()
    seeds = seed_from_plan(TEMPLATE, {n: truth.points[n] for n in ("vertex", "gnathion", "exocanthion_l")})
    x, y = seeds.points["gonion_l"]
    wide = Landmarks(
        "front", {**seeds.points, "gonion_l": (x + 30, y + 12)}, {n: s for n, s in seeds.states.items() if n != "gonion_l"}
    )
    after = relay(TEMPLATE, wide)["gonion_r"]
    assert after[0] < seeds.points["gonion_r"][0] - 8 and after[1] > seeds.points["gonion_r"][1] + 3


def test_nothing_moves_when_nothing_is_estimated_or_placed() -> None:
    assert relay(TEMPLATE, marks_of()) == {}
    loose = Landmarks("front", marks_of().points, dict.fromkeys(FRONT.names, State.ESTIMATED))
    assert relay(TEMPLATE, loose) == {}
