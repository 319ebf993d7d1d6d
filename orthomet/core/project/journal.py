"""The journal: every change is on disk before it is saved, so that a crash loses nothing.

One folder per window holds ``state.json`` (where the project belongs, which save it began from, and who is writing) and
``project.json`` (the latest tree), each replaced atomically, and the pictures that are not yet in a saved file. A clean
exit removes the folder; one whose writer is gone is offered for recovery.
"""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import time
from collections.abc import Iterator, Mapping
from dataclasses import asdict, dataclass, field
from pathlib import Path

from ..errors import OrthometError, ProjectError
from ..files import in_words, process_lives, process_started, read_bounded, replacing
from ..hashing import content_hash
from .edits import new_id
from .model import Project
from .store import MAX_JSON, MAX_PICTURE, Stored, from_json, read, saved_json, to_compact_json


def journal_root() -> Path:
    base = os.environ.get("XDG_STATE_HOME") or str(Path.home() / ".local" / "state")
    return Path(base) / "orthomet" / "journal"


@dataclass(frozen=True)
class Origin:
    """The saved file that edits began from: where it lies, its stamp (nanoseconds, bytes) and the hash of its tree."""

    path: str = ""
    stamp: tuple[int, int] | None = None
    digest: str = ""


@dataclass(frozen=True)
class Recoverable:
    """What a window that ended badly left behind."""

    folder: Path
    origin: Origin
    when: float
    stored: Stored
    newer: Stored | None = field(default=None, compare=False)
    """The file as it is now, when it was saved again since by somebody else."""
    newer_when: float = 0.0
    newer_trouble: str = ""
    """Why the file as it is now cannot be read."""

    @property
    def belongs_to(self) -> str:
        return self.origin.path

    @property
    def file_changed(self) -> bool:
        """Whether what is on disk is no longer what the kept work began from: it must not be saved over."""
        return self.newer is not None or bool(self.newer_trouble)


class Journal:
    """The journal of one window. Failing to write it never stops the work: ``trouble`` says what went wrong."""

    def __init__(self, root: Path | None = None):
        self.folder = (root or journal_root()) / new_id()
        self.trouble = ""
        self._have: set[str] = set()

    def record(self, project: Project, pictures: Mapping[str, bytes], origin: Origin | str = "") -> None:
        began = Origin(origin) if isinstance(origin, str) else origin
        try:
            (self.folder / "pictures").mkdir(parents=True, exist_ok=True)
            for image in project.images().values():
                if image.hash not in self._have and image.hash in pictures:
                    _put(self.folder / "pictures" / image.hash, pictures[image.hash])
                    self._have.add(image.hash)
            mine = os.getpid()
            state = {"pid": mine, "started": process_started(mine), "when": time.time(), "origin": asdict(began)}
            _put(self.folder / "project.json", to_compact_json(project).encode())
            _put(self.folder / "state.json", json.dumps(state).encode())
            self.trouble = ""
        except OSError as e:
            self.trouble = f"Changes cannot be kept safe on disk just now: {in_words(e)}. Save often."

    def close(self) -> None:
        """The work is saved or given up: nothing is left to recover."""
        shutil.rmtree(self.folder, ignore_errors=True)
        self._have.clear()


def _put(path: Path, data: bytes) -> None:
    with replacing(path) as f:
        f.write(data)


def recoverable(root: Path | None = None) -> Iterator[Recoverable]:
    """Journals whose window is gone, newest first; damaged ones are passed over."""
    folder = root or journal_root()
    if not folder.is_dir():
        return
    found = []
    for f in folder.iterdir():
        with contextlib.suppress(OSError, ValueError, KeyError, TypeError, ProjectError):
            state = json.loads(read_bounded(f / "state.json", 1 << 20))
            if process_lives(int(state["pid"]), str(state["started"])):
                continue
            project = from_json(read_bounded(f / "project.json", MAX_JSON), "The kept work")
            pictures = {}
            for h in project.images():
                picture = read_bounded(f / "pictures" / h, MAX_PICTURE)
                if content_hash(picture) == h:
                    pictures[h] = picture
            if set(pictures) == set(project.images()):
                found.append(Recoverable(f, _origin(state), float(state["when"]), Stored(project, pictures)))
    yield from sorted(found, key=lambda r: -r.when)


def _origin(state: Mapping[str, object]) -> Origin:
    said = state.get("origin", state.get("belongs_to", ""))
    if not isinstance(said, dict):
        return Origin(str(said))  # a journal of an earlier version knows the path alone
    stamp = said.get("stamp")
    pair = (int(stamp[0]), int(stamp[1])) if isinstance(stamp, list) and len(stamp) == 2 else None
    return Origin(str(said["path"]), pair, str(said["digest"]))


def against_file(kept: Recoverable) -> Recoverable:
    """The same, having looked at the file it belongs to: whether that was saved again since, and what it holds now."""
    origin, path = kept.origin, Path(kept.origin.path)
    if not origin.path or not path.exists():
        return kept
    when = 0.0
    try:
        when = path.stat().st_mtime
        if origin.digest:
            if content_hash(saved_json(path)) == origin.digest:
                return kept
        elif when <= kept.when:
            return kept  # an old journal without a hash: the clock alone tells
        now = read(path)
    except (OSError, OrthometError) as e:
        words = in_words(e) if isinstance(e, OSError) else str(e)
        return Recoverable(kept.folder, origin, kept.when, kept.stored, None, when, words)
    if now.project == kept.stored.project:
        return kept  # the very same work, already saved
    return Recoverable(kept.folder, origin, kept.when, kept.stored, now, when)


def discard(kept: Recoverable) -> None:
    shutil.rmtree(kept.folder, ignore_errors=True)
