"""Profile, figure and the artist's own spans as members of the registry."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from orthomet.core.errors import FormatError, LandmarkError, OrthometError
from orthomet.core.landmarks.files import landmarks_from_text, landmarks_to_text, read_landmarks
from orthomet.core.landmarks.own import OwnSpan, own
from orthomet.core.landmarks.points import Landmarks, State, from_array
from orthomet.core.landmarks.seed import relay
from orthomet.core.landmarks.templates import lay, template
from orthomet.core.landmarks.views import FIGURE, PROFILE, SCHEMAS
from orthomet.core.proportions.measure import measure, side_by_side
from orthomet.core.proportions.norms import norm_over, z_scores
from orthomet.core.proportions.views import figure_registry, profile_registry, registry_of
from tests.faces import marks_of

VIEWS = ("profile", "figure")


def seen(view: str, scale: float = 300.0) -> Landmarks:
    s = SCHEMAS[view]
    return from_array(template(s) * scale + [900, 100], s)


@pytest.mark.parametrize("view", VIEWS)
def test_templates_measure_near_the_norm(view: str) -> None:
    """The seeds are an ordinary adult: no reading of theirs is unusual by the norm they were laid from."""
    m = measure(seen(view))
    z = z_scores(m.values, norm_over("adult", m.registry), m.registry)
    known = np.isfinite(z)
    assert known.sum() >= 15
    odd = {k: round(float(v), 2) for k, v, ok in zip(m.registry.keys, z, known, strict=True) if ok and abs(v) > 2}
    assert not odd


@pytest.mark.parametrize("view", VIEWS)
def test_every_landmark_of_a_view_is_measured_by_something(view: str) -> None:
    used = set().union(*(r.needs for r in registry_of(view).readings))
    unused = set(SCHEMAS[view].names) - used
    assert unused <= {"sublabiale", "knuckle_l", "knuckle_r"}  # drawn and seeded; no proportion of the trade rests on them


def test_a_profile_measures_the_same_whichever_way_it_looks() -> None:
    right = seen("profile")
    left = Landmarks("profile", {n: (2000 - x, y) for n, (x, y) in right.points.items()})
    a, b = measure(right).values, measure(left).values
    np.testing.assert_allclose(a, b, atol=1e-9)


def test_canons_are_read_off_a_figure() -> None:
    """Richer 1890 (published): 7½ heads. Common practice: upper arm longer than forearm, thigh longer than shin."""
    t = measure(seen("figure")).table
    assert t["heads_tall"] == pytest.approx(7.5)
    assert t["arm_balance"] > 1 and t["leg_balance"] > 1
    assert t["crotch_station_fig"] == pytest.approx(0.53, abs=0.01)


def test_limbs_keep_their_length_when_posed() -> None:
    marks = seen("figure")
    elbow = np.array(marks.points["radiale_l"])
    swing = np.array([[np.cos(1.1), np.sin(1.1)], [-np.sin(1.1), np.cos(1.1)]])
    posed = dict(marks.points)
    for n in ("stylion_l", "knuckle_l", "dactylion_l"):
        posed[n] = tuple((np.array(marks.points[n]) - elbow) @ swing + elbow)
    a, b = measure(marks).table, measure(Landmarks("figure", posed)).table
    assert a["forearm_hh"] == pytest.approx(b["forearm_hh"]) and a["hand_hh"] == pytest.approx(b["hand_hh"])


@pytest.mark.parametrize("turned", [1, -1])
def test_three_clicks_lay_a_profile_that_looks_their_way(turned: int) -> None:
    clicked = {"vertex": (500.0, 100.0), "gnathion": (500 + turned * 105.0, 400.0), "pronasale": (500 + turned * 150.0, 296.0)}
    points = lay("profile", clicked)
    assert set(points) == set(PROFILE.names)
    assert (points["opisthocranion"][0] - points["tragion"][0]) * turned < 0
    assert points["pronasale"] == clicked["pronasale"]


def test_a_short_figure_is_laid_on_its_own_floor() -> None:
    points = lay("figure", {"vertex": (300.0, 50.0), "gnathion": (300.0, 150.0), "floor": (310.0, 400.0)})
    m = measure(Landmarks("figure", points)).table
    assert m["heads_tall"] == pytest.approx(3.5)
    assert points["malleolus_l"][1] < 400 < points["toe_tip_l"][1] + 5
    assert points["perineum"][1] > points["acromion_l"][1]


def test_seeds_follow_the_mirror_partner() -> None:
    marks = seen("figure")
    states = {n: State.ESTIMATED for n in marks.points if n not in ("vertex", "gnathion", "floor", "acromion_r", "acromion_l")}
    points = {**marks.points, "radiale_l": (marks.points["radiale_l"][0] + 60, marks.points["radiale_l"][1])}
    states.pop("radiale_l")
    moved = relay(template(FIGURE), Landmarks("figure", points, states))
    assert moved["radiale_r"][0] < marks.points["radiale_r"][0] - 20


# ---- own spans


def bun_face() -> Landmarks:
    base = marks_of()
    points = {
        **base.points,
        "own_bun_a": (500.0, 80.0),
        "own_bun_b": (560.0, 160.0),
        "own_shell_a": (0.0, 0.0),
        "own_shell_b": (0.0, 50.0),
    }
    return Landmarks("front", points, spans=(own("bun", "Bun", "hw"), own("shell", "Shell", "own:bun")))


def test_own_spans_are_readings_like_any_other() -> None:
    marks = bun_face()
    m = measure(marks)
    width = marks.points["euryon_l"][0] - marks.points["euryon_r"][0]
    assert m.value("own_bun") == pytest.approx(100 / width)
    assert m.value("own_shell") == pytest.approx(0.5)
    assert m.registry["own_bun"].unit == "head widths" and m.registry["own_shell"].label == "Shell"
    assert len(m.registry.readings) == len(registry_of("front").readings) + 2
    plain = measure(Landmarks("front", {n: p for n, p in marks.points.items() if not n.startswith("own_")}))
    np.testing.assert_allclose(m.values[:-2], plain.values, atol=1e-12)


def test_a_span_may_run_between_landmarks() -> None:
    base = marks_of()
    span = OwnSpan(id="eyechin", name="Eye to chin", ends=("exocanthion_l", "gnathion"), by="hh")
    m = measure(Landmarks("front", base.points, spans=(span,)))
    d = np.subtract(base.points["exocanthion_l"], base.points["gnathion"])
    hh = base.points["gnathion"][1] - base.points["vertex"][1]
    assert m.value("own_eyechin") == pytest.approx(float(np.hypot(*d)) / hh)


def test_a_creature_without_a_face_is_measured_by_its_own_parts() -> None:
    points = {"own_belly_a": (0.0, 0.0), "own_belly_b": (0.0, 200.0), "own_eye_a": (10.0, 20.0), "own_eye_b": (60.0, 20.0)}
    marks = Landmarks("front", points, spans=(own("belly", "Belly", "hh"), own("eye", "Eye", "own:belly")))
    m = measure(marks)
    assert m.value("own_eye") == pytest.approx(0.25)
    assert m.value("own_belly") is None and m.state("own_belly") is None


def test_states_reach_own_spans() -> None:
    marks = bun_face()
    unsure = Landmarks("front", marks.points, {"own_bun_a": State.ESTIMATED}, spans=marks.spans)
    assert measure(unsure).state("own_bun") is State.ESTIMATED
    gone = Landmarks("front", marks.points, {"own_bun_a": State.ABSENT}, spans=marks.spans)
    assert measure(gone).value("own_bun") is None


def test_own_spans_travel_in_the_landmark_file(tmp_path: Path) -> None:
    path = tmp_path / "bun.json"
    path.write_text(landmarks_to_text(bun_face()))
    back = read_landmarks(path)
    assert back.spans == bun_face().spans
    assert measure(back).value("own_shell") == pytest.approx(0.5)


@pytest.mark.parametrize(
    "spans, words",
    [
        ([{"id": "a", "name": "A", "ends": ["vertex", "vertex"]}], "two different ends"),
        ([{"id": "a", "name": "A", "ends": ["vertex", "nowhere"]}], "no landmark of the front view"),
        ([{"id": "a", "name": "A", "ends": ["own_a_a", "own_a_b"], "by": "own:b"}], "not there"),
        ([{"id": "a", "name": "A", "ends": ["own_a_a", "own_a_b"], "by": "feet"}], "divided by"),
        ([{"id": "a", "name": "A", "ends": ["own_a_a", "own_a_b"]}] * 2, "share one id"),
        ([{"id": "../x", "name": "A", "ends": ["own_a_a", "own_a_b"]}], "pattern"),
        ([{"id": "a", "name": "A", "view": "figure", "ends": ["own_a_a", "own_a_b"], "by": "ew"}], "by the head"),
    ],
)
def test_bad_spans_are_refused_with_a_sentence(spans: list[dict[str, object]], words: str) -> None:
    text = json.dumps({"view": "front", "points": {"vertex": [0, 0], "gnathion": [0, 100]}, "spans": spans})
    with pytest.raises(OrthometError, match=words):
        landmarks_from_text(text)


def test_too_many_own_points_are_refused() -> None:
    points = {f"own_p{i}_a": [i, i * 2] for i in range(200)}
    with pytest.raises(LandmarkError, match="own points"):
        landmarks_from_text(json.dumps({"points": points}))


def test_views_are_not_mixed() -> None:
    with pytest.raises(FormatError, match="one view"):
        side_by_side([measure(seen("profile")), measure(marks_of())])
    reg, values = side_by_side([measure(bun_face()), measure(marks_of())])
    assert reg is registry_of("front") and values.shape == (2, len(reg.readings))


def test_registries_are_sound() -> None:
    for reg in (profile_registry(), figure_registry()):
        assert len(set(reg.keys)) == len(reg.keys)
        for r in reg.readings:
            assert r.needs <= set(reg.schema.names) and r.label and r.meaning
