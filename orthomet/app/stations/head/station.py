"""The Head station: the planned head as a solid, turned, drawn with its features, guides, expression and light."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QWidget

from ....core.export.page import page
from ....core.features.expression import expressions
from ....core.features.table import feature
from ....core.gauges.schooled import triangle
from ....core.hair.fit import Fitted
from ....core.hair.handles import HairHandle, handles_of
from ....core.head.body import Body, Wear, body, is_made
from ....core.head.drawn import picture
from ....core.head.scene import Scene, scene_of
from ....core.head.shadow import with_shadow
from ....core.head.shares import shares
from ....core.head.turnaround import expression_sheet, turnaround
from ....core.landmarks.turn import Turn
from ....core.picture import Ink, Picture
from ....core.plan.side import targets
from ....core.styles.schools import school
from ....core.swatches import tints
from ...ask import ask_where
from ...document import Document
from ...ledge import Hint
from ...parts import button, pile, put_in, soft
from ...render import KINDS
from ...stage.images import ImageStore
from ..base import Panel, Station, export_folder
from ..jobs import hair_of
from ..pages import PageSwitch
from ..tile_strip import TileStrip
from .barber import Barber, Wish
from .edits import HeadEdits
from .expression_page import ExpressionPage
from .features_page import MARKS, FeaturesPage
from .guides_page import GuidesPage
from .light_page import LightPage
from .stage import HeadStage
from .tiles import VIEWS, expression_tiles, variant_tiles, view_tiles
from .turn_page import TurnPage

TURN, GUIDES, FEATURES, FACE, LIGHT = range(5)
HAIR = "hair"
REST = 160
"""Milliseconds a hand that turns the head pauses before it is drawn in full."""


class HeadStation(Station):
    name = "Head"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.turn = Turn(yaw=35)
        """Where one looks from; a way of looking, not a decision, so it is not saved."""
        self.schooled = False
        """Whether the school's lines stand in for the plan's own."""
        self.feature = "eyes"
        self.edits = HeadEdits(document)
        self._kept: tuple[object, Scene] | None = None
        self._rest = QTimer(self, singleShot=True, interval=REST)
        """Runs while the head is being turned: until then it is drawn quickly."""
        self._rest.timeout.connect(self.refresh)
        self._hair: Wear | None = None
        """What the head wore when it was drawn last."""
        self._body: tuple[object, Body] | None = None
        self.barber = Barber(self)
        self.stage, self.strip = HeadStage(), TileStrip()
        self.page, self.guides, self.features = TurnPage(), GuidesPage(), FeaturesPage()
        self.face, self.light = ExpressionPage(), LightPage()
        self.who = soft()
        self.hair_offer = button(
            "Hair from the reference",
            self._take_hair,
            "Find the style that covers the picture's hair best, with its lengths, lift and parting",
            strong=True,
        )
        put_in(self.top_row, self.who, ..., self.hair_offer)
        self.panel = Panel("Head")
        self.switch = PageSwitch(("Turn", "Guides", "Features", "Face", "Ink"))
        self.pages = pile(self.page, self.guides, self.features, self.face, self.light)
        self.panel.top.addWidget(self.switch)
        self.panel.column.addWidget(self.pages, 1)
        self.switch.turned.connect(self._show_page)
        self.build(self.stage, self.panel, self.strip)
        self._connect()
        self._actions = [
            self.action("Front", "Home", lambda: self.look_from(Turn())),
            self.action("Next view", "]", lambda: self._step(1), "Walk the seven views"),
            self.action("Previous view", "[", lambda: self._step(-1)),
            self.action("Guide lines", "G", self.page.guides.toggle),
            self.action("Hidden lines", "H", self.page.hidden.toggle),
            self.action("Skull under the hair", "K", self.page.skull.toggle),
            self.action("Play the school’s steps", "P", self._play),
            self.action("Shadow shapes", "L", self.light.on.toggle),
            self.action("Flat colours", "T", self._toggle_colours, "Hair, skin, eyes and wear in their own colours, or on paper"),
            self.action("Face at rest", "", self.edits.rest),
            self.action("Export this view…", "Ctrl+E", self._export),
            self.action(
                "Export a turnaround…", "Ctrl+Shift+E", self._export_turnaround, "Seven views in a row on common level lines"
            ),
            self.action("Export an expression sheet…", "", self._export_expressions),
        ]

    def _connect(self) -> None:
        d = self.document
        for source in (self.stage.turned, self.page.turned):
            source.connect(self.look_from)
        self.stage.turning.connect(self._turning)
        self.stage.let_go.connect(self._rested)
        self.strip.chosen.connect(self._take_tile)
        for shown in (self.page.shown, self.guides.shown, self.light.changed, self.barber.done):
            shown.connect(self.refresh)
        for job in (self.barber, self.strip):
            job.failed.connect(lambda words: self.say.emit(words, True))
        self.page.export_wanted.connect(self._export)
        self.page.turnaround_wanted.connect(self._export_turnaround)
        self.page.chin_began.connect(lambda: d.begin("Chin back or forward"))
        self.page.chin_moved.connect(self.edits.chin)
        self.guides.school_chosen.connect(self._school)
        self.guides.setting_began.connect(d.begin)
        self.guides.setting_moved.connect(self.edits.line)
        self.stage.handle_began.connect(d.begin)
        self.stage.handle_moved.connect(partial(self.edits.parameter, HAIR))
        self.light.pen_began.connect(d.begin)
        self.light.pen_moved.connect(self.edits.pen)
        self.light.true_chosen.connect(self.edits.true_pens)
        self.features.feature_chosen.connect(self._show_feature)
        self.features.began.connect(d.begin)
        self.features.moved.connect(self.edits.parameter)
        self.features.uneven_moved.connect(self.edits.uneven)
        self.features.absent_chosen.connect(self.edits.absent)
        self.features.marks_changed.connect(self.edits.marks)
        self.face.began.connect(d.begin)
        self.face.moved.connect(self.edits.expression_dial)
        self.face.rest_wanted.connect(self.edits.rest)
        self.face.viewer_wanted.connect(lambda: self.edits.look_at_viewer(self.turn))
        self.face.sheet_wanted.connect(self._export_expressions)
        for dropped in (
            self.stage.handle_dropped,
            self.page.chin_dropped,
            self.guides.setting_dropped,
            self.features.dropped,
            self.face.dropped,
            self.light.pen_dropped,
        ):
            dropped.connect(d.commit)
            dropped.connect(self.refresh)  # hair that was still being made is drawn as it was let go

    def let_go(self) -> None:
        self.barber.work.let_go()
        self.strip.work.let_go()

    # ---- what is drawn

    def wear(self) -> Wear:
        c = self.document.character
        if c is None:
            return Wear()
        d = self.document.decisions()
        lines = (d.school, d.school_settings) if self.schooled else ("", {})
        return Wear(
            d.chin_forward,
            c.features,
            c.expression,
            *lines,
            hair=self.page.hair.isChecked(),
            pens=c.pens,
            side=targets(self.document.side_plans()),
        )

    def body_now(self) -> Body:
        plan = self.document.plan()
        return body(plan.table, plan.points, self.wear())

    def _body_shown(self) -> Body:
        """The head as it is; while a dial is held and its hair is still being made, with the hair made last."""
        plan, wear = self.document.plan(), self.wear()
        if self.document.dragging and self._hair is not None and not is_made(plan.table, plan.points, wear):
            hair, last = wear.choices.of("hair"), self._hair
            if hair != last.choices.of("hair"):
                self.barber.dress(Wish(dict(plan.table), plan.points, wear, self.turn))
                held = (self.barber.latest or last).choices.values.get("hair", {})
                wear = replace(wear, choices=wear.choices.with_values("hair", held))
        self._hair = wear
        key = (plan.table, plan.points.tobytes(), wear)
        if self._body is None or self._body[0] != key:  # tiles made elsewhere may have pushed it out of what is kept
            self._body = (key, body(plan.table, plan.points, wear))
        return self._body[1]

    def _scene(self, b: Body, moving: bool = False) -> Scene:
        """The view as it is, kept while it is the same: a light dragged over it asks for nothing else."""
        key = (b, self.turn, self.page.distance, moving)
        if self._kept is None or self._kept[0] != key:
            self._kept = (key, scene_of(*key))
        return self._kept[1]

    def _drawn(self, s: Scene) -> Picture:
        p = self.page
        shown = (p.guides.isChecked(), p.hidden.isChecked(), p.skull.isChecked())
        drawn = picture(s, *shown, self.guides.player.steps(), self.tints())
        light = self.light.light
        return with_shadow(drawn, s, light) if light is not None else drawn

    def _handles(self, s: Scene) -> list[HairHandle]:
        c = self.document.character
        hair = s.body.hair
        return handles_of(hair, s.sight.view, dict(c.features.of(HAIR))) if c is not None and hair is not None else []

    def tints(self) -> dict[Ink, str]:
        """Colours by part, where they are to be seen."""
        c = self.document.character
        return tints(c.swatches) if c is not None and self.light.colours.isChecked() else {}

    def _toggle_colours(self) -> None:
        if self.light.colours.isEnabled():
            self.light.colours.toggle()

    def look_from(self, turn: Turn) -> None:
        self._rest.stop()
        self.turn = turn
        self.refresh()
        self.status_changed.emit()

    def _turning(self, turn: Turn) -> None:
        self._rest.start()
        self.turn = turn
        self.refresh()
        self.status_changed.emit()

    def _rested(self) -> None:
        if self._rest.isActive():
            self._rest.stop()
            self.refresh()

    def _step(self, by: int) -> None:
        turns = [t for _, t in VIEWS]
        here = turns.index(self.turn) if self.turn in turns else (-1 if by > 0 else 0)
        self.look_from(turns[(here + by) % len(turns)])

    # ---- pages

    def _show_page(self, k: int) -> None:
        self.pages.setCurrentIndex(k)
        if k == GUIDES:
            self.page.guides.setChecked(True)
        self.refresh()

    def _play(self) -> None:
        c = self.document.character
        if c is not None and not self.schooled:
            self._school(self.document.decisions().school)
        self.switch.show_page(GUIDES)
        self.guides.player.toggle_play()

    def _show_feature(self, key: str) -> None:
        self.feature = key
        self.refresh()

    def _take_tile(self, value: object) -> None:
        c = self.document.character
        if isinstance(value, Turn):
            self.look_from(value)
        elif c is not None and self.pages.currentIndex() == FACE:
            self.edits.wear(f"Expression, {value}", expressions()[str(value)])
        elif c is not None:
            self.edits.variant(self.feature, str(value))

    def _school(self, name: str) -> None:
        self.schooled = bool(name)
        if not self.edits.school(name):
            self.refresh()

    def _take_hair(self) -> None:
        """Dress the head as the picture is dressed; worked out elsewhere, laid on whoever asked."""
        ref, c = self.edits.hair_offered(), self.document.character
        image = self.images.get(ref.image.hash) if ref is not None else None
        if c is None or ref is None:
            return
        if image is None:
            self.say.emit("The picture is still being read; ask again in a moment.", False)
            return
        cid, measured = c.id, dict(self.document.measured().table)

        def take(found: Fitted | None) -> None:
            if found is None:
                self.say.emit("No hair could be told from the ground on this picture.", True)
            else:
                self.edits.take_hair(cid, found)

        self.run("Looking for the hair…", partial(hair_of, image, ref, measured), take)

    # ---- files

    def _export(self) -> None:
        """Write this view."""
        t = self.turn
        side = f" {t.yaw:+.0f} {t.pitch:+.0f}" if t != Turn() else ""
        drawn = self._drawn(self._scene(self.body_now()))
        self._write("Export this view", side, lambda: drawn)

    def _export_turnaround(self) -> None:
        shown = (self.page.guides.isChecked(), self.page.hidden.isChecked())
        self._write("Export a turnaround", " turnaround", partial(turnaround, self.body_now(), *shown, self.tints()))

    def _export_expressions(self) -> None:
        plan = self.document.plan()
        sheet = partial(expression_sheet, dict(plan.table), plan.points, self.wear(), self.turn, None, self.tints())
        self._write("Export an expression sheet", " expressions", sheet)

    def _write(self, title: str, ending: str, draw: Callable[[], Picture]) -> None:
        c = self.document.character
        if c is None:
            return
        path = ask_where(self, title, str(export_folder() / f"{c.name}{ending}.svg"), KINDS)
        if path:
            height, credit = self.page.height_mm.value(), c.reference.credit if c.reference else ""
            words, pens, plain = f"Written to {Path(path).name}.", c.pens, self.page.plain.isChecked()
            self.write_page(path, lambda: page(draw(), height, "fit", credit, pens.head_mm(height), plain), "blue", words)

    # ---- what the frame asks

    def refresh(self) -> None:
        c = self.document.character
        plan, d = self.document.plan(), self.document.decisions()
        b = self._body_shown()
        s = self._scene(b, self._rest.isActive() or self.document.dragging)
        said = "as planned" if plan.measured else "nothing of a face is measured: this is the style itself"
        self.who.setText(f"{c.name}{self.document.version_words()}, {said}" if c else "")
        self.hair_offer.setVisible(self.edits.hair_offered() is not None)
        shown = self.pages.currentIndex()
        self.stage.show_head(self._drawn(s), self.turn, self._handles(s) if shown == FEATURES and self.feature == HAIR else ())
        if shown == TURN:
            hair = c is not None and c.features.of("hair")["kind"] > 0
            self.page.set_content(self.turn, d.chin_forward, shares(b.front, s), hair)
        elif shown == GUIDES:
            norm = dict(zip(plan.registry.keys, self.document.norm().mean.tolist(), strict=True))
            shown_school = school(d.school) if self.schooled else None
            self.guides.set_content(
                shown_school,
                d.school_settings,
                plan.table,
                norm,
                triangle(plan, self.document.pure(self.document.toward()), self.document.norm()),
            )
        elif shown == FEATURES and c is not None:
            self.features.set_content(self.feature, c.features, d.uneven)
        elif shown == FACE and c is not None:
            self.face.set_content(c.expression)
        if c is not None:
            words = {Ink.HAIR: "hair", Ink.SKIN: "skin", Ink.WEAR: "wear", Ink.TONE: "eyes"}
            self.light.set_content(c.pens, [words[k] for k in tints(c.swatches) if k in words])
        self._set_strip(b)

    def _set_strip(self, b: Body) -> None:
        c, plan, wear = self.document.character, self.document.plan(), self.wear()
        shown, rest = self.pages.currentIndex(), not self.document.dragging
        raw = plan.points.tobytes()
        if c is not None and shown == FEATURES and self.feature != MARKS:
            rest_of_it = replace(wear, choices=wear.choices.with_values(self.feature, {}))
            key = (self.feature, raw, rest_of_it.key)
            here = c.features.variant_of(self.feature) if c.features.drawn(self.feature) else ""
            tiles = partial(variant_tiles, self.feature, dict(plan.table), plan.points, wear)
            self.strip.set_tiles(f"Variants, {feature(self.feature).words.lower()}", tiles, here, key, rest)
        elif c is not None and shown == FACE:
            named = next((n for n, e in expressions().items() if e == c.expression), "")
            tiles = partial(expression_tiles, dict(plan.table), plan.points, wear, self.turn)
            bare = (raw, self.turn, wear.choices.model_dump_json(), wear.hair, wear.chin_forward)
            self.strip.set_tiles("Expressions", tiles, named, bare, rest)
        else:
            self.strip.set_tiles("The head from seven sides", partial(view_tiles, b), self.turn, ("views", b), rest)

    def hint(self) -> Hint:
        return [("Drag", "to turn the head"), ("Shift-drag", "rolls it"), ("Arrows", "5°, with Shift 15°"), ("[ ]", "walk the views"),
                ("Double-click", "front"), ("G H K L T", "guides, hidden, skull, light, colours")]  # fmt: skip

    def reading_note(self) -> tuple[str, str, str]:
        t = self.turn
        return (
            "Turn",
            f"{t.yaw:+.0f}°, {t.pitch:+.0f}°".replace("-", "−"),
            f"roll {t.roll:+.0f}°".replace("-", "−") if t.roll else "",
        )
