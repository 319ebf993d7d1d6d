"""Landmarks on a picture: seeding by three clicks, dragging, walking by Tab, the magnifier, lit spans."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter

from ...core.kinds import Array
from ...core.landmarks.level import LevelBy
from ...core.landmarks.points import State
from ...core.landmarks.schema import FRONT
from ...core.landmarks.seed import relay
from ...core.project.edits import confirm, place, set_states, take_away
from ...core.project.model import Marks
from ...core.proportions.lines import spans
from ...core.proportions.registry import front_registry
from ..theme.tokens import ON_PICTURE_LOOK, ON_PICTURE_POINT
from .draw import cased, chip, dimension, head_rule, point_mark, sheet_edge
from .lens import paint_lens
from .view import StageView

NEAR = 9.0
MINOR = {
    f"{b}_{s}"
    for b in ("pupil", "iris_medial", "iris_lateral", "pupil_medial", "pupil_lateral", "lid_crease", "brow_lower_peak")
    for s in "lr"
}
"""Points that only refine a feature: shown small."""
ANCHORS = ("vertex", "gnathion", "exocanthion_l")
CROWN_SPREAD = 0.015
"""How uncertain a crown under hair stays once confirmed, in heads (own)."""
MarksEdit = Callable[[Marks], Marks]


class MarksStage(StageView):
    """One picture with its landmarks. It only proposes edits; the station turns them into the document's."""

    drag_began = Signal(str)
    drag_moved = Signal(object)  # MarksEdit
    drag_ended = Signal()
    drag_cancelled = Signal()
    edit_made = Signal(str, object)  # label, MarksEdit
    hovered_points = Signal(object)  # set of names
    anchors_clicked = Signal(object)  # {name: (x, y)}
    hint_changed = Signal()

    colour: QColor | None = None

    def __init__(self, parent: object = None):
        super().__init__(parent)  # type: ignore[arg-type]
        self.marks = Marks()
        self.level_by = LevelBy.CENTRE
        self.active = ""
        self.hover = ""
        self.template: Array | None = None
        self.lit_keys: set[str] = set()
        self.lit_words: dict[str, str] = {}
        self.placing: dict[str, tuple[float, float]] | None = None
        self.place_next = ""
        self.key_cursor: QPointF | None = None
        """Where the keyboard would place the next point; None while the mouse leads."""
        self._drag: str = ""
        self._grab = QPointF()
        self.setAccessibleName("Picture with landmarks")

    # ---- content

    def set_marks(self, marks: Marks, level_by: LevelBy = LevelBy.CENTRE) -> None:
        self.marks, self.level_by = marks, level_by
        if marks.points:
            self.placing = None
        if self.active not in marks.points:
            self.active = ""
        self.update()

    def begin_seeding(self) -> None:
        """Start over: crown, chin and one outer eye corner by click."""
        self.placing, self.active, self.place_next = {}, "", ""
        self.hint_changed.emit()
        self.update()

    def focus_box(self) -> QRectF | None:
        m = self.marks.points
        if "vertex" not in m or "gnathion" not in m or self.size_px is None:
            return None
        top, chin = m["vertex"], m["gnathion"]
        hh = chin[1] - top[1]
        if hh < 8:
            return None
        f = self.frame()
        height = hh * 1.36
        width = height * f.width() / f.height()
        cx = (top[0] + chin[0]) / 2
        box = QRectF(cx - width / 2, top[1] - 0.18 * hh, width, height)
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

    # ---- hand

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        if self.size_px is None or self.pan_press(e):
            return
        if e.button() != Qt.MouseButton.LeftButton or not self.frame().contains(e.position()):
            return
        xy = self.to_picture(e.position())
        self.key_cursor = None
        if self._put_down(xy):
            return
        name = self.point_at(e.position())
        self.active = name
        if name:
            self._drag = name
            self._grab = e.position() - self.to_screen(*self.marks.points[name])
            self.drag_began.emit(f"Move {FRONT[name].words}")
        self.hint_changed.emit()
        self.update()

    def _put_down(self, xy: tuple[float, float]) -> bool:
        """Place the point that is asked for. False when none is."""
        if self.placing is not None:
            self._click_anchor(xy)
            return True
        if not self.place_next:
            return False
        name, self.place_next = self.place_next, ""
        self.active = name
        self.edit_made.emit(f"Place {FRONT[name].words}", lambda m: self._placed(m, name, xy))
        self.hint_changed.emit()
        return True

    def _key_place(self, e: QKeyEvent) -> bool:
        """Arrows carry a cross over the picture, Enter puts the point down."""
        step = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, -1), Qt.Key.Key_Down: (0, 1)}.get(
            Qt.Key(e.key())
        )
        if step is not None:
            k = 40 if e.modifiers() & Qt.KeyboardModifier.ShiftModifier else 8
            at = (self.key_cursor or self.frame().center()) + QPointF(step[0] * k, step[1] * k)
            f = self.frame()
            self.key_cursor = QPointF(max(f.left(), min(f.right(), at.x())), max(f.top(), min(f.bottom(), at.y())))
            self.update()
            return True
        if e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.key_cursor is not None:
            return self._put_down(self.to_picture(self.key_cursor))
        return False

    def _click_anchor(self, xy: tuple[float, float]) -> None:
        assert self.placing is not None
        name = next(n for n in ANCHORS if n not in self.placing)
        if name == "exocanthion_l" and "vertex" in self.placing and "gnathion" in self.placing:
            axis = (self.placing["vertex"][0] + self.placing["gnathion"][0]) / 2
            name = "exocanthion_l" if xy[0] >= axis else "exocanthion_r"
        self.placing[name] = xy
        if len(self.placing) == len(ANCHORS):
            found, self.placing = self.placing, None
            self.anchors_clicked.emit(found)
        self.hint_changed.emit()
        self.update()

    def anchor_wanted(self) -> str:
        """Words for the next point to click, or an empty string."""
        if self.placing is None:
            return FRONT[self.place_next].words if self.place_next else ""
        name = next((n for n in ANCHORS if n not in self.placing), "")
        return {
            "vertex": "the crown: the top of the skull, under the hair",
            "gnathion": "the chin's lowest point",
            "exocanthion_l": "the outer corner of either eye",
        }.get(name, "")

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self.pan_move(e):
            return
        if self._drag:
            self._move_to(self._drag, self.to_picture(e.position() - self._grab))
            return
        at = self.point_at(e.position()) if self.placing is None else ""
        if at != self.hover:
            self.hover = at
            self.hovered_points.emit({at} if at else set())
            self.update()
        cross = self.placing is not None or self.place_next
        self.setCursor(
            Qt.CursorShape.CrossCursor
            if cross and self.frame().contains(e.position())
            else Qt.CursorShape.PointingHandCursor
            if at
            else Qt.CursorShape.ArrowCursor
        )
        if cross:
            self.update()

    def _move_to(self, name: str, xy: tuple[float, float]) -> None:
        self.drag_moved.emit(lambda m: self._placed(m, name, xy))

    def _placed(self, m: Marks, name: str, xy: tuple[float, float]) -> Marks:
        """A point put down by hand; the points that are still estimated follow as the placed ones now suggest."""
        out = place(m, {name: xy})
        if self.template is None or State.ESTIMATED not in out.states.values():
            return out
        return place(out, relay(self.template, out.landmarks()), State.ESTIMATED)

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        if self.pan_release():
            return
        if self._drag:
            self._drag = ""
            self.drag_ended.emit()
            self.update()

    def leaveEvent(self, e: object) -> None:
        if self.hover:
            self.hover = ""
            self.hovered_points.emit(set())
            self.update()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        key = e.key()
        if (self.placing is not None or self.place_next) and self._key_place(e):
            return
        if key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            back = key == Qt.Key.Key_Backtab or bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._walk(-1 if back else 1)
            return
        if key == Qt.Key.Key_Escape:
            if self._drag:
                self._drag = ""
                self.drag_cancelled.emit()
            elif self.place_next:
                self.place_next = ""
            elif self.placing:
                self.placing = {}
            else:
                self.active = ""
            self.hint_changed.emit()
            self.update()
            return
        if self.active and self.active in self.marks.points:
            name = self.active
            if key in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down):
                step = 10 if e.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
                dx = {Qt.Key.Key_Left: -step, Qt.Key.Key_Right: step}.get(Qt.Key(key), 0) * (-1 if self.mirrored else 1)
                dy = {Qt.Key.Key_Up: -step, Qt.Key.Key_Down: step}.get(Qt.Key(key), 0)
                self.edit_made.emit(
                    f"Nudge {FRONT[name].words}", lambda m: place(m, {name: (m.points[name][0] + dx, m.points[name][1] + dy)})
                )
                return
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self.confirm_active()
                return
            if key == Qt.Key.Key_H:
                other = State.PLACED if self._state(name) is State.HIDDEN else State.HIDDEN
                self.edit_made.emit(f"Mark {FRONT[name].words} hidden", lambda m: set_states(m, [name], other))
                return
            if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
                self.active = ""
                self.edit_made.emit(f"Take away {FRONT[name].words}", lambda m: take_away(m, [name]))
                return
        pan = {Qt.Key.Key_Left: (40, 0), Qt.Key.Key_Right: (-40, 0), Qt.Key.Key_Up: (0, 40), Qt.Key.Key_Down: (0, -40)}.get(
            Qt.Key(key)
        )
        if pan is not None:
            self.offset += QPointF(-pan[0] if self.mirrored else pan[0], pan[1])
            self.fitted = False
            self.update()
            return
        super().keyPressEvent(e)

    def confirm_active(self) -> None:
        """Say that the active point is right, and go on to the next estimated one."""
        name = self.active
        if name and self._state(name) is State.ESTIMATED:
            spread = self.crown_spread() if name == "vertex" else {}
            self.edit_made.emit(f"Confirm {FRONT[name].words}", lambda m: confirm(m, [name], spread))
        self._walk(1, estimated_first=True)

    def crown_spread(self) -> dict[str, float]:
        """A crown is found under hair: confirmed, it stays uncertain by this many pixels, until it is placed by hand."""
        m = self.marks.points
        if "vertex" in m and "gnathion" in m:
            return {"vertex": CROWN_SPREAD * abs(m["gnathion"][1] - m["vertex"][1])}
        return {}

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab walks landmarks while there are any; Ctrl+Tab leaves the stage."""
        return False if self.marks.points else super().focusNextPrevChild(forward)

    def _walk(self, step: int, estimated_first: bool = False) -> None:
        names = [n for n in FRONT.names if n in self.marks.points]
        if not names:
            return
        if estimated_first:
            open_names = [n for n in names if self._state(n) is State.ESTIMATED and n != self.active]
            if open_names:
                here = names.index(self.active) if self.active in names else -1
                after = [n for n in open_names if names.index(n) > here]
                self.active = (after or open_names)[0]
                self._bring_into_view()
                return
        here = names.index(self.active) if self.active in names else (-1 if step > 0 else 0)
        self.active = names[(here + step) % len(names)]
        self._bring_into_view()

    def _bring_into_view(self) -> None:
        q = self.to_screen(*self.marks.points[self.active])
        f = self.frame().adjusted(30, 30, -30, -30)
        if not f.contains(q):
            d = f.center() - q
            self.offset += QPointF(-d.x() if self.mirrored else d.x(), d.y())
            self.fitted = False
        self.hovered_points.emit({self.active})
        self.hint_changed.emit()
        self.update()

    # ---- paint

    def paint_over(self, p: QPainter, frame: QRectF) -> None:
        if self.size_px is None:
            return
        sheet_edge(p, frame)
        m = self.marks.points
        if "vertex" in m and "gnathion" in m:
            head_rule(p, self.LEFT - 10, self.to_screen(*m["vertex"]).y(), self.to_screen(*m["gnathion"]).y(), self.lit_station())
        p.save()
        p.setClipRect(frame)
        self.paint_between(p, frame)
        self.paint_lit(p)
        lit = self.lit_points()
        for name in FRONT.names:
            if name in m:
                self._paint_spread(p, name, self.to_screen(*m[name]))
                self.paint_point(p, name, self.to_screen(*m[name]), name in lit or name == self.active)
        for name, xy in (self.placing or {}).items():
            q = self.to_screen(*xy)
            point_mark(p, q, "placed", True)
            chip(p, q.x() + 16, q.y(), FRONT[name].words, align=Qt.AlignmentFlag.AlignLeft)
        p.restore()
        if self.placing is not None or self.place_next:
            self._paint_prompt(p, frame)
        elif self.active and self.active in m:
            self._paint_lens(p, frame)
        elif self.hover and self.hover in m:
            q = self.to_screen(*m[self.hover])
            chip(p, q.x(), q.y() - 20, FRONT[self.hover].words)

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
        reg = front_registry()
        out: set[str] = set()
        for k in self.lit_keys:
            if k in reg.index:
                out |= {n for n in reg[k].over.needs if n in self.marks.points}
        return out

    def lit_station(self) -> float | None:
        for k in self.lit_keys:
            if k.endswith("_station") and k in self.lit_words:
                try:
                    return float(self.lit_words[k])
                except ValueError:
                    return None
        return None

    def paint_lit(self, p: QPainter) -> None:
        reg = front_registry()
        xy = self.marks.landmarks().array()
        for k in self.lit_keys:
            if k not in reg.index:
                continue
            found = spans(reg[k], xy, self.level_by)
            for i, s in enumerate(found):
                a, b = self.to_screen(*s.a), self.to_screen(*s.b)
                words = self.lit_words.get(k, "") if i == 0 else ""
                if s.across:
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
        lead = f"{done + 1} of {len(ANCHORS)}   " if self.placing is not None else ""
        chip(p, frame.center().x(), frame.top() + 22, lead + words, ON_PICTURE_LOOK)
        if self.key_cursor is not None:
            c = self.key_cursor
            for d in (QPointF(14, 0), QPointF(0, 14)):
                cased(p, [(c - d, c - d * 0.3), (c + d * 0.3, c + d)], ON_PICTURE_LOOK, 1.6)

    def _paint_lens(self, p: QPainter, frame: QRectF) -> None:
        if self.image is None:
            return
        xy, words = self.marks.points[self.active], FRONT[self.active].words
        label = f"{words[0].upper()}{words[1:]}, {self._state(self.active)}"
        paint_lens(p, frame, self.to_screen(*xy), self.image, xy, self.scale, self.mirrored, label)
