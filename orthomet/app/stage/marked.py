"""What a picture with landmarks shows: its points by state, lit spans, uncertainty, the tools and the magnifier."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import QWidget

from ...core.landmarks.frame import head_box, head_height, level_axis
from ...core.landmarks.level import LevelBy
from ...core.landmarks.own import OwnSpan
from ...core.landmarks.points import State
from ...core.landmarks.schema import Schema
from ...core.landmarks.templates import ANCHORS
from ...core.landmarks.views import OWN, own_ends, schema_with
from ...core.project.model import Marks
from ...core.proportions.lines import spans
from ...core.proportions.registry import Registry
from ...core.proportions.views import registry_of
from ..theme.tokens import ON_PICTURE_LOOK, ON_PICTURE_POINT
from .draw import cased, chip, dimension, head_rule, point_mark, sheet_edge, straight_dimension
from .lens import paint_lens
from .tools import Tools
from .view import StageView

NEAR = 9.0
MINOR = {
    f"{b}_{s}"
    for b in ("pupil", "iris_medial", "iris_lateral", "pupil_medial", "pupil_lateral", "lid_crease", "brow_lower_peak")
    for s in "lr"
}
"""Points that only refine a feature: shown small."""


class MarkedView(StageView):
    """Content and painting; :class:`~orthomet.app.stage.marks.MarksStage` adds the hand."""

    colour: QColor | None = None

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.marks = Marks()
        self.own_spans: tuple[OwnSpan, ...] = ()
        self.level_by = LevelBy.CENTRE
        self.active = ""
        self.hover = ""
        self.lit_keys: set[str] = set()
        self.lit_words: dict[str, str] = {}
        self.lit_station: float | None = None
        """A station to show on the head's own rule, crown 0, chin 1."""
        self.placing: dict[str, tuple[float, float]] | None = None
        self.place_next = ""
        self.key_cursor: QPointF | None = None
        """Where the keyboard would place the next point; None while the mouse leads."""
        self.tools = Tools(self)

    def schema(self) -> Schema:
        """The view's landmarks and the ends of the artist's own spans."""
        ends = (e for s in self.own_spans if s.view == self.marks.view for e in s.ends)
        return schema_with(self.marks.view, own_ends({*ends, *self.marks.points, *self.marks.states}))

    def registry(self) -> Registry:
        return registry_of(self.marks.view, self.own_spans)

    def words(self, name: str) -> str:
        """The artist's word for a point; an own span's end bears the span's name."""
        m = OWN.fullmatch(name)
        if m is None:
            return self.schema()[name].words
        title = next((s.name for s in self.own_spans if s.id == m.group(1)), "own part")
        return f"{title}, {'first' if m.group(2) == 'a' else 'second'} end"

    def focus_box(self) -> QRectF | None:
        f = self.frame()
        head = head_box(self.marks.points, 0.18, 0.18, f.width() / f.height())
        if head is None or self.size_px is None or self.marks.view == "figure":
            return None
        box = QRectF(*head)
        whole = QRectF(0, 0, *self.size_px)
        if box.width() > whole.width():
            return (
                None
                if box.height() > whole.height()
                else QRectF(whole.left(), box.top(), whole.width(), box.height()).intersected(whole)
            )
        dx = max(0.0, whole.left() - box.left()) - max(0.0, box.right() - whole.right())
        dy = max(0.0, whole.top() - box.top()) - max(0.0, box.bottom() - whole.bottom())
        return box.translated(dx, dy) if box.height() <= whole.height() else whole

    def point_at(self, q: QPointF) -> str:
        best, at = NEAR, ""
        for name, (x, y) in self.marks.points.items():
            d = self.to_screen(x, y) - q
            n = (d.x() ** 2 + d.y() ** 2) ** 0.5
            if n < best:
                best, at = n, name
        return at

    def _state(self, name: str) -> State:
        return self.marks.states.get(name, State.PLACED)

    def walk_order(self) -> list[str]:
        """Points that are there, group by group, each group in placing order."""
        schema = self.schema()
        groups = list(dict.fromkeys(m.group for m in schema.landmarks))
        here = [m for m in schema.landmarks if m.name in self.marks.points]
        return [m.name for m in sorted(here, key=lambda m: groups.index(m.group))]

    def anchors(self) -> tuple[str, str, str]:
        """The points a person clicks first."""
        return ANCHORS[self.marks.view]

    def anchor_wanted(self) -> str:
        """Words for the next point to click, or an empty string."""
        if self.placing is None:
            return self.words(self.place_next) if self.place_next else ""
        name = next((n for n in self.anchors() if n not in self.placing), "")
        return {
            "vertex": "the crown: the top of the skull, under the hair",
            "gnathion": "the chin's lowest point",
            "exocanthion_l": "the outer corner of either eye",
            "pronasale": "the tip of the nose",
            "floor": "the floor between the feet",
        }.get(name, "")

    # ---- paint

    def level_direction(self) -> tuple[float, float]:
        return level_axis(self.marks.landmarks(), self.level_by)

    def paint_over(self, p: QPainter, frame: QRectF) -> None:
        if self.size_px is None:
            return
        sheet_edge(p, frame)
        m = self.marks.points
        if "vertex" in m and "gnathion" in m:
            head_rule(p, self.LEFT - 10, self.to_screen(*m["vertex"]).y(), self.to_screen(*m["gnathion"]).y(), self.lit_station)
        p.save()
        p.setClipRect(frame)
        self.paint_between(p, frame)
        self.paint_lit(p)
        lit = self.lit_points()
        for name in self.schema().names:
            if name in m:
                self._paint_spread(p, name, self.to_screen(*m[name]))
                self.paint_point(p, name, self.to_screen(*m[name]), name in lit or name == self.active)
        for name, xy in (self.placing or {}).items():
            q = self.to_screen(*xy)
            point_mark(p, q, "placed", True)
            chip(p, q.x() + 16, q.y(), self.words(name), align=Qt.AlignmentFlag.AlignLeft)
        self.tools.paint(p, head_height(self.marks.points))
        p.restore()
        if self.placing is not None or self.place_next:
            self._paint_prompt(p, frame)
        elif self.active and self.active in m:
            self._paint_lens(p, frame)
        elif self.hover and self.hover in m:
            q = self.to_screen(*m[self.hover])
            chip(p, q.x(), q.y() - 20, self.words(self.hover))

    def paint_point(self, p: QPainter, name: str, q: QPointF, lit: bool) -> None:
        point_mark(p, q, str(self._state(name)), lit, self.colour, name in MINOR)

    def _paint_spread(self, p: QPainter, name: str, q: QPointF) -> None:
        """How uncertain a point is: a whisker of one standard deviation each way."""
        r = self.marks.spread.get(name, 0.0) * self.scale
        if r > 3:
            ends = [QPointF(q.x(), q.y() - r), QPointF(q.x(), q.y() + r)]
            bars = [(e - QPointF(5, 0), e + QPointF(5, 0)) for e in ends]
            cased(p, [(ends[0], ends[1]), *bars], ON_PICTURE_POINT, 1.2)

    def paint_between(self, p: QPainter, frame: QRectF) -> None:
        """Between the picture and its points."""

    def lit_points(self) -> set[str]:
        reg = self.registry()
        out: set[str] = set()
        for k in self.lit_keys:
            if k in reg.index:
                out |= {n for n in reg[k].over.needs if n in self.marks.points}
        return out

    def paint_lit(self, p: QPainter) -> None:
        reg = self.registry()
        xy = self.marks.landmarks().array(reg.schema)
        for k in self.lit_keys:
            if k not in reg.index:
                continue
            found = spans(reg[k], xy, self.level_by, reg.schema)
            for i, s in enumerate(found):
                a, b = self.to_screen(*s.a), self.to_screen(*s.b)
                words = self.lit_words.get(k, "") if i == 0 else ""
                if s.straight:
                    straight_dimension(p, a, b, words)
                elif s.across:
                    dimension(p, a, b, words, True, 46)
                else:
                    dimension(p, a, b, words, False, self._beside(a))

    def _beside(self, a: QPointF) -> float:
        """How far beside the face a height is dimensioned."""
        m = self.marks.points
        ends = [self.to_screen(*m[n]).x() for n in ("zygion_l", "zygion_r") if n in m]
        return max(60.0, max(ends) - a.x() + 24) if ends else 90.0

    def _paint_prompt(self, p: QPainter, frame: QRectF) -> None:
        wanted = self.anchor_wanted()
        if not wanted:
            return
        words = f"Click {wanted}" if self.placing is not None else f"Click where the {wanted} is"
        done = len(self.placing or {})
        lead = f"{done + 1} of {len(self.anchors())}   " if self.placing is not None else ""
        chip(p, frame.center().x(), frame.top() + 22, lead + words, ON_PICTURE_LOOK)
        if self.key_cursor is not None:
            c = self.key_cursor
            for d in (QPointF(14, 0), QPointF(0, 14)):
                cased(p, [(c - d, c - d * 0.3), (c + d * 0.3, c + d)], ON_PICTURE_LOOK, 1.6)

    def _paint_lens(self, p: QPainter, frame: QRectF) -> None:
        if self.image is None:
            return
        xy, words = self.marks.points[self.active], self.words(self.active)
        label = f"{words[0].upper()}{words[1:]}, {self._state(self.active)}"
        paint_lens(p, frame, self.to_screen(*xy), self.image, xy, self.scale, self.mirrored, label)
