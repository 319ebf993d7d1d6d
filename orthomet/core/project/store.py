"""The project file: a zip of ``project.json`` and pictures by content hash, read with suspicion and written atomically."""

from __future__ import annotations

import contextlib
import json
import os
import tempfile
import zipfile
import zlib
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from ..errors import ProjectError
from ..hashing import content_hash
from .migrate import migrate
from .model import FORMAT_VERSION, Image, Project

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


def picture_entry(image: Image) -> str:
    return f"pictures/{image.hash}.{image.suffix}"


def to_json(project: Project) -> str:
    body = {"format_version": FORMAT_VERSION, "program": "orthomet", **project.model_dump(mode="json")}
    return json.dumps(body, ensure_ascii=False, indent=1)


def from_json(text: str | bytes, where: str = "The project") -> Project:
    """Project from ``project.json``'s text.

    Raises
    ------
    ProjectError
    """
    try:
        body: Any = json.loads(text)
    except (json.JSONDecodeError, UnicodeDecodeError, RecursionError):
        raise ProjectError(f"{where} is damaged: its project.json is not proper JSON.") from None
    if not isinstance(body, dict):
        raise ProjectError(f"{where} is damaged: its project.json holds no project.")
    body = migrate(dict(body), where)
    body.pop("format_version", None)
    body.pop("program", None)
    try:
        return Project.model_validate_json(json.dumps(body))
    except ValidationError as e:
        first = e.errors()[0]
        at = ".".join(str(p) for p in first["loc"])
        raise ProjectError(f"{where} does not read as a project: {first['msg']} (at {at or 'the top'}).") from None


def read(path: str | Path) -> Stored:
    """Open a project file.

    Raises
    ------
    ProjectError
        With the sentence for the screen; the file is never changed by reading.
    """
    p = Path(path)
    try:
        if p.stat().st_size > MAX_FILE:
            raise ProjectError(f"{p.name} is too large to be a project.")
        with zipfile.ZipFile(p) as z:
            return _read_zip(z, p.name)
    except (zipfile.BadZipFile, zlib.error, EOFError, NotImplementedError):
        raise ProjectError(f"{p.name} is not an Orthomet project, or it is damaged.") from None
    except RuntimeError:
        raise ProjectError(f"{p.name} is locked with a password and cannot be opened.") from None
    except OSError as e:
        raise ProjectError(f"{p.name} cannot be read: {e.strerror or e}.") from None


def _read_zip(z: zipfile.ZipFile, where: str) -> Stored:
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
    project = from_json(_bounded(z, by_name["project.json"], MAX_JSON, where), where)
    pictures: dict[str, bytes] = {}
    for image in project.images().values():
        name = picture_entry(image)
        if name not in by_name:
            raise ProjectError(f"{where} lacks one of its pictures ({image.hash[:8]}…).")
        data = _bounded(z, by_name[name], MAX_PICTURE, where)
        if content_hash(data) != image.hash:
            raise ProjectError(f"{where} is damaged: the picture {image.hash[:8]}… is not the one it was.")
        pictures[image.hash] = data
    return Stored(project, pictures)


def _bounded(z: zipfile.ZipFile, entry: zipfile.ZipInfo, limit: int, where: str) -> bytes:
    """Read one entry, never more than the limit, whatever its header claims."""
    if entry.file_size > limit:
        raise ProjectError(f"{where} holds a file that is too large; it was not opened.")
    with z.open(entry) as f:
        data = f.read(limit + 1)
    if len(data) > limit:
        raise ProjectError(f"{where} holds a file that unpacks to more than it says; it was not opened.")
    return data


def write(path: str | Path, stored: Stored) -> None:
    """Save atomically: a temporary file beside the target, flushed to disk, then renamed over it.

    Raises
    ------
    ProjectError
        The old file is untouched whenever this raises.
    """
    p = Path(path)
    missing = [h for h in stored.project.images() if h not in stored.pictures]
    if missing:
        raise ProjectError(f"The picture {missing[0][:8]}… is not at hand, so the project was not saved.")
    temp = ""
    try:
        fd, temp = tempfile.mkstemp(prefix=f".{p.name}.", suffix=".part", dir=p.parent or Path())
        with os.fdopen(fd, "wb") as f:
            with zipfile.ZipFile(f, "w", zipfile.ZIP_DEFLATED) as z:
                z.writestr("project.json", to_json(stored.project))
                for image in stored.project.images().values():
                    z.writestr(zipfile.ZipInfo(picture_entry(image)), stored.pictures[image.hash], zipfile.ZIP_STORED)
            f.flush()
            os.fsync(f.fileno())
        mode = p.stat().st_mode & 0o777 if p.exists() else 0o666 & ~_umask()
        Path(temp).chmod(mode)
        if p.exists() and not os.access(p, os.W_OK):
            raise PermissionError(13, "the file is read-only")
        Path(temp).replace(p)
        _sync_folder(p.parent)
    except OSError as e:
        raise ProjectError(f"{p.name} could not be saved: {e.strerror or e}. The file on disk is as it was.") from None
    finally:
        if temp:
            with contextlib.suppress(OSError):
                Path(temp).unlink(missing_ok=True)


def _umask() -> int:
    now = os.umask(0)
    os.umask(now)
    return now


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):
        fd = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(fd)
        finally:
            os.close(fd)
