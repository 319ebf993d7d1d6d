"""Files somebody else wrote, and targets that are not what they seem."""

from __future__ import annotations

import io
import json
import os
import resource
import signal
import subprocess
import sys
import time
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from orthomet.core.errors import LONGEST, Cancelled, FormatError, OrthometError, ProjectError, UnknownName, shortened
from orthomet.core.files import read_bounded, replacing, shown_name, sweep, write_whole
from orthomet.core.landmarks.files import read_landmarks
from orthomet.core.landmarks.pts import from_pts
from orthomet.core.project.lock import FileLock
from orthomet.core.project.model import FORMAT_VERSION
from orthomet.core.project.store import from_json, read, to_json, write
from orthomet.core.strict_json import MAX_KEYS, parse_json
from orthomet.core.styles.library import style

from .test_project import stored


@pytest.mark.parametrize("absolute", [True, False])
def test_a_link_is_followed_and_goes_on_pointing(tmp_path: Path, absolute: bool) -> None:
    real, link = tmp_path / "deep" / "real.orthomet", tmp_path / "link.orthomet"
    real.parent.mkdir()
    write(real, stored())
    link.symlink_to(real if absolute else Path("deep") / "real.orthomet")
    again = type(stored())(stored().project.model_copy(update={"title": "Again"}), stored().pictures)
    write(link, again)
    assert link.is_symlink() and read(real).project.title == "Again"
    (tmp_path / "a.svg").symlink_to(tmp_path / "not-yet.svg")
    write_whole(tmp_path / "a.svg", b"new")
    assert (tmp_path / "not-yet.svg").read_bytes() == b"new" and (tmp_path / "a.svg").is_symlink()


def test_a_read_only_file_is_left_alone(tmp_path: Path) -> None:
    target = tmp_path / "kept.svg"
    target.write_bytes(b"mine")
    target.chmod(0o444)
    for attempt in (lambda: write_whole(target, b"new"), lambda: write(target, stored())):
        with pytest.raises(ProjectError, match="read-only"):
            attempt()
    assert target.read_bytes() == b"mine" and target.stat().st_mode & 0o777 == 0o444 and len(list(tmp_path.iterdir())) == 1


def test_the_mode_is_kept_and_a_new_file_gets_the_usual_one(tmp_path: Path) -> None:
    old = tmp_path / "old.css"
    old.write_bytes(b"a")
    old.chmod(0o640)
    write_whole(old, b"b")
    write_whole(tmp_path / "new.css", b"c")
    (tmp_path / "plain").write_bytes(b"")
    assert old.stat().st_mode & 0o777 == 0o640
    assert (tmp_path / "new.css").stat().st_mode == (tmp_path / "plain").stat().st_mode


@pytest.mark.parametrize("kind", ["pipe", "device", "linked pipe", "folder"])
def test_what_is_no_ordinary_file_is_refused_at_once(tmp_path: Path, kind: str) -> None:
    path = tmp_path / "x.json"
    if kind == "pipe":
        os.mkfifo(path)
    elif kind == "device":
        path = Path("/dev/zero")
    elif kind == "linked pipe":
        os.mkfifo(tmp_path / "p")
        path.symlink_to(tmp_path / "p")
    else:
        path.mkdir()
    start = time.monotonic()
    for attempt in (
        lambda: read(path),
        lambda: read_landmarks(path),
        lambda: style(str(path) if path.suffix else "/dev/zero.json"),
    ):
        with pytest.raises(OrthometError) as e:
            attempt()
        assert len(str(e.value)) <= LONGEST
    if kind != "device":
        with pytest.raises(ProjectError, match=r"ordinary|directory"):
            write_whole(path, b"x")
    assert time.monotonic() - start < 1


def test_the_bound_holds_while_reading(tmp_path: Path) -> None:
    path = tmp_path / "big"
    path.write_bytes(b"x" * 100)
    assert read_bounded(path, 100) == b"x" * 100
    with pytest.raises(OSError, match="too large"):
        read_bounded(path, 99)


def test_a_full_disk_leaves_the_old_file_and_nothing_beside_it(tmp_path: Path) -> None:
    code = """
import resource, signal, sys
from orthomet.core.files import write_whole
from orthomet.core.errors import ProjectError
signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
resource.setrlimit(resource.RLIMIT_FSIZE, (1000, 1000))
try:
    write_whole(sys.argv[1], b"x" * 5000)
except ProjectError as e:
    print(e)
"""
    target = tmp_path / "t.svg"
    target.write_bytes(b"old")
    p = subprocess.run([sys.executable, "-c", code, str(target)], capture_output=True, text=True, timeout=60)
    assert "cannot be written" in p.stdout and target.read_bytes() == b"old" and len(list(tmp_path.iterdir())) == 1
    assert resource.getrlimit(resource.RLIMIT_FSIZE)[0] == resource.RLIM_INFINITY and signal.SIGXFSZ


HELD = """
import sys, time
from orthomet.core.files import replacing
with replacing(sys.argv[1]) as f:
    f.write(b"half")
    f.flush()
    print("writing", flush=True)
    time.sleep(60)
"""


def test_what_a_killed_writer_left_is_swept_and_a_living_ones_part_is_not(tmp_path: Path) -> None:
    target = tmp_path / "a.orthomet"
    writers = [subprocess.Popen([sys.executable, "-c", HELD, str(target)], stdout=subprocess.PIPE, text=True) for _ in range(2)]
    for w in writers:
        assert w.stdout is not None and w.stdout.readline() == "writing\n"
    assert len(list(tmp_path.iterdir())) == 2 and sweep(target) == 0
    writers[0].kill()
    writers[0].wait()
    write(target, stored())  # a save sweeps
    assert len([f for f in tmp_path.iterdir() if f.name.endswith(".part")]) == 1
    writers[1].kill()
    writers[1].wait()
    read(target)  # and so does opening
    assert [f.name for f in tmp_path.iterdir()] == ["a.orthomet"]


def test_a_block_that_fails_changes_nothing(tmp_path: Path) -> None:
    target = tmp_path / "x"
    target.write_bytes(b"old")
    with pytest.raises(ZeroDivisionError), replacing(target) as f:
        f.write(b"new")
        _ = 1 / 0
    assert target.read_bytes() == b"old" and len(list(tmp_path.iterdir())) == 1


# ---- projects that would keep one busy


def body() -> dict[str, Any]:
    return json.loads(to_json(stored().project))


@pytest.mark.parametrize(
    "where", ["characters", "studies", "references", "drawings", "versions", "spans", "noticed", "swatches", "marks"]
)
def test_a_small_file_cannot_keep_the_program_busy(tmp_path: Path, where: str) -> None:
    b, many = body(), [{}] * 400_000
    holder = b if where in ("characters", "studies") else b["characters"][0]
    if where == "marks":
        holder["references"][0]["marks"]["points"] = {f"p{k}": 1 for k in range(400_000)}
    else:
        holder[where] = many
    path = tmp_path / "many.orthomet"
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as z:
        z.writestr("project.json", json.dumps(b))
    start = time.monotonic()
    with pytest.raises(ProjectError) as e:
        read(path)
    assert time.monotonic() - start < 5 and len(str(e.value)) <= LONGEST
    assert "many" in str(e.value) and ("up to" in str(e.value) or "too many" in str(e.value))


def test_opening_is_given_up_between_two_pieces() -> None:
    asked: list[int] = []

    def stop() -> bool:
        asked.append(1)
        return len(asked) > 2

    with pytest.raises(Cancelled):
        from_json(to_json(stored().project), stop=stop)
    assert len(asked) == 3


def test_names_said_twice_and_endless_numbers_are_refused() -> None:
    text = to_json(stored().project)
    for bad, words in (
        (text.replace('"title"', '"title": "x", "title"', 1), "twice"),
        (text.replace(f'"format_version": {FORMAT_VERSION}', '"format_version": ' + "9" * 4400, 1), "digits"),
        ("[" * 100_000, "nested"),
        ('{"a": ' + json.dumps({f"k{n}": 0 for n in range(MAX_KEYS + 1)}) + "}", "too many names"),
    ):
        with pytest.raises(ProjectError, match=words) as e:
            from_json(bad)
        assert len(str(e.value)) <= LONGEST
    with pytest.raises(FormatError, match="68-point"):
        from_pts("version: 1\nn_points: " + "9" * 5000 + "\n{\n0 0\n}\n")


def test_damage_inside_the_zip_is_a_sentence(tmp_path: Path) -> None:
    whole = tmp_path / "a.orthomet"
    write(whole, stored())
    for how in (zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2, zipfile.ZIP_DEFLATED):
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", how) as z:
            z.writestr("project.json", to_json(stored().project) * 20)
        data = bytearray(out.getvalue())
        data[60:400] = bytes(340)
        (tmp_path / "bad.orthomet").write_bytes(bytes(data))
        with pytest.raises(ProjectError):
            read(tmp_path / "bad.orthomet")
    name = whole.read_bytes().replace(b"project.json", b"pro\xff\xfect.json")
    flags = bytearray(name)
    for mark, at in ((b"PK\x03\x04", 6), (b"PK\x01\x02", 8)):  # says that its names are UTF-8
        i = flags.find(mark)
        flags[i + at + 1] |= 0x08
    (tmp_path / "name.orthomet").write_bytes(bytes(flags))
    with pytest.raises(ProjectError, match="damaged"):
        read(tmp_path / "name.orthomet")


@given(st.text(max_size=2000))
@settings(max_examples=60, deadline=None)
def test_no_sentence_is_longer_than_a_screen_or_broken(words: str) -> None:
    text = shortened(words)
    assert len(text) <= LONGEST and "\n" not in text and text.isprintable()
    assert len(str(UnknownName("style", words, ["a", "b"]))) <= LONGEST


@given(st.recursive(st.none() | st.booleans() | st.floats(allow_nan=False) | st.integers(-(10**20), 10**20) | st.text(max_size=20),
                    lambda v: st.lists(v, max_size=5) | st.dictionaries(st.text(max_size=8), v, max_size=5), max_leaves=30))  # fmt: skip
@settings(max_examples=80, deadline=None)
def test_bounded_parsing_reads_what_the_library_reads(value: Any) -> None:
    assert parse_json(json.dumps(value), "x") == json.loads(json.dumps(value))


@pytest.mark.parametrize(
    "text", ['{"a": "\\ud800"}', '["\\uDC00x"]', '{"\\udbff": 1}', b'{"a": "\xed\xa0\x80"}', '{"a": "\ud800"}']
)
def test_halves_of_letters_are_refused_since_they_could_not_be_saved_again(text: str | bytes) -> None:
    with pytest.raises(FormatError, match=r"half a letter|not text"):
        parse_json(text, "It")


def test_two_halves_are_a_letter_and_a_spelled_out_backslash_is_one() -> None:
    assert parse_json(r'["\ud83d\ude00", "\\ud800"]', "It") == ["\U0001f600", "\\ud800"]
    assert parse_json(b"\xef\xbb\xbf[1]", "It") == parse_json("[1]".encode("utf-16"), "It") == [1]


def test_no_record_takes_half_a_letter_wherever_its_words_stand() -> None:
    body = json.loads(to_json(stored().project))

    def places(at: Any) -> Iterator[tuple[Any, Any]]:
        for k, v in at.items() if isinstance(at, dict) else enumerate(at):
            if isinstance(v, str):
                yield at, k
            elif isinstance(v, dict | list):
                yield from places(v)

    found = list(places(body))
    assert len(found) > 20
    for at, k in found:
        was, at[k] = at[k], "\ud800"
        with pytest.raises(ProjectError):
            from_json(json.dumps(body))
        at[k] = was


ODD = os.fsdecode(b"Ren\xe9 \xff")
"""A name in another alphabet than today's."""


def test_files_whose_names_are_no_letters_are_written_read_and_locked(tmp_path: Path) -> None:
    folder = tmp_path / ODD
    folder.mkdir()
    for name in (ODD, os.fsdecode(b"\xff"), os.fsdecode(b"\xfe" * 250)):
        path = folder / name
        write(path, stored())
        assert read(path).project == stored().project
        first, second = FileLock(path), FileLock(path)
        assert first.acquire() and not second.acquire()
        first.release()
    assert len(list(folder.iterdir())) == 3
    assert shown_name(folder / ODD) == "Ren\ufffd \ufffd"
