"""Sample drawings of a study: added, opened, walked, taken away; the open one is what is marked."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from ....core.kinds import Array
from ....core.project.edits import new_id, set_study
from ....core.project.model import Drawing, Image, Study
from ....core.project.places import SamplePlace
from ....core.resolve import plan_of_style
from ....core.studies import style_of_study
from ...document import Document
from ..marking import MarkedSource


class Samples(QObject):
    """Which drawing of the shown study is open; ``shown`` tells the study, ``made`` makes one where there is none."""

    turned = Signal()
    """Another one is open, or none."""

    def __init__(self, document: Document, shown: Callable[[], Study | None], made: Callable[[], Study | None]):
        super().__init__(document)
        self.document, self.shown, self.made = document, shown, made
        self.open_id = ""

    @property
    def current(self) -> Drawing | None:
        study = self.shown()
        return next((d for d in study.samples if d.id == self.open_id), None) if study else None

    def source(self) -> MarkedSource | None:
        study, d = self.shown(), self.current
        return MarkedSource(SamplePlace(study.id, d.id), d, lambda: self._front(study)) if study and d else None

    def _front(self, study: Study) -> Array:
        """What seeds of a front face are laid from: the study's own style once it says something."""
        own = style_of_study(study)
        return (self.document.pure(own) if own.readings else plan_of_style("measured-adult")).points

    def add(self, image: Image, name: str) -> None:
        study = self.shown() or self.made()
        if study is None:
            return
        d = Drawing(id=new_id(), name=name[:80] or f"Drawing {len(study.samples) + 1}", image=image)
        if self.document.do("Add sample drawing", set_study(study.id, samples=(*study.samples, d))):
            self.open(d.id)

    def remove(self, did: str) -> None:
        study = self.shown()
        if study:
            kept = tuple(d for d in study.samples if d.id != did)
            self.document.do("Remove sample drawing", set_study(study.id, samples=kept))

    def open(self, did: str) -> None:
        self.open_id = did
        self.turned.emit()

    def close(self) -> None:
        self.open("")

    def step(self, by: int) -> None:
        """Open the next or the previous sample."""
        study = self.shown()
        ids = [d.id for d in study.samples] if study else []
        if ids:
            here = ids.index(self.open_id) if self.open_id in ids else (-1 if by > 0 else 0)
            self.open(ids[(here + by) % len(ids)])
