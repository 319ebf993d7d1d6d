"""The Check station."""

from __future__ import annotations

from dataclasses import replace

from PySide6.QtGui import QAction, QTransform
from PySide6.QtWidgets import QComboBox, QLabel, QWidget

from ....core.check.check import Check
from ....core.features.choices import PLAIN
from ....core.head.construct import head_layers, plan_lines
from ....core.landmarks.points import Landmarks
from ....core.landmarks.seed import seed_from_plan
from ....core.picture import Path, Picture
from ....core.plan.plan import Plan
from ....core.project.edits import add_drawing, change_drawing, confirm, marks_of, new_id, remove_drawing
from ....core.project.model import Drawing, Image, Marks, Sheet
from ....core.proportions.measure import measure
from ....core.proportions.registry import front_registry
from ....core.references import flat, on_page
from ...document import Document
from ...ledge import Hint
from ...stage.images import ImageStore
from ...stage.marks import MarksEdit
from ..base import Station, button
from ..flatten import look_for_marks, sheet_of
from ..marking import Clicked, counts_words, estimated, follow, with_own
from .items import finding_items, own_item
from .panel import CheckPanel
from .stage import CheckStage


class CheckStation(Station):
    name = "Check"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.which = QComboBox()
        self.which.setAccessibleName("Which drawing")
        self.which.activated.connect(lambda i: document.choose_drawing(self.which.itemData(i)))
        self.version = QComboBox()
        self.version.setAccessibleName("Which version the drawing shows")
        self.version.setToolTip("A drawing is checked against its own version")
        self.version.activated.connect(lambda i: self._set_version(self.version.itemData(i)))
        for box in (self.which, self.version):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            box.setMaximumWidth(200)
        self.counts = QLabel()
        self.overlay = button("Plan over it", self._toggle_overlay, "Show or hide the plan over the drawing (hold O to hide it)")
        self.overlay.setCheckable(True)
        self.overlay.setChecked(True)
        self.seed = button(
            "Seed points…", self._seed, "Click crown, chin and an eye corner; the rest is laid from your plan (Ctrl+L)"
        )
        self.confirm_all = button(
            "Confirm", self._confirm_all, "Say that all estimated rings are right (Ctrl+Return)", strong=True
        )
        self.head.addWidget(self.which)
        self.head.addWidget(self.version)
        self.head.addStretch(1)
        self.head.addWidget(self.counts)
        for b in (self.overlay, self.seed, self.confirm_all):
            self.head.addWidget(b)
        self.head_line.spare = [self.counts, self.seed]
        self.stage, self.panel = CheckStage(), CheckPanel()
        self.build(self.stage, self.panel)
        s = self.stage
        follow(s, document, self._edit, self._lay_seeds, self.status_changed.emit)
        s.corners_set.connect(self._set_corners)
        s.choose.clicked.connect(lambda: self.wanted.emit("picture"))
        self.panel.hovered.connect(self._hover)
        self.panel.meant.connect(self._meant)
        self.panel.ask_again.connect(self._ask_again)
        self.panel.own_hovered.connect(self._hover_own)
        self.panel.place_ends.connect(self._place_ends)
        self.panel.noise_chosen.connect(self._set_noise)
        self._ends: list[str] = []
        """Ends of an own span still to be placed on the drawing, in order."""
        self._shown: object = None
        self._seen = ""
        self._actions = [
            self.action("Seed points by three clicks", "Ctrl+L", self._seed),
            self.action("Confirm all estimated points", "Ctrl+Return", self._confirm_all, on=self.stage),
            self.action("Plan over the drawing", "Ctrl+Shift+O", self._toggle_overlay_key),
            self.action("Mirror view", "Ctrl+M", self._mirror),
            self.action("Set the page’s four corners", "", self._click_corners, "For a photographed page: click its corners"),
            self.action("Find printed corner marks", "", self._find_marks, "Find the marks Orthomet prints on its guides"),
            self.action("Leave the page as it is", "", lambda: self._set_sheet("Leave the page as it is", None)),
            self.action("Remove this drawing", "", self._remove),
        ]

    # ---- edits

    def _set_version(self, vid: str) -> None:
        ids = self._ids()
        if ids:
            self.document.do("The version it shows", change_drawing(*ids, version=vid))

    def _fill_versions(self) -> None:
        c, d = self.document.character, self.document.drawing
        self.version.setVisible(bool(c and d and c.versions))
        if c is None or d is None:
            return
        names = [("", c.name), *((v.id, v.title) for v in c.versions)]
        if names != [(self.version.itemData(k), self.version.itemText(k)) for k in range(self.version.count())]:
            self.version.clear()
            for vid, title in names:
                self.version.addItem(title, vid)
        self.version.setCurrentIndex(max(0, self.version.findData(d.version)))

    def _ids(self) -> tuple[str, str] | None:
        c, d = self.document.character, self.document.drawing
        return (c.id, d.id) if c and d else None

    def _edit(self, label: str | None, edit: MarksEdit) -> None:
        ids = self._ids()
        if ids is None:
            return

        def change(p: object) -> object:
            c = p.character(ids[0])  # type: ignore[attr-defined]
            d = c.drawing(ids[1]) if c else None
            return change_drawing(*ids, marks=edit(d.marks))(p) if d else p  # type: ignore[arg-type]

        if label is None:
            self.document.preview(change)  # type: ignore[arg-type]
        else:
            self.document.do(label, change)  # type: ignore[arg-type]

    def _seed(self) -> None:
        if self._ids():
            self.stage.begin_seeding()
            self.stage.setFocus()

    def _lay_seeds(self, clicked: Clicked) -> None:
        seeds = seed_from_plan(self._plan().points, clicked)
        self._edit("Seed points", lambda m: Marks(points=with_own(m, dict(seeds.points)), states=dict(seeds.states)))
        self.stage.fit()

    def _confirm_all(self) -> None:
        d = self.document.drawing
        names = estimated(d.marks) if d else []
        if names:
            self._edit(f"Confirm {len(names)} points", lambda m: confirm(m, names))

    def _meant(self, key: str) -> None:
        ids, d = self._ids(), self.document.drawing
        if ids and d and key not in d.meant:
            own = {o.reading: o.span.name for o in self.document.check_own()}
            label = own.get(key) or front_registry()[key].label
            self.document.do(f"Meant: {label.lower()}", change_drawing(*ids, meant=(*d.meant, key)))

    def _set_noise(self, heads: float | None) -> None:
        ids = self._ids()
        if ids:
            self.document.do("How well it is marked", change_drawing(*ids, noise=heads))

    def _ask_again(self, key: str) -> None:
        ids, d = self._ids(), self.document.drawing
        if ids and d:
            self.document.do("Ask again", change_drawing(*ids, meant=tuple(k for k in d.meant if k != key)))

    def _remove(self) -> None:
        ids = self._ids()
        if ids:
            self.document.do("Remove drawing", remove_drawing(*ids))

    # ---- the page

    def _click_corners(self) -> None:
        if self._ids():
            self.stage.click_corners()

    def _set_sheet(self, label: str, sheet: Sheet | None) -> None:
        ids = self._ids()
        if ids:
            self.document.do(label, change_drawing(*ids, sheet=sheet))

    def _set_corners(self, corners: tuple[tuple[float, float], ...]) -> None:
        d = self.document.drawing
        sheet = sheet_of(corners, d.sheet if d else None, self.say.emit)
        if sheet is not None:
            self._set_sheet("Page corners", sheet)
        else:
            self.refresh()

    def _find_marks(self) -> None:
        d = self.document.drawing
        image = self.images.get(d.image.hash) if d else None
        if image is not None:
            look_for_marks(self.work_wanted.emit, image, lambda sheet: self._set_sheet("Corner marks", sheet))

    def take_landmarks(self, marks: Landmarks) -> bool | None:
        ids = self._ids()
        return self.document.do("Open landmarks", change_drawing(*ids, marks=marks_of(marks))) if ids else None

    def landmarks_here(self) -> Landmarks | None:
        c, d = self.document.character, self.document.drawing
        return d.marks.landmarks(d.image.size, c.spans if c else ()) if d else None

    def take_picture(self, image: object, name: str) -> bool:
        c = self.document.character
        if c is None or not isinstance(image, Image):
            return False
        drawing = Drawing(id=new_id(), name=name or f"Drawing {len(c.drawings) + 1}", image=image)
        self.document.do("Add drawing", add_drawing(c.id, drawing))
        self.document.choose_drawing(drawing.id)
        return True

    def _toggle_overlay(self) -> None:
        self.stage.show_plan = self.overlay.isChecked()
        self.stage.update()

    def _toggle_overlay_key(self) -> None:
        self.overlay.toggle()
        self._toggle_overlay()

    def _mirror(self) -> None:
        self.stage.mirrored = not self.stage.mirrored
        self.stage.update()

    def _hover(self, k: int, inside: bool) -> None:
        self.stage.lit_finding = k if inside else -1
        check = self.document.check()
        if isinstance(check, Check) and inside and k < len(check.findings):
            self.hot = {check.findings[k].reading}
        else:
            self.hot = set()
        self.stage.update()
        self.status_changed.emit()

    def _hover_own(self, key: str, inside: bool) -> None:
        self.hot = {key} if inside else set()
        self.stage.lit_keys = set(self.hot)
        self.stage.update()
        self.status_changed.emit()

    def _place_ends(self, key: str) -> None:
        span = next((o.span for o in self.document.check_own() if o.reading == key), None)
        d = self.document.drawing
        if span is not None and d is not None:
            self._ends = [n for n in span.ends if n not in d.marks.points]
            self._ask_for_end()

    def _ask_for_end(self) -> None:
        self.stage.placing = None
        self.stage.place_next = self._ends[0] if self._ends else ""
        self.stage.setFocus()
        self.stage.update()
        self.status_changed.emit()

    def _go_on_with_ends(self, marks: Marks) -> None:
        """One end placed: ask for the next."""
        if self._ends and self._ends[0] in marks.points and not self.document.dragging:
            self._ends = [n for n in self._ends if n not in marks.points]
            self._ask_for_end()

    # ---- what the frame asks

    def _only_own(self) -> bool:
        """A creature, on every reference that is marked."""
        c = self.document.character
        marked = [r.marks for r in c.references if r.marks.points] if c else []
        return bool(marked) and all(m.only_own for m in marked)

    def refresh(self) -> None:
        c, d = self.document.character, self.document.drawing
        self.which.clear()
        for each in c.drawings if c else ():
            self.which.addItem(each.name, each.id)
        self.which.setVisible(bool(c and len(c.drawings) > 1))
        if d:
            self.which.setCurrentIndex(self.which.findData(d.id))
        self._fill_versions()
        self.stage.has_drawing = d is not None
        self.stage.template = self._plan().points
        self.stage.set_marks(d.marks if d else Marks(), own_spans=c.spans if c else ())
        self.stage.page.corners = d.sheet.corners if d and d.sheet else ()
        back = on_page(d).back if d and d.sheet else None
        self.stage.back = QTransform(*back.T.ravel().tolist()) if back is not None else QTransform()
        self.stage.set_picture(self.images.get(d.image.hash) if d else None, d.image.size if d else None)
        if d and d.id != self._seen:
            self._ends, self.stage.place_next = [], ""
            if not d.marks.points and not self._only_own():
                self.stage.begin_seeding()
        self._seen = d.id if d else ""
        if d:
            self._go_on_with_ends(d.marks)
        unsure = len(estimated(d.marks)) if d else 0
        self.counts.setText(counts_words(d.marks) if d else "")
        self.confirm_all.setVisible(unsure > 0)
        self.confirm_all.setText(f"Confirm {unsure}")
        self.seed.setVisible(d is not None)
        self.overlay.setVisible(d is not None)
        check = self._face_check()
        good = check if isinstance(check, Check) else None
        own = self.document.check_own()
        self.stage.set_check(good, self._overlay() if good else None)
        self.panel.noise.setEnabled(d is not None)
        self.panel.show_noise(d.noise if d else None, good.noise if good else None)
        self._held = good  # so that its identity stays its own
        shown = (id(good) if good else check, d.meant if d else (), unsure, own)
        if shown != self._shown:
            self._shown = shown
            items = (finding_items(good, self._plan(), self.document.measured(), measure(flat(d))) if good and d else {}) | {
                o.reading: own_item(o) for o in own
            }
            self.panel.show_check(check, items, d.meant if d else (), unsure, own)

    def _face_check(self) -> Check | str:
        d = self.document.drawing
        if d is None:
            return ""
        if d.marks.points and not d.marks.only_own:
            return self.document.check()
        if self._only_own():
            return "" if d.marks.points else "Place the ends of your own parts: each is checked against its plan."
        return "Click crown, chin and one eye corner: your plan lays out the rest."

    def _plan(self) -> Plan:
        """The plan of the version the drawing shows."""
        d = self.document.drawing
        return self.document.plan_of(d.version if d else "")

    def _overlay(self) -> Picture:
        plan, c = self._plan(), self.document.character
        layers = (*head_layers(plan.table, plan.points, c.features if c else PLAIN), plan_lines(plan.table))
        layers = tuple(replace(ly, items=tuple(i for i in ly.items if isinstance(i, Path))) for ly in layers)
        return Picture(layers, (-0.7, -0.2, 1.4, 1.5))

    def hint(self) -> Hint:
        s = self.stage
        if not s.has_drawing:
            return [("Drop", "your drawing here"), ("Ctrl+V", "paste it"), ("Ctrl+I", "choose a file")]
        if s.page.asking():
            return [("Click", s.page.asking()), ("Esc", "leave it")]
        if s.place_next:
            return [("Click", f"where the {s.anchor_wanted()} is"), ("Esc", "leave it")]
        if s.placing is not None:
            return [("Click", s.anchor_wanted()), ("Arrows, Enter", "by keys"), ("Esc", "start again")]
        if s.active:
            return [
                ("Drag", "the ring"),
                ("Arrows", "1 px"),
                ("Shift", "10 px"),
                ("Tab", "next"),
                ("Enter", "confirm"),
                ("Esc", "done"),
            ]
        return [
            ("Drag", "a red ring to correct it"),
            ("Hold O", "to hide the plan"),
            ("Tab", "walk the rings"),
            ("M", "meant, on a finding"),
            ("Wheel", "zoom"),
        ]

    def actions_here(self) -> list[QAction]:
        return self._actions

    def reading_note(self) -> tuple[str, str, str]:
        for o in self.document.check_own():
            if o.reading in self.hot and o.drawing is not None:
                return o.span.name, f"{o.drawing:.3g}", f"plan {o.plan:.3g} ± {o.tolerance:.2g}"
        check = self.document.check()
        if isinstance(check, Check):
            for f in check.findings:
                if f.reading in self.hot:
                    sign = "+" if f.difference_hh > 0 else "−"
                    return (
                        front_registry()[f.reading].label,
                        f"{sign}{abs(f.difference_hh):.3f} heads",
                        f"tolerance {f.tolerance:.3f}",
                    )
        return "", "", ""
