"""The artist's own hand from a project's pairs, habits against a style, studies as styles, style files."""

from __future__ import annotations

import json

import pytest

from orthomet.core.datafiles import parse
from orthomet.core.hands import hand_of, pairs_of
from orthomet.core.kinds import forward
from orthomet.core.landmarks.points import State
from orthomet.core.project.edits import add_study, change_drawing, leave_out, place, remove_study, set_study
from orthomet.core.project.model import Study
from orthomet.core.proportions.norms import norm
from orthomet.core.proportions.registry import front_registry
from orthomet.core.studies import learned, measured_sample, study_of_style, style_file, style_of_study, two_periods_in
from orthomet.core.styles.habits import habits_to_change, push_words
from orthomet.core.styles.hand import FEWEST_FOR_PUSH, Hand, HandRow
from orthomet.core.styles.library import Style, StyleRow, is_style_file, style
from orthomet.demo.cast import HABITS, LAMP_ROOM, STEADY_KEYS
from orthomet.demo.project import demo_project

REG, NORM = front_registry(), norm()


def test_the_demos_hand_is_learned_from_its_studies() -> None:
    """Five studies were painted with known habits: each is found, with its own sign and about its own size."""
    p = demo_project().project
    pairs = pairs_of(leave_out("berta-portrait:berta-rough", True)(p))
    assert [x.counts for x in pairs] == [False] + [True] * 5 and all(not x.trouble for x in pairs)
    hand = hand_of(pairs)
    assert hand is not None and hand.pairs == 5
    for key, habit in HABITS.items():
        if hand.readings[key].push is not None and key != "jaw_width_fw":
            sd = float(NORM.g_sd[REG.index[key]])
            assert hand.readings[key].habit == pytest.approx(habit, abs=max(0.6 * sd, 0.5 * abs(habit))), key
    assert sum(1 for r in hand.readings.values() if r.push is not None) >= 8


def test_a_pair_says_why_it_does_not_count() -> None:
    p = demo_project().project
    lorn = p.character("lorn")
    assert lorn is not None
    first = lorn.drawings[0]
    none = change_drawing("lorn", first.id, marks=first.marks.model_copy(update={"points": {}}))(p)
    guess = change_drawing(
        "lorn", first.id, marks=first.marks.model_copy(update={"states": dict.fromkeys(first.marks.points, State.ESTIMATED)})
    )(p)
    for project, words in ((none, "no points"), (guess, "estimated")):
        pair = next(x for x in pairs_of(project) if x.drawing.id == first.id)
        assert not pair.counts and words in pair.trouble
    assert hand_of(()) is None
    four = pairs_of(p)[: FEWEST_FOR_PUSH - 1]
    few = hand_of(four)
    assert few is not None and all(r.push is None for r in few.readings.values())


def test_habits_to_change_lead_from_the_hand_to_the_style() -> None:
    i, j = REG.index["eye_width_fw"], REG.index["mouth_station"]
    hand = Hand(6, {
        "eye_width_fw": HandRow(2.0 * float(NORM.g_sd[i]), 1.0, 6, 0.0), "mouth_station": HandRow(0.0, 1.0, 6, 0.0),
        "eyes_across": HandRow(0.5, 1.0, 6, 0.0),
    })  # fmt: skip
    asked = Style(name="s", title="S", readings={
        "eye_width_fw": StyleRow(mean=float(NORM.mean[i])), "mouth_station": StyleRow(mean=float(NORM.mean[j] + 4 * NORM.sd[j])),
        "eyes_across": StyleRow(mean=4.0),
    })  # fmt: skip
    first, second = habits_to_change(hand, asked, NORM, REG)
    assert (first.reading, second.reading) == ("mouth_station", "eye_width_fw")  # what follows from others is not told
    far = (float(forward(REG["mouth_station"].kind, asked.readings["mouth_station"].mean)) - NORM.g_mean[j]) / NORM.g_sd[j]
    assert far > 4 and first.spreads == pytest.approx(-far) and second.spreads == pytest.approx(2, abs=1e-6)
    assert float(forward(REG["eye_width_fw"].kind, second.hand)) == pytest.approx(
        float(NORM.g_mean[i]) + hand.readings["eye_width_fw"].habit
    )
    assert habits_to_change(hand, Style(name="n", title="N", readings={}), NORM, REG) == []
    assert len(habits_to_change(hand, asked, NORM, REG, most=1)) == 1
    said = [push_words(HandRow(0.0, v, 6, 0.1, e)) for v, e in ((None, None), (0.1, 0.2), (1.0, 0.2), (2.0, 0.2), (2.0, 0.9))]
    assert said == ["", "ignores them", "follows them", "overstates them", ""]


def test_the_sketchbook_is_learned_with_its_signature_and_one_period() -> None:
    study = demo_project().project.studies[0]
    s = style_of_study(study)
    for key in STEADY_KEYS:
        row = s.readings[key]
        assert row.n == 8 and row.signature, key
        assert row.mean == pytest.approx(LAMP_ROOM[key], rel=0.03)
    assert not two_periods_in(study) and style_of_study(study) is s
    twice = Study(id="two", title="Two", samples=(
        *study.samples, *(d.model_copy(update={"id": f"x{d.id}", "marks": place(d.marks, {
            n: (x, y + 60) for n, (x, y) in d.marks.points.items() if n.startswith(("stomion", "cheilion", "labiale", "alare", "subnasale", "pronasale"))
        })}) for d in study.samples),
    ))  # fmt: skip
    assert two_periods_in(twice)


def test_what_is_set_by_hand_stands_above_the_samples_and_can_be_let_go() -> None:
    p = demo_project().project
    sid = p.studies[0].id
    q = set_study(sid, rows={"eye_gap_ew": StyleRow(mean=1.4)})(p)
    assert style_of_study(q.studies[0]).readings["eye_gap_ew"].mean == 1.4
    back = set_study(sid, rows={})(q)
    assert style_of_study(back.studies[0]).readings["eye_gap_ew"].mean == pytest.approx(LAMP_ROOM["eye_gap_ew"], rel=0.06)
    empty = Study(id="e", title="Empty")
    assert style_of_study(empty).readings == {} and learned(empty) == [] and not two_periods_in(empty)
    assert (
        measured_sample(
            p.studies[0]
            .samples[0]
            .model_copy(update={"marks": p.characters[0].drawings[0].marks.model_copy(update={"points": {}})})
        )
        is None
    )


def test_styles_travel_as_files(tmp_path) -> None:  # type: ignore[no-untyped-def]
    study = demo_project().project.studies[0]
    path = tmp_path / "lamp.json"
    path.write_text(style_file(style_of_study(study)))
    again = style(str(path))
    assert again.name == "lamp-room-sketchbook" and is_style_file(path)
    assert again.readings == style_of_study(study).readings
    copy = study_of_style("copy", again)
    assert style_of_study(copy).readings == again.readings and copy.title == study.title
    (tmp_path / "marks.json").write_text(json.dumps({"view": "front", "points": {}}))
    assert not is_style_file(tmp_path / "marks.json") and not is_style_file(tmp_path / "gone.json")
    odd = study_of_style("odd", parse(Style, json.dumps({"name": "x", "title": "  ", "readings": {}}), "x"))
    assert odd.title == "Style"


def test_a_style_taken_out_frees_who_was_drawn_toward_it() -> None:
    from orthomet.core.project.edits import decide

    p = demo_project().project
    p = add_study(Study(id="gone", title="Gone"))(p)
    p = decide("wick", style="study:gone", norm="style:study:gone")(p)
    q = remove_study("gone")(p)
    wick = q.character("wick")
    assert wick is not None and wick.decisions.style != "study:gone" and wick.decisions.norm == "adult"
    assert q.characters[0].decisions == p.characters[0].decisions
