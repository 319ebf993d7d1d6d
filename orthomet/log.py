"""The log: where the traces of unexpected errors go, so that the screen needs one sentence only."""

from __future__ import annotations

import contextlib
import logging
import os
from logging.handlers import RotatingFileHandler
from pathlib import Path

LARGEST = 1_000_000


def log_file() -> Path:
    base = os.environ.get("XDG_STATE_HOME") or str(Path.home() / ".local" / "state")
    return Path(base) / "orthomet" / "orthomet.log"


def keep_log() -> None:
    """Send what is logged to the log file; where none can be kept, the work goes on without."""
    path = log_file()
    root = logging.getLogger("orthomet")
    for old in [h for h in root.handlers if isinstance(h, RotatingFileHandler)]:
        if old.baseFilename == str(path):
            return
        root.removeHandler(old)
        old.close()
    with contextlib.suppress(OSError):
        path.parent.mkdir(parents=True, exist_ok=True)
        handler = RotatingFileHandler(path, maxBytes=LARGEST, backupCount=1, encoding="utf-8", delay=True)
        handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
        root.addHandler(handler)
