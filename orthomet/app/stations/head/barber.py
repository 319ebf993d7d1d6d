"""Hair built off the interface thread while a dial is held: the newest wish is done next, the last one done is shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QObject, Signal

from ....core.head.body import Wear, body
from ....core.head.scene import scene_of
from ....core.kinds import Array
from ....core.landmarks.turn import Turn
from ...work import Work


@dataclass(frozen=True)
class Wish:
    """A head to be dressed, and how it is looked at."""

    table: dict[str, float]
    points: Array
    wear: Wear
    turn: Turn


class Barber(QObject):
    done = Signal()
    failed = Signal(str)

    def __init__(self, parent: QObject | None = None):
        super().__init__(parent)
        self.work = Work(self)
        self.work.failed.connect(self._failed)
        self.latest: Wear | None = None
        self._next: Wish | None = None

    def wants(self, wish: Wish) -> None:
        self._next = wish
        if not self.work.active:
            self._start()

    def _start(self) -> None:
        wish, self._next = self._next, None
        if wish is not None:
            self.work.start("", _dressing(wish), self._came, what="The hair")

    def _came(self, wear: Wear) -> None:
        self.latest = wear
        self._start()
        self.done.emit()

    def _failed(self, sentence: str) -> None:
        self._next = None
        self.failed.emit(sentence)


def _dressing(wish: Wish) -> Callable[[Callable[[str], bool]], Wear]:
    def job(say: Callable[[str], bool]) -> Wear:
        _ = scene_of(body(wish.table, wish.points, wish.wear), wish.turn).drawing
        return wish.wear

    return job
