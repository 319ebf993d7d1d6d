"""The Figure station: the planned body under the planned head, by canon, heads and traits; and whether the two are of one age."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QWidget

from ....core.derived import Derived
from ....core.export.page import page
from ....core.figure.canons import AGES, named
from ....core.figure.choices import BY_AGE
from ....core.figure.construct import STEPS
from ....core.figure.match import GOOD, TITLES, Match, slender_height
from ....core.figure.sheets import steps_sheet, views_sheet
from ....core.gauges.figure import OF_HEAD, figure_items
from ....core.gauges.plan import trait_items
from ....core.landmarks.turn import Turn
from ....core.people import HeadOn, hair_height, head_of_plan, heads_with_hair, person_of
from ....core.picture import Picture
from ....core.plan.cures import CURES
from ....core.plan.figure import HEADS, FigurePlan
from ....core.plan.side import targets
from ....core.pose.figure import posed_figure
from ....core.pose.model import STANDING
from ....core.pose.sheets import pose_sheet
from ....core.proportions.registry import front_registry
from ....core.proportions.views import figure_registry
from ....core.swatches import tints
from ...ask import ask_where
from ...document import Document
from ...gauges.legend import Entry, Legend, usual
from ...gauges.list import GaugeList, WeightBar
from ...gauges.marks import mark_plan, mark_reference, mark_style, mark_wall
from ...ledge import Hint
from ...parts import down, pile, put_in, soft, toggle
from ...render import KINDS
from ...stage.images import ImageStore
from ..base import Panel, Station, export_folder
from ..newest import Newest
from ..pages import PageSwitch
from ..tile_strip import TileStrip
from ..trait_edits import TraitEdits
from .body_page import BodyPage
from .cures import CureBoard
from .edits import FigureEdits
from .making import Cures, Drawn, Shown, canon_tiles, drawn, stood, view
from .match_page import MatchPage
from .paper_page import PaperPage
from .posing import PosingDesk
from .stage import FigureStage
from .steps_page import StepsPage

BODY, TRAITS, MATCH, STEPS_PAGE, POSE, PAPER = range(6)
MASTER = "*"
LEGEND: tuple[Entry, ...] = (
    ("reference", 0, lambda p, x, y, t: mark_reference(p, x, y + 6.5, t)),
    ("plan", 0, lambda p, x, y, t: mark_plan(p, x, y - 7, t)),
    ("style", 0, lambda p, x, y, t: mark_style(p, x, y - 7, t)),
    ("usual", 16, usual),
    ("limit", 0, lambda p, x, y, t: mark_wall(p, x - 6, y, t, 1)),
)
TURNS = [Turn(yaw=a) for a in (0, 35, 90, 145, 180, -145, -90, -35)]


class FigureStation(Station):
    name = "Figure"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.turn = Turn(yaw=25)
        """Where one looks from; a way of looking, not a decision, so it is not saved."""
        self.slender: float | None = None
        self.edits = FigureEdits(document)
        self.maker: Newest[Drawn] = Newest("The figure", self)
        self.curer: Newest[Cures] = Newest("The cures", self)
        self.stage, self.board, self.strip = FigureStage(), CureBoard(), TileStrip()
        self.stages = pile(self.stage, self.board)
        self.body, self.match, self.steps, self.paper = BodyPage(), MatchPage(), StepsPage(), PaperPage()
        self.posing = PosingDesk(self, self)
        self.who = soft()
        self.alone = toggle("One view", self.refresh, "The turned figure alone, or with front, side and back beside it (V)")
        self.posed = toggle("In its pose", self.refresh, "The figure as it is posed, or standing (Shift+O)")
        put_in(self.top_row, self.who, ..., self.posed, self.alone)
        self.top_line.spare = [self.who]
        self.panel = Panel("Figure")
        self.switch = PageSwitch(("Body", "Traits", "Match", "Steps", "Pose", "Paper"))
        self.master = WeightBar(MASTER, "Style, all groups")
        self.list = GaugeList("plan", weighted=True)
        traits = QWidget()
        down(self.master, 4, (self.list, 1), Legend(LEGEND), owner=traits)
        self.pages = pile(self.body, traits, self.match, self.steps, self.posing.page, self.paper)
        self.panel.top.addWidget(self.switch)
        self.panel.column.addWidget(self.pages, 1)
        self.switch.turned.connect(self._show_page)
        self.build(self.stages, self.panel, self.strip)
        self.setFocusProxy(self.stage)
        self._connect()
        self._actions = [
            self.action("Front", "Home", lambda: self.look_from(Turn())),
            self.action("Next view", "]", lambda: self._step(1), "Walk round the figure"),
            self.action("Previous view", "[", lambda: self._step(-1)),
            self.action("One view, or four", "V", self.alone.click),
            self.action("Construction lines", "G", self.steps.guides.toggle),
            self.action("The figure itself", "B", self.steps.body.toggle),
            self.action("Tones", "T", self.steps.tones.toggle),
            self.action("Play the construction", "P", self._play),
            self.action("Head and body, and the cures", "M", lambda: self.switch.show_page(MATCH)),
            self.action("Pose", "O", lambda: self.switch.show_page(POSE)),
            self.action("In its pose, or standing", "Shift+O", self.posed.click),
            self.action("Mirror the pose", "X", self.posing.edits.mirror),
            self.action("Keep the pose as an alternative", "K", self.posing.keep),
            self.action("Stand upright", "", self.posing.edits.stand),
            self.action("Forget body marks moved by hand", "", self.edits.forget),
            self.action("Export this view…", "Ctrl+E", lambda: self.export("view")),
            self.action("Export four views…", "Ctrl+Shift+E", lambda: self.export("views")),
            self.action("Export the construction…", "", lambda: self.export("steps")),
            self.action("Export a pose sheet…", "", lambda: self.export("poses")),
        ]

    def _connect(self) -> None:
        d = self.document
        self.stage.turned.connect(self.look_from)
        self.stage.head_began.connect(lambda: d.begin("Turn of the head"))
        self.stage.head_turned.connect(self.edits.head_turn)
        self.stage.head_dropped.connect(d.commit)
        self.board.chosen.connect(self._cure)
        self.strip.chosen.connect(self._take_tile)
        self.maker.done.connect(self._made_one)
        self.curer.done.connect(self._show_made)
        for failing in (self.maker, self.curer, self.strip):
            failing.failed.connect(lambda words: self.say.emit(words, True))
        self.body.canon_chosen.connect(self.edits.canon)
        self.body.limbs_chosen.connect(self.edits.limbs)
        self.body.began.connect(d.begin)
        self.body.heads_moved.connect(lambda v: self.edits.heads(v, self._natural()))
        self.body.age_moved.connect(lambda v: self.edits.age(v, d.character.age if d.character else v))
        self.body.form_moved.connect(self.edits.form)
        self.body.meant_toggled.connect(self.edits.meant)
        self.match.cure_chosen.connect(self._cure)
        self.match.height_chosen.connect(self._slender_height)
        self.steps.shown.connect(self.refresh)
        self.paper.export_wanted.connect(self.export)
        self.list.mark_began.connect(lambda key: d.begin(f"Plan, {self._label(key)}"))
        self.list.mark_moved.connect(self.edits.trait)
        self.list.hovered.connect(self._hover)
        self.trait_edits = TraitEdits(d, self.list, self.master, self._label)
        self.list.missing_clicked.connect(lambda key: self.go_to.emit("Reference"))
        for dropped in (self.body.dropped, self.list.mark_dropped, self.list.weight_dropped, self.master.dropped):
            dropped.connect(lambda *_: self._let_drop())

    def _let_drop(self) -> None:
        self.document.commit()
        self.refresh()  # what was drawn roughly while it moved is drawn as it was let go

    def let_go(self) -> None:
        for work in (self.maker.work, self.curer.work, self.strip.work, self.posing.tester.work):
            work.let_go()

    def _take_tile(self, value: object) -> None:
        if isinstance(value, tuple):
            self.posing.edits.take(value[1])
        else:
            self.edits.canon(str(value))

    def open_file(self, path: str) -> bool:
        """A pose file dropped on the window; True where it was taken."""
        self.switch.show_page(POSE)
        return self.posing.open_file(path)

    def _natural(self) -> float:
        """Heads tall where nothing is chosen: canon, style, reference and hand."""
        c = self.document.character
        assert c is not None
        return self.document.figure_plan_under(c.figure.model_copy(update={"heads": None})).by_key[HEADS].asked

    # ---- decisions

    def _label(self, key: str) -> str:
        return (front_registry() if key in OF_HEAD else figure_registry())[key].label.lower()

    def _hover(self, key: str, inside: bool) -> None:
        self.hot = {key} if inside else self.hot - {key}
        self.list.light(self.hot)
        self.status_changed.emit()

    def _cure(self, name: str) -> None:
        if self.edits.cure(name, self.slender):
            self.say.emit(f"{CURES[name]}: taken. Ctrl+Z takes it back.", False)

    def _slender_height(self, heads: object) -> None:
        self.slender = float(heads)  # type: ignore[arg-type]
        self.refresh()

    def look_from(self, turn: Turn) -> None:
        self.turn = turn
        self.refresh()
        self.status_changed.emit()

    def _step(self, by: int) -> None:
        here = TURNS.index(self.turn) if self.turn in TURNS else (-1 if by > 0 else 0)
        self.look_from(TURNS[(here + by) % len(TURNS)])

    def _play(self) -> None:
        self.switch.show_page(STEPS_PAGE)
        self.steps.player.toggle_play()

    def _show_page(self, k: int) -> None:
        self.pages.setCurrentIndex(k)
        if k == STEPS_PAGE:
            self.steps.guides.setChecked(True)
        self.alone.setVisible(k not in (MATCH, POSE))
        self.refresh()

    # ---- what is drawn

    def head(self, supposed: Derived | None = None) -> HeadOn:
        d = supposed or self.document
        c = d.character
        assert c is not None
        return head_of_plan(d.plan(), c, d.decisions(), targets(d.side_plans()))

    def _shown(self) -> tuple[Shown, HeadOn]:
        c = self.document.character
        assert c is not None
        head = self.head()
        steps = self.steps.steps() if self.pages.currentIndex() == STEPS_PAGE else range(len(STEPS))
        posing = self.pages.currentIndex() == POSE
        guides = (self.steps.guides.isChecked() and self.pages.currentIndex() == STEPS_PAGE) or (posing and self.posing.guides)
        pose = c.posing.pose if posing or self.posed.isChecked() else STANDING
        colours = tuple(tints(c.swatches).items()) if self.steps.colours.isChecked() else ()
        how = (
            guides,
            self.steps.body.isChecked(),
            self.steps.tones.isChecked(),
            (steps.start, steps.stop),
            self.alone.isChecked() or posing,
            colours,
        )
        return Shown(
            self.document.figure_plan(),
            head.key,
            self.turn,
            c.figure.head_turn,
            how,
            self.document.dragging,
            self.stage.held,
            pose,
            posing,
        ), head

    def refresh(self) -> None:
        c = self.document.character
        self.stage.nobody = c is None
        self.posing.show()
        self.stages.setCurrentWidget(self.board if c is not None and self.pages.currentIndex() == MATCH else self.stage)
        if c is None:
            self._show_nobody()
            return
        plan = self.document.figure_plan()
        usual = "the measured body of this age" if c.figure.canon == BY_AGE else f"the canon “{plan.canon.title}”"
        steers = "after its reference figure" if plan.measured else f"after {usual}"
        self.who.setText(f"{c.name}{self.document.version_words()}, {steers}")
        shown, head = self._shown()
        if self.maker.latest is None or self.maker.latest.key != shown:
            self.maker.wants(partial(drawn, shown, head, self.maker.latest))
        self._show_made()
        page = self.pages.currentIndex()
        height = hair_height(head)
        with_hair = heads_with_hair(plan.heads, height) if height > 0.02 else None
        if page == BODY:
            self.body.set_content(
                c.figure,
                plan,
                self._natural(),
                c.age,
                with_hair,
                self.maker.latest.density if self.maker.latest is not None else "",
            )
        elif page == TRAITS:
            self._show_traits(plan)
        elif page == POSE:
            self.posing.show_page()
        elif page == MATCH:
            self._show_match(self.document.match(self.slender), with_hair)
        if self.maker.latest is not None:  # the figure itself comes first
            self._set_strip(head)

    def _show_nobody(self) -> None:
        self.who.setText("")
        self.stage.show_figure(None, self.turn, Turn(), True, "")
        self.strip.set_tiles("Canons", list, None, None, True)

    def _made_one(self) -> None:
        self._show_made()
        if self.document.character is not None and not self.document.dragging:
            self._set_strip(self.head())

    def _show_made(self) -> None:
        made = self.maker.latest
        c = self.document.character
        self.posing.show()
        if c is not None and made is not None:
            self.stage.show_figure(made.picture, self.turn, c.figure.head_turn, True, made.words)
            if made.density:
                self.body.density.setText(made.density)
        cures = self.curer.latest
        if cures is not None:
            self.board.show_stands(cures.stands)

    @property
    def settled(self) -> bool:
        """Whether what is shown is what is decided."""
        c = self.document.character
        return c is None or (
            self.maker.latest is not None and self.maker.latest.key == self._shown()[0] and not self.maker.work.active
        )

    def _show_traits(self, plan: FigurePlan) -> None:
        c = self.document.character
        assert c is not None
        d, v = self.document.decisions(), c.version(self.document.version_id)
        by_hand = v.offsets if v is not None else d.offsets
        front = trait_items(
            c, self.document.plan(), self.document.measured(), d, by_hand, self.document.norm(), self.document.toward(), OF_HEAD
        )
        self.master.set_value(d.style_weight)
        self.list.set_items(figure_items(plan, front, d, by_hand, c.noticed))
        for g in self.list.heads:
            self.list.set_weight(g, d.weight_of(g), g in d.group_weights)

    def _show_match(self, m: Match, with_hair: float | None) -> None:
        other = (with_hair, self.document.match_at(with_hair)) if with_hair is not None else None
        self.match.set_content(m, other, self.slender if self.slender is not None else slender_height(m.youth, None))
        if self.document.dragging:
            return
        stands = self._cure_plans(m)
        key = tuple((title, plan, head.key) for _, title, _, _, plan, head in stands)
        if self.curer.latest is None or self.curer.latest.key != key:
            self.curer.wants(partial(stood, key, stands))

    def _cure_plans(self, m: Match) -> list[tuple[str, str, str, str, FigurePlan, HeadOn]]:
        """Head and body as they are, and as each cure would have them."""
        out = [("", "As it is", TITLES[m.verdict], self.document.figure_plan(), self.head())]
        for name, title in CURES.items():
            if name == "head" and m.verdict in GOOD:
                continue
            c = self.document.character
            assert c is not None
            would = self.document.under(self.edits.cure_edit(c, name, self.slender))
            out.append((name, title, TITLES[m.after[name]], would.figure_plan(), self.head(would)))
        return [
            (k, title, note, f"{p.heads:.1f} heads, shoulders {p.readings['shoulder_hw']:.2f}", p, h)
            for k, title, note, p, h in out
        ]

    def _set_strip(self, head: HeadOn) -> None:
        c = self.document.character
        assert c is not None
        if self.pages.currentIndex() == POSE:
            self.posing.show_strip(self.strip)
            return
        names = [BY_AGE, *named(), *(f"age:{a}" for a in AGES)]
        key = (head.key, c.age)
        self.strip.set_tiles("Canons", partial(canon_tiles, names, c.age, head), c.figure.canon, key, not self.document.dragging)

    # ---- files

    def export(self, what: str) -> None:
        """Write a view, four of them, the construction or the poses."""
        c = self.document.character
        if c is None:
            return
        ending = {"view": "", "views": " four views", "steps": " construction", "poses": " poses"}[what]
        path = ask_where(self, f"Export{ending or ' this view'}", str(export_folder() / f"{c.name} figure{ending}.svg"), KINDS)
        if not path:
            return
        shown, head = self._shown()
        height, plain, pens = self.paper.height_mm.value(), self.paper.plain.isChecked(), c.pens
        of_head = height / shown.plan.heads
        credit, posing = c.reference.credit if c.reference else "", c.posing

        def draw() -> Picture:
            f = person_of(shown.plan, head, shown.head_turn)
            made = {
                "view": lambda: view(posed_figure(f, shown.pose), shown),
                "poses": lambda: pose_sheet(f, posing.pose, posing.kept, c.name),
                "views": lambda: views_sheet(f),
                "steps": lambda: steps_sheet(f, shown.turn),
            }[what]()
            return page(made, of_head, "fit", credit, pens.head_mm(of_head), plain)

        self.write_page(path, draw, "blue", f"Written to {Path(path).name}.")

    # ---- what the frame asks

    def hint(self) -> Hint:
        if self.pages.currentIndex() == POSE:
            return [("Drag a joint", "to pose"), ("D", "turns a limb to the other side of the picture"), ("Drag", "to turn the figure"), ("X", "mirrors"),
                    ("K", "keeps"), ("Esc", "lets go")]  # fmt: skip
        return [("Drag", "to turn the figure"), ("Shift-drag", "turns its head"), ("Arrows", "5°, with Shift 15°"), ("[ ]", "walk round it"),
                ("V M P", "one view or four, match, steps"), ("G B T", "lines, figure, tones")]  # fmt: skip

    def reading_note(self) -> tuple[str, str, str]:
        for k in self.hot:
            row = self.list.rows.get(k)
            if row is not None and row.item.plan is not None:
                i = row.item
                return i.label, i.show(row.item.plan), f"reference {i.show(i.reference)}" if i.reference is not None else ""
        c = self.document.character
        if c is None:
            return "", "", ""
        return "Heads tall", f"{self.document.figure_plan().heads:.2f}", f"turned {self.turn.yaw:+.0f}°".replace("-", "−")
