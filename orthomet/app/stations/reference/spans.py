"""The artist's own spans and the measuring stick: marked, named, kept."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ....core.landmarks.own import OWN_GROUP, OwnSpan
from ....core.project.edits import forget_span, keep_span, new_id

if TYPE_CHECKING:
    from .station import ReferenceStation

XY = tuple[float, float]


class Spans:
    def __init__(self, station: ReferenceStation):
        self.s = station
        self._span: tuple[XY, XY] | None = None
        self._unit: tuple[XY, XY] | None = None

    def tool(self, mode: str) -> None:
        self.s.stage.tools.begin(mode)
        self.s.stage.setFocus()
        self.s.status_changed.emit()

    def keep_stick(self) -> None:
        tools = self.s.stage.tools
        if tools.stick is None:
            self.s.say.emit("There is no stick to keep: mark a span with Ctrl+D first.", True)
            return
        if tools.other is not None:  # “fits 2.4 times”: the stick becomes the divisor
            self._unit = (tools.stick.a, tools.stick.b)
            self.span_marked(*tools.other)
        else:
            self.span_marked(tools.stick.a, tools.stick.b)

    def span_marked(self, a: tuple[float, float], b: tuple[float, float]) -> None:
        c, ref = self.s.document.character, self.s.reference
        if c is None or ref is None:
            return
        self._span = (a, b)
        self.s.span_bar.ask(ref.marks.view, c.spans)
        if self._unit is not None:
            self.s.span_bar.by.addItem("lengths of the stick", "stick")
            self.s.span_bar.by.setCurrentIndex(self.s.span_bar.by.count() - 1)

    def keep_span(self, name: str, by: str, usual: float = 0.0) -> None:
        c, ref = self.s.document.character, self.s.reference
        if c is None or ref is None or self._span is None:
            return
        view, made = ref.marks.view, []
        if by == "stick" and self._unit is not None:
            unit = OwnSpan(id=new_id(), name=f"Unit of {name}"[:60], view=view, ends=("own_u_a", "own_u_b"))  # type: ignore[arg-type]
            unit = unit.model_copy(update={"ends": (f"own_{unit.id}_a", f"own_{unit.id}_b")})
            made.append((unit, self._unit))
            by = f"own:{unit.id}"
        sid = new_id()
        ends = (f"own_{sid}_a", f"own_{sid}_b")
        span = OwnSpan(id=sid, name=name, view=view, ends=ends, by=by, usual=usual or None)  # type: ignore[arg-type]
        made.append((span, self._span))
        if self.s.document.do(f"Own span: {name}", keep_span(c.id, ref.id, made)):
            self.drop_span()
            self.s.list.open_group(OWN_GROUP)
            self.s.panel.pages.show_page(0)

    def drop_span(self) -> None:
        self._span = self._unit = None
        if self.s.span_bar.isVisible():
            self.s.span_bar.hide()
            self.s.stage.setFocus()

    def forget_span(self) -> None:
        c = self.s.document.character
        if c and c.spans:
            last = c.spans[-1]
            self.s.document.do(f"Forget {last.name}", forget_span(c.id, last.id))
