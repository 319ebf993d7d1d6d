"""First points by the drawn lines: against drawings whose truth is known."""

from __future__ import annotations

from itertools import pairwise, product

import cv2
import numpy as np
import pytest

from orthomet.core.errors import LandmarkError
from orthomet.core.kinds import Array
from orthomet.core.landmarks.points import State
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.seed import seed_from_plan
from orthomet.core.live.affine import after
from orthomet.core.live.closeness import CHANNELS, channel_of, closeness
from orthomet.core.live.lay import Laid, laid_states, lay
from orthomet.core.live.lay_outline import _cheapest
from orthomet.core.live.linemap import line_map
from tests.edited import USED, InTheMaking, similarity

SIZE = (1100, 1050)


def faulty(seed: int) -> tuple[InTheMaking, Array]:
    """A drawing with one to three features off, and the plan it was made from."""
    rng = np.random.default_rng([seed, 9])
    d = InTheMaking(400 + seed, SIZE)
    plan = d.points.copy()
    for g in rng.choice(["eye_l", "eye_r", "brow_l", "nose", "mouth"], int(rng.integers(1, 4)), replace=False):
        d.maps[g] = similarity(shift=rng.normal(0, 0.03, 2).clip(-0.05, 0.05))
    return d, plan


def clicks(d: InTheMaking, rng: np.random.Generator, off: float = 0.005) -> dict[str, tuple[float, float]]:
    x = d.truth()
    return {n: tuple((x[FRONT.index[n]] + rng.normal(0, off * d.hh, 2)).tolist()) for n in ("vertex", "gnathion")}


def laid(d: InTheMaking, plan: Array, seed: int) -> Laid:
    grey = cv2.cvtColor(d.render(), cv2.COLOR_RGB2GRAY)
    return lay(grey, d.table, plan, clicks(d, np.random.default_rng(seed)), d.choices)


def test_points_come_to_lie_on_the_drawn_lines_and_their_spreads_are_honest() -> None:
    ours, simply, spreads = [], [], []
    for seed in range(5):
        d, plan = faulty(seed)
        found, x = laid(d, plan, seed), d.truth()
        e = np.hypot(*(found.points - x).T)[USED] / d.hh
        ours.append(e)
        spreads.append(e / (found.spread[USED] / d.hh))
        seeds = seed_from_plan(
            plan, {**clicks(d, np.random.default_rng(seed)), "exocanthion_l": tuple(x[FRONT.index["exocanthion_l"]])}
        )
        simply.append(np.hypot(*(seeds.array() - x).T)[USED] / d.hh)
    e, z, s = np.concatenate(ours), np.concatenate(spreads), np.concatenate(simply)
    assert np.median(e) < 0.005 and np.percentile(e, 90) < 0.02 < np.percentile(s, 90)
    assert (z > 3).mean() < 0.05 and np.median(z) < 1, "errors beyond three spreads are rare"


def test_a_turned_sheet_and_a_small_head_are_laid_too() -> None:
    d, plan = faulty(2)
    d.view = after(similarity(0.7, 8.0, (260, 20)), d.view)
    found = laid(d, plan, 3)
    e = np.hypot(*(found.points - d.truth()).T)[USED] / d.hh
    assert np.median(e) < 0.01


def test_what_was_clicked_is_placed_and_the_rest_estimated_within_its_spread() -> None:
    d, plan = faulty(1)
    found = laid(d, plan, 1)
    points, states, spread = laid_states(found, clicks(d, np.random.default_rng(1)))
    assert "vertex" not in states and states["stomion"] is State.ESTIMATED and 0 < spread["stomion"] < 0.06 * d.hh
    assert points["vertex"] == clicks(d, np.random.default_rng(1))["vertex"] and set(states) == set(spread)


def test_an_empty_page_says_that_nothing_was_found() -> None:
    d, plan = faulty(1)
    found = lay(np.full((1050, 1100), 244, np.uint8), d.table, plan, clicks(d, np.random.default_rng(1)), d.choices)
    assert found.spread[FRONT.index["stomion"]] > 0.015 * d.hh and np.isfinite(found.points[USED]).all()
    with pytest.raises(LandmarkError, match="Crown and chin"):
        lay(np.full((50, 50), 244, np.uint8), d.table, plan, {"vertex": (5, 5)})
    with pytest.raises(LandmarkError, match="near each other"):
        lay(np.full((50, 50), 244, np.uint8), d.table, plan, {"vertex": (5, 5), "gnathion": (5, 20)})


def test_lines_are_close_by_place_and_direction() -> None:
    page = np.full((640, 640), 240, np.uint8)
    cv2.line(page, (100, 320), (220, 320), 40, 3)
    near = closeness(line_map(page, 1.0), 640)
    level, upright = (int(channel_of(np.array(a), 0.0)) for a in (0.0, np.pi / 2))
    assert near.fine.shape[0] == CHANNELS and near.fine[level, 160, 80] > 0.5 > 5 * near.fine[upright, 160, 80]
    assert near.far[level, 166, 80] > 3 * near.fine[level, 166, 80], "the wider blur reaches farther"
    long = page.copy()
    cv2.line(long, (10, 500), (630, 500), 190, 2)
    assert closeness(line_map(long, 1.0), 640).fine[level, 250, 160] < 0.5 * near.fine[level, 160, 80]


def test_the_cheapest_way_is_the_one_trying_all_finds() -> None:
    cost = np.random.default_rng(2).uniform(0, 1, (5, 4))
    best = min(
        (w for w in product(range(4), repeat=5) if all(abs(a - b) <= 2 for a, b in pairwise(w))),
        key=lambda w: sum(cost[k, j] for k, j in enumerate(w)) + sum(0.06 * (a - b) ** 2 for a, b in pairwise(w)),
    )
    assert tuple(_cheapest(cost)) == best
