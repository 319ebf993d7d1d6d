"""One writer per project file: a second window may look, and must save under another name."""

from __future__ import annotations

import fcntl
import hashlib
import os
from pathlib import Path
from types import TracebackType


class FileLock:
    """An advisory lock on a project path, held in the user's runtime folder and released when the process ends."""

    def __init__(self, path: str | Path):
        base = os.environ.get("XDG_RUNTIME_DIR") or os.environ.get("XDG_STATE_HOME") or str(Path.home() / ".local" / "state")
        name = hashlib.sha256(os.fsencode(Path(path).resolve())).hexdigest()[:24]
        self.path = Path(base) / "orthomet" / f"{name}.lock"
        self._fd: int | None = None

    def acquire(self) -> bool:
        """Whether this window is now the only writer; True as well where no lock can be kept."""
        if self._fd is not None:
            return True
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            fd = os.open(self.path, os.O_RDWR | os.O_CREAT, 0o600)
        except OSError:
            return True
        try:
            fcntl.flock(fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            os.close(fd)
            return False
        self._fd = fd
        return True

    def release(self) -> None:
        if self._fd is not None:
            os.close(self._fd)
            self._fd = None

    def __enter__(self) -> FileLock:
        self.acquire()
        return self

    def __exit__(self, kind: type[BaseException] | None, value: BaseException | None, trace: TracebackType | None) -> None:
        self.release()
