"""The project: edits and undo, save and open, and everything a hostile or unlucky file can do."""

from __future__ import annotations

import io
import json
import os
import signal
import subprocess
import sys
import zipfile
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image as Pillow

from orthomet.core.errors import ProjectError
from orthomet.core.hashing import content_hash
from orthomet.core.landmarks.points import State
from orthomet.core.pose.model import Pose
from orthomet.core.project import edits
from orthomet.core.project.journal import Journal, discard, recoverable
from orthomet.core.project.lock import FileLock
from orthomet.core.project.model import FORMAT_VERSION, Character, Drawing, Image, Marks, Project, Reference
from orthomet.core.project.store import Stored, from_json, picture_entry, read, to_json, write
from orthomet.core.shapes.model import Part, Shape


def png(seed: int = 0, size: tuple[int, int] = (12, 9)) -> bytes:
    a = np.random.default_rng(seed).integers(0, 255, (size[1], size[0], 3), dtype=np.uint8)
    out = io.BytesIO()
    Pillow.fromarray(a).save(out, "PNG")
    return out.getvalue()


def stored() -> Stored:
    data = png()
    im = Image(hash=content_hash(data), suffix="png", size=(12, 9))
    marks = Marks(
        points={"vertex": (1.25, 2.5), "gnathion": (1.0, 8.0)}, states={"vertex": State.ESTIMATED}, spread={"gnathion": 0.5}
    )
    ref = Reference(id="r", name="Face", image=im, credit="nobody", marks=marks)
    c = Character(
        id="c",
        name="Ösk “the” Tall",
        references=(ref,),
        noticed=("nose_length_hh", "freckles"),
        drawings=(Drawing(id="d", name="rough", image=im),),
    )
    return Stored(Project(title="Fähre", characters=(c,)), {im.hash: data})


EDITS = st.lists(
    st.one_of(
        st.tuples(st.just("rename"), st.text(min_size=1, max_size=12)),
        st.tuples(st.just("add"), st.integers(0, 3)),
        st.tuples(st.just("remove"), st.integers(0, 3)),
        st.tuples(st.just("emphasis"), st.floats(-5, 5)),
        st.tuples(st.just("offset"), st.one_of(st.none(), st.floats(-2, 2))),
        st.tuples(st.just("weight"), st.one_of(st.none(), st.floats(0, 1))),
        st.tuples(st.just("pose"), st.floats(0, 7)),
        st.tuples(st.just("shape"), st.integers(0, 5)),
        st.tuples(st.just("place"), st.tuples(st.floats(-1e4, 1e4), st.floats(-1e4, 1e4))),
        st.tuples(st.just("confirm"), st.none()),
        st.tuples(st.just("take"), st.none()),
        st.tuples(st.just("meant"), st.none()),
        st.tuples(st.just("drop-reference"), st.none()),
    ),
    max_size=14,
)


def _part(pid: str) -> Part:
    return Part(id=pid, name=pid, kind="circle", shape=Shape(kind="circle", x=0, y=0, width=1, height=1))


def _added(pid: str, front: bool) -> edits.Edit:
    def once(p: Project) -> Project:
        c = p.character("c")
        return p if c is None or c.shapes.part(pid) is not None else edits.add_parts("c", (_part(pid),), front)(p)

    return once


SHAPE_EDITS = (
    lambda: _added("a", True),
    lambda: _added("b", False),
    lambda: edits.change_part("c", "a", detail=0.5),
    lambda: edits.move_part("c", "a", 1),
    lambda: edits.remove_part("c", "a"),
    lambda: edits.set_shapes("c", lambda s: s.model_copy(update={"feeds_plan": not s.feeds_plan})),
)


def as_edit(kind: str, v: object) -> edits.Edit:
    def marks(change: object) -> edits.Edit:
        def one(p: Project) -> Project:
            c = p.character("c")
            if c is None or not c.references:
                return p
            return edits.change_reference("c", "r", marks=change(c.references[0].marks))(p)  # type: ignore[operator]

        return one

    table = {
        "rename": lambda: edits.rename_project(v),
        "add": lambda: edits.add_character(Character(id=f"n{v}", name="New")),
        "remove": lambda: edits.remove_character(f"n{v}"),
        "emphasis": lambda: edits.set_emphasis("c", "nose_length_hh", v),
        "offset": lambda: edits.set_offset("c", "mouth_station", v),
        "weight": lambda: edits.set_group_weight("c", "Eyes", v),
        "pose": lambda: edits.set_posing("c", lambda p: p.model_copy(update={"pose": Pose(angles={"elbow_l": (20.0 * v,)})})),
        "shape": lambda: SHAPE_EDITS[v](),
        "place": lambda: marks(lambda m: edits.place(m, {"stomion": v})),
        "confirm": lambda: marks(lambda m: edits.confirm(m, ["vertex"])),
        "take": lambda: marks(lambda m: edits.take_away(m, ["gnathion"])),
        "meant": lambda: edits.change_drawing("c", "d", meant=("mouth_station",)),
        "drop-reference": lambda: edits.remove_reference("c", "r"),
    }
    return table[kind]()  # type: ignore[no-any-return]


@settings(max_examples=60, deadline=None)
@given(EDITS)
def test_any_edits_then_undo_all_is_the_identical_tree_and_saving_is_the_identity(steps: list[tuple[str, object]]) -> None:
    p = start = stored().project
    history = []
    for kind, v in steps:
        try:
            new = as_edit(kind, v)(p)
        except ValueError:
            continue  # refused: nothing changes
        history.append(p)
        p = new
        assert from_json(to_json(p)) == p
    while history:
        p = history.pop()
    assert p is start and p == stored().project


def test_edits_share_what_they_do_not_touch() -> None:
    p = stored().project
    q = edits.add_character(Character(id="z", name="Z"))(p)
    assert q.characters[0] is p.characters[0]
    assert edits.set_character("nobody", name="x")(p) == p


def test_save_and_open(tmp_path: Path) -> None:
    s = stored()
    path = tmp_path / "a.orthomet"
    write(path, s)
    again = read(path)
    assert again.project == s.project and dict(again.pictures) == dict(s.pictures)
    body = json.loads(zipfile.ZipFile(path).read("project.json"))
    assert body["format_version"] == FORMAT_VERSION
    write(path, s)
    assert [f.name for f in tmp_path.iterdir()] == ["a.orthomet"]


def test_a_project_of_the_first_version_opens(tmp_path: Path) -> None:
    """Version 1 knew no studies, own spans, turns, pages or colours: all of them come up empty, everything else as it was."""
    s = stored()
    body = json.loads(to_json(s.project))
    new = (
        {"studies", "hand_left_out"},
        {"pooled", "spans", "idea", "directions", "needs", "swatches"},
        {"rights", "turn", "distance_m", "sheet", "feeds"},
    )
    for key in new[0]:
        body.pop(key, None)
    for c in body["characters"]:
        for key in new[1]:
            c.pop(key, None)
        c["decisions"].pop("chin_forward", None)
        for r in c["references"]:
            for key in new[2]:
                r.pop(key, None)
        for d in c["drawings"]:
            d.pop("sheet", None)
    body["format_version"] = 1
    path = tmp_path / "old.orthomet"
    write(path, s)
    with zipfile.ZipFile(path) as z:
        pictures = {n: z.read(n) for n in z.namelist() if n != "project.json"}
    old = read(rezip(path, **{"project.json": json.dumps(body)}, **pictures))
    assert old.project == s.project and old.project.studies == ()


def rezip(path: Path, **entries: bytes | str) -> Path:
    with zipfile.ZipFile(path, "w") as z:
        for name, data in entries.items():
            z.writestr(name, data)
    return path


def project_bytes(**changes: object) -> str:
    body = json.loads(to_json(Project()))
    return json.dumps({**body, **changes})


@pytest.mark.parametrize(
    ("entries", "words"),
    [
        ({}, "no project.json"),
        ({"project.json": project_bytes(), "../evil.txt": "x"}, "points outside"),
        ({"project.json": project_bytes(), "/etc/x": "x"}, "points outside"),
        ({"project.json": project_bytes(format_version=FORMAT_VERSION + 1)}, "newer Orthomet"),
        ({"project.json": project_bytes(format_version="one")}, "does not say which version"),
        ({"project.json": "{"}, "not proper JSON"),
        ({"project.json": "[]"}, "holds no project"),
        ({"project.json": "[" * 100_000}, "not proper JSON"),
        ({"project.json": project_bytes(characters=[{"id": "c"}])}, "does not read as a project"),
        ({"project.json": project_bytes(surprise=1)}, "does not read as a project"),
        ({"project.json": project_bytes(characters=[{"id": "c", "name": "n", "references": [
            {"id": "r", "name": "f", "image": {"hash": "../../etc/passwd", "suffix": "png", "size": [1, 1]}}]}])}, "hash"),
    ],
)  # fmt: skip
def test_hostile_files_get_a_sentence(tmp_path: Path, entries: dict[str, str], words: str) -> None:
    path = rezip(tmp_path / "x.orthomet", **entries)
    before = path.read_bytes()
    with pytest.raises(ProjectError, match=words):
        read(path)
    assert path.read_bytes() == before
    assert sorted(f.name for f in tmp_path.iterdir()) == ["x.orthomet"]


def test_bombs_missing_pictures_and_damage(tmp_path: Path) -> None:
    path = tmp_path / "bomb.orthomet"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("project.json", " " * (40 * 1024**2) + project_bytes())
    with pytest.raises(ProjectError, match="too large"):
        read(path)
    s = stored()
    write(path, s)
    im = next(iter(s.project.images().values()))
    rezip(path, **{"project.json": to_json(s.project)})
    with pytest.raises(ProjectError, match="lacks one of its pictures"):
        read(path)
    rezip(path, **{"project.json": to_json(s.project), picture_entry(im): png(9)})
    with pytest.raises(ProjectError, match="not the one it was"):
        read(path)
    write(path, s)
    data = path.read_bytes()
    for cut in (10, len(data) // 2, len(data) - 5):
        path.write_bytes(data[:cut])
        with pytest.raises(ProjectError):
            read(path)
    path.write_bytes(b"not a zip at all")
    with pytest.raises(ProjectError, match="not an Orthomet project"):
        read(path)
    with pytest.raises(ProjectError, match="cannot be read"):
        read(tmp_path / "nowhere.orthomet")


def test_a_failed_save_leaves_the_old_file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "a.orthomet"
    write(path, stored())
    before = path.read_bytes()

    def full(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(ProjectError, match="No space left"):
        write(path, Stored(Project(title="new")))
    assert path.read_bytes() == before
    assert [f.name for f in tmp_path.iterdir()] == ["a.orthomet"]
    monkeypatch.undo()
    with pytest.raises(ProjectError, match="could not be saved"):
        write(tmp_path / "no" / "folder.orthomet", stored())
    with pytest.raises(ProjectError, match="not at hand"):
        write(path, Stored(stored().project, {}))


def test_a_kill_while_saving_leaves_old_or_new(tmp_path: Path) -> None:
    path = tmp_path / "a.orthomet"
    write(path, stored())
    code = (
        "import sys\nfrom orthomet.core.project.store import *\nfrom orthomet.core.project.model import *\n"
        f"print('go', flush=True)\nk = 0\nwhile True:\n    k += 1\n    write({str(path)!r}, Stored(Project(title=f't{{k}}')))\n"
    )
    p = subprocess.Popen([sys.executable, "-c", code], stdout=subprocess.PIPE)
    assert p.stdout is not None
    p.stdout.readline()
    try:
        p.wait(0.4)
    except subprocess.TimeoutExpired:
        p.send_signal(signal.SIGKILL)
    p.wait()
    assert read(path).project.title.startswith(("t", "Fähre"))


def test_journal_brings_back_what_a_dead_window_had(tmp_path: Path) -> None:
    root = tmp_path / "journal"
    s = stored()
    here = Journal(root)
    here.record(s.project, s.pictures, "/x/a.orthomet")
    assert list(recoverable(root)) == []  # its window is alive: this one
    state = json.loads((here.folder / "state.json").read_text())
    (here.folder / "state.json").write_text(json.dumps({**state, "started": "0"}))
    (kept,) = recoverable(root)
    assert kept.stored.project == s.project and dict(kept.stored.pictures) == dict(s.pictures)
    assert kept.belongs_to == "/x/a.orthomet"
    (root / "broken").mkdir()
    (root / "broken" / "state.json").write_text("{}")
    assert len(list(recoverable(root))) == 1
    discard(kept)
    assert list(recoverable(root)) == []


def test_journal_trouble_is_said_and_does_not_stop_the_work(tmp_path: Path) -> None:
    blocked = tmp_path / "file"
    blocked.write_text("in the way")
    j = Journal(blocked)
    j.record(stored().project, stored().pictures)
    assert "kept safe" in j.trouble


def test_one_writer_per_file(tmp_path: Path) -> None:
    path = tmp_path / "a.orthomet"
    first, second = FileLock(path), FileLock(path)
    assert first.acquire() and first.acquire() and not second.acquire()
    first.release()
    assert second.acquire()
    second.release()
