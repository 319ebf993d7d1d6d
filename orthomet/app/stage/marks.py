"""Landmarks on a picture: seeding by three clicks, dragging, walking by Tab, the magnifier, lit spans."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from ...core.kinds import Array
from ...core.landmarks.level import LevelBy
from ...core.landmarks.own import OwnSpan
from ...core.landmarks.points import State, hand_spread
from ...core.landmarks.seed import relay
from ...core.project.edits import confirm, nudge, place, set_states, take_away
from ...core.project.model import Marks
from ..theme.paint import arrow
from .marked import MarkedView


class MarksStage(MarkedView):
    """One picture with its landmarks. It only proposes edits (:data:`MarksEdit`); the station turns them into the document's."""

    drag_began = Signal(str)
    drag_moved = Signal(object)  # MarksEdit
    drag_ended = Signal()
    drag_cancelled = Signal()
    edit_made = Signal(str, object)  # label, MarksEdit
    hovered_points = Signal(object)  # set of names
    anchors_clicked = Signal(object)  # {name: (x, y)}
    hint_changed = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.template: Array | None = None
        self._drag: str = ""
        self._grab = QPointF()
        self.setAccessibleName("Picture with landmarks")

    # ---- content

    def set_marks(self, marks: Marks, level_by: LevelBy = LevelBy.CENTRE, own_spans: tuple[OwnSpan, ...] = ()) -> None:
        self.marks, self.level_by, self.own_spans = marks, level_by, own_spans
        if marks.points:
            self.placing = None
        if self.active not in marks.points:
            self.active = ""
        wanted = self.place_next  # not one put down elsewhere, nor of another view
        if wanted in marks.points or wanted not in self.schema().index:
            self.place_next = ""
        self.update()

    def begin_seeding(self) -> None:
        """Start over: crown, chin and one outer eye corner by click."""
        self.placing, self.active, self.place_next = {}, "", ""
        self.hint_changed.emit()
        self.update()

    def ask_for(self, name: str) -> None:
        """Ask for one point by click; nothing with an empty name."""
        self.placing, self.place_next = None, name
        self.setFocus()
        self.hint_changed.emit()
        self.update()

    def mirror(self) -> None:
        """Show the picture as in a mirror, or as it is again."""
        self.mirrored = not self.mirrored
        self.update()

    # ---- hand

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        if self.size_px is None or self.pan_press(e):
            return
        if e.button() != Qt.MouseButton.LeftButton or not self.frame().contains(e.position()):
            return
        xy = self.to_picture(e.position())
        self.key_cursor = None
        if self.tools.press(e.position()):
            self.hint_changed.emit()
            return
        if self._put_down(xy):
            return
        name = self.point_at(e.position())
        self.active = name
        if name:
            self._drag = name
            self._grab = e.position() - self.to_screen(*self.marks.points[name])
            self.drag_began.emit(f"Move {self.words(name)}")
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
        self.edit_made.emit(f"Place {self.words(name)}", lambda m: self._placed(m, name, xy))
        self.hint_changed.emit()
        return True

    def _key_place(self, e: QKeyEvent) -> bool:
        """Arrows carry a cross over the picture, Enter puts the point down."""
        step = arrow(e)
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
        name = next(n for n in self.anchors() if n not in self.placing)
        if name == "exocanthion_l" and "vertex" in self.placing and "gnathion" in self.placing:
            axis = (self.placing["vertex"][0] + self.placing["gnathion"][0]) / 2
            name = "exocanthion_l" if xy[0] >= axis else "exocanthion_r"
        self.placing[name] = xy
        if len(self.placing) == len(self.anchors()):
            found, self.placing = self.placing, None
            self.anchors_clicked.emit(found)
        self.hint_changed.emit()
        self.update()

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self.pan_move(e) or self.tools.move(e.position(), bool(e.modifiers() & Qt.KeyboardModifier.ControlModifier)):
            return
        if self._drag:
            self._move_to(self._drag, self.to_picture(e.position() - self._grab))
            return
        at = self.point_at(e.position()) if self.placing is None else ""
        if at != self.hover:
            self.hover = at
            self.hovered_points.emit({at} if at else set())
            self.update()
        cross = self.placing is not None or self.place_next or self.tools.mode
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
        out = place(m, {name: xy}, spread=hand_spread(m.points, 1 / max(self.scale, 1e-9)))
        if self.template is None or State.ESTIMATED not in out.states.values():
            return out
        return place(out, relay(self.template, out.landmarks()), State.ESTIMATED)

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        if self.pan_release() or self.tools.release():
            self.hint_changed.emit()
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
        if self.tools.key(e):
            return
        if key in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab):
            back = key == Qt.Key.Key_Backtab or bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._walk(-1 if back else 1)
            return
        if key == Qt.Key.Key_Escape:
            if self._drag:
                self._drag = ""
                self.drag_cancelled.emit()
            elif self.tools.clear():
                pass
            elif self.place_next:
                self.place_next = ""
            elif self.placing:
                self.placing = {}
            else:
                self.active = ""
            self.hint_changed.emit()
            self.update()
            return
        if key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.marks.points:
            shift = bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self.confirm_group() if shift else self.confirm_active()
            return
        way = arrow(e)
        if self.active and self.active in self.marks.points:
            name = self.active
            if way is not None:
                step = 10 if e.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
                by = (way[0] * step * self.flips()[0], way[1] * step * self.flips()[1])
                self.edit_made.emit(f"Nudge {self.words(name)}", lambda m: self._placed(m, name, nudge(m, name, by)))
                return
            if key == Qt.Key.Key_H:
                other = State.PLACED if self._state(name) is State.HIDDEN else State.HIDDEN
                self.edit_made.emit(f"Mark {self.words(name)} hidden", lambda m: set_states(m, [name], other))
                return
            if key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
                self.active = ""
                self.edit_made.emit(f"Take away {self.words(name)}", lambda m: take_away(m, [name]))
                return
        if way is not None:
            self.shift_view(QPointF(-way[0], -way[1]) * 40)
            return
        super().keyPressEvent(e)

    def confirm_active(self) -> None:
        """Say that the active point is right, and go on to the next estimated one."""
        name = self.active
        if name and self._state(name) is State.ESTIMATED:
            self.edit_made.emit(f"Confirm {self.words(name)}", lambda m: confirm(m, [name]))
        self._walk(1, estimated_first=True)

    def open_in_group(self) -> tuple[str, list[str]]:
        """Group of the active point (or of the first open one) and its points that are still estimated."""
        names = self.walk_order()
        lead = self.active if self.active in names else next((n for n in names if self._state(n) is State.ESTIMATED), "")
        group = self.schema()[lead].group if lead else ""
        return group, [n for n in names if self.schema()[n].group == group and self._state(n) is State.ESTIMATED]

    def confirm_group(self) -> None:
        """Say that the whole group of the active point is right, and go on to the next group."""
        group, names = self.open_in_group()
        if names:
            self.edit_made.emit(f"Confirm {group.lower()}", lambda m: confirm(m, names))
        self._walk(1, estimated_first=True, done=names)

    def focusNextPrevChild(self, forward: bool) -> bool:
        """Tab walks landmarks while there are any; Ctrl+Tab leaves the stage."""
        return False if self.marks.points else super().focusNextPrevChild(forward)

    def _walk(self, step: int, estimated_first: bool = False, done: Sequence[str] = ()) -> None:
        names = self.walk_order() if estimated_first else [n for n in self.schema().names if n in self.marks.points]
        if not names:
            return
        if estimated_first:
            open_names = [n for n in names if self._state(n) is State.ESTIMATED and n != self.active and n not in done]
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
            self.shift_view(f.center() - q)
        self.hovered_points.emit({self.active})
        self.hint_changed.emit()
        self.update()
