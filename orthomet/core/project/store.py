"""The project file: a zip of ``project.json`` and pictures by content hash, read with suspicion and written atomically."""

from __future__ import annotations

import contextlib
import json
import lzma
import os
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import Any, BinaryIO

from pydantic import ValidationError

from ..datafiles import R, Record, first_problem, require_lengths
from ..errors import Cancelled, ProjectError
from ..files import in_words, open_ordinary, replacing, sweep
from ..hashing import content_hash
from ..strict_json import Stop, parse_json
from .fit import fit
from .migrate import migrate
from .model import FORMAT_VERSION, Character, Drawing, Image, Project, Reference, Study

SUFFIX = ".orthomet"
MAX_FILE = 4 * 1024**3
MAX_JSON = 32 * 1024**2
MAX_PICTURE = 256 * 1024**2
MAX_TOTAL = 4 * 1024**3
MAX_ENTRIES = 20_000


@dataclass(frozen=True)
class Stored:
    """A project with its picture bytes by hash."""

    project: Project
    pictures: Mapping[str, bytes] = field(default_factory=dict)
    digest: str = ""
    """Hash of the ``project.json`` it was read from; empty when it was not read from a file."""
    told: tuple[str, ...] = ()
    """What had to be brought inside today's bounds, a sentence each."""


def picture_entry(image: Image) -> str:
    return f"pictures/{image.hash}.{image.suffix}"


def to_json(project: Project) -> str:
    body = {"format_version": FORMAT_VERSION, "program": "orthomet", **project.model_dump(mode="json")}
    return json.dumps(body, ensure_ascii=False, indent=1)


def to_compact_json(project: Project) -> str:
    """The same record in one line, quick to make: for the journal."""
    return f'{{"format_version":{FORMAT_VERSION},"program":"orthomet",{project.model_dump_json()[1:]}'


def from_json(text: str | bytes, where: str = "The project", stop: Stop | None = None) -> Project:
    """Project from ``project.json``'s text; see :func:`read_json`."""
    return read_json(text, where, stop)[0]


def read_json(text: str | bytes, where: str = "The project", stop: Stop | None = None) -> tuple[Project, tuple[str, ...]]:
    """Project from ``project.json``'s text, and a sentence for everything that had to be brought inside today's bounds.

    It is built piece by piece: ``stop`` is asked between two pieces.

    Raises
    ------
    ProjectError
    Cancelled
    """
    body = parse_json(text, where, ProjectError, stop)
    if not isinstance(body, dict):
        raise ProjectError(f"{where} is damaged: its project.json holds no project.")
    body = migrate(dict(body), where)
    body.pop("format_version", None)
    body.pop("program", None)
    told = fit(body)
    return _Builder(where, stop).project(body), told


class _Builder:
    """Builds a project from the inside out: every list's length is looked at before anything in it is built."""

    def __init__(self, where: str, stop: Stop | None):
        self.where, self.stop = where, stop

    def project(self, body: dict[str, Any]) -> Project:
        body = self._lists(Project, body, "", characters=self._character, studies=self._study)
        return self._one(Project, body, "")

    def _character(self, body: Any, at: str) -> Character:
        parts: dict[str, Callable[[Any, str], Record]] = {
            "references": partial(self._one, Reference),
            "drawings": partial(self._one, Drawing),
        }
        return self._one(Character, self._lists(Character, body, at, **parts), at)

    def _study(self, body: Any, at: str) -> Study:
        return self._one(Study, self._lists(Study, body, at, samples=partial(self._one, Drawing)), at)

    def _lists(self, model: type[Record], body: Any, at: str, **parts: Callable[[Any, str], Record]) -> Any:
        if not isinstance(body, dict):
            return body
        require_lengths(model, body, self.where, ProjectError, at)
        made = {
            name: tuple(build(v, _at(at, name, k)) for k, v in enumerate(body[name]))
            for name, build in parts.items()
            if isinstance(body.get(name), list)
        }
        return {**body, **made}

    def _one(self, model: type[R], body: Any, at: str) -> R:
        if self.stop is not None and self.stop():
            raise Cancelled("Stopped.")
        try:
            return model.model_validate(body)
        except ValidationError as e:
            said, inner = first_problem(e)
            place = ".".join(p for p in (at, inner) if p) or "the top"
            raise ProjectError(f"{self.where} does not read as a project: {said} (at {place}).") from None


def _at(*parts: object) -> str:
    return ".".join(str(p) for p in parts if p != "")


def saved_json(path: str | Path) -> bytes:
    """The ``project.json`` of a project file, for telling whether it is the one it was.

    Raises
    ------
    ProjectError
    """
    with _opened(path) as z:
        _, entry = _entries(z, Path(path).name)
        return _bounded(z, entry, MAX_JSON, Path(path).name)


@contextlib.contextmanager
def _opened(path: str | Path) -> Iterator[zipfile.ZipFile]:
    """The zip of a project; whatever is wrong with it is a sentence."""
    name = Path(path).name
    try:
        with open_ordinary(path) as f:
            if os.fstat(f.fileno()).st_size > MAX_FILE:
                raise ProjectError(f"{name} is too large to be a project.")
            if _said_entries(f) > MAX_ENTRIES:
                raise ProjectError(f"{name} holds too many files to be a project.")
            with zipfile.ZipFile(f) as z:
                yield z
    except RuntimeError:
        raise ProjectError(f"{name} is locked with a password and cannot be opened.") from None
    except OSError as e:
        if e.errno is None:  # the decompressor's, not the disk's
            raise ProjectError(f"{name} is not an Orthomet project, or it is damaged.") from None
        raise ProjectError(f"{name} cannot be read: {in_words(e)}.") from None
    except DAMAGE:
        raise ProjectError(f"{name} is not an Orthomet project, or it is damaged.") from None


DAMAGE = (
    zipfile.BadZipFile, zlib.error, lzma.LZMAError, EOFError, NotImplementedError, ValueError, struct.error, LookupError,
    OverflowError, AssertionError, MemoryError,
)  # fmt: skip
"""What the library's readers raise over bytes that make no sense, names that are no text among them."""


def _said_entries(f: BinaryIO) -> int:
    """How many files the end of a zip says it holds; 0 where it has no such end."""
    size = f.seek(0, os.SEEK_END)
    f.seek(max(0, size - 66_000))
    tail = f.read()
    at = tail.rfind(b"PK\5\6")
    f.seek(0)
    return int.from_bytes(tail[at + 10 : at + 12], "little") if at >= 0 else 0


def read(path: str | Path, stop: Stop | None = None) -> Stored:
    """Open a project file. What a killed save left beside it is swept.

    Raises
    ------
    ProjectError
        With the sentence for the screen; the file is never changed by reading.
    Cancelled
        ``stop()`` said so.
    """
    with _opened(path) as z:
        found = _read_zip(z, Path(path).name, stop)
    sweep(path)
    return found


def _entries(z: zipfile.ZipFile, where: str) -> tuple[dict[str, zipfile.ZipInfo], zipfile.ZipInfo]:
    """Every file by name, and the one that holds the project."""
    entries = z.infolist()
    if len(entries) > MAX_ENTRIES:
        raise ProjectError(f"{where} holds too many files to be a project.")
    by_name: dict[str, zipfile.ZipInfo] = {}
    for e in entries:
        parts = e.filename.replace("\\", "/").split("/")
        if e.filename.startswith(("/", "\\")) or ".." in parts or ":" in parts[0] or "\0" in e.filename:
            raise ProjectError(f"{where} holds a file that points outside the project; it was not opened.")
        if e.filename in by_name:
            raise ProjectError(f"{where} holds two files of one name; it was not opened.")
        by_name[e.filename] = e
    if "project.json" not in by_name:
        raise ProjectError(f"{where} is not an Orthomet project: there is no project.json in it.")
    if sum(e.file_size for e in entries) > MAX_TOTAL:
        raise ProjectError(f"{where} would unpack to more than {MAX_TOTAL >> 30} GB; it was not opened.")
    return by_name, by_name["project.json"]


def _read_zip(z: zipfile.ZipFile, where: str, stop: Stop | None) -> Stored:
    by_name, entry = _entries(z, where)
    text = _bounded(z, entry, MAX_JSON, where)
    project, told = read_json(text, where, stop)
    pictures: dict[str, bytes] = {}
    for image in project.images().values():
        if stop is not None and stop():
            raise Cancelled("Stopped.")
        name = picture_entry(image)
        if name not in by_name:
            raise ProjectError(f"{where} lacks one of its pictures ({image.hash[:8]}…).")
        data = _bounded(z, by_name[name], MAX_PICTURE, where)
        if content_hash(data) != image.hash:
            raise ProjectError(f"{where} is damaged: the picture {image.hash[:8]}… is not the one it was.")
        pictures[image.hash] = data
    return Stored(project, pictures, content_hash(text), told)


def _bounded(z: zipfile.ZipFile, entry: zipfile.ZipInfo, limit: int, where: str) -> bytes:
    """Read one entry, never more than the limit, whatever its header claims."""
    if entry.file_size > limit:
        raise ProjectError(f"{where} holds a file that is too large; it was not opened.")
    with z.open(entry) as f:
        data = f.read(limit + 1)
    if len(data) > limit:
        raise ProjectError(f"{where} holds a file that unpacks to more than it says; it was not opened.")
    return data


def write(path: str | Path, stored: Stored) -> str:
    """Save atomically: a temporary file beside the target, flushed to disk, then renamed over it; links are followed.

    Returns the hash of the written ``project.json``, which names what was saved.

    Raises
    ------
    ProjectError
        The old file is untouched whenever this raises.
    """
    p = Path(path)
    missing = [h for h in stored.project.images() if h not in stored.pictures]
    if missing:
        raise ProjectError(f"The picture {missing[0][:8]}… is not at hand, so the project was not saved.")
    text = to_json(stored.project).encode()
    if len(text) > MAX_JSON:
        raise ProjectError(
            f"The project would be too large to open again, so {p.name} was not saved; the file on disk is as it was."
        )
    try:
        with replacing(p) as f, zipfile.ZipFile(f, "w", zipfile.ZIP_DEFLATED) as z:
            z.writestr("project.json", text)
            for image in stored.project.images().values():
                z.writestr(zipfile.ZipInfo(picture_entry(image)), stored.pictures[image.hash], zipfile.ZIP_STORED)
    except OSError as e:
        raise ProjectError(f"{p.name} could not be saved: {in_words(e)}. The file on disk is as it was.") from None
    sweep(p)
    return content_hash(text)
