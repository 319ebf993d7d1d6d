"""The Reference station: place landmarks on the picture, read what it shows against a norm."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from PySide6.QtGui import QAction
from PySide6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from ....core.landmarks.level import LevelBy
from ....core.landmarks.points import Landmarks
from ....core.landmarks.templates import template
from ....core.landmarks.views import SCHEMAS, VIEW_WORDS
from ....core.project.edits import (
    change_reference,
    confirm,
    decide,
    remove_reference,
    set_character,
    show_view,
    take_landmarks,
)
from ....core.project.model import Marks, Reference
from ....core.proportions.measure import missing_for
from ....core.proportions.registry import Role
from ....core.resolve import plan_of_style
from ...document import Document
from ...ledge import Hint
from ...stage.images import ImageStore
from ...stage.marks import MarksEdit
from ..base import Station, button
from ..fields import put_words
from ..jobs import available
from ..marking import Clicked, counts_words, edit_reference, estimated, follow, seeded, without
from .finding import Finding
from .items import value_words
from .panel import ReferencePanel
from .saving import Saving
from .spanbar import SpanBar
from .spans import Spans
from .stage import ReferenceStage


class ReferenceStation(Station):
    name = "Reference"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.finding, self.spans, self.saving = Finding(self), Spans(self), Saving(self)
        self._build_head()
        self.stage = ReferenceStage()
        self.stage.choose.clicked.connect(lambda: self.wanted.emit("picture"))
        self.stage.demo.clicked.connect(lambda: self.wanted.emit("demo"))
        self._front = plan_of_style("measured-adult").points
        self.panel = ReferencePanel(document)
        self.list = self.panel.list
        self.span_bar = SpanBar()
        below = QWidget()
        lines = QVBoxLayout(below)
        lines.setContentsMargins(0, 0, 0, 0)
        lines.setSpacing(0)
        lines.addWidget(self.span_bar)
        lines.addWidget(self._credit_bar())
        self.build(self.stage, self.panel, below)
        self._seen = ""
        self._connect()
        self._actions = [
            self.action(
                "Find the face", "Ctrl+J", self.finding.find, "Find the face and its turn, lay points for you to correct"
            ),
            self.action("Seed points by three clicks", "Ctrl+L", self._seed),
            self.action("Confirm all estimated points", "Ctrl+Return", self._confirm_all, on=self.stage),
            self.action("Confirm this group", "Ctrl+G", self.stage.confirm_group, on=self.stage),
            self.action("Crown lies under hair", "Ctrl+U", self._crown_under_hair, on=self.stage),
            self.action("Not there by design", "Ctrl+B", self._absent, "The active point is missing on purpose", self.stage),
            self.action("Level by the eyes", "Ctrl+E", self._toggle_level),
            self.action("Mirror view", "Ctrl+M", self._mirror),
            self.action("Mark a span of your own", "Ctrl+T", self.stage.mark_span),
            self.action("Forget the last own span", "", self.spans.forget_span),
            self.action("Measuring stick", "Ctrl+D", lambda: self.spans.tool("stick")),
            self.action("What the stick fits into", "Ctrl+R", lambda: self.spans.tool("other")),
            self.action("Keep the stick as a span", "Ctrl+K", self.spans.keep_stick),
            self.action("Level line", "Ctrl+Shift+L", lambda: self.spans.tool("level")),
            self.action("Plumb line", "Ctrl+Shift+P", lambda: self.spans.tool("plumb")),
            self.action("Save readings as CSV…", "", self.saving.save_csv),
            self.action("Remove this reference", "", self._remove),
        ]

    def _build_head(self) -> None:
        self.which, self.view = QComboBox(), QComboBox()
        self.which.setAccessibleName("Which reference")
        self.which.setToolTip("The reference that is measured")
        self.which.activated.connect(self._choose)
        self.view.setAccessibleName("What it shows")
        self.view.setToolTip("What the picture shows: a face from the front, a profile, or a figure")
        for key, words in VIEW_WORDS.items():
            self.view.addItem(words, key)
        self.view.activated.connect(self._set_view)
        self.counts = QLabel()
        self.counts.setProperty("soft", True)
        self.which.setMaximumWidth(104)
        self.view.setMaximumWidth(124)
        self.find = button("Find face", self.finding.find, "Find the face and its turn, lay points for you to correct (Ctrl+J)")
        self.start_over = button(
            "Three clicks…", self._seed, "Click three points; the rest is laid out for you to correct (Ctrl+L)"
        )
        self.confirm_all = button(
            "Confirm", self._confirm_all, "Say that all estimated points are right (Ctrl+Return)", strong=True
        )
        self.head.addWidget(self.which)
        self.head.addWidget(self.view)
        self.head.addStretch(1)
        for w in (self.counts, self.find, self.start_over, self.confirm_all):
            self.head.addWidget(w)
        self.head_line.spare = [self.counts, self.start_over]

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
        follow(s, d, self.edit_marks, self._lay_seeds, self.status_changed.emit)
        s.hovered_points.connect(self._point_hover)
        s.face_chosen.connect(self.finding.find_number)
        s.span_marked.connect(self.spans.span_marked)
        s.corners_set.connect(self.finding.corners)
        self.span_bar.kept.connect(self.spans.keep_span)
        self.span_bar.dropped.connect(self.spans.drop_span)
        self.panel.norm_chosen.connect(self._set_norm)
        panel = self.panel
        self.list.hovered.connect(self._row_hover)
        panel.noticed.hovered.connect(self._row_hover)
        self.list.missing_clicked.connect(self._place_missing)
        panel.noticed.changed.connect(lambda rows: self.edit_character("Noticed first", {"noticed": rows}))
        panel.picture.changed.connect(self.edit_fields)
        panel.picture.corners_wanted.connect(s.click_corners)
        panel.picture.mend_corners.connect(self.finding.find_marks)
        for page in (panel.picture.character_changed, panel.idea.changed, panel.colours.changed):
            page.connect(self.edit_character)
        panel.colours.take_wanted.connect(self.saving.take_colours)
        panel.colours.export_wanted.connect(self.saving.save_colours)

    # ---- edits

    @property
    def reference(self) -> Reference | None:
        c = self.document.character
        return c.reference if c else None

    def edit_marks(self, label: str | None, edit: MarksEdit) -> None:
        c, ref = self.document.character, self.reference
        if c is None or ref is None:
            return
        if label is None:
            self.document.preview(lambda p: edit_reference(p, c.id, ref.id, edit))
        else:
            self.document.do(label, lambda p: edit_reference(p, c.id, ref.id, edit))

    def edit_fields(self, label: str, fields: dict[str, Any]) -> None:
        c, ref = self.document.character, self.reference
        if c and ref:
            self.document.do(label, change_reference(c.id, ref.id, **fields))

    def edit_character(self, label: str, fields: dict[str, Any]) -> None:
        c = self.document.character
        if c:
            self.document.do(label, set_character(c.id, **fields))

    def _choose(self, index: int) -> None:
        c = self.document.character
        if c and 0 <= index < len(c.references):
            self.edit_character("Choose reference", {"chosen_reference": c.references[index].id})

    def _set_view(self, index: int) -> None:
        view = str(self.view.itemData(index))
        if self.reference is not None and view != self.reference.marks.view:
            self.edit_marks(f"It shows: {VIEW_WORDS[view].lower()}", lambda m: show_view(m, view))
            if not self.reference.marks.points:
                self.stage.begin_seeding()

    def _set_norm(self, name: str) -> None:
        c = self.document.character
        if c:
            self.document.do("Read against", decide(c.id, norm=name))

    def _remove(self) -> None:
        c, ref = self.document.character, self.reference
        if c and ref:
            self.document.do("Remove reference", remove_reference(c.id, ref.id))

    def _take_credit(self) -> None:
        ref = self.reference
        if ref and self.credit.text() != ref.credit:
            self.edit_fields("Credit", {"credit": self.credit.text().strip()})

    def take_landmarks(self, marks: Landmarks) -> bool | None:
        c, ref = self.document.character, self.reference
        return self.document.do("Open landmarks", take_landmarks(c.id, ref.id, marks)) if c and ref else None

    def landmarks_here(self) -> Landmarks | None:
        c, ref = self.document.character, self.reference
        return replace(ref.marks.landmarks(ref.image.size, c.spans), turn=ref.turn) if c and ref else None

    # ---- points

    def _seed(self) -> None:
        if self.reference:
            self.stage.stop_asking()
            self.stage.begin_seeding()
            self.stage.setFocus()

    def _lay_seeds(self, clicked: Clicked) -> None:
        self.edit_marks("Seed points", lambda m: seeded(m, clicked, self._front))
        self.stage.active = "vertex"
        self.stage.fit()
        self.status_changed.emit()

    def _confirm_all(self) -> None:
        names = estimated(self.reference.marks) if self.reference else []
        if names:
            spread = self.stage.crown_spread() if "vertex" in names else {}
            self.edit_marks(f"Confirm {len(names)} points", lambda m: confirm(m, names, spread))

    def _crown_under_hair(self) -> None:
        """The crown is a guess under the hair: keep it, and let its uncertainty show."""
        spread = self.stage.crown_spread()
        if spread:
            self.edit_marks("Crown lies under hair", lambda k: confirm(k, ["vertex"], spread))

    def _absent(self) -> None:
        name = self.stage.active
        if name:
            words = self.stage.words(name)
            self.edit_marks(f"No {words} by design", lambda m: without(m, name))
            self.stage.active = ""

    def _toggle_level(self) -> None:
        ref = self.reference
        if ref:
            other = LevelBy.EYES if ref.level_by is LevelBy.CENTRE else LevelBy.CENTRE
            self.edit_fields(f"Level by {other}", {"level_by": other})

    def _mirror(self) -> None:
        self.stage.mirrored = not self.stage.mirrored
        self.stage.update()

    def _place_missing(self, key: str) -> None:
        c, ref = self.document.character, self.reference
        if c and ref:
            gone = missing_for(ref.marks.landmarks(None, c.spans), key)
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
        reg = self.document.seen().registry
        lit = {r.key for r in reg.readings if r.role is not Role.BALANCE and names & r.over.needs} if names else set()
        self.panel.light(lit)

    def _light(self) -> None:
        m = self.document.seen()
        self.stage.lit_keys = set(self.hot)
        self.stage.lit_words = {k: value_words(m.registry, k, m.table[k]) for k in self.hot if k in m.table}
        self.panel.light(self.hot)
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
        self.view.setVisible(ref is not None)
        view = ref.marks.view if ref else "front"
        self.view.setCurrentIndex(self.view.findData(view))
        self.credit.setEnabled(ref is not None)
        put_words(self.credit, ref.id if ref else "", ref.credit if ref else "")
        self.stage.template = self._front if view == "front" else template(SCHEMAS[view])
        self.stage.set_marks(ref.marks if ref else Marks(), ref.level_by if ref else LevelBy.CENTRE, c.spans if c else ())
        self.stage.page.corners = ref.sheet.corners if ref and ref.sheet else ()
        self.stage.set_picture(self.images.get(ref.image.hash) if ref else None, ref.image.size if ref else None)
        if ref and ref.id != self._seen:
            self.stage.stop_asking()
            self.stage.place_next = ""
            self.spans.drop_span()
            if not ref.marks.points:
                self.stage.begin_seeding()
        self._seen = ref.id if ref else ""
        loose = len(estimated(ref.marks)) if ref else 0
        self.counts.setText(counts_words(ref.marks) if ref else "")
        self.confirm_all.setVisible(loose > 0)
        self.confirm_all.setText(f"Confirm {loose}")
        self.start_over.setVisible(ref is not None)
        self.find.setVisible(ref is not None and view == "front")
        self.panel.refresh()
        sentence = self.document.landmark_problem()
        if sentence:
            self.document.trouble.emit(sentence)
        if self.hot:
            self._light()

    def hint(self) -> Hint:
        s = self.stage
        if s.size_px is None:
            return [("Drop", "a picture here"), ("Ctrl+V", "paste one"), ("Ctrl+I", "choose a file")]
        if s.asking():
            return [("Click", s.asking()), ("Esc", "leave it")]
        if s.tools.hint():
            return s.tools.hint()
        if s.placing is not None:
            face = [("Ctrl+J", "find the face")] if s.marks.view == "front" and available() else []
            return [("Click", s.anchor_wanted()), *face, ("Arrows, Enter", "by keys"), ("Esc", "start again")]
        if s.place_next:
            return [("Click", f"where the {s.anchor_wanted()} is"), ("Esc", "leave it")]
        if s.active:
            group, left = s.open_in_group()
            walk = [("Enter", "confirm, next"), ("Shift+Enter", f"confirm all {group.lower()}")] if left else [("Tab", "next")]
            return [
                ("Drag", "the point"),
                ("Arrows", "1 px"),
                ("Shift", "10 px"),
                *walk,
                ("H", "hidden"),
                ("Ctrl+B", "absent by design"),
                ("Esc", "done"),
            ]
        return [
            ("Drag", "a point"), ("Tab", "walk them"), ("Wheel", "zoom"), ("Space-drag", "pan"), ("Ctrl+D", "measuring stick"),
            ("Ctrl+T", "own span"), ("Hover", "a row to see what it measures"),
        ]  # fmt: skip

    def actions_here(self) -> list[QAction]:
        return self._actions

    def reading_note(self) -> tuple[str, str, str]:
        reg = self.document.seen().registry
        for k in self.hot:
            if k in self.list.rows and k in reg.index:
                i = self.list.rows[k].item
                usual = f"usual {i.show(i.norm)} ± {i.sd:g}" if i.norm is not None and i.sd is not None else ""
                value = i.show(i.reference) + (f" {reg[k].unit}" if not i.angle else "") if i.reference is not None else "–"
                return i.label, value, usual
        return "", "", ""
