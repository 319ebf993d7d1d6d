"""What a style is called and where it comes from, and the marks no ruler sees."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QLabel, QLineEdit, QWidget

from ....core.project.model import Study
from ....core.studies import CHECKLIST, shapes_of_study
from ....core.styles.library import Style
from ...parts import entry
from ..fields import Words, put_words
from ..pages import Page


class AboutPage(Page):
    changed = Signal(str, object)
    """Label, and the fields of the study to set."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.study: Study | None = None
        self.section("This style")
        self.title = entry("Name of the style", most=80, slot=self._rename)
        self.rows.addWidget(self.title)
        self.remark = Words("What it is like, in a few words", "Notes on the style", 4)
        self.remark.settled.connect(lambda v: self._set("Note on the style", note=v[:2000]))
        self.rows.addWidget(self.remark)
        self.source = entry(
            "Source of the style",
            "Whose drawings, from where",
            300,
            lambda: self._set("Source of the style", source=self.source.text().strip()),
        )
        self.rows.addWidget(self.source)
        self.section("Shapes it draws")
        self.shapes = self.note()
        self.section("Marks no ruler sees")
        self.asks: dict[str, QLineEdit] = {}
        for question in CHECKLIST:
            line = entry(question, "not looked at yet", 200, partial(self._answer, question))
            self.rows.addWidget(QLabel(question))
            self.rows.addWidget(line)
            self.asks[question] = line
        self.shipped = self.note("This style ships with Orthomet. “Edit a copy” takes it into the project.")
        self.end()

    def _answer(self, question: str) -> None:
        line = self.asks[question]
        if self.study is not None and line.text() != self.study.checklist.get(question, ""):
            rest = {k: v for k, v in self.study.checklist.items() if k != question}
            words = line.text().strip()
            self._set("Mark of the style", checklist={**rest, question: words} if words else rest)

    def _rename(self) -> None:
        words = self.title.text().strip()
        if words:
            self._set("Name the style", title=words)
        elif self.study is not None:
            self.title.setText(self.study.title)

    def _set(self, label: str, **fields: object) -> None:
        if self.study is not None and any(getattr(self.study, k) != v for k, v in fields.items()):
            self.changed.emit(label, fields)

    def set_content(self, shown: Style, study: Study | None) -> None:
        self.study, owner = study, study.id if study else shown.name
        for box, words in ((self.title, shown.title), (self.source, study.source if study else shown.source)):
            put_words(box, owner, words)
            box.setEnabled(study is not None)
        found = shapes_of_study(study) if study is not None else shown.shapes
        self.shapes.setText(
            found.words if found is not None else "Nothing is known of its shapes: they are read off drawings with marked faces."
        )
        self.remark.show_text(owner, study.note if study else shown.note)
        self.remark.setReadOnly(study is None)
        for question, line in self.asks.items():
            put_words(line, owner, study.checklist.get(question, "") if study else "")
            line.setEnabled(study is not None)
        self.shipped.setVisible(study is None)
