"""The measuring stick: carried, turned, stepped off, divided."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from orthomet.core.landmarks.stick import MOST, Stick

XY = st.tuples(st.floats(-1e4, 1e4), st.floats(-1e4, 1e4))


@given(XY, XY, XY)
def test_carrying_and_turning_keep_its_length(a: tuple[float, float], b: tuple[float, float], to: tuple[float, float]) -> None:
    s = Stick(a, b)
    assert s.moved(*to).length == pytest.approx(s.length, rel=1e-6, abs=1e-6)
    for end in "ab":
        t = s.turned(end, to)
        assert t.length == pytest.approx(s.length, rel=1e-6, abs=1e-6)
        assert (t.b if end == "a" else t.a) == (s.b if end == "a" else s.a)


def test_it_steps_off_divides_and_says_how_often_it_fits() -> None:
    s = Stick((0, 0), (0, 10)).stepped(2).divided(3)
    assert s.marks() == [(0, 0), (0, 10), (0, 20), (0, 30)]
    assert len(s.splits()) == 9 and s.splits()[:3] == [(0, 2.5), (0, 5), (0, 7.5)]
    assert s.fits((5, 0), (5, 25)) == pytest.approx(2.5)
    assert s.stepped(-99).times == 1 and s.stepped(99).times == MOST and s.divided(-99).parts == 1
    assert Stick((1, 1), (1, 1)).fits((0, 0), (1, 0)) is None and Stick((1, 1), (1, 1)).turned("a", (4, 4)).length == 0
    t = Stick((0, 0), (3, 4)).turned("b", (0, -100))
    assert t.b == pytest.approx((0, -5)) and math.isclose(t.length, 5)
