"""The demo: complete, quick to write, and its drawing's two known faults are found."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.check.check import check
from orthomet.core.head.points import plan_points
from orthomet.core.imaging.load import load
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.proportions.measure import measure
from orthomet.core.resolve import plan_of_character
from orthomet.demo.cast import BERTA, LORN, WICK, face


def test_painted_landmarks_are_the_sitters_own() -> None:
    from orthomet.demo.project import demo_project

    s = demo_project()
    assert s.project.title == "The Night Ferry at Quillmere"
    for c, table in zip(s.project.characters[:3], (BERTA, LORN, WICK), strict=True):
        ref = c.reference
        assert ref is not None and ref.credit
        m = measure(ref.marks.landmarks())
        for key, v in table.items():
            r = m.registry[key]
            assert m.value(key) == pytest.approx(v, abs=1e-3 if r.angle else 2e-4), (c.name, key)
        picture = load(s.pictures[ref.image.hash])
        assert picture.size == ref.image.size and picture.pixels[..., :3].std() > 25
        assert set(FRONT.essential) <= set(ref.marks.points)


def test_eyes_are_dark_where_the_landmarks_say() -> None:
    """The picture itself agrees with its landmarks: the pupil is darker than the white and the cheek."""
    from orthomet.demo.project import demo_project

    s = demo_project()
    for c in s.project.characters[:3]:
        ref = c.reference
        assert ref is not None
        grey = load(s.pictures[ref.image.hash]).pixels[..., :3].mean(2)

        def tone(xy: tuple[float, float], g: np.ndarray = grey) -> float:
            x, y = round(xy[0]), round(xy[1])
            return float(g[y - 2 : y + 3, x - 2 : x + 3].mean())

        p = ref.marks.points
        for side in "lr":
            pupil = tone(p[f"pupil_{side}"])
            cheek = tone((p[f"exocanthion_{side}"][0], p["subnasale"][1]))
            assert pupil < 70 < cheek


def test_the_drawings_two_faults_are_found() -> None:
    from orthomet.demo.project import demo_project

    c = demo_project().project.characters[0]
    found = check(c.drawings[0].marks.landmarks(), plan_of_character(c).points)
    by = {f.reading: f for f in found.findings}
    assert set(by) == {"mouth_station", "eye_width_l_fw"}
    assert by["mouth_station"].difference_hh == pytest.approx(0.04, abs=0.002)
    plan = plan_of_character(c).table
    assert by["eye_width_l_fw"].difference_hh == pytest.approx(0.2 * plan["eye_width_fw"] * plan["face_width_hh"], abs=0.002)


def test_cast_tables_are_checked() -> None:
    with pytest.raises(KeyError):
        face(eye_width=0.2)
    assert np.isfinite(plan_points(face(eye_gap_ew=0.9))[FRONT.index["vertex"]]).all()
