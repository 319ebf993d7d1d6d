"""A station's hand on how the drawing is seen: the looks, and what is laid beside it."""

from __future__ import annotations

from PySide6.QtCore import QObject

from ..base import Station
from .beside import Beside, Way
from .cure_board import CureBoard
from .curer import NOTHING, Curer
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
    reference_of,
)
from .stage import CheckStage


class Sight(QObject):
    def __init__(self, station: Station, stage: CheckStage, bar: LookBar, board: CureBoard, curer: Curer):
        super().__init__(station)
        self.station, self.document = station, station.document
        self.stage, self.bar, self.board, self.curer = stage, bar, board, curer
        self.beside, self.way = "", Way.WIPE
        bar.looked.connect(self._look)
        bar.beside_chosen.connect(self.lay)
        bar.way_chosen.connect(lambda w: self._choose_way(Way(w)))
        stage.look_asked.connect(lambda key: self._look(key, key not in stage.looks_on()))
        stage.way_asked.connect(self._by_key)
        stage.cure_asked.connect(self.toggle_cure)
        board.chosen.connect(self._choose_cure)
        curer.changed.connect(self._cures_changed)

    @property
    def cure(self) -> int:
        """Which cure is laid beside; −1: none."""
        return int(self.beside.partition(":")[2]) if self.beside.startswith(CURE) else -1

    def lay(self, key: str) -> None:
        """Lay something beside the drawing, by its key; nothing with an empty one."""
        self.beside = key
        self.show()

    def clear(self) -> None:
        """Another drawing: nothing beside it yet."""
        self.beside, self.stage.redline = "", None

    def _look(self, key: str, on: bool) -> None:
        self.stage.look(key, on)
        self.show()

    def _choose_way(self, way: Way) -> None:
        self.way = way
        self.show()

    def _by_key(self, way: Way) -> None:
        """W, I and K: begin with what says most; the same key again takes it away."""
        on = self.offered()
        if self.beside and self.way is way:
            self.beside = ""
        elif not self.beside and on:
            self.beside = on[0][0]
        self.way = way
        self.show()

    def _choose_cure(self, k: int) -> None:
        key = f"{CURE}:{k}"
        self.lay("" if self.beside == key else key)

    def toggle_cure(self) -> None:
        if self.cure >= 0:
            self.lay("")
        elif self.curer.cures:
            self.way = Way.WIPE
            self.lay(f"{CURE}:0")

    def toggle_redline(self) -> None:
        self.stage.redline = self.curer.redline(max(0, self.cure)) if self.stage.redline is None else None
        if self.stage.redline is None and not self.curer.cures:
            self.station.say.emit(NOTHING, False)
        self.stage.update()

    def write_redline(self) -> None:
        self.curer.ask_and_write(max(0, self.cure))

    def _cures_changed(self) -> None:
        self.board.show_cures(self.curer.cures, self.cure)
        self.show()

    # ---- what shows

    def offered(self) -> list[tuple[str, str]]:
        return offered(self.document.character, self.document.drawing, self.curer.cures, self.stage.overlay is not None)

    def show(self) -> None:
        on = self.offered()
        if self.beside not in dict(on):
            self.beside = ""
        self.bar.setVisible(self.document.drawing is not None and self.stage.isVisibleTo(self.station))
        self.bar.show_state(self.stage.looks_on(), on, self.beside, self.way)
        made, now = self._made(), self.stage.beside
        same = made is not None and now is not None and _same(made.key, now.key)
        self.stage.set_beside(now if same else made, self.way)
        if self.stage.redline is not None and not self.document.dragging:  # its cures stay as they are meanwhile
            self.stage.redline = self.curer.redline(max(0, self.cure))
        self.board.light(self.cure)

    def _made(self) -> Beside | None:
        c, d = self.document.character, self.document.drawing
        kind, _, rest = self.beside.partition(":")
        if c is None or d is None or not kind:
            return None
        if kind == CURE:
            return beside_cure(self.curer.cures[int(rest)])
        if kind == PLAN:
            s = self.stage
            return beside_plan(s.overlay, s.overlay_map, s.back) if s.overlay is not None else None
        if kind == EARLIER:
            e = d.earlier[int(rest)]
            image = self.station.images.get(e.image.hash)
            return beside_earlier(e, image) if image is not None else None
        r = reference_of(c, d) if kind == REFERENCE else None
        image = self.station.images.get(r.image.hash) if r is not None else None
        return beside_reference(r, d, image) if r is not None and image is not None else None


def _same(a: object, b: object) -> bool:
    """Whether two keys name the same thing; pictures are the same only if they are one."""
    if a is b:
        return True
    if isinstance(a, tuple) and isinstance(b, tuple):
        return len(a) == len(b) and all(map(_same, a, b))
    try:
        return type(a) is type(b) and bool(a == b)
    except ValueError:  # arrays somewhere in it
        return False
