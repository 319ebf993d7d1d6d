"""Drawings of turned heads, and of heads that make a face, against their plan."""

from __future__ import annotations

from functools import cache

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.check.check import check
from orthomet.core.check.compare import How, compare, compare_basis
from orthomet.core.check.moves import EYE, moves
from orthomet.core.check.turned import Depths, check_turned, depths_of, pose_of
from orthomet.core.errors import LandmarkError, OrthometError
from orthomet.core.features.expression import expression
from orthomet.core.head.turned import CENTRE
from orthomet.core.kinds import Array
from orthomet.core.landmarks.points import Landmarks, from_array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn, rotation, usual_depths
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.plan import make_plan
from orthomet.core.proportions.measure import measure
from orthomet.core.resolve import Face
from tests.faces import index_of, marks_of, random_table

PX = 850.0


@cache
def planned() -> tuple[Face, Depths]:
    plan = make_plan(measure(marks_of(random_table(np.random.default_rng(2), 0.6))), Decisions(style_weight=0.3))
    face = Face(dict(plan.table), plan.points)
    return face, depths_of(face)


def drawn(xyz: Array, turn: Turn, noise: float = 0.0, seed: int = 0) -> Landmarks:
    """A head as an artist would show it at a turn, points jittered by so many heads."""
    q = (xyz - CENTRE) @ rotation(turn)[:2].T + np.random.default_rng(seed).normal(size=(len(xyz), 2)) * noise
    return from_array(PX * q + [900, 1000])


@settings(max_examples=25, deadline=None)
@given(st.floats(-50, 50), st.floats(-25, 25), st.floats(-30, 30))
def test_a_head_as_planned_is_found_at_its_turn_and_passes(yaw: float, pitch: float, roll: float) -> None:
    _, head = planned()
    c, pose = check_turned(drawn(head.xyz, Turn(yaw=yaw, pitch=pitch, roll=roll)), head)
    turn = pose.turn
    assert (turn.yaw, turn.pitch, turn.roll) == pytest.approx((yaw, pitch, roll), abs=0.3)
    assert not c.findings and len(c.passed) > 80


def test_the_pose_is_the_one_opencv_finds_from_far_away() -> None:
    """Against OpenCV's ``solvePnP`` (iterative, a pinhole 400 heads away, where nothing shrinks any more)."""
    _, head = planned()
    known = np.isfinite(head.xyz).all(1)
    far = 400.0
    for yaw, pitch, roll in ((28.0, 6.0, 4.0), (-33.0, -10.0, -7.0), (12.0, 15.0, 0.0)):
        marks = drawn(head.xyz, Turn(yaw=yaw, pitch=pitch, roll=roll), 0.003, 4)
        xy = marks.array()
        # the camera looks along +z, so depth toward the viewer turns its sign
        solid = (head.xyz[known] - CENTRE) * [1, 1, -1]
        camera = np.array([[PX * far, 0, 900], [0, PX * far, 1000], [0, 0, 1]])
        guess = rotation(Turn(yaw=yaw + 8, pitch=pitch - 5, roll=roll + 4))
        flip = np.diag([1.0, 1.0, -1.0])
        start = cv2.Rodrigues(flip @ guess @ flip)[0]
        good, r, _ = cv2.solvePnP(
            solid, xy[known], camera, np.zeros(4), start.copy(), np.array([[0.0], [0.0], [far]]), True, cv2.SOLVEPNP_ITERATIVE
        )
        assert good
        theirs = flip @ cv2.Rodrigues(r)[0] @ flip
        ours = rotation(pose_of(xy, head.xyz).turn)
        between = np.degrees(np.arccos(np.clip((np.trace(theirs.T @ ours) - 1) / 2, -1, 1)))
        assert between < 0.5


def test_a_fault_on_a_three_quarter_head_is_named_and_told_as_long_as_it_is_drawn() -> None:
    face, head = planned()
    first = 0
    named = [m for m in moves(face.points) if m.shifts]
    for i, m in enumerate(named):
        off = head.xyz.copy()
        off[:, :2] += np.nan_to_num(m.field) * 0.045
        c, _ = check_turned(drawn(off, Turn(yaw=30 * (-1) ** i, pitch=4.0), 0.003, i), head, noise=0.003)
        first += bool(c.findings) and c.findings[0].move is not None and c.findings[0].move.name == m.name
    assert first >= 0.9 * len(named)
    mouth = next(m for m in named if m.name == "mouth sideways")
    off = head.xyz.copy()
    off[:, :2] += np.nan_to_num(mouth.field) * 0.05
    c, _ = check_turned(drawn(off, Turn(yaw=40.0)), head, noise=0.003)
    assert abs(c.findings[0].difference_px) == pytest.approx(0.05 * PX * np.cos(np.radians(40)), rel=0.08)


def test_a_declared_turn_is_kept_and_one_too_far_is_told() -> None:
    _, head = planned()
    marks = drawn(head.xyz, Turn(yaw=30, pitch=5))
    said = Landmarks(marks.view, marks.points, {}, {}, turn=Turn(yaw=20, pitch=5, spread=0.5))
    assert abs(check_turned(said, head)[1].turn.yaw - 20) < abs(check_turned(marks, head)[1].turn.yaw - 20)
    with pytest.raises(LandmarkError, match="turned"):
        check_turned(drawn(head.xyz, Turn(yaw=75)), head)
    few = Landmarks("front", {n: p for n, p in list(marks.points.items())[:5]}, {}, {})
    with pytest.raises(LandmarkError, match="turn can be found"):
        check_turned(few, head)
    spot = Landmarks("front", dict.fromkeys(marks.points, (5.0, 5.0)), {}, {})
    with pytest.raises(OrthometError):
        check_turned(spot, head)


@pytest.mark.parametrize("basis", ["self", "norm"])
def test_without_a_plan_people_s_depths_are_no_fault_and_a_low_eye_is(basis: str) -> None:
    """Depths of an ordinary head (own table, not the plan's solid), each pair's mistaken by 0.02 heads."""
    rng = np.random.default_rng(9)
    points = make_plan(measure(marks_of()), Decisions(style="measured-adult", style_weight=1.0)).points
    eye = [i for i in index_of(*EYE) if FRONT.names[i].endswith("_l")]
    alarms = 0
    for _ in range(6):
        dz = rng.normal(size=len(points)) * 0.02
        xyz = np.column_stack([points, usual_depths() + (dz + dz[np.array(FRONT.mirror)]) / np.sqrt(2)])
        turn = Turn(yaw=25, pitch=4)
        alarms += len(compare_basis(drawn(xyz, turn), basis, How("turned", noise=0.003)).check.findings)
        xyz[eye, 1] += 0.04
        found = compare_basis(drawn(xyz, turn), basis, How("turned", noise=0.003)).check.findings
        assert found and "eye" in found[0].say.lower()
    assert alarms <= 3


def test_a_face_it_makes_is_taken_off_and_said() -> None:
    face, _ = planned()
    glad = depths_of(Face(face.table, face.points, expression=expression("glad"))).xyz
    for turn, view in ((Turn(roll=5), "front"), (Turn(yaw=28, pitch=3), "turned")):
        marks = drawn(glad, turn, 0.002, 3)
        assert compare(marks, face, (), How(view)).check.findings
        for how in ("auto", "glad"):
            told = compare(marks, face, (), How(view, how))
            assert told.expression == "glad" and not told.check.findings
    with pytest.raises(OrthometError, match="expression"):
        compare(drawn(glad, Turn()), face, (), How("front", "sleepy"))


def test_a_fault_is_not_taken_for_a_face() -> None:
    face, head = planned()
    for m in moves(face.points)[::6]:
        off = head.xyz.copy()
        off[:, :2] += np.nan_to_num(m.field) * 0.05
        told = compare(drawn(off, Turn(), 0.002, 1), face, (), How("front", "auto", noise=0.003))
        assert told.expression == "neutral"
        assert told.check.findings == check(drawn(off, Turn(), 0.002, 1), face.points, noise=0.003).findings
