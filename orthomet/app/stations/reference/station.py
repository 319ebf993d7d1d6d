"""The Reference station: place landmarks on the picture, read the face against the norm."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from PySide6.QtCore import QRectF
from PySide6.QtGui import QAction, QImage, QPainter, QResizeEvent
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QWidget

from ....core.landmarks.level import LevelBy
from ....core.landmarks.points import State
from ....core.landmarks.schema import FRONT
from ....core.landmarks.seed import seed_from_plan
from ....core.project.edits import change_reference, confirm, remove_reference, set_character
from ....core.project.model import Marks, Reference
from ....core.proportions.measure import missing_for
from ....core.proportions.registry import Role, front_registry
from ....core.resolve import plan_of_style
from ...document import Document
from ...gauges.item import GaugeItem
from ...gauges.list import GaugeList
from ...ledge import Hint
from ...stage.empty import empty_box, empty_words
from ...stage.images import ImageStore
from ...stage.marks import MarksEdit, MarksStage
from ..base import Panel, Station, base_item, button
from .noticed import NoticedFirst

FOLLOW = "Follows from these"


class ReferenceStage(MarksStage):
    """The reference picture; while there is none, what to do first."""

    def __init__(self) -> None:
        super().__init__()
        self.first = QWidget(self)
        row = QHBoxLayout(self.first)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(12)
        self.choose = button("Choose a picture…", lambda: None, "Open a picture file (Ctrl+I)", strong=True)
        self.demo = button("Open the demo", lambda: None, "Three people of the Night Ferry, measured and planned")
        row.addWidget(self.choose)
        row.addWidget(self.demo)

    def set_picture(self, image: QImage | None, size: tuple[int, int] | None) -> None:
        super().set_picture(image, size)
        self.first.setVisible(size is None)
        self._place_buttons()

    def resizeEvent(self, e: QResizeEvent) -> None:
        super().resizeEvent(e)
        self._place_buttons()

    def _place_buttons(self) -> None:
        box = empty_box(self.frame())
        self.first.adjustSize()
        self.first.move(round(box.center().x() - self.first.width() / 2), round(box.bottom() - 62))

    def paint_under(self, p: QPainter, frame: QRectF) -> None:
        super().paint_under(p, frame)
        if self.size_px is None:
            empty_words(p, frame, "No reference yet", ["Drop a picture of a face here, or paste one."])
        elif self.image is None:
            empty_words(p, frame, "Opening the picture…", [])


class ReferenceStation(Station):
    name = "Reference"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.which = QComboBox()
        self.which.setAccessibleName("Which reference")
        self.which.setToolTip("The reference that is measured")
        self.which.activated.connect(self._choose)
        self.counts = QLabel()
        self.confirm_all = button(
            "Confirm", self._confirm_all, "Say that all estimated points are right (Ctrl+Return)", strong=True
        )
        self.start_over = button(
            "Seed points…", self._seed, "Click crown, chin and an eye corner; the rest is laid out for you to correct (Ctrl+L)"
        )
        self.head.addWidget(self.which)
        self.head.addStretch(1)
        self.head.addWidget(self.counts)
        self.head.addWidget(self.start_over)
        self.head.addWidget(self.confirm_all)
        self.stage = ReferenceStage()
        self.stage.template = plan_of_style("measured-adult").points
        self.stage.choose.clicked.connect(lambda: self.wanted.emit("picture"))
        self.stage.demo.clicked.connect(lambda: self.wanted.emit("demo"))
        self.panel = Panel("Readings")
        against = QLabel("against the adult average")
        against.setProperty("soft", True)
        self.panel.top.addWidget(against)
        self.noticed = NoticedFirst()
        self.list = GaugeList("reference")
        self.panel.column.addWidget(self.noticed)
        self.panel.column.addSpacing(6)
        self.panel.column.addWidget(self.list, 1)
        foot = QLabel("One population’s averages, approximate. Not an ideal.")
        foot.setProperty("soft", True)
        foot.setContentsMargins(16, 4, 16, 6)
        self.panel.column.addWidget(foot)
        self.build(self.stage, self.panel, self._credit_bar())
        self._seen = ""
        self._connect()
        self._actions = [
            self.action("Seed points by three clicks", "Ctrl+L", self._seed),
            self.action("Confirm all estimated points", "Ctrl+Return", self._confirm_all),
            self.action("Crown lies under hair", "Ctrl+U", self._crown_under_hair),
            self.action("Level by the eyes", "Ctrl+E", self._toggle_level),
            self.action("Mirror view", "Ctrl+M", self._mirror),
            self.action("Remove this reference", "", self._remove),
        ]

    def _credit_bar(self) -> QWidget:
        bar = QWidget()
        row = QHBoxLayout(bar)
        row.setContentsMargins(52, 0, 12, 10)
        label = QLabel("Credit")
        label.setProperty("soft", True)
        self.credit = QLineEdit()
        self.credit.setPlaceholderText("Who made this picture, and where it is from")
        self.credit.setAccessibleName("Credit of this reference")
        self.credit.setMaxLength(300)
        self.credit.editingFinished.connect(self._take_credit)
        row.addWidget(label)
        row.addWidget(self.credit, 1)
        return bar

    def _connect(self) -> None:
        s, d = self.stage, self.document
        s.drag_began.connect(d.begin)
        s.drag_moved.connect(lambda edit: self._edit_marks(None, edit))
        s.drag_ended.connect(d.commit)
        s.drag_cancelled.connect(d.cancel)
        s.edit_made.connect(self._edit_marks)
        s.anchors_clicked.connect(self._lay_seeds)
        s.hovered_points.connect(self._point_hover)
        s.hint_changed.connect(self.status_changed)
        self.list.hovered.connect(self._row_hover)
        self.noticed.hovered.connect(self._row_hover)
        self.list.missing_clicked.connect(self._place_missing)
        self.noticed.changed.connect(self._take_noticed)

    # ---- edits

    @property
    def reference(self) -> Reference | None:
        c = self.document.character
        return c.reference if c else None

    def _edit_marks(self, label: str | None, edit: MarksEdit) -> None:
        c, ref = self.document.character, self.reference
        if c is None or ref is None:
            return
        if label is None:
            self.document.preview(lambda p: _edit_reference(p, c.id, ref.id, edit))
        else:
            self.document.do(label, lambda p: _edit_reference(p, c.id, ref.id, edit))

    def _choose(self, index: int) -> None:
        c = self.document.character
        if c and 0 <= index < len(c.references):
            self.document.do("Choose reference", set_character(c.id, chosen_reference=c.references[index].id))

    def _remove(self) -> None:
        c, ref = self.document.character, self.reference
        if c and ref:
            self.document.do("Remove reference", remove_reference(c.id, ref.id))

    def _take_credit(self) -> None:
        c, ref = self.document.character, self.reference
        if c and ref and self.credit.text() != ref.credit:
            self.document.do("Credit", change_reference(c.id, ref.id, credit=self.credit.text().strip()))

    def _take_noticed(self, rows: tuple[str, ...]) -> None:
        c = self.document.character
        if c:
            self.document.do("Noticed first", set_character(c.id, noticed=rows))

    def _seed(self) -> None:
        if self.reference:
            self.stage.begin_seeding()
            self.stage.setFocus()

    def _lay_seeds(self, clicked: dict[str, tuple[float, float]]) -> None:
        seeds = seed_from_plan(self.stage.template, clicked)
        states = {**seeds.states, "vertex": State.ESTIMATED}
        marks = Marks(points=dict(seeds.points), states=states)
        self._edit_marks("Seed points", lambda m: marks)
        self.stage.active = "vertex"
        self.stage.fit()
        self.status_changed.emit()

    def _confirm_all(self) -> None:
        names = [n for n, s in (self.reference.marks.states if self.reference else {}).items() if s is State.ESTIMATED]
        if names:
            spread = self.stage.crown_spread() if "vertex" in names else {}
            self._edit_marks(f"Confirm {len(names)} points", lambda m: confirm(m, names, spread))

    def _crown_under_hair(self) -> None:
        """The crown is a guess under the hair: keep it, and let its uncertainty show."""
        spread = self.stage.crown_spread()
        if spread:
            self._edit_marks("Crown lies under hair", lambda k: confirm(k, ["vertex"], spread))

    def _toggle_level(self) -> None:
        c, ref = self.document.character, self.reference
        if c and ref:
            other = LevelBy.EYES if ref.level_by is LevelBy.CENTRE else LevelBy.CENTRE
            self.document.do(f"Level by {other}", change_reference(c.id, ref.id, level_by=other))

    def _mirror(self) -> None:
        self.stage.mirrored = not self.stage.mirrored
        self.stage.update()

    def _place_missing(self, key: str) -> None:
        ref = self.reference
        if ref:
            gone = missing_for(ref.marks.landmarks(), key)
            if gone:
                self.stage.placing = None
                self.stage.place_next = gone[0]
                self.stage.setFocus()
                self.stage.update()
                self.status_changed.emit()

    # ---- hover, both ways

    def _row_hover(self, key: str, inside: bool) -> None:
        self.hot = {key} if inside else self.hot - {key}
        self._light()

    def _point_hover(self, names: set[str]) -> None:
        self.hot = set()
        reg = front_registry()
        lit = {r.key for r in reg.readings if r.role is not Role.BALANCE and names & r.over.needs} if names else set()
        self.list.light(lit)
        self.noticed.light(lit)

    def _light(self) -> None:
        table = self.document.measured().table
        reg = front_registry()
        self.stage.lit_keys = set(self.hot)
        self.stage.lit_words = {k: _words(k, table[k]) for k in self.hot if k in table and k in reg.index}
        self.list.light(self.hot)
        self.noticed.light(self.hot)
        self.stage.update()
        self.status_changed.emit()

    # ---- what the frame asks

    def refresh(self) -> None:
        c, ref = self.document.character, self.reference
        self.which.clear()
        for r in c.references if c else ():
            self.which.addItem(r.name, r.id)
        if c and ref:
            self.which.setCurrentIndex([r.id for r in c.references].index(ref.id))
        self.which.setVisible(bool(c and len(c.references) > 1))
        self.credit.setEnabled(ref is not None)
        if not self.credit.hasFocus():
            self.credit.setText(ref.credit if ref else "")
        self.stage.set_marks(ref.marks if ref else Marks(), ref.level_by if ref else LevelBy.CENTRE)
        self.stage.set_picture(self.images.get(ref.image.hash) if ref else None, ref.image.size if ref else None)
        if ref and ref.id != self._seen and not ref.marks.points:
            self.stage.begin_seeding()
        self._seen = ref.id if ref else ""
        estimated = sum(s is State.ESTIMATED for s in ref.marks.states.values()) if ref else 0
        placed = len(ref.marks.points) - estimated if ref else 0
        self.counts.setText(f"{placed} placed   {estimated} estimated" if ref else "")
        self.confirm_all.setVisible(estimated > 0)
        self.confirm_all.setText(f"Confirm {estimated}")
        self.start_over.setVisible(ref is not None)
        items = self._items()
        self.list.set_items(items)
        self.noticed.set_content(c.noticed if c else (), self.document.plan().noticed, {i.key: i for i in items})
        sentence = self.document.landmark_problem()
        if sentence:
            self.document.trouble.emit(sentence)
        if self.hot:
            self._light()

    def _items(self) -> list[GaugeItem]:
        m = self.document.measured()
        ref, c = self.reference, self.document.character
        marks = ref.marks.landmarks() if ref else None
        ranks = {k: i + 1 for i, k in enumerate(c.noticed)} if c else {}
        out = []
        for r in front_registry().readings:
            v = m.value(r.key)
            derived = r.role is Role.DERIVED
            if r.role is Role.BALANCE and v is None:
                continue
            missing = ""
            if v is None and marks is not None:
                gone = missing_for(marks, r.key)
                missing = FRONT[gone[0]].words.removeprefix("left ").removeprefix("right ") if gone else ""
            noise = float(m.noise[m.registry.index[r.key]])
            item = replace(
                base_item(r.key),
                reference=v,
                sure=m.sure(r.key),
                missing=missing,
                rank=ranks.get(r.key, 0),
                noise=noise if np.isfinite(noise) else 0.0,
            )
            out.append(replace(item, group=FOLLOW) if derived else item)
        return out

    def badge(self) -> tuple[str, str]:
        c = self.document.character
        ref = c.reference if c else None
        if ref is None:
            return "", ""
        n = sum(s is State.ESTIMATED for s in ref.marks.states.values())
        if n:
            return str(n), f"{n} points are only estimated."
        gone = [k for k in FRONT.essential if k not in ref.marks.points]
        return (str(len(gone)), f"{len(gone)} essential points are missing.") if gone else ("", "")

    def hint(self) -> Hint:
        s = self.stage
        if s.size_px is None:
            return [("Drop", "a picture here"), ("Ctrl+V", "paste one"), ("Ctrl+I", "choose a file")]
        if s.placing is not None:
            return [("Click", s.anchor_wanted()), ("Arrows, Enter", "by keys"), ("Esc", "start again")]
        if s.place_next:
            return [("Click", f"where the {s.anchor_wanted()} is"), ("Esc", "leave it")]
        if s.active:
            return [
                ("Drag", "the point"),
                ("Arrows", "1 px"),
                ("Shift", "10 px"),
                ("Tab", "next"),
                ("Enter", "confirm"),
                ("H", "hidden"),
                ("Esc", "done"),
            ]
        return [
            ("Drag", "a point"),
            ("Tab", "walk them"),
            ("Wheel", "zoom"),
            ("Space-drag", "pan"),
            ("F", "fit"),
            ("Hover", "a row to see what it measures"),
        ]

    def actions_here(self) -> list[QAction]:
        return self._actions

    def reading_note(self) -> tuple[str, str, str]:
        for k in self.hot:
            if k in self.list.rows:
                i = self.list.rows[k].item
                usual = f"usual {i.show(i.norm)} ± {i.sd:g}" if i.norm is not None and i.sd is not None else ""
                value = (
                    i.show(i.reference) + (f" {front_registry()[k].unit}" if not i.angle else "")
                    if i.reference is not None
                    else "–"
                )
                return i.label, value, usual
        return "", "", ""


def _words(key: str, value: float) -> str:
    r = front_registry()[key]
    if key.endswith("_station"):
        return f"{value:.3f}"
    if r.angle:
        return f"{value:+.1f}°"
    unit = r.unit.rstrip("s") if abs(value - 1) < 0.005 else r.unit
    return f"{value:.2f} {unit}" if unit else f"{value:.3f}"


def _edit_reference(p: object, cid: str, rid: str, edit: MarksEdit) -> object:
    c = p.character(cid)  # type: ignore[attr-defined]
    ref = next((r for r in c.references if r.id == rid), None) if c else None
    return change_reference(cid, rid, marks=edit(ref.marks))(p) if ref else p  # type: ignore[arg-type]
