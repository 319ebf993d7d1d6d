"""The artist's own spans on a drawing against their plans."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from orthomet.core.check.check import check
from orthomet.core.check.own import check_own
from orthomet.core.landmarks.own import own
from orthomet.core.landmarks.points import Landmarks, State, without_own
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.own import OwnPlan, plan_own
from orthomet.core.resolve import plan_of_style
from orthomet.core.styles.library import style
from tests.faces import marks_of

EYE = own("eye", "Eye", "own:body")
BODY = own("body", "Body", "own:eye")
FUNNEL = own("fun", "Funnel height", "own:eye")
SPANS = (EYE, BODY, FUNNEL)


def creature(funnel: float, size: float = 1.0, state: State = State.PLACED) -> Landmarks:
    """An eye 100 across, a body 400 tall, and a funnel, all times a size."""
    points = {
        "own_eye_a": (10, 10), "own_eye_b": (110, 10), "own_body_a": (100, 100), "own_body_b": (100, 500), "own_fun_a": (60, 90),
        "own_fun_b": (60 + funnel, 90),
    }  # fmt: skip
    return Landmarks("front", {n: (x * size, y * size) for n, (x, y) in points.items()}, {"own_fun_b": state}, {}, None, SPANS)


def plans(funnel: float = 2.0) -> tuple[OwnPlan, ...]:
    return plan_own(SPANS, {EYE.key: 0.25, BODY.key: 4.0, FUNNEL.key: funnel}, Decisions(), style("measured-adult"))


def test_a_span_too_long_is_told_in_its_own_unit_and_in_pixels() -> None:
    eye, body, funnel = check_own(creature(300), plans())
    assert not eye.off and not body.off and body.judged
    assert funnel.off and funnel.drawing == pytest.approx(3) and funnel.plan == pytest.approx(2)
    assert funnel.say == "Make funnel height 33 % shorter (100 px)"
    assert "longer" in check_own(creature(150), plans())[2].say
    assert check_own(creature(300), plans(), px_per_mm=10)[2].say.endswith("(10.0 mm)")


def test_what_is_not_there_or_not_sure_is_not_judged() -> None:
    there = creature(300)
    half = Landmarks("front", {n: xy for n, xy in there.points.items() if n != "own_fun_b"}, {}, {}, None, SPANS)
    missing = check_own(half, plans())[2]
    assert missing.drawing is None and not missing.judged and not missing.off
    loose = check_own(creature(300, state=State.ESTIMATED), plans())[2]
    assert loose.drawing is not None and not loose.judged and not loose.off
    assert check_own(Landmarks("profile", {}), plans()) == ()


@given(st.floats(0.05, 3.0), st.floats(0.1, 20))
def test_a_drawing_of_any_size_that_follows_the_plan_passes(share: float, size: float) -> None:
    found = check_own(creature(100 * share, size), plans(share))
    assert not any(o.off for o in found) and all(o.judged for o in found)


def test_a_face_with_own_points_is_checked_as_without_them() -> None:
    face = marks_of()
    more = Landmarks(
        "front", {**face.points, "own_fun_a": (5.0, 5.0), "own_fun_b": (50.0, 5.0)}, face.states, {}, face.size, (FUNNEL,)
    )
    assert without_own(more) == Landmarks("front", face.points, face.states, {}, face.size)
    plan = plan_of_style("measured-adult").points
    assert check(more, plan).findings == check(face, plan).findings
