"""Hair built off the interface thread while a dial is held."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from PySide6.QtCore import QObject

from ....core.head.body import Wear, body
from ....core.head.scene import scene_of
from ....core.kinds import Array
from ....core.landmarks.turn import Turn
from ..newest import Newest


@dataclass(frozen=True)
class Wish:
    """A head to be dressed, and how it is looked at."""

    table: dict[str, float]
    points: Array
    wear: Wear
    turn: Turn


class Barber(Newest[Wear]):
    def __init__(self, parent: QObject | None = None):
        super().__init__("The hair", parent)

    def dress(self, wish: Wish) -> None:
        self.wants(_dressing(wish))


def _dressing(wish: Wish) -> Callable[[Callable[[str], bool]], Wear]:
    def job(say: Callable[[str], bool]) -> Wear:
        _ = scene_of(body(wish.table, wish.points, wish.wear), wish.turn).drawing
        return wish.wear

    return job
