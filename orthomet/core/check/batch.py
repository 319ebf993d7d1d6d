"""Many drawings of one character checked: files found, each checked by itself, none of them stops the rest."""

from __future__ import annotations

import os
import sys
import threading
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass
from multiprocessing import get_all_start_methods, get_context
from multiprocessing.context import BaseContext
from pathlib import Path

from ..errors import FormatError, OrthometError
from ..landmarks.files import read_landmarks
from ..landmarks.points import Landmarks
from ..resolve import Face, is_project, plan_points_of
from .check import Check
from .compare import How, compare
from .others import checked_view
from .view import ViewCheck

PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".bmp")
MOST_FILES = 20_000
AT_ONCE = 8
"""Drawings a worker takes at once: few enough that all end together, enough that handing over costs nothing (own)."""


@dataclass(frozen=True)
class Found:
    """One finding of one drawing, as it is told and written."""

    reading: str
    say: str
    difference_hh: float
    difference_px: float
    severity: float


@dataclass(frozen=True)
class Checked:
    """What became of one drawing."""

    file: str
    picture: str
    findings: tuple[Found, ...] = ()
    passed: tuple[str, ...] = ()
    error: str = ""


@dataclass(frozen=True)
class Against:
    """What all of them are checked against, worked out once."""

    face: Face
    meant: tuple[str, ...]
    noise: float | None = None
    project: str = ""
    """The project it stands in, and the character's name; empty for a face's own landmarks."""


def drawings_in(names: Sequence[str]) -> list[tuple[str, str]]:
    """Landmark files among files and folders, in order, each with the picture beside it (or an empty name).

    Raises
    ------
    FormatError
        There is none, or something named is not there.
    """
    found: dict[str, str] = {}
    for name in names:
        p = Path(name)
        if p.is_dir():
            inside = sorted(f for f in p.iterdir() if f.suffix.lower() == ".json" and f.is_file())
        elif p.suffix.lower() in PICTURES:
            inside = [p.with_suffix(".json")]
        else:
            inside = [p]
        for f in inside:
            picture = next((str(f.with_suffix(s)) for s in PICTURES if f.with_suffix(s).is_file()), "")
            found.setdefault(str(f), picture)
    if not found:
        raise FormatError(
            "There is no landmark file to check: name .json files, pictures with one beside them, or a folder of them."
        )
    if len(found) > MOST_FILES:
        raise FormatError(f"At most {MOST_FILES:,} drawings are checked at once; there are {len(found):,}.")
    return list(found.items())


def against_of(text: str, noise: float | None = None) -> Against:
    face, meant = plan_points_of(text)
    return Against(face, meant, noise, text if is_project(text) else "")


def checked(file: str, picture: str, against: Against) -> Checked:
    """One drawing; what is wrong with its file is its own sentence."""
    try:
        marks = read_landmarks(file)
        c = _check(marks, against)
    except OrthometError as e:
        return Checked(file, picture, error=str(e))
    except Exception as e:  # one broken file never stops the rest
        return Checked(file, picture, error=f"It could not be checked ({type(e).__name__}).")
    rows = tuple(Found(f.reading, f.say, f.difference_hh, f.difference_px, f.severity) for f in c.findings)
    return Checked(file, picture, rows, c.passed)


def _check(marks: Landmarks, against: Against) -> Check | ViewCheck:
    if marks.view == "front":
        return compare(marks, against.face, against.meant, How(noise=against.noise)).check
    return checked_view(marks, against.project, against.meant, against.noise)


def check_all(
    drawings: Sequence[tuple[str, str]], against: Against, jobs: int = 0, say: Callable[[int], bool] = lambda _: True
) -> list[Checked]:
    """Every drawing checked, in order, on so many cores (0: all there are); ``say`` is told how many are done."""
    jobs = min(jobs or os.cpu_count() or 1, max(1, len(drawings) // AT_ONCE))
    out: list[Checked] = []
    if jobs <= 1:
        for file, picture in drawings:
            out.append(checked(file, picture, against))
            if not say(len(out)):
                break
        return out
    context = _context()
    with _one_thread_each(), ProcessPoolExecutor(jobs, context, _begin, (against,)) as pool:
        for c in pool.map(_one, drawings, chunksize=AT_ONCE):
            out.append(c)
            if not say(len(out)):
                pool.shutdown(cancel_futures=True)
                break
    return out


ONE_THREAD = "OPENBLAS_NUM_THREADS"
"""What tells the linear algebra to keep to one thread; it has to be said before it is loaded."""


def _context() -> BaseContext:
    """Workers are forked, which costs nothing, from a process that has one thread only; from any other they are begun anew."""
    alone = threading.active_count() == 1 and os.environ.get(ONE_THREAD) == "1" and "PySide6.QtCore" not in sys.modules
    return get_context("fork" if alone and "fork" in get_all_start_methods() else "spawn")


@contextmanager
def _one_thread_each() -> Iterator[None]:
    """Processes begun meanwhile calculate on one thread: two that each use every core get in each other's way."""
    names = (ONE_THREAD, "OMP_NUM_THREADS")
    before = {n: os.environ.get(n) for n in names}
    os.environ.update(dict.fromkeys(names, "1"))
    try:
        yield
    finally:
        for n, v in before.items():
            if v is None:
                os.environ.pop(n, None)
            else:
                os.environ[n] = v


_against: list[Against] = []


def _begin(against: Against) -> None:
    _against[:] = [against]


def _one(drawing: tuple[str, str]) -> Checked:
    return checked(*drawing, _against[0])
