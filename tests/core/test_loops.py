"""Loops taken out of outlines: Shapely says whether a line is simple."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString

from orthomet.core.ink.loops import without_loops
from orthomet.core.ink.stroke import Stroke
from orthomet.core.ink.surface import Pen


def line(radius: float, pen: Pen = Pen.CONTOUR, closed: bool = False, at: int = 20) -> Stroke:
    """A way straight on that goes once round on the way."""
    t = np.linspace(0, 2 * np.pi, 17)
    x = np.linspace(0, 1, 60)
    flat = np.stack([x, 0.05 * np.sin(3 * x)], 1)
    ring = flat[at] + radius * np.stack([np.sin(t), 1 - np.cos(t)], 1)
    points = np.concatenate([flat[: at + 1], ring[1:-1], flat[at + 1 :]])
    return Stroke(points, np.linspace(0.01, 0.02, len(points)), pen, closed=closed)


def simple(s: Stroke) -> bool:
    return bool(LineString(s.points).is_simple)


@given(st.floats(0.008, 0.02), st.integers(2, 55))
@settings(max_examples=60, deadline=None)
def test_a_small_loop_is_gone_and_the_rest_is_untouched(radius: float, at: int) -> None:
    s = line(radius, at=at)
    (out,) = without_loops([s], 0.14)
    assert simple(out) and len(out.widths) == len(out.points)
    assert (out.points[0] == s.points[0]).all() and (out.points[-1] == s.points[-1]).all()
    assert LineString(s.points).hausdorff_distance(LineString(out.points)) <= 2.2 * radius
    assert LineString(s.points).buffer(1e-9).covers(LineString(out.points))


@pytest.mark.parametrize("s", [line(0.1), line(0.02, pen=Pen.EDGE), line(0.02, closed=True)], ids=["large", "other", "closed"])
def test_what_is_no_small_loop_of_an_open_outline_stays(s: Stroke) -> None:
    assert not simple(s)
    assert without_loops([s, s], 0.14) == [s, s]


def test_strokes_that_cross_one_another_are_left_alone() -> None:
    a, b = line(0.015), Stroke(np.stack([np.full(40, 0.5), np.linspace(-0.3, 0.3, 40)], 1), np.full(40, 0.01), Pen.CONTOUR)
    out = without_loops([b, a, b], 0.14)
    assert out[0] is b and out[2] is b and simple(out[1])
