"""Checks without a plan, and rival cures."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.check.basis import basis_face, even_face
from orthomet.core.check.check import check
from orthomet.core.errors import OrthometError
from orthomet.core.landmarks.points import Landmarks
from orthomet.core.landmarks.schema import FRONT
from tests.faces import marks_of, moved


def test_an_even_face_owes_itself_nothing_however_it_is_built() -> None:
    for seed in range(4):
        from tests.faces import random_table

        marks = marks_of(random_table(np.random.default_rng(seed)), roll=0.1)
        assert not check(marks, even_face(marks)).findings


def test_a_lowered_eye_is_told_without_any_plan() -> None:
    marks = marks_of()
    names = [
        n
        for n in marks.points
        if n.endswith("_l") and n.startswith(("endocanthion", "exocanthion", "palpebrale", "pupil", "iris", "lid_crease"))
    ]
    low = moved(marks, **{n: (marks.points[n][0], marks.points[n][1] + 28) for n in names})
    c = check(low, even_face(low))
    assert c.findings and any("eye" in f.say.lower() for f in c.findings)
    even = even_face(low)
    partner = np.array(FRONT.mirror)
    assert np.nanmax(np.abs(even - even[partner] * [-1, 1])) < 1e-9


def test_a_basis_is_named_or_refused_in_words() -> None:
    assert np.isfinite(basis_face("norm").points).any() and np.isfinite(basis_face("style:low-lantern").points).any()
    for bad in ("moon", "style:", "style:nobody"):
        with pytest.raises(OrthometError):
            basis_face(bad)
    with pytest.raises(OrthometError, match="crown"):
        even_face(Landmarks("front", {"stomion": (1.0, 2.0)}, {}, {}))


def test_rivals_are_other_cures_ranked_behind_the_chosen_one() -> None:
    plan = marks_of()
    tall = plan.points["gnathion"][1] - plan.points["vertex"][1]
    low = moved(
        plan, **{n: (x, y + 0.05 * tall) for n, (x, y) in plan.points.items() if n.startswith(("stomion", "cheilion", "labiale"))}
    )
    c = check(low, even_face(plan))
    assert c.fix.moves and c.fix.rivals
    scores = [r.score for r in c.fix.rivals]
    assert scores == sorted(scores) and scores[0] >= c.fix.score - 1e-9
    chosen = {m.name for m in c.fix.moves}
    assert all({m.name for m in r.moves} != chosen and len(r.moves) == len(r.amounts) for r in c.fix.rivals)
