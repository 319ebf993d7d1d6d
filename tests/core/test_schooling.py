"""Guide schools on a turned head, perspective, and the two-tone shadow, against what geometry says."""

from __future__ import annotations

import cv2
import numpy as np
import pytest

from orthomet.core.errors import FormatError, OrthometError
from orthomet.core.head.body import Wear, body
from orthomet.core.head.construct import construction
from orthomet.core.head.drawn import picture
from orthomet.core.head.outline import STATIONS
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import scene, scene_of
from orthomet.core.head.shadow import Light, light_at, shadow, with_shadow
from orthomet.core.head.solid import Solid
from orthomet.core.head.turned import TurnedHead
from orthomet.core.ink.drawing import sight
from orthomet.core.ink.shade import TURN_DARK, shaded
from orthomet.core.ink.shape import CENTRE, Shape
from orthomet.core.ink.surface import Stuff, Surface
from orthomet.core.ink.view import View
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Ink, Trace
from orthomet.core.proportions.measure import measure_array
from orthomet.core.proportions.norms import norm
from orthomet.core.proportions.registry import front_registry
from orthomet.core.styles.schools import school, schools, stations
from orthomet.demo.cast import BERTA, WICK, face

TURNS = ((0, 0), (35, 0), (35, 20), (-60, -15), (90, 0))


def sphere() -> Solid:
    w = 2 * np.sqrt(STATIONS * (1 - STATIONS))
    two, none = np.full_like(w, 2.0), np.zeros_like(w)
    return Solid(face(), 0.5 * w, 0.5 * w, -0.5 * w, none, two, none, none + 0.05, plain=True)


@pytest.mark.parametrize("name", schools())
@pytest.mark.parametrize("yaw, pitch", TURNS)
def test_every_school_wraps_round_any_turn(name: str, yaw: float, pitch: float) -> None:
    s = scene(WICK, plan_points(WICK), Turn(yaw=yaw, pitch=pitch), Wear(school=name))
    names = [c.name for _, c in s.guides]
    assert len(set(names)) == len(names) and all(np.isfinite(c.points).all() for _, c in s.guides)
    drawn = picture(s)
    steps = [ly for ly in drawn.layers if ly.id.startswith(name + "-")]
    assert [ly.id for ly in steps] == [f"{name}-{k}" for k in range(1, len(school(name).steps) + 1)]
    one = picture(s, steps=range(1, 2))
    assert [ly.id for ly in one.layers if ly.id.startswith(name) and ly.visible] == [f"{name}-2"]
    grown = s.outline.mean(0) + (s.outline - s.outline.mean(0)) * 1.04
    for part, c in s.guides:
        if part.on_skin and c.name.startswith(("eye line", "nose base", "mouth", "brow line")) and school(name).view == "front":
            hull = cv2.convexHull(grown.astype(np.float32))
            assert all(cv2.pointPolygonTest(hull, tuple(map(float, q)), False) >= 0 for q in c.points[c.visible]), c.name


@pytest.mark.parametrize("name", [n for n, s in schools().items() if s.view == "front"])
def test_in_the_front_view_level_lines_lie_at_their_stations(name: str) -> None:
    s = scene(BERTA, plan_points(BERTA), Turn(), Wear(school=name))
    lines = {c.name: c for _, c in s.guides}
    want = {ln.name: ln.reading for st in school(name).steps for ln in st.lines if ln.reading}
    laid = stations(school(name), BERTA)
    for line, reading in want.items():
        np.testing.assert_allclose(lines[line].points[:, 1], laid[reading] - 0.5, atol=1e-9)


@pytest.mark.parametrize("yaw, pitch", TURNS)
def test_the_circle_of_the_skull_is_a_ball(yaw: float, pitch: float) -> None:
    s = scene(BERTA, plan_points(BERTA), Turn(yaw=yaw, pitch=pitch), Wear(school="halves", settings={"D": 0.7}))
    ring = next(c for _, c in s.guides if c.name == "skull circle")
    middle = ring.points[:-1].mean(0)
    np.testing.assert_allclose(np.linalg.norm(ring.points - middle, axis=1), 0.35, atol=1e-9)


def test_a_step_for_the_front_says_nothing_on_a_turned_head() -> None:
    def ears(yaw: float) -> int:
        drawn = picture(scene(BERTA, plan_points(BERTA), Turn(yaw=yaw), Wear(school="equal-thirds")))
        return sum(
            p.name.startswith("ear") for ly in drawn.layers if ly.id.startswith("equal") for p in ly.items if isinstance(p, Trace)
        )

    assert ears(10) > 0 == ears(45)


def test_the_profile_school_draws_the_head_from_the_side() -> None:
    drawn = construction(BERTA, plan_points(BERTA), school("profile"))
    outline = [p for p in drawn.layer("outline").items if isinstance(p, Trace) and p.role is Ink.CONTOUR]
    front = max(float(p.points[:, 0].max()) for p in outline)
    plumb = next(p for p in drawn.paths() if p.name == "face plumb")
    assert front > plumb.points[0, 0] > 0.3  # only nose, lips and chin stand before the plumb
    with pytest.raises(OrthometError):
        body(BERTA, plan_points(BERTA), Wear(school="halves", settings={"D": 3.0}))
    with pytest.raises(OrthometError):
        body(BERTA, plan_points(BERTA), Wear(school="nobody’s"))


def test_the_triangle_of_eyes_and_chin_is_a_reading() -> None:
    """Height over base of outer corners and chin; the norm row follows from the rows it is made of."""
    reg, n = front_registry(), norm()
    i = reg.index["eye_chin_triangle"]
    points = plan_points(BERTA)
    got = measure_array(points)[i]
    base = 2 * (BERTA["eye_gap_ew"] / 2 + 1) * BERTA["eye_width_fw"] * BERTA["face_width_hh"]
    assert got == pytest.approx((1 - BERTA["eye_station"]) / base, rel=0.03)
    f = face()
    assert n.mean[i] == pytest.approx((1 - f["eye_station"]) / (0.669 * f["face_width_hh"]), rel=0.01)


# ---- perspective


@pytest.mark.parametrize("distance", [2.0, 4.0, 20.0])
def test_a_sphere_in_perspective_has_the_outline_geometry_gives_it(distance: float) -> None:
    """Seen from D, a sphere of radius R is a disc of R·D / √(D² − R²)."""
    view = TurnedHead.of(sphere(), Turn(yaw=25), distance)
    want = 0.5 * distance / np.sqrt(distance**2 - 0.25)
    o = view.outline()
    assert np.linalg.norm(o, axis=1).max() == pytest.approx(want, abs=4e-3)
    assert o[:, 0].max() == pytest.approx(want, abs=4e-3) and o[:, 1].min() == pytest.approx(-want, abs=4e-3)


def test_perspective_grows_what_is_near_and_fades_with_distance() -> None:
    b = body(BERTA, plan_points(BERTA))
    near, far, flat = (scene_of(b, Turn(yaw=35), d) for d in (2.5, 200.0, None))
    for n, (xy, _) in flat.landmarks.items():
        assert far.landmarks[n][0] == pytest.approx(xy, abs=5e-3)
    eye = {
        k: abs(s.landmarks["exocanthion_r"][0][0] - s.landmarks["endocanthion_r"][0][0])
        for k, s in (("near", near), ("flat", flat))
    }
    nose = [s.landmarks["pronasale"][0][0] for s in (near, flat)]
    assert eye["near"] > eye["flat"] and nose[0] > nose[1]
    level = scene_of(b, Turn(), 3.0)
    assert level.landmarks["exocanthion_l"][0][0] == pytest.approx(-level.landmarks["exocanthion_r"][0][0])
    for s in (near, scene_of(b, Turn(yaw=-80, pitch=40), 2.0)):
        assert all(np.isfinite(p.points).all() for p in picture(s).paths())


# ---- shadow


@pytest.mark.parametrize("light", [Light(-60, 0), Light(40, 30), Light(0, 70), Light(120, 10)])
def test_the_dark_share_of_a_sphere_is_what_geometry_gives(light: Light) -> None:
    """A sphere is dark where its normal meets the light below the threshold; the area is compared on the disc."""
    theta, phi = np.linspace(0, np.pi, 60)[:, None], np.linspace(-np.pi, np.pi, 90)[None]
    unit = np.stack([np.sin(theta) * np.sin(phi), -np.cos(theta) + 0 * phi, np.sin(theta) * np.cos(phi)], -1)
    ball = Surface("ball", CENTRE + 0.5 * unit, unit, Stuff.SKIN, True)
    s = sight(Shape((ball,)), View(Turn(yaw=20, pitch=5)))
    y, x = np.mgrid[-0.5:0.5:301j, -0.5:0.5:301j]
    disc = x * x + y * y < 0.245
    z = np.sqrt(np.clip(0.25 - x * x - y * y, 0, None))
    dark = (np.stack([x, y, z], -1) / 0.5) @ light.direction < TURN_DARK
    drawn = np.zeros(x.shape, np.uint8)
    for p in shaded(s, light.direction).get(Stuff.SKIN, []):
        one = np.zeros_like(drawn)
        cv2.fillPoly(one, [np.round((p + 0.5) * 300).astype(np.int32)], 1)
        drawn ^= one
    agree = (drawn.astype(bool) == dark)[disc].mean()
    assert agree > 0.93, agree


def test_a_light_from_above_darkens_under_the_chin_and_the_lids() -> None:
    s = scene(BERTA, plan_points(BERTA), Turn())
    dark = shadow(s, Light(0, 65))
    assert {"lid shadow l", "lid shadow r"} <= {p.name for p in dark}
    neck = [q for p in dark for q in (p.points, *p.holes) if q[:, 1].max() > 0.5 and np.abs(q[:, 0]).min() < 0.1]
    assert neck
    assert not any(p.name.startswith("lid") for p in shadow(s, Light(0, -40)))
    left, right = (
        sum(cv2.contourArea(q.astype(np.float32)) for p in shadow(s, Light(a, 0)) for q in (p.points, *p.holes))
        for a in (-50, 50)
    )
    assert left == pytest.approx(right, rel=0.1)
    layered = with_shadow(picture(s), s, Light())
    names = [layer.id for layer in layered.layers]
    assert names.index("features") < names.index("shadow") < names.index("outline") and len(names) == len(picture(s).layers) + 1
    with pytest.raises(FormatError):
        light_at(10, 95)
