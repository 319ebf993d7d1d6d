"""``orthomet check-set``: many drawings, one report; a broken file never stops the rest."""

from __future__ import annotations

import csv
import json
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

import pytest
from PIL import Image

from orthomet.cli import main
from orthomet.core.check.batch import against_of, check_all, drawings_in
from orthomet.core.landmarks.files import landmarks_from_text, landmarks_to_text
from orthomet.demo.project import demo_project
from tests.faces import marks_of


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """Two drawings as planned, one with its eyes low, one broken; one has its picture beside it."""
    plan = tmp_path / "plan.json"
    plan.write_text(landmarks_to_text(marks_of()))
    where = tmp_path / "set"
    where.mkdir()
    body = json.loads(Path(plan).read_text())
    tall = abs(body["points"]["gnathion"][1] - body["points"]["vertex"][1])
    for name in ("a", "b"):
        (where / f"{name}.json").write_text(json.dumps(body))
    off = json.loads(json.dumps(body))
    for k, (x, y) in off["points"].items():
        if k.startswith(("endocanthion", "exocanthion", "palpebrale", "pupil", "iris", "lid_crease")):
            off["points"][k] = [x, y + 0.06 * tall]
    (where / "low.json").write_text(json.dumps(off))
    (where / "broken.json").write_text('{"points": ')
    Image.new("RGB", (400, 500), (200, 190, 180)).save(where / "low.png")
    return where


def test_every_drawing_is_told_and_a_broken_one_too(tmp_path: Path, folder: Path, capsys: Any) -> None:
    assert main(["check-set", str(folder), "--against", str(tmp_path / "plan.json"), "--json", "--jobs", "1"]) == 1
    rows = {Path(r["file"]).name: r for r in json.loads(capsys.readouterr().out)["drawings"]}
    assert set(rows) == {"a.json", "b.json", "low.json", "broken.json"}
    assert rows["a.json"]["findings"] == [] and len(rows["a.json"]["passed"]) > 20 and rows["a.json"]["error"] is None
    assert rows["low.json"]["findings"] and "eye" in rows["low.json"]["findings"][0]["say"].lower()
    assert rows["broken.json"]["error"] and not rows["broken.json"]["findings"]


def test_nothing_to_move_ends_well(tmp_path: Path, folder: Path) -> None:
    assert main(["check-set", str(folder / "a.json"), str(folder / "b.json"), "--against", str(tmp_path / "plan.json")]) == 0


def test_reports_hold_their_pictures_and_open_without_a_network(tmp_path: Path, folder: Path) -> None:
    for ending in ("html", "csv", "pdf"):
        assert (
            main(["check-set", str(folder), "--against", str(tmp_path / "plan.json"), "--out", str(tmp_path / f"r.{ending}")])
            == 1
        )
    html = (tmp_path / "r.html").read_text()
    HTMLParser().feed(html)
    assert (
        html.count("data:image/jpeg;base64,") == 1
        and "http" not in html.replace("http-equiv", "")
        and "4 drawings: 1 with findings" in html
    )
    rows = list(csv.DictReader((tmp_path / "r.csv").open()))
    assert {Path(r["file"]).name for r in rows} == {"a.json", "b.json", "low.json", "broken.json"}
    assert (tmp_path / "r.pdf").read_bytes().startswith(b"%PDF")


def test_many_cores_tell_the_same(tmp_path: Path, folder: Path) -> None:
    drawings = drawings_in([str(folder)]) * 5
    against = against_of(str(tmp_path / "plan.json"))
    one, two = check_all(drawings, against, 1), check_all(drawings, against, 2)
    assert [(r.file, r.findings, r.error) for r in one] == [(r.file, r.findings, r.error) for r in two]
    assert len(check_all(drawings, against, 1, lambda done: done < 3)) == 3


@pytest.mark.parametrize(
    ("args", "said"),
    [(["nowhere"], "nowhere"), (["--out", "r.txt"], ".html"), (["--jobs", "-1"], "--jobs"), (["--noise", "1"], "noise")],
)
def test_bad_orders_are_one_sentence(tmp_path: Path, folder: Path, capsys: Any, args: list[str], said: str) -> None:
    code = main(
        ["check-set", *([str(folder)] if args[0].startswith("--") else []), *args, "--against", str(tmp_path / "plan.json")]
    )
    out = capsys.readouterr()
    assert (code == 2 and said in out.err) or (args == ["nowhere"] and said in out.out + out.err)


def test_the_files_are_what_they_say(folder: Path) -> None:
    assert landmarks_from_text((folder / "a.json").read_text(), "a").view == "front"
    assert dict(drawings_in([str(folder / "low.png")])) == {str(folder / "low.json"): str(folder / "low.png")}


def test_profiles_and_figures_are_checked_with_the_faces(tmp_path: Path, capsys: Any) -> None:
    """The demo's pages, written out: each by its own view, and told as ``check`` tells it."""
    assert main(["demo", "--write", str(tmp_path / "demo.orthomet")]) == 0
    pages = demo_project().project
    where = tmp_path / "pages"
    where.mkdir()
    for who, did in (("lorn", "lorn-drawn"), ("berta", "berta-side")):
        (where / f"{did}.json").write_text(landmarks_to_text(pages.character(who).drawing(did).marks.landmarks()))
    for who, did, said in (("lorn", "lorn-drawn", "left forearm"), ("berta", "berta-side", "Raise the mouth")):
        capsys.readouterr()
        against = f"{tmp_path / 'demo.orthomet'}:{who}"
        assert main(["check-set", str(where / f"{did}.json"), "--against", against, "--json"]) == 1
        (row,) = json.loads(capsys.readouterr().out)["drawings"]
        assert row["error"] is None and said in row["findings"][0]["say"]
        assert main(["check", str(where / f"{did}.json"), "--against", against, "--json", "--rivals"]) == 0
        alone = json.loads(capsys.readouterr().out)
        assert [f["say"] for f in alone["findings"]] == [f["say"] for f in row["findings"]] and alone["fixes"] and alone["rivals"]
    assert main(["check-set", str(where), "--against", str(where / "berta-side.json"), "--json"]) == 2
    face = tmp_path / "face.json"
    face.write_text(landmarks_to_text(marks_of()))
    capsys.readouterr()
    assert main(["check-set", str(where), "--against", str(face), "--json"]) == 0
    assert all("planned character" in r["error"] for r in json.loads(capsys.readouterr().out)["drawings"])
