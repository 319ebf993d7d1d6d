"""The Check station."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import numpy as np
from PySide6.QtCore import QPoint, QSettings, QTimer
from PySide6.QtGui import QTransform
from PySide6.QtWidgets import QComboBox, QFileDialog, QLabel, QMenu, QWidget

from ....core.check.compare import AUTO, Compared, How, compare, compare_basis
from ....core.check.cures import Cure, cures, pointers
from ....core.check.figure import FigureCheck
from ....core.check.overlay import overlay_of
from ....core.cure.redline import as_page, redline
from ....core.errors import OrthometError
from ....core.gauges.findings import figure_items_of, finding_items, own_item
from ....core.kept import remembered
from ....core.kinds import Array
from ....core.landmarks.frame import head_height
from ....core.landmarks.schema import FRONT
from ....core.landmarks.turn import Turn
from ....core.landmarks.views import VIEW_WORDS
from ....core.live.lay import Laid, laid_states, lay
from ....core.picture import Picture
from ....core.plan.plan import Plan
from ....core.project.edits import add_drawing, change_version, new_id, remove_drawing, set_character, set_study
from ....core.project.model import Drawing, Image, Marks
from ....core.project.places import DrawingPlace, edit_marks, with_own
from ....core.proportions.measure import measure
from ....core.proportions.views import every_reading
from ....core.references import flat, on_page
from ....core.shapes.face import ShapeFinding
from ....core.styles.schools import schools
from ...ask import ask_where
from ...document import Document
from ...following import FOLLOWED
from ...ledge import Hint
from ...parts import button, choices, put_in, toggle
from ...stage.images import ImageStore
from ...work import Say, Work
from ..base import Station, export_folder, pop_up, remember_export
from ..marking import MarkedSource, Marking, counts_words
from ..pages import fill
from .basis_bar import READ
from .beside import Beside, Way
from .curing import CureShown, shown
from .live import LiveDesk, grey_of
from .look_bar import LookBar
from .looking import (
    CURE,
    EARLIER,
    PLAN,
    REFERENCE,
    beside_cure,
    beside_earlier,
    beside_plan,
    beside_reference,
    offered,
    qt,
    reference_of,
)
from .panel import CheckPanel
from .stage import CheckStage

RESTED_MS = 160
"""How long a hand rests before the whole answer is worked out in the middle of a drag (own)."""
AGAINST = {"self": "itself: level, symmetry, gaze", "norm": "the average adult"}
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
        fill(self.view, [(VIEW_WORDS[k], k) for k in ("front", "figure")], "front")
        for box in (self.which, self.version, self.view):
            box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
            box.setMaximumWidth(180)
        self.counts = QLabel()
        tip = "Show or hide the plan over the drawing (hold O to hide it)"
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
        top = (self.which, self.view, self.version, ..., self.counts, self.overlay, self.follow, self.seed, self.confirm_all)
        put_in(self.top_row, *top)
        self.top_line.spare = [self.counts, self.overlay, self.seed]
        self.panel, self.bar = CheckPanel(), LookBar()
        self.build(self.stage, self.panel, self.bar)
        self.live = LiveDesk(document, images, self)
        self._curing = Work(self)
        self._cured: tuple[object, ...] = ()
        self._cures: tuple[CureShown, ...] = ()
        self._beside, self._way = "", Way.WIPE
        self._last: Compared | None = None
        self._trial: Turn | None = None
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
            self.action("Show the cure", "", self._toggle_cure, "Lay the cure over the drawing, or take it away (C)"),
            self.action("Redline over the drawing", "Ctrl+Shift+R", self._toggle_redline),
            self.action("Write the redline…", "", self._write_redline),
            *marking.actions("view", "corners", "corner marks", "as it is"),
            self.action("Remove this drawing", "", self._remove),
        ]

    def _connect(self) -> None:
        panel, stage = self.panel, self.stage
        panel.hovered.connect(self._hover)
        panel.meant.connect(self._meant)
        panel.scope_wanted.connect(self._ask_scope)
        panel.ask_again.connect(self._ask_again)
        panel.own_hovered.connect(self._hover_own)
        panel.place_ends.connect(self._place_ends)
        panel.noise_chosen.connect(lambda heads: self.marking.set("How well it is marked", {"noise": heads}))
        panel.basis.basis_chosen.connect(lambda key: self.marking.set("What it is checked against", {"basis": key}))
        panel.basis.view_chosen.connect(lambda turned: self.marking.set("How the head looks", {"turned": turned, "turn": None}))
        panel.basis.face_chosen.connect(self._choose_face)
        panel.basis.degree_chosen.connect(lambda k: self._turn_degree())
        panel.basis.ball.turned.connect(self._turn_head)
        panel.live.stop_wanted.connect(self.live.stop)
        panel.cures.chosen.connect(self._choose_cure)
        panel.cures.redline_wanted.connect(self._write_redline)
        self.bar.looked.connect(self._look)
        self.bar.beside_chosen.connect(self._lay_beside)
        self.bar.way_chosen.connect(lambda w: self._choose_way(Way(w)))
        stage.look_asked.connect(lambda key: self._look(key, key not in stage.looks_on()))
        stage.way_asked.connect(self._key_way)
        stage.cure_asked.connect(self._toggle_cure)
        stage.anchors_clicked.connect(self._read_lines)
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

    def _read_lines(self, clicked: dict[str, tuple[float, float]]) -> None:
        """After the clicks: the plan's lines are looked for among the drawn ones, and the estimates follow them."""
        c, d = self.document.character, self.document.drawing
        image = self.images.get(d.image.hash) if d is not None else None
        if c is None or d is None or image is None or d.marks.view != "front" or d.turned:
            return
        plan, choices_, seeds = self._plan(), c.features, d.marks
        place = DrawingPlace(c.id, d.id)

        def job(say: Say) -> Laid:
            return lay(grey_of(image), plan.table, plan.points, clicked, choices_)

        def then(laid: Laid) -> None:
            points, states, spread = laid_states(laid, clicked)
            found = Marks(view="front", points=with_own(seeds, points), states=states, spread=spread)
            self.document.amend("Seed points", edit_marks(place, lambda m: found), {})
            self.say.emit(
                "Points laid on the drawn lines, all estimated: walk them with Enter, Shift+Enter takes a feature.", False
            )

        def still() -> bool:
            now = self.document.drawing
            return now is not None and now.id == d.id and now.marks == seeds and not self.document.dragging

        self.run("Reading the lines…", job, then, still=still)

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

    def _label(self, key: str) -> str:
        own = {o.reading: o.span.name for o in self.document.check_own()}
        return own.get(key) or every_reading()[key].label

    def _meant(self, key: str) -> None:
        d = self.document.drawing
        if d and key not in d.meant:
            self.marking.set(f"Meant: {self._label(key).lower()}", {"meant": (*d.meant, key)})

    def _ask_scope(self, key: str, at: QPoint) -> None:
        """Meant for what: this drawing, every one of the character, of the version, of the style."""
        c, d = self.document.character, self.document.drawing
        if c is None or d is None:
            return
        label = f"Meant: {self._label(key).lower()}"
        menu = QMenu(self)
        menu.addAction("Meant on this drawing", lambda: self._meant(key))
        menu.addAction(
            f"Meant on every drawing of {c.name}", lambda: self.document.do(label, set_character(c.id, meant=(*c.meant, key)))
        )
        v = c.version(d.version)
        if v is not None:
            menu.addAction(
                f"Meant on every drawing “{v.title}”",
                lambda: self.document.do(label, change_version(c.id, v.id, meant=(*v.meant, key))),
            )
        toward = self.document.toward_of(d.version).name
        study = next((s for s in self.document.project.studies if s.name == toward), None)
        if study is not None:
            menu.addAction(
                f"Meant in the style “{study.title}”",
                lambda: self.document.do(label, set_study(study.id, meant=(*study.meant, key))),
            )
        pop_up(menu, at)

    def _ask_again(self, key: str) -> None:
        """Judge a reading again, wherever it was said to be meant."""
        c, d = self.document.character, self.document.drawing
        if c is None or d is None:
            return

        def rest(some: tuple[str, ...]) -> tuple[str, ...]:
            return tuple(k for k in some if k != key)

        edits = []
        if key in d.meant:
            edits.append(DrawingPlace(c.id, d.id).change(meant=rest(d.meant)))
        if key in c.meant:
            edits.append(set_character(c.id, meant=rest(c.meant)))
        v = c.version(d.version)
        if v is not None and key in v.meant:
            edits.append(change_version(c.id, v.id, meant=rest(v.meant)))
        toward = self.document.toward_of(d.version).name
        edits += [
            set_study(s.id, meant=rest(s.meant)) for s in self.document.project.studies if s.name == toward and key in s.meant
        ]
        if edits:
            self.document.do("Ask again", _all(edits))

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

    # ---- how it is looked at

    def _turn_head(self, turn: Turn | None, ended: bool) -> None:
        if ended:
            self._trial = None
            self.marking.set("How the head is turned", {"turn": turn})
            self.refresh()
        else:
            self._trial = turn
            self._show_overlay()

    def _turn_degree(self) -> None:
        d = self.document.drawing
        if d is not None:
            self.marking.set("How strongly it makes that face", {"degree": 0.6 if d.degree == 1 else 1.0})

    def _choose_face(self, name: str) -> None:
        if name != READ:
            self.marking.set("The face it makes", {"expression": name, "degree": 1.0})
            return
        d = self.document.drawing
        if d is None:
            return
        try:
            basis = self.document.basis_of(d)
            page = on_page(d)
        except OrthometError as e:
            self.say.emit(str(e), True)
            self.refresh()
            return
        marks = page.marks if not d.turned else _turned(page.marks, d.turn)
        how = How("turned" if d.turned else "front", AUTO, 1.0, None, d.noise)
        meant = self.document.meant_on(d)

        def job(say: Say) -> Compared:
            return compare_basis(marks, basis, how, meant) if isinstance(basis, str) else compare(marks, basis, meant, how)

        def then(c: Compared) -> None:
            at_rest = c.expression == "neutral"
            self.marking.set("The face it makes", {"expression": "" if at_rest else c.expression, "degree": c.degree or 1.0})
            self.say.emit("It looks at rest." if at_rest else f"It looks {c.expression}; that is taken off.", False)
            self.refresh()

        def still() -> bool:
            now = self.document.drawing
            return now is not None and now.id == d.id and now.marks == d.marks

        self.run("Reading the face…", job, then, still=still)

    def _toggle_overlay(self) -> None:
        self.stage.show_plan = self.overlay.isChecked()
        self.stage.update()

    def _toggle_overlay_key(self) -> None:
        self.overlay.toggle()
        self._toggle_overlay()

    def _look(self, key: str, on: bool) -> None:
        self.stage.look(key, on)
        self._show_bar()

    def _lay_beside(self, key: str) -> None:
        self._beside = key
        self._show_bar()

    def _choose_way(self, way: Way) -> None:
        self._way = way
        self._show_bar()

    def _key_way(self, way: Way) -> None:
        """W, I and K: begin with what says most; the same key again takes it away."""
        on = self._offered()
        if self._beside and self._way is way:
            self._beside = ""
        elif not self._beside and on:
            self._beside = on[0][0]
        self._way = way
        self._show_bar()

    def _choose_cure(self, k: int) -> None:
        key = f"{CURE}:{k}"
        self._lay_beside("" if self._beside == key else key)

    def _toggle_cure(self) -> None:
        if self._beside.startswith(CURE):
            self._lay_beside("")
        elif self._cures:
            self._way = Way.WIPE
            self._lay_beside(f"{CURE}:0")

    def _offered(self) -> list[tuple[str, str]]:
        return offered(self.document.character, self.document.drawing, self._cures, self.stage.overlay is not None)

    def _show_bar(self) -> None:
        on = self._offered()
        if self._beside not in dict(on):
            self._beside = ""
        self.bar.setVisible(self.document.drawing is not None)
        self.bar.show_state(self.stage.looks_on(), on, self._beside, self._way)
        self.stage.set_beside(self._made_beside(), self._way)
        lit = int(self._beside.partition(":")[2]) if self._beside.startswith(CURE) else -1
        if [t.on for t in self.panel.cures.tiles] != [k == lit for k in range(len(self.panel.cures.tiles))]:
            for k, t in enumerate(self.panel.cures.tiles):
                t.on = k == lit
                t.update()

    def _made_beside(self) -> Beside | None:
        c, d = self.document.character, self.document.drawing
        kind, _, rest = self._beside.partition(":")
        if c is None or d is None or not kind:
            return None
        if kind == CURE:
            return beside_cure(self._cures[int(rest)])
        if kind == PLAN:
            s = self.stage
            return beside_plan(s.overlay, s.overlay_map, s.back) if s.overlay is not None else None
        if kind == EARLIER:
            e = d.earlier[int(rest)]
            image = self.images.get(e.image.hash)
            return beside_earlier(e, image) if image is not None else None
        r = reference_of(c, d) if kind == REFERENCE else None
        image = self.images.get(r.image.hash) if r is not None else None
        return beside_reference(r, d, image) if r is not None and image is not None else None

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
        self._curing.let_go()

    # ---- cures

    def _cure(self, told: Compared | None) -> None:
        """Make the cures of a comparison visible, off the interface thread."""
        d, c = self.document.drawing, self.document.character
        if self.document.dragging:
            return
        image = self.images.get(d.image.hash) if d is not None else None
        found = cures(told) if told is not None else ()
        key = (d.image.hash, d.marks, told) if d is not None and found and image is not None else ()
        if (
            key
            and self._cured
            and all(a is b or a == b for a, b in zip(key[:2], self._cured[:2], strict=True))
            and key[2] is self._cured[2]
        ):
            return
        self._curing.cancel()
        self._cured = key
        if not key or d is None or c is None or image is None:
            self._cures = ()
            self.panel.cures.show_cures((), -1)
            return
        points, steps, hh = self._on_picture(d, found)
        if hh is None:
            return
        choices_ = c.features

        def job(say: Say) -> tuple[CureShown, ...]:
            return shown(image, points, steps, hh, choices_, lambda: say(""))

        def then(made: tuple[CureShown, ...]) -> None:
            self._cures = made
            lit = int(self._beside.partition(":")[2]) if self._beside.startswith(CURE) else -1
            self.panel.cures.show_cures(made, lit)
            self._show_bar()

        self._curing.start(
            "",
            job,
            then,
            still=lambda: self._cured is key,
            failed=lambda _: self.panel.cures.show_cures((), -1),
            what="Showing a cure",
        )

    @staticmethod
    def _on_picture(d: Drawing, found: tuple[Cure, ...]) -> tuple[Array, tuple[Cure, ...], float | None]:
        """Landmarks and steps on the picture itself, where a page was flattened before it was checked; a head in its pixels."""
        points = d.marks.landmarks().array(FRONT)
        tall = head_height(d.marks.points)
        page = on_page(d)
        if page.back is None or d.sheet is None:
            return points, found, tall
        level = page.marks.array(FRONT)
        return points, tuple(_with_step(c, _through(page.back, level + c.step) - points) for c in found), tall

    def _redline_picture(self) -> Picture | None:
        c, d = self.document.character, self.document.drawing
        found = cures(self._last) if self._last is not None else ()
        if c is None or d is None or not found:
            return None
        k = int(self._beside.partition(":")[2]) if self._beside.startswith(CURE) else 0
        points, steps, hh = self._on_picture(d, found)
        return redline(d.image.size, points, steps[min(k, len(steps) - 1)], hh, c.features) if hh else None

    def _toggle_redline(self) -> None:
        self.stage.redline = self._redline_picture() if self.stage.redline is None else None
        if self.stage.redline is None and not self._cures:
            self.say.emit("There is nothing to redline: nothing is to be moved.", False)
        self.stage.update()

    def _write_redline(self) -> None:
        picture, d = self._redline_picture(), self.document.drawing
        if picture is None or d is None:
            self.say.emit("There is nothing to redline: nothing is to be moved.", True)
            return
        kinds = {".png": "Transparent layer, PNG", ".svg": "SVG"}
        path = ask_where(self, "Write the redline", str(export_folder() / f"{d.name} redline.png"), kinds)
        if path:
            self.write_redline(path, picture)

    def write_redline(self, path: str, picture: Picture) -> None:
        """The redline as a transparent picture of the drawing's own size, or as SVG."""
        remember_export(path)

        def job(say: Say) -> None:
            from ....core.export.svg import to_svg
            from ....core.files import write_whole
            from ...render import encoded, to_image

            page = as_page(picture)
            data = (
                to_svg(page).encode() if path.lower().endswith(".svg") else encoded(to_image(page, dpi=96, ground=False), ".png")
            )
            if say(""):
                write_whole(path, data)

        def done(sentence: str) -> None:
            self.say.emit(sentence or f"Written to {Path(path).name}.", bool(sentence))
            self.exported.emit(path, sentence)

        self.run("Writing the redline…", job, lambda _: done(""), failed=done)

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

    def _bases(self) -> list[tuple[str, str]]:
        """All a drawing can be checked against: key and words."""
        c, d = self.document.character, self.document.drawing
        out = [("", "its plan"), *AGAINST.items()]
        out += [(f"style:{s.name}", f"style: {s.title}") for s in self.document.styles()]
        out += [(f"school:{s.name}", f"school: {s.title}") for s in schools().values()]
        out += [
            (f"drawing:{o.id}", f"drawing: {o.name}") for o in (c.drawings if c else ()) if d and o.id != d.id and o.marks.points
        ]
        return out

    def refresh(self) -> None:
        c, d = self.document.character, self.document.drawing
        fill(self.which, [(each.name, each.id) for each in c.drawings] if c else [], d.id if d else "")
        self.which.setVisible(bool(c and len(c.drawings) > 1))
        self._fill_versions()
        back = on_page(d).back if d and d.sheet else None
        self.stage.back = QTransform(*back.T.ravel().tolist()) if back is not None else QTransform()
        if self.marking.show():
            self._ends, self._beside, self.stage.redline, self._last = [], "", None, None
        if d:
            self._go_on_with_ends(d.marks)
        unsure = len(d.marks.estimated) if d else 0
        self.counts.setText(counts_words(d.marks) if d else "")
        self.confirm_all.setVisible(unsure > 0)
        self.confirm_all.setText(f"Confirm {unsure}")
        self.seed.setVisible(d is not None)
        self.follow.setVisible(d is not None and not self.live.name)
        self.view.setVisible(d is not None)
        view = d.marks.view if d else "front"
        self.view.setCurrentIndex(self.view.findData(view))
        self.overlay.setVisible(d is not None and d.marks.view == "front")
        told = self._check()
        if self.document.dragging:
            self._rested.start()
        self._show(told, unsure)
        self.panel.live.show_live(self.live.name, self.live.note, self.live.since, self.live.follows(d))

    def _hand_rests(self) -> None:
        """In the middle of a drag: the whole answer instead of the quick one."""
        d = self.document.drawing
        if self.document.dragging and d is not None and d.marks.view == "front":
            told = self.document.compared()
            self._show(told, len(d.marks.estimated))

    def _show(self, told: Compared | FigureCheck | str, unsure: int) -> None:
        d = self.document.drawing
        compared = told if isinstance(told, Compared) else None
        figure = told if isinstance(told, FigureCheck) else None
        check = compared.check if compared is not None else None
        self._last = compared
        turn = compared.turn if compared is not None and compared.turned else None
        self.panel.basis.show_drawing(d, self._bases(), turn, view_is_figure(d))
        found = figure.findings if figure is not None else check.findings if check is not None else ()
        level = on_page(d).marks.array(FRONT) if compared is not None and d is not None else None
        arrows = pointers(compared, level) if compared is not None and level is not None else ()
        self.stage.set_check(found, arrows, self.stage.overlay, self.stage.overlay_map)
        self._show_overlay()
        if self.stage.redline is not None:
            self.stage.redline = self._redline_picture()
        self.panel.noise.setEnabled(d is not None)
        self.panel.show_noise(d.noise if d else None, check.noise if check else figure.noise if figure else None)
        own = self.document.check_own()
        shaped = self.document.check_shapes() if not self.document.dragging else self._shaped
        self._shaped = shaped
        words = how_words(compared, d)
        meant = self.document.meant_on(d) if d else ()
        more = (meant, unsure, own, shaped, words)
        if told is not self._shown[0] or more != self._shown[1:]:
            self._shown = (told, *more)
            if figure is not None and d is not None:
                measured = self.document.figure_measured()
                items = figure_items_of(figure, self.document.figure_plan_of(d.version).readings, measured, measure(flat(d)))
                self.panel.show_check(figure, items, d.meant, unsure, (), guessed=unsure)
            else:
                rows = self._items(compared, d) | {o.reading: own_item(o) for o in own}
                against = dict(self._bases()).get(d.basis, "your plan") if d and d.basis else "your plan"
                shown_check = check if check is not None else told if isinstance(told, str) else ""
                guessed = sum(n not in d.marks.spread for n in d.marks.estimated) if d else 0
                self.panel.show_check(shown_check, rows, meant, unsure, own, shaped, words, against, guessed)
        self._cure(compared)
        self._show_bar()

    def _items(self, told: Compared | None, d: Drawing | None) -> dict:  # type: ignore[type-arg]
        """Gauge rows, where the drawing is compared with its plan as it stands."""
        if told is None or d is None or d.basis or told.turned:
            return {}
        return finding_items(told.check, self._plan(), self.document.measured(), measure(flat(d)))

    def _show_overlay(self) -> None:
        """The plan over the drawing, at the turn that is found or being set."""
        d, told, s = self.document.drawing, self._last, self.stage
        if told is None or d is None:
            s.overlay = None
        else:
            try:
                made = _overlay(told, self.document.basis_of(d), self._trial)
            except OrthometError:
                made = None
            s.overlay = made[0] if made is not None else None
            s.overlay_map = qt(made[1]) if made is not None else QTransform()
        s.update()

    def _check(self) -> Compared | FigureCheck | str:
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
            return self.document.compared(self._last if self.document.dragging else None)
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


_overlay = remembered(6)(overlay_of)


def view_is_figure(d: Drawing | None) -> bool:
    return d is not None and d.marks.view == "figure"


def how_words(c: Compared | None, d: Drawing | None) -> tuple[str, ...]:
    """How a drawing was looked at: the turn that was found, the face that was taken off."""
    out = []
    if c is not None and c.turned:
        side = "the picture's right" if c.turn.yaw > 0 else "the picture's left"
        nod = f", looking {'down' if c.turn.pitch > 0 else 'up'} {abs(c.turn.pitch):.0f}°" if abs(c.turn.pitch) >= 1 else ""
        how = "as you set it" if d is not None and d.turn is not None else "found"
        out.append(f"Head turned {abs(c.turn.yaw):.0f}° to {side}{nod} ({how}).")
    if c is not None and c.expression != "neutral" and c.degree:
        little = " a little" if c.degree < 1 else ""
        out.append(f"It looks{little} {c.expression}: that is worn, not built, and was taken off first.")
    return tuple(out)


def _all(edits: list) -> Callable:  # type: ignore[type-arg]
    def edit(p):  # type: ignore[no-untyped-def]
        for e in edits:
            p = e(p)
        return p

    return edit


def _turned(marks, turn: Turn | None):  # type: ignore[no-untyped-def]
    from dataclasses import replace

    return replace(marks, turn=turn)


def _with_step(c: Cure, step: Array) -> Cure:
    from dataclasses import replace

    return replace(c, step=step)


def _through(m: Array, p: Array) -> Array:
    """Points ``(n, 2)`` through a homography."""
    q = np.column_stack([p, np.ones(len(p))]) @ m.T
    return np.asarray(q[:, :2] / q[:, 2:])
