"""Long work off the interface thread: words while it runs, a way to stop it, a result dropped when it was stopped."""

from __future__ import annotations

import contextlib
import logging
from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal

from ..core.errors import OrthometError

Say = Callable[[str], bool]
Job = Callable[[Say], Any]
log = logging.getLogger(__name__)


class _Run(QRunnable):
    def __init__(self, owner: Work, ticket: int, job: Job):
        super().__init__()
        self.owner, self.ticket, self.job = owner, ticket, job

    def run(self) -> None:
        def say(words: str) -> bool:
            with contextlib.suppress(RuntimeError):  # the window went away while this was still going
                self.owner.said.emit(self.ticket, words)
                return self.owner.going(self.ticket)
            return False

        try:
            result, sentence = self.job(say), ""
        except OrthometError as e:
            result, sentence = None, str(e)
        except Exception:
            log.exception("work failed")
            result, sentence = None, "That could not be done; the log holds the details."
        with contextlib.suppress(RuntimeError):
            self.owner.came.emit(self.ticket, result, sentence)


class Work(QObject):
    """Runs one job after another (networks are not shared between threads); each has its ticket."""

    said = Signal(int, str)
    came = Signal(int, object, str)
    busy = Signal(str)
    """What is being done, or an empty string."""
    failed = Signal(str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(1)
        self._next = 0
        self._open: dict[int, Callable[[Any], None]] = {}
        self.said.connect(self._say)
        self.came.connect(self._take)

    def start(self, words: str, job: Job, then: Callable[[Any], None]) -> None:
        """Run ``job(say)`` elsewhere, then ``then(result)`` here. ``say`` tells progress and returns False to stop."""
        self._next += 1
        self._open[self._next] = then
        self.busy.emit(words)
        self._pool.start(_Run(self, self._next, job))

    def going(self, ticket: int) -> bool:
        return ticket in self._open

    @property
    def active(self) -> bool:
        return bool(self._open)

    def cancel(self) -> None:
        self._open.clear()
        self.busy.emit("")

    def wait(self, ms: int = 3000) -> None:
        self._pool.waitForDone(ms)

    def _say(self, ticket: int, words: str) -> None:
        if ticket in self._open:
            self.busy.emit(words)

    def _take(self, ticket: int, result: object, sentence: str) -> None:
        then = self._open.pop(ticket, None)
        if not self._open:
            self.busy.emit("")
        if then is None:
            return
        if sentence:
            self.failed.emit(sentence)
        else:
            then(result)
