"""The artist's own spans are planned by the rule of every trait, about what the artist calls usual."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from orthomet.core.landmarks.own import OWN_GROUP, OwnSpan, own
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.own import own_offset, plan_own
from orthomet.core.styles.library import Style, StyleRow

BARE = Style(name="t", title="T", readings={})
BUN = own("bun", "Bun", "hw", usual=0.5)
SIZES = st.floats(0.05, 20)


def planned(span: OwnSpan, value: float, d: Decisions, style: Style = BARE) -> float:
    (p,) = plan_own((span,), {span.key: value}, d, style)
    assert p.reference == value and p.usual == span.usual
    return p.plan


@given(SIZES, st.floats(0, 3))
def test_big_gets_bigger_about_what_is_usual(value: float, e: float) -> None:
    """Brennan 1985, on one length: plan / usual = (reference / usual) ** e."""
    got = planned(BUN, value, Decisions(emphasis={BUN.key: e}))
    assert got / 0.5 == pytest.approx((value / 0.5) ** e, rel=1e-9)
    assert planned(BUN, value, Decisions()) == pytest.approx(value)
    assert planned(BUN, value, Decisions(emphasis={BUN.key: 0.0})) == pytest.approx(0.5)


@given(SIZES, st.floats(0, 3), st.floats(0.05, 20))
def test_without_a_usual_only_style_and_hand_move_it(value: float, e: float, wanted: float) -> None:
    shell = own("shell", "Shell", "ew")
    d = Decisions(emphasis={shell.key: e})
    assert planned(shell, value, d) == pytest.approx(value)
    (p,) = plan_own((shell,), {shell.key: value}, d, BARE)
    moved = d.model_copy(update={"offsets": {shell.key: own_offset(p, d, wanted)}})
    assert planned(shell, value, moved) == pytest.approx(wanted)
    styled = Style(name="t", title="T", readings={shell.key: StyleRow(mean=2.0)})
    assert planned(shell, value, Decisions(group_weights={OWN_GROUP: 1.0}, emphasis={shell.key: 0.0}), styled) == pytest.approx(
        2.0
    )
    half = planned(shell, value, Decisions(style_weight=0.5), styled)
    assert half == pytest.approx((value * 2.0) ** 0.5)


def test_what_is_not_measured_is_not_planned() -> None:
    assert plan_own((BUN,), {}, Decisions(), BARE) == ()
    assert plan_own((BUN,), {BUN.key: 0.0}, Decisions(), BARE) == ()
    with pytest.raises(ValidationError):
        own("bun", "Bun", usual=-1.0)
