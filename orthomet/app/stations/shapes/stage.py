"""The reference with shapes laid over it, and the sheet they are lifted off to: parts are traced on one and moved on the other."""

from __future__ import annotations

from dataclasses import dataclass
from math import degrees, hypot
from typing import Literal

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt, Signal
from PySide6.QtGui import QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPolygonF, QTransform
from PySide6.QtWidgets import QWidget

from ....core.kinds import Array
from ....core.landmarks.frame import Frame
from ....core.picture import Picture
from ....core.shapes.plain import KINDS, Plain, made
from ....core.shapes.scene import Scene
from ....core.shapes.seen import Seen
from ...gauges.marks import mark_plan, mark_reference
from ...looks import screen_looks
from ...render import paint, polygon
from ...stage.draw import pane_tag, sheet_edge
from ...stage.pannable import Pannable
from ...theme.paint import CENTRE, arrow, outline, painting, pen, solid, text
from ...theme.tokens import theme

Mode = Literal["both", "over", "alone"]
Tool = Literal["", "trace", "box", "yes", "no", "colour", "points"]
NEAR, CLOSE = 9.0, 12.0
"""Pixels around a handle that take hold of it; from a trace's first point that close it."""
STEP = 2.5
"""Pixels of a hand's way between two points of a trace."""
SOFT = 0.03
"""How far along a contour a dragged point takes its neighbours with it, a share of its length (own)."""
TURN_OFF = 26.0
"""Pixels the handle that turns stands off a shape."""


@dataclass(frozen=True)
class _Grip:
    """What the hand holds: a part, the contour's points, or a handle of its shape."""

    what: str
    part: str
    at: tuple[float, float]
    contour: Array | None = None
    index: int = 0
    shape: Plain | None = None


class ShapesStage(Pannable):
    chosen = Signal(str)
    traced = Signal(object)
    """A line round a part, pixels of the picture, (n, 2)."""
    boxed = Signal(object)
    stroked = Signal(object, bool)
    """A stroke over what belongs to the part, or over what does not."""
    picked = Signal(float, float)
    began = Signal(str, str)
    """What is dragged (part, points, width, height, turn), and of which part."""
    part_moved = Signal(str, float, float)
    """A part dragged by so many heads."""
    contour_moved = Signal(str, object)
    """Its contour, in heads."""
    shape_moved = Signal(str, object)
    """Its plain shape, in heads."""
    dropped = Signal()
    left = Signal()
    tool_left = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Shapes, on the picture and on paper")
        self.mode: Mode = "both"
        self.tool: Tool = ""
        self.image: QImage | None = None
        self.frame: Frame | None = None
        self.size_px: tuple[int, int] | None = None
        self.scene: Scene | None = None
        self.over: Picture | None = None
        self.paper: Picture | None = None
        self.part = ""
        self.planned = True
        self.sentence = ""
        self.hot = ""
        self._line: list[QPointF] = []
        self._box: tuple[QPointF, QPointF] | None = None
        self._grip: _Grip | None = None
        self._frozen: tuple[float, float, float, float] | None = None

    # ---- what is shown

    def show_picture(self, image: QImage | None, size: tuple[int, int] | None, frame: Frame | None) -> None:
        self.image, self.size_px, self.frame = image, size, frame
        self.update()

    def show_scene(self, scene: Scene | None, over: Picture | None, paper: Picture | None, part: str, planned: bool) -> None:
        self.scene, self.over, self.paper, self.part, self.planned = scene, over, paper, part, planned
        words = ", ".join(v.part.name for v in scene.parts) if scene is not None else ""
        self.setAccessibleDescription(words or "No parts yet")
        self.update()

    def show_mode(self, mode: Mode) -> None:
        self.mode = mode
        self.update()

    def use(self, tool: Tool) -> None:
        """Another thing the hand does on the picture; an empty one chooses and moves."""
        self.tool = tool
        self._line, self._box = [], None
        self.setCursor(Qt.CursorShape.CrossCursor if tool and tool != "points" else Qt.CursorShape.ArrowCursor)
        self.update()

    # ---- geometry: both panes show the same heads at the same scale

    def panes(self) -> tuple[QRectF | None, QRectF | None]:
        """Where the picture shows and where the paper does."""
        whole = QRectF(12, 0, max(60, self.width() - 24), max(60, self.height() - 12))
        if self.mode == "alone" or self.size_px is None:
            return None, whole
        if self.mode == "over":
            return whole, None
        half = (whole.width() - 10) / 2
        return QRectF(whole.left(), 0, half, whole.height()), QRectF(whole.left() + half + 10, 0, half, whole.height())

    def view(self) -> tuple[float, float, float, float]:
        """The heads that are to be seen: left, top, width, height."""
        if self._frozen is not None:
            return self._frozen
        boxes = []
        if self.scene is not None and self.scene.parts:
            x, y, w, h = self.scene.box
            room = 0.12 * max(w, h)
            boxes.append((x - room, y - room, x + w + room, y + h + room))
        if self.frame is not None and self.size_px is not None and (not boxes or self.mode == "over"):
            w, h = self.size_px
            q = self.frame.to_heads(np.array([[0, 0], [w, 0], [w, h], [0, h]]))
            boxes.append((*q.min(0).tolist(), *q.max(0).tolist()))
        if not boxes:
            return -0.6, -0.1, 1.2, 1.2
        x0, y0, x1, y1 = (f(b[k] for b in boxes) for k, f in enumerate((min, min, max, max)))
        return x0, y0, max(x1 - x0, 1e-6), max(y1 - y0, 1e-6)

    def head_px(self) -> float:
        pane = next(p for p in self.panes() if p is not None)
        _, _, w, h = self.view()
        return float(min((pane.width() - 16) / w, (pane.height() - 16) / h)) * self.zoomed

    def origin(self, pane: QRectF) -> QPointF:
        x, y, w, h = self.view()
        k = self.head_px()
        return QPointF(pane.center().x() - (x + w / 2) * k, pane.center().y() - (y + h / 2) * k) + self.shift

    def middle(self, at: QPointF) -> QPointF:
        return next((p for p in self.panes() if p is not None and p.contains(at)), QRectF(self.rect())).center()

    def pane_at(self, q: QPointF) -> tuple[QRectF, bool] | None:
        """The pane under a place, and whether it is the picture's."""
        pic, paper = self.panes()
        if pic is not None and pic.contains(q):
            return pic, True
        return (paper, False) if paper is not None and paper.contains(q) else None

    def heads_at(self, q: QPointF) -> tuple[float, float]:
        found = self.pane_at(q)
        pane = found[0] if found is not None else next(p for p in self.panes() if p is not None)
        o, k = self.origin(pane), self.head_px()
        return (q.x() - o.x()) / k, (q.y() - o.y()) / k

    def place(self, heads: tuple[float, float], on_picture: bool = False) -> QPointF:
        """Where a place in heads lies on one of the panes."""
        pic, paper = self.panes()
        pane = pic if (on_picture and pic is not None) or paper is None else paper
        assert pane is not None
        return self.origin(pane) + QPointF(*heads) * self.head_px()

    def _pixels(self, points: list[QPointF]) -> Array:
        """Places on the widget as pixels of the picture."""
        assert self.frame is not None
        return self.frame.to_picture(np.array([self.heads_at(q) for q in points]))

    def chosen_part(self) -> Seen | None:
        return self.scene.part(self.part) if self.scene is not None else None

    def part_at(self, q: QPointF) -> str:
        """The nearest part to the viewer under a place; of those that lie there the smallest outline wins at its edge."""
        if self.scene is None:
            return ""
        h = np.array(self.heads_at(q))
        near = NEAR / self.head_px()
        for v in reversed(self.scene.parts):
            o = v.outline if self.planned else v.shape.outline()
            if polygon(o).containsPoint(QPointF(*h), Qt.FillRule.OddEvenFill) or float(np.hypot(*(o - h).T).min()) < near:
                return v.part.id
        return ""

    def handles(self) -> dict[str, QPointF]:
        """Handles of the chosen part's plain shape, on the paper."""
        v = self.chosen_part()
        if v is None or self.panes()[1] is None or v.plain is None or self.tool:
            return {}
        s = v.plain
        c, n = np.cos(s.p[2]), np.sin(s.p[2])

        def at(x: float, y: float) -> QPointF:
            return self.place((float(s.p[0]) + c * x - n * y, float(s.p[1]) + n * x + c * y))

        off = TURN_OFF / self.head_px()
        out = {"width": at(s.width / 2, 0)}
        if s.kind != "circle":
            out |= {"height": at(0, s.height / 2), "turn": at(0, -s.height / 2 - off)}
        return out

    # ---- hand

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        if self.begins_pan(e):
            return
        q = e.position()
        found = self.pane_at(q)
        if e.button() != Qt.MouseButton.LeftButton or found is None:
            return
        if self.tool and self.tool != "points":
            if found[1] and self.frame is not None:
                self._press_tool(q)
            return
        if self.tool == "points" and self._takes_point(q):
            return
        for what, at in self.handles().items():
            if hypot(q.x() - at.x(), q.y() - at.y()) < NEAR:
                v = self.chosen_part()
                assert v is not None
                self._hold(_Grip(what, self.part, self.heads_at(q), shape=v.plain))
                return
        part = self.part_at(q)
        if part != self.part:
            self.chosen.emit(part)
        if part and not found[1]:
            self._grip = _Grip("part", part, self.heads_at(q))

    def _press_tool(self, q: QPointF) -> None:
        if self.tool == "colour":
            x, y = self._pixels([q])[0]
            self.picked.emit(float(x), float(y))
        elif self.tool == "box":
            self._box = (q, q)
        elif self.tool == "trace" and self._line and hypot(*(self._line[0] - q).toTuple()) < CLOSE and len(self._line) > 2:
            self._close()
        else:
            self._line.append(q)
        self.update()

    def _takes_point(self, q: QPointF) -> bool:
        v = self.chosen_part()
        if v is None or v.fits is None:
            return False
        h = np.array(self.heads_at(q))
        away = np.hypot(*(v.contour - h).T)
        k = int(away.argmin())
        if away[k] * self.head_px() > NEAR + 3:
            return False
        self._hold(_Grip("points", self.part, (float(h[0]), float(h[1])), v.contour, k))
        return True

    def _hold(self, grip: _Grip) -> None:
        self._grip = grip
        self._frozen = self.view()
        self.began.emit(grip.what, grip.part)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        q = e.position()
        if self.pans(e):
            return
        if self._box is not None:
            self._box = (self._box[0], q)
        elif self._line and e.buttons() & Qt.MouseButton.LeftButton:
            if hypot(*(self._line[-1] - q).toTuple()) >= STEP:
                self._line.append(q)
        elif self._grip is not None:
            self._drag(q, bool(e.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        else:
            self.hot = self.part_at(q) if not self.tool else ""
        self.update()

    def _drag(self, q: QPointF, wide: bool) -> None:
        g = self._grip
        assert g is not None
        x, y = self.heads_at(q)
        dx, dy = x - g.at[0], y - g.at[1]
        if g.what == "part":
            if self._frozen is None:
                if hypot(dx, dy) * self.head_px() < 4:
                    return
                self._frozen = self.view()
                self.began.emit("part", g.part)
            self.part_moved.emit(g.part, dx, dy)
        elif g.what == "points":
            assert g.contour is not None
            n = len(g.contour)
            k = np.abs(np.arange(n) - g.index)
            w = np.exp(-0.5 * (np.minimum(k, n - k) / ((3 if wide else 1) * SOFT * n)) ** 2)
            self.contour_moved.emit(g.part, g.contour + w[:, None] * [dx, dy])
        else:
            assert g.shape is not None
            self.shape_moved.emit(g.part, _handled(g.shape, g.what, x, y, wide))

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        self.ends_pan()
        if self._box is not None:
            (a, b), self._box = self._box, None
            if abs(a.x() - b.x()) > 6 and abs(a.y() - b.y()) > 6:
                p = self._pixels([a, b])
                self.boxed.emit((*p.min(0).tolist(), *p.max(0).tolist()))
        elif self.tool in ("yes", "no") and self._line:
            line, self._line = self._line, []
            self.stroked.emit(self._pixels(line), self.tool == "yes")
        elif self.tool == "trace" and len(self._line) > 12 and self._freehand():
            self._close()
        if self._grip is not None:
            held, self._grip = self._frozen is not None, None
            self._frozen = None
            if held:
                self.dropped.emit()
        self.update()

    def _freehand(self) -> bool:
        """Whether the line was drawn in one go and comes back to where it began."""
        a, b = self._line[0], self._line[-1]
        whole = sum(hypot(*(q - p).toTuple()) for p, q in zip(self._line, self._line[1:], strict=False))
        return hypot(*(a - b).toTuple()) < max(CLOSE, 0.15 * whole) and whole > 60

    def _close(self) -> None:
        line, self._line = self._line, []
        if len(line) > 2:
            self.traced.emit(self._pixels(line))
        self.update()

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        if self.tool == "trace" and len(self._line) > 2:
            self._close()

    def keyPressEvent(self, e: QKeyEvent) -> None:
        key = Qt.Key(e.key())
        if key == Qt.Key.Key_Escape:
            self._escape()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.tool == "trace":
            self._close()
        elif key == Qt.Key.Key_Backspace and self._line:
            self._line.pop()
            self.update()
        elif (step := arrow(e)) is not None and self.part and not self.tool:
            k = (10 if e.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1) / self.head_px()
            self.began.emit("part", self.part)
            self.part_moved.emit(self.part, step[0] * k, step[1] * k)
            self.dropped.emit()
        elif key in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp) and self.scene is not None and self.scene.parts:
            ids = [v.part.id for v in self.scene.parts]
            here = ids.index(self.part) if self.part in ids else -1
            self.chosen.emit(ids[(here + (1 if key == Qt.Key.Key_PageDown else -1)) % len(ids)])
        else:
            super().keyPressEvent(e)

    def _escape(self) -> None:
        if self._grip is not None and self._frozen is not None:
            self._grip = self._frozen = None
            self.left.emit()
        elif self._line or self._box is not None:
            self._line, self._box = [], None
            self.update()
        elif self.tool:
            self.tool_left.emit()

    # ---- paint

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t = theme.t
            p.fillRect(self.rect(), t.c("board"))
            pic, paper = self.panes()
            if pic is not None:
                self._paint_picture(p, pic)
            if paper is not None:
                self._paint_paper(p, paper)

    def _paint_picture(self, p: QPainter, pane: QRectF) -> None:
        t = theme.t
        p.save()
        p.setClipRect(pane)
        p.fillRect(pane, t.c("ledge"))
        k, o = self.head_px(), self.origin(pane)
        if self.image is not None and self.frame is not None and self.size_px is not None:
            f = self.frame
            p.save()
            p.translate(o)
            p.scale(k, k)
            m = QTransform()
            m.rotate(-degrees(f.roll))
            m.scale(1 / f.head, 1 / f.head)
            m.translate(-f.crown[0], -f.crown[1])
            p.setTransform(m, True)
            p.drawImage(QRectF(0, 0, *self.size_px), self.image)
            p.restore()
            if self.scene is not None and self.scene.parts and not self.tool:
                p.fillRect(pane, t.c("sheet", 0.45))
        if self.over is not None:
            p.save()
            p.translate(o)
            paint(p, self.over, k, screen_looks(t), 1.0)
            p.restore()
        self._paint_chosen(p, o, k, True)
        self._paint_hand(p)
        p.restore()
        sheet_edge(p, pane)
        pane_tag(p, pane, "On the picture", mark_reference)

    def _paint_paper(self, p: QPainter, pane: QRectF) -> None:
        t = theme.t
        p.save()
        p.setClipRect(pane)
        p.fillRect(pane, t.c("sheet"))
        k, o = self.head_px(), self.origin(pane)
        if self.paper is not None and self.paper.layers:
            p.save()
            p.translate(o)
            paint(p, self.paper, k, screen_looks(t), 1.0)
            p.restore()
        elif self.sentence:
            text(p, pane.adjusted(30, pane.height() / 2 - 60, -30, 0), self.sentence, "instruct", t.c("ink"), CENTRE, wrap=True)
        self._paint_chosen(p, o, k, False)
        for what, at in self.handles().items():
            p.setPen(pen(t.c("sheet"), 1.5))
            p.setBrush(t.c("look_fill"))
            p.drawEllipse(at, 5, 5) if what == "turn" else p.drawRect(QRectF(at.x() - 4, at.y() - 4, 8, 8))
        p.restore()
        sheet_edge(p, pane)
        pane_tag(
            p,
            pane,
            "Lifted off, pushed" if self.planned else "Lifted off, as seen",
            mark_plan if self.planned else mark_reference,
        )

    def _paint_chosen(self, p: QPainter, o: QPointF, k: float, on_picture: bool) -> None:
        t = theme.t
        for pid, width in ((self.hot, 1.6), (self.part, 2.6)):
            v = self.scene.part(pid) if self.scene is not None and pid else None
            if v is None:
                continue
            line = v.contour if on_picture and v.fits is not None else v.outline if self.planned else v.shape.outline()
            outline(p, t.c("look"), width)
            p.drawPolygon(polygon(line * k + [o.x(), o.y()]))
        v = self.chosen_part()
        if v is not None and self.tool == "points" and v.fits is not None:
            sharp = set(v.part.corners)
            p.setPen(pen(t.c("ink"), 1))
            for i in range(0, len(v.contour), 6):
                x, y = v.contour[i] * k + [o.x(), o.y()]
                p.setBrush(t.c("sheet"))
                p.drawEllipse(QPointF(x, y), 2.6, 2.6)
            p.setBrush(t.c("look_fill"))
            for i in sharp:
                x, y = v.contour[i] * k + [o.x(), o.y()]
                p.drawRect(QRectF(x - 3.2, y - 3.2, 6.4, 6.4))

    def _paint_hand(self, p: QPainter) -> None:
        t = theme.t
        if self._box is not None:
            outline(p, t.c("look_fill"), 2, (5, 3))
            p.drawRect(QRectF(*self._box).normalized())
        if self._line:
            colour = "draw" if self.tool == "no" else "look_fill"
            outline(p, t.c("ink", 0.6), 4.5)
            p.drawPolyline(QPolygonF(self._line))
            outline(p, t.c(colour), 2.5)
            p.drawPolyline(QPolygonF(self._line))
            if self.tool == "trace":
                solid(p, t.c("look_fill"))
                p.drawEllipse(self._line[0], 5, 5)


def _handled(s: Plain, what: str, x: float, y: float, both: bool) -> Plain:
    """A plain shape after one of its handles was dragged to a place; ``both``: width and height keep their ratio, turns go in steps of 15°."""
    c, n = np.cos(s.p[2]), np.sin(s.p[2])
    dx, dy = x - float(s.p[0]), y - float(s.p[1])
    u, v = c * dx + n * dy, c * dy - n * dx
    w, h, turn = s.width, s.height, s.turn
    if what == "width":
        w = max(2 * abs(float(u)), 1e-3)
        h = h * w / s.width if both or s.kind == "circle" else h
    elif what == "height":
        h = max(2 * abs(float(v)), 1e-3)
        w = w * h / s.height if both else w
    else:
        turn = degrees(float(np.arctan2(dx, -dy)))
        turn = 15 * round(turn / 15) if both else turn
    if s.kind == "capsule":
        h = max(h, 1.02 * w)
    return made(s.kind, float(s.p[0]), float(s.p[1]), w, h, s.own[: len(KINDS[s.kind].bounds)], turn)
