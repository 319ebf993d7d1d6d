"""Face shape classes, the old canons read off a face, and norms by age against published growth."""

from __future__ import annotations

import numpy as np
import pytest

from orthomet.core.errors import FormatError, UnknownName
from orthomet.core.proportions.growth import heads_tall
from orthomet.core.proportions.norms import norm, norm_over
from orthomet.core.proportions.registry import front_registry
from orthomet.core.proportions.shape import AXES, CLASSES, canons, face_class
from orthomet.core.proportions.views import figure_registry
from orthomet.core.proportions.youth import youth_of_age


@pytest.mark.parametrize("name", list(CLASSES))
def test_each_class_is_named_where_it_stands_and_between_two_both_are(name: str) -> None:
    table = dict(zip(AXES, CLASSES[name], strict=True))
    assert face_class(table) == (name,)
    assert face_class({k: v for k, v in table.items() if k != "temple_width_fw"})[0] == name or name in (
        "heart",
        "diamond",
        "inverted egg",
    )
    assert face_class({k: v for k, v in table.items() if k != "jaw_width_fw"}) == ()


def test_a_face_halfway_between_two_classes_bears_both_names() -> None:
    table = {k: (a + b) / 2 for k, a, b in zip(AXES, CLASSES["oval"], CLASSES["egg"], strict=True)}
    assert set(face_class(table)) == {"oval", "egg"}


def test_the_ideal_face_fits_every_canon_and_a_long_chin_is_told() -> None:
    """Vitruvius III.1: the three parts from chin to nose, nose to brow and brow to hairline are equal."""
    ideal = {"upper_third": 1 / 3, "middle_third": 1 / 3, "lower_third": 1 / 3, "eye_station": 0.5, "eyes_across": 5.0, "eye_gap_ew": 1.0,
             "mouth_nose": 1.5, "nose_width_fw": 0.25, "nose_length_hh": 0.24, "ear_length_hh": 0.24}  # fmt: skip
    read = canons(ideal)
    assert len(read) == 7 and all(abs(c.off) < 1e-9 for c in read)
    long = canons({"upper_third": 0.30, "middle_third": 0.32, "lower_third": 0.38})
    assert len(long) == 1 and "lower one largest" in long[0].face and long[0].off == pytest.approx(0.38 - 1 / 3)
    assert canons({}) == []


def test_heads_tall_grow_as_published() -> None:
    """Height over head height, head height taken as .407 of the head's circumference: WHO Child Growth Standards 2006 and the
    WHO reference 2007 for height, WHO 2006 and Nellhaus 1968 for circumference (boys and girls pooled; from memory)."""
    for age, height, round_head in ((1, 75.0, 45.5), (2, 87.0, 47.8), (5, 109.7, 51.0), (10, 138.2, 53.0), (15, 166.5, 55.2)):
        assert heads_tall(age) == pytest.approx(height / (0.407 * round_head), abs=0.2), age
    assert heads_tall(18) == pytest.approx(7.6, abs=0.01) == heads_tall(60)
    ages = np.linspace(0, 25, 60)
    assert (np.diff([heads_tall(a) for a in ages]) >= -1e-9).all()
    assert (np.diff([youth_of_age(a) for a in ages]) <= 1e-9).all() and youth_of_age(40) == pytest.approx(0, abs=0.02)


def test_the_norm_of_an_age_is_a_childs_face() -> None:
    reg, adult, child, baby = front_registry(), norm(), norm("age:8"), norm("age:1")
    for key, way in (("eye_station", 1), ("eye_width_fw", 1), ("nose_length_hh", -1)):
        i = reg.index[key]
        steps = np.diff([adult.mean[i], child.mean[i], baby.mean[i]])
        assert (way * steps > 0).all(), key
    stations = ("hairline_station", "brow_station", "eye_station", "nose_base_station", "mouth_station")
    for n in (child, baby):
        assert (np.diff([n.mean[reg.index[k]] for k in stations]) > 0).all()
    np.testing.assert_allclose(norm("age:40").mean[reg.index["eye_station"]], adult.mean[reg.index["eye_station"]], atol=2e-3)
    fig = norm_over("age:6", figure_registry())
    assert fig.mean[figure_registry().index["heads_tall"]] == pytest.approx(heads_tall(6), abs=0.15)
    for bad in ("age:x", "age:-3", "age:nan"):
        with pytest.raises(FormatError):
            norm(bad)
    with pytest.raises(UnknownName):
        norm("martian")
