"""The Check station."""

from __future__ import annotations

from PySide6.QtGui import QTransform
from PySide6.QtWidgets import QComboBox, QLabel, QWidget

from ....core.check.check import Check
from ....core.check.figure import FigureCheck
from ....core.features.choices import FeatureChoices
from ....core.gauges.findings import figure_items_of, finding_items, own_item
from ....core.head.construct import head_layers, plan_lines
from ....core.kept import remembered
from ....core.landmarks.views import VIEW_WORDS
from ....core.picture import Picture
from ....core.plan.plan import Plan
from ....core.project.edits import add_drawing, new_id, remove_drawing
from ....core.project.model import Drawing, Image, Marks
from ....core.project.places import DrawingPlace
from ....core.proportions.measure import measure
from ....core.proportions.views import every_reading
from ....core.references import flat, on_page
from ....core.shapes.face import ShapeFinding
from ...document import Document
from ...ledge import Hint
from ...parts import button, choices, put_in, toggle
from ...stage.images import ImageStore
from ..base import Station
from ..marking import MarkedSource, Marking, counts_words
from ..pages import fill
from .panel import CheckPanel
from .stage import CheckStage


class CheckStation(Station):
    name = "Check"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.which = choices("Which drawing", slot=document.choose_drawing)
        self.version = choices(
            "Which version the drawing shows", "A drawing is checked against its own version", slot=self._set_version
        )
        self.view = choices("What it shows", "What the drawing shows: a face from the front, or a figure", self._show_view)
        fill(self.view, [(VIEW_WORDS[k], k) for k in ("front", "figure")], "front")
        for box in (self.which, self.version, self.view):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            box.setMaximumWidth(200)
        self.counts = QLabel()
        tip = "Show or hide the plan over the drawing (hold O to hide it)"
        self.overlay = toggle("Plan over it", self._toggle_overlay, tip, on=True)
        self.choose = button(
            "Choose a drawing…", lambda: self.wanted.emit("picture"), "Open a picture of your drawing (Ctrl+I)", strong=True
        )
        self.stage = CheckStage(self.choose)
        self.marked = self.marking = marking = Marking(self, self.stage, self._source)
        self.seed = button(
            "Seed points…", marking.seed, "Click crown, chin and an eye corner; the rest is laid from your plan (Ctrl+L)"
        )
        self.confirm_all = button(
            "Confirm", marking.confirm_all, "Say that all estimated rings are right (Ctrl+Return)", strong=True
        )
        put_in(self.top_row, self.which, self.view, self.version, ..., self.counts, self.overlay, self.seed, self.confirm_all)
        self.top_line.spare = [self.counts, self.seed]
        self.panel = CheckPanel()
        self.build(self.stage, self.panel)
        self.panel.hovered.connect(self._hover)
        self.panel.meant.connect(self._meant)
        self.panel.ask_again.connect(self._ask_again)
        self.panel.own_hovered.connect(self._hover_own)
        self.panel.place_ends.connect(self._place_ends)
        self.panel.noise_chosen.connect(lambda heads: marking.set("How well it is marked", {"noise": heads}))
        self._ends: list[str] = []
        """Ends of an own span still to be placed on the drawing, in order."""
        self._shown: tuple[object, ...] = (None,)
        self._shaped: tuple[ShapeFinding, ...] = ()
        self._actions = [
            *marking.actions("seed", "confirm", "group", "other side"),
            self.action("Plan over the drawing", "Ctrl+Shift+O", self._toggle_overlay_key),
            *marking.actions("view", "corners", "corner marks", "as it is"),
            self.action("Remove this drawing", "", self._remove),
        ]

    # ---- what is marked

    def _source(self) -> MarkedSource | None:
        c, d = self.document.character, self.document.drawing
        if c is None or d is None:
            return None
        front = self.document.plan_of(d.version).points
        at = DrawingPlace(c.id, d.id)
        return MarkedSource(at, d, lambda: front, c.spans, crown_seen=True, waits_for_seeds=not self._only_own())

    # ---- edits

    def _set_version(self, vid: str) -> None:
        self.marking.set("The version it shows", {"version": vid})

    def _show_view(self, view: str) -> None:
        self.marking.show_view(view)

    def _fill_versions(self) -> None:
        c, d = self.document.character, self.document.drawing
        self.version.setVisible(bool(c and d and c.versions))
        if c is None or d is None:
            return
        fill(self.version, [(c.name, ""), *((v.title, v.id) for v in c.versions)], d.version)

    def _meant(self, key: str) -> None:
        d = self.document.drawing
        if d and key not in d.meant:
            own = {o.reading: o.span.name for o in self.document.check_own()}
            label = own.get(key) or every_reading()[key].label
            self.marking.set(f"Meant: {label.lower()}", {"meant": (*d.meant, key)})

    def _ask_again(self, key: str) -> None:
        d = self.document.drawing
        if d:
            self.marking.set("Ask again", {"meant": tuple(k for k in d.meant if k != key)})

    def _remove(self) -> None:
        c, d = self.document.character, self.document.drawing
        if c and d:
            self.document.do("Remove drawing", remove_drawing(c.id, d.id))

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

    def _hover(self, k: int, inside: bool) -> None:
        self.stage.lit_finding = k if inside else -1
        found = self.stage.findings
        if inside and k < len(found):
            self.hot = {found[k].reading}
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
            self.stage.ask_for(self._ends[0] if self._ends else "")

    def _go_on_with_ends(self, marks: Marks) -> None:
        """One end placed: ask for the next."""
        if self._ends and self._ends[0] in marks.points and not self.document.dragging:
            self._ends = [n for n in self._ends if n not in marks.points]
            self.stage.ask_for(self._ends[0] if self._ends else "")

    # ---- what the frame asks

    def _only_own(self) -> bool:
        """A creature, on every reference that is marked."""
        c = self.document.character
        marked = [r.marks for r in c.references if r.marks.points] if c else []
        return bool(marked) and all(m.only_own for m in marked)

    def refresh(self) -> None:
        c, d = self.document.character, self.document.drawing
        fill(self.which, [(each.name, each.id) for each in c.drawings] if c else [], d.id if d else "")
        self.which.setVisible(bool(c and len(c.drawings) > 1))
        self._fill_versions()
        back = on_page(d).back if d and d.sheet else None
        self.stage.back = QTransform(*back.T.ravel().tolist()) if back is not None else QTransform()
        if self.marking.show():
            self._ends = []
        if d:
            self._go_on_with_ends(d.marks)
        unsure = len(d.marks.estimated) if d else 0
        self.counts.setText(counts_words(d.marks) if d else "")
        self.confirm_all.setVisible(unsure > 0)
        self.confirm_all.setText(f"Confirm {unsure}")
        self.seed.setVisible(d is not None)
        self.view.setVisible(d is not None)
        view = d.marks.view if d else "front"
        self.view.setCurrentIndex(self.view.findData(view))
        self.overlay.setVisible(d is not None and d.marks.view == "front")
        check = self._check()
        good = check if isinstance(check, Check) else None
        figure = check if isinstance(check, FigureCheck) else None
        own = self.document.check_own()
        self.stage.set_check(good, _overlay(self._plan(), c.features) if good and c else None, figure.findings if figure else ())
        self.panel.noise.setEnabled(d is not None)
        self.panel.show_noise(d.noise if d else None, good.noise if good else figure.noise if figure else None)
        shaped = self.document.check_shapes() if not self.document.dragging else self._shaped
        self._shaped = shaped
        more = (d.meant if d else (), unsure, own, shaped)
        if check is not self._shown[0] or more != self._shown[1:]:
            self._shown = (check, *more)
            if figure is not None and d is not None:
                items = figure_items_of(
                    figure, self.document.figure_plan_of(d.version).readings, self.document.figure_measured(), measure(flat(d))
                )
                self.panel.show_check(figure, items, d.meant, unsure, ())
                return
            items = (finding_items(good, self._plan(), self.document.measured(), measure(flat(d))) if good and d else {}) | {
                o.reading: own_item(o) for o in own
            }
            self.panel.show_check(check, items, d.meant if d else (), unsure, own, shaped)

    def _check(self) -> Check | FigureCheck | str:
        d = self.document.drawing
        if d is None:
            return ""
        if d.marks.view == "figure":
            return (
                self.document.check_figure()
                if d.marks.points
                else "Click crown, chin and the floor: the rest of a figure is laid out as estimates."
            )
        if d.marks.points and not d.marks.only_own:
            return self.document.check()
        if self._only_own():
            return "" if d.marks.points else "Place the ends of your own parts: each is checked against its plan."
        return "Click crown, chin and one eye corner: your plan lays out the rest."

    def _plan(self) -> Plan:
        """The plan of the version the drawing shows."""
        d = self.document.drawing
        return self.document.plan_of(d.version if d else "")

    def hint(self) -> Hint:
        s = self.stage
        if s.size_px is None:
            return [("Drop", "your drawing here"), ("Ctrl+V", "paste it"), ("Ctrl+I", "choose a file")]
        if s.asking():
            return [("Click", s.asking()), ("Esc", "leave it")]
        if s.place_next:
            return [("Click", f"where the {s.anchor_wanted()} is"), ("Esc", "leave it")]
        if s.placing is not None:
            return [("Click", s.anchor_wanted()), ("Arrows, Enter", "by keys"), ("Esc", "start again")]
        if s.active:
            by_keys = [("Arrows", "1 px"), ("Shift", "10 px"), ("Tab", "next"), ("Enter", "confirm"), ("Esc", "done")]
            return [("Drag", "the ring"), *by_keys]
        keys = [("Hold O", "to hide the plan"), ("Tab", "walk the rings"), ("M", "meant, on a finding"), ("Wheel", "zoom")]
        return [("Drag", "a red ring to correct it"), *keys]

    def reading_note(self) -> tuple[str, str, str]:
        for o in self.document.check_own():
            if o.reading in self.hot and o.drawing is not None:
                return o.span.name, f"{o.drawing:.3g}", f"plan {o.plan:.3g} ± {o.tolerance:.2g}"
        for f in self.stage.findings:
            if f.reading in self.hot:
                sign = "+" if f.difference_hh > 0 else "−"
                label, off = every_reading()[f.reading].label, f"{sign}{abs(f.difference_hh):.3f} heads"
                return label, off, f"tolerance {f.tolerance:.3f}"
        return "", "", ""


@remembered(4)
def _overlay(plan: Plan, features: FeatureChoices) -> Picture:
    """What is laid over a drawing; the same while its points are dragged."""
    layers = (*head_layers(plan.table, plan.points, features), plan_lines(plan.table))
    return Picture(layers, (-0.7, -0.2, 1.4, 1.5)).wordless()
