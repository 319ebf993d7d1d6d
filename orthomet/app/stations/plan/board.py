"""The two panes of the plan: the reference as it is, the plan as it will be, and the lines that carry one to the other."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF, QTransform
from PySide6.QtWidgets import QWidget

from ....core.head.handles import Handle, handles, value_at
from ....core.kinds import Array
from ....core.landmarks.frame import Frame, frame_of
from ....core.landmarks.schema import FRONT
from ....core.picture import Picture
from ....core.project.model import Reference
from ....core.proportions.lines import spans
from ....core.proportions.registry import front_registry
from ....core.styles.schools import School
from ...gauges.marks import mark_plan, mark_reference
from ...looks import screen_looks
from ...render import paint
from ...stage.draw import cased, chip, dimension, pane_tag, sheet_edge
from ...stage.pannable import Pannable
from ...theme.paint import CENTRE, LEFT, painting, pen, solid, text
from ...theme.tokens import CASING, ON_PICTURE_POINT, theme
from .moved import MovedPicture
from .reference_pane import ReferencePane

GUTTER = 64
LINES = (
    ("hairline_station", "hairline"), ("brow_station", "brow"), ("eye_station", "eyes"),
    ("nose_base_station", "nose"), ("mouth_station", "mouth"),
)  # fmt: skip
STATION_KEYS = frozenset(k for k, _ in LINES)


class PlanBoard(Pannable):
    """Both panes share one scale: a station is at the same height left and right."""

    hovered = Signal(str, bool)
    mark_began = Signal(str)
    mark_moved = Signal(str, float)
    mark_dropped = Signal(str)
    mark_cancelled = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Reference and plan, side by side")
        self.reference: Reference | None = None
        self.image: QImage | None = None
        self.picture: Picture | None = None
        self.points: Array | None = None
        self.plan: dict[str, float] = {}
        self.measured: dict[str, float] = {}
        self.lit: set[str] = set()
        self.lit_words: dict[str, tuple[str, str]] = {}
        self.school: School | None = None
        self.settings: Mapping[str, float] = {}
        self._drag, self._grab, self._near = "", 0.0, ""
        self.pane = ReferencePane()
        self.moved = MovedPicture()

    # ---- geometry

    def panes(self) -> tuple[QRectF, QRectF]:
        w = (self.width() - 24 - GUTTER) / 2
        h = self.height() - 12
        return QRectF(12, 0, w, h), QRectF(12 + w + GUTTER, 0, w, h)

    def head_px(self) -> float:
        left, _ = self.panes()
        return min(left.height() / 1.36, left.width() / 1.06) * self.zoomed

    def crown_y(self) -> float:
        pane, head = self.panes()[0], self.head_px()
        return pane.top() + (pane.height() - head * 1.36) / 2 + head * 0.145 + self.shift.y()

    def at(self, pane: QRectF, x: float, t: float) -> QPointF:
        return QPointF(pane.center().x() + self.shift.x() + x * self.head_px(), self.crown_y() + t * self.head_px())

    def middle(self, at: QPointF) -> QPointF:
        return self.panes()[int(at.x() >= self.width() / 2)].center()

    def station_at(self, y: float) -> float:
        return (y - self.crown_y()) / self.head_px()

    # ---- content

    def set_reference(self, reference: Reference | None, image: QImage | None, measured: dict[str, float]) -> None:
        self.reference, self.image, self.measured = reference, image, measured
        self.update()

    def set_plan(
        self, plan: dict[str, float], points: Array, picture: Picture, school: School | None, settings: Mapping[str, float]
    ) -> None:
        # labels stand at the pane's edge: the drawing's own words would crowd at this size
        self.plan, self.points, self.picture, self.school, self.settings = plan, points, picture.wordless(), school, settings
        self.update()

    def face_frame(self) -> Frame | None:
        """Where the reference's head lies on its picture."""
        ref = self.reference
        return frame_of(ref.marks.landmarks(), ref.level_by) if ref is not None else None

    def reference_frame(self) -> QTransform | None:
        """Reference pixels → the left pane, levelled, one head as tall as the plan's."""
        frame = self.face_frame()
        if frame is None:
            return None
        k, o = self.head_px() / frame.head, self.at(self.panes()[0], 0, 0)
        t = QTransform()
        t.translate(o.x(), o.y())
        t.scale(k, k)
        t.rotateRadians(-frame.roll)
        t.translate(-frame.crown[0], -frame.crown[1])
        return t

    # ---- hand

    def handle_places(self) -> list[tuple[Handle, QPointF]]:
        right = self.panes()[1]
        return [(h, self.at(right, h.x, h.y)) for h in handles(self.plan, self.school, self.settings)]

    def line_at(self, q: QPointF) -> str:
        """The handle or the line under the hand."""
        _, right = self.panes()
        if q.x() < right.left() - 16 or q.x() > right.right() or not self.plan:
            return ""
        for h, place in self.handle_places():
            if (place - q).manhattanLength() < 11:
                return h.key
        near = [(abs(self.at(right, 0, self.plan[k]).y() - q.y()), k) for k, _ in LINES]
        d, key = min(near)
        return key if d < 6 else ""

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        if self.begins_pan(e):
            return
        if e.button() == Qt.MouseButton.LeftButton and self.moved.on_wipe(self.panes()[0], e.position()):
            self.moved.wiping = True
            return
        key = self.line_at(e.position())
        if key and e.button() == Qt.MouseButton.LeftButton:
            self._drag = key
            self._grab = self.station_at(e.position().y()) - self.plan[key] if key in STATION_KEYS else 0.0
            self.mark_began.emit(key)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self.pans(e):
            return
        if self.moved.wiping:
            self.moved.drag(self.panes()[0], e.position())
            self.update()
            return
        if self._drag in STATION_KEYS:
            self.mark_moved.emit(self._drag, self.station_at(e.position().y()) - self._grab)
            return
        if self._drag:
            x = (e.position().x() - self.panes()[1].center().x() - self.shift.x()) / self.head_px()
            self.mark_moved.emit(self._drag, value_at(self._drag, self.plan, x, self.station_at(e.position().y())))
            return
        key = self.line_at(e.position())
        if key != self._near:
            if self._near:
                self.hovered.emit(self._near, False)
            self._near = key
            if key:
                self.hovered.emit(key, True)
        across = self.moved.on_wipe(self.panes()[0], e.position())
        self.setCursor(
            Qt.CursorShape.SizeHorCursor
            if across or any(h.key == key and h.across for h, _ in self.handle_places())
            else Qt.CursorShape.SizeVerCursor
            if key
            else Qt.CursorShape.ArrowCursor
        )

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        self.ends_pan()
        self.moved.wiping = False
        if self._drag:
            key, self._drag = self._drag, ""
            self.mark_dropped.emit(key)

    def leaveEvent(self, e: object) -> None:
        if self._near:
            self.hovered.emit(self._near, False)
            self._near = ""

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_Escape and self._drag:
            self._drag = ""
            self.mark_cancelled.emit()
        else:
            super().keyPressEvent(e)

    # ---- paint

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("board"))
            left, right = self.panes()
            self._paint_reference(p, left)
            p.save()
            p.setClipRect(right)
            p.fillRect(right, t.c("sheet"))
            if self.picture is not None:
                o = self.at(right, 0, 0)
                p.translate(o)
                paint(p, self.picture, self.head_px(), screen_looks(t), 1.0)
            p.restore()
            self._paint_handles(p, right)
            sheet_edge(p, right)
            self._carry(p, left, right)
            self._paint_lit(p, left, right)
            pane_tag(p, left, "Reference", lambda p, x, y, t: mark_reference(p, x, y + 6.8, t))
            pane_tag(p, right, "Plan", lambda p, x, y, t: mark_plan(p, x, y - 7, t))

    def _paint_handles(self, p: QPainter, pane: QRectF) -> None:
        t = theme.t
        for h, place in self.handle_places():
            if not pane.contains(place):
                continue
            hot = h.key in (self._near, self._drag)
            p.setPen(pen(t.c("look") if hot else t.c("plan"), 1.6))
            p.setBrush(t.c("look_fill") if hot else t.c("sheet"))
            p.drawEllipse(place, 5.5 if hot else 4, 5.5 if hot else 4)
            if hot:
                chip(p, place.x() + 12, place.y() - 12, h.words, align=LEFT)

    def _paint_reference(self, p: QPainter, pane: QRectF) -> None:
        frame, ratio = self.reference_frame(), self.devicePixelRatioF()
        if self.reference is None:
            words = "No reference: everything is planned at the style’s centre."
        elif self.reference.marks.points:
            words = "Without crown and chin it is not levelled and sized to the plan."
        else:
            words = "Place crown and chin first."
        self.pane.paint(p, pane, self.image if self.reference else None, frame, words, ratio)
        places = self.planned_places() if self.moved.on and self.image is not None else None
        if places is not None and frame is not None and self.image is not None and self.reference is not None:
            self.moved.paint(p, pane, frame, self.image, self.reference, places, ratio)
        sheet_edge(p, pane)

    # ---- the picture moved to the plan

    def show_moved(self, on: bool) -> None:
        self.moved.on = on
        self.update()

    def planned_places(self) -> Array | None:
        """Where the plan puts each landmark on the reference's own picture, pixels, schema order."""
        frame = self.face_frame()
        return frame.to_picture(self.points) if frame is not None and self.points is not None else None

    def _carry(self, p: QPainter, left: QRectF, right: QRectF) -> None:
        """Lines across the gutter from where the reference has each station to where the plan puts it."""
        t = theme.t
        x0, x1 = left.right() + 1, right.left()
        shown: list[float] = []
        for key, name in LINES:
            if key not in self.plan:
                continue
            y1 = self.at(right, 0, self.plan[key]).y()
            v = self.measured.get(key)
            lit = key in self.lit or key == self._drag
            if v is not None and self.reference_frame() is not None:
                y0 = self.at(left, 0, v).y()
                for width, colour in ((2.4, CASING), (1.2, ON_PICTURE_POINT)):
                    p.setPen(pen(colour, width))
                    p.drawLine(QPointF(x0 - 16, y0), QPointF(x0 - 1, y0))
                moved = abs(y1 - y0) > 3
                p.setPen(
                    pen(t.c("look") if lit else t.c("plan") if moved else t.c("soft"), 2.2 if lit else 1.6 if moved else 1.1)
                )
                p.drawLine(QPointF(x0, y0), QPointF(x1 - 8, y1))
                solid(p, t.c("ref"))
                p.drawPolygon(QPolygonF([QPointF(x0, y0 - 4), QPointF(x0, y0 + 4), QPointF(x0 + 7, y0)]))
                words_y = (y0 + y1) / 2
            else:
                words_y = y1
            p.setBrush(t.c("plan"))
            p.setPen(pen(t.c("board"), 1))
            tip = ((0, -5.5), (0, 5.5), (-6, 5.5), (-11.5, 0), (-6, -5.5))
            p.drawPolygon(QPolygonF([QPointF(x1 + dx, y1 + dy) for dx, dy in tip]))
            at_y = words_y - 11
            if shown and abs(shown[-1] - at_y) < 13:
                at_y = words_y + 11
            shown.append(at_y)
            text(p, (x0 + 2, at_y - 7, x1 - x0 - 6, 14), name, "note_s", t.c("ink"), CENTRE)
        for station, words in ((0.0, "crown"), (1.0, "chin")):
            y = self.at(left, 0, station).y()
            if left.top() < y < left.bottom():
                p.setPen(pen(t.c("soft"), 1, (2, 2)))
                p.drawLine(QPointF(x0, y), QPointF(x1, y))
                text(p, (x0, y - 16, x1 - x0, 14), words, "note_s", t.c("soft"), CENTRE)

    def _paint_lit(self, p: QPainter, left: QRectF, right: QRectF) -> None:
        reg, t = front_registry(), theme.t
        frame = self.reference_frame()
        for key in self.lit:
            if key not in reg.index:
                continue
            words = self.lit_words.get(key, ("", ""))
            if frame is not None and self.reference is not None:
                p.save()
                p.setClipRect(left)
                for i, s in enumerate(spans(reg[key], self.reference.marks.landmarks().array(FRONT), self.reference.level_by)):
                    self._span(p, frame.map(QPointF(*s.a)), frame.map(QPointF(*s.b)), words[0] if i == 0 else "", s.across, left)
                p.restore()
            if self.points is not None:
                p.save()
                p.setClipRect(right)
                for i, s in enumerate(spans(reg[key], self.points)):
                    self._span(p, self.at(right, *s.a), self.at(right, *s.b), words[1] if i == 0 else "", s.across, right)
                p.restore()
        if self._drag in STATION_KEYS:
            y = self.at(right, 0, self.plan[self._drag]).y()
            cased(p, [(QPointF(right.left(), y), QPointF(right.right(), y))], t.c("look_fill"), 1.4)

    def _span(self, p: QPainter, a: QPointF, b: QPointF, words: str, across: bool, pane: QRectF) -> None:
        if across:
            dimension(p, a, b, words, True, 34)
        else:
            side = pane.center().x() + 0.30 * self.head_px() - a.x()
            dimension(p, a, b, words, False, side)
