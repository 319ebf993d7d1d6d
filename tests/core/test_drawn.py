"""From curves to paths: runs of what is visible, flickers closed, sheets laid out; worn heads as values."""

from __future__ import annotations

from itertools import groupby

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from orthomet.core.features.choices import FeatureChoices
from orthomet.core.features.expression import expressions
from orthomet.core.head.body import Wear, body
from orthomet.core.head.drawn import runs, smooth_flags, stretches
from orthomet.core.head.line_up import Shown, line_up
from orthomet.core.head.points import plan_points
from orthomet.core.head.scene import BOX
from orthomet.core.head.turnaround import STEP, expression_sheet, turnaround
from orthomet.core.head.turned import Curve
from orthomet.core.landmarks.turn import Turn
from orthomet.core.picture import Ink, Text, Trace
from orthomet.demo.cast import BERTA, BERTA_FEATURES, WICK, WICK_FEATURES

FLAGS = st.lists(st.booleans(), max_size=60)


def curve(flags: list[bool], step: float = 0.01) -> Curve:
    n = len(flags)
    points = np.column_stack([step * np.arange(n), np.zeros(n)])
    return Curve("c", points, np.zeros(n), np.array(flags, bool))


@given(FLAGS)
def test_stretches_are_the_runs_of_trues(flags: list[bool]) -> None:
    want, start = [], 0
    for value, group in groupby(flags):
        n = len(list(group))
        if value:
            want.append((start, start + n))
        start += n
    assert stretches(np.array(flags, bool)) == want


@given(FLAGS)
def test_flickers_are_closed_and_nothing_else_moves(flags: list[bool]) -> None:
    """A gap or a dash of up to two points between others goes; whole runs and both ends stay."""
    got = smooth_flags(curve(flags)).visible
    for a, b in stretches(got):
        assert b - a > 2 or a == 0 or b == len(flags) or not flags or b - a == len(flags)
    holes = stretches(~got)
    assert all(b - a > 2 or a == 0 or b == len(flags) for a, b in holes)
    changed = np.flatnonzero(got != np.array(flags, bool))
    for k in changed:  # only short runs were turned over
        same = [g for g in groupby(range(len(flags)), key=lambda i: flags[i])]
        assert same
        start = next(a for v in (True, False) for a, b in stretches(np.array(flags, bool) == v) if a <= k < b)
        end = next(b for v in (True, False) for a, b in stretches(np.array(flags, bool) == v) if a <= k < b)
        assert end - start <= 2


def test_visible_runs_meet_what_hides_them_and_crumbs_go() -> None:
    flags = [True] * 8 + [False] * 6 + [True] * 2 + [False] * 4 + [True] * 10
    paths = runs(curve(flags), Ink.CONTOUR, least=3)
    assert [len(p.points) for p in paths] == [9, 11]  # one point further on the inner side
    far = runs(curve(flags), Ink.HIDDEN, hidden=True, least=3)
    assert [len(p.points) for p in far] == [6, 4]
    assert [len(p.points) for p in runs(curve(flags, step=0.03), Ink.CONTOUR, least=3)] == [8, 10]  # too coarse to reach on
    assert runs(curve([False] * 5), Ink.CONTOUR) == [] and len(runs(curve([True] * 5), Ink.CONTOUR)[0].points) == 5
    assert runs(curve([False, True, True, False], step=0.001), Ink.CONTOUR) == []


def test_heads_line_up_on_common_lines() -> None:
    heads = [Shown("Berta", BERTA, plan_points(BERTA), BERTA_FEATURES), Shown("Wick", WICK, plan_points(WICK), WICK_FEATURES)]
    drawn = line_up(heads)
    assert drawn.box[2] == pytest.approx(BOX[2] + STEP)
    names = [t for t in drawn.layer("names").items if isinstance(t, Text)]
    assert [t.words for t in names] == ["Berta", "Wick"] and names[1].at[0] - names[0].at[0] == pytest.approx(STEP)
    level = {p.name: p.points[0, 1] for p in drawn.layer("level-lines").items if isinstance(p, Trace)}
    assert level["eye line"] == pytest.approx(BERTA["eye_station"] - 0.5)
    lids = {p.name: p.points for p in drawn.paths() if p.name.endswith("upper lid l")}
    assert set(lids) == {"Berta: upper lid l", "Wick: upper lid l"} and lids["Wick: upper lid l"][:, 0].min() > STEP / 2


def test_sheets_hold_every_face_and_stay_inside_their_box() -> None:
    wear = Wear(choices=WICK_FEATURES)
    sheet = expression_sheet(WICK, plan_points(WICK), wear, Turn(yaw=20))
    names = [t.words for t in sheet.layer("names").items if isinstance(t, Text)]
    assert names == list(expressions())
    few = expression_sheet(WICK, plan_points(WICK), wear, Turn(), {"glad": expressions()["glad"]})
    assert few.box[3] < sheet.box[3] and few.box[2] < sheet.box[2]
    for drawn in (sheet, few, turnaround(body(BERTA, plan_points(BERTA), Wear(choices=BERTA_FEATURES)))):
        x, y, w, h = drawn.box
        for p in drawn.paths():
            assert (p.points >= [x - 0.02, y - 0.02]).all() and (p.points <= [x + w + 0.02, y + h + 0.02]).all(), p.name


def test_a_body_is_kept_for_the_same_wear_and_made_anew_for_another() -> None:
    points = plan_points(BERTA)
    same = [body(BERTA, points, Wear(choices=FeatureChoices().with_value("eyes", "pupil", 0.3))) for _ in range(2)]
    assert same[0] is same[1]
    others = [
        body(BERTA, points, w)
        for w in (
            Wear(),
            Wear(chin_forward=0.01),
            Wear(school="halves"),
            Wear(school="halves", settings={"D": 0.7}),
            Wear(choices=BERTA_FEATURES),
        )
    ]
    assert len({id(b) for b in others}) == len(others)
    assert (
        others[4].hair is body(BERTA, points, Wear(choices=BERTA_FEATURES.with_value("eyes", "pupil", 0.31))).hair
    )  # hair is kept by itself


def test_what_a_head_wears_is_a_value() -> None:
    one, same = (Wear(settings={"D": 0.7, "nose": 0.74}, school="halves") for _ in range(2))
    assert one == same and hash(one) == hash(same) and len({one, same}) == 1
    assert one != Wear(settings={"D": 0.71, "nose": 0.74}, school="halves") and one != "halves"
    assert Wear(expression=expressions()["glad"]) != Wear(expression=expressions()["sad"])
