"""Undoing the camera: turn, distance, the photographed sheet."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from orthomet.core.errors import PictureError
from orthomet.core.head.points import plan_points
from orthomet.core.imaging.rectify import convex, homography, to_page
from orthomet.core.landmarks.mesh import kabsch
from orthomet.core.landmarks.points import from_array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn, angles, from_distance, rotation, undone, usual_depths
from orthomet.core.proportions.measure import measure, measure_array
from orthomet.core.proportions.norms import norm
from orthomet.core.proportions.registry import front_registry
from orthomet.core.references import straight, trusted
from orthomet.demo.painting.paint import SITTERS
from orthomet.demo.painting.portrait import sitter_points
from orthomet.demo.painting.turned import landmark_depths
from tests.faces import random_table

REG = front_registry()
WIDTHS = [REG.index[k] for k in ("face_width_hh", "head_width_hh", "eye_width_fw", "nose_width_fw", "mouth_width_fw")]
STATIONS = [i for i, k in enumerate(REG.keys) if k.endswith("_station")]


def seen(points: np.ndarray, depths: np.ndarray, turn: Turn, px: float = 800.0) -> np.ndarray:
    solid = np.column_stack([points, depths])
    return (solid @ rotation(turn).T)[:, :2] * px + [640, 200]


@pytest.mark.parametrize("name", sorted(SITTERS))
@pytest.mark.parametrize("yaw, pitch, roll", [(30, 0, 0), (-30, 0, 4), (30, 8, -6), (-22, -10, 0), (35, 0, 0)])
def test_a_turn_undone_gives_the_painted_truth(name: str, yaw: float, pitch: float, roll: float) -> None:
    """Truth: the demo's own solids. Widths within 3 %, stations within 1 % of the head."""
    s = SITTERS[name][0]
    flat, turn = sitter_points(s), Turn(yaw=yaw, pitch=pitch, roll=roll)
    back, added = undone(seen(flat, landmark_depths(s), turn), turn)
    a, b = measure_array(flat), measure_array(back)
    assert np.nanmax(np.abs(b[WIDTHS] / a[WIDTHS] - 1)) < 0.03
    assert np.nanmax(np.abs(b - a)[STATIONS]) < (0.01 if pitch == 0 else 0.02)
    assert (added[np.isfinite(back[:, 0])] > 0).all()


@settings(max_examples=30, deadline=None)
@given(st.integers(0, 10_000), st.floats(-35, 35), st.floats(-15, 15), st.floats(-20, 20))
def test_undoing_is_close_for_any_face_whose_depths_differ(seed: int, yaw: float, pitch: float, roll: float) -> None:
    rng = np.random.default_rng(seed)
    flat = plan_points(random_table(rng))
    noise = rng.normal(0, 0.02, len(flat))
    depths = usual_depths() + (noise + noise[list(FRONT.mirror)]) / 2
    turn = Turn(yaw=yaw, pitch=pitch, roll=roll)
    back, _ = undone(seen(flat, depths, turn), turn)
    a, b = measure_array(flat), measure_array(back)
    assert np.nanmax(np.abs(b[WIDTHS] / a[WIDTHS] - 1)) < 0.03
    assert np.nanmax(np.abs(b - a)[STATIONS]) < 0.025


def test_no_turn_changes_nothing_and_a_turn_left_in_does() -> None:
    flat = seen(plan_points(random_table(np.random.default_rng(2))), usual_depths(), Turn())
    back, added = undone(flat, Turn(spread=0))
    np.testing.assert_allclose(measure_array(back), measure_array(flat), atol=1e-9)
    assert float(np.nanmax(added)) < 1e-6
    turned = seen(plan_points(random_table(np.random.default_rng(2))), usual_depths(), Turn(yaw=30))
    left_in = measure_array(turned)[REG.index["face_width_hh"]] / measure_array(flat)[REG.index["face_width_hh"]]
    assert left_in < 0.9


def test_the_uncertainty_is_that_of_the_reading() -> None:
    """A pair's depth is one: its error moves a pair, not its width. So widths of the front stay sure at any turn, one side's do not."""
    flat = plan_points(random_table(np.random.default_rng(3)))
    noise = {}
    for yaw in (5, 20, 35, 60):
        told = replace(from_array(seen(flat, usual_depths(), Turn(yaw=yaw))), turn=Turn(yaw=yaw))
        m = measure(straight(told))
        noise[yaw] = {k: float(m.noise[REG.index[k]]) for k in ("eye_width_fw", "eye_width_l_fw", "face_width_hh")}
        assert trusted(m, norm())[REG.index["eye_width_fw"]] and noise[yaw]["eye_width_fw"] < 0.2 * noise[yaw]["eye_width_l_fw"]
    for key in ("eye_width_l_fw", "face_width_hh"):
        grown = [noise[yaw][key] for yaw in (5, 20, 35, 60)]
        assert grown == sorted(grown), key


def test_what_is_told_uncertain_is_what_goes_wrong() -> None:
    """40 heads of other depths, their turn told 3° off: errors of the readings against what was told of them, both ways."""
    rng, off = np.random.default_rng(0), []
    for _ in range(40):
        flat, noise = plan_points(random_table(rng)), rng.normal(0, 0.035, len(FRONT.names))
        depths = usual_depths() + (noise + noise[list(FRONT.mirror)]) / np.sqrt(2)
        told = Turn(yaw=30 + rng.normal() * 3, pitch=rng.normal() * 3, spread=3)
        m = measure(straight(replace(from_array(seen(flat, depths, Turn(yaw=30))), turn=told)))
        off.append((m.values - measure_array(flat * 800)) / np.where(m.noise > 0, m.noise, np.nan))
    rms = np.sqrt(np.nanmean(np.square(off), axis=0))[
        [REG.index[k] for k in ("face_width_hh", "eye_width_l_fw", "mouth_station", "level_cheilion_hh", "centre_cheilion_hh")]
    ]
    assert (rms < 1.5).all() and (rms > 0.2).all(), rms


@settings(max_examples=60, deadline=None)
@given(st.floats(-99, 99), st.floats(-79, 79), st.floats(-179, 179))
def test_angles_invert_rotation_and_agree_with_scipy(yaw: float, pitch: float, roll: float) -> None:
    """R = Rz·Rx·Ry; SciPy's intrinsic Z-X-Y, its signs turned to a y axis that points down."""
    r = rotation(Turn(yaw=yaw, pitch=pitch, roll=roll))
    np.testing.assert_allclose(angles(r), (yaw, pitch, roll), atol=1e-6)
    np.testing.assert_allclose(r, Rotation.from_euler("ZXY", [roll, -pitch, yaw], degrees=True).as_matrix(), atol=1e-9)


def test_signs_are_the_trades() -> None:
    nose = np.array([0.0, 0.0, 1.0])
    assert (rotation(Turn(yaw=20)) @ nose)[0] > 0  # to the picture's right
    assert (rotation(Turn(pitch=20)) @ nose)[1] > 0  # looks down


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 9999))
def test_the_rigid_fit_agrees_with_scipy(seed: int) -> None:
    rng = np.random.default_rng(seed)
    p = rng.normal(size=(20, 3))
    q = p @ Rotation.random(random_state=seed).as_matrix().T + rng.normal(0, 0.05, (20, 3))
    best, _ = Rotation.align_vectors(q - q.mean(0), p - p.mean(0))
    np.testing.assert_allclose(kabsch(p, q), best.as_matrix(), atol=1e-6)


def test_distance_gives_back_what_a_near_lens_takes() -> None:
    """Trade fact of the design page: 1 m under-reads the face's width by about 5 %, 2 m by 2.7 %."""
    flat = (plan_points(random_table(np.random.default_rng(5))) - [0, 0.5]) * 0.23  # the lens looks at the face's middle
    z = usual_depths() * 0.23
    for metres, lost in ((1.0, 0.055), (2.0, 0.028)):
        near = flat * (metres / (metres + 0.40 * 0.23 - z))[:, None]
        i = REG.index["face_width_hh"]
        truth, read = measure_array(flat * 4000)[i], measure_array(near * 4000)[i]
        zygion = np.ptp(near[[FRONT.index["zygion_l"], FRONT.index["zygion_r"]], 0]) / (truth * 0.23)
        assert 1 - zygion == pytest.approx(lost, abs=0.008)
        assert abs(measure_array(from_distance(near * 4000 + [700, 600], metres))[i] / truth - 1) < min(
            0.012, 0.5 * abs(read / truth - 1)
        )


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 9999))
def test_the_homography_agrees_with_opencv(seed: int) -> None:
    rng = np.random.default_rng(seed)
    square = np.array([[0, 0], [210, 0], [210, 297], [0, 297]], float)
    corners = square * 4 + rng.uniform(-60, 60, (4, 2)) + 100
    ours = homography(corners, square)
    theirs = cv2.getPerspectiveTransform(corners.astype(np.float32), square.astype(np.float32))
    probe = corners.mean(0) + rng.uniform(-100, 100, (5, 2))
    mine = to_page(probe, [tuple(c) for c in corners], (210.0, 297.0))
    want = cv2.perspectiveTransform(probe[None].astype(np.float32), theirs)[0]
    np.testing.assert_allclose(mine, want, atol=0.02)
    assert ours[2, 2] == 1.0


def test_bad_corners_are_refused() -> None:
    crossed = [(0.0, 0.0), (100.0, 100.0), (100.0, 0.0), (0.0, 100.0)]
    assert not convex(crossed)
    with pytest.raises(PictureError, match="cross"):
        to_page(np.zeros((1, 2)), crossed, (210, 297))
    with pytest.raises(PictureError, match="one line"):
        homography(np.array([[0, 0], [1, 0], [2, 0], [3, 1]], float), np.array([[0, 0], [1, 0], [1, 1], [0, 1]], float))
