"""What is read from a drawing itself, off the interface thread: its lines after the clicks, the face it makes."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtCore import QObject

from ....core.check.compare import AUTO, FRONT_ON, TURNED, Compared, How, compare, compare_basis
from ....core.errors import OrthometError
from ....core.live.lay import Laid, laid_states, lay
from ....core.project.edits import change_drawing
from ....core.project.model import Marks
from ....core.project.places import DrawingPlace, edit_marks, with_own
from ....core.references import on_page
from ...work import Say
from ..base import Station
from .live import grey_of

Clicked = dict[str, tuple[float, float]]


class DrawingReader(QObject):
    def __init__(self, station: Station):
        super().__init__(station)
        self.station, self.document = station, station.document

    def lines(self, clicked: Clicked) -> None:
        """After the clicks: the plan's lines are looked for among the drawn ones, and the estimates follow them."""
        c, d = self.document.character, self.document.drawing
        image = self.station.images.get(d.image.hash) if d is not None else None
        if c is None or d is None or image is None or d.marks.view != "front" or d.turned:
            return
        plan, choices, seeds = self.document.plan_of(d.version), c.features, d.marks
        place = DrawingPlace(c.id, d.id)

        def job(say: Say) -> Laid:
            return lay(grey_of(image), plan.table, plan.points, clicked, choices)

        def then(laid: Laid) -> None:
            points, states, spread = laid_states(laid, clicked)
            found = Marks(view="front", points=with_own(seeds, points), states=states, spread=spread)
            self.document.amend("Seed points", edit_marks(place, lambda m: found), {})
            self.station.say.emit(
                "Points laid on the drawn lines, all estimated: walk them with Enter, Shift+Enter takes a feature.", False
            )

        def still() -> bool:
            now = self.document.drawing
            return now is not None and now.id == d.id and now.marks == seeds and not self.document.dragging

        self.station.run("Reading the lines…", job, then, still=still)

    def face(self) -> None:
        """The face the drawing makes, from its landmarks."""
        c, d = self.document.character, self.document.drawing
        if c is None or d is None:
            return
        try:
            basis, page = self.document.basis_of(d), on_page(d)
        except OrthometError as e:
            self.station.say.emit(str(e), True)
            self.station.refresh()
            return
        marks = replace(page.marks, turn=d.turn if d.turned else None)
        how = How(TURNED if d.turned else FRONT_ON, AUTO, noise=d.noise)
        meant = self.document.meant_on(d)

        def job(say: Say) -> Compared:
            return compare_basis(marks, basis, how, meant) if isinstance(basis, str) else compare(marks, basis, meant, how)

        def then(told: Compared) -> None:
            rest = told.expression == "neutral"
            fields = {"expression": "" if rest else told.expression, "degree": 1.0 if rest else told.degree}
            self.document.do("The face it makes", change_drawing(c.id, d.id, **fields))
            self.station.say.emit("It looks at rest." if rest else f"It looks {told.expression}; that is taken off.", False)
            self.station.refresh()

        def failed(sentence: str) -> None:
            self.station.say.emit(sentence, True)
            self.station.refresh()

        def still() -> bool:
            now = self.document.drawing
            return now is not None and now.id == d.id and now.marks == d.marks

        self.station.run("Reading the face…", job, then, still=still, failed=failed)
