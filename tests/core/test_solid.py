"""The head as a solid: the front view is the plan, spheres and ellipsoids turn as geometry says, contours hold at any turn."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from skimage.measure import find_contours

from orthomet.core.head.body import Wear, body
from orthomet.core.head.drawn import picture
from orthomet.core.head.outline import STATIONS, knots
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import BOX, Scene, scene
from orthomet.core.head.solid import Make, Solid, solid
from orthomet.core.head.turnaround import LEVEL, STEP, VIEWS, turnaround
from orthomet.core.head.turned import TurnedHead, zero_level
from orthomet.core.ink.surface import Pen
from orthomet.core.kinds import Array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Ink, Trace
from orthomet.core.proportions.measure import measure_array
from orthomet.core.proportions.registry import Role as Kept
from orthomet.core.proportions.registry import front_registry
from orthomet.core.resolve import plan_of_style
from orthomet.demo.cast import BERTA, WICK, face
from tests.faces import random_table
from tests.geometry import grown, within

HEADS = {"adult": face(), "berta": BERTA, "wick": WICK, "lantern": dict(plan_of_style("low-lantern").table)}
TURNS = ((0, 0), (35, 0), (90, 0), (35, 18), (-50, -15))


def view(name: str, yaw: float = 0, pitch: float = 0, roll: float = 0) -> Scene:
    return scene(HEADS[name], plan_points(HEADS[name]), Turn(yaw=yaw, pitch=pitch, roll=roll))


def ellipsoid(a: float, c: float) -> Solid:
    """Half axes a across, ½ down, c in depth; nothing on it."""
    w = 2 * np.sqrt(STATIONS * (1 - STATIONS))
    two, none = np.full_like(w, 2.0), np.zeros_like(w)
    return Solid(face(), a * w, c * w, -c * w, none, two, none, none + 0.05, plain=True)


@pytest.mark.parametrize("name", HEADS)
def test_the_front_view_is_the_plan(name: str) -> None:
    """Every planned reading is read back from the construction; goal 0.2 % of the head, here to rounding."""
    table, s = HEADS[name], view(name)
    points = np.array([s.landmarks[n][0] for n in FRONT.names]) + [0, 0.5]
    planned = plan_points(table)
    known = np.isfinite(planned).all(1)
    np.testing.assert_allclose(points[known], planned[known], atol=1e-9)
    read, wanted = measure_array(points), measure_array(planned)
    reg = front_registry()
    for r in reg.of_role(Kept.INDEPENDENT):
        i = reg.index[r.key]
        assert read[i] == pytest.approx(wanted[i], abs=2e-3 * max(1.0, abs(wanted[i]))), r.key
    outline = s.outline
    right = outline[: len(outline) // 2]
    for t, half in zip(knots(table).stations, knots(table).half, strict=True):
        assert np.interp(t - 0.5, right[:, 1], right[:, 0]) == pytest.approx(half, abs=2e-3)
    assert outline[:, 1].min() == pytest.approx(-0.5, abs=1e-3) and outline[:, 1].max() == pytest.approx(0.5, abs=1e-3)


@given(st.floats(-100, 100), st.floats(-3.1, 3.1), st.floats(-3.1, 3.1))
def test_widths_on_a_sphere_follow_the_formula(yaw: float, a: float, b: float) -> None:
    """R·|sin(φ₂ + θ) − sin(φ₁ + θ)|, exact."""
    sphere = TurnedHead.of(ellipsoid(0.5, 0.5), Turn(yaw=yaw, pitch=0, roll=0))
    x = sphere.seen(sphere.head.around(np.array([a, b]), np.array([0.5, 0.5])))[:, 0]
    theta = np.radians(yaw)
    assert abs(x[1] - x[0]) == pytest.approx(0.5 * abs(np.sin(b + theta) - np.sin(a + theta)), abs=1e-6)


@pytest.mark.parametrize("yaw, pitch", [(0, 0), (40, 0), (90, 0), (-70, 35), (20, -50)])
def test_an_ellipsoid_has_the_outline_geometry_gives_it(yaw: float, pitch: float) -> None:
    """Support function of an ellipsoid: the outline reaches √(Σ (axis · direction)²) to each side."""
    axes = np.array([0.33, 0.5, 0.43])
    t = TurnedHead.of(ellipsoid(axes[0], axes[2]), Turn(yaw=yaw, pitch=pitch, roll=0))
    o = t.outline()
    for k in (0, 1):
        reach = np.linalg.norm(axes * t.matrix[k])
        assert o[:, k].max() == pytest.approx(reach, abs=2e-3) and o[:, k].min() == pytest.approx(-reach, abs=2e-3)
    rng = np.random.default_rng(0)
    d = rng.normal(size=(400, 3))
    on = d / np.linalg.norm(d, axis=1, keepdims=True) * axes
    facing = (on / axes**2) @ t.toward
    facing /= np.linalg.norm(on / axes**2, axis=1)
    clear = np.abs(facing) > 0.22
    seen = t.visible(on + [0, 0.5, 0], 0.006)
    assert (seen == (facing > 0))[clear].all()


def test_the_zero_level_is_the_reference_librarys() -> None:
    """Against scikit-image's marching squares on smooth random fields: the same length of line."""
    rng = np.random.default_rng(2)
    for _ in range(6):
        y, x = np.mgrid[0:40, 0:61]
        k = rng.normal(size=4)
        f = (
            np.sin(2 * np.pi * x / 60 + k[0])
            + 0.6 * np.cos(4 * np.pi * x / 60 + k[1])
            + 0.05 * (y - 20)
            + 0.3 * np.sin(y / 5 + k[2])
        )

        def length(parts: list[Array]) -> float:
            return float(sum(np.linalg.norm(np.diff(p, axis=0), axis=1)[np.abs(np.diff(p[:, 1])) < 30].sum() for p in parts))

        assert length(zero_level(f)) == pytest.approx(length(find_contours(f, 0.0)), rel=0.01)
    assert zero_level(np.ones((5, 7))) == []


def test_turning_narrows_the_far_eye_and_shortens_the_gap() -> None:
    front, turned = view("adult"), view("adult", yaw=30)

    def width(s: Scene, a: str, b: str) -> float:
        return abs(s.landmarks[a][0][0] - s.landmarks[b][0][0])

    eyes = {
        k: width(turned, f"exocanthion_{k}", f"endocanthion_{k}") / width(front, f"exocanthion_{k}", f"endocanthion_{k}")
        for k in "lr"
    }
    assert eyes["l"] < eyes["r"] < 1.2  # the nose turns to the picture's right, toward the character's left eye
    assert width(turned, "endocanthion_l", "endocanthion_r") < width(front, "endocanthion_l", "endocanthion_r")
    assert turned.landmarks["pronasale"][0][0] > 0.15 and front.landmarks["pronasale"][0][0] == pytest.approx(0, abs=1e-9)
    side = view("adult", yaw=90)
    assert not side.landmarks["exocanthion_l"][1] and side.landmarks["exocanthion_r"][1]
    tip = side.landmarks["pronasale"][0]
    assert tip[0] == pytest.approx(side.outline[:, 0].max(), abs=0.01)
    down, up = view("adult", pitch=25), view("adult", pitch=-25)
    assert down.landmarks["pronasale"][0][1] > front.landmarks["pronasale"][0][1] > up.landmarks["pronasale"][0][1]
    assert view("adult", yaw=100).landmarks["pronasale"][1] and not view("adult", yaw=100).landmarks["endocanthion_l"][1]


@pytest.mark.parametrize("name", HEADS)
def test_left_and_right_turns_mirror_each_other(name: str) -> None:
    a, b = view(name, yaw=40, pitch=10), view(name, yaw=-40, pitch=10)
    n = len(a.outline) // 2
    np.testing.assert_allclose(a.outline[:n] * [-1, 1], b.outline[n:][::-1], atol=2e-3)
    for key in ("exocanthion", "cheilion", "gonion"):
        (x, y), seen = a.landmarks[f"{key}_l"]
        (u, v), also = b.landmarks[f"{key}_r"]
        assert (x, y) == pytest.approx((-u, v), abs=1e-6) and seen == also
    rolled = view(name, yaw=40, pitch=10, roll=90)
    (x, y), _ = a.landmarks["pronasale"]
    assert rolled.landmarks["pronasale"][0] == pytest.approx((-y, x), abs=1e-9)


@pytest.mark.parametrize("name", HEADS)
@pytest.mark.parametrize("yaw, pitch", TURNS)
def test_no_stray_marks_and_no_guide_beyond_the_contour(name: str, yaw: float, pitch: float) -> None:
    s = view(name, yaw, pitch)
    room = grown(s.outline, 0.012)
    for _, g in s.guides:
        assert within(g.points[g.visible], room).all(), g.name
    for x in s.drawing.strokes:
        if x.pen in (Pen.FEATURE, Pen.DETAIL):
            assert within(x.points, grown(s.outline, 0.02)).all(), x.name
    drawn = picture(s)
    for p in drawn.layer("outline").items:
        assert isinstance(p, Trace) and np.linalg.norm(np.diff(p.points, axis=0), axis=1).sum() > 0.012, p.name
    x, y, w, h = BOX
    for p in drawn.paths():
        assert (p.points >= [x, y]).all() and (p.points <= [x + w, y + h]).all(), p.name
    names = [p.name for p in drawn.layer("outline").items if isinstance(p, Trace)]
    assert names.count("neck") >= 2 - (pitch > 15) and any(n.startswith("ear") for n in names)
    assert {"head", "ear r", "ear l"} & {
        p.name for p in drawn.layer("outline").items if isinstance(p, Trace) and p.role is Ink.CONTOUR
    }
    assert any(p.role is Ink.HIDDEN for p in drawn.paths()) or (yaw, pitch) == (0, 0)
    assert not picture(s, hidden=False).layer("hidden").visible and not picture(s, guides=False).layer("guides").visible


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.floats(-100, 100), st.floats(-60, 60), st.floats(-180, 180), st.floats(-0.06, 0.06))
def test_any_plan_at_any_turn_gives_a_sound_contour(seed: int, yaw: float, pitch: float, roll: float, chin: float) -> None:
    table = random_table(np.random.default_rng(seed), 1.0)
    s = scene(table, plan_points(table), Turn(yaw=yaw, pitch=pitch, roll=roll), Wear(chin))
    o = s.outline
    n = len(o) // 2
    right, left = o[:n], o[n:][::-1]
    assert np.isfinite(o).all() and n > 100
    np.testing.assert_allclose(right[:, 1], left[:, 1])
    assert (np.diff(right[:, 1]) > 0).all() and (right[:, 0] >= left[:, 0] - 1e-9).all()  # so it cannot cross itself
    assert len(s.landmarks) == len(FRONT.names) and all(np.isfinite(xy).all() for xy, _ in s.landmarks.values())
    if abs(yaw) < 40 and abs(pitch) < 30:
        order = [s.landmarks[k][0] for k in ("exocanthion_r", "endocanthion_r", "endocanthion_l", "exocanthion_l")]
        level = np.array([np.cos(np.radians(roll)), np.sin(np.radians(roll))])
        assert (np.diff(np.array(order) @ level) > -1e-6).all()
    assert solid(table, Make(chin)) is solid(table, Make(chin))


def test_the_chin_goes_forward_and_back() -> None:
    t = Turn(yaw=90, pitch=0, roll=0)
    reach = [scene(BERTA, plan_points(BERTA), t, Wear(c)).outline for c in (-0.05, 0.0, 0.05)]
    low = [float(o[(o[:, 1] > 0.40)][:, 0].max()) for o in reach]
    assert low[0] < low[1] < low[2] and low[2] - low[0] == pytest.approx(0.1, abs=0.03)


def test_the_turnaround_stands_on_common_lines() -> None:
    b = body(BERTA, plan_points(BERTA))
    drawn = turnaround(b)
    level = {p.name: float(p.points[0, 1]) for p in drawn.layer("level-lines").items if isinstance(p, Trace)}
    assert level["eye line"] == pytest.approx(BERTA["eye_station"] - 0.5) and level["chin"] == 0.5
    x, _, w, _ = drawn.box
    assert w > STEP * (len(VIEWS) - 1) and all(
        (p.points[:, 0] >= x).all() and (p.points[:, 0] <= x + w).all() for p in drawn.paths()
    )
    for k, (name, _) in enumerate(VIEWS[:LEVEL]):
        mine = [
            p
            for p in drawn.layer("outline").items
            if isinstance(p, Trace) and p.name.startswith(f"{name}: ") and abs(p.points[:, 0].mean() - k * STEP) < 0.7
        ]
        tall = [float(v) for p in mine for v in (p.points[:, 1].min(), p.points[:, 1].max())]
        assert min(tall) == pytest.approx(-0.5, abs=0.01), name
    back = [p.name for p in drawn.layer("features").items if isinstance(p, Trace) and p.name.startswith("back:")]
    assert back == [] and any(p.name.startswith("front: upper lid") for p in drawn.paths())


def test_from_behind_the_neck_hides_the_jaw() -> None:
    outline = [p for p in picture(view("adult", yaw=180)).layer("outline").items if isinstance(p, Trace)]
    necks = [p.points for p in outline if p.name == "neck" and p.points[:, 1].min() < 0.5]
    half = min(np.abs(p[p[:, 1] < 0.55][:, 0]).mean() for p in necks)
    low = [p.points[p.points[:, 1] > 0.32] for p in outline if p.name == "head"]
    assert all((np.abs(q[:, 0]) > 0.85 * half).all() for q in low)
