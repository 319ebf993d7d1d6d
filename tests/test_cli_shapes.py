"""``orthomet shapes``: contours and masks in, shapes, readings, simplified and pushed contours out; bad input in one sentence."""

from __future__ import annotations

import json
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image
from shapely.geometry import Polygon

from orthomet.cli import main
from orthomet.core.shapes.plain import KINDS, made
from tests.creatures import mask_of
from tests.outlines import blob


def contour(tmp_path: Path, points: Any, name: str = "c.json") -> str:
    path = tmp_path / name
    path.write_text(json.dumps({"points": [[float(x), float(y)] for x, y in points]}))
    return str(path)


def told(capsys: Any, *args: str) -> dict[str, Any]:
    assert main(["shapes", *args, "--json"]) == 0
    return json.loads(capsys.readouterr().out)


def refused(capsys: Any, *args: str) -> str:
    assert main(["shapes", *args]) == 2
    out = capsys.readouterr()
    assert out.out == "" and out.err.count("\n") == 1
    return str(out.err)


def test_a_circle_and_a_square_read_as_themselves(tmp_path: Path, capsys: Any) -> None:
    r = told(capsys, contour(tmp_path, made("circle", 50, 60, 200, 200).outline(720)))
    assert r["best"] == "circle" and r["fits"][0]["params"] == {
        k: pytest.approx(v, abs=0.3) for k, v in (("cx", 50), ("cy", 60), ("r", 100))
    }
    assert (
        r["readings"]["roundness"] == pytest.approx(1, abs=2e-3)
        and r["readings"]["corners"] == 0
        and r["readings"]["straight_share"] < 0.1
    )
    assert set(r["readings"]) == {"area", "roundness", "convexity", "aspect", "taper", "angularity", "straight_share", "corners"}
    assert {f["kind"] for f in r["fits"]} == set(KINDS) and r["margin"] > 0 and r["head_class"]
    r = told(capsys, contour(tmp_path, [[0, 0], [100, 0], [100, 100], [0, 100]]))
    assert r["best"] == "rectangle" and r["readings"]["roundness"] == pytest.approx(math.pi / 4) and r["readings"]["corners"] == 4
    assert r["readings"]["area"] == pytest.approx(1e4) and r["readings"]["straight_share"] > 0.95


@pytest.mark.parametrize("kind", KINDS)
def test_parameters_are_written_as_they_are_documented(tmp_path: Path, capsys: Any, kind: str) -> None:
    own = (0.3, 0.1)[: len(KINDS[kind].bounds)]
    r = told(capsys, contour(tmp_path, made(kind, 100, 100, 120, 180, own, 10).outline(400)), "--kinds", kind)
    keys = {
        "circle": {"cx", "cy", "r"}, "ellipse": {"cx", "cy", "rx", "ry", "turn"}, "egg": {"cx", "cy", "rx", "ry", "lean", "turn"},
        "rectangle": {"cx", "cy", "w", "h", "turn"}, "rounded-rectangle": {"cx", "cy", "w", "h", "corner", "turn"}, "capsule": {"ax", "ay", "bx", "by", "r"},
        "triangle": {"points", "corner"}, "trapezoid": {"points", "corner"}, "kite": {"points", "corner"}, "heart": {"cx", "cy", "rx", "ry", "wide", "turn"},
    }  # fmt: skip
    assert [f["kind"] for f in r["fits"]] == [kind] and set(r["fits"][0]["params"]) == keys[kind]


def test_detail_and_push_write_contours(tmp_path: Path, capsys: Any) -> None:
    c = blob(3)[0]
    path, out = contour(tmp_path, c), str(tmp_path / "out.json")
    off = []
    for t in (0.0, 0.3, 0.6, 1.0):
        told(capsys, path, "--detail", str(t), "--out", out)
        off.append(Polygon(json.loads(Path(out).read_text())["points"]).hausdorff_distance(Polygon(c)))
    assert off[0] > off[2] and off[3] < 1e-9
    told(capsys, path, "--push", "size=1", "aspect=1", "taper=1", "angularity=1", "roundness=1", "--out", out)
    assert np.abs(np.array(json.loads(Path(out).read_text())["points"]) - c).max() < 1e-9
    told(capsys, path, "--push", "roundness=0", "aspect=0", "taper=0", "size=0", "angularity=0", "--out", out)
    assert told(capsys, out)["readings"]["roundness"] > 0.98
    before = told(capsys, path)["readings"]["aspect"]
    r = told(capsys, path, "--push", "aspect=2", "--norm", "ellipse", "--out", str(tmp_path / "out.svg"))
    assert "limits" in r and "<path" in (tmp_path / "out.svg").read_text() and before > 0
    told(capsys, path, "--detail", "0", "--kinds", "ellipse", "--out", str(tmp_path / "p.svg"))
    assert "<ellipse" in (tmp_path / "p.svg").read_text()


def test_a_mask_is_read_and_taken_apart(tmp_path: Path, capsys: Any) -> None:
    m, _ = mask_of("heron")
    path = str(tmp_path / "m.png")
    Image.fromarray(m.astype(np.uint8) * 255).save(path)
    r = told(capsys, path, "--parts", "10", "--out", str(tmp_path / "parts.svg"))
    assert 2 <= len(r["parts"]) <= 10 and r["parts_iou"] > 0.92 and r["relations"] and r["spikes"]
    assert (tmp_path / "parts.svg").read_text().count("fill=") >= len(r["parts"])


def test_transparency_tells_a_part_and_islands_are_asked_about(tmp_path: Path, capsys: Any) -> None:
    a = np.zeros((120, 200, 4), np.uint8)
    a[20:100, 20:100] = (90, 60, 40, 255)
    a[40:70, 150:180] = (90, 60, 40, 255)
    path = str(tmp_path / "a.png")
    Image.fromarray(a).save(path)
    assert main(["shapes", path]) == 0
    out = capsys.readouterr()
    assert "2 pieces" in out.err and "rectangle" in out.out
    assert told(capsys, path, "--piece", "2")["readings"]["area"] == pytest.approx(900, rel=0.1)
    assert "no piece 3" in refused(capsys, path, "--piece", "3")


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('{"points": [[0, 0], [1, 1]]}', "three points"), ('{"points": [[0, 0], [1, "x"], [2, 2]]}', "numbers"), ('{"dots": []}', "no contour"), ("[]", "no contour"),
        ("{", "JSON"), ('{"points": [[0,0],[10,10],[10,0],[0,10]]}', "crosses itself"), ('{"points": [[0,0],[1,0],[2,0]]}', "next to nothing"),
        ('{"points": [[1e300,0],[0,1e300],[0,0]]}', "bounds"),
    ],
)  # fmt: skip
def test_bad_contours_are_one_sentence(tmp_path: Path, capsys: Any, text: str, said: str) -> None:
    path = tmp_path / "bad.json"
    path.write_text(text)
    assert said.lower() in refused(capsys, str(path)).lower()


@pytest.mark.parametrize(
    ("args", "said"),
    [
        (["--detail", "2"], "detail"), (["--parts", "0"], "shapes"), (["--push", "nose=2"], "cannot be pushed"), (["--push", "size"], "name=number"),
        (["--kinds", "blob"], "no plain shape"), (["--norm", "circle"], "--norm"), (["--out", "x.txt", "--detail", "1"], ".json or .svg"), (["--out", "x.svg"], "--out"),
        (["--push", "size=2", "--norm", "blob"], "no plain shape"),
    ],
)  # fmt: skip
def test_bad_orders_are_one_sentence(tmp_path: Path, capsys: Any, args: list[str], said: str) -> None:
    assert said in refused(capsys, contour(tmp_path, blob(1)[0]), *args).lower()


def test_what_is_no_picture_is_refused(tmp_path: Path, capsys: Any) -> None:
    path = tmp_path / "x.png"
    path.write_bytes(b"nothing of the sort")
    assert "picture" in refused(capsys, str(path))
    one = np.zeros((8, 8), np.uint8)
    Image.fromarray(one).save(path)
    assert "empty" in refused(capsys, str(path))
    one[4, 4] = 255
    Image.fromarray(one).save(path)
    assert "too small" in refused(capsys, str(path))
