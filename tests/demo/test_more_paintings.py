"""The demo's other pictures: what is painted lies where its landmarks say, and its hands do what they are said to do."""

from __future__ import annotations

import json

import numpy as np
import pytest

from orthomet.core.head.points import plan_points
from orthomet.core.imaging.load import load
from orthomet.core.landmarks.points import Landmarks
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.proportions.measure import measure
from orthomet.core.proportions.norms import norm
from orthomet.core.proportions.registry import front_registry
from orthomet.core.references import measure_reference
from orthomet.demo.cast import HABITS, KLINKER_SPANS, LAMP_ROOM, LORN, STEADY_KEYS, STUDIES, WICK, sketchbook_faces, study_face
from orthomet.demo.painting.creature import SPANS
from orthomet.demo.painting.drawing import PAGE, SMALL, pencil_face
from orthomet.demo.painting.figure import LONG, clerk_points
from orthomet.demo.painting.paint import OUT
from orthomet.demo.painting.profile import pilot_points
from orthomet.demo.project import demo_project


def shipped(name: str) -> tuple[np.ndarray, dict[str, tuple[float, float]]]:
    picture = load((OUT / f"{name}.jpg").read_bytes()).pixels[..., :3].astype(float)
    return picture, {n: tuple(xy) for n, xy in json.loads((OUT / f"{name}.json").read_text())["points"].items()}


def tone(picture: np.ndarray, x: float, y: float, r: int = 4) -> np.ndarray:
    return picture[round(y) - r : round(y) + r + 1, round(x) - r : round(x) + r + 1].mean((0, 1))


def test_the_profile_lies_on_its_contour() -> None:
    """A little behind each point of the face there is skin, a little ahead of it the ground."""
    picture, points = shipped("berta-profile")
    for name in ("glabella", "pronasale", "labiale_superius", "pogonion"):
        x, y = points[name]
        skin, ground = tone(picture, x - 16, y), tone(picture, x + 22, y)
        assert skin[0] > skin[2] + 20, name  # skin is warm
        assert ground[0] < ground[2] + 15, name  # the ground is cool
    assert points["pronasale"][0] == max(x for x, _ in points.values())
    assert len(pilot_points()) == len(points)


def test_the_figure_stands_as_tall_as_it_is_measured() -> None:
    picture, points = shipped("lorn-figure")
    lorn = demo_project().project.character("lorn")
    assert lorn is not None
    m = measure_reference(lorn.references[1])
    assert m.value("heads_tall") == pytest.approx(LONG, abs=0.01) and np.isfinite(clerk_points()).all()
    for side in "lr":
        inner, outer = points[f"thigh_inner_{side}"], points[f"thigh_outer_{side}"]
        middle = ((inner[0] + outer[0]) / 2, (inner[1] + outer[1]) / 2)
        assert tone(picture, *middle).mean() < 110  # dark cloth between the two edges
        beside = outer[0] + (14 if side == "l" else -14)
        assert tone(picture, beside, outer[1], 2).mean() > 115  # and the light wall beyond
    top, floor = points["vertex"][1], points["floor"][1]
    assert 0 < top < floor < picture.shape[0]


def test_the_creature_is_measured_in_eyes() -> None:
    klinker = demo_project().project.character("klinker")
    assert klinker is not None and {s.id for s in KLINKER_SPANS} == set(SPANS)
    m = measure_reference(klinker.references[0], klinker.spans)

    def length(key: str) -> float:
        return float(np.linalg.norm(np.subtract(*SPANS[key])))

    for span in KLINKER_SPANS:
        by = span.by.removeprefix("own:")
        assert m.value(span.key) == pytest.approx(length(span.id) / length(by), rel=1e-4), span.name
    picture, points = shipped("klinker")
    a, b = points["own_eye_a"], points["own_eye_b"]
    assert tone(picture, (a[0] + b[0]) / 2 - 50, (a[1] + b[1]) / 2)[0] > 180  # it glows


def test_the_sketchbook_is_steady_where_it_is_said_to_be() -> None:
    faces = sketchbook_faces(60, seed=5)
    for key, v in LAMP_ROOM.items():
        drawn = np.array([f[key] for f in faces])
        assert abs(drawn.mean() - v) < 0.03 * v
        loose = drawn.std() / (1.0 if key.endswith("_station") else v)
        assert loose < (0.016 if key in STEADY_KEYS else 0.09), key
    assert sketchbook_faces() == sketchbook_faces()
    for k, table in enumerate(sketchbook_faces(), 1):
        read = measure(Landmarks("front", shipped(f"sketch-{k}")[1]))
        assert read.value("eye_width_fw") == pytest.approx(table["eye_width_fw"], rel=2e-3)


def test_studies_add_the_habits_and_soften_the_subject() -> None:
    reg, n = front_registry(), norm()
    for sitter in (LORN, WICK):
        many = [study_face(sitter, seed) for seed in range(80)]
        for key in HABITS:
            i = reg.index[key]
            g = np.log([t[key] for t in many]) - n.g_mean[i]
            own = float(np.log(sitter[key]) - n.g_mean[i])
            assert g.mean() == pytest.approx(HABITS[key] + 0.6 * own, abs=0.05), key
    for who, seed in STUDIES:
        points = shipped(f"study-{who}-{seed}")[1]
        assert set(points) <= set(FRONT.index) and len(points) > 50


@pytest.mark.parametrize("turn", [-2.0, 0.0, 2.0])
def test_a_pencil_face_is_turned_with_its_sheet(turn: float) -> None:
    table = sketchbook_faces(1)[0]
    picture, truth = pencil_face(table, plan_points(table), 3, SMALL, turn, hair=False)
    assert picture.shape == (SMALL[1], SMALL[0], 3) and SMALL[2] == PAGE[2] / 2
    dx, dy = np.subtract(truth["gnathion"], truth["vertex"])
    assert np.degrees(np.arctan2(-dx, dy)) == pytest.approx(turn, abs=0.05) or np.degrees(np.arctan2(dx, dy)) == pytest.approx(
        turn, abs=0.05
    )
    grey = picture.astype(float).mean(2)
    x, y = truth["stomion"]
    assert grey[round(y) - 4 : round(y) + 5, round(x) - 4 : round(x) + 5].min() < np.median(grey) - 40
    assert measure(Landmarks("front", truth)).value("nose_length_hh") == pytest.approx(table["nose_length_hh"], rel=1e-6)
