"""A station's hand on the whole set: the drawing at hand among its like, worked out off the interface thread, written out."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject

from ....core.check.drawn_set import SETS, DrawnSet
from ....core.check.drift import as_csv
from ....core.check.drift_chart import chart
from ....core.derived import Supposed
from ....core.project.model import Drawing, Project
from ...ask import ask_where
from ...work import Say, Work
from ..base import Station, export_folder
from .drift_view import DriftChart


class WholeSet(QObject):
    def __init__(self, station: Station, shown: DriftChart):
        super().__init__(station)
        self.station, self.document, self.chart = station, station.document, shown
        self.work = Work(self)
        self._asked: Project | None = None
        self._of: tuple[str, ...] = ()
        """Whose set was asked for: character, version, view."""

    @property
    def view(self) -> str:
        """What the drawing at hand shows: the set is of its like."""
        d = self.document.drawing
        return d.marks.view if d is not None else "front"

    def show(self) -> None:
        """Show it: faces at once, profiles and figures, each of which is checked first, as soon as they are."""
        view, c, d = self.view, self.document.character, self.document.drawing
        if view == "front" or c is None or d is None:
            self._ask(None, ())
            self.chart.show_set(*self.document.drift(d.version if d is not None else "", view), view)
            return
        project, of = self.document.project, (c.id, d.version, view)
        if project is self._asked and of == self._of:
            return
        if of != self._of:
            self.chart.wait_for(view)
        self._ask(project, of)

        def take(told: DrawnSet) -> None:
            self.chart.show_set(*told, view)

        def still() -> bool:
            return self._asked is project and self._of == of

        self.work.start("", _looking(project, c.id, d), take, still, lambda _: take(((), ())), "Looking through the set")

    def _ask(self, project: Project | None, of: tuple[str, ...]) -> None:
        if self._asked is not None:
            self.work.cancel()
        self._asked, self._of = project, of

    def write(self) -> None:
        """Ask where to, once the set is looked through, and write it."""
        c, d, view = self.document.character, self.document.drawing, self.view
        if c is None or d is None:
            self.station.say.emit(f"Two {SETS[view]} with their points placed make a set.", True)
            return
        job = _looking(self.document.project, c.id, d)
        self.station.run("Looking through the set…", job, lambda told: self._ask_and_write(told, c.name, view))

    def _ask_and_write(self, told: DrawnSet, name: str, view: str) -> None:
        drawn, rows = told
        if not rows:
            self.station.say.emit(f"Two {SETS[view]} with their points placed make a set.", True)
            return
        kinds = {".pdf": "PDF", ".csv": "Table, CSV", ".svg": "SVG", ".png": "PNG"}
        path = ask_where(self.station, "Write the set’s drift", str(export_folder() / f"{name} drift.pdf"), kinds)
        if not path:
            return
        if path.lower().endswith(".csv"):
            self.station.write_text(path, as_csv(rows, drawn))
        else:
            title = f"{name}: {len(drawn)} {SETS[view]} against the plan"
            self.station.write_page(path, lambda: chart(rows, drawn, 3, title), "blue", "Written.")

    def let_go(self) -> None:
        self.work.let_go()


def _looking(p: Project, cid: str, d: Drawing) -> Callable[[Say], DrawnSet]:
    """What works out the set of a drawing's like, on any thread."""
    return lambda say: Supposed(p, cid, "", d.id).drift(d.version, d.marks.view)
