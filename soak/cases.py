"""The kinds of case. Each takes its chances from one number, and raises, or ends its process, when something is not as it must be."""

from __future__ import annotations

import contextlib
import io
import json
import os
import random
import resource
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from .mutate import bytes_of, project_of, text_of

SLOW = 5.0
"""Seconds nothing may take."""


class Wrong(Exception):
    """What must not be."""


@contextlib.contextmanager
def brisk(what: str) -> Iterator[None]:
    start = time.monotonic()
    yield
    took = time.monotonic() - start
    if took > SLOW:
        raise Wrong(f"{what} took {took:.1f} s")


def a_sentence(text: str) -> None:
    if not text or len(text) > 200 or "\n" in text:
        raise Wrong(f"that is no sentence for the screen: {text[:300]!r}")


def folder() -> Path:
    return Path(tempfile.mkdtemp(prefix="case-"))


# ---- kills

SAVER = """
import sys, time
from orthomet.core.project.edits import rename_project
from orthomet.core.project.store import Stored, read, write
from soak.material import small_project
s = small_project()
for k in range(10000):
    write(sys.argv[1], Stored(rename_project(f"save {k}")(s.project), s.pictures))
    print(k, flush=True)
"""


def kills_while_saving(rng: random.Random) -> None:
    """A process that saves over and over is killed; the file is always a whole one, at least as new as was told."""
    from orthomet.core.project.store import read

    path = folder() / "kept.orthomet"
    for _ in range(3):
        p = subprocess.Popen([sys.executable, "-c", SAVER, str(path)], stdout=subprocess.PIPE, text=True)
        assert p.stdout is not None
        first = p.stdout.readline()
        if not first:
            raise Wrong("the saver did not begin")
        time.sleep(rng.uniform(0, 0.25))
        p.send_signal(signal.SIGKILL)
        told = int([first, *p.stdout.read().splitlines()][-1])
        p.wait()
        with brisk("opening after a kill"):
            title = read(path).project.title
        if int(title.split()[-1]) < told:
            raise Wrong(f"save {told} was told, {title} is on disk")
        left = [f.name for f in path.parent.iterdir() if f.name != path.name]
        if left:
            raise Wrong(f"left behind: {left}")


EDITOR = """
import sys, time
from PySide6.QtCore import QTimer
from orthomet.app.application import make_application
app = make_application()
from orthomet.app.shell import Window
w = Window(); desk = w.furnish(); w.show()
from soak.material import small_project
from orthomet.core.project.edits import rename_project
desk.document.open_stored(small_project(), None)
d, n = desk.document, [0]
def edit():
    n[0] += 1
    title = f"edit {n[0]}"
    if sys.argv[1] == "drag":
        if not d.dragging: d.begin("Drag")
        d.preview(rename_project(title))
    else:
        d.do("Edit", rename_project(title))
    print(n[0], time.time(), flush=True)
t = QTimer(); t.timeout.connect(edit); t.start(int(sys.argv[2]))
app.exec()
"""


def kills_of_a_window(rng: random.Random) -> None:
    """A window is killed in the middle of steady edits or a drag; no more than two seconds of work are lost."""
    from orthomet.core.project.journal import recoverable

    root = Path(os.environ["XDG_STATE_HOME"]) / "orthomet" / "journal"
    how, pace = rng.choice(("edits", "drag")), rng.choice((15, 60, 180))
    p = subprocess.Popen([sys.executable, "-c", EDITOR, how, str(pace)], stdout=subprocess.PIPE, text=True)
    assert p.stdout is not None
    lines = [p.stdout.readline()]
    time.sleep(rng.uniform(2.2, 3.5))
    killed = time.time()
    p.send_signal(signal.SIGKILL)
    lines += p.stdout.read().splitlines()
    p.wait()
    when = {int(a): float(b) for a, b in (line.split() for line in lines if len(line.split()) == 2)}
    kept = next(recoverable(root), None)
    if kept is None:
        raise Wrong(f"nothing to recover after {killed - min(when.values()):.1f} s of {how}")
    n = int(kept.stored.project.title.split()[-1])
    lost = max(when.values()) - when[n]
    if lost > 2.2:
        raise Wrong(f"{lost:.1f} s of {how} are lost")


# ---- files


def hostile_projects(rng: random.Random) -> None:
    """Projects changed by chance open, or are refused in one sentence; what opens can be saved and is the same again."""
    from orthomet.core.errors import OrthometError
    from orthomet.core.project.store import Stored, read, write
    from orthomet.core.resolve import plan_of_character, with_known_names

    from .material import small_project

    where = folder()
    good = where / "good.orthomet"
    write(good, small_project())
    whole = good.read_bytes()
    for _ in range(25):
        bad = where / "bad.orthomet"
        bad.write_bytes(project_of(rng, whole))
        try:
            with brisk("opening"):
                got = read(bad)
        except OrthometError as e:
            a_sentence(str(e))
            continue
        project, told = with_known_names(got.project)
        for t in told:
            a_sentence(t[:200])
        write(where / "again.orthomet", Stored(project, got.pictures))
        if read(where / "again.orthomet").project != project:
            raise Wrong("a project is another one after saving")
        for c in project.characters[:3]:
            with contextlib.suppress(OrthometError):
                plan_of_character(c, project)


def hostile_pictures(rng: random.Random) -> None:
    """Pictures changed by chance are decoded alike by core and window, or refused in one sentence."""
    from PySide6.QtGui import QGuiApplication

    from orthomet.app.stage.decode import decode
    from orthomet.core.errors import OrthometError
    from orthomet.core.imaging.load import load

    from .material import pictures

    _ = QGuiApplication.instance() or QGuiApplication([])
    for _ in range(40):
        name, data = rng.choice(list(pictures().items()))
        data = bytes_of(rng, data)
        sizes: list[object] = []
        for how in (lambda d=data: load(d, "p").size, lambda d=data: (decode(d, "p")[0].width(), decode(d, "p")[0].height())):
            try:
                with brisk(f"decoding {name}"):
                    sizes.append(how())
            except OrthometError as e:
                a_sentence(str(e))
        if len(sizes) == 2 and sizes[0] != sizes[1]:
            raise Wrong(f"{name} is {sizes[0]} in the core and {sizes[1]} in the window")


def hostile_text(rng: random.Random) -> None:
    """Landmark, style and point files changed by chance go through every command: 0, or 2 with one sentence, and no trace."""
    from orthomet.core.landmarks.points import Landmarks
    from orthomet.core.landmarks.pts import to_pts

    from .material import landmark_files, style_body

    where, faces = folder(), landmark_files()
    sound = where / "sound.json"
    sound.write_text(json.dumps(faces["berta-0"]))
    body = faces["berta-0"]
    pts = to_pts(Landmarks("front", {k: tuple(v) for k, v in body["points"].items()})).encode()
    for _ in range(14):
        face, style, points = where / "face.json", where / "style.json", where / "face.pts"
        face.write_bytes(text_of(rng, rng.choice(list(faces.values()))))
        style.write_bytes(text_of(rng, style_body()))
        points.write_bytes(bytes_of(rng, pts))
        out = str(where / f"o.{rng.choice(('svg', 'pts', 'json', 'png', 'pdf'))}")
        turn = ["--turn", *(f"{rng.uniform(-a, a):.1f}" for a in (99, 79, 179))] if rng.random() < 0.2 else []
        source = str(rng.choice((face, face, points)))
        for args in (
            ["measure", source, *turn, "--norm", rng.choice(("adult", "age:5", f"style:{style}", "style:Low lantern", "cast"))],
            ["plan", source, "--style", rng.choice((str(style), "low-lantern")), "--style-weight", f"{rng.random():.2f}", "--emphasis", f"{rng.uniform(-2, 5):.1f}"],
            ["guides", source, "--school", rng.choice(("halves", "two-circles", "framed-head")), "--out", out],
            ["head", source, "--yaw", f"{rng.uniform(-100, 100):.0f}", "--pitch", f"{rng.uniform(-60, 60):.0f}", "--json"],
            ["head", "--style", str(style), "--json"],
            ["check", source, "--against", str(sound), "--json"],
            ["check", str(sound), "--against", source],
            ["landmarks", source, "--out", out],
            ["style-learn", source, str(sound), source, "--name", "n", "--out", str(where / "l.json")],
            ["hand-learn", f"{sound}:{source}"],
            ["validate", source],
        ):  # fmt: skip
            command(args)


def command(args: list[str]) -> None:
    """Run a command here; a trace that would have escaped, or a sentence that is none, is wrong."""
    from orthomet.cli import main

    out, err = io.StringIO(), io.StringIO()
    with brisk(" ".join(args[:2])), contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
        code = main(args)
    said = err.getvalue().strip()
    if code not in (0, 2) or "holds the details" in said or "Traceback" in said:
        log = Path(os.environ["XDG_STATE_HOME"]) / "orthomet" / "orthomet.log"
        tail = log.read_text()[-1500:] if log.exists() else ""
        raise Wrong(f"{args}: {code} {said[:300]}\n{tail}")
    if code == 2:
        a_sentence(said.removeprefix("orthomet: "))


# ---- targets


def bad_targets(rng: random.Random) -> None:
    """Onto a full disk, a read-only file, a folder, a pipe, a link: refused in a sentence, the old file whole, nothing left over."""
    from orthomet.core.errors import OrthometError
    from orthomet.core.files import write_whole
    from orthomet.core.project.store import read, write

    from .material import landmark_files, small_project

    where = folder()
    stored = small_project()
    face = where / "face.json"
    face.write_text(json.dumps(landmark_files()["berta-0"]))
    old = where / "old.orthomet"
    write(old, stored)
    before = old.read_bytes()
    signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
    for _ in range(12):
        kind = rng.choice(("full", "read-only", "folder", "pipe", "link", "nowhere"))
        name = f"t{rng.randrange(10**6)}"
        target = where / name
        if kind == "full":
            resource.setrlimit(resource.RLIMIT_FSIZE, (rng.randrange(1, len(before)), resource.RLIM_INFINITY))
            target = old
        elif kind == "read-only":
            target.write_bytes(b"mine")
            target.chmod(0o444)
        elif kind == "folder":
            target.mkdir()
        elif kind == "pipe":
            os.mkfifo(target)
        elif kind == "link":
            (where / f"{name}.real").write_bytes(b"old")
            target.symlink_to(where / f"{name}.real")
        else:
            target = where / "no" / name
        try:
            with brisk(f"writing onto {kind}"):
                write(target, stored) if rng.random() < 0.5 else write_whole(target, before)
            if kind != "link":
                raise Wrong(f"written onto {kind}")
            if not target.is_symlink() or (where / f"{name}.real").read_bytes() == b"old":
                raise Wrong("a link was not followed")
        except OrthometError as e:
            a_sentence(str(e))
            if kind == "read-only" and (target.read_bytes() != b"mine" or target.stat().st_mode & 0o777 != 0o444):
                raise Wrong("a read-only file was changed") from None
        finally:
            resource.setrlimit(resource.RLIMIT_FSIZE, (resource.RLIM_INFINITY, resource.RLIM_INFINITY))
        if old.read_bytes() != before or [f for f in where.iterdir() if f.name.endswith(".part")]:
            raise Wrong(f"something was left over or lost after {kind}")
        if kind in ("folder", "pipe", "nowhere"):
            command(["guides", str(face), "--out", str(target) + (".svg" if kind == "nowhere" else "")])
            command(["measure", str(target)])
    read(old)


# ---- undo


def random_undo(rng: random.Random) -> None:
    """Edits, drags and undos by chance: all undone is the very beginning, all redone the very end, and every state can be saved."""
    from orthomet.app.application import make_application
    from orthomet.app.document import Document
    from orthomet.core.project.store import from_json, to_json

    from .hand import random_edit
    from .material import small_project

    make_application()
    d = Document(keep_journal=False)
    d.open_stored(small_project(), None)
    start = d.project
    for _ in range(120):
        kind = rng.random()
        if kind < 0.6:
            d.do("edit", random_edit(rng, d.project))
        elif kind < 0.8:
            d.begin("drag")
            for _ in range(rng.randrange(4)):
                d.preview(random_edit(rng, d.project))
            d.commit() if rng.random() < 0.7 else d.cancel()
        elif kind < 0.95:
            d.undo()
        else:
            d.redo()
        d.plan()
    if from_json(to_json(d.project)) != d.project:
        raise Wrong("a state cannot be saved and opened as it is")
    while d.redo_label:
        d.redo()
    end = d.project
    while d.undo_label:
        d.undo()
    if d.project != start:
        raise Wrong("all undone is not the beginning")
    while d.redo_label:
        d.redo()
    if d.project != end:
        raise Wrong("all redone is not the end")
    d.close()


def wild_shapes(rng: random.Random) -> None:
    """Contours, masks and orders of a stranger at the command line; parts with any values there may be, seen as a whole."""
    import numpy as np
    from PIL import Image

    from orthomet.core.shapes.contour import simple
    from orthomet.core.shapes.model import NO_SHAPES
    from orthomet.core.shapes.plain import KINDS
    from orthomet.core.shapes.push import TRAITS
    from orthomet.core.shapes.scene import scene

    where = folder()
    dice = np.random.default_rng(rng.randrange(1 << 32))
    for k in range(5):
        n = rng.choice((0, 2, 3, 5, 40, 300, 3000))
        points = (dice.normal(0, 10 ** rng.uniform(-3, 5), (n, 2)) if rng.random() < 0.5 else _round(dice, n)).tolist()
        path = where / f"c{k}.json"
        path.write_bytes(text_of(rng, {"points": points}) if rng.random() < 0.3 else json.dumps({"points": points}).encode())
        if rng.random() < 0.3:
            path = where / f"m{k}.png"
            m = (dice.random((rng.randrange(1, 90), rng.randrange(1, 90))) < rng.random()).astype(np.uint8) * 255
            Image.fromarray(m).save(path)
        args = ["shapes", str(path)]
        if rng.random() < 0.4:
            args += ["--detail", str(round(rng.uniform(-0.2, 1.2), 3))]
        if rng.random() < 0.4:
            args += ["--push", f"{rng.choice((*TRAITS, 'nose'))}={rng.uniform(-6, 6):.2f}"]
        if rng.random() < 0.2:
            args += ["--parts", str(rng.randrange(-1, 12))]
        if rng.random() < 0.4:
            args += ["--out", str(where / rng.choice(("o.json", "o.svg", "o.txt")))]
        command(args)
    parts = [_wild_part(rng, dice, str(k), list(KINDS), TRAITS) for k in range(rng.randrange(1, 9))]
    s = NO_SHAPES.model_copy(update={"parts": tuple(p for p in parts if p is not None)})
    with brisk("seeing wild parts"):
        for v in scene(s, {}).parts:
            if not np.isfinite(v.outline).all() or not simple(v.outline):
                raise Wrong(f"an outline that crosses itself or has no numbers: {v.part.model_dump_json()[:400]}")


def _round(dice: Any, n: int) -> Any:
    """A line somehow round something."""
    import numpy as np

    t = np.linspace(0, 2 * np.pi, n, endpoint=False)
    r = 1 + 0.4 * np.sin(dice.integers(1, 9) * t + 1) + dice.normal(0, 0.02, n)
    return 100 * np.column_stack([r * np.cos(t), r * np.sin(t) * dice.uniform(0.1, 2)])


def _wild_part(rng: random.Random, dice: Any, pid: str, kinds: list[str], traits: tuple[str, ...]) -> Any:
    from orthomet.core.errors import OrthometError
    from orthomet.core.shapes.contour import traced
    from orthomet.core.shapes.model import Part, roles
    from orthomet.core.shapes.sources import part_of, plain_part

    if rng.random() < 0.4:
        p = plain_part(f"p{pid}", rng.choice(kinds), (rng.uniform(-2, 2), rng.uniform(-2, 2)), 10 ** rng.uniform(-3, 1), pid)
    else:
        try:
            c, corners = traced(_round(dice, 200) * 10 ** rng.uniform(-4, 1))
        except OrthometError:
            return None
        p = part_of(f"p{pid}", c, rng.choice(list(roles())), pid, corners=corners.tolist())
    fields = {
        "detail": rng.choice((0.0, rng.random(), 1.0)), "corner": rng.choice((0.5, rng.random())), "against": rng.choice((0.0, rng.random())),
        "emphasis": {t: rng.uniform(-4, 4) for t in traits if rng.random() < 0.4}, "toward": rng.choice(("", rng.choice(kinds))), "toward_share": rng.random(),
        "kind": rng.choice(("", rng.choice(kinds))), "gap": rng.choice((0.0, 0.9 * rng.random())), "gap_at": rng.random(),
    }  # fmt: skip
    return Part.model_validate({**p.model_dump(), **fields})


def a_monkey(rng: random.Random) -> None:
    """Clicks, drags, keys, words, menus, drops in every station of the real window."""
    from .monkey import Monkey

    Monkey(rng).play(steps=110)


CASES: dict[str, Callable[[random.Random], None]] = {
    "monkey": a_monkey, "projects": hostile_projects, "kills": kills_while_saving, "pictures": hostile_pictures,
    "undo": random_undo, "text": hostile_text, "window kills": kills_of_a_window, "targets": bad_targets,
    "shapes": wild_shapes,
}  # fmt: skip


if __name__ == "__main__":
    name, number = sys.argv[1], int(sys.argv[2])
    CASES[name](random.Random(number))
