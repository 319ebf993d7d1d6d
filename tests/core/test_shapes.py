"""Contours, plain shapes and their fits, the detail dial and pushes, against general libraries and plain geometry."""

from __future__ import annotations

import math
from itertools import pairwise

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import CubicSpline
from shapely.geometry import LinearRing, Polygon
from skimage.measure import EllipseModel, regionprops

from orthomet.core.errors import FormatError
from orthomet.core.head.outline import RESIDUAL_KEYS, RESIDUAL_U, departures, half_width, knots, width_at
from orthomet.core.shapes.answering import answering, toward
from orthomet.core.shapes.contour import (
    angularity,
    area,
    box_round,
    centroid,
    clean,
    convexity,
    evened,
    is_even,
    overlap,
    perimeter,
    resampled,
    simple,
    size_of,
    traced,
)
from orthomet.core.shapes.detail import Dial, cornered
from orthomet.core.shapes.fit import choose, fit
from orthomet.core.shapes.head_class import built, built_after, by_fits, by_widths, classes, half_at, head_class, unit
from orthomet.core.shapes.masks import filled
from orthomet.core.shapes.pieces import against, drawn, facing, levels
from orthomet.core.shapes.plain import KINDS, Plain, circle_of, made
from orthomet.core.shapes.push import TRAITS, pair, pushed, reduced, restored
from orthomet.core.shapes.readings import bumps, read
from orthomet.demo.cast import face
from tests.creatures import ROWS, creature
from tests.outlines import blob, random_shape, trembling
from tests.outlines import drawn as drawn_by_hand

kinds = pytest.mark.parametrize("kind", KINDS)


def square(side: float = 200.0) -> np.ndarray:
    return made("rectangle", 0, 0, side, side).outline(240)


# ---- contours


def test_areas_lengths_and_hulls_are_shapelys() -> None:
    for seed in range(6):
        c = blob(seed)[0]
        g = Polygon(c)
        assert area(c) == pytest.approx(g.area) and perimeter(c) == pytest.approx(g.length)
        assert read(c)["convexity"] == pytest.approx(g.area / g.convex_hull.area)
        assert simple(c) == LinearRing(c).is_simple


@pytest.mark.parametrize(("kind", "want"), [("circle", 1.0), ("rectangle", math.pi / 4)])
def test_roundness_of_known_figures(kind: str, want: float) -> None:
    """4πA/P²: circle 1, square π/4 (plain geometry)."""
    assert read(made(kind, 3, 4, 100, 100, (), 20).outline(720))["roundness"] == pytest.approx(want, abs=2e-3)


def test_angularity_is_nothing_on_a_circle_and_all_on_a_polygon() -> None:
    assert angularity(made("circle", 0, 0, 100, 100).outline(400)) < 0.03
    assert angularity(square()) > 0.95


@settings(max_examples=15, deadline=None)
@given(st.integers(0, 10**6))
def test_a_trembling_square_keeps_its_four_corners(seed: int) -> None:
    rng = np.random.default_rng(seed)
    s = made("rectangle", 0, 0, 300, 220, (), float(rng.uniform(-40, 40)))
    c, found = traced(trembling(s.outline(900), rng, 1.5))
    true = np.array(s._placed([(-150, -110), (150, -110), (150, 110), (-150, 110)]))
    assert len(found) == 4
    assert all(np.hypot(*(true - c[k]).T).min() < 10 for k in found)


@pytest.mark.parametrize(
    ("points", "said"),
    [
        ([[0, 0], [1, 1]], "three points"),
        ([[0, 0], [1, 0], [2, 0], [3, 0]], "next to nothing"),
        ([[0, 0], [10, 0], [0, float("nan")]], "numbers"),
        ([[0, 0, 1], [1, 0, 1], [1, 1, 1]], "numbers"),
        ([[0, 0], [10, 10], [10, 0], [0, 10]], "crosses itself"),
        ("abc", "numbers"),
        ([[5, 5]] * 50, "three points"),
    ],
)
def test_what_is_no_contour_is_refused_in_words(points: object, said: str) -> None:
    with pytest.raises(FormatError, match=said):
        clean(points)


def test_a_little_loop_in_a_trace_is_left_out() -> None:
    t = np.linspace(0, 2 * np.pi, 200)[:-1]
    c = 100 * np.column_stack([np.cos(t), np.sin(t)])
    loop = c[50] + 6 * np.column_stack([np.sin(3 * t), np.cos(2 * t)])[:20]
    found = traced(np.vstack([c[:50], loop, c[50:]]))[0]
    assert simple(found) and area(found) == pytest.approx(math.pi * 1e4, rel=0.04)


def test_a_hundred_thousand_points_are_taken() -> None:
    t = np.linspace(0, 2 * np.pi, 100_001)[:-1]
    c, corners = traced(np.column_stack([300 * np.cos(t), 200 * np.sin(t)]))
    assert len(c) == 240 and not len(corners)
    assert area(c) == pytest.approx(math.pi * 6e4, rel=3e-3)


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10**6))
def test_what_is_nearly_symmetrical_becomes_exactly_so(seed: int) -> None:
    rng = np.random.default_rng(seed)
    c, even = evened(traced(trembling(made("egg", 40, 10, 200, 280, (0.2,)).outline(900), rng, 1.5))[0])
    assert even and is_even(c)
    lop = evened(drawn_by_hand(rng, made("capsule", 0, 0, 100, 300, (), 30)))
    assert not lop[1]


# ---- plain shapes and fits


@kinds
@settings(max_examples=12, deadline=None)
@given(seed=st.integers(0, 10**6))
def test_distance_and_outline_tell_of_the_same_shape(kind: str, seed: int) -> None:
    s = random_shape(np.random.default_rng(seed), kind)
    c = s.outline(240)
    assert area(c) > 0 and simple(c)
    d = KINDS[kind].distance(s.p[None], c[:, 0], c[:, 1])[0]
    assert np.abs(d).max() < 0.012 * size_of(c)
    inner = c.mean(0) + 0.8 * (c - c.mean(0))
    assert (KINDS[kind].distance(s.p[None], inner[:, 0], inner[:, 1])[0] < 0).mean() > 0.95


@kinds
@settings(max_examples=6, deadline=None)
@given(seed=st.integers(0, 10**6))
def test_a_trembling_outline_gives_its_shape_back(kind: str, seed: int) -> None:
    rng = np.random.default_rng(seed)
    s = random_shape(rng, kind)
    f = fit(kind, drawn_by_hand(rng, s))
    assert overlap(f.shape.outline(), s.outline()) > 0.955
    assert f.overlap > 0.95


def test_classes_are_told_apart() -> None:
    """A hundred noisy outlines; the bench does a thousand."""
    rng = np.random.default_rng(4)
    right = [choose(drawn_by_hand(rng, random_shape(rng, k))).best.kind == k for k in KINDS for _ in range(10)]
    assert np.mean(right) >= 0.95


def test_ellipses_agree_with_scikit_image_and_opencv() -> None:
    rng = np.random.default_rng(2)
    for _ in range(6):
        s = made("ellipse", 30, -20, 300, float(rng.uniform(150, 260)), (), float(rng.uniform(-40, 40)))
        c = drawn_by_hand(rng, s)
        ours = fit("ellipse", c).shape
        model = EllipseModel()
        assert model.estimate(c)
        theirs = sorted(model.params[2:4])
        (_, opencv, _) = cv2.fitEllipse(c.astype(np.float32))
        for one, a, b in zip(sorted((ours.width / 2, ours.height / 2)), theirs, sorted(v / 2 for v in opencv), strict=True):
            assert one == pytest.approx(a, rel=0.02) and one == pytest.approx(b, rel=0.02)
        assert np.hypot(*(ours.p[:2] - model.params[:2])) < 3


def test_rectangles_agree_with_opencvs_least_box() -> None:
    s = made("rectangle", 10, 5, 280, 120, (), 25)
    ours = fit("rectangle", s.outline(400)).shape
    (_, box, _) = cv2.minAreaRect(s.outline(400).astype(np.float32))
    assert sorted((ours.width, ours.height)) == pytest.approx(sorted(box), rel=0.01)


def test_a_leaning_triangle_keeps_its_three_corners() -> None:
    rng = np.random.default_rng(1)
    true = np.array([[0.0, 0.0], [300.0, 60.0], [90.0, 260.0]])
    c = traced(trembling(resampled(true, 900), rng))[0]
    found = np.array(fit("triangle", c).shape.params["points"])
    assert max(np.hypot(*(found - q).T).min() for q in true) < 9


@kinds
def test_parameters_put_the_shape_back(kind: str) -> None:
    s = random_shape(np.random.default_rng(7), kind)
    again = made(kind, float(s.p[0]), float(s.p[1]), s.width, s.height, s.own, s.turn)
    assert overlap(again.outline(), s.outline()) > 0.999


def test_in_between_is_said() -> None:
    nearly_round = made("ellipse", 0, 0, 300, 290).outline(300)
    assert choose(nearly_round, ("circle", "ellipse", "egg")).words == "between circle and ellipse"
    assert choose(square()).words == "rectangle"


# ---- head classes


def test_every_class_is_told_by_its_widths_and_by_its_shape() -> None:
    for name, row in classes().rows.items():
        c = built(row)
        assert by_widths(c).name == name
        assert by_fits(c).name == name
        assert head_class(c).agree


def test_where_the_two_disagree_both_are_told() -> None:
    said = head_class(square())
    assert not said.agree and "by its widths" in said.words and "by its shape" in said.words


TABLE = {"eye_station": 0.505, "nose_base_station": 0.695, "mouth_station": 0.79, "head_width_hh": 0.65, "face_width_hh": 0.6,
         "jaw_width_fw": 0.8, "chin_width_fw": 0.45}  # fmt: skip


def test_planned_widths_are_read_back_from_the_constructions_outline() -> None:
    c = built(classes().rows["square"])
    found = built_after(c, TABLE)
    f, s, j, k = classes().rows["square"]
    w = found.widths
    assert w["face_width_hh"] == pytest.approx(f, rel=0.01) and w["head_width_hh"] == pytest.approx(s * f, rel=0.01)
    assert w["jaw_width_fw"] == pytest.approx(j, rel=0.01) and w["chin_width_fw"] == pytest.approx(k, rel=0.03)
    assert max(map(abs, found.departures)) < 0.02


@settings(max_examples=20, deadline=None)
@given(st.integers(0, 10**6))
def test_a_traced_skulls_outline_is_met_by_the_construction(seed: int) -> None:
    """However it is drawn, within a hundredth of a head on average; the four widths stay what they are planned at."""
    rng = np.random.default_rng(seed)
    s = made("egg", 0, 0.5, float(rng.uniform(0.55, 0.85)), 1.0, (float(rng.uniform(-0.3, 0.2)),))
    c = unit(evened(traced(trembling(s.outline(600) * 300, rng, 2.0))[0], 0.0)[0])
    found = built_after(c, TABLE)
    table = {**TABLE, **found.widths, **dict(zip(RESIDUAL_KEYS, found.departures, strict=True))}
    half = half_width(table)
    t = np.linspace(0.03, 0.97, 80)
    assert np.abs(width_at(half, t) - half_at(c, t)).mean() < 0.01
    k = knots(table)
    assert width_at(half, np.array(k.stations)) == pytest.approx(k.half, abs=2e-3)


def test_half_widths_are_read_where_they_are() -> None:
    c = unit(made("ellipse", 0, 0, 100, 200).outline(400))
    assert half_at(c, np.array([0.5, 2.0])) == pytest.approx([0.25, 0.0], abs=1e-3)


# ---- the dial


@settings(max_examples=12, deadline=None)
@given(st.integers(0, 10**6))
def test_detail_never_goes_away_from_the_contour(seed: int) -> None:
    c, found = blob(seed)
    dial = Dial(c, found, choose(c, ("ellipse", "egg", "triangle")).best.shape.outline())
    shown = [dial.at(x) for x in np.linspace(0, 1, 61)]
    off = [float(np.hypot(*(v - c).T).max()) for v in shown]
    assert all(b <= a + 1e-9 * size_of(c) for a, b in pairwise(off))
    assert np.array_equal(shown[-1], c)
    hausdorff = [Polygon(v).exterior.hausdorff_distance(Polygon(c).exterior) for v in shown[::12]]
    assert all(h <= o + 1e-6 for h, o in zip(hausdorff, off[::12], strict=True))
    steps = [float(np.hypot(*(b - a).T).max()) for a, b in pairwise(shown)]
    assert max(steps) < 0.25 * size_of(c)


def test_a_symmetrical_contour_stays_so_along_the_dial() -> None:
    c, even = evened(traced(trembling(made("egg", 0, 0, 200, 280, (0.2,)).outline(900), np.random.default_rng(1), 1.5))[0])
    dial = Dial(c, np.array([], int), choose(c, upright=0).best.shape.outline(), even)
    assert all(is_even(dial.at(x)) for x in np.linspace(0, 1, 15))


def test_few_pieces_of_a_square_are_four_straights() -> None:
    c, found = traced(square())
    four = next(p for p in levels(c, found) if len(p) == 4)
    assert four.straight.all() and four.words == "4 pieces, 4 straight"
    assert overlap(drawn(four, len(c)), c) > 0.99


def test_across_a_limb_one_side_is_straightened_and_the_other_bows() -> None:
    c, found = traced(made("ellipse", 0, 0, 110, 320).outline(600))
    p = next(p for p in levels(c, found) if len(p) == 4)
    pairs = facing(p, c)
    assert pairs and pairs[0].alike  # mirrored sides are remarked on
    bent = against(p, c, 1.0)
    moved = np.hypot(*(bent.controls - p.controls).T)
    assert moved[pairs[0].one] > 1 and moved[pairs[0].other] > 1
    chord = bent.next_ends[pairs[0].one] - bent.ends[pairs[0].one]
    off = bent.controls[pairs[0].one] - bent.ends[pairs[0].one]
    assert abs(chord[0] * off[1] - chord[1] * off[0]) < 1e-6 * float(chord @ chord)


def test_corners_get_rounder_and_sharper() -> None:
    c = made("trapezoid", 0, 0, 200, 240, (0.2, 0.4)).outline(240)
    got = [angularity(cornered(c, x)) for x in (0.1, 0.5, 1.0)]
    assert got[0] < got[1] < got[2]
    assert area(cornered(c, 0.1)) == pytest.approx(area(c))


# ---- pushes


@settings(max_examples=15, deadline=None)
@given(st.integers(0, 10**6))
def test_emphasis_of_one_is_the_contour_and_none_the_norm(seed: int) -> None:
    c = blob(seed)[0]
    n = circle_of(c).outline(240)
    p = pair(c, n)
    assert np.abs(pushed(p, dict.fromkeys(TRAITS, 1.0)).outline - c).max() < 1e-9 * size_of(c)
    r = reduced(c)
    assert np.abs(restored(r.outline, r.centre, r.size, r.aspect, r.taper) - c).max() < 1e-9 * size_of(c)
    none = pushed(p, {"size": 0, "aspect": 0, "taper": 0, "roundness": 0, "angularity": 0}).outline
    assert read(none)["roundness"] > 0.985


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 10**6), st.lists(st.floats(-1, 3), min_size=5, max_size=5))
def test_no_push_makes_an_outline_cross_itself(seed: int, e: list[float]) -> None:
    c = blob(seed % 40)[0]
    r = pushed(pair(c, circle_of(c).outline(240)), dict(zip(TRAITS, e, strict=True)))
    assert simple(r.outline) and area(r.outline) > 0


@pytest.mark.parametrize("trait", ["aspect", "taper", "size"])
def test_a_push_goes_on_in_its_own_direction(trait: str) -> None:
    c = made("trapezoid", 0, 0, 120, 260, (0.3, 0.2)).outline(240)
    p = pair(c, made("circle", 0, 0, 100, 100).outline(240))
    got = [pushed(p, {trait: e}).readings[trait] for e in (0.0, 0.5, 1.0, 1.5, 2.0)]
    assert all(a < b for a, b in pairwise(got))


def test_what_cannot_be_pushed_further_is_said() -> None:
    c = blob(8)[0]
    r = pushed(pair(c, circle_of(c).outline(240)), {"roundness": 4.0, "taper": 4.0})
    assert simple(r.outline)
    assert any("cross itself" in li.words for li in r.limits)


def test_on_its_way_to_a_triangle_a_square_loses_its_top() -> None:
    s, t = square(), made("triangle", 0, 0, 220, 220, (0.0, 0.0)).outline(240)
    half, got = toward(s, t, 0.5)
    assert got == 0.5 and simple(half)
    top, bottom = half[half[:, 1] < half[:, 1].min() + 4], half[half[:, 1] > half[:, 1].max() - 4]
    assert np.ptp(top[:, 0]) < 0.75 * np.ptp(bottom[:, 0])
    assert overlap(toward(s, t, 1.0)[0], t) > 0.97


def test_a_circle_stays_convex_on_its_way_to_a_triangle() -> None:
    c = made("circle", 0, 0, 200, 200).outline(240)
    t = answering(c, made("triangle", 0, 0, 220, 220, (0.0, 0.0)).outline(240))
    for e in (0.2, 0.5, 0.8):
        g = Polygon(c + e * (t - c))
        assert g.is_valid and g.area / g.convex_hull.area > 0.99


# ---- what sticks out


def test_a_stars_spikes_are_found_where_they_are() -> None:
    outlines = [s.outline() for _, s in creature("star")]
    body = max(outlines, key=lambda o: abs(area(o)))
    found = [b for b in bumps(body, tuple(o for o in outlines if o is not body)) if b.kind == "spike"]
    assert len(found) == sum(n.startswith("spike") for n, *_ in ROWS["star"])
    assert {b.clock for b in found} <= {9, 10, 11, 12, 1, 2, 3}
    assert not bumps(made("circle", 0, 0, 100, 100).outline())


def test_a_plain_shape_of_its_own_kind_is_made_within_bounds() -> None:
    s = made("egg", 0, 0, 10, 10, (5.0,))
    assert isinstance(s, Plain) and s.own == (0.55,)


@pytest.mark.parametrize("seed", range(6))
def test_convexity_and_size_are_what_scikit_image_measures(seed: int) -> None:
    """Against scikit-image's ``regionprops`` of the filled outline: area, solidity, and the middle."""
    c, _ = blob(seed)
    low = c.min(0) - 4
    width, height = (np.ptp(c, axis=0) + 9).astype(int)
    m = filled(c - low, (int(height), int(width)))
    p = regionprops((m > 0).astype(int))[0]
    assert abs(area(c)) == pytest.approx(p.area, rel=0.02)
    assert convexity(c) == pytest.approx(p.solidity, abs=0.02)
    assert centroid(c - low).tolist() == pytest.approx(p.centroid[::-1], abs=1.0)
    assert read(c)["roundness"] == pytest.approx(4 * np.pi * abs(area(c)) / LinearRing(c).length ** 2, rel=1e-3)


@given(st.integers(0, 500), st.floats(0.05, 0.4))
@settings(max_examples=30, deadline=None)
def test_a_box_leaves_its_room_on_every_side(seed: int, room: float) -> None:
    c, _ = blob(seed)
    x, y, w, h = box_round(c, room)
    inside = np.array([c.min(0) - [x, y], [x + w, y + h] - c.max(0)])
    assert inside == pytest.approx(np.full((2, 2), room * np.ptp(c, axis=0).max()), rel=1e-6)


@given(st.lists(st.floats(-0.12, 0.12), min_size=17, max_size=17))
@settings(max_examples=30, deadline=None)
def test_an_outline_keeps_its_widths_however_it_departs_between_them(logs: list[float]) -> None:
    """Departures move the outline where the table says nothing of it; what is read back from it makes it again."""
    plain = {k: v for k, v in face().items() if k not in RESIDUAL_KEYS}
    half = half_width(plain | dict(zip(RESIDUAL_KEYS, logs, strict=True)))
    k = knots(plain)
    assert [
        float(np.interp(np.arccos(1 - 2 * t) / np.pi, np.linspace(0, 1, len(half)), half)) for t in k.stations
    ] == pytest.approx(k.half, abs=5e-4)
    again = half_width(plain | dict(zip(RESIDUAL_KEYS, departures(plain, half), strict=True)))
    moved_by = np.abs(half - half_width(plain)).max()
    assert np.abs(again - half).max() < 0.004 + 0.15 * moved_by


def test_departures_are_joined_by_a_natural_spline() -> None:
    """Against SciPy's ``CubicSpline`` through the same places."""
    logs = np.random.default_rng(3).normal(size=len(RESIDUAL_U)) * 0.1
    u = np.linspace(0, 1, len(half_width(face())))
    spline = CubicSpline([0.0, *RESIDUAL_U, 1.0], [logs[0], *logs, logs[-1]], bc_type="natural")
    plain = {k: v for k, v in face().items() if k not in RESIDUAL_KEYS}
    off = half_width(plain | dict(zip(RESIDUAL_KEYS, logs.tolist(), strict=True)))[2:-2] / half_width(plain)[2:-2]
    # between the table's widths, which stay exact, the ratio is the spline's times a chain of straight pieces
    bent = np.log(off) - spline(u)[2:-2]
    stations = np.arccos(1 - 2 * np.array(knots(plain).stations)) / np.pi
    at_ = u[2:-2]
    straight = np.interp(at_, stations, np.exp(np.interp(stations, at_, bent)))
    between = (at_ > stations[0]) & (at_ < stations[-1])
    assert np.exp(bent)[between] == pytest.approx(straight[between], abs=5e-3)
