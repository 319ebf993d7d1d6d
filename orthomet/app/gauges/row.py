"""One gauge row: name, scale with the norm's band and up to three marks, a word, the value."""

from __future__ import annotations

from PySide6.QtCore import QEvent, QPointF, QRectF, QSize, Qt, Signal
from PySide6.QtGui import QEnterEvent, QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QSizePolicy, QWidget

from ...core.gauges.item import GaugeItem
from ...core.gauges.words import Mode, told
from ...core.plan.decisions import EMPHASIS_WORDS
from ..theme.paint import CENTRE, RIGHT, chevron, crisp, focus_ring, hline, outline, painting, pen, solid, text, text_width
from ..theme.tokens import PAD, PANEL, ROW, ROW_OPEN, theme
from .marks import mark_asked, mark_drawing, mark_other, mark_plan, mark_reference, mark_shown, mark_style, mark_wall
from .scale import REACH, squash, unsquash

NAME_W, WORD_W, VALUE_W, GAP = 108, 72, 44, 8
STOPS = [(word.replace("push ", "") if v > 1.5 else word, v) for v, word in EMPHASIS_WORDS]


class GaugeRow(QWidget):
    hovered = Signal(str, bool)
    mark_began = Signal(str)
    mark_moved = Signal(str, float)
    mark_dropped = Signal(str)
    emphasis_chosen = Signal(str, float)
    missing_clicked = Signal(str)
    released = Signal(str)
    """A style's value is to follow its samples again."""

    def __init__(self, item: GaugeItem, mode: Mode, parent: QWidget | None = None):
        super().__init__(parent)
        self.item, self.mode = item, mode
        self.lit = self.open = self.dragging = False
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(ROW)
        self.set_item(item)

    def set_item(self, item: GaugeItem) -> None:
        changed = item != self.item
        self.item = item
        parts = [item.label]
        for what, v in (("reference", item.reference), ("plan", item.plan), ("drawing", item.drawing), ("style", item.style)):
            if v is not None:
                parts.append(f"{what} {item.show(v)}")
        if item.missing:
            parts.append(f"not measured, place {item.missing}")
        self.setAccessibleName(", ".join(parts))
        norm = f" Usual {item.show(item.norm)} ± {item.sd:g}." if item.norm is not None and item.sd is not None else ""
        self.setToolTip(f"{item.label}: {item.meaning}.{norm}\n{item.key}")
        if changed:
            self.update()

    # ---- geometry

    def sizeHint(self) -> QSize:
        return QSize(PANEL, ROW_OPEN if self.open else ROW)

    def span(self) -> tuple[float, float]:
        return PAD + NAME_W + GAP, self.width() - PAD - VALUE_W - WORD_W - GAP

    def x_of(self, value: float) -> float:
        a, b = self.span()
        return (a + b) / 2 + squash(self.item.z(value)) * (b - a) / 2

    def value_at(self, x: float) -> float:
        a, b = self.span()
        u = max(-1.0, min(1.0, (x - (a + b) / 2) / ((b - a) / 2)))
        return self.item.at_z(unsquash(u))

    @property
    def _held(self) -> float | None:
        """The value whose mark can be dragged: the plan's, or a study's own."""
        if not self.item.has_scale:
            return None
        if self.mode == "style":
            return self.item.style if self.item.free else None
        return self.item.plan if self.mode == "plan" else None

    def on_tip(self, x: float, y: float) -> bool:
        return self._held is not None and abs(x - self.x_of(self._held)) < 9 and y < ROW

    # ---- hand

    def set_lit(self, on: bool) -> None:
        if on != self.lit:
            self.lit = on
            self.update()

    def set_open(self, on: bool) -> None:
        self.open = on and self.mode == "plan"
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def enterEvent(self, e: QEnterEvent) -> None:
        self.hovered.emit(self.item.key, True)

    def leaveEvent(self, e: QEvent) -> None:
        self.hovered.emit(self.item.key, False)

    def focusInEvent(self, e: QFocusEvent) -> None:
        self.hovered.emit(self.item.key, True)
        super().focusInEvent(e)

    def focusOutEvent(self, e: QFocusEvent) -> None:
        self.hovered.emit(self.item.key, False)
        super().focusOutEvent(e)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        if e.button() != Qt.MouseButton.LeftButton:
            return super().mousePressEvent(e)
        x, y = e.position().x(), e.position().y()
        if self.on_tip(x, y):
            self.dragging = True
            self._grab = x - self.x_of(self._held or 0.0)
            self.mark_began.emit(self.item.key)
        elif self.open and y >= ROW:
            v = self._stop_at(x)
            if v is not None:
                self.emphasis_chosen.emit(self.item.key, v)
        elif self.item.missing and self.mode != "plan":
            self.missing_clicked.emit(self.item.key)
        elif self.mode == "plan":
            self.set_open(not self.open)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        x, y = e.position().x(), e.position().y()
        if self.dragging:
            self.mark_moved.emit(self.item.key, self.value_at(x - self._grab))
            return
        hand = Qt.CursorShape.SizeHorCursor if self.on_tip(x, y) else Qt.CursorShape.ArrowCursor
        self.setCursor(Qt.CursorShape.PointingHandCursor if self.item.missing and self.mode != "plan" else hand)

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        if self.dragging:
            self.dragging = False
            self.mark_dropped.emit(self.item.key)
            self.update()

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        if self.on_tip(e.position().x(), e.position().y()):
            if self.mode == "plan":
                self.emphasis_chosen.emit(self.item.key, self.item.emphasis)
            else:
                self.released.emit(self.item.key)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        key = e.key()
        if self.mode == "plan" and self.item.plan is not None:
            chosen = {Qt.Key.Key_1: 0.0, Qt.Key.Key_2: 0.5, Qt.Key.Key_3: 1.0, Qt.Key.Key_4: 1.5}.get(Qt.Key(key))
            if chosen is not None:
                self.emphasis_chosen.emit(self.item.key, chosen)
                return
            if key in (Qt.Key.Key_Return, Qt.Key.Key_Space):
                self.set_open(not self.open)
                return
        if self._held is not None and key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            step = (1 if key == Qt.Key.Key_Right else -1) * (0.5 if e.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.1)
            self.mark_began.emit(self.item.key)
            self.mark_moved.emit(self.item.key, self.item.at_z(self.item.z(self._held) + step))
            self.mark_dropped.emit(self.item.key)
            return
        if self.mode == "style" and self.item.free and key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.released.emit(self.item.key)
            return
        if key == Qt.Key.Key_Return and self.item.missing:
            self.missing_clicked.emit(self.item.key)
            return
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self.focusNextPrevChild(key == Qt.Key.Key_Down)
            return
        super().keyPressEvent(e)

    # ---- paint

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, item, w = theme.t, self.item, self.width()
            if self.lit or self.open:
                p.fillRect(self.rect(), t.c("look_wash") if self.lit else t.c("plan_wash"))
                p.fillRect(QRectF(0, 0, 4, self.height()), t.c("look_fill") if self.lit else t.c("plan"))
            if item.rank:
                text(p, (4, 0, 11, ROW), str(item.rank), "note_s", t.c("soft"), CENTRE)
            text(p, (PAD, 0, NAME_W + 4, ROW), item.label, "strong" if self.lit or self.open else "body", t.c("ink"))
            self._paint_scale(p)
            self._paint_words(p, w)
            if self.open:
                self._paint_stops(p)
            focus_ring(p, self)

    def _paint_scale(self, p: QPainter) -> None:
        t, item = theme.t, self.item
        a, b = self.span()
        mid, half, y = (a + b) / 2, (b - a) / 2, crisp(ROW / 2 - 0.5)
        if not item.has_scale or all(v is None for v in (item.reference, item.plan, item.drawing, item.style)):
            p.setPen(pen(t.c("rule_strong"), 1, (2, 3)))
            p.drawLine(QPointF(a, y), QPointF(b, y))
            return
        grow = item.band / item.sd if item.sd else 1.0
        for z, name in () if item.bare else ((2 * grow, "band_wide"), (grow, "band")):
            d = squash(z) * half
            solid(p, t.c(name))
            p.drawRoundedRect(QRectF(mid - d, y - 5, 2 * d, 10), 2, 2)
        strong = t.c("rule_strong")
        hline(p, a, b, y - 0.5, strong)
        for z in (-REACH, -3, 3, REACH):
            p.fillRect(QRectF(crisp(mid + squash(z) * half) - 0.5, y - 2.5, 1, 5), strong)
        p.fillRect(QRectF(crisp(mid) - 0.5, y - 5, 1, 10), strong)
        if self.mode == "style":
            self._paint_styles(p, y)
            return
        xr = self.x_of(item.reference) if item.reference is not None else None
        xp = self.x_of(item.plan) if item.plan is not None else None
        xd = self.x_of(item.drawing) if item.drawing is not None else None
        ends = {"reference": (mid, xr, "ref"), "plan": (xr, xp, "plan"), "check": (xp, xd, "draw")}[self.mode]
        if ends[0] is not None and ends[1] is not None and not item.meant and (self.mode != "reference" or item.sure):
            hline(p, min(ends[0], ends[1]), max(ends[0], ends[1]), y - 1.5, t.c(ends[2]), 3)
        if self.mode == "plan" and xp is not None:
            if item.style is not None:
                mark_style(p, self.x_of(item.style), y, t)
            if item.asked is not None and item.plan is not None and abs(item.z(item.asked) - item.z(item.plan)) > 0.05:
                xa = self.x_of(item.asked)
                mark_asked(p, xa, y, t)
                mark_wall(p, xp, y, t, 1 if item.z(item.asked) > item.z(item.plan) else -1)
        if self.mode == "check" and item.tolerance and item.plan is not None:
            outline(p, t.c("plan"), 1.4)
            for s in (-1, 1):
                x = self.x_of(item.plan + s * item.tolerance)
                p.drawPolyline([QPointF(x - s * 3, y - 6), QPointF(x, y - 6), QPointF(x, y + 6), QPointF(x - s * 3, y + 6)])
        if xr is not None:
            mark_reference(p, xr, y, t, item.sure)
            if not item.sure:
                p.setPen(pen(t.c("ref"), 1.2))
                p.drawLine(QPointF(xr - 10, y - 10.5), QPointF(xr + 10, y - 10.5))
        if xp is not None and self.mode != "reference":
            mark_plan(p, xp, y, t, grip=self.mode == "plan" and (self.lit or self.open or self.dragging))
        if xd is not None and self.mode == "check":
            mark_drawing(p, xd, y, t, quiet=item.meant)
        for v in (
            item.reference,
            item.plan if self.mode != "reference" else None,
            item.drawing if self.mode == "check" else None,
        ):
            if v is not None and abs(item.z(v)) > REACH:
                s = 1 if item.z(v) > 0 else -1
                chevron(p, (b + 3) if s > 0 else (a - 3), y, t.c("ink"), down=False, r=2.8 * s)

    def _paint_styles(self, p: QPainter, y: float) -> None:
        """Two styles on one scale: the shown one with its samples' spread, and the one beside it."""
        t, item = theme.t, self.item
        if item.style is None:
            return
        if item.own_sd:
            a, b = (self.x_of(item.style + s * item.own_sd) for s in (-1, 1))
            hline(p, a, b, y - 1.5, t.c("soft"), 3)
        if item.other is not None:
            mark_other(p, self.x_of(item.other), y, t)
        mark_shown(p, self.x_of(item.style), y, t, not item.assumed, item.free and (self.lit or self.dragging))

    def _paint_words(self, p: QPainter, w: float) -> None:
        said = told(self.item, self.mode, self.dragging)
        if said is None:
            return
        x, role = w - PAD - VALUE_W - WORD_W, "small_m" if said.loud else "small"
        if said.value:
            text(p, (x, 0, WORD_W - 2, ROW), said.word, role, theme.t.c(said.tone))
            box = (w - PAD - VALUE_W - 12, 0.0, VALUE_W + 12.0, float(ROW))
            text(p, box, said.value, "value_b" if self.dragging else "value", theme.t.c(said.value_tone), RIGHT)
        else:
            text(p, (x - 40, 0, WORD_W + VALUE_W + 40, ROW), said.word, role, theme.t.c(said.tone), RIGHT)

    def stop_cells(self) -> list[tuple[float, float, str, float]]:
        total = self.width() - 2 * PAD
        pad = (total - sum(text_width("small_m", s) for s, _ in STOPS)) / (2 * len(STOPS))
        x, out = float(PAD), []
        for s, v in STOPS:
            w = text_width("small_m", s) + 2 * pad
            out.append((x, w, s, v))
            x += w
        return out

    def _stop_at(self, x: float) -> float | None:
        return next((v for x0, w, _, v in self.stop_cells() if x0 <= x < x0 + w), None)

    def _paint_stops(self, p: QPainter) -> None:
        """The opened row: what to do with this trait, in words, from drop to push."""
        t, y, h = theme.t, ROW + 2, 22
        p.setPen(pen(t.c("rule_strong"), 1))
        p.setBrush(t.c("paper"))
        p.drawRoundedRect(QRectF(PAD + 0.5, y + 0.5, self.width() - 2 * PAD - 1, h - 1), 2, 2)
        for k, (x, w, s, v) in enumerate(self.stop_cells()):
            on = abs(v - self.item.emphasis) < 0.01 and abs(self.item.offset) < 1e-9
            if on:
                p.fillRect(QRectF(x + 1, y + 1, w - 2, h - 2), t.c("plan"))
            elif k:
                p.fillRect(QRectF(round(x), y + 6, 1, h - 12), t.c("rule_strong"))
            text(p, (x, y, w, h), s, "small_m" if on else "small", t.c("paper" if on else "ink"), CENTRE)
