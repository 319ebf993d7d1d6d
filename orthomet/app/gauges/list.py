"""A scrolling list of gauge rows in groups, filtered by typing, sorted by place or by how unusual they are."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent
from PySide6.QtWidgets import QButtonGroup, QPushButton, QWidget

from ...core.gauges.item import FOLLOW, GaugeItem
from ...core.gauges.words import Mode
from ...core.landmarks.own import OWN_GROUP
from ..parts import across, down, entry, scrolling
from ..theme.paint import RIGHT, chevron, focus_ring, hline, painting, solid, text
from ..theme.tokens import GROUP, PAD, theme
from .row import GaugeRow

GROUP_ORDER = (
    OWN_GROUP, "Whole", "Eyes", "Nose", "Mouth", "Head", "Trunk", "Arms", "Legs", "Girths", "Hair", FOLLOW, "Balance",
)  # fmt: skip
CLOSED_AT_FIRST = {"Balance", "Hair", FOLLOW}
UNUSUAL = 1.5
PASSED_ON = ("hovered", "mark_began", "mark_moved", "mark_dropped", "emphasis_chosen", "missing_clicked", "released")
"""Signals of a row that are the list's too."""


NOTICED_HEAD = "Noticed first"


class WeightWedge:
    """The style's weight as a wedge: geometry shared by group heads and the master."""

    @staticmethod
    def paint(p: object, r: QRectF, value: float) -> None:
        from PySide6.QtCore import QPointF
        from PySide6.QtGui import QPainter, QPolygonF

        assert isinstance(p, QPainter)
        t = theme.t
        y = r.center().y()

        def wedge(to: float) -> QPolygonF:
            x = r.left() + r.width() * to
            h = r.height() / 2 * to
            return QPolygonF([QPointF(r.left(), y), QPointF(x, y - h), QPointF(x, y + h)])

        solid(p, t.c("band_wide"))
        p.drawPolygon(wedge(1.0))
        p.setBrush(t.c("soft"))
        p.drawPolygon(wedge(value))
        x = r.left() + r.width() * value
        p.fillRect(QRectF(round(x) - 1.5, r.top() - 1, 3, r.height() + 2), t.c("ink"))


class WeightBar(QWidget):
    """A named style weight, dragged or set by keys: the master, or one group's."""

    began = Signal(str)
    moved = Signal(str, float)
    dropped = Signal(str)
    reset = Signal(str)

    def __init__(self, name: str, label: str, parent: QWidget | None = None):
        super().__init__(parent)
        self.name, self.label, self.value, self.own = name, label, 0.0, True
        self.setAccessibleName(label)
        self.setFixedHeight(GROUP)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setToolTip(f"{label}: how far the style pulls. Drag, or arrow keys; double-click follows the master.")
        self.dragging = False

    def set_value(self, value: float, own: bool = True) -> None:
        if (value, own) != (self.value, self.own):
            self.value, self.own = value, own
            self.update()
        self.setAccessibleName(f"{self.label}, {round(value * 100)} percent")

    def wedge(self) -> QRectF:
        return QRectF(PAD + 144, self.height() / 2 - 7, self.width() - 2 * PAD - 144 - 48, 15)

    def _set_from(self, x: float) -> None:
        r = self.wedge()
        self.moved.emit(self.name, max(0.0, min(1.0, (x - r.left()) / r.width())))

    def mousePressEvent(self, e: QMouseEvent) -> None:
        if e.button() == Qt.MouseButton.LeftButton and self.wedge().adjusted(-8, -6, 8, 6).contains(e.position()):
            self.dragging = True
            self.began.emit(self.name)
            self._set_from(e.position().x())
        else:
            super().mousePressEvent(e)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self.dragging:
            self._set_from(e.position().x())

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        if self.dragging:
            self.dragging = False
            self.dropped.emit(self.name)

    def mouseDoubleClickEvent(self, e: QMouseEvent) -> None:
        if self.wedge().adjusted(-8, -6, 8, 6).contains(e.position()):
            self.reset.emit(self.name)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = {Qt.Key.Key_Left: -0.05, Qt.Key.Key_Right: 0.05}.get(Qt.Key(e.key()))
        if step is None:
            return super().keyPressEvent(e)
        self.began.emit(self.name)
        self.moved.emit(self.name, max(0.0, min(1.0, self.value + step)))
        self.dropped.emit(self.name)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            self.paint_label(p)
            WeightWedge.paint(p, self.wedge(), self.value)
            words = f"{round(self.value * 100)} %"
            text(
                p,
                (self.width() - PAD - 46, 0, 46, self.height()),
                words,
                "value_b" if self.own else "value",
                theme.t.c("ink" if self.own else "soft"),
                RIGHT,
            )
            focus_ring(p, self)

    def paint_label(self, p: object) -> None:
        text(p, (PAD, 0, 140, self.height()), self.label, "body_m", theme.t.c("ink"))  # type: ignore[arg-type]


class GroupHead(WeightBar):
    """A group's name; folds on click; at the plan it carries the group's style weight."""

    folded = Signal(str)

    def __init__(self, name: str, weighted: bool, parent: QWidget | None = None):
        super().__init__(name, name, parent)
        self.weighted, self.closed, self.note = weighted, False, ""
        if not weighted:
            self.setToolTip(f"{name}: click to fold or unfold")

    def set_note(self, note: str) -> None:
        if note != self.note:
            self.note = note
            self.update()

    def mousePressEvent(self, e: QMouseEvent) -> None:
        if self.weighted and self.wedge().adjusted(-8, -6, 8, 6).contains(e.position()):
            super().mousePressEvent(e)
        else:
            self.folded.emit(self.name)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space):
            self.folded.emit(self.name)
        elif self.weighted:
            super().keyPressEvent(e)
        else:
            QWidget.keyPressEvent(self, e)

    def paintEvent(self, e: QPaintEvent) -> None:
        if self.weighted:
            super().paintEvent(e)
        with painting(self) as p:
            t, h = theme.t, self.height()
            hline(p, PAD, self.width() - PAD, 0, t.c("rule"))
            chevron(p, PAD + 4, h / 2 + 1, t.c("soft"), down=not self.closed)
            text(p, (PAD + 16, 1, 128, h), self.name, "group", t.c("ink"))
            if self.weighted:
                text(p, (PAD + 84, 1, 56, h), "style", "small", t.c("soft"), RIGHT)
            else:
                text(p, (PAD + 150, 0, self.width() - 2 * PAD - 150, h), self.note, "small", t.c("soft"), RIGHT)
                focus_ring(p, self)

    def paint_label(self, p: object) -> None:
        return


class GaugeList(QWidget):
    """Rows for a list of items; the same rows live on while their values change."""

    hovered = Signal(str, bool)
    mark_began = Signal(str)
    mark_moved = Signal(str, float)
    mark_dropped = Signal(str)
    emphasis_chosen = Signal(str, float)
    missing_clicked = Signal(str)
    released = Signal(str)
    weight_began = Signal(str)
    weight_moved = Signal(str, float)
    weight_dropped = Signal(str)
    weight_reset = Signal(str)

    def __init__(self, mode: Mode, weighted: bool = False, parent: QWidget | None = None):
        super().__init__(parent)
        self.mode, self.weighted = mode, weighted
        self.rows: dict[str, GaugeRow] = {}
        self.heads: dict[str, GroupHead] = {}
        self._closed = set(CLOSED_AT_FIRST)
        self._order: list[str] = []
        self._ranks: list[int] = []
        self.filter = entry("Filter readings", "Type to filter: gap, brow, nose…")
        self.filter.setClearButtonEnabled(True)
        self.filter.textChanged.connect(lambda: self._lay_out())
        self.by_place, self.by_unusual = QPushButton("by place"), QPushButton("unusual first")
        top = across((self.filter, 1), 8, margins=(PAD, 0, PAD, 8))
        group = QButtonGroup(self)
        for b in (self.by_place, self.by_unusual):
            b.setCheckable(True)
            group.addButton(b)
            top.addWidget(b)
        self.by_place.setChecked(True)
        group.buttonToggled.connect(lambda: self._lay_out())
        self.area = scrolling()
        inner = QWidget()
        inner.setObjectName("inner")
        self.column = down(owner=inner, margins=(0, 0, 0, 8))
        self.area.setWidget(inner)
        down(top, (self.area, 1), owner=self)

    def set_items(self, items: list[GaugeItem]) -> None:
        keys = [i.key for i in items]
        for gone in [
            k for k, row in self.rows.items() if row.item.group == OWN_GROUP and k not in keys
        ]:  # another's own parts do not come back
            old = self.rows.pop(gone)
            old.hide()
            old.deleteLater()
        for i in items:
            row = self.rows.get(i.key)
            if row is None:
                row = self.rows[i.key] = GaugeRow(i, self.mode)
                for name in PASSED_ON:
                    getattr(row, name).connect(getattr(self, name))
            else:
                row.set_item(i)
            if i.group not in self.heads:
                head = self.heads[i.group] = GroupHead(i.group, self.weighted and i.group not in CLOSED_AT_FIRST)
                head.folded.connect(self._fold)
                head.began.connect(self.weight_began)
                head.moved.connect(self.weight_moved)
                head.dropped.connect(self.weight_dropped)
                head.reset.connect(self.weight_reset)
        ranks = [i.rank for i in items]
        if keys != self._order or ranks != self._ranks:
            self._order, self._ranks = keys, ranks
            self._lay_out()
        elif self.by_unusual.isChecked() and not any(r.dragging for r in self.rows.values()):
            self._lay_out()
        self._note_heads()

    def open_group(self, group: str) -> None:
        """Unfold a group, so that what has just come into it is seen."""
        self._closed.discard(group)
        self._lay_out()

    def set_weight(self, group: str, value: float, own: bool) -> None:
        if group in self.heads:
            self.heads[group].set_value(value, own)

    def light(self, keys: set[str]) -> None:
        for k, row in self.rows.items():
            row.set_lit(k in keys)

    def _fold(self, group: str) -> None:
        self._closed ^= {group}
        self._lay_out()

    def _strength(self, key: str) -> float:
        i = self.rows[key].item
        values = {"reference": i.reference, "plan": i.plan, "check": i.drawing, "style": i.style}
        v = values[self.mode]
        return abs(i.z(v)) if v is not None and i.has_scale and i.sure else -1.0

    def _lay_out(self) -> None:
        while self.column.count():
            item = self.column.takeAt(0)
            w = item.widget() if item is not None else None
            if w is not None:
                w.hide()
        for key, row in self.rows.items():
            if key not in self._order:
                row.hide()
        wanted = self.filter.text().strip().casefold()
        hits = [k for k in self._order if wanted in f"{self.rows[k].item.label} {self.rows[k].item.group} {k}".casefold()]
        if self.by_unusual.isChecked():
            for key in sorted(hits, key=lambda k: -self._strength(k)):
                self._put(self.rows[key])
        else:
            hits = self._noticed_on_top(hits)
            groups = dict.fromkeys(self.rows[k].item.group for k in self._order)
            for group in sorted(groups, key=lambda g: GROUP_ORDER.index(g) if g in GROUP_ORDER else len(GROUP_ORDER)):
                mine = [k for k in hits if self.rows[k].item.group == group]
                if not mine:
                    continue
                head = self.heads[group]
                head.closed = group in self._closed and not wanted
                self._put(head)
                if not head.closed:
                    for k in mine:
                        self._put(self.rows[k])
        self.column.addStretch(1)
        self._note_heads()

    def _noticed_on_top(self, hits: list[str]) -> list[str]:
        """The artist's own five stand first while a plan is made; what is left goes by place."""
        ranked = sorted((k for k in hits if self.rows[k].item.rank), key=lambda k: self.rows[k].item.rank)
        if self.mode != "plan" or not ranked:
            return hits
        head = self.heads.get(NOTICED_HEAD)
        if head is None:
            head = self.heads[NOTICED_HEAD] = GroupHead(NOTICED_HEAD, False)
            head.folded.connect(self._fold)
        head.closed = NOTICED_HEAD in self._closed
        self._put(head)
        if not head.closed:
            for k in ranked:
                self._put(self.rows[k])
        return [k for k in hits if k not in ranked]

    def _put(self, w: QWidget) -> None:
        self.column.addWidget(w)
        w.show()

    def _note_heads(self) -> None:
        for name, head in self.heads.items():
            if name == NOTICED_HEAD:
                head.set_note("")
                continue
            mine = [self.rows[k].item for k in self._order if self.rows[k].item.group == name]
            odd = sum(i.reference is not None and i.sure and abs(i.z(i.reference)) >= UNUSUAL for i in mine)
            gone = sum(bool(i.missing) and i.plan is None for i in mine)
            note = f"{len(mine)} readings" if head.closed else ""
            extra = [f"{odd} unusual"] if odd and self.mode == "reference" else []
            extra += [f"{gone} not measured"] if gone and not head.closed and self.mode == "reference" and not odd else []
            head.set_note(", ".join(filter(None, [note, *extra])))
            head.update()
