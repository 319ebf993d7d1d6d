"""The journal: every change is on disk before it is saved, so that a crash loses nothing.

One folder per window holds ``state.json`` (where the project belongs and who is writing) and ``project.json`` (the latest
tree), each replaced atomically, and the pictures that are not yet in a saved file. A clean exit removes the folder; one
whose writer is gone is offered for recovery.
"""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import time
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import Path

from ..errors import ProjectError
from ..hashing import content_hash
from .edits import new_id
from .model import Project
from .store import MAX_JSON, MAX_PICTURE, Stored, from_json, to_json


def journal_root() -> Path:
    base = os.environ.get("XDG_STATE_HOME") or str(Path.home() / ".local" / "state")
    return Path(base) / "orthomet" / "journal"


@dataclass(frozen=True)
class Recoverable:
    """What a window that ended badly left behind."""

    folder: Path
    belongs_to: str
    when: float
    stored: Stored


class Journal:
    """The journal of one window. Failing to write it never stops the work: ``trouble`` says what went wrong."""

    def __init__(self, root: Path | None = None):
        self.folder = (root or journal_root()) / new_id()
        self.trouble = ""
        self._have: set[str] = set()

    def record(self, project: Project, pictures: Mapping[str, bytes], belongs_to: str = "") -> None:
        try:
            (self.folder / "pictures").mkdir(parents=True, exist_ok=True)
            for image in project.images().values():
                if image.hash not in self._have and image.hash in pictures:
                    _replace(self.folder / "pictures" / image.hash, pictures[image.hash])
                    self._have.add(image.hash)
            state = {"pid": os.getpid(), "started": _started(os.getpid()), "belongs_to": belongs_to, "when": time.time()}
            _replace(self.folder / "project.json", to_json(project).encode())
            _replace(self.folder / "state.json", json.dumps(state).encode())
            self.trouble = ""
        except OSError as e:
            self.trouble = f"Changes cannot be kept safe on disk just now: {e.strerror or e}. Save often."

    def close(self) -> None:
        """The work is saved or given up: nothing is left to recover."""
        shutil.rmtree(self.folder, ignore_errors=True)
        self._have.clear()


def _replace(path: Path, data: bytes) -> None:
    temp = path.with_name(path.name + ".part")
    with temp.open("wb") as f:
        f.write(data)
        f.flush()
        os.fsync(f.fileno())
    temp.replace(path)


def _started(pid: int) -> str:
    """When a process started, as the kernel counts it: tells a reused number from the same process."""
    try:
        return Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[19]
    except (OSError, IndexError):
        return ""


def _alive(pid: int, started: str) -> bool:
    return bool(started) and _started(pid) == started


def recoverable(root: Path | None = None) -> Iterator[Recoverable]:
    """Journals whose window is gone, newest first; damaged ones are passed over."""
    folder = root or journal_root()
    if not folder.is_dir():
        return
    found = []
    for f in folder.iterdir():
        with contextlib.suppress(OSError, ValueError, KeyError, TypeError, ProjectError):
            state = json.loads((f / "state.json").read_text())
            if _alive(int(state["pid"]), str(state["started"])):
                continue
            data = (f / "project.json").read_bytes()
            if len(data) > MAX_JSON:
                continue
            project = from_json(data, "The kept work")
            pictures = {}
            for h in project.images():
                path = f / "pictures" / h
                if path.stat().st_size <= MAX_PICTURE:
                    picture = path.read_bytes()
                    if content_hash(picture) == h:
                        pictures[h] = picture
            if set(pictures) == set(project.images()):
                found.append(Recoverable(f, str(state["belongs_to"]), float(state["when"]), Stored(project, pictures)))
    yield from sorted(found, key=lambda r: -r.when)


def discard(kept: Recoverable) -> None:
    shutil.rmtree(kept.folder, ignore_errors=True)
