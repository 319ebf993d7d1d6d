"""The command line: the contract other tools rely on."""

from __future__ import annotations

import json
import math
import subprocess
import sys
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from orthomet.cli import main
from orthomet.core.landmarks.schema import FRONT
from orthomet.core.proportions.registry import front_registry
from orthomet.demo.cast import face
from tests.faces import marks_of, moved, random_table


def run(capsys: pytest.CaptureFixture[str], *args: str) -> tuple[int, str, str]:
    code = main(args)
    out = capsys.readouterr()
    return code, out.out, out.err


def ok(capsys: pytest.CaptureFixture[str], *args: str) -> object:
    code, out, err = run(capsys, *args, "--json")
    assert code == 0, err
    return json.loads(out)


def test_measure(capsys, landmark_file) -> None:  # type: ignore[no-untyped-def]
    body = ok(capsys, "measure", landmark_file(marks_of()))
    assert body["view"] == "front"
    assert set(body["readings"]) == set(front_registry().keys)
    row = body["readings"]["eye_gap_ew"]
    assert row["value"] == pytest.approx(1.14) and row["norm"] == 1.14 and row["sd"] == 0.10 and row["kind"] == "signed"
    assert row["z"] == pytest.approx(0, abs=1e-6) and row["state"] == "placed"
    few = ok(
        capsys,
        "measure",
        landmark_file({"view": "front", "points": {"vertex": [0, 0], "gnathion": [0, 9]}, "states": {"vertex": "estimated"}}),
    )
    assert set(few["readings"]) == set(front_registry().keys)
    assert few["readings"]["mouth_station"]["value"] is None and few["readings"]["mouth_station"]["z"] is None
    est = ok(
        capsys,
        "measure",
        landmark_file({"points": {"vertex": [0, 0], "gnathion": [0, 9], "stomion": [0, 7]}, "states": {"vertex": "estimated"}}),
    )
    assert est["readings"]["mouth_station"]["state"] == "estimated" and est["readings"]["mouth_station"]["z"] is None


def test_plan_follows_the_formula(capsys, landmark_file) -> None:  # type: ignore[no-untyped-def]
    t = random_table(np.random.default_rng(6), 0.5)
    path = landmark_file(marks_of(t))
    body = ok(
        capsys,
        "plan",
        path,
        "--style",
        "quillmere-picture-book",
        "--style-weight",
        "0.25",
        "--emphasis",
        "1",
        "--emphasis-for",
        "nose_width_fw=1.5",
    )
    mu, c = 0.25, 0.17
    expect = math.exp(0.75 * math.log(mu) + 0.25 * math.log(c) + 1.5 * math.log(t["nose_width_fw"] / mu))
    assert body["raw"]["nose_width_fw"] == pytest.approx(expect)
    assert set(body["plan"]) == set(front_registry().keys) and 0 <= body["likeness"] <= 100 and 0 <= body["style"] <= 100
    assert len(body["noticed"]) == 5
    same = ok(capsys, "plan", path, "--style-weight", "0", "--emphasis", "1")
    measured = ok(capsys, "measure", path)["readings"]
    for key, v in same["plan"].items():
        if v is not None and measured[key]["value"] is not None:
            assert v == pytest.approx(measured[key]["value"], abs=1e-6), key


def test_guides_in_three_formats(capsys, landmark_file, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    path = landmark_file(marks_of())
    sizes = {}
    for kind in ("svg", "pdf", "png"):
        out = tmp_path / f"g.{kind}"
        body = ok(capsys, "guides", path, "--school", "equal-thirds", "--out", str(out), "--height-mm", "100")
        sizes[kind] = body["page_mm"]
        assert out.stat().st_size > 2000
    page = PdfReader(tmp_path / "g.pdf").pages[0].mediabox
    assert [float(page.width) / 72 * 25.4, float(page.height) / 72 * 25.4] == pytest.approx(sizes["pdf"], abs=0.5)
    with Image.open(tmp_path / "g.png") as im:
        dpi = im.info["dpi"]
        assert [im.width / dpi[0] * 25.4, im.height / dpi[1] * 25.4] == pytest.approx(sizes["png"], abs=0.5)
        assert np.asarray(im.convert("L")).min() < 200
    assert ET.parse(tmp_path / "g.svg").getroot().tag.endswith("svg")
    ok(
        capsys,
        "guides",
        "--style",
        "low-lantern",
        "--school",
        "circle-and-cross",
        "--set",
        "D=0.7",
        "--out",
        str(tmp_path / "s.svg"),
    )
    assert sorted(f.name for f in tmp_path.glob(".*")) == []


def test_a_head_at_any_turn(capsys, landmark_file, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """JSON in heads about the head's centre; the drawing at true size, parsed back and measured."""
    marks = marks_of(face(nose_length_hh=0.25))
    path = landmark_file(marks, "h.json")
    out = tmp_path / "h.svg"
    front = ok(capsys, "head", path, "--out", str(out), "--height-mm", "100")
    assert set(front) == {"landmarks", "guides", "contour", "strokes"} and set(front["landmarks"]) == set(FRONT.names)
    hh = marks.points["gnathion"][1] - marks.points["vertex"][1]
    eye = front["landmarks"]["exocanthion_l"]
    assert eye["visible"] and eye["xy"][1] == pytest.approx(
        (marks.points["exocanthion_l"][1] - marks.points["vertex"][1]) / hh - 0.5, abs=1e-6
    )
    ys = [y for _, y in front["contour"]]
    assert min(ys) == pytest.approx(-0.5, abs=2e-3) and max(ys) == pytest.approx(0.5, abs=2e-3)
    root = ET.fromstring(out.read_text())
    ns = {"s": "http://www.w3.org/2000/svg"}
    layers = {g.get("id"): g for g in root.findall("s:g", ns)}
    assert {"hidden", "guides", "outline", "features"} <= set(layers) and layers["outline"].find("s:title", ns) is not None
    numbers = [
        [float(v) for v in q.split()]
        for p in layers["outline"].findall("s:path", ns)
        if p.get("data-name") == "head"
        for ring in p.get("d", "").split("M")[1:]
        for q in ring.rstrip("Z").split("L")
    ]
    tall = max(y for _, y in numbers) - min(y for _, y in numbers)
    assert tall == pytest.approx(100 + 1.34 * 100 / 120, abs=0.6)  # and half a pen's width over the crown and under the chin
    turned = ok(capsys, "head", "--style", "low-lantern", "--yaw", "40", "--pitch", "10")
    assert turned["landmarks"]["pronasale"]["xy"][0] > 0.1
    for g in turned["guides"].values():
        assert len(g["points"]) == len(g["visible"])
    for name in ("h.pdf", "h.png"):
        ok(capsys, "head", path, "--yaw", "90", "--out", str(tmp_path / name))
        assert (tmp_path / name).stat().st_size > 2000


def test_a_head_with_a_school_an_expression_and_a_light(capsys, landmark_file, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    path = landmark_file(marks_of(face()), "e.json")
    plain = ok(capsys, "head", path)
    guided = ok(capsys, "head", path, "--school", "circle-and-cross", "--set", "D=0.7", "--yaw", "30")
    assert {"skull circle", "cross", "nose base"} <= set(guided["guides"]) and "centre line, back" not in guided["guides"]
    ring = np.array(guided["guides"]["skull circle"]["points"])
    assert np.ptp(ring[:, 0]) == pytest.approx(0.7, abs=1e-3) == pytest.approx(np.ptp(ring[:, 1]), abs=2e-3)
    wide = ok(capsys, "head", path, "--expression", "surprised")
    assert wide["landmarks"]["gnathion"]["xy"][1] > plain["landmarks"]["gnathion"]["xy"][1] + 0.02
    assert wide["landmarks"]["zygion_l"] == plain["landmarks"]["zygion_l"] and set(wide["landmarks"]) == set(FRONT.names)
    near = ok(capsys, "head", path, "--distance", "2.5")
    assert near["landmarks"]["pronasale"]["xy"][1] != plain["landmarks"]["pronasale"]["xy"][1]
    out = tmp_path / "lit.svg"
    ok(capsys, "head", path, "--yaw", "20", "--light", "-40", "35", "--out", str(out))
    groups = {g.get("id") for g in ET.fromstring(out.read_text()).findall("{http://www.w3.org/2000/svg}g")}
    assert "shadow" in groups
    sheet = tmp_path / "faces.svg"
    ok(capsys, "head", path, "--expressions", "--out", str(sheet), "--height-mm", "40")
    assert "surprised: mouth line" in sheet.read_text()


def test_a_drawing_starts_from_any_feature(capsys, landmark_file, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """The eye was drawn 14 mm wide: on the page it measures 14 mm."""
    path, out = landmark_file(marks_of(face()), "s.json"), tmp_path / "g.svg"
    told = ok(capsys, "guides", path, "--start", "eye=14", "--out", str(out))
    f = face()
    assert told["head_mm"] == pytest.approx(14 / (f["eye_width_fw"] * f["face_width_hh"]), rel=2e-3)
    lids = [
        p for p in ET.fromstring(out.read_text()).iter("{http://www.w3.org/2000/svg}path") if p.get("data-name") == "upper lid l"
    ]
    x = [float(q.split()[0]) for q in lids[0].get("d", "")[1:].split("L")]
    assert max(x) - min(x) == pytest.approx(14, abs=0.05)
    ok(capsys, "head", path, "--start", "face=60", "--out", str(tmp_path / "h.svg"))
    assert "Head" in (tmp_path / "h.svg").read_text()


def test_a_projects_head_wears_its_features(capsys, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    demo = str(tmp_path / "d.orthomet")
    assert run(capsys, "demo", "--write", demo)[0] == 0
    hairy, bald = tmp_path / "w.svg", tmp_path / "b.svg"
    told = ok(capsys, "head", f"{demo}:wick", "--out", str(hairy))
    assert (
        told["landmarks"]["vertex"]["visible"]
        == ok(capsys, "head", f"{demo}:wick", "--bald", "--out", str(bald))["landmarks"]["vertex"]["visible"]
    )
    assert 'id="hair"' in hairy.read_text() and 'id="hair"' not in bald.read_text() and "lash l 1" in hairy.read_text()
    ok(capsys, "guides", f"{demo}:lorn", "--school", "profile", "--out", str(tmp_path / "p.svg"))
    assert "face plumb" in (tmp_path / "p.svg").read_text()


def test_check_against_landmarks_and_project(capsys, landmark_file, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    marks = marks_of(face(nose_length_hh=0.25))
    lower = {
        n: (x, y + 32)
        for n, (x, y) in marks.points.items()
        if n in ("stomion", "cheilion_l", "cheilion_r", "labiale_superius", "labiale_inferius", "sublabiale")
    }
    body = ok(capsys, "check", landmark_file(moved(marks, **lower), "d.json"), "--against", landmark_file(marks, "p.json"))
    (f,) = body["findings"]
    assert (
        f["reading"] == "mouth_station"
        and f["difference_hh"] == pytest.approx(0.04, abs=1e-3)
        and f["difference_px"] == pytest.approx(32, abs=0.5)
    )
    assert body["fixes"][0]["move"] == "mouth up/down" and body["fixes"][0]["amount_px"] == pytest.approx(-32, abs=0.5)
    rng = np.random.default_rng(0)
    crooked = {n: (x + rng.normal() * 8, y + rng.normal() * 8) for n, (x, y) in marks.points.items()}
    crooked_file = landmark_file(moved(marks, **crooked), "c.json")
    assert ok(capsys, "check", crooked_file, "--against", crooked_file)["findings"] == []  # an uneven face agrees with itself
    demo = str(tmp_path / "demo.orthomet")
    assert main(["demo", "--write", demo]) == 0
    from orthomet.demo.project import demo_project

    drawing = demo_project().project.characters[0].drawings[0].marks.landmarks()
    for who in ("", ":berta", ":Berta Sprake"):
        got = ok(capsys, "check", landmark_file(drawing, "r.json"), "--against", demo + who)
        assert sorted(f["reading"] for f in got["findings"]) == ["eye_width_l_fw", "mouth_station"]


def test_a_turn_is_undone_before_a_face_is_measured(capsys, landmark_file, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """The demo's own solid turned by 30°: widths within 3 % and stations within 1 % of the head, by file and by option."""
    from orthomet.core.landmarks.files import landmarks_to_text
    from orthomet.core.landmarks.points import from_array
    from orthomet.core.landmarks.turn import Turn
    from orthomet.demo.painting.paint import SITTERS
    from orthomet.demo.painting.turned import landmark_depths, sitter_points
    from tests.core.test_turn import seen

    s, turn = SITTERS["lorn"][0], Turn(yaw=30)
    flat = sitter_points(s)
    files = {}
    for name, xy, said in (
        ("flat", flat, None),
        ("told", seen(flat, landmark_depths(s), turn), turn),
        ("bare", seen(flat, landmark_depths(s), turn), None),
    ):
        files[name] = tmp_path / f"{name}.json"
        files[name].write_text(landmarks_to_text(from_array(xy * 800 + 900, turn=said)))
    truth = ok(capsys, "measure", str(files["flat"]))["readings"]
    told = ok(capsys, "measure", str(files["told"]))
    given = ok(capsys, "measure", str(files["bare"]), "--turn", "30", "0", "0")
    bare = ok(capsys, "measure", str(files["bare"]))
    assert told["turn"]["yaw"] == given["turn"]["yaw"] == 30 and "turn" not in bare
    for body in (told, given):
        rows = body["readings"]
        for key in ("eye_width_fw", "mouth_width_fw", "nose_width_fw", "face_width_hh"):
            assert rows[key]["value"] == pytest.approx(truth[key]["value"], rel=0.03), key
        assert (
            rows["eye_station"]["value"] == pytest.approx(truth["eye_station"]["value"], abs=0.01)
            and rows["eye_station"]["trusted"]
        )
    off = abs(bare["readings"]["face_width_hh"]["value"] / truth["face_width_hh"]["value"] - 1)
    assert off > 0.05 and "trusted" not in bare["readings"]["face_width_hh"]
    far = ok(capsys, "measure", str(files["bare"]), "--turn", "-60", "0", "0")["readings"]
    assert not all(r["trusted"] for r in far.values())
    code, out, _ = run(capsys, "measure", str(files["told"]))
    assert code == 0 and out.startswith("Turned by yaw +30°")
    code, _, err = run(capsys, "measure", str(files["told"]), "--turn", "400", "0", "0")
    assert code == 2 and "--turn wants yaw" in err
    from orthomet.demo.painting.paint import OUT

    code, _, err = run(capsys, "measure", str(OUT / "berta-profile.json"), "--turn", "30", "0", "0")
    assert code == 2 and "shows a profile" in err
    planned = [
        ok(capsys, "plan", str(files[n]), "--style-weight", "0")["plan"]["face_width_hh"] for n in ("flat", "told", "bare")
    ]
    assert planned[1] == pytest.approx(planned[0], rel=0.03) and abs(planned[2] / planned[0] - 1) > 0.03
    again = tmp_path / "again.json"
    ok(capsys, "landmarks", str(files["told"]), "--out", str(again))
    assert json.loads(again.read_text())["turn"]["yaw"] == 30


def test_demo_and_validate(capsys, tmp_path: Path, landmark_file) -> None:  # type: ignore[no-untyped-def]
    demo = tmp_path / "demo.orthomet"
    assert main(["demo", "--write", str(demo)]) == 0
    body = ok(capsys, "validate", str(demo))
    assert body["valid"] and "Berta Sprake" in body["characters"] and body["pictures"] >= 4
    assert ok(capsys, "validate", landmark_file(marks_of()))["missing"] == []
    assert ok(capsys, "guides", f"{demo}:wick", "--out", str(tmp_path / "w.svg"))["head_mm"] == 120


def test_lists(capsys) -> None:  # type: ignore[no-untyped-def]
    assert {"mouth_station", "eye_gap_ew"} <= {r["name"] for r in ok(capsys, "readings")}
    assert {r["name"] for r in ok(capsys, "schools")} == {
        "halves", "equal-thirds", "circle-and-cross", "low-eyes", "oval-and-axes", "framed-head", "profile",
    }  # fmt: skip
    assert len(ok(capsys, "styles")) >= 3
    for name in ("readings", "schools", "styles"):
        code, out, _ = run(capsys, name)
        assert code == 0 and out.count("\n") >= 3


def test_a_style_file_and_plain_text_outputs(capsys, landmark_file, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    path = tmp_path / "mine.json"
    path.write_text(json.dumps({"name": "mine", "title": "Mine", "readings": {"eye_width_fw": {"mean": 0.3}}}))
    face_file = landmark_file(marks_of())
    body = ok(capsys, "plan", face_file, "--style", str(path), "--style-weight", "1", "--emphasis", "0")
    assert body["plan"]["eye_width_fw"] == pytest.approx(0.3)
    for args in (["measure", face_file], ["plan", face_file], ["check", face_file, "--against", face_file]):
        code, out, err = run(capsys, *args)
        assert code == 0 and out and not err


BAD = [
    (["measure", "/nowhere.json"], "cannot be read"),
    (["plan", "{face}", "--style", "nobody"], "no style named"),
    (["plan", "{face}", "--style-weight", "2"], "style weight"),
    (["plan", "{face}", "--emphasis", "nan"], "ordinary number"),
    (["plan", "{face}", "--emphasis-for", "nose=2"], "no reading named"),
    (["plan", "{face}", "--emphasis-for", "nose_length_hh"], "NAME=NUMBER"),
    (["plan", "{face}", "--norm", "martian"], "no norm named"),
    (["guides", "{face}", "--out", "x.gif"], "none of them"),
    (["head", "{face}", "--yaw", "120", "--json"], "outside"),
    (["head", "{face}", "--pitch", "-61", "--json"], "outside"),
    (["head", "{face}", "--chin", "0.5", "--json"], "more"),
    (["head", "{face}", "--out", "x.gif"], "none of them"),
    (["head", "{face}", "--school", "octagons", "--json"], "no school named"),
    (["head", "{face}", "--school", "halves", "--set", "D=3", "--json"], "runs from"),
    (["head", "{face}", "--expression", "furious", "--json"], "no expression named"),
    (["head", "{face}", "--distance", "1", "--json"], "2 to 100"),
    (["head", "{face}", "--light", "20", "95", "--json"], "stands within"),
    (["head", "{face}", "--start", "wing=3", "--out", "x.svg"], "no feature to start from named"),
    (["guides", "{face}", "--start", "eye=9999", "--out", "x.svg"], "10 to 2000 mm"),
    (["head", "{face}"], "--out"),
    (["head", "--json"], "either"),
    (["guides", "{face}", "--out", "/nowhere/x.svg"], "cannot be written"),
    (["guides", "{face}", "--school", "nobody", "--out", "x.svg"], "no guide school|no school"),
    (["guides", "{face}", "--height-mm", "-5", "--out", "x.svg"], "mm tall"),
    (["guides", "--out", "x.svg"], "either"),
    (["guides", "{face}", "--set", "Q=1", "--out", "x.svg"], "no setting"),
    (["check", "{face}", "--against", "/nowhere.orthomet"], "cannot be read"),
    (["check", "{few}", "--against", "{face}"], "three landmarks"),
    (["check", "{face}", "--against", "{few}"], "crown and its chin|three landmarks"),
    (["validate", "{text}"], "not proper JSON|does not read"),
    (["validate", "{list}"], "does not read"),
    (["measure", "{up}"], "above the crown"),
    (["measure", "{view}"], "not known"),
    (["nonsense"], ""),
    (["measure"], "required"),
]


@pytest.mark.parametrize(("args", "words"), BAD)
def test_errors_are_one_sentence_and_exit_two(capsys, landmark_file, tmp_path: Path, args: list[str], words: str) -> None:  # type: ignore[no-untyped-def]
    if args == ["nonsense"]:
        args = ["open", str(tmp_path / "nonsense"), "--what"]
    files = {
        "face": landmark_file(marks_of(), "face.json"),
        "few": landmark_file({"points": {"stomion": [1, 2]}}, "few.json"),
        "up": landmark_file({"points": {"vertex": [0, 9], "gnathion": [0, 1]}}, "up.json"),
        "view": landmark_file({"view": "upside", "points": {}}, "view.json"),
        "list": landmark_file({"points": [1, 2]}, "list.json"),
    }
    (tmp_path / "text.json").write_text("hello")
    files["text"] = str(tmp_path / "text.json")
    code, out, err = run(capsys, *(a.format(**files) if a.startswith("{") else a for a in args))
    assert code == 2 and out == ""
    assert err.startswith("orthomet: ") and err.count("\n") == 1 and "Traceback" not in err
    import re

    assert re.search(words, err), err


def test_no_display_is_said(tmp_path: Path) -> None:
    env = {"PATH": "/usr/bin:/bin", "HOME": str(tmp_path)}
    p = subprocess.run([sys.executable, "-m", "orthomet", "demo"], capture_output=True, text=True, env=env, timeout=60)
    assert p.returncode == 2 and "no display" in p.stderr and "xvfb-run" in p.stderr and "Traceback" not in p.stderr


def test_core_imports_no_qt() -> None:
    code = (
        "import sys, pkgutil, importlib, orthomet.core as c\n"
        "[importlib.import_module(m.name) for m in pkgutil.walk_packages(c.__path__, 'orthomet.core.')]\n"
        "print([m for m in sys.modules if 'PySide' in m or m.startswith('orthomet.app')])"
    )
    p = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=60)
    assert p.stdout.strip() == "[]", p.stderr


def test_points_are_found_on_a_picture_and_stay_unsure(capsys, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """The demo's portrait: everything is laid, nothing is judged, and the picture's own size goes with it."""
    from orthomet.demo.painting.paint import OUT

    out = str(tmp_path / "auto.json")
    body = ok(capsys, "landmarks", str(OUT / "berta.jpg"), "--auto", "--out", out)
    assert body["faces"] == body["face"] == 1 and body["points"] == len(body["estimated"]) > 50
    assert set(body["turn"]) >= {"yaw", "pitch", "roll"} and abs(body["turn"]["yaw"]) < 4 and body["refined"]
    truth = json.loads((OUT / "berta.json").read_text())["points"]
    found = json.loads(Path(out).read_text())
    assert found["size"] == [1500, 1370] and set(found["states"].values()) == {"estimated"}
    for name in ("endocanthion_l", "stomion", "alare_r"):
        assert math.dist(found["points"][name], truth[name]) < 25, name
    rows = ok(capsys, "measure", out)["readings"]
    assert rows["eye_width_fw"]["state"] == "estimated" and rows["eye_width_fw"]["z"] is None
    pts = str(tmp_path / "auto.pts")
    ok(capsys, "landmarks", str(OUT / "berta.jpg"), "--auto", "--out", pts)
    assert Path(pts).read_text().startswith("version: 1\nn_points: 68")
    code, _, err = run(capsys, "landmarks", str(OUT / "berta.jpg"), "--auto", "--face", "3", "--out", out)
    assert code == 2 and "number 3" in err
    Image.new("RGB", (400, 400), (120, 130, 140)).save(tmp_path / "blank.png")
    code, _, err = run(capsys, "landmarks", str(tmp_path / "blank.png"), "--auto", "--out", out)
    assert code == 2 and "No face" in err
    code, _, err = run(capsys, "landmarks", str(OUT / "berta.jpg"), "--out", out)
    assert code == 2 and "--auto" in err


def test_hairstyles_at_the_command_line(capsys, landmark_file, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    """Names as a JSON list; a style by name with its parameters; strokes in heads; plain lines; errors in one sentence."""
    path = landmark_file(marks_of(face()), "k.json")
    names = ok(capsys, "head", "--hair", "list")
    assert len(names) >= 15 and "two braids" in names
    bare, braided = (ok(capsys, "head", path, *more) for more in ((), ("--hair", "Two Braids", "--set", "hair.back=2")))
    assert braided["landmarks"]["zygion_l"] == bare["landmarks"]["zygion_l"] and braided["contour"] == bare["contour"]
    assert braided["landmarks"]["hair_top"]["xy"][1] < -0.53
    assert len(braided["strokes"]) > len(bare["strokes"]) > 20
    for stroke in braided["strokes"]:
        assert set(stroke) == {"kind", "points", "widths"} and len(stroke["points"]) == len(stroke["widths"])
        assert max(stroke["widths"]) < 0.02
    assert {s["kind"] for s in braided["strokes"]} >= {"contour", "edge", "strand", "feature"}
    gone = ok(capsys, "head", path, "--hair", "knot", "--no-hair")
    assert len(gone["strokes"]) == len(bare["strokes"])
    out = tmp_path / "plain.svg"
    ok(capsys, "head", path, "--hair", "soft bob", "--line", "centre", "--out", str(out))
    assert 'id="hair"' in out.read_text() and "nonzero" not in out.read_text()
    for bad, words in (
        (("--hair", "quiff"), "no hairstyle named"), (("--set", "hair.nose=1"), "no parameter of the hair"),
        (("--set", "hair.lift=4"), "runs from 0 to 0.2"), (("--set", "hair.lift=much"), "NAME=NUMBER"),
    ):  # fmt: skip
        code, _, err = run(capsys, "head", path, *bad, "--json")
        assert code == 2 and words in err and err.count("\n") == 1
