"""Every named move: it moves what it says, the check recognises it, and following the instruction cures the drawing."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.check.check import check
from orthomet.core.check.fix import HALF, smallest_fix, weights
from orthomet.core.check.instruct import amount_words
from orthomet.core.check.moves import moves
from orthomet.core.check.rows import face_rows, lengths, tolerance_table, tolerances
from orthomet.core.head.points import plan_points
from orthomet.core.landmarks.points import from_array
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.proportions.registry import Role, front_registry
from orthomet.demo.cast import face
from tests.faces import as_picture

PLAN = plan_points(face())
MOVES = moves(PLAN)
REG = front_registry()


def test_moves_are_named_once_and_about_a_known_reading() -> None:
    names = [m.name for m in MOVES]
    assert len(set(names)) == len(names) and len(names) >= 60
    assert all(m.reading in REG.index for m in MOVES)
    assert all(np.abs(m.field).max() == pytest.approx(1) for m in MOVES)
    assert all(m.more != m.less and m.more[0].isupper() for m in MOVES)


@pytest.mark.parametrize("move", MOVES, ids=lambda m: m.name)
@pytest.mark.parametrize("sign", [1, -1])
def test_following_the_instructions_cures_the_drawing(move: object, sign: int) -> None:
    """Whatever was moved: doing what the findings say leaves nothing to find."""
    # small enough that an iris keeps its sides and a turn stays nearly straight
    amount = sign * (0.015 if "iris" in move.name else 0.03)  # type: ignore[attr-defined]
    faulty = PLAN + np.nan_to_num(move.field) * amount  # type: ignore[attr-defined]
    picture = as_picture(faulty, 900, 0.03)
    try:
        c = check(from_array(picture), PLAN)
    except ValueError:
        pytest.skip("points fell on one spot")
    if not c.fix.moves:
        assert c.findings == () or all(f.move is None for f in c.findings)
        return
    cured = c.registered + sum(m.field * a for m, a in zip(c.fix.moves, c.fix.amounts, strict=True))
    after = check(from_array(as_picture(cured, 700, -0.02)), PLAN)
    assert len(after.findings) <= max(0, len(c.findings) - 1), ([f.say for f in c.findings], [f.say for f in after.findings])
    if len(c.fix.moves) == 1 and c.fix.moves[0].name == move.name:  # type: ignore[attr-defined]
        assert np.sign(c.fix.amounts[0]) == -np.sign(amount)
        expected = move.less if amount > 0 else move.more  # type: ignore[attr-defined]
        assert c.findings[0].say.startswith(expected)


def test_moves_adapt_to_the_points_that_are_there() -> None:
    few = PLAN.copy()
    few[[i for i, n in enumerate(FRONT.names) if n not in FRONT.essential]] = np.nan
    names = {m.name for m in moves(few)}
    assert {"mouth up/down", "eyes bigger/smaller", "jaw wider/narrower"} <= names
    assert not {"ears up/down", "eyes open/close", "neck wider/narrower"} & names
    assert all(np.isfinite(m.field).all() for m in moves(few))


def test_tolerances_by_their_rules() -> None:
    """The page's rules: stations 2 %, lengths clip(10 %, .006–.02), intervals clip(20 %, .008–.02), big widths 4 %, levels 1.2 %."""
    rows = face_rows()
    tol = dict(zip([r.key for r in rows.rows], tolerances(PLAN, rows, np.zeros(len(FRONT.names))), strict=True))
    assert tol["mouth_station"] == 0.02 and tol["level_cheilion_hh"] == 0.012
    assert tol["nose_length_hh"] == pytest.approx(0.02)  # a tenth of .23 would be .023
    assert tol["upper_lip_hh"] == pytest.approx(0.006)  # a tenth of .035 would be .0035
    assert tol["nose_mouth_hh"] == pytest.approx(0.2 * 0.095)
    assert tol["face_width_hh"] == pytest.approx(0.04 * 0.59)
    assert tol["eye_width_l_fw"] == pytest.approx(0.05 * 0.213 * 0.59)
    noisy = dict(zip([r.key for r in rows.rows], tolerances(PLAN, rows, np.full(len(FRONT.names), 0.01)), strict=True))
    assert noisy["mouth_station"] == pytest.approx(3.3 * 0.01 * np.sqrt(2))
    assert set(tolerance_table().rules) == {r.tolerance for r in REG.readings if r.tolerance} | {"side"}


def test_no_length_is_compared_twice() -> None:
    rows = face_rows()
    marks = {np.round(r.form, 9).tobytes() for r in rows.rows}
    assert len(marks) == len(rows.rows)
    keys = {r.key for r in rows.rows}
    assert not keys & {"eyes_across", "mouth_nose", "eye_mouth_fw", "upper_lip_share"}
    assert {r.key for r in rows.rows if r.sides} == {
        r.key for r in REG.readings if r.role is Role.BALANCE and "_l_" in r.key and not r.key.startswith("gaze")
    }
    read = lengths(PLAN, rows)
    by = dict(zip([r.key for r in rows.rows], read, strict=True))
    assert by["mouth_station"] == pytest.approx(0.79) and by["eye_width_fw"] == pytest.approx(0.213 * 0.59)
    assert by["face_ratio"] == pytest.approx(1.0) and by["eye_width_l_fw"] == pytest.approx(0)


def test_nothing_off_is_nothing_to_do() -> None:
    rows = face_rows()
    tol = np.full(len(rows.rows), 0.02)
    f = smallest_fix(rows.forms, np.full(len(rows.rows), 0.01), tol, MOVES)
    assert f.moves == () and f.score == 0
    assert smallest_fix(rows.forms, np.full(len(rows.rows), 0.5), tol, []).moves == ()


def test_rows_that_share_a_badly_marked_point_count_as_one() -> None:
    """Against plain linear algebra: what marking and tolerance leave of the rows together is independent afterwards."""
    rows, noise = face_rows(), np.full(len(FRONT.names), 0.003)
    noise[FRONT.index["vertex"]] = 0.02
    tol = tolerances(PLAN, rows, noise)
    w = weights(rows.forms, tol, noise)
    marked = rows.forms @ np.diag(np.repeat(noise, 2) ** 2) @ rows.forms.T / np.outer(tol, tol)
    together = marked + np.diag(HALF**2 - np.diag(marked))
    assert w @ together @ w.T == pytest.approx(HALF**2 * np.eye(len(tol)), abs=1e-9)
    assert weights(rows.forms, tol, np.zeros(len(FRONT.names))) == pytest.approx(np.eye(len(tol)))


def test_an_ordinary_hands_noise_adds_no_move() -> None:
    """Single faults marked within 0.3 % of the head: the very move, alone."""
    rng = np.random.default_rng(8)
    told = []
    for k in rng.choice(len(MOVES), 40, replace=False):
        m = MOVES[k]
        x = PLAN + np.nan_to_num(m.field) * rng.choice([-1, 1]) * 0.045 + rng.normal(size=PLAN.shape) * 0.003
        told.append({f.name for f in check(from_array(as_picture(x, 850, 0.1)), PLAN).fix.moves} == {m.name})
    assert np.mean(told) >= 0.95


def test_amounts_in_words() -> None:
    assert amount_words(-0.0204, -9.2) == "0.020 heads (9 px)" and amount_words(0.001, 0.44) == "0.001 heads (0.4 px)"
