"""Every valid file through every command: a result, or one sentence and exit 2; names as the screen writes them."""

from __future__ import annotations

import json
import logging
from pathlib import Path
from typing import Any

import pytest

from orthomet import cli
from orthomet.cli import main
from orthomet.core.landmarks.files import landmarks_to_text
from orthomet.core.project.store import write
from orthomet.demo.project import demo_project
from orthomet.log import log_file


@pytest.fixture(scope="module")
def files(tmp_path_factory: pytest.TempPathFactory) -> dict[str, str]:
    """The demo's references by kind, one with own spans, one with its mouth too high, styles beyond reason."""
    where, out = tmp_path_factory.mktemp("files"), {}
    demo = demo_project().project

    def keep(name: str, body: Any) -> None:
        out[name] = str(where / f"{name}.json")
        Path(out[name]).write_text(body if isinstance(body, str) else json.dumps(body))

    for c in demo.characters:
        for r in c.references:
            keep(r.marks.view if c.id != "klinker" else "creature", landmarks_to_text(r.marks.landmarks(r.image.size, c.spans)))
    berta = demo.characters[0].references[0]
    body = json.loads(landmarks_to_text(berta.marks.landmarks(berta.image.size)))
    keep("front", body)
    span = {"id": "bun", "name": "Bun", "ends": ["own_bun_a", "own_bun_b"]}
    keep("own", {**body, "spans": [span], "points": {**body["points"], "own_bun_a": [600, 50], "own_bun_b": [700, 50]}})
    hh = body["points"]["gnathion"][1] - body["points"]["vertex"][1]
    for k, dy in enumerate((-0.12, -0.0913, -0.3, 0.2)):
        moved = {
            n: [x, y + dy * hh if n in ("stomion", "cheilion_l", "cheilion_r") else y] for n, (x, y) in body["points"].items()
        }
        keep(f"mouth{k}", {**body, "points": moved})
    for k, (key, v) in enumerate(
        [("eye_width_fw", 900), ("mouth_station", 0.0), ("face_width_hh", 1000), ("eye_gap_ew", -1000), ("nose_length_hh", 1e-4)]
    ):
        keep(f"style{k}", {"name": f"s{k}", "title": "S", "readings": {key: {"mean": v}}})
    keep("style-bad", {"name": "s", "title": "S", "readings": {"iris_ew": {"mean": 1e300}}})
    return out


FACES = ["front", "own", "profile", "figure", "creature", "mouth0", "mouth1", "mouth2", "mouth3"]


@pytest.mark.parametrize("name", FACES)
@pytest.mark.parametrize("command", [
    ["plan", "{f}"], ["guides", "{f}", "--out", "{o}.svg"], ["head", "{f}", "--json"], ["check", "{f}", "--against", "{front}"],
    ["check", "{front}", "--against", "{f}"], ["landmarks", "{f}", "--out", "{o}.pts"], ["measure", "{f}", "--norm", "age:5"],
    ["measure", "{f}", "--norm", "style:Low lantern"], ["style-learn", "{f}", "--name", "n", "--out", "{o}.json"],
], ids=lambda c: " ".join(c[:1] + c[2:3]))  # fmt: skip
def test_every_valid_file_gives_a_result_or_a_sentence(
    files: dict[str, str], capsys: pytest.CaptureFixture[str], tmp_path: Path, name: str, command: list[str]
) -> None:
    args = [a.format(f=files[name], front=files["front"], o=tmp_path / "o") for a in command]
    code = main(args)
    said = capsys.readouterr().err
    assert code in (0, 2) and "holds the details" not in said and "Traceback" not in said
    if code == 2:
        assert said.startswith("orthomet: ") and said.count("\n") == 1 and len(said) < 215
    if name in ("front", "own", *FACES[5:]):
        assert code == 0, said
    elif name in ("profile", "figure") and command[0] == "check":
        assert code == 2 and ("planned character" in said or "face from the front" in said)
    elif name in ("profile", "figure") and command[0] in ("plan", "guides", "head"):
        assert code == 2 and "face from the front" in said


@pytest.mark.parametrize("k", range(5))
def test_a_style_beyond_reason_still_plans(files: dict[str, str], capsys: pytest.CaptureFixture[str], k: int) -> None:
    style = files[f"style{k}"]
    for args in (["plan", files["front"], "--style", style, "--style-weight", "1"], ["head", "--style", style, "--json"],
                 ["measure", files["front"], "--norm", f"style:{style}"]):  # fmt: skip
        assert main(args) == 0, capsys.readouterr().err
    assert main(["plan", files["front"], "--style", files["style-bad"]]) == 2
    assert "out of all bounds" in capsys.readouterr().err


def test_what_still_escapes_is_one_sentence_and_the_trace_is_in_the_log(
    capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(_: object) -> None:
        raise ZeroDivisionError("nobody thought of this")

    monkeypatch.setitem(cli._RUN, "schools", broken)
    assert main(["schools"]) == 2
    said = capsys.readouterr().err
    assert said.count("\n") == 1 and "ZeroDivisionError in schools" in said and str(log_file()) in said
    assert "nobody thought of this" in log_file().read_text() and "Traceback" in log_file().read_text()
    for h in logging.getLogger("orthomet").handlers:
        h.close()


@pytest.mark.parametrize("typed", ["low-lantern", "Low lantern", "LOW LANTERN", "low_lantern"])
def test_names_are_taken_as_the_screen_writes_them(files: dict[str, str], capsys: pytest.CaptureFixture[str], typed: str) -> None:
    def read(*args: str) -> Any:
        assert main([*args, "--json"]) == 0, capsys.readouterr().err
        return json.loads(capsys.readouterr().out)

    plain = read("plan", files["front"], "--style", "low-lantern")["plan"]
    assert read("plan", files["front"], "--style", typed)["plan"] == plain
    assert read("measure", files["front"], "--norm", f"Style:{typed}")["readings"]["eye_width_fw"]["norm"] == pytest.approx(0.3)


def test_schools_papers_and_pencils_too(files: dict[str, str], tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for school in ("circle-and-cross", "Circle and cross", "CIRCLE AND CROSS"):
        args = [
            "guides",
            files["front"],
            "--school",
            school,
            "--paper",
            "a4",
            "--pencil",
            "BLUE",
            "--out",
            str(tmp_path / "o.svg"),
            "--json",
        ]
        assert main(args) == 0
        assert "circle-and-cross-1" in json.loads(capsys.readouterr().out)["layers"]
    assert main(["head", files["front"], "--school", "Equal Thirds", "--expression", "Glad", "--json"]) == 0
    capsys.readouterr()
    assert main(["guides", files["front"], "--school", "martian", "--out", str(tmp_path / "o.svg")]) == 2
    assert "no school named “martian”" in capsys.readouterr().err


def test_measure_and_plan_take_a_project(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    path = str(tmp_path / "demo.orthomet")
    write(path, demo_project())

    def read(*args: str) -> Any:
        assert main([*args, "--json"]) == 0, capsys.readouterr().err
        return json.loads(capsys.readouterr().out)

    assert read("measure", path)["readings"] == read("measure", f"{path}:Berta Sprake")["readings"]
    assert (
        read("measure", f"{path}:LORN")["readings"]["eye_station"]["value"]
        != read("measure", path)["readings"]["eye_station"]["value"]
    )
    assert read("measure", f"{path}:klinker")["readings"]["own_eye"]["value"] == pytest.approx(0.35)
    assert "cast" in read("measure", path, "--norm", "Cast")["norm"]
    assert read("measure", path, "--turn", "20", "0", "0")["turn"]["yaw"] == 20
    assert read("plan", f"{path}:wick")["plan"]["eye_width_fw"] > 0
    assert main(["measure", f"{path}:nobody"]) == 2


def test_the_marking_noise_is_given_in_heads(files: dict[str, str], capsys: pytest.CaptureFixture[str]) -> None:
    def found(*more: str) -> Any:
        assert main(["check", files["mouth3"], "--against", files["front"], "--json", *more]) == 0
        return json.loads(capsys.readouterr().out)

    assert found()["noise"] >= 0.003 and found("--noise", "0.01")["noise"] == 0.01
    assert len(found("--noise", "0.05")["findings"]) < len(found()["findings"])
    assert main(["check", files["front"], "--against", files["front"], "--noise", "0.2"]) == 2


def test_emphasis_on_a_derived_trait_is_passed_on(files: dict[str, str], capsys: pytest.CaptureFixture[str]) -> None:
    def chin(*more: str) -> float:
        assert main(["plan", files["front"], "--style-weight", "0", "--json", *more]) == 0
        return float(json.loads(capsys.readouterr().out)["plan"]["chin_hh"])

    plain = chin()
    assert abs(chin("--emphasis-for", "chin_hh=2.5") - plain) > 0.005
    assert chin("--emphasis-for", "chin_hh=1") == pytest.approx(plain, abs=2e-4)
