"""Keeps the journal up with the work, on a thread of its own: nothing the interface does can starve it."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from .journal import Journal, Origin
from .model import Project

QUIET, LONGEST = 0.25, 1.2
"""Seconds: a pause in the edits that is waited for, and the longest wait while they go on (own)."""
log = logging.getLogger(__name__)


@dataclass(frozen=True)
class Work:
    """The tree as it is now, what it began from, and the tree that is on disk."""

    project: Project
    pictures: Mapping[str, bytes]
    origin: Origin
    saved: Project


class Keeper:
    """Takes every new tree and writes the latest; a tree that equals the saved one leaves no journal."""

    def __init__(self, journal: Journal, trouble: Callable[[str], object]):
        self.journal, self._tell = journal, trouble
        self._change = threading.Condition()
        self._next: Work | None = None
        self._first = self._last = 0.0
        self._busy = self._hurry = self._ended = False
        self._thread: threading.Thread | None = None

    def offer(self, work: Work) -> None:
        """The tree has changed: it is written after a quarter second of quiet, or a little over a second at most."""
        with self._change:
            if self._ended:
                return
            now = time.monotonic()
            if self._next is None:
                self._first = now
            self._next, self._last = work, now
            if self._thread is None:
                self._thread = threading.Thread(target=self._run, name="journal", daemon=True)
                self._thread.start()
            self._change.notify_all()

    def flush(self) -> None:
        """Until the latest tree is on disk."""
        with self._change:
            self._hurry = True
            self._change.notify_all()
            self._change.wait_for(lambda: self._next is None and not self._busy)
            self._hurry = False

    def clear(self) -> None:
        """The work is saved, or another project is open: the journal goes, what waits for it is forgotten."""
        with self._change:
            self._next = None
            self._change.wait_for(lambda: not self._busy)
            self.journal.close()

    def close(self) -> None:
        self.clear()
        with self._change:
            self._ended = True
            self._change.notify_all()
        if self._thread is not None:
            self._thread.join()
            self._thread = None

    def _run(self) -> None:
        while True:
            with self._change:
                while not self._due():
                    if self._ended:
                        return
                    self._change.wait(None if self._next is None else 0.05)
                work, self._next, self._busy = self._next, None, True
            try:
                if work is not None:
                    self._write(work)
            except Exception:
                log.exception("the journal could not be written")
                self._tell("Changes cannot be kept safe on disk just now; the log holds the details. Save often.")
            finally:
                with self._change:
                    self._busy = False
                    self._change.notify_all()

    def _due(self) -> bool:
        now = time.monotonic()
        return self._next is not None and (self._hurry or now - self._last >= QUIET or now - self._first >= LONGEST)

    def _write(self, work: Work) -> None:
        if work.project == work.saved:
            self.journal.close()
            return
        self.journal.record(work.project, work.pictures, work.origin)
        if self.journal.trouble:
            self._tell(self.journal.trouble)
