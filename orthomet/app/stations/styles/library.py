"""The styles a project has of its own: made, copied, read and written, their values set; and planning toward one."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from ....core.errors import OrthometError
from ....core.plan.decisions import Decisions
from ....core.project.edits import add_study, decide, new_id, remove_study, set_study
from ....core.project.model import Study
from ....core.studies import study_of_style
from ....core.styles.library import Style, StyleRow, read_style
from ...document import Document


class Library(QObject):
    """``shown`` is the name of the style that is looked at."""

    made = Signal(str)
    """A style came into the project: its name."""
    said = Signal(str, bool)

    def __init__(self, document: Document):
        super().__init__(document)
        self.document, self.shown = document, ""

    def named(self, name: str) -> Style:
        """A style on offer, or the default one."""
        known = {s.name: s for s in self.document.styles()}
        return known.get(name) or known[Decisions().style]

    @property
    def style(self) -> Style:
        return self.named(self.shown)

    @property
    def study(self) -> Study | None:
        """The shown style, where it is the project's own."""
        return next((s for s in self.document.project.studies if s.name == self.shown), None)

    def new(self) -> Study | None:
        study = Study(id=new_id(), title=f"New style {len(self.document.project.studies) + 1}")
        return study if self._add(study, "New style") else None

    def copy(self) -> None:
        study = study_of_style(new_id(), self.style)
        self._add(study.model_copy(update={"title": f"{study.title[:70]}, mine"}), "Copy style")

    def open(self, path: str) -> bool:
        """Take a style file into the project. False, with a sentence told, when it is none."""
        try:
            found = read_style(path)
        except OrthometError as e:
            self.said.emit(str(e), True)
            return False
        return self._add(study_of_style(new_id(), found), "Open style")

    def _add(self, study: Study, label: str) -> bool:
        added = self.document.do(label, add_study(study))
        if added:
            self.made.emit(study.name)
        return added

    def plan_toward(self) -> None:
        c = self.document.character
        if c and self.document.do("Style", decide(c.id, style=self.shown)):
            self.said.emit(f"{c.name} is planned toward “{self.style.title}”.", False)

    def remove(self) -> None:
        if self.study:
            self.document.do(f"Remove {self.study.title}", remove_study(self.study.id))

    def set_value(self, key: str, value: float) -> None:
        """A value by hand, while it is dragged."""
        study = self.study
        if study:
            old = study.rows.get(key)
            row = StyleRow(mean=value, sd=old.sd if old else None, n=old.n if old else None)
            self.document.preview(set_study(study.id, rows={**study.rows, key: row}))

    def follow_samples(self, key: str, words: str) -> None:
        """Forget what was set by hand for one reading."""
        study = self.study
        if study and key in study.rows:
            rest = {k: r for k, r in study.rows.items() if k != key}
            self.document.do(f"Follow the samples, {words}", set_study(study.id, rows=rest))
