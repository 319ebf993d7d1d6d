"""The Shapes station: parts taken from the reference, reduced to plain shapes, lifted off, dialled, pushed, related, looked at in black."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QWidget

from ....core.export.page import page
from ....core.gauges.shapes import emphasis_for
from ....core.landmarks.frame import Frame
from ....core.picture import Picture
from ....core.project.model import Reference
from ....core.shapes.drawn import final, lifted, steps_page
from ....core.shapes.model import Relation, Shapes, Variant
from ....core.shapes.scene import Scene, found_in
from ....core.shapes.sources import frame_for, head_of
from ....core.shapes.variants import pushed_by_idea
from ...ask import ask_where
from ...document import Document
from ...ledge import Hint
from ...parts import across, choices, pile, put_in, toggle
from ...render import KINDS as FILE_KINDS
from ...stage.images import ImageStore
from ..base import Panel, Station, export_folder
from ..newest import Newest
from ..pages import PageSwitch, fill
from ..tile_strip import TileStrip
from .black_page import BlackPage
from .boards import BlackBoard, VariantBoard
from .edits import ShapesEdits
from .hand import SheetHand
from .holds_page import HoldsPage
from .making import Made, Shown, made
from .masking import Masking
from .parts_page import PartsPage
from .push_page import PushPage
from .stage import Mode, ShapesStage
from .taking import Taking
from .views import Views

PARTS, PUSH, HOLDS, BOARD, BLACK = range(5)
MODES: tuple[tuple[Mode, str, str], ...] = (
    ("over", "On it", "Over the picture (2)"),
    ("both", "Beside it", "On the picture, and lifted off beside it (1)"),
    ("alone", "Alone", "The shapes alone on paper (3)"),
)
EMPTY = "Trace a part on the picture (T), draw a box round it (B), or take the head from its plan: then its shapes stand here."


class ShapesStation(Station):
    name = "Shapes"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.part = ""
        """Id of the part that is worked on."""
        self.reference_id = ""
        self.edits = ShapesEdits(document)
        self.maker: Newest[Made] = Newest("The shapes", self)
        self.stage, self.board, self.black_board, self.strip = ShapesStage(), VariantBoard(), BlackBoard(), TileStrip()
        self.stages = pile(self.stage, self.board, self.black_board)
        self.taking, self.hand = Taking(self), SheetHand(self)
        self.masking = Masking(self, self.taking)
        self._build_head()
        self._build_panel()
        self.views = Views(self, self.board, self.black_board, self.black, self.strip, self)
        self.build(self.stages, self.panel, self.strip)
        self.setFocusProxy(self.stage)
        self._connect()
        tools = [self.action(words, key, partial(self._tool_by_key, k)) for words, key, k in (
            ("Trace a part", "T", "trace"), ("Box round a part", "B", "box"), ("Pick a colour", "C", "colour"), ("Edit the contour’s points", "E", "points"))]  # fmt: skip
        self._actions = [
            *tools,
            self.action("Head from the plan", "", self.taking.head),
            self.action("Beside the picture", "1", partial(self.show_mode, "both")),
            self.action("Over the picture", "2", partial(self.show_mode, "over")),
            self.action("Alone on paper", "3", partial(self.show_mode, "alone")),
            self.action("As planned, or as seen", "L", self.planned.click),
            self.action("What holds", "G", self.holding.click),
            self.action("Final lines", "I", self.final.click),
            self.action("Nearer", "Ctrl+]", partial(self._nearer, 1)),
            self.action("Further away", "Ctrl+[", partial(self._nearer, -1)),
            self.action("Remove the part", "Del", self._remove, on=self.stage),
            self.action("Variants", "V", lambda: self.switch.show_page(BOARD)),
            self.action("Filled black", "K", lambda: self.switch.show_page(BLACK)),
            self.action("Head alone", "H", self.black.alone.click),
            self.action("Keep these shapes as a variant", "Ctrl+K", self._keep),
            self.action("Push the idea", "", self._idea),
            self.action("Export the shapes…", "Ctrl+E", lambda: self.export("shapes")),
            self.action("Export the final lines…", "", lambda: self.export("lines")),
            self.action("Export the steps…", "Ctrl+Shift+E", lambda: self.export("steps")),
        ]

    # ---- building

    def _build_head(self) -> None:
        self.which = choices("Reference", "The picture parts are taken from", self._choose_reference)
        self.which.setMinimumWidth(130)
        self.modes = {k: toggle(words, partial(self.show_mode, k), tip, k == "both") for k, words, tip in MODES}
        self.planned = toggle("Pushed", self.refresh, "The shapes as they are dialled and pushed, or as they were seen (L)", True)
        self.holding = toggle("What holds", self.refresh, "Marks where parts are joined, level, aimed (G)")
        self.final = toggle("Final lines", self.refresh, "Outlines stop where a nearer part crosses them (I)")
        put_in(self.top_row, self.which, ..., across(*self.modes.values()), 8, self.planned, self.holding, self.final)
        self.top_line.spare = [self.holding, self.final]

    def _build_panel(self) -> None:
        self.panel = Panel("Shapes")
        self.panel.title.hide()
        self.switch = PageSwitch(("Parts", "Push", "Holds", "Board", "Black"))
        self.panel.top.addWidget(self.switch)
        self.panel.top.addStretch(1)
        self.parts_page, self.push, self.holds, self.black = PartsPage(), PushPage(), HoldsPage(), BlackPage()
        self.pages = pile(self.parts_page, self.push, self.holds, self.black)
        self.panel.column.addWidget(self.pages, 1)

    def _connect(self) -> None:
        d, e, stage = self.document, self.edits, self.stage
        self.switch.turned.connect(self._show_page)
        for newest in (self.maker, self.views.boarder, self.views.blackener):
            newest.done.connect(self._show_made)
            newest.failed.connect(lambda words: self.say.emit(words, True))
        self.strip.failed.connect(lambda words: self.say.emit(words, True))
        self.strip.chosen.connect(self._take_tile)
        self.images.ready.connect(lambda _: self._show_picture())
        stage.chosen.connect(self.choose)
        stage.traced.connect(self.taking.traced)
        stage.boxed.connect(self.masking.box)
        stage.stroked.connect(self.masking.stroke)
        stage.picked.connect(lambda x, y: self.masking.colour((x, y), self.parts_page.tolerance.value()))
        stage.began.connect(self.hand.begin)
        stage.part_moved.connect(self.hand.move)
        stage.contour_moved.connect(self.hand.bend)
        stage.shape_moved.connect(self.hand.reshape)
        stage.dropped.connect(self.hand.drop)
        stage.left.connect(self.hand.leave)
        stage.tool_left.connect(lambda: self.use(""))
        p = self.parts_page
        p.chosen.connect(self.choose)
        p.tool_wanted.connect(lambda k: self.use("" if self.stage.tool == k else k))
        p.wanted.connect(self._wanted)
        p.plain_wanted.connect(self._plain)
        p.renamed.connect(self._rename)
        p.role_chosen.connect(lambda role: self._set("What it is", role=role))
        p.on_chosen.connect(lambda on: self._set("What it hangs on", on=on))
        p.kind_chosen.connect(lambda kind: e.swap(self.part, kind))
        for pages in (p, self.push):
            pages.began.connect(lambda words: d.begin(f"{words}, {self._name()}"))
            pages.settled.connect(self.hand.drop)
        p.moved.connect(lambda key, v: e.dial(self.part, key, v))
        self.push.moved.connect(self._dialled)
        self.push.all_moved.connect(lambda key, v: {"detail": e.all_detail, "push": e.all_push, "style": e.style}[key](v))
        self.push.mark_began.connect(lambda key: d.begin(f"Push, {self._name()}"))
        self.push.mark_moved.connect(self._mark)
        self.push.mark_dropped.connect(lambda key: self.hand.drop())
        self.push.emphasis_chosen.connect(lambda key, v: e.push(self.part, key, v, f"Push, {self._name()}"))
        self.push.toward_chosen.connect(self._toward)
        self.push.wanted.connect(self._wanted)
        self.push.fed.connect(lambda on: e.feed(on, self.shapes()))
        h = self.holds
        h.related.connect(self._relate)
        h.unrelated.connect(e.unrelate)
        h.wanted.connect(self._wanted)
        h.apart_wanted.connect(self.masking.apart)
        h.trouble.connect(lambda words: self.say.emit(words, True))
        self.board.taken.connect(lambda words, s: e.take_shapes(f"Variant, {words}", s))
        self.board.kept.connect(lambda words, s: self._kept(e.keep(words, s)))
        self.black.alone_wanted.connect(lambda _: self.refresh())

    def let_go(self) -> None:
        for work in (self.maker.work, self.views.boarder.work, self.views.blackener.work, self.strip.work):
            work.let_go()

    # ---- what there is

    def reference(self) -> Reference | None:
        c = self.document.character
        if c is None:
            return None
        return next((r for r in c.references if r.id == self.reference_id), None) or c.reference

    def frames(self) -> dict[str, Frame]:
        c = self.document.character
        return {r.id: frame_for(r.marks.landmarks(r.image.size), r.image.size) for r in c.references} if c is not None else {}

    def shapes(self) -> Shapes:
        """The character's shapes; a head taken from the plan follows it, unless its outline moves the plan."""
        s = self.edits.shapes
        c = self.document.character
        if (
            c is None
            or s.feeds_plan
            or not any(p.source == "construction" and p.role == "head" and not p.reference for p in s.parts)
        ):
            return s
        now = head_of(self.document.plan().table, "head")
        parts = tuple(
            p.model_copy(update={"points": now.points, "corners": now.corners, "even": now.even})
            if p.source == "construction" and p.role == "head" and not p.reference and p.points != now.points
            else p
            for p in s.parts
        )
        return s.model_copy(update={"parts": parts})

    def scene(self) -> Scene | None:
        """What was made last, if it is this character's."""
        latest = self.maker.latest
        ids = {p.id for p in self.edits.shapes.parts}
        return latest.scene if latest is not None and {v.part.id for v in latest.scene.parts} <= ids else None

    def new_role(self) -> str:
        return str(self.parts_page.new_role.currentData())

    def _name(self) -> str:
        p = self.edits.shapes.part(self.part)
        return p.name if p is not None else "all parts"

    # ---- showing

    def _shown(self) -> Shown:
        return Shown(
            self.shapes(), tuple(self.frames().items()), self.planned.isChecked(), self.holding.isChecked() or self.switch.group.checkedId() == HOLDS,
            self.final.isChecked(), self.document.style_shapes() if self.edits.shapes.style_weight else None,
        )  # fmt: skip

    @property
    def settled(self) -> bool:
        """Whether what is shown is what is decided."""
        works = (self.maker.work, self.views.boarder.work, self.views.blackener.work)
        return self.maker.latest is not None and self.maker.latest.key == self._shown() and not any(w.active for w in works)

    def refresh(self) -> None:
        c = self.document.character
        if self.edits.shapes.part(self.part) is None:
            parts = self.edits.shapes.parts
            self.part = next((p.id for role in ("head", "torso") for p in parts if p.role == role), parts[0].id if parts else "")
        self._show_picture()
        shown = self._shown()
        if self.maker.latest is None or self.maker.latest.key != shown:
            self.maker.wants(partial(made, shown))
        refs = [(r.name, r.id) for r in c.references] if c is not None else []
        here = self.reference()
        fill(self.which, refs, here.id if here is not None else None)
        self.which.setEnabled(len(refs) > 1)
        for k, b in self.modes.items():
            b.setChecked(k == self.stage.mode)
        self._show_made()

    def _show_picture(self) -> None:
        ref = self.reference()
        if ref is None:
            self.stage.show_picture(None, None, None)
            return
        self.stage.show_picture(self.images.get(ref.image.hash), ref.image.size, self.frames()[ref.id])

    def _show_made(self) -> None:
        s, m = self.scene(), self.maker.latest
        k = self.switch.group.checkedId()
        self.stage.sentence = EMPTY if self.document.character is not None else "Add a character first: shapes are somebody’s."
        self.stage.show_scene(s, m.over if s and m else None, m.sheet if s and m else None, self.part, self.planned.isChecked())
        shapes, seen = self.edits.shapes, s.part(self.part) if s is not None else None
        if k == PARTS:
            self.parts_page.set_content(shapes, self.part, seen, self.reference() is not None)
            self.parts_page.show_tool(self.stage.tool)
        elif k == HOLDS:
            self.holds.set_content(shapes, s)
        elif k == BLACK:
            self.views.black(s, self.black.alone.isChecked())
        if k in (PUSH, BOARD):
            self.push.set_content(shapes, seen, self.document.style_shapes())
        if k == BOARD:
            self.views.board(self.shapes())
        if s is not None and not self.document.dragging:
            self.views.show_strip(s, k == BOARD)
        self.status_changed.emit()

    def _show_page(self, k: int) -> None:
        self.pages.setCurrentIndex({BOARD: PUSH, BLACK: 3}.get(k, k))
        self.stages.setCurrentIndex({BOARD: 1, BLACK: 2}.get(k, 0))
        self.use("")
        self.refresh()

    def show_mode(self, mode: Mode) -> None:
        if self.switch.group.checkedId() in (BOARD, BLACK):
            self.switch.show_page(PARTS)
        self.stage.show_mode(mode)
        self.refresh()

    def choose(self, pid: str) -> None:
        if pid != self.part:
            self.part = pid
            self._show_made()

    def _choose_reference(self, rid: object) -> None:
        self.reference_id = str(rid)
        self.masking.forget()
        self.refresh()

    def use(self, tool: str) -> None:
        """Another thing the hand does on the picture."""
        if tool and tool != "points" and self.reference() is None:
            self.say.emit("Add a reference first: there is no picture to take a part from.", True)
            tool = ""
        if tool and self.stage.mode == "alone":
            self.stage.show_mode("both")
        self.stage.use(tool)  # type: ignore[arg-type]
        self.parts_page.show_tool(tool)
        self.status_changed.emit()

    def _tool_by_key(self, tool: str) -> None:
        if self.switch.group.checkedId() not in (PARTS, HOLDS):
            self.switch.show_page(PARTS)
        self.use("" if self.stage.tool == tool else tool)

    # ---- the chosen part

    def _plain(self, kind: str) -> None:
        self.parts_page.plain.setCurrentIndex(0)
        self.taking.plain(kind)

    def _set(self, label: str, **fields: object) -> None:
        if self.edits.shapes.part(self.part) is not None:
            self.edits.change(f"{label}, {self._name()}", self.part, **fields)

    def _rename(self, name: str) -> None:
        p = self.edits.shapes.part(self.part)
        if p is not None and name.strip() and name.strip() != p.name:
            self.edits.change("Rename a part", self.part, name=name.strip())

    def _nearer(self, by: int) -> None:
        if self.part:
            self.edits.nearer(self.part, by)

    def _remove(self) -> None:
        if self.part:
            self.edits.remove(self.part)

    def _wanted(self, what: str) -> None:
        doing: dict[str, Callable[[], object]] = {
            "ground": self.masking.ground, "plan": self.taking.head, "figure": self.taking.figure, "nearer": partial(self._nearer, 1),
            "further": partial(self._nearer, -1), "mirror": self.taking.mirror, "remove": self._remove, "idea": self._idea, "calm": self.edits.calm,
            "find": self._find, "clear": lambda: self.edits.hold(()), "merge": self._merge, "split": self.masking.split,
        }  # fmt: skip
        doing[what]()

    # ---- dials

    def _dialled(self, key: str, value: float) -> None:
        if key == "roundness":
            self.edits.push(self.part, key, value)
        else:
            self.edits.dial(self.part, key, value)

    def _mark(self, key: str, value: float) -> None:
        s = self.scene()
        v = s.part(self.part) if s is not None else None
        if v is None:
            return
        e = emphasis_for(v, key, value)
        if e is None:
            self.say.emit(f"The {self._name()} is as usual in this: there is nothing to stress.", False)
            return
        self.edits.push(self.part, key, e)

    def _toward(self, kind: str) -> None:
        p = self.edits.shapes.part(self.part)
        if p is not None:
            self.edits.change(
                f"Toward another shape, {p.name}", p.id, toward=kind, toward_share=(p.toward_share or 0.5) if kind else 0.0
            )

    def _idea(self) -> None:
        c, s = self.document.character, self.scene()
        if c is None or s is None:
            return
        found = pushed_by_idea(s, c.directions)
        if found is None:
            words = (
                "The idea has no directions for the face yet (Reference, Idea)."
                if not c.directions
                else "The idea says nothing of these parts."
            )
            self.say.emit(words, False)
            return
        self.edits.take_shapes(f"Push the idea, {c.idea or 'as told'}", found)

    # ---- what holds

    def _find(self) -> None:
        s = self.scene()
        if s is not None:
            self.edits.hold(found_in(s))

    def _relate(self, r: Relation) -> None:
        if not self.edits.shapes.relations:  # what was found so far holds on beside it
            s = self.scene()
            found = s.relations if s is not None else ()
            self.edits.hold((*found, r))
        else:
            self.edits.relate(r)

    def _merge(self) -> None:
        s, p = self.scene(), self.edits.shapes.part(self.part)
        if s is None or p is None:
            return
        sentence = self.edits.merge(s, p.id, p.on)
        if sentence:
            self.say.emit(sentence, True)

    # ---- variants

    def _keep(self) -> None:
        c = self.document.character
        if c is not None and c.shapes.parts:
            self._kept(self.edits.keep("variant"))

    def _kept(self, sentence: str) -> None:
        self.say.emit(sentence or "Kept among the variants.", bool(sentence))

    def _take_tile(self, value: object) -> None:
        if isinstance(value, Variant):
            self.edits.take_variant(value)
        elif self.part:
            self.edits.swap(self.part, str(value))

    # ---- files

    def export(self, what: str) -> None:
        c = self.document.character
        if c is None or not c.shapes.parts:
            self.say.emit("There are no shapes to write yet.", True)
            return
        ending = {"shapes": "shapes", "lines": "final lines", "steps": "in steps"}[what]
        path = ask_where(self, f"Export {ending}", str(export_folder() / f"{c.name} {ending}.svg"), FILE_KINDS)
        if not path:
            return
        s, planned, credit = self.scene(), self.planned.isChecked(), c.reference.credit if c.reference else ""
        if s is None:
            return

        def draw() -> Picture:
            drawing = {"shapes": lambda: lifted(s, planned, (), True), "lines": lambda: final(s), "steps": lambda: steps_page(s)}[
                what
            ]()
            tall = max(drawing.box[3], 1e-6)
            return page(
                drawing, min(120.0, 260.0 / tall) if what != "steps" else min(60.0, 180.0 / max(s.box[3], 1e-6)), "fit", credit
            )

        self.write_page(path, draw, "blue", f"Written to {Path(path).name}.")

    # ---- what the frame asks

    def hint(self) -> Hint:
        tool = self.stage.tool
        if tool == "trace":
            return [
                ("Drag round it", "in one go"),
                ("Click", "for a point"),
                ("Enter", "closes it"),
                ("Backspace", "takes a point back"),
                ("Esc", "leaves"),
            ]
        if tool == "box":
            return [("Drag", "a box round the part"), ("Add, Take away", "stroke over what it missed"), ("Esc", "leaves")]
        if tool in ("yes", "no"):
            return [("Stroke", "over what belongs to it" if tool == "yes" else "over what does not"), ("Esc", "leaves")]
        if tool == "colour":
            return [("Click", "a colour of the part"), ("Esc", "leaves")]
        if tool == "points":
            return [("Drag a point", "its neighbours come along"), ("Shift", "takes more along"), ("Esc", "leaves")]
        if self.switch.group.checkedId() == BOARD:
            return [("Click", "to take one"), ("Shift-click", "keeps it beside the others"), ("Arrows, Enter", "by keys")]
        return [("Click", "to choose a part"), ("Drag", "moves it, what holds comes along"), ("Handles", "size and turn it"), ("T B C E", "trace, box, colour, points"),
                ("L G I", "as seen, what holds, final lines")]  # fmt: skip

    def reading_note(self) -> tuple[str, str, str]:
        s = self.scene()
        v = s.part(self.stage.hot or self.part) if s is not None else None
        if v is None:
            return "", "", ""
        return v.part.name, v.named.replace("-", " "), v.head.words if v.head is not None else ""
