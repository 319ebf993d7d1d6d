"""Parts told from their ground: by a box and strokes, by a colour, by a plain ground; a figure taken apart. Off the interface thread."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np
from PySide6.QtWidgets import QMenu

from ....core.imaging.load import load
from ....core.kinds import Array
from ....core.shapes.apart import halves, take_apart
from ....core.shapes.contour import resampled
from ....core.shapes.masks import brushed, contour_of, filled, holes, of_alpha, of_box, of_colour, of_plain_ground, pieces
from ....core.shapes.model import Part, Relation
from ....core.shapes.plain import Plain
from ....core.shapes.relations import Body, found
from ....core.shapes.seen import to_picture
from ...work import Say
from ..base import pop_up
from .host import Host, frame_of, still_there
from .taking import Taking

MOST_PIECES = 6


@dataclass(frozen=True, eq=False)
class Taken:
    """Contour, corners, a sentence about what was left out, and the contours of the other pieces with their share of the whole."""

    contour: Array
    corners: list[int]
    told: str
    others: tuple[tuple[float, Array, list[int]], ...]


class Masking:
    """The masks of one station; strokes go on with the last box."""

    def __init__(self, station: Host, taking: Taking):
        self.station, self.taking = station, taking
        self._box: tuple[float, float, float, float] | None = None
        self._yes: list[list[tuple[float, float]]] = []
        self._no: list[list[tuple[float, float]]] = []
        self._part = ""

    def forget(self) -> None:
        self._box, self._yes, self._no, self._part = None, [], [], ""

    def box(self, box: tuple[float, float, float, float]) -> None:
        self.forget()
        self._box = box
        self._grab(False)

    def stroke(self, line: Array, belongs: bool) -> None:
        """More or less of the part: told from its ground again after a box, else just where the stroke goes."""
        st = self.station
        p, ref = st.edits.shapes.part(st.part), st.reference()
        if self._box is not None and st.part == self._part:
            (self._yes if belongs else self._no).append([(float(x), float(y)) for x, y in line])
            self._grab(True)
        elif p is not None and ref is not None and p.points and p.reference == ref.id:
            self._brush(p, ref.image.size, line, belongs)
        else:
            st.say.emit(
                "Draw a box round the part first (B), or choose a part of this picture; strokes then say what belongs to it.",
                True,
            )

    def _brush(self, p: Part, size: tuple[int, int], line: Array, belongs: bool) -> None:
        """The part with a brush's stroke added or taken away."""
        c = p.contour

        def job(say: Say) -> Taken:
            m, f = brushed(c, size, line, belongs)
            found_ = pieces(m)
            contour, corners = contour_of(found_[0])
            return Taken(
                contour / f, corners.tolist(), "The stroke parted it; the larger piece was kept." if len(found_) > 1 else "", ()
            )

        self.station.run(
            "More or less of the part…", job, lambda t: self._take(t, p.id, p.reference), still=still_there(self.station)
        )

    def _grab(self, again: bool) -> None:
        box, yes, no = self._box, [list(s) for s in self._yes], [list(s) for s in self._no]
        assert box is not None
        part = self._part if again and self.station.edits.shapes.part(self._part) is not None else ""
        self._mask("Telling the part from its ground…", lambda rgba: of_box(rgba[..., :3], box, yes, no), part)

    def colour(self, at: tuple[float, float], tolerance: float) -> None:
        self.forget()
        self._mask("Looking for the colour…", lambda rgba: of_colour(rgba[..., :3], at, tolerance), "")

    def ground(self) -> None:
        self.forget()
        self._mask(
            "Looking for the ground…",
            lambda rgba: of_alpha(rgba) if rgba[..., 3].min() < 128 else of_plain_ground(rgba[..., :3]),
            "",
        )

    def _mask(self, words: str, mask: Callable[[Array], Array], part: str) -> None:
        st = self.station
        ref = st.reference()
        if ref is None:
            st.say.emit("Add a reference first: there is no picture to take a part from.", True)
            return
        data, rid = st.document.pictures[ref.image.hash], ref.id

        def job(say: Say) -> Taken:
            m = mask(np.asarray(load(data, ref.name).pixels))
            found_ = pieces(m)[:MOST_PIECES]
            told = "Its holes were left out." if holes(found_[0]) else ""
            traced_ = []
            for piece in found_:
                c, corners = contour_of(piece)
                traced_.append((float(piece.sum()) / float(m.sum()), c, corners.tolist()))
            return Taken(traced_[0][1], traced_[0][2], told, tuple(traced_) if len(traced_) > 1 else ())

        st.run(words, job, lambda t: self._take(t, part, rid), still=still_there(st))

    def _take(self, taken: Taken, part: str, reference: str) -> None:
        """A mask's contour becomes a part, or a part there is takes it; of several pieces it is asked which."""
        st = self.station
        if part and st.edits.shapes.part(part) is not None:
            st.edits.retrace(part, taken.contour, taken.corners, reference, "More or less of the part")
            st.refresh()
        else:
            self.taking.take(taken.contour, taken.corners, "mask")
            self._part = st.part
        words = taken.told
        if taken.others:
            words = f"It has {len(taken.others)} pieces: the largest was taken, choose another where you meant one. {words}"
            self._ask(taken, st.part, reference)
        if words:
            st.say.emit(words.strip(), False)

    def _ask(self, taken: Taken, part: str, reference: str) -> None:
        menu = QMenu(self.station.stage)
        for k, (share, c, corners) in enumerate(taken.others, 1):
            words = f"Piece {k}, {share:.0%} of it".replace("%", " %") + (" (taken)" if k == 1 else "")
            menu.addAction(words, partial(self.station.edits.retrace, part, c, corners, reference, "Another piece"))
        pop_up(menu, self.station.stage.mapToGlobal(self.station.stage.rect().center()))

    # ---- taken apart

    def apart(self, most: int) -> None:
        st = self.station
        ref = st.reference()
        if ref is None:
            st.say.emit("Add a reference first: there is no picture to take apart.", True)
            return
        data, rid, box = st.document.pictures[ref.image.hash], ref.id, self._box
        chosen = st.edits.shapes.part(st.part)
        s = st.scene()
        v = s.part(st.part) if s is not None and chosen is not None and chosen.points and chosen.reference == rid else None
        outline = frame_of(st, st.part).to_picture(v.outline) if v is not None else None

        def job(say: Say) -> list[Plain]:
            rgba = np.asarray(load(data, ref.name).pixels)
            h, w = rgba.shape[:2]
            if outline is not None and len(outline):
                m = filled(outline, (h, w))
            elif rgba[..., 3].min() < 128:
                m = of_alpha(rgba)
            elif box is not None:
                m = of_box(rgba[..., :3], box)
            else:
                m = of_box(rgba[..., :3], (0.02 * w, 0.02 * h, 0.98 * w, 0.98 * h))
            return list(take_apart(m, most, say).shapes)

        st.run(
            "Taking it apart…",
            job,
            lambda s: self.taking.apart(s, rid, _held),
            still=still_there(st),
        )

    def split(self) -> None:
        """The chosen part as two shapes."""
        st = self.station
        p, s = st.edits.shapes.part(st.part), st.scene()
        v = s.part(st.part) if s is not None else None
        if p is None or v is None:
            st.say.emit("Choose the part that is to be two.", True)
            return
        outline = resampled(v.outline, 240)
        low = outline.min(0)
        f = 300 / max(float(np.ptp(outline, 0).max()), 1e-9)

        def job(say: Say) -> list[Plain]:
            size = np.ceil(np.ptp(outline, 0) * f).astype(int) + 9
            two = halves(filled((outline - low) * f + 4, (int(size[1]), int(size[0]))))
            return [take_apart(m, 1, say).shapes[0].placed(1 / f, low - 4 / f) for m in two]

        def done(two: list[Plain]) -> None:
            f = frame_of(st, p.id)
            self.taking.apart([to_picture(q, f) for q in two], p.reference, lambda _: (), p.id)

        st.run("Splitting it…", job, done, still=still_there(st))


def _held(parts: list[Part]) -> tuple[Relation, ...]:
    """What holds between shapes just found, in their picture's pixels."""
    return tuple(found([Body(p.id, p.name, p.shape.plain) for p in parts if p.shape is not None])[:200])
