"""``orthomet figure`` and ``orthomet match``: the numbers other tools rely on, files at true size, and bad calls."""

from __future__ import annotations

import json
import xml.etree.ElementTree as ET
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import numpy as np
import pytest
from PIL import Image

from orthomet.core.landmarks.templates import template
from orthomet.core.landmarks.views import FIGURE
from orthomet.core.project.store import write
from orthomet.core.proportions.growth import heads_tall
from orthomet.core.proportions.views import figure_registry
from orthomet.demo.project import demo_project

from .test_cli import ok, run

BONES = {"upper_arm_l", "forearm_r", "hand_l", "thigh_r", "shin_l", "foot_r", "clavicle_l", "neck", "pelvis"}


@pytest.fixture
def landmarks(tmp_path: Path) -> Any:
    def made(**moved: Any) -> str:
        xy = {n: [float(v) * 90 for v in p] for n, p in zip(FIGURE.names, template(FIGURE).tolist(), strict=True)}
        xy = {n: p for n, p in {**xy, **moved}.items() if p is not None}
        path = tmp_path / "figure.json"
        path.write_text(json.dumps({"view": "figure", "points": xy}))
        return str(path)

    return made


@pytest.fixture
def project(tmp_path: Path) -> str:
    path = tmp_path / "cast.orthomet"
    write(path, demo_project())
    return str(path)


def test_the_names_of_canons(capsys: Any) -> None:
    code, out, _ = run(capsys, "figure", "--canon", "list")
    names = json.loads(out)
    assert code == 0 and {"measured", "classical", "heroic", "slender", "two-heads", "two-circles", "age:5"} <= set(names)


def test_a_canon_in_numbers(capsys: Any) -> None:
    """Heads from the crown at 0, x right, y down, z to the viewer."""
    b: Any = ok(capsys, "figure", "--canon", "classical")
    assert b["heads"] == 8 and b["heads_with_hair"] < 8 and b["readings"]["hand_hh"] == 0.8
    assert set(b["readings"]) == set(figure_registry().keys) and set(b["bones"]) >= BONES
    j = {k: np.array(v) for k, v in b["joints"].items()}
    assert j["crown"].tolist() == [0, 0, 0] and j["shoulder_l"][0] > 0 > j["shoulder_r"][0] and j["toe_l"][2] > j["heel_l"][2]
    assert b["bones"]["forearm_l"] == pytest.approx(np.linalg.norm(j["elbow_l"] - j["wrist_l"]))
    outline = np.concatenate([np.array(p) for p in b["outline"]])
    assert outline[:, 1].max() == pytest.approx(8, abs=0.04) and -0.3 < outline[:, 1].min() < 0.03
    assert np.ptp(outline[:, 0]) > 2.2
    turned: Any = ok(capsys, "figure", "--canon", "classical", "--yaw", "90")
    aside = np.concatenate([np.array(p) for p in turned["outline"]])
    assert np.ptp(aside[:, 0]) < 1.8 and turned["joints"] == b["joints"]
    assert b["youth"]["length"] == pytest.approx(-0.1, abs=0.12)


def test_age_and_heads(capsys: Any) -> None:
    for age in (1, 5, 10.5, 18, 60):
        b: Any = ok(capsys, "figure", "--age", str(age))
        assert b["heads"] == pytest.approx(heads_tall(min(age, 18)), abs=1e-6), age
    for heads in (1.5, 3, 6.25, 10):
        b = ok(capsys, "figure", "--heads", str(heads))
        assert b["heads"] == pytest.approx(heads) and b["joints"]["ankle_l"][1] < heads
    both: Any = ok(capsys, "figure", "--canon", "heroic", "--heads", "6")
    assert both["heads"] == 6 and both["readings"]["shoulder_hh"] > 1.5


def test_a_marked_figure_is_its_own_plan(capsys: Any, landmarks: Any) -> None:
    b: Any = ok(capsys, "figure", landmarks())
    assert b["heads"] == pytest.approx(7.5) and b["readings"]["shoulder_hh"] == pytest.approx(2.0) and b["youth"]["face"] is None
    assert b["readings"]["upper_arm_hh"] == pytest.approx(1.42, abs=0.02)
    few: Any = ok(capsys, "figure", landmarks(**{n: None for n in FIGURE.names if n not in ("vertex", "gnathion", "floor")}))
    assert few["heads"] == pytest.approx(7.5) and few["readings"]["shoulder_hh"] == pytest.approx(2.0, abs=0.05)


def test_without_a_file_the_readings_are_told_in_words(capsys: Any) -> None:
    code, out, _ = run(capsys, "figure", "--canon", "classical")
    lines = out.splitlines()
    assert code == 0 and "8.00 heads tall" in lines[0] and len(lines) >= 1 + len(figure_registry().keys)
    assert any(line.startswith("hand_hh") and "0.800" in line for line in lines)


@pytest.mark.parametrize("who", ["berta", "lorn", "wick", "klinker"])
@pytest.mark.parametrize("heads", [2.0, 4.0, 9.0])
def test_a_character_is_as_tall_as_asked_whatever_its_reference_and_style(
    capsys: Any, project: str, who: str, heads: float
) -> None:
    assert ok(capsys, "figure", f"{project}:{who}", "--heads", str(heads))["heads"] == pytest.approx(heads, rel=5e-4)


def test_a_seated_figure_and_one_without_feet_are_not_guessed(capsys: Any, landmarks: Any) -> None:
    for path in (
        landmarks(floor=None),
        landmarks(patella_l=[200, 340], patella_r=[-200, 340], malleolus_l=[200, 500], malleolus_r=[-200, 500]),
    ):
        code, _, err = run(capsys, "figure", path, "--json")
        assert code != 0 and "not measured" in err
        assert ok(capsys, "figure", path, "--heads", "7")["heads"] == pytest.approx(7)  # type: ignore[index]


def test_people_of_a_project(capsys: Any, project: str) -> None:
    b: Any = ok(capsys, "figure", f"{project}:Lorn")
    assert b["readings"]["heads_tall"] == b["heads"] and 7 < b["heads"] < 8.6 and b["youth"]["face"] is not None
    m: Any = ok(capsys, "match", f"{project}:Lorn")
    assert m["youth"] == pytest.approx(b["youth"], abs=1e-9)


def test_files_at_true_size(capsys: Any, tmp_path: Path) -> None:
    svg, png, ora, pdf, steps = (tmp_path / n for n in ("f.svg", "f.png", "f.ora", "f.pdf", "s.svg"))
    for path, more in ((svg, ()), (png, ("--views",)), (ora, ("--yaw", "30")), (pdf, ()), (steps, ("--steps",))):
        code, _, err = run(capsys, "figure", "--canon", "measured", "--height-mm", "150", "--out", str(path), *more)
        assert code == 0 and path.stat().st_size > 5000, err
    root = ET.parse(svg).getroot()
    ns = "{http://www.w3.org/2000/svg}"
    groups = {g.get("id"): g for g in root.iter(f"{ns}g") if g.get("id")}
    assert {"ladder", "body", "head", "tones", *(f"step-{k}" for k in range(1, 9))} <= set(groups)
    rungs = [p for p in groups["ladder"].iter() if p.tag in (f"{ns}path", f"{ns}polyline", f"{ns}line")]
    assert len(rungs) >= 16
    with Image.open(png) as im:
        assert im.width > im.height  # four side by side
    with ZipFile(ora) as z:
        assert "stack.xml" in z.namelist() and len([n for n in z.namelist() if n.startswith("data/")]) >= 10


@pytest.mark.parametrize(
    ("call", "says"),
    [
        (["figure", "--json"], "needs one of these"),
        (["figure", "--canon", "hercules", "--json"], "no canon named"),
        (["figure", "--canon", "measured", "--age", "5", "--json"], "needs one of these"),
        (["figure", "--age", "-2", "--json"], "0 to 150"),
        (["figure", "--heads", "0.5", "--json"], "1.5 to 10"),
        (["figure", "--heads", "6", "--yaw", "400", "--json"], "−180° to 180°"),
        (["figure", "--heads", "6", "--out", "f.bmp"], "none of them"),
        (["figure", "--heads", "6", "--height-mm", "1e9", "--json"], "10 to 5000"),
        (["match", "--json"], "either"),
        (["match", "--set", "shoulder_hh=2", "--json"], "says nothing of age"),
        (["match", "--set", "heads_tall=-1", "--json"], "above 0"),
        (["match", "--set", "heads_tall=7", "--json"], "at least one of these"),
        (["match", "--set", "heads_tall=x", "--json"], "NAME=NUMBER"),
        (["match", "--set", "heads_tall=7", "--heads", "12", "--json"], "1.5 to 10"),
    ],
)
def test_bad_calls_are_one_sentence(capsys: Any, call: list[str], says: str) -> None:
    code, out, err = run(capsys, *call)
    assert code != 0 and says in err and not out and len(err.strip().splitlines()) == 1


def test_faces_are_no_figures(capsys: Any, landmark_file: Any) -> None:
    from tests.faces import marks_of

    code, _, err = run(capsys, "figure", landmark_file(marks_of()), "--json")
    assert code != 0 and "figure landmarks" in err


def test_match_gives_verdict_why_and_cures_with_registry_keys(capsys: Any) -> None:
    sets = {"eye_width_fw": 0.31, "eye_station": 0.58, "nose_length_hh": 0.11, "mouth_width_fw": 0.25, "chin_hh": 0.16, "heads_tall": 7.5,
            "trunk_hh": 2.55, "neck_hw": 0.70, "shoulder_hw": 3.05, "ribcage_hw": 1.8}  # fmt: skip
    args = [x for k, v in sets.items() for x in ("--set", f"{k}={v}")]
    m: Any = ok(capsys, "match", *args)
    assert set(m) == {"youth", "verdict", "says", "cures", "after"} and m["verdict"] == "too_wide" and m["says"].endswith(".")
    assert m["youth"]["length"] == pytest.approx(0) and m["youth"]["face"] > 1.2
    assert set(m["cures"]) == set(m["after"]) == {"compact", "slender", "head"}
    assert m["after"] == {"compact": "match", "slender": "slender", "head": m["after"]["head"]} and m["after"]["head"] in (
        "match",
        "slender",
    )
    assert m["cures"]["compact"]["heads_tall"] < 4 < m["cures"]["slender"]["heads_tall"]
    assert m["cures"]["head"]["eye_width_fw"] < 0.31 and m["cures"]["head"]["chin_hh"] > 0.16
    six: Any = ok(capsys, "match", *args, "--heads", "6")
    assert (
        six["cures"]["slender"]["heads_tall"] == 6
        and six["cures"]["slender"]["shoulder_hw"] > m["cures"]["slender"]["shoulder_hw"] * 0.99
    )
    code, out, _ = run(capsys, "match", *args)
    assert code == 0 and "too wide" in out and "compact" in out
