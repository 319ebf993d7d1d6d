"""``orthomet pose``, posed figures and figures checked: the numbers other tools rely on, files, and bad calls."""

from __future__ import annotations

import json
import xml.etree.ElementTree as ET
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from orthomet.core.figure.build import build_of
from orthomet.core.figure.canons import canon
from orthomet.core.figure.mannequin import mannequin
from orthomet.core.landmarks.turn import Turn
from orthomet.core.pose.actions import ACTIONS
from orthomet.core.pose.bones import posed
from orthomet.core.pose.library import pose, poses
from orthomet.core.pose.marked import marked
from orthomet.core.pose.model import pose_text
from orthomet.core.project.store import write
from orthomet.demo.project import demo_project

from .test_cli import ok, run


@pytest.fixture
def project(tmp_path: Path) -> str:
    path = tmp_path / "cast.orthomet"
    write(path, demo_project())
    return str(path)


@pytest.fixture
def drawing(tmp_path: Path, capsys: Any, project: str) -> Any:
    """Landmarks of Lorn’s own planned body in a pose, some of them moved."""
    b: Any = ok(capsys, "figure", f"{project}:Lorn")
    s = mannequin(build_of(b["readings"])).skeleton

    def made(how: str, yaw: float = 0.0, **moved: Any) -> str:
        at = marked(posed(s, pose(how)), Turn(yaw=yaw))
        points = {k: (np.asarray(v) * 90 + [300, 40]).tolist() for k, v in at.items()}
        for k, by in moved.items():
            points[k] = [points[k][0] + by[0], points[k][1] + by[1]]
        path = tmp_path / "figure.json"
        path.write_text(json.dumps({"view": "figure", "points": points}))
        return str(path)

    return made


def test_names_of_poses_and_of_actions(capsys: Any) -> None:
    code, out, _ = run(capsys, "figure", "--pose", "list")
    assert code == 0 and json.loads(out) == list(poses()) and len(poses()) >= 12
    code, out, _ = run(capsys, "pose", "--do", "list")
    assert code == 0 and json.loads(out) == list(ACTIONS)


@pytest.mark.parametrize("who", ["measured", "two-heads", "rubber-limb"])
def test_a_posed_figure_keeps_its_bones(capsys: Any, tmp_path: Path, who: str) -> None:
    still: Any = ok(capsys, "figure", "--canon", who)
    moved: Any = ok(capsys, "figure", "--canon", who, "--pose", "Walking")
    assert set(moved["joints"]) == set(still["joints"]) and moved["bones"] == pytest.approx(still["bones"], abs=1e-9)
    assert moved["readings"] == still["readings"] and moved["pose"]["name"] == "walking" and "stands" in moved["pose"]["balance"]
    a, c = (np.array(x["joints"]["ankle_l"]) for x in (still, moved))
    assert np.linalg.norm(a - c) > 0.05 * still["heads"] / 7.5
    file = tmp_path / "mine.json"
    file.write_text(pose_text(pose("walking")))
    again: Any = ok(capsys, "figure", "--canon", who, "--pose", str(file))
    assert again["joints"] == moved["joints"] and again["outline"] == moved["outline"]


def test_a_posed_figure_on_paper(capsys: Any, tmp_path: Path) -> None:
    for ending in ("svg", "png", "pdf"):
        path = tmp_path / f"f.{ending}"
        assert (
            run(capsys, "figure", "--canon", "age:5", "--pose", "reaching up", "--out", str(path))[0] == 0
            and path.stat().st_size > 2000
        )
    groups = {g.get("id") for g in ET.parse(tmp_path / "f.svg").getroot().iter() if g.tag.endswith("}g")}
    assert {"body", "head", "pose-0", "pose-2", "pose-3"} <= groups


def test_what_a_character_can_do(capsys: Any, project: str, tmp_path: Path) -> None:
    b: Any = ok(capsys, "pose", f"{project}:Berta", "--do", "look over rail=9")
    assert b["reachable"] is False and b["short_by_hh"] > 1 and {c["reading"] for c in b["changes"]} == {"heads_tall"}
    assert all(isinstance(c["by"], float) and c["by"] > 0 for c in b["changes"])
    can: Any = ok(capsys, "pose", f"{project}:Berta", "--do", "Reach-Mouth", "--out", str(tmp_path / "m.json"))
    assert can["reachable"] is True and can["short_by_hh"] == 0 and can["changes"] == []
    there: Any = ok(capsys, "figure", f"{project}:Berta", "--pose", str(tmp_path / "m.json"))
    assert there["joints"]["fingertip_l"][1] < there["joints"]["shoulder_l"][1]
    assert (
        run(capsys, "pose", f"{project}:Wick", "--do", "cross arms", "--out", str(tmp_path / "c.svg"))[0] == 0
        and (tmp_path / "c.svg").exists()
    )
    code, out, _ = run(capsys, "pose", f"{project}:Berta", "--do", "look over rail=9")
    assert code == 0 and "no, short by" in out and "it could" in out


def test_a_picture_is_lifted_to_the_plans_lengths(capsys: Any, project: str, drawing: Any, tmp_path: Path) -> None:
    path = drawing("walking", 50)
    b: Any = ok(capsys, "pose", path, "--against", f"{project}:Lorn", "--out", str(tmp_path / "p.json"))
    names = {x["name"] for x in b["segments"]}
    assert {"upper_arm_l", "forearm_r", "thigh_l", "shin_r", "foot_l"} <= names
    for x in b["segments"]:
        low, high = x["angle_deg"]
        assert 0 <= low <= high <= 90 and x["verdict"] in ("plain", "foreshortened", "too_long") and x["planned_hh"] > 0
    j = {k: np.array(v) for k, v in b["joints"].items()}
    assert np.linalg.norm(j["knee_l"] - j["ankle_l"]) == pytest.approx(
        next(x["planned_hh"] for x in b["segments"] if x["name"] == "shin_l"), rel=1e-6
    )
    again: Any = ok(capsys, "figure", f"{project}:Lorn", "--pose", str(tmp_path / "p.json"))
    assert again["pose"]["name"] == "from the picture"
    told: Any = ok(capsys, "pose", path, "--against", f"{project}:Lorn", "--away", "forearm_l")
    assert told["joints"]["wrist_l"][2] <= told["joints"]["elbow_l"][2] + 1e-9


def test_a_figure_is_checked(capsys: Any, project: str, drawing: Any) -> None:
    right: Any = ok(capsys, "check", drawing("standing at ease"), "--against", f"{project}:Lorn")
    assert right["findings"] == [] and "forearm_hh" in right["passed"]
    wrong: Any = ok(
        capsys, "check", drawing("standing at ease", stylion_l=(2, 11), dactylion_l=(2, 11)), "--against", f"{project}:Lorn"
    )
    first = wrong["findings"][0]
    assert (
        first["reading"] == "forearm_hh"
        and first["direction"] == "longer"
        and first["difference_hh"] == pytest.approx(0.12, abs=0.05)
    )
    assert "left forearm" in first["say"] and set(first) >= {"kind", "difference_px", "tolerance", "severity", "explains"}
    code, out, _ = run(capsys, "check", drawing("sitting", 42), "--against", f"{project}:Lorn")
    assert code == 0 and "0 findings" in out


@pytest.mark.parametrize(
    "call",
    [
        ["figure", "--canon", "measured", "--pose", "moonwalk"], ["figure", "--canon", "measured", "--pose", "missing.json"],
        ["figure", "--canon", "measured", "--pose", "walking", "--steps"], ["pose"], ["pose", "PROJECT"], ["pose", "PROJECT", "--do", "fly"],
        ["pose", "PROJECT", "--do", "sit=tall"], ["pose", "PROJECT:Nobody", "--do", "sit"], ["pose", "missing.json", "--against", "PROJECT"],
        ["pose", "PROJECT", "--do", "sit", "--against", "PROJECT"], ["pose", "PROJECT", "--do", "sit", "--out", "x.gif"],
        ["pose", "FACE", "--do", "sit"], ["check", "FIGURE", "--against", "FIGURE"], ["pose", "FIGURE", "--against", "PROJECT", "--toward", "tail"],
        ["pose", "PROJECT", "--do", "sit", "--yaw", "400"], ["pose", "PROJECT", "--do", "sit", "--height-mm", "1"],
    ],
)  # fmt: skip
def test_bad_calls_are_one_sentence(capsys: Any, project: str, drawing: Any, call: list[str]) -> None:
    figure = drawing("standing at ease")
    named = {"PROJECT": project, "FACE": figure, "FIGURE": figure, "PROJECT:Nobody": f"{project}:Nobody"}
    code, out, err = run(capsys, *(named.get(c, c) for c in call))
    assert code == 2 and not out and err.count("\n") == 1 and err.startswith("orthomet: ") and "Error" not in err


def test_the_library_fits_every_canon_without_a_word() -> None:
    for name in ("measured", "two-circles", "age:1"):
        c = canon(name)
        s = mannequin(build_of(c.readings, c.form, c.limbs)).skeleton
        for p in poses().values():
            assert all(np.isfinite(v).all() for v in posed(s, p).joints.values())
