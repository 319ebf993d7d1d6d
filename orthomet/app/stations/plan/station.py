"""The Plan station: decide per trait and per group, see plan, likeness, style and limits at once."""

from __future__ import annotations

from pathlib import Path as FilePath

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from ....core.figure.match import GOOD, TITLES
from ....core.gauges.item import GaugeItem
from ....core.gauges.plan import own_items, side_items, trait_items
from ....core.head.construct import construction
from ....core.head.handles import SETTING
from ....core.head.line_up import Shown
from ....core.imaging.warp import STEP
from ....core.landmarks.schema import FRONT
from ....core.plan.own import OwnPlan, own_offset
from ....core.plan.plan import Plan, offset_for
from ....core.plan.side import LIMITS, SidePlan, side_offset
from ....core.project.edits import (
    choose_school,
    decide,
    forget_offsets,
    set_offset,
    set_school_line,
)
from ....core.proportions.registry import front_registry
from ....core.proportions.views import profile_registry
from ....core.styles.schools import school, schools
from ...ask import ask_where
from ...document import Document
from ...gauges.legend import Entry, Legend, usual
from ...gauges.list import GaugeList, WeightBar
from ...gauges.marks import mark_plan, mark_reference, mark_style, mark_wall
from ...ledge import Hint
from ...parts import button, choices, pile, put_in, soft, toggle
from ...render import save_image
from ...stage.images import ImageStore
from ...stage.pixels import moved_image
from ...work import Say
from ..base import Panel, Station
from ..pages import fill
from ..trait_edits import TraitEdits
from .board import PlanBoard
from .compare import CompareBoard
from .verdict import Verdict
from .versions_bar import VersionsBar

MASTER = "*"
OF_VERSIONS = frozenset({"style", "style_weight", "group_weights", "emphasis", "offsets"})
"""Decisions a version has of its own; everything else it takes from the character."""


LEGEND: tuple[Entry, ...] = (
    ("reference", 0, lambda p, x, y, t: mark_reference(p, x, y + 6.5, t)),
    ("plan", 0, lambda p, x, y, t: mark_plan(p, x, y - 7, t)),
    ("style", 0, lambda p, x, y, t: mark_style(p, x, y - 7, t)),
    ("usual", 16, usual),
    ("limit", 0, lambda p, x, y, t: mark_wall(p, x - 6, y, t, 1)),
)


class PlanStation(Station):
    name = "Plan"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.school = choices("Guide school", "Guide school: whose construction lines lie under the plan")
        fill(self.school, [(s.title, s.name) for s in schools().values() if s.view == "front"], "")
        self.school.activated.connect(self._choose_school)
        self.reset = button("All by the raw plan", self._reset, "Forget every mark moved by hand")
        tip = "The reference moved to the plan, right of a wipe (Ctrl+Shift+W)"
        self.see_moved = toggle("Moved picture", self._toggle_moved, tip)
        tip = "Raise the noticed traits just enough to keep the likeness as it is now"
        self.hold = toggle("Hold likeness", self._toggle_hold, tip)
        put_in(self.top_row, ..., self.reset, self.hold, self.see_moved, soft("Guides"), self.school)
        self.board, self.verdict, self.compare = PlanBoard(), Verdict(), CompareBoard()
        self.stages = pile(self.board, self.compare)
        self.versions = VersionsBar(document)
        self.panel = Panel("Traits")
        self.style_box = choices("Style")
        self.style_box.activated.connect(lambda i: self._decide("Style", style=self.style_box.itemData(i)))
        self.panel.top.addWidget(self.style_box)
        self.master = WeightBar(MASTER, "Style, all groups")
        self.list = GaugeList("plan", weighted=True)
        put_in(self.panel.column, self.versions, self.master, 4, (self.list, 1), Legend(LEGEND))
        self.build(self.stages, self.panel, self.verdict)
        self.setFocusProxy(self.board)
        self._start: Plan | None = None
        self._own_start: dict[str, OwnPlan] = {}
        self._side_start: dict[str, SidePlan] = {}
        self._connect()
        self._actions = [
            self.action("Forget marks moved by hand", "", self._reset),
            self.action("All groups follow the master", "", lambda: self._decide("Group weights", group_weights={})),
            self.action("Picture moved to the plan", "Ctrl+Shift+W", self.see_moved.click),
            self.action("Save the moved picture…", "", self._save_moved, "At full size; it shows the plan, it is no retouching"),
            self.action("Versions side by side", "Ctrl+Shift+V", self.versions.compare.toggle),
            self.action("Hold the likeness", "Ctrl+Shift+H", self.hold.click),
            self.action("Let the eyes overlap", "", self._toggle_overlap),
            self.action("Keep the reference’s unevenness", "", self._toggle_balance),
        ]

    def _fill_styles(self, chosen: str) -> None:
        """The library's styles, then the project's own."""
        offered = self.document.styles()
        fill(self.style_box, [(s.title, s.name) for s in offered], chosen)
        for k, s in enumerate(offered):
            self.style_box.setItemData(k, s.note, Qt.ItemDataRole.ToolTipRole)

    def _connect(self) -> None:
        for source in (self.list, self.board):
            source.mark_began.connect(self._mark_began)
            source.mark_moved.connect(self._mark_moved)
            source.mark_dropped.connect(lambda key: self.document.commit())
            source.hovered.connect(self._hover)
        self.board.mark_cancelled.connect(self.document.cancel)
        self.verdict.figure_wanted.connect(lambda: self.go_to.emit("Figure"))
        self.versions.compare_wanted.connect(self._compare)
        self.compare.chosen.connect(self.document.choose_version)
        self.trait_edits = TraitEdits(self.document, self.list, self.master, self._label)
        self.list.missing_clicked.connect(lambda key: self.go_to.emit("Reference"))
        self.list.weight_dropped.connect(lambda g: self.document.commit())
        self.master.dropped.connect(lambda g: self.document.commit())

    def _cid(self) -> str:
        c = self.document.character
        return c.id if c else ""

    def _vid(self) -> str:
        return self.document.version_id

    def _choose_school(self, index: int) -> None:
        if self._cid():
            self.document.do("Guide school", choose_school(self._cid(), self.school.itemData(index)))

    def _decide(self, label: str, **fields: object) -> None:
        if self._cid():
            vid = self._vid() if set(fields) <= OF_VERSIONS else ""
            self.document.do(label, decide(self._cid(), vid, **fields))

    def _reset(self) -> None:
        if self._cid():
            self.document.do("Forget marks moved by hand", forget_offsets(self._cid(), self._vid()))

    def _toggle_hold(self) -> None:
        """Keep the likeness where it is now while the style is moved, or let it go."""
        on = self.document.decisions().hold is None
        score = round(self.document.plan().likeness.score, 1)
        self._decide(f"Hold likeness at {score:.0f}" if on else "Let likeness go", hold=score if on else None)

    def _compare(self, on: bool) -> None:
        self.stages.setCurrentIndex(1 if on else 0)
        self.refresh()

    def _toggle_overlap(self) -> None:
        if self._cid():
            self._decide("Eyes may overlap", overlap=not self.document.decisions().overlap)

    def _toggle_balance(self) -> None:
        """Left and right as uneven as the reference, or symmetrical."""
        c = self.document.character
        if c:
            keep = c.decisions.balance == 0
            self._decide("Keep unevenness" if keep else "Even left and right", balance=1.0 if keep else 0.0)

    # ---- the picture moved to the plan

    def _toggle_moved(self) -> None:
        self.board.show_moved(self.see_moved.isChecked())

    def _save_moved(self) -> None:
        c = self.document.character
        ref = c.face if c else None
        image = self.images.get(ref.image.hash) if ref else None
        places = self.board.planned_places()
        if c is None or ref is None or image is None or places is None:
            self.say.emit("There is no picture to move yet: the reference needs its crown and chin.", True)
            return
        kinds = {".png": "PNG", ".jpg": "JPEG"}
        path = ask_where(self, "Save the moved picture", f"{c.name} as planned.png", kinds)
        if not path:
            return
        source = ref.marks.landmarks().array(FRONT)

        def job(say: Say) -> None:
            moved = moved_image(image, places, source, STEP)
            if say(f"Writing {name}…"):
                save_image(moved, path)

        name = FilePath(path).name
        self.run("Moving the picture…", job, lambda _: self.say.emit(f"Written to {name}.", False))

    def _mark_began(self, key: str) -> None:
        if key.startswith(SETTING):
            self.document.begin("A line of the guide school")
            return
        self.document.begin(f"Plan, {self._label(key)}")
        self._start = self.document.plan()
        self._own_start = {p.key: p for p in self.document.own_plans()}
        self._side_start = {p.key: p for p in self.document.side_plans()}
        self._decisions = self.document.decisions() if self.document.character else None

    def _mark_moved(self, key: str, value: float) -> None:
        if key.startswith(SETTING):
            self._move_setting(key.removeprefix(SETTING), value)
            return
        if self._start is None or self._decisions is None:
            return
        own, side = self._own_start.get(key), self._side_start.get(key)
        if side is not None:
            offset = side_offset(side, self._decisions, value)
        else:
            offset = own_offset(own, self._decisions, value) if own else offset_for(self._start, self._decisions, key, value)
        self.document.preview(set_offset(self._cid(), key, offset, self._vid()))

    def _move_setting(self, key: str, value: float) -> None:
        if self._cid():
            self.document.preview(set_school_line(self._cid(), key, value))

    def _hover(self, key: str, inside: bool) -> None:
        self.hot = {key} if inside else self.hot - {key}
        self.list.light(self.hot)
        self._light()

    def _light(self) -> None:
        self.board.lit = set(self.hot)
        words = {}
        for k in self.hot:
            row = self.list.rows.get(k)
            if row is not None:
                i = row.item
                words[k] = (i.show(i.reference) if i.reference is not None else "", i.show(i.plan) if i.plan is not None else "")
        self.board.lit_words = words
        self.board.update()
        self.status_changed.emit()

    # ---- what the frame asks

    def refresh(self) -> None:
        c = self.document.character
        plan, measured = self.document.plan(), self.document.measured()
        if c is None:
            return
        d = self.document.decisions()
        self.versions.refresh()
        self.school.setCurrentIndex(max(0, self.school.findData(d.school)))
        self._fill_styles(d.style)
        v = c.version(self._vid())
        by_hand = d if v is None else d.model_copy(update={"offsets": v.offsets})
        self.reset.setVisible(bool(by_hand.offsets))
        self.hold.setChecked(d.hold is not None)
        self.hold.setText("Hold likeness" if d.hold is None else f"Held at {d.hold:.0f}")
        self.master.set_value(d.style_weight)
        guide = school(d.school) if school(d.school).view == "front" else None
        picture = construction(plan.table, plan.points, guide, d.school_settings, c.features)
        ref = c.face
        self.board.set_reference(ref, self.images.get(ref.image.hash) if ref else None, dict(measured.table))
        self.board.set_plan(dict(plan.table), plan.points, picture, guide, d.school_settings)
        if self.stages.currentIndex() == 1:
            self._show_versions()
        m = self.document.match()
        body = "" if m.verdict in GOOD else f"{TITLES[m.verdict]}."
        self.verdict.set_content(plan, by_hand, len(c.noticed), plan.measured, self.document.toward().title, body)
        self.list.set_items(self._items(plan))
        for g in self.list.heads:
            self.list.set_weight(g, d.weight_of(g), g in d.group_weights)
        if self.hot:
            self._light()

    def _show_versions(self) -> None:
        c = self.document.character
        assert c is not None
        rows = []
        for vid, title in (("", c.name), *((v.id, v.title) for v in c.versions)):
            plan = self.document.plan_of(vid)
            rows.append((vid, Shown(title, plan.table, plan.points, c.features, c.pens), plan))
        self.compare.show_versions(rows, self._vid())

    def _items(self, plan: Plan) -> list[GaugeItem]:
        c = self.document.character
        assert c is not None
        d, v = self.document.decisions(), c.version(self._vid())
        by_hand = v.offsets if v is not None else d.offsets
        traits = trait_items(c, plan, self.document.measured(), d, by_hand, self.document.norm(), self.document.toward())
        side = side_items(self.document.side_plans(), d, by_hand, c.noticed)
        return [*traits, *side, *own_items(self.document.own_plans(), d, by_hand, c.noticed)]

    def _label(self, key: str) -> str:
        """A trait's or own span's name, as it follows a verb."""
        own = next((p.span.name for p in self.document.own_plans() if p.key == key), "")
        return own or (profile_registry() if key in LIMITS else front_registry())[key].label.lower()

    def hint(self) -> Hint:
        drag = ("Drag", "a blue tip or a line of the drawing")
        return [drag, ("1 2 3 4", "drop, soften, keep, push"), ("Click", "a row for its emphasis"), ("Wheel", "zoom")]

    def reading_note(self) -> tuple[str, str, str]:
        for k in self.hot:
            row = self.list.rows.get(k)
            plan = row.item.plan if row is not None else None
            if row is not None and plan is not None:
                i = row.item
                notes = []
                if i.asked is not None and abs(i.asked - plan) > 5e-4:
                    notes.append(f"asked {i.show(i.asked)}")
                if i.reference is not None:
                    notes.append(f"reference {i.show(i.reference)}")
                return i.label, i.show(plan), ", ".join(notes)
        return "", "", ""
