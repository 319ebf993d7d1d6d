"""What is known of the picture itself: what it shows, rights, how the head is turned, distance, sheet, what it is read for."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QCheckBox, QGridLayout, QLabel, QWidget

from ....core.features.expression import expressions
from ....core.gauges.reference import face_words, trust_words, worn_words
from ....core.landmarks.turn import Turn
from ....core.project.model import Character, Reference
from ....core.proportions.measure import Measured
from ....core.proportions.norms import Norm
from ....core.proportions.shape import canons, face_class
from ....core.references import groups, head_mm
from ...parts import across, button, choices, entry, tick
from ..fields import put_words
from ..pages import Page, fill, number_box, put, put_away


class PicturePage(Page):
    """Tells changes by field name; the station turns them into edits."""

    changed = Signal(str, object)
    """Label, fields of the reference."""
    character_changed = Signal(str, object)
    corners_wanted = Signal()
    mend_corners = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.ref: Reference | None = None
        self._quiet = False
        self.section("This face")
        self.shape = self.note()
        self.canon = self.note()
        self.section("Turn of the head")
        self.undo = tick("Undo the turn before measuring", "Measure the head as if it looked straight ahead", self._toggle_turn)
        self.row(self.undo)
        self.yaw = number_box(-100, 100, 1, 1, "° yaw", "Yaw: positive turns the nose to the picture’s right", self._turn)
        self.pitch = number_box(-80, 80, 1, 1, "° pitch", "Pitch: positive looks down", self._turn)
        self.roll = number_box(-180, 180, 1, 1, "° roll", "Roll: positive is clockwise", self._turn)
        self.row(self.yaw, self.pitch, self.roll)
        self.trust = self.note()
        self.section("Face it makes")
        self.face = choices(
            "The face it makes", "A smile or a squint is worn, not built: it is undone before anything is measured", self._face
        )
        fill(self.face, [("at rest", ""), *((n, n) for n in expressions() if n != "neutral")], "")
        self.degree = number_box(
            10, 100, 5, 0, " %", "How strongly it makes that face", lambda v: self._tell("How strongly", degree=v / 100)
        )
        self.row(self.face, self.degree, stretch=0)
        self.worn_face = self.note()
        self.section("Camera")
        self.near = tick(
            "Taken from", "A face taken from near by reads too narrow; tell the distance and it is undone", self._toggle_distance
        )
        self.distance = number_box(0.2, 100, 0.1, 2, " m", "Distance from the lens to the face", self._distance)
        self.row(self.near, self.distance)
        self.near_note = self.note()
        self.section("Photographed page")
        self.corners = button(
            "Set four corners…",
            self.corners_wanted.emit,
            "Click the page’s corners: top left, top right, bottom right, bottom left",
        )
        self.marks = button("Find corner marks", self.mend_corners.emit, "Find the four corner marks this program prints")
        self.flat = button(
            "Leave as it is", lambda: self.changed.emit("Leave the page as it is", {"sheet": None}), "Forget the corners"
        )
        self.row(self.corners, self.marks, self.flat)
        self.width_mm = number_box(10, 5000, 1, 1, " mm", "Width of the page", self._sheet)
        self.height_mm = number_box(10, 5000, 1, 1, " mm", "Height of the page", self._sheet)
        self.page_size = QWidget()
        across(QLabel("Page"), self.width_mm, QLabel("×"), self.height_mm, ..., owner=self.page_size, spacing=None)
        self.rows.addWidget(self.page_size)
        self.sheet_note = self.note()
        self.section("Rights")
        self.rights = entry("Rights of this reference", "May it be shown, printed, passed on?", 300, self._rights)
        self.rows.addWidget(self.rights)
        self.section("Read for")
        self.feeds = QGridLayout()
        self.feeds.setSpacing(6)
        self.rows.addLayout(self.feeds)
        self._boxes: dict[str, QCheckBox] = {}
        self.pooled = tick("Take all references of this view together", "Mean over the references, each for what it is read for")
        self.pooled.toggled.connect(
            lambda on: None if self._quiet else self.character_changed.emit("Take references together", {"pooled": on})
        )
        self.rows.addWidget(self.pooled)
        self.worn = self.note()
        self.end()

    # ---- content

    def set_content(self, c: Character | None, ref: Reference | None, m: Measured, against: Norm) -> None:
        self._quiet = True
        self.ref = ref
        self.setEnabled(ref is not None)
        if c is not None and ref is not None:
            self._show(c, ref, m, against)
        self._quiet = False

    def _show(self, c: Character, ref: Reference, m: Measured, against: Norm) -> None:
        front = ref.marks.view == "front"
        table = dict(m.table) if front else {}
        named = face_class(table)
        self.shape.setText(
            f"Face shape: {' or '.join(named)}"
            if named
            else "Face shape: place cheeks, jaw corners and chin sides."
            if front
            else "Read from a front view."
        )
        self.canon.setText("\n".join(f"{k.name}: {k.face}" for k in canons(table)))
        self.canon.setToolTip("\n".join(f"{k.name}: {k.says}" for k in canons(table)))
        self.undo.setEnabled(front)
        turn = ref.turn
        self.undo.setChecked(turn is not None)
        for box, v in zip(
            (self.yaw, self.pitch, self.roll), (turn.yaw, turn.pitch, turn.roll) if turn else (0.0, 0.0, 0.0), strict=True
        ):
            put(box, v)
            box.setEnabled(front and turn is not None)
        self.trust.setText(trust_words(turn, m, against))
        self.face.setEnabled(front)
        self.face.setCurrentIndex(max(0, self.face.findData(ref.expression)))
        self.degree.setVisible(bool(ref.expression))
        put(self.degree, 100 * ref.degree)
        self.worn_face.setVisible(bool(ref.expression))
        self.worn_face.setText(face_words(ref))
        self.near.setChecked(ref.distance_m is not None)
        self.distance.setEnabled(ref.distance_m is not None)
        put(self.distance, ref.distance_m or 2.0)
        self.near_note.setText(
            "" if ref.distance_m is not None else "Not told: from 1 m a face reads some 5 % narrow, from 2 m 3 %."
        )
        self.flat.setVisible(ref.sheet is not None)
        self.page_size.setVisible(ref.sheet is not None)
        if ref.sheet is not None:
            put(self.width_mm, ref.sheet.mm[0])
            put(self.height_mm, ref.sheet.mm[1])
        tall = head_mm(ref)
        self.sheet_note.setText(f"The head is {tall:.0f} mm tall on the page." if tall else "")
        self.sheet_note.setVisible(bool(tall))
        self.trust.setVisible(turn is not None)
        put_words(self.rights, ref.id, ref.rights)
        self._show_feeds(c, ref)

    def _show_feeds(self, c: Character, ref: Reference) -> None:
        names = groups(ref.marks.view)
        if tuple(self._boxes) != names:
            while self.feeds.count():
                item = self.feeds.takeAt(0)
                w = item.widget() if item is not None else None
                if w is not None:
                    put_away(w, self)
            self._boxes = {}
            for k, n in enumerate(names):
                box = tick(n, slot=self._feeds)
                self._boxes[n] = box
                self.feeds.addWidget(box, k // 4, k % 4, Qt.AlignmentFlag.AlignLeft)
        for n, box in self._boxes.items():
            box.setChecked(not ref.feeds or n in ref.feeds)
        alike = [r for r in c.references if r.marks.view == ref.marks.view and r.marks.points]
        self.pooled.setVisible(len(alike) > 1)
        self.pooled.setChecked(c.pooled)
        self.worn.setText(worn_words(c, ref.marks.view) if c.pooled and len(alike) > 1 else "")

    # ---- hand

    def _tell(self, label: str, **fields: Any) -> None:
        if not self._quiet and self.ref is not None:
            self.changed.emit(label, fields)

    def _toggle_turn(self, on: bool) -> None:
        self._tell("Undo the turn" if on else "Leave the turn", turn=Turn(yaw=self.yaw.value()) if on else None)

    def _turn(self, _: float) -> None:
        old = self.ref.turn if self.ref else None
        spread = old.spread if old else 3.0
        self._tell(
            "Turn of the head", turn=Turn(yaw=self.yaw.value(), pitch=self.pitch.value(), roll=self.roll.value(), spread=spread)
        )

    def _face(self, name: str) -> None:
        self._tell("The face it makes", expression=name, degree=1.0)

    def _toggle_distance(self, on: bool) -> None:
        self._tell("Distance", distance_m=self.distance.value() if on else None)

    def _distance(self, metres: float) -> None:
        self._tell("Distance", distance_m=metres)

    def _sheet(self, _: float) -> None:
        sheet = self.ref.sheet if self.ref else None
        if sheet is not None:
            self._tell("Size of the page", sheet=sheet.model_copy(update={"mm": (self.width_mm.value(), self.height_mm.value())}))

    def _rights(self) -> None:
        if self.ref is not None and self.rights.text().strip() != self.ref.rights:
            self._tell("Rights", rights=self.rights.text().strip())

    def _feeds(self, _: bool) -> None:
        on = tuple(n for n, box in self._boxes.items() if box.isChecked())
        if on:
            self._tell("What it is read for", feeds=() if len(on) == len(self._boxes) else on)
