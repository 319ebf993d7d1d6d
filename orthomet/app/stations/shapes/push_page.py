"""The page of dials: how much detail a part keeps, and how far it is pushed about what is usual for it."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from ....core.gauges.shapes import shape_items
from ....core.shapes.model import Shapes
from ....core.shapes.plain import KINDS
from ....core.shapes.seen import Seen
from ....core.shapes.traits import StyleShapes
from ...gauges.legend import Entry, Legend, usual
from ...gauges.marks import mark_plan, mark_reference, mark_style
from ...gauges.row import GaugeRow
from ...parts import across, button, choices, down, quiet, tick
from ..dials import Dial
from ..pages import Page, fill

LEGEND: tuple[Entry, ...] = (
    ("as it was seen", 0, lambda p, x, y, t: mark_reference(p, x, y + 6.5, t)),
    ("plan", 0, lambda p, x, y, t: mark_plan(p, x, y - 7, t)),
    ("style", 0, lambda p, x, y, t: mark_style(p, x, y - 7, t)),
    ("usual", 16, usual),
)
ENDS = {
    "detail": ("Detail", 0, 1, 0, "From the plain shape through a few straights and curves to the whole contour"),
    "corner": ("Corners", 0, 1, 0.5, "All round, as they are, all sharp"),
    "against": ("Straight against curve", 0, 1, 0, "Of two sides across from one another one is straightened and the other bows"),
}


class PushPage(Page):
    began = Signal(str)
    moved = Signal(str, float)
    all_moved = Signal(str, float)
    settled = Signal()
    mark_began = Signal(str)
    mark_moved = Signal(str, float)
    mark_dropped = Signal(str)
    emphasis_chosen = Signal(str, float)
    toward_chosen = Signal(str)
    wanted = Signal(str)
    fed = Signal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.title = self.section("This part")
        self.told = self.note()
        self.dials: dict[str, Dial] = {}
        for key, (words, low, high, default, tip) in ENDS.items():
            ends = ("round", "sharp") if key == "corner" else ("", "")
            self.dials[key] = self._dial(Dial(words, low, high, default, tip, ends), key)
        self.gauges = QWidget()
        self._rows = down(owner=self.gauges)
        self.gauge: dict[str, GaugeRow] = {}
        self.rows.addWidget(self.gauges)
        self.rows.addWidget(Legend(LEGEND))
        self.outline = self._dial(
            Dial("Its own outline", 0, 3, 1, "What else sets it apart from the usual shape, dropped (0) … kept (1) … pushed"),
            "roundness",
        )
        self.toward = choices("Toward", "The shape it is brought to, corners meeting corners", self.toward_chosen.emit)
        self.row("toward a", self.toward, stretch=1)
        self.share = self._dial(Dial("How far", 0, 1, 0, "From its own outline (0) to the other shape (1)"), "toward_share")
        self.limits = self.note()
        self.feeds = tick(
            "The head’s outline moves the plan", "Its widths become the plan’s: Head, Plan and guides follow", self.fed.emit
        )
        self.rows.addWidget(self.feeds)
        self.section("All parts")
        self.all = {
            "detail": Dial("Detail", 0, 1, 0, "Every part at once"),
            "style": Dial("Style", 0, 1, 0, "How far every part goes toward what the style makes of such parts"),
            "push": Dial("Push", 0, 3, 1, "Every part about what is usual for it: 1 as it is, 0 the usual shapes"),
        }
        for key, dial in self.all.items():
            dial.began.connect(partial(self.began.emit, f"{dial.name.text()}, all parts"))
            dial.moved.connect(partial(self.all_moved.emit, key))
            dial.settled.connect(self.settled)
            self.rows.addWidget(dial)
        idea = button(
            "Push the idea",
            lambda: self.wanted.emit("idea"),
            "What the idea’s word says of the face, said with shapes (Reference, Idea)",
        )
        calm = button("Push nothing", lambda: self.wanted.emit("calm"), "Every part as it is")
        self.rows.addLayout(across((idea, 1), 6, (calm, 1)))
        self.end()

    def _dial(self, dial: Dial, key: str) -> Dial:
        dial.began.connect(partial(self.began.emit, dial.name.text()))
        dial.moved.connect(partial(self.moved.emit, key))
        dial.settled.connect(self.settled)
        self.rows.addWidget(dial)
        return dial

    def set_content(self, shapes: Shapes, v: Seen | None, style: StyleShapes | None) -> None:
        on = v is not None
        for w in (*self.dials.values(), self.outline, self.toward, self.share, self.gauges):
            w.setEnabled(on)
        for w in self.all.values():
            w.setEnabled(bool(shapes.parts))
        with quiet(self.feeds):
            self.feeds.setChecked(shapes.feeds_plan)
        self.all["style"].show_value(shapes.style_weight)
        self.all["style"].setEnabled(style is not None and bool(shapes.parts))
        self.feeds.setEnabled(any(p.role == "head" and p.points for p in shapes.parts))
        parts = [p for p in shapes.parts if p.points]
        self.all["detail"].show_value(sum(p.detail for p in parts) / len(parts) if parts else 0.0)
        pushes = [p.emphasis.get("size", 1.0) for p in shapes.parts]
        self.all["push"].show_value(sum(pushes) / len(pushes) if pushes else 1.0)
        if v is None:
            self.title.setText("This part")
            self.told.setText("Choose a part on the paper.")
            self._show_rows(None, None)
            self.limits.setText("")
            return
        p = v.part
        self.title.setText(p.name[:1].upper() + p.name[1:])
        alike = "; its two sides mirror each other" if v.alike and p.against == 0 and not p.even else ""
        self.told.setText(
            f"Shows the {v.words}{alike}." if v.fits is not None else "A plain shape: it has no contour to go into detail with."
        )
        for key in ("detail", "against"):
            self.dials[key].setEnabled(v.fits is not None)
        self.dials["detail"].show_value(p.detail)
        self.dials["corner"].show_value(p.corner)
        self.dials["against"].show_value(p.against)
        self.outline.show_value(p.emphasis.get("roundness", 1.0))
        fill(self.toward, [("no other shape", ""), *((k.replace("-", " "), k) for k in KINDS)], p.toward)
        self.share.show_value(p.toward_share)
        self.share.setEnabled(bool(p.toward))
        self.limits.setText(" ".join(f"{li.words[0].upper()}{li.words[1:]}." for li in v.limits))
        self.limits.setVisible(bool(v.limits))
        self._show_rows(v, style)

    def _show_rows(self, v: Seen | None, style: StyleShapes | None) -> None:
        items = shape_items(v, style) if v is not None else []
        for i in items:
            row = self.gauge.get(i.key)
            if row is None:
                row = self.gauge[i.key] = GaugeRow(i, "plan")
                row.mark_began.connect(self.mark_began)
                row.mark_moved.connect(self.mark_moved)
                row.mark_dropped.connect(self.mark_dropped)
                row.emphasis_chosen.connect(self.emphasis_chosen)
                self._rows.addWidget(row)
            else:
                row.set_item(i)
        shown = {i.key for i in items}
        for key, row in self.gauge.items():
            row.setVisible(key in shown)
