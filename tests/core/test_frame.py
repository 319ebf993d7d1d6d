"""A face's own frame, and the mirror about its midline: against plain geometry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from orthomet.core.landmarks.frame import frame_of
from orthomet.core.landmarks.level import LevelBy
from orthomet.core.landmarks.mirror import mirrored
from orthomet.core.landmarks.points import Landmarks, State
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.project.model import Marks
from orthomet.core.project.places import mirror_sure
from orthomet.core.resolve import plan_of_style

HEADS = plan_of_style("measured-adult").points


def on_picture(scale: float, roll: float, x: float, y: float) -> dict[str, tuple[float, float]]:
    c, s = np.cos(roll), np.sin(roll)
    xy = scale * HEADS @ np.array([[c, s], [-s, c]]) + [x, y]
    return {n: (float(a), float(b)) for n, (a, b) in zip(FRONT.names, xy, strict=True) if np.isfinite(a)}


@given(st.floats(20, 4000), st.floats(-0.6, 0.6), st.floats(-500, 4000), st.floats(-500, 4000))
def test_the_frame_takes_a_face_back_to_heads(scale: float, roll: float, x: float, y: float) -> None:
    """A symmetrical plan laid on a picture by any similarity comes back as it was, and the other way round."""
    frame = frame_of(Landmarks("front", on_picture(scale, roll, x, y)))
    assert frame is not None and frame.head == pytest.approx(scale) and frame.roll == pytest.approx(roll, abs=1e-9)
    there = np.isfinite(HEADS).all(1)
    picture = np.array(list(on_picture(scale, roll, x, y).values()))
    np.testing.assert_allclose(frame.to_heads(picture), HEADS[there], atol=1e-9)
    np.testing.assert_allclose(frame.to_picture(HEADS[there]), picture, atol=1e-6 * scale)


def test_without_crown_and_chin_there_is_no_frame() -> None:
    points = on_picture(100, 0, 0, 0)
    assert frame_of(Landmarks("front", {n: xy for n, xy in points.items() if n != "vertex"})) is None
    assert frame_of(Landmarks("front", {**points, "gnathion": points["vertex"]})) is None
    assert frame_of(Landmarks("profile", {"vertex": (0, 0), "gnathion": (0, 90)})) is None


def test_own_points_do_not_disturb_it() -> None:
    """A face with spans of the artist's own: its frame is that of its landmarks (the moved picture once failed here)."""
    points = on_picture(300, 0.1, 40, 50)
    own = {**points, "own_quiff_a": (1.0, 2.0), "own_quiff_b": (900.0, 2.0)}
    assert frame_of(Landmarks("front", own)) == frame_of(Landmarks("front", points))


@given(st.floats(50, 2000), st.floats(-0.5, 0.5), st.sampled_from(LevelBy))
def test_mirroring_a_symmetrical_face_gives_it_back(scale: float, roll: float, by: LevelBy) -> None:
    points = on_picture(scale, roll, 300, 200)
    states = {n: State.ESTIMATED for n in points if n.endswith("_r")}
    found = mirrored(Landmarks("front", points, states), by)
    assert set(found) == set(states)
    for n, xy in found.items():
        assert xy == pytest.approx(points[n], abs=1e-6 * scale)


def test_only_the_sure_side_speaks() -> None:
    """Both sides sure, both loose, or one absent by design: nothing is laid. A figure is mirrored, a profile is not."""
    points = on_picture(400, 0, 500, 100)
    sure = Marks(points=points)
    assert mirror_sure(sure) == sure
    pair = ["cheilion_l", "cheilion_r"]
    assert "cheilion_r" not in mirrored(Landmarks("front", points, dict.fromkeys(pair, State.ESTIMATED)))
    gone = {n: xy for n, xy in points.items() if n != "cheilion_r"}
    assert mirrored(Landmarks("front", gone))["cheilion_r"] == pytest.approx(points["cheilion_r"], abs=1e-6)
    assert mirrored(Landmarks("front", gone, {"cheilion_r": State.ABSENT})) == {}
    figure = {"vertex": (10.0, 0.0), "gnathion": (10.0, 10.0), "acromion_l": (18.0, 15.0)}
    assert mirrored(Landmarks("figure", figure)) == {"acromion_r": (2.0, 15.0)}
    assert mirrored(Landmarks("profile", {"vertex": (10.0, 0.0), "gnathion": (10.0, 10.0)})) == {}
