"""The painter: relief, canvas, faults. Small pictures only; the shipped ones take minutes."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.check.moves import EYE, MOUTH
from orthomet.core.head.outline import half_width, width_at
from orthomet.core.head.points import plan_points
from orthomet.core.landmarks.schema import FRONT
from orthomet.demo.cast import BERTA, WICK
from orthomet.demo.painting.canvas import Canvas, brushwork, smooth
from orthomet.demo.painting.drawing import EYE_LARGER, MOUTH_LOW, paint_drawing, with_faults
from orthomet.demo.painting.paint import SITTERS
from orthomet.demo.painting.portrait import landmarks_px, sitter_points
from orthomet.demo.painting.relief import Sitter, depth, gloss, light, normals


def grid(n: int = 160) -> tuple[np.ndarray, np.ndarray]:
    return np.meshgrid(np.linspace(-0.5, 0.5, n), np.linspace(-0.1, 1.1, n))


def test_the_relief_has_the_plans_outline_and_a_nose_in_the_middle() -> None:
    x, t = grid()
    z, inside = depth(Sitter(BERTA), x, t)
    assert (np.isfinite(z) == inside).all()
    a = half_width(BERTA)
    for station in (0.3, 0.56, 0.8):
        row = int(np.argmin(np.abs(t[:, 0] - station)))
        width = np.abs(x[row][inside[row]]).max()
        assert width == pytest.approx(float(width_at(a, station)), abs=0.012)
    tip = BERTA["nose_base_station"] - 0.15 * BERTA["nose_length_hh"]
    row = int(np.argmin(np.abs(t[:, 0] - tip)))
    assert abs(x[row][np.nanargmax(z[row])]) < 0.02
    assert np.nanmax(z) == pytest.approx(np.nanmax(z[row]), abs=0.02)
    flat = depth(Sitter(WICK, nose_depth=0.0), x, t)[0]
    assert np.nanmax(flat) < np.nanmax(depth(Sitter(WICK, nose_depth=0.09), x, t)[0])


def test_light_comes_from_the_upper_left() -> None:
    x, t = grid(120)
    n = normals(-(x**2) - (t - 0.5) ** 2, x[0, 1] - x[0, 0])
    assert np.allclose(np.linalg.norm(n, axis=2), 1)
    lit = light(n)
    assert lit.min() > 0.2 and lit.max() < 1.5
    assert lit[30, 30] > lit[30, 90] and lit[30, 60] > lit[90, 60]
    g = gloss(n)
    assert g.max() <= 1 and g[40, 40] > g[90, 90]


def test_canvas_maps_heads_to_pixels_and_lays_colour() -> None:
    c = Canvas(200, 260, 180, 100, 30)
    np.testing.assert_allclose(c.to_px([(0, 0), (0.5, 1.0)]), [(100, 30), (190, 210)])
    x, t = c.grid()
    assert x[0, 100] == pytest.approx(0.5 / 180) and t[30, 0] == pytest.approx(0.5 / 180)
    square = [(-0.2, 0.3), (0.2, 0.3), (0.2, 0.6), (-0.2, 0.6)]
    c.fill(square, (0.2, 0.4, 0.6))
    np.testing.assert_allclose(c.image[110, 100], (0.2, 0.4, 0.6), atol=0.01)
    np.testing.assert_allclose(c.image[240, 100], 1)
    c.fill(square, (1, 1, 1), alpha=0.5)
    np.testing.assert_allclose(c.image[110, 100], (0.6, 0.7, 0.8), atol=0.01)
    c.multiply(c.mask(square), (0.5, 0.5, 0.5))
    np.testing.assert_allclose(c.image[110, 100], (0.3, 0.35, 0.4), atol=0.01)
    c.line([(-0.4, 0.9), (0.4, 0.9)], (0, 0, 0), 5)
    assert c.image[30 + 162, 100].max() < 0.05
    loop = smooth([(0, 0), (1, 0), (1, 1), (0, 1)], 40, closed=True)
    np.testing.assert_allclose(loop[0], loop[-1], atol=1e-9)


def test_brushwork_keeps_the_picture_and_its_edges() -> None:
    source = np.full((120, 140, 3), 0.7)
    source[:, 70:] = 0.2
    out = brushwork(source, np.random.default_rng(0))
    assert out.shape == source.shape and out.min() >= 0 and out.max() <= 1
    assert np.abs(out - source).mean() < 0.05
    assert out[60, 60].mean() > 0.6 and out[60, 80].mean() < 0.3


def test_the_faults_are_the_stated_ones_and_nothing_else() -> None:
    plan = plan_points(BERTA)
    faulty = with_faults(plan)
    moved = {FRONT.names[i] for i in np.flatnonzero(np.nan_to_num(np.abs(faulty - plan)).max(1) > 1e-12)}
    base = {n.removesuffix("_l").removesuffix("_r") for n in moved}
    assert base <= set(MOUTH) | set(EYE) and not any(n.endswith("_r") for n in moved if n.removesuffix("_r") in EYE)
    s = FRONT.index["stomion"]
    assert faulty[s, 1] - plan[s, 1] == pytest.approx(MOUTH_LOW)
    ends = [FRONT.index["exocanthion_l"], FRONT.index["endocanthion_l"]]
    assert np.ptp(faulty[ends, 0]) == pytest.approx(EYE_LARGER * np.ptp(plan[ends, 0]))


def test_the_pencil_drawing_is_dark_where_its_landmarks_are() -> None:
    picture, truth = paint_drawing(BERTA, plan_points(BERTA))
    grey = picture.astype(float).mean(2)
    paper = np.median(grey)
    for name in ("stomion", "endocanthion_r", "gnathion", "pupil_l"):
        x, y = truth[name]
        near = grey[round(y) - 6 : round(y) + 7, round(x) - 6 : round(x) + 7]
        assert near.min() < paper - 50, name


def test_every_sitter_has_what_the_painter_needs() -> None:
    c = Canvas(1500, 1370, 940, 750, 190)
    for sitter, *_ in SITTERS.values():
        points = sitter_points(sitter)
        marks = landmarks_px(points, c)
        assert set(FRONT.names) == set(marks)
        assert all(0 < x < 1500 and 0 < y < 1400 for x, y in marks.values())
