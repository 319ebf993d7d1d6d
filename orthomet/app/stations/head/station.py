"""The Head station: the planned head as a solid, turned, drawn with its features, guides, expression and light."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtWidgets import QWidget

from ....core.export.page import page
from ....core.features.choices import FaceMark
from ....core.features.expression import NEUTRAL, Expression, expressions
from ....core.features.from_reference import hair_of_reference
from ....core.features.table import feature, features
from ....core.head.body import Body, Wear, body
from ....core.head.drawn import picture
from ....core.head.scene import Scene, scene_of
from ....core.head.shadow import with_shadow
from ....core.head.shares import shares
from ....core.head.turnaround import expression_sheet, turnaround
from ....core.landmarks.turn import Turn
from ....core.picture import Picture
from ....core.project.edits import (
    choose_school,
    decide,
    set_character,
    set_features,
    set_school_line,
)
from ....core.project.model import Character
from ....core.styles.schools import school
from ...ask import ask_where
from ...document import Document
from ...ledge import Hint
from ...parts import button, pile, put_in, soft
from ...render import KINDS
from ...stage.images import ImageStore
from ..base import Panel, Station, export_folder
from ..pages import PageSwitch
from .expression_page import ExpressionPage
from .features_page import MARKS, FeaturesPage
from .guides_page import GuidesPage
from .light_page import LightPage
from .stage import HeadStage
from .strip import TileStrip
from .tiles import VIEWS, expression_tiles, variant_tiles, view_tiles
from .turn_page import TurnPage

TURN, GUIDES, FEATURES, FACE, LIGHT = range(5)
GAZE_REACH = 32.0
"""Degrees the eyes turn at the end of the gaze dial (from memory of common values: 30–35° in comfort)."""


class HeadStation(Station):
    name = "Head"

    def __init__(self, document: Document, images: ImageStore, parent: QWidget | None = None):
        super().__init__(document, images, parent)
        self.turn = Turn(yaw=35)
        """Where one looks from; a way of looking, not a decision, so it is not saved."""
        self.schooled = False
        """Whether the school's lines stand in for the plan's own."""
        self.feature = "eyes"
        self._kept: tuple[object, Scene] | None = None
        self.stage, self.strip = HeadStage(), TileStrip()
        self.page, self.guides, self.features = TurnPage(), GuidesPage(), FeaturesPage()
        self.face, self.light = ExpressionPage(), LightPage()
        self.who = soft()
        self.hair_offer = button(
            "Hair from the reference",
            self._take_hair,
            "Dress the head in the mass, lift and parting that were measured",
            strong=True,
        )
        put_in(self.top_row, self.who, ..., self.hair_offer)
        self.panel = Panel("Head")
        self.switch = PageSwitch(("Turn", "Guides", "Features", "Face", "Light"))
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
            self.action("Face at rest", "", lambda: self._wear("At rest", NEUTRAL)),
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
        self.strip.chosen.connect(self._take_tile)
        for shown in (self.page.shown, self.guides.shown, self.light.changed):
            shown.connect(self.refresh)
        self.page.export_wanted.connect(self._export)
        self.page.turnaround_wanted.connect(self._export_turnaround)
        self.page.chin_began.connect(lambda: d.begin("Chin back or forward"))
        self.page.chin_moved.connect(lambda v: self._preview(lambda c: decide(c.id, chin_forward=round(v, 3))))
        self.guides.school_chosen.connect(self._school)
        self.guides.setting_began.connect(d.begin)
        self.guides.setting_moved.connect(self._setting)
        self.features.feature_chosen.connect(self._show_feature)
        self.features.began.connect(d.begin)
        self.features.moved.connect(self._parameter)
        self.features.uneven_moved.connect(self._uneven)
        self.features.absent_chosen.connect(self._absent)
        self.features.marks_changed.connect(self._marks)
        self.face.began.connect(d.begin)
        self.face.moved.connect(
            lambda k, v: self._preview(lambda c: set_character(c.id, expression=_with_dial(c.expression, k, v)))
        )
        self.face.rest_wanted.connect(lambda: self._wear("At rest", NEUTRAL))
        self.face.viewer_wanted.connect(self._look_at_viewer)
        self.face.sheet_wanted.connect(self._export_expressions)
        for dropped in (self.page.chin_dropped, self.guides.setting_dropped, self.features.dropped, self.face.dropped):
            dropped.connect(d.commit)

    # ---- what is drawn

    def wear(self) -> Wear:
        c = self.document.character
        if c is None:
            return Wear()
        d = self.document.decisions()
        lines = (d.school, d.school_settings) if self.schooled else ("", {})
        return Wear(d.chin_forward, c.features, c.expression, *lines, hair=self.page.hair.isChecked())

    def body_now(self) -> Body:
        plan = self.document.plan()
        return body(plan.table, plan.points, self.wear())

    def _scene(self, b: Body) -> Scene:
        """The view as it is, kept while it is the same: a light dragged over it asks for nothing else."""
        key = (b, self.turn, self.page.distance)
        if self._kept is None or self._kept[0] != key:
            self._kept = (key, scene_of(b, self.turn, self.page.distance))
        return self._kept[1]

    def _drawn(self, s: Scene) -> Picture:
        p = self.page
        drawn = picture(s, p.guides.isChecked(), p.hidden.isChecked(), p.skull.isChecked(), self.guides.steps())
        light = self.light.light
        return with_shadow(drawn, s, light) if light is not None else drawn

    def look_from(self, turn: Turn) -> None:
        self.turn = turn
        self.refresh()
        self.status_changed.emit()

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
        self.guides.toggle_play()

    def _show_feature(self, key: str) -> None:
        self.feature = key
        self.refresh()

    def _take_tile(self, value: object) -> None:
        c = self.document.character
        if isinstance(value, Turn):
            self.look_from(value)
        elif c is not None and self.pages.currentIndex() == FACE:
            self._wear(f"Expression, {value}", expressions()[str(value)])
        elif c is not None:
            v = next(v for v in feature(self.feature).variants if v.name == value)
            self._do(
                f"{feature(self.feature).words}, {v.name}",
                set_features(c.id, lambda f: f.with_values(self.feature, v.set).with_absent(self.feature, False)),
            )

    # ---- decisions

    def _do(self, label: str, edit: Any) -> None:
        self.document.do(label, edit)

    def _preview(self, edit: Callable[[Character], Any]) -> None:
        c = self.document.character
        if c is not None:
            self.document.preview(edit(c))

    def _school(self, name: str) -> None:
        self.schooled = bool(name)
        c = self.document.character
        if c is not None and name and name != self.document.decisions().school:
            self._do("Guide school", choose_school(c.id, name))
        else:
            self.refresh()

    def _setting(self, key: str, value: float) -> None:
        self._preview(lambda c: set_school_line(c.id, key, value))

    def _parameter(self, key: str, parameter: str, value: float) -> None:
        self._preview(lambda c: set_features(c.id, lambda f: f.with_value(key, parameter, round(value, 4))))

    def _uneven(self, key: str, value: float) -> None:
        now = {k: v for k, v in self.document.decisions().uneven.items() if k != key}
        chosen = {**now, key: round(value, 4)} if abs(value) > 1e-4 else now
        self._preview(lambda c: decide(c.id, uneven=chosen))

    def _absent(self, key: str, gone: bool) -> None:
        c = self.document.character
        if c is not None and key in features():
            self._do(
                f"{feature(key).words} {'left out' if gone else 'drawn'}", set_features(c.id, lambda f: f.with_absent(key, gone))
            )

    def _marks(self, label: str, marks: tuple[FaceMark, ...]) -> None:
        c = self.document.character
        if c is not None:
            self._do(label, set_features(c.id, lambda f: f.with_marks(marks)))

    def _wear(self, label: str, e: Expression) -> None:
        c = self.document.character
        if c is not None:
            self._do(label, set_character(c.id, expression=e))

    def _look_at_viewer(self) -> None:
        """The eyes turn back by as much as the head is turned, as far as eyes go."""
        c = self.document.character
        if c is None:
            return
        x, y = (max(-1.0, min(1.0, a / GAZE_REACH)) for a in (-self.turn.yaw, self.turn.pitch))
        self._wear("Look at the viewer", c.expression.model_copy(update={"gaze_x": round(x, 3), "gaze_y": round(y, 3)}))

    def _hair_offered(self) -> dict[str, float]:
        """What the reference shows of hair that the head does not wear yet."""
        c = self.document.character
        return hair_of_reference(self.document.measured().table, c.features) if c is not None else {}

    def _take_hair(self) -> None:
        c, found = self.document.character, self._hair_offered()
        if c is not None and found:
            values = {**c.features.of("hair"), **found}
            self.document.do("Hair from the reference", set_features(c.id, lambda f: f.with_values("hair", values)))

    # ---- files

    def _export(self) -> None:
        """Write this view."""
        t = self.turn
        side = f" {t.yaw:+.0f} {t.pitch:+.0f}" if t != Turn() else ""
        drawn = self._drawn(self._scene(self.body_now()))
        self._write("Export this view", side, lambda: drawn)

    def _export_turnaround(self) -> None:
        shown = (self.page.guides.isChecked(), self.page.hidden.isChecked())
        self._write("Export a turnaround", " turnaround", partial(turnaround, self.body_now(), *shown))

    def _export_expressions(self) -> None:
        plan = self.document.plan()
        sheet = partial(expression_sheet, dict(plan.table), plan.points, self.wear(), self.turn)
        self._write("Export an expression sheet", " expressions", sheet)

    def _write(self, title: str, ending: str, draw: Callable[[], Picture]) -> None:
        c = self.document.character
        if c is None:
            return
        path = ask_where(self, title, str(export_folder() / f"{c.name}{ending}.svg"), KINDS)
        if path:
            height, credit = self.page.height_mm.value(), c.reference.credit if c.reference else ""
            words = f"Written to {Path(path).name}."
            self.write_page(path, lambda: page(draw(), height, "fit", credit), "blue", words)

    # ---- what the frame asks

    def refresh(self) -> None:
        c = self.document.character
        plan, d = self.document.plan(), self.document.decisions()
        b = self.body_now()
        s = self._scene(b)
        said = "as planned" if plan.measured else "nothing of a face is measured: this is the style itself"
        self.who.setText(f"{c.name}{self.document.version_words()}, {said}" if c else "")
        self.hair_offer.setVisible(bool(self._hair_offered()))
        self.stage.show_head(self._drawn(s), self.turn)
        shown = self.pages.currentIndex()
        if shown == TURN:
            hair = c is not None and c.features.of("hair")["kind"] > 0
            self.page.set_content(self.turn, d.chin_forward, shares(b.front, s), hair)
        elif shown == GUIDES:
            norm = dict(zip(plan.registry.keys, self.document.norm().mean.tolist(), strict=True))
            shown_school = school(d.school) if self.schooled else None
            self.guides.set_content(shown_school, d.school_settings, plan.table, norm, self._triangle())
        elif shown == FEATURES and c is not None:
            self.features.set_content(self.feature, c.features, d.uneven)
        elif shown == FACE and c is not None:
            self.face.set_content(c.expression)
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

    def _triangle(self) -> tuple[float, float, float]:
        """The plan's triangle, and the band of its style: two spreads about the style's own."""
        key = "eye_chin_triangle"
        i = self.document.plan().registry.index[key]
        style = self.document.pure(self.document.toward())
        n = self.document.norm()
        middle, sd = float(style.values[i]), float(n.sd[i])
        reach = 2 * sd if math.isfinite(sd) else 0.15
        return float(self.document.plan().values[i]), middle - reach, middle + reach

    def hint(self) -> Hint:
        return [("Drag", "to turn the head"), ("Shift-drag", "rolls it"), ("Arrows", "5°, with Shift 15°"), ("[ ]", "walk the views"),
                ("Double-click", "front"), ("G H K L", "guides, hidden, skull, light")]  # fmt: skip

    def reading_note(self) -> tuple[str, str, str]:
        t = self.turn
        return (
            "Turn",
            f"{t.yaw:+.0f}°, {t.pitch:+.0f}°".replace("-", "−"),
            f"roll {t.roll:+.0f}°".replace("-", "−") if t.roll else "",
        )


def _with_dial(e: Expression, key: str, value: float) -> Expression:
    return e.model_copy(update={key: round(value, 3)})
