"""The artist's own spans and the measuring stick: marked, named, kept."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from ....core.landmarks.own import OwnSpan, own
from ....core.project.edits import forget_span, keep_span, new_id
from ....core.project.places import ReferencePlace
from ...document import Document
from ...stage.asking import AskingStage
from .spanbar import SpanBar

XY = tuple[float, float]


class OwnSpans(QObject):
    """Two ends on the stage wait in the bar for their name; ``at`` says which reference they lie on."""

    kept = Signal()
    trouble = Signal(str)

    def __init__(self, document: Document, stage: AskingStage, bar: SpanBar, at: Callable[[], ReferencePlace | None]):
        super().__init__(stage)
        self.document, self.stage, self.bar, self.at = document, stage, bar, at
        self._span: tuple[XY, XY] | None = None
        self._unit: tuple[XY, XY] | None = None
        stage.span_marked.connect(self._ask)
        bar.kept.connect(self._keep)
        bar.dropped.connect(self.drop)

    def tool(self, mode: str) -> None:
        self.stage.tools.begin(mode)
        self.stage.setFocus()
        self.stage.hint_changed.emit()

    def keep_stick(self) -> None:
        tools = self.stage.tools
        if tools.stick is None:
            self.trouble.emit("There is no stick to keep: mark a span with Ctrl+D first.")
        elif tools.other is not None:  # “fits 2.4 times”: the stick becomes the divisor
            self._unit = (tools.stick.a, tools.stick.b)
            self._ask(*tools.other)
        else:
            self._ask(tools.stick.a, tools.stick.b)

    def _ask(self, a: XY, b: XY) -> None:
        at = self.at()
        held = at.held(self.document.project) if at is not None else None
        if at is not None and held is not None:
            self._span = (a, b)
            self.bar.ask(held.marks.view, at.spans(self.document.project), stick=self._unit is not None)

    def _keep(self, name: str, by: str, usual: float = 0.0) -> None:
        at = self.at()
        held = at.held(self.document.project) if at is not None else None
        if at is None or held is None or self._span is None:
            return
        view = held.marks.view
        made: list[tuple[OwnSpan, tuple[XY, XY]]] = []
        if by == "stick" and self._unit is not None:
            unit = own(new_id(), f"Unit of {name}"[:60], view=view)
            made.append((unit, self._unit))
            by = f"own:{unit.id}"
        made.append((own(new_id(), name, by, view, usual or None), self._span))
        if self.document.do(f"Own span: {name}", keep_span(at.character, at.reference, made)):
            self.drop()
            self.kept.emit()

    def drop(self) -> None:
        self._span = self._unit = None
        if self.bar.isVisible():
            self.bar.hide()
            self.stage.setFocus()

    def forget_last(self) -> None:
        c = self.document.character
        if c and c.spans:
            last = c.spans[-1]
            self.document.do(f"Forget {last.name}", forget_span(c.id, last.id))
