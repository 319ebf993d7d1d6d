"""The Head station."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QSettings
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QFileDialog, QLabel, QVBoxLayout, QWidget

from ....core.errors import OrthometError
from ....core.export.page import page
from ....core.head.scene import Body, body, picture, scene_of
from ....core.head.turnaround import turnaround
from ....core.landmarks.turn import Turn
from ....core.project.edits import decide
from ...document import Document
from ...ledge import Hint
from ...render import write_page
from ...stage.images import ImageStore
from ..base import Panel, Station
from .page import HeadPage, changes
from .stage import HeadStage
from .strip import VIEWS, ViewStrip


class HeadStation(Station):
    name = "Head"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.turn = Turn(yaw=35)
        """Where one looks from; a way of looking, not a decision, so it is not saved."""
        self.stage, self.strip, self.page = HeadStage(), ViewStrip(), HeadPage()
        self.who = QLabel()
        self.who.setProperty("soft", True)
        self.head.addWidget(self.who)
        self.head.addStretch(1)
        self.panel = Panel("Head")
        self.panel.column.addWidget(self.page, 1)
        below = QWidget()
        lines = QVBoxLayout(below)
        lines.setContentsMargins(0, 0, 0, 0)
        lines.addWidget(self.strip)
        self.build(self.stage, self.panel, below)
        self.stage.turned.connect(self.look_from)
        self.strip.chosen.connect(self.look_from)
        self.page.turned.connect(self.look_from)
        self.page.shown.connect(lambda *_: self.refresh())
        self.page.export_wanted.connect(lambda: self._export())
        self.page.turnaround_wanted.connect(lambda: self._export(True))
        self.page.chin_began.connect(lambda: document.begin("Chin back or forward"))
        self.page.chin_moved.connect(self._chin)
        self.page.chin_dropped.connect(document.commit)
        self._actions = [
            self.action("Front", "Home", lambda: self.look_from(Turn())),
            self.action("Next view", "]", lambda: self._step(1), "Walk the seven views"),
            self.action("Previous view", "[", lambda: self._step(-1)),
            self.action("Guide lines", "G", self.page.guides.toggle),
            self.action("Hidden lines", "H", self.page.hidden.toggle),
            self.action("Export this view…", "Ctrl+E", self._export),
            self.action(
                "Export a turnaround…", "Ctrl+Shift+E", lambda: self._export(True), "Seven views in a row on common level lines"
            ),
        ]

    def _body(self) -> Body:
        plan = self.document.plan()
        c = self.document.character
        return body(plan.table, plan.points, c.decisions.chin_forward if c else 0.0)

    def look_from(self, turn: Turn) -> None:
        self.turn = turn
        self.refresh()
        self.status_changed.emit()

    def _step(self, by: int) -> None:
        turns = [t for _, t in VIEWS]
        here = turns.index(self.turn) if self.turn in turns else (-1 if by > 0 else 0)
        self.look_from(turns[(here + by) % len(turns)])

    def _chin(self, value: float) -> None:
        c = self.document.character
        if c:
            self.document.preview(decide(c.id, chin_forward=round(value, 3)))

    def _export(self, around: bool = False) -> None:
        """Write this view, or seven of them in a row."""
        c = self.document.character
        if c is None:
            return
        folder = str(QSettings().value("export_folder", str(Path.home())))
        side = " turnaround" if around else f" {self.turn.yaw:+.0f} {self.turn.pitch:+.0f}" if self.turn != Turn() else ""
        path, _ = QFileDialog.getSaveFileName(
            self,
            "Export a turnaround" if around else "Export this view",
            str(Path(folder) / f"{c.name}{side}.svg"),
            "SVG (*.svg);;PDF (*.pdf);;PNG (*.png);;Layers, OpenRaster (*.ora)",
        )
        if not path:
            return
        shown = (self.page.guides.isChecked(), self.page.hidden.isChecked())
        drawn = turnaround(self._body(), *shown) if around else picture(scene_of(self._body(), self.turn), *shown)
        ref = c.reference
        try:
            write_page(page(drawn, self.page.size.value(), "fit", ref.credit if ref else ""), path)
            QSettings().setValue("export_folder", str(Path(path).parent))
            self.say.emit(f"Written to {Path(path).name}.", False)
        except OrthometError as e:
            self.say.emit(str(e), True)

    # ---- what the frame asks

    def refresh(self) -> None:
        c = self.document.character
        self.setEnabled(c is not None)
        b = self._body()
        s = scene_of(b, self.turn)
        self.who.setText(f"{c.name}, as planned" if c else "")
        self.stage.show_head(picture(s, self.page.guides.isChecked(), self.page.hidden.isChecked()), self.turn)
        self.strip.set_body(b, self.turn, not self.document.dragging)
        self.page.set_content(self.turn, c.decisions.chin_forward if c else 0.0, changes(b.front, s))

    def hint(self) -> Hint:
        return [("Drag", "to turn the head"), ("Shift-drag", "rolls it"), ("Arrows", "5°, with Shift 15°"), ("[ ]", "walk the views"),
                ("Double-click", "front"), ("Wheel", "zoom"), ("G H", "guides, hidden lines")]  # fmt: skip

    def actions_here(self) -> list[QAction]:
        return self._actions

    def reading_note(self) -> tuple[str, str, str]:
        t = self.turn
        return (
            "Turn",
            f"{t.yaw:+.0f}°, {t.pitch:+.0f}°".replace("-", "−"),
            f"roll {t.roll:+.0f}°".replace("-", "−") if t.roll else "",
        )
