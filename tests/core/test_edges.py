"""Edges, creases, the mouth's path and the mass of the hair on pictures whose truth is known because they are drawn here."""

from __future__ import annotations

from itertools import pairwise, product

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.imaging.brows import brows
from orthomet.core.imaging.edges import Ray, Sides, heaviest, looked_along, moved_sideways, paired
from orthomet.core.imaging.hair import CELL, hair, mass
from orthomet.core.imaging.paths import across, end, through
from orthomet.core.imaging.refine import refine
from orthomet.core.imaging.working import Face
from orthomet.core.landmarks.schema import FRONT
from tests.portraits import portrait

SKIN, DARK = (214, 170, 140), (60, 40, 30)


def face_of(rgb: np.ndarray) -> Face:
    """A picture that is its own working picture."""
    same = np.array([[1.0, 0, 0], [0, 1.0, 0]])
    return Face(rgb, len(rgb), same, same, same)


def plain(side: int = 300, tone: tuple[int, int, int] = SKIN) -> np.ndarray:
    out = np.empty((side, side, 3), np.uint8)
    out[:] = tone
    return out


@pytest.mark.parametrize("way", [(1.0, 0.0), (0.0, 1.0), (0.6, 0.8)])
def test_a_step_is_found_where_it_is(way: tuple[float, float]) -> None:
    """A half plane 40 px along the ray, in any direction."""
    yy, xx = np.mgrid[0:300, 0:300]
    rgb = plain()
    rgb[(xx - 150) * way[0] + (yy - 150) * way[1] > 40] = DARK
    found = heaviest(looked_along(face_of(rgb), [Ray(np.array([150.0, 150]), np.array(way), 80, 35, 20, 5)])[0])
    assert found == pytest.approx(40, abs=1)


def test_nothing_is_found_on_plain_skin_and_beyond_the_picture() -> None:
    rays = [
        Ray(np.array([150.0, 150]), np.array([1.0, 0]), 60, 30, 10, 5),
        Ray(np.array([290.0, 150]), np.array([1.0, 0]), 60, 30, 10, 5, crease=True),
    ]
    assert [heaviest(s) for s in looked_along(face_of(plain()), rays)] == [None, None]


def test_a_crease_is_its_middle_and_not_its_flank() -> None:
    rgb = plain()
    rgb[:, 183:188] = DARK
    rgb = cv2.GaussianBlur(rgb, (0, 0), 2)
    start, way = np.array([150.0, 150]), np.array([1.0, 0])
    crease, step = looked_along(face_of(rgb), [Ray(start, way, 60, 32, 12, 5, crease=True), Ray(start, way, 60, 32, 12, 5)])
    assert heaviest(crease) == pytest.approx(35, abs=1)
    assert abs(heaviest(step) - 35) >= 2  # the steps lie beside it


def test_both_sides_are_chosen_together() -> None:
    """A heavy ear on one side does not win against a light cheek that matches the other side."""
    r = (np.array([60.0, 50.0]), np.array([5.0, 3.0]))
    left = (np.array([50.0]), np.array([4.0]))
    assert paired(r, left, (50, 50), 0.035) == (50.0, 50.0)
    assert paired(r, left, (60, 50), 0.035) == (60.0, 50.0)  # a head turned so that this side is wider
    assert paired(r, (np.array([]), np.array([])), (50, 50), 0.035) == (60.0, None)


def test_seeds_move_level_onto_a_drawn_outline() -> None:
    rgb = plain(tone=(90, 120, 150))
    cv2.ellipse(rgb, (150, 150), (80, 110), 0, 0, 360, SKIN, -1, cv2.LINE_AA)
    at = {"zygion_r": (76.0, 150.0), "zygion_l": (221.0, 150.0)}
    out = moved_sideways(face_of(rgb), at, [(Sides("zygion", 0.75, 0.6, 0.25, 0.15, 6, 0.05), 150.0)])
    assert out["zygion_r"] == (pytest.approx(70, abs=1.5), 150.0) and out["zygion_l"] == (pytest.approx(230, abs=1.5), 150.0)
    assert moved_sideways(face_of(rgb), {}, [(Sides("zygion", 0.75, 0.6, 0.25, 0.15, 6, 0.05), 150.0)]) == {}


@pytest.mark.parametrize("middle", [0, 1, 3, 5])
def test_the_cheapest_path_is_the_cheapest_of_all(middle: int) -> None:
    """Against every path there is through small random costs."""
    rng = np.random.default_rng(middle)
    for _ in range(6):
        cost = rng.normal(size=(4, 6))
        best = min(
            (p for p in product(range(4), repeat=6) if all(abs(a - b) <= 1 for a, b in pairwise(p))),
            key=lambda p: sum(cost[r, c] for c, r in enumerate(p)),
        )
        assert tuple(through(cost, middle)) == best
        assert tuple(across(np.stack([cost, -cost]))[0]) == best


def test_a_line_ends_where_it_stays_faint() -> None:
    depth = np.array([0, 0, 1, 9, 9, 1, 9, 9, 9, 3, 0, 0, 0.0])
    assert end(depth, 5, 7, 1, 2) == pytest.approx(8 + 4 / 6)
    assert end(depth, 5, 7, -1, 2) == pytest.approx(3 - 4 / 8)  # a gap of one column is bridged
    assert end(np.full(6, 9.0), 5, 3, 1, 2) == 5.0


def test_a_drawn_brow_is_found_under_a_fringe() -> None:
    """A brow of known ends, top and thickness; the hair above it is darker."""
    rgb = plain()
    rgb[:70] = (20, 15, 10)
    rgb[110:118, 150:230] = (120, 90, 70)
    at = {
        "brow_inner_l": (155.0, 108.0),
        "brow_peak_l": (195.0, 104.0),
        "brow_outer_l": (222.0, 110.0),
        "palpebrale_superius_l": (190.0, 150.0),
    }
    out = brows(face_of(cv2.GaussianBlur(rgb, (0, 0), 1.0)), at)
    assert out["brow_inner_l"][0] == pytest.approx(150, abs=3) and out["brow_outer_l"][0] == pytest.approx(230, abs=3)
    assert out["brow_peak_l"][1] == pytest.approx(109.5, abs=1.5) and out["brow_lower_peak_l"][1] == pytest.approx(117.5, abs=1.5)
    assert brows(face_of(plain()), at) == {} and brows(face_of(rgb), {}) == {}


def head(ground: np.ndarray) -> np.ndarray:
    """Dark hair about a face, on a ground ``(300, 300, 3)``."""
    rgb = ground.copy()
    cv2.ellipse(rgb, (150, 140), (90, 110), 0, 0, 360, (70, 50, 40), -1, cv2.LINE_AA)
    cv2.ellipse(rgb, (150, 170), (60, 80), 0, 0, 360, SKIN, -1, cv2.LINE_AA)
    return rgb


def test_hair_ends_where_the_ground_begins() -> None:
    """The ground shades from side to side and has grain."""
    rng = np.random.default_rng(1)
    ramp = np.linspace(90, 190, 300)[None, :, None] * np.array([0.8, 0.9, 1.0]) + rng.normal(0, 3, (300, 300, 3))
    face = face_of(head(np.clip(ramp + np.zeros((300, 1, 1)), 0, 255).astype(np.uint8)))
    at = {
        "glabella": (150.0, 140.0), "trichion": (150.0, 95.0), "vertex": (150.0, 45.0), "gnathion": (150.0, 250.0),
        "euryon_r": (80.0, 120.0), "euryon_l": (220.0, 120.0),
    }  # fmt: skip
    out = hair(face, at)
    half = 90 * np.sqrt(1 - (20 / 110) ** 2)
    assert out["hair_top"] == (150.0, pytest.approx(30, abs=CELL / 2))
    assert out["hair_side_r"][0] == pytest.approx(150 - half, abs=CELL / 2)
    assert out["hair_side_l"][0] == pytest.approx(150 + half, abs=CELL / 2)
    assert out["trichion"][1] == pytest.approx(90, abs=3)


def test_a_crowded_ground_makes_no_mask() -> None:
    rng = np.random.default_rng(2)
    crowd = cv2.resize(rng.integers(0, 255, (12, 12, 3), dtype=np.uint8), (300, 300), interpolation=cv2.INTER_NEAREST)
    assert mass(face_of(head(crowd)), (150, 130)) is None
    assert mass(face_of(plain()), (150, 130)) is None  # nothing stands out


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.sampled_from([0.0, 3.0, 30.0, 200.0, 5e3, 1e6]))
def test_seeds_anywhere_do_no_harm(seed: int, loose: float) -> None:
    """Whatever a network answers, points are moved to proper places or not at all."""
    picture, truth, _ = portrait(0.24, 1)
    rng = np.random.default_rng(seed)
    wild = {n: (x + rng.normal(0, loose), y + rng.normal(0, loose)) for n, (x, y) in truth.items()}
    moved = refine(picture, wild)
    assert set(moved) <= set(FRONT.names) and np.isfinite(np.array(list(moved.values()) or [(0, 0)])).all()


def test_under_a_fringe_the_hairline_stays_where_the_norm_has_it() -> None:
    picture, truth, _ = portrait(0.24, 2)  # a bob with a fringe
    points = {n: xy for n, xy in truth.items() if n != "trichion"}
    seed = (truth["trichion"][0], truth["trichion"][1] + 2)
    assert "trichion" not in refine(picture, {**points, "trichion": seed})
    swept, bare, _ = portrait(0.24, 1)
    moved = refine(swept, bare)["trichion"]
    assert abs(moved[1] - bare["trichion"][1]) < 0.03 * (bare["gnathion"][1] - bare["vertex"][1])
