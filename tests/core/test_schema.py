"""The front schema and levelling: names, partners, order, and what stands in when points are missing."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.errors import FormatError, LandmarkError
from orthomet.core.landmarks.files import landmarks_from_text, landmarks_to_text
from orthomet.core.landmarks.level import LevelBy, levelled, roll_of
from orthomet.core.landmarks.points import Landmarks, State, problem
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.proportions.measure import measure
from orthomet.core.resolve import complete, face_as_plan, find_character, split_project_name
from orthomet.demo.project import demo_project
from tests.faces import marks_of, moved


def test_the_schema_is_the_trades_own() -> None:
    mid = [
        "vertex",
        "hair_top",
        "trichion",
        "glabella",
        "nasion",
        "pronasale",
        "subnasale",
        "labiale_superius",
        "stomion",
        "labiale_inferius",
        "sublabiale",
        "gnathion",
    ]
    pairs = [
        "endocanthion",
        "exocanthion",
        "palpebrale_superius",
        "palpebrale_inferius",
        "lid_crease",
        "pupil",
        "iris_medial",
        "iris_lateral",
        "brow_inner",
        "brow_peak",
        "brow_outer",
        "brow_lower_peak",
        "alare",
        "cheilion",
        "zygion",
        "euryon",
        "frontotemporale",
        "gonion",
        "chin_side",
        "superaurale",
        "subaurale",
        "neck_side",
        "hair_side",
    ]
    assert set(mid) | {f"{p}_{s}" for p in pairs for s in "lr"} <= set(FRONT.names)
    essential = ["vertex", "trichion", "subnasale", "stomion", "gnathion"]
    essential += [
        f"{p}_{s}" for p in ["endocanthion", "exocanthion", "brow_peak", "alare", "cheilion", "zygion", "gonion"] for s in "lr"
    ]
    assert set(FRONT.essential) == set(essential)
    assert FRONT.names[: len(essential)] == FRONT.essential  # placed first
    assert all(FRONT.mirror[FRONT.mirror[i]] == i for i in range(len(FRONT.names)))
    assert len({m.words for m in FRONT.landmarks}) == len(FRONT.landmarks)
    assert FRONT["alare_l"].partner == "alare_r" and FRONT["vertex"].partner == "vertex" and FRONT["alare_l"].side == "l"


@pytest.mark.parametrize("roll", [-0.5, -0.1, 0.0, 0.3])
def test_roll_is_read_from_either_line_or_the_other(roll: float) -> None:
    xy = marks_of(roll=roll).array()
    assert roll_of(xy) == pytest.approx(roll) and roll_of(xy, LevelBy.EYES) == pytest.approx(roll)
    no_midline = xy.copy()
    no_midline[[FRONT.index[n] for n in FRONT.names if FRONT[n].side == ""]] = np.nan
    assert roll_of(no_midline) == pytest.approx(roll)
    no_eyes = xy.copy()
    no_eyes[[FRONT.index[n] for n in FRONT.names if "canthion" in n]] = np.nan
    assert roll_of(no_eyes, LevelBy.EYES) == pytest.approx(roll)
    assert roll_of(np.full_like(xy, np.nan)) == 0
    flat = levelled(xy)
    assert flat[FRONT.index["vertex"], 0] == pytest.approx(flat[FRONT.index["gnathion"], 0])


def test_landmark_files_go_out_and_come_back() -> None:
    marks = Landmarks(
        "front", marks_of().points, {"vertex": State.ESTIMATED, "nasion": State.HIDDEN}, {"gnathion": 2.5}, (900, 700)
    )
    assert landmarks_from_text(landmarks_to_text(marks)) == marks
    lenient = landmarks_from_text('{"points": {"stomion": [1, 2], "nasion": null}, "made_by": "someone"}')
    assert set(lenient.points) == {"stomion"} and lenient.view == "front"
    for text in (
        "",
        "[]",
        "{}",
        '{"points": {"stomion": [1]}}',
        '{"points": {"stomion": "x"}}',
        '{"points": {}, "states": {"stomion": "sure"}}',
        '{"points": {}, "view": "side"}',
    ):
        with pytest.raises(FormatError):
            landmarks_from_text(text)
    for text in (
        '{"points": {"nose": [1, 2]}}',
        '{"points": {"stomion": [1, Infinity]}}',
        '{"points": {"stomion": [1, 2]}, "spread": {"stomion": -1}}',
    ):
        with pytest.raises(LandmarkError):
            landmarks_from_text(text)


def test_absent_by_design_is_not_measured_and_not_in_the_way() -> None:
    marks = marks_of()
    gone = Landmarks("front", marks.points, {"subnasale": State.ABSENT, "nasion": State.ABSENT})
    m = measure(gone)
    assert m.value("nose_length_hh") is None and m.value("mouth_station") is not None
    assert gone.state("subnasale") is State.ABSENT and gone.state("nowhere") is None
    on_top = moved(marks, alare_l=marks.points["alare_r"])
    assert problem(on_top)
    assert problem(Landmarks("front", on_top.points, {"alare_l": State.ABSENT})) is None


def test_a_face_stands_for_its_own_plan() -> None:
    marks = marks_of(roll=0.2)
    f = face_as_plan(marks)
    top, chin = f.points[FRONT.index["vertex"]], f.points[FRONT.index["gnathion"]]
    assert top[1] == pytest.approx(0) and chin[1] == pytest.approx(1) and abs(top[0]) < 1e-9
    few = Landmarks("front", {n: marks.points[n] for n in FRONT.essential})
    assert np.isnan(face_as_plan(few).points[FRONT.index["pupil_l"]]).all()
    whole = complete(face_as_plan(few)).points
    assert np.isfinite(whole[FRONT.index["pupil_l"]]).all()
    np.testing.assert_allclose(whole[FRONT.index["alare_l"]], face_as_plan(few).points[FRONT.index["alare_l"]])
    with pytest.raises(FormatError, match="crown and its chin"):
        face_as_plan(Landmarks("front", {"stomion": (1.0, 2.0)}))


def test_names_find_characters() -> None:
    s = demo_project()
    assert (
        find_character(s, "").id == "berta"
        and find_character(s, "Tackett").id == "lorn"
        and find_character(s, "wick").id == "wick"
    )
    assert split_project_name("a/b.orthomet:Berta Sprake") == ("a/b.orthomet", "Berta Sprake")
    assert split_project_name("plain.orthomet") == ("plain.orthomet", "")
