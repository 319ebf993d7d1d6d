"""What stands beside the stage: the strip of plain shapes or kept variants, the board of nine, the silhouette; made elsewhere, the newest wish first."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QObject

from ....core.project.model import Character
from ....core.shapes.model import Shapes
from ....core.shapes.scene import Scene
from ....core.shapes.sources import frame_for
from ..newest import Newest
from ..tile_strip import TileStrip
from .black_page import BlackPage
from .boards import BlackBoard, VariantBoard
from .host import Host
from .making import Board, Other, Silhouette, boarded, fit_tiles, silhouetted, variant_tiles

NO_VARIANT = "No variant is kept yet: Shift-click one on the board, or Ctrl+K."
NO_PART = "Choose a part: the ten plain shapes stand here."
MOST_OTHERS = 12


class Views:
    def __init__(self, host: Host, board: VariantBoard, black: BlackBoard, page: BlackPage, strip: TileStrip, parent: QObject):
        self.host, self.board_view, self.black_view, self.page, self.strip = host, board, black, page, strip
        self.boarder: Newest[Board] = Newest("The variants", parent)
        self.blackener: Newest[Silhouette | None] = Newest("The silhouette", parent)
        self._asked: object = None

    def show_strip(self, s: Scene, kept: bool) -> None:
        """Kept variants, or how the plain shapes fit the chosen part."""
        frames = tuple(self.host.frames().items())
        v, shapes = s.part(self.host.part), self.host.edits.shapes
        self.strip.empty = NO_VARIANT if kept else NO_PART
        if kept or v is None:
            tiles = shapes.kept if kept else ()
            here = next((x for x in tiles if x.parts == shapes.parts), None)
            self.strip.set_tiles("Kept variants", partial(variant_tiles, tiles, frames), here, ("kept", tiles, frames), True)
        else:
            key = ("fits", v.part.id, v.part.points, v.part.shape, frames)
            self.strip.set_tiles("Plain shapes", partial(fit_tiles, v), v.part.kind or v.shape.kind, key, True)

    def board(self, shapes: Shapes) -> None:
        """Nine variants of the shapes as they are."""
        if not shapes.parts:
            self.board_view.show_board(None)
            return
        frames = tuple(self.host.frames().items())
        style = self.host.document.style_shapes() if shapes.style_weight else None
        key = (shapes, frames, style)
        if self.boarder.latest is None or self.boarder.latest.key != key:
            self.boarder.wants(partial(boarded, key, shapes, frames, style))
        self.board_view.show_board(self.boarder.latest)

    def black(self, s: Scene | None, alone: bool) -> None:
        """The silhouette among the rest of the cast."""
        if s is None or not s.parts:
            self.black_view.show_silhouette(None)
            self.page.show_silhouette(None)
            return
        d = self.host.document
        here = d.character.id if d.character is not None else ""
        others = tuple(_other(o) for o in d.project.characters if o.id != here)[:MOST_OTHERS]
        key = (s, others, alone)
        latest = self.blackener.latest
        if (latest is None or latest.key != key) and self._asked != key:
            self._asked = key
            self.blackener.wants(partial(silhouetted, key, s, others, alone))
        shown = latest if latest is not None and latest.alone == alone else None
        self.black_view.show_silhouette(shown)
        self.page.show_silhouette(shown)


def _other(c: Character) -> Other:
    frames = tuple((r.id, frame_for(r.marks.landmarks(r.image.size), r.image.size)) for r in c.references)
    return Other(c.name, c.shapes, frames, c.height_m, c.age)
