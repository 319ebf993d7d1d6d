"""The cast's own figures for the top shelf: planned body, head and hair as a silhouette, made one after the other when nothing else is asked for."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QTimer, Signal

from ..core.kinds import Array
from .document import Document
from .work import Say, Work

if TYPE_CHECKING:
    from ..core.figure.scene import Figure
    from ..core.landmarks.turn import Turn

REST_MS = 1500
"""After the last change."""


@dataclass(frozen=True, eq=False)
class Silhouette:
    """Closed outlines (even–odd) in heads from the crown, y downward, and how many heads tall it is."""

    outlines: list[Array]
    heads: float


class CastFigures(QObject):
    changed = Signal()

    def __init__(self, document: Document, parent: QObject | None = None):
        super().__init__(parent)
        self.document = document
        self.figures: dict[str, Silhouette] = {}
        self.posed = False
        """Whether they are shown in their poses rather than standing."""
        self.work = Work(self)
        self._keys: dict[str, object] = {}
        self._waiting: list[str] = []
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self._begin)
        document.changed.connect(self._rest.start)

    def show_posed(self, on: bool) -> None:
        self.posed = on
        self._rest.stop()
        self._begin()

    def let_go(self) -> None:
        self._rest.stop()
        self.work.let_go()

    @property
    def settled(self) -> bool:
        return not (self._rest.isActive() or self._waiting or self.work.active)

    def _begin(self) -> None:
        if self.document.dragging:
            self._rest.start()
            return
        cast = self.document.project.characters
        here = {c.id for c in cast}
        self.figures = {k: v for k, v in self.figures.items() if k in here}
        self._waiting = [c.id for c in cast]
        if not self.work.active:
            self._next()

    def _next(self) -> None:
        """The next whose figure is another than the one that is shown."""
        while self._waiting:
            cid = self._waiting.pop(0)
            asked = _asked(self.document, cid, self.posed)
            if asked is not None and self._keys.get(cid) != asked[0]:
                self.work.start(
                    "",
                    partial(_made, asked[1]),
                    partial(self._came, cid, asked[0]),
                    failed=partial(self._failed, cid),
                    what="A silhouette",
                )
                return

    def _came(self, cid: str, key: object, made: Silhouette) -> None:
        self.figures[cid], self._keys[cid] = made, key
        self.changed.emit()
        self._next()

    def _failed(self, cid: str, _: str) -> None:
        """A figure that cannot be drawn stands as a plain one; what failed is in the log."""
        self.figures.pop(cid, None)
        self._next()


def _asked(document: Document, cid: str, posed: bool) -> tuple[object, Callable[[], tuple[Figure, Turn]]] | None:
    """What one character's figure follows from, and how it is put together."""
    from ..core.derived import Supposed
    from ..core.people import head_of_plan, person_of
    from ..core.plan.side import targets
    from ..core.pose.figure import posed_figure
    from ..core.pose.model import STANDING

    one = Supposed(document.project, cid, "")
    c = one.character
    if c is None:
        return None
    plan, head = one.figure_plan(), head_of_plan(one.plan(), c, one.decisions(), targets(one.side_plans()))
    pose = c.posing.pose if posed else STANDING

    def put_together() -> tuple[Figure, Turn]:
        return posed_figure(person_of(plan, head, c.figure.head_turn), pose), pose.turn

    return (plan, head.key, c.figure.head_turn, pose), put_together


def _made(put_together: Callable[[], tuple[Figure, Turn]], say: Say) -> Silhouette:
    from ..core.figure.scene import outlines

    f, turn = put_together()
    return Silhouette(outlines(f, turn), f.build.heads)
