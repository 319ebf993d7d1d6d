"""The picture moved by its landmarks, against SciPy's thin-plate spline and pictures whose motion is known."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import RBFInterpolator

from orthomet.core.errors import LandmarkError
from orthomet.core.imaging.warp import Oval, anchored, oval, shifts, spline, warped
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.resolve import plan_of_character
from orthomet.demo.project import demo_project


def points(rng: np.random.Generator, n: int = 40, size: float = 500.0) -> tuple[np.ndarray, np.ndarray]:
    t = rng.uniform(0.25 * size, 0.75 * size, (n, 2))
    return t, t + rng.normal(size=t.shape) * 6


def test_the_spline_is_scipys() -> None:
    """RBFInterpolator with the thin-plate kernel, no smoothing, degree 1."""
    t, s = points(np.random.default_rng(0))
    ours, theirs = spline(t, s), RBFInterpolator(t, s, kernel="thin_plate_spline", degree=1)
    probe = np.random.default_rng(1).uniform(0, 500, (300, 2))
    np.testing.assert_allclose(ours(probe), theirs(probe), atol=1e-6)
    np.testing.assert_allclose(ours(t), s, atol=1e-7)


@pytest.mark.parametrize("who", [0, 1, 2])
def test_the_maps_stay_within_a_quarter_pixel_of_the_spline(who: int) -> None:
    """The demo's portraits moved to their plans at full size, as they are saved: but for single places between lips."""
    project = demo_project().project
    c = project.characters[who]
    source = c.references[0].marks.landmarks().array()
    top, chin = source[FRONT.index["vertex"]], source[FRONT.index["gnathion"]]
    target = plan_of_character(c, project).points * (chin[1] - top[1]) + top
    exact = spline(*anchored(target, source))
    o = oval(target, source)
    (x0, y0, x1, y1), shift = shifts(exact, o, (1500, 1370))
    yy, xx = np.mgrid[150:1250:11, 300:1200:11]
    p = np.column_stack([xx.ravel(), yy.ravel()]).astype(float)
    inner = Oval(o.middle, 0.97 * o.half)
    p = p[inner.within(p) & (p >= [x0, y0]).all(1) & (p < [x1, y1]).all(1)]
    off = np.abs(p + shift[p[:, 1].astype(int) - y0, p[:, 0].astype(int) - x0] - exact(p))
    assert np.quantile(off, 0.999) < 0.25 and off.max() < 0.6 and np.abs(exact(p) - p).max() > 20


@settings(max_examples=25, deadline=None)
@given(st.floats(-0.3, 0.3), st.floats(0.9, 1.1), st.floats(-10, 10), st.floats(-10, 10))
def test_straight_motions_stay_straight(turn: float, size: float, dx: float, dy: float) -> None:
    rng = np.random.default_rng(3)
    t = rng.uniform(100, 400, (20, 2))
    m = size * np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    s = spline(t, t @ m.T + [dx, dy])
    probe = rng.uniform(0, 500, (30, 2))
    np.testing.assert_allclose(s(probe), probe @ m.T + [dx, dy], atol=1e-5)


def test_a_disc_is_brought_where_it_should_be_and_the_background_stays() -> None:
    y, x = np.mgrid[0:400, 0:500]
    picture = np.zeros((400, 500, 3), np.uint8)
    picture[..., 0] = x // 2
    picture[(x - 240) ** 2 + (y - 200) ** 2 < 20**2] = 255
    a = np.linspace(0, 2 * np.pi, 8, endpoint=False)
    ring = np.column_stack([np.cos(a), np.sin(a)])
    source = np.vstack([[240, 200], [240, 200] + 22 * ring])
    target = source + [12, -8]
    out = warped(picture, target, source)
    white = np.argwhere(out[..., 1] > 128)
    np.testing.assert_allclose(white.mean(0)[::-1], [252, 192], atol=1.0)
    assert np.abs(out[:20].astype(int) - picture[:20]).max() <= 1 and np.abs(out[:, :20].astype(int) - picture[:, :20]).max() <= 1
    assert (warped(picture, source, source) == picture).mean() > 0.999


def test_what_is_missing_or_doubled_is_left_out_and_too_little_refused() -> None:
    t, s = points(np.random.default_rng(4), 12)
    more = spline(np.vstack([t, t[:1], [[np.nan, 0]]]), np.vstack([s, s[:1] + 5, [[1, 1]]]))
    np.testing.assert_allclose(more(t), s, atol=1e-6)
    for bad in (t[:2], np.array([[0.0, 0], [10, 10], [20, 20], [30, 30]])):
        with pytest.raises(LandmarkError, match="three points"):
            spline(bad, bad)


@settings(max_examples=15, deadline=None)
@given(st.integers(0, 500), st.integers(3, 12))
def test_outside_the_oval_not_one_pixel_moves(seed: int, step: int) -> None:
    rng = np.random.default_rng(seed)
    picture = rng.integers(0, 255, (220, 260, 3), np.uint8)
    source = rng.uniform(70, 150, (12, 2))
    target = source + rng.normal(size=source.shape) * 2
    out, o = warped(picture, target, source, step), oval(target, source)
    yy, xx = np.mgrid[0:220, 0:260]
    far = ~Oval(o.middle, o.half + 3 * step + 1).within(np.stack([xx, yy], -1).astype(float))
    assert far.any() and (out[far] == picture[far]).all() and (out != picture).any()
    assert out.shape == picture.shape and (warped(picture, target + [1e4, 0], source + [1e4, 0]) == picture).all()
