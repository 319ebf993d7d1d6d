"""Styles and hands learned back from known distributions; the 68-point text format round trip."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from orthomet.cli import main
from orthomet.core.errors import FormatError
from orthomet.core.kinds import backward, forward
from orthomet.core.landmarks.points import Landmarks, State
from orthomet.core.landmarks.pts import CONTOUR, EXACT, from_pts, parse_pts, to_pts
from orthomet.core.plan.plan import space_backward, space_forward
from orthomet.core.plan.space import face_space
from orthomet.core.proportions.measure import Measured, measure
from orthomet.core.proportions.norms import norm
from orthomet.core.proportions.registry import front_registry
from orthomet.core.styles.hand import learn_hand
from orthomet.core.styles.learn import learn_style, two_periods
from orthomet.core.styles.library import style
from tests.faces import marks_of, random_table

REG, NORM, SPACE = front_registry(), norm(), face_space()
AT = SPACE.in_registry


def sample(rng: np.random.Generator, centre: np.ndarray, spread: float = 0.5) -> Measured:
    """A drawing of a hand whose traits spread about a centre, in the norm's spreads."""
    g = space_forward(SPACE, centre) + rng.normal(size=len(AT)) * NORM.g_sd[AT] * spread
    values = np.full(len(REG.readings), np.nan)
    values[AT] = space_backward(SPACE, g)
    return Measured(REG, values, tuple(State.PLACED if np.isfinite(v) else None for v in values), np.zeros(len(values)))


def test_a_style_from_thirty_samples_recovers_its_means() -> None:
    """Means within four standard errors of the truth, in the transform the samples were drawn in."""
    rng = np.random.default_rng(0)
    truth = space_backward(SPACE, space_forward(SPACE, NORM.mean[AT]) + rng.normal(size=len(AT)) * NORM.g_sd[AT] * 2)
    learned = learn_style([sample(rng, truth) for _ in range(30)], "mine", NORM).style
    for key, t in zip(SPACE.keys, truth, strict=True):
        row = learned.readings[key]
        assert row.sd is not None and row.n == 30
        assert abs(row.mean - t) < 4 * row.sd / np.sqrt(30) + 0.002 * abs(t), key


def test_mean_and_spread_worked_by_hand() -> None:
    """statistics of 1.0, 1.2, 1.7: mean 1.3, sd (n − 1) 0.3606."""
    marks = [marks_of({**random_table(np.random.default_rng(1), 0.1), "eye_gap_ew": g}) for g in (1.0, 1.2, 1.7)]
    row = learn_style([measure(m) for m in marks], "x", NORM).style.readings["eye_gap_ew"]
    assert row.mean == pytest.approx(1.3) and row.sd == pytest.approx(0.36056, abs=1e-4) and row.n == 3
    two = learn_style([measure(m) for m in marks[:2]], "x", NORM).style.readings["eye_gap_ew"]
    assert two.sd is None and two.n == 2 and not two.signature


def test_signature_is_far_and_steady() -> None:
    rng = np.random.default_rng(3)
    centre = NORM.mean[AT].copy()
    eye, mouth = SPACE.index["eye_width_fw"], SPACE.index["mouth_width_fw"]
    centre[eye] *= 1.3
    rows = learn_style([sample(rng, centre, 0.3) for _ in range(8)], "x", NORM).style.readings
    assert rows["eye_width_fw"].signature and not rows[SPACE.keys[mouth]].signature


def test_two_periods_are_told_and_one_is_not() -> None:
    rng = np.random.default_rng(5)
    alarms = sum(two_periods(rng.normal(size=(int(rng.integers(6, 20)), 24))) for _ in range(200))
    assert alarms <= 6
    found = 0
    for _ in range(40):
        shift = np.zeros(24)
        shift[rng.choice(24, 8, replace=False)] = rng.choice([-1, 1], 8) * 2.5
        z = rng.normal(size=(12, 24)) + np.where(np.arange(12)[:, None] < 6, shift, 0)
        found += two_periods(z)
    assert found >= 34
    assert not two_periods(rng.normal(size=(4, 24)))


def test_a_hand_from_twelve_noisy_pairs_recovers_habit_and_push() -> None:
    rng = np.random.default_rng(7)
    a, k = rng.normal(size=len(AT)) * 0.6 * NORM.g_sd[AT], rng.uniform(0.2, 1.8, len(AT))
    pairs = []
    for _ in range(12):
        ref = sample(rng, NORM.mean[AT], 1.0)
        d = space_forward(SPACE, ref.values[AT]) - NORM.g_mean[AT]
        drawn = np.full(len(REG.readings), np.nan)
        drawn[AT] = space_backward(SPACE, NORM.g_mean[AT] + a + k * d + rng.normal(size=len(AT)) * 0.1 * NORM.g_sd[AT])
        pairs.append((ref, Measured(REG, drawn, ref.states, np.zeros(len(drawn)))))
    hand = learn_hand(pairs, NORM)
    for i, key in enumerate(SPACE.keys):
        row = hand.readings[key]
        assert row.push == pytest.approx(k[i], abs=0.15), key
        assert row.habit == pytest.approx(a[i], abs=0.12 * NORM.g_sd[AT[i]]), key
    few = learn_hand(pairs[:4], NORM).readings["nose_width_fw"]
    r = REG["nose_width_fw"]
    i = REG.index["nose_width_fw"]
    expect = np.mean([float(forward(r.kind, d.values[i]) - forward(r.kind, f.values[i])) for f, d in pairs[:4]])
    assert few.push is None and few.habit == pytest.approx(expect) and few.n == 4
    assert float(backward(r.kind, forward(r.kind, 0.25))) == pytest.approx(0.25)
    with pytest.raises(FormatError):
        learn_hand([], NORM)


def test_estimated_readings_teach_nothing() -> None:
    marks = marks_of()
    unsure = Landmarks("front", marks.points, dict.fromkeys(marks.points, State.ESTIMATED))
    with pytest.raises(FormatError, match="sure"):
        learn_style([measure(unsure)], "x", NORM)


def test_points_go_out_and_come_back() -> None:
    marks = marks_of(random_table(np.random.default_rng(2)))
    text = to_pts(marks)
    xy = parse_pts(text)
    assert xy.shape == (68, 2) and np.isfinite(xy).all() and text.startswith("version: 1\nn_points: 68\n{\n")
    back = from_pts(text)
    for n in EXACT:
        assert back.points[n] == pytest.approx(marks.points[n], abs=1e-4), n
        assert back.state(n) is State.PLACED
    assert all(back.states[n] is State.ESTIMATED for n in CONTOUR)
    assert (np.diff(xy[:9, 1]) > 0).all() and (np.diff(xy[8:17, 1]) < 0).all()  # down one cheek, up the other
    assert xy[0, 0] < xy[16, 0]
    m = measure(back)
    assert (
        m.value("eye_gap_ew") == pytest.approx(measure(marks).value("eye_gap_ew"), rel=1e-3)
        and m.value("hairline_station") is None
    )


@pytest.mark.parametrize(
    "text",
    [
        "",
        "n_points: 68",
        "n_points: 5\n{\n1 2\n}",
        "n_points: 68\n{\n" + "1 2\n" * 67 + "1 x\n}",
        "n_points: 68\n{\n" + "1 nan\n" * 68 + "}",
    ],
)
def test_bad_point_files_get_a_sentence(text: str) -> None:
    with pytest.raises(FormatError):
        from_pts(text, "x.pts")


def test_command_line_learns_and_converts(capsys: pytest.CaptureFixture[str], tmp_path: Path, landmark_file) -> None:  # type: ignore[no-untyped-def]
    def ok(*args: str) -> dict:
        assert main([*args, "--json"]) == 0
        return json.loads(capsys.readouterr().out)

    files = [landmark_file(marks_of(random_table(np.random.default_rng(k), 0.4)), f"{k}.json") for k in range(6)]
    out = str(tmp_path / "mine.json")
    body = ok("style-learn", *files, "--name", "mine", "--out", out)
    values = [measure(marks_of(random_table(np.random.default_rng(k), 0.4))).value("mouth_width_fw") for k in range(6)]
    assert body["readings"]["mouth_width_fw"]["mean"] == pytest.approx(np.mean(values))
    assert body["readings"]["mouth_width_fw"]["sd"] == pytest.approx(np.std(values, ddof=1))
    assert body["two_periods"] is False and style(out).name == "mine"
    plan = ok("plan", files[0], "--style", out, "--style-weight", "1", "--emphasis", "0")
    assert plan["plan"]["mouth_width_fw"] == pytest.approx(np.mean(values), rel=1e-6)
    pairs = [f"{files[k]}:{files[(k + 1) % 6]}" for k in range(6)]
    hand = ok("hand-learn", *pairs)
    assert hand["pairs"] == 6 and hand["readings"]["nose_length_hh"]["push"] is not None
    assert ok("hand-learn", *pairs[:3])["readings"]["nose_length_hh"]["push"] is None
    pts = str(tmp_path / "f.pts")
    ok("landmarks", files[0], "--out", pts)
    converted = ok("landmarks", pts, "--out", str(tmp_path / "f.json"))
    assert "gonion_l" in converted["estimated"]
    rows = ok("measure", str(tmp_path / "f.json"))["readings"]
    assert rows["jaw_width_fw"]["state"] == "estimated" and rows["jaw_width_fw"]["z"] is None
    assert main(["hand-learn", files[0]]) == 2 and main(["landmarks", files[0], "--out", str(tmp_path / "x.txt")]) == 2
    assert main(["style-learn", files[0], "--name", "n", "--out", "/nowhere/x.json"]) == 2
    for name in ("", "  ", "\udcff", "x" * 81):
        capsys.readouterr()
        assert main(["style-learn", *files, "--name", name, "--out", out]) == 2
        assert "called something" in capsys.readouterr().err
    for args in (["style-learn", *files, "--name", "m", "--out", out], ["hand-learn", *pairs]):
        capsys.readouterr()
        assert main(args) == 0 and "mouth_width_fw" in capsys.readouterr().out
