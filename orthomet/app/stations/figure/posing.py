"""Posing at the Figure station: joints dragged on the stage, the page beside it, alternatives under it, needs tried elsewhere."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from math import dist
from pathlib import Path
from typing import Any, Protocol

import numpy as np
from PySide6.QtCore import QObject
from PySide6.QtWidgets import QFileDialog, QStackedWidget

from ....core.errors import OrthometError
from ....core.figure.skeleton import Skeleton
from ....core.files import write_whole
from ....core.landmarks.turn import Turn
from ....core.pose.bones import Posed, posed
from ....core.pose.drag import HANDLES, dragged, pinned
from ....core.pose.guides import CHAINS, on_picture
from ....core.pose.library import poses
from ....core.pose.lift import lift
from ....core.pose.model import Pose, pose_text, read_pose
from ....core.pose.sheets import told
from ....core.pose.steady import steady
from ...ask import ask_where
from ...document import Document
from ..base import export_folder
from ..newest import Newest
from ..tile_strip import TileStrip
from .making import Drawn, Needs, pose_tiles, tried
from .pose_edits import EVERYBODY, PoseEdits
from .pose_page import PosePage, dialled
from .stage import FigureStage, joint_name

LIMB = {"wrist": "arm", "elbow": "arm", "ankle": "leg", "knee": "leg"}


class Host(Protocol):
    """The station a figure is posed at."""

    document: Document
    stage: FigureStage
    pages: QStackedWidget
    maker: Newest[Drawn]
    turn: Turn
    say: Any

    def refresh(self) -> None: ...

    def export(self, what: str) -> None: ...


class PosingDesk(QObject):
    """Everything of the pose but the figure itself, which the station draws."""

    def __init__(self, station: Host, parent: QObject):
        super().__init__(parent)
        self.station, self.document = station, station.document
        self.edits, self.page = PoseEdits(station.document), PosePage()
        self.tester: Newest[Needs] = Newest("What the story needs", self)
        self._start: Posed | None = None
        self._last: Posed | None = None
        self._joint, self._at = "", (0.0, 0.0)
        self._flips: frozenset[str] = frozenset()
        self._lifted: tuple[str, dict[str, bool], tuple[str, ...]] = ("", {}, ())
        stage, page, d = station.stage, self.page, station.document
        stage.joint_began.connect(self._begin)
        stage.joint_moved.connect(self._move)
        stage.joint_dropped.connect(self._drop)
        stage.joint_left.connect(self._leave)
        stage.flip_wanted.connect(self._flip)
        page.began.connect(lambda words: d.begin(words))
        page.moved.connect(lambda joint, k, v: self.edits.preview(dialled(self.edits.posing.pose, joint, k, v)))
        page.settled.connect(self._drop)
        page.pinned.connect(self._pin)
        page.waived.connect(self.edits.waive)
        page.wanted.connect(self._wanted)
        page.given.connect(self._give)
        page.shown.connect(lambda pose: self.edits.take(pose))
        page.asked.connect(self._need)
        page.side_told.connect(self._side)
        self.tester.done.connect(self._show_needs)
        self.tester.failed.connect(lambda words: station.say.emit(words, True))

    # ---- what is shown

    @property
    def guides(self) -> bool:
        """Whether tilt, line of action and balance are drawn: not while a joint is dragged, for then bones follow the hand."""
        return self._start is None

    @property
    def active(self) -> bool:
        return self.station.pages.currentWidget() is self.page

    def skeleton(self) -> Skeleton | None:
        """Bones of the figure that was drawn last."""
        made = self.station.maker.latest
        return made.figure.mannequin.skeleton if made is not None else None

    def now(self) -> Posed | None:
        s, c = self.skeleton(), self.document.character
        return posed(s, c.posing.pose) if s is not None and c is not None else None

    def show(self) -> None:
        """Bones and joints over the figure, at once where the hand has them."""
        p = self.now() if self.active else None
        if p is None:
            if self._start is not None:  # turned away under the hand: what it did so far stands
                self._start = None
                self.document.commit()
            self.station.stage.show_joints({}, [], ())
            return
        turn = self.station.turn
        at = {j: on_picture(p.joints[j], turn)[0] for j in HANDLES}
        bones = [on_picture(np.stack([p.joints[n] for n in names]), turn) for _, names in CHAINS]
        self.station.stage.show_joints({j: (float(q[0]), float(q[1])) for j, q in at.items()}, bones, self.edits.posing.pins)

    def show_page(self) -> None:
        c, p = self.document.character, self.now()
        if c is None:
            return
        others = [(o.id, o.name) for o in self.document.project.characters if o.id != c.id]
        if len(others) > 1:
            others.append((EVERYBODY, "everybody"))
        has = any(r.marks.view == "figure" and r.marks.points for r in c.references)
        words = told(p, self.station.turn, c.name) if p is not None else []
        self.page.set_content(c.posing, words, p.rest.build if p is not None else None, others, has)
        self.page.show_sides(self._lifted[2] if self._lifted[0] == c.id and c.posing.pose.name == "from the picture" else ())
        s = self.skeleton()
        if s is not None and not self.document.dragging and self.station.maker.latest is not None:
            key = (self.station.maker.latest.of, c.needs)
            if self.tester.latest is None or self.tester.latest.key != key:
                self.tester.wants(partial(tried, key, s, c.needs))
        self._show_needs()

    def _show_needs(self) -> None:
        if self.tester.latest is not None:
            self.page.show_needs(self.tester.latest.found)

    def show_strip(self, strip: TileStrip) -> None:
        s, c = self.skeleton(), self.document.character
        if s is None or c is None or self.station.maker.latest is None:
            return
        kept = c.posing.kept
        here = next((("kept", p) for p in kept if p == c.posing.pose), ("library", c.posing.pose))
        key = (self.station.maker.latest.of, kept)
        strip.set_tiles("Poses", partial(pose_tiles, s, kept, tuple(poses().values())), here, key, not self.document.dragging)

    # ---- a joint under the hand

    def _begin(self, joint: str) -> None:
        self._start, self._last, self._flips, self._joint = self.now(), None, frozenset(), joint
        if self._start is not None:
            pins = frozenset(self.edits.posing.pins) - {f"{LIMB_END.get(joint.split('_')[0], '')}_{joint[-1]}"}
            self._start = posed(self._start.rest, pinned(self._start, pins)) if pins else self._start
            self.document.begin(f"Pose, {joint_name(joint)}")

    def _move(self, joint: str, x: float, y: float) -> None:
        if self._start is None or not self.document.dragging:
            return
        turn = self.station.turn
        was = self._last or self._start
        before = self._at if self._last is not None else on_picture(was.joints[joint], turn)[0]
        self._at = (x, y)
        try:
            self._last = steady(
                was, self._own(dragged(self._start, joint, (x, y), turn, self._flips)), dist(before, self._at), turn
            )
        except ValueError:
            return
        self.edits.preview(self._last.pose)

    def _own(self, pose: Pose) -> Pose:
        """A pose moved by hand is no longer the library's."""
        return pose.model_copy(update={"name": ""}) if pose.name in poses() else pose

    def _drop(self) -> None:
        self._start = None
        self.document.commit()
        self.station.refresh()

    def _leave(self) -> None:
        self._start = None
        self.document.cancel()
        self.station.refresh()

    def _flip(self, joint: str) -> None:
        """The limb under the hand goes to the other side of the picture's plane."""
        kind, _, side = joint.partition("_")
        if kind not in LIMB:
            return
        limb = f"{LIMB[kind]}_{side}"
        if self._start is not None:
            self._flips = self._flips ^ {limb}
            self._last = posed(self._start.rest, dragged(self._start, self._joint, self._at, self.station.turn, self._flips))
            self.edits.preview(self._own(self._last.pose))
            return
        p = self.now()
        if p is not None:
            end = f"{LIMB_END[kind]}_{side}"
            at = on_picture(p.joints[end], self.station.turn)[0]
            pose = dragged(p, end, (float(at[0]), float(at[1])), self.station.turn, frozenset({limb}))
            self.edits.take(self._own(pose), "The other side of the picture")

    # ---- the page

    def _pin(self, end: str, on: bool) -> None:
        self.edits.pin(end, on)

    def keep(self) -> None:
        if self.edits.keep():
            self.station.say.emit("Kept among the alternatives.", False)
        else:
            self.station.say.emit("This pose is kept already, or there are 24 alternatives.", False)

    def _wanted(self, what: str) -> None:
        doing: dict[str, Callable[[], object]] = {
            "mirror": self.edits.mirror, "stand": self.edits.stand, "keep": self.keep, "forget": self.edits.forget, "open": self._open, "save": self._save,
            "photo": self._photo, "sheet": lambda: self.station.export("poses"),
        }  # fmt: skip
        doing[what]()

    def _give(self, cid: str) -> None:
        name = self.edits.give(cid)
        if name:
            self.station.say.emit(f"{name} stands in the same pose now.", False)

    def _need(self, words: str) -> None:
        try:
            self.edits.need(words)
        except OrthometError as e:
            self.station.say.emit(str(e), True)

    def _open(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self.page, "Open a pose", "", "Poses (*.json)")
        if path:
            self.open_file(path)

    def open_file(self, path: str) -> bool:
        """A pose out of a file, or the sentence that says why not."""
        if self.document.character is None:
            self.station.say.emit("Add a character first: a pose is somebody’s.", True)
            return False
        try:
            self.edits.take(read_pose(path))
        except OrthometError as e:
            self.station.say.emit(str(e), True)
            return False
        return True

    def _save(self) -> None:
        c = self.document.character
        if c is None:
            return
        path = ask_where(
            self.page, "Save the pose", str(export_folder() / f"{c.posing.pose.name or 'pose'}.json"), {".json": "Pose"}
        )
        if path:
            try:
                write_whole(path, pose_text(c.posing.pose).encode())
                self.station.say.emit(f"Written to {Path(path).name}.", False)
            except OrthometError as e:
                self.station.say.emit(str(e), True)

    def _photo(self, toward: dict[str, bool] | None = None) -> None:
        c, s = self.document.character, self.skeleton()
        if c is None or s is None:
            return
        ref = next((r for r in c.references if r.marks.view == "figure" and r.marks.points), None)
        if ref is None:
            return
        told_ = dict(toward or {})
        try:
            found = lift(s, ref.marks.landmarks(ref.image.size), told_)
        except OrthometError as e:
            self.station.say.emit(str(e), True)
            return
        self._lifted = (
            c.id,
            told_ | {k: True for k in found.asked if k not in told_},
            tuple(dict.fromkeys((*told_, *found.asked))),
        )
        long = [
            x.name.replace("_l", ", left").replace("_r", ", right").replace("_", " ")
            for x in found.segments
            if x.over > 0 and x.name != "shoulders"
        ]
        if long:
            self.station.say.emit(f"Longer on the picture than planned: {'; '.join(long)}. Taken at the planned length.", False)
        self.edits.take(found.pose, "Pose from the picture")

    def _side(self, name: str) -> None:
        was = self._lifted[1]
        self._photo({k: v for k, v in was.items() if k != name} | {name: not was.get(name, True)})


LIMB_END = {"wrist": "wrist", "elbow": "wrist", "ankle": "ankle", "knee": "ankle"}
