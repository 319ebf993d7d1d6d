"""The Check station."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

from PySide6.QtCore import QSettings, QTimer
from PySide6.QtGui import QTransform
from PySide6.QtWidgets import QComboBox, QFileDialog, QLabel, QWidget

from ....core.check.check import Check
from ....core.check.compare import Compared
from ....core.check.cures import curable, pointers
from ....core.check.details import attached_on, counts_on
from ....core.check.figure import FigureCheck
from ....core.check.gate import gate
from ....core.check.stages import in_order
from ....core.check.told import against_words, bases, how_words
from ....core.check.view import ViewCheck
from ....core.gauges.findings import figure_items_of, finding_items, own_item
from ....core.gauges.item import GaugeItem
from ....core.landmarks.turn import Turn
from ....core.landmarks.views import SCHEMAS, VIEW_WORDS
from ....core.live.saved import now
from ....core.plan.plan import Plan
from ....core.project.edits import add_drawing, new_id, remove_drawing
from ....core.project.model import Drawing, Image, Marks
from ....core.project.places import DrawingPlace
from ....core.proportions.measure import measure
from ....core.proportions.views import every_reading
from ....core.references import flat, on_page
from ....core.shapes.face import ShapeFinding
from ...document import Document
from ...following import FOLLOWED
from ...ledge import Hint
from ...parts import button, choices, pile, put_in, toggle
from ...stage.images import ImageStore
from ..base import Station
from ..marking import MarkedSource, Marking, counts_words
from ..pages import fill
from .basis_bar import READ
from .curer import Curer
from .details_view import Details
from .drift_view import DriftView
from .live import LiveDesk
from .look_bar import LookBar
from .meaning import Meaning
from .panel import CheckPanel
from .plan_over import PlanOver
from .reader import DrawingReader
from .set_hand import SetHand
from .sight import Sight
from .stage import CheckStage
from .whole_set import WholeSet

RESTED_MS = 160
"""How long a hand rests before the whole answer is worked out in the middle of a drag (own)."""
FIRST_CLICKS = {
    "figure": "Click crown, chin and the floor: the rest of a figure is laid out as estimates.",
    "profile": "Click crown, chin and the tip of the nose: the rest is laid out as estimates.",
}
EVERY = " ".join(f"*{e}" for e in FOLLOWED)


class CheckStation(Station):
    name = "Check"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.which = choices("Which drawing", slot=document.choose_drawing)
        self.version = choices(
            "Which version the drawing shows", "A drawing is checked against its own version", slot=self._set_version
        )
        self.view = choices("What it shows", "What the drawing shows: a face, or a figure", self._show_view)
        fill(self.view, [(VIEW_WORDS[k], k) for k in ("front", "profile", "figure")], "front")
        for box in (self.which, self.version, self.view):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            box.setMaximumWidth(180)
        self.counts = QLabel()
        tip = "Show or hide the plan over the drawing (hold O to hide it)"
        self.whole_set = toggle(
            "Whole set", self._show_set, "What strays and creeps over all drawings of this character (Ctrl+Shift+W)"
        )
        self.overlay = toggle("Plan over it", self._toggle_overlay, tip, on=True)
        self.choose = button(
            "Choose a drawing…", lambda: self.wanted.emit("picture"), "Open a picture of your drawing (Ctrl+I)", strong=True
        )
        follow_tip = "Choose the file your paint program saves: it is checked again at every save (Ctrl+Shift+F)"
        self.follow_first = button("Follow a file…", self._follow_dialog, follow_tip)
        self.follow = button("Follow…", self._follow_dialog, follow_tip)
        self.stage = CheckStage(self.choose, self.follow_first)
        self.marked = self.marking = marking = Marking(self, self.stage, self._source)
        self.seed = button(
            "Seed points…", marking.seed, "Click crown, chin and an eye corner; the rest is laid from your plan (Ctrl+L)"
        )
        self.confirm_all = button(
            "Confirm", marking.confirm_all, "Say that all estimated rings are right (Ctrl+Return)", strong=True
        )
        top = (
            self.which,
            self.view,
            self.version,
            ...,
            self.counts,
            self.whole_set,
            self.overlay,
            self.follow,
            self.seed,
            self.confirm_all,
        )
        put_in(self.top_row, *top)
        self.top_line.spare = [self.counts, self.seed, self.overlay]
        self.panel, self.bar = CheckPanel(), LookBar()
        self.drift = DriftView()
        self.sheet = pile(self.stage, self.drift)
        self.build(self.sheet, self.panel, self.bar)
        self.setFocusProxy(self.stage)
        self.live = LiveDesk(document, images, self)
        self.meaning, self.reader, self.curer = Meaning(self), DrawingReader(self), Curer(self)
        self.record, self.set = SetHand(self, self.stage), WholeSet(self, self.drift.chart)
        self.plan_over = PlanOver(self, self.stage)
        self.sight = Sight(self, self.stage, self.bar, self.panel.cures, self.curer)
        self._last: Compared | None = None
        self._ends: list[str] = []
        """Ends of an own span still to be placed on the drawing, in order."""
        self._shown: tuple[object, ...] = (None,)
        self._shaped: tuple[ShapeFinding, ...] = ()
        self._rested = QTimer(self, singleShot=True, interval=RESTED_MS)
        self._rested.timeout.connect(self._hand_rests)
        self._connect()
        self._actions = [
            self.action("Follow a file…", "Ctrl+Shift+F", self._follow_dialog, follow_tip),
            self.action("Follow it no more", "", self.live.stop),
            *marking.actions("find", "seed", "confirm", "group", "other side"),
            self.action("Plan over the drawing", "Ctrl+Shift+O", self._toggle_overlay_key),
            self.action("Show the cure", "", self.sight.toggle_cure, "Lay the cure over the drawing, or take it away (C)"),
            self.action("Redline over the drawing", "Ctrl+Shift+R", self.sight.toggle_redline),
            self.action("Write the redline…", "", self.sight.write_redline),
            self.action("Whole set", "Ctrl+Shift+W", self._set_by_key),
            self.action("Write the set’s drift…", "", self.set.write),
            self.action("Keep this check", "Ctrl+Shift+K", self.record.keep, "Into the log of this drawing"),
            self.action("Write the log…", "", self.record.write_log),
            *marking.actions("view", "corners", "corner marks", "as it is"),
            self.action("Remove this drawing", "", self._remove),
        ]

    def _connect(self) -> None:
        panel, stage = self.panel, self.stage
        panel.hovered.connect(self._hover)
        panel.meant.connect(self.meaning.here)
        panel.scope_wanted.connect(self.meaning.ask)
        panel.ask_again.connect(self.meaning.ask_again)
        panel.own_hovered.connect(self._hover_own)
        panel.place_ends.connect(self._place_ends)
        panel.noise_chosen.connect(lambda heads: self.marking.set("How well it is marked", {"noise": heads}))
        panel.basis.basis_chosen.connect(lambda key: self.marking.set("What it is checked against", {"basis": key}))
        panel.basis.view_chosen.connect(lambda turned: self.marking.set("How the head looks", {"turned": turned, "turn": None}))
        panel.basis.face_chosen.connect(self._choose_face)
        panel.basis.degree_wanted.connect(self._turn_degree)
        panel.basis.ball.turned.connect(self._turn_head)
        panel.live.stop_wanted.connect(self.live.stop)
        hand = self.record
        panel.details.counted.connect(hand.count)
        panel.details.count_wanted.connect(hand.count_spots)
        panel.details.place_wanted.connect(hand.place_line)
        panel.details.detail_added.connect(hand.add_detail)
        panel.details.line_added.connect(hand.add_line)
        panel.details.forgotten.connect(hand.forget)
        panel.gate.overruled.connect(hand.overrule)
        panel.gate.again_wanted.connect(hand.again)
        panel.log.told.connect(lambda words: self.say.emit(words, False))
        self.drift.chart.opened.connect(self._open_of_set)
        self.document.saving.connect(hand.keep_closing)
        panel.cures.redline_wanted.connect(self.sight.write_redline)
        stage.anchors_clicked.connect(self.reader.lines)
        self.marking.face_laid.connect(self.reader.found)
        self.plan_over.came.connect(self.sight.show)
        self.live.changed.connect(self.refresh)
        self.live.said.connect(self.say.emit)

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

    def _remove(self) -> None:
        c, d = self.document.character, self.document.drawing
        if c and d:
            self.document.do("Remove drawing", remove_drawing(c.id, d.id))

    def take_picture(self, image: object, name: str) -> bool:
        c = self.document.character
        if c is None or not isinstance(image, Image):
            return False
        drawing = Drawing(id=new_id(), name=name or f"Drawing {len(c.drawings) + 1}", image=image, made=now()[:10])
        self.document.do("Add drawing", add_drawing(c.id, drawing))
        self.document.choose_drawing(drawing.id)
        return True

    # ---- how it is looked at

    def _turn_head(self, turn: Turn | None, ended: bool) -> None:
        if ended:
            self.plan_over.trial = None
            self.marking.set("How the head is turned", {"turn": turn})
            self.refresh()
        else:
            self.plan_over.turned(turn)

    def _turn_degree(self) -> None:
        d = self.document.drawing
        if d is not None:
            self.marking.set("How strongly it makes that face", {"degree": 0.6 if d.degree == 1 else 1.0})

    def _choose_face(self, name: str) -> None:
        if name == READ:
            self.reader.face()
        else:
            self.marking.set("The face it makes", {"expression": name, "degree": 1.0})

    def _toggle_overlay(self) -> None:
        self.stage.show_plan = self.overlay.isChecked()
        self.stage.update()

    def _toggle_overlay_key(self) -> None:
        self.overlay.toggle()
        self._toggle_overlay()

    # ---- the whole set

    @property
    def set_shown(self) -> bool:
        """Whether the whole set is asked for, and there is one."""
        c = self.document.character
        return self.whole_set.isChecked() and c is not None and len(c.drawings) > 1

    def _show_set(self) -> None:
        self.refresh()
        self.status_changed.emit()

    def _set_by_key(self) -> None:
        self.whole_set.toggle()
        if self.whole_set.isChecked() and not self.set_shown:
            self.whole_set.setChecked(False)
            self.say.emit("Two drawings of this character make a set.", True)
        self._show_set()

    def _open_of_set(self, did: str) -> None:
        self.whole_set.setChecked(False)
        self._show_set()
        self.document.choose_drawing(did)

    def _show_drift(self) -> None:
        if self.set_shown and not self.document.dragging:
            self.set.show()

    # ---- following a file

    def _follow_dialog(self) -> None:
        start = str(QSettings().value("follow_folder", str(Path.home())))
        path, _ = QFileDialog.getOpenFileName(self, "Follow a file", start, f"Pictures ({EVERY})")
        if path:
            QSettings().setValue("follow_folder", str(Path(path).parent))
            self.follow_path(path)

    def follow_path(self, path: str) -> None:
        """Follow a picture on disk: it is checked again at every save."""
        self.live.follow(path)

    def let_go(self) -> None:
        self.live.let_go()
        self.curer.work.let_go()
        self.plan_over.let_go()
        self.set.let_go()

    # ---- the hand over the findings

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
        self.sheet.setCurrentWidget(self.drift if self.set_shown else self.stage)
        self._fill_versions()
        back = on_page(d).back if d and d.sheet else None
        self.stage.back = QTransform(*back.T.ravel().tolist()) if back is not None else QTransform()
        if self.marking.show():
            self._ends, self._last = [], None
            self.sight.clear()
            self.plan_over.clear()
        if d:
            self._go_on_with_ends(d.marks)
        unsure = len(d.marks.estimated) if d else 0
        self.counts.setText(counts_words(d.marks) if d else "")
        self.confirm_all.setVisible(unsure > 0)
        self.confirm_all.setText(f"Confirm {unsure}")
        self.seed.setVisible(d is not None and not self.set_shown)
        self.follow.setVisible(d is not None and not self.live.name)
        self.view.setVisible(d is not None)
        view = d.marks.view if d else "front"
        self.view.setCurrentIndex(self.view.findData(view))
        marking = d is not None and not self.set_shown
        self.overlay.setVisible(marking)
        told = self._check()
        if self.document.dragging:
            self._rested.start()
        self._show(told, unsure)
        self.panel.live.show_live(self.live.name, self.live.note, self.live.since, self.live.follows(d))

    def _hand_rests(self) -> None:
        """In the middle of a drag: the whole answer instead of the quick one."""
        d = self.document.drawing
        if self.document.dragging and d is not None and d.marks.points and not d.marks.only_own:
            view = d.marks.view
            told = self.document.compared() if view == "front" else self._other_view(view, False)
            self._show(told, len(d.marks.estimated))

    def _show(self, told: Compared | ViewCheck | str, unsure: int) -> None:
        d = self.document.drawing
        compared = told if isinstance(told, Compared) else None
        if compared is not None:
            compared = replace(compared, check=in_order(compared.check))
        figure = told if isinstance(told, ViewCheck) else None
        check = compared.check if compared is not None else None
        self._last = compared
        turn = compared.turn if compared is not None and compared.turned else None
        if not self.document.dragging:
            self.panel.basis.show_drawing(d, bases(self.document), turn, d is not None and d.marks.view != "front")
        found = figure.findings if figure is not None else check.findings if check is not None else ()
        good = compared if compared is not None else figure
        arrows = (
            pointers(curable(good), on_page(d).marks.array(SCHEMAS[d.marks.view])) if good is not None and d is not None else ()
        )
        self.stage.set_check(found, arrows)
        self.plan_over.show(good)
        self._show_record(check if check is not None else figure)
        self.panel.noise.setEnabled(d is not None)
        self.panel.show_noise(d.noise if d else None, check.noise if check else figure.noise if figure else None)
        own = self.document.check_own()
        shaped = self.document.check_shapes() if not self.document.dragging else self._shaped
        self._shaped = shaped
        words = how_words(compared, d)
        meant = self.document.meant_on(d) if d else ()
        guessed = sum(n not in d.marks.spread for n in d.marks.estimated) if d else 0
        more = (meant, unsure, own, shaped, words)
        if told is not self._shown[0] or more != self._shown[1:]:
            self._shown = (told, *more)
            if figure is not None and d is not None:
                self.panel.show_check(figure, self._view_items(figure, d), meant, unsure, (), guessed=guessed, drawn=True)
            else:
                rows = self._items(compared, d) | {o.reading: own_item(o) for o in own}
                against = against_words(self.document, d) if d is not None else "your plan"
                shown_check = check if check is not None else told if isinstance(told, str) else ""
                self.panel.show_check(shown_check, rows, meant, unsure, own, shaped, words, against, guessed, d is not None)
        self.curer.show(good)
        self.sight.show()

    def _show_record(self, check: Check | ViewCheck | None) -> None:
        """Details, the list before ink, the log, the set."""
        c, d = self.document.character, self.document.drawing
        self.whole_set.setVisible(bool(c and len(c.drawings) > 1))
        self.panel.log.show_log(d.log if d is not None else ())
        if c is not None and d is not None and not self.document.dragging:
            self.panel.details.show_details(Details(counts_on(c, d), attached_on(c, d), d.marks.view))
            self.panel.gate.show_gate(gate(c, d, check, self.document.study_toward(d.version)), d.again)
        self._show_drift()

    def _view_items(self, check: ViewCheck, d: Drawing) -> dict[str, GaugeItem]:
        if not isinstance(check, FigureCheck):
            return {}
        plan = self.document.figure_plan_of(d.version).readings
        return figure_items_of(check, plan, self.document.figure_measured(), measure(flat(d)))

    def _items(self, told: Compared | None, d: Drawing | None) -> dict[str, GaugeItem]:
        """Gauge rows, where the drawing is compared with its plan as it stands."""
        if told is None or d is None or d.basis or told.turned:
            return {}
        return finding_items(told.check, self._plan(), self.document.measured(), measure(flat(d)))

    def _check(self) -> Compared | ViewCheck | str:
        d = self.document.drawing
        if d is None:
            return ""
        if d.marks.view != "front":
            return self._other_view(d.marks.view, self.document.dragging) if d.marks.points else FIRST_CLICKS[d.marks.view]
        if d.marks.points and not d.marks.only_own:
            return self.document.compared(self._last if self.document.dragging else None)
        if self._only_own():
            return "" if d.marks.points else "Place the ends of your own parts: each is checked against its plan."
        return "Click crown, chin and one eye corner: your plan lays out the rest."

    def _other_view(self, view: str, quick: bool) -> ViewCheck | str:
        return self.document.check_figure(quick) if view == "figure" else self.document.check_profile(quick)

    def _plan(self) -> Plan:
        """The plan of the version the drawing shows."""
        d = self.document.drawing
        return self.document.plan_of(d.version if d else "")

    def hint(self) -> Hint:
        s = self.stage
        if self.set_shown:
            return [("Click", "a dot to open its drawing"), ("Ctrl+Shift+W", "back to the drawing")]
        if s.size_px is None:
            return [("Drop", "your drawing here"), ("Ctrl+V", "paste it"), ("Ctrl+Shift+F", "follow a file")]
        if s.asking():
            return [("Click", s.asking()), ("Esc", "leave it")]
        if s.place_next:
            return [("Click", f"where the {s.anchor_wanted()} is"), ("Esc", "leave it")]
        if s.placing is not None:
            return [("Click", s.anchor_wanted()), ("Arrows, Enter", "by keys"), ("Esc", "start again")]
        if s.active:
            by_keys = [("Arrows", "1 px"), ("Shift", "10 px"), ("Tab", "next"), ("Enter", "confirm"), ("Esc", "done")]
            return [("Drag", "the ring"), *by_keys]
        if s.beside is not None:
            return [("Drag", "the wipe"), ("W I K", "wipe, over it, flicker"), ("C", "the cure, or away")]
        keys = [("Hold O", "hide the plan"), ("C", "the cure"), ("M U S G B L", "see it anew"), ("Tab", "walk the rings")]
        return [("Drag", "a red ring"), *keys]

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
