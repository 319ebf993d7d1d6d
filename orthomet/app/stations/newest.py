"""What takes longer than a frame while a dial is held: the newest wish is worked out next, elsewhere; the last one done is shown."""

from __future__ import annotations

from collections.abc import Callable
from typing import Generic, TypeVar

from PySide6.QtCore import QObject, Signal

from ..work import Say, Work

T = TypeVar("T")


class Newest(QObject, Generic[T]):
    done = Signal()
    failed = Signal(str)

    def __init__(self, what: str, parent: QObject | None = None):
        super().__init__(parent)
        self.what = what
        self.work = Work(self)
        self.work.failed.connect(self._failed)
        self.latest: T | None = None
        self._next: Callable[[Say], T] | None = None

    def wants(self, job: Callable[[Say], T]) -> None:
        """Do this next; what was wished for before and not begun is forgotten."""
        self._next = job
        if not self.work.active:
            self._start()

    def _start(self) -> None:
        job, self._next = self._next, None
        if job is not None:
            self.work.start("", job, self._came, what=self.what)

    def _came(self, made: T) -> None:
        self.latest = made
        self._start()
        self.done.emit()

    def _failed(self, sentence: str) -> None:
        self._next = None
        self.failed.emit(sentence)
