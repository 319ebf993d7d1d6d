"""Poses: bones keep their length, joints their limits; the same pose on every body; skin, balance and drags."""

from __future__ import annotations

import math
from functools import cache
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation, Slerp
from shapely.geometry import MultiPoint, Point, Polygon
from shapely.ops import unary_union

from orthomet.core.errors import OrthometError
from orthomet.core.figure.build import build_of
from orthomet.core.figure.canons import canon, canon_names
from orthomet.core.figure.frames import about_plumb, forward, outward
from orthomet.core.figure.mannequin import mannequin
from orthomet.core.figure.scene import Figure, figure
from orthomet.core.figure.skeleton import Skeleton
from orthomet.core.kinds import Array
from orthomet.core.landmarks.turn import Turn, rotation
from orthomet.core.pose.balance import balance, centre_of, masses
from orthomet.core.pose.bones import Posed, posed
from orthomet.core.pose.drag import HANDLES, dragged, pinned
from orthomet.core.pose.figure import moving_figure, posed_figure
from orthomet.core.pose.guides import line_of_action, on_picture, tilt
from orthomet.core.pose.library import pose, pose_of, poses
from orthomet.core.pose.limits import arm_excess, limits, root_angles
from orthomet.core.pose.model import ANGLES, STANDING, Hold, Pose, mirrored, pose_text, read_pose
from orthomet.core.pose.moving import moving
from orthomet.core.pose.steady import between, steady
from orthomet.core.pose.turns import halved, trunk, trunk_angles

BODIES = ("measured", "big-foot", "age:5", "two-heads", "rubber-limb")
angle = st.floats(-200, 200)


@cache
def body(name: str = "measured") -> Figure:
    c = canon(name)
    return figure(build_of(c.readings, c.form, c.limbs))


def bones(name: str = "measured") -> Skeleton:
    return body(name).mannequin.skeleton


def even_odd(shapes: list[Array]) -> Polygon:
    """Closed outlines as one shape."""
    out = Polygon()
    for p in shapes:
        out = out.symmetric_difference(Polygon(p).buffer(0))
    return out


def lengths_kept(p: Posed) -> float:
    return max(abs(p.bones[k] - v) for k, v in p.rest.bones.items())


@st.composite
def any_pose(draw: st.DrawFn) -> Pose:
    joints = draw(st.lists(st.sampled_from(sorted(ANGLES)), max_size=10, unique=True))
    angles = {j: tuple(draw(angle) for _ in ANGLES[j]) for j in joints}
    holds = {}
    for end in draw(st.lists(st.sampled_from(["wrist_l", "wrist_r", "ankle_l", "ankle_r"]), max_size=3, unique=True)):
        of = (
            "floor"
            if end.startswith("ankle")
            else draw(st.sampled_from(["floor", "pelvis", "chest", "head", "thigh_l", "thigh_r"]))
        )
        place = st.tuples(*[st.floats(-3, 3)] * 3)
        holds[end] = Hold(of=of, at=draw(place), toward=draw(place))
    waived = tuple(j for j in joints if draw(st.booleans()))
    return Pose(
        angles=angles, holds=holds, root=draw(st.tuples(st.floats(-1, 1), st.floats(0, 1), st.floats(-1, 1))), waived=waived
    )


@pytest.mark.parametrize("name", canon_names())
def test_who_is_not_posed_stands_as_planned(name: str) -> None:
    s = bones(name)
    p = posed(s, STANDING)
    assert not p.limited and not p.missed
    for k, v in s.joints.items():
        assert p.joints[k] == pytest.approx(v, abs=1e-9)


@given(any_pose(), st.sampled_from(BODIES))
@settings(max_examples=120, deadline=None)
def test_bones_keep_their_length_and_joints_their_limits(wanted: Pose, name: str) -> None:
    p = posed(bones(name), wanted)
    assert lengths_kept(p) < 1e-9
    assert all(np.isfinite(v).all() for v in p.joints.values())
    lim = limits().spans
    for side in "lr":
        for joint, limb in ((f"elbow_{side}", f"arm_{side}"), (f"knee_{side}", f"leg_{side}")):
            low, high = lim[joint[:-2]][0]
            if joint not in wanted.waived and name != "rubber-limb":
                assert low - 1e-6 <= abs(p.limbs[limb].bend) <= high + 1e-6
        if f"arm_{side}" not in wanted.waived:
            chest = p.frames["chest"] if side == "l" else np.diag([-1, 1, 1]) @ p.frames["chest"] @ np.diag([-1, 1, 1])
            assert arm_excess(chest.T @ p.limbs[f"arm_{side}"].frame[:, 1]) < 1e-4
    low_place = max(float(v[1]) for k, v in p.joints.items() if k[:4] in ("heel", "toe_"))
    assert low_place <= p.rest.build.heads + 0.35 * p.rest.build.foot + 1e-6


def test_joints_are_where_scipys_rotations_put_them() -> None:
    """Outside check: forward kinematics by scipy.spatial.transform, the frames' own formula not used."""
    s = bones()
    rng = np.random.default_rng(5)
    for _ in range(25):
        pelvis, spine = rng.uniform(-25, 25, 3), rng.uniform(-25, 25, 3)
        arm, elbow = rng.uniform([20, 10, -30], [100, 60, 30]), float(rng.uniform(5, 120))
        p = posed(
            s, Pose(angles={"pelvis": tuple(pelvis), "spine": tuple(spine), "arm_l": tuple(arm), "elbow_l": (elbow,)}, air=0.5)
        )

        def of_trunk(v: np.ndarray) -> Rotation:
            # forward lowers the front (a turn about x), aside lifts the right (about z), turning brings the front to the left (about y)
            return (
                Rotation.from_euler("y", v[2], degrees=True)
                * Rotation.from_euler("z", v[1], degrees=True)
                * Rotation.from_euler("x", -v[0], degrees=True)
            )

        low, all_ = of_trunk(pelvis), of_trunk(pelvis) * of_trunk(spine)
        half = low * Rotation.from_rotvec(of_trunk(spine).as_rotvec() / 2)
        at = s.joints
        waist = low.apply(at["waist"] - at["pelvis"])
        chest = waist + half.apply(at["chest"] - at["waist"])
        neck = chest + all_.apply(at["neck"] - at["chest"])
        assert p.joints["neck"] - p.joints["pelvis"] == pytest.approx(neck, abs=1e-9)
        swing = (
            Rotation.from_euler("x", arm[0], degrees=True)
            * Rotation.from_euler("z", -arm[1], degrees=True)
            * Rotation.from_euler("y", arm[2], degrees=True)
        )
        upper = (all_ * swing).apply([0, s.arm.upper, 0])
        fore = (all_ * swing * Rotation.from_euler("x", elbow, degrees=True)).apply([0, s.arm.lower, 0])
        assert p.joints["elbow_l"] - p.joints["shoulder_l"] == pytest.approx(upper, abs=1e-9)
        assert p.joints["wrist_l"] - p.joints["elbow_l"] == pytest.approx(fore, abs=1e-9)


@given(st.tuples(st.floats(-80, 80), st.floats(-80, 80), st.floats(-110, 110)))
def test_angles_come_back(v: tuple[float, float, float]) -> None:
    assert trunk_angles(trunk(v)) == pytest.approx(v, abs=1e-6)
    half = halved(trunk((0.5 * v[0], 0.5 * v[1], v[2])))
    assert half @ half == pytest.approx(trunk((0.5 * v[0], 0.5 * v[1], v[2])), abs=1e-9)
    assert root_angles(forward(v[2]) @ outward(v[0]) @ about_plumb(v[1])) == pytest.approx((v[2], v[0], v[1]), abs=1e-6)


@pytest.mark.parametrize("name", poses())
def test_every_pose_mirrored_is_its_mirror_image(name: str) -> None:
    s = bones()
    one, other = posed(s, poses()[name]), posed(s, mirrored(poses()[name]))
    for k, v in one.joints.items():
        twin = k[:-1] + {"l": "r", "r": "l"}[k[-1]] if k.endswith(("_l", "_r")) else k
        assert other.joints[twin] == pytest.approx(v * [-1, 1, 1], abs=1e-9)
    assert mirrored(mirrored(poses()[name])) == poses()[name]


@pytest.mark.parametrize("name", poses())
def test_the_librarys_poses_suit_ordinary_bodies(name: str) -> None:
    """Within the joints' limits, what is held is reached, on the floor, and in balance (reaching up is on its toes, running in the air)."""
    for who in ("measured", "feminine", "age:10"):
        p = posed(bones(who), pose(name))
        assert not p.limited, (who, p.limited)
        assert max(p.missed.values(), default=0.0) < 0.05
        assert balance(p).off < 0.12
    assert (
        abs(max(float(posed(bones(), pose(name)).joints[k][1]) for k in ("heel_l", "toe_l", "heel_r", "toe_r")) - 7.5) < 0.2
        or name == "running"
    )


def test_what_is_held_gets_there_or_is_said() -> None:
    s = bones()
    p = posed(
        s,
        Pose(
            holds={"ankle_l": Hold(of="floor", at=(0.3, -0.2, 0.2)), "ankle_r": Hold(of="floor", at=(-0.2, 0, 0))},
            root=(0, 0.97, 0),
        ),
    )
    b, long = s.build, s.leg.upper + s.leg.lower
    assert not p.missed and p.joints["ankle_l"] == pytest.approx([0.3 * b.hip, b.ankle - 0.2 * long, 0.2 * long], abs=0.02)
    far = posed(s, Pose(holds={"wrist_l": Hold(of="floor", at=(0.3, 0, 0)), "wrist_r": Hold(of="head", at=(0, -2, 0))}))
    assert set(far.missed) == {"wrist_l", "wrist_r"} and lengths_kept(far) < 1e-9
    assert far.missed["wrist_l"] == pytest.approx(np.linalg.norm(far.joints["wrist_l"] - [0.3 * b.hip, b.ankle, 0]), rel=0.25)


def test_a_pose_file_is_read_back_and_a_strangers_is_refused_with_a_sentence(tmp_path: Path) -> None:
    for p in poses().values():
        (tmp_path / "p.json").write_text(pose_text(p))
        assert read_pose(tmp_path / "p.json") == p == pose_of(str(tmp_path / "p.json"))
    for text in (
        "", "[]", "{", '{"angles": {"tail": [1]}}', '{"angles": {"elbow_l": [1, 2]}}', '{"angles": {"elbow_l": [NaN]}}', '{"angles": {"elbow_l": [1e9]}}',
        '{"holds": {"wrist_l": {"of": "moon", "at": [0, 0, 0]}}}', '{"holds": {"ankle_l": {"of": "head", "at": [0, 0, 0]}}}', '{"version": 2}',
        '{"root": [0, 0]}', '{"waived": ["tail"]}', '{"colour": "red"}', '{"holds": {"wrist_l": {"of": "chest", "at": [1e6, 0, 0]}}}',
    ):  # fmt: skip
        (tmp_path / "p.json").write_text(text)
        with pytest.raises(OrthometError, match=r"p\.json"):
            read_pose(tmp_path / "p.json")
    with pytest.raises(OrthometError):
        read_pose(tmp_path)
    with pytest.raises(OrthometError, match="moonwalk"):
        pose_of("moonwalk")


# ---- weight


def test_the_weights_middle_is_a_levers() -> None:
    """Worked by hand: 3 at 0 and 1 at 4 balance at 1; with 4 more at 1 they still do."""
    a = [("a", 3.0, np.zeros(3)), ("b", 1.0, np.array([4.0, 0, 0]))]
    assert centre_of(a) == pytest.approx([1, 0, 0])
    assert centre_of([*a, ("c", 4.0, np.array([1.0, 2.0, 0]))]) == pytest.approx([1, 1, 0])


def test_who_leans_without_bending_falls_that_way() -> None:
    s = bones()
    up = balance(posed(s, STANDING))
    assert not up.falls and up.off < -0.02 and "Stands" in up.words()
    parts = dict((n, w) for n, w, _ in masses(posed(s, STANDING)))
    share = sum(w for n, w in parts.items() if n in ("rib cage", "pelvis")) / sum(parts.values())
    assert 0.38 < share < 0.60  # Dempster 1955 (from memory): trunk .50 of the body
    feet = {f"ankle_{x}": Hold(of="floor", at=(k * 0.2, 0, 0)) for x, k in (("l", 1), ("r", -1))}
    for angles, root, word in (
        ({"pelvis": (50.0, 0.0, 0.0), "spine": (40.0, 0.0, 0.0)}, (0.0, 0.98, 0.12), "forward"),
        ({"spine": (-30.0, 0.0, 0.0), "pelvis": (-15.0, 0.0, 0.0)}, (0.0, 0.96, -0.12), "backward"),
        ({"spine": (0.0, 38.0, 0.0)}, (0.45, 0.93, 0.0), "left"),
        ({"spine": (0.0, -38.0, 0.0)}, (-0.45, 0.93, 0.0), "right"),
    ):
        b = balance(posed(s, Pose(angles=angles, holds=feet, root=root)))
        assert b.falls and word in b.words("Wick"), (word, b.words(), b.off)
    assert "air" in balance(posed(s, Pose(air=0.2))).words()


def test_tilt_and_line_of_action_follow_the_bones() -> None:
    s = bones()
    shoulders, hips = tilt(posed(s, pose("weight on one leg")), Turn())
    assert shoulders < -3 and hips > 3
    p = posed(s, Pose(angles={"spine": (0.0, 30.0, 0.0)}))
    path = line_of_action(p, Turn())
    assert path[0] == pytest.approx(on_picture(p.joints["crown"], Turn())[0], abs=0.15)
    assert path[-1, 1] == pytest.approx(p.joints["ankle_l"][1], abs=0.1) and (np.diff(path[:, 1]) > 0).all()


# ---- skin


@pytest.mark.parametrize("name", ("measured", "big-foot"))
@pytest.mark.parametrize("how", ("walking", "sitting", "reaching up", "arms crossed"))
def test_the_outline_is_shapelys_union_of_the_posed_masses(name: str, how: str) -> None:
    f = posed_figure(body(name), pose(how))
    turn = Turn(yaw=35)
    v = rotation(turn)
    masses_ = []
    for skin in f.mannequin.skins.values():
        q = (skin.points @ v.T)[..., :2]
        r = np.concatenate([q, q[:, :1]], 1)
        quads = np.stack([r[:-1, :-1], r[1:, :-1], r[1:, 1:], r[:-1, 1:]], 2).reshape(-1, 4, 2)
        masses_.append(unary_union([Polygon(x).buffer(0) for x in quads] + [MultiPoint(x).convex_hull for x in (q[0], q[-1])]))
    whole = unary_union(masses_)
    ours = even_odd(f.at(turn).silhouette)
    assert ours.symmetric_difference(whole).area < 0.03 * whole.area


@pytest.mark.parametrize("name", BODIES)
def test_a_posed_skin_is_whole_and_the_bare_pose_is_the_figure(name: str) -> None:
    f = body(name)
    assert posed_figure(f, STANDING) is f
    for how in ("kneeling", "crouching", "cheering"):
        g = posed_figure(f, pose(how))
        for skin in g.mannequin.skins.values():
            assert np.isfinite(skin.points).all() and np.linalg.norm(skin.normals, axis=-1) == pytest.approx(1.0, abs=1e-6)
        low = max(float(s.points[..., 1].max()) for s in g.mannequin.skins.values())
        assert abs(low - f.build.heads) < 0.05
        assert g.at(Turn(yaw=20)).strokes


@pytest.mark.parametrize("how", ("hands on hips", "sitting", "running"))
def test_while_it_moves_a_figure_looks_as_it_will(how: str) -> None:
    full, quick = (make(body(), pose(how)) for make in (posed_figure, moving_figure))
    turn = Turn(yaw=30)
    a, q = (even_odd(t["suit"]) for t in (full.at(turn).tones, quick.quickly(turn).tones))
    assert a.symmetric_difference(q).area < 0.20 * a.area  # its edges are those of cells a twenty-fifth of a head wide
    line_up = even_odd(moving(body()).outline(pose(how), turn))
    assert line_up.symmetric_difference(q).area < 0.05 * q.area
    assert q.area == pytest.approx(a.area, rel=0.13) and a.centroid.distance(q.centroid) < 0.04


# ---- drags


def test_bones_stay_as_long_as_they_are_through_a_thousand_drags() -> None:
    rng = np.random.default_rng(0)
    s, px = bones(), 7.5 / 600
    jumps, library = [], list(poses().values())
    for k in range(170):
        start = posed(s, library[k % len(library)])
        joint, turn = HANDLES[int(rng.integers(len(HANDLES)))], Turn(yaw=float(rng.uniform(-90, 90)))
        at = on_picture(start.joints[joint], turn)[0] + rng.normal(0, 1.1, 2)
        found = [
            posed(s, dragged(start, joint, (float(q[0]), float(q[1])), turn))
            for q in (at, at + [px, 0], at + [0, px], at - [px, 0])
        ]
        found += [
            posed(
                s, dragged(start, joint, (float(at[0]), float(at[1])), turn, frozenset({f"arm_{joint[-1]}", f"leg_{joint[-1]}"}))
            )
            for _ in (0, 1)
        ]
        for p in found:
            assert lengths_kept(p) < 1e-9
        for p in found[1:4]:
            names = [n for n in s.joints if not n.startswith(("finger", "toe", "heel"))]
            moved = [
                float(np.hypot(*(on_picture(p.joints[n], turn) - on_picture(found[0].joints[n], turn))[0])) / px for n in names
            ]
            jumps.append(max(moved))
    assert np.percentile(jumps, 98) < 5 and np.median(jumps) < 1.5


def test_a_hand_pulled_near_foreshortens_pulled_far_straightens_and_flips_by_key() -> None:
    s = bones()
    start = posed(s, Pose(angles={"arm_l": (0.0, 60.0, 0.0), "elbow_l": (20.0,)}))
    wrist, elbow, shoulder = (start.joints[f"{n}_l"][:2] for n in ("wrist", "elbow", "shoulder"))
    near = posed(s, dragged(start, "wrist_l", tuple((elbow + 0.5 * (wrist - elbow)).tolist()), Turn()))
    assert near.joints["wrist_l"][:2] == pytest.approx(elbow + 0.5 * (wrist - elbow), abs=0.01)
    assert near.joints["elbow_l"][:2] == pytest.approx(elbow, abs=0.02)
    depth = near.joints["wrist_l"][2] - near.joints["elbow_l"][2]
    assert abs(depth) == pytest.approx(
        math.sqrt(s.arm.lower**2 - np.hypot(*(near.joints["wrist_l"] - near.joints["elbow_l"])[:2]) ** 2), abs=1e-6
    )
    waived = Pose(angles=start.pose.angles, waived=("arm_l", "elbow_l"))
    there = [
        posed(s, dragged(posed(s, waived), "wrist_l", tuple((elbow + 0.5 * (wrist - elbow)).tolist()), Turn(), k))
        for k in (frozenset(), frozenset({"arm_l"}))
    ]
    deep = [float(p.joints["wrist_l"][2] - p.joints["elbow_l"][2]) for p in there]
    assert deep[0] == pytest.approx(-deep[1], abs=0.02) and abs(deep[0]) > 0.5
    assert there[0].joints["wrist_l"][:2] == pytest.approx(there[1].joints["wrist_l"][:2], abs=0.01)
    far = posed(s, dragged(start, "wrist_l", tuple((shoulder + 3 * (wrist - shoulder)).tolist()), Turn()))
    line_ = far.joints["wrist_l"] - far.joints["shoulder_l"]
    assert np.linalg.norm(line_) == pytest.approx(s.arm.upper + s.arm.lower, abs=1e-3) and abs(line_[2]) < 0.05


def test_hips_dragged_leave_the_feet_and_pins_hold() -> None:
    s = bones()
    start = posed(s, pinned(posed(s, pose("hands on hips")), frozenset({"ankle_l", "ankle_r"})))
    p = posed(s, dragged(start, "pelvis", (-0.25, float(start.joints["pelvis"][1]) + 0.4), Turn()))
    assert p.joints["pelvis"][:2] == pytest.approx([-0.25, start.joints["pelvis"][1] + 0.4], abs=0.05)
    for side in "lr":
        assert p.joints[f"ankle_{side}"] == pytest.approx(start.joints[f"ankle_{side}"], abs=0.03)
    hand = posed(s, pinned(start, frozenset({"wrist_r"})))
    assert hand.joints["wrist_r"] == pytest.approx(start.joints["wrist_r"], abs=0.02)
    lean = posed(s, dragged(hand, "neck", tuple((hand.joints["neck"][:2] + [0.3, 0.05]).tolist()), Turn()))
    assert lean.joints["wrist_r"] == pytest.approx(hand.joints["wrist_r"], abs=0.06)
    both = Pose(holds={"wrist_l": Hold(of="floor", at=(3, -3, 0)), "wrist_r": Hold(of="floor", at=(-3, -3, 0))})
    assert set(posed(s, both).missed) == {"wrist_l", "wrist_r"}


def test_guides_know_what_carries_the_weight() -> None:
    b = balance(posed(bones(), STANDING))
    assert Polygon(b.support).contains(Point(*b.centre[[0, 2]])) and math.isclose(
        b.off, -Polygon(b.support).exterior.distance(Point(*b.centre[[0, 2]])), abs_tol=1e-6
    )
    assert mannequin(bones().build).skeleton.build == bones().build


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10**6))
def test_a_figure_follows_the_hand_without_a_jump(seed: int) -> None:
    """However a joint is dragged, a pixel of the hand moves nothing by more than five; bones keep their lengths on the way."""
    rng = np.random.default_rng(seed)
    library = list(poses().values())
    s = bones()
    start = shown = posed(s, library[int(rng.integers(len(library)))])
    joint, turn = HANDLES[int(rng.integers(len(HANDLES)))], Turn(yaw=float(rng.uniform(-90, 90)))
    v, px = rotation(turn), s.build.heads / 600
    q = on_picture(start.joints[joint], turn)[0]
    way = rng.normal(0, 1, 2) * px
    far = float(np.hypot(*way))
    for _ in range(60):
        q = q + way
        now = steady(shown, dragged(start, joint, (float(q[0]), float(q[1])), turn), far, turn)
        moved = max(float(np.hypot(*(v @ (now.joints[n] - shown.joints[n]))[:2])) for n in s.joints)
        assert moved <= 5 * far
        assert all(abs(now.bones[n] - w) < 1e-9 for n, w in s.bones.items())
        shown = now


def test_halfway_between_two_poses_the_arm_is_halfway_round() -> None:
    """Against scipy's slerp."""
    s = bones()
    a, b = (posed(s, Pose(angles={"arm_l": v, "elbow_l": (20.0,)})) for v in ((10.0, 20.0, 0.0), (70.0, 60.0, 10.0)))
    mid = posed(s, between(a, b, 0.5))
    own = Rotation.from_matrix([a.limbs["arm_l"].frame, b.limbs["arm_l"].frame])
    assert np.allclose(mid.limbs["arm_l"].frame, Slerp([0, 1], own)(0.5).as_matrix(), atol=1e-9)
