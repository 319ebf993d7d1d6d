"""Construction, schools and pages: read back what was planned, measure what was written."""

from __future__ import annotations

import re
import xml.etree.ElementTree as ET

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.errors import FormatError, OrthometError, UnknownName
from orthomet.core.export.page import page
from orthomet.core.export.svg import to_svg
from orthomet.core.head.construct import construction, outline_path
from orthomet.core.head.outline import STATIONS, half_width, knots, width_at
from orthomet.core.head.points import plan_points
from orthomet.core.head.taper import taper
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.picture import Picture, Text, Trace
from orthomet.core.plan.decisions import Decisions
from orthomet.core.plan.plan import make_plan
from orthomet.core.plan.space import face_space
from orthomet.core.proportions.measure import measure, measure_array
from orthomet.core.styles.expression import evaluate
from orthomet.core.styles.library import style, styles
from orthomet.core.styles.schools import departures, school, schools, stations
from orthomet.demo.cast import face
from tests.faces import marks_of, random_table

SVG = "{http://www.w3.org/2000/svg}"


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.floats(0, 1), st.floats(0, 3))
def test_every_planned_reading_is_read_back(seed: int, s: float, e: float) -> None:
    t = random_table(np.random.default_rng(seed))
    p = make_plan(measure(marks_of(t)), Decisions(style="low-lantern", style_weight=s, emphasis_all=e))
    back = measure_array(p.points)[p.space.in_registry]
    np.testing.assert_allclose(back, p.traits, atol=2e-9)


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 10_000), st.floats(0, 1))
def test_outline_is_exact_smooth_and_holds_the_features(seed: int, s: float) -> None:
    t = random_table(np.random.default_rng(seed))
    p = make_plan(measure(marks_of(t)), Decisions(style="quillmere-picture-book", style_weight=s))
    a, k = half_width(p.table), knots(p.table)
    np.testing.assert_allclose(width_at(a, np.array(k.stations)), k.half, atol=1e-4)
    assert (a[1:-1] > 0).all() and a[0] == a[-1] == 0
    assert np.abs(np.diff(a, 2)).max() < 0.02
    assert not _crosses_itself(outline_path(a))
    for name in ("exocanthion_l", "alare_l", "cheilion_l"):
        x, y = p.points[FRONT.index[name]]
        assert x < float(width_at(a, y)) + 0.005, name


def _crosses_itself(path: np.ndarray) -> bool:
    """An outline given by half widths over rising stations cannot cross itself unless a station turns back."""
    left = path[: len(STATIONS)]
    return bool((np.diff(left[:, 1]) < 0).any() or (left[:, 0] < -1e-12).any())


@pytest.mark.parametrize("name", sorted(styles()))
def test_taper_stays_inside_the_drawn_outline(name: str) -> None:
    table = face(**{k: v.mean for k, v in style(name).readings.items() if k in face_space().index})
    a = half_width(table)
    t = np.linspace(0.1, 0.95, 60)
    skull = table["head_width_hh"] / table["face_width_hh"]
    w = np.array([taper(float(x), knots(table).stations, skull, table["jaw_width_fw"], table["chin_width_fw"]) for x in t])
    assert (w <= 2 * width_at(a, t) / table["face_width_hh"] + 0.01).all()


def test_schools_own_arithmetic() -> None:
    """Domain section 4. Halves and the circle (common practice); thirds after Vitruvius, De architectura III.1."""
    assert stations(school("halves")) == pytest.approx({"eye_station": 0.5, "nose_base_station": 0.75, "mouth_station": 0.875})
    thirds = stations(school("equal-thirds"))
    assert thirds["hairline_station"] == pytest.approx(0.20)
    assert thirds["brow_station"] == pytest.approx(0.20 + 0.8 / 3)
    assert thirds["nose_base_station"] == pytest.approx(0.20 + 1.6 / 3)
    assert thirds["mouth_station"] == pytest.approx(thirds["nose_base_station"] + 0.8 / 9)
    assert thirds["eye_station"] == pytest.approx(0.54, abs=0.001)
    for d in (0.67, 0.75, 0.80):
        cross = stations(school("circle-and-cross"), settings={"D": d})
        assert cross["nose_base_station"] == pytest.approx(d)
        assert cross["mouth_station"] == pytest.approx((1 + d) / 2)
        assert cross["brow_station"] <= d / 2 <= cross["eye_station"]
    with pytest.raises(OrthometError, match="outside"):
        stations(school("halves"), settings={"nose": 0.9})
    with pytest.raises(UnknownName, match="Known"):
        school("nobody")


def test_every_step_of_every_school_draws_lines() -> None:
    t = face()
    for s in schools().values():
        picture = construction(t, plan_points(t), s)
        layers = [ly for ly in picture.layers if ly.id.startswith(s.name)]
        assert len(layers) == len(s.steps)
        assert all(any(isinstance(i, Trace) for i in ly.items) for ly in layers)
        assert s.source and all(st_.say for st_ in s.steps)
    d = {x.reading: x.heads for x in departures(school("halves"), t)}
    assert d["nose_base_station"] == pytest.approx(0.75 - 0.695)


@pytest.mark.parametrize(
    "text", ["__import__('os')", "D**9", "a", "1/0", "(1", "D if 1 else 2", "9" * 300, "f(1)", "'x'", "True"]
)
def test_expressions_refuse_everything_but_arithmetic(text: str) -> None:
    with pytest.raises(FormatError):
        evaluate(text, {"D": 0.75})


def test_expressions_work_out() -> None:
    assert evaluate("-(1 + D) / 2 + min(D, 2) * 0.5", {"D": 0.75}) == pytest.approx(-0.5)
    assert evaluate(0.3, {}) == 0.3


def _page(head: float = 120, paper: str = "fit") -> Picture:
    t = face()
    return page(construction(t, plan_points(t), school("halves")), head, paper)


def test_svg_is_true_size_and_parses_back() -> None:
    """The exported SVG, read back and measured: one head is as tall as stated, the eye line where Halves lays it."""
    root = ET.fromstring(to_svg(_page(150)))
    box = [float(v) for v in root.attrib["viewBox"].split()]
    assert float(root.attrib["width"].removesuffix("mm")) == pytest.approx(box[2], rel=1e-3)
    groups = root.findall(f"{SVG}g")
    assert all(g.find(f"{SVG}title") is not None for g in groups)
    ids = [g.attrib["id"] for g in groups]
    assert len(set(ids)) == len(ids) and {"outline", "features", "plan-lines", "halves-2"} <= set(ids)
    by_id = dict(zip(ids, groups, strict=True))
    outline = _points(by_id["outline"].find(f"{SVG}path"))
    crown, chin = outline[:, 1].min(), outline[:, 1].max()
    assert chin - crown == pytest.approx(150, abs=0.01)
    eye = _points(by_id["halves-2"].find(f"{SVG}path"))
    assert (eye[:, 1] - crown) / (chin - crown) == pytest.approx(0.5, abs=1e-4)
    assert np.ptp(outline[:, 0]) == pytest.approx(0.655 * 150, abs=0.05)


def _points(path: ET.Element | None) -> np.ndarray:
    assert path is not None
    return np.array([[float(v) for v in p.split()] for p in re.split("[MLZ]", path.attrib["d"]) if p.strip()])


def test_pages_refuse_what_cannot_print() -> None:
    with pytest.raises(OrthometError, match="does not fit"):
        _page(400, "A5")
    with pytest.raises(OrthometError, match="mm tall"):
        _page(float("nan"))
    with pytest.raises(OrthometError, match="paper"):
        _page(100, "Letterbox")
    t = face()
    with pytest.raises(FormatError, match="millimetres"):
        to_svg(construction(t, plan_points(t)))
    words = [i.words for ly in _page(100, "A4").layers for i in ly.items if isinstance(i, Text)]
    assert any("100 mm" in w for w in words)
