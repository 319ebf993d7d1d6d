"""Feature curves pass through their landmarks; scores at their corners; data files each say where they come from."""

from __future__ import annotations

import json
import re
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import orthomet
from orthomet.core.datafiles import parse
from orthomet.core.errors import FormatError, UnknownName
from orthomet.core.figure.silhouette import heads_tall, standing
from orthomet.core.head import features
from orthomet.core.head.construct import construction, feature_paths
from orthomet.core.head.outline import half_width, width_at
from orthomet.core.head.points import Asymmetry, plan_points
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.picture import moved
from orthomet.core.plan.scores import likeness, noticed_kept, style_score
from orthomet.core.proportions.measure import measure_array
from orthomet.core.proportions.norms import norm
from orthomet.core.proportions.registry import Registry, front_registry
from orthomet.core.styles.library import Style, style
from orthomet.demo.cast import face
from tests.faces import random_table

ROOT = Path(orthomet.__file__).parent


def at(points: np.ndarray, name: str) -> np.ndarray:
    return points[FRONT.index[name]]


@settings(max_examples=40, deadline=None)
@given(st.integers(0, 10_000))
def test_curves_go_through_their_landmarks(seed: int) -> None:
    t = random_table(np.random.default_rng(seed), 1.2)
    p = plan_points(t)
    e = features.eye(
        *(
            at(p, f"{n}_l")
            for n in (
                "endocanthion",
                "exocanthion",
                "palpebrale_superius",
                "palpebrale_inferius",
                "iris_medial",
                "iris_lateral",
                "lid_crease",
            )
        )
    )
    np.testing.assert_allclose(e.upper[0], at(p, "endocanthion_l"))
    np.testing.assert_allclose(e.upper[-1], at(p, "exocanthion_l"), atol=1e-9)
    middle = (at(p, "endocanthion_l")[1] + at(p, "exocanthion_l")[1]) / 2
    assert (
        middle - (e.upper[:, 1] - np.linspace(*(at(p, f"{n}_l")[1] - middle for n in ("endocanthion", "exocanthion")), 33))
    ).max() == pytest.approx(middle - at(p, "palpebrale_superius_l")[1], abs=1e-6)
    order = np.argsort(e.upper[:, 0])
    for x, y in e.iris:  # the lids hold the iris
        if e.upper[order, 0][0] <= x <= e.upper[order, 0][-1]:
            top, low = np.interp(x, e.upper[order, 0], e.upper[order, 1]), np.interp(x, e.lower[order, 0], e.lower[order, 1])
            assert top - 1e-9 <= y <= low + 1e-9
    m = features.mouth(*(at(p, n) for n in ("cheilion_r", "cheilion_l", "stomion", "labiale_superius", "labiale_inferius")))
    np.testing.assert_allclose(m.line[24], at(p, "stomion"), atol=1e-9)
    assert m.line[0, 0] == pytest.approx(at(p, "cheilion_r")[0]) and (m.upper[:, 1] <= m.line[:, 1] + 1e-9).all()
    n = features.nose(*(at(p, k) for k in ("alare_r", "alare_l", "subnasale", "pronasale", "nasion")))
    assert max(w[:, 0].max() for w in n.wings) == pytest.approx(at(p, "alare_l")[0], abs=1e-3)
    assert n.base[12, 1] == pytest.approx(at(p, "subnasale")[1])
    a = half_width(t)
    ear = features.ear(-1, t["ear_top_station"], t["ear_bottom_station"], a)
    assert (np.abs(ear.rim[:, 0]) >= width_at(a, ear.rim[:, 1]) - 0.006).all() and (ear.rim[:, 0] < 0).all()
    for side in features.neck(t["neck_width_hw"] * t["head_width_hh"] / 2, a):
        assert (np.diff(side[:, 1]) > 0).all()


def test_the_drawing_is_symmetrical_unless_chosen_otherwise() -> None:
    t = face()
    flip = np.array([-1, 1])
    paths = {p.name: p.points for p in feature_paths(plan_points(t))}
    np.testing.assert_allclose(np.sort(paths["upper lid l"] * flip, axis=0), np.sort(paths["upper lid r"], axis=0), atol=1e-12)
    uneven = plan_points(t, Asymmetry({"level_brow_peak_hh": 0.02, "centre_cheilion_hh": 0.01, "offset_subnasale_hh": -0.01}))
    m = dict(zip(front_registry().keys, measure_array(uneven), strict=True))
    assert m["level_brow_peak_hh"] == pytest.approx(0.02) and m["centre_cheilion_hh"] == pytest.approx(0.01)
    assert m["offset_subnasale_hh"] == pytest.approx(-0.01) and m["brow_station"] == pytest.approx(t["brow_station"])


def test_a_curve_passes_through_its_points_and_pictures_move_whole() -> None:
    pts = np.array([(0.0, 0.0), (1.0, 2.0), (3.0, 1.0), (4.0, 4.0)])
    c = features.curve_through(pts, 10)
    assert len(c) == 31
    np.testing.assert_allclose(c[::10], pts)
    pic = construction(face(), plan_points(face()))
    there = moved(pic, 100.0, 5.0, 7.0, "mm")
    assert there.box == pytest.approx(tuple(np.array(pic.box) * 100 + [5, 7, 0, 0]))
    np.testing.assert_allclose(there.paths()[0].points, pic.paths()[0].points * 100 + [5, 7])
    assert pic.without("features").layer("outline") is pic.layer("outline")
    with pytest.raises(StopIteration):
        pic.without("features").layer("features")


def test_scores_at_their_corners() -> None:
    a = np.array([2.0, -1.5, 0.1, np.nan])
    zero = np.zeros(4)
    assert likeness(a, np.nan_to_num(a), zero).score == pytest.approx(100)
    assert likeness(a, 1.5 * np.nan_to_num(a), zero).score > 99  # pushed is kept
    dropped = likeness(a, zero, zero)
    assert dropped.score < 5 and dropped.loss[0] > dropped.loss[1] > dropped.loss[2] and dropped.loss[3] == 0
    turned = likeness(a, -np.nan_to_num(a), zero)
    assert turned.score <= dropped.score
    assert likeness(np.full(4, np.nan), zero, zero).score == 0
    far = likeness(a, np.nan_to_num(a), np.full(4, 4.0))
    assert 60 < far.score < 90 and far.centre_loss == pytest.approx(100 - far.score)
    style_z = np.array([3.0, -2.0, 0.0, 1.0])
    assert style_score(zero, style_z) == 0 and style_score(style_z, style_z) == pytest.approx(100)
    assert style_score(style_z / 2, style_z) == pytest.approx(50, abs=3) and style_score(zero, zero) is None
    k = noticed_kept(np.array([3.0, -2.0, 1.0]), np.array([2.0, -2.5, -0.5]), [0, 1, 2])
    assert (k.of, k.direction, k.rank) == (3, 2, 1)


def test_every_data_file_names_its_source() -> None:
    files = sorted(ROOT.glob("core/**/*.json"))
    assert len(files) >= 9
    for path in files:
        body = json.loads(path.read_text(encoding="utf-8"))
        assert body.get("source"), path.name
        for row in body.get("readings", {}).values():
            assert row.get("source") or "mean" in row, path.name


def test_broken_data_is_said_with_its_place(tmp_path: Path) -> None:
    with pytest.raises(FormatError, match="not a reading"):
        parse(Style, json.dumps({"name": "x", "title": "X", "readings": {"nose": {"mean": 1}}}), "x.json")
    with pytest.raises(FormatError, match=r"readings\.nose_width_fw\.mean"):
        parse(Style, json.dumps({"name": "x", "title": "X", "readings": {"nose_width_fw": {"mean": "wide"}}}), "x.json")
    with pytest.raises(FormatError):
        style(str(tmp_path / "gone.json"))
    (tmp_path / "binary.json").write_bytes(b"\xff\xfe\x00")
    with pytest.raises(FormatError):
        style(str(tmp_path / "binary.json"))
    with pytest.raises(UnknownName, match="no style named"):
        style("nobody")
    with pytest.raises(UnknownName):
        norm("martian")


def test_own_spans_join_the_registry_as_equals() -> None:
    """The artist's own span is one more reading: measured with the rest, found by key."""
    from dataclasses import replace

    reg = front_registry()
    own = replace(
        reg["nose_width_fw"],
        key="wing_by_mouth",
        label="Wing by mouth",
        quotients=((reg["nose_width_fw"].over, reg["mouth_width_fw"].over),),
    )
    wider = reg.plus([own])
    assert isinstance(wider, Registry) and wider["wing_by_mouth"].label == "Wing by mouth"
    v = measure_array(plan_points(face()), wider)
    assert v[-1] == pytest.approx(1 / 1.572, rel=0.01) and len(v) == len(reg.readings) + 1
    np.testing.assert_allclose(v[:-1], measure_array(plan_points(face()), reg), equal_nan=True)
    with pytest.raises(UnknownName):
        reg["wing_by_mouth"]


def test_silhouettes_stand_at_true_height_with_the_head_of_their_age() -> None:
    """Heads tall by age: growth references for height and head circumference, from memory."""
    assert heads_tall(40) == 7.6 and heads_tall(0) == 4 and heads_tall(5) == 5.1 and heads_tall(10) == 6.3
    for height, age in ((1.9, 38), (1.36, 10), (0.5, 0)):
        s = standing(height, age)
        assert np.ptp(s[:, 1]) == pytest.approx(height, rel=1e-6) and s[:, 1].min() == 0
        assert s[:, 0].max() == pytest.approx(-s[:, 0].min())


def test_no_host_is_named_and_requirements_are_pinned_with_hashes() -> None:
    top = ROOT.parent
    for name in ("run", "dev"):
        text = (top / "requirements" / f"{name}.txt").read_text()
        assert "://" not in text and "--index" not in text
        pins = re.findall(r"^([A-Za-z0-9_.-]+)==", text, re.M)
        assert "numpy" in map(str.lower, pins) and text.count("--hash=sha256:") >= len(pins)
        assert re.search(r"(?i)^pyside6-essentials==6\.11\.3", text, re.M)
