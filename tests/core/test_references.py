"""Pages made flat, several photographs taken together, what is worn, and the table that leaves the program."""

from __future__ import annotations

import csv
import io

import cv2
import numpy as np
import pytest
from skimage.transform import ProjectiveTransform

from orthomet.core.check.check import check
from orthomet.core.errors import OrthometError, PictureError
from orthomet.core.export.table import COLUMNS, readings_csv
from orthomet.core.head.points import plan_points
from orthomet.core.imaging.rectify import apply, convex, find_marks, homography, to_page
from orthomet.core.landmarks.own import own
from orthomet.core.landmarks.points import Landmarks
from orthomet.core.landmarks.turn import Turn
from orthomet.core.project.model import Character, Drawing, Image, Marks, Project, Reference, Sheet
from orthomet.core.proportions.measure import measure
from orthomet.core.proportions.norms import norm, norm_over
from orthomet.core.references import flat, groups, head_mm, measure_reference, on_page, pool, trusted
from orthomet.core.resolve import norm_for
from orthomet.demo.cast import face
from tests.faces import marks_of

IMAGE = Image(hash="0" * 64, suffix="png", size=(1600, 1300))


def reference(rid: str, table: dict[str, float] | None = None, **more: object) -> Reference:
    return Reference(id=rid, name=rid, image=IMAGE, marks=Marks(points=dict(marks_of(table).points)), **more)  # type: ignore[arg-type]


def skewed(
    points: dict[str, tuple[float, float]], mm: tuple[float, float] = (210.0, 297.0)
) -> tuple[dict[str, tuple[float, float]], Sheet]:
    """The same points on a page photographed aslant: 5 px a millimetre, then through a camera."""
    w, h = mm
    corners = ((130.0, 90.0), (1050.0, 160.0), (1130.0, 1420.0), (40.0, 1330.0))
    camera = cv2.getPerspectiveTransform(np.float32([[0, 0], [w, 0], [w, h], [0, h]]), np.float32(corners))
    xy = np.array([points[n] for n in points]) / 5
    seen = cv2.perspectiveTransform(xy[None].astype(np.float64), camera)[0]
    return {n: (float(x), float(y)) for n, (x, y) in zip(points, seen, strict=True)}, Sheet(corners=corners, mm=mm)


def test_homography_is_the_reference_librarys() -> None:
    """Against scikit-image's ProjectiveTransform, double precision, on random convex corners: within a millionth of the sheet."""
    rng = np.random.default_rng(1)
    for _ in range(40):
        a = np.array([[0, 0], [900, 0], [900, 1200], [0, 1200]]) + rng.uniform(-200, 200, (4, 2))
        b = np.array([[0, 0], [210, 0], [210, 297], [0, 297]], float)
        theirs = ProjectiveTransform()
        assert theirs.estimate(a, b)
        p = a.mean(0) + rng.uniform(-0.4, 0.4, (20, 2)) * [900, 1200]
        np.testing.assert_allclose(apply(homography(a, b), p), theirs(p), atol=3e-4)
        assert convex(a.tolist()) and not convex(a[[0, 2, 1, 3]].tolist()) and not convex(a[::-1].tolist())
    with pytest.raises(PictureError, match="one line"):
        homography(np.array([[0, 0], [1, 1], [2, 2], [0, 5]], float), b)
    with pytest.raises(PictureError, match="cross"):
        to_page(np.zeros((1, 2)), ((0, 0), (1, 1), (1, 0), (0, 1)), (210, 297))


def test_a_page_photographed_aslant_reads_as_if_it_lay_flat() -> None:
    marks = marks_of(face(nose_length_hh=0.27))
    seen, sheet = skewed(dict(marks.points))
    ref = Reference(id="r", name="r", image=IMAGE, marks=Marks(points=seen), sheet=sheet)
    straight, raw = measure_reference(ref), measure(Landmarks("front", seen))
    for key in ("nose_length_hh", "eye_width_fw", "face_width_hh", "mouth_station"):
        assert straight.value(key) == pytest.approx(measure(marks).value(key), abs=1e-6)
    assert abs(raw.value("mouth_station") - straight.value("mouth_station")) > 0.003
    hh = marks.points["gnathion"][1] - marks.points["vertex"][1]
    assert head_mm(ref) == pytest.approx(hh / 5, rel=1e-6) and head_mm(reference("x")) is None


def test_a_drawing_on_such_a_page_is_checked_flat_and_in_millimetres() -> None:
    plan = plan_points(face())
    lower = dict(marks_of().points)
    for n in ("stomion", "cheilion_l", "cheilion_r", "labiale_superius", "labiale_inferius", "sublabiale"):
        lower[n] = (lower[n][0], lower[n][1] + 32)
    seen, sheet = skewed(lower)
    page = on_page(Drawing(id="d", name="d", image=IMAGE, marks=Marks(points=seen), sheet=sheet))
    found = check(page.marks, plan, (), None, page.px_per_mm)
    (f,) = found.findings
    assert f.reading == "mouth_station" and f.difference_hh == pytest.approx(0.04, abs=2e-3)
    assert "(6.4 mm)" in f.say  # 32 px at 5 px a millimetre
    names = list(seen)
    back = apply(page.back, np.array([page.marks.points[n] for n in names]))
    np.testing.assert_allclose(back, np.array([seen[n] for n in names]), atol=1e-6)
    plain = on_page(Drawing(id="d", name="d", image=IMAGE, marks=Marks(points=seen)))
    assert plain.px_per_mm is None and plain.marks.points == seen and (plain.back == np.eye(3)).all()


def test_printed_corner_marks_are_found_on_a_photographed_page() -> None:
    page = np.full((1188, 840, 3), 250, np.uint8)
    for x, y, dx, dy in ((20, 20, 1, 1), (820, 20, -1, 1), (820, 1168, -1, -1), (20, 1168, 1, -1)):
        cv2.line(page, (x, y), (x + 32 * dx, y), (30, 30, 30), 2)
        cv2.line(page, (x, y), (x, y + 32 * dy), (30, 30, 30), 2)
    cv2.ellipse(page, (420, 600), (200, 280), 0, 0, 360, (60, 60, 60), 4)
    to = np.float32([[120, 90], [1010, 150], [1080, 1380], [60, 1300]])
    camera = cv2.getPerspectiveTransform(np.float32([[0, 0], [840, 0], [840, 1188], [0, 1188]]), to)
    photo = cv2.warpPerspective(page, camera, (1200, 1500), borderValue=(96, 84, 70))
    truth = cv2.perspectiveTransform(np.float64([[[20, 20], [820, 20], [820, 1168], [20, 1168]]]), camera)[0]
    np.testing.assert_allclose(np.array(find_marks(photo)), truth, atol=3)
    with pytest.raises(PictureError, match="by hand"):
        find_marks(np.full((400, 300, 3), 200, np.uint8))


def character(*refs: Reference, **more: object) -> Character:
    return Character(id="c", name="C", references=refs, pooled=True, **more)  # type: ignore[arg-type]


def test_photographs_are_pooled_and_what_changes_between_them_is_worn() -> None:
    """Three photographs of one face whose mouth opens and shuts: the mean is told, lips are worn, the skull is built."""
    faces = [face(lower_lip_hh=v, nose_width_fw=w) for v, w in ((0.025, 0.250), (0.050, 0.251), (0.100, 0.249))]
    p = pool(character(*(reference(f"r{k}", t) for k, t in enumerate(faces))))
    assert p is not None
    i = p.measured.registry.index["nose_width_fw"]
    assert p.measured.value("nose_width_fw") == pytest.approx(0.25, abs=1e-3) and p.count[i] == 3 and p.spread[i] < 0.01
    assert "lower_lip_hh" in p.worn and not {"nose_width_fw", "face_width_hh", "eye_station"} & set(p.worn)
    assert p.measured.value("lower_lip_hh") == pytest.approx(0.05, rel=1e-3)  # the mean of sizes is geometric
    assert pool(character()) is None and pool(character(reference("a")), "profile") is None


def test_a_reference_is_read_only_for_what_it_feeds() -> None:
    eyes, mouth = (
        reference("eyes", face(eye_width_fw=0.25), feeds=("Eyes",)),
        reference("mouth", face(mouth_width_fw=0.5), feeds=("Mouth",)),
    )
    p = pool(character(eyes, mouth))
    assert p is not None and p.measured.value("eye_width_fw") == pytest.approx(0.25)
    assert p.measured.value("mouth_width_fw") == pytest.approx(0.5) and p.measured.value("nose_width_fw") is None
    assert {"Eyes", "Nose", "Mouth"} <= set(groups()) and groups("sideways") == ()


def test_a_head_turned_far_says_what_can_still_be_trusted() -> None:
    ref = reference("r", turn=Turn(yaw=50, pitch=0, roll=0))
    m = measure_reference(ref)
    stands = trusted(m, norm())
    assert stands[m.registry.index["eye_station"]] and not stands.all()
    near = trusted(measure_reference(reference("s")), norm())
    assert near.sum() > stands.sum()


def test_the_cast_itself_can_be_the_norm() -> None:
    cast = tuple(
        Character(id=str(k), name=str(k), references=(reference(f"r{k}", face(eye_gap_ew=v)),))
        for k, v in enumerate((0.9, 1.0, 1.3))
    )
    reg = measure(marks_of()).registry
    n = norm_for("cast", reg, Project(characters=cast))
    assert n.mean[reg.index["eye_gap_ew"]] == pytest.approx(np.mean([0.9, 1.0, 1.3]), rel=0.02)
    with pytest.raises(OrthometError):
        norm_for("cast", reg, Project())


def test_the_table_holds_every_reading_and_no_formula() -> None:
    span = own("tail", "=SUM(A1)", "hh")
    marks = marks_of()
    marks = Landmarks("front", {**marks.points, "own_tail_a": (600, 900), "own_tail_b": (600, 1300)}, spans=(span,))
    m = measure(marks)
    rows = list(csv.DictReader(io.StringIO(readings_csv(m, norm_over("adult", m.registry)))))
    assert tuple(rows[0]) == COLUMNS and len(rows) == len(m.registry.readings)
    tail = rows[-1]
    assert tail["reading"] == "own_tail" and tail["label"] == "'=SUM(A1)" and float(tail["value"]) == pytest.approx(0.5)
    assert flat(Reference(id="a", name="a", image=IMAGE)).points == {}
