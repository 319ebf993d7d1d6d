"""Long work off the interface thread: words while it runs, a way to stop it, a result dropped when nobody asks any more.

Every job of the application goes through here, and every error of one is told: the core's own as their sentence, any other
as one that says what could not be done, with its trace in the log.
"""

from __future__ import annotations

import contextlib
import logging
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from PySide6.QtCore import QObject, QRunnable, QThreadPool, Signal

from ..core.errors import OrthometError

Say = Callable[[str], bool]
T = TypeVar("T")
log = logging.getLogger(__name__)


@dataclass(frozen=True)
class _Asked:
    words: str
    what: str
    then: Callable[[Any], object]
    still: Callable[[], bool] | None
    failed: Callable[[str], object]


class _Run(QRunnable):
    def __init__(self, owner: Work, ticket: int, what: str, job: Callable[[Say], Any]):
        super().__init__()
        self.owner, self.ticket, self.what, self.job = owner, ticket, what, job

    def run(self) -> None:
        def say(words: str) -> bool:
            with contextlib.suppress(RuntimeError):  # the window went away while this was still going
                if words:
                    self.owner.said.emit(self.ticket, words)
                return self.owner.going(self.ticket)
            return False

        result, sentence = None, ""
        try:
            result = self.job(say)
        except OrthometError as e:
            sentence = str(e)
        except Exception:
            log.exception("%s failed", self.what)
            sentence = f"{self.what} could not be done; the log holds the details."
        with contextlib.suppress(RuntimeError):
            self.owner.came.emit(self.ticket, result, sentence)


class Work(QObject):
    """Runs jobs, as many at once as it has threads (networks are not shared between threads); each has its ticket."""

    said = Signal(int, str)
    came = Signal(int, object, str)
    busy = Signal(str)
    """What is being done, or an empty string."""
    failed = Signal(str)

    def __init__(self, parent: QObject | None = None, threads: int = 1):
        super().__init__(parent)
        self._pool = QThreadPool(self)
        self._pool.setMaxThreadCount(threads)
        self._next = 0
        self._open: dict[int, _Asked] = {}
        self._runs: dict[int, _Run] = {}
        self.said.connect(self._say)
        self.came.connect(self._take)

    def start(
        self,
        words: str,
        job: Callable[[Say], T],
        then: Callable[[T], object],
        still: Callable[[], bool] | None = None,
        failed: Callable[[str], object] | None = None,
        what: str = "",
    ) -> int:
        """Run ``job(say)`` elsewhere, then ``then(result)`` here; the job's ticket.

        ``say`` tells progress (without words it only asks) and returns False to stop. Where ``still()`` says no when the job has ended, nobody asks any
        more and its result is dropped. ``failed`` gets the sentence of one that failed, instead of the signal; ``what`` it
        was about, where the words do not say it.
        """
        self._next += 1
        what = what or f"“{words.rstrip('…')}”"
        self._open[self._next] = _Asked(words, what, then, still, failed or self.failed.emit)
        self._tell()
        run = self._runs[self._next] = _Run(self, self._next, what, job)
        run.setAutoDelete(False)  # one that waits in the pool's queue is held here, or it would be gone before its turn
        self._pool.start(run)
        return self._next

    def going(self, ticket: int) -> bool:
        return ticket in self._open

    @property
    def active(self) -> bool:
        return bool(self._open)

    def cancel(self, ticket: int | None = None) -> None:
        """Give up one job, or all of them."""
        for k in list(self._open) if ticket is None else [ticket]:
            self._open.pop(k, None)
        self._tell()

    def wait(self, ms: int = 3000) -> None:
        self._pool.waitForDone(ms)

    def let_go(self) -> None:
        """Give everything up and wait until it has stopped."""
        self.cancel()
        self.wait()

    def _tell(self) -> None:
        self.busy.emit(next(reversed(self._open.values())).words if self._open else "")

    def _say(self, ticket: int, words: str) -> None:
        if ticket in self._open:
            self.busy.emit(words)

    def _take(self, ticket: int, result: object, sentence: str) -> None:
        self._runs.pop(ticket, None)
        asked = self._open.pop(ticket, None)
        if asked is None:
            return
        self._tell()
        if asked.still is not None and not asked.still():
            return
        if sentence:
            asked.failed(sentence)
            return
        try:
            asked.then(result)
        except Exception:
            log.exception("%s came, and could not be used", asked.what)
            asked.failed(f"{asked.what} was done, but could not be shown; the log holds the details.")
