"""What is read from a drawing itself, off the interface thread: its lines after the clicks, the face it makes."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject

from ....core.check.compare import AUTO, FRONT_ON, TURNED, Compared, How, compare, compare_basis
from ....core.errors import LandmarkError, OrthometError
from ....core.landmarks.frame import head_height
from ....core.landmarks.schema import FRONT
from ....core.live.lay import Laid, anchors_from, laid_states, lay
from ....core.project.edits import change_drawing
from ....core.project.model import Marks
from ....core.project.places import DrawingPlace, edit_marks, with_own
from ....core.references import on_page
from ...stage.pixels import to_grey
from ...work import Say
from ..base import Station

if TYPE_CHECKING:
    from ....core.auto import Auto

MOST_TURNED = 12.0
"""Degrees a head may be turned for its lines to be looked for where the front's plan has them (own)."""
FOUND = 0.012
"""Heads a crown or chin that a network found is uncertain by (own)."""
Clicked = dict[str, tuple[float, float]]


class DrawingReader(QObject):
    def __init__(self, station: Station):
        super().__init__(station)
        self.station, self.document = station, station.document

    def found(self, auto: Auto) -> None:
        """A network found the face: the plan is laid on what it found, and looked for among the drawn lines from there."""
        d = self.document.drawing
        if d is None or (auto.turned is not None and abs(auto.turned.yaw) > MOST_TURNED):
            return
        try:
            anchors = anchors_from(d.marks.landmarks().array(FRONT), self.document.plan_of(d.version).points)
        except LandmarkError:
            return
        self.lines(anchors, sure=False)

    def lines(self, clicked: Clicked, sure: bool = True) -> None:
        """After the clicks: the plan's lines are looked for among the drawn ones, and the estimates follow them. What was clicked is
        placed where it is ``sure``."""
        c, d = self.document.character, self.document.drawing
        image = self.station.images.get(d.image.hash) if d is not None else None
        if c is None or d is None or image is None or d.marks.view != "front" or d.turned:
            return
        plan, choices, seeds = self.document.plan_of(d.version), c.features, d.marks
        place = DrawingPlace(c.id, d.id)
        tall = head_height(seeds.points) or 0.0
        label = "Seed points" if sure else "Find the face"

        def job(say: Say) -> Laid:
            return lay(to_grey(image), plan.table, plan.points, clicked, choices)

        def then(laid: Laid) -> None:
            points, states, spread = laid_states(laid, clicked if sure else {})
            spread |= {} if sure else dict.fromkeys(clicked, FOUND * tall)
            found = Marks(view="front", points=with_own(seeds, points), states=states, spread=spread)
            self.document.amend(label, edit_marks(place, lambda m: found), {})
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
