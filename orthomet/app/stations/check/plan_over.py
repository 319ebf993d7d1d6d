"""A station's hand on the plan over the drawing: at once for a face, off the interface thread for a body that is posed first."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QObject, Signal
from PySide6.QtGui import QTransform

from ....core.check.compare import Compared
from ....core.check.overlay import overlay_of, view_overlay
from ....core.check.view import ViewCheck
from ....core.errors import OrthometError
from ....core.kept import remembered
from ....core.kinds import Array
from ....core.landmarks.turn import Turn
from ....core.people import person_of
from ....core.picture import Picture
from ....core.plan.side import targets
from ....core.project.model import Drawing
from ....core.references import on_page
from ....core.resolve import Face
from ...work import Say, Work
from ..base import Station
from .looking import qt
from .stage import CheckStage

Laid = tuple[Picture, Array] | None


class PlanOver(QObject):
    came = Signal()
    """A plan that took longer lies over the drawing now."""

    def __init__(self, station: Station, stage: CheckStage):
        super().__init__(station)
        self.document, self.stage = station.document, stage
        self.work = Work(self)
        self.trial: Turn | None = None
        """A turn that a hand sets just now."""
        self._told: Compared | ViewCheck | None = None
        self._asked: ViewCheck | None = None

    def show(self, told: Compared | ViewCheck | None) -> None:
        """Lay what a drawing is checked against over it; while a hand drags a view that takes longer keeps what it has."""
        self._told = told
        if isinstance(told, ViewCheck):
            self._show_view(told)
            return
        if self._asked is not None:
            self._asked = None
            self.work.cancel()
        d = self.document.drawing
        basis = self._basis(d) if d is not None else None
        try:
            self._lay(_overlay(told, basis, self.trial) if told is not None and basis is not None else None)
        except OrthometError:
            self._lay(None)

    def clear(self) -> None:
        """Another drawing: nothing lies over it until its own plan does."""
        self._asked = None
        self.work.cancel()
        self._lay(None)

    def turned(self, turn: Turn | None) -> None:
        """Show it at a turn that is being set."""
        self.trial = turn
        self.show(self._told)

    def _show_view(self, told: ViewCheck) -> None:
        d = self.document.drawing
        if d is None or self.document.dragging or told is self._asked:
            return
        self.work.cancel()
        self._asked = told
        body, basis = self.document.figure_plan_of(d.version), self._basis(d)
        marks, side = on_page(d).marks, targets(self.document.side_plans())
        face = replace(basis, side=side) if isinstance(basis, Face) else None

        def job(say: Say) -> Laid:
            return view_overlay(told, marks, face, lambda: person_of(body, None))

        self.work.start("", job, self._take, lambda: self._asked is told, lambda _: self._lay(None), "Laying the plan over it")

    def _basis(self, d: Drawing) -> Face | str | None:
        try:
            return self.document.basis_of(d)
        except OrthometError:
            return None

    def _take(self, laid: Laid) -> None:
        self._lay(laid)
        self.came.emit()

    def _lay(self, laid: Laid) -> None:
        self.stage.lay_plan(laid[0] if laid is not None else None, qt(laid[1]) if laid is not None else QTransform())

    def let_go(self) -> None:
        self.work.let_go()


_overlay = remembered(6)(overlay_of)
